"""Functions that do not go together with this kind of system, with each other, or with the parts. Source: methods 7."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import ALWAYS, day_minutes
from rowan.core.fluid import boiling_point
from rowan.core.steps.charge.result import ChargeResult, DirectCharge, DrainbackCharge, states_of
from rowan.core.steps.control.differences import battery_hunts
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.source import methods

SUN_UP, MIDDAY, EARLY = 6 * 60, 12 * 60, 3 * 60  # by the clock at the equinox; a window from `EARLY` on is a morning's
MODEST_C = 50.0  # °C, an early window that leaves the store to the sun
UNDER_CUT_OUT_K = 10.0  # K between cooling and cut-out, methods 7
CLOCK_RIGHT_S = 600.0  # s a clock may be off before windows miss
NEAR_STORE_K = 15.0  # K over the store limit, within which cooling fights it
LEAST_TRUE_K = 0.0  # K of true difference left when sensors err, or the pump runs on for nothing
RESUME_OVER_V = 0.3  # V over what the battery sags
LONG_RING_H = 12.0  # h a day, beyond which a ring costs more than it saves
UNDER_BOILING_K = 10.0  # K a cut-out stays under boiling; defaults, cut-out
MOST_FLOOR = 0.9  # of full speed, over which a floor leaves nothing to follow


def _found(
    key: str,
    level: Level,
    part: str,
    title: str,
    reason: Statement,
    cures: tuple[Cure, ...] = (),
    amounts: tuple[Quantity | None, Quantity | None] = (None, None),
) -> Finding:
    return Finding(
        key=key,
        level=level,
        stage="control",
        part=part,
        title=say(title),
        reason=reason,
        quantity=amounts[0],
        limit=amounts[1],
        cures=cures,
        source=methods(7),
    )


def _cure(words: str, path: str, value: Any, **quantities: Quantity) -> Cure:
    return Cure(say(words, **quantities), (Change(path, value),))


def _frost(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Frost protection where the fluid does not freeze, and a second level that lies over the first."""
    held = design.functions
    if not design.control.frost.value:
        return
    if design.sealed:
        yield _found(
            "frost_on_glycol",
            "fix",
            "pump",
            "frost protection runs on a loop that cannot freeze",
            say(
                "The glycol protects this loop. The pump would carry the store's paid heat to the roof on every frosty night."
            ),
            (_cure("Turn it off", "control.frost", False),),
        )
    if design.drains:
        yield _found(
            "frost_on_drainback",
            "fix",
            "pump",
            "frost protection would fill an empty field in the frost",
            say(
                "A drainback field is safe because it is empty. Pumping at frost fills cold pipes that may freeze shut."
            ),
            (_cure("Turn it off", "control.frost", False),),
        )
    first, second = design.control.frost_c.value, held.second_frost_c.value
    if held.second_frost.value and second >= first:
        yield _found(
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
                _cure(
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
    off = _cure("Turn night cooling off", "functions.night", "off")
    if design.drains:
        yield _found(
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
        yield _found(
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
        yield _found(
            "night_always",
            "mind",
            "store",
            "paid heat goes out every night",
            say(
                "Whatever stands over {t} is given to the sky, also when the boiler made it. It is meant for the weeks nobody is there.",
                t=Quantity(held.night_c.value, "temperature"),
            ),
            (_cure("Only while nobody is there", "functions.night", "away"), off),
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
            yield _found(
                key,
                "fix",
                "sensor_field",
                f"{name} never begins",
                say(
                    "It waits for {a}, but at {c} the cut-out has stopped the pump. Cooling below cut-out, cut-out below what the parts stand.",
                    a=Quantity(value, "temperature"),
                    c=Quantity(cut_out, "temperature"),
                ),
                (_cure("Begin at {t}", path, below, t=Quantity(below, "temperature")),),
                (Quantity(value, "temperature"), Quantity(cut_out, "temperature")),
            )
    if held.cooling.value and design.drains:
        yield _found(
            "cooling_drainback",
            "fix",
            "pump",
            "a drainback field needs no cooling",
            say("It empties when the store is full. Pumping into a dry hot field makes steam."),
            (_cure("Turn it off", "functions.cooling", False),),
        )
    if held.cooling.value and not design.store.tempering_valve.value and design.taps:
        yield _found(
            "cooling_scalds",
            "stop",
            "sensor_high",
            "collector cooling heats the tap's water over its limit",
            say(
                "It fills the store up to {t}, whatever the store limit says, and no tempering valve protects the tap.",
                t=Quantity(held.cooling_store_c.value, "temperature"),
            ),
            (
                _cure("Fit a tempering valve", "store.tempering_valve", True),
                _cure("Turn cooling off", "functions.cooling", False),
            ),
        )


def _cut_out(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out that stops the pump before the store is full."""
    cut_out, limit = design.control.cut_out_c.value, design.store.maximum_c.value
    least = limit + design.control.start_k.value + NEAR_STORE_K
    if design.is_pool or cut_out >= least:
        return
    cures = (_cure("Cut out at {t}", "control.cut_out_c", least, t=Quantity(least, "temperature")),)
    most = _most_open(charge)
    if most is not None and least > most:
        # in an open loop the field may not come so near to boiling: the store has to stop earlier instead
        cooler = float(math.floor(most - design.control.start_k.value - NEAR_STORE_K))
        changes = (Change("store.maximum_c", cooler), Change("control.cut_out_c", most))
        words = say(
            "Limit the store to {s}, cut out at {t}", s=Quantity(cooler, "temperature"), t=Quantity(most, "temperature")
        )
        cures = (Cure(words, changes),)
    yield _found(
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
    yield _found(
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
        (_cure("Cut out at {t}", "control.cut_out_c", most, t=Quantity(most, "temperature")),),
        (Quantity(cut_out, "temperature"), Quantity(most, "temperature")),
    )


def _boils(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A cut-out over what the fluid boils at when hot: the pump would be sent into steam."""
    hot = states_of(charge).get("hot")
    boils = hot.boiling_on_top if hot else None
    if boils is None or not design.sealed or design.control.cut_out_c.value <= boils:
        return
    yield _found(
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
            _cure(
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
        else (_cure("Cut out at {t}", "control.cut_out_c", most, t=Quantity(most, "temperature")),)
    )
    yield _found(
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
    one = _cure("Run it at one speed", "functions.speed", "one")
    if held.speed.value == "chopped" and pump.kind != "induction":
        yield _found(
            "chopped_mains",
            "stop",
            "pump",
            "chopped mains destroy this pump's electronics",
            say("It has a motor with its own electronics. Give it steady mains and a signal, or run it at one speed."),
            (_cure("By a signal", "functions.speed", "signal"), one),
        )
    if held.speed.value == "signal" and pump.kind == "induction":
        yield _found(
            "no_signal",
            "fix",
            "pump",
            "this pump takes no signal",
            say("A plain motor knows only the mains it is given. Its speed can be chopped, or it runs at one speed."),
            (_cure("By chopped mains", "functions.speed", "chopped"), one),
        )
    least, _ = maker_window(design)
    slow = run.flow * held.speed_floor.value
    if held.follows and run.flow > 0 and slow < least:
        floor = min(round(least / run.flow + 0.005, 2), 1.0)
        yield _found(
            "slow_floor",
            "mind",
            "pump",
            "at its slowest the flow is below what the maker asks for",
            say(
                "{q}, asked for are {l}: some plates then get little, and the sensor learns late what the field has.",
                q=Quantity(slow, "flow"),
                l=Quantity(least, "flow"),
            ),
            (_cure("No slower than {s}", "functions.speed_floor", floor, s=Quantity(floor, "share")),)
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
        yield _found(
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


def _mornings(design: Design) -> list[tuple[int, int, float, str]]:
    """Spans of the morning in which the backup may heat: from, till [min], to what [°C], and the window's id or nothing."""
    if design.pumped and design.functions.windows:
        spans = [(*w.minutes, w.off_c, w.id) for w in design.functions.windows if w.fires]
    elif design.store.backup_hours.value.strip().lower() == ALWAYS:
        return []
    else:
        held = design.store.backup_c.value
        spans = [(a, b, held, "") for a, b in day_minutes(design.store.backup_hours.value)]
    return [span for span in spans if EARLY <= span[0] < MIDDAY]


def _backup(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hours of the backup: before the sun, empty, and by a clock that is wrong."""
    if design.store.backup.value not in ("coil", "element"):
        return
    yield from _time_switch(design, charge, run)
    yield from _unused(design)
    yield from _clock(design)


def _time_switch(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hours of the backup that leave the sun little to do."""
    early = [span for span in _mornings(design) if span[1] > SUN_UP or span[2] > MODEST_C]
    if early and design.store.backup.value in ("coil", "element"):
        yield _before_sun(design, early[0])


def _before_sun(design: Design, span: tuple[int, int, float, str]) -> Finding:
    start, _, heated, key = span
    cure = _cure("Heat from 16:00 to 22:00", "store.backup_hours", "16:00-22:00")
    if key:
        base, modest = f"functions.windows.{key}", min(heated, MODEST_C)
        window = next(w for w in design.functions.windows if w.id == key)
        changes = [
            Change(f"{base}.off_c", modest),
            Change(f"{base}.on_c", min(window.on_c, MODEST_C - 5.0)),
            Change(f"{base}.ends", "6:00" if start < SUN_UP else "20:00"),
        ]
        if start >= SUN_UP:
            changes.append(Change(f"{base}.starts", "16:00"))
        words = "End it at 6:00, at {t}" if start < SUN_UP else "Heat from 16:00 to 20:00, to {t}"
        cure = Cure(say(words, t=Quantity(modest, "temperature")), tuple(changes))
    return _found(
        "backup_before_sun",
        "mind",
        "backup",
        "the backup heats the store just before the sun comes",
        say(
            "A store at {t} in the morning leaves the sun little to do. End an early window before sunrise at a modest temperature; top up in the evening.",
            t=Quantity(heated, "temperature"),
        ),
        (cure,),
    )


def _unused(design: Design) -> Iterator[Finding]:
    """A window whose times or temperatures meet."""
    unused = [w for w in design.functions.windows if not w.fires]
    if not unused:
        return
    left = [w for w in design.functions.windows if w.fires]
    meet = unused[0].minutes[0] == unused[0].minutes[1]
    why = "ends when it begins." if meet else "stops below what it starts at."
    yield _found(
        "window_unused",
        "mind",
        "backup",
        "a window of the backup never fires",
        say(f"The one from {unused[0].starts} {why}" + ("" if left else " Nothing else heats.")),
        (_cure("Take it out", "functions.windows", left),),
    )


def _clock(design: Design) -> Iterator[Finding]:
    """A clock that is wrong where anything goes by it."""
    held = design.functions
    by_it = held.windows or design.store.backup_hours.value.strip().lower() != ALWAYS or held.ring.value
    ahead = held.clock_ahead_s.value
    if by_it and abs(ahead) > CLOCK_RIGHT_S:
        when = "early" if ahead > 0 else "late"
        yield _found(
            "clock_wrong",
            "fix",
            "backup",
            "the controller's clock is wrong",
            say(
                f"Every window falls {{d}} too {when}. Set it, and look again after power cuts and when the hour changes.",
                d=Quantity(abs(ahead), "minutes"),
            ),
            (_cure("Set the clock", "functions.clock_ahead_s", 0.0),),
        )


def _heat_through(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hygiene without heat."""
    if design.store.hygiene.value == "weekly" and design.store.backup.value not in ("coil", "element"):
        yield _found(
            "hygiene_powerless",
            "fix",
            "store",
            "nothing in this store can heat it through",
            say("Heating it through needs an element or a boiler's coil; here the heater stands after the store."),
            (_cure("By the backup", "store.hygiene", "backup"),),
        )


def _others(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hygiene without heat, a ring that runs all day, a battery whose cut-off hunts."""
    held = design.functions
    yield from _heat_through(design, charge, run)
    if held.ring.value:
        hours = sum(b - a for a, b in day_minutes(held.ring_hours.value)) / 60.0
        if hours > LONG_RING_H:
            yield _found(
                "ring_all_day",
                "mind",
                "store",
                "the ring main runs most of the day",
                say(
                    "{h} a day it stirs the store and loses heat. Run it when people draw.",
                    h=Quantity(hours * 3600.0, "hours"),
                ),
                (_cure("Mornings and evenings", "functions.ring_hours", "6:00-8:00, 18:00-21:00"),),
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
        yield _found(
            "battery_hunts",
            "fix",
            "pump",
            "the pump's own draw trips its cut-off",
            say(
                "Running it sags the battery by {s}; only {b} lie between cut-off and resume. It stops, recovers, starts and stops again.",
                s=Quantity(drop, "voltage", 2),
                b=Quantity(resume - cut, "voltage", 2),
            ),
            (_cure("Resume at {v}", "functions.resume_v", wanted, v=Quantity(wanted, "voltage")),),
            (Quantity(resume - cut, "voltage", 2), Quantity(drop, "voltage", 2)),
        )


def _timer(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A clock that knows no sun."""
    held = design.functions
    if not held.timer.value:
        return
    if held.timer_to_h.value <= held.timer_from_h.value:
        yield _found(
            "timer_never",
            "stop",
            "pump",
            "the timer never runs the pump",
            say("It is off before it is on."),
            (Cure(say("From 9 to 16 h"), (Change("functions.timer_from_h", 9), Change("functions.timer_to_h", 16))),),
        )
        return
    yield _found(
        "timer_blind",
        "fix",
        "pump",
        "a timer pumps on dull days too",
        say(
            "It knows no sun: on a dull day it carries the store's heat up to the roof, and no limit stops it. The year says what that costs."
        ),
        (_cure("By the difference", "functions.timer", False),),
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
    _timer,
    _sensors,
    _backup,
    _others,
)
UNPUMPED = (_time_switch, _heat_through)
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
