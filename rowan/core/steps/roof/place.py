"""Rows, rails and feet laid out on the plane."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.design.inputs.roof import RoofObject
from rowan.core.design.routes import STOREY_M
from rowan.core.goods.fixings import Fixing
from rowan.core.steps.roof.result import Box, Cut
from rowan.core.steps.roof.shade import shade_strip
from rowan.core.steps.roof.supports import feet_by_count, lines_between
from rowan.core.steps.site.rows import rows_behind
from rowan.core.terms.record import record

# from rail to rail as parts of a collector's length: 1.0 to 1.6 m on one of 2.06 m, defaults: roof
LEAST_RAILS_SHARE, MOST_RAILS_SHARE = 0.485, 0.777
RAILS_SHARE = 0.6  # of a collector's length, from rail to rail, rule of thumb
ANYWHERE_M = 0.2  # on a slab or on the ground feet stand anywhere: they are tried this far apart
TRIED = 6  # places tried within one spacing of lines
THINNED = 8.0  # lines closer than this part of a span are thinned: no rail needs the choice
UP_STEP_M = 0.05  # m, heights tried on the slope
ROUND_M = 1.0  # m, a way round a field on the ground
LEAST_DEEP_M = 0.1  # m that an upright row takes up
COURSES_FREE = 2  # above the field, rule of thumb
# m over the roof, usual; a hip and a valley are edges
STANDS_M = {"window": 0.1, "chimney": 0.8, "vent": 0.4, "hip": 0.0, "valley": 0.0}
# m; what stands lower or is thinner throws no strip worth keeping free, rule of thumb
LEAST_STANDS_M, LEAST_WIDE_M = 0.3, 0.3


@record
class Shape:
    """A collector as it lies: width along the eave, length up the slope [m]."""

    width: float
    length: float


def shape_of(design: Design) -> Shape:
    """A collector upright, or on its side."""
    item = design.collector.item.value
    if design.roof.lying.value:
        return Shape(item.slope_length_m, item.width_m)
    return Shape(item.width_m, item.slope_length_m)


def fixing_of(design: Design) -> Fixing:
    """The fixing chosen, or the covering's usual one."""
    return design.fixing


def plane_of_roof(design: Design) -> Box:
    """The plane as one rectangle; a wall up to its eaves; on the ground a plot with a way round the field."""
    if design.roof.way.value == "ground":
        deep, step = laid(design)
        return Box(
            0.0, 0.0, max(row_widths(design)) + 2 * ROUND_M, (len(design.row_counts) - 1) * step + deep + 2 * ROUND_M
        )
    height = design.survey.roof_slope_m.value if design.on_roof else eaves_of(design)
    return Box(0.0, 0.0, design.survey.roof_width_m.value, height)


def eaves_of(design: Design) -> float:
    """Height of the eaves over the ground [m]: as measured, else by the storeys."""
    typed = design.roof.eaves_m.value
    return design.survey.storeys.value * STOREY_M if typed is None else typed


def objects_of(design: Design) -> tuple[Box, ...]:
    """What stands on the plane."""
    return tuple(_object(design, thing) for thing in design.roof.objects)


def _object(design: Design, thing: RoofObject) -> Box:
    if thing.kind not in ("hip", "valley"):
        return Box(thing.x_m, thing.y_m, thing.width_m, thing.height_m)
    left = thing.x_m + thing.width_m / 2 <= design.survey.roof_width_m.value / 2
    return Cut(thing.x_m, thing.y_m, thing.width_m, thing.height_m, left=left, upper=thing.kind == "hip")


def strips_of(design: Design) -> tuple[Box | None, ...]:
    """The strip on the plane that each thing throws its shade over at the equinox from nine to three; None where it throws none."""
    survey = design.survey
    return tuple(
        shade_strip(
            _object(design, thing),
            stands=stands_of(thing),
            latitude=survey.latitude_deg.value,
            pitch=survey.roof_tilt_deg.value,
            azimuth=survey.roof_azimuth_deg.value,
        )
        if stands_of(thing) >= LEAST_STANDS_M and thing.width_m >= LEAST_WIDE_M
        else None
        for thing in design.roof.objects
    )


def stands_of(thing: RoofObject) -> float:
    """How far a thing stands up over the roof [m]: as measured, else as is usual of its kind."""
    return STANDS_M[thing.kind] if thing.stands_m is None else thing.stands_m


def laid(design: Design) -> tuple[float, float]:
    """How deep a row lies on the plane, and from one row's lower edge to the next [m]."""
    roof, length = design.roof, shape_of(design).length
    if not design.stands_behind:
        return length, length + roof.row_gap_m.value
    deep = max(length * math.cos(math.radians(design.tilt_deg - design.stands_on_deg)), LEAST_DEEP_M)
    rows = rows_behind(design)
    return deep, deep if rows is None else rows.pitch


def row_widths(design: Design) -> tuple[float, ...]:
    """Width of each row [m]."""
    width, gap = shape_of(design).width, design.roof.gap_m.value
    return tuple(n * width + (n - 1) * gap for n in design.row_counts)


def limits_of(design: Design, fixing: Fixing) -> tuple[float, float]:
    """What a rail may span and overhang [m]: the maker's, else the usual; an overhang never over a third of the span."""
    roof = design.roof
    span = fixing.span if roof.span_m.value is None else roof.span_m.value
    overhang = fixing.overhang if roof.overhang_m.value is None else roof.overhang_m.value
    return span, min(overhang, span / 3)


def carriers_of(design: Design) -> tuple[float, ...]:
    """Rafters, seams or ribs of the whole plane [m] along the eave; none on a slab, and where no roof carries the field."""
    roof = design.roof
    if roof.carrier.value == "slab" or not design.on_roof:
        return ()
    width = design.survey.roof_width_m.value
    return lines_between(first=roof.line_first_m.value, spacing=roof.line_spacing_m.value, start=0.0, end=width)


def lines_of(design: Design, start: float, end: float) -> tuple[float, ...]:
    """Lines on which a foot may stand between two places along the eave [m]; a batten carries a hook anywhere."""
    roof = design.roof
    if roof.carrier.value == "slab" or not design.on_roof or design.fixing.key == "batten":
        return lines_between(first=start, spacing=ANYWHERE_M, start=start, end=end)
    return lines_between(first=roof.line_first_m.value, spacing=roof.line_spacing_m.value, start=start, end=end)


def rails_apart(design: Design) -> float:
    """From the lowest to the highest rail of a row, along the collector [m]."""
    typed, length = design.roof.rails_apart_m.value, shape_of(design).length
    return RAILS_SHARE * length if typed is None else min(typed, length)


def feet_of(design: Design, start: float, end: float, *, limits: tuple[float, float]) -> tuple[tuple[float, ...], ...]:
    """Where the feet of a rail may stand [m]: a choice for each number of them, fewest first; none where no lines allow it.

    Equal choices lie toward the nearer verge, so that a mirrored roof has a mirrored sheet.
    """
    roof, width, (span, overhang) = design.roof, design.survey.roof_width_m.value, limits
    first, last = start - roof.rail_over_m.value, end + roof.rail_over_m.value
    if last <= first:
        return ()
    lines = lines_of(design, max(first, 0.0), min(last, width))
    if len(lines) > 2:
        stride = max(1, math.floor(span / THINNED / max(lines[1] - lines[0], 1e-6)))
        lines = tuple(dict.fromkeys((*lines[::stride], lines[-1])))
    mirrored = (start + end) / 2 > width / 2
    if not mirrored:
        return feet_by_count(lines=lines, start=first, end=last, span=span, overhang=overhang)
    turned = tuple(width - x for x in reversed(lines))
    found = feet_by_count(lines=turned, start=width - last, end=width - first, span=span, overhang=overhang)
    return tuple(tuple(round(width - x, 6) for x in reversed(feet)) for feet in found)


def rows_at(design: Design, x: float, y: float) -> tuple[Box, ...]:
    """The rows with the lowest one's lower left corner at a place [m]; shorter rows stand in the middle of the widest."""
    deep, step = laid(design)
    widths = row_widths(design)
    widest = max(widths)
    return tuple(Box(x + (widest - width) / 2, y + i * step, width, deep) for i, width in enumerate(widths))


def placed(design: Design, fixing: Fixing) -> tuple[Box, ...]:
    """The rows where they were put, else where they are clear of everything, near the middle, on the fewest feet."""
    roof, plane = design.roof, plane_of_roof(design)
    x, y = roof.field_x_m.value, roof.field_y_m.value
    if x is not None and y is not None:
        return rows_at(design, x, y)
    things, strips = objects_of(design), [strip for strip in strips_of(design) if strip is not None]
    first: tuple[Box, ...] | None = None
    shaded: tuple[Box, ...] | None = None
    for at_x, at_y in _places(design, fixing, plane):
        rows = rows_at(design, at_x if x is None else x, at_y if y is None else y)
        first = rows if first is None else first
        if any(thing.meets(row) for row in rows for thing in things):
            continue
        if not any(strip.meets(row) for row in rows for strip in strips):
            return rows
        # clear of the things, though not of their shade
        shaded = rows if shaded is None else shaded
    found = first if shaded is None else shaded
    assert found is not None  # noqa: S101  there is always one place
    return found


def _places(design: Design, fixing: Fixing, plane: Box) -> Iterator[tuple[float, float]]:
    """Places for the field's lower left corner, best first: along the eave by feet, then both ways out from the middle."""
    widest, roof = max(row_widths(design)), design.roof
    deep, step = laid(design)
    high = deep + (len(design.row_counts) - 1) * step
    middle_x, middle_y = (plane.width - widest) / 2, (plane.height - high) / 2
    best = _least_feet(design, fixing, middle_x, widest)
    spacing = max(roof.line_spacing_m.value, ANYWHERE_M)
    steps_x = max(int((plane.width / 2) / spacing) + 1, 1)
    steps_y = max(int((plane.height / 2) / UP_STEP_M) // 4 + 1, 1)
    xs = [best + sign * k * spacing for k in range(steps_x) for sign in ((1, -1) if k else (1,))]
    ys = [middle_y + sign * k * UP_STEP_M * 4 for k in range(steps_y) for sign in ((1, -1) if k else (1,))]
    clear = roof.side_clear_m.value

    def fits(x: float, y: float) -> bool:
        """Whether the field keeps clear of the sides and on the slope there."""
        return x >= clear and x + widest <= plane.width - clear and y >= 0 and y + high <= plane.height

    yield round(best, 3), round(middle_y, 3)
    around = sorted(
        ((x, y) for x in xs for y in ys if fits(x, y)), key=lambda p: abs(p[0] - best) + abs(p[1] - middle_y)
    )
    yield from ((round(x, 3), round(y, 3)) for x, y in around)


def _least_feet(design: Design, fixing: Fixing, middle: float, widest: float) -> float:
    """The place along the eave near the middle that wants the fewest feet [m]."""
    limits, spacing = limits_of(design, fixing), design.roof.line_spacing_m.value
    tried = []
    for k in range(-TRIED // 2, TRIED // 2 + 1):
        x = round(middle + k * spacing / TRIED, 2)
        choices = feet_of(design, x, x + widest, limits=limits)
        tried.append((len(choices[0]) if choices else math.inf, abs(x - middle), x))
    return min(tried)[2]
