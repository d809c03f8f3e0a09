"""The yearly service: what was found before anything is turned, what each kind of loop wants looked at, how it is left, what comes next.

Source: practice 16; site, faults and tests.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from rowan.core.steps.charge.gauge import CHARGE_CLOSE_PA
from rowan.core.steps.commission.deviations import MARK_CLOSE_M, STOPPED_CLOSE_PA
from rowan.core.steps.commission.drainback import STEAMED_M
from rowan.core.steps.commission.order import Job, act
from rowan.core.steps.commission.result import Act, Field, Rule, Step
from rowan.core.steps.commission.valves import after
from rowan.core.steps.store.heat import SCALD_C
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Quantity, say

CLOCK_OFF_S = 600.0  # s by which a controller's clock may be off before its windows are wrong
ICE_K = 1.0  # K a sensor may be off in ice water
ANODE_LEFT = 1 / 3  # share of its thickness under which an anode is changed; rule of thumb of the trade
# steps of the commissioning that a service has as well, in this order
AGAIN = ("fluid", "stop", "night", "taps", "provoked", "settings", "close")


def service_steps(job: Job, steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """The steps of a service; `steps` are those of the commissioning, of which some come again as they are."""
    by_key = {step.key: step for step in steps}
    again = {key: by_key[key] for key in AGAIN if key in by_key}
    rest = by_key["close"].valves
    own: list[Callable[[Job], Step]] = [_found, _outside]
    if job.setting is not None:
        own += [_vessel, _relief]
    if job.design.drains:
        own.append(_level)
    water = [_anode] if job.design.taps and job.design.store.material.value == "lined" else []
    sensors = [_sensors] if job.design.pumped else []
    first = [_standing(write(job), rest) for write in own]
    last = [_standing(write(job), rest) for write in (*water, *sensors)]
    middle = [again[key] for key in ("fluid", "stop", "night", "taps") if key in again]
    end = [again[key] for key in ("provoked", "settings") if key in again]
    return (*first, *middle, *last, *end, _standing(_next(job), rest), again["close"])


def _standing(step: Step, rest: Mapping[str, str]) -> Step:
    """A step with its handles as they stand while the loop works."""
    state = dict(rest)
    for one in step.acts:
        state = after(state, one.moves)
    return replace(step, valves=state)


def _found(job: Job) -> Step:
    gauge: tuple[Field, ...] = ()
    if job.setting is not None:
        gauge = (
            Field("found_p", "gauge, as found", "pressure", expected="plan_fill", level=""),
            Field("found_c", "warmth at the gauge", "temperature", level=""),
        )
    elif job.design.drains:
        gauge = (Field("found_level", "level against its mark", "level", expected="0", level=""),)
    set_as = (
        tuple(
            Field(key, name, dimension, f"{plan} - 0.25", f"{plan} + 0.25", plan, needed=False, level="mind")
            for key, name, dimension, plan in (
                ("found_start", "start, as found", "difference", "plan_set_start"),
                ("found_stop", "stop, as found", "difference", "plan_set_stop"),
                ("found_limit", "store limit, as found", "temperature", "plan_set_limit"),
            )
        )
        if job.design.pumped
        else ()
    )
    shown = (
        (
            Field("found_clock", "its clock is off by", "minutes", high=f"{CLOCK_OFF_S:g}", expected="0", level="fix"),
            Field("found_message", "no message on its display, or noted here"),
        )
        if job.design.pumped
        else ()
    )
    return Step(
        "found",
        "As it is found",
        say("Nothing is turned, topped up or pressed before this is written: as found comes before as left."),
        say(
            "Gauge or level with its warmth, what the display says, counters and hours. Ask whoever lives there what they saw and heard."
        ),
        say("As it should be at this warmth, no message, the clock right: windows follow it."),
        job.target("fill", "Cold gauge"),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("rest"),),
        hand="thermometer, torch, camera",
        fields=(*gauge, *set_as, *shown, Field("found_asked", "whoever lives there was asked")),
        rules=FOUND if job.setting is not None else FOUND_LEVEL if job.design.drains else (),
    )


FOUND = (
    Rule(
        "found_low",
        "fix",
        f"found_p < plan_fill + plan_by_k * (found_c - 10) - {2 * STOPPED_CLOSE_PA:g}",
        "{r} where {e} would stand at {t}: something is missing. Look for where it went before anything is refilled.",
        {
            "r": ("found_p", "pressure"),
            "e": ("plan_fill + plan_by_k * (found_c - 10)", "pressure"),
            "t": ("found_c", "temperature"),
        },
    ),
    Rule(
        "found_high",
        "fix",
        f"found_p > plan_fill + plan_by_k * (found_c - 10) + {4 * STOPPED_CLOSE_PA:g}",
        "{r} where {e} would stand at {t}: topped up by somebody, or the vessel holds no gas.",
        {
            "r": ("found_p", "pressure"),
            "e": ("plan_fill + plan_by_k * (found_c - 10)", "pressure"),
            "t": ("found_c", "temperature"),
        },
    ),
)
FOUND_LEVEL = (
    Rule(
        "found_under",
        "fix",
        f"found_level < {-STEAMED_M:g}",
        "{l} against its mark: it has steamed off, leaked, or stayed behind in a sag. Which, before it is filled up.",
        {"l": ("found_level", "level")},
    ),
)


def _outside(_: Job) -> Step:
    return Step(
        "outside",
        "Outside, from where it is safe",
        say("From the ground with glasses, from the loft, from a ladder at most."),
        say(
            "Glass whole, clean, clear by noon; clamps and hooks at their marks, no tile cracked; boots and flashing dry from below; jackets whole, no bird at them; nothing new that throws a shade."
        ),
        say("Nothing has moved, nothing lets water in, pipes outdoors are covered to the last joint."),
        caution=say(
            "Nobody goes up for a look: work on the roof is a run of its own, with its gates. Glass and lines burn in sun."
        ),
        acts=(act("rest"),),
        hand="field glasses, torch",
        fields=(
            Field("glass_whole", "glass whole, clear by noon"),
            Field("fixings_stand", "fixings at their marks, no tile cracked"),
            Field("boots_dry", "boots and flashing dry from below"),
            Field("jacket_whole", "jackets whole and dry"),
            Field("shade_seen", "nothing new throws a shade"),
        ),
    )


def _vessel(job: Job) -> Step:
    return Step(
        "vessel_charge",
        "The vessel's charge",
        say("Loop cool. A touch on the pin at its valve first: gas is right, liquid is a burst membrane."),
        say(
            "Its valve shut, its liquid side drained into a can: only then does the gauge at the pin speak of gas alone. Corrected, opened, secured."
        ),
        say("At its charge again, its valve open and secured, the gauge of the loop back where it was."),
        job.target("precharge", "Gas side"),
        gauge=job.setting.fill if job.setting else None,
        acts=(act("dry", "vessel shut"),) if "vessel" in job.graph.valves else (act("rest"),),
        closing=(Act("rest", act("rest", "vessel open").moves),) if "vessel" in job.graph.valves else (),
        caution=say(
            "A vessel that stays shut off opens the relief on the first warm day: its valve is opened before anything else is done."
        ),
        hand="the one gauge, hand pump, can, valve key",
        fields=(
            Field("vessel_gas", "gas at the pin, no liquid", instead="vessel_burst"),
            Field("vessel_burst", "liquid at the pin", needed=False),
            Field(
                "vessel_was",
                "charge, as found",
                "pressure",
                f"plan_precharge - {CHARGE_CLOSE_PA:g}",
                f"plan_precharge + {CHARGE_CLOSE_PA:g}",
                "plan_precharge",
                level="mind",
            ),
            Field(
                "vessel_now",
                "charge, as left",
                "pressure",
                f"plan_precharge - {STOPPED_CLOSE_PA:g}",
                f"plan_precharge + {STOPPED_CLOSE_PA:g}",
                "plan_precharge",
            ),
            Field("vessel_open", "its valve open and secured"),
        ),
        rules=(
            Rule(
                "membrane",
                "fix",
                "vessel_burst > 0",
                "Its membrane is burst: a new vessel, before the next sun if that can be. Until then the field stays covered.",
                {},
            ),
        ),
    )


def _relief(_: Job) -> Step:
    return Step(
        "relief",
        "The relief and its can",
        say("Field cool, nobody before its outlet."),
        say("What stands in the can is measured and poured back into the cans of mix, never down a drain."),
        say("Nothing ran since the last visit, the pipe from the relief is free and ends in the can."),
        caution=say(
            "Its lever is lifted only where its maker says so, cool, with a can: dirt on its seat then drips for good."
        ),
        acts=(act("rest"),),
        hand="measuring cup",
        fields=(
            Field("can_l", "in the can", "volume", high="0.00005", expected="0", level=""),
            Field("relief_dry", "its outlet dry, its pipe free"),
        ),
        rules=(
            Rule(
                "ran",
                "mind",
                "can_l > 0.00005",
                "{v} ran out: it opened, or its seat weeps. The vessel's charge and the hottest gauge of the log say which.",
                {"v": ("can_l", "volume")},
            ),
        ),
    )


def _level(_: Job) -> Step:
    return Step(
        "level",
        "Level, lid and fall",
        say("Pump off for a quarter of an hour, cold: all of it has come back."),
        say("Level to the mark with clean water, no higher; lid sealed, its air way free; every leg seen: no new sag."),
        say("At its mark and dated, the lid tight, nothing hangs through."),
        acts=(act("rest"),),
        hand="clean water, pen, level",
        fields=(
            Field("level_now", "level, as left", "level", str(-MARK_CLOSE_M), str(MARK_CLOSE_M), "0"),
            Field("lid_tight", "lid sealed, its air way free"),
            Field("no_sag", "every leg falls, no new sag"),
        ),
    )


def _anode(_: Job) -> Step:
    return Step(
        "anode",
        "The anode",
        say("Cold water shut, a tap opened till nothing comes, the heater off and locked."),
        say("Drawn and measured across at its thinnest; or, where it has current, its light read."),
        say(
            "More than a third of it is left, its seat tight, the store full and bled before its heater is live again."
        ),
        caution=say(
            "Water above {t} scalds, and a store under pressure pushes the anode out.",
            t=Quantity(SCALD_C, "temperature"),
        ),
        acts=(act("rest"),),
        hand="key for the anode, tape for its thread, calliper",
        fields=(
            Field("anode_left", "of its thickness left", "share_fine", f"{ANODE_LEFT:.3f}", instead="anode_live"),
            Field("anode_live", "or it has current: its light is right", needed=False),
            Field("anode_tight", "tight, store full, heater live again"),
        ),
    )


def _sensors(_: Job) -> Step:
    low, high = str(-ICE_K), str(ICE_K)
    return Step(
        "sensors",
        "Sensors in ice water",
        say("Crushed ice and water, stirred. The pump switched off at the controller: a cold foot would start it."),
        say("A minute each, read at the display. The field's only where it can be reached from where it is safe."),
        say("Each within a kelvin of nothing; all pushed home again to the end of their pockets, with paste."),
        caution=caution("mains"),
        acts=(act("rest"),),
        hand="ice, cup, paste",
        fields=(
            Field("ice_foot", "store's foot in ice", "temperature_fine", low, high, "0"),
            Field("ice_top", "store's top in ice", "temperature_fine", low, high, "0", needed=False),
            Field("ice_field", "field in ice", "temperature_fine", low, high, "0", needed=False),
            Field("sensors_home", "all home again, pump back to automatic"),
        ),
    )


def _next(_: Job) -> Step:
    return Step(
        "next",
        "For the next visit",
        say("While it is still in mind."),
        say(
            "A note for each: what to bring, what to look at again, what was put off. They stand at the head of the next service."
        ),
        say("Whoever lives there was told what was found, what was done, and when somebody comes again."),
        acts=(act("rest"),),
        fields=(Field("next_told", "told what was found and done"),),
    )
