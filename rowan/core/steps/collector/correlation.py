"""The monthly utilisation correlation of Klein and Beckman (1976), liquid systems."""

from __future__ import annotations

import math

from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.limits import NOT_NEGATIVE, POSITIVE, takes, within
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

REFERENCE_STORE_L_M2 = 75.0  # L/m², the store the correlation was made with
LEAST_STORE_L_M2, MOST_STORE_L_M2 = 37.5, 300.0  # L/m², its range
MOST_X, MOST_Y = 18.0, 3.0  # its range, Klein and Beckman 1976


@record
class Field:
    """The field as the correlation takes it: area [m²], F_RU_L [W/m²K], F_R(τα)n, exchanger and incidence factors."""

    area: float
    fr_ul: float
    fr_tau_alpha: float
    exchanger_factor: float
    incidence_factor: float


@record
class Month:
    """One month: plane irradiation [J/m²·day], air [°C], days, load [J]; tap and mains [°C] for hot water only."""

    irradiation: float
    air_temperature: float
    days: int
    load: float
    hot_water: float | None = None
    mains: float | None = None


@record
class MonthFraction:
    """X and Y after their corrections, and the share of the load met by the sun [-]."""

    x: float
    y: float
    fraction: float


def month_fraction(*, field: Field, month: Month, store_per_area: float) -> MonthFraction:
    """Share of a month's load met by the sun; store_per_area [L/m²].

    Raises OutOfRangeError outside 37.5 to 300 L/m², X 0 to 18 or Y 0 to 3 (after the corrections). Source: methods 6.
    """
    least, most = LEAST_STORE_L_M2 * LITRE, MOST_STORE_L_M2 * LITRE
    within("store by aperture", store_per_area * LITRE, least, most, dimension="volume_per_area")
    seconds = DAY_S * month.days
    below_boiling = 100 - month.air_temperature
    x = field.fr_ul * field.exchanger_factor * below_boiling * seconds * field.area / month.load
    x *= (store_per_area / REFERENCE_STORE_L_M2) ** -0.25
    if month.hot_water is not None and month.mains is not None:
        x *= (11.6 + 1.18 * month.hot_water + 3.86 * month.mains - 2.32 * month.air_temperature) / below_boiling
    y = field.fr_tau_alpha * field.exchanger_factor * field.incidence_factor
    y *= month.irradiation * month.days * field.area / month.load
    x = within("X of the monthly correlation", x, 0, MOST_X)
    y = within("Y of the monthly correlation", y, 0, MOST_Y)
    f = 1.029 * y - 0.065 * x - 0.245 * y**2 + 0.0018 * x**2 + 0.0215 * y**3
    return MonthFraction(x, y, min(1.0, max(0.0, f)))


@takes(area=POSITIVE, fr_ul=NOT_NEGATIVE, capacity_rate=POSITIVE, coil_conductance=POSITIVE)
def exchanger_factor(*, area: float, fr_ul: float, capacity_rate: float, coil_conductance: float) -> float:
    """F_R′/F_R of a coil in the store; capacity_rate ṁ·c_p [W/K], coil_conductance [W/K]. Source: methods 6."""
    effectiveness = -math.expm1(-coil_conductance / capacity_rate)
    return 1 / (1 + area * fr_ul / capacity_rate * (1 / effectiveness - 1))
