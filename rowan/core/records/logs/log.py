"""A logger's file taken in: columns of SI numbers by universal time, in order, each moment once, with a list of what was repaired.

What cannot be is left out and counted, never bent: a reset clock's rows, a sensor's number for a broken wire, a value that stood
still while the rest moved. What is only written otherwise is turned: units, order, summer time.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.channels import BY_KEY, Guess, Numbers, guesses, in_si
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.sheet import LEAST_ROWS, NUMBER, Sheet, sheet_of
from rowan.core.records.logs.stamps import (
    EARLIEST_YEAR,
    HOUR_S,
    NONE,
    WHOLE_DAY_S,
    DayOrder,
    Seconds,
    StampForm,
    is_turned,
    seconds_of,
    stamp_form,
    summer_time,
    usual_step,
)
from rowan.core.records.readings import LIMITS, SUN_ZERO_W_M2, Reading
from rowan.core.terms.record import record

NOTHING = ("", "-", "--", "---", "n/a", "na", "nan", "null", "none", "err", "error", "open", "short", "#n/v", "#n/a")
WORDS = {
    "on": 1.0,
    "off": 0.0,
    "ein": 1.0,
    "aus": 0.0,
    "marche": 1.0,
    "arrêt": 0.0,
    "true": 1.0,
    "false": 0.0,
    "yes": 1.0,
    "no": 0.0,
}
GAP_STEPS = 5  # intervals without a row that count as a gap
# s that a temperature may stand still while another moves: a cellar's store does for a night
STUCK_S = 26 * HOUR_S
# K, the finest step of a column up to which standing still says something: in whole degrees a pool stands for days
FINE_K = 0.25
MOVED_K = 15.0  # K that the others have moved meanwhile
LATEST_AHEAD_S = 2 * WHOLE_DAY_S  # s of a clock ahead of now that a wrong zone explains
Clock = Literal["summer", "standard", "utc"]


@record
class LogMapping:
    """How a device's files are to be read: what each column is and in which unit, which clock, and which order of day and month where a file
    does not tell."""

    channels: Mapping[int, tuple[str, str]]
    clock: Clock
    prefers: DayOrder = "dmy"


@record
class Repair:
    """Something that was turned, left out or missed: its key, what, how often."""

    key: str
    what: str
    count: int = 0


@record
class Opened:
    """A file as it opens: how it is written, its stamps and its columns of numbers as they stand, and what each is taken for."""

    sheet: Sheet
    stamps: StampForm
    local: Seconds
    numbers: dict[int, Numbers]
    guessed: tuple[Guess, ...]
    clock: Clock
    why_clock: str
    words: int
    formulas: int


@record
class Log:
    """A log: moments by universal time [s since 1970] in order, columns by channel in SI (°C), its interval [s], what was repaired."""

    at: Seconds
    columns: dict[str, Numbers]
    step: int
    repairs: tuple[Repair, ...]

    @property
    def begins(self) -> datetime:
        """The first moment."""
        return datetime.fromtimestamp(int(self.at[0]), UTC)

    @property
    def ends(self) -> datetime:
        """The last moment."""
        return datetime.fromtimestamp(int(self.at[-1]), UTC)


def opened(data: bytes, *, prefers: DayOrder = "dmy") -> Opened:
    """A file's bytes as they open. Raises LogError for what is no log."""
    sheet = sheet_of(data)
    tables = _cells(sheet)
    stamps = stamp_form(sheet, tables, prefers)
    local = seconds_of(stamps, tables)
    if int((local != NONE).sum()) < LEAST_ROWS:
        raise LogError("its rows have no times that can be read")
    numbers: dict[int, Numbers] = {}
    words = formulas = 0
    for at in range(len(sheet.names)):
        if at in stamps.columns:
            continue
        column, odd, sums = _numbers(tables[at], sheet.decimal)
        words, formulas = words + odd, formulas + sums
        numbers[at] = column
    guessed = guesses(sheet.names, sheet.units, numbers)
    if stamps.has_zone:
        clock, why = "utc", "its stamps say their zone"
    else:
        said = local[local != NONE]
        turns = summer_time(said[::-1] if is_turned(said) else said)
        clock, why = ("summer" if turns.changes else "standard"), turns.seen
    return Opened(sheet, stamps, local, numbers, tuple(guessed), clock, why, words, formulas)  # type: ignore[arg-type]


def _cells(sheet: Sheet) -> Any:
    """The cells, a column each: numbers where all of a column are, else text; a row that is too long is left out."""
    import pandas as pd

    width = len(sheet.names)
    # stamps stay as they are written, and seconds since 1970 keep their digits
    as_text = [
        at
        for at in range(width)
        if any(not NUMBER.match(row[at]) or len(row[at]) > 9 for row in sheet.first_rows if row[at])
    ]
    return pd.read_csv(
        io.StringIO(sheet.text),
        sep=sheet.delimiter,
        decimal=sheet.decimal,
        skiprows=sheet.skipped,
        header=None,
        names=list(range(width)),
        dtype=dict.fromkeys(as_text, str),
        na_values=list(NOTHING),
        keep_default_na=False,
        skipinitialspace=True,
        on_bad_lines="skip",
        index_col=False,
        engine="c",
        low_memory=False,
    )


def _numbers(column: Any, decimal: str) -> tuple[Numbers, int, int]:
    """Numbers of a column; how many cells were words that say nothing, and how many were formulas."""
    import pandas as pd

    if pd.api.types.is_bool_dtype(column) or pd.api.types.is_numeric_dtype(column):
        return column.to_numpy(dtype=float), 0, 0
    column = column.fillna("")
    plain = column.str.replace(",", ".", regex=False) if decimal == "," else column
    values = pd.to_numeric(plain, errors="coerce").to_numpy(dtype=float, copy=True)
    missed = np.isnan(values)
    if not missed.any():
        return values, 0, 0
    left = column[missed].str.strip().str.lower()
    said = left.map(WORDS)
    values[missed] = said.to_numpy(dtype=float)
    odd = left[said.isna().to_numpy() & ~left.isin(NOTHING).to_numpy()]
    sums = int(odd.str.startswith(("=", "@")).sum())
    return values, len(odd) - sums, sums


def as_guessed(found: Opened) -> LogMapping:
    """The mapping that follows from a file's own guesses."""
    channels = {guess.column: (guess.channel, guess.unit) for guess in found.guessed if guess.channel}
    return LogMapping(channels, found.clock, "mdy" if found.stamps.order == "mdy" else "dmy")


def read_log(found: Opened, mapping: LogMapping, *, zone_h: float, now: datetime) -> Log:
    """The log of an opened file. Raises LogError where nothing is left of it.

    Args:
        found: the file as it opens.
        mapping: what its columns are, in which units, and which clock it keeps.
        zone_h: the hours that the place's clock is ahead of universal time in winter, for stamps that do not say [h].
        now: the present; rows beyond it were dated by a wrong clock.
    """
    keys = [key for key, _ in mapping.channels.values()]
    if len(set(keys)) < len(keys):
        raise LogError("two columns are given the same name; which one counts?")
    if not keys:
        raise LogError("no column is named: say which one is the field, which the store")
    repairs = _file_repairs(found)
    local, order = found.local, slice(None)
    no_stamp = local == NONE
    if no_stamp.any():
        repairs.append(Repair("no_stamp", "rows without a time that can be read, left out", int(no_stamp.sum())))
    if is_turned(local[~no_stamp]):
        order = slice(None, None, -1)
        repairs.append(Repair("turned", "the newest row stood first: turned round"))
    local = local[order]
    good = ~no_stamp[order]
    at, more = _universal(local, good, mapping.clock, zone_h)
    repairs += more
    good, more = _clock(at, good, now)
    repairs += more
    if not good.any():
        raise LogError("no row is left: all are dated by a clock that cannot be right")
    columns = {key: in_si(found.numbers[column], unit)[order][good] for column, (key, unit) in mapping.channels.items()}
    at = at[good]
    at, columns, more = _in_order(at, columns)
    repairs += more
    for key in list(columns):
        columns[key], more = _possible(key, columns[key])
        repairs += more
    columns, more = _moving(at, columns)
    repairs += more
    step = usual_step(at)
    repairs += _gaps(at, step)
    return Log(at, columns, step, tuple(repairs))


def _file_repairs(found: Opened) -> list[Repair]:
    repairs = []
    if found.sheet.is_cut:
        repairs.append(
            Repair("cut", "the file ends in the middle of a row: what is missing of it counts as not read", 1)
        )
    if found.formulas:
        repairs.append(
            Repair("formulas", "cells that hold a formula, taken for nothing and never reckoned", found.formulas)
        )
    if found.words:
        repairs.append(Repair("words", "cells that are no numbers, taken for nothing", found.words))
    return repairs


def _universal(local: Seconds, good: NDArray[np.bool_], clock: Clock, zone_h: float) -> tuple[Seconds, list[Repair]]:
    if clock == "utc":
        return local, []
    at = local - round(zone_h * HOUR_S)
    if clock == "standard":
        return at, []
    turns = summer_time(local[good])
    ahead = np.zeros(len(local), dtype=bool)
    ahead[good] = turns.ahead
    return np.where(ahead, at - HOUR_S, at), [
        Repair("summer", "changes between winter and summer time, taken out", turns.changes)
    ]


def _clock(at: Seconds, good: NDArray[np.bool_], now: datetime) -> tuple[NDArray[np.bool_], list[Repair]]:
    """Which rows have a date that can be; others are left out."""
    first = int(datetime(EARLIEST_YEAR, 1, 1, tzinfo=UTC).timestamp())
    old, ahead = good & (at < first), good & (at > now.timestamp() + LATEST_AHEAD_S)
    found = []
    if old.any():
        year = datetime.fromtimestamp(int(at[old][0]), UTC).year
        found.append(Repair("reset", f"rows dated {year}: the clock was reset; left out", int(old.sum())))
    if ahead.any():
        found.append(Repair("ahead", "rows dated after today: left out", int(ahead.sum())))
    return good & ~old & ~ahead, found


def _in_order(at: Seconds, columns: dict[str, Numbers]) -> tuple[Seconds, dict[str, Numbers], list[Repair]]:
    found = []
    steps = np.diff(at)
    if (steps < 0).any():
        found.append(Repair("order", "rows that stood out of order, put in it", int((steps < 0).sum())))
        into = np.argsort(at, kind="stable")
        at, columns = at[into], {key: values[into] for key, values in columns.items()}
        steps = np.diff(at)
    twice = np.concatenate(([False], steps == 0))
    if twice.any():
        found.append(Repair("twice", "rows of a moment that was there already: the first counts", int(twice.sum())))
        at, columns = at[~twice], {key: values[~twice] for key, values in columns.items()}
    return at, columns, found


def _possible(key: str, values: Numbers) -> tuple[Numbers, list[Repair]]:
    channel, found = BY_KEY[key], []
    values = values.copy()
    if key == "sun_w_m2":
        below = (values < 0.0) & (values >= SUN_ZERO_W_M2)
        if below.any():
            values[below] = 0.0
            found.append(
                Repair("zero", "readings of the sun a little under nothing at night, set to nothing", int(below.sum()))
            )
    with np.errstate(invalid="ignore"):
        wrong = (values < channel.least) | (values > channel.most)
    if wrong.any():
        values[wrong] = np.nan
        found.append(
            Repair(f"impossible_{key}", f"readings of the {channel.label} that cannot be, left out", int(wrong.sum()))
        )
    return values, found


def _moving(at: Seconds, columns: dict[str, Numbers]) -> tuple[dict[str, Numbers], list[Repair]]:
    """Temperatures that stand still to the last digit for longer than a day while another moves are no readings."""
    warm = {key: values for key, values in columns.items() if BY_KEY[key].kind == "temperature"}
    found: list[Repair] = []
    if len(warm) < 2:
        return columns, found
    mended = dict(columns)
    for key, values in warm.items():
        others = [other for name, other in warm.items() if name != key]
        still = 0
        if _finest_step(values) > FINE_K:
            continue
        for first, last in _runs(values):
            if at[last] - at[first] < STUCK_S:
                continue
            spans = [
                np.nanmax(o[first : last + 1]) - np.nanmin(o[first : last + 1])
                for o in others
                if not np.isnan(o[first : last + 1]).all()
            ]
            if spans and max(spans) >= MOVED_K:
                mended[key] = mended[key].copy()
                mended[key][first : last + 1] = np.nan
                still += last - first + 1
        if still:
            found.append(
                Repair(
                    f"stuck_{key}",
                    f"readings of the {BY_KEY[key].label} that stood still for over a day, left out",
                    still,
                )
            )
    return mended, found


def _finest_step(values: Numbers) -> float:
    """The smallest step between neighbours [K]; none at all is as fine as can be."""
    steps = np.abs(np.diff(values))
    steps = steps[steps > 1e-6]
    return float(steps.min()) if len(steps) else 0.0


def _runs(values: Numbers) -> list[tuple[int, int]]:
    """Stretches of equal neighbours, first and last place."""
    change = np.flatnonzero(np.diff(values) != 0.0)
    firsts, lasts = np.concatenate(([0], change + 1)), np.concatenate((change, [len(values) - 1]))
    long = lasts - firsts >= 2
    return [(int(a), int(b)) for a, b in zip(firsts[long], lasts[long], strict=True)]


def _gaps(at: Seconds, step: int) -> list[Repair]:
    steps = np.diff(at)
    long = steps[steps > GAP_STEPS * step]
    if not len(long):
        return []
    hours, longest = (long - step).sum() / HOUR_S, long.max() / HOUR_S
    return [Repair("gaps", f"gaps, {hours:.1f} h in all, the longest {longest:.1f} h: left open", len(long))]


def newest_readings(log: Log, span_s: float) -> list[Reading]:
    """The rows of the last so many seconds as a controller's readings, for the rules that judge those; channels it has not are None."""
    first = int(np.searchsorted(log.at, log.at[-1] - span_s, side="right"))
    columns = {key: values[first:] for key, values in log.columns.items() if key in LIMITS}
    return [
        Reading(
            datetime.fromtimestamp(int(at), UTC),
            **{key: None if np.isnan(values[row]) else float(values[row]) for key, values in columns.items()},
        )
        for row, at in enumerate(log.at[first:])
    ]


def joined(logs: list[Log]) -> Log:
    """Several logs of one device as one: a moment counts once, the first of two stays. Raises LogError for none."""
    if not logs:
        raise LogError("there is no log to join")
    at = np.concatenate([log.at for log in logs])
    keys = dict.fromkeys(key for log in logs for key in log.columns)
    columns = {
        key: np.concatenate([log.columns.get(key, np.full(len(log.at), np.nan)) for log in logs]) for key in keys
    }
    into = np.argsort(at, kind="stable")
    at, columns = at[into], {key: values[into] for key, values in columns.items()}
    once = np.concatenate(([True], np.diff(at) > 0))
    first = replace(logs[0], at=at[once], columns={key: values[once] for key, values in columns.items()})
    repairs = tuple(repair for log in logs for repair in log.repairs if repair.key != "gaps")
    twice = int((~once).sum())
    more = (Repair("twice", "rows of a moment that another file has: the first counts", twice),) if twice else ()
    step = usual_step(first.at)
    return replace(first, step=step, repairs=(*repairs, *more, *_gaps(first.at, step)))
