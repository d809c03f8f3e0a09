"""How many collectors stand side by side. Source: methods 12."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.terms.errors import ImpossibleInputError

GAP_M, SIDE_CLEARANCE_M = 0.03, 0.5  # m between collectors and to the verge, rules of thumb


def row_count(
    *,
    roof_width: float,
    collector_width: float,
    gap: float = GAP_M,
    side_clearance: float = SIDE_CLEARANCE_M,
    edge_zone: float = 0.0,
) -> int:
    """Collectors in one row across a roof; all lengths [m]. Side clearance and edge zone stay free on each side."""
    if collector_width <= 0:
        raise ImpossibleInputError("a collector has a width above zero")
    free = roof_width - 2 * max(side_clearance, edge_zone)
    return max(0, math.floor((free + gap) / (collector_width + gap) + 1e-9))


def foot_heights(*, base_height: float, slope: float, distances: Sequence[float]) -> tuple[float, ...]:
    """Height of each foot of a row that falls to its drain end: base [m] at distance 0, slope [-], distances [m]."""
    return tuple(base_height + slope * distance for distance in distances)
