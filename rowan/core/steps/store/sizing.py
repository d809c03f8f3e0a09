"""Store geometry, coil and the sizing rules shown beside the result."""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.terms.limits import NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.record import record

CoilKind = Literal["plain", "finned", "wrapped"]
# W/m²K in free convection, per external area (wrapped: per tube surface), rules of thumb
COIL_U: dict[CoilKind, float] = {"plain": 300.0, "finned": 180.0, "wrapped": 150.0}
# least coil area per collector aperture [-], rules of thumb; a wrapped tube counts half a plain one
LEAST_COIL: dict[CoilKind, float] = {"plain": 0.2, "finned": 0.35, "wrapped": 0.4}
USUAL_L_M2 = (50.0, 75.0)  # L for each m² of aperture, methods 5
BEARABLE_L_M2 = (35.0, 110.0)  # L/m², outside it the store is wrong for the field


@takes(coil_area=NOT_NEGATIVE)
def coil_conductance(*, kind: CoilKind, coil_area: float) -> float:
    """Conductance of a coil [W/K] of coil_area [m²]. Source: methods 5, rule of thumb."""
    return COIL_U[kind] * coil_area


@record
class CoilCheck:
    """Coil area per collector area [-] and whether the rule is kept."""

    ratio: float
    enough: bool


@takes(coil_area=NOT_NEGATIVE, collector_area=POSITIVE)
def coil_check(*, kind: CoilKind, coil_area: float, collector_area: float) -> CoilCheck:
    """Whether a coil [m²] suits a field [m² aperture]. Source: methods 5, rule of thumb."""
    ratio = coil_area / collector_area
    return CoilCheck(ratio, ratio >= LEAST_COIL[kind] - 1e-12)


@takes(dry_mass=NOT_NEGATIVE, contents_mass=NOT_NEGATIVE, footprint=POSITIVE)
def floor_load(*, dry_mass: float, contents_mass: float, footprint: float) -> float:
    """Load of a full store on the floor [kg/m²]; masses [kg], footprint [m²]. Source: methods 5."""
    return (dry_mass + contents_mass) / footprint


@takes(volume=POSITIVE, diameter=POSITIVE)
def cylinder_height(*, volume: float, diameter: float) -> float:
    """Inside height [m] of an upright cylinder of volume [m³] and diameter [m]."""
    return volume / (math.pi / 4 * diameter**2)
