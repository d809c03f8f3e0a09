"""The one place that says whether a number lies within its limits, and how much of a hair it may be over them.

Sums of shares and converted units miss a limit by the last digits of a float: 0.55 + 0.05 is 0.6000000000000001. What is over by
no more than that is taken as the limit itself, everywhere.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from rowan.core.terms.constants import KELVIN
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.record import record

P = ParamSpec("P")
R = TypeVar("R")

SLACK = 1e-9  # of the limit, or of 1 where that is larger: far under anything measured, far over a float's last digit


def held(value: float, low: float | None, high: float | None) -> float | None:
    """The value, or the limit it misses by no more than the slack; None where it lies outside."""
    # compared, never subtracted: a whole number too large for a float is refused, not raised over
    if low is not None and value < low:
        return low if value >= low - SLACK * max(abs(low), 1.0) else None
    if high is not None and value > high:
        return high if value <= high + SLACK * max(abs(high), 1.0) else None
    return None if value != value else value


def within(
    name: str, value: float, low: float | None, high: float | None, unit: str = "", *, dimension: str = ""
) -> float:
    """The value within its limits, both included. Raises OutOfRangeError, which names it in its unit or the reader's."""
    found = held(value, low, high)
    if found is None:
        raise OutOfRangeError(name, value, low, high, unit, dimension=dimension)
    return found


@record
class Span:
    """What an argument of a formula may be; `above`: the low limit itself cannot be. Arrays are held by their ends."""

    low: float | None = None
    high: float | None = None
    above: bool = False

    def check(self, name: str, value: Any) -> None:
        """Raises OutOfRangeError for a number outside, and for one that is none; None passes, where nobody knows."""
        if value is None:
            return
        ends = (value,) if isinstance(value, int | float) else (value.min(), value.max())
        for end in ends:
            number = float(end)
            if held(number, self.low, self.high) is None or (self.above and number == self.low):
                words = name.replace("_", " ")
                raise OutOfRangeError(words, number, self.low, self.high, above=self.above)


POSITIVE, NOT_NEGATIVE = Span(0.0, above=True), Span(0.0)
SHARE = Span(0.0, 1.0)
ANY_ANGLE, TILT, LATITUDE = Span(-720.0, 720.0), Span(0.0, 90.0), Span(-90.0, 90.0)  # degrees
CELSIUS = Span(-KELVIN, above=True)  # °C over absolute zero
GLYCOL = Span(0.0, 0.6)  # volume share that the tables of mixtures hold
FINITE = Span(-1e300, 1e300)


def takes(**spans: Span) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """A formula whose keyword arguments lie within their spans: what cannot be is refused before anything is reckoned.

    The function itself then says nothing of them; its spans are kept as `takes` for the tests.
    """

    def refusing(formula: Callable[P, R]) -> Callable[P, R]:
        """The formula behind its checks."""

        # what lies well inside is seen by two comparisons: these formulas are asked some thousand times a reckoning
        ends = [
            (name, span, -math.inf if span.low is None else span.low, math.inf if span.high is None else span.high)
            for name, span in spans.items()
        ]

        @wraps(formula)
        def checked(*args: P.args, **given: P.kwargs) -> R:
            """The formula, once its arguments can be."""
            for name, span, low, high in ends:
                if name in given:
                    value = given[name]
                    if not (type(value) is float and low < value < high):
                        span.check(name, value)
            return formula(*args, **given)

        checked.takes = spans  # type: ignore[attr-defined]
        return checked

    return refusing
