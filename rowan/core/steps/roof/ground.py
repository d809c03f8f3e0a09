"""Rows one behind another, on the ground or a flat roof: how far apart, so that the winter sun passes. Source: methods 12."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, POSITIVE, Span, takes
from rowan.core.weather.sun import TROPIC_DEG

CRITERION_H = 9.0  # o'clock by the sun, on the winter solstice
LEAST_SUN_DEG = 8.0  # ° of the sun's height under which the rule is not usable: it is taken, and said
HOUR_DEG = 15.0  # ° the sun turns in an hour


@dataclass(frozen=True)
class RowPitch:
    """Distance from row to row [m] and the sun it comes from: height and bearing [°], and whether the least height stood in."""

    pitch: float
    sun_height: float
    sun_bearing: float
    floor_used: bool


@takes(slope_length=POSITIVE, tilt=Span(0.0, 90.0), latitude=LATITUDE, azimuth=ANY_ANGLE)
def row_pitch(*, slope_length: float, tilt: float, latitude: float, azimuth: float) -> RowPitch:
    """How far apart rows stand so that at 9 h of the shortest day none shades the next; length [m], angles [°]. Source: methods 12."""
    phi = math.radians(latitude)
    winter = math.radians(-TROPIC_DEG if latitude >= 0 else TROPIC_DEG)
    hour = math.radians((CRITERION_H - 12) * HOUR_DEG)
    up = math.sin(phi) * math.sin(winter) + math.cos(phi) * math.cos(winter) * math.cos(hour)
    height = math.degrees(math.asin(up))
    east = -math.cos(winter) * math.sin(hour)
    north = math.cos(phi) * math.sin(winter) - math.sin(phi) * math.cos(winter) * math.cos(hour)
    bearing = math.degrees(math.atan2(east, north)) % 360
    low = height < LEAST_SUN_DEG
    used = LEAST_SUN_DEG if low else height
    beta, turn = math.radians(tilt), math.radians(bearing - azimuth)
    shadow = math.sin(beta) * max(math.cos(turn), 0.0) / math.tan(math.radians(used))
    return RowPitch(slope_length * (math.cos(beta) + shadow), height, bearing, low)
