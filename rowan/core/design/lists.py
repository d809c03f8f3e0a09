"""Adding to and taking from a design's lists: obstacles, points of the horizon, legs, the fluid's log, the backup's windows."""

from __future__ import annotations

from typing import Any, Literal

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.design.inputs.functions import BackupWindow
from rowan.core.design.inputs.roof import RoofObject
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
NEW_ON_ROOF: dict[str, tuple[Literal["window", "chimney", "vent"], float, float]] = {
    "roof-window": ("window", 0.8, 1.2),
    "roof-chimney": ("chimney", 0.7, 0.7),
    "roof-vent": ("vent", 0.15, 0.15),
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
    if kind in NEW_ON_ROOF:
        return _on_roof(design, kind)
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


def _on_roof(design: Design, kind: str) -> tuple[Change, str]:
    """A window, chimney or vent pipe on the roof, beside the field until somebody has taped it."""
    what, width, height = NEW_ON_ROOF[kind]
    rows, roof = design.roof.objects, design.survey
    thing = RoofObject(
        id=free_id("o", [row.id for row in rows]),
        kind=what,
        x_m=round(0.08 * roof.roof_width_m.value, 2),
        y_m=round(0.6 * roof.roof_slope_m.value, 2),
        width_m=width,
        height_m=height,
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
    named = {"charge.log": "a line of the fluid's log", "functions.windows": "a window of the backup"}
    what = named.get(path) or getattr(gone, "kind", "a point of the horizon")
    return Change(path, left), f"{what} taken away"
