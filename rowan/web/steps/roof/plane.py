"""The roof's plane to scale: rafters, field, rails and feet, what stands in the way, and the marks that are chalked."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from rowan.core.design.design import Design
from rowan.core.design.moves import FIRST
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.roof.holes import LINES, Line, connections, holes, usual_hole
from rowan.core.steps.roof.marks import across_marks, up_marks
from rowan.core.steps.roof.result import Box, Cut, RoofResult
from rowan.core.terms.figure import Quantity
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown, shown_parts
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import measured_at, width_of
from rowan.web.ui.svg import Drawing, Node, Point

WIDTH, HEIGHT = 656.0, 438.0
LEFT, RIGHT, TOP, FOOT = 56.0, 612.0, 26.0, 372.0
THIN_PX = 40.0  # px of a row under which it is drawn with thin rails
NEAR_PX = 24.0  # px from a port to a boot whose words would lie over each other
STEP_M = 0.01
APART_PX, PER_LETTER_PX = 25.0, 7.0  # between two figures of four letters on one line of marks, and for each more
RAFTERS = ("plate", "hook", "foot", "post", "block", "batten")


class View:
    """The plane on the paper: metres along the eave to the right, up the slope upward, one scale for both."""

    def __init__(self, roof: RoofResult) -> None:
        plane, field = roof.plane, roof.field
        # a field that does not fit is drawn where it hangs over
        self.low_x, high_x = min(0.0, field.x), max(plane.width, field.right)
        self.low_y, high_y = min(0.0, field.y), max(plane.height, field.top)
        self.per_m = min((RIGHT - LEFT) / (high_x - self.low_x), (FOOT - TOP) / (high_y - self.low_y))
        self.left = LEFT + (RIGHT - LEFT - (high_x - self.low_x) * self.per_m) / 2
        self.foot = FOOT - (FOOT - TOP - (high_y - self.low_y) * self.per_m) / 2

    def x(self, metres: float) -> float:
        """Where a place along the eave lies."""
        return self.left + (metres - self.low_x) * self.per_m

    def y(self, metres: float) -> float:
        """Where a place up the slope lies."""
        return self.foot - (metres - self.low_y) * self.per_m

    def box(self, node: Node, box: Box, cls: str, **more: Any) -> Node:
        """A rectangle of the plane."""
        return node.rect(self.x(box.x), self.y(box.top), box.width * self.per_m, box.height * self.per_m, cls, **more)


def roof_plane(sheet: Sheet, key: str = FIRST, named: str = "") -> Drawing:
    """The plane with everything on it; the field and what stands in its way are moved by hand. `key` says which plane it is."""
    roof, design = sheet.result.roof, sheet.design
    name = "roof" if key == FIRST else f"roof-{key}"
    drawing = Drawing(WIDTH, HEIGHT, "The roof from in front, to scale, with the field and its feet", name, name)
    view = View(roof)
    if named:
        drawing.words((0, 12), named, "label-ink")
    _ground(drawing, view, sheet)
    _objects(drawing, view, sheet)
    group = drawing.add("g", **_handle(view, roof, sheet, key))
    _field(group, view, roof, design)
    _pipes(drawing, view, sheet, key)
    _marks(drawing, view, sheet)
    return drawing


def _ground(drawing: Drawing, view: View, sheet: Sheet) -> None:
    """Plane, ridge and eave, edge zone, rafters or seams."""
    roof = sheet.result.roof
    plane, edge = roof.plane, roof.edge
    view.box(drawing, plane, "ground")
    lined = sheet.design.roof.carrier.value != "slab" and sheet.design.on_roof
    if lined:
        half = sheet.design.roof.line_width_m.value / 2 if roof.fixing.key in RAFTERS else 0.0
        for x in roof.lines:
            for side in (-half, half) if half else (0.0,):
                drawing.line((view.x(x + side), view.y(0)), (view.x(x + side), view.y(plane.height)), "rafter")
    if sheet.design.roof.way.value == "ground":
        view.box(drawing, plane, "stroke")
        return
    if plane.width > 2 * edge and plane.height > 2 * edge:
        view.box(drawing, Box(edge, edge, plane.width - 2 * edge, plane.height - 2 * edge), "planned")
        words = tr("edge zone {edge}", edge=shown(edge, "length", sheet.units))
        drawing.words((view.x(plane.width) - 6, view.y(edge) + 13), words, "place halo", "end")
    view.box(drawing, plane, "stroke")
    if sheet.design.on_roof:
        drawing.rect(view.x(0) - 4, view.y(plane.height) - 5, plane.width * view.per_m + 8, 5, "part-body")


def _objects(drawing: Drawing, view: View, sheet: Sheet) -> None:
    roof = sheet.result.roof
    for strip in roof.strips:
        seen = None if strip is None or not sheet.design.on_roof else strip.shared(roof.plane)
        if seen is not None:
            view.box(drawing, seen, "shade-strip")
    for thing, box in zip(sheet.design.roof.objects, roof.objects, strict=True):
        where = tr(
            "{x_m} from the left, {y_m} up",
            x_m=shown(thing.x_m, "length", sheet.units),
            y_m=shown(thing.y_m, "length", sheet.units),
        )
        node = drawing.add(
            "g",
            **_moved(
                view,
                f"object:{thing.id}",
                (thing.x_m, thing.y_m),
                tr("{kind}, moved by its lower left corner", kind=thing.kind),
                where,
            ),
        )
        if isinstance(box, Cut):
            _cut(node, view, box, thing.kind)
            continue
        view.box(node, box, "paper")
        view.box(node, box, "mass" if thing.kind == "chimney" else "part-body")
        node.words(
            (view.x(box.x + box.width / 2), view.y(box.y + box.height / 2) + 4), thing.kind, "label halo", "middle"
        )


def _cut(node: Node, view: View, box: Cut, kind: str) -> None:
    """A corner that is not roof: blank paper, and the hip or valley as its edge."""
    corners = [(view.x(x), view.y(y)) for x, y in box.corners]
    node.path(corners, "paper", close=True)
    node.line(corners[0], corners[1], "wall")
    (ax, ay), (bx, by), (cx, cy) = corners
    node.words(((ax + bx + 2 * cx) / 4, (ay + by + 2 * cy) / 4 + 4), kind, "label halo", "middle")


def _moved(view: View, key: str, at: tuple[float, float], label: str, words: str) -> dict[str, Any]:
    """Attributes of something moved both ways over the plane [m]."""
    return {
        "id": f"drag-{key.replace(':', '-')}",
        "cls": "handle",
        "role": "slider",
        "tabindex": 0,
        "aria_label": label,
        "aria_valuenow": round(at[0], 2),
        "aria_valuemin": -20,
        "aria_valuemax": 100,
        "aria_valuetext": words,
        "data_drag": "xy",
        "data_path": key,
        "data_value": round(at[0], 4),
        "data_low": -20,
        "data_high": 100,
        "data_step": STEP_M,
        "data_per_px": 1 / view.per_m,
        "data_second": round(at[1], 4),
        "data_second_low": -20,
        "data_second_high": 40,
        "data_second_step": STEP_M,
        "data_second_per_px": -1 / view.per_m,
    }


def _handle(view: View, roof: RoofResult, sheet: Sheet, key: str) -> dict[str, Any]:
    field, units = roof.rows[0], sheet.units
    words = tr(
        "{x} from the left, {y} up the slope", x=shown(roof.field.x, "length", units), y=shown(field.y, "length", units)
    )
    found = _moved(view, f"field:{key}", (roof.field.x, field.y), "the field, moved by its lower left corner", words)
    return {**found, "data_blank": "roof.field_x_m" if key == FIRST else f"roof.planes.{key}.count"}


def _field(group: Node, view: View, roof: RoofResult, design: Design) -> None:
    """Collectors, rails over them, feet on the lines."""
    whole = Box(roof.field.x, roof.field.y, roof.field.width, roof.field.height)
    view.box(group, whole, "grip")
    narrowest = min((box.width * view.per_m for box in roof.collectors), default=1.0)
    widest = width_of(str(len(roof.collectors)), measured_at("fig-minor"))
    # where a number is wider than its collector every so many bear one
    every = next((every for every in (1, 2, 5, 10) if every * narrowest > widest), 20)
    for number, box in enumerate(roof.collectors, 1):
        view.box(group, box, "plate")
        narrow = min(box.width, box.height) * view.per_m < 26
        if (number - 1) % every:
            continue
        group.words(
            (view.x(box.x + box.width / 2), view.y(box.y + box.height / 2) + 6),
            str(number),
            "fig-minor" if narrow else "fig-big",
            "middle",
        )
    for rail in roof.rails:
        y = view.y(rail.y)
        # a row that lies thin on the paper has thin rails, or they would hide it
        thick = 6.0 if roof.rows[rail.row].height * view.per_m > THIN_PX else 2.5
        group.rect(view.x(rail.start), y - thick / 2, (rail.end - rail.start) * view.per_m, thick, "rail")
        apart = min((b.x - a.x for a, b in pairwise(rail.feet)), default=1.0) * view.per_m
        wide = min(8.0, max(apart * 0.45, 2.5))
        for foot in rail.feet:
            hard = roof.hardest is not None and (foot.x, foot.y) == (roof.hardest.x, roof.hardest.y)
            group.rect(view.x(foot.x) - wide / 2, y - thick, wide, 2 * thick, "solid")
            if hard:
                group.circle((view.x(foot.x), y), 10, "berry-line")


def _pipes(drawing: Drawing, view: View, sheet: Sheet, key: str) -> None:
    """Cold in low at one end, hot out high at the diagonally opposite end, with the sensor; where both lines go in is moved by hand."""
    design, roof = sheet.design, sheet.result.roof
    if not design.on_roof and design.roof.way.value != "ground":
        return
    # seen from in front: the hot end to the right, or all of it mirrored
    side = 1 if design.roof.hot_at.value == "right" else -1
    joined, marked = connections(design, roof.rows), holes(design) if key == FIRST else {}
    out, back = ("", "end") if side > 0 else ("end", "")

    def near(line: Line) -> bool:
        """Whether a marked hole lies so near its port that its own words are there."""
        return line in marked and abs(marked[line][1] - joined[line][1]) * view.per_m < NEAR_PX

    ends: dict[Line, Point] = {line: (view.x(x), view.y(y)) for line, (x, y) in joined.items()}
    for line in LINES:
        hole = marked.get(line) or usual_hole(design, line, joined[line])
        at = (view.x(hole[0]), view.y(hole[1]))
        drawing.path((ends[line], (at[0], ends[line][1]), at), line)
        if key == FIRST and design.pumped:
            _hole(drawing, view, line, (hole, at), sheet, marked=line in marked)
        else:
            drawing.circle(at, 5, "part-body")
    cold, hot = ends["cold"], ends["hot"]
    if not design.on_roof:
        return  # the rows are thin there, and their ports are on them
    drawing.words((cold[0] - 20 * side, cold[1] + (28 if near("cold") else 6)), "cold in, low", "label halo", back)
    drawing.rect(hot[0] - 4, hot[1] - 4, 8, 8, "sensor")
    y = hot[1] + (26 if near("hot") else 2)
    drawing.words((hot[0] + 24 * side, y), "hot out, high", "label halo", out)
    drawing.words((hot[0] + 24 * side, y + 13), "sensor pocket", "label halo", out)
    if design.on_roof and "hot" not in marked:
        dry = Quantity(stagnation_of(design.collector.item.value), "temperature").shown(sheet.units)
        x, y = usual_hole(design, "hot", joined["hot"])
        drawing.words((view.x(x) + 10 * side, view.y(y) + 3), tr("boot, {dry}", dry=dry), "label halo", out)


def _hole(
    drawing: Drawing, view: View, line: Line, place: tuple[tuple[float, float], Point], sheet: Sheet, *, marked: bool
) -> None:
    """Where a line goes through the roof or into its trench: a ring to move; open until somebody has marked it."""
    hole, at = place
    what = "goes through the roof" if sheet.design.on_roof else "goes into the ground"
    where = tr(
        "{left} from the left, {up} up",
        left=shown(hole[0], "length", sheet.units),
        up=shown(hole[1], "length", sheet.units),
    )
    label = tr("where the {line} line {what}{case}", line=line, what=what, case="" if marked else ", not marked yet")
    node = drawing.add("g", **_moved(view, f"hole:{line}", hole, label, where), data_blank=f"roof.{line}_hole_x_m")
    node.circle(at, 13, "grip")
    node.circle(at, 5, "solid" if marked else "part-body")
    if marked:
        away = 1 if hole[0] > sheet.result.roof.field.x + sheet.result.roof.field.width / 2 else -1
        words = "boot" if sheet.design.on_roof else "trench"
        beside = -7 if line == "cold" or sheet.design.on_roof else 14
        drawing.words((at[0] + 9 * away, at[1] + beside), f"{line}, {words}", "label halo", "" if away > 0 else "end")


def _marks(drawing: Drawing, view: View, sheet: Sheet) -> None:
    """What is taped: along the eave from the left, up the slope from the eave, the field's own sides."""
    roof, units = sheet.result.roof, sheet.units
    plane, field = roof.plane, roof.field
    foot = view.y(0) + 20
    left, right = view.x(0), view.x(plane.width)
    drawing.line((left, foot), (right, foot), "dim-line")
    last = -1e9
    for mark in (0.0, *across_marks(roof), plane.width):
        x = view.x(mark)
        drawing.line((x, foot - 6), (x, foot + 6), "dim-end")
        drawing.line((x - 4, foot + 4), (x + 4, foot - 4), "dim-slash")
        text = shown_parts(mark, "length", units)[0] if mark else "0"
        if x - last >= APART_PX + PER_LETTER_PX * max(len(text) - 4, 0):
            drawing.words((x, foot + 19), text, "dim-text halo", "middle")
            last = x
    drawing.words(
        (left, foot + 34),
        chalk_words(sheet),
        "place",
    )
    for mark in up_marks(roof):
        y = view.y(mark)
        drawing.line((left - 8, y), (view.x(min(rail.start for rail in roof.rails)), y), "pointing")
        drawing.words((left - 12, y + 4), shown(mark, "length", units), "dim-text halo", "end")
    low = view.y(field.y) + 26
    if low < view.y(0) - 8:
        for a, b in ((0.0, field.x), (field.x, field.right), (field.right, plane.width)):
            if (b - a) * view.per_m > 44:
                drawing.dimension((view.x(a), low), (view.x(b), low), shown(b - a, "length", units))
    aside = right + 22
    if aside < WIDTH - 12:
        for a, b in ((0.0, field.y), (field.y, field.top), (field.top, plane.height)):
            if b - a > 0.02:
                drawing.dimension((aside, view.y(a)), (aside, view.y(b)), shown(b - a, "length", units))


def chalk_words(sheet: Sheet) -> str:
    """From where the marks along the eave are taped, and in what."""
    start = {"ground": "left end", "wall": "left corner", "awning": "left corner"}.get(
        sheet.design.roof.way.value, "left verge"
    )
    return tr(
        "chalk from the {start}, {unit} along the eave",
        start=start,
        unit="m" if sheet.units == "metric" else "ft and in",
    )
