"""The year of the plan, month by month: what the sun brings, what the backup gives, what is drawn."""

from __future__ import annotations

import numpy as np

from rowan.core.simulation.year import Year
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import USUAL_PX, width_of
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 250
LEFT, RIGHT, TOP, FOOT = 44.0, 648.0, 34.0, 206.0
MONTH_LETTERS = "JFMAMJJASOND"
MOST_TICKS = 5
TICKS = (10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000, 100_000)


def year_drawing(sheet: Sheet) -> Drawing:
    """Sun, backup and what was short of each month in one bar; what is wanted as a line across it."""
    drawing = Drawing(WIDTH, HEIGHT, "The year, month by month", "year", "year")
    try:
        year = sheet.year()
    except RowanError as error:
        drawing.words((LEFT, 60), "No year can be run:", "fig")
        drawing.words((LEFT, 80), error.text(sheet.units), "label")
        return drawing
    _bars(drawing, year)
    closure = tr(
        "{weather}, in steps of a minute; energy closes to {share} %",
        weather=year.weather,
        share=f"{100 * year.residual:.0e}",
    )
    drawing.words((LEFT, HEIGHT - 6), closure, "place")
    return drawing


def _bars(drawing: Drawing, year: Year) -> None:
    sun, backup, short = (months / KWH for months in (year.months("coil"), year.backup_months, year.unmet_months))
    own = year.own_need
    wanted = (year.months("demand") if own is None else own) / KWH
    top = max(float(np.maximum(np.clip(sun, 0, None) + backup + short, wanted).max()), 1.0) * 1.06
    fitting = [tick for tick in TICKS if top / tick <= MOST_TICKS]
    every = float(fitting[0]) if fitting else top / MOST_TICKS

    def y(heat: float) -> float:
        return FOOT - (FOOT - TOP) * heat / top

    for count in range(int(top / every) + 1):
        at = y(count * every)
        drawing.line((LEFT, at), (RIGHT, at), "grid" if count else "rule-ink")
        drawing.words((LEFT - 6, at + 4), number_text(count * every, 0), "axis", "end")
    _key(drawing, short.sum() > 0, own is not None)
    step = (RIGHT - LEFT) / 12
    for month in range(12):
        x, base = LEFT + step * month, 0.0
        parts = ((max(float(sun[month]), 0.0), "sun", "sun"), (float(backup[month]), "bar-hatch", "backup"))
        for heat, cls, name in (*parts, (float(short[month]), "outside", "short")):
            if heat > 0:
                drawing.rect(
                    x + 8, y(base + heat), step - 16, y(base) - y(base + heat), cls, id=f"year-{name}-{month + 1}"
                )
            base += heat
        drawing.line((x + 3, y(float(wanted[month]))), (x + step - 3, y(float(wanted[month]))), "wanted")
        drawing.words((x + step / 2, FOOT + 15), MONTH_LETTERS[month], "axis", "middle")


def _key(drawing: Drawing, short: bool, own: bool) -> None:
    """What the fills mean."""
    drawing.words((LEFT, 16), "kWh a month", "label")
    rows = [("sun", "sun into the store"), ("bar-hatch", "backup"), *([("outside", "nobody made up")] if short else [])]
    x = LEFT + 90
    for cls, words in rows:
        drawing.rect(x, 6, 13, 12, cls)
        drawing.words((x + 19, 16), words, "label")
        x += 44 + width_of(tr(words), USUAL_PX)
    drawing.line((x, 12), (x + 16, 12), "wanted")
    drawing.words((x + 22, 16), "what holds it warm" if own else "what is drawn", "label")
