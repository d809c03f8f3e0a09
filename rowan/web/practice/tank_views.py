"""The rig of a loop that drains as a page has it: reservoir, pipes and field to one height, handles, and the run on its clock."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from rowan.core.practice import draining as tanks
from rowan.core.practice.draining import HANDLES, NAMES, Course, Tank
from rowan.core.practice.filling import Debrief
from rowan.core.practice.rig import Turn
from rowan.core.terms.language import tr
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import System, shown
from rowan.web.practice.drawing import LEFT, RIGHT, clock_axis, clock_text, moment_marks
from rowan.web.practice.models import PracticeRun
from rowan.web.practice.rigs import course_of, tank_in
from rowan.web.practice.services import master_turns
from rowan.web.practice.shown import said_rows
from rowan.web.ui.svg import Drawing

LEAD = (
    "It is empty and dry, the field covered. Fill it to its cold mark with the pump off, start it, slow it once it comes round, stop it "
    "and see it drain; three times. Then leave it as it works, and say that it is done."
)
CALLED = {
    "cover": "cover on the field, in the sun",
    "fill": "F hose from the main",
    "tap": "T tap at the foot",
    "pump": "pump",
    "lid": "lid",
}
WIDTH, HEIGHT = 700.0, 470.0
TOP, FOOT = 70.0, 430.0
TANK = (300.0, 250.0, 150.0, 150.0)  # left, top, width, height
COLD_X, HOT_X = 250.0, 500.0
TRACK_HEIGHT = 300.0
BARS = {"fill": "F open", "pump": "pump on", "lid": "lid on", "cover": "uncovered"}


def look(run: PracticeRun, turns: Sequence[Turn], until: float, units: System) -> tuple[str, list[tuple[str, str]]]:
    """The rig at a second of a run: its drawing and what can be read there."""
    tank = tank_in(run)
    course = tanks.play(tank, turns, until)
    return _drawing(tank, course, units).svg(), _readings(tank, course, units)


def _stands(course: Course) -> dict[str, str]:
    return {name: HANDLES[name][int(at)] for name, at in zip(NAMES, course.handles[-1], strict=True)}


def piece(run: PracticeRun, units: System) -> dict[str, Any]:
    """What the rig shows now."""
    tank, course = tank_in(run), course_of(run)
    stands = _stands(course)
    return {
        "drawing": _drawing(tank, course, units).svg(),
        "clock": clock_text(run.until),
        "until": run.until,
        "handles": [
            {"key": key, "name": name, "choices": [(position, position == stands[key]) for position in HANDLES[key]]}
            for key, name in CALLED.items()
        ],
        "readings": _readings(tank, course, units),
    }


def debrief(run: PracticeRun, made: Debrief, units: System) -> dict[str, Any]:
    """The run on its clock beside a master's, and what was said before."""
    tank, course = tank_in(run), course_of(run)
    turns = master_turns(run)
    masters = tanks.play(tank, turns, turns[-1].at + 10)
    return {
        "masters": clock_text(len(masters.rows) - 1),
        "drawing": _track(tank, course, masters, made, units).svg(),
        "said": said_rows(run, tanks.showed(tank, course), units),
    }


def _readings(tank: Tank, course: Course, units: System) -> list[tuple[str, str]]:
    row = course.rows[-1]
    off = (float(row[tanks.RESERVOIR]) - tank.mark) / tank.area
    heard = "gurgling" if row[tanks.GURGLES] > 0 else "quiet, it comes round" if row[tanks.FLOW] > 0 else "nothing"
    if row[tanks.STEAMS] > 0:
        heard = "a bang, steam"
    return [
        ("level to its mark", ("+" if off > 0 else "") + shown(off, "level", units)),
        ("in the reservoir", shown(float(row[tanks.RESERVOIR]), "volume", units)),
        ("goes round", shown(float(row[tanks.FLOW]), "flow", units)),
        ("heard", heard),
        ("the field", shown(float(row[tanks.FIELD_C]), "temperature", units)),
        ("on the floor", shown(float(row[tanks.SPILLED]), "volume", units)),
    ]


def _drawing(tank: Tank, course: Course, units: System) -> Drawing:
    """Reservoir with its mark, pipes as far as water stands in them, the field on top."""
    row, stands = course.rows[-1], _stands(course)
    drawing = Drawing(WIDTH, HEIGHT, "The loop that drains, its level and its handles", "rig", "rig")
    drawing.words((4, 16), "blue: where water stands. Pipes fall toward the tank all the way", "note")
    up = min(float(row[tanks.UP]) / tank.above, 1.0)
    # the cold line fills first, then the field and the hot line come round
    drawing.line((COLD_X, FOOT), (COLD_X, TOP), "dead-wire")
    drawing.line((HOT_X, TOP), (HOT_X, TANK[1] + 16), "dead-wire")
    cold = min(up / 0.6, 1.0)
    drawing.line((COLD_X, FOOT), (COLD_X, FOOT - (FOOT - TOP) * cold), "cold")
    if row[tanks.FLOW] > 0:
        drawing.line((HOT_X, TOP), (HOT_X, TANK[1] + 16), "hot")
    drawing.path([(HOT_X, TANK[1] + 16), (TANK[0] + TANK[2] - 30, TANK[1] + 16)], "dead-wire")
    wet = min(max((up - 0.6) / 0.4, 0.0), 1.0)
    drawing.rect(COLD_X, TOP - 18, HOT_X - COLD_X, 18, "housing")
    drawing.rect(COLD_X, TOP - 18, (HOT_X - COLD_X) * wet, 18, "w-wash")
    words = "the field, covered" if stands["cover"] == "on" else "the field, in the sun"
    drawing.words(
        (COLD_X + 8, TOP - 24),
        f"{tr(words)}, {shown(float(row[tanks.FIELD_C]), 'temperature', units)}",
        "label-ink",
    )
    if stands["cover"] == "off":
        drawing.circle((COLD_X - 34, TOP - 30), 13, "sun")
    if row[tanks.STEAMS] > 0:
        for off in (60.0, 120.0, 180.0):
            drawing.path([(COLD_X + off, TOP - 38), (COLD_X + off + 6, TOP - 50), (COLD_X + off, TOP - 62)], "stroke")
    _reservoir(drawing, tank, float(row[tanks.RESERVOIR]), stands, units)
    drawing.path([(TANK[0] + 20, TANK[1] + TANK[3]), (TANK[0] + 20, FOOT), (COLD_X, FOOT)], "cold")
    drawing.circle((COLD_X + 34, FOOT), 14, "solid" if stands["pump"] != "off" else "housing")
    drawing.words((COLD_X + 34, FOOT + 32), f"pump, {stands['pump']}", "label-ink", "middle")
    return drawing


def _reservoir(drawing: Drawing, tank: Tank, water: float, stands: dict[str, str], units: System) -> None:
    left, top, wide, tall = TANK
    drawing.rect(left, top, wide, tall, "housing")
    deep = tall * min(water / tank.reservoir, 1.0)
    drawing.rect(left, top + tall - deep, wide, deep, "w-wash")
    drawing.line((left, top + tall - deep), (left + wide, top + tall - deep), "stroke")
    mark = top + tall * (1.0 - tank.mark / tank.reservoir)
    drawing.line((left - 14, mark), (left + wide + 14, mark), "gap")
    drawing.words((left + wide + 20, mark + 4), "cold mark, pump off", "label-ink")
    least = top + tall * (1.0 - tank.least / tank.reservoir)
    drawing.line((left - 8, least), (left + wide, least), "guess-line")
    drawing.words((left - 12, least + 4), "least for the pump", "note", "end")
    drawing.words((left + wide / 2, top + tall / 2 + 4), shown(water, "volume", units), "label-ink halo", "middle")
    lid = top - (4 if stands["lid"] == "on" else 26)
    drawing.line((left - 6, lid), (left + wide + 6, lid), "rail-line")
    drawing.words((left - 12, lid + 4), tr("lid {stands}", stands=stands["lid"]), "note", "end")
    for name, y, words in (("fill", top + 24, "F hose"), ("tap", top + tall - 8, "T tap")):
        open_ = stands[name] == "open"
        drawing.line((left + wide, y), (left + wide + 60, y), "branch")
        drawing.path(
            [
                (left + wide + 24, y - 8),
                (left + wide + 24, y + 8),
                (left + wide + 44, y - 8),
                (left + wide + 44, y + 8),
            ],
            "housing" if open_ else "solid",
            close=True,
        )
        drawing.words((left + wide + 66, y + 4), f"{words}, {stands[name]}", "label-ink")


def _track(tank: Tank, course: Course, masters: Course, made: Debrief, units: System) -> Drawing:
    """Level against its mark and the handles on the clock; a master's run below in each bar and dotted."""
    drawing = Drawing(
        RIGHT + 10, TRACK_HEIGHT, "What happened on the clock, the master's run beside it", "track", "log-days"
    )
    x = clock_axis(drawing, max(len(course.rows), len(masters.rows)), TRACK_HEIGHT)
    most = max(float(course.column(tanks.RESERVOIR).max()), tank.mark) * 1.1

    def y(water: float) -> float:
        """Where so much in the reservoir stands."""
        return 130 - 100 * water / most

    drawing.line((LEFT, y(tank.mark)), (RIGHT, y(tank.mark)), "gap")
    drawing.words((LEFT - 8, y(tank.mark) + 4), "mark", "label", "end")
    drawing.words((LEFT - 8, 134), "reservoir", "label", "end")
    for one, cls in ((masters, "guess-line"), (course, "stroke")):
        water = one.column(tanks.RESERVOIR)
        drawing.path([(x(n), y(float(water[n]))) for n in range(0, len(water), 2)], cls)
    level = 152.0
    for name, words in BARS.items():
        drawing.words((LEFT - 8, level + 9), words, "label", "end")
        for one, cls, shift in ((course, "solid", 0.0), (masters, "beyond-bar", 10.0)):
            for first, last in stretches(one.handles[:, NAMES.index(name)] > 0):
                drawing.rect(x(first), level + shift, max(x(last + 1) - x(first), 0.8), 9, cls)
        level += 28.0
    moment_marks(drawing, made, x)
    return drawing
