"""The sky as the collectors see it: bearing by height, the sun's ways, and what stands before them."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np

from rowan.core.design.inputs.sun import HorizonPoint, Obstacle
from rowan.core.terms.compass import compass_name
from rowan.core.terms.language import tr
from rowan.core.terms.units import fixed, number_text, shown
from rowan.core.weather.horizon import Horizon, horizon_elevation, obstacle_block, passes
from rowan.core.weather.sun import TROPIC_DEG, SunPath, sun_path
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 656, 348
LEFT, RIGHT, TOP, FOOT = 34.0, 648.0, 18.0, 300.0
HALF_VIEW = 140.0  # each side of the equator's bearing; the whole round in the tropics
MOST_UP = 90.0
DAYS = ((TROPIC_DEG, "June"), (0.0, "March, September"), (-TROPIC_DEG, "December"))
WINDOW = (9, 15)
STEPS = 288
GRAB = 9.0


class View:
    """Bearings and heights of the sky on the paper: bearings rise to the right, the equator's in the middle."""

    def __init__(self, latitude: float) -> None:
        self.tropical = abs(latitude) < TROPIC_DEG
        self.middle = 180.0 if latitude >= 0 or self.tropical else 0.0
        self.half = 180.0 if self.tropical else HALF_VIEW
        noon = 90 - abs(latitude) + TROPIC_DEG
        self.top = MOST_UP if self.tropical else min(MOST_UP, max(30.0, math.ceil((noon + 6) / 10) * 10))

    def turn(self, bearing: float) -> float:
        """Degrees from the middle of the view, −180 to 180."""
        return (bearing - self.middle + 180) % 360 - 180

    def x(self, bearing: float) -> float:
        """Where a bearing lies."""
        return self.x_of_turn(self.turn(bearing))

    def x_of_turn(self, turn: float) -> float:
        """Where so many degrees from the middle lie."""
        return (LEFT + RIGHT) / 2 + (RIGHT - LEFT) / 2 * turn / self.half

    def y(self, height: float) -> float:
        """Where a height over the level lies."""
        return FOOT - (FOOT - TOP) * height / self.top

    @property
    def degrees_per_px(self) -> tuple[float, float]:
        """Bearing a pixel to the right, height a pixel down."""
        return 2 * self.half / (RIGHT - LEFT), -self.top / (FOOT - TOP)

    def sees(self, bearing: float) -> bool:
        """Whether a bearing is in the view."""
        return abs(self.turn(bearing)) <= self.half


def horizon(sheet: Sheet) -> Drawing:
    """The horizon: far hills and obstacles are moved by hand, the sun's ways stand behind them."""
    drawing = Drawing(WIDTH, HEIGHT, "The sky from the collectors: bearing by height", "horizon", "horizon")
    design = sheet.design
    latitude = design.survey.latitude_deg.value
    view = View(latitude)
    _grid(drawing, view)
    paths = [(name, sun_path(latitude=latitude, declination=d, steps=STEPS)) for d, name in DAYS]
    _window(drawing, view, latitude)
    _hours(drawing, view, latitude)
    for name, path in paths:
        _path(drawing, view, path, sheet.result.site.horizon, name, "sun-way")
    _horizon(drawing, view, design.sun.horizon)
    for obstacle in design.sun.obstacles:
        _obstacle(drawing, view, obstacle, sheet)
    for name, path in paths:
        _path(drawing, view, path, sheet.result.site.horizon, name, "sun-hidden")
    for point in design.sun.horizon:
        _point(drawing, view, point)
    for name, path in paths:
        _name(drawing, view, path, name)
    _roof(drawing, view, sheet)
    return drawing


def _grid(drawing: Drawing, view: View) -> None:
    for height in range(0, int(view.top) + 1, 10):
        drawing.line((LEFT, view.y(height)), (RIGHT, view.y(height)), "grid" if height else "rule-ink")
        if height % 20 == 0:
            drawing.words((LEFT - 6, view.y(height) + 4), f"{height}°", "axis", "end")
    for bearing in range(0, 360, 15):
        if not view.sees(bearing) or (view.tropical and bearing == 0):
            continue
        x = view.x(bearing)
        drawing.line((x, TOP), (x, FOOT), "grid")
        if bearing % 45 == 0:
            drawing.words((x, FOOT + 15), compass_name(bearing), "fig-minor", "middle")
            drawing.words((x, FOOT + 28), f"{bearing}°", "axis", "middle")


def _runs(points: list[Point]) -> list[list[Point]]:
    """A line without the leaps from one edge of the view to the other."""
    found: list[list[Point]] = [[]]
    for before, after in pairwise([points[0], *points]):
        if abs(after[0] - before[0]) > (RIGHT - LEFT) / 2:
            found.append([])
        found[-1].append(after)
    return [run for run in found if len(run) > 1]


def _window(drawing: Drawing, view: View, latitude: float) -> None:
    """The hours that count, 9 to 15 by the sun, from solstice to solstice."""
    ways = [sun_path(latitude=latitude, declination=d, steps=STEPS) for d in np.linspace(-TROPIC_DEG, TROPIC_DEG, 9)]
    if view.tropical:
        return  # there the sun crosses from one side to the other: its hours are marked on its ways instead
    first, last = (round(hour / 24 * STEPS) for hour in WINDOW)

    def at(path: SunPath, i: int) -> Point:
        return view.x(float(path.bearing[i])), view.y(max(float(path.elevation[i]), 0.0))

    round_trip = [at(ways[0], i) for i in range(first, last + 1)]
    round_trip += [at(way, last) for way in ways[1:]]
    round_trip += [at(ways[-1], i) for i in range(last, first - 1, -1)]
    round_trip += [at(way, first) for way in ways[::-1]]
    drawing.path(round_trip, "window-band", close=True)


def _hours(drawing: Drawing, view: View, latitude: float) -> None:
    """Each hour of the sun's time from solstice to solstice."""
    declinations = np.linspace(-TROPIC_DEG, TROPIC_DEG, 15)
    ways = [sun_path(latitude=latitude, declination=d, steps=24) for d in declinations]
    for hour in range(24):
        points = [
            (view.x(float(way.bearing[hour])), view.y(float(way.elevation[hour])))
            for way in ways
            if way.elevation[hour] > 0 and view.sees(float(way.bearing[hour]))
        ]
        if len(points) > 1:
            for run in _runs(points):
                drawing.path(run, "sun-hour")


def _path(drawing: Drawing, view: View, path: SunPath, line: Horizon, name: str, cls: str) -> None:
    """A day's way where it is free, or where the horizon hides it: the fine part is drawn over what hides it."""
    leaves = name == "June"
    free = passes(line, bearing=path.bearing, elevation=path.elevation, leaves=np.full(path.bearing.shape, leaves))
    points: list[tuple[Point, bool]] = [
        ((view.x(float(b)), view.y(float(e))), bool(share > 0.5))
        for b, e, share in zip(path.bearing, path.elevation, free, strict=True)
        if e > 0 and view.sees(float(b))
    ]
    run: list[Point] = []
    for (before, was), (after, now) in pairwise(points):
        if not run:
            run = [before]
        if abs(after[0] - before[0]) > (RIGHT - LEFT) / 2:
            _stroke(drawing, run, was, cls)
            run = []
            continue
        run.append(after)
        if was != now:
            _stroke(drawing, run, was, cls)
            run = [after]
    _stroke(drawing, run, bool(points) and points[-1][1], cls)


def _stroke(drawing: Drawing, run: list[Point], free: bool, cls: str) -> None:
    if len(run) > 1 and free == (cls == "sun-way"):
        drawing.path(run, cls)


def _name(drawing: Drawing, view: View, path: SunPath, name: str) -> None:
    """Hours along a day's way, and its name at noon."""
    for hour in range(24):
        i = round(hour / 24 * STEPS)
        height, bearing = float(path.elevation[i]), float(path.bearing[i])
        if height <= 0.5 or not view.sees(bearing):
            continue
        at = (view.x(bearing), view.y(height))
        drawing.circle(at, 2.6 if hour in WINDOW else 1.8, "sun-dot")
        if name != "March, September" and hour % 3 == 0 and hour != 12:
            drawing.words((at[0], at[1] - 7), str(hour), "axis halo", "middle")
    noon = STEPS // 2
    height, bearing = float(path.elevation[noon]), float(path.bearing[noon])
    if height > 0:
        drawing.words((view.x(bearing), view.y(height) - 6), name, "label-ink halo", "middle")


def _horizon(drawing: Drawing, view: View, points: list[HorizonPoint]) -> None:
    if not points:
        return
    profile = [(p.bearing_deg, p.elevation_deg) for p in points]
    turns = sorted({*np.arange(-view.half, view.half + 0.1, 2.0), *(view.turn(b) for b, _ in profile)})
    line = [
        (view.x_of_turn(t), view.y(horizon_elevation(profile=profile, azimuth=(t + view.middle) % 360)))
        for t in turns
        if abs(t) <= view.half
    ]
    drawing.path([(LEFT, FOOT), *line, (RIGHT, FOOT)], "hill", close=True)
    drawing.path(line, "wall")


def _xy(view: View, bearing: float, height: float, key: str, label: str, words: str) -> dict[str, Any]:
    """Attributes of something moved both ways: its bearing across, its height up."""
    across, down = view.degrees_per_px
    turn = view.turn(bearing)
    return {
        "id": f"drag-{key.replace(':', '-')}",
        "cls": "handle",
        "role": "slider",
        "tabindex": 0,
        "aria_label": label,
        "aria_valuenow": round(height, 1),
        "aria_valuemin": 0,
        "aria_valuemax": 85,
        "aria_valuetext": words,
        "data_drag": "xy",
        "data_path": key,
        "data_value": bearing,
        "data_low": bearing - turn - view.half,
        "data_high": bearing - turn + view.half,
        "data_step": 1,
        "data_per_px": across,
        "data_second": round(height, 3),
        "data_second_low": 0,
        "data_second_high": 85,
        "data_second_step": 0.5,
        "data_second_per_px": down,
    }


def _obstacle(drawing: Drawing, view: View, obstacle: Obstacle, sheet: Sheet) -> None:
    block = obstacle_block(
        bearing=obstacle.bearing_deg,
        distance=obstacle.distance_m,
        width=obstacle.width_m,
        height=obstacle.height_m,
    )
    if not view.sees(obstacle.bearing_deg):
        return
    half = ((block.end - block.start) % 360) / 2
    turn = view.turn(obstacle.bearing_deg)
    left, right = (view.x_of_turn(max(-view.half, min(view.half, turn + s * half))) for s in (-1, 1))
    top = view.y(min(block.elevation, view.top))
    words = tr(
        "{bearing_deg}°, up to {elevation}°",
        bearing_deg=f"{obstacle.bearing_deg:.0f}",
        elevation=fixed(block.elevation, 1),
    )
    key = f"obstacle:{obstacle.id}"
    blank = f"sun.obstacles.{obstacle.id}.height_m"
    group = drawing.add(
        "g",
        **_xy(
            view,
            obstacle.bearing_deg,
            block.elevation,
            key,
            tr("{kind} at {words}", kind=obstacle.kind, words=words),
            words,
        ),
        data_blank=blank,
    )
    group.rect(min(left, (left + right) / 2 - GRAB), top - GRAB, max(right - left, 2 * GRAB), FOOT - top + GRAB, "grip")
    if obstacle.kind == "tree":
        radius = min((right - left) / 2, (FOOT - top) / 2)
        group.add("rect", x=left, y=top, width=right - left, height=FOOT - top, rx=radius, cls="crown")
    elif obstacle.kind == "house":
        ridge = (left + right) / 2
        eaves = top + min((FOOT - top) * 0.35, 26)
        group.path(((left, FOOT), (left, eaves), (ridge, top), (right, eaves), (right, FOOT)), "mass", close=True)
        group.path(((left, eaves), (left, top), (right, top), (right, eaves)), "ghost")
    else:
        group.rect(left, top, right - left, FOOT - top, "mass")
        group.rect(left - 2, top, right - left + 4, 4, "mass")
    middle = (left + right) / 2
    label = obstacle.kind if half > 4 or obstacle.kind != "chimney" else "chimney"
    drawing.words((middle, top - 5), label, "label-ink halo", "middle")
    if obstacle.kind == "tree" and right - left > 44:
        drawing.words((middle, FOOT - 21), f"{100 * obstacle.summer:.0f} %", "fig-cell halo", "middle")
        drawing.words((middle, FOOT - 8), "in leaf", "label halo", "middle")
    away = shown(obstacle.distance_m, "length", sheet.units)
    group.add("title", tr("{kind}: {away} away, {words}", kind=obstacle.kind, away=away, words=words))


def _degrees(angle: float) -> str:
    return number_text(angle, 0 if angle == round(angle) else 1)


def _point(drawing: Drawing, view: View, point: HorizonPoint) -> None:
    if not view.sees(point.bearing_deg):
        return
    at = (view.x(point.bearing_deg), view.y(point.elevation_deg))
    words = tr("{bearing}°, {height}° high", bearing=f"{point.bearing_deg:.0f}", height=_degrees(point.elevation_deg))
    group = drawing.add(
        "g",
        **_xy(
            view,
            point.bearing_deg,
            point.elevation_deg,
            f"horizon:{point.id}",
            tr("horizon at {words}", words=words),
            words,
        ),
        data_blank=f"sun.horizon.{point.id}.elevation_deg",
    )
    group.circle(at, 12, "grip")
    group.circle(at, 4.2, "knob")
    group.add("title", words)


def _roof(drawing: Drawing, view: View, sheet: Sheet) -> None:
    """Where the collectors look: a mark on the level."""
    bearing = sheet.design.survey.roof_azimuth_deg.value
    if not view.sees(bearing):
        return
    x = view.x(bearing)
    drawing.path(((x - 7, FOOT + 43), (x + 7, FOOT + 43), (x, FOOT + 33)), "solid", close=True)
    drawing.words((x + 11, FOOT + 43), "the roof looks here", "place")
