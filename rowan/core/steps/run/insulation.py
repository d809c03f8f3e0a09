"""Heat a lagged pipe loses."""

from __future__ import annotations

import math

from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.limits import POSITIVE, takes

FILM_INDOORS, FILM_OUTDOORS = 10.0, 20.0  # W/m²K, methods 6
SOIL_W_MK = 1.5  # W/mK of moist soil, rule of thumb, methods 6
SHALLOWEST = 1.5  # depth over radius from which the soil's formula holds
OUTDOORS = ("roof", "outside")


@takes(outer_radius=POSITIVE, insulated_radius=POSITIVE, conductivity=POSITIVE, film=POSITIVE, buried_depth=POSITIVE)
def loss_per_metre(
    *,
    outer_radius: float,
    insulated_radius: float,
    conductivity: float,
    film: float = FILM_INDOORS,
    buried_depth: float | None = None,
) -> float:
    """Heat lost per metre and kelvin [W/m·K]; radii and depth [m], conductivity [W/m·K], film [W/m²K].

    A buried pipe (depth of its middle) has the soil in place of the film. Source: methods 6.
    """
    if insulated_radius < outer_radius or outer_radius <= 0:
        raise OutOfRangeError("insulated radius", insulated_radius, outer_radius, None, "m")
    resistance = math.log(insulated_radius / outer_radius) / (2 * math.pi * conductivity)
    if buried_depth is None:
        resistance += 1 / (2 * math.pi * insulated_radius * film)
    else:
        buried_depth = max(buried_depth, SHALLOWEST * insulated_radius)
        resistance += math.log(2 * buried_depth / insulated_radius) / (2 * math.pi * SOIL_W_MK)
    return 1 / resistance
