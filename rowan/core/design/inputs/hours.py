"""Hours of a day and days of a year as somebody types them."""

from __future__ import annotations

import re
from typing import Literal

from pydantic import field_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input
from rowan.core.terms.calendar import DAYS, MINUTES_A_DAY, MONTHS, SHORT_MONTHS
from rowan.core.terms.errors import TypedNumberError

MonthKey = Literal["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]
MONTH_CHOICES = tuple((name[:3].lower(), name) for name in MONTHS)
ALWAYS, NEVER = "always", "never"
# days of the year before each month
MONTH_STARTS = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334, 365)
_TIME = r"(\d{1,2})(?:[:.](\d{2}))?"
_SPAN = re.compile(rf"{_TIME}\s*[-\N{{EN DASH}}]\s*{_TIME}")
_AWAY = re.compile(r"(\d{1,2})\s*([a-z]{3})?[a-z]*\s*[-\N{EN DASH}]\s*(\d{1,2})\s*([a-z]{3})[a-z]*")


def _minute(hour: str, minute: str | None, text: str) -> int:
    found = int(hour) * 60 + int(minute or 0)
    if found > MINUTES_A_DAY or int(minute or 0) > 59:
        raise TypedNumberError("“{text}” is no time of day", text=text)
    return found


def clock_minute(text: str) -> int:
    """The minute of the day of a time such as 4:30 or 16; 24:00 is the end of the day. Raises TypedNumberError."""
    match = re.fullmatch(_TIME, text.strip())
    if match is None:
        raise TypedNumberError("“{text}” is no time of day: type 4:30", text=text.strip()[:30])
    return _minute(match[1], match[2], text.strip())


def day_minutes(text: str) -> list[tuple[int, int]]:
    """Spans of a day in minutes, (from, to): “always” or “4:30-6:30, 22-2”; one over midnight makes two.

    Raises TypedNumberError.
    """
    if text.strip().lower() == ALWAYS:
        return [(0, MINUTES_A_DAY)]
    found: list[tuple[int, int]] = []
    for part in text.split(","):
        match = _SPAN.fullmatch(part.strip())
        if match is None:
            raise TypedNumberError("“{part}” is no span of hours: type 4:30-6:30, or always", part=part.strip()[:30])
        start, end = _minute(match[1], match[2], part.strip()), _minute(match[3], match[4], part.strip())
        if start == end:
            raise TypedNumberError("“{part}” begins when it ends: it would never heat", part=part.strip())
        found += [(start, end)] if start < end else [(start, MINUTES_A_DAY), (0, end)]
    return [span for span in found if span[1] > span[0]]


MOST_DRAWS = 48  # a day: one each half hour
_DRAW = re.compile(rf"{_TIME}\s+(\d+(?:\.\d+)?)")


def day_draws(text: str) -> tuple[tuple[int, float], ...]:
    """Draws of a day as (minute, share) in order, shares of their sum: “6:30 2, 12:30 1, 19:00 3” gives a third, a sixth, a half.

    Raises TypedNumberError.
    """
    parts: dict[int, float] = {}
    for part in text.split(","):
        match = _DRAW.fullmatch(part.strip())
        if match is None:
            raise TypedNumberError(
                "“{part}” is no draw: type a time and its parts, such as 6:30 2", part=part.strip()[:30]
            )
        minute = _minute(match[1], match[2], part.strip()) % MINUTES_A_DAY
        parts[minute] = parts.get(minute, 0.0) + float(match[3])
    whole = sum(parts.values())
    if whole <= 0:
        raise TypedNumberError("nothing is drawn at these times: give at least one of them a part")
    if len(parts) > MOST_DRAWS:
        raise TypedNumberError(
            "{parts} draws a day are too many: at most {most_draws}", parts=f"{len(parts)}", most_draws=f"{MOST_DRAWS}"
        )
    return tuple((minute, share / whole) for minute, share in sorted(parts.items()) if share > 0)


def months_between(first: MonthKey, last: MonthKey) -> tuple[bool, ...]:
    """Which months lie from one to another, both included; they may go over the turn of the year."""
    start, end = (SHORT_MONTHS.index(month) for month in (first, last))
    return tuple((month - start) % 12 <= (end - start) % 12 for month in range(12))


def away_days(text: str) -> list[tuple[int, int]]:
    """Spans of a year in days from 0, (first, one after the last): “never” or “14-27 Jul, 24 Dec-2 Jan”.

    Raises TypedNumberError.
    """
    if text.strip().lower() == NEVER:
        return []
    found: list[tuple[int, int]] = []
    for part in text.split(","):
        match = _AWAY.fullmatch(part.strip().lower())
        if match is None:
            raise TypedNumberError("“{part}” is no span of days: type 14-27 Jul, or never", part=part.strip()[:30])
        start, end = _day(match[1], match[2] or match[4], part), _day(match[3], match[4], part) + 1
        found += [(start, end)] if start < end else [(start, DAYS), (0, end)]
    return found


def _day(day: str, month: str, text: str) -> int:
    if month not in SHORT_MONTHS:
        raise TypedNumberError("“{text}” names no month", text=text.strip())
    at = SHORT_MONTHS.index(month)
    length = MONTH_STARTS[at + 1] - MONTH_STARTS[at]
    if not 1 <= int(day) <= length:
        raise TypedNumberError(
            "“{text}”: {month} has {length} days", text=text.strip(), month=month.capitalize(), length=f"{length}"
        )
    return MONTH_STARTS[at] + int(day) - 1


class HoursText(Input[str]):
    """An input of hours of the day."""

    @field_validator("value")
    @classmethod
    def _is_hours(cls, value: str) -> str:
        try:
            day_minutes(value)
        except TypedNumberError as error:
            raise PydanticCustomError("hours", "{reason}", {"reason": str(error)}) from error
        return value


def press_minute(text: str) -> int | None:
    """The minute of the day at which something is pressed; None for “never”. Raises TypedNumberError."""
    return None if text.strip().lower() == NEVER else clock_minute(text)


class PressText(Input[str]):
    """An input of a time of day at which something is pressed, or “never”."""

    @field_validator("value")
    @classmethod
    def _is_time(cls, value: str) -> str:
        try:
            press_minute(value)
        except TypedNumberError as error:
            raise PydanticCustomError("hours", "{reason}", {"reason": str(error)}) from error
        return value


class DrawText(Input[str]):
    """An input of the draws of a day."""

    @field_validator("value")
    @classmethod
    def _is_draws(cls, value: str) -> str:
        try:
            day_draws(value)
        except TypedNumberError as error:
            raise PydanticCustomError("hours", "{reason}", {"reason": str(error)}) from error
        return value


class AwayText(Input[str]):
    """An input of days of the year."""

    @field_validator("value")
    @classmethod
    def _is_days(cls, value: str) -> str:
        try:
            away_days(value)
        except TypedNumberError as error:
            raise PydanticCustomError("days", "{reason}", {"reason": str(error)}) from error
        return value
