"""How much is drawn in this house, told by how its store's foot falls: each litre that is drawn pushes the foot towards the cold main, by
a share that does not depend on how warm the store is.

Of every hour in which the foot falls at once, −ln of what is left over the cold main is summed; the same sum of the plan's own year in
the log's light, at some draws, tells which of them fits. A pocket sits anywhere in the lower third, so the answer is drawn towards the
plan's: logarithms weighed by their spreads. Source: methods 17, 19.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.stamps import HOUR_S
from rowan.core.simulation.year import Year

Array = NDArray[np.float64]
TRIED = (0.3, 0.6, 1.0, 1.6, 2.4)  # of the plan's draws
FALL_K = 1.5  # K within an hour that nothing but a draw makes of a foot
LEAST_OVER_K = 8.0  # K over the cold main under which a fall says nothing
TOLD_DAYS, LEAST_FALLS = 7, 10  # of a log, for draws to be told
# spreads of logarithms: of what houses draw against what was planned, and of what this tells of it
HOUSES, TOLD = 0.40, 0.25
PLANNED_UP_TO = (
    1.4  # times the plan's draws, or as little of them, within which a foot cannot say that others were drawn
)
LOWER = 3  # the lowest third of the store, in which pockets sit
LEAST_LEFT_K = 1.0


def falls(foot: Array, cold: Array) -> tuple[float, int]:
    """The sum of −ln of what is left over the cold main in hours of a fall [-], and their number, of a foot by the hour [°C]."""
    over, after = foot[:-1] - cold[:-1], foot[1:] - cold[:-1]
    with np.errstate(invalid="ignore"):
        fell = (over > LEAST_OVER_K) & (foot[:-1] - foot[1:] >= FALL_K)
    return float(-np.log(np.maximum(after[fell], LEAST_LEFT_K) / over[fell]).sum()), int(fell.sum())


def by_hours(at: Array, hours: NDArray[np.int64], values: Array) -> tuple[NDArray[np.int64], Array]:
    """Hours of the year in their order, and the last value in each; not a number after a gap, so that no fall is taken across one."""
    ends = np.append(np.flatnonzero(np.diff(hours) != 0), len(hours) - 1)
    found = values[ends].astype(float)
    late = np.append(0.0, np.diff(at[ends])) > 1.5 * HOUR_S
    found[late] = np.nan
    return hours[ends], found


def drawn_share(hours: NDArray[np.int64], foot: Array, cold: Array, run: Callable[[float], Year]) -> float | None:
    """What is drawn as a share of the plan's draws; None where the log tells nothing of it.

    Args:
        hours: hours of the year, in the order of the log.
        foot: the store's foot at the end of each [°C].
        cold: the cold main of each day of a year [°C].
        run: the plan's year in the log's light with so many times its draws, traced.
    """
    main = cold[np.minimum(hours // 24, len(cold) - 1)]
    read, count = falls(foot, main)
    if count < LEAST_FALLS or len(hours) < TOLD_DAYS * 24:
        return None
    gaps = np.isnan(foot)
    sums = []
    for share in TRIED:
        year = run(share)
        lower = np.asarray(year.traced[:, year.nodes - max(1, year.nodes // LOWER) : year.nodes], dtype=float).mean(
            axis=1
        )[hours]
        sums.append(falls(np.where(gaps, np.nan, lower), main)[0])
    if sums[-1] <= sums[0] or sums[0] <= 0.0:
        return None
    rising = np.maximum.accumulate(sums)
    told = float(np.interp(np.log(read), np.log(rising), np.log(TRIED)))
    weight = HOUSES**2 / (HOUSES**2 + TOLD**2)
    return float(np.exp(weight * told))
