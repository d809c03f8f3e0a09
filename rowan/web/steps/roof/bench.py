"""The Roof bench: the plane to scale, rafters, feet and rails, what wind and snow do, and what is chalked."""

from __future__ import annotations

from typing import Any

from rowan.core.design.moves import FIRST
from rowan.core.goods.fixings import FIXINGS, NEVER, fixings_for
from rowan.core.terms.compass import compass_name
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, blank, blanks
from rowan.web.steps.roof.plane import roof_plane
from rowan.web.steps.roof.planes import plane_rows, plane_sheets, plane_title
from rowan.web.steps.roof.side_view import side_view
from rowan.web.steps.roof.sides import foot_section, screw_drawing, square_drawing, street_view
from rowan.web.steps.roof.wall_view import wall_view

TIMBERED = "rafters {roof.line_width_m} wide, the first {roof.line_first_m} from the verge, then every {roof.line_spacing_m}, of {roof.timber}"
SEAMED = "seams or ribs: the first {roof.line_first_m} from the verge, then every {roof.line_spacing_m}"
GROUND = (
    "Collectors {roof.way} at {roof.tilt_deg}, lower edge {roof.lower_edge_m} up, {roof.row_pitch_m} from row to row; {roof.fixing}, frost "
    "goes down {roof.frost_depth_m}; gust {roof.gust_m_s}, snow {roof.snow_pa}."
)
ASIDE = "Collectors {roof.way} at {roof.tilt_deg}, {roof.fixing}; gust {roof.gust_m_s}, snow {roof.snow_pa}."
LINE = (
    "A roof of {survey.covering}, {survey.roof_width_m} by {survey.roof_slope_m}, {roof.state}; @lines; gust {roof.gust_m_s}, snow "
    "{roof.snow_pa}. Collectors {roof.way}, {roof.fixing}; field {roof.field_x_m} and {roof.field_y_m}."
)
OBJECT_KINDS = (
    ("roof-window", "a window"),
    ("roof-chimney", "a chimney"),
    ("roof-vent", "a vent pipe"),
    ("roof-hip", "a hip"),
    ("roof-valley", "a valley"),
)
COUNTS = {1: "One", 2: "Two", 3: "Three", 4: "Four", 6: "Six", 8: "Eight", 10: "Ten", 12: "Twelve"}


def _verdict(sheet: Sheet) -> Statement:
    roof = sheet.result.roof
    feet, rails = (
        sum(len(of) for of in both) for both in ([p.feet for p in roof.planes], [p.rails for p in roof.planes])
    )
    stops = [f for f in roof.findings if f.level == "stop"]
    if stops:
        return say("Not yet: {stop}", stop=stops[0].title)
    slated = sheet.design.survey.covering.value == "slate" and roof.fixing.key in ("plate", "hook", "post")
    cut = tr(", {slates} slates to cut", slates=COUNTS.get(feet, str(feet)).lower()) if slated else ""
    name = roof.fixing.name if feet == 1 else _plural(roof.fixing.name)
    words = tr(
        "{feet} {name}, {rails} rails{cut}",
        feet=COUNTS.get(feet, feet),
        name=name,
        rails=COUNTS.get(rails, str(rails)).lower(),
        cut=cut,
    )
    hardest = max((p.hardest for p in roof.planes if p.hardest is not None), key=lambda foot: foot.up, default=None)
    if hardest is None or hardest.up <= 0 or roof.fixing.key == "ballast":
        return say("{words}, gust {v}", words=words, v=Quantity(roof.gust, "gust"))
    return say("{words}: safety {s}", words=words, s=Quantity(roof.holds_up / hardest.up, "ratio", 1))


def _plural(name: str) -> str:
    """A fixing's name for more than one: “post screws”, “anchors in concrete”."""
    head, space, rest = name.partition(" ")
    if rest.startswith(("in ", "on ", "of ", "between ", "over ")):
        return f"{head}s {rest}"
    return f"{head}{space}{rest}s"


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    roof, way = sheet.result.roof, sheet.design.roof.way.value
    if not sheet.design.on_roof:
        return blanks(GROUND if way == "ground" else ASIDE)
    lines = TIMBERED if roof.fixing.timber else SEAMED
    if sheet.design.roof.carrier.value == "slab":
        lines = "{roof.carrier}"
    return blanks(LINE.replace("@lines", lines))


def _blocks(sheet: Sheet) -> list[Block]:
    whole, design, on_roof = sheet, sheet.design, sheet.design.on_roof
    found = [
        Block(title, "drag the field", roof_plane(plane, key, title if key == FIRST and design.roof.planes else ""))
        for key, plane in plane_sheets(whole)
        for title in (plane_title(whole, key),)
    ]
    sheet = plane_sheets(whole)[0][1]
    if design.roof.way.value in ("wall", "awning"):
        found.append(Block("From the side", "the noon sun of summer and winter", wall_view(sheet)))
    if sheet.design.stands_behind:
        found.append(Block("From the side", "the winter sun passes", side_view(sheet)))
    if on_roof:
        found += [
            Block("Planes of this roof", "", template="steps/roof/planes.html"),
            Block("On the roof", "", template="steps/roof/objects.html"),
            Block("The foot, from the side", "", foot_section(sheet), half=True),
            Block("The screw", "", screw_drawing(sheet), half=True),
            Block("From the street", "look before you tighten", street_view(sheet), half=True),
        ]
    found.append(Block("Squared by its diagonals", "", square_drawing(sheet), half=True))
    found.append(Block("What may hold it here", "", template="steps/roof/fixings.html"))
    return found


def _context(sheet: Sheet) -> dict[str, Any]:
    design, units, covering = sheet.design, sheet.units, sheet.design.survey.covering.value
    facing = {"": compass_name(design.survey.roof_azimuth_deg.value)}
    facing |= {plane.id: compass_name(plane.azimuth_deg) for plane in design.roof.planes}
    objects = [
        {
            "entry": entry,
            "cells": [
                blank(design, f"roof.objects.{entry.id}.{name}", units)
                for name in ("kind", "x_m", "y_m", "width_m", "height_m", "stands_m")
            ],
            "on": facing[entry.plane],
        }
        for entry in design.roof.objects
    ]
    ways = [
        {
            "name": FIXINGS[key].name,
            "verdict": verdict,
            "why": why,
            "mine": key == sheet.result.roof.fixing.key,
            "notes": FIXINGS[key].notes,
        }
        for key, (verdict, why) in fixings_for(covering, way=design.roof.way.value).items()
    ]
    return {
        "roof_objects": objects,
        "ways": ways,
        "never": NEVER if design.on_roof else (),
        "several": bool(design.roof.planes),
        "object_kinds": OBJECT_KINDS,
        "other_planes": [{"id": plane.id, "name": facing[plane.id]} for plane in design.roof.planes],
        "plane_rows": plane_rows(sheet),
    }


BENCH = Bench(
    "roof",
    "Roof",
    _verdict,
    _line,
    _blocks,
    (
        "roof.tilt_deg",
        "roof.age_a",
        "roof.access",
        "roof.carrier",
        "roof.line_depth_m",
        "roof.deck_m",
        "roof.batten_width_m",
        "roof.batten_depth_m",
        "roof.found",
        "roof.course_m",
        "roof.eave_drop_m",
        "roof.street",
        "roof.street_note",
        "roof.new_covering",
        "roof.hot_hole_x_m",
        "roof.hot_hole_y_m",
        "roof.cold_hole_x_m",
        "roof.cold_hole_y_m",
        "roof.exposure",
        "roof.eaves_m",
        "roof.snow_slides",
        "roof.holds_up_n",
        "roof.holds_down_n",
        "roof.span_m",
        "roof.overhang_m",
        "roof.rails",
        "roof.rails_apart_m",
        "roof.rail_over_m",
        "roof.rail_piece_m",
        "roof.lying",
        "roof.hot_at",
        "roof.gap_m",
        "roof.row_gap_m",
        "roof.row_pitch_m",
        "roof.lower_edge_m",
        "roof.frost_depth_m",
        "roof.ballast_kg",
        "roof.side_clear_m",
        "roof.diagonal_1_m",
        "roof.diagonal_2_m",
        "survey.roof_tilt_deg",
    ),
    _context,
)
