"""The buried line in plan: where its ends and bends lie, by tape from two fixed points. Source: practice 7."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg
from rowan.core.terms.limits import NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.record import record

SLACK_M = 0.02  # m that a tape may be wrong by


@record
class Spot:
    """The end of a leg in plan [m]: x from A toward B, y to the side; None where the two tapes do not meet."""

    line: str
    leg: str
    name: str
    from_a: float
    from_b: float
    at: tuple[float, float] | None
    depth: float | None


@record
class Sketch:
    """A to B [m] and what was taped, line by line in flow order."""

    apart: float
    spots: tuple[Spot, ...]

    @property
    def lines(self) -> dict[str, tuple[Spot, ...]]:
        """The spots of each line that has any."""
        return {
            line: found
            for line in ("cold", "hot")
            if (found := tuple(spot for spot in self.spots if spot.line == line))
        }

    @property
    def wrong(self) -> tuple[Spot, ...]:
        """Spots whose tapes do not meet."""
        return tuple(spot for spot in self.spots if spot.at is None)


@takes(apart=POSITIVE, from_a=NOT_NEGATIVE, from_b=NOT_NEGATIVE)
def spot_from(*, apart: float, from_a: float, from_b: float) -> tuple[float, float] | None:
    """Where two tapes meet [m], A at (0, 0) and B at (apart, 0), on the side of the garden; None where they do not."""
    x = (from_a**2 - from_b**2 + apart**2) / (2 * apart)
    square = from_a**2 - x**2
    if square < -2 * SLACK_M * max(from_a, from_b):
        return None
    return x, math.sqrt(max(square, 0.0))


def _taped(leg: Leg) -> bool:
    return leg.from_a_m is not None and leg.from_b_m is not None


def sketch_of(design: Design) -> Sketch | None:
    """What was taped of the buried legs, with the wall entry before them; None where nothing is buried or A to B is not known."""
    apart = design.run.points_apart_m.value
    lines = {"cold": design.run.cold, "hot": design.run.hot}
    if apart is None or all(leg.place != "buried" for legs in lines.values() for leg in legs):
        return None
    spots = []
    for line, legs in lines.items():
        for at, leg in enumerate(legs):
            before_one = at + 1 < len(legs) and legs[at + 1].place == "buried"
            if not _taped(leg) or not (leg.place == "buried" or before_one):
                continue
            a, b = leg.from_a_m or 0.0, leg.from_b_m or 0.0
            depth = leg.depth_m if leg.place == "buried" else None
            where = spot_from(apart=apart, from_a=a, from_b=b)
            spots.append(Spot(line, leg.id, leg.name, a, b, where, depth))
    return Sketch(apart, tuple(spots))


def line_taped(legs: list[Leg]) -> bool:
    """Whether every buried leg of a line is taped at its end; a line that is not buried has nothing to tape."""
    buried = [leg for leg in legs if leg.place == "buried"]
    return bool(buried) and all(_taped(leg) for leg in buried)
