"""What holds the field: feet, screws and flashings by count, and what the mounting packs have to hold."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.parts.counting import END_UNIONS, JACKETED, Merchant, Part, counted, place_of
from rowan.core.steps.parts.cutting import Cutting, Piece, cut
from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, Statement, say

SPARE = 0.1  # of small goods: one in ten falls off the roof, rule of thumb
FLASHED = ("plate", "foot", "post", "block")  # fixings whose hole is flashed
CLAMPS_AT_ENDS = 2  # of each rail
CATCHES = 2  # of each collector, in the lower rail
NAILS_A_BLOCK, NAIL_M = 8, 0.09  # four at each end, and their length [m]; defaults: roof
SEALED = ("shingle", "sheet", "membrane")  # coverings whose feet sit in sealant
LAPPED = ("slate", "tile")  # coverings that lie over a membrane
HOLES, PORTS_IN_USE = 2, 2  # of a string: a hole and a port for each line
# m of bead round a boot and under a foot, of tape round a flap; rules of thumb
BEAD_M = 0.006  # m across, usual
BEAD_BOOT_M, BEAD_FOOT_M, TAPE_HOLE_M = 1.0, 0.4, 1.5
PAINT_M3_M = 0.0001  # m³ of paint on a metre of lagging in two coats, rule of thumb


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
    if fixing.key == "block":
        because = say("{n} a block, half at each end", n=str(NAILS_A_BLOCK))
        parts.append(
            counted(
                "nails",
                NAILS_A_BLOCK * feet,
                say("nail {l}", l=Quantity(NAIL_M, "pipe_size")),
                ("solar", "roof"),
                because,
            )
        )
    parts += _sealed(design, feet if fixing.key in FLASHED else 0)
    if design.survey.covering.value == "tile" and design.on_roof:
        because = say("over a flap of the membrane, cut as a trapezoid to shed water")
        parts.append(counted("vent_tiles", 2, say("vent tile for a line"), ("solar", "roof"), because))
    return parts


def _sealed(design: Design, flashed: int) -> list[Part]:
    """What keeps holes tight besides their boots: sealant by length, tape where a membrane is opened, paint where lagging has no jacket."""
    where: tuple[Merchant, str] = ("solar", "roof")
    if not design.on_roof:
        return []
    strings = 1 if design.plane_beside is None else 2
    covering, parts = design.survey.covering.value, []
    bead = BEAD_BOOT_M * HOLES * strings + (BEAD_FOOT_M * flashed if covering in SEALED else 0.0)
    parts.append(
        Part(
            "sealant",
            say("sealant that stands the sun, a bead of {d}", d=Quantity(BEAD_M, "pipe_size")),
            Quantity(bead, "length", 1),
            "",
            *where,
            say("under the rim of boots{case}", case=" and feet" if covering in SEALED and flashed else ""),
        )
    )
    if covering in LAPPED:
        because = say("round the flap at each hole, and over what a screw has torn")
        tape = Quantity(TAPE_HOLE_M * HOLES * strings, "length", 1)
        parts.append(Part("membrane_tape", say("membrane tape"), tape, "", *where, because))
    return parts


def joint_parts(design: Design, run: RunResult) -> list[Part]:
    """What joins field and line: adapters at the ports in use, a washer to every union, paint where lagging is painted."""
    where: tuple[Merchant, str] = ("solar", "roof")
    if not design.pumped:
        return []
    rows = len(design.row_counts)
    adapters = PORTS_IN_USE * rows
    parts = [
        counted("adapters", adapters, say("thread adapter, port to pipe"), where, say("cold in and hot out of a row")),
        counted(
            "washers",
            math.ceil((END_UNIONS + adapters) * (1 + SPARE)),
            say("flat washer for a union, for hot fluid"),
            where,
            say("one a union, one in ten spare"),
        ),
    ]
    outdoors = sum(leg.length for leg in run.route.legs() if place_of(leg) in JACKETED and leg.insulation > 0)
    if design.run.jacket.value == "paint" and outdoors > 0:
        parts.append(
            Part(
                "lagging_paint",
                say("paint for lagging in the sun"),
                Quantity(outdoors * PAINT_M3_M, "volume", 1),
                "",
                *where,
                say("two coats on {l}, looked at each year", l=Quantity(outdoors, "length", 1)),
            )
        )
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
