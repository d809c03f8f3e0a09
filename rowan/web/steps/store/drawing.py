"""The store cut open, to scale: coil and sensors are moved by hand."""

from __future__ import annotations

from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, number_and_unit, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.benches.handles import handle
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 404  # the width's figure stands 32 under the foot, and a comma under that
FOOT, TOP = 368.0, 26.0
CENTRE_X = 250.0
WIDEST = 210.0
ELEMENT_AT = 0.19  # of the part that is kept warm, from the top


def cut_away(sheet: Sheet) -> Drawing:
    """Tank with coil, ports, sensors, zones and taps; heights above the foot."""
    drawing = Drawing(WIDTH, HEIGHT, "The store cut open, heights to scale", "store-cut", "store-cut")
    item, units = sheet.design.store.item.value, sheet.units
    height = sheet.result.store.height
    scale = min((FOOT - TOP) / height, WIDEST / item.diameter_m)
    drawing.attributes["data-px-per-m"] = round(scale, 4)
    half, top = item.diameter_m * scale / 2, FOOT - height * scale
    left, right = CENTRE_X - half, CENTRE_X + half
    _tank(drawing, sheet, left, right, top, scale)
    _coil(drawing, sheet, left, right, scale)
    _sensors(drawing, sheet, left, scale)
    drawing.dimension((right + 96, top), (right + 96, FOOT), shown(height, "length", units), "dim big")
    drawing.dimension((left, FOOT + 18), (right, FOOT + 18), "")
    drawing.words((CENTRE_X, FOOT + 32), shown(item.diameter_m, "length", units), "dim-text halo", "middle")
    _words(drawing, sheet, right + 128)
    return drawing


def _tank(drawing: Drawing, sheet: Sheet, left: float, right: float, top: float, scale: float) -> None:
    store = sheet.design.store
    coil_top = FOOT - store.coil_top_m.value * scale
    drawing.rect(20, FOOT, 440, 10, "ground")
    drawing.line((20, FOOT), (460, FOOT), "wall")
    drawing.add("rect", x=left - 10, y=top - 10, width=right - left + 20, height=FOOT - top + 10, rx=20, cls="steep")
    drawing.add("rect", x=left, y=top, width=right - left, height=FOOT - top, rx=14, cls="vessel-body")
    # cold stands below, what the backup keeps warm above
    drawing.rect(left + 1.5, coil_top, right - left - 3, FOOT - coil_top - 8, "liquid")
    drawing.line((left, coil_top), (right, coil_top), "planned")
    drawing.words(
        (left + 10, coil_top - 8),
        _upper_part(sheet),
        "place halo",
    )
    if store.spare_element.value:
        y = top + (coil_top - top) * 0.5
        drawing.line((right, y), (right - (right - left) * 0.45, y), "planned")
        drawing.words((right + 8, y + 4), "element, not connected", "label-berry halo")
    if sheet.design.two_heaters:
        # over the boiler's coil, named inside the tank: beside it stand the coil's name and the height
        y = top + (coil_top - top) * ELEMENT_AT
        drawing.line((right, y), (right - (right - left) * 0.45, y), "hot")
        first, last = (tr(month.value.capitalize()) for month in (store.summer_from, store.summer_to))
        drawing.words((left + 10, y - 5), tr("element, {first} to {last}", first=first, last=last), "label-ink halo")
    drawing.line((left - 46, FOOT - 12), (left, FOOT - 12), "cold")
    drawing.words((left - 50, FOOT - 8), "cold main", "label halo", "end")
    if sheet.design.taps_coil_m2:
        _taps_coil(drawing, (left, right), top)
        _water(drawing, sheet, (left, right), scale)
    drawing.line((CENTRE_X, top), (CENTRE_X, top - 20), "hot")
    drawing.line((CENTRE_X, top - 20), (right + 46, top - 20), "hot")
    valve = "tempering valve" if store.tempering_valve.value else "no tempering valve"
    warned = "label-ink" if store.tempering_valve.value else "label-berry"
    after = {
        "second": tr("to the second tank, {shown},", shown=shown(store.second_l.value * LITRE, "tank", sheet.units)),
        "instant": "to the instant heater,",
    }.get(store.backup.value)
    # over a tall tank two lines stand close: the upper one under the frame's edge, the lower one over the height's end
    upper = max(top - 23, 9)
    if after:
        drawing.words((right + 52, upper), after, "label-ink")
    drawing.words(
        (right + 52, max(top - 9, upper + 11.5) if after else top - 16),
        tr("then the taps, {valve}" if after else "to the taps, {valve}", valve=tr(valve)),
        warned,
    )
    if store.item.value.twin_coil:
        y1, y2 = top + (coil_top - top) * 0.3, top + (coil_top - top) * 0.72
        points = [(right, y1)]
        for i in range(4):
            points.append((left + (right - left) * (0.72 if i % 2 else 0.3), y1 + (y2 - y1) * i / 3))
        points.append((right, y2))
        drawing.path(points, "thin")
        drawing.words(
            (right + 8, (y1 + y2) / 2 + 4),
            "boiler coil" if store.backup.value == "coil" else "not connected",
            "label halo",
        )


def _upper_part(sheet: Sheet) -> str:
    """What the part over the loop's upper port is for."""
    heated = {"coil": "kept warm by the boiler", "element": "the element's part"}
    return heated.get(sheet.design.store.backup.value, "warmest on top")


TAPS_TURNS, TAPS_WIDE = 9, (0.12, 0.42)  # of the taps' coil, and how far across it reaches


def _taps_coil(drawing: Drawing, sides: tuple[float, float], top: float) -> None:
    """The coil in which the taps' water is warmed, from the foot up through the whole height."""
    left, right = sides
    wide, foot = right - left, FOOT - 12
    points = [(left, foot)]
    for i in range(TAPS_TURNS + 1):
        points.append((left + wide * TAPS_WIDE[i % 2], foot - (foot - top - 14) * i / TAPS_TURNS))
    points.append((CENTRE_X, top))
    drawing.path(points, "curve-chosen")
    drawing.words((left + wide * TAPS_WIDE[1] + 8, foot - 14), "taps' coil", "label halo")


def _water(drawing: Drawing, sheet: Sheet, sides: tuple[float, float], scale: float) -> None:
    """Where an open store's water stands while the pump runs: under a lid, not under pressure."""
    draining = sheet.result.draining
    if draining is None or draining.levels is None:
        return
    y = FOOT - draining.levels.running * scale
    drawing.line((sides[0] + 2, y), (sides[1] - 2, y), "vessel-line")
    drawing.words((sides[1] + 14, y + 4), "water, running", "label-slate halo")


def _coil(drawing: Drawing, sheet: Sheet, left: float, right: float, scale: float) -> None:
    store, units = sheet.design.store, sheet.units
    high, low = FOOT - store.coil_top_m.value * scale, FOOT - store.coil_bottom_m.value * scale
    points = [(right, high)]
    turns = 7
    for i in range(turns + 1):
        points.append((left + (right - left) * (0.82 if i % 2 else 0.18), high + (low - high) * i / turns))
    points.append((right, low))
    if not sheet.design.through_store:
        drawing.path(points, "curve-chosen")
    top_of_store = round(sheet.result.store.height, 2)
    for path, y, name, line in (
        ("store.coil_top_m", high, "hot line in", "hot"),
        ("store.coil_bottom_m", low, "cold line out", "cold"),
    ):
        value = getattr(store, path.removeprefix("store.")).value
        limits = (
            (store.coil_bottom_m.value + 0.06, top_of_store)
            if path.endswith("top_m")
            else (0.02, store.coil_top_m.value - 0.06)
        )
        drawing.line((right, y), (right + 62, y), line)
        group = drawing.add("g", **handle(sheet, path, axis="y", per_px=-1 / scale, low=limits[0], high=limits[1]))
        group.rect(right - 12, y - 12, 26, 24, "grip")
        group.circle((right, y), 6, "knob")
        drawing.words((right + 14, y - 7), name, "label halo")
        number, unit = number_and_unit(shown(value, "length", units))
        drawing.figure((right + 14, y + 17), number, unit, "fig halo")


def _sensors(drawing: Drawing, sheet: Sheet, left: float, scale: float) -> None:
    store, units = sheet.design.store, sheet.units
    rows = (
        ("store.lower_sensor_m", store.lower_sensor_m.value, "lower: starts and stops the pump"),
        ("store.upper_sensor_m", store.upper_sensor_m.value, "upper: holds the limit"),
    )
    top_of_store = round(sheet.result.store.height, 2)
    for path, value, name in rows:
        y = FOOT - value * scale
        drawing.line((left - 30, y), (left, y), "pointing")
        group = drawing.add("g", **handle(sheet, path, axis="y", per_px=-1 / scale, low=0.02, high=top_of_store))
        group.rect(left - 14, y - 12, 28, 24, "grip")
        group.rect(left - 6, y - 6, 12, 12, "knob")
        number, unit = number_and_unit(shown(value, "length", units))
        drawing.figure((left - 36, y - 3), number, unit, "fig halo", "end")
        for i, line in enumerate(name.split(": ")):
            drawing.words((left - 36, y + 11 + 13 * i), line, "label halo", "end")


def _words(drawing: Drawing, sheet: Sheet, x: float) -> None:
    units, item = sheet.units, sheet.design.store.item.value
    loop_coil = (
        shown(item.coil_area_m2, "area", units),
        tr(
            "solar coil, {coil_kind}, {shown}",
            coil_kind=item.coil_kind,
            shown=shown(item.coil_contents_l * LITRE, "volume", units),
        ),
    )
    taps_coil = (shown(sheet.design.taps_coil_m2, "area", units), "taps' coil, " + item.coil_kind)
    rows = (
        (shown(item.contents_l * LITRE, "tank", units), item.name),
        *(() if sheet.design.through_store else (loop_coil,)),
        *((taps_coil,) if sheet.design.taps_coil_m2 else ()),
        (shown(sheet.result.store.floor_load, "floor_load", units), "on the floor, full"),
    )
    for i, (big, small) in enumerate(rows):
        number, unit = number_and_unit(big)
        drawing.figure((x, 190 + 54 * i), number, unit, "fig-key")
        drawing.words((x, 205 + 54 * i), small, "label")
    drawing.words((x, 330), "drag coil ports and sensors,", "place screen")
    drawing.words((x, 344), "or use the arrow keys", "place screen")


def days(sheet: Sheet) -> Drawing:
    """Store contents, what it gives at the tap, and what the house draws, as bars of one scale."""
    drawing = Drawing(WIDTH, 112, "A day of the house against the store", "days", "days")
    figures, units = sheet.result.figures, sheet.units
    rows = (
        ("the store holds", sheet.design.store.item.value.contents_l * LITRE, "bar-slate"),
        (
            "gives at the tap, all at 60 °C" if units == "metric" else "gives at the tap, all at 140 °F",
            figures["usable"].value,
            "bar",
        ),
        ("the house draws a day", figures["daily_draw"].value, "bar-open"),
    )
    top = max(value for _, value, _ in rows) or 1.0
    for i, (name, value, cls) in enumerate(rows):
        y = 6 + 34 * i
        drawing.words((180, y + 17), name, "label-ink", "end")
        drawing.rect(190, y, 370 * value / top, 24, cls)
        number, unit = shown_number(value, "tank", units), unit_label("tank", units)
        drawing.figure((198 + 370 * value / top, y + 18), number, unit, "fig-key")
    return drawing
