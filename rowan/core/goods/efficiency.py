"""Collector output, incidence factors, rating forms and stagnation (ISO 9806 quasi-dynamic form)."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence

from rowan.core.terms.constants import KELVIN, STEFAN_BOLTZMANN
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import ANY_ANGLE, SHARE, takes
from rowan.core.terms.record import record

REFERENCE_IRRADIANCE = 800.0  # W/m², good sun: what a working loop is told at
STANDARD_IRRADIANCE, STANDARD_AIR_C = 1000.0, 30.0  # W/m² and °C at which stagnation is told, ISO 9806
WIND_M_S = 1.5  # at a collector, where nobody measured it, rule of thumb


@record
class Rating:
    """Efficiency in the mean-temperature form: η0 [-], a1 [W/m²K], a2 [W/m²K²]."""

    eta0: float
    a1: float
    a2: float = 0.0


@record
class InletRating:
    """Efficiency by intercept F_Rτα [-] and slope F_RU_L [W/m²K] on the inlet temperature."""

    fr_tau_alpha: float
    fr_ul: float


@record
class PlaneSun:
    """Beam and diffuse in the plane [W/m²] with their incidence factors [-]."""

    beam: float
    diffuse: float
    k_b: float = 1.0
    k_d: float = 1.0


def collector_heat(
    *, area: float, rating: Rating, sun: PlaneSun, mean_temperature: float, air_temperature: float, stored: float = 0.0
) -> float:
    """Useful heat of the field [W]; may be negative. area [m²], temperatures [°C].

    `stored` is c_eff·dT_m/dt [W/m²], what warming up takes. Source: methods 3, ISO 9806.
    """
    over = mean_temperature - air_temperature
    gain = rating.eta0 * (sun.k_b * sun.beam + sun.k_d * sun.diffuse)
    return area * (gain - rating.a1 * over - rating.a2 * abs(over) * over - stored)


def efficiency(*, rating: Rating, over_temperature: float, irradiance: float) -> float:
    """Share of the irradiance [W/m²] that becomes heat at an over-temperature [K]; may be negative."""
    loss = rating.a1 * over_temperature + rating.a2 * abs(over_temperature) * over_temperature
    return rating.eta0 - loss / irradiance


@takes(angle=ANY_ANGLE, b0=SHARE)
def incidence_flat(*, angle: float, b0: float) -> float:
    """Incidence factor of a flat plate at an angle [°]: 1 − b0·(1/cos θ − 1), not below 0, 0 from 90°."""
    if angle >= 90:
        return 0.0
    return max(0.0, 1 - b0 * (1 / math.cos(math.radians(angle)) - 1))


def incidence_tube(
    *, transverse: float, longitudinal: float, angles: Sequence[float], across: Sequence[float], along: Sequence[float]
) -> float:
    """Incidence factor of tubes: product of two tables over angles [°], linear, flat beyond, 0 from 90°."""
    if transverse >= 90 or longitudinal >= 90:
        return 0.0
    return _table(transverse, angles, across) * _table(longitudinal, angles, along)


def _table(x: float, xs: Sequence[float], ys: Sequence[float]) -> float:
    if len(xs) != len(ys) or not xs:
        raise ImpossibleInputError("a table needs one factor for each angle")
    if x <= xs[0]:
        return ys[0]
    if x >= xs[-1]:
        return ys[-1]
    i = bisect_right(xs, x)
    return ys[i - 1] + (ys[i] - ys[i - 1]) * (x - xs[i - 1]) / (xs[i] - xs[i - 1])


@record
class TubeAngles:
    """Incidence angle and its parts across and along the tubes [°]."""

    incidence: float
    transverse: float
    longitudinal: float


def tube_angles(
    *, sun_elevation: float, sun_azimuth: float, tilt: float, azimuth: float, tubes_across: bool = False
) -> TubeAngles:
    """Angles of the sun on tubes that run up the slope, or across it; all [°]. Source: methods 3."""
    h, a = math.radians(sun_elevation), math.radians(sun_azimuth - azimuth)
    b = math.radians(tilt)
    toward, aside, up = math.cos(h) * math.cos(a), math.cos(h) * math.sin(a), math.sin(h)
    normal = toward * math.sin(b) + up * math.cos(b)
    slope = up * math.sin(b) - toward * math.cos(b)
    incidence = math.degrees(math.acos(max(-1.0, min(1.0, normal))))
    transverse = math.degrees(math.atan2(abs(aside), normal))
    longitudinal = math.degrees(math.atan2(abs(slope), normal))
    if tubes_across:
        transverse, longitudinal = longitudinal, transverse
    return TubeAngles(incidence, transverse, longitudinal)


def inlet_to_mean(*, rating: InletRating, area: float, flow: float, heat_capacity: float) -> Rating:
    """Mean form of an inlet rating; area [m²], flow [kg/s], heat_capacity [J/kg·K].

    Raises ImpossibleInputError where A·F_RU_L/(ṁ·c_p) reaches 2. Source: methods 3, Duffie and Beckman ch. 6.
    """
    ratio = area * rating.fr_ul / (flow * heat_capacity)
    if ratio >= 2:
        raise ImpossibleInputError(
            "flow too small: A·F_RU_L/(m·c_p) must be below 2, it is {ratio}", ratio=f"{ratio:.2f}"
        )
    return Rating(rating.fr_tau_alpha / (1 - ratio / 2), rating.fr_ul / (1 - ratio / 2))


def mean_to_inlet(*, rating: Rating, area: float, flow: float, heat_capacity: float) -> InletRating:
    """Inlet rating of a mean form (a2 left out); area [m²], flow [kg/s], heat_capacity [J/kg·K]. Source: methods 3."""
    factor = 1 / (1 + area * rating.a1 / (2 * flow * heat_capacity))
    return InletRating(rating.eta0 * factor, rating.a1 * factor)


def stagnation_temperature(
    *, rating: Rating, irradiance: float = STANDARD_IRRADIANCE, air_temperature: float = STANDARD_AIR_C
) -> float:
    """Temperature of a dry collector [°C] at irradiance [W/m²] and air temperature [°C]. Source: methods 3."""
    gain = rating.eta0 * irradiance
    # the root of a2·ΔT² + a1·ΔT = gain in the form that does not cancel where a2 is small or zero
    return air_temperature + 2 * gain / (rating.a1 + math.sqrt(rating.a1**2 + 4 * rating.a2 * gain))


@record
class UnglazedRating:
    """Unglazed collector: η0 [-], b_u [s/m], b1 [W/m²K], b2 [J/m³K], ε/α [-]."""

    eta0: float
    b_u: float
    b1: float
    b2: float
    emittance_ratio: float


@record
class UnglazedHeat:
    """Net irradiance G″ [W/m²] and heat of the field [W]."""

    net_irradiance: float
    heat: float


def unglazed_heat(
    *,
    area: float,
    rating: UnglazedRating,
    irradiance: float,
    longwave: float,
    wind: float,
    mean_temperature: float,
    air_temperature: float,
) -> UnglazedHeat:
    """Heat of an unglazed field; area [m²], irradiance and longwave [W/m²], wind [m/s], temperatures [°C]."""
    net = irradiance + rating.emittance_ratio * (longwave - STEFAN_BOLTZMANN * (air_temperature + KELVIN) ** 4)
    loss = (rating.b1 + rating.b2 * wind) * (mean_temperature - air_temperature)
    return UnglazedHeat(net, area * (rating.eta0 * (1 - rating.b_u * wind) * net - loss))
