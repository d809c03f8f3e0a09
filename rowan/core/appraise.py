"""A reckoning with what only a run tells: how gravely the pump hunts, by its starts on a day of broken cloud.

The day is 10 ms where the year is 200, and on broken cloud a pump starts more often than on the year's mean day; so it
decides the level everywhere a plan is shown. Source: methods 7.
"""

from __future__ import annotations

from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.steps.control.differences import MOST_STARTS_A_DAY, cycling_level
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Finding, Level
from rowan.core.terms.source import methods


def broken_starts(design: Design, result: Reckoning) -> float | None:
    """How often the plan's pump starts on a day of broken cloud [-]; None for a plan that cannot be run, or has no pump."""
    if design.charge.kind.value == "thermosiphon":
        return None
    try:
        made = made_ready(design, result, Lens("broken", usual_day(design)))
        day = race_day(made, start=design.control.start_k.value, stop=design.control.stop_k.value)
    except RowanError:
        return None
    return day.total("starts")


def judged(design: Design, known: Known | None = None) -> Reckoning:
    """`reckon`, with the hunting of the pump graded by its starts."""
    result = reckon(design, known)
    starts = broken_starts(design, result)
    if starts is None:
        return result
    stable = not any(f.key == "hunting" for f in result.control.findings)
    level = cycling_level(stable=stable, starts_per_day=starts)
    findings = result.control.findings
    if stable and level == "mind":
        findings = (*findings, _many(starts))
    elif level != "none":
        findings = tuple(_graded(f, level, starts) if f.key == "hunting" else f for f in findings)
    return replace(result, control=replace(result.control, findings=findings))


def _graded(finding: Finding, level: Level, starts: float) -> Finding:
    """The finding with its level and the count that decided it."""
    often = f"; more than {MOST_STARTS_A_DAY} wear pump and relay." if level == "fix" else "."
    template = finding.reason.template + " On a day of broken cloud it starts {starts} times" + often
    return replace(
        finding, level=level, reason=say(template, **finding.reason.quantities, starts=Quantity(starts, "count"))
    )


def _many(starts: float) -> Finding:
    return Finding(
        key="many_starts",
        level="mind",
        stage="control",
        part="pump",
        title=say("the pump starts often on a day of broken cloud"),
        reason=say(
            f"{{n}} times; more than {MOST_STARTS_A_DAY} wear pump and relay. The differences keep the rule against hunting, so it is the clouds: a least run calms it.",
            n=Quantity(starts, "count"),
        ),
        quantity=Quantity(starts, "count"),
        limit=Quantity(float(MOST_STARTS_A_DAY), "count"),
        cures=(),
        source=methods(7),
    )
