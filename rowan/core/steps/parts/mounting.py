"""What holds the field: feet, screws and flashings by count, and what the mounting packs have to hold."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.parts.counting import Part, counted
from rowan.core.steps.parts.cutting import Cutting, Piece, cut
from rowan.core.steps.roof.result import RoofResult
from rowan.core.terms.figure import Quantity, Statement, say

SPARE = 0.1  # of small goods: one in ten falls off the roof, rule of thumb
FLASHED = ("plate", "foot", "post", "block")  # fixings whose hole is flashed
CLAMPS_AT_ENDS = 2  # of each rail
CATCHES = 2  # of each collector, in the lower rail


def mounting_parts(design: Design, roof: RoofResult) -> list[Part]:
    """Feet and what fastens them; nothing for a tank over its field, which brings its own stand."""
    feet, fixing = sum(len(plane.feet) for plane in roof.planes), roof.fixing
    if not feet or not design.pumped:
        return []
    lines = say("on {n} rails, by span and by lift", n=str(sum(len(plane.rails) for plane in roof.planes)))
    parts = [counted("feet", feet, say(fixing.name), ("solar", "roof"), lines)]
    if fixing.screws:
        count = math.ceil(feet * fixing.screws * (1 + SPARE))
        because = say("{n} a foot, one in ten spare", n=str(fixing.screws))
        parts.append(counted("foot_screws", count, say(fixing.screw), ("solar", "roof"), because))
    if fixing.key in FLASHED:
        because = say("one a foot, dressed under the course above")
        parts.append(counted("foot_flashings", feet, say("flashing for a foot"), ("solar", "roof"), because))
    if design.survey.covering.value == "tile" and design.on_roof:
        because = say("over a flap of the membrane, cut as a trapezoid to shed water")
        parts.append(counted("vent_tiles", 2, say("vent tile for a line"), ("solar", "roof"), because))
    return parts


def rails_cut(design: Design, roof: RoofResult) -> Cutting:
    """Rails laid into the lengths they come in."""
    rails = [rail for plane in roof.planes for rail in plane.rails]
    pieces = [Piece(f"rail {k}", rail.end - rail.start) for k, rail in enumerate(rails, 1)]
    return cut(pieces, stock_length=design.roof.rail_piece_m.value)


def pack_words(design: Design, roof: RoofResult) -> Statement:
    """What the packs of a row have to hold together: rails, splices, clamps, catches."""
    cutting, rails = rails_cut(design, roof), design.roof.rails.value
    count = design.collector.count.value
    between = sum(n - 1 for n in design.row_counts) * rails
    ends = CLAMPS_AT_ENDS * sum(len(plane.rails) for plane in roof.planes)
    if design.roof.way.value == "integrated":
        return say(
            "together {r} boards of {l}, flashing at foot, head and both sides, a piece a course",
            r=str(len(cutting.bars)),
            l=Quantity(design.roof.rail_piece_m.value, "length"),
        )
    return say(
        "together {r} rails of {l}, {s} splices, {e} end clamps, {m} middle clamps, {c} catches",
        r=str(len(cutting.bars)),
        l=Quantity(design.roof.rail_piece_m.value, "length"),
        s=str(cutting.couplings),
        e=str(ends),
        m=str(between),
        c=str(CATCHES * count),
    )
