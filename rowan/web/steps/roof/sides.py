"""Three small drawings beside the plane: a foot from the side, the screw in its timber, the field from the street."""

from __future__ import annotations

from rowan.core.steps.roof.marks import grid_diagonal
from rowan.core.steps.roof.square import central_third, seen_crooked, square_check
from rowan.core.steps.roof.stage import thread_in
from rowan.core.terms.figure import Quantity
from rowan.core.terms.language import tr
from rowan.core.terms.units import fixed, shown
from rowan.web.benches.bench import Sheet
from rowan.web.steps.roof.tape import mark_text
from rowan.web.ui.fit import lines_of
from rowan.web.ui.svg import Drawing, Node, Point

WIDTH, HEIGHT = 310.0, 208.0
MM = 0.5  # px of a millimetre in the section


def foot_section(sheet: Sheet) -> Drawing:
    """The foot from the side at the roof's pitch: timber, deck, covering, foot, rail, collector; the screw to scale."""
    design, roof = sheet.design, sheet.result.roof
    drawing = Drawing(WIDTH, HEIGHT, tr("{name}, from the side", name=roof.fixing.name), "foot-section", "foot-section")
    pitch = min(design.survey.roof_tilt_deg.value, 50.0) if design.on_roof else 0.0
    group = drawing.add("g", transform=f"translate(0 14) rotate({-pitch / 2:.1f} 150 112)")
    deck = design.roof.deck_m.value * 1000 * MM
    deep = min(design.roof.line_depth_m.value * 1000 * MM, 48.0)
    top = 122.0
    carried = {"slab": "concrete", "trusses": "truss, top chord"}.get(design.roof.carrier.value, "rafter")
    if roof.fixing.timber:
        group.rect(34, top, 236, deep, "body")
        size = f"{shown(design.roof.line_width_m.value, 'pipe_size', sheet.units)} × {shown(design.roof.line_depth_m.value, 'pipe_size', sheet.units)}"
        group.words((200, top + deep - 12), tr("{carried} {size}", carried=carried, size=size), "label halo", "middle")
    else:
        group.rect(34, top, 236, 22, "steep")
        group.words(
            (200, top + 44),
            "into the sheet"
            if roof.fixing.key in ("bracket", "strap")
            else carried
            if design.roof.carrier.value == "slab"
            else "on the seam",
            "label halo",
            "middle",
        )
    if deck:
        group.rect(34, top - deck, 236, deck, "mass")
    if roof.fixing.key == "frame":
        _built_in(group, sheet, top - deck)
        return drawing
    _covering(group, design.survey.covering.value, top - deck)
    _foot(group, sheet, (120.0, top - deck))
    return drawing


def _built_in(group: Node, sheet: Sheet, y: float) -> None:
    """Boards on the rafter, the collector in the covering's own plane, flashing over the course below and under the one above."""
    thread = thread_in(sheet.design, sheet.result.roof.fixing) * 1000 * MM
    for x in (92.0, 196.0):
        group.rect(x - 16, y - 10, 32, 10, "mass")
        group.line((x, y - 12), (x, y + sheet.design.roof.deck_m.value * 1000 * MM + thread), "hot")
        group.line((x - 5, y - 12), (x + 5, y - 12), "hot")
    for x in (34.0, 216.0):
        group.path(((x, y - 3), (x + 54, y - 9), (x + 54, y - 12), (x, y - 6)), "bar-slate", close=True)
    group.rect(80, y - 34, 132, 22, "plate")
    group.words((146, y - 19), "collector", "label", "middle")
    # below: over the lower course; above: under the upper one
    group.path(((44, y - 13), (80, y - 15), (80, y - 34)), "live")
    group.path(((212, y - 34), (218, y - 16), (252, y - 14)), "live")
    group.words((60, y - 38), "flashing", "label halo", "middle")


def _covering(group: Node, covering: str, y: float) -> None:
    """Slates and tiles lap over each other; sheets lie as one."""
    if covering in ("slate", "tile", "shingle"):
        for k in range(5):
            x = 34 + 45 * k
            group.path(((x, y - 3), (x + 56, y - 9), (x + 56, y - 12), (x, y - 6)), "bar-slate", close=True)
    else:
        group.rect(34, y - 5, 236, 5, "bar-slate")


def _foot(group: Node, sheet: Sheet, at: Point) -> None:
    """Foot, its screws as deep as they go, rail and the collector over it."""
    design, roof = sheet.design, sheet.result.roof
    x, y = at
    if roof.fixing.screws and roof.fixing.timber:
        thread = thread_in(design, roof.fixing)
        for k in range(roof.fixing.screws):
            sx = x - 14 + 18 * k
            tip = y + design.roof.deck_m.value * 1000 * MM + thread * 1000 * MM
            group.line((sx, y - 6), (sx, tip), "hot")
            group.line((sx - 5, y - 6), (sx + 5, y - 6), "hot")
    group.path(((x - 26, y - 4), (x + 24, y - 4), (x + 24, y - 22), (x + 52, y - 30), (x + 52, y - 50)), "live")
    group.rect(x + 40, y - 66, 24, 16, "rail-chosen")
    group.rect(x - 50, y - 88, 170, 22, "plate")
    group.words((x + 36, y - 73), "collector", "label", "middle")


def screw_drawing(sheet: Sheet) -> Drawing:
    """The timber across: its central third, the screw, and how far marking may miss."""
    design, roof = sheet.design, sheet.result.roof
    drawing = Drawing(WIDTH, HEIGHT, "The screw in its timber", "screw", "screw")
    units = sheet.units
    if not roof.fixing.timber or design.roof.carrier.value == "slab":
        drawing.words((20, 60), roof.fixing.name[0].upper() + roof.fixing.name[1:], "fig")
        for k, line in enumerate(lines_of(roof.fixing.notes, WIDTH - 40)):
            drawing.words((20, 84 + 16 * k), line, "label")
        return drawing
    width = design.roof.line_width_m.value * 1000
    scale = min(120 / width, 2.2)
    x, top, wide = 34.0, 44.0, width * scale
    drawing.rect(x, top, wide, 118, "ground")
    drawing.rect(x, top, wide, 118, "stroke")
    third = central_third(width=design.roof.line_width_m.value)
    drawing.rect(x + wide / 3, top, wide / 3, 118, "window-band")
    for side in (1, 2):
        drawing.line((x + wide * side / 3, top), (x + wide * side / 3, top + 118), "leaf-line")
    middle = x + wide / 2
    drawing.line((middle, top - 12), (middle, top + 84), "live")
    drawing.line((middle - 11, top - 12), (middle + 11, top - 12), "live")
    drawing.dimension((x, top + 136), (x + wide, top + 136), shown(design.roof.line_width_m.value, "pipe_size", units))
    left = x + wide + 22
    thread = thread_in(design, roof.fixing)
    rows = (
        tr("central third, ±{units}", units=Quantity(third, "growth").shown(units)),
        tr("thread in it {thread}", thread=shown(thread, "pipe_size", units)),
        f"{roof.fixing.screws} × {roof.fixing.screw}",
        "pilot square to the roof",
    )
    for k, words in enumerate(rows):
        drawing.words((left, top + 14 + 19 * k), words, "label-ink")
    return drawing


def square_drawing(sheet: Sheet) -> Drawing:
    """The rail grid with both diagonals: what they should be, what was measured, and which way the upper rail moves."""
    design, roof, units = sheet.design, sheet.result.roof, sheet.units
    drawing = Drawing(WIDTH, HEIGHT, "The rail grid and its diagonals", "square", "square")
    width, height = roof.grid
    whole = grid_diagonal(roof)
    if whole is None:
        drawing.words((20, 60), "One rail alone has no diagonals.", "label")
        return drawing
    per_m = min(200 / width, 96 / height)
    left, foot = (WIDTH - width * per_m) / 2, 128.0
    corners = [
        (left, foot),
        (left + width * per_m, foot),
        (left + width * per_m, foot - height * per_m),
        (left, foot - height * per_m),
    ]
    for a, b in ((corners[0], corners[1]), (corners[3], corners[2])):
        drawing.rect(a[0], a[1] - 3, b[0] - a[0], 6, "rail")
    drawing.line(corners[0], corners[2], "stroke")
    drawing.line(corners[1], corners[3], "planned")
    for corner in corners:
        drawing.circle(corner, 3.5, "solid")
    drawing.words(
        ((left + left + width * per_m) / 2, foot - height * per_m / 2 - 8),
        mark_text(whole, units),
        "fig halo",
        "middle",
    )
    one, two = design.roof.diagonal_1_m.value, design.roof.diagonal_2_m.value
    words = ["Measure both from rail end to rail end, nothing tightened."]
    if one is not None and two is not None:
        check = square_check(diagonal_1=one, diagonal_2=two, width=width, height=height)
        turned = tr("{millimetres} mm in each m", millimetres=fixed(abs(check.angle) * 1000, 1))
        if check.square:
            words = [
                tr(
                    "Measured {one} and {other}: {turned}, square enough.",
                    one=mark_text(one, units),
                    other=mark_text(two, units),
                    turned=turned,
                )
            ]
        else:
            way = "right" if check.move > 0 else "left"
            words = [
                tr("Out of square by {turned}.", turned=turned),
                tr(
                    "Move the upper rail {mark_text} to the {way}.",
                    mark_text=mark_text(abs(check.move), units),
                    way=way,
                ),
            ]
    for k, line in enumerate(words):
        drawing.words((20, 172 + 16 * k), line, "label-ink")
    return drawing


def street_view(sheet: Sheet) -> Drawing:
    """The roof as it is seen from the street: the eave out of level, drawn twentyfold, and how the field will look on it."""
    design, roof = sheet.design, sheet.result.roof
    drawing = Drawing(WIDTH, HEIGHT, "The field from the street", "street", "street")
    plane, field, inputs = roof.plane, roof.field, design.roof
    per_m = min(270 / plane.width, 120 / plane.height)
    left, foot = (WIDTH - plane.width * per_m) / 2, 146.0
    drop = inputs.eave_drop_m.value
    shown_drop = max(min(drop * per_m * 20, 24.0), -24.0)
    share = {"eave": 1.0, "split": 0.5}.get(inputs.street.value, 0.0)

    def at(x: float, y: float, bend: float) -> Point:
        return left + x * per_m, foot - y * per_m + shown_drop * bend * x / plane.width

    corners = [at(0, 0, 1), at(plane.width, 0, 1), at(plane.width, plane.height, 0), at(0, plane.height, 0)]
    drawing.path(corners, "roof-plane", close=True)
    middle = field.x + field.width / 2
    for row in roof.rows:
        points = []
        for x, y in ((row.x, row.y), (row.right, row.y), (row.right, row.top), (row.x, row.top)):
            px, py = at(x, y, 0)
            points.append((px, py + shown_drop * share * (x - middle) / plane.width))
        drawing.path(points, "plate", close=True)
    seen = seen_crooked(drop=drop, eave=plane.width, row=field.width)
    units = sheet.units
    if not drop:
        words = ["The eave is level: level rails look level."]
    else:
        side = "right" if drop > 0 else "left"
        words = [
            tr("Eave {shown} lower at the {side}; drawn twentyfold.", shown=shown(abs(drop), "level", units), side=side)
        ]
        if inputs.street.value in ("open", "level"):
            words.append(
                tr(
                    "A level rail shows {seen} over {width}.",
                    seen=shown(seen, "level", units),
                    width=shown(field.width, "length", units),
                )
            )
        elif inputs.street.value == "split":
            words.append(tr("Split: the rail drops {shown} over its row.", shown=shown(seen / 2, "level", units)))
        else:
            words.append("The rail follows the eave, and the field hangs with it.")
    for k, line in enumerate(words):
        drawing.words((20, 182 + 16 * k), line, "label-ink")
    return drawing
