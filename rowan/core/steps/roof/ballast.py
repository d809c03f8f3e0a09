"""What weight holds a field down on a flat roof: against lift, and against sliding on a wet membrane. Source: defaults, roof."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.roof.loads import LIFT, wind_pressure
from rowan.core.steps.roof.result import RoofResult
from rowan.core.terms.constants import GRAVITY

FRICTION = 0.3  # of a tray on a wet membrane, defaults: roof
STEEPEST_DEG = 5.0  # ° of roof up to which ballast may stand without a test, defaults: roof


def ballast_needed(design: Design, roof: RoofResult) -> float:
    """Ballast that holds the whole field against this gust [kg]: its weight counts in full, friction holds what is left of it."""
    item, count = design.collector.item.value, design.collector.count.value
    tilt = math.radians(design.tilt_deg)
    normal = wind_pressure(gust=roof.gust) * LIFT[design.roof.way.value]["field"] * item.gross_m2 * count
    up, aside = normal * math.cos(tilt), normal * math.sin(tilt)
    return max(up + aside / FRICTION - item.dry_mass_kg * count * GRAVITY, 0.0) / GRAVITY
