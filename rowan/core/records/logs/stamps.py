"""When the rows of a log were read: the order of day and month, one column or two, seconds since 1970, summer time, a clock that was reset.

A stamp says its form by itself more often than not: a number over 12 is a day; where none is, the order in which the days follow one
another decides; where that does not either, the guess is named as one.
"""

from __future__ import annotations

import re
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.sheet import Sheet
from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.record import record

Order = Literal["ymd", "dmy", "mdy", "s", "ms"]
DayOrder = Literal["dmy", "mdy"]
Seconds = NDArray[np.int64]
NONE = np.iinfo(np.int64).min  # a stamp that is none
WHOLE_DAY_S, HOUR_S = int(DAY_S), 3600  # whole, as stamps are
EARLIEST_YEAR = (
    2005  # a clock that shows less was reset: batteries go flat, and such clocks begin at 1970, 1999 or 2000
)
# s since 1970 of plausible stamps: 2001 to 2128, and the same in thousandths
LEAST_EPOCH, MOST_EPOCH = 1.0e9, 5.0e9
TIME = r"(?P<time>\d{1,2}[:h]\d{2}(?P<seconds>[:]\d{2})?(?P<part>[.,]\d+)?\s*(?P<half>[AaPp][Mm])?\s*(?P<zone>Z|[+-]\d{2}:?\d{2})?)"
YEAR_FIRST = re.compile(rf"^\d{{4}}(?P<mark>[-./])\d{{1,2}}[-./]\d{{1,2}}(?P<gap>[T ]+|$)(?:{TIME})?$")
YEAR_LAST = re.compile(
    rf"^\d{{1,2}}(?P<mark>[-./])\d{{1,2}}[-./](?P<year>\d{{4}}|\d{{2}})\.?(?P<gap>[T ]+|$)(?:{TIME})?$"
)
ONLY_TIME = re.compile(rf"^{TIME}$")
FIRST_TWO = re.compile(r"^(\d{1,2})[-./](\d{1,2})[-./](\d{2,4})")


@record
class StampForm:
    """Where a log's time stands and how it is written; why that is believed, and whether it is a guess that somebody should see."""

    columns: tuple[int, ...]
    order: Order
    pattern: str
    has_zone: bool
    why: str
    is_guess: bool = False


def stamp_form(sheet: Sheet, tables: Any, prefers: DayOrder = "dmy") -> StampForm:
    """How the stamps of a sheet are written; `tables` has all its cells as text, a column each. Raises LogError where there are none.

    `prefers`: the order that is taken where nothing in the file tells day from month.
    """
    row = sheet.first_rows[0] if sheet.first_rows else ()
    for at, cell in enumerate(row):
        for order, match in (("ymd", YEAR_FIRST.match(cell)), ("?", YEAR_LAST.match(cell))):
            if match:
                return _dated(sheet, tables, at, order, match, prefers)
    for at, cell in enumerate(row):
        if re.fullmatch(r"\d{10}(\d{3})?([.,]\d+)?", cell):
            number = float(cell.replace(",", "."))
            if LEAST_EPOCH <= number <= MOST_EPOCH:
                return StampForm((at,), "s", "", True, "seconds since 1970, by universal time")
            if LEAST_EPOCH <= number / 1000.0 <= MOST_EPOCH:
                return StampForm((at,), "ms", "", True, "thousandths of a second since 1970, by universal time")
    raise LogError(
        "no column holds a date: Rowan looks for day, month and year with a time beside them, or seconds since 1970"
    )


def _dated(sheet: Sheet, tables: Any, at: int, order: str, match: re.Match[str], prefers: str) -> StampForm:
    columns: tuple[int, ...] = (at,)
    clock, gap = match, match["gap"]
    if not match["time"]:
        beside = next((n for n, cell in enumerate(sheet.first_rows[0]) if n != at and ONLY_TIME.match(cell)), None)
        if beside is None:
            raise LogError("its dates have no time of the day beside them")
        columns, clock, gap = (at, beside), ONLY_TIME.match(sheet.first_rows[0][beside]) or match, " "
    why, is_guess = "the year stands first", False
    if order != "ymd":
        order, why, is_guess = _day_or_month(tables[at], prefers)
    mark, year = match["mark"], "%y" if order != "ymd" and len(match["year"]) == 2 else "%Y"
    date = {"ymd": f"%Y{mark}%m{mark}%d", "dmy": f"%d{mark}%m{mark}{year}", "mdy": f"%m{mark}%d{mark}{year}"}[order]
    hour = "%I" if clock["half"] else "%H"
    time = f"{hour}{'h' if 'h' in clock['time'] else ':'}%M" + (":%S" if clock["seconds"] else "")
    time += (".%f" if clock["part"] else "") + (" %p" if clock["half"] else "") + ("%z" if clock["zone"] else "")
    return StampForm(columns, order, f"{date}{gap}{time}", bool(clock["zone"]), why, is_guess)  # type: ignore[arg-type]


def _day_or_month(column: Any, prefers: str) -> tuple[str, str, bool]:
    """Which of two first numbers is the day: one over 12 is; else the order that lets days follow one another."""
    dates = list(
        dict.fromkeys(
            found.groups() for cell in column.str.slice(0, 10).unique() if (found := FIRST_TWO.match(str(cell)))
        )
    )
    pairs = [(int(a), int(b)) for a, b, _ in dates]
    if any(a > 12 for a, _ in pairs):
        return "dmy", "the first number goes over 12: the day stands first", False
    if any(b > 12 for _, b in pairs):
        return "mdy", "the second number goes over 12: the month stands first", False
    firsts, seconds = (len({pair[part] for pair in pairs}) for part in (0, 1))
    if firsts != seconds:
        return (
            ("dmy", "the first number changes day by day", False)
            if firsts > seconds
            else ("mdy", "the second number changes day by day", False)
        )
    words = "day" if prefers == "dmy" else "month"
    return prefers, f"nothing in it tells day from month; {words} first is assumed", True


def seconds_of(form: StampForm, tables: Any) -> Seconds:
    """Seconds since 1970 as the stamps read them, by universal time where they say their zone; NONE where there is no stamp."""
    import pandas as pd

    if form.order in ("s", "ms"):
        numbers = pd.to_numeric(tables[form.columns[0]].astype(str).str.replace(",", "."), errors="coerce").to_numpy(
            dtype=float
        )
        return _whole(numbers / (1.0 if form.order == "s" else 1000.0))
    text = tables[form.columns[0]].str.strip()
    if len(form.columns) == 2:
        text = text + " " + tables[form.columns[1]].str.strip()
    if "%f" in form.pattern:
        text = text.str.replace(",", ".")
    found = pd.to_datetime(text, format=form.pattern, errors="coerce", utc=form.has_zone)
    values = found.to_numpy(dtype="datetime64[s]").astype(np.int64)
    return np.where(found.isna().to_numpy(), NONE, values)


def _whole(numbers: NDArray[np.float64]) -> Seconds:
    good = np.isfinite(numbers)
    return np.where(good, np.where(good, numbers, 0.0).astype(np.int64), NONE)


def is_turned(seconds: Seconds) -> bool:
    """Whether the newest row of a file stands first: more steps go back than forward."""
    steps = np.diff(seconds)
    return bool((steps < 0).sum() > (steps > 0).sum())


def usual_step(seconds: Seconds) -> int:
    """The interval of a log [s]: the median of the steps forward; 60 where there are none."""
    steps = np.diff(seconds)
    forward = steps[steps > 0]
    return int(np.median(forward)) if len(forward) else 60


@record
class SummerTime:
    """Whether the clock of a log was put forward and back: which rows it was an hour ahead in, and what was seen of it."""

    ahead: NDArray[np.bool_]
    seen: str
    changes: int


def summer_time(local: Seconds) -> SummerTime:
    """A clock with summer time leaves out an hour of a Sunday night in spring and shows one twice in autumn. Rows in the order of
    the file, as their clock read them."""
    step = usual_step(local)
    jumps = np.diff(local) - step
    ahead = np.zeros(len(local), dtype=bool)
    slack = max(step // 2, 120)
    on_hour = (np.abs(np.abs(jumps) - HOUR_S) <= slack) & (step < HOUR_S)
    turns = [(int(at), jumps[at] > 0) for at in np.flatnonzero(on_hour) if _is_sunday_night(int(local[at]))]
    if not turns:
        return SummerTime(ahead, "no hour is left out or shown twice", 0)
    for number, (at, is_forward) in enumerate(turns):
        last = turns[number + 1][0] if number + 1 < len(turns) else len(local) - 1
        if is_forward:
            ahead[at + 1 : last + 1] = True
        elif number == 0:
            # it was put forward before the log begins
            ahead[: at + 1] = True
    words = "an hour is left out in spring" if turns[0][1] else "an hour is shown twice in autumn"
    return SummerTime(ahead, f"{words}: the clock keeps summer time", len(turns))


def _is_sunday_night(second: int) -> bool:
    """Whether a moment lies between Saturday 23:00 and Sunday 04:00; 1 January 1970 was a Thursday."""
    of_week = (second + 4 * WHOLE_DAY_S) % (7 * WHOLE_DAY_S)
    return of_week < 4 * HOUR_S or of_week >= 7 * WHOLE_DAY_S - HOUR_S
