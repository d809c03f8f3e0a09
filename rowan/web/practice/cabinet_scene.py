"""The loop with its controller as a page draws it: field, lines, station, store, terminals with their cables, isolator, backup."""

from __future__ import annotations

import math
from collections.abc import Mapping

from rowan.core.practice import cabinet as cabinets
from rowan.core.practice.cabinet import AGAINST, BRIDGED, CABLES, PAST, PLACES, UPRIGHT, Cabinet, Course
from rowan.core.practice.cabinet_marks import CALLED
from rowan.core.practice.rig_kernel import FLOWS_M3_S
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.ui.fit import lines_of
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 712.0, 580.0
FIELD = (60.0, 40.0, 290.0, 26.0)  # left, top, width, height
STORE = (106.0, 290.0, 120.0, 210.0)
HOT_X, COLD_X, TAIL_Y = 60.0, 350.0, 128.0
PUMP_Y, FLOAT_Y, CHECK_Y = 420.0, 340.0, 290.0
BOX = (444.0, 100.0, 260.0, 190.0)
TERMINALS_Y = BOX[1] + BOX[3] + 14
RUNG_Y = 510.0
READS = dict(zip(PLACES, (cabinets.READS_FIELD, cabinets.READS_FOOT, cabinets.READS_TOP), strict=True))


def reading(value: float, units: System) -> str:
    """What the display shows of a terminal."""
    return "– –" if math.isnan(value) else shown(value, "temperature", units)


def scene(cabinet: Cabinet, course: Course, units: System) -> Drawing:
    """The rig at the end of a course, as it stands."""
    row, stands = course.rows[-1], course.stands[-1]
    drawing = Drawing(WIDTH, HEIGHT, "The loop with its controller, as it is hung, wired and set", "rig", "cabinet")
    _field(drawing, row, stands)
    _lines(drawing, row, stands, units)
    _store(drawing, row, stands)
    _station(drawing, row, stands, units)
    _box(drawing, row, stands, units)
    _isolator(drawing, stands)
    if cabinet.heats:
        _backup(drawing, cabinet, stands)
    return drawing


def _field(drawing: Drawing, row: cabinets.Array, stands: Mapping[str, str]) -> None:
    left, top, wide, tall = FIELD
    covered = stands["cover"] == "on"
    drawing.rect(left, top, wide, tall, "beyond-bar" if covered else "housing")
    drawing.words(
        (left + wide / 2, top - 10),
        "the field, covered" if covered else "the field, in the open",
        "label-ink",
        "middle",
    )
    if row[cabinets.SUN] > 0:
        drawing.circle((left + wide + 44, top - 4), 13, "sun")
    if row[cabinets.BURST] > 0:
        for off in (0.0, 12.0, 24.0):
            drawing.path([(HOT_X - 10 - off, 76), (HOT_X - 16 - off, 90), (HOT_X - 8 - off, 100)], "gap")
        drawing.words((HOT_X + 14, 124), "the plastic has let go", "label-ink halo")


def _lines(drawing: Drawing, row: cabinets.Array, stands: Mapping[str, str], units: System) -> None:
    top, tall = FIELD[1], FIELD[3]
    foot = STORE[1] + STORE[3] - 40
    wet = stands["loop"] == "filled"
    hot, cold = ("hot", "cold") if wet else ("dead-wire", "dead-wire")
    if stands["tail"] == "open":
        drawing.words((HOT_X - 12, 120), "open", "note", "end")
        drawing.circle((HOT_X, top + tall + 4), 3, "solid")
        drawing.circle((HOT_X, TAIL_Y), 3, "solid")
    else:
        drawing.line(
            (HOT_X, top + tall), (HOT_X, TAIL_Y), "guess-line wide-hose" if stands["tail"] == "plastic" else hot
        )
        drawing.words((HOT_X - 12, 104), stands["tail"], "note", "end")
    drawing.path([(HOT_X, TAIL_Y), (HOT_X, STORE[1] + 96), (STORE[0], STORE[1] + 96)], hot)
    drawing.path([(STORE[0] + STORE[2], foot), (COLD_X, foot), (COLD_X, top + tall)], cold)
    drawing.words(
        (HOT_X + 10, 210), shown(float(row[cabinets.LINE_C]), "temperature", units) if wet else "dry", "label-ink halo"
    )
    if row[cabinets.FLOW] > FLOWS_M3_S:
        drawing.path([(COLD_X - 6, 166), (COLD_X, 156), (COLD_X + 6, 166)], "leaf-line")
        drawing.path([(HOT_X - 6, 236), (HOT_X, 246), (HOT_X + 6, 236)], "leaf-line")


def _store(drawing: Drawing, row: cabinets.Array, stands: Mapping[str, str]) -> None:
    left, top, wide, tall = STORE
    drawing.rect(left, top, wide, tall, "housing")
    foot = top + tall - 40
    turns = [(left, top + 96.0)]
    for n in range(5):
        y = top + 104 + n * (foot - top - 104) / 4
        turns += [(left + wide - 26, y), (left + 26, y + 8)]
    drawing.path([*turns[:-1], (left + wide, foot)], "branch")
    drawing.words((left + wide / 2, top + 24), "the store", "label-ink", "middle")
    spots = {
        "field": (FIELD[0] + 8, FIELD[1] + FIELD[3] / 2),
        "foot": (left + wide, top + tall - 74),
        "top": (left + wide, top + 44),
    }
    warmed = cabinets.WARMED.get(stands["hand"], "")
    for place, (x, y) in spots.items():
        drawing.circle((x, y), 5, "solid")
        if place != "field":
            drawing.line((x, y), (x + 26, y), "rule-ink")
            drawing.words((x + 30, y + 4), tr("{place} probe", place=place), "note")
        if place == warmed:
            drawing.circle((x, y), 11, "gap")
            drawing.words((x + 14, y - 14 if place != "field" else y + 34), "your hand", "label-ink halo")
    drawing.words((FIELD[0] + 18, FIELD[1] + 18), "field probe", "note")


def _station(drawing: Drawing, row: cabinets.Array, stands: Mapping[str, str], units: System) -> None:
    drawing.path([(COLD_X - 7, CHECK_Y + 7), (COLD_X + 7, CHECK_Y + 7), (COLD_X, CHECK_Y - 7)], "housing", close=True)
    drawing.words((COLD_X - 14, CHECK_Y + 4), "non-return", "note", "end")
    drawing.rect(COLD_X - 9, FLOAT_Y - 24, 18, 48, "housing")
    share = min(float(row[cabinets.FLOW]) / 2e-4, 1.0)
    up = FLOAT_Y + 18 - 36 * share if row[cabinets.FLOW] > FLOWS_M3_S else FLOAT_Y + 18
    drawing.rect(COLD_X - 7, up - 3, 14, 6, "solid")
    drawing.words((COLD_X + 16, FLOAT_Y), "float", "note")
    drawing.words((COLD_X + 16, FLOAT_Y + 16), shown(float(row[cabinets.FLOW]), "flow", units), "label-ink")
    pump = stands["pump"]
    if pump == "in its box":
        drawing.rect(COLD_X + 14, PUMP_Y - 16, 34, 30, "beyond-bar")
        drawing.words((COLD_X + 54, PUMP_Y + 4), "pump, in its box", "label-ink")
        return
    told = row[cabinets.TOLD] > 0 and stands["isolator"] == "on"
    drawing.circle((COLD_X, PUMP_Y), 17, "solid" if told else "housing")
    tip, tail = (-9.0, 7.0) if pump != AGAINST else (9.0, -7.0)
    drawing.path(
        [(COLD_X - 7, PUMP_Y + tail), (COLD_X + 7, PUMP_Y + tail), (COLD_X, PUMP_Y + tip)],
        "housing" if told else "solid",
        close=True,
    )
    if pump == UPRIGHT:
        drawing.rect(COLD_X + 19, PUMP_Y - 26, 16, 22, "housing")
    else:
        drawing.rect(COLD_X + 18, PUMP_Y - 8, 24, 16, "housing")
    drawing.words((COLD_X + 50, PUMP_Y - 2), "pump " + ("runs" if told else "rests"), "label-ink")
    drawing.words((COLD_X + 50, PUMP_Y + 13), pump, "note")


def _box(drawing: Drawing, row: cabinets.Array, stands: Mapping[str, str], units: System) -> None:
    left, top, wide, tall = BOX
    drawing.rect(left, top, wide, tall, "housing")
    drawing.rect(left + 14, top + 14, wide - 28, 104, "beyond-bar")
    lit = stands["isolator"] == "on"
    for n, place in enumerate(PLACES):
        y = top + 42 + n * 31
        drawing.words((left + 26, y), CALLED[place], "label-ink halo")
        drawing.words((left + wide - 26, y), reading(float(row[READS[place]]), units) if lit else "", "fig halo", "end")
    words = f"mode: {stands['mode']}" if lit else "no power"
    drawing.words((left + 20, top + 144), words, "label-ink")
    told = "pump: told to run" if row[cabinets.TOLD] > 0 and lit else "pump: told to rest"
    drawing.words((left + wide - 20, top + 144), told, "label-ink", "end")
    drawing.words((left + 20, top + 172), tr("frost function {stands}", stands=stands["frost"]), "note")
    for n, place in enumerate(PLACES):
        x = left + 10 + n * 84
        drawing.rect(x, TERMINALS_Y - 14, 72, 20, "housing")
        drawing.words((x + 36, TERMINALS_Y), CALLED[place], "note", "middle")
        cable = stands[place]
        if cable != "bare":
            drawing.line((x + 36, TERMINALS_Y + 6), (x + 36, TERMINALS_Y + 40), f"cable-{cable}")
        drawing.words((x + 36, TERMINALS_Y + 56), cable, "label-ink", "middle")
    bare = [cable for cable in CABLES if cable not in (stands[place] for place in PLACES)]
    if bare:
        drawing.words(
            (left + 14, TERMINALS_Y + 78),
            tr("hanging loose, unmarked: {wires}", wires=", ".join(map(tr, bare))),
            "label-ink",
        )


def _isolator(drawing: Drawing, stands: Mapping[str, str]) -> None:
    x, y, on = BOX[0] + 30, 54.0, stands["isolator"] == "on"
    drawing.rect(x, y - 22, 40, 44, "housing")
    drawing.line((x + 20, y + 14), (x + 20 if on else x + 34, y - 14 if on else y + 2), "rail-line")
    drawing.words((x + 52, y - 4), tr("isolator {stands}", stands=stands["isolator"]), "label-ink")
    drawing.words((x + 52, y + 12), "mains behind it" if on else "proved dead", "note")
    drawing.line((x + 20, y + 22), (x + 20, BOX[1]), "gap" if on else "dead-wire")


def _backup(drawing: Drawing, cabinet: Cabinet, stands: Mapping[str, str]) -> None:
    """The rung of the backup as it hangs: each place with its contact; bare, bridged, or past the controller."""
    wiring = cabinet.wiring
    if wiring is None:
        return
    rung, left, right = wiring.rungs[0], 270.0, BOX[0] + BOX[2]
    bare, wide = stands["backup"] == "bare", (right - left) / (len(rung.places) + 1)
    drawing.words((left, RUNG_Y - 26), tr("the backup’s wires, {state}", state=stands["backup"]), "label-ink")
    drawing.line((left, RUNG_Y), (left + 10, RUNG_Y), "gap" if stands["isolator"] == "on" else "dead-wire")
    for n, place in enumerate(rung.places):
        x = left + 10 + n * wide
        name, guards = place[0].name.split(",")[0], any(contact.guards for contact in place)
        skipped = (stands["backup"] == BRIDGED and guards) or (
            stands["backup"] == PAST and place[0].key in ("permission", "window")
        )
        drawing.circle((x + 14, RUNG_Y), 3, "solid")
        drawing.circle((x + wide - 30, RUNG_Y), 3, "solid")
        drawing.line((x + 14, RUNG_Y), (x + wide - 34, RUNG_Y - 12), "dead-wire" if skipped or bare else "rule-ink")
        if skipped:
            drawing.path(
                [(x + 14, RUNG_Y), (x + 14, RUNG_Y + 12), (x + wide - 30, RUNG_Y + 12), (x + wide - 30, RUNG_Y)], "gap"
            )
        if not bare:
            drawing.line((x + wide - 30, RUNG_Y), (x + wide + 14, RUNG_Y), "rule-ink")
        for row_, part in enumerate(lines_of(name, wide - 10)[:3]):
            drawing.words((x + 8, RUNG_Y + 28 + 13 * row_), part, "note")
    drawing.words((right, RUNG_Y - 8), rung.load.name, "label-ink", "end")
