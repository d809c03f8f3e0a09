"""The order of commissioning for a tank over its field: no pump to start, so slopes, air and the hand on the pipe prove the flow.

Source: practice 5 and 14.
"""

from __future__ import annotations

from dataclasses import replace

from rowan.core.steps.commission.direct import direct_filling
from rowan.core.steps.commission.order import Job, act, closing_step, inspect_step
from rowan.core.steps.commission.result import Field, Step, Target
from rowan.core.steps.store.heat import SCALD_C
from rowan.core.terms.figure import Quantity, say

PROOF_S = 30 * 60.0  # s of full sun after which the hot line must be felt, practice 14


def thermosiphon_steps(job: Job) -> tuple[Step, ...]:
    """The steps of a loop that the sun drives."""
    flush, test, fill = direct_filling(job, "tap")
    look = replace(
        inspect_step(job),
        work=say(
            "What carries the tank was proved for its full weight. Every union has its washer, every joint its second turn of the spanner."
        ),
        right=say(
            "Nothing loose, nothing missing from the list; nothing between the tank and its relief that can be shut."
        ),
        targets=job.target("roof_mass", "Full it weighs"),
    )
    fill = replace(
        fill,
        before=say("Field covered. The highest hot tap open, relief of the tank free."),
        work=say("Main open slowly, from below: field, then tank, till the tap runs without air; then shut the tap."),
        right=say("No spluttering at the tap, the tank heard to be full, the gauge at the pressure of the main."),
    )
    main = job.design.main_gauge_pa
    close = replace(closing_step(job), gauge=main)
    return look, _slopes(job), flush, test, fill, _proof(job), _taps(job), close, _night(job), _weeks(job)


def _slopes(job: Job) -> Step:
    return Step(
        "slopes",
        "Level and fall",
        say("Before anything is lagged."),
        say(
            "A level on every leg: the hot line rises all the way to the tank, the cold line falls all the way to the field."
        ),
        say("No leg level the wrong way: one bubble that sits there stops the flow."),
        (Target("Tank's foot over the field", Quantity(job.design.store.above_field_m.value, "length")),),
        acts=(act("dry"),),
        hand="level of 600 mm",
        fields=(Field("slopes_right", "hot line rises, cold line falls, all the way"),),
    )


def _proof(job: Job) -> Step:
    return Step(
        "proof",
        "Prove that it flows",
        say("Full, vented, in full sun; cover off. Nobody opens the loop from here on."),
        say("Hand on the hot line under the tank, then on the cold line above the field: warm first, cool still."),
        say(
            "The hot line warms within the time; the field is not much hotter than the line. Else there is air: shade it, vent it."
        ),
        (
            *job.target("flow", "Flows by itself"),
            *job.target("siphon_rise", "Warmer by"),
            *job.target("arrival", "Warm after"),
        ),
        PROOF_S,
        say("Water that stood in the field may be steam: no joint is loosened in sun."),
        job.design.main_gauge_pa,
        acts=(act("run"),),
        fields=(
            Field("proof_s", "hot line warm after", "time", "0", f"{PROOF_S:g}", clock=True),
            Field("cold_cool", "cold line over the field still cool"),
        ),
    )


def _taps(job: Job) -> Step:
    main = job.design.main_gauge_pa
    return Step(
        "settings",
        "Taps, relief and heater",
        say("The tank warm."),
        say(
            "Tempering valve set with a thermometer at a tap. Lever of the relief lifted once. Heater and its time switch set by the card."
        ),
        say("No tap hotter than set; the relief shuts tight again; its pipe ends where it is seen and nobody stands."),
        (Target("Tap", Quantity(job.design.duty.tap_c.value, "temperature")),),
        None,
        say("Nothing limits this tank: above {t} it scalds.", t=Quantity(SCALD_C, "temperature")),
        main,
        acts=(act("rest"),),
        hand="thermometer",
        fields=(
            Field("tap_c", "hot tap", "temperature", high="plan_tap"),
            Field("relief_lifted", "relief lifted, and tight again"),
        ),
    )


def _night(job: Job) -> Step:
    return Step(
        "night",
        "Next morning",
        say("Before sunrise, nothing drawn since evening."),
        say("Hand on both lines and the field; the tank's thermometer read against the evening's."),
        say("Both lines cold, the tank still warm. A warm field before dawn runs backwards: the tank stands too low."),
        job.target("night_hold", "Held still by"),
        gauge=job.design.main_gauge_pa,
        acts=(act("rest"),),
        fields=(Field("lines_cold", "both lines cold before sunrise"),),
    )


def _weeks(job: Job) -> Step:
    main = job.design.main_gauge_pa
    return Step(
        "weeks",
        "After some weeks",
        say("In the diary today, for two to four weeks on."),
        say(
            "White crust at joints and relief, feet and bolts, the tempering valve read again. Frost in sight: drained by hand."
        ),
        say("No crust, nothing moved, the tap as it was set."),
        (Target("Cold main", Quantity(main, "pressure")),),
        gauge=main,
        acts=(act("rest"),),
        fields=(Field("weeks_crust", "no crust, nothing moved"),),
    )
