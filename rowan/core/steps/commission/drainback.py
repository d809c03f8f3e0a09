"""The order of commissioning for a loop that empties when its pump stops. Source: practice 14; methods 11; site, valves D."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.steps.commission.deviations import DRAIN_LATE, FLOW_LOW_SHARE, MARK_CLOSE_M, STAYS_CLOSE, STOP
from rowan.core.steps.commission.legality import Supply
from rowan.core.steps.commission.order import (
    Job,
    act,
    closing_step,
    inspect_step,
    pressure_test,
    provoked_step,
    settings_step,
    taps_step,
)
from rowan.core.steps.commission.result import Field, Step, Target
from rowan.core.steps.run.draining import LEAST_FALL
from rowan.core.terms.figure import Quantity, say

RUN_S = 20 * 60.0  # s that the pump runs before levels are marked
STEAMED_M = 0.01  # m that may have steamed off after some weeks
CYCLES = 3  # of start and stop, the level back at its mark; site, valves 10


def drainback_steps(job: Job) -> tuple[Step, ...]:
    """The steps: falls by the level, fill to the mark, start, flow, stop, listen, level back to the mark."""
    return (
        replace(
            inspect_step(job),
            right=say("Nothing loose, nothing missing from the list, no valve and no vent on the way down."),
        ),
        _falls(job),
        _flush(job),
        replace(
            pressure_test(job),
            before=say(
                "Reservoir and open store shut off or plugged: they stand no pressure. Nothing else in the loop that stands less."
            ),
        ),
        _let_out(job),
        _fill(job),
        _start(job),
        _stop(job),
        replace(settings_step(job), gauge=None),
        *taps_step(job),
        _sun(job),
        provoked_step(job),
        closing_step(job),
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
            "Each falls {f} toward the store at least, no sag, no screw-down valve, no vent.",
            f=Quantity(LEAST_FALL, "share"),
        ),
        acts=(act("dry"),),
        hand="600 mm level with a block of 12.5 mm, crayon",
        fields=(
            Field("fall_least", "the least of all", "share_fine", low=str(LEAST_FALL)),
            Field("falls_written", "written on every leg"),
        ),
    )


def _flush(job: Job) -> Step:
    return Step(
        "flush",
        "Flush",
        say("Both tank valves shut: what comes out of the pipes stays out of the tank."),
        say("Drain open before the supply, at low pressure, to a drain till clear."),
        say("Clear, without chips."),
        job.target("contents", "One turn"),
        caution=say("Water into a hot dry field is steam."),
        acts=(act("flush", "outlet open, source on, supply open"),),
        closing=(act("flush", "supply shut, source off, outlet shut"),),
        supply=Supply(job.design.charge.mains_gauge_pa.value),
        hand="clear hose, backflow device, bucket",
        fields=(Field("flush_clear", "clear, without chips"),),
    )


def _let_out(job: Job) -> Step:
    return Step(
        "release",
        "Let it out",
        say("Before frost can reach it."),
        say("Drain and top opened; the litres counted."),
        say("All of it comes: what is missing stands in a trap."),
        job.target("contents", "Loop holds"),
        acts=(act("release", "supply open, outlet open"),),
        closing=(act("release", "supply shut, outlet shut"),),
        hand="cans with marks",
        fields=(
            Field(
                "release_out",
                "came out",
                "volume",
                f"plan_contents - plan_coil - {STAYS_CLOSE}",
                expected="plan_contents",
            ),
        ),
    )


def _mark(job: Job) -> tuple[Target, ...]:
    """Where the water stands at rest: in an open store so far under its rim, else so many litres over the inlet."""
    return job.target("rest_mark", "Mark, under the rim") or job.target("fill_mark", "Mark at rest")


def _fill(job: Job) -> Step:
    return Step(
        "fill",
        "Fill to the mark",
        say("Field cool: early, late or covered. Both tank valves and the air way open, pump off."),
        say(
            "Clean water out of a tub, in at the fill port, slowly; never the main itself, never a float valve. A flow tube at that height serves as level glass."
        ),
        say("The level stands at the cold mark, never above it. Mark and date on the tank."),
        (*_mark(job), *job.target("contents_above", "Comes back")),
        caution=say("Water into a hot dry field is steam."),
        acts=(
            act("dry", "air open, tank flow open, tank return open"),
            act("fill", "source on, supply open, supply shut, source off"),
        ),
        supply=Supply(job.design.charge.mains_gauge_pa.value),
        fields=(
            Field("fill_mark_at", "level at the mark", "level", str(-MARK_CLOSE_M), str(MARK_CLOSE_M), "0"),
            Field("marked", "marked and dated on the tank"),
        ),
    )


def _start(job: Job) -> Step:
    return Step(
        "start",
        "Start it by hand",
        say("Somebody listens on top, somebody watches the level."),
        say(
            "Pump at full speed: the level falls, the return gurgles, then fills and goes quiet. Then slower: the flow holds by its siphon."
        ),
        say("The level stays over the pump's inlet, the flow is read, no noise of air after some minutes."),
        (*job.target("flow", "Flow"), *job.target("return_velocity", "Return runs at"), *job.target("start_head")),
        RUN_S,
        acts=(act("run", "pump on"),),
        hand="pen for the running mark",
        fields=(
            Field("run_flow", "flow", "flow", f"{FLOW_LOW_SHARE} * plan_flow", expected="plan_flow"),
            Field("gurgle_ends", "the gurgling ends"),
            Field("running_mark", "running level marked, over the pump's inlet"),
        ),
    )


def _stop(job: Job) -> Step:
    return Step(
        "stop",
        "Stop it and watch it empty",
        say("Run it warm first, then stop the pump and start the watch."),
        say("Watch the level climb back; listen till the last water has come. Three rounds."),
        say("Back at the mark each time, within half as much again as reckoned; less water back is a trap."),
        (*job.target("drain_time", "Empty after"), *job.target("freezes_after", "A wet pipe freezes after")),
        (job.seconds("drain_time") or 0.0) * DRAIN_LATE,
        acts=(act("run", "pump off"),),
        hand="watch",
        fields=(
            Field(
                "drain_s",
                "empty after",
                "time",
                high=f"{DRAIN_LATE} * plan_drain",
                expected="plan_drain",
                clock=True,
                level="",
            ),
            Field("level_short", "short of the mark by", "level", level="", expected="0"),
            Field("cycles", "starts and stops", "count", low=str(CYCLES), expected=str(CYCLES)),
        ),
        rules=STOP,
    )


def _sun(job: Job) -> Step:
    return Step(
        "sun",
        "In sun, without power",
        say("With the field warm."),
        say("Plug pulled in sun: it empties. Back in: the pump must not start into a field that is too hot."),
        say("It drains, and does not refill before the field is cool enough."),
        (Target("Refills below", Quantity(job.design.control.refill_c.value, "temperature")),),
        caution=say("Water into a hot dry field is steam: nobody at an opening on top."),
        acts=(act("rest"),),
        fields=(Field("drained_in_sun", "it emptied"), Field("refill_locked", "a hot field was not refilled")),
    )


def _weeks(job: Job) -> Step:
    return Step(
        "weeks",
        "After some weeks",
        say("In the diary today, for two to four weeks on, and before the first frost."),
        say("Pump off, cold: read the level against its mark and date; lid sealed; one start and stop listened to."),
        say("The level is at the mark; what is missing has steamed off or stayed behind."),
        _mark(job),
        acts=(act("rest"),),
        fields=(
            Field("weeks_level", "level against its mark", "level", str(-STEAMED_M), str(MARK_CLOSE_M), "0"),
            Field("weeks_heard", "one start and stop listened to"),
        ),
    )
