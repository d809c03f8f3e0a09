"""The last day of readings: field, store and pump as they were read, over what the plan would switch at."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime, timedelta
from itertools import pairwise

from rowan.core.records.readings import Reading
from rowan.core.terms.units import System, dimension, number_text
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 278
LEFT, RIGHT, TOP, FOOT = 34.0, 576.0, 26.0, 226.0
RIBBON, RIBBON_H = 236.0, 15.0
SPAN = timedelta(hours=24)
GAP_S = 1800.0
LEAST_TOP_C, MOST_C = 60.0, 160.0
MOST_POINTS = 600
CURVES = (("high_c", "store-top", "store top"), ("low_c", "cold", "store foot"), ("field_c", "curve-day", "collector"))


def live_drawing(readings: Sequence[Reading], units: System) -> Drawing:
    """Readings of the last day in the order of their time; gaps stay gaps."""
    drawing = Drawing(WIDTH, HEIGHT, "Readings of the last day", "live-day", "live-day")
    end = readings[-1].at
    begin = max(end - SPAN, readings[0].at)
    if end - begin < timedelta(hours=2):
        begin = end - timedelta(hours=2)
    seconds = (end - begin).total_seconds()
    shown = [r for r in readings if r.at >= begin]
    shown = shown[:: max(1, len(shown) // MOST_POINTS)]
    values = [v for r in shown for v in (r.field_c, r.low_c, r.high_c) if v is not None]
    top = max(LEAST_TOP_C, min(10.0 * math.ceil(max(values, default=0.0) / 10), MOST_C))
    low = min(0.0, 10.0 * math.floor(min(values, default=0.0) / 10))

    def x(at: datetime) -> float:
        return LEFT + (RIGHT - LEFT) * (at - begin).total_seconds() / seconds

    def y(celsius: float) -> float:
        return FOOT - (FOOT - TOP) * (min(max(celsius, low), top) - low) / (top - low)

    _axes(drawing, units, (low, top), begin, end)
    ends: list[tuple[float, str]] = []
    for key, cls, name in CURVES:
        for part in _parts(shown, key):
            drawing.path([(x(at), y(value)) for at, value in part], cls)
        last = next((getattr(r, key) for r in reversed(shown) if getattr(r, key) is not None), None)
        if last is not None:
            ends.append((last, name))
    level = -math.inf
    for value, name in sorted(ends, key=lambda pair: -pair[0]):
        level = max(y(value) + 4, level + 14)
        drawing.words((RIGHT + 8, level), name, "label-ink halo")
    drawing.line((LEFT, RIBBON + RIBBON_H), (RIGHT, RIBBON + RIBBON_H), "rule-ink")
    drawing.words((RIGHT + 8, RIBBON + 12), "pump", "label-ink")
    for first, last, share in _runs(shown):
        drawing.rect(x(first), RIBBON + RIBBON_H * (1 - share), x(last) - x(first), RIBBON_H * share, "solid")
    return drawing


def _runs(readings: Sequence[Reading]) -> list[tuple[datetime, datetime, float]]:
    """When the pump ran, from, till and at which share; a reading speaks for the time since the one before it."""
    found: list[tuple[datetime, datetime, float]] = []
    for before, after in pairwise(readings):
        if not after.runs or (after.at - before.at).total_seconds() > GAP_S:
            continue
        share = min(after.pump_share or 0.0, 1.0)
        if found and found[-1][1] == before.at and found[-1][2] == share:
            found[-1] = (found[-1][0], after.at, share)
        else:
            found.append((before.at, after.at, share))
    return found


def _parts(readings: Sequence[Reading], key: str) -> list[list[tuple[datetime, float]]]:
    """A curve in its unbroken parts."""
    parts: list[list[tuple[datetime, float]]] = [[]]
    for reading in readings:
        value = getattr(reading, key)
        if value is None:
            parts.append([])
            continue
        if parts[-1] and (reading.at - parts[-1][-1][0]).total_seconds() > GAP_S:
            parts.append([])
        parts[-1].append((reading.at, value))
    return [part for part in parts if len(part) > 1]


def _axes(drawing: Drawing, units: System, limits: tuple[float, float], begin: datetime, end: datetime) -> None:
    low, top = limits
    unit = dimension("temperature").unit(units)
    step = 20 if top - low > 80 else 10
    for celsius in range(math.ceil(low / step) * step, int(top) + 1, step):
        level = FOOT - (FOOT - TOP) * (celsius - low) / (top - low)
        drawing.line((LEFT, level), (RIGHT, level), "rule")
        drawing.words((LEFT - 6, level + 4), number_text(unit.from_si(celsius), 0), "axis", "end")
    drawing.words((LEFT - 30, TOP - 12), unit.label, "label")
    hours = (end - begin).total_seconds() / 3600.0
    every = 1 if hours <= 8 else 3
    at = begin.replace(minute=0, second=0, microsecond=0) + timedelta(hours=1)
    while at < end:
        if at.hour % every == 0:
            across = LEFT + (RIGHT - LEFT) * (at - begin).total_seconds() / (end - begin).total_seconds()
            drawing.line((across, FOOT), (across, FOOT + 4), "rule-ink")
            drawing.words((across, RIBBON + RIBBON_H + 18), f"{at:%H:%M}", "axis", "middle")
        at += timedelta(hours=1)
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
