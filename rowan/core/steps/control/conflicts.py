"""Functions that do not go together with this kind of system, with each other, or with the parts. Source: methods 7."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import day_minutes
from rowan.core.fluid import boiling_point
from rowan.core.steps.charge.result import ChargeResult, DirectCharge, DrainbackCharge, states_of
from rowan.core.steps.control.clocks import clock, time_switch, timer, unused
from rowan.core.steps.control.differences import battery_hunts
from rowan.core.steps.control.found import cure_of, found_here
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding

UNDER_CUT_OUT_K = 10.0  # K between cooling and cut-out, methods 7
NEAR_STORE_K = 15.0  # K over the store limit, within which cooling fights it
LEAST_TRUE_K = 0.0  # K of true difference left when sensors err, or the pump runs on for nothing
RESUME_OVER_V = 0.3  # V over what the battery sags
LONG_RING_H = 12.0  # h a day, beyond which a ring costs more than it saves
UNDER_BOILING_K = 10.0  # K a cut-out stays under boiling; defaults, cut-out
MOST_FLOOR = 0.9  # of full speed, over which a floor leaves nothing to follow


def _frost(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Frost protection where the fluid does not freeze, and a second level that lies over the first."""
    held = design.functions
    if not design.control.frost.value:
        return
    if design.sealed:
        yield found_here(
            "frost_on_glycol",
            "fix",
            "pump",
            "frost protection runs on a loop that cannot freeze",
            say(
                "The glycol protects this loop. The pump would carry the store's paid heat to the roof on every frosty night."
            ),
            (cure_of("Turn it off", "control.frost", False),),
        )
    if design.drains:
        yield found_here(
            "frost_on_drainback",
            "fix",
            "pump",
            "frost protection would fill an empty field in the frost",
            say(
                "A drainback field is safe because it is empty. Pumping at frost fills cold pipes that may freeze shut."
            ),
            (cure_of("Turn it off", "control.frost", False),),
        )
    first, second = design.control.frost_c.value, held.second_frost_c.value
    if held.second_frost.value and second >= first:
        yield found_here(
            "frost_levels",
            "fix",
            "sensor_field",
            "the second frost level lies over the first",
            say(
                "It begins at {b}, the first at {a}: the harder level would always be the one that runs.",
                a=Quantity(first, "temperature", 1),
                b=Quantity(second, "temperature", 1),
            ),
            (
                cure_of(
                    "Second level from {t}",
                    "functions.second_frost_c",
                    first - 2.0,
                    t=Quantity(first - 2.0, "temperature", 1),
                ),
            ),
        )


def _night(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Night cooling where the field is empty, where heat pipes carry nothing back, and on every night."""
    held = design.functions
    if not held.night_cools:
        return
    off = cure_of("Turn night cooling off", "functions.night", "off")
    if design.drains:
        yield found_here(
            "night_drainback",
            "fix",
            "pump",
            "night cooling would fill an empty field at night",
            say(
                "In the dark a drainback field may stand below freezing. Let it stay empty: a full store harms nothing here."
            ),
            (off,),
        )
    elif design.collector.item.value.kind == "tube":
        yield found_here(
            "night_tubes",
            "mind",
            "collector",
            "tubes give little back at night",
            say(
                "Their vacuum keeps the store's heat in, and heat pipes carry none backwards. The pump runs for next to nothing."
            ),
            (off,),
        )
    if held.night.value == "always":
        yield found_here(
            "night_always",
            "mind",
            "store",
            "paid heat goes out every night",
            say(
                "Whatever stands over {t} is given to the sky, also when the boiler made it. It is meant for the weeks nobody is there.",
                t=Quantity(held.night_c.value, "temperature"),
            ),
            (cure_of("Only while nobody is there", "functions.night", "away"), off),
        )


def _order(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Cooling and dump must begin below the cut-out; cooling must leave the tap safe; no cooling of what empties."""
    held, cut_out = design.functions, design.control.cut_out_c.value
    below = max(cut_out - UNDER_CUT_OUT_K, 70.0)
    for on, key, name, path, value in (
        (held.cooling.value, "cooling_late", "collector cooling", "functions.cooling_c", held.cooling_c.value),
        (held.dumps, "dump_late", "the heat dump", "functions.dump_c", held.dump_c.value),
    ):
        if on and value >= cut_out:
            yield found_here(
                key,
                "fix",
                "sensor_field",
                f"{name} never begins",
                say(
                    "It waits for {a}, but at {c} the cut-out has stopped the pump. Cooling below cut-out, cut-out below what the parts stand.",
                    a=Quantity(value, "temperature"),
                    c=Quantity(cut_out, "temperature"),
                ),
                (cure_of("Begin at {t}", path, below, t=Quantity(below, "temperature")),),
                (Quantity(value, "temperature"), Quantity(cut_out, "temperature")),
            )
    if held.cooling.value and design.drains:
        yield found_here(
            "cooling_drainback",
            "fix",
            "pump",
            "a drainback field needs no cooling",
            say("It empties when the store is full. Pumping into a dry hot field makes steam."),
            (cure_of("Turn it off", "functions.cooling", False),),
        )
    if held.cooling.value and not design.store.tempering_valve.value and design.taps:
        yield found_here(
            "cooling_scalds",
            "stop",
            "sensor_high",
            "collector cooling heats the tap's water over its limit",
            say(
                "It fills the store up to {t}, whatever the store limit says, and no tempering valve protects the tap.",
                t=Quantity(held.cooling_store_c.value, "temperature"),
            ),
            (
                cure_of("Fit a tempering valve", "store.tempering_valve", True),
                cure_of("Turn cooling off", "functions.cooling", False),
            ),
        )


def _cut_out(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out that stops the pump before the store is full."""
    cut_out, limit = design.control.cut_out_c.value, design.store.maximum_c.value
    least = limit + design.control.start_k.value + NEAR_STORE_K
    if design.own_store or cut_out >= least:
        return
    cures = (cure_of("Cut out at {t}", "control.cut_out_c", least, t=Quantity(least, "temperature")),)
    most = _most_open(charge)
    if most is not None and least > most:
        # in an open loop the field may not come so near to boiling: the store has to stop earlier instead
        cooler = float(math.floor(most - design.control.start_k.value - NEAR_STORE_K))
        changes = (Change("store.maximum_c", cooler), Change("control.cut_out_c", most))
        words = say(
            "Limit the store to {s}, cut out at {t}", s=Quantity(cooler, "temperature"), t=Quantity(most, "temperature")
        )
        cures = (Cure(words, changes),)
    yield found_here(
        "cut_out_early",
        "fix",
        "sensor_field",
        "the cut-out stops the pump before the store is full",
        say(
            "A field that heats the store to {s} works at up to {l}. Cut off at {c} it is left to stand and boil on fine days.",
            s=Quantity(limit, "temperature"),
            l=Quantity(least, "temperature"),
            c=Quantity(cut_out, "temperature"),
        ),
        cures,
        (Quantity(cut_out, "temperature"), Quantity(least, "temperature")),
    )


def _most_open(charge: ChargeResult) -> float | None:
    """The highest cut-out of a loop open to the air [°C], whole; None for a loop under pressure."""
    if not isinstance(charge, DrainbackCharge):
        return None
    return float(math.floor(charge.draining.lift.boils_c - UNDER_BOILING_K))


def _open_boils(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out that lets the pump send water into a field where, open to the air, it boils."""
    most, cut_out = _most_open(charge), design.control.cut_out_c.value
    if most is None or cut_out <= most or not isinstance(charge, DrainbackCharge):
        return
    yield found_here(
        "cut_out_open_boils",
        "fix",
        "sensor_field",
        "the cut-out lets an open loop boil",
        say(
            "Open to the air, water boils at {b} here. Up to {c} the pump sends it through the field: steam at the tank, and "
            "nobody beside it.",
            b=Quantity(charge.draining.lift.boils_c, "temperature"),
            c=Quantity(cut_out, "temperature"),
        ),
        (cure_of("Cut out at {t}", "control.cut_out_c", most, t=Quantity(most, "temperature")),),
        (Quantity(cut_out, "temperature"), Quantity(most, "temperature")),
    )


def _boils(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out over what the fluid boils at when hot: the pump would be sent into steam."""
    hot = states_of(charge).get("hot")
    boils = hot.boiling_on_top if hot else None
    if boils is None or not design.sealed or design.control.cut_out_c.value <= boils:
        return
    yield found_here(
        "cut_out_over_boiling",
        "mind",
        "sensor_field",
        "the fluid boils before the cut-out stops the pump",
        say(
            "At the gauge's hot reading it boils up there at {b}; the pump runs on until {c} and may drive steam down the hot line.",
            b=Quantity(boils, "temperature"),
            c=Quantity(design.control.cut_out_c.value, "temperature"),
        ),
        (
            cure_of(
                "Cut out at {t}",
                "control.cut_out_c",
                float(int(boils)),
                t=Quantity(float(int(boils)), "temperature"),
            ),
        ),
        (Quantity(design.control.cut_out_c.value, "temperature"), Quantity(boils, "temperature")),
    )


def _direct_boils(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out over what the main's own water boils at on top: a weak main lets it boil early."""
    if not isinstance(charge, DirectCharge) or not design.pumped or design.is_pool:
        return
    on_top = max(design.main_gauge_pa - charge.static, 0.0) + charge.atmosphere
    boils, cut_out = boiling_point(volume_share=0.0, pressure_abs=on_top), design.control.cut_out_c.value
    if cut_out <= boils:
        return
    most = float(math.floor(boils - UNDER_BOILING_K))
    low = locate(design, "control.cut_out_c").spec.low
    cures = (
        ()
        if low is not None and most < low
        else (cure_of("Cut out at {t}", "control.cut_out_c", most, t=Quantity(most, "temperature")),)
    )
    yield found_here(
        "cut_out_direct_boils",
        "fix",
        "sensor_field",
        "the main's water boils before the cut-out stops the pump",
        say(
            "On top {p} are left of the main: there water boils at {b}. Up to {c} the pump drives steam into the store.",
            p=Quantity(design.main_gauge_pa - charge.static, "pressure"),
            b=Quantity(boils, "temperature"),
            c=Quantity(cut_out, "temperature"),
        ),
        cures,
        (Quantity(cut_out, "temperature"), Quantity(boils, "temperature")),
    )


def following(design: Design, run: RunResult) -> tuple[Change, ...]:
    """A speed that follows the difference by what this pump takes, no slower than the maker's least flow.

    Empty where it follows already, or where the flow is too near that least for it to be of use.
    """
    least, _ = maker_window(design)
    floor = (
        max(design.functions.speed_floor.value, math.ceil(20 * least / run.flow - 1e-9) / 20) if run.flow > 0 else 1.0
    )
    # a pump that lifts water anew each time has to run fast enough for that
    if design.drains or design.functions.follows or floor > MOST_FLOOR:
        return ()
    way = "chopped" if design.run.pump.value.kind == "induction" else "signal"
    return (Change("functions.speed", way), Change("functions.speed_floor", floor))


def _speed(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A speed signal the pump cannot take, and a slowest speed below what the collectors ask for."""
    held, pump = design.functions, design.run.pump.value
    one = cure_of("Run it at one speed", "functions.speed", "one")
    if held.speed.value == "chopped" and pump.kind != "induction":
        yield found_here(
            "chopped_mains",
            "stop",
            "pump",
            "chopped mains destroy this pump's electronics",
            say("It has a motor with its own electronics. Give it steady mains and a signal, or run it at one speed."),
            (cure_of("By a signal", "functions.speed", "signal"), one),
        )
    if held.speed.value == "signal" and pump.kind == "induction":
        yield found_here(
            "no_signal",
            "fix",
            "pump",
            "this pump takes no signal",
            say("A plain motor knows only the mains it is given. Its speed can be chopped, or it runs at one speed."),
            (cure_of("By chopped mains", "functions.speed", "chopped"), one),
        )
    least, _ = maker_window(design)
    slow = run.flow * held.speed_floor.value
    if held.follows and run.flow > 0 and slow < least:
        floor = min(round(least / run.flow + 0.005, 2), 1.0)
        yield found_here(
            "slow_floor",
            "mind",
            "pump",
            "at its slowest the flow is below what the maker asks for",
            say(
                "{q}, asked for are {l}: some plates then get little, and the sensor learns late what the field has.",
                q=Quantity(slow, "flow"),
                l=Quantity(least, "flow"),
            ),
            (cure_of("No slower than {s}", "functions.speed_floor", floor, s=Quantity(floor, "share")),)
            if floor < 1
            else (one,),
            (Quantity(slow, "flow"), Quantity(least, "flow")),
        )


def _sensors(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Sensors that read so far apart that the pump runs on with nothing to gain."""
    held, stop = design.functions, design.control.stop_k.value
    true = stop - held.field_offset_k.value + held.store_offset_k.value
    if true <= LEAST_TRUE_K:
        wanted = stop - true + 2.0
        yield found_here(
            "never_stops",
            "fix",
            "sensor_field",
            "the pump does not stop under cloud",
            say(
                "With the sensors' error it stops only when the field is truly {t} from the store's foot: by then it has long cooled the store.",
                t=Quantity(true, "difference", 1),
            ),
            (
                Cure(
                    say("Swap the sensors for a matched pair"),
                    (Change("functions.field_offset_k", 0.0), Change("functions.store_offset_k", 0.0)),
                ),
                Cure(
                    say("Stop at {s}", s=Quantity(wanted, "difference")),
                    (
                        Change("control.stop_k", wanted),
                        Change("control.start_k", max(design.control.start_k.value, wanted + 5.0)),
                    ),
                ),
            ),
        )


def _backup(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hours of the backup: before the sun, empty, and by a clock that is wrong."""
    if design.store.backup.value not in ("coil", "element"):
        return
    yield from time_switch(design, charge, run)
    yield from unused(design)
    yield from clock(design)


def _heat_through(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hygiene without heat."""
    if design.store.hygiene.value == "weekly" and design.store.backup.value not in ("coil", "element"):
        yield found_here(
            "hygiene_powerless",
            "fix",
            "store",
            "nothing in this store can heat it through",
            say("Heating it through needs an element or a boiler's coil; here the heater stands after the store."),
            (cure_of("By the backup", "store.hygiene", "backup"),),
        )


def _others(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hygiene without heat, a ring that runs all day, a battery whose cut-off hunts."""
    held = design.functions
    yield from _heat_through(design, charge, run)
    if held.ring.value:
        hours = sum(b - a for a, b in day_minutes(held.ring_hours.value)) / 60.0
        if hours > LONG_RING_H:
            yield found_here(
                "ring_all_day",
                "mind",
                "store",
                "the ring main runs most of the day",
                say(
                    "{h} a day it stirs the store and loses heat. Run it when people draw.",
                    h=Quantity(hours * 3600.0, "hours"),
                ),
                (cure_of("Mornings and evenings", "functions.ring_hours", "6:00-8:00, 18:00-21:00"),),
            )
    if held.battery.value:
        yield from _battery(design, run)


def sag(design: Design, run: RunResult) -> float:
    """How far the pump's current makes the battery's voltage sag [V]."""
    return run.pump_power / design.supply_volts * design.functions.wire_ohm.value


def _battery(design: Design, run: RunResult) -> Iterator[Finding]:
    """A pump's own sag must not bring its cut-off; what is cut off must come back."""
    held = design.functions
    current = run.pump_power / design.supply_volts
    cut, resume, drop = held.cut_v.value, held.resume_v.value, sag(design, run)
    if battery_hunts(current=current, resistance=held.wire_ohm.value, cut=cut, resume=resume):
        wanted = round(cut + drop + RESUME_OVER_V, 1)
        yield found_here(
            "battery_hunts",
            "fix",
            "pump",
            "the pump's own draw trips its cut-off",
            say(
                "Running it sags the battery by {s}; only {b} lie between cut-off and resume. It stops, recovers, starts and stops again.",
                s=Quantity(drop, "voltage", 2),
                b=Quantity(resume - cut, "voltage", 2),
            ),
            (cure_of("Resume at {v}", "functions.resume_v", wanted, v=Quantity(wanted, "voltage")),),
            (Quantity(resume - cut, "voltage", 2), Quantity(drop, "voltage", 2)),
        )


RULES: tuple[Callable[[Design, ChargeResult, RunResult], Iterator[Finding]], ...] = (
    _frost,
    _night,
    _order,
    _cut_out,
    _boils,
    _open_boils,
    _direct_boils,
    _speed,
    timer,
    _sensors,
    _backup,
    _others,
)
UNPUMPED = (time_switch, _heat_through)
# what the page of functions shows of the bench's findings
KEYS = (
    "frost_on_glycol", "frost_on_drainback", "frost_levels", "night_drainback", "night_tubes", "night_always",
    "cooling_late", "dump_late", "cooling_drainback", "cooling_scalds", "cut_out_early", "cut_out_over_boiling", "cut_out_open_boils",
    "cut_out_direct_boils",
    "chopped_mains", "no_signal", "slow_floor", "never_stops", "timer_never", "timer_blind", "backup_before_sun", "window_unused", "clock_wrong",
    "hygiene_powerless", "ring_all_day", "battery_hunts",
)  # fmt: skip


def conflicts(design: Design, charge: ChargeResult, run: RunResult) -> list[Finding]:
    """Everything that does not go together, in the order of the functions; without a pump what concerns the backup alone."""
    rules = RULES if design.pumped else UNPUMPED
    return [finding for rule in rules for finding in rule(design, charge, run)]
