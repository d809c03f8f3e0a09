"""How many collectors stand side by side. Source: methods 12."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes

GAP_M, SIDE_CLEARANCE_M = 0.03, 0.5  # m between collectors and to the verge, rules of thumb


@takes(
    roof_width=NOT_NEGATIVE,
    collector_width=POSITIVE,
    gap=NOT_NEGATIVE,
    side_clearance=NOT_NEGATIVE,
    edge_zone=NOT_NEGATIVE,
)
def row_count(
    *,
    roof_width: float,
    collector_width: float,
    gap: float = GAP_M,
    side_clearance: float = SIDE_CLEARANCE_M,
    edge_zone: float = 0.0,
) -> int:
    """Collectors in one row across a roof; all lengths [m]. Side clearance and edge zone stay free on each side."""
    free = roof_width - 2 * max(side_clearance, edge_zone)
    return max(0, math.floor((free + gap) / (collector_width + gap) + 1e-9))


@takes(base_height=FINITE, slope=FINITE)
def foot_heights(*, base_height: float, slope: float, distances: Sequence[float]) -> tuple[float, ...]:
    """Height of each foot of a row that falls to its drain end: base [m] at distance 0, slope [-], distances [m]."""
    return tuple(base_height + slope * distance for distance in distances)
