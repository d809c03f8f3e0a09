"""Heat that came beside heat that was due in this weather: by day, or by week where the log is long; what is missing is hatched."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.expected import Expected
from rowan.core.records.care.health import day_words
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, dimension, number_text
from rowan.web.care.log_drawing import LEFT, RIGHT, WIDTH, Strip, foot_marks, nice_step
from rowan.web.ui.svg import Drawing

Numbers = NDArray[np.float64]
TOP, FOOT = 40.0, 216.0
LONG_DAYS = 70  # from which a log is drawn by weeks
WEEK = 7
LEAST_TOP_J = 3.6e6


def health_drawing(due: Expected, begins: int, units: System) -> Drawing:
    """The strip of heat; `begins` is the day of the log from which a fault was named, 0 for none."""
    by = WEEK if len(due.came) > LONG_DAYS else 1
    came, should, low, high = (_summed(values, by) for values in (due.came, due.due, due.low, due.high))
    drawing = Drawing(WIDTH, FOOT + 34, "Heat into the store", "log-days", "health")
    wide = (RIGHT - LEFT) * by / len(due.came)
    most = max(LEAST_TOP_J, float(np.nanmax(np.concatenate((came, high, [0.0])))) * 1.08)
    unit = dimension("energy").unit(units)
    strip = Strip(LEFT, wide, TOP, FOOT, 0.0, most)

    step = nice_step(unit.from_si(most))
    for number in range(int(unit.from_si(most) / step) + 1):
        level = strip.y(unit.to_si(number * step))
        drawing.line((LEFT, level), (RIGHT, level), "rule")
        drawing.words((LEFT - 6, level + 4), number_text(number * step, 0 if step >= 1 else 1), "axis", "end")
    drawing.words((LEFT - 34, TOP - 10), unit.label, "label")
    what = "week by week" if by == WEEK else "day by day"
    drawing.words((LEFT + 6, TOP - 10), tr("heat to the store, {what}", what=what), "series")
    for part in strip.between(low, high):
        drawing.path(part, "window-band", close=True)
    missing = np.where(came < low, came, np.nan)
    for part in strip.between(missing, np.where(np.isfinite(missing), should, np.nan)):
        drawing.path(part, "left-out", close=True)
    for values in (low, high):
        for part in strip.steps(values):
            drawing.path(part, "leaf-line")
    for part in strip.steps(came):
        drawing.path(part, "curve-day")
    _ends(drawing, strip, came, should)
    if begins:
        across = LEFT + wide * begins / by
        drawing.line((across, TOP - 6), (across, FOOT), "stroke")
        anchor = "end" if across > (LEFT + RIGHT) / 2 else ""
        words = tr("from {day_words}", day_words=day_words(due.first_day, begins).text())
        drawing.words((across + (-6 if anchor else 6), TOP + 4), words, "label-ink halo", anchor)
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    foot_marks(drawing, due.first_day + np.arange(len(due.came)), wide / by, FOOT)
    return drawing


def _summed(values: Numbers, by: int) -> Numbers:
    """Sums of so many days, of the days that were read, made up to whole ones; not a number where fewer than half were read."""
    if by == 1:
        return values
    count = math.ceil(len(values) / by)
    padded = np.full(count * by, np.nan)
    padded[: len(values)] = values
    rows = padded.reshape(count, by)
    read = np.isfinite(rows).sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(read * 2 >= by, np.nansum(rows, axis=1) * by / read, np.nan)


def _ends(drawing: Drawing, strip: Strip, came: Numbers, should: Numbers) -> None:
    """What the lines are, at their right ends, apart from each other."""
    ends = []
    for values, words, cls in ((came, "came", "label-ink halo"), (should, "due in this sun", "label-leaf halo")):
        good = values[np.isfinite(values)]
        if len(good):
            ends.append((strip.y(float(good[-1])) + 4, words, cls))
    level = -math.inf
    for at, words, cls in sorted(ends):
        level = max(at, level + 15)
        drawing.words((RIGHT + 6, level), words, cls)
