"""A healthy morning beside an ill one, on one scale: field, hot line, store, and the pump below."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from rowan.core.records.care.health import day_words
from rowan.core.records.care.mornings import NOON_H, Morning
from rowan.core.terms.language import tr
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import System, dimension, number_text
from rowan.web.care.log_drawing import WIDTH
from rowan.web.ui.svg import Drawing

LEFT, WIDE, APART = 40.0, 232.0, 34.0
TOP, FOOT, PUMP_FOOT = 44.0, 186.0, 212.0
MOST_POINTS = 240
LINES = {"field_c": "curve-day", "hot_c": "berry-thin", "high_c": "stroke", "low_c": "leaf-line"}
NAMES = {"field_c": "field", "hot_c": "hot line", "high_c": "store top", "low_c": "store foot"}


def mornings_drawing(mornings: Sequence[Morning], units: System) -> Drawing:
    """The mornings side by side."""
    drawing = Drawing(WIDTH, PUMP_FOOT + 30, "Mornings, from midnight to noon", "mornings", "log-days")
    every = np.concatenate([one.columns[key] for one in mornings for key in LINES if key in one.columns])
    every = every[np.isfinite(every)]
    low, high = (
        20.0 * math.floor(min(float(every.min()), 0.0) / 20),
        20.0 * math.ceil(max(float(every.max()), 60.0) / 20),
    )
    unit = dimension("temperature").unit(units)

    def y(celsius: float) -> float:
        return FOOT - (FOOT - TOP) * (celsius - low) / (high - low)

    drawing.words((LEFT - 34, TOP - 26), unit.label, "label")
    for number, one in enumerate(mornings):
        left = LEFT + number * (WIDE + APART)
        for celsius in range(int(low), int(high) + 1, 20 if high - low <= 100 else 40):
            drawing.line((left, y(celsius)), (left + WIDE, y(celsius)), "rule")
            if number == 0:
                drawing.words((left - 6, y(celsius) + 4), number_text(unit.from_si(celsius), 0), "axis", "end")
        how = "healthy" if one.healthy else "since it is ill"
        title = tr("{how}, {day}", how=how, day=day_words(one.day, 0).text())
        drawing.words((left, TOP - 10), title, "label-ink" if one.healthy else "label-berry")
        _lines(drawing, one, left, y)
        for hour in range(0, 13, 3):
            across = left + WIDE * hour / NOON_H
            drawing.line((across, PUMP_FOOT), (across, PUMP_FOOT + 5), "rule-ink")
            drawing.words((across, PUMP_FOOT + 18), f"{hour} h", "axis", "middle")
        drawing.line((left, PUMP_FOOT), (left + WIDE, PUMP_FOOT), "rule-ink")
    _names(drawing, mornings[-1], LEFT + (len(mornings) - 1) * (WIDE + APART) + WIDE + 6, y)
    return drawing


def _lines(drawing: Drawing, one: Morning, left: float, y: Callable[[float], float]) -> None:
    every = max(1, len(one.hour) // MOST_POINTS)
    for key, cls in LINES.items():
        if key not in one.columns:
            continue
        points = [
            (left + WIDE * float(hour) / NOON_H, y(float(value)))
            for hour, value in zip(one.hour[::every], one.columns[key][::every], strict=True)
            if np.isfinite(value)
        ]
        drawing.path(points, cls)
    pump = one.columns.get("pump_share")
    if pump is None:
        return
    for first, last in stretches(np.nan_to_num(pump) > 0.0):
        a, b = (left + WIDE * float(one.hour[place]) / NOON_H for place in (first, min(last + 1, len(one.hour) - 1)))
        drawing.rect(a, PUMP_FOOT - 12, max(b - a, 0.8), 12, "solid")


def _names(drawing: Drawing, one: Morning, across: float, y: Callable[[float], float]) -> None:
    """What the lines are, at their right ends, apart from each other."""
    ends = []
    for key, name in NAMES.items():
        values = one.columns.get(key, np.array([]))
        values = values[np.isfinite(values)]
        if len(values):
            ends.append((y(float(values[-1])), name))
    level = -math.inf
    for place, name in sorted(ends):
        level = max(place + 4, level + 15)
        drawing.words((across, level), name, "label-ink halo")
    drawing.words((across, PUMP_FOOT - 2), "pump", "label-ink halo")
