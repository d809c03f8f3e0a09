"""Rows one behind another, on the ground or a flat roof: how far apart, so that the winter sun passes. Source: methods 12."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from rowan.core.design.design import Design
from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, POSITIVE, Span, takes
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH
from rowan.core.weather.hours import HOUR_DEG
from rowan.core.weather.rows import Rows, behind_in_days
from rowan.core.weather.sun import TROPIC_DEG, mean_days, plane_months

CRITERION_H = 9.0  # o'clock by the sun, on the winter solstice
LEAST_SUN_DEG = 8.0  # ° of the sun's height under which the rule is not usable: it is taken, and said
LEAST_PITCH = 1.001  # rows cannot stand closer than they are long, or they lie on each other


@record
class RowPitch:
    """Distance from row to row [m] and the sun it comes from: height and bearing [°], and whether the least height stood in."""

    pitch: float
    sun_height: float
    sun_bearing: float
    floor_used: bool


@takes(slope_length=POSITIVE, tilt=Span(0.0, 90.0), latitude=LATITUDE, azimuth=ANY_ANGLE, ground=Span(0.0, 90.0))
def row_pitch(*, slope_length: float, tilt: float, latitude: float, azimuth: float, ground: float = 0.0) -> RowPitch:
    """How far apart rows stand so that at 9 h of the shortest day none shades the next; length [m], angles [°]. Source: methods 12.

    On a roof of a pitch `ground` that faces as the rows do, the distance is up its slope, and the sun stands higher over it.
    """
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
    # in the plane across the rows: the row's tilt and the sun's height, both over what they stand on
    beta, turn = math.radians(max(tilt - ground, 0.0)), math.radians(bearing - azimuth)
    toward = max(math.cos(turn), 0.0)
    over = math.atan2(math.tan(math.radians(used)), toward) + math.radians(ground)
    shadow = math.sin(beta) * max(math.cos(over), 0.0) / math.sin(over)
    return RowPitch(slope_length * (math.cos(beta) + shadow), height, bearing, low)


def rule_of(design: Design) -> RowPitch:
    """The rule's distance for a design's rows."""
    item, survey = design.collector.item.value, design.survey
    length = item.width_m if design.roof.lying.value else item.slope_length_m
    return row_pitch(
        slope_length=length,
        tilt=design.tilt_deg,
        latitude=survey.latitude_deg.value,
        azimuth=survey.roof_azimuth_deg.value,
        ground=design.stands_on_deg,
    )


def rows_behind(design: Design) -> Rows | None:
    """Rows of a design that stand behind each other; None for one row, and for rows one above another on a slope."""
    count, roof = len(design.rows_first), design.roof
    if count < 2 or not design.stands_behind:
        return None
    item = design.collector.item.value
    length = item.width_m if roof.lying.value else item.slope_length_m
    pitch = rule_of(design).pitch if roof.row_pitch_m.value is None else roof.row_pitch_m.value
    facing, ground = design.survey.roof_azimuth_deg.value, min(design.stands_on_deg, design.tilt_deg)
    return Rows(count, length, max(pitch, length * LEAST_PITCH), design.tilt_deg, facing, ground)


MOST_LOSS = 0.03  # of the year's sun that rows may take from each other, methods 12
FARTHEST_M = 40.0  # m; no site is larger for the purpose
HALVINGS = 14


def loss_at(design: Design, pitch: float) -> float:
    """Share of the year's sun that the field's rows take from each other at a distance [m]."""
    rows = rows_behind(design)
    return 0.0 if rows is None else _loss(_sun(design), replace(rows, pitch=max(pitch, rows.length * LEAST_PITCH)))


def pitch_by_loss(design: Design) -> float | None:
    """The distance at which rows take less than three in a hundred from each other [m]; None for one row. Source: methods 12."""
    rows = rows_behind(design)
    if rows is None:
        return None
    sun, low, high = _sun(design), rows.length * LEAST_PITCH, FARTHEST_M
    if _loss(sun, replace(rows, pitch=low)) < MOST_LOSS:
        return low
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if _loss(sun, replace(rows, pitch=middle)) < MOST_LOSS else (middle, high)
    return high


Sun = tuple[float, tuple[float, ...]]


def _sun(design: Design) -> Sun:
    survey = design.survey
    return survey.latitude_deg.value, tuple(x * KWH for x in survey.normals.value.ghi_kwh_m2_day)


@lru_cache(512)
def _loss(sun: Sun, rows: Rows) -> float:
    days = mean_days(latitude=sun[0], ghi=sun[1])
    free = plane_months(days=days, tilt=rows.tilt, azimuth=rows.azimuth)
    seen = plane_months(days=behind_in_days(days, rows), tilt=rows.tilt, azimuth=rows.azimuth)
    got = seen.beam + seen.diffuse * rows.sky_kept
    month = np.array(DAYS_IN_MONTH, dtype=float)
    return float(1 - (got @ month) / ((free.beam + free.diffuse) @ month))
