"""The Control bench: two differences, why the pump hunts between them, the limits in order."""

from __future__ import annotations

from typing import Any

from rowan.core.simulation.plan_day import day_of
from rowan.core.studies.pairs import DAY_KINDS, grid, pair_map
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot, blank
from rowan.web.steps.control.drawing import differences, limits
from rowan.web.steps.control.guards import guards_context, heat_ladder
from rowan.web.steps.control.pairs import map_drawing, why_words
from rowan.web.steps.control.race import lens_of, race_context, rival_of


def _verdict(sheet: Sheet) -> Statement:
    if not sheet.design.pumped:
        return say("No controller: the sun starts it, and nothing limits the store below {t}", t=_hottest(sheet))
    control = sheet.design.control
    if control.stop_k.value >= control.start_k.value:
        return say(
            "Start at {a}, stop at {b}: the pump would chatter",
            a=Quantity(control.start_k.value, "difference"),
            b=Quantity(control.stop_k.value, "difference"),
        )
    return say(
        "Start at {a}, stop at {b}: below {f} it only loses",
        a=Quantity(control.start_k.value, "difference"),
        b=Quantity(control.stop_k.value, "difference"),
        f=Quantity(sheet.result.differences.floor, "difference"),
    )


def _hottest(sheet: Sheet) -> Quantity:
    return sheet.result.figures["hottest_store"].quantity


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    if not sheet.design.pumped:
        heats = sheet.design.store.backup.value in ("coil", "element")
        when: tuple[LinePart, ...] = (
            (" to ", Slot("store.backup_c"), ", may heat ", Slot("store.backup_hours")) if heats else ()
        )
        return (
            "Tempering valve at the taps ",
            Slot("store.tempering_valve"),
            ", drawn at ",
            Slot("duty.tap_c"),
            ". Backup ",
            Slot("store.backup"),
            *when,
            ". Hygiene ",
            Slot("store.hygiene"),
            ".",
        )
    return (
        "Start ",
        Slot("control.start_k"),
        ", stop ",
        Slot("control.stop_k"),
        ", sensors may be wrong by ",
        Slot("control.sensor_error_k"),
        ". Least field ",
        Slot("control.least_collector_c"),
        ", store limit ",
        Slot("store.maximum_c"),
        ", field cut-out ",
        Slot("control.cut_out_c"),
        ", pump speed ",
        Slot("run.speed"),
        ".",
    )


def race_page(sheet: Sheet, asked: tuple[float, float] | None = None) -> dict[str, Any]:
    """The race with the fields of its rival."""
    context = race_context(sheet, asked)
    unit = dimension("difference").unit(sheet.units)
    control = sheet.design.control
    day = day_of(context["lens"], sheet.design)
    return context | {
        "b_start": f"{context['rival'][0] / unit.factor:.4g}",
        "b_stop": f"{context['rival'][1] / unit.factor:.4g}",
        "k_unit": unit.label,
        "pair_a": _pair(sheet, (control.start_k.value, control.stop_k.value)),
        "pair_b": _pair(sheet, context["rival"]),
        "day_before": (day - 7) % DAYS,
        "day_after": (day + 7) % DAYS,
    }


def _pair(sheet: Sheet, pair: tuple[float, float]) -> str:
    unit = dimension("difference").unit(sheet.units)
    return " / ".join(f"{k / unit.factor:.3g}" for k in pair) + f" {unit.label}"


def pairs_context(sheet: Sheet, asked: str, *, run: bool) -> dict[str, Any]:
    """The map of pairs if it is kept, or run now; else how many pairs will be run."""
    kind = next((known for known in DAY_KINDS if known == asked), None)
    kinds = [
        ("worst", tr("on its worst day"), kind is None),
        *((k, tr("on a {k} day", k=k), k == kind) for k in DAY_KINDS),
    ]
    base: dict[str, Any] = {"pair_count": len(grid()), "map_kinds": kinds}
    day = lens_of(sheet).day
    try:
        found = pair_map(sheet.design, sheet.result, day=day, measured=sheet.measured, run=run)
    except RowanError as error:
        text = error.text(sheet.units)
        return base | {"pairs_problem": tr("No pair can be run: {text}", text=text)}
    if found is None:
        return base
    weights = found.weights
    return base | {
        "pair_map": map_drawing(sheet, found, kind, rival_of(sheet)),
        "pairs_why": why_words(sheet, found),
        "pairs_ratio": Quantity(weights.electricity, "ratio", 2).shown(sheet.units),
        "weight_blanks": {
            "electricity": blank(sheet.design, "functions.electricity_weight", sheet.units),
            "start": blank(sheet.design, "functions.start_worth_j", sheet.units),
        },
    }


def _context(sheet: Sheet) -> dict[str, Any]:
    """Race and map; none without a controller."""
    if not sheet.design.pumped:
        return guards_context(sheet)
    return {**race_page(sheet), **pairs_context(sheet, "", run=False)}


def _blocks(sheet: Sheet) -> list[Block]:
    if not sheet.design.pumped:
        return [
            Block("How hot it may come", "no limit acts; what guards people and tank", heat_ladder(sheet)),
            Block(
                "What holds it instead", "each by itself, without a controller", template="steps/control/guards.html"
            ),
        ]
    return [
        Block("The day", "", template="steps/control/race.html"),
        Block(
            "Net heat, every start and stop", "a clear, a broken and a dull day", template="steps/control/pairs.html"
        ),
        Block("Start and hold", "", differences(sheet)),
        Block(
            "What would calm it",
            "the plan's pair on the day above, one thing changed at a time, in the order to try them",
            template="steps/control/calming.html",
        ),
        Block("A year of pairs", "", run="pairs"),
        Block(
            "The limits, in order",
            "cut-out below what the parts stand, store limit by its tempering valve",
            limits(sheet),
        ),
    ]


BENCH = Bench(
    "control",
    "Control",
    _verdict,
    _line,
    _blocks,
    ("store.tempering_valve", "money.electricity_price", "money.fuel_price", "money.heater_efficiency"),
    _context,
)
