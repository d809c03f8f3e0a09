"""The house in plan with its compass, the sun by month, the route as a chain of legs."""

from __future__ import annotations

import math

from rowan.core.terms.compass import compass_name
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, dimension, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.benches.handles import handle
from rowan.web.ui.fit import USUAL_PX, lines_of, measured_at, width_of
from rowan.web.ui.svg import Drawing, Node, Point

WIDTH, HEIGHT = 656, 366
CENTRE: Point = (228.0, 180.0)
RING = 150.0
FIRST_LINE_PX = 13.0  # under the frame, of the bearing of a roof that looks north
HALF_WIDTH = 322
HEIGHT_OF_MONTHS = 178
ACROSS_DEG = 135.0  # ° between two planes from which they share a ridge
HINT_PX = 170.0  # room for the hint in the corner
BESIDE_PX = 12.0  # a field on the ground, from the house
MONTH_LETTERS = "JFMAMJJASOND"
MONTH_TICKS, MOST_TICKS = (0.1, 0.2, 0.5, 1, 2, 5, 10), 5


def polar(centre: Point, radius: float, azimuth: float) -> Point:
    """The point at a radius and an azimuth from north, y downwards."""
    a = math.radians(azimuth)
    return centre[0] + radius * math.sin(a), centre[1] - radius * math.cos(a)


def house_plan(sheet: Sheet) -> Drawing:
    """Compass, house turned to its bearing, field on the roof to scale; the whole house is turned by hand."""
    drawing = Drawing(WIDTH, HEIGHT, "The house in plan, turned by its bearing", "plan", "plan-drawing")
    survey = sheet.design.survey
    _compass(drawing)
    _sun_arc(drawing, sheet)
    width, slope = survey.roof_width_m.value, survey.roof_slope_m.value
    depth = slope * math.cos(math.radians(survey.roof_tilt_deg.value))
    scale = min(150 / width, 62 / max(depth, 0.5), 24.0)
    drawing.attributes["data-px-per-m"] = round(scale, 4)
    azimuth = survey.roof_azimuth_deg.value
    group = drawing.add(
        "g",
        **handle(
            sheet,
            "survey.roof_azimuth_deg",
            axis="turn",
            per_px=1,
            label="bearing of the roof",
            data_cx=CENTRE[0],
            data_cy=CENTRE[1],
        ),
    )
    house = group.add("g", transform=f"rotate({azimuth - 180:.2f} {CENTRE[0]} {CENTRE[1]})")
    _house(house, sheet, width * scale, depth * scale, scale)
    tip = (CENTRE[0], CENTRE[1] + RING - 6)
    house.line((CENTRE[0], CENTRE[1] + depth * scale + 2), tip, "stroke")
    house.circle((CENTRE[0], CENTRE[1] + RING - 16), 14, "grip")
    house.path(((tip[0] - 6, tip[1] - 14), (tip[0] + 6, tip[1] - 14), tip), "solid", close=True)
    at = polar(CENTRE, RING + 25, azimuth)
    drawing.figure((at[0], max(at[1] + 5, FIRST_LINE_PX)), f"{azimuth:.0f}°", "", "fig-key halo", "middle")
    _words(drawing, sheet)
    return drawing


def _compass(drawing: Drawing) -> None:
    drawing.circle(CENTRE, RING, "thin")
    for degrees in range(0, 360, 5):
        long = 9 if degrees % 45 == 0 else 6 if degrees % 15 == 0 else 3
        drawing.line(polar(CENTRE, RING, degrees), polar(CENTRE, RING - long, degrees), "thin")
    for i in range(0, 16, 4):
        x, y = polar(CENTRE, RING - 20, i * 22.5)
        drawing.words((x, y + 4), compass_name(i * 22.5), "fig-minor", "middle")


def _sun_arc(drawing: Drawing, sheet: Sheet) -> None:
    """Where the equator lies, and 15 degrees to each side where little is lost."""
    equator = 180 if sheet.design.survey.latitude_deg.value >= 0 else 0
    points = [polar(CENTRE, RING + 5, equator + d) for d in range(-15, 16, 3)]
    drawing.path(points, "leaf-line")
    for d in (-15, 15):
        drawing.line(polar(CENTRE, RING + 1, equator + d), polar(CENTRE, RING + 9, equator + d), "leaf-line")


def _house(group: Node, sheet: Sheet, width: float, depth: float, scale: float) -> None:
    cx, cy = CENTRE
    group.rect(cx - width / 2, cy - depth, width, depth, "roof-shade")
    group.rect(cx - width / 2, cy, width, depth, "roof-plane", id="plan-roof")
    group.line((cx - width / 2, cy), (cx + width / 2, cy), "wall")
    roof, tilt = sheet.result.roof, math.radians(sheet.design.survey.roof_tilt_deg.value)
    on_roof = sheet.design.on_roof
    # where the Roof bench has it: from the left as one faces the roof, up the slope as it is seen from above
    up = math.cos(tilt) * scale if on_roof else scale
    left, eave = (
        (cx - width / 2, cy + depth) if on_roof else (cx - roof.plane.width * scale / 2, cy + depth + BESIDE_PX)
    )
    if on_roof and sheet.design.plane_beside is not None:
        _beside(group, sheet, width, scale)
    for box in roof.collectors:
        top = eave - box.top * up if on_roof else eave + box.y * up
        group.rect(left + box.x * scale, top, box.width * scale, max(box.height * up, 2), "plate")
    if on_roof:
        for thing in roof.objects:
            group.path([(left + x * scale, eave - y * up) for x, y in thing.corners], "mass", close=True)


def _beside(group: Node, sheet: Sheet, width: float, scale: float) -> None:
    """What lies on the other plane, to scale from above, where that plane looks: over the ridge, or beside the house."""
    plane, roof = sheet.design.plane_beside, sheet.result.roof.beside
    if plane is None or roof is None:
        return
    cx, cy = CENTRE
    turned = (plane.azimuth_deg - sheet.design.survey.roof_azimuth_deg.value) % 360
    up = math.cos(math.radians(plane.pitch_deg)) * scale
    # its ridge is the house's, or the wall's side it stands out from
    over = abs((turned + 180) % 360 - 180) > ACROSS_DEG
    ridge = 0.0 if over else width / 2 - BESIDE_PX
    wing = group.add("g", transform=f"rotate({turned:.2f} {cx} {cy})")
    left, eave = cx - roof.plane.width * scale / 2, cy + ridge + roof.plane.height * up
    wing.rect(left, cy + ridge, roof.plane.width * scale, roof.plane.height * up, "roof-plane")
    for box in roof.collectors:
        wing.rect(left + box.x * scale, eave - box.top * up, box.width * scale, max(box.height * up, 2), "plate")


def _words(drawing: Drawing, sheet: Sheet) -> None:
    survey, units = sheet.design.survey, sheet.units
    x = 452.0
    rows = (
        (
            tr("faces {point}", point=compass_name(survey.roof_azimuth_deg.value)),
            tr(
                "turned {from_equator_deg}° from the equator; up to 15° costs little",
                from_equator_deg=f"{sheet.result.site.from_equator_deg:.0f}",
            ),
        ),
        (
            " × ".join(
                shown(side.value, "length", units, 1 if units == "metric" else None)
                for side in (survey.roof_width_m, survey.roof_slope_m)
            ),
            "roof plane, width and slope",
        ),
        (
            f"{_counts(sheet)} × {shown(sheet.design.collector.item.value.aperture_m2, 'area', units)}",
            "collectors, drawn to scale",
        ),
        (
            shown(sheet.result.site.relative_yield, "share", units),
            tr(
                "of the best plane, {tilt}° toward {azimuth}",
                tilt=f"{sheet.result.site.best.tilt:.0f}",
                azimuth=compass_name(sheet.result.site.best.azimuth),
            ),
        ),
        (
            f"{shown(survey.latitude_deg.value, 'latitude', units)}",
            tr(
                "{place}, {height} above the sea",
                place=survey.place.value,
                height=shown(survey.altitude_m.value, "length", units, 0),
            ),
        ),
    )
    for i, (big, small) in enumerate(rows):
        y = 58 + i * 56
        drawing.words((x, y), big, "fig-big")
        for j, line in enumerate(lines_of(small, WIDTH - x)):
            drawing.words((x, y + 16 + 13 * j), line, "label")
    # beside the bearing of a roof that looks north, in every language
    for row, line in enumerate(lines_of("turn the house by its arrow, or arrow keys", HINT_PX, measured_at("place"))):
        drawing.words((0, 14 + 15 * row), line, "place screen")


def _counts(sheet: Sheet) -> str:
    """How many collectors, and how many of them on each plane."""
    design = sheet.design
    if design.plane_beside is None:
        return str(design.collector.count.value)
    return f"{design.count_first} + {design.count_on(design.plane_beside)}"


def months(sheet: Sheet) -> Drawing:
    """Irradiation on the roof, a day of each month, beam and diffuse; the flat plane as a tick."""
    drawing = Drawing(HALF_WIDTH, HEIGHT_OF_MONTHS, "Sun on the roof by month", "months", "months")
    unit = dimension("irradiation").unit(sheet.units)
    flat = [unit.from_si(day * KWH) for day in sheet.design.survey.normals.value.ghi_kwh_m2_day]
    diffuse, beam, total = (
        [unit.from_si(float(day)) for day in days]
        for days in (sheet.result.site.months.diffuse, sheet.result.site.months.beam, sheet.result.site.months.total)
    )
    top = max(*total, *flat) * 1.08
    left, foot, height = 30.0, 146.0, 122.0
    step = (HALF_WIDTH - left - 6) / 12
    every = next(tick for tick in MONTH_TICKS if top / tick <= MOST_TICKS)
    for count in range(int(top / every) + 1):
        y = foot - height * count * every / top
        drawing.line((left, y), (HALF_WIDTH, y), "grid" if count else "rule-ink")
        drawing.words((left - 6, y + 4), f"{count * every:g}", "axis", "end")
    for i in range(12):
        x = left + step * i + 4
        drawing.rect(x, foot, step - 8, -height * diffuse[i] / top, "bar-open")
        drawing.rect(x, foot - height * diffuse[i] / top, step - 8, -height * beam[i] / top, "sun")
        y = foot - height * flat[i] / top
        drawing.line((x - 2, y), (x + step - 6, y), "stroke")
        drawing.words((x + step / 2 - 4, foot + 14), MONTH_LETTERS[i], "axis", "middle")
    name, legend = tr(f"{unit.label} a day"), tr("dotted: beam · white: sky · line: on the flat")
    drawing.words((0, 12), name, "label")
    beside = width_of(f"{name}  {legend}", USUAL_PX) < HALF_WIDTH
    drawing.words((HALF_WIDTH, 12 if beside else HEIGHT_OF_MONTHS - 4), legend, "label", "end")
    return drawing


PLACE_CLASS = {
    "cellar": "bar",
    "indoors": "bar",
    "shaft": "bar-open",
    "attic": "steep",
    "roof": "sun",
    "outside": "sun",
    "buried": "ground",
}


def chain(sheet: Sheet) -> Drawing:
    """Both lines as a chain of legs, lengths to one scale."""
    drawing = Drawing(HALF_WIDTH, 170, "The route as a chain of legs", "chain", "chain")
    route, units = sheet.result.run.route, sheet.units
    longest = max(route.cold_length, route.hot_length, 1.0)
    scale = (HALF_WIDTH - 8) / longest
    drawing.attributes["data-px-per-m"] = round(scale, 4)
    for legs, name, y in ((route.cold, "cold line", 34.0), (route.hot, "hot line", 104.0)):
        length = sum(leg.length for leg in legs)
        number, label = shown_number(length, "length", units, 1), unit_label("length", units)
        drawing.words((0, y - 10), name, "fig-minor")
        drawing.figure((HALF_WIDTH - 8, y - 10), number, label, "fig", "end")
        for i, leg in enumerate(legs):
            x = leg.start * scale
            drawing.rect(x, y, leg.length * scale, 13, PLACE_CLASS[leg.place], id=f"chain-{leg.line}-{leg.id}")
            if leg.assumed:
                drawing.line((x, y + 17), (x + leg.length * scale, y + 17), "ghost")
            if leg.length * scale > 26:
                drawing.words(
                    (x + leg.length * scale / 2, y + 29), shown_number(leg.length, "length", units, 1), "axis", "middle"
                )
                if leg.length * scale > 58 or i == 0:
                    drawing.words((x + leg.length * scale / 2, y + 42), leg.place, "place", "middle")
    return drawing
