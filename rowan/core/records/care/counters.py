"""Counters copied by hand: what came between two readings, beside what the plan's usual year brings in the same days.

The weather of those days is not known here, so the band is as wide as months and years differ. Source: methods 19.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.care.gauge_series import MONTH_DAYS
from rowan.core.simulation.simulate import simulate
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.record import record

# what a counter counts, as the year sums it: heat into the store, time of the pump
Counted = Literal["coil", "pump_time"]
# what a month's and a year's sun depart from the usual one, and what draws and losses add; rules of thumb
MONTH_OFF, YEAR_OFF = 0.30, 0.15


@record
class Counter:
    """A heat meter [J] or a counter of the pump's hours [s] as read."""

    day: date
    stands: float


@record
class Between:
    """What was counted between two readings [J or s], and what a usual year brings in those days with its band."""

    first: date
    last: date
    came: float
    due: float
    low: float
    high: float

    @property
    def says(self) -> str:
        """`less` or `more` than the band, else nothing."""
        return "less" if self.came < self.low else "more" if self.came > self.high else ""


def usual_days(design: Design, result: Reckoning, of: Counted = "coil") -> NDArray[np.float64]:
    """Heat into the store [J] or time of the pump [s] of each day of the plan's usual year, 365 of them. Raises as `simulate`."""
    return simulate(design, result).day_sums(of)


def between(usual: NDArray[np.float64], counters: Iterable[Counter]) -> tuple[Between, ...]:
    """What came between readings in the order of their days; one that goes back was set to nothing, and is left out."""
    found = []
    for one, after in pairwise(sorted(counters, key=lambda one: one.day)):
        days = (after.day - one.day).days
        if days <= 0 or after.stands < one.stands:
            continue
        places = [min((one.day + timedelta(days=n)).timetuple().tm_yday, DAYS) - 1 for n in range(days)]
        due = float(usual[places].sum())
        off = max(MONTH_OFF * min(1.0, (MONTH_DAYS / days) ** 0.5), YEAR_OFF)
        found.append(Between(one.day, after.day, after.stands - one.stands, due, due * (1 - off), due * (1 + off)))
    return tuple(found)
