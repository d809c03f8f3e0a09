"""What a task shows: lines over two scales, taped rails, a wiring, a cellar and a roof with what can be seen there."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from rowan.core.practice.sheet import (
    Circuit,
    Column,
    Fold,
    Leads,
    Menu,
    Parts,
    Plot,
    Rails,
    Rows,
    Runs,
    Scene,
    Shown,
    Tub,
)
from rowan.core.steps.control.wiring import Alive, wiring_of
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, dimension, number_text, shown
from rowan.web.practice import things
from rowan.web.practice.scene import scene_drawing
from rowan.web.steps.control.wiring import rungs_drawing
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 640.0, 400.0
LEFT, RIGHT, TOP, FOOT = 66.0, 566.0, 46.0, 346.0
STEPS = (1.0, 2.0, 2.5, 5.0, 10.0)
ABOUT = 6  # ticks on an axis
STYLES = {"solid": "stroke", "dashed": "guess-line", "dots": "ring-dot"}
RAILS_WIDE = 460.0
LABEL_PX, LABEL_APART_PX = 15.0, 60.0  # that two names on lines stand apart


THINGS: dict[type, Callable[[Any, System], Drawing]] = {
    Rows: things.rows_drawing,
    Tub: things.tub_drawing,
    Leads: things.leads_drawing,
    Runs: things.runs_drawing,
    Menu: things.menu_drawing,
    Fold: things.fold_drawing,
    Parts: things.parts_drawing,
}


def shown_drawing(what: Shown, units: System) -> Drawing:
    """The drawing of a task."""
    own = THINGS.get(type(what))
    if own is not None:
        made: Drawing = own(what, units)
        return made
    if isinstance(what, Plot):
        return _plot(what, units)
    if isinstance(what, Rails):
        return _rails(what, units)
    if isinstance(what, Circuit):
        wiring = wiring_of(what.arrangement)  # type: ignore[arg-type]
        # nothing is shown live: where it comes to is what is asked
        still = Alive((0,) * len(wiring.rungs), frozenset())
        return rungs_drawing(wiring, what.closed, still, turnable=False)
    if isinstance(what, Column):
        return _column(what, units)
    assert isinstance(what, Scene)  # noqa: S101  nothing else is left
    return scene_drawing(what)


def facts_of(what: Shown, units: System) -> list[tuple[str, str]]:
    """What a drawing shows, in words: the same for those who hear it."""
    if isinstance(what, Plot):
        across, up = what.across[0], what.up[0]
        found = []
        for line in what.lines:
            points = line.points[:: max(len(line.points) // 6, 1)]
            found.append((line.name, "; ".join(f"{shown(x, across, units)}: {shown(y, up, units)}" for x, y in points)))
        return found
    if isinstance(what, Scene):
        return []  # each place stands in words where it is chosen
    if isinstance(what, Column):
        return [
            ("from the gauge to the top", shown(what.height, "length", units)),
            ("vessel", shown(what.vessel, "tank", units)),
            ("relief opens at", shown(what.relief, "pressure", units)),
        ]
    if isinstance(what, Rails):
        return [("upper rail over lower rail", shown(what.height, "length", units))]
    if isinstance(what, Runs):
        return [
            (name, tr("{length} there and back", length=shown(length, "length", units)))
            for name, length in what.lengths
        ]
    return []  # what else is drawn stands among what is given


def ticks(most: float, least: float = 0.0, about: int = ABOUT) -> list[float]:
    """Round numbers from `least` to `most`, about so many."""
    if most <= least:
        return [least]
    rough = (most - least) / about
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(one * power for one in STEPS if one * power >= rough * 0.999)
    return [n * step for n in range(math.ceil(least / step - 1e-9), int(most / step + 1e-9) + 1)]


def _decimals(step: float) -> int:
    """So many that no two ticks read alike."""
    return next((digits for digits in range(4) if abs(round(step, digits) - step) < 1e-9), 4)


def _plot(plot: Plot, units: System) -> Drawing:
    drawing = Drawing(
        WIDTH, HEIGHT, tr("{up} over {across}", up=plot.up[1], across=plot.across[1]), "task", "task-plot"
    )
    far = max(x for line in plot.lines for x, _ in line.points)
    heights = [y for line in plot.lines for _, y in line.points]
    high = max(heights) * 1.08
    low = 0.0 if plot.level else max(min(heights) - 0.3 * (max(heights) - min(heights)), 0.0)

    def at(x: float, y: float) -> tuple[float, float]:
        """A point of the plot."""
        return LEFT + (RIGHT - LEFT) * x / max(far, 1e-12), FOOT - (FOOT - TOP) * (y - low) / max(high - low, 1e-12)

    other: System = "us" if units == "metric" else "metric"
    for system, first in ((units, True), (other, False)):
        if first or plot.both:
            _axes(drawing, plot, system, (far, low, high), first=first)
    placed: list[tuple[float, float]] = []
    for number, line in enumerate(plot.lines):
        points = [at(x, y) for x, y in line.points]
        if line.style == "dots":
            for point in points:
                drawing.circle(point, 3.5, "solid")
        else:
            drawing.path(points, STYLES[line.style])
        if line.name == plot.up[1]:  # said on the axis
            continue
        x, y = points[-1] if number % 2 == 0 or line.style != "solid" else points[len(points) // 3]
        if len(points) == 2 and line.style == "solid":  # a piece of a line is named on its middle
            x, y = (points[0][0] + points[1][0]) / 2, (points[0][1] + points[1][1]) / 2
        while any(abs(y - other_y) < LABEL_PX and abs(x - other_x) < LABEL_APART_PX for other_x, other_y in placed):
            y -= LABEL_PX
        placed.append((x, y))
        drawing.words((min(x, RIGHT - 4), y - 6), line.name, "label-ink halo", "end" if x > LEFT + 90 else "")
    return drawing


def _axes(drawing: Drawing, plot: Plot, system: System, ends: tuple[float, float, float], *, first: bool) -> None:
    """One system's scales: left and below the reader's, right and above the other."""
    (far, low, high), (across, up) = ends, (dimension(plot.across[0]).unit(system), dimension(plot.up[0]).unit(system))
    found = ticks(across.from_si(far))
    for value in found:
        x = LEFT + (RIGHT - LEFT) * across.to_si(value) / max(far, 1e-12)
        if first:
            drawing.line((x, TOP), (x, FOOT), "rule")
        drawing.words((x, FOOT + 17 if first else TOP - 7), number_text(value, _decimals(found[1] - found[0] if len(found) > 1 else 1.0)), "axis", "middle")  # fmt: skip
    found = ticks(up.from_si(high), up.from_si(low))
    for value in found:
        y = FOOT - (FOOT - TOP) * (up.to_si(value) - low) / max(high - low, 1e-12)
        if first:
            drawing.line((LEFT, y), (RIGHT, y), "rule")
        text = number_text(value, _decimals(found[1] - found[0] if len(found) > 1 else 1.0))
        drawing.words((LEFT - 7 if first else RIGHT + 7, y + 4), text, "axis", "end" if first else "")
    across_label = f"{plot.across[1]}, {across.label}" if across.label else plot.across[1]
    if first:
        drawing.words((RIGHT, FOOT + 38), across_label, "label", "end")
        drawing.words((LEFT - 50, TOP - 24), f"{plot.up[1]}, {up.label}", "label")
    else:
        drawing.words((RIGHT + 7, TOP - 24), up.label, "label")
        drawing.words(((LEFT + RIGHT) / 2, TOP - 24), across.label, "label", "middle")


def _rails(rails: Rails, units: System) -> Drawing:
    """Both rails from the street, leaning as they do, ten times as much so that it is seen."""
    drawing = Drawing(WIDTH, HEIGHT, "Two rails and their diagonals", "task", "task-plot")
    scale = RAILS_WIDE / rails.width
    tall = min(rails.height * scale, 230.0)
    lean = (rails.rising**2 - rails.falling**2) / (4 * rails.width) * scale * 10
    left, foot = (WIDTH - RAILS_WIDE) / 2, 320.0
    a, b = (left, foot), (left + RAILS_WIDE, foot)
    c, d = (left + RAILS_WIDE + lean, foot - tall), (left + lean, foot - tall)
    for start, end in ((a, b), (d, c)):
        drawing.line(start, end, "rail-line")
    drawing.line(a, c, "guess-line")
    drawing.line(b, d, "guess-line")
    drawing.words(((a[0] * 2 + c[0]) / 3, (a[1] * 2 + c[1]) / 3 - 8), shown(rails.rising, "level", units), "label-ink halo", "middle")  # fmt: skip
    drawing.words(((b[0] * 2 + d[0]) / 3, (b[1] * 2 + d[1]) / 3 - 8), shown(rails.falling, "level", units), "label-ink halo", "middle")  # fmt: skip
    drawing.dimension((a[0], foot + 34), (b[0], foot + 34), shown(rails.width, "length", units))
    drawing.words((left, 24), "from the street; its lean is drawn ten times as large", "note")
    return drawing


def _column(column: Column, units: System) -> Drawing:
    """The loop's column with gauge, relief and vessel at its foot, and the field on top."""
    drawing = Drawing(WIDTH, HEIGHT, "The loop's column, its gauge and its vessel", "task", "task-plot")
    foot, top, cold, hot = 330.0, 70.0, 250.0, 330.0
    drawing.path([(180.0, 110.0), (290.0, 36.0), (400.0, 110.0)], "rule-ink")
    drawing.rect(cold - 12, top - 14, hot - cold + 24, 14, "housing")
    drawing.words((hot + 22, top - 4), "field", "note")
    drawing.path([(hot, top), (hot, foot), (cold, foot)], "hot")
    drawing.line((cold, foot), (cold, top), "cold")
    drawing.dimension((140, foot), (140, top - 7), shown(column.height, "length", units))
    drawing.line((cold, foot - 60), (200, foot - 60), "branch")
    drawing.circle((200, foot - 60), 20, "housing")
    drawing.line((200, foot - 60), (188, foot - 72), "needle")
    drawing.words((200, foot - 26), "gauge", "note", "middle")
    drawing.line((cold, foot - 100), (420, foot - 100), "branch")
    drawing.line((440, foot - 100), (440, foot - 84), "branch")
    drawing.line((420, foot - 100), (440, foot - 100), "branch")
    drawing.rect(400, foot - 84, 80, 96, "housing", rx=14.0)
    drawing.line((404, foot - 44), (476, foot - 44), "guess-line")
    drawing.words((440, foot - 16), "gas", "note", "middle")
    drawing.words((490, foot - 44), shown(column.vessel, "tank", units), "label-ink")
    drawing.path([(cold - 8, foot - 128), (cold + 8, foot - 128), (cold, foot - 114)], "housing", close=True)
    drawing.words(
        (cold - 14, foot - 118), tr("relief {relief}", relief=shown(column.relief, "pressure", units)), "note", "end"
    )
    return drawing
