"""What came beside what was due, month by month: heat with its band, hours and starts of the pump, the warmest of field and store."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.expected import Expected
from rowan.core.records.logs.days import Days
from rowan.core.terms.record import record

EPOCH = date(1970, 1, 1)
Numbers = NDArray[np.float64]


@record
class Pair:
    """A number as it was read and as it was due; None where it was not read."""

    came: float | None
    due: float


@record
class Period:
    """A stretch of whole days: heat that came and was due with its band [J], hours of the pump [h], starts a day, warmest field and store
    top [°C]. `first` is its first day, None for the whole log."""

    first: date | None
    days: int
    came: float
    due: float
    low: float
    high: float
    hours: Pair
    starts: Pair
    field: Pair
    top: Pair

    @property
    def is_low(self) -> bool:
        """Whether less came than the band has."""
        return self.came < self.low


def months_of(due: Expected, days: Days) -> tuple[Period, ...]:
    """The months of a log that were compared, in order, and the whole last; nothing where nothing was due."""
    good = due.compared
    if not good.any():
        return ()
    dates = [EPOCH + timedelta(days=due.first_day + n) for n in range(len(good))]
    month = np.array([day.year * 12 + day.month for day in dates])
    read = _placed(days, due.first_day, len(good))
    found = [_period(due, read, good & (month == one), dates) for one in np.unique(month[good])]
    return (*found, _period(due, read, good, None)) if len(found) > 1 else tuple(found)


def _placed(days: Days, first: int, count: int) -> dict[str, Numbers]:
    """What the days of a log were, at the places of those that were compared."""
    at = days.day - first
    inside = (at >= 0) & (at < count)
    made = {}
    for name in ("starts", "field_high", "top_high"):
        values = np.full(count, np.nan)
        values[at[inside]] = getattr(days, name)[inside]
        made[name] = values
    return made


def _period(due: Expected, read: dict[str, Numbers], of: NDArray[np.bool_], dates: list[date] | None) -> Period:
    came, should, low, high = (float(values[of].sum()) for values in (due.came, due.due, due.low, due.high))
    return Period(
        None if dates is None else next(day for day, inside in zip(dates, of, strict=True) if inside),
        int(of.sum()),
        came,
        should,
        low,
        high,
        Pair(float(due.ran[of].sum()), float(due.should_run[of].sum())),
        Pair(_mean(read["starts"][of]), float(due.should_start[of].mean())),
        Pair(_most(read["field_high"][of]), float(due.should_field[of].max())),
        Pair(_most(read["top_high"][of]), float(due.should_top[of].max())),
    )


def _some(values: Numbers) -> Iterator[float]:
    yield from (float(value) for value in values if np.isfinite(value))


def _mean(values: Numbers) -> float | None:
    found = list(_some(values))
    return sum(found) / len(found) if found else None


def _most(values: Numbers) -> float | None:
    return max(_some(values), default=None)
