"""A roof and a cellar with what can be seen there, each place drawn as it is and numbered as it is asked about."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.practice.sheet import Scene
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 700.0, 480.0
EAVE, RIDGE, GROUND, FLOOR = (120.0, 170.0), (330.0, 40.0), 300.0, 460.0
RIGHT_WALL = 560.0
# where each place is, and where its number stands
PLACES: dict[str, Point] = {
    "ladder": (78.0, 240.0),
    "edge": (132.0, 138.0),
    "sheets": (628.0, 232.0),
    "wind": (420.0, 30.0),
    "field": (236.0, 92.0),
    "pipe": (372.0, 128.0),
    "solder": (300.0, 160.0),
    "cock": (404.0, 214.0),
    "relief": (430.0, 346.0),
    "air": (188.0, 408.0),
    "main": (258.0, 402.0),
    "cover": (300.0, 356.0),
    "can": (352.0, 432.0),
    "element": (500.0, 424.0),
    "temper": (520.0, 350.0),
    "tank": (470.0, 322.0),
}


def scene_drawing(scene: Scene) -> Drawing:
    """House, roof and cellar; each place as it is."""
    drawing = Drawing(WIDTH, HEIGHT, "A house from its eave to its cellar, its places numbered", "task", "task-scene")
    _house(drawing)
    for number, (key, fine) in enumerate(scene.places, 1):
        x, y = PLACES[key]
        DRAWN[key](drawing, (x, y), fine)
        drawing.circle((x - 24, y - 16), 10.5, "number-ring")
        drawing.words((x - 24, y - 12), str(number), "label-ink", "middle")
    return drawing


def _house(drawing: Drawing) -> None:
    drawing.line((20, GROUND), (680, GROUND), "stroke")
    drawing.path([EAVE, RIDGE, (RIGHT_WALL, 180)], "stroke")
    drawing.line((150, 152), (150, FLOOR), "stroke")
    drawing.line((RIGHT_WALL - 20, 168), (RIGHT_WALL - 20, FLOOR), "stroke")
    drawing.line((150, FLOOR), (RIGHT_WALL - 20, FLOOR), "stroke")
    drawing.line((150, 200), (RIGHT_WALL - 20, 200), "rule-ink")
    drawing.line((150, GROUND), (RIGHT_WALL - 20, GROUND), "rule-ink")
    drawing.rect(470, 340, 60, 110, "housing", rx=14.0)
    drawing.words((500, 362), "store", "note", "middle")
    drawing.path([(262, 84), (386, 84), (386, 376), (470, 376)], "hot")
    drawing.path([(214, 114), (214, 318), (362, 318), (362, 412), (470, 412)], "cold")
    drawing.path([(590, GROUND), (590, 246), (676, 226), (676, GROUND)], "stroke")


def _ladder(drawing: Drawing, at: Point, fine: bool) -> None:
    foot = (at[0] - (6 if fine else 52), GROUND)
    top = (at[0] + 34, 168.0)
    for off in (-4, 4):
        drawing.line((foot[0] + off, foot[1]), (top[0] + off, top[1]), "stroke")
    for n in range(1, 8):
        x, y = foot[0] + (top[0] - foot[0]) * n / 8, foot[1] + (top[1] - foot[1]) * n / 8
        drawing.line((x - 4, y), (x + 4, y), "rule-ink")
    if fine:
        drawing.circle((top[0], top[1] + 4), 5, "tied")


def _edge(drawing: Drawing, at: Point, fine: bool) -> None:
    if fine:
        for x in (100.0, 112.0, 124.0):
            drawing.line((x, GROUND), (x, 140), "rule-ink")
        drawing.line((94, 150), (134, 150), "stroke")
        drawing.line((94, 136), (134, 136), "stroke")
    _man(drawing, (at[0] + 26, at[1] + 4))


def _man(drawing: Drawing, foot: Point) -> None:
    x, y = foot
    drawing.circle((x, y - 25), 4.5, "housing")
    drawing.line((x, y - 20), (x, y - 9), "stroke")
    drawing.path([(x - 5, y), (x, y - 9), (x + 5, y)], "stroke")
    drawing.line((x - 6, y - 16), (x + 6, y - 16), "stroke")


def _sheets(drawing: Drawing, at: Point, fine: bool) -> None:
    drawing.path([(590 + 8 * n, 246 - 1.9 * n * 1.0 - (3 if n % 2 else 0)) for n in range(11)], "stroke")
    if fine:
        drawing.line((600, 238), (668, 222), "tied")
    _man(drawing, (at[0] + 6, at[1] - (1 if fine else -6)))


def _wind(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.line((x, y + 34), (x, y - 10), "stroke")
    flag = [(x, y - 10), (x + 8, y + 12), (x, y + 10)] if fine else [(x, y - 10), (x + 46, y - 7), (x, y + 4)]
    drawing.path(flag, "m-fill-ink", close=True)
    if not fine:
        drawing.rect(x + 54, y + 2, 10, 40, "housing")
        _man(drawing, (x + 76, y + 46))


def _field(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.path([(x - 34, y + 18), (x + 34, y - 24)], "rail-line")
    if fine:
        drawing.path([(x - 38, y + 10), (x + 30, y - 32)], "beyond-bar")
        drawing.words((x - 6, y - 32), "cover", "note", "middle")
    else:
        drawing.circle((x - 44, y - 56), 13, "sun")
        for off in (0, 8):
            drawing.line((x - 34 + off, y - 44), (x - 16 + off, y - 20), "rule-ink")
        drawing.path([(x + 34, y - 28), (x + 42, y - 40), (x + 38, y - 48), (x + 46, y - 58)], "stroke")


def _pipe(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    if fine:
        drawing.line((386, y - 26), (386, y + 22), "hot")
        drawing.words((x + 26, y + 10), "Cu", "label-ink halo")
    else:
        drawing.path([(386, y - 26), (392, y - 14), (380, y - 2), (392, y + 10), (386, y + 22)], "cold")
        drawing.words((x + 26, y + 10), "plastic", "label-ink halo")


def _solder(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.path([(x, y + 26), (x - 7, y + 12), (x, y - 2), (x + 7, y + 12)], "flame", close=True)
    if fine:
        drawing.line((x + 14, y - 4), (x + 14, y + 34), "rail-line")
        drawing.rect(x + 26, y + 14, 9, 22, "m-fill-ink", rx=3.0)
    else:
        for n in range(5):
            drawing.line((x + 10 + 5 * n, y + 36), (x + 14 + 6 * n, y + 16), "rule-ink")
        drawing.words((x + 18, y + 12), "straw", "note")


def _cock(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = 386.0, at[1] + 18
    if fine:
        return
    drawing.path([(x - 9, y - 9), (x + 9, y - 9), (x - 9, y + 9), (x + 9, y + 9)], "solid", close=True)
    drawing.line((x - 16, y), (x + 16, y), "handle-bar")


def _relief(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.line((386, y), (x - 10, y), "branch")
    drawing.path([(x - 10, y - 8), (x + 4, y), (x - 10, y + 8)], "housing", close=True)
    drawing.line((x + 2, y), (x + 2, y + 44), "branch")
    if fine:
        drawing.path([(x - 10, y + 50), (x - 8, y + 72), (x + 12, y + 72), (x + 14, y + 50)], "stroke")
    else:
        drawing.rect(x - 5, y + 42, 14, 9, "m-fill-ink")


def _air(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    if fine:
        drawing.rect(x - 14, y + 20, 34, 22, "housing")
        drawing.line((x + 2, y + 20), (x + 22, y + 4), "stroke")
    else:
        drawing.rect(x - 18, y + 18, 44, 22, "housing", rx=11.0)
        drawing.circle((x - 8, y + 44), 5, "housing")
        drawing.circle((x + 16, y + 44), 5, "housing")
        _man(drawing, (x + 42, y + 46))
    drawing.line((x + 20, y + 24), (214, 318), "branch")
    drawing.words((x - 30, y + 62), "hand pump" if fine else "compressor", "note")


def _main(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.path([(x - 6, y - 10), (x + 10, y - 10), (x + 10, y - 2)], "stroke")
    drawing.path(
        [(x + 10, y), (x + 24, y + 26), (x + 4, y + 40)] if not fine else [(x + 10, y), (x + 10, y + 20)], "cold"
    )
    if fine:
        drawing.rect(x + 3, y + 4, 14, 12, "m-fill-ink")
        drawing.words((x + 22, y + 10), "backflow", "note")
    else:
        drawing.words((x - 10, y + 56), "left on", "note")


def _cover(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.rect(x - 14, y - 18, 32, 38, "housing")
    if fine:
        drawing.rect(x - 9, y - 12, 22, 12, "beyond-bar")
    else:
        for n in range(4):
            drawing.line((x - 8 + 7 * n, y - 12), (x - 6 + 6 * n, y + 14), "hot")
        drawing.path([(x + 2, y - 40), (x - 4, y - 28), (x + 4, y - 29), (x - 2, y - 19)], "stroke")


def _can(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.rect(x - 14, y - 8, 30, 36, "housing", rx=4.0)
    drawing.words((x + 20, y + 8), "propylene" if fine else "ethylene", "note")
    drawing.words((x + 20, y + 21), "glycol", "note")


def _element(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.path([(x + 30, y + 8), (x, y + 8), (x, y + 14), (x + 30, y + 14)], "hot")
    drawing.words((x + 4, y), "0 L", "label-ink", "middle")
    drawing.words((x + 36, y + 14), "off" if fine else "ON", "label-ink")


def _temper(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.path([(x - 4, y - 8), (x + 28, y - 8), (x + 28, y + 20)], "hot")
    drawing.words((x - 20, y + 34), "75 °C", "label-ink", "middle")
    if fine:
        drawing.circle((x + 14, y - 8), 7, "housing")
        drawing.words((x + 14, y - 4), "T", "axis", "middle")


def _tank(drawing: Drawing, at: Point, fine: bool) -> None:
    x, y = at
    drawing.line((x + 12, y + 16), (x + 12, y - 8), "branch")
    drawing.path([(x + 4, y - 8), (x + 20, y - 8), (x + 12, y - 20)], "housing", close=True)
    if not fine:
        drawing.path([(x + 5, y + 2), (x + 19, y + 2), (x + 5, y + 12), (x + 19, y + 12)], "solid", close=True)


DRAWN: dict[str, Callable[[Drawing, Point, bool], None]] = {
    "ladder": _ladder, "edge": _edge, "sheets": _sheets, "wind": _wind, "field": _field, "pipe": _pipe, "solder": _solder, "cock": _cock,
    "relief": _relief, "air": _air, "main": _main, "cover": _cover, "can": _can, "element": _element, "temper": _temper, "tank": _tank,
}  # fmt: skip
