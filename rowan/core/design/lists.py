"""Adding to and taking from a design's lists: obstacles, points of the horizon, legs, the fluid's log, the backup's windows."""

from __future__ import annotations

from typing import Any, Literal

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.design.inputs.functions import BackupWindow
from rowan.core.design.inputs.roof import RoofObject, RoofPlane
from rowan.core.design.inputs.sun import HorizonPoint, Obstacle
from rowan.core.design.legs import insert_leg, split_leg, take_leg
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change

# what something new is like until somebody has looked
NEW: dict[str, dict[str, float]] = {
    "tree": {"distance_m": 15.0, "width_m": 5.0, "height_m": 4.0, "summer": 0.2, "winter": 0.6},
    "chimney": {"distance_m": 6.0, "width_m": 0.8, "height_m": 1.5},
    "house": {"distance_m": 25.0, "width_m": 10.0, "height_m": 4.0},
}
# on the roof itself: kind, width and height [m]
NEW_ON_ROOF: dict[str, tuple[Literal["window", "chimney", "vent", "hip", "valley"], float, float]] = {
    "roof-window": ("window", 0.8, 1.2),
    "roof-chimney": ("chimney", 0.7, 0.7),
    "roof-vent": ("vent", 0.15, 0.15),
    "roof-hip": ("hip", 0.0, 0.0),
    "roof-valley": ("valley", 0.0, 0.0),
}
NEW_POINT_DEG = 5.0  # ° over the level, where a new point of the horizon begins
APART_DEG = 20.0  # ° beside the last point


def free_id(letter: str, taken: list[str]) -> str:
    """The first id of a letter and a number that no entry has yet."""
    return next(f"{letter}{n}" for n in range(1, len(taken) + 2) if f"{letter}{n}" not in taken)


def _free_bearing(wanted: float, taken: list[float]) -> float:
    """The bearing nearest to the one wanted that keeps apart from what stands there; the one wanted in a crowd."""
    for step in range(18):
        for sign in (1, -1):
            bearing = (wanted + sign * step * APART_DEG) % 360
            if all(abs((bearing - other + 180) % 360 - 180) >= APART_DEG for other in taken):
                return bearing
    return wanted


def add_entry(design: Design, kind: str) -> tuple[Change, str]:
    """The change that adds a tree, a chimney, a house or a point of the horizon, and how it is worded.

    It stands toward where the roof looks. `leg:hot:h3` puts a leg after another, `split:hot:h3` cuts one in two.
    Raises JobFileError for another kind.
    """
    if kind.startswith(("leg:", "split:")):
        what, line, key = (*kind.split(":", 2), "", "")[:3]
        return insert_leg(design, line, key) if what == "leg" else split_leg(design, line, key)
    if kind == "reading":
        entry = FluidEntry(id=free_id("r", [e.id for e in design.charge.log]))
        return Change("charge.log", [*design.charge.log, entry]), "a line of the fluid's log added"
    if kind == "window":
        windows = design.functions.windows
        window = BackupWindow(id=free_id("w", [w.id for w in windows]))
        return Change("functions.windows", [*windows, window]), "a window of the backup added"
    sun, toward = design.sun, design.survey.roof_azimuth_deg.value
    if kind == "horizon":
        bearing = _free_bearing(toward, [p.bearing_deg for p in sun.horizon])
        point = HorizonPoint(
            id=free_id("p", [p.id for p in sun.horizon]),
            bearing_deg=bearing,
            elevation_deg=NEW_POINT_DEG,
            origin="assumed",
        )
        return Change("sun.horizon", [*sun.horizon, point]), "a point of the horizon added"
    if kind.partition(":")[0] in NEW_ON_ROOF:
        return _on_roof(design, *kind.partition(":")[::2])
    if kind == "plane":
        return _new_plane(design)
    if kind not in NEW:
        raise JobFileError("sun", "there is nothing of that kind to add")
    data: dict[str, Any] = {
        "id": free_id("o", [o.id for o in sun.obstacles]),
        "kind": kind,
        "bearing_deg": _free_bearing(toward, [o.bearing_deg for o in sun.obstacles]),
        "origin": "assumed",
        **NEW[kind],
    }
    return Change("sun.obstacles", [*sun.obstacles, Obstacle(**data)]), f"a {kind} added"


def _new_plane(design: Design) -> tuple[Change, str]:
    """The slope over the ridge, of the first one's pitch and size, until somebody has measured it."""
    survey, planes = design.survey, design.roof.planes
    plane = RoofPlane(
        id=free_id("p", [plane.id for plane in planes]),
        azimuth_deg=(survey.roof_azimuth_deg.value + 180 - 90 * len(planes)) % 360,
        pitch_deg=survey.roof_tilt_deg.value,
        width_m=survey.roof_width_m.value,
        slope_m=survey.roof_slope_m.value,
        origin="assumed",
    )
    return Change("roof.planes", [*planes, plane]), "a plane of the roof added"


def _on_roof(design: Design, kind: str, on: str = "") -> tuple[Change, str]:
    """A window, chimney or vent pipe on the roof, beside the field until somebody has taped it; a hip from the eave to the ridge."""
    what, width, height = NEW_ON_ROOF[kind]
    rows, plane = design.roof.objects, next((plane for plane in design.roof.planes if plane.id == on), None)
    if on and plane is None:
        raise JobFileError("roof.planes", "this plane is no longer there")
    wide = design.survey.roof_width_m.value if plane is None else plane.width_m
    tall = design.survey.roof_slope_m.value if plane is None else plane.slope_m
    edge = what in ("hip", "valley")
    thing = RoofObject(
        id=free_id("o", [row.id for row in rows]),
        kind=what,
        x_m=0.0 if edge else round(0.08 * wide, 2),
        y_m=0.0 if edge else round(0.6 * tall, 2),
        width_m=round(min(0.3 * wide, tall), 2) if edge else width,
        height_m=min(tall, 20.0) if edge else height,
        plane=on,
        origin="assumed",
    )
    return Change("roof.objects", [*rows, thing]), f"a {what} on the roof added"


def remove_entry(design: Design, path: str, key: str) -> tuple[Change, str]:
    """The change that takes an entry from `sun.obstacles` or `sun.horizon`, and how it is worded. Raises JobFileError."""
    rows: list[Any]
    if path == "sun.obstacles":
        rows = list(design.sun.obstacles)
    elif path == "sun.horizon":
        rows = list(design.sun.horizon)
    elif path == "roof.objects":
        rows = list(design.roof.objects)
    elif path == "roof.planes":
        rows = list(design.roof.planes)
        if any(thing.plane == key for thing in design.roof.objects):
            raise JobFileError(path, "something stands on this plane: take that away first")
    elif path == "charge.log":
        rows = list(design.charge.log)
    elif path == "functions.windows":
        rows = list(design.functions.windows)
    elif path in ("run.cold", "run.hot"):
        return take_leg(design, path.removeprefix("run."), key)
    else:
        raise JobFileError(path, "nothing is taken from there")
    left = [row for row in rows if row.id != key]
    if len(left) == len(rows):
        raise JobFileError(path, "this is no longer there")
    gone = next(row for row in rows if row.id == key)
    named = {
        "charge.log": "a line of the fluid's log",
        "functions.windows": "a window of the backup",
        "roof.planes": "a plane",
    }
    what = named.get(path) or getattr(gone, "kind", "a point of the horizon")
    return Change(path, left), f"{what} taken away"
