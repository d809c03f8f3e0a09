"""A loop's gauge over months as a drawing: every reading as it would stand at the fill's warmth, the fill, the least, and where it goes."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from datetime import date, timedelta

from rowan.core.records.care.gauge_series import GaugeSeries, LevelSeries
from rowan.core.terms.dates import day_said, month_said
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, dimension, number_text, shown
from rowan.web.care.log_drawing import LEFT, RIGHT, WIDTH, nice_step
from rowan.web.ui.svg import Drawing, Point

TOP, FOOT = 34.0, 214.0
LEAST_SPAN_DAYS = 30
AHEAD = 0.35  # of the readings' own time that is drawn beyond the last of them, where a course is told
LEAST_PA, LEAST_M = 60e3, 0.04


def gauge_course(series: GaugeSeries, units: System) -> Drawing:
    """The gauge at the fill's warmth; what lies under the least is hatched."""
    drawing = Drawing(WIDTH, FOOT + 34, "The gauge, as it would stand at the fill's warmth", "gauge-course", "log-days")
    days = [point.read.day for point in series.points]
    at = _Across(days, ahead=series.course == "leak")
    values = [point.cold for point in series.points]
    low, high = _bounds([*values, series.fill, series.least], LEAST_PA)

    def y(pressure: float) -> float:
        return FOOT - (FOOT - TOP) * (pressure - low) / (high - low)

    _scale(drawing, low, high, "pressure", units, y)
    drawing.words((LEFT + 6, TOP - 10), "the gauge, put to the fill's warmth", "series")
    drawing.rect(LEFT, y(series.least), RIGHT - LEFT, FOOT - y(series.least), "beyond")
    drawing.line((LEFT, y(series.fill)), (RIGHT, y(series.fill)), "leaf-line")
    drawing.words(
        (RIGHT + 6, y(series.fill) + 4),
        tr("fill {fill}", fill=shown(series.fill, "pressure", units)),
        "label-leaf halo",
    )
    level = max(y(series.least) + 4, y(series.fill) + 20)
    drawing.words(
        (RIGHT + 6, level), tr("least {least}", least=shown(series.least, "pressure", units)), "label-ink halo"
    )
    if series.course == "leak" and series.a_day > 0:
        _course(drawing, series, at, y)
    for point in series.points:
        _dot(drawing, (at.x(point.read.day), y(point.cold)), point.read.who)
    _foot(drawing, at)
    return drawing


def _course(drawing: Drawing, series: GaugeSeries, at: _Across, y: Callable[[float], float]) -> None:
    """Where it goes, straight on from the last readings."""
    last = series.points[-1]
    here = (
        series.fill - (series.fill - series.least) * min(series.missing / series.kept, 1.0)
        if series.kept
        else last.cold
    )
    if series.reaches is None:
        return
    gone = (at.last - last.read.day).days / max((series.reaches - last.read.day).days, 1)
    ends = here + (series.least - here) * gone
    drawing.path([(at.x(last.read.day), y(here)), (at.x(at.last), y(ends))], "guess-line")
    if series.reaches <= at.last:
        across = at.x(series.reaches)
        drawing.line((across, TOP), (across, FOOT), "stroke")
        drawing.words(
            (across - 6, TOP + 12),
            tr("at its least {day}", day=day_said(series.reaches, short=True).text()),
            "label-ink halo",
            "end",
        )


def _dot(drawing: Drawing, spot: Point, who: str) -> None:
    """A reading: a night of the log small, what somebody read as a ring."""
    of_log = who == "the log"
    drawing.circle(spot, 2.2 if of_log else 4.0, "solid" if of_log else "ring-dot")


def level_course(series: LevelSeries, units: System) -> Drawing:
    """Levels over their mark."""
    drawing = Drawing(WIDTH, FOOT + 34, "The level at rest, over its mark", "gauge-course", "log-days")
    at = _Across([one.day for one in series.reads])
    low, high = _bounds([*(one.level for one in series.reads), 0.0], LEAST_M)

    def y(level: float) -> float:
        return FOOT - (FOOT - TOP) * (level - low) / (high - low)

    _scale(drawing, low, high, "level", units, y)
    drawing.words((LEFT + 6, TOP - 10), "water at rest, over its mark", "series")
    drawing.line((LEFT, y(0.0)), (RIGHT, y(0.0)), "leaf-line")
    drawing.words((RIGHT + 6, y(0.0) + 4), "the mark", "label-leaf halo")
    for one in series.reads:
        _dot(drawing, (at.x(one.day), y(one.level)), one.who)
    _foot(drawing, at)
    return drawing


class _Across:
    """Days across a drawing."""

    def __init__(self, days: Sequence[date], *, ahead: bool = False) -> None:
        """From the first day to the last, some more where it is asked for."""
        self.first = days[0]
        span = max((days[-1] - days[0]).days, LEAST_SPAN_DAYS)
        self.last = self.first + timedelta(days=round(span * (1 + AHEAD * ahead)))

    def x(self, day: date) -> float:
        """Where a day stands."""
        return LEFT + 8 + (RIGHT - LEFT - 16) * (day - self.first).days / (self.last - self.first).days


def _bounds(values: Sequence[float], least: float) -> tuple[float, float]:
    middle, span = (min(values) + max(values)) / 2, max(max(values) - min(values), least) * 1.3
    return middle - span / 2, middle + span / 2


def _scale(drawing: Drawing, low: float, high: float, name: str, units: System, y: Callable[[float], float]) -> None:
    unit = dimension(name).unit(units)
    first, last = unit.from_si(low), unit.from_si(high)
    step = nice_step(last - first)
    for number in range(math.ceil(first / step), math.floor(last / step) + 1):
        level = y(unit.to_si(number * step))
        drawing.line((LEFT, level), (RIGHT, level), "rule")
        drawing.words((LEFT - 6, level + 4), number_text(number * step, unit.decimals), "axis", "end")
    drawing.words((LEFT - 34, TOP - 10), unit.label, "label")


def _foot(drawing: Drawing, at: _Across) -> None:
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    span = (at.last - at.first).days
    if span <= 70:
        days = [at.first + timedelta(days=n) for n in range(0, span + 1, max(1, span // 6))]
        marks = [(day, day_said(day, short=True).text()) for day in days]
    else:
        days = [at.first + timedelta(days=n) for n in range(span + 1)]
        firsts = [day for day in days if day.day == 1]
        every = max(1, -(-len(firsts) // 10))
        marks = [
            (day, f"{day:%Y}" if day.month == 1 else month_said(day, short=True))
            for n, day in enumerate(firsts)
            if n % every == 0
        ]
    for day, words in marks:
        drawing.line((at.x(day), FOOT), (at.x(day), FOOT + 5), "rule-ink")
        drawing.words((at.x(day) + 3, FOOT + 18), words, "axis")
