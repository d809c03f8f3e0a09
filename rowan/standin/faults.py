"""Faults that can be put into the simulated loop, each from a moment on."""

from __future__ import annotations

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
}


class UnknownFaultError(ValueError):
    """No fault has that name, or its hour is none."""


@dataclass(frozen=True)
class Fault:
    """A fault by its key, and the second of the run it begins at."""

    key: str
    begins: float = 0.0


def fault_of(text: str) -> Fault:
    """A fault as typed: its key, or `key@hours` after the start. Raises UnknownFaultError."""
    key, _, hours = text.partition("@")
    if key not in FAULTS:
        raise UnknownFaultError(f"there is no fault “{key}”; there are {', '.join(FAULTS)}")
    try:
        begins = float(hours or 0.0) * 3600.0
    except ValueError as error:
        raise UnknownFaultError(f"“{hours}” is no number of hours") from error
    if not 0.0 <= begins < 1e9:
        raise UnknownFaultError(f"“{hours}” is no number of hours")
    return Fault(key, begins)
