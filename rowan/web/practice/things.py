"""What lies on the bench or stands before one in a task: two rows, a tub, a meter on two cables, lines to scale, a menu, a torn sheet, parts."""

from __future__ import annotations

from rowan.core.practice.sheet import Fold, Leads, Menu, Parts, Rows, Runs, Tub
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.ui.svg import Drawing, Point

WIDTH = 640.0
PLATE_WIDE, PLATE_TALL, MOST_PLATES = 34.0, 74.0, 5
TUB_AT, TUB_WIDE, TUB_TALL = (70.0, 90.0), 150.0, 190.0
MENU_ROW, PAPER_ROW = 34.0, 40.0
LINE_LEFT, LINE_RIGHT = 120.0, 560.0


def rows_drawing(rows: Rows, units: System) -> Drawing:
    """Both rows from the street on their pair of pipes, the far one as far on as it stands."""
    drawing = Drawing(WIDTH, 330.0, "Two rows of collectors on one pair of pipes", "task", "task-plot")
    near, far, top, feed, back = 40.0, 360.0, 80.0, 240.0, 270.0
    plates = min(rows.each, MOST_PLATES)
    for left, name in ((near, "near row"), (far, "far row")):
        for n in range(plates):
            drawing.rect(left + 30 + n * (PLATE_WIDE + 4), top, PLATE_WIDE, PLATE_TALL, "housing")
        right = left + 30 + plates * (PLATE_WIDE + 4)
        drawing.line((left + 22, top + PLATE_TALL - 8), (left + 22, feed), "cold")
        drawing.line((left + 22, top + PLATE_TALL - 8), (left + 30, top + PLATE_TALL - 8), "cold")
        drawing.path([(right - 4, top + 8), (right + 6, top + 8), (right + 6, back)], "hot")
        drawing.words(((left + right) / 2 + 10, top - 12), f"{name}, {rows.each}", "label-ink", "middle")
    drawing.line((10, feed), (far + 22, feed), "cold")
    drawing.line((10, back), (far + 36 + plates * (PLATE_WIDE + 4), back), "hot")
    drawing.words((10, feed - 8), "feed", "note")
    drawing.words((10, back + 18), "return", "note")
    drawing.dimension((near + 22, 306), (far + 22, 306), shown(rows.apart, "length", units))
    drawing.words((near + 30, feed - 8), tr("takes {near}", near=shown(rows.near, "flow", units)), "label-ink halo")
    drawing.words((far + 30, feed - 8), "takes ?", "label-ink halo")
    return drawing


def tub_drawing(tub: Tub, units: System) -> Drawing:
    """The tub with what is prepared, the loop to the same scale, and the coil in whose foot nobody knows what stands."""
    drawing = Drawing(WIDTH, 340.0, "A tub, the loop beside it to one scale, and a refractometer", "task", "task-plot")
    left, top = TUB_AT
    foot, scale = top + TUB_TALL, TUB_TALL * 0.9 / max(tub.prepared, tub.loop)
    for x, name, litres in ((left, "prepared", tub.prepared), (left + 220, "the loop holds", tub.loop)):
        deep = litres * scale
        drawing.rect(x, foot - deep, TUB_WIDE, deep, "w-wash")
        drawing.path([(x, top), (x, foot), (x + TUB_WIDE, foot), (x + TUB_WIDE, top)], "stroke")
        drawing.words((x + TUB_WIDE / 2, foot + 20), name, "note", "middle")
        drawing.words((x + TUB_WIDE / 2, foot - deep - 8), shown(litres, "volume", units), "label-ink", "middle")
    coil = left + 220
    drawing.rect(coil, foot - 26, TUB_WIDE, 26, "beyond-bar")
    drawing.words((coil + TUB_WIDE / 2, foot - 8), "water left in the coil: ?", "label-ink", "middle")
    glass = (540.0, 150.0)
    drawing.circle(glass, 56, "housing")
    drawing.line((glass[0] - 56, glass[1] + 12), (glass[0] + 56, glass[1] + 12), "cold")
    for n in range(5):
        drawing.line((glass[0] - 12, glass[1] - 32 + n * 16), (glass[0] + 12, glass[1] - 32 + n * 16), "rule-ink")
    drawing.words((glass[0], glass[1] + 34), shown(tub.read, "share", units), "fig halo", "middle")
    drawing.words((glass[0], glass[1] + 84), "read after an hour", "note", "middle")
    return drawing


def leads_drawing(leads: Leads, units: System) -> Drawing:
    """Two unmarked cables on their terminals, a meter on each, and both ends as warm as they were felt."""
    drawing = Drawing(WIDTH, 330.0, "Two unmarked cables at a controller, measured with a meter", "task", "task-plot")
    drawing.rect(360, 40, 250, 96, "housing")
    drawing.words((485, 64), "controller, cover off, isolated", "label-ink", "middle")
    for n, (name, ohm) in enumerate(leads.ohms):
        x = 410.0 + n * 130
        drawing.rect(x - 44, 92, 88, 24, "beyond-bar")
        drawing.words((x, 108), name, "label-ink", "middle")
        drawing.path([(x, 116), (x, 176), (330, 200 + 14 * n)], f"cable-{('brown', 'grey')[n]}")
        drawing.rect(x - 50, 214, 100, 56, "housing", rx=8.0)
        drawing.words((x, 248), shown(ohm, "resistance", units, 0), "fig-key", "middle")
        drawing.line((x, 214), (x, 150), "guess-line")
        drawing.words((x, 290), "meter on it", "note", "middle")
    drawing.rect(300, 190, 40, 40, "beyond-bar")
    drawing.words((290, 214), "the wall", "note", "end")
    spots: tuple[tuple[Point, str], ...] = (((120.0, 70.0), "field"), ((120.0, 250.0), "store foot"))
    for ((x, y), _), (name, felt) in zip(spots, leads.felt, strict=True):
        drawing.rect(x - 80, y - 22, 160, 44, "housing")
        drawing.words((x, y - 30), name, "label-ink", "middle")
        drawing.words((x, y + 5), tr("{felt} by hand", felt=shown(felt, "temperature", units)), "label-ink", "middle")
        drawing.circle((x + 80, y), 5, "solid")
        drawing.path([(x + 85, y), (300, 210)], "guess-line")
    return drawing


def runs_drawing(runs: Runs, units: System) -> Drawing:
    """Field and store with their lines, each pair as long as it is, to one scale."""
    drawing = Drawing(
        WIDTH, 90.0 + 84.0 * len(runs.lengths), "Three loops, their lines to one scale", "task", "task-plot"
    )
    longest = max(length for _, length in runs.lengths)
    for n, (name, length) in enumerate(runs.lengths):
        y, wide = 70.0 + n * 84, (LINE_RIGHT - LINE_LEFT) * length / longest
        drawing.rect(LINE_LEFT - 70, y - 20, 62, 40, "housing")
        drawing.words((LINE_LEFT - 39, y + 4), "field", "note", "middle")
        drawing.line((LINE_LEFT - 8, y - 8), (LINE_LEFT + wide, y - 8), "hot")
        drawing.line((LINE_LEFT - 8, y + 8), (LINE_LEFT + wide, y + 8), "cold")
        drawing.rect(LINE_LEFT + wide, y - 24, 34, 48, "housing", rx=10.0)
        drawing.words(
            (LINE_LEFT - 70, y - 30),
            tr("{name}, {length} there and back", name=name, length=shown(length, "length", units)),
            "label-ink",
        )
    return drawing


def menu_drawing(menu: Menu, units: System) -> Drawing:
    """The controller's display, line by line as it stands."""
    tall = 70.0 + MENU_ROW * len(menu.rows)
    drawing = Drawing(WIDTH, tall + 40, "The controller's menu as the works shipped it", "task", "task-plot")
    drawing.rect(60, 16, 520, tall, "housing", rx=12.0)
    drawing.rect(84, 36, 472, tall - 40, "beyond-bar")
    for n, (name, value) in enumerate(menu.rows):
        y = 66 + n * MENU_ROW
        drawing.words((100, y), name, "label-ink")
        drawing.words((540, y), value.shown(units), "fig-key", "end")
    drawing.words((60, tall + 36), "as the works shipped it", "note")
    return drawing


def fold_drawing(fold: Fold, units: System) -> Drawing:
    """The sheet on the bench, its headings gone in the fold, its numbers left."""
    tall = 90.0 + PAPER_ROW * len(fold.lines)
    drawing = Drawing(WIDTH, tall + 30, "A data sheet whose headings are lost in its fold", "task", "task-plot")
    drawing.path([(150, 20), (500, 20), (500, 20 + tall), (150, 20 + tall)], "housing", close=True)
    drawing.path([(330, 20), (322, 60), (336, 100), (324, 150), (334, 200), (326, 20 + tall)], "gap")
    drawing.words((170, 52), "flat plate, one collector", "label-ink")
    for n, line in enumerate(fold.lines):
        y = 96 + n * PAPER_ROW
        drawing.words((170, y), "ABCD"[n], "label-ink")
        drawing.line((200, y + 2), (312, y + 2), "guess-line")
        drawing.words((480, y), line, "fig-key", "end")
        drawing.line((170, y + 12), (480, y + 12), "rule")
    return drawing


def parts_drawing(parts: Parts, units: System) -> Drawing:
    """The parts on the floor as they fell out of the box, and the empty line that they belong in."""
    drawing = Drawing(
        WIDTH, 330.0, "The parts of a station on the floor, and the line that they belong in", "task", "task-plot"
    )
    drawing.rect(20, 48, 60, 96, "housing", rx=12.0)
    drawing.words((50, 100), "store", "note", "middle")
    drawing.rect(560, 48, 66, 40, "housing")
    drawing.words((593, 40), "field", "note", "middle")
    drawing.path([(80, 124), (590, 124), (590, 88)], "cold")
    drawing.path([(284, 117), (296, 124), (284, 131)], "leaf-line")
    for n in range(len(parts.lying)):
        drawing.circle((130 + n * 80, 124), 13, "housing")
        drawing.words((130 + n * 80, 129), "?", "label-ink", "middle")
    for n, (key, name) in enumerate(parts.lying):
        x, y = 130.0 + (n % 3) * 190, 196.0 + (n // 3) * 82
        _part(drawing, key, (x, y))
        drawing.words((x, y + 32), name, "label-ink", "middle")
    return drawing


def _part(drawing: Drawing, key: str, at: Point) -> None:
    """A part as it lies there."""
    x, y = at
    if key == "pump":
        drawing.circle(at, 15, "housing")
        drawing.path([(x - 6, y + 6), (x + 6, y + 6), (x, y - 8)], "solid", close=True)
    elif key == "check":
        drawing.path([(x - 12, y - 10), (x - 12, y + 10), (x + 8, y)], "housing", close=True)
        drawing.line((x + 10, y - 10), (x + 10, y + 10), "rail-line")
    elif key == "relief":
        drawing.path([(x - 26, y + 8), (x - 12, y + 8), (x - 19, y - 6)], "housing", close=True)
        drawing.circle((x + 2, y), 10, "housing")
        drawing.rect(x + 18, y - 12, 20, 24, "housing", rx=8.0)
    else:
        drawing.path([(x - 14, y - 8), (x - 14, y + 8), (x + 14, y - 8), (x + 14, y + 8)], "housing", close=True)
        if key != "between":
            drawing.line((x, y - 16), (x, y), "branch")
