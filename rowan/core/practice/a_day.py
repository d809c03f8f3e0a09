"""What a day of sun and cloud makes of the differences that were set, beside the plan's own. Source: methods 7."""

from __future__ import annotations

from rowan.core.practice.sheet import Answers
from rowan.core.practice.sheets.ground import Ground
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.studies.pairs import Tried
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say

# where the answers of a task hold a pair: start and stop
PAIRS = {"card": ("control.start_k", "control.stop_k"), "differences": ("start_own", "stop_own")}
LEAST_APART_K = 0.5  # between start and stop, under which a day is not worth running: it chatters
MOST_K = 60.0  # that a difference may be, for a day to be run with it


def day_with(ground: Ground, start: float, stop: float) -> Tried:
    """The plan's loop through a day of sun and cloud with a pair [K]. Raises RowanError where no day can be run."""
    made = made_ready(ground.design, ground.result, Lens("broken", usual_day(ground.design)))
    return Tried.of(race_day(made, start=start, stop=stop))


def comes_of(task: str, ground: Ground, answers: Answers) -> tuple[Statement, ...]:
    """What a day makes of a pair that was answered; nothing for a task that asks for none, or where it was not answered."""
    if task not in PAIRS:
        return ()
    start, stop = (answers.get(key) for key in PAIRS[task])
    if not isinstance(start, float | int) or not isinstance(stop, float | int):
        return ()
    pair = {"a": Quantity(float(start), "difference"), "b": Quantity(float(stop), "difference")}
    if start - stop < LEAST_APART_K:
        return (
            say(
                "Start {a}, stop {b}: the first cold water stops the pump, it chatters until the relay gives up", **pair
            ),
        )
    control = ground.design.control
    try:
        if not (stop >= 0.0 and start <= MOST_K):
            return (say("Start {a}, stop {b}: no controller takes that", **pair),)
        set_, own = day_with(ground, start, stop), day_with(ground, control.start_k.value, control.stop_k.value)
    except RowanError:
        return ()
    words = "A day of sun and cloud with start {a}, stop {b}: {h} into the store, {n} starts, the pump runs {t}"
    plans = "The same day with the plan's {a}, {b}: {h}, {n} starts, {t}"
    return (
        say(words, **pair, **_sums(set_)),
        say(
            plans,
            a=Quantity(control.start_k.value, "difference"),
            b=Quantity(control.stop_k.value, "difference"),
            **_sums(own),
        ),
    )


def _sums(day: Tried) -> dict[str, Quantity]:
    return {
        "h": Quantity(day.heat, "energy", 2),
        "n": Quantity(float(round(day.starts)), "count"),
        "t": Quantity(day.running, "hours", 1),
    }
