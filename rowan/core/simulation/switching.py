"""A plan's functions as the compiled loop takes them, and the minutes and days on which heaters, rings and cooling may."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.inputs.functions import FunctionInputs
from rowan.core.design.inputs.hours import away_days, press_minute
from rowan.core.simulation.controller import Functions, functions
from rowan.core.simulation.draws import hour_shares
from rowan.core.simulation.system import NEVER_C, Tank
from rowan.core.terms.calendar import DAYS, MINUTES_A_DAY

Array = NDArray[np.float64]
REST_V, FULL_V = 11.4 / 12.0, 12.8 / 12.0  # of a lead battery's nominal voltage, empty and full
# K below its setting at which a thermostat calls again; usual for a tank's own
BACKUP_LATCH_K = 5.0
RING_BACK = 0.6  # a ring comes back above the cold main's port: this share of the store lies over it


def away(design: Design) -> Array:
    """1 on days nobody is there, shape (365,)."""
    found = np.zeros(DAYS)
    for start, end in away_days(design.duty.away.value):
        found[start:end] = 1.0
    return found


def by_the_clock(minutes: Array, design: Design) -> Array:
    """Minutes of the controller's day as they fall in the real one: its clock may be ahead."""
    return np.roll(minutes, -round(design.functions.clock_ahead_s.value / 60.0))


def heating_minutes(design: Design, usual: float) -> tuple[Array, Array]:
    """What the backup starts below and stops at in each minute of a day [°C], NEVER_C where it may not; shapes (1440,)."""
    windows = [window for window in design.functions.windows if window.fires]
    if not design.functions.windows:
        stop = np.where(hour_shares(design.store.backup_hours.value) > 0, usual, NEVER_C)
        start = np.where(stop > NEVER_C, stop - BACKUP_LATCH_K, NEVER_C)
        return _boosted(design, by_the_clock(start, design), by_the_clock(stop, design), usual)
    start, stop = np.full(MINUTES_A_DAY, NEVER_C), np.full(MINUTES_A_DAY, NEVER_C)
    for window in windows:
        first, last = window.minutes
        span = np.arange(first, last if last > first else last + MINUTES_A_DAY) % MINUTES_A_DAY
        # where windows overlap the warmer one counts
        warmer = span[stop[span] < window.off_c]
        start[warmer], stop[warmer] = window.on_c, window.off_c
    return _boosted(design, by_the_clock(start, design), by_the_clock(stop, design), usual)


def _boosted(design: Design, start: Array, stop: Array, usual: float) -> tuple[Array, Array]:
    """A boost on top: pressed by somebody with a watch, it heats to the usual temperature, then ends by itself."""
    pressed = press_minute(design.functions.boost_at.value)
    if pressed is None:
        return start, stop
    span = np.arange(pressed, pressed + round(design.functions.boost_s.value / 60.0)) % MINUTES_A_DAY
    start[span], stop[span] = np.maximum(start[span], usual - BACKUP_LATCH_K), np.maximum(stop[span], usual)
    return start, stop


def heating_days(design: Design) -> Array | None:
    """The days on which the backup may heat, 1 or 0, shape (365,); None where it may on all."""
    gone = away(design)
    return 1.0 - gone if design.functions.holiday.value and gone.any() else None


def cooling_days(design: Design) -> Array | None:
    """The days with night cooling, 1 or 0, shape (365,); None where there is none."""
    kind = design.functions.night.value
    return None if kind == "off" else np.ones(DAYS) if kind == "always" else away(design)


def ring_times(design: Design) -> Array | None:
    """The minutes in which the ring main may run, 1 or 0, shape (1440,); None without one."""
    if not design.functions.ring.value:
        return None
    return by_the_clock(hour_shares(design.functions.ring_hours.value), design)


def more_of(design: Design, tank: Tank) -> Functions | None:
    """What a plan's controller does beside the two differences; None where nothing is on."""
    held = design.functions
    those = _sensors(held) | _pump(held, design) | _heat(held) | _frost(held, design) | _water(held, design, tank)
    return functions(**those) if those else None


def _sensors(held: FunctionInputs) -> dict[str, Any]:
    """Sensors that do not read what is true."""
    found = {
        "field_offset": held.field_offset_k.value,
        "store_offset": held.store_offset_k.value,
        "field_lag": held.field_lag_s.value,
        "store_lag": held.store_lag_s.value,
        "field_strap": held.strapped_share.value,
    }
    return {name: value for name, value in found.items() if value}


def speed_rule(held: FunctionInputs) -> tuple[float, float]:
    """The speed at the start difference [-], and what each kelvin over it adds [1/K]; full and none where it does not follow."""
    if not held.follows or held.speed_floor.value >= 1.0:
        return 1.0, 0.0
    floor = held.speed_floor.value
    return floor, (1.0 - floor) / held.speed_full_k.value


def _pump(held: FunctionInputs, design: Design) -> dict[str, Any]:
    """Speed, least run, exercise, battery."""
    found: dict[str, Any] = {}
    floor, slope = speed_rule(held)
    if floor < 1.0:
        found |= {"floor": floor, "slope": slope}
    if held.least_run_s.value:
        found["least_run"] = held.least_run_s.value
    if held.timer.value:
        ahead = round(held.clock_ahead_s.value / 60.0)
        begins, ends = held.timer_from_h.value * 60 - ahead, held.timer_to_h.value * 60 - ahead
        found |= {"timer_from": max(begins, 0), "timer_to": min(max(ends, 1), MINUTES_A_DAY)}
    if held.exercise_s.value:
        found["exercise"] = held.exercise_s.value
    if held.battery.value:
        volts = design.supply_volts
        found |= {
            "battery_wh": held.battery_wh.value,
            "panel_w": design.run.panel_w.value,
            "pump_v": volts,
            "resistance": held.wire_ohm.value,
            "empty_v": REST_V * volts,
            "full_v": FULL_V * volts,
            "cut_v": held.cut_v.value,
            "resume_v": held.resume_v.value,
        }
    return found


def _heat(held: FunctionInputs) -> dict[str, Any]:
    """What is done with too much heat."""
    found: dict[str, Any] = {}
    if held.cooling.value:
        found |= {"cooling": held.cooling_c.value, "cooling_store": held.cooling_store_c.value}
    if held.night_cools:
        found["night_c"] = held.night_c.value
    if held.dumps:
        found |= {"dump": held.dump_c.value, "dump_w_k": held.dump_w_k.value}
    return found


def _frost(held: FunctionInputs, design: Design) -> dict[str, Any]:
    """Pauses of frost protection, and its second level; nothing where it is off."""
    if not design.control.frost.value:
        return {}
    found: dict[str, Any] = {}
    if held.frost_run_s.value and held.frost_pause_s.value:
        found |= {"frost_run": held.frost_run_s.value, "frost_pause": held.frost_pause_s.value}
    if held.second_frost.value:
        found |= {
            "hard_frost": held.second_frost_c.value,
            "hard_run": held.second_run_s.value,
            "hard_pause": held.second_pause_s.value,
        }
    return found


def _water(held: FunctionInputs, design: Design, tank: Tank) -> dict[str, Any]:
    """Hygiene by heating through, and the ring main."""
    found: dict[str, Any] = {}
    if design.store.hygiene.value == "weekly" and design.store.backup.value in ("coil", "element"):
        minute = held.hygiene_hour.value * 60 - round(held.clock_ahead_s.value / 60.0)
        found |= {
            "hygiene_c": held.hygiene_c.value,
            "hygiene_minute": minute % MINUTES_A_DAY,
            "hygiene_days": held.hygiene_days.value,
        }
    if held.ring.value and not design.own_store:
        found |= {
            "ring_flow": held.ring_flow_l_h.value * 1e-3 / 3600.0,
            "ring_w_k": held.ring_loss_w_k.value,
            "ring_return": held.ring_return_c.value,
            "ring_node": min(int(RING_BACK * tank.nodes), tank.nodes - 1),
        }
    return found
