"""The order of commissioning for a loop that empties when its pump stops. Source: practice, commissioning; methods 11."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.steps.charge.ratings import test_pressure
from rowan.core.steps.commission.order import TEST_S, Job, inspect_step, settings_step
from rowan.core.steps.commission.result import Step, Target
from rowan.core.terms.figure import Quantity, say

RUN_S = 20 * 60.0  # s that the pump runs before levels are marked


def _valves(*, opened: bool = False) -> dict[str, bool]:
    """Both valves at the tank: open together or shut together."""
    return {"tank flow": opened, "tank return": opened}


def drainback_steps(job: Job) -> tuple[Step, ...]:
    """The steps: falls by the level, fill to the mark, start, flow, stop, listen, level back to the mark."""
    look, settings = inspect_step(job), settings_step(job)
    return (
        replace(
            look,
            valves=_valves(),
            right=say("Nothing loose, nothing missing from the list, no valve and no vent on the way down."),
        ),
        _falls(job),
        _test(job),
        _fill(job),
        _start(job),
        _stop(job),
        replace(settings, valves=_valves(opened=True), gauge=None),
        _weeks(job),
    )


def _falls(job: Job) -> Step:
    return Step(
        "falls",
        "Falls, with a level",
        say("Pipe clipped as it will stay; field and headers bolted, nothing leaned on."),
        say(
            "A level on every outdoor leg and on the header, and the number written on the pipe. The eye cannot judge it."
        ),
        say(
            "Each falls {f} toward the store at least, no sag, no screw-down valve, no vent.", f=Quantity(0.02, "share")
        ),
        _valves(),
        (),
    )


def _test(job: Job) -> Step:
    return Step(
        "test",
        "Pressure test",
        say("Reservoir and open store shut off: they stand no pressure. Nothing else in the loop that stands less."),
        say(
            "With water in warm weather, with air in frost; dry every joint and look again. Then let it out and run it empty."
        ),
        say("The needle stands while the temperature stands."),
        _valves(),
        job.target("test_pressure", "Test at"),
        TEST_S,
        gauge=test_pressure(job.design),
    )


def _mark(job: Job) -> tuple[Target, ...]:
    """Where the water stands at rest: in an open store so far under its rim, else so many litres over the inlet."""
    return job.target("rest_mark", "Mark, under the rim") or job.target("fill_mark", "Mark at rest")


def _fill(job: Job) -> Step:
    return Step(
        "fill",
        "Fill to the mark",
        say("Field cool: early, late or covered. Both tank valves open, pump off."),
        say(
            "Clean water in at the top of the tank, slowly, never by a float valve; a flow tube at that height serves as level glass."
        ),
        say("The level stands at the mark, never above it. Mark and date on the tank."),
        _valves(opened=True),
        (*_mark(job), *job.target("contents_above", "Comes back")),
        0.0,
        say("Water into a hot dry field is steam."),
    )


def _start(job: Job) -> Step:
    return Step(
        "start",
        "Start it by hand",
        say("Somebody listens on top, somebody watches the level."),
        say("Pump at the speed of the plan. The level falls, the return gurgles, then fills and goes quiet."),
        say("The level stays over the pump's inlet, the flow is read, no noise of air after some minutes."),
        _valves(opened=True),
        (*job.target("flow", "Flow"), *job.target("return_velocity", "Return runs at"), *job.target("start_head")),
        RUN_S,
    )


def _stop(job: Job) -> Step:
    return Step(
        "stop",
        "Stop it and watch it empty",
        say("Run it warm first, then stop the pump and start the watch."),
        say("Watch the level climb back; listen till the last water has come. Three rounds."),
        say("Back at the mark each time, within twice the time reckoned; less water back is a trap."),
        _valves(opened=True),
        (*job.target("drain_time", "Empty after"), *job.target("freezes_after", "A wet pipe freezes after")),
        (job.seconds("drain_time") or 0.0) * 2,
    )


def _weeks(job: Job) -> Step:
    return Step(
        "weeks",
        "After some weeks",
        say("In the diary today, for two to four weeks on, and before the first frost."),
        say("Pump off, cold: read the level against its mark and date; lid sealed; one start and stop listened to."),
        say("The level is at the mark; what is missing has steamed off or stayed behind."),
        _valves(opened=True),
        _mark(job),
    )
