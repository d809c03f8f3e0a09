"""The one place that says whether a number lies within its limits, and how much of a hair it may be over them.

Sums of shares and converted units miss a limit by the last digits of a float: 0.55 + 0.05 is 0.6000000000000001. What is over by
no more than that is taken as the limit itself, everywhere.
"""

from __future__ import annotations

from rowan.core.terms.errors import OutOfRangeError

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
