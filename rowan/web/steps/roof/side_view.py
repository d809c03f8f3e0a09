"""Rows from the side, to scale: the winter sun that must pass, the lower edge over the snow, what goes below the frost."""

from __future__ import annotations

import math

from rowan.core.steps.roof.stage import RACK_EDGE_M
from rowan.core.steps.site.rows import LEAST_SUN_DEG, rows_behind, rule_of
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 656.0, 250.0
LEFT, RIGHT, GROUND = 60.0, 620.0, 176.0
LOWER_PX = 40.0  # px, a sloping roof begins lower on the paper
STEEPEST_DEG = 60.0  # ° of roof that is still drawn as it is
MOST_ROWS = 3  # drawn; further ones stand alike
LEAST_TURN = 0.05  # a sun that stands beside the rows is drawn from there


@record
class Side:
    """Rows from the side on the paper: how many, depth and height of one, from row to row along what they stand on, edge and frost [m].

    `slope` is the rise of what they stand on over its level length [-].
    """

    count: int
    deep: float
    tall: float
    pitch: float
    edge: float
    below: float
    slope: float = 0.0

    @property
    def apart(self) -> tuple[float, float]:
        """From row to row: level, and up [m]."""
        level = self.pitch / math.hypot(1.0, self.slope)
        return level, level * self.slope

    def ground(self, x: float) -> float:
        """Where the ground or the roof lies under a place of the paper."""
        return GROUND + self.lift - (x - self.first) * self.slope

    @property
    def lift(self) -> float:
        """How far down the paper a roof's lowest row stands, so that its highest has room."""
        return LOWER_PX if self.slope else 0.0

    @property
    def per_m(self) -> float:
        """One scale for all."""
        across = (RIGHT - LEFT) / max((self.count - 1) * self.apart[0] + self.deep + 0.6, 1.0)
        up = self.edge + self.tall + (self.count - 1) * self.apart[1]
        return min(across, (120 + self.lift) / max(up, 0.5), 52 / max(self.below, 0.4))

    @property
    def first(self) -> float:
        """Where the first row's lower edge lies."""
        whole = ((self.count - 1) * self.apart[0] + self.deep) * self.per_m
        return LEFT + (RIGHT - LEFT - whole) / 2

    def edges(self, row: int) -> tuple[Point, Point]:
        """A row's lower and upper edge."""
        x = self.first + row * self.apart[0] * self.per_m
        foot = self.ground(x) - self.edge * self.per_m
        return (x, foot), (x + self.deep * self.per_m, foot - self.tall * self.per_m)


def _side(sheet: Sheet) -> Side:
    design, inputs, rows = sheet.design, sheet.design.roof, rows_behind(sheet.design)
    item, tilt = design.collector.item.value, math.radians(design.tilt_deg)
    length = item.width_m if inputs.lying.value else item.slope_length_m
    ground = inputs.way.value == "ground"
    return Side(
        count=min(rows.count, MOST_ROWS) if rows else 1,
        deep=length * math.cos(tilt),
        tall=length * math.sin(tilt),
        pitch=rows.pitch if rows else 0.0,
        edge=inputs.lower_edge_m.value if ground else RACK_EDGE_M,
        below=inputs.frost_depth_m.value if ground else 0.0,
        slope=math.tan(math.radians(min(design.stands_on_deg, STEEPEST_DEG))),
    )


def side_view(sheet: Sheet) -> Drawing:
    """The first rows from the side, with the sun of nine o'clock on the shortest day."""
    design, units, side = sheet.design, sheet.units, _side(sheet)
    drawing = Drawing(WIDTH, HEIGHT, "Rows from the side with the winter sun, to scale", "side-view", "side-view")
    floor = HEIGHT - 16
    # a steep roof begins where it comes into the paper
    begins = 20.0 if not side.slope else max(20.0, 20.0 + (side.ground(20) - floor) / side.slope)
    near, far = (begins, side.ground(begins)), (WIDTH - 20, side.ground(WIDTH - 20))
    drawing.path((near, far, (far[0], floor), (near[0], floor)), "ground", close=True)
    drawing.line(near, far, "wall")
    if side.below:
        level = GROUND + side.below * side.per_m
        drawing.line((20, level), (WIDTH - 20, level), "cold thin-line")
        drawing.words(
            (WIDTH - 24, level + 13),
            tr("frost {below}", below=shown(side.below, "length", units)),
            "label-slate halo",
            "end",
        )
    for k in range(side.count):
        _row(drawing, side, k)
    if side.count > 1:
        _sun(drawing, sheet, side)
    low, high = side.edges(0)
    if side.below:
        drawing.dimension((low[0] - 18, low[1]), (low[0] - 18, side.ground(low[0])), shown(side.edge, "length", units))
    drawing.words((high[0] + 6, high[1] - 6), f"{design.tilt_deg:.0f}°", "fig halo")
    more = (
        ""
        if side.count == len(design.row_counts)
        else tr("; {row_counts} rows in all", row_counts=len(design.row_counts))
    )
    drawing.words((20, HEIGHT - 4), sheet.result.roof.fixing.name + more, "place")
    return drawing


def _row(drawing: Drawing, side: Side, number: int) -> None:
    """A row on its two posts, as deep as they go."""
    (x, foot), top = side.edges(number)
    below = (side.below + 0.1 if side.below else 0.0) * side.per_m
    for part in (0.15, 0.85):
        at = (x + part * (top[0] - x), foot + part * (top[1] - foot))
        drawing.line(at, (at[0], side.ground(at[0]) + below), "stroke")
    drawing.line((x, foot), top, "head")


def _sun(drawing: Drawing, sheet: Sheet, side: Side) -> None:
    """The criterion's sun over each row to the next one's lower edge, and the distance between."""
    rule = rule_of(sheet.design)
    used = math.radians(max(rule.sun_height, LEAST_SUN_DEG))
    turn = math.cos(math.radians(rule.sun_bearing - sheet.design.survey.roof_azimuth_deg.value))
    seen = math.tan(used) / max(turn, LEAST_TURN)
    for k in range(side.count - 1):
        top, (next_x, _) = side.edges(k)[1], side.edges(k + 1)[0]
        drawing.line(top, (next_x, top[1] + (next_x - top[0]) * seen), "sun-way")
        apart = shown(side.pitch, "length", sheet.units)
        before = side.edges(k)[0][0]
        drawing.dimension((before, side.ground(before) + 34), (next_x, side.ground(next_x) + 34), apart)
    drawing.words(
        (20, 22),
        tr("the sun at 9 on the shortest day, {sun_height}° high", sun_height=f"{rule.sun_height:.0f}"),
        "label-clay",
    )
    if rule.floor_used:
        drawing.words((20, 38), tr("too low for a rule: {angle}° is drawn", angle=f"{LEAST_SUN_DEG:.0f}"), "label")
