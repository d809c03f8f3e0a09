"""A field on a wall or as an awning, from the side: how it stands off, and the noon sun of the longest and the shortest day."""

from __future__ import annotations

import math

from rowan.core.steps.roof.place import shape_of
from rowan.core.steps.roof.shade import shade_below
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.core.weather.sun import noon_heights
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 656.0, 270.0
WALL_X, FOOT = 470.0, 236.0
PER_M = 56.0
LOWER_M = {
    "wall": 0.5,
    "awning": 2.1,
}  # the collector's lower edge over the floor it is drawn at; a window lies under an awning
WINDOW_M = (0.8, 1.9)  # sill and head of the window under an awning
RAY_PX = 210.0


def wall_view(sheet: Sheet) -> Drawing:
    """The collector at its tilt before the wall, to scale, with both suns; what they reach under it."""
    design, units = sheet.design, sheet.units
    way, tilt = design.roof.way.value, math.radians(design.tilt_deg)
    length = shape_of(design).length
    drawing = Drawing(WIDTH, HEIGHT, "The field at the wall from the side, to scale", "wall-view", "wall-view")
    drawing.rect(WALL_X, 16, 34, FOOT - 16, "steep")
    drawing.line((WALL_X, 16), (WALL_X, FOOT), "wall")
    drawing.line((20, FOOT), (WIDTH - 20, FOOT), "wall")
    low = FOOT - LOWER_M[way] * PER_M
    # its upper edge is at the wall, the lower one stands off by as much as it leans
    top: Point = (WALL_X - 8, low - length * math.sin(tilt) * PER_M)
    foot: Point = (top[0] - length * math.cos(tilt) * PER_M, low)
    for part in (0.2, 0.8):
        at = (foot[0] + part * (top[0] - foot[0]), foot[1] + part * (top[1] - foot[1]))
        drawing.line(at, (WALL_X, at[1]), "stroke")
    if way == "awning":
        sill, head = (FOOT - height * PER_M for height in WINDOW_M)
        drawing.rect(WALL_X - 2, head, 14, sill - head, "paper")
        drawing.rect(WALL_X - 2, head, 14, sill - head, "part-body")
        drawing.words((WALL_X + 42, (sill + head) / 2), "window", "label")
    drawing.line(foot, top, "head")
    out = shown(length * math.cos(tilt), "length", units)
    drawing.dimension((foot[0], foot[1] + 22), (top[0], foot[1] + 22), out)
    drawing.words((top[0] - 6, top[1] - 8), f"{design.tilt_deg:.0f}°", "fig halo", "end")
    summer, winter = noon_heights(latitude=design.survey.latitude_deg.value)
    for height, name in ((summer, "longest day"), (winter, "shortest day")):
        _ray(drawing, foot, math.radians(height), f"noon, {name}, {height:.0f}°")
    drawing.words((20, HEIGHT - 4), _told(sheet, summer, winter), "place")
    return drawing


def _ray(drawing: Drawing, at: Point, height: float, words: str) -> None:
    """A ray that passes the lower edge, up to the sun and down to the wall behind."""
    up = (at[0] - RAY_PX * math.cos(height), at[1] - RAY_PX * math.sin(height))
    fall = (WALL_X - at[0]) * math.tan(height)
    down = (WALL_X, at[1] + fall) if at[1] + fall < FOOT else (at[0] + (FOOT - at[1]) / math.tan(height), FOOT)
    drawing.line(up, down, "sun-way")
    drawing.words((max(up[0], 30.0), max(up[1] - 6, 14.0)), words, "label-clay halo")


def _told(sheet: Sheet, summer: float, winter: float) -> str:
    """What it does to the wall and the window behind it."""
    if sheet.design.roof.way.value == "wall":
        return "steep, it favours winter and sheds its snow; gusts suck it off the wall at the edges"
    length, tilt = shape_of(sheet.design).length, sheet.design.tilt_deg
    shaded = {
        season: shown(shade_below(length=length, tilt=tilt, noon=noon), "length", sheet.units)
        for season, noon in (("summer", summer), ("winter", winter))
    }
    return tr(
        "at noon it shades the wall under its edge by {summer} in summer, by {winter} in winter",
        **shaded,
    )
