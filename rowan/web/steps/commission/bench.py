"""The Commission bench: the order of the work with this job's targets, and how every valve stands."""

from __future__ import annotations

from typing import Any

from rowan.core.reckon import bench_of_figure
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import number_text
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot
from rowan.web.steps.commission.drawing import gauge_drawing

SECONDS_TO_MINUTES_FROM = 180


def _verdict(sheet: Sheet) -> Statement:
    result, design = sheet.result, sheet.design
    test = Quantity(result.commission.test_pressure, "pressure")
    if result.draining is not None:
        levels = result.draining.levels
        if levels is not None:
            under = Quantity(levels.under_rim, "level")
            return say("Test at {t}, fill to {m} under the rim, watch it empty", t=test, m=under)
        return say(
            "Test at {t}, fill to the mark with {m}, watch it empty",
            t=test,
            m=Quantity(result.draining.marks.fill_mark, "volume"),
        )
    if not design.sealed:
        return say(
            "Test at {t}, then fill from the main at {m}",
            t=test,
            m=Quantity(design.main_gauge_pa, "pressure"),
        )
    if result.setting is None:
        return say("Test at {t}; what to leave it at is still open", t=test)
    return say(
        "Test at {t}, pump {v} round, leave it at {f}",
        t=test,
        v=Quantity(result.sealed.prepare, "volume"),
        f=Quantity(result.setting.fill, "pressure"),
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    if sheet.design.drains:
        return (
            "Tested with ",
            Slot("commission.test"),
            ", reservoir shut off; the weakest part stands ",
            Slot("commission.weakest_gauge_pa"),
            ".",
        )
    parts: tuple[LinePart, ...] = ("Filling pump gives ", Slot("commission.station_flow_l_h"))
    if sheet.design.sealed:
        parts = ("Filled with ", Slot("commission.kit"), ", which gives ", Slot("commission.station_flow_l_h"))
        parts += (", tub of ", Slot("commission.tub_area_m2"), ", ", Slot("commission.turns"), " turns of the loop")
    return (
        *parts,
        ". Tested with ",
        Slot("commission.test"),
        " while the relief ",
        Slot("commission.relief_stays"),
        "; the weakest part stands ",
        Slot("commission.weakest_gauge_pa"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("The gauge and the valves", "", gauge_drawing(sheet)),
        Block("Step by step", "targets of this job", template="steps/commission/steps.html"),
    ]


def timer(seconds: float | None) -> str:
    """How long a step takes, as a clock shows it; empty where it has no time."""
    if seconds is None:
        return ""
    if seconds < SECONDS_TO_MINUTES_FROM:
        return f"{number_text(seconds, 0)} s"
    return tr("{number_text} min", number_text=number_text(seconds / 60, 0))


def _context(sheet: Sheet) -> dict[str, Any]:
    commission = sheet.result.commission
    rows = []
    for number, step in enumerate(commission.steps, 1):
        targets = [(target, bench_of_figure(sheet.result, target.figure)) for target in step.targets]
        rows.append({"number": number, "step": step, "timer": timer(step.seconds), "targets": targets})
    return {"steps": rows}


BENCH = Bench(
    "commission",
    "Commission",
    _verdict,
    _line,
    _blocks,
    (
        "commission.hose",
        "commission.test_pump",
        "commission.vessel_valve",
        "commission.between_sets",
        "charge.surplus_l",
        "charge.relief_gauge_pa",
        "run.vent_shut_off",
    ),
    _context,
)
