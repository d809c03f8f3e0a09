"""The gauge through the work, step by step, and under it the handle of every valve."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.steps.commission.result import Step
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Node

WIDTH = 656
LEFT, RIGHT = 104.0, 652.0
TOP, ZERO_Y = 40.0, 214.0
VALVES_Y, VALVE_ROW = 254.0, 28.0
CLEAR_PX = 22.0


def gauge_drawing(sheet: Sheet) -> Drawing:
    """Pressure at the station at the end of each step; each valve drawn as it stands, handle along or across."""
    commission, units = sheet.result.commission, sheet.units
    valves = commission.valves
    drawing = Drawing(
        WIDTH, VALVES_Y + VALVE_ROW * len(valves) + 24, "The gauge and the valves, step by step", "steps", "steps"
    )
    column = (RIGHT - LEFT) / len(commission.steps)
    relief = sheet.design.charge.relief_gauge_pa.value
    highest = max(commission.test_pressure, relief if sheet.design.sealed else 0.0) * 1.12

    def y(pressure: float) -> float:
        return ZERO_Y - (ZERO_Y - TOP) * pressure / highest

    _scale(drawing, sheet, highest, y)
    if sheet.design.sealed:
        drawing.line((LEFT, y(relief)), (RIGHT, y(relief)), "limit")
        drawing.words(
            (RIGHT, y(relief) - 5),
            tr("relief {shown_number}", shown_number=shown_number(relief, "pressure", units)),
            "label halo",
            "end",
        )
    _names(drawing, sheet, column, y)
    _level(drawing, sheet, column, y)
    for number, step in enumerate(commission.steps):
        x = LEFT + column * (number + 0.5)
        drawing.line((LEFT + column * number, TOP - 20), (LEFT + column * number, VALVES_Y - 16), "grid")
        tab = drawing.add("a", href=f"#step-{step.key}", cls="part")
        tab.add("title", step.name)
        tab.rect(x - 12, 8, 24, 18, "solid")
        tab.words((x, 21.5), str(number + 1), "tab", "middle")
        for row, name in enumerate(valves):
            at = VALVES_Y + VALVE_ROW * row
            _valve(drawing, x, at, step.valves[name])
    for row, name in enumerate(valves):
        at = VALVES_Y + VALVE_ROW * row
        drawing.words((LEFT - 10, at + 4), commission.graph.name(name), "label-ink", "end")
        drawing.line((LEFT, at + VALVE_ROW / 2), (RIGHT, at + VALVE_ROW / 2), "grid")
    foot = VALVES_Y + VALVE_ROW * len(valves) + 14
    drawing.words((LEFT, foot), "handle along the pipe: open · across and filled: shut", "place")
    return drawing


def _scale(drawing: Drawing, sheet: Sheet, highest: float, y: Callable[[float], float]) -> None:
    unit = dimension("pressure").unit(sheet.units)
    step = 1 if sheet.units == "metric" else 20
    tick = 0
    while unit.to_si(tick) <= highest:
        at = y(unit.to_si(tick))
        drawing.line((LEFT, at), (RIGHT, at), "rule-ink" if tick == 0 else "grid")
        drawing.words(
            (LEFT - 10, at + 4), str(tick) if tick else f"0 {unit_label('pressure', sheet.units)}", "axis", "end"
        )
        tick += step


def _names(drawing: Drawing, sheet: Sheet, column: float, y: Callable[[float], float]) -> None:
    """Each step's name, upright in its column, under what its level says."""
    top = y(sheet.design.charge.relief_gauge_pa.value) if sheet.design.sealed else TOP - 10
    for number, step in enumerate(sheet.result.commission.steps):
        level = y(step.gauge) if step.gauge else ZERO_Y
        at = top + 8 if level - top >= ZERO_Y - level else level + 28
        drawing.words((LEFT + column * (number + 0.5) + 4, at), step.name, "place halo", "end", turn=-90)


def _level(drawing: Drawing, sheet: Sheet, column: float, y: Callable[[float], float]) -> None:
    """The gauge as a stair: solid where the loop holds a pressure, dashed where it is open."""
    before: float | None = None
    for number, step in enumerate(sheet.result.commission.steps):
        x = LEFT + column * number
        level = step.gauge or 0.0
        if before is not None and abs(before - level) > 1:
            drawing.line((x, y(before)), (x, y(level)), "thin")
        drawing.line((x, y(level)), (x + column, y(level)), "rung-fill" if step.gauge else "planned")
        if step.gauge and _changed(sheet.result.commission.steps, number):
            text = shown_number(step.gauge, "pressure", sheet.units)
            # under its level, where the names do not reach
            at = y(level) + 17 if ZERO_Y - y(level) > CLEAR_PX else y(level) - 7
            drawing.words((x + column / 2, at), text, "fig halo", "middle")
        before = level


def _changed(steps: tuple[Step, ...], number: int) -> bool:
    return number == 0 or steps[number - 1].gauge != steps[number].gauge


# how far a handle is turned out of its pipe [°]
TURNED = {"open": 0, "working": 0, "half": 45, "shut": 90}


def _valve(drawing: Node, x: float, y: float, position: str) -> None:
    """A piece of pipe with its valve: the handle along it is open and hollow, across it shut and filled, half way slanting."""
    group = drawing.add("g", cls="valve", role="img", aria_label=position)
    group.line((x - 15, y), (x + 15, y), "thin")
    shut = TURNED[position] == 90
    handle = group.rect(x - 10, y - 3.2, 20, 6.4, "solid" if shut else "part-body")
    if TURNED[position]:
        handle.attributes["transform"] = f"rotate({TURNED[position]} {x:g} {y:g})"
