"""A stretch of a log as it can be drawn: the rows themselves where they are few, else of each short while the least and the most, so that
no peak is lost between two points."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.channels import Numbers
from rowan.core.records.logs.log import GAP_STEPS, Log
from rowan.core.records.logs.stamps import HOUR_S, WHOLE_DAY_S
from rowan.core.terms.record import record

MEAN = ("pump_share",)  # of which a mean says more than the least and the most
SWINGS = ("field_c",)  # of which the least and the most of a day say more than its mean
SHORT_S = 6 * HOUR_S  # beyond which whole days are put together
MOST_POINTS = 1600  # twice as many as a screen has columns to draw in


@record
class Window:
    """A stretch: its moments [s since 1970, universal time] and channels, not a number where nothing was read; how many rows it stands for."""

    at: NDArray[np.int64]
    columns: dict[str, Numbers]
    rows: int
    is_every_row: bool


def window_of(log: Log, first: int, last: int, *, most: int = MOST_POINTS) -> Window:
    """The stretch of a log from a moment to another [s], in at most so many points."""
    begins, ends = (int(place) for place in np.searchsorted(log.at, (first, last + 1)))
    rows = ends - begins
    if rows <= most:
        at, places = _with_gaps(log, begins, ends)
        return Window(
            at, {key: np.where(places < 0, np.nan, values[places]) for key, values in log.columns.items()}, rows, True
        )
    each = (last - first + 1) / (most // 2)
    by_day = each > SHORT_S
    if by_day:
        # parts of days would show noon in one and night in the next
        each = WHOLE_DAY_S * math.ceil(each / WHOLE_DAY_S)
    count_all = math.ceil((last - first + 1) / each)
    part = ((log.at[begins:ends] - first) / each).astype(np.int64)
    edges = np.searchsorted(part, np.arange(count_all))
    full = np.append(np.diff(edges), len(part) - edges[-1]) > 0
    starts = edges[full]
    middles = first + (np.flatnonzero(full) + 0.5) * each
    at = np.stack((middles - each / 4, middles + each / 4), axis=1).ravel().astype(np.int64)
    columns = {}
    for key, values in log.columns.items():
        some = values[begins:ends]
        if key in MEAN or (by_day and key not in SWINGS):
            good = np.isfinite(some)
            count = np.add.reduceat(good.astype(float), starts)
            with np.errstate(invalid="ignore", divide="ignore"):
                mean = np.add.reduceat(np.where(good, some, 0.0), starts) / count
            columns[key] = np.repeat(mean, 2)
            continue
        least = np.fmin.reduceat(some, starts)
        columns[key] = np.stack((least, np.fmax.reduceat(some, starts)), axis=1).ravel()
    return Window(at, columns, rows, False)


def _with_gaps(log: Log, begins: int, ends: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Moments and places of some rows, with a place of −1 in each gap, so that no line runs across it."""
    places = np.arange(begins, ends)
    at = log.at[begins:ends]
    gaps = np.flatnonzero(np.diff(at) > GAP_STEPS * log.step) + 1
    return np.insert(at, gaps, at[gaps - 1] + log.step), np.insert(places, gaps, -1)
