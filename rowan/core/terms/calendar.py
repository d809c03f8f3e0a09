"""The year as Rowan counts it: 365 days from 1 January, whole hours, no leap day. A day of the year is a number from 0."""

from __future__ import annotations

# of a year that is no leap year: every year that is run
DAYS_IN_MONTH = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")  # fmt: skip
SHORT_MONTHS = tuple(name[:3].lower() for name in MONTHS)  # as they are typed
DAYS = 365
HOURS = 24 * DAYS
MINUTES_A_DAY = 1440
DAY_S = 86400.0
