"""The Parts bench: how the pipe is cut, what to pack by place and buy by merchant."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.parts.counting import MERCHANTS, Merchant, by_merchant, by_place
from rowan.core.steps.parts.pricing import goods_price
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import number_text
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot
from rowan.web.steps.parts.drawing import cutting_drawing, rails_drawing


def _verdict(sheet: Sheet) -> Statement:
    doubt = next((f for f in sheet.result.roof.findings if f.key == "roof_in_doubt"), None)
    if doubt is not None:
        return say("Order nothing: {doubt}", doubt=doubt.title)
    name, bars = sheet.design.run.pipe.value.name, len(sheet.result.parts.cutting.bars)
    return say(
        "{n} length of {pipe}, {o} left over, {p} kinds of goods"
        if bars == 1
        else "{n} lengths of {pipe}, {o} left over, {p} kinds of goods",
        pipe=name[:1].lower() + name[1:],
        n=Quantity(float(bars), "count"),
        o=sheet.result.figures["offcut"].quantity,
        p=Quantity(float(sum(len(lines) for lines in by_merchant(sheet.result.parts.parts).values())), "count"),
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    parts: tuple[LinePart, ...] = (
        Slot("run.pipe"),
        " in lengths of ",
        Slot("parts.pipe_piece_m"),
        ", ",
        Slot("run.bends"),
        " bends, a clip every ",
        Slot("parts.clip_every_m"),
        ", lagging with ",
        Slot("parts.lagging_spare"),
        " spare, sensor cable with ",
        Slot("parts.cable_spare_m"),
        " spare",
    )
    if sheet.design.sealed:
        parts += (
            ", ",
            Slot("parts.station"),
            ", glycol ",
            Slot("parts.fluid_sold"),
            " in cans of ",
            Slot("parts.can_l"),
        )
    return (
        *parts,
        ". An hour of work ",
        Slot("money.hour_price"),
        ", the system as offered ",
        Slot("money.system_price"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("How the pipe is cut", "", cutting_drawing(sheet)),
        *([Block("How the rails are cut", "", rails_drawing(sheet))] if "rail_offcut" in sheet.result.figures else []),
        Block("To pack", "by place of work, from the roof down", template="steps/parts/packing.html"),
        Block("To buy", "by merchant, the same goods added up", template="steps/parts/shopping.html"),
    ]


def _total(sheet: Sheet, merchant: Merchant) -> float:
    """What is bought of a merchant at usual prices."""
    return goods_price(sheet.design, [part for part in sheet.result.parts.parts if part.merchant == merchant])


def _context(sheet: Sheet) -> dict[str, Any]:
    parts = sheet.result.parts.parts
    return {
        "packing": [
            (place, [(part, MERCHANTS[part.merchant]) for part in found]) for place, found in by_place(parts).items()
        ],
        "shopping": [
            (MERCHANTS[merchant], lines, number_text(_total(sheet, merchant), 0))
            for merchant, lines in by_merchant(parts).items()
        ],
        "currency": sheet.design.money.currency.value,
    }


BENCH = Bench("parts", "Parts", _verdict, _line, _blocks, ("run.insulation_m",), _context)
