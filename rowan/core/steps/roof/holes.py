"""Where the field is joined and where its lines leave it: the ends of the Run, as the field's place makes them. Source: practice, the roof.

Where somebody has marked where a line goes through the roof (or into its trench), the leg between there and the field follows
from both: the field is moved, and the route with it.
"""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.design.design import Design
from rowan.core.design.planes import first_part
from rowan.core.steps.roof.place import fixing_of, placed, shape_of
from rowan.core.steps.roof.result import Box
from rowan.core.terms.record import record

Line = Literal["cold", "hot"]
LINES: tuple[Line, ...] = ("cold", "hot")
LOW, HIGH = 0.12, 0.88  # of a collector's length up from its foot, where its ports are; usual of plates with headers
ASIDE_M, UP_M = 0.25, 0.35  # m from a connection to its hole, beside it and along the slope; rule of thumb
Place = tuple[float, float]


@record
class LineEnd:
    """The leg between the field and a hole, in flow order: length and rise [m]."""

    length: float
    rise: float


def connections(design: Design, rows: tuple[Box, ...]) -> dict[Line, Place]:
    """Where a field on one plane is joined [m]: cold in low at one end, hot out high at the diagonally opposite end."""
    low, high, right = rows[0], rows[-1], design.roof.hot_at.value == "right"
    return {
        "cold": (low.x if right else low.right, low.y + LOW * low.height),
        "hot": (high.right if right else high.x, high.y + HIGH * high.height),
    }


def holes(design: Design) -> dict[Line, Place]:
    """Where lines go through the roof, or into their trench [m], as far as somebody has marked them."""
    roof = design.roof
    if not design.pumped or not (design.on_roof or roof.way.value == "ground"):
        return {}
    marked: dict[Line, tuple[float | None, float | None]] = {
        "cold": (roof.cold_hole_x_m.value, roof.cold_hole_y_m.value),
        "hot": (roof.hot_hole_x_m.value, roof.hot_hole_y_m.value),
    }
    return {line: (x, y) for line, (x, y) in marked.items() if x is not None and y is not None}


def usual_hole(design: Design, line: Line, at: Place) -> Place:
    """Where a line would go in beside its connection [m], until somebody has marked it."""
    out = ASIDE_M if (design.roof.hot_at.value == "right") == (line == "hot") else -ASIDE_M
    return at[0] + out, at[1] + (UP_M if line == "hot" else -UP_M)


def line_ends(design: Design) -> dict[Line, LineEnd]:
    """The last leg of the cold line and the first of the hot one, where their holes are marked."""
    marked = holes(design)
    if not marked:
        return {}
    part = first_part(design)
    joined = connections(part, placed(part, fixing_of(part)))
    return {line: _end(part, line, joined[line], hole) for line, hole in marked.items()}


def _end(design: Design, line: Line, at: Place, hole: Place) -> LineEnd:
    """From the hole up to the field, or the other way; on the ground also down from where the collector stands."""
    along, up = at[0] - hole[0], at[1] - hole[1]
    if design.on_roof:
        length, rise = math.hypot(along, up), up * math.sin(math.radians(design.stands_on_deg))
    else:
        part = LOW if line == "cold" else HIGH
        rise = design.roof.lower_edge_m.value
        rise += part * shape_of(design).length * math.sin(math.radians(design.tilt_deg))
        length = math.hypot(along, up) + rise
    return LineEnd(round(length, 3), round(rise if line == "cold" else -rise, 3))
