"""The Charge bench: fluid, vessel, pressures by school."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.charge.result import ThermosiphonCharge
from rowan.core.steps.charge.vessel import VesselState
from rowan.core.studies.vessel_sizes import sizes_tried
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, System, shown
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot
from rowan.web.steps.charge.drainback import falls_drawing, lift_and_levels
from rowan.web.steps.charge.drawing import direct_column, ladder, vessels


def _verdict(sheet: Sheet) -> Statement:
    draining = sheet.result.draining
    if draining is not None:
        emptied = draining.drain
        if draining.levels is not None:
            return say(
                "Fill to {h} under the rim{case}",
                case=": it runs empty in {t}" if emptied else "; nothing drains",
                h=Quantity(draining.levels.under_rim, "level"),
                t=Quantity(emptied.time if emptied else 0.0, "time"),
            )
        return say(
            "Fill to the mark, {v}{case}",
            case=": it runs empty in {t}" if emptied else "; nothing drains",
            v=Quantity(draining.marks.fill_mark, "tank"),
            t=Quantity(emptied.time if emptied else 0.0, "time"),
        )
    if not sheet.design.sealed:
        main = Quantity(sheet.design.main_gauge_pa, "pressure")
        if isinstance(sheet.result.charge, ThermosiphonCharge):
            mass = Quantity(sheet.result.charge.mass, "mass")
            return say("The cold main fills the tank at {p}; full, the roof carries {m}", p=main, m=mass)
        return say("The cold main fills this loop: {p}", p=main)
    charge = sheet.result.sealed
    vessel = Quantity(charge.vessel, "tank")
    if charge.setting is None:
        return say("The {v} vessel cannot be set by this school", v=vessel)
    return say(
        "Set the {v} vessel to {c}, fill cold to {f}",
        v=vessel,
        c=Quantity(charge.setting.precharge, "pressure"),
        f=Quantity(charge.setting.fill, "pressure"),
    )


def _open_line(sheet: Sheet) -> tuple[LinePart, ...]:
    """The sentence of a loop that drains."""
    own = sheet.design.through_store
    beside = (
        "Reservoir ",
        Slot("charge.reservoir_l"),
        ", its running level ",
        Slot("charge.reservoir_at_m"),
        " over the gauge, ",
    )
    return (
        "A ",
        Slot("charge.kind"),
        " loop. ",
        *(("The open store is the reservoir, ",) if own else beside),
        Slot("charge.least_water_l"),
        " least over the pump's inlet, gauge to top ",
        Slot("survey.gauge_to_top_m"),
        ", ",
        Slot("run.pump"),
        " at speed ",
        Slot("run.speed"),
        ", ",
        Slot("run.pipe"),
        ", ",
        Slot("run.rim_m"),
        *(() if own else (", with ", Slot("charge.reservoir_share"), " of glycol in it")),
        "; return ends ",
        Slot("run.return_under"),
        *((", with ", Slot("run.air_inlet_m")) if sheet.design.run.return_under.value else ()),
        ". No filling above ",
        Slot("control.refill_c"),
        ".",
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    top = Slot("survey.gauge_to_top_m")
    if sheet.design.drains:
        return _open_line(sheet)
    if not sheet.design.sealed:
        return (
            "A ",
            Slot("charge.kind"),
            " loop. Main ",
            Slot("charge.mains_gauge_pa"),
            ", reduced to ",
            Slot("charge.reducer_gauge_pa"),
            ", relief ",
            Slot("charge.relief_gauge_pa"),
            ", gauge to top ",
            top,
            ".",
        )
    parts: tuple[LinePart, ...] = (
        "Vessel ",
        Slot("charge.vessel_l"),
        ", relief ",
        Slot("charge.relief_gauge_pa"),
        ", gauge to top ",
        top,
        ", ",
        Slot("charge.share"),
        " ",
        Slot("charge.fluid"),
        ", hottest liquid ",
        Slot("charge.hot_c"),
        ", steam power ",
        Slot("charge.steaming_w_m2"),
    )
    if sheet.design.charge.school.value == "reserve":
        parts += (", charge ", Slot("charge.gap_pa"), " under fill")
    if sheet.design.charge.school.value == "typed":
        parts += (", typed fill ", Slot("charge.typed_fill_gauge_pa"))
    return (*parts, ".")


def _blocks(sheet: Sheet) -> list[Block]:
    if sheet.result.draining is not None:
        return [
            Block("Lift and levels", "", lift_and_levels(sheet, sheet.result.draining)),
            Block(
                "How it falls",
                "as it drains, steepness drawn ten times",
                falls_drawing(sheet, sheet.result.draining),
            ),
        ]
    if not sheet.design.sealed:
        return [Block("Pressure up the loop", "", direct_column(sheet))]
    school = sheet.design.charge.school.value
    return [
        Block("Pressure at the gauge, by school", "drag the fill rung, or arrow keys", ladder(sheet), kind="schools"),
        Block(
            "The vessel cut open",
            tr("set by “{school}” · drawn to scale · liquid above the membrane, gas below", school=school),
            vessels(sheet),
        ),
        Block("Other sizes on this loop", "one size up costs little", template="steps/charge/vessel_sizes.html"),
        Block("When it stands in sun", "three answers, each with what it comes to", run="standstill"),
    ]


def _context(sheet: Sheet) -> dict[str, Any]:
    charge, units = sheet.result.charge, sheet.units
    rows = []
    for tried in sizes_tried(sheet.design, sheet.result.run, charge):
        states = tried.view.states
        hot, cold = tried.stagnation, states.get("cold")
        rows.append(
            {
                "size": shown(tried.size_l * LITRE, "tank", units),
                "value": f"{tried.size_l:g}",
                "chosen": tried.chosen,
                "does": tried.does(charge.end),
                "kept": shown(states["fill"].liquid, "volume", units, 2) if "fill" in states else "",
                "cold": _pressure(cold.top if cold else None, units, "draws air"),
                "stagnation": _pressure(hot.station if hot else None, units, "full"),
                "spare": _pressure(_spare(hot), units, "opens"),
            }
        )
    return {"sizes": rows}


def _spare(state: VesselState | None) -> float | None:
    """What is left to the relief; nothing where it opens."""
    margin = state.margin_to_relief if state else None
    return margin if margin is not None and margin > 0 else None


def _pressure(value: float | None, units: System, without: str) -> str:
    return without if value is None else shown(value, "pressure", units)


BENCH = Bench(
    "charge",
    "Charge",
    _verdict,
    _line,
    _blocks,
    (
        "charge.vessels",
        "charge.vessel_rated_gauge_pa",
        "charge.vessel_gas_share",
        "charge.vessel_works_gauge_pa",
        "charge.membrane_c",
        "charge.working_hot_c",
        "charge.station_l",
        "charge.surplus_l",
        "charge.cooling_vessel",
        "charge.mains_gauge_pa",
        "survey.design_minimum_c",
        "survey.altitude_m",
        "charge.filling_gauge_pa",
    ),
    _context,
)
