"""The sketch for the inspector and the next digger: buried lines in plan, taped from two fixed points."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.steps.run.sketch import Sketch, Spot
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import lines_of, measured_at, width_of
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 320
EDGE, WALL, LIST = 70.0, 52.0, 386.0
PLAN = 360.0  # px, the plan; its list stands beside it
LEGEND_PX = 15.0  # from one line of what the lines mean to the next

Point = tuple[float, float]


def sketch_drawing(sheet: Sheet, sketch: Sketch) -> Drawing:
    """Plan to scale: the wall with A and B, each taped end with both offsets, depth beside the line."""
    units = sheet.units
    places = [spot.at for spot in sketch.spots if spot.at is not None]
    xs = [0.0, sketch.apart, *(x for x, _ in places)]
    ys = [0.0, *(y for _, y in places)]
    per_m = min((PLAN - 2 * EDGE) / max(max(xs) - min(xs), 0.5), (HEIGHT - WALL - 76) / max(max(ys) - min(ys), 0.5))
    foot = _Foot(units, per_m)
    drawing = Drawing(
        WIDTH, HEIGHT + foot.more, "Buried lines in plan, with offsets from two fixed points", "sketch", "sketch"
    )
    left = EDGE - min(xs) * per_m + (PLAN - 2 * EDGE - (max(xs) - min(xs)) * per_m) / 2

    def at(place: tuple[float, float]) -> tuple[float, float]:
        return left + place[0] * per_m, WALL + place[1] * per_m

    a, b = at((0, 0)), at((sketch.apart, 0))
    drawing.rect(a[0], WALL - 16, b[0] - a[0], 16, "ground")
    drawing.line(a, b, "stroke")
    run = sheet.design.run
    for place, letter, name in ((a, "A", run.point_a.value), (b, "B", run.point_b.value)):
        drawing.circle(place, 5, "solid")
        left_hand = letter == "A"
        drawing.words(
            (place[0] + (-8 if left_hand else 8), place[1] + 4), letter, "fig halo", "end" if left_hand else ""
        )
        drawing.words((EDGE, HEIGHT - (46 if left_hand else 32)), f"{letter}: {name}", "label-ink")
    drawing.dimension((a[0], WALL - 8), (b[0], WALL - 8), shown(sketch.apart, "length", units))
    for line, spots in sketch.lines.items():
        drawn = [at(spot.at) for spot in spots if spot.at is not None]
        for spot in spots:
            if spot.at is not None:
                drawing.line(a, at(spot.at), "pointing")
                drawing.line(b, at(spot.at), "pointing")
        drawing.path(drawn, line)
    _marked(drawing, sheet, sketch, at)
    foot.draw(drawing)
    return drawing


class _Foot:
    """A bar of known length, and beside it what the lines mean, in as many lines as the language wants."""

    def __init__(self, units: System, per_m: float) -> None:
        step = 1.0 if units == "metric" else 0.3048 * 5
        self.end, self.length = EDGE + step * per_m, shown(step, "length", units, 1)
        room = WIDTH - 4 - self.end - 8 - width_of(self.length, measured_at("label")) - 12
        told = "solid hot, dashed cold, dotted the tapes; drawn to scale, seen from above"
        self.legend = lines_of(told, room, measured_at("place"))

    @property
    def more(self) -> float:
        """By how much the drawing is higher for it [px]."""
        return LEGEND_PX * (len(self.legend) - 1)

    def draw(self, drawing: Drawing) -> None:
        """Draws both."""
        drawing.line((EDGE, HEIGHT - 18), (self.end, HEIGHT - 18), "stroke")
        drawing.words((self.end + 8, HEIGHT - 14), self.length, "label")
        for number, line in enumerate(self.legend):
            drawing.words((WIDTH - 4, HEIGHT - 14 + LEGEND_PX * number), line, "place", "end")


def _marked(drawing: Drawing, sheet: Sheet, sketch: Sketch, at: Callable[[Point], Point]) -> None:
    """Numbered ends, each once however many lines end there, and their offsets as a list beside the plan."""
    held: dict[tuple[float, float], list[Spot]] = {}
    for spot in sketch.spots:
        if spot.at is not None:
            held.setdefault((round(spot.at[0], 2), round(spot.at[1], 2)), []).append(spot)
    for number, (place, spots) in enumerate(sorted(held.items(), key=lambda entry: entry[0][1]), 1):
        x, y = at(place)
        drawing.circle((x, y), 8, "part-body")
        drawing.words((x, y + 4), f"{number}", "fig-minor", "middle")
        spot = spots[0]
        row = WALL + 44 * (number - 1)
        lines = ", ".join(dict.fromkeys(tr(s.line) for s in spots))
        deep = next((s.depth for s in spots if s.depth is not None), None)
        from_a, from_b = (shown(length, "length", sheet.units) for length in (spot.from_a, spot.from_b))
        drawing.words((LIST, row + 4), f"{number}", "fig")
        drawing.words(
            (LIST + 18, row + 4), tr("{from_a} from A, {from_b} from B", from_a=from_a, from_b=from_b), "label-ink"
        )
        depth = "at the wall" if deep is None else tr("{deep} deep", deep=shown(deep, "length", sheet.units))
        drawing.words((LIST + 18, row + 18), f"{spot.name or spot.leg}, {lines}, {tr(depth)}", "label")
