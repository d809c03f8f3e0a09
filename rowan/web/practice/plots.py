"""What a task shows: lines over two scales, taped rails, a wiring, a cellar and a roof with what can be seen there."""

from __future__ import annotations

import math

from rowan.core.practice.sheet import Circuit, Plot, Rails, Scene, Shown
from rowan.core.steps.control.wiring import Alive, wiring_of
from rowan.core.terms.units import System, dimension, number_text, shown
from rowan.web.practice.scene import scene_drawing
from rowan.web.steps.control.wiring import rungs_drawing
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 640.0, 400.0
LEFT, RIGHT, TOP, FOOT = 66.0, 566.0, 46.0, 346.0
STEPS = (1.0, 2.0, 2.5, 5.0, 10.0)
ABOUT = 6  # ticks on an axis
STYLES = {"solid": "stroke", "dashed": "guess-line", "dots": "ring-dot"}
RAILS_WIDE = 460.0


def shown_drawing(what: Shown, units: System) -> Drawing:
    """The drawing of a task."""
    if isinstance(what, Plot):
        return _plot(what, units)
    if isinstance(what, Rails):
        return _rails(what, units)
    if isinstance(what, Circuit):
        wiring = wiring_of(what.arrangement)  # type: ignore[arg-type]
        # nothing is shown live: where it comes to is what is asked
        still = Alive((0,) * len(wiring.rungs), frozenset())
        return rungs_drawing(wiring, what.closed, still, turnable=False)
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
    if isinstance(what, Rails):
        return [("upper rail over lower rail", shown(what.height, "length", units))]
    return []


def ticks(most: float, about: int = ABOUT) -> list[float]:
    """Round numbers from nothing to `most`, about so many."""
    if most <= 0:
        return [0.0]
    rough = most / about
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(one * power for one in STEPS if one * power >= rough * 0.999)
    return [n * step for n in range(int(most / step + 1e-9) + 1)]


def _decimals(step: float) -> int:
    return max(0, -math.floor(math.log10(step) + 1e-9)) if step < 1 else (1 if step % 1 else 0)


def _plot(plot: Plot, units: System) -> Drawing:
    drawing = Drawing(WIDTH, HEIGHT, f"{plot.up[1]} over {plot.across[1]}", "task", "task-plot")
    far = max(x for line in plot.lines for x, _ in line.points)
    high = max(y for line in plot.lines for _, y in line.points) * 1.08

    def at(x: float, y: float) -> tuple[float, float]:
        """A point of the plot."""
        return LEFT + (RIGHT - LEFT) * x / max(far, 1e-12), FOOT - (FOOT - TOP) * y / max(high, 1e-12)

    other: System = "us" if units == "metric" else "metric"
    for system, first in ((units, True), (other, False)):
        if first or plot.both:
            _axes(drawing, plot, system, (far, high), first=first)
    placed: list[float] = []
    for number, line in enumerate(plot.lines):
        points = [at(x, y) for x, y in line.points]
        if line.style == "dots":
            for point in points:
                drawing.circle(point, 3.5, "solid")
        else:
            drawing.path(points, STYLES[line.style])
        x, y = points[-1] if number % 2 == 0 or line.style != "solid" else points[len(points) // 3]
        while any(abs(y - 6 - other_y) < 15 for other_y in placed):
            y -= 15
        placed.append(y - 6)
        drawing.words((min(x, RIGHT - 4), y - 6), line.name, "label-ink halo", "end" if x > LEFT + 90 else "")
    return drawing


def _axes(drawing: Drawing, plot: Plot, system: System, ends: tuple[float, float], *, first: bool) -> None:
    """One system's scales: left and below the reader's, right and above the other."""
    (far, high), (across, up) = ends, (dimension(plot.across[0]).unit(system), dimension(plot.up[0]).unit(system))
    found = ticks(across.from_si(far))
    for value in found:
        x = LEFT + (RIGHT - LEFT) * across.to_si(value) / max(far, 1e-12)
        if first:
            drawing.line((x, TOP), (x, FOOT), "rule")
        drawing.words((x, FOOT + 17 if first else TOP - 7), number_text(value, _decimals(found[-1] / max(len(found) - 1, 1))), "axis", "middle")  # fmt: skip
    found = ticks(up.from_si(high))
    for value in found:
        y = FOOT - (FOOT - TOP) * up.to_si(value) / max(high, 1e-12)
        if first:
            drawing.line((LEFT, y), (RIGHT, y), "rule")
        text = number_text(value, _decimals(found[-1] / max(len(found) - 1, 1)))
        drawing.words((LEFT - 7 if first else RIGHT + 7, y + 4), text, "axis", "end" if first else "")
    across_label = f"{plot.across[1]}, {across.label}" if across.label else plot.across[1]
    if first:
        drawing.words((RIGHT, FOOT + 38), across_label, "label", "end")
        drawing.words((LEFT - 50, TOP - 24), f"{plot.up[1]}, {up.label}", "label")
    else:
        drawing.words((RIGHT + 7, TOP - 24), up.label, "label")
        drawing.words((LEFT, TOP - 24), "", "label")
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
