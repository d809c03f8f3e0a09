"""Water, and mixtures of propylene glycol and water by volume share.

Data: series made from ASHRAE as in CoolProp's incompressible `APG` (10-60 %, frost point to 100 °C) and IAPWS water.
The library itself takes seconds to load and is needed where they are made and tested alone.
Between 0 and 10 % the share runs linearly between both (viscosity log-linearly); above 100 °C the
80-100 °C slope goes on and the result says so.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache

from scipy.optimize import brentq

from rowan.core.fluid_tables import (
    FROST,
    LIQUID,
    LIQUID_C,
    MIXTURE,
    MIXTURE_C,
    SATURATED,
    SATURATED_C,
    SHARES,
    VAPOUR,
    VAPOUR_C,
)
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import CELSIUS, GLYCOL, NOT_NEGATIVE, POSITIVE, SHARE, takes, within
from rowan.core.terms.record import record

LEAST_DATA_SHARE, MOST_SHARE = 0.10, 0.60  # of volume, the range of the data
COLDEST_C, HOTTEST_C = -35.0, 200.0  # °C, the range of the data and how far it is carried on
FILL_C = 10.0  # of fluid as it is poured in on a working day, methods 10
LAST_DATA_C, SLOPE_FROM_C = 100.0, 80.0  # °C, where the data end, and from where their slope is taken
PROPERTIES = ("density", "heat_capacity", "viscosity", "conductivity")
LEAST_STRENGTH = 0.25  # inhibitors are too thin below, methods 9
STRENGTH_STEP = 0.05  # of volume, as mixtures are made on site
WATER_KG_M3, GLYCOL_KG_M3 = 998.2, 1036.1  # at 20 °C
WATER_KG_MOL, GLYCOL_KG_MOL = 18.015e-3, 76.094e-3  # kg/mol


@record
class Fluid:
    """Properties at one temperature: density [kg/m³], heat capacity [J/kg·K], viscosity [Pa·s], conductivity [W/m·K]."""

    density: float
    heat_capacity: float
    viscosity: float
    conductivity: float
    extrapolated: bool = False


def _series(coefficients: Sequence[float], ends: tuple[float, float], at: float) -> float:
    """A Chebyshev series between two ends (Clenshaw)."""
    x2 = 2.0 * (2.0 * at - ends[0] - ends[1]) / (ends[1] - ends[0])
    before, last = 0.0, 0.0
    for c in reversed(coefficients[1:]):
        before, last = c + x2 * before - last, before
    return coefficients[0] + x2 / 2.0 * before - last


def _read(tables: Mapping[str, Sequence[float]], ends: tuple[float, float], at: float) -> Fluid:
    density, heat, viscosity, conductivity = (_series(tables[name], ends, at) for name in PROPERTIES)
    return Fluid(density, heat, math.exp(viscosity), conductivity)


def _water(temperature: float) -> Fluid:
    if temperature > LIQUID_C[1]:
        return _read(SATURATED, SATURATED_C, temperature)
    return _read(LIQUID, LIQUID_C, max(temperature, LIQUID_C[0]))


@lru_cache(maxsize=512)
def _of_share(share: float) -> dict[str, list[float]]:
    """The series over temperature of a mixture."""
    return {
        name: [_series([row[n] for row in rows], SHARES, share) for n in range(len(rows[0]))]
        for name, rows in MIXTURE.items()
    }


def _mixture(share: float, temperature: float) -> Fluid:
    return _read(_of_share(share), MIXTURE_C, temperature)


def _blend(a: Fluid, b: Fluid, weight: float, extrapolated: bool = False) -> Fluid:
    """a + weight × (b − a), viscosity in its logarithm."""

    def mix(x: float, y: float) -> float:
        """One property between both."""
        return x + weight * (y - x)

    return Fluid(
        mix(a.density, b.density),
        mix(a.heat_capacity, b.heat_capacity),
        math.exp(mix(math.log(a.viscosity), math.log(b.viscosity))),
        mix(a.conductivity, b.conductivity),
        extrapolated,
    )


def _share(volume_share: float) -> float:
    return within("volume share of glycol", volume_share, 0, MOST_SHARE)


@lru_cache(maxsize=512)
@takes(volume_share=GLYCOL)
def frost_point(*, volume_share: float) -> float:
    """Frost point of a mixture [°C]; volume_share 0 to 0.60 [-]. Source: methods 9, ASHRAE."""
    volume_share = _share(volume_share)
    if volume_share < LEAST_DATA_SHARE:
        return volume_share / LEAST_DATA_SHARE * frost_point(volume_share=LEAST_DATA_SHARE)
    return _series(FROST, SHARES, volume_share)


@lru_cache(maxsize=8192)
def properties(*, volume_share: float, temperature: float) -> Fluid:
    """Properties of the fluid at volume_share [-] and temperature [°C]. Source: methods 9.

    Raises OutOfRangeError above 60 %, below −35 °C or above 200 °C, ImpossibleInputError below the frost point.
    """
    volume_share = _share(volume_share)
    temperature = within("fluid temperature", temperature, COLDEST_C, HOTTEST_C, dimension="temperature")
    frost = frost_point(volume_share=volume_share)
    if temperature < frost - 1e-9:
        raise ImpossibleInputError(
            "{at} is below the frost point of this mixture, {frost}",
            at=(temperature, "temperature"),
            frost=(frost, "temperature"),
        )
    if volume_share == 0:
        return _water(temperature)
    if volume_share < LEAST_DATA_SHARE:
        # the 10 % mixture has no data below its own frost point nor the water below 0 °C: hold the ends
        rich = properties(volume_share=LEAST_DATA_SHARE, temperature=temperature)
        return _blend(_water(temperature), rich, volume_share / LEAST_DATA_SHARE, rich.extrapolated)
    if temperature > LAST_DATA_C:
        low, high = _mixture(volume_share, SLOPE_FROM_C), _mixture(volume_share, LAST_DATA_C)
        return _blend(low, high, (temperature - SLOPE_FROM_C) / (LAST_DATA_C - SLOPE_FROM_C), extrapolated=True)
    return _mixture(volume_share, temperature)


def strength(*, design_minimum: float, margin: float = 5.0) -> float:
    """Smallest step of 5 %, at least 25 %, whose frost point lies `margin` [K] below design_minimum [°C].

    Raises ImpossibleInputError where 60 % is not enough. Source: methods 9.
    """
    for step in range(round(LEAST_STRENGTH / STRENGTH_STEP), round(MOST_SHARE / STRENGTH_STEP) + 1):
        share = step * STRENGTH_STEP
        share = round(share, 2)
        if frost_point(volume_share=share) <= design_minimum - margin:
            return share
    raise ImpossibleInputError(
        "no mixture up to {most_share} stands {design_minimum} °C with {margin} K to spare",
        most_share=f"{MOST_SHARE:.0%}",
        design_minimum=f"{design_minimum:g}",
        margin=f"{margin:g}",
    )


def water_vapour_pressure(*, temperature: float) -> float:
    """Saturation pressure of water [Pa absolute] at a temperature 0.01 to 350 [°C]. Source: IAPWS."""
    return math.exp(
        _series(VAPOUR, VAPOUR_C, within("water temperature", temperature, *VAPOUR_C, dimension="temperature"))
    )


# Antoine, ln p = A − B/(T + C), through 20 °C 11 Pa, 100 °C 2.97 kPa and 150 °C 27.5 kPa
def _antoine() -> tuple[float, float, float]:
    (t1, p1), (t2, p2), (t3, p3) = (20.0, 11.0), (100.0, 2970.0), (150.0, 27500.0)
    l1, l2, l3 = math.log(p1), math.log(p2), math.log(p3)

    def gap(c: float) -> float:
        """How far the curve misses the middle point for a C."""
        b = (l2 - l1) / (1 / (t1 + c) - 1 / (t2 + c))
        return (l3 - l2) - b * (1 / (t2 + c) - 1 / (t3 + c))

    c = brentq(gap, 60, 400)
    b = (l2 - l1) / (1 / (t1 + c) - 1 / (t2 + c))
    return l1 + b / (t1 + c), b, c


_GLYCOL_A, _GLYCOL_B, _GLYCOL_C = _antoine()


@takes(temperature=CELSIUS)
def glycol_vapour_pressure(*, temperature: float) -> float:
    """Saturation pressure of propylene glycol [Pa absolute] at a temperature [°C]. Source: methods 9."""
    return math.exp(_GLYCOL_A - _GLYCOL_B / (temperature + _GLYCOL_C))


@lru_cache(maxsize=4096)
def boiling_point(*, volume_share: float, pressure_abs: float) -> float:
    """Boiling point [°C] of a mixture at pressure_abs [Pa absolute, 1 kPa to 3 MPa] by Raoult's law.

    Mole shares from ideal volumes at 20 °C. Raises OutOfRangeError outside the pressures. Source: methods 9.
    """
    volume_share = _share(volume_share)
    pressure_abs = within("absolute pressure", pressure_abs, 1e3, 3e6, "Pa")
    water = (1 - volume_share) * WATER_KG_M3 / WATER_KG_MOL
    glycol = volume_share * GLYCOL_KG_M3 / GLYCOL_KG_MOL
    x_water = water / (water + glycol)

    def excess(temperature: float) -> float:
        """What the mixture's vapour pushes over the pressure asked for [Pa]."""
        return (
            x_water * water_vapour_pressure(temperature=temperature)
            + (1 - x_water) * glycol_vapour_pressure(temperature=temperature)
            - pressure_abs
        )

    return float(brentq(excess, 1.0, 290.0, xtol=1e-4))


@takes(loop_volume=NOT_NEGATIVE, share=SHARE, wanted=SHARE, concentrate=SHARE)
def exchange_litres(*, loop_volume: float, share: float, wanted: float, concentrate: float) -> float:
    """Volume to drain and replace by concentrate [m³] to bring a diluted loop to its strength.

    loop_volume [m³]; shares [-]. Raises ImpossibleInputError if the concentrate is not above both. Source: methods 9.
    """
    if wanted <= share:
        return 0.0
    if concentrate <= wanted:
        raise ImpossibleInputError("the concentrate must be stronger than the strength wanted")
    return loop_volume * (wanted - share) / (concentrate - share)


@record
class FirstMix:
    """Strength to fill with [-], and whether the concentrate allows it."""

    share: float
    possible: bool


@takes(loop_volume=NOT_NEGATIVE, residual_water=NOT_NEGATIVE, wanted=SHARE, concentrate=SHARE)
def first_mix(*, loop_volume: float, residual_water: float, wanted: float, concentrate: float) -> FirstMix:
    """Strength of the first mix when residual_water [m³] stays in a loop of loop_volume [m³]. Source: methods 9."""
    if not 0 <= residual_water < loop_volume:
        raise OutOfRangeError("residual water", residual_water, 0, loop_volume, "m³")
    share = wanted * loop_volume / (loop_volume - residual_water)
    return FirstMix(share, share <= concentrate)


@takes(loop_volume=POSITIVE, share=SHARE, water=NOT_NEGATIVE)
def share_after_water(*, loop_volume: float, share: float, water: float) -> float:
    """Strength [-] after water [m³] took the place of as much fluid in a loop of loop_volume [m³]."""
    water = within("water added", water, 0, loop_volume, "m³")
    return share * (1 - water / loop_volume)
