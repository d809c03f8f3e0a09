"""Pipe that nobody will see again: tested on the bench, and once more in the open trench before it is closed. Source: practice, dangers."""

from __future__ import annotations

from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.commission.deviations import TEST_AIR, TEST_WATER
from rowan.core.steps.commission.order import (
    AIR_TEST_S,
    LEAST_OF_TEST,
    REPUMPED_S,
    TEST_S,
    Job,
    act,
    hold_fields,
    test_tool,
)
from rowan.core.steps.commission.pressure_test import LEAST_ALLOWANCE_PA
from rowan.core.steps.commission.result import Field, Step
from rowan.core.terms.figure import say

LEAST_COVER_M = 0.3  # m of earth over a pipe that a spade does not find


def buried_steps(job: Job) -> tuple[Step, ...]:
    """The two tests of a run that will be buried; none where nothing is."""
    design = job.design
    if all(leg.place != "buried" for leg in (*design.run.cold, *design.run.hot)):
        return ()
    air = job.medium == "air"
    pressure, seconds = test_pressure(design), AIR_TEST_S if air else TEST_S
    bench = Step(
        "bench",
        "On the bench",
        say("Before it goes into its trench: every joint that will be buried, both ends plugged."),
        say("Up to the test pressure, supply off. Each joint dried and looked at with a lamp."),
        say("The needle stands, nothing weeps. A joint that wept is made anew, not tightened."),
        job.target("test_pressure", "Test at"),
        seconds,
        say("Nobody stands in line with a plug."),
        pressure,
        acts=(act("dry"),),
        hand="two plugs, " + test_tool(design),
        bells=() if air else REPUMPED_S,
        fields=tuple(field for field in hold_fields(job) if field.key != "looked_again"),
        rules=TEST_AIR if air else TEST_WATER,
    )
    trench = Step(
        "trench",
        "In the open trench",
        say("Laid, bedded, before a shovel of earth falls on it."),
        say(
            "The same pressure once more. Depth and place measured from two corners, photographed with a rule beside it."
        ),
        say("The needle stands; whoever digs here in twenty years finds it on the sketch."),
        job.target("test_pressure", "Test at"),
        seconds,
        gauge=pressure,
        acts=(act("dry"),),
        hand="gauge, rule, camera, warning tape",
        fields=(
            Field(
                "trench_p1",
                "pressure at the start",
                "pressure",
                f"{LEAST_OF_TEST} * plan_test",
                f"plan_test + {LEAST_ALLOWANCE_PA:g}",
                "plan_test",
            ),
            Field("trench_p2", "pressure at the end", "pressure", "trench_p1 - allowance_air", expected="trench_p1"),
            Field("trench_depth", "cover over it", "length", str(LEAST_COVER_M)),
            Field("trench_seen", "photographed with a rule beside it"),
            Field("warning_tape", "warning tape over it"),
        ),
    )
    return bench, trench
