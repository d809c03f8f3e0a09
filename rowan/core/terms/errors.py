"""The error family of the core.

RowanError
├── OutOfRangeError        a number outside what the rule can take
├── ImpossibleInputError   numbers that contradict each other
├── NoOperatingPointError  pump and loop curves do not cross
├── TypedNumberError       text that is no number, or one that can be read in two ways
├── ReadingError           a reading of a device that cannot be taken
└── JobFileError           a job file that cannot be taken, with the field it fails at
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Literal

from rowan.core.terms.language import Typed, tr

QUOTED = re.compile(r"“\{(\w+)\}")
System = Literal["metric", "us"]


class _Printer:
    """How quantities in messages are printed: `units` stands above this module and says so when it is loaded."""

    @staticmethod
    def shown(value: float, dimension: str, system: System) -> str:
        """The number alone, until the units are loaded."""
        return f"{value:g}"


def print_quantities_with(shown: Callable[[float, str, System], str]) -> None:
    """Give messages the printer of SI values: (value, dimension, system) to text."""
    _Printer.shown = staticmethod(shown)  # type: ignore[assignment]


class RowanError(Exception):
    """Anything the core refuses, worded for the person who typed the input.

    The text may hold quantities as {names}; each is (SI value, dimension) and is printed in either system of units, or is a word. A word
    in quotation marks is what was typed, and said as it was.
    """

    def __init__(self, template: str, **quantities: tuple[float, str] | str) -> None:
        typed = QUOTED.findall(template)
        self.template = template
        self.quantities = {
            name: Typed(found) if name in typed and isinstance(found, str) else found
            for name, found in quantities.items()
        }
        super().__init__(template)

    def text(self, system: System = "metric") -> str:
        """The message with its quantities in the system's units."""

        def put(match: re.Match[str]) -> str:
            """A quantity in the reader's units."""
            found = self.quantities.get(match.group(1))
            if found is None:
                return match.group(0)
            if isinstance(found, str):
                return found if isinstance(found, Typed) else tr(found)
            return _Printer.shown(found[0], found[1], system)

        return re.sub(r"\{(\w+)\}", put, tr(self.template))

    def __str__(self) -> str:
        return self.text()

    def __reduce__(self) -> tuple[object, ...]:
        """Carried to another process as it is: what it was made with may differ from its arguments."""
        return _again, (type(self), self.args), self.__dict__


def _again(kind: type[RowanError], arguments: tuple[object, ...]) -> RowanError:
    made = kind.__new__(kind)
    made.args = arguments
    return made


class OutOfRangeError(RowanError):
    """A number lies outside what a rule can take; with a dimension, the message speaks the reader's units.

    `above`: the low limit itself cannot be.
    """

    def __init__(
        self,
        name: str,
        value: float,
        low: float | None,
        high: float | None,
        unit: str = "",
        *,
        dimension: str = "",
        above: bool = False,
    ) -> None:
        self.name, self.value, self.low, self.high, self.unit = name, value, low, high, unit
        told = {"low": low, "high": high, "value": value}
        both = low is not None and high is not None
        quantities: dict[str, tuple[float, str] | str] = {"name": name}
        for key, number in told.items():
            if number is not None:
                # the unit stands once, after the last of two limits
                bare = dimension or not unit or (both and key == "low")
                quantities[key] = (number, dimension) if dimension else f"{number:g}" if bare else f"{number:g} {unit}"
        if both:
            template = "{name} must lie between {low} and {high}, not {value}"
        elif low is not None:
            template = (
                "{name} must be above {low}, not {value}" if above else "{name} must be at least {low}, not {value}"
            )
        else:
            template = "{name} must be at most {high}, not {value}"
        super().__init__(template, **quantities)


class ImpossibleInputError(RowanError):
    """Inputs that are each possible but not together."""


class NoOperatingPointError(RowanError):
    """Pump and loop do not meet; `shortfall_pa` says by how much at zero flow, in Pa."""

    def __init__(self, shortfall_pa: float) -> None:
        self.shortfall_pa = shortfall_pa
        super().__init__(
            "no crossing: the pump cannot overcome the loop at zero flow, it lacks {short} of head",
            short=(shortfall_pa, "head"),
        )


class TypedNumberError(RowanError):
    """Typed text that is not a number in a known unit; `readings` offers what it may mean."""

    def __init__(self, template: str, readings: tuple[str, ...] = (), **quantities: tuple[float, str] | str) -> None:
        self.readings = readings
        super().__init__(template, **quantities)


class JobFileError(RowanError):
    """A job file that cannot be taken; `field` is the path of the first value at fault."""

    def __init__(self, field: str, message: str, **quantities: tuple[float, str] | str) -> None:
        self.field = field
        self.reason = message
        super().__init__(f"{field}: {message}" if field else message, **quantities)


class ReadingError(RowanError):
    """A reading of a device that cannot be taken; the text says which key and why."""
