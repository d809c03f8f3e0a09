"""The roof's plane to scale: rafters, field, rails and feet, what stands in the way, and the marks that are chalked."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from rowan.core.design.design import Design
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.roof.marks import across_marks, up_marks
from rowan.core.steps.roof.result import Box, RoofResult
from rowan.core.terms.figure import Quantity
from rowan.core.terms.units import shown, shown_parts
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Node, Point

WIDTH, HEIGHT = 656.0, 438.0
LEFT, RIGHT, TOP, FOOT = 56.0, 612.0, 26.0, 372.0
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


def roof_plane(sheet: Sheet) -> Drawing:
    """The plane with everything on it; the field and what stands in its way are moved by hand."""
    roof, design = sheet.result.roof, sheet.design
    drawing = Drawing(WIDTH, HEIGHT, "The roof from in front, to scale, with the field and its feet", "roof", "roof")
    view = View(roof)
    _ground(drawing, view, sheet)
    _objects(drawing, view, sheet)
    group = drawing.add("g", **_handle(view, roof, sheet))
    _field(group, view, roof, design)
    _pipes(drawing, view, sheet)
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
        words = f"edge zone {shown(edge, 'length', sheet.units)}"
        drawing.words((view.x(plane.width) - 6, view.y(edge) + 13), words, "place halo", "end")
    view.box(drawing, plane, "stroke")
    drawing.rect(view.x(0) - 4, view.y(plane.height) - 5, plane.width * view.per_m + 8, 5, "part-body")


def _objects(drawing: Drawing, view: View, sheet: Sheet) -> None:
    for thing, box in zip(sheet.design.roof.objects, sheet.result.roof.objects, strict=True):
        where = f"{shown(thing.x_m, 'length', sheet.units)} from the left, {shown(thing.y_m, 'length', sheet.units)} up"
        node = drawing.add(
            "g",
            **_moved(
                view,
                f"object:{thing.id}",
                (thing.x_m, thing.y_m),
                f"{thing.kind}, moved by its lower left corner",
                where,
            ),
        )
        view.box(node, box, "paper")
        view.box(node, box, "mass" if thing.kind == "chimney" else "part-body")
        node.words(
            (view.x(box.x + box.width / 2), view.y(box.y + box.height / 2) + 4), thing.kind, "label halo", "middle"
        )


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


def _handle(view: View, roof: RoofResult, sheet: Sheet) -> dict[str, Any]:
    field, units = roof.rows[0], sheet.units
    words = f"{shown(roof.field.x, 'length', units)} from the left, {shown(field.y, 'length', units)} up the slope"
    found = _moved(view, "field:roof", (roof.field.x, field.y), "the field, moved by its lower left corner", words)
    return {**found, "data_blank": "roof.field_x_m"}


def _field(group: Node, view: View, roof: RoofResult, design: Design) -> None:
    """Collectors, rails over them, feet on the lines."""
    whole = Box(roof.field.x, roof.field.y, roof.field.width, roof.field.height)
    view.box(group, whole, "grip")
    for number, box in enumerate(roof.collectors, 1):
        view.box(group, box, "plate")
        narrow = box.width * view.per_m < 26
        group.words(
            (view.x(box.x + box.width / 2), view.y(box.y + box.height / 2) + 6),
            str(number),
            "fig-minor" if narrow else "fig-big",
            "middle",
        )
    for rail in roof.rails:
        y = view.y(rail.y)
        group.rect(view.x(rail.start), y - 3, (rail.end - rail.start) * view.per_m, 6, "rail")
        apart = min((b.x - a.x for a, b in pairwise(rail.feet)), default=1.0) * view.per_m
        wide = min(8.0, max(apart * 0.45, 2.5))
        for foot in rail.feet:
            hard = roof.hardest is not None and (foot.x, foot.y) == (roof.hardest.x, roof.hardest.y)
            group.rect(view.x(foot.x) - wide / 2, y - 6, wide, 12, "solid")
            if hard:
                group.circle((view.x(foot.x), y), 10, "berry-line")


def _pipes(drawing: Drawing, view: View, sheet: Sheet) -> None:
    """Cold in low at one end, hot out high at the diagonally opposite end, with the sensor."""
    roof, design = sheet.result.roof, sheet.design
    low, high = roof.rows[0], roof.rows[-1]
    if not design.on_roof:
        return
    # seen from in front: the hot end to the right, or all of it mirrored
    side = 1 if design.roof.hot_at.value == "right" else -1
    cold: Point = (view.x(low.x if side > 0 else low.right), view.y(low.y + 0.12 * low.height))
    hot: Point = (view.x(high.right if side > 0 else high.x), view.y(high.y + 0.88 * high.height))
    out, back = ("", "end") if side > 0 else ("end", "")
    drawing.path((cold, (cold[0] - 14 * side, cold[1]), (cold[0] - 14 * side, cold[1] + 22)), "cold")
    drawing.words((cold[0] - 20 * side, cold[1] + 6), "cold in, low", "label halo", back)
    drawing.path((hot, (hot[0] + 14 * side, hot[1]), (hot[0] + 14 * side, hot[1] - 20)), "hot")
    drawing.circle((hot[0] + 14 * side, hot[1] - 25), 5, "part-body")
    drawing.rect(hot[0] - 4, hot[1] - 4, 8, 8, "sensor")
    dry = Quantity(stagnation_of(design.collector.item.value), "temperature").shown(sheet.units)
    drawing.words((hot[0] + 24 * side, hot[1] - 22), f"boot, {dry}", "label halo", out)
    drawing.words((hot[0] + 20 * side, hot[1] + 2), "hot out, high", "label halo", out)
    drawing.words((hot[0] + 20 * side, hot[1] + 15), "sensor pocket", "label halo", out)


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
    start = "left end" if sheet.design.roof.way.value == "ground" else "left verge"
    return f"chalk from the {start}, {'m' if sheet.units == 'metric' else 'ft and in'} along the eave"
