"""A log day by day: how long it was read, how long and how often the pump ran, how warm field and store were, the gauge before sunrise.

Days are the place's own, by its winter clock, so that a night belongs to one day.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.channels import Numbers
from rowan.core.records.logs.log import GAP_STEPS, Log
from rowan.core.records.logs.stamps import HOUR_S, WHOLE_DAY_S
from rowan.core.terms.record import record

FULL_DAY_H = 20.0  # h of a day that have to be read before it counts as a day with a log
LEAST_DAY_H = 2.0  # h of the first and last day under which they are only where a log begins or ends
NIGHT_H = (
    2.0,
    5.0,
)  # h of the day in which no sun is up at any place where people mount collectors for most of the year


@record
class Days:
    """Sums of days [days since 1970, by the place's clock], NaN where nothing was read. Hours [h], temperatures [°C], gauge [Pa], level [m]."""

    day: NDArray[np.int64]
    read_h: Numbers
    pump_h: Numbers
    starts: Numbers
    field_high: Numbers
    field_night: Numbers
    foot_low: Numbers
    top_high: Numbers
    gauge_night: Numbers
    level_night: Numbers

    @property
    def is_full(self) -> NDArray[np.bool_]:
        """Days that were read long enough to count."""
        return self.read_h >= FULL_DAY_H

    @property
    def has_pump(self) -> bool:
        """Whether the pump was logged."""
        return bool(np.isfinite(self.pump_h).any())

    @property
    def days_run(self) -> int:
        """Days on which the pump ran."""
        return int((np.nan_to_num(self.pump_h) > 0.0).sum())

    @property
    def hours_run(self) -> float:
        """Hours that the pump ran in all [h]."""
        return float(np.nansum(self.pump_h))

    @property
    def usual_starts(self) -> float:
        """Starts on a day that has any, the median; 0 where none has."""
        some = self.starts[np.nan_to_num(self.starts) > 0.0]
        return float(np.median(some)) if len(some) else 0.0

    @property
    def field_hottest(self) -> float | None:
        """The highest reading of the field [°C]; None where it was not logged."""
        return _of(np.nanmax, self.field_high)

    @property
    def store_hottest(self) -> float | None:
        """The highest reading of the store's top [°C]; None where it was not logged."""
        return _of(np.nanmax, self.top_high)

    @property
    def gauge_least(self) -> float | None:
        """The least mean before sunrise with the pump off [Pa]; None where the gauge was not logged."""
        return _of(np.nanmin, self.gauge_night)


def _of(choose: Callable[[Numbers], Any], values: Numbers) -> float | None:
    return float(choose(values)) if np.isfinite(values).any() else None


def days_of(log: Log, *, zone_h: float) -> Days:
    """The days of a log from its first to its last, those between without a row as well; not a first or last one of a few rows.

    Args:
        log: the log, by universal time.
        zone_h: hours that the place's winter clock is ahead of universal time [h].
    """
    local = log.at + round(zone_h * HOUR_S)
    number = local // WHOLE_DAY_S
    first, count = int(number[0]), int(number[-1] - number[0]) + 1
    place = (number - first).astype(np.int64)
    hour = (local % WHOLE_DAY_S) / HOUR_S
    night = (hour >= NIGHT_H[0]) & (hour < NIGHT_H[1])
    # a row speaks for the time until the next; before a gap for one interval
    until = np.diff(log.at, append=log.at[-1] + log.step)
    lasts = np.where(until > GAP_STEPS * log.step, log.step, until) / HOUR_S
    pump = log.columns.get("pump_share")
    runs = np.zeros(len(local), dtype=bool) if pump is None else np.nan_to_num(pump) > 0.0
    starts = runs & ~np.concatenate(([False], runs[:-1]))
    none = np.full(count, np.nan)

    def summed(values: NDArray[np.float64]) -> Numbers:
        """A sum of each day."""
        return np.asarray(np.bincount(place, weights=values, minlength=count), dtype=float)

    def most(key: str, *, least: bool = False) -> Numbers:
        """The highest reading of each day, or the least."""
        values = log.columns.get(key)
        if values is None:
            return none
        good = ~np.isnan(values)
        found = np.full(count, np.inf if least else -np.inf)
        (np.minimum if least else np.maximum).at(found, place[good], values[good])
        return np.where(np.isfinite(found), found, np.nan)

    def mean(key: str, of: NDArray[np.bool_]) -> Numbers:
        """The mean of a day's rows among some."""
        values = log.columns.get(key)
        if values is None:
            return none
        good = ~np.isnan(values) & of
        with np.errstate(invalid="ignore", divide="ignore"):
            sums = np.bincount(place[good], weights=values[good], minlength=count)
            return np.asarray(sums / np.bincount(place[good], minlength=count), dtype=float)

    read = summed(lasts)
    whole = np.flatnonzero(read >= min(LEAST_DAY_H, read.max()))
    part = slice(int(whole[0]), int(whole[-1]) + 1)
    return Days(
        day=np.arange(first, first + count)[part],
        read_h=read[part],
        pump_h=(none if pump is None else summed(lasts * runs))[part],
        starts=(none if pump is None else summed(starts.astype(float)))[part],
        field_high=most("field_c")[part],
        field_night=mean("field_c", night & ~runs)[part],
        foot_low=most("low_c", least=True)[part],
        top_high=most("high_c")[part],
        gauge_night=mean("gauge_pa", night & ~runs)[part],
        level_night=mean("level_m", night & ~runs)[part],
    )
