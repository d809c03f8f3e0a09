"""What proves that a loop flows: the float, and heat that arrives; a hum proves nothing. Source: practice 14; site, valves 11."""

from __future__ import annotations

from rowan.core.steps.commission.deviations import FLOW_LOW_SHARE, NO_FLOW_TIMES, STOPPED_CLOSE_PA
from rowan.core.steps.commission.order import Job
from rowan.core.steps.commission.result import Field, Target
from rowan.core.terms.figure import Quantity


def balance_targets(job: Job) -> tuple[Target, ...]:
    """What each throttled row is set to."""
    rows = job.run.divided.rows
    if job.design.collector.feed.value != "throttled" or len(rows) < 2:
        return ()
    return tuple(Target(f"Row {n}", Quantity(row.flow, "flow")) for n, row in enumerate(rows, 1))


def run_fields(job: Job) -> tuple[Field, ...]:
    """What proves that it flows."""
    stopped = (
        (
            Field(
                "run_fill",
                "gauge, pump stopped",
                "pressure",
                f"plan_fill - {STOPPED_CLOSE_PA:g}",
                f"plan_fill + {STOPPED_CLOSE_PA:g}",
                "plan_fill",
            ),
        )
        if job.setting
        else ()
    )
    return (
        Field(
            "run_flow",
            "flow, at the float's right edge",
            "flow",
            f"{FLOW_LOW_SHARE} * plan_flow",
            expected="plan_flow",
            level="",
        ),
        Field("run_speed", "pump speed as left", "count", low="1", high="6", expected="plan_speed", needed=False),
        Field("run_loud", "loud and twitching", needed=False),
        Field(
            "arrival_s",
            "heat at the store after",
            "time",
            high=f"{NO_FLOW_TIMES:g} * arrival_due",
            expected="arrival_due",
            clock=True,
            level="",
        ),
        *stopped,
    )
