"""Month by hour, what shade takes; and tilt by bearing, what the place gives."""

from __future__ import annotations

import math
from typing import get_args

import numpy as np

from rowan.core.design.moves import FIRST
from rowan.core.steps.site.stage import ghi_joules
from rowan.core.terms.compass import compass_name
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.core.weather.shading import WINDOW_FROM, WINDOW_TO
from rowan.core.weather.sun import Season, plane_grid
from rowan.web.benches.bench import Sheet
from rowan.web.ui.charts import contour_bands
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 322, 262
LETTERS = "JFMAMJJASOND"
FIRST_HOUR, LAST_HOUR = 6, 18
CELL_W, CELL_H = 18.5, 17.0
LEFT, TOP = 24.0, 34.0
TINTS = ((0.02, ""), (0.10, "shade-1"), (0.25, "shade-2"), (0.50, "shade-3"), (0.80, "shade-4"), (math.inf, "shade-5"))


def shade_table(sheet: Sheet) -> Drawing:
    """Share of the sun that shade takes in each hour of each month, by the sun's time; the window's loss at the right."""
    drawing = Drawing(WIDTH, HEIGHT, "What shade takes, month by hour", "shade-table", "shade")
    shade = sheet.result.site.shading
    right = LEFT + CELL_W * (LAST_HOUR - FIRST_HOUR)
    window = [LEFT + CELL_W * (hour - FIRST_HOUR) for hour in (WINDOW_FROM, WINDOW_TO)]
    drawing.rect(window[0], TOP - 4, window[1] - window[0], 12 * CELL_H + 4, "window-band")
    for hour in range(FIRST_HOUR, LAST_HOUR + 1, 3):
        drawing.words((LEFT + CELL_W * (hour - FIRST_HOUR), TOP - 8), str(hour), "axis", "middle")
    drawing.words((right + 12, TOP - 8), "9 to 15 h", "axis")
    drawing.words((LEFT, 12), "% of the sun in that hour, by the sun's time", "label")
    for month in range(12):
        y = TOP + CELL_H * month
        drawing.words((LEFT - 9, y + 13), LETTERS[month], "label-ink", "middle")
        for hour in range(FIRST_HOUR, LAST_HOUR):
            _cell(drawing, float(shade.table[month, hour]), LEFT + CELL_W * (hour - FIRST_HOUR), y)
        loss = float(shade.window_months[month])
        drawing.rect(right + 12, y + 3, 36 * min(loss, 1.0), CELL_H - 6, "bar")
        drawing.words((right + 52, y + 13), f"{100 * loss:.0f}", "fig-cell")
    drawing.line((LEFT, TOP + 12 * CELL_H), (right, TOP + 12 * CELL_H), "rule-ink")
    drawing.words((LEFT, HEIGHT - 8), "blank: the sun comes through · grey: below the horizon", "label")
    return drawing


def _cell(drawing: Drawing, lost: float, x: float, y: float) -> None:
    if math.isnan(lost):
        drawing.rect(x, y, CELL_W - 1, CELL_H - 1, "night")
        return
    tint = next(cls for limit, cls in TINTS if lost < limit)
    if tint:
        drawing.rect(x, y, CELL_W - 1, CELL_H - 1, tint)
        drawing.words(
            (x + CELL_W / 2 - 0.5, y + 12.5),
            f"{100 * lost:.0f}",
            "cell-light" if tint in ("shade-4", "shade-5") else "cell",
            "middle",
        )


PLOT_LEFT, PLOT_RIGHT, PLOT_TOP, PLOT_FOOT = 30.0, 312.0, 34.0, 222.0
LEVELS = (0.5, 0.6, 0.7, 0.8, 0.9, 0.95)


def contours(sheet: Sheet) -> Drawing:
    """The year's sun on every plane, relative to the best, with the collectors' own plane moved by hand."""
    drawing = Drawing(WIDTH, HEIGHT, "Tilt by bearing: the year's sun against the best plane", "contours", "contours")
    survey, site = sheet.design.survey, sheet.result.site
    season = next((known for known in get_args(Season) if known == sheet.look.season), "year")
    grid = plane_grid(
        latitude=survey.latitude_deg.value, ghi=ghi_joules(sheet.design), horizon=site.horizon, season=season
    )
    i, j = np.unravel_index(int(np.argmax(grid.year)), grid.year.shape)
    top = (float(grid.tilts[i]), site.best.azimuth if grid.tilts[i] == 0 else float(grid.azimuths[j]))
    middle = 180.0 if survey.latitude_deg.value >= 0 else 0.0
    # the round of bearings cut open behind the equator's back, both ends drawn
    order = [(middle - 180 + 5 * i) % 360 for i in range(73)]
    columns = [round(b / 5) % 72 for b in order]
    share = grid.year[:, columns] / grid.year.max()
    xs = np.linspace(PLOT_LEFT, PLOT_RIGHT, 73)
    ys = PLOT_FOOT - (PLOT_FOOT - PLOT_TOP) * grid.tilts / 90
    contour_bands(drawing, xs, ys, share, LEVELS, [f"{100 * level:.0f} %" for level in LEVELS])
    for tilt in range(0, 91, 30):
        y = PLOT_FOOT - (PLOT_FOOT - PLOT_TOP) * tilt / 90
        drawing.line((PLOT_LEFT - 4, y), (PLOT_LEFT, y), "rule-ink")
        drawing.words((PLOT_LEFT - 6, y + 4), f"{tilt}°", "axis", "end")
    for turn in (-180, -90, 0, 90, 180):
        x = PLOT_LEFT + (PLOT_RIGHT - PLOT_LEFT) * (turn + 180) / 360
        drawing.line((x, PLOT_FOOT), (x, PLOT_FOOT + 4), "rule-ink")
        drawing.words((x, PLOT_FOOT + 16), compass_name((middle + turn) % 360), "axis", "middle")
    drawing.line((PLOT_LEFT, PLOT_FOOT), (PLOT_RIGHT, PLOT_FOOT), "rule-ink")
    drawing.line((PLOT_LEFT, PLOT_TOP), (PLOT_LEFT, PLOT_FOOT), "rule-ink")
    drawing.words((4, 12), tr("tilt by bearing; sun of the {season} against the best", season=season), "label")
    best = (
        PLOT_LEFT + (PLOT_RIGHT - PLOT_LEFT) * (((top[1] - middle + 180) % 360) / 360),
        PLOT_FOOT - (PLOT_FOOT - PLOT_TOP) * top[0] / 90,
    )
    drawing.line((best[0] - 6, best[1]), (best[0] + 6, best[1]), "stroke")
    drawing.line((best[0], best[1] - 6), (best[0], best[1] + 6), "stroke")
    _plane_point(drawing, sheet, middle)
    drawing.words(
        (4, HEIGHT - 8),
        tr(
            "best, at the cross: {top}° to {bearing}, {shown}",
            top=f"{top[0]:.0f}",
            bearing=compass_name(top[1]),
            shown=shown(float(grid.year.max()), "irradiation", sheet.units),
        ),
        "label",
    )
    return drawing


def _plane_point(drawing: Drawing, sheet: Sheet, middle: float) -> None:
    survey, site, beside = sheet.design.survey, sheet.result.site, sheet.design.plane_beside
    x, y = _plane_handle(
        drawing, (survey.roof_azimuth_deg.value, survey.roof_tilt_deg.value), middle, FIRST, "plane of the collectors"
    )
    if beside is not None:
        _plane_handle(drawing, (beside.azimuth_deg, beside.pitch_deg), middle, beside.id, "the other plane")
    left = x > (PLOT_LEFT + PLOT_RIGHT) / 2 + 60
    at = (x - 11 if left else x + 11, y - 9)
    words = shown(site.relative_yield, "share", sheet.units)
    drawing.words(
        at, words if beside is None else tr("{words} of both", words=words), "fig-big halo", "end" if left else ""
    )


def _plane_handle(
    drawing: Drawing, plane: tuple[float, float], middle: float, key: str, label: str
) -> tuple[float, float]:
    """A plane's point by bearing and pitch [°], moved by hand; gives where it lies."""
    azimuth, tilt = plane
    turn = (azimuth - middle + 180) % 360 - 180
    x = PLOT_LEFT + (PLOT_RIGHT - PLOT_LEFT) * (turn + 180) / 360
    y = PLOT_FOOT - (PLOT_FOOT - PLOT_TOP) * tilt / 90
    group = drawing.add(
        "g",
        id="drag-plane" if key == FIRST else f"drag-plane-{key}",
        cls="handle",
        role="slider",
        tabindex=0,
        aria_label=label,
        aria_valuenow=round(tilt),
        aria_valuemin=0,
        aria_valuemax=90,
        aria_valuetext=tr("{tilt}° to {azimuth}°", tilt=f"{tilt:.0f}", azimuth=f"{azimuth:.0f}"),
        data_drag="xy",
        data_path=f"plane:{key}",
        data_blank="survey.roof_tilt_deg" if key == FIRST else f"roof.planes.{key}.pitch_deg",
        data_value=azimuth,
        data_low=azimuth - turn - 180,
        data_high=azimuth - turn + 180,
        data_step=1,
        data_per_px=360 / (PLOT_RIGHT - PLOT_LEFT),
        data_second=tilt,
        data_second_low=0,
        data_second_high=90,
        data_second_step=1,
        data_second_per_px=-90 / (PLOT_FOOT - PLOT_TOP),
    )
    group.circle((x, y), 13, "grip")
    group.circle((x, y), 6, "leaf-dot" if key == FIRST else "part-body")
    return x, y
