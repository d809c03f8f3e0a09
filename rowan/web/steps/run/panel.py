"""A pump on a panel through the day: what it moves hour by hour in June's and December's mean sun, and where there is heat."""

from __future__ import annotations

from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.panel import SunPump
from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, shown
from rowan.web.benches.bench import Sheet
from rowan.web.steps.run.charts import nice_step
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 214
LEFT, RIGHT, TOP, FOOT = 40.0, 600.0, 22.0, 178.0
FIRST_H, LAST_H = 4.0, 20.0
SUMMER, WINTER = 5, 11


def panel_drawing(sheet: Sheet, sun: SunPump) -> Drawing:
    """Flow over the hours of a mean June and December day; above them the hours with heat to fetch."""
    drawing = Drawing(WIDTH, HEIGHT, "What the panel lets the pump move through the day", "sunpump", "sunpump")
    units, site = sheet.units, sheet.result.site
    unit = dimension("flow").unit(units)
    steps = site.months.steps
    seconds = DAY_S / steps.shape[1]
    low, high = maker_window(sheet.design)
    most = max(sun.points[-1][1], high) * 1.08

    def at(hour: float, flow: float) -> tuple[float, float]:
        return LEFT + (RIGHT - LEFT) * (hour - FIRST_H) / (LAST_H - FIRST_H), FOOT - (FOOT - TOP) * flow / most

    drawing.rect(LEFT, at(0, high)[1], RIGHT - LEFT, at(0, low)[1] - at(0, high)[1], "window-band")
    drawing.words((LEFT + 6, at(0, high)[1] + 13), "what the collectors' maker asks", "label-leaf halo")
    step = nice_step(most / unit.factor / 4)
    level = 0.0
    while level * unit.factor <= most:
        y = at(0, level * unit.factor)[1]
        drawing.line((LEFT, y), (RIGHT, y), "grid" if level else "rule-ink")
        drawing.words((LEFT - 6, y + 4), f"{level:g}", "axis", "end")
        level += step
    drawing.words((LEFT - 6, TOP - 10), unit.label, "axis", "end")
    for hour in range(int(FIRST_H), int(LAST_H) + 1, 2):
        drawing.words((at(hour, 0)[0], FOOT + 15), f"{hour}", "axis", "middle")
    drawing.words((RIGHT + 8, FOOT + 15), "solar time", "axis")
    southern = sheet.design.survey.latitude_deg.value < 0
    best = []
    for month, name, cls in ((SUMMER, "June", "hot"), (WINTER, "December", "cold")):
        points = []
        for n in range(steps.shape[1]):
            hour = (n + 0.5) * 24 / steps.shape[1]
            if FIRST_H <= hour <= LAST_H:
                points.append(at(hour, sun.flow(float(steps[month, n]) / seconds)))
        drawing.path(points, cls)
        peak = min(points, key=lambda point: point[1])
        best.append((peak, name))
    (one, first), (two, second) = best
    over = one[1] <= two[1]
    drawing.words((one[0], one[1] + (-6 if over else 18)), first, "label-ink halo", "middle")
    drawing.words((two[0], two[1] + (18 if over else -6)), second, "label-ink halo", "middle")
    starts = (
        "nothing moves"
        if sun.starts_at is None
        else tr("turns from {starts_at}", starts_at=shown(sun.starts_at, "irradiance", units))
    )
    season = "winter" if southern else "summer"
    drawing.words(
        (LEFT, HEIGHT - 4),
        tr(
            "The pump {starts}; the field has heat from {least_sun}. June is {season} here; mean days.",
            starts=starts,
            least_sun=shown(sheet.result.run.least_sun, "irradiance", units),
            season=season,
        ),
        "place",
    )
    return drawing
