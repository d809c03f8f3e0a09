"""Days as they are said: the names of months and weekdays are words, and their order in a date is the language's."""

from __future__ import annotations

from datetime import date, timedelta

from rowan.core.terms.calendar import DAYS, MONTHS
from rowan.core.terms.figure import Statement, say
from rowan.core.terms.language import tr

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

NO_LEAP_YEAR = date(2026, 1, 1)


def month_said(at: date, *, short: bool = False) -> str:
    """The month of a day as a message; its first three letters where it is `short`."""
    return MONTHS[at.month - 1][:3] if short else MONTHS[at.month - 1]


def weekday_said(at: date) -> str:
    """The day of the week as a message."""
    return WEEKDAYS[at.weekday()]


def weekday_short(at: date) -> str:
    """The day of the week in some letters, in the language that is spoken. One message: “Sun” alone is a star too."""
    return tr("Mon Tue Wed Thu Fri Sat Sun").split()[at.weekday()]


def day_said(at: date, *, year: bool = False, short: bool = False) -> Statement:
    """A day: 14 May; with its `year`, or with the month `short`: 14 Dec 2026."""
    day, month = f"{at.day}", month_said(at, short=short)
    if year:
        return say("{day} {month} {year}", day=day, month=month, year=f"{at.year}")
    return say("{day} {month}", day=day, month=month)


def day_of_year_said(day: int) -> Statement:
    """A day of the year from 0: 0 is 1 January; from 365 on it begins anew."""
    return day_said(NO_LEAP_YEAR + timedelta(days=day % DAYS))
