"""The error family of the core.

RowanError
├── OutOfRangeError        a number outside what the rule can take
├── ImpossibleInputError   numbers that contradict each other
├── NoOperatingPointError  pump and loop curves do not cross
├── TypedNumberError       text that is no number, or one that can be read in two ways
└── JobFileError           a job file that cannot be taken, with the field it fails at
"""

from __future__ import annotations


class RowanError(Exception):
    """Anything the core refuses; its text is meant for the person who typed the input."""


class OutOfRangeError(RowanError):
    """A number lies outside what a rule can take."""

    def __init__(self, name: str, value: float, low: float | None, high: float | None, unit: str = "") -> None:
        self.name, self.value, self.low, self.high, self.unit = name, value, low, high, unit
        of = f" {unit}" if unit else ""
        if low is not None and high is not None:
            allowed = f"must lie between {low:g} and {high:g}{of}"
        elif low is not None:
            allowed = f"must be at least {low:g}{of}"
        else:
            allowed = f"must be at most {high:g}{of}"
        super().__init__(f"{name} {allowed}, not {value:g}{of}")


class ImpossibleInputError(RowanError):
    """Inputs that are each possible but not together."""


class NoOperatingPointError(RowanError):
    """Pump and loop do not meet; `shortfall_pa` says by how much at zero flow, in Pa."""

    def __init__(self, shortfall_pa: float) -> None:
        self.shortfall_pa = shortfall_pa
        super().__init__(
            f"no crossing: the pump cannot overcome the loop at zero flow, it lacks {shortfall_pa / 1000:.1f} kPa"
        )


class TypedNumberError(RowanError):
    """Typed text that is not a number in a known unit; `readings` offers what it may mean."""

    def __init__(self, message: str, readings: tuple[str, ...] = ()) -> None:
        self.readings = readings
        super().__init__(message)


class JobFileError(RowanError):
    """A job file that cannot be taken; `field` is the path of the first value at fault."""

    def __init__(self, field: str, message: str) -> None:
        self.field = field
        super().__init__(f"{field}: {message}" if field else message)
