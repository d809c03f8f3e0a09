"""A day under the lens: collector, store, sun and pump every ten seconds; the rival pair as a ghost."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.controller import SUN
from rowan.core.simulation.day import STEP_S, Day
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import dimension, number_text, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

Array = NDArray[np.float64]
WIDTH, HEIGHT = 656, 352
LEFT, RIGHT, TOP, FOOT = 34.0, 576.0, 34.0, 258.0
RIBBON_A, RIBBON_B, RIBBON_H = 268.0, 292.0, 15.0
HOURS_FOOT = 328.0
MOST_C, LEAST_TOP_C = 160.0, 60.0
COLUMNS = 270
HAIR_PX = 0.1  # less than that no eye sees
SUN_SHARE = 0.94
READOUTS = 144
TICKS_H = (1 / 6, 0.5, 1, 2, 3, 6, 12, 24)
MOST_TICKS = 9


@record
class Span:
    """What of a day is shown [h]."""

    start: float
    end: float

    @property
    def tick(self) -> float:
        """The distance of the hours written under it [h]."""
        return next((step for step in TICKS_H if (self.end - self.start) / step <= MOST_TICKS), TICKS_H[-1])

    def x(self, hour: Any) -> Any:
        """Where an hour stands, or each of an array of them."""
        return LEFT + (RIGHT - LEFT) * (hour - self.start) / (self.end - self.start)


def clock(hour: float) -> str:
    """An hour as a clock shows it; over midnight it goes on."""
    minutes = round(hour * 60)
    return f"{minutes // 60 % 24:02d}:{minutes % 60:02d}" if minutes != 1440 else "24:00"


def race_drawing(sheet: Sheet, ours: Day, rival: Day, span: Span, title: str) -> Drawing:
    """The day with the plan's pair, and the rival's field and store foot over it."""
    drawing = Drawing(WIDTH, HEIGHT, title, "lens-day", "lens-day")
    first, last = round(span.start * 3600 / STEP_S), round(span.end * 3600 / STEP_S)
    a, b = ours.watched[first:last], rival.watched[first:last]
    hottest = min(float(max(a[:, 0:3].max(), b[:, 0:3].max())), MOST_C)
    top = max(LEAST_TOP_C, 10.0 * math.ceil(hottest / 10))
    low = min(0.0, 10.0 * math.floor(float(a[:, 0].min()) / 10))

    def y(celsius: float) -> float:
        return FOOT - (FOOT - TOP) * (min(max(celsius, low), top) - low) / (top - low)

    _grid(drawing, sheet, span, (low, top))
    _sun(drawing, sheet, span, a[:, 7])
    hours = ours.hours[first:last]
    for values, cls in (
        (b[:, 1], "ghost"),
        (b[:, 0], "ghost"),
        (a[:, 2], "store-top"),
        (a[:, 1], "cold"),
        (a[:, 0], "curve-day"),
    ):
        at_h, thinned = _thin(hours, values, HAIR_PX * (top - low) / (FOOT - TOP))
        ys = FOOT - (FOOT - TOP) * (np.clip(thinned, low, top) - low) / (top - low)
        drawing.path(zip(span.x(at_h).tolist(), ys.tolist(), strict=True), cls)
    _names(
        drawing, [(float(a[-1, 0]), "collector"), (float(a[-1, 2]), "store top"), (float(a[-1, 1]), "store foot")], y
    )
    for at, name, run, rows, cls in (
        (RIBBON_A, "A", ours, a, "solid"),
        (RIBBON_B, "B", rival, b, "bar-hatch"),
    ):
        _ribbon(drawing, span, hours, rows, (at, cls))
        drawing.words((LEFT - 8, at + 12), name, "key", "end")
        drawing.figure((RIGHT + 8, at + 12), str(run.starts), "starts" if run.starts != 1 else "start", "fig")
    _cross(drawing, sheet, span, (ours, rival))
    return drawing


def _thin(hours: Array, values: NDArray[np.float32], hair: float) -> tuple[Array, Array]:
    """Least and most of each column of the drawing, in the order they come: no start is lost between two points. Where both are
    within a `hair`, in the values' unit, one stands for both."""
    if values.size <= 2 * COLUMNS:
        return hours, values.astype(float)
    wide = -(-values.size // COLUMNS)
    # the last column is filled up with the last value, which is in it anyway
    columns = np.pad(values, (0, -values.size % wide), mode="edge").reshape(-1, wide)
    ends = np.sort(np.stack([columns.argmin(axis=1), columns.argmax(axis=1)], axis=1), axis=1)
    ends[:, 1] = np.where(np.ptp(columns, axis=1) < hair, ends[:, 0], ends[:, 1])
    at = np.unique(np.minimum((ends + wide * np.arange(columns.shape[0])[:, None]).ravel(), values.size - 1))
    return hours[at], values[at].astype(float)


def _grid(drawing: Drawing, sheet: Sheet, span: Span, limits: tuple[float, float]) -> None:
    low, top = limits
    unit = dimension("temperature").unit(sheet.units)
    every = 10 if top - low <= 80 else 20
    for celsius in range(math.ceil(low / every) * every, int(top) + 1, every):
        y = FOOT - (FOOT - TOP) * (celsius - low) / (top - low)
        drawing.line((LEFT, y), (RIGHT, y), "grid")
        drawing.words((LEFT - 6, y + 4), number_text(unit.from_si(celsius), 0), "axis", "end")
    drawing.words((LEFT - 6, TOP - 10), unit.label, "axis", "end")
    hour = math.ceil(span.start / span.tick - 1e-9) * span.tick
    while hour <= span.end + 1e-9:
        drawing.line((span.x(hour), TOP), (span.x(hour), FOOT), "grid")
        drawing.words(
            (span.x(hour), HOURS_FOOT),
            clock(hour) if span.end <= 24 else tr("day {number}", number=f"{hour / 24 + 1:.0f}"),
            "axis",
            "middle",
        )
        hour += span.tick
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")


def _sun(drawing: Drawing, sheet: Sheet, span: Span, sun: NDArray[np.float32]) -> None:
    """What the absorber takes up, as an area to its own scale."""
    most = float(sun.max())
    if most <= 1:
        return
    hours = span.start + (np.arange(sun.size) + 1) * STEP_S / 3600
    height = (FOOT - TOP) * SUN_SHARE * min(most / 900.0, 1.0)
    at_h, taken = _thin(hours, sun, HAIR_PX * most / height)
    ys = FOOT - height * np.maximum(taken, 0.0) / most
    points = list(zip(span.x(at_h).tolist(), ys.tolist(), strict=True))
    drawing.path([(points[0][0], FOOT), *points, (points[-1][0], FOOT)], "sun", close=True)
    peak = int(sun.argmax())
    at = min(max(span.x(float(hours[peak])), LEFT + 90), RIGHT - 90)
    words = tr("sun taken up, most {most}", most=shown(most, "irradiance", sheet.units))
    drawing.words((at, FOOT - 8), words, "label-clay halo", "middle")


def _names(drawing: Drawing, ends: list[tuple[float, str]], y: Callable[[float], float]) -> None:
    """Names at the ends of the curves, kept apart."""
    last = -math.inf
    for value, name in sorted(ends, key=lambda end: -end[0]):
        at = max(y(value) + 4, last + 14)
        drawing.words((RIGHT + 8, at), name, "label-ink halo")
        last = at


def _ribbon(drawing: Drawing, span: Span, hours: Array, rows: NDArray[np.float32], ribbon: tuple[float, str]) -> None:
    """When the pump ran, as high as it ran fast; what does not earn heat is crossed."""
    top, cls = ribbon
    speed, why = rows[:, 5], rows[:, 6]
    drawing.line((LEFT, top + RIBBON_H), (RIGHT, top + RIBBON_H), "rule-ink")
    runs = speed > 0
    edges = np.flatnonzero(np.diff(np.concatenate(([0], runs.astype(int), [0]))))
    least = (span.end - span.start) / (RIGHT - LEFT)
    for first, last in zip(edges[::2], edges[1::2], strict=True):
        start, end = float(hours[first]) - STEP_S / 3600, float(hours[last - 1])
        height = RIBBON_H * float(speed[first:last].mean())
        kind = cls if why[first] == SUN else "outside"
        wide = max(span.x(end) - span.x(start), 0.7 if end - start < least else 0.0)
        drawing.rect(span.x(start), top + RIBBON_H - height, wide, height, kind)


def _cross(drawing: Drawing, sheet: Sheet, span: Span, runs: tuple[Day, Day]) -> None:
    """The line of the hour, with what it reads at each of its places in words."""
    unit = dimension("temperature").unit(sheet.units)
    places = np.linspace(span.start, span.end, READOUTS + 1)
    rows = np.clip((places * 3600 / STEP_S).astype(int) - 1, 0, runs[0].watched.shape[0] - 1)
    celsius = np.concatenate([runs[0].watched[rows][:, :3], runs[1].watched[rows][:, :1]], axis=1)
    whole = [[round(unit.from_si(c)) for c in row] for row in celsius.tolist()]
    said = {value: f"{number_text(value, 0)} {unit.label}" for row in whole for value in row}
    words = tr("{clock}  A {field} over {foot}, top {top}; B {other}")
    read = [
        words.format(clock=clock(hour), field=said[a], foot=said[b], top=said[c], other=said[d])
        for hour, (a, b, c, d) in zip(places.tolist(), whole, strict=True)
    ]
    drawing.attributes["data-lens"] = json.dumps(
        {"left": LEFT, "right": RIGHT, "from": span.start, "to": span.end, "read": read},
        separators=(",", ":"),
        ensure_ascii=False,
    )
    at = READOUTS // 2
    group = drawing.add(
        "g",
        id="lens-cross",
        cls="handle",
        role="slider",
        tabindex=0,
        aria_label="time of the day",
        aria_valuemin=0,
        aria_valuemax=READOUTS,
        aria_valuenow=at,
        aria_valuetext=read[at],
    )
    x = (LEFT + RIGHT) / 2
    group.rect(x - 10, TOP - 6, 20, RIBBON_B + RIBBON_H - TOP + 6, "grip", id="lens-grip")
    group.line((x, TOP - 6), (x, RIBBON_B + RIBBON_H), "stroke", id="lens-line")
    drawing.words((x, TOP - 18), read[at], "label-ink halo lens-read", "middle", id="lens-words", aria_hidden="true")
