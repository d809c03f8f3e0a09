"""The fluid of a sealed loop: mixed, read, corrected, grown old. A page beside the Charge bench."""

from __future__ import annotations

from typing import Any

from rowan.core.fluid import frost_point
from rowan.core.steps.charge.tub import Tub
from rowan.core.studies.glycol_shares import Strength, dearer, strengths
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import Slot, blank
from rowan.web.steps.charge.fluid_drawing import contents_drawing, strengths_drawing, tub_drawing

FIGURES = ("first_mix", "exchange", "residual", "contents", "kept", "prepare", "frost_point", "expansion")
FINDINGS = (
    "ethylene",
    "fluid_food",
    "fluid_plumbing",
    "too_strong",
    "freezes",
    "frost_margin",
    "first_mix_impossible",
    "mix_thin",
    "fluid_spent",
)
MORE = 0.10


def _verdict(sheet: Sheet) -> Statement:
    tub = sheet.result.tub
    if tub is None:
        held = Quantity(sheet.result.charge.contents.total, "volume")
        return say("This loop runs on water, {v} of it: there is nothing to mix", v=held)
    wanted = Quantity(tub.wanted, "share")
    if not tub.read and sheet.design.parts.fluid_sold.value == "premix":
        return say(
            "Fill with {v} mixed to {c}: the water left in the loop thins it to {n}",
            v=Quantity(sheet.result.sealed.prepare, "volume"),
            c=wanted,
            n=Quantity(tub.now, "share_fine"),
        )
    if not tub.read:
        return say(
            "Mix {v} to {f}: the water left in the loop thins it to {c}",
            v=Quantity(sheet.result.sealed.prepare, "volume"),
            f=Quantity(tub.fill, "share_fine"),
            c=wanted,
        )
    if tub.done:
        return say("The mix is right: {n}, {c} wanted", n=Quantity(tub.now, "share_fine"), c=wanted)
    if tub.exchange is None:
        return say("{n} is too thin, and this concentrate is too weak to mend it", n=Quantity(tub.now, "share_fine"))
    return say(
        "Exchange {x} for concentrate: {n} is in, {c} wanted",
        x=Quantity(tub.exchange, "volume", 2),
        n=Quantity(tub.now, "share_fine"),
        c=wanted,
    )


def _line(sheet: Sheet) -> tuple[str | Slot, ...]:
    if sheet.result.tub is None:
        return ("A ", Slot("charge.kind"), " loop, coldest night ", Slot("survey.design_minimum_c"), ".")
    return (
        Slot("charge.share"),
        " ",
        Slot("charge.fluid"),
        " wanted, coldest night ",
        Slot("survey.design_minimum_c"),
        ". After flushing ",
        Slot("charge.residual_l"),
        " of water stay; the concentrate has ",
        Slot("charge.concentrate"),
        ". Bought ",
        Slot("parts.fluid_sold"),
        " in cans of ",
        Slot("parts.can_l"),
        ", ",
        Slot("charge.surplus_l"),
        " over.",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    tub = sheet.result.tub
    if tub is None:
        return [Block("What it holds", "", contents_drawing(sheet))]
    rows = strengths(sheet.design, sheet.result)
    return [
        Block("The mixing tub", "", tub_drawing(sheet, tub)),
        Block(
            "The fluid's log",
            "read, exchange, circulate, read again; a top-up with water thins it",
            template="steps/charge/fluid_log.html",
        ),
        Block("What to prepare", _cans(sheet), contents_drawing(sheet)),
        Block("What a bit more costs", _cost(sheet, rows), strengths_drawing(sheet, rows)),
        Block("How it ages", "", run="ageing"),
    ]


def _cans(sheet: Sheet) -> str:
    """What to buy for it, as on the parts list."""
    lines = [part for part in sheet.result.parts.parts if part.key in ("fluid", "water")]
    units = sheet.units
    words = [
        f"{part.quantity.shown(units)} × {part.name.text(units)}"
        if part.key == "fluid"
        else tr("{amount} of {what}", amount=part.quantity.shown(units), what=part.name.text(units))
        for part in lines
    ]
    return "; ".join(words)


def _cost(sheet: Sheet, rows: tuple[Strength, ...]) -> str:
    """A tenth more of glycol in words."""
    cost = dearer(rows, share=sheet.design.charge.share.value, more=MORE)
    if cost is None:
        return ""
    units = sheet.units
    cold, heat = shown(cost.flow_cold, "flow", units, 2), shown(cost.heat, "heat_rate", units)
    pump = shown(abs(cost.pump), "electric_power", units)
    return tr(
        "ten in a hundred more: {cold} less on a cold morning, {heat} less heat in full sun, for the same flow {pump} {case}{easier}",
        cold=cold,
        heat=heat,
        pump=pump,
        case="more for the pump" if cost.pump >= 0 else "less for the pump",
        easier="; warm it flows a little easier, because thicker fluid has not yet turned turbulent"
        if cost.easier
        else "",
    )


def _context(sheet: Sheet) -> dict[str, Any]:
    tub = sheet.result.tub
    return {"log": [] if tub is None else _log_rows(sheet, tub)}


def _log_rows(sheet: Sheet, tub: Tub) -> list[dict[str, Any]]:
    rows = []
    for found in tub.rounds:
        base = f"charge.log.{found.entry.id}"
        cells = {
            name: blank(sheet.design, f"{base}.{name}", sheet.units)
            for name in ("date", "share", "ph", "exchanged_l", "water_l")
        }
        rows.append(
            {
                "entry": found.entry,
                "cells": cells,
                "expected": shown(found.expected, "share_fine", sheet.units),
                "after": shown(found.after, "share_fine", sheet.units),
                "freezes": _freezes(sheet, found.after),
            }
        )
    return rows


def _freezes(sheet: Sheet, share: float) -> str:
    try:
        return shown(frost_point(volume_share=share), "temperature", sheet.units, 0)
    except RowanError:
        return ""


FLUID = Bench(
    "fluid",
    "Fluid",
    _verdict,
    _line,
    _blocks,
    ("charge.ph_new", "charge.ph_least", "charge.ph_year", "charge.ph_hot"),
    _context,
    of="charge",
    figures=FIGURES,
    findings=FINDINGS,
)
