"""The Charge bench: fluid, vessel, pressures by school."""

from __future__ import annotations

from rowan.core.figures import Quantity, Statement, say
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.benches.blanks import Slot
from rowan.web.benches.charge.drawing import direct_column, ladder, vessels


def _verdict(sheet: Sheet) -> Statement:
    charge = sheet.result.charge
    if not sheet.design.sealed:
        return say(
            "The cold main fills this loop: {p}", p=Quantity(sheet.design.charge.mains_gauge_pa.value, "pressure")
        )
    vessel = Quantity(charge.vessel, "tank")
    if charge.setting is None:
        return say("The {v} vessel cannot be set by this school", v=vessel)
    return say(
        "Set the {v} vessel to {c}, fill cold to {f}",
        v=vessel,
        c=Quantity(charge.setting.precharge, "pressure"),
        f=Quantity(charge.setting.fill, "pressure"),
    )


def _line(sheet: Sheet) -> tuple[str | Slot, ...]:
    top = Slot("survey.gauge_to_top_m")
    if not sheet.design.sealed:
        return ("A ", Slot("charge.kind"), " loop. Main ", Slot("charge.mains_gauge_pa"), ", gauge to top ", top, ".")
    parts: tuple[str | Slot, ...] = (
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
    if not sheet.design.sealed:
        return [Block("Pressure up the loop", "", direct_column(sheet))]
    school = sheet.design.charge.school.value
    return [
        Block("Pressure at the gauge, by school", "drag the fill rung, or arrow keys", ladder(sheet), kind="schools"),
        Block(
            "The vessel cut open",
            f"school {school} · drawn to scale · liquid above the membrane, gas below",
            vessels(sheet),
        ),
    ]


BENCH = Bench(
    "charge",
    "Charge",
    _verdict,
    _line,
    _blocks,
    (
        "charge.vessels",
        "charge.kind",
        "charge.working_hot_c",
        "charge.station_l",
        "charge.surplus_l",
        "charge.cooling_vessel",
        "charge.mains_gauge_pa",
        "survey.design_minimum_c",
        "survey.altitude_m",
    ),
)
