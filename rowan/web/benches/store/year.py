"""The year of the plan, month by month: what the sun brings, what the backup gives, what is drawn."""

from __future__ import annotations

from rowan.core.errors import RowanError
from rowan.core.simulate import simulate
from rowan.core.units import KWH, number_text, shown
from rowan.core.year.run import Year
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 240
LEFT, RIGHT, TOP, FOOT = 40.0, 452.0, 26.0, 196.0
WORDS_X = 482.0
MONTH_LETTERS = "JFMAMJJASOND"
MOST_TICKS = 5
TICKS = (10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000, 100_000)


def year_drawing(sheet: Sheet) -> Drawing:
    """Sun and backup of each month as bars, the demand as a line over both; the year's sums in words."""
    drawing = Drawing(WIDTH, HEIGHT, "The year, month by month", "year", "year")
    try:
        year = simulate(sheet.design, sheet.result)
    except RowanError as error:
        drawing.words((LEFT, 60), "No year can be run:", "fig")
        drawing.words((LEFT, 80), error.text(sheet.units), "label")
        return drawing
    _bars(drawing, year)
    _words(drawing, sheet, year)
    return drawing


def _bars(drawing: Drawing, year: Year) -> None:
    sun, demand = year.months("coil") / KWH, year.months("demand") / KWH
    backup = year.backup_months / KWH
    top = max(float(max(sun.max(), backup.max(), demand.max())), 1.0) * 1.06
    every = (
        next(tick for tick in TICKS if top / tick <= MOST_TICKS) if top / TICKS[-1] <= MOST_TICKS else top / MOST_TICKS
    )

    def y(heat: float) -> float:
        return FOOT - (FOOT - TOP) * heat / top

    for count in range(int(top / every) + 1):
        at = y(count * every)
        drawing.line((LEFT, at), (RIGHT, at), "grid" if count else "rule-ink")
        drawing.words((LEFT - 6, at + 4), number_text(count * every, 0), "axis", "end")
    drawing.words(
        (LEFT, 12), "kWh a month · dotted: sun into the store · hatched: backup · line: what is drawn", "label"
    )
    step = (RIGHT - LEFT) / 12
    for month in range(12):
        x = LEFT + step * month
        drawing.rect(
            x + 4, y(float(sun[month])), step / 2 - 4, FOOT - y(float(sun[month])), "sun", id=f"year-sun-{month + 1}"
        )
        drawing.rect(
            x + step / 2,
            y(float(backup[month])),
            step / 2 - 4,
            FOOT - y(float(backup[month])),
            "steep",
            id=f"year-backup-{month + 1}",
        )
        drawing.line((x + 1, y(float(demand[month]))), (x + step - 1, y(float(demand[month]))), "stroke")
        drawing.words((x + step / 2, FOOT + 15), MONTH_LETTERS[month], "axis", "middle")


def _words(drawing: Drawing, sheet: Sheet, year: Year) -> None:
    estimate = sheet.result.collector.year_heat
    hours = year.total("stagnation_time") / 3600
    rows = (
        (number_text(100 * year.solar_fraction, 0), "%", "solar, with the store's losses"),
        (number_text(year.solar_heat / KWH, 0), "kWh", "of sun into the store"),
        *(((number_text(estimate / KWH, 0), "kWh", "the estimate by months"),) if estimate is not None else ()),
        (number_text(year.backup / KWH, 0), "kWh", "from the backup"),
        (number_text(year.starts_per_day, 0), "starts", "a day on which the pump starts"),
        (
            number_text(hours, 0),
            "h",
            f"the field stands hot; up to {shown(year.highest_collector, 'temperature', sheet.units)}",
        ),
    )
    for row, (number, unit, words) in enumerate(rows):
        at = 32 + row * 33
        drawing.figure((WORDS_X, at), number, unit, "fig-big")
        drawing.words((WORDS_X, at + 14), words, "label")
    closure = f"a made mean year in steps of a minute; energy closes to {100 * year.residual:.0e} %"
    drawing.words((LEFT, HEIGHT - 6), closure, "place")
