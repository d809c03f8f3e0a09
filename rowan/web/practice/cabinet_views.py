"""The rig with its controller as a page has it: handles, menu, what can be read, and its two days on the clock."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.changes import locate
from rowan.core.practice import cabinet as cabinets
from rowan.core.practice.cabinet import BEGINS_MIN, HANDLES, Cabinet, Course
from rowan.core.practice.cabinet_marks import after, mastered, showed
from rowan.core.practice.filling import Debrief
from rowan.core.practice.rig import Turn
from rowan.core.practice.rig_kernel import FLOWS_M3_S
from rowan.core.terms.calendar import MINUTES_A_DAY
from rowan.core.terms.language import tr
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import System, dimension, number_text, shown
from rowan.web.practice.cabinet_scene import READS, reading, scene
from rowan.web.practice.drawing import LEFT, RIGHT, moment_marks
from rowan.web.practice.models import PracticeRun
from rowan.web.practice.rigs import cabinet_course, cabinet_in
from rowan.web.practice.services import master_turns
from rowan.web.practice.shown import said_rows
from rowan.web.ui.svg import Drawing

LEAD = (
    "It is eight in the morning of a clear day. Station and controller are in their boxes, the loop is dry, the field covered, "
    "three unmarked cables hang out of the wall. Hang it, wire it, set it by the card, try it, leave it as it works; let as much "
    "of the day go by as you like, and say that it is done. Mains are a licensed electrician’s: here you are one."
)
CALLED = {
    "cover": "cover on the field",
    "pump": "pump, 20 minutes",
    "tail": "first metre of the hot line, half an hour",
    "loop": "the loop, filled and purged in 40 minutes",
    "isolator": "isolator",
    "backup": "the backup’s wires, 15 minutes",
    "field": "on terminal 1, field",
    "foot": "on terminal 2, store foot",
    "top": "on terminal 3, store top",
    "hand": "your hand, 4 minutes",
    "frost": "menu: frost function",
    "hours": "menu: backup may heat",
    "mode": "menu: mode",
}
PACES = ((0, "Hold"), (60, "A minute a second"), (600, "Ten minutes a second"))
TRACK_HEIGHT = 330.0
EVERY_MIN = 180


def clock_text(seconds: int) -> str:
    """The hour of the day: 09:35, and which day it is from the second on."""
    minute = BEGINS_MIN + seconds // 60
    day, hour = minute // MINUTES_A_DAY, minute % MINUTES_A_DAY
    return f"{hour // 60:02}:{hour % 60:02}" + (", next day" if day else "")


def look(run: PracticeRun, turns: Sequence[Turn], until: float, units: System) -> tuple[str, list[tuple[str, str]]]:
    """The rig at a second of a run: its drawing and what can be read there."""
    cabinet = cabinet_in(run)
    course = cabinets.play(cabinet, turns, until)
    return scene(cabinet, course, units).svg(), _readings(cabinet, course, units)


def piece(run: PracticeRun, units: System) -> dict[str, Any]:
    """What the rig shows now."""
    cabinet, course = cabinet_in(run), cabinet_course(run)
    stands, menu = course.stands[-1], course.menus[-1]
    return {
        "drawing": scene(cabinet, course, units).svg(),
        "clock": clock_text(run.until),
        "until": run.until,
        "handles": [
            {
                "key": key,
                "name": CALLED[key],
                "choices": [(position, position == stands[key]) for position in HANDLES[key]],
            }
            for key in cabinet.handles
        ],
        "menu": [
            {
                "key": one.path,
                "name": one.name,
                "value": number_text(unit.from_si(menu[one.path]), 1).removesuffix(".0"),
                "unit": unit.label,
            }
            for one in cabinet.menu
            for unit in (dimension(locate(cabinet.ground.design, one.path).spec.dimension).unit(units),)
        ],
        "readings": _readings(cabinet, course, units),
    }


def _readings(cabinet: Cabinet, course: Course, units: System) -> list[tuple[str, str]]:
    row, stands = course.rows[-1], course.stands[-1]
    lit = stands["isolator"] == "on"
    shows = [
        (name, reading(float(row[READS[place]]), units) if lit else "dark")
        for place, name in (("field", "display, field"), ("foot", "display, store foot"), ("top", "display, store top"))
    ]
    found = [
        *shows,
        ("pump is told", "to run" if row[cabinets.TOLD] > 0 and lit else "to rest"),
        ("float", shown(float(row[cabinets.FLOW]), "flow", units)),
        ("thermometer, hot line", shown(float(row[cabinets.LINE_C]), "temperature", units)),
        ("into the store so far", shown(float(row[cabinets.COIL_J]), "energy", units)),
    ]
    return (
        [*found, ("from the backup", shown(float(row[cabinets.BACKUP_J]), "energy", units))] if cabinet.heats else found
    )


def card(run: PracticeRun, units: System) -> list[tuple[str, str, str]]:
    """The plan's card: what is set, to what, why."""
    cabinet = cabinet_in(run)
    design = cabinet.ground.design
    found = [
        (
            one.name,
            shown(locate(design, one.path).si, locate(design, one.path).spec.dimension, units),
            one.reason.text(units),
        )
        for one in cabinet.menu
    ]
    found.append(
        (
            "Frost function",
            cabinet.frost,
            "the mix stands the frost" if cabinet.frost == "off" else "this loop needs it",
        )
    )
    if cabinet.heats:
        found.append(("Backup may heat", "as planned", "early hours end before sunrise; the evening tops up"))
    return found


def debrief(run: PracticeRun, made: Debrief, units: System) -> dict[str, Any]:
    """The run on its two days beside a master's, what was said before, what comes of it as it was left."""
    cabinet, course = cabinet_in(run), cabinet_course(run)
    masters = mastered(cabinet)
    # a master leaves it; his loop goes on by itself until the learner's clock
    on = cabinets.play(cabinet, masters.turns, max(float(run.until), float(masters.rows[-1, cabinets.MINUTE]) * 60))
    turns = master_turns(run)
    return {
        "masters": tr("{minutes} minutes", minutes=int(turns[-1].at) // 60),
        "drawing": _track(course, on, made, units).svg(),
        "said": said_rows(run, showed(course), units),
        "after": after(cabinet, course),
    }


def turn_text(run: PracticeRun, turn: Turn, units: System) -> tuple[str, str]:
    """A turn in words: what, and to what."""
    if turn.handle in HANDLES:
        return CALLED[turn.handle].split(",")[0], turn.position
    cabinet = cabinet_in(run)
    spec = locate(cabinet.ground.design, turn.handle).spec
    name = next((one.name for one in cabinet.menu if one.path == turn.handle), turn.handle)
    return f"menu: {name}", shown(float(turn.position), spec.dimension, units)


def _axis(drawing: Drawing, minutes: float) -> Callable[[float], float]:
    longest = max(minutes, 60.0)
    every = EVERY_MIN if longest > 600 else 60

    def x(minute: float) -> float:
        """Where a minute of the run stands."""
        return LEFT + (RIGHT - LEFT) * minute / longest

    for minute in range(0, int(longest) + 1, every):
        drawing.line((x(minute), 16), (x(minute), TRACK_HEIGHT - 24), "rule")
        drawing.words(
            (x(minute), TRACK_HEIGHT - 8),
            clock_text(minute * 60).split(",")[0],
            "axis",
            "end" if x(minute) > RIGHT - 20 else "middle",
        )
    return x


BARS: dict[str, Callable[[Course], NDArray[np.bool_]]] = {
    "uncovered": lambda one: one.is_at("cover", "off"),
    "automatic": lambda one: one.is_at("mode", "automatic"),
    "flows": lambda one: one.column(cabinets.FLOW) > FLOWS_M3_S,
}


def _spans(course: Course, of: NDArray[np.bool_], *, passed: bool) -> Iterator[tuple[float, float]]:
    """From which to which minute something was so: how it stood goes on from its row, what has `passed` ends with it."""
    minutes = course.column(cabinets.MINUTE)
    for first, last in stretches(of):
        begins, ends = (max(first - 1, 0), last) if passed else (first, min(last + 1, len(minutes) - 1))
        yield float(minutes[begins]), float(minutes[ends])


def _track(course: Course, masters: Course, made: Debrief, units: System) -> Drawing:
    """Field and store foot by the clock, the master's dotted; below, when it was uncovered, automatic and flowing."""
    drawing = Drawing(
        RIGHT + 10, TRACK_HEIGHT, "The day on the clock, the master's loop beside it", "track", "cabinet-days"
    )
    x = _axis(drawing, max(float(course.rows[-1, cabinets.MINUTE]), float(masters.rows[-1, cabinets.MINUTE])))
    both = np.concatenate([one.rows[:, [cabinets.FIELD_C, cabinets.FOOT_C]].ravel() for one in (course, masters)])
    low, high = min(float(both.min()), 0.0), max(float(both.max()), 60.0)

    def y(celsius: float) -> float:
        return 190 - 160 * (celsius - low) / (high - low)

    for celsius in (low, high):
        drawing.words((LEFT - 8, y(celsius) + 4), shown(celsius, "temperature", units), "axis", "end")
    for one, field, foot in ((masters, "guess-line", "guess-line"), (course, "hot", "cold")):
        minutes = one.column(cabinets.MINUTE)
        for column, cls in ((cabinets.FIELD_C, field), (cabinets.FOOT_C, foot)):
            drawing.path([(x(float(m)), y(float(v))) for m, v in zip(minutes, one.column(column), strict=True)], cls)
    drawing.words((LEFT - 8, 80), "field", "label", "end")
    drawing.words((LEFT - 8, 96), "and foot", "label", "end")
    level = 206.0
    for words, of in BARS.items():
        drawing.words((LEFT - 8, level + 9), words, "label", "end")
        for one, cls, shift in ((course, "solid", 0.0), (masters, "beyond-bar", 10.0)):
            for begins, ends in _spans(one, of(one), passed=words == "flows"):
                drawing.rect(x(begins), level + shift, max(x(ends) - x(begins), 0.8), 9, cls)
        level += 30.0
    moment_marks(drawing, made, lambda second: x(second / 60))
    return drawing
