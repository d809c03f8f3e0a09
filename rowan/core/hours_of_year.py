"""Names of the days of a year without a leap day."""

from __future__ import annotations

from rowan.core.design.stages import MONTHS
from rowan.core.site.sun import DAYS_IN_MONTH

DAYS = 365


def day_name(day: int) -> str:
    """A day of the year from 0 as it is spoken: 0 is 1 January."""
    left = day % DAYS
    for month, length in zip(MONTHS, DAYS_IN_MONTH, strict=True):
        if left < length:
            return f"{left + 1} {month}"
        left -= length
    raise AssertionError("a year has 365 days")  # unreachable: the lengths add up to 365
