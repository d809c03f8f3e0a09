"""Temperature of the cold main through the year (Burch and Christensen 2007)."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import within

LEAST_C = 1.0
HALF_YEAR_DAYS = 182.5


def cold_main(*, monthly_air: Sequence[float], day: float, latitude: float) -> float:
    """Cold main temperature [°C] on a day of the year (1 to 366), never below 1 °C.

    monthly_air: twelve monthly mean air temperatures [°C]; latitude [°], south negative. Source: methods 1.
    """
    if len(monthly_air) != 12:
        raise ImpossibleInputError(f"twelve monthly means are needed, not {len(monthly_air)}")
    day = within("day of the year", day, 1, 366)
    mean = sum(monthly_air) / 12
    spread = max(monthly_air) - min(monthly_air)
    ratio = 0.4 + 0.018 * (mean - 6.67)
    lag = 35 - 1.8 * (mean - 6.67) + (HALF_YEAR_DAYS if latitude < 0 else 0)
    angle = math.radians(0.986 * (day - 15 - lag) - 90)
    return max(LEAST_C, mean + 3.33 + ratio * spread / 2 * math.sin(angle))
