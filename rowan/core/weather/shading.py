"""What the horizon takes from a plane: by month and hour of solar time, in the window, over the year. Source: methods 2."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.record import record
from rowan.core.weather.horizon import Verdict, window_verdict
from rowan.core.weather.sun import STEPS_A_DAY, PlaneMonths

Array = NDArray[np.float64]
WINDOW_FROM, WINDOW_TO = 9, 15  # o'clock: the hours that bring most of a day, methods 2


@record
class Shading:
    """Shares of the plane's irradiation that the horizon takes [-].

    `table` by month and hour of solar time, shape (12, 24), NaN in the dark; `window_months` between 9 and 15 h, shape
    (12,); `window` the same over the year; `year` over all hours. `weight` [J/m²·day] is what falls without a horizon.
    """

    table: Array
    weight: Array
    window_months: Array
    window: float
    year: float

    @property
    def verdict(self) -> Verdict:
        """Clean, acceptable, poor or no."""
        return window_verdict(loss_share=self.window)

    @property
    def worst_month(self) -> int:
        """The month that loses most in the window, 0 is January."""
        return int(np.argmax(self.window_months))


def shading(*, unshaded: PlaneMonths, shaded: PlaneMonths) -> Shading:
    """The losses of one plane from its steps with and without the horizon."""
    per_hour = STEPS_A_DAY // 24
    free = unshaded.steps.reshape(12, 24, per_hour).sum(axis=2)
    left = shaded.steps.reshape(12, 24, per_hour).sum(axis=2)
    lost = np.clip(free - left, 0.0, None)
    with np.errstate(invalid="ignore", divide="ignore"):
        table = np.where(free > 0, lost / free, np.nan)
    window = slice(WINDOW_FROM, WINDOW_TO)
    days = np.array(DAYS_IN_MONTH, dtype=float)
    in_window, lost_in_window = free[:, window].sum(axis=1), lost[:, window].sum(axis=1)
    return Shading(
        table,
        free,
        np.where(in_window > 0, lost_in_window / np.where(in_window > 0, in_window, 1.0), 0.0),
        _share(float(lost_in_window @ days), float(in_window @ days)),
        _share(float(lost.sum(axis=1) @ days), float(free.sum(axis=1) @ days)),
    )


def _share(part: float, whole: float) -> float:
    return part / whole if whole > 0 else 0.0
