"""Short hands for the horizons of the demo world."""

from __future__ import annotations

from rowan.core.design.inputs.sun import HorizonPoint, Obstacle
from rowan.core.terms.finding import Change


def horizon(*points: tuple[float, float]) -> Change:
    """Measured points of the horizon: bearing and elevation [°]."""
    rows = [
        HorizonPoint(id=f"p{n}", bearing_deg=bearing, elevation_deg=up) for n, (bearing, up) in enumerate(points, 1)
    ]
    return Change("sun.horizon", rows)


def obstacles(*rows: Obstacle) -> Change:
    """What stands before it."""
    return Change("sun.obstacles", list(rows))
