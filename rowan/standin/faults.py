"""Faults that can be put into the simulated loop, each from a moment on and of a size."""

from __future__ import annotations

import math
from dataclasses import dataclass

# by key: what somebody on site would say of it
FAULTS: dict[str, str] = {
    "stuck_pump": "the pump is told to run and does not turn",
    "air": "air at the top: the flow gurgles and fails",
    "swapped_sensors": "field and store sensor are swapped at the terminals",
    "open_sensor": "the field sensor's wire is broken",
    "leaking_check": "the non-return valve leaks: warm fluid rises at night",
    "lost_pressure": "the loop loses its pressure",
    "night_circulation": "the pump runs at night",
    "wrong_differences": "the differences were set back by a reset",
    "low_flow": "the flow is throttled: a third of what was planned",
    "hand_on": "left in hand mode: the pump runs day and night",
    "welded_relay": "the pump's relay has stuck: it runs although it is told to rest",
    "hand_off": "left switched off: the pump never runs",
    "field_offset": "the field sensor shows 10 K too little",
    "foot_offset": "the store sensor shows 8 K too much",
    "loose_field": "the field sensor is out of its pocket",
    "loose_foot": "the store sensor hangs in the room",
    "drifting_field": "the field sensor drifts, half a kelvin a day",
    "afternoon_shade": "something has grown in front of the field: no beam after noon",
    "dirty_glass": "the glass is dirty: a third of the light stays outside",
    "scaled_coil": "the coil is scaled: a quarter of its area works",
    "thick_mix": "the mix is far too strong: thick, and slow",
    "low_limit": "the store's limit is set at 62 °C",
    "backup_first": "the backup heats the whole store before sunrise",
    "clock_off": "the clock is an hour ahead",
    "open_bypass": "a bypass was left open: most of the flow goes past the coil",
    "slow_leak": "the loop leaks a little, day after day",
    "air_leaves": "air left after the filling comes out in the first days",
    "dead_vessel": "the vessel has lost its gas, or is full",
    "weeping_relief": "the relief valve weeps when it is hot",
    "frost_run": "the frost function runs the pump in mild nights",
    "cold_backup": "the backup never heats: hygiene is never reached",
    "open_dump": "the heat dump stands open all day",
    "weak_battery": "the battery cuts the pump off after some minutes",
    "falling_level": "the level of a loop that drains falls, five millimetres a day",
    "wet_jacket": "the store's jacket is wet: it loses three times as much",
}
NUMBER = {key: number for number, key in enumerate(FAULTS)}


class UnknownFaultError(ValueError):
    """No fault has that name, or its hour or size is none."""


@dataclass(frozen=True)
class Fault:
    """A fault by its key, the second of the run it begins at, and its size: 1 as its words say, 0 nothing."""

    key: str
    begins: float = 0.0
    size: float = 1.0


def fault_of(text: str) -> Fault:
    """A fault as typed: its key, `key@hours` after the start, `key@hours*size`. Raises UnknownFaultError."""
    named, _, size = text.partition("*")
    key, _, hours = named.partition("@")
    if key not in FAULTS:
        raise UnknownFaultError(f"there is no fault “{key}”; there are {', '.join(FAULTS)}")
    begins, share = _number(hours or "0", "hours") * 3600.0, _number(size or "1", "times")
    if not 0.0 <= begins < 1e9 or not 0.0 < share <= 10.0:
        raise UnknownFaultError(f"“{text}”: hours lie above 0, a size above 0 and up to 10")
    return Fault(key, begins, share)


def _number(text: str, what: str) -> float:
    try:
        found = float(text)
    except ValueError as error:
        raise UnknownFaultError(f"“{text}” is no number of {what}") from error
    return found if math.isfinite(found) else -1.0
