"""What dragging something on a drawing changes in the design."""

from __future__ import annotations

import math

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change

FIRST = "roof"  # the first plane, where others have their ids
MOST_UP_DEG = 85.0  # ° over the level, as the input allows
LEAST_TALL_M, MOST_TALL_M = 0.1, 200.0  # m of an obstacle


def joint_changes(design: Design, line: str, leg_id: str, lift: float) -> list[Change]:
    """Lift the joint at a leg's end by `lift` [m]: this leg rises more, the next one less; a fitted leg takes it up."""
    legs = design.run.cold if line == "cold" else design.run.hot
    at = next((i for i, leg in enumerate(legs) if leg.id == leg_id), None)
    if at is None:
        raise JobFileError(f"joint:{line}.{leg_id}", "there is no such joint")
    changes = []
    for leg, change in ((legs[at], lift), (legs[at + 1] if at + 1 < len(legs) else None, -lift)):
        if leg is not None and not leg.fitted:
            rise = round(leg.rise_m + change, 4)
            if abs(rise) > leg.length_m + 1e-9:
                raise JobFileError(
                    f"run.{line}.{leg.id}", f"this leg is {leg.length_m:g} m long and cannot rise {abs(rise):.2f} m"
                )
            changes.append(Change(f"run.{line}.{leg.id}.rise_m", rise))
    return changes


def _row(design: Design, rows: str, key: str, path: str) -> None:
    if all(row.id != key for row in getattr(design.sun, rows)):
        raise JobFileError(path, "this is no longer there")


def _sky_changes(design: Design, path: str, bearing: float, height: float) -> list[Change]:
    """What moving something in the sky changes: its bearing and how far up it stands, both in degrees."""
    kind, _, key = path.partition(":")
    bearing = round(bearing % 360, 1)
    if kind == "plane":
        pitch = round(min(max(height, 0.0), 90.0), 1)
        if key == FIRST:
            return [Change("survey.roof_azimuth_deg", bearing), Change("survey.roof_tilt_deg", pitch)]
        own = _plane(design, key, path)
        return [Change(f"{own}.azimuth_deg", bearing), Change(f"{own}.pitch_deg", pitch)]
    if kind == "horizon":
        _row(design, "horizon", key, path)
        up = round(min(max(height, 0.0), MOST_UP_DEG), 1)
        return [Change(f"sun.horizon.{key}.bearing_deg", bearing), Change(f"sun.horizon.{key}.elevation_deg", up)]
    _row(design, "obstacles", key, path)
    distance = next(o.distance_m for o in design.sun.obstacles if o.id == key)
    tall = distance * math.tan(math.radians(min(max(height, 0.0), MOST_UP_DEG)))
    return [
        Change(f"sun.obstacles.{key}.bearing_deg", bearing),
        Change(f"sun.obstacles.{key}.height_m", round(min(max(tall, LEAST_TALL_M), MOST_TALL_M), 2)),
    ]


def _plane(design: Design, key: str, path: str) -> str:
    """Where the inputs of another plane stand."""
    if all(plane.id != key for plane in design.roof.planes):
        raise JobFileError(path, "this plane is no longer there")
    return f"roof.planes.{key}"


def _roof_changes(design: Design, path: str, x: float, y: float) -> list[Change]:
    """What moving the field or a thing on the roof changes: its lower left corner on the plane [m]."""
    kind, _, key = path.partition(":")
    x, y = round(x, 3), round(y, 3)
    if kind == "field":
        own = "roof" if key == FIRST else _plane(design, key, path)
        return [Change(f"{own}.field_x_m", x), Change(f"{own}.field_y_m", y)]
    if kind == "hole":
        if key not in ("cold", "hot"):
            raise JobFileError(path, "there are a cold line and a hot line")
        return [Change(f"roof.{key}_hole_x_m", x), Change(f"roof.{key}_hole_y_m", y)]
    if all(row.id != key for row in design.roof.objects):
        raise JobFileError(path, "this is no longer there")
    return [Change(f"roof.objects.{key}.x_m", max(x, 0.0)), Change(f"roof.objects.{key}.y_m", max(y, 0.0))]


def handle_changes(design: Design, path: str, value: float, second: float | None = None) -> list[Change]:
    """Changes of a handle: `joint:hot.h4` lifts a joint by a value [m], any other path sets its input (stored unit).

    `obstacle:o1`, `horizon:p1`, `plane:roof` and another plane's `plane:p1` are moved both ways: bearing and height, or tilt [°];
    `field:roof`, `field:p1`, `object:o1` and `hole:hot` on a roof's plane [m]. Raises JobFileError.
    """
    if path.startswith("joint:"):
        line, _, leg = path.removeprefix("joint:").partition(".")
        return joint_changes(design, line, leg, value)
    if path.startswith(("field:", "object:", "hole:")):
        if second is None or not (math.isfinite(value) and math.isfinite(second)):
            raise JobFileError(path, "both places on the plane are needed")
        return _roof_changes(design, path, value, second)
    if path.startswith(("obstacle:", "horizon:", "plane:")):
        if second is None or not (math.isfinite(value) and math.isfinite(second)):
            raise JobFileError(path, "bearing and height are needed")
        return _sky_changes(design, path, value, second)
    spec = locate(design, path).spec
    if spec.kind not in ("number", "whole"):
        raise JobFileError(path, "this is not moved on a drawing")
    reason = spec.refuse(value)
    if reason:
        raise JobFileError(path, reason)
    return [Change(path, round(value, 6))]
