"""The rig as one sees it: gauge, station with its handles, tubs and vessel to one scale, the field on top; and what happened, on its clock."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from rowan.core.practice import rig as rigs
from rowan.core.practice.filling import BUBBLE_M3_S, Debrief
from rowan.core.practice.rig import NAMES, POSITIONS, Track
from rowan.core.practice.rig_kernel import FLOWS_M3_S, Rig
from rowan.core.terms.language import tr
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import LITRE, System, dimension, number_text, shown
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 700.0, 470.0
COLD_X, HOT_X = 372.0, 536.0
TOP_Y, FIELD_Y = 26.0, 62.0
LEVELS = {"vessel": 168.0, "check": 214.0, "pump": 246.0, "fill": 290.0, "between": 336.0, "drain": 382.0}
TUB_FOOT, TUB_WIDE, LITRE_PX = 440.0, 120.0, 3.6  # of a tub's level
GAUGE_AT, GAUGE_R, MOST_GAUGE_PA = (150.0, 110.0), 62.0, 6e5
TURN, HANDLE = 12.0, 17.0
VESSEL = (560.0, 250.0, 96.0, 120.0)  # left, top, width, height

# the track
LEFT, RIGHT, TRACK_HEIGHT = 84.0, 1070.0, 340.0
MOST_MARKED, MARK_APART_PX, MARK_TALL_PX = 4, 30.0, 18.0  # moments that are marked on a clock, and their room
BAR_NAMES = {"fill": "F open", "drain": "D open", "vessel": "X open", "vent": "V open", "drill": "drill on"}


def clock_text(seconds: int) -> str:
    """Minutes and seconds: 03:58."""
    return f"{seconds // 60:02}:{seconds % 60:02}"


def rig_drawing(rig: Rig, track: Track, stands: Mapping[str, str], units: System) -> Drawing:
    """The rig at the end of a track, its handles as they stand."""
    row = track.rows[-1]
    drawing = Drawing(WIDTH, HEIGHT, "The rig, its handles as they stand", "rig", "rig")
    drawing.words((4, 14), "handle along the pipe = open, across = shut; tubs and vessel to one scale", "note")
    flows = bool(row[rigs.FLOW] > FLOWS_M3_S)
    _lines(drawing, flows=flows)
    _dial(drawing, float(row[rigs.GAUGE]) + rig.error, units)
    _field(drawing, rig, track, stands)
    _station(drawing, stands, units, rig)
    _vessel(drawing, rig, float(row[rigs.VESSEL_HAS]), units)
    _tubs(drawing, rig, track, stands, units)
    return drawing


def _lines(drawing: Drawing, *, flows: bool) -> None:
    drawing.line((COLD_X, FIELD_Y), (COLD_X, LEVELS["drain"]), "cold")
    drawing.line((HOT_X, FIELD_Y), (HOT_X, TUB_FOOT), "hot")
    drawing.path([(HOT_X, TUB_FOOT), (COLD_X, TUB_FOOT), (COLD_X, LEVELS["drain"])], "cold")
    drawing.words((HOT_X - 50, TUB_FOOT - 6), "coil", "note")
    if flows:
        drawing.path([(COLD_X - 6, 108), (COLD_X, 98), (COLD_X + 6, 108)], "leaf-line")
        drawing.path([(HOT_X - 6, 98), (HOT_X, 108), (HOT_X + 6, 98)], "leaf-line")


def _dial(drawing: Drawing, pressure: float, units: System) -> None:
    """A gauge with its scale, its needle, and the number read off it."""
    x, y = GAUGE_AT
    drawing.circle(GAUGE_AT, GAUGE_R, "housing")
    unit = dimension("pressure").unit(units)
    top = unit.from_si(MOST_GAUGE_PA)
    step = 1.0 if top < 20 else 20.0
    for n in range(int(top / step) + 1):
        angle = math.radians(225 - 270 * n * step / top)
        out, far = (math.cos(angle), -math.sin(angle)), GAUGE_R - 8
        drawing.line((x + far * out[0], y + far * out[1]), (x + GAUGE_R * out[0], y + GAUGE_R * out[1]), "rule-ink")
        drawing.words(
            (x + (far - 11) * out[0], y + (far - 11) * out[1] + 4), number_text(n * step, 0), "axis", "middle"
        )
    share = min(max(pressure / MOST_GAUGE_PA, 0.0), 1.05)
    angle = math.radians(225 - 270 * share)
    drawing.line((x, y), (x + 44 * math.cos(angle), y - 44 * math.sin(angle)), "needle")
    drawing.circle(GAUGE_AT, 4.0, "solid")
    drawing.words((x, y + GAUGE_R + 18), shown(pressure, "pressure", units), "label-ink", "middle")
    drawing.line((x + GAUGE_R, LEVELS["vessel"] - 24), (COLD_X, LEVELS["vessel"] - 24), "branch")
    drawing.words((COLD_X - 80, LEVELS["vessel"] - 30), "gauge", "note", "end")


def _field(drawing: Drawing, rig: Rig, track: Track, stands: Mapping[str, str]) -> None:
    """The plates on top with the air that stands in them, and the vent."""
    liquid = track.ends.liquid[rig.top : rig.last_top + 1]
    share = float(liquid.sum() / (rig.cell * len(liquid)))
    drawing.rect(COLD_X, FIELD_Y - 16, HOT_X - COLD_X, 18, "housing")
    drawing.rect(COLD_X, FIELD_Y + 2 - 18 * share, HOT_X - COLD_X, 18 * share, "w-wash")
    drawing.words(
        (COLD_X + 8, FIELD_Y - 22), "the field, covered" if stands["cover"] == "on" else "the field, in the sun", "note"
    )
    if stands["cover"] == "off":
        drawing.circle((COLD_X - 40, FIELD_Y - 30), 12, "sun")
    if track.rows[-1, rigs.STEAMS] > 0:
        for off in (20.0, 60.0, 100.0):
            drawing.path(
                [(COLD_X + off, FIELD_Y - 18), (COLD_X + off + 6, FIELD_Y - 30), (COLD_X + off, FIELD_Y - 42)], "stroke"
            )
    drawing.line((HOT_X, FIELD_Y), (HOT_X, TOP_Y), "branch")
    _handle(drawing, "vent", (HOT_X, TOP_Y + 12), stands["vent"], upright=True, words="V roof vent")


def _station(drawing: Drawing, stands: Mapping[str, str], units: System, rig: Rig) -> None:
    y = LEVELS["vessel"]
    drawing.line((COLD_X, y), (VESSEL[0] + VESSEL[2] / 2, y), "branch")
    drawing.line((VESSEL[0] + VESSEL[2] / 2, y), (VESSEL[0] + VESSEL[2] / 2, VESSEL[1]), "branch")
    _handle(drawing, "vessel", (COLD_X + 84, y), stands["vessel"], words="X vessel")
    drawing.words((COLD_X + 14, y - 34), f"R {shown(rig.relief, 'pressure', units)}", "note")
    drawing.path([(COLD_X + 6, y - 30), (COLD_X - 2, y - 18), (COLD_X + 10, y - 18)], "stroke", close=True)
    y = LEVELS["check"]
    drawing.path([(COLD_X - 9, y + 8), (COLD_X + 9, y + 8), (COLD_X, y - 8)], "housing", close=True)
    drawing.words((COLD_X + 18, y + 4), f"C non-return, {stands['check']}", "label-ink")
    drawing.circle((COLD_X, LEVELS["pump"]), 11.0, "housing")
    drawing.words((COLD_X + 18, LEVELS["pump"] + 4), "pump, locked off", "note")
    for name, words in (("fill", "F fill"), ("drain", "D drain")):
        drawing.line((COLD_X - 90, LEVELS[name]), (COLD_X, LEVELS[name]), "branch")
        _handle(drawing, name, (COLD_X - 45, LEVELS[name]), stands[name], words=words)
    _handle(drawing, "between", (COLD_X, LEVELS["between"]), stands["between"], upright=True, words="B between")


def _handle(drawing: Drawing, name: str, at: Point, position: str, *, words: str, upright: bool = False) -> None:
    """A valve with its handle: along the pipe open and hollow, across it shut and filled, slanting half open."""
    x, y = at
    cls = "solid" if position == "shut" else "housing"
    a, b = ((x, y - TURN), (x, y + TURN)) if upright else ((x - TURN, y), (x + TURN, y))
    wide = 9.0
    for end in (a, b):
        across = (
            ((end[0] - wide, end[1]), (end[0] + wide, end[1]))
            if upright
            else ((end[0], end[1] - wide), (end[0], end[1] + wide))
        )
        drawing.path([*across, at], cls, close=True)
    along = upright == (position == "open")
    if position == "half":
        drawing.line((x - 12, y - 12), (x + 12, y + 12), "handle-bar")
    elif along:
        drawing.line((x, y - HANDLE), (x, y + HANDLE), "handle-bar")
    else:
        drawing.line((x - HANDLE, y), (x + HANDLE, y), "handle-bar")
    place = (x + 22, y + 5) if upright else (x, y - 22)
    drawing.words(place, f"{words}, {position}", "label-ink halo", "" if upright else "middle")


def _vessel(drawing: Drawing, rig: Rig, has: float, units: System) -> None:
    left, top, wide, tall = VESSEL
    drawing.rect(left, top, wide, tall, "housing", rx=16.0)
    deep = (tall - 12) * min(has / rig.vessel, 1.0)
    drawing.rect(left + 6, top + 6, wide - 12, deep, "w-wash")
    drawing.line((left + 6, top + 6 + deep), (left + wide - 6, top + 6 + deep), "stroke")
    drawing.words(
        (left + wide / 2, top + tall / 2 + 12),
        tr("{vessel} gas", vessel=shown(rig.vessel, "tank", units)),
        "note",
        "middle",
    )
    if has > 0:
        drawing.words(
            (left + wide / 2, top + tall + 18),
            tr("{has} in it", has=shown(has, "volume", units)),
            "label-ink",
            "middle",
        )


def _tubs(drawing: Drawing, rig: Rig, track: Track, stands: Mapping[str, str], units: System) -> None:
    row = track.rows[-1]
    first = float(track.rows[0][rigs.TUB1])
    scale = min(LITRE_PX, 118.0 / (max(first, 30 * LITRE) / LITRE))
    for number, (left, column) in enumerate(((10.0, rigs.TUB1), (152.0, rigs.TUB2)), 1):
        has = float(row[column])
        deep = has / LITRE * scale
        drawing.rect(left, TUB_FOOT - deep, TUB_WIDE, deep, "w-wash")
        if number == 1 and row[rigs.FOAM] > 2e-4:
            drawing.rect(left, TUB_FOOT - deep - 6, TUB_WIDE, 6, "left-out")
            drawing.words((left + TUB_WIDE / 2, TUB_FOOT - deep - 10), "foam", "note", "middle")
        drawing.path(
            [(left, TUB_FOOT - 124), (left, TUB_FOOT), (left + TUB_WIDE, TUB_FOOT), (left + TUB_WIDE, TUB_FOOT - 124)],
            "stroke",
        )
        drawing.words((left, TUB_FOOT + 18), tr("tub {number}", number=number), "label-ink")
        drawing.words((left + TUB_WIDE, TUB_FOOT + 18), shown(has, "volume", units), "label-ink", "end")
    mouth = TUB_FOOT - rig.mouth / LITRE * scale
    drawing.line((24, mouth), (60, mouth), "gap")
    # the drill, its suction out of tub 1 and its hose to the fill; the hose from the drain
    drill = (70.0, LEVELS["fill"] - 14, 56.0, 28.0)
    drawing.path([(40, mouth), (40, LEVELS["fill"]), (drill[0], LEVELS["fill"])], "branch")
    drawing.rect(*drill, "solid" if stands["drill"] == "on" else "housing")
    drawing.words((drill[0] + 28, drill[1] - 6), f"drill, {stands['drill']}", "label-ink", "middle")
    drawing.line((drill[0] + drill[2], LEVELS["fill"]), (COLD_X - 90, LEVELS["fill"]), "branch")
    ends = 110.0 if stands["hose"] == "tub 1" else 212.0
    drawing.path([(COLD_X - 90, LEVELS["drain"]), (COLD_X - 90, 312), (ends, 312), (ends, TUB_FOOT - 60)], "cold")


def clock_axis(drawing: Drawing, seconds: int, height: float) -> Callable[[float], float]:
    """A clock of so many seconds across a drawing of a height, a minute at least; gives where a second stands."""
    longest = max(seconds, 60)

    def x(second: float) -> float:
        return LEFT + (RIGHT - LEFT) * second / longest

    every = max(60, 60 * math.ceil(longest / 60 / 10))
    for second in range(0, longest + 1, every):
        drawing.line((x(second), 16), (x(second), height - 24), "rule")
        drawing.words((x(second), height - 8), tr("{minutes} min", minutes=second // 60), "axis", "middle")
    return x


def track_drawing(track: Track, masters: Track, made: Debrief, units: System) -> Drawing:
    """What happened: gauge, handles, bubbles, tub 1; the master's run hatched below."""
    drawing = Drawing(
        RIGHT + 10, TRACK_HEIGHT, "What happened on the clock, the master's run beside it", "track", "log-days"
    )
    x = clock_axis(drawing, max(len(track.rows), len(masters.rows)), TRACK_HEIGHT)
    unit = dimension("pressure").unit(units)
    most = max(float(track.column(rigs.GAUGE).max()), float(masters.column(rigs.GAUGE).max()), 2e5)

    def y(pressure: float) -> float:
        return 124 - 92 * pressure / most

    drawing.words((LEFT - 30, 24), unit.label, "label", "end")
    drawing.words((LEFT - 8, y(0) + 4), "0", "axis", "end")
    drawing.words((LEFT - 8, y(most) + 14), number_text(unit.from_si(most), 1), "axis", "end")
    for one, cls in ((masters, "guess-line"), (track, "stroke")):
        gauge = one.column(rigs.GAUGE)
        drawing.path([(x(n), y(float(gauge[n]))) for n in range(0, len(gauge), 2)], cls)
    drawing.words((LEFT - 8, 76), "gauge", "label", "end")
    level = 146.0
    for name, words in BAR_NAMES.items():
        drawing.words((LEFT - 8, level + 9), words, "label", "end")
        _bars(drawing, track, name, x, level, "solid")
        _bars(drawing, masters, name, x, level + 10, "beyond-bar")
        level += 27.0
    _bubbles(drawing, track, x, level + 6)
    moment_marks(drawing, made, x)
    return drawing


def moment_marks(drawing: Drawing, made: Debrief, x: Callable[[float], float]) -> None:
    """What cost most, marked at its second on a clock, one under the other where they fall together."""
    placed: list[tuple[float, float]] = []
    for number, moment in enumerate(made.moments[:MOST_MARKED], 1):
        left, top = x(moment.at) - 7, 18.0
        while any(abs(left - a) < MARK_APART_PX and abs(top - b) < MARK_TALL_PX for a, b in placed):
            top += MARK_TALL_PX
        placed.append((left, top))
        drawing.mark((left, top), moment.level, 15)
        drawing.words((left + 17, top + 12), str(number), "label-ink halo")


def _bars(drawing: Drawing, track: Track, name: str, x: Callable[[float], float], level: float, cls: str) -> None:
    stood = track.handles[:, NAMES.index(name)] != POSITIONS["shut"]
    for first, last in stretches(stood):
        drawing.rect(x(first), level, max(x(last + 1) - x(first), 0.8), 9, cls)


def _bubbles(drawing: Drawing, track: Track, x: Callable[[float], float], level: float) -> None:
    drawing.words((LEFT - 8, level + 6), "bubbles", "label", "end")
    rates = track.column(rigs.BUBBLES)
    for first in range(0, len(rates), 20):
        rate = float(rates[first : first + 20].max())
        if rate > BUBBLE_M3_S:
            size = min(1.0 + 0.7 * math.log10(rate / BUBBLE_M3_S), 4.0)
            drawing.circle((x(first + 10), level + 3), size, "ring-dot")
