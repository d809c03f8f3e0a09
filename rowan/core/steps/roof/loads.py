"""Wind and snow on a field, and what a screw holds. For planning: the local code and an engineer decide. Source: methods 12."""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.limits import ANY_ANGLE, FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.units import INCH

Zone = Literal["field", "edge", "corner"]
WIND_PA = 0.613  # Pa by (m/s)², half the density of air
DEAD_SHARE = 0.6  # of its own weight that counts against lift
GUST_AT_M, LEAST_HEIGHT_M, GROWTH = 10.0, 5.0, 0.1  # gust by height, methods 12
EDGE_SHARE, LEAST_EDGE_M = 0.1, 0.9  # edge zone: of the least side of the roof, and m at least
# net lift by the way collectors stand and the zone a foot stands in, methods 12
LIFT: dict[str, dict[Zone, float]] = {
    "flush": {"field": 1.0, "edge": 1.5, "corner": 2.0},
    "rack": {"field": 1.8, "edge": 2.6, "corner": 2.6},
    # built in they lie as flush ones do, standing in rows as racked ones
    "integrated": {"field": 1.0, "edge": 1.5, "corner": 2.0},
    "sawtooth": {"field": 1.8, "edge": 2.6, "corner": 2.6},
    "ground": {"field": 1.8, "edge": 1.8, "corner": 1.8},
    "wall": {"field": 1.2, "edge": 1.6, "corner": 1.6},
    "awning": {"field": 2.2, "edge": 2.2, "corner": 2.2},
}
# gust at 10 m [m/s], defaults: roof
EXPOSURE = {"sheltered": 30.0, "open": 38.0, "coast": 46.0}
FLAT_SNOW, FLAT_TO_DEG, NONE_FROM_DEG = 0.8, 30.0, 60.0  # shape of snow on a roof, methods 12
SHORT_LOAD = 1.6  # a gust lasts seconds: timber bears more for so long, NDS
LBF_IN_N_M = 175.12683525  # N/m in one pound-force by the inch


@takes(gust=NOT_NEGATIVE, height=FINITE)
def gust_at(*, gust: float, height: float) -> float:
    """Gust at a height [m/s, m] from the one at 10 m [m/s]. Source: methods 12."""
    return gust * (max(height, LEAST_HEIGHT_M) / GUST_AT_M) ** GROWTH


@takes(gust=NOT_NEGATIVE)
def wind_pressure(*, gust: float) -> float:
    """Pressure of a gust [Pa, m/s]. Source: methods 12."""
    return WIND_PA * gust**2


@takes(gust=NOT_NEGATIVE, area=NOT_NEGATIVE, mass=NOT_NEGATIVE, tilt=ANY_ANGLE, fixings=POSITIVE)
def uplift(*, gust: float, lift: float, area: float, mass: float, tilt: float, fixings: int) -> float:
    """Mean lift of each fixing [N], none where weight holds: gust [m/s], coefficient, area [m²], mass [kg], tilt [°].

    Source: methods 12.
    """
    down = DEAD_SHARE * mass * GRAVITY * math.cos(math.radians(tilt))
    return max(0.0, (wind_pressure(gust=gust) * lift * area - down) / fixings)


@takes(tilt=ANY_ANGLE)
def snow_shape(*, tilt: float, slides: bool = True) -> float:
    """Share of the ground's snow that lies on a tilt [°]. Source: methods 12."""
    if not slides or tilt <= FLAT_TO_DEG:
        return FLAT_SNOW
    return FLAT_SNOW * max(NONE_FROM_DEG - tilt, 0.0) / (NONE_FROM_DEG - FLAT_TO_DEG)


@takes(ground_snow=NOT_NEGATIVE, tilt=ANY_ANGLE, area=NOT_NEGATIVE)
def snow_force(*, ground_snow: float, tilt: float, area: float, slides: bool = True) -> float:
    """Weight of the snow on an area [N]: ground snow [Pa], tilt [°], area along the slope [m²]. Source: methods 12."""
    return ground_snow * snow_shape(tilt=tilt, slides=slides) * area * math.cos(math.radians(tilt))


@takes(width=POSITIVE, height=POSITIVE)
def edge_zone(*, width: float, height: float) -> float:
    """Width of a roof's edge zone [m]; its sides [m]. Source: defaults, roof."""
    return max(EDGE_SHARE * min(width, height), LEAST_EDGE_M)


@takes(gravity=POSITIVE, diameter=POSITIVE)
def lag_withdrawal(*, gravity: float, diameter: float) -> float:
    """What a lag screw holds by its thread against a gust [N/m]; specific gravity of the timber, shank [m]. Source: NDS, methods 12."""
    return float(1800 * gravity**1.5 * (diameter / INCH) ** 0.75 * LBF_IN_N_M * SHORT_LOAD)


@takes(gravity=POSITIVE, diameter=POSITIVE)
def wood_screw_withdrawal(*, gravity: float, diameter: float) -> float:
    """What a wood screw holds by its thread against a gust [N/m]; specific gravity of the timber, shank [m]. Source: NDS, methods 12."""
    return float(2850 * gravity**2 * (diameter / INCH) * LBF_IN_N_M * SHORT_LOAD)
