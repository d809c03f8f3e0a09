"""The settings card: one page that makes a reset of the controller, or an empty gauge, harmless."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import segno
from django.utils.safestring import mark_safe

from rowan.core.design.changes import locate
from rowan.core.fluid import FILL_C
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.commission.cautions import loop_cautions
from rowan.core.steps.control.settings import controller_settings
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Quantity
from rowan.core.terms.language import as_messages, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import bench_link, loop_drawing
from rowan.web.benches.sheet import sheet_of
from rowan.web.care.settings_left import left_rows
from rowan.web.editing.blanks import shown_value
from rowan.web.papers.sheets import Size, cited, guesses, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan

MOST_ASSUMED = 14
FLUIDS = {
    "propylene": "propylene glycol",
    "food": "propylene glycol, food grade",
    "plumbing": "propylene glycol, for plumbing",
    "ethylene": "ETHYLENE GLYCOL",
}


@record
class Setting:
    """One line of the card: what, how much, why, and what was left at the unit where somebody wrote it down."""

    name: str
    value: str
    reason: str
    left: str = ""
    differs: bool = False

    def __post_init__(self) -> None:
        as_messages(self, "name", "reason")


def _quantity(value: float, dimension: str, units: System, decimals: int | None = None) -> str:
    return Quantity(value, dimension, decimals).shown(units)


def pressure_settings(sheet: Sheet) -> list[Setting]:
    """What is set on the loop before and while it is filled."""
    rows = [*_charge_rows(sheet), *_fluid_rows(sheet)] if sheet.design.sealed else _direct_rows(sheet)
    flow = sheet.result.figures.get("flow")
    if flow:
        working = _quantity(sheet.design.collector.working_c.value, "temperature", sheet.units)
        how = (
            tr("pump at speed {speed}", speed=sheet.result.run.pump.speed)
            if sheet.design.pumped
            else "by itself, in full sun"
        )
        reason = tr("{how}, loop at {working}", how=how, working=working)
        rows.append(Setting("Flow", flow.quantity.shown(sheet.units), reason))
    return rows


def _charge_rows(sheet: Sheet) -> list[Setting]:
    charge, units = sheet.result.charge, sheet.units

    def pressure(value: float) -> str:
        return _quantity(value, "pressure", units)

    rows = []
    if isinstance(charge, SealedCharge) and charge.setting is not None:
        school = tr(
            "liquid side empty; school {school}, static {pressure}",
            school=sheet.design.charge.school.value,
            pressure=pressure(charge.static),
        )
        vessel = _quantity(charge.vessel, "tank", units)
        kept = tr(
            "at {temperature}; keeps {kept} in the {vessel} vessel",
            temperature=_quantity(FILL_C, "temperature", units),
            kept=_quantity(charge.kept, "volume", units, 2),
            vessel=vessel,
        )
        rows += [
            Setting("Vessel, gas side", pressure(charge.setting.precharge), school),
            Setting("Cold fill at the gauge", pressure(charge.setting.fill), kept),
        ]
    cold, hot, stagnation = (sheet.result.vessel_states.get(key) for key in ("cold", "hot", "stagnation"))
    if cold and hot and cold.station is not None and hot.station is not None:
        window = tr("{low} to {high}", low=pressure(cold.station), high=pressure(hot.station))
        rows.append(
            Setting("Gauge through the year", window, "cold night to a hot working day; below it, look for the leak")
        )
    if stagnation and stagnation.station is not None:
        reason = "hottest day without draw; the relief stays shut"
        rows.append(Setting("Gauge in standstill", pressure(stagnation.station), reason))
    relief = pressure(sheet.design.charge.relief_gauge_pa.value)
    rows.append(Setting("Relief valve", relief, "discharge into a container as large as the loop"))
    return rows


def _fluid_rows(sheet: Sheet) -> list[Setting]:
    charge, design, units = sheet.result.sealed, sheet.design, sheet.units
    kind = FLUIDS[design.charge.fluid.value]
    frost = _quantity(charge.frost_point, "temperature", units)
    coldest = _quantity(design.survey.design_minimum_c.value, "temperature", units)
    amounts = f"{_quantity(charge.contents.total, 'volume', units)}, {_quantity(charge.prepare, 'volume', units)}"
    return [
        Setting(
            "Fluid",
            f"{_quantity(design.glycol_share, 'share', units)} {kind}",
            tr("begins to freeze at {frost}; coldest night {coldest}", frost=frost, coldest=coldest),
        ),
        Setting("Contents, mix to prepare", amounts, "loop without vessel; with the vessel's share and surplus"),
    ]


def _direct_rows(sheet: Sheet) -> list[Setting]:
    draining = sheet.result.draining
    if draining is not None:
        rows = [
            Setting(
                "Mark at rest" if draining.levels is None else "Mark at rest, under the rim",
                _quantity(draining.marks.fill_mark, "volume", sheet.units)
                if draining.levels is None
                else _quantity(draining.levels.under_rim, "level", sheet.units),
                tr(
                    "{quantity} come back from above; never fill above it",
                    quantity=_quantity(draining.above, "volume", sheet.units),
                ),
            ),
            Setting(
                "Lift at the start",
                _quantity(draining.lift.start_head, "head", sheet.units),
                "the pump at this speed must bring the water over the top",
            ),
        ]
        rows.append(
            Setting(
                "No filling above",
                _quantity(sheet.design.control.refill_c.value, "temperature", sheet.units),
                "a dry hot field boils what is pumped into it",
            )
        )
        if draining.drain is not None:
            rows.append(
                Setting(
                    "Empty after", _quantity(draining.drain.time, "time", sheet.units), "by the watch, pump stopped"
                )
            )
        return rows
    main = _quantity(sheet.design.main_gauge_pa, "pressure", sheet.units)
    static = _quantity(sheet.result.charge.static, "pressure", sheet.units)
    return [Setting("Cold main", main, tr("fills the direct loop; static {static}", static=static))]


def control_settings(sheet: Sheet) -> list[Setting]:
    """What is entered at the controller."""
    found = []
    for entry in controller_settings(sheet.design, sheet.result.control):
        value = shown_value(locate(sheet.design, entry.path), sheet.units)
        missing = entry.path == "store.hygiene" and sheet.design.store.hygiene.value == "none"
        found.append(Setting(entry.name, value.upper() if missing else value, entry.reason.text(sheet.units)))
    return found


def code_of(address: str) -> str:
    """A QR code that opens an address, as an SVG picture for paper."""
    found: str = segno.make(address, error="m").svg_inline(border=0, dark="#27231f", omitsize=True)
    return found


def _with_left(plan: Plan, sheet: Sheet) -> list[Setting]:
    """The controller's settings with what was left at the unit."""
    left = {row.name: row for row in left_rows(plan, sheet)}
    return [
        replace(row, left=left[row.name].left, differs=left[row.name].differs) if row.name in left else row
        for row in control_settings(sheet)
    ]


def card_context(plan: Plan, units: System, size: Size | None = None, *, address: str = "") -> dict[str, Any]:
    """Everything the card prints; its code opens `address`."""
    sheet = sheet_of(plan, units)
    drawing = loop_drawing(sheet, "charge", bench_link(plan.job_id, plan.letter))
    found = guesses(sheet)
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "pressures": pressure_settings(sheet),
        "controls": _with_left(plan, sheet),
        "code": mark_safe(code_of(address)) if address else "",  # noqa: S308  made by segno from our own address
        "address": address,
        "loop": on_paper(drawing),
        "guesses": found[:MOST_ASSUMED],
        "cautions": loop_cautions(sheet.design),
        "deference": caution("deference"),
        "sources": cited(sheet),
        "more_guesses": max(0, len(found) - MOST_ASSUMED),
    }


def settings_card_pdf(plan: Plan, units: System, size: Size | None = None, *, address: str = "") -> bytes:
    """The card as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/settings_card.html", card_context(plan, units, size, address=address))
