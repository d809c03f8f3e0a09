"""The order of commissioning of a direct loop: the drinking water itself, or the pool's, runs through the collectors.

Source: practice 14; site, tests and drinking-water side.
"""

from __future__ import annotations

from dataclasses import replace

from rowan.core.steps.commission.deviations import RUN
from rowan.core.steps.commission.flow_proof import balance_targets, run_fields
from rowan.core.steps.commission.legality import Supply
from rowan.core.steps.commission.order import (
    HAND_S,
    Job,
    act,
    closing_step,
    inspect_step,
    pressure_test,
    provoked_step,
    settings_step,
    steam,
    taps_step,
)
from rowan.core.steps.commission.result import Field, Step, Target
from rowan.core.steps.store.heat import SCALD_C
from rowan.core.terms.figure import Quantity, say


def direct_steps(job: Job) -> tuple[Step, ...]:
    """The steps of a direct loop."""
    main = job.design.main_gauge_pa
    return (
        inspect_step(job),
        *direct_filling(job),
        _run(job),
        replace(settings_step(job), gauge=main),
        *(replace(step, gauge=main) for step in taps_step(job)),
        replace(provoked_step(job), gauge=main),
        replace(closing_step(job), gauge=main),
        Step(
            "weeks",
            "After some weeks",
            say("In the diary today, for two to four weeks on."),
            say(
                "Vent the top, look for white crust at joints and valves{case}",
                case=", read the tempering valve again." if job.design.taps else ".",
            ),
            say("No air, no crust{case}", case=", the tap as it was set." if job.design.taps else "."),
            () if job.design.is_pool else (Target("Cold main", Quantity(main, "pressure")),),
            gauge=main,
            acts=(act("rest"),),
            fields=(Field("weeks_bled", "vented at the top"), Field("weeks_crust", "no crust anywhere")),
        ),
    )


def direct_filling(job: Job, vent: str = "vent") -> tuple[Step, Step, Step]:
    """Flushing, testing and filling a loop with the main's own water; air leaves by `vent`."""
    main, pool = job.design.main_gauge_pa, job.design.is_pool
    pressed = () if pool else (Target("Cold main", Quantity(main, "pressure")),)
    water = "Drinking water will run here: only clean hoses, nothing that tastes."
    if job.design.is_pool:
        water = "The pool's filter first: what is flushed out here never goes into the pool."
    return (
        Step(
            "flush",
            "Flush",
            say(water),
            say("Drain open before the main. To a drain till clear."),
            say("Clear, without chips, for a whole turn."),
            (*job.target("contents", "One turn"), *job.target("colour_time", "One turn takes")),
            (job.seconds("colour_time") or 0.0) * 3,
            steam(),
            acts=(act("flush", f"{vent} open, outlet open, source on, main open"),),
            closing=(act("flush", f"main shut, source off, outlet shut, {vent} shut"),),
            supply=Supply(main),
            hand="clear hose, bucket",
            fields=(Field("flush_clear", "clear for a whole turn"),),
        ),
        pressure_test(job),
        Step(
            "fill",
            "Fill by the filter pump" if pool else "Fill from the main",
            say("Vent on top open, what lets air in on top free.") if pool else say("Vent on top open, relief of the store free."),
            say("Filter pump on, its valve open slowly, till the vent gives water and no air; then shut the vent.")
            if pool
            else say("Main open slowly, till the vent gives water and no air; then shut the vent."),
            say("No bubble at the vent, no stream of bubbles in the pool.")
            if pool
            else say("No bubble at the vent, the gauge at the pressure of the main."),
            (*pressed, *job.target("contents", "Loop takes")),
            job.seconds("colour_time"),
            gauge=main,
            acts=(act("fill", f"check working, {vent} open, source on, main open"), act("rest", f"{vent} shut")),
            supply=Supply(main),
            fields=(
                Field("fill_clear", "water without air on top"),
                *(() if pool else (Field("main_p", "gauge at the main", "pressure", "0.5 * plan_main", "plan_weakest", "plan_main"),)),
            ),
        ),
    )  # fmt: skip


def _run(job: Job) -> Step:
    scald = Quantity(SCALD_C, "temperature")
    return Step(
        "run",
        "Run it by hand",
        say("Tempering valve fitted and set, a thermometer at a tap.")
        if job.design.taps
        else say("Cover off, sun on the field."),
        say("Pump at the speed of the plan; listen on top for air, vent again with the pump off."),
        say("The flow is read, the store's hot port warms after the time reckoned, no tap is hotter than set.")
        if job.design.taps
        else say("The flow is read, and warm water comes back after the time reckoned."),
        (*job.target("flow", "Flow"), *balance_targets(job), *job.target("arrival", "Heat arrives after")),
        HAND_S,
        say("Water above {t} scalds: test the tap before anybody else does.", t=scald) if job.design.taps else None,
        job.design.main_gauge_pa,
        acts=(act("run", "pump on"),),
        closing=(act("rest", "pump off"),),
        hand="thermometer at the store, watch",
        fields=run_fields(job),
        rules=RUN,
    )
