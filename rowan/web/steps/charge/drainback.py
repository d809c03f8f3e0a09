"""The Charge bench of a loop that drains: what is lifted, the marks in the reservoir, and how every leg falls."""

from __future__ import annotations

from rowan.core.steps.run.drainback import Draining, OpenLevels
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, number_and_unit, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 396
FOOT, TOP = 356.0, 34.0
PUMP_X, FIELD_X, RETURN_X = 96.0, 214.0, 262.0
RETURN_OVER_PX = 18.0  # a short way over the running water: the mark at rest has the drawing beside it
TANK_LEFT, TANK_RIGHT, TANK_TOP, TANK_FOOT = 384.0, 508.0, 96.0, 330.0
LEAST_SPAN_M = 0.5
OPEN_SHOWN, OPEN_LEAST_M = (
    1.6,
    0.1,
)  # of an open store: times what lies over its running water, at least so much of it [m]


def lift_and_levels(sheet: Sheet, found: Draining) -> Drawing:
    """Heights to scale at the left: water, top, what the pump lifts and what the return gives back. The marks at the right."""
    drawing = Drawing(WIDTH, HEIGHT, "What the pump lifts, and the marks in the reservoir", "lift", "lift")
    units, route = sheet.units, sheet.result.run.route
    low = min(found.level, 0.0) - LEAST_SPAN_M
    span = max(route.top - low, LEAST_SPAN_M)

    def y(height: float) -> float:
        return FOOT - (FOOT - TOP) * (height - low) / span

    drawing.attributes["data-px-per-m"] = round((FOOT - TOP) / span, 4)
    top, level = y(route.top), y(found.level)
    drawing.rect(20, level, 300, FOOT - level, "liquid")
    drawing.line((20, level), (320, level), "vessel-line")
    drawing.words((24, level - 6), "running level", "label-slate halo")
    plate = max(y(route.plate_bottom), top + 2)
    drawing.path(((PUMP_X, FOOT - 14), (PUMP_X, plate), (FIELD_X - 40, plate)), "cold")
    drawing.path(((FIELD_X - 40, plate), (FIELD_X, top)), "body", close=False)
    drawing.line((FIELD_X - 40, plate), (FIELD_X, top), "curve-chosen")
    _return_end(drawing, sheet, (top, level))
    drawing.circle((PUMP_X, FOOT - 26), 9, "part-body")
    drawing.path(((PUMP_X - 5, FOOT - 22), (PUMP_X + 5, FOOT - 22), (PUMP_X, FOOT - 32)), "solid", close=True)
    drawing.dimension(
        (PUMP_X - 44, top), (PUMP_X - 44, level), shown(max(found.lift.height, 0.0), "length", units), "dim big"
    )
    drawing.line((PUMP_X - 50, top), (FIELD_X, top), "grid")
    head = found.head
    number, unit = number_and_unit(shown(found.lift.start_head, "head", units))
    middle = (top + level) / 2
    drawing.figure((PUMP_X + 12, middle - 4), number, unit, "fig-key halo")
    drawing.words((PUMP_X + 12, middle + 10), "lifted at the start", "label halo")
    number, unit = number_and_unit(shown(head.return_velocity, "velocity", units))
    drawing.figure((RETURN_X + 12, middle - 4), number, unit, "fig-key halo")
    words = ("it fills and pulls", "the lift back") if head.siphon else ("it does not fill:", "the lift stays")
    for k, line in enumerate(words):
        drawing.words((RETURN_X + 12, middle + 10 + 13 * k), line, "label-leaf halo" if head.siphon else "label halo")
    number, unit = number_and_unit(shown(head.running_head, "head", units))
    drawing.figure((PUMP_X + 16, FOOT - 30), number, unit, "fig-key halo")
    drawing.words((PUMP_X + 16, FOOT - 16), "running", "label halo")
    _marks(drawing, sheet, found)
    return drawing


def _return_end(drawing: Drawing, sheet: Sheet, heights: tuple[float, float]) -> None:
    """The return as it ends: over the water, or under it with the inlet that lets its air in."""
    top, level = heights
    under = sheet.design.run.return_under.value
    end = level + 14 if under else level - RETURN_OVER_PX
    drawing.path(((FIELD_X, top), (RETURN_X, top), (RETURN_X, end)), "hot", id="return-end")
    if not under:
        drawing.words((RETURN_X + 12, end), "ends over the mark", "label halo")
    elif sheet.design.run.air_inlet_m.value is not None:
        drawing.circle((RETURN_X, level - RETURN_OVER_PX), 4, "ring-dot")
        drawing.words((RETURN_X + 12, level - RETURN_OVER_PX + 4), "air inlet", "label halo")
    else:
        drawing.mark((RETURN_X + 14, level - RETURN_OVER_PX), "stop", 14)
        drawing.words((RETURN_X + 26, level - RETURN_OVER_PX + 4), "no air comes in", "label-berry halo")


def _marks(drawing: Drawing, sheet: Sheet, found: Draining) -> None:
    """Running level, mark at rest and the air above: of an open store by its heights, else of the reservoir by its litres."""
    if found.levels is not None:
        _open_marks(drawing, sheet, found, found.levels)
        return
    units, marks = sheet.units, found.marks
    has = marks.volume if sheet.design.is_pool else sheet.design.charge.reservoir_l.value * LITRE
    whole = max(has, marks.volume)

    def y(volume: float) -> float:
        return TANK_FOOT - (TANK_FOOT - TANK_TOP) * volume / whole

    drawing.words((TANK_LEFT, TANK_TOP - 30), tr("reservoir, {has}", has=shown(has, "tank", units)), "state-name")
    rows = ((marks.fill_mark, "mark at rest, pump off", "volume"), (marks.running, "running", "volume"))
    _tank(drawing, sheet, found, [(y(value), shown(value, kind, units), words) for value, words, kind in rows])
    if has < marks.volume:
        drawing.rect(TANK_LEFT, TANK_TOP, TANK_RIGHT - TANK_LEFT, y(has) - TANK_TOP, "outside")
    drawing.rect(TANK_LEFT, y(has), TANK_RIGHT - TANK_LEFT, TANK_FOOT - y(has), "tank-wall")
    drawing.words((TANK_LEFT, TANK_FOOT + 20), "over the inlet of the pump; a tenth of air stays on top", "place")


def _open_marks(drawing: Drawing, sheet: Sheet, found: Draining, levels: OpenLevels) -> None:
    """The uppermost part of the open store, to scale: its rim, the mark at rest, the water while the pump runs."""
    units = sheet.units
    span = max((levels.height - levels.running) * OPEN_SHOWN, OPEN_LEAST_M)

    def y(height: float) -> float:
        return TANK_TOP + (TANK_FOOT - TANK_TOP) * (levels.height - height) / span

    drawing.words((TANK_LEFT, TANK_TOP - 30), "top of the open store", "state-name")
    rows = ((levels.rest, "under the rim: mark at rest"), (levels.running, "under the rim, running"))
    marks = [(y(height), shown(levels.height - height, "level", units), words) for height, words in rows]
    _tank(drawing, sheet, found, marks)
    drawing.path(
        ((TANK_LEFT, TANK_FOOT), (TANK_LEFT, TANK_TOP), (TANK_RIGHT, TANK_TOP), (TANK_RIGHT, TANK_FOOT)), "vessel-line"
    )
    drawing.line((TANK_LEFT - 10, TANK_TOP), (TANK_RIGHT + 10, TANK_TOP), "wall")
    drawing.words((TANK_RIGHT + 14, TANK_TOP + 4), "lid, sealed", "label halo")
    swells = shown(levels.swells, "volume", units)
    hottest = shown(sheet.design.store.maximum_c.value, "temperature", units)
    drawing.words(
        (TANK_LEFT, TANK_FOOT + 20),
        tr("cut off below; over the mark {swells} to swell, to {hottest}", swells=swells, hottest=hottest),
        "place",
    )


def _tank(drawing: Drawing, sheet: Sheet, found: Draining, marks: list[tuple[float, str, str]]) -> None:
    """Water up to the running level, what comes back over it, each mark with its figure."""
    (rest, _, _), (running, _, _) = marks
    drawing.rect(TANK_LEFT, running, TANK_RIGHT - TANK_LEFT, TANK_FOOT - running, "liquid")
    drawing.rect(TANK_LEFT, rest, TANK_RIGHT - TANK_LEFT, running - rest, "lukewater")
    for y, text, words in marks:
        drawing.line((TANK_LEFT - 8, y), (TANK_RIGHT + 8, y), "stroke")
        number, unit = number_and_unit(text)
        drawing.figure((TANK_RIGHT + 14, y + 1), number, unit, "fig-key halo")
        drawing.words((TANK_RIGHT + 14, y + 14), words, "label halo")
    middle = (running + rest) / 2
    number, unit = number_and_unit(shown(found.above, "volume", sheet.units))
    drawing.figure(((TANK_LEFT + TANK_RIGHT) / 2, middle), number, unit, "fig-big halo", "middle")
    drawing.words(((TANK_LEFT + TANK_RIGHT) / 2, middle + 15), "comes back", "label halo", "middle")


FALL_ROW, FALL_LEFT, FALL_WIDE = 26.0, 250.0, 190.0
TEN_TIMES = 10.0
MOST_DROP_PX = 12.0


def falls_drawing(sheet: Sheet, found: Draining) -> Drawing:
    """Every leg above the water, from the field down: its fall toward the store; traps with the litres they hold."""
    legs = sorted(
        found.legs,
        key=lambda f: (f.leg.line != "hot", -f.leg.end_height if f.leg.line == "hot" else -f.leg.start_height),
    )
    drawing = Drawing(WIDTH, FALL_ROW * len(legs) + 26, "How every leg falls toward the store", "falls", "falls")
    units = sheet.units
    drawing.words((0, 14), "leg, from the field down", "label")
    drawing.words((FALL_LEFT + FALL_WIDE + 20, 14), "falls", "label")
    for n, entry in enumerate(legs):
        y = 24 + FALL_ROW * n
        leg = entry.leg
        drawing.words(
            (0, y + 16),
            tr("{line} line, {leg}", line=leg.line, leg=leg.name or leg.id),
            "fig" if entry.trap else "label-ink",
        )
        drop = max(-MOST_DROP_PX, min(entry.fall * TEN_TIMES * 24, 20.0))
        drawing.line(
            (FALL_LEFT, y + 2),
            (FALL_LEFT + FALL_WIDE, y + 2 + drop),
            "trap" if entry.trap else "hot" if leg.line == "hot" else "cold",
        )
        number, unit = number_and_unit(shown(entry.fall, "share_fine", units))
        drawing.figure((FALL_LEFT + FALL_WIDE + 20, y + 16), number, unit, "fig-cell-key")
        if entry.trap:
            drawing.words(
                (FALL_LEFT + FALL_WIDE + 88, y + 16),
                tr("holds {contents}", contents=shown(leg.contents, "volume", units)),
                "label-berry",
            )
        else:
            drawing.words((FALL_LEFT + FALL_WIDE + 88, y + 16), leg.place, "label")
        drawing.line((0, y + FALL_ROW - 3), (WIDTH, y + FALL_ROW - 3), "rule")
    return drawing
