"""A log from its first to its last day: how warm field and store were each day, how long the pump ran, the gauge before sunrise."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.days import Days
from rowan.core.terms.dates import day_said, month_said
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import System, dimension, number_text
from rowan.web.ui.svg import Drawing

WIDTH = 656.0
LEFT, RIGHT = 40.0, 566.0
WARM = (26.0, 186.0)  # top and foot of the temperatures
PUMP = (216.0, 276.0)
GAUGE = (306.0, 366.0)
EPOCH = date(1970, 1, 1)
MOST_C, LEAST_TOP_C = 240.0, 80.0
MOST_NAMES = 11  # of months or days along the foot
RING_DAYS = 45  # of which each is a ring; more are joined to a line
Numbers = NDArray[np.float64]


def log_drawing(days: Days, units: System, least_gauge: float | None = None) -> Drawing:
    """The days of a log; `least_gauge` is the plan's lowest pressure before sunrise [Pa]. Days without a log are hatched."""
    has_gauge = bool(np.isfinite(days.gauge_night).any())
    foot = GAUGE[1] if has_gauge else PUMP[1]
    drawing = Drawing(WIDTH, foot + 34, "The log, day by day", "log-days", "log-days")
    wide = (RIGHT - LEFT) / len(days.day)

    def x(number: float) -> float:
        return LEFT + wide * number

    for first, last in stretches(days.read_h <= 0.0):
        drawing.rect(x(first), WARM[0], wide * (last - first + 1), foot - WARM[0], "beyond")
        if wide * (last - first + 1) > 60:
            words = tr("{days} days without a log", days=last - first + 1)
            drawing.words((x((first + last + 1) / 2), WARM[0] + 14), words, "note halo", "middle")
    _warmth(drawing, days, units, wide)
    _pump(drawing, days, wide)
    if has_gauge:
        _gauge(drawing, days, units, wide, least_gauge)
    foot_marks(drawing, days.day, wide, foot)
    return drawing


@record
class Strip:
    """A strip of a drawing whose steps are days or weeks: left end, width of a step, top and foot, and the values there."""

    left: float
    wide: float
    top: float
    foot: float
    least: float
    most: float

    def y(self, value: float) -> float:
        """The level of a value, kept within the strip."""
        share = (min(max(value, self.least), self.most) - self.least) / (self.most - self.least)
        return self.foot - (self.foot - self.top) * share

    def steps(self, values: Numbers) -> list[list[tuple[float, float]]]:
        """A line in steps, broken where nothing was read."""
        parts: list[list[tuple[float, float]]] = []
        for first, last in stretches(np.isfinite(values)):
            part = []
            for number in range(first, last + 1):
                level = self.y(float(values[number]))
                part += [(self.left + self.wide * number, level), (self.left + self.wide * (number + 1), level)]
            parts.append(part)
        return parts

    def between(self, low: Numbers, high: Numbers) -> list[list[tuple[float, float]]]:
        """Outlines of what lies between two lines in steps, where both are there."""
        both = np.isfinite(low) & np.isfinite(high)
        over, under = self.steps(np.where(both, high, np.nan)), self.steps(np.where(both, low, np.nan))
        return [[*a, *reversed(b)] for a, b in zip(over, under, strict=True)]


def _warmth(drawing: Drawing, days: Days, units: System, wide: float) -> None:
    found = [values[np.isfinite(values)] for values in (days.field_high, days.top_high, days.foot_low)]
    every = np.concatenate([*found, [0.0]])
    top = max(LEAST_TOP_C, min(20.0 * math.ceil(float(every.max()) / 20), MOST_C))
    low = min(0.0, 20.0 * math.floor(float(every.min()) / 20))
    high_y, low_y = WARM

    strip = Strip(LEFT, wide, high_y, low_y, low, top)
    y = strip.y
    unit = dimension("temperature").unit(units)
    for celsius in range(int(low), int(top) + 1, 20 if top - low <= 120 else 40):
        drawing.line((LEFT, y(celsius)), (RIGHT, y(celsius)), "rule")
        drawing.words((LEFT - 6, y(celsius) + 4), number_text(unit.from_si(celsius), 0), "axis", "end")
    drawing.words((LEFT - 34, high_y - 10), unit.label, "label")
    drawing.words(
        (LEFT + 6, high_y - 10),
        "the warmest and coolest of each day; the field from 2 to 5 at night, pump off",
        "series",
    )
    for part in strip.between(days.foot_low, days.top_high):
        drawing.path(part, "w-wash", close=True)
    for part in strip.steps(days.field_high):
        drawing.path(part, "curve-day")
    for part in strip.steps(days.field_night):
        drawing.path(part, "slate-line")
    ends = (
        (days.field_high, "field, warmest"),
        (days.field_night, "field by night"),
        (days.top_high, "store top"),
        (days.foot_low, "store foot"),
    )
    level = -math.inf
    for value, words in sorted(
        ((float(values[np.isfinite(values)][-1]), words) for values, words in ends if np.isfinite(values).any()),
        reverse=True,
    ):
        level = max(y(value) + 4, level + 15)
        drawing.words((RIGHT + 6, level), words, "label-ink halo")
    drawing.line((LEFT, low_y), (RIGHT, low_y), "rule-ink")


def _pump(drawing: Drawing, days: Days, wide: float) -> None:
    high_y, low_y = PUMP
    most = 24.0 if np.nanmax(np.append(days.pump_h, 0.0)) > 14.0 else 14.0
    for hours in (0.0, most / 2, most):
        level = low_y - (low_y - high_y) * hours / most
        drawing.line((LEFT, level), (RIGHT, level), "rule")
        drawing.words((LEFT - 6, level + 4), f"{hours:.0f}", "axis", "end")
    drawing.words((LEFT - 34, high_y - 8), "h", "label")
    drawing.words((LEFT + 6, high_y - 8), "the pump ran", "series")
    share = 0.72 if wide > 3.0 else 1.0
    for number, hours in enumerate(days.pump_h):
        if np.isfinite(hours) and hours > 0.0:
            tall = (low_y - high_y) * min(float(hours), most) / most
            drawing.rect(LEFT + wide * (number + (1 - share) / 2), low_y - tall, wide * share, tall, "solid")
    drawing.line((LEFT, low_y), (RIGHT, low_y), "rule-ink")


def _gauge(drawing: Drawing, days: Days, units: System, wide: float, least: float | None) -> None:
    high_y, low_y = GAUGE
    found = days.gauge_night[np.isfinite(days.gauge_night)]
    bounds = [float(found.min()), float(found.max()), *([least] if least is not None else [])]
    middle, span = (min(bounds) + max(bounds)) / 2, max(max(bounds) - min(bounds), 6e4) * 1.25

    def y(pressure: float) -> float:
        return low_y - (low_y - high_y) * ((pressure - middle) / span + 0.5)

    unit = dimension("pressure").unit(units)
    for pressure in (middle - 0.35 * span, middle + 0.35 * span):
        drawing.line((LEFT, y(pressure)), (RIGHT, y(pressure)), "rule")
        drawing.words((LEFT - 6, y(pressure) + 4), number_text(unit.from_si(pressure), unit.decimals), "axis", "end")
    drawing.words((LEFT - 34, high_y - 8), unit.label, "label")
    drawing.words((LEFT + 6, high_y - 8), "gauge before sunrise, pump off", "series")
    if least is not None:
        drawing.line((LEFT, y(least)), (RIGHT, y(least)), "leaf-line")
        drawing.words((RIGHT + 6, y(least) + 4), "least, cold", "label-leaf halo")
    points = [
        (LEFT + wide * (n + 0.5), y(float(value))) for n, value in enumerate(days.gauge_night) if np.isfinite(value)
    ]
    if len(points) <= RING_DAYS:
        for point in points:
            drawing.circle(point, 3.0, "ring-dot")
    else:
        drawing.path(points, "stroke")
    drawing.line((LEFT, low_y), (RIGHT, low_y), "rule-ink")


def foot_marks(drawing: Drawing, days: NDArray[np.int64], wide: float, foot: float) -> None:
    """Months along the foot; days where the log is shorter."""
    dates: Sequence[date] = [EPOCH + timedelta(days=int(number)) for number in days]
    long = len(dates) > 62
    every = 1 if long else max(1, math.ceil(len(dates) / MOST_NAMES))
    marks = [n for n, day in enumerate(dates) if (day.day == 1 if long else n % every == 0)]
    every = max(1, math.ceil(len(marks) / MOST_NAMES)) if long else 1
    for at, number in enumerate(marks):
        across, day = LEFT + wide * number, dates[number]
        drawing.line((across, foot), (across, foot + 5), "rule-ink")
        if at % every:
            continue
        words = day_said(day, short=True).text()
        if long:
            words = month_said(day, short=True) if day.month > 1 else f"{day:%Y}"
        drawing.words((across + 3, foot + 18), words, "axis")


def nice_step(most: float) -> float:
    """A round step that divides an axis into three to six."""
    rough = most / 4
    scale = 10.0 ** math.floor(math.log10(rough))
    return next(scale * times for times in (1.0, 2.0, 5.0, 10.0) if scale * times >= rough)
