"""A day in the store: its layers hour by hour, the field above them, the pump's ribbon; scrubbed by hand."""

from __future__ import annotations

import json
import math

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.plant import COIL
from rowan.core.simulation.year import Year
from rowan.core.terms.dates import day_of_year_said
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import measured_at, width_of
from rowan.web.ui.svg import Drawing

Array = NDArray[np.float64]
WIDTH, HEIGHT = 656, 300
TANK_X, TANK_W, TANK_TOP, TANK_FOOT = 30.0, 108.0, 34.0, 262.0
LEFT, RIGHT, TOP, FOOT = 214.0, 636.0, 34.0, 236.0
RIBBON = (246.0, 12.0)
WARM_STEPS = (20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0)
MOST_C, MOST_SHOWN_C = 100.0, 220.0
NOON = 12


def tint(temperature: float) -> str:
    """The class of a layer by its temperature [°C]."""
    return f"warm-{sum(temperature >= step for step in WARM_STEPS)}"


def chosen_day(sheet: Sheet, year: Year) -> int:
    """The day asked for, or the one with the hottest store; of a pool the one with the most sun into it."""
    if sheet.look.day is not None:
        return sheet.look.day
    return sunniest(year) if sheet.design.is_pool else hottest(year)


def sunniest(year: Year) -> int:
    """The day that brought the most sun into the store."""
    return int(year.daily[:, COIL].argmax())


def hottest(year: Year) -> int:
    """The day on which the store got hottest."""
    return int(year.traced[:, 0].reshape(365, 24).max(axis=1).argmax())


def day_links(year: Year, day: int) -> list[tuple[int, str]]:
    """Days worth a look, and the neighbours."""
    best, worst = sunniest(year), int(year.daily[:, COIL].argmin())
    return [
        ((day - 1) % 365, "the day before"),
        ((day + 1) % 365, "the day after"),
        (hottest(year), "hottest store"),
        (best, "most sun"),
        (worst, "least sun"),
    ]


def day_drawing(sheet: Sheet, year: Year, day: int) -> Drawing:
    """The tank at one hour with its layers; beside it the day's temperatures."""
    drawing = Drawing(
        WIDTH, HEIGHT, tr("The store on {day}", day=day_of_year_said(day).text()), "store-day", "store-day"
    )
    unit = dimension("temperature").unit(sheet.units)
    layers = year.layers(day)
    those = slice(24 * day, 24 * day + 24)
    shown = [[round(unit.from_si(float(c))) for c in hour] for hour in layers]
    drawing.attributes["data-scrub"] = json.dumps(
        {
            "layers": shown,
            "tints": [[tint(float(c)) for c in hour] for hour in layers],
            "left": LEFT,
            "right": RIGHT,
            "unit": unit.label,
        },
        separators=(",", ":"),
    )
    # a pool, a slab and a bath are wide and low
    body = (180.0, 12.0, 150.0) if sheet.design.own_store else (TANK_TOP, TANK_X, TANK_W)
    _tank(drawing, layers[NOON], [str(c) for c in shown[NOON]], unit.label, body)
    _chart(drawing, sheet, layers, year.hourly("exit")[those])
    _ribbon(drawing, year.hourly("flow")[those])
    _scrub(drawing)
    return drawing


def _tank(drawing: Drawing, hour: Array, shown: list[str], unit: str, body: tuple[float, float, float]) -> None:
    top, left, wide = body
    n = hour.size
    height = (TANK_FOOT - top) / n
    drawing.words((left, 16), "12:00", "fig-big", id="scrub-time")
    for i in range(n):
        y = top + height * i
        drawing.rect(left, y, wide, height + 0.5, tint(float(hour[i])), id=f"scrub-layer-{i}")
    step = 1 if n <= 2 else max(1, n // 6)
    for i in range(0, n, step):
        y = top + height * (i + 0.5)
        drawing.words((left + wide + 8, y + 5), shown[i], "fig", id=f"scrub-words-{i}")
    drawing.words((left + wide + 8, top - 6), unit, "label")
    drawing.add("rect", x=left, y=top, width=wide, height=TANK_FOOT - top, rx=10, cls="tank-wall")
    drawing.rect(left - 18, TANK_FOOT, wide + 36, 8, "ground")
    drawing.line((left - 18, TANK_FOOT), (left + wide + 18, TANK_FOOT), "wall")


def _chart(drawing: Drawing, sheet: Sheet, layers: Array, field: Array) -> None:
    unit = dimension("temperature").unit(sheet.units)
    hottest_c = max(float(layers.max()), min(float(field.max()), MOST_SHOWN_C))
    top = max(MOST_C, 20.0 * math.ceil(hottest_c / 20))
    low = min(0.0, 10.0 * math.floor(float(min(layers.min(), field.min())) / 10))

    def y(c: float) -> float:
        return FOOT - (FOOT - TOP) * (c - low) / (top - low)

    def x(hour: float) -> float:
        return LEFT + (RIGHT - LEFT) * hour / 24

    every = 20 if top - low <= 140 else 40
    for c in range(math.ceil(low / every) * every, int(top) + 1, every):
        drawing.line((LEFT, y(c)), (RIGHT, y(c)), "grid")
        drawing.words((LEFT - 6, y(c) + 4), number_text(unit.from_si(c), 0), "axis", "end")
    drawing.words((LEFT - 6, TOP - 10), unit.label, "axis", "end")
    for hour in range(0, 25, 3):
        drawing.line((x(hour), TOP), (x(hour), FOOT), "grid")
        drawing.words((x(hour), HEIGHT - 24), str(hour), "axis", "middle")
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    # values stand at the end of their hours
    curves = (
        (field, "loop-curve", "field"),
        (layers[:, 0], "store-top", "store top"),
        (layers[:, -1], "cold", "store foot"),
    )
    ends: list[float] = []
    for values, cls, name in curves:
        points = [(x(h + 1), y(min(float(v), top))) for h, v in enumerate(values)]
        drawing.path(points, cls)
        at = int(values.argmax()) if name == "field" else 20
        label_y = points[at][1] - 7
        while any(abs(label_y - other) < 13 for other in ends):
            label_y += 13
        ends.append(label_y)
        drawing.words((points[at][0], label_y), name, "label-ink halo", "middle")


def _ribbon(drawing: Drawing, share: Array) -> None:
    y, height = RIBBON
    drawing.words((LEFT - 6, y + 10), "pump", "axis", "end")
    width = (RIGHT - LEFT) / 24
    for hour, part in enumerate(share):
        if part > 0:
            drawing.rect(LEFT + width * hour, y + height * (1 - float(part)), width, height * float(part), "solid")
    drawing.line((LEFT, y + height), (RIGHT, y + height), "rule-ink")


def _scrub(drawing: Drawing) -> None:
    x = LEFT + (RIGHT - LEFT) * NOON / 24
    group = drawing.add(
        "g",
        id="scrub",
        cls="handle",
        role="slider",
        tabindex=0,
        aria_label="hour of the day",
        aria_valuemin=0,
        aria_valuemax=24,
        aria_valuenow=NOON,
        aria_valuetext="12:00",
    )
    group.rect(x - 12, TOP - 16, 24, FOOT - TOP + 40, "grip", id="scrub-grip")
    group.line((x, TOP - 4), (x, FOOT + 22), "stroke", id="scrub-line")
    group.circle((x, TOP - 8), 5, "knob", id="scrub-knob")
    drawing.words((LEFT, HEIGHT - 6), "hours of the day", "place")
    beside = LEFT + width_of(tr("hours of the day"), measured_at("place")) + 12
    drawing.words((beside, HEIGHT - 6), "drag the line, or use the arrow keys", "place screen")
