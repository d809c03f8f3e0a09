"""Temperature of the cold main through the year (Burch and Christensen 2007)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAYS
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import within

Array = NDArray[np.float64]
LEAST_C = 1.0  # °C, water in a main does not freeze
HALF_YEAR_DAYS = 182.5  # days, the seasons south of the equator


def cold_main(*, monthly_air: Sequence[float], day: float, latitude: float) -> float:
    """Cold main temperature [°C] on a day of the year (1 to 366), never below 1 °C.

    monthly_air: twelve monthly mean air temperatures [°C]; latitude [°], south negative. Source: methods 1.
    """
    if len(monthly_air) != 12:
        raise ImpossibleInputError(
            "twelve monthly means are needed, not {monthly_air}", monthly_air=f"{len(monthly_air)}"
        )
    day = within("day of the year", day, 1, 366)
    return float(_curve(monthly_air, latitude, np.array(day)))


def cold_main_year(*, monthly_air: Sequence[float], latitude: float) -> Array:
    """Cold main temperature [°C] on each day of a year, shape (365,). Arguments and source as of `cold_main`."""
    if len(monthly_air) != 12:
        raise ImpossibleInputError(
            "twelve monthly means are needed, not {monthly_air}", monthly_air=f"{len(monthly_air)}"
        )
    return _curve(monthly_air, latitude, np.arange(1.0, DAYS + 1))


def _curve(monthly_air: Sequence[float], latitude: float, day: Array) -> Array:
    mean = sum(monthly_air) / 12
    spread = max(monthly_air) - min(monthly_air)
    ratio = 0.4 + 0.018 * (mean - 6.67)
    lag = 35 - 1.8 * (mean - 6.67) + (HALF_YEAR_DAYS if latitude < 0 else 0)
    angle = np.radians(0.986 * (day - 15 - lag) - 90)
    return np.maximum(LEAST_C, mean + 3.33 + ratio * spread / 2 * np.sin(angle))
