"""Hunting: how gravely a pump starts and stops all day, counted on a day of broken cloud.

The rule of the differences alone condemns nearly every loop; the starts decide. That day is a few milliseconds where the
year is fifty, and on broken cloud a pump starts more often than on the year's mean day. Source: methods 7.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.steps.control.differences import MOST_STARTS_A_DAY, cycling_level
from rowan.core.steps.control.stage import calmer
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Finding, Level
from rowan.core.terms.source import methods
from rowan.core.weather.hours import Sky


def broken_starts(design: Design, result: Reckoning, measured: Sky | None = None) -> float | None:
    """How often the plan's pump starts on a day of broken cloud [-]; None for a plan that cannot be run, or has no pump."""
    if not design.pumped:
        return None
    try:
        made = made_ready(design, result, Lens("broken", usual_day(design)), measured=measured)
        day = race_day(made, start=design.control.start_k.value, stop=design.control.stop_k.value)
    except RowanError:
        return None
    return day.total("starts")


def hunting(design: Design, result: Reckoning, starts: float | None) -> tuple[Finding, ...]:
    """What the starts on a day of broken cloud say of the pump; nothing where there is none."""
    if not design.pumped:
        return ()
    stable = not result.control.cycles
    level = cycling_level(stable=stable, starts_per_day=starts)
    if level == "none":
        return ()
    if stable:
        return (_many(starts or 0.0),)
    return (_hunts(design, result, level, starts),)


def _hunts(design: Design, result: Reckoning, level: Level, starts: float | None) -> Finding:
    """The rule of the differences is broken: graded by the count."""
    control = result.control
    words = (
        "Less sun starts it than holds it. A start or two at breakfast are healthy; hunting all day is not. "
        "Lower flow first, then a least run, the sensor's place, the differences."
    )
    counted: dict[str, Quantity | str] = {}
    if starts is not None:
        often = f"; more than {MOST_STARTS_A_DAY} wear pump and relay." if level == "fix" else "."
        words += " On a day of broken cloud it starts {starts} times" + often
        counted["starts"] = Quantity(starts, "count")
    return Finding(
        key="hunting",
        level=level,
        stage="control",
        part="pump",
        title=say(
            "between {a} and {b} the pump hunts",
            a=Quantity(control.band.start_irradiance, "irradiance"),
            b=Quantity(control.band.hold_irradiance, "irradiance"),
        ),
        reason=say(words, **counted),
        quantity=Quantity(design.control.stop_k.value, "difference"),
        limit=Quantity(control.largest_stop, "difference"),
        cures=calmer(design, result.run),
        source=methods(7),
    )


def _many(starts: float) -> Finding:
    return Finding(
        key="many_starts",
        level="mind",
        stage="control",
        part="pump",
        title=say("the pump starts often on a day of broken cloud"),
        reason=say(
            f"{{n}} times; more than {MOST_STARTS_A_DAY} wear pump and relay. The differences keep the rule against "
            "hunting, so it is the clouds: a least run calms it.",
            n=Quantity(starts, "count"),
        ),
        quantity=Quantity(starts, "count"),
        limit=Quantity(float(MOST_STARTS_A_DAY), "count"),
        source=methods(7),
    )
