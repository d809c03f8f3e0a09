"""Two pairs in a race over one day: the sums side by side, and the difference in words."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from rowan.core.simulation.controller import DARK_W_M2
from rowan.core.simulation.day import KINDS, MINUTES, Kind, Ready
from rowan.core.simulation.plan_day import Lens, day_of, made_ready, race_day, usual_day, usual_pair
from rowan.core.studies.pairs import Tried, Weights, weights_of
from rowan.core.terms.dates import day_of_year_said
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import shown_parts
from rowan.web.benches.bench import Sheet
from rowan.web.steps.control.day import Span, race_drawing

KIND_WORDS: dict[Kind, str] = {
    "clear": "clear",
    "broken": "broken cloud",
    "dull": "dull",
    "frost": "frosty night",
    "away": "a week away",
    "as": "as the year has it",
}
HABIT = (6.0, 4.0)
SAME_J, SAME_PUMP_J, SAME_STARTS = 18_000.0, 1800.0, 0.5  # what the printed digits do not tell apart
LEAST_SPAN_H, EVENING_H = 0.5, 1.0


@record
class RaceRow:
    """A line of the race: what, A, B with unit, and who is better (“a”, “b” or nobody)."""

    name: str
    a: str
    b: str
    unit: str
    better: str


def lens_of(sheet: Sheet) -> Lens:
    """The day somebody looks at, or a day in spring under broken cloud."""
    day = usual_day(sheet.design) if sheet.look.day is None else sheet.look.day
    kind: Kind = next((known for known in KINDS if known == sheet.look.sky), "broken")
    return Lens(kind, day)


def rival_of(sheet: Sheet) -> tuple[float, float]:
    """The pair that races against the plan's: chosen, or the one the loss floor asks for, or a habit."""
    control = sheet.design.control
    own = (control.start_k.value, control.stop_k.value)
    if sheet.look.rival is not None:
        return sheet.look.rival
    usual = usual_pair(sheet.result)
    return HABIT if usual == own else usual


def lens_title(sheet: Sheet, lens: Lens) -> str:
    """The day in words."""
    day = day_of_year_said(day_of(lens, sheet.design)).text()
    if lens.kind == "away":
        return tr("seven clear days from {day} on, nobody draws", day=day)
    return tr("{day}, {kind}", day=day, kind=tr(KIND_WORDS[lens.kind]))


def _row(
    name: str, pair: tuple[float, float], dimension: str, *, more: bool, slack: float, decimals: int | None = None
) -> RaceRow:
    a, b = pair
    better = ""
    if abs(a - b) > slack:
        better = "a" if (a > b) == more else "b"
    units = "metric"  # energy, hours and counts are the same in both systems
    left, unit = shown_parts(a, dimension, units, decimals)  # type: ignore[arg-type]
    right, _ = shown_parts(b, dimension, units, decimals)  # type: ignore[arg-type]
    return RaceRow(name, left, right, unit, better)


def race_rows(a: Tried, b: Tried) -> list[RaceRow]:
    """The sums of both pairs."""
    return [
        _row("heat to the store", (a.heat, b.heat), "energy", more=True, slack=SAME_J, decimals=2),
        _row("pump starts", (a.starts, b.starts), "count", more=False, slack=SAME_STARTS),
        _row("pump running", (a.running, b.running), "hours", more=False, slack=60.0, decimals=1),
        _row("pump takes", (a.electric, b.electric), "energy", more=False, slack=SAME_PUMP_J, decimals=3),
        _row("store cooled by the loop", (a.wasted, b.wasted), "energy", more=False, slack=SAME_J, decimals=2),
    ]


def race_words(sheet: Sheet, a: Tried, b: Tried, rival: tuple[float, float], weights: Weights) -> Statement:
    """The difference in words: heat, starts, electricity, and where B's stop lies against the least."""
    quantities: dict[str, Quantity | str] = {
        "h": Quantity(abs(b.heat - a.heat), "energy", 2),
        "e": Quantity(abs(b.electric - a.electric), "energy", 3),
        "g": Quantity(abs(rival[1] - sheet.result.differences.floor), "difference", 1),
    }
    if abs(b.heat - a.heat) <= SAME_J:
        heat = "B brings as much heat on this day with {starts}{power}.{stop}{all_told}"
    elif b.heat > a.heat:
        heat = "B brings {h} more on this day with {starts}{power}.{stop}{all_told}"
    else:
        heat = "B brings {h} less on this day with {starts}{power}.{stop}{all_told}"
    power = ""
    if abs(b.electric - a.electric) > SAME_PUMP_J:
        more = b.electric > a.electric
        power = ", and takes {e} more at the pump" if more else ", and takes {e} less at the pump"
    under = rival[1] < sheet.result.differences.floor
    stop = (
        " Its stop lies {g} under the least: there the loop only loses."
        if under
        else " Its stop lies {g} above the least."
    )
    worth = b.score(weights) - a.score(weights)
    quantities["w"] = Quantity(abs(worth), "energy", 2)
    all_told = " All told they are even."
    if abs(worth) > SAME_J:
        all_told = " All told B is worth {w} more." if worth > 0 else " All told A is worth {w} more."
    pieces = {"power": power, "stop": stop, "all_told": all_told}
    told = {name: Statement(words, quantities) for name, words in pieces.items()}
    return say(heat, starts=starts_words(round(b.starts - a.starts)), **told, **quantities)


def starts_words(by: int) -> Statement:
    """By how many starts one goes beyond the other."""
    if by == 0:
        return say("as many starts")
    if abs(by) == 1:
        return say("1 more start") if by > 0 else say("1 fewer start")
    return say("{by} more starts", by=f"{by}") if by > 0 else say("{by} fewer starts", by=f"{-by}")


def race_verdict(sheet: Sheet, a: Tried, b: Tried, rival: tuple[float, float], weights: Weights) -> Statement:
    """Who wins, in one line."""
    control = sheet.design.control
    worth = b.score(weights) - a.score(weights)
    names = {
        "a": Quantity(control.start_k.value, "difference"),
        "b": Quantity(control.stop_k.value, "difference"),
        "c": Quantity(rival[0], "difference"),
        "d": Quantity(rival[1], "difference"),
    }
    by = round(b.starts - a.starts)
    more, fewer = (say(", {starts}", starts=starts_words(n)) if n else say("") for n in (by, -by))
    if abs(worth) <= SAME_J:
        return say("{a} and {b} or {c} and {d}: even on this day{starts}", starts=more, **names)
    if worth > 0:
        return say("{c} and {d} would beat {a} and {b}{starts}", starts=more, **names)
    return say("{a} and {b} hold against {c} and {d}{starts}", starts=fewer, **names)


def span_of(asked: tuple[float, float] | None, made: Ready, kind: Kind) -> Span:
    """What of the day is shown [h]: what was asked for within it, else its light hours; of several days and of a frosty night all."""
    whole = 24.0 * len(made.days)
    if asked is None:
        lit = np.flatnonzero(made.feed.sun > DARK_W_M2) / MINUTES
        if len(made.days) > 1 or kind == "frost" or lit.size == 0:
            return Span(0.0, whole)
        return Span(float(math.floor(lit[0])), min(math.ceil(lit[-1]) + EVENING_H, whole))
    start = min(max(asked[0], 0.0), whole - LEAST_SPAN_H)
    return Span(start, min(max(asked[1], start + LEAST_SPAN_H), whole))


def race_context(sheet: Sheet, asked: tuple[float, float] | None = None) -> dict[str, Any]:
    """The race of a plan's page; a problem in words where no day can be run."""
    lens, rival = lens_of(sheet), rival_of(sheet)
    control = sheet.design.control
    kinds = [(kind, words, kind == lens.kind) for kind, words in KIND_WORDS.items()]
    base: dict[str, Any] = {"kinds": kinds, "lens_title": lens_title(sheet, lens), "rival": rival, "lens": lens}
    try:
        made: Ready = made_ready(sheet.design, sheet.result, lens, measured=sheet.measured)
        ours = race_day(made, start=control.start_k.value, stop=control.stop_k.value)
        theirs = race_day(made, start=rival[0], stop=rival[1])
    except RowanError as error:
        return base | {"race_problem": error.text(sheet.units)}
    a, b, weights = Tried.of(ours), Tried.of(theirs), weights_of(sheet.design)
    span = span_of(asked, made, lens.kind)
    return base | {
        "race": race_drawing(sheet, ours, theirs, span, tr("The day: {base}", base=base["lens_title"])),
        "race_rows": race_rows(a, b),
        "race_words": race_words(sheet, a, b, rival, weights),
        "race_verdict": race_verdict(sheet, a, b, rival, weights),
        "b_wins": b.score(weights) - a.score(weights) > SAME_J,
        "same": rival == (control.start_k.value, control.stop_k.value),
    }
