"""The route as a profile: heights along both lines, fitted legs, high points that hold air."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg, RunInputs
from rowan.core.goods.items import PipeItem
from rowan.core.steps.roof.holes import LINES, Line, holes, line_ends
from rowan.core.steps.run.friction import K_BEND, K_TEE, K_VALVE
from rowan.core.steps.run.insulation import OUTDOORS
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record

LEVEL_M = 0.01  # a high point less than this above its sides holds no bubble worth naming


@record
class ProfileLeg:
    """A leg with its place along the line and its heights over the gauge [m]."""

    id: str
    line: str
    name: str
    place: str
    length: float
    rise: float
    start: float
    start_height: float
    vented: bool
    fitted: bool
    assumed: bool
    pipe: PipeItem
    insulation: float
    k_sum: float = 0.0
    depth: float | None = None
    # whether it follows from the field's place on the roof
    by_roof: bool = False

    @property
    def contents(self) -> float:
        """What it holds [m³]."""
        return self.length * self.pipe.bore_area_m2

    @property
    def outdoors(self) -> bool:
        """Whether air or soil outside is around it."""
        return self.place in OUTDOORS or self.depth is not None

    @property
    def end(self) -> float:
        """Developed length at its end [m]."""
        return self.start + self.length

    @property
    def end_height(self) -> float:
        """Height of its end over the gauge [m]."""
        return self.start_height + self.rise

    @property
    def slope(self) -> float:
        """Rise over developed length [-]."""
        return self.rise / self.length if self.length else 0.0

    @property
    def possible(self) -> bool:
        """A leg cannot rise more than it is long."""
        return abs(self.rise) <= self.length + 1e-6


@record
class HighPoint:
    """A high point without a vent: the legs that make it, how far it stands up [m] and what it holds [m³]."""

    line: str
    peak_leg: str
    height: float
    stands_up: float
    held: float
    legs: tuple[str, ...]
    even_rises: tuple[tuple[str, float], ...]


@record
class Profile:
    """Both lines from coil to field and back, heights over the gauge [m]."""

    cold: tuple[ProfileLeg, ...]
    hot: tuple[ProfileLeg, ...]
    plate_bottom: float
    plate_top: float
    top: float
    high_points: tuple[HighPoint, ...]
    top_vented: bool
    # how far each line ends above where it should [m]; 0 where it joins
    cold_open: float = 0.0
    hot_open: float = 0.0

    @property
    def cold_length(self) -> float:
        """Developed length of the cold line [m]."""
        return sum(leg.length for leg in self.cold)

    @property
    def hot_length(self) -> float:
        """Developed length of the hot line [m]."""
        return sum(leg.length for leg in self.hot)

    @property
    def length(self) -> float:
        """Both lines [m]."""
        return self.cold_length + self.hot_length

    def legs(self) -> tuple[ProfileLeg, ...]:
        """All legs in flow order."""
        return self.cold + self.hot

    @property
    def contents(self) -> float:
        """What both lines hold [m³]."""
        return math.fsum(leg.contents for leg in self.legs())

    def contents_of(self, line: str) -> float:
        """What one line holds [m³]."""
        return math.fsum(leg.contents for leg in (self.cold if line == "cold" else self.hot))


def leg_k(leg: Leg) -> float:
    """Sum of K of the fittings counted on a leg."""
    return leg.bends * K_BEND + leg.tees * K_TEE + leg.valves * K_VALVE


def _resolved(
    legs: Sequence[Leg], line: str, start_height: float, end_height: float, run: RunInputs, linked: Leg | None = None
) -> tuple[ProfileLeg, ...]:
    """Legs with heights; what is missing between both ends is taken up by the fitted legs, upright. `linked` is the leg that
    follows from the field's place."""
    fitted = [leg for leg in legs if leg.fitted]
    missing = end_height - start_height - sum(leg.rise_m for leg in legs if not leg.fitted)
    resolved, along, height = [], 0.0, start_height
    for leg in legs:
        rise = missing / len(fitted) if leg.fitted else leg.rise_m
        length = abs(rise) if leg.fitted else leg.length_m
        resolved.append(
            ProfileLeg(
                leg.id,
                line,
                leg.name,
                leg.place,
                length,
                rise,
                along,
                height,
                leg.vented,
                leg.fitted,
                leg.origin == "assumed",
                leg.pipe or run.laid(line),
                run.insulation_m.value if leg.insulation_m is None else leg.insulation_m,
                leg_k(leg),
                leg.depth_m if leg.place == "buried" else None,
                leg is linked,
            )
        )
        along, height = along + length, height + rise
    return tuple(resolved)


def _highest_start(hot: Sequence[Leg]) -> float:
    """How far the hot line climbs above the field before it turns down [m]."""
    climbed = highest = 0.0
    for leg in hot:
        if leg.fitted:
            break
        climbed += leg.rise_m
        highest = max(highest, climbed)
    return highest


def _plate_top_and_foot(design: Design) -> tuple[float, float]:
    """Heights of the field's top and of the store's foot over the gauge [m]. The loop's top stands at the surveyed height: the hot
    line's first legs, or without a pump the port by which warm water enters the store above the field."""
    top, store = design.survey.gauge_to_top_m.value, design.store
    if design.pumped:
        return top - _highest_start(design.run.hot), -store.foot_below_gauge_m.value
    foot = top - max(store.coil_top_m.value, -store.above_field_m.value)
    return foot - store.above_field_m.value, foot


def linked_leg(design: Design, line: Line) -> Leg | None:
    """The leg of a line at the field, where its hole is marked; None where none is, or where it takes up what is left."""
    if line not in holes(design):
        return None
    leg = design.run.cold[-1] if line == "cold" else design.run.hot[0]
    return None if leg.fitted else leg


def with_ends(design: Design) -> Design:
    """The design with the legs at the field as its place makes them."""
    found = design.run
    for line, end in line_ends(design).items():
        leg = linked_leg(design, line)
        if leg is not None:
            held = [
                other.model_copy(update={"length_m": end.length, "rise_m": end.rise}) if other.id == leg.id else other
                for other in getattr(found, line)
            ]
            found = found.model_copy(update={line: held})
    return design if found is design.run else design.model_copy(update={"run": found})


def follow_field(before: Design, after: Design) -> Design:
    """A changed design with its route settled: the legs at the field follow from its place, unless one of them was changed itself:
    then it is as somebody typed it, and the mark of its hole goes."""
    changes: list[Change] = []
    for line in LINES:
        leg = linked_leg(after, line)
        was = linked_leg(before, line)
        if leg is None or was is None or was.id != leg.id:
            continue
        if (leg.length_m, leg.rise_m) != (was.length_m, was.rise_m):
            changes += [Change(f"roof.{line}_hole_x_m", None), Change(f"roof.{line}_hole_y_m", None)]
    found = changed(after, changes) if changes else after
    return with_ends(found)


def profile(design: Design) -> Profile:
    """The route of a design: its top stands at the surveyed height, the fitted legs make it close."""
    design = with_ends(design)
    run, store, item = design.run, design.store, design.collector.item.value
    plate_top, foot = _plate_top_and_foot(design)
    plate_bottom = plate_top - item.slope_length_m * math.sin(math.radians(design.tilt_deg))
    cold = _resolved(run.cold, "cold", foot + store.coil_bottom_m.value, plate_bottom, run, linked_leg(design, "cold"))
    back = foot + store.coil_top_m.value
    hot = _resolved(run.hot, "hot", plate_top, back, run, linked_leg(design, "hot"))
    points = [*_high_points(cold, None), *_high_points(hot, plate_bottom)]
    highest = max(leg.end_height for leg in hot)
    at_top = [leg for leg in hot if leg.end_height >= highest - LEVEL_M]
    top_vented = any(leg.vented for leg in at_top) if highest > plate_top - LEVEL_M else False
    opened = (cold[-1].end_height - plate_bottom, hot[-1].end_height - back)
    cold_open, hot_open = (gap if abs(gap) > LEVEL_M else 0.0 for gap in opened)
    return Profile(
        cold, hot, plate_bottom, plate_top, max(highest, plate_top), tuple(points), top_vented, cold_open, hot_open
    )


def _high_points(legs: tuple[ProfileLeg, ...], before: float | None) -> list[HighPoint]:
    """High points inside one line, its ends left out. `before` is the height the line comes from, if it has one."""
    heights = [legs[0].start_height, *(leg.end_height for leg in legs)]
    found: list[HighPoint] = []
    top = max(heights)
    index = 1
    while index < len(heights) - 1:
        last = index
        while last + 1 < len(heights) - 1 and abs(heights[last + 1] - heights[index]) < LEVEL_M:
            last += 1
        peak = heights[index]
        rises = heights[index - 1] < peak - LEVEL_M
        falls = heights[last + 1] < peak - LEVEL_M
        is_top = before is not None and peak >= top - LEVEL_M
        if rises and falls and not is_top and not any(legs[i - 1].vented for i in range(index, last + 1)):
            found.append(_high_point(legs, heights, index, last))
        index = last + 1
    return found


def _high_point(legs: tuple[ProfileLeg, ...], heights: list[float], first: int, last: int) -> HighPoint:
    peak = heights[first]
    left = first
    while left > 0 and heights[left - 1] < heights[left] + 1e-9:
        left -= 1
    right = last
    while right < len(heights) - 1 and heights[right + 1] < heights[right] + 1e-9 and heights[right] > heights[left]:
        right += 1
    spill = max(heights[left], heights[right])
    held = 0.0
    for i in range(left, right):
        low, high = sorted((heights[i], heights[i + 1]))
        held += legs[i].contents * (1.0 if high == low else max(0.0, min(1.0, (high - max(low, spill)) / (high - low))))
    between = legs[left:right]
    total = sum(leg.length for leg in between)
    drop = heights[right] - heights[left]
    even = (
        tuple((leg.id, round(drop * leg.length / total, 3)) for leg in between)
        if drop < 0 and not any(leg.fitted or leg.by_roof for leg in between)
        else ()
    )
    return HighPoint(legs[0].line, legs[first - 1].id, peak, peak - spill, held, tuple(leg.id for leg in between), even)
