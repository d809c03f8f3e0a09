"""A morning of this loop when it was healthy, beside one since it is not, in as much the same sun as the log has: from midnight to noon."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.log import Log
from rowan.core.records.logs.stamps import HOUR_S, WHOLE_DAY_S
from rowan.core.terms.record import record

NOON_H = 12.0
WHOLE_MORNING = 0.95  # of a morning's rows that have to be there
DRAWN = ("field_c", "hot_c", "high_c", "low_c", "pump_share")
Numbers = NDArray[np.float64]


@record
class Morning:
    """A morning: its day [since 1970], whether the loop was healthy, hours of the day [h], and its channels, not a number where not read."""

    day: int
    healthy: bool
    hour: Numbers
    columns: dict[str, Numbers]


def mornings_of(log: Log, *, zone_h: float, begins: int, named: bool) -> tuple[Morning, ...]:
    """A healthy morning and an ill one; one alone where the log has no other.

    Args:
        log: the log.
        zone_h: hours that the place's winter clock is ahead of universal time [h].
        begins: the day of the log, from 0, on which what was named begins.
        named: whether anything was.
    """
    local = log.at + round(zone_h * HOUR_S)
    day, hour = local // WHOLE_DAY_S, (local % WHOLE_DAY_S) / HOUR_S
    first = int(day[0])
    inside = hour < NOON_H
    count = int(day[-1]) - first + 1
    place = (day[inside] - first).astype(np.int64)
    rows = np.bincount(place, minlength=count)
    whole = np.flatnonzero(rows >= WHOLE_MORNING * NOON_H * HOUR_S / log.step)
    light = _light(log, inside, place, count)
    whole = whole[np.isfinite(light[whole])]
    before = whole[whole < begins] if named else whole
    since = whole[whole > begins] if named else whole[:0]
    chosen: list[tuple[int, bool]] = []
    if len(before) and len(since):
        # the brightest since, and the healthy one most like it
        ill = int(since[np.argmax(light[since])])
        chosen = [(int(before[np.argmin(np.abs(light[before] - light[ill]))]), True), (ill, False)]
    elif len(before):
        chosen = [(int(before[np.argmax(light[before])]), True)]
    elif len(since):
        chosen = [(int(since[np.argmax(light[since])]), False)]
    return tuple(_morning(log, day, hour, first + number, healthy) for number, healthy in chosen)


def _light(log: Log, inside: NDArray[np.bool_], place: NDArray[np.int64], count: int) -> Numbers:
    """How bright each morning was: by the sun's sensor, else by the warmest reading of the field."""
    sun, field = log.columns.get("sun_w_m2"), log.columns.get("field_c")
    found = np.full(count, np.nan)
    if sun is not None and np.isfinite(sun).any():
        good = np.isfinite(sun[inside])
        total = np.bincount(place[good], weights=sun[inside][good], minlength=count)
        rows = np.bincount(place[good], minlength=count)
        return np.where(rows > 0, total / np.maximum(rows, 1), np.nan)
    if field is not None:
        good = np.isfinite(field[inside])
        most = np.full(count, -np.inf)
        np.maximum.at(most, place[good], field[inside][good])
        found = np.where(np.isfinite(most), most, np.nan)
    return found


def _morning(log: Log, day: NDArray[np.int64], hour: Numbers, number: int, healthy: bool) -> Morning:
    rows = np.flatnonzero((day == number) & (hour < NOON_H))
    columns = {
        key: log.columns[key][rows] for key in DRAWN if key in log.columns and np.isfinite(log.columns[key]).any()
    }
    return Morning(number, healthy, np.asarray(hour[rows], dtype=float), columns)
