"""The roof: rows, rails and feet on the plane, what wind and snow do to each foot, and whether it holds.

For planning: the local code and an engineer decide. Source: methods 12.
"""

from __future__ import annotations

import math
from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.design.planes import beside_part, first_part
from rowan.core.goods.fixings import (
    SCREW_G,
    SCREW_N,
    SCREW_THREAD_M,
    TIMBER_G,
    WANTED_RATED,
    WANTED_WITHDRAWAL,
    Fixing,
    suits,
    wanted_safety,
)
from rowan.core.steps.roof.both import joined
from rowan.core.steps.roof.figures import roof_figures
from rowan.core.steps.roof.findings import roof_findings
from rowan.core.steps.roof.layout import row_count
from rowan.core.steps.roof.loads import DEAD_SHARE, EXPOSURE, LIFT, Zone, edge_zone, gust_at, snow_force, wind_pressure
from rowan.core.steps.roof.place import (
    carriers_of,
    eaves_of,
    feet_of,
    fixing_of,
    limits_of,
    objects_of,
    placed,
    plane_of_roof,
    rails_apart,
    shape_of,
    strips_of,
)
from rowan.core.steps.roof.result import Box, Cut, Foot, Rail, RoofResult
from rowan.core.steps.roof.rocking import UPRIGHT_DEG, pulls
from rowan.core.steps.roof.supports import shares
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.record import record

DEAD_PA = {
    "slate": 600.0, "tile": 700.0, "shingle": 350.0, "metal": 300.0, "sheet": 200.0, "membrane": 2500.0, "cement": 350.0,
}  # fmt: skip
# kg/m of a rail, aluminium, rule of thumb; kg/L of what is in a collector
RAIL_KG_M, LIQUID_KG_L = 1.0, 1.04
RACK_EDGE_M = 0.15  # m, a rack's lower edge over its roof, rule of thumb
HOLE_M = 0.005  # of a screw that is in the foot itself, rule of thumb


@record
class Loads:
    """Lift coefficients by zone, pressure [Pa], and by each m of a row its weight, and by each rail what pushes and slides [N/m]."""

    lift: dict[Zone, float]
    pressure: float
    height: float
    rails: int
    dead: float
    down: float
    along: float


def reckon_roof(design: Design) -> RoofResult:
    """The field of a design on its roof: on one plane, or on two by the same rules."""
    other = beside_part(design)
    return joined(design, reckon_plane(first_part(design)), None if other is None else reckon_plane(other))


def reckon_plane(design: Design) -> RoofResult:
    """A field that lies on one plane."""
    roof, plane, fixing = design.roof, plane_of_roof(design), fixing_of(design)
    rows = placed(design, fixing)
    edge = edge_zone(width=plane.width, height=plane.height)
    gust = gust_of(design, plane)
    holds_up, by_screws = _holds_up(design, fixing)
    span, overhang = limits_of(design, fixing)
    cuts = tuple(thing for thing in objects_of(design) if isinstance(thing, Cut))
    rails = tuple(
        rail
        for number, row in enumerate(rows)
        for rail in _rails(design, number, row, gust, Holding(plane, edge, holds_up, by_screws, fixing, cuts))
    )
    verdict, reason = suits(design.survey.covering.value, fixing.key, way=roof.way.value)
    shape = shape_of(design)
    result = RoofResult(
        plane=plane,
        edge=edge,
        rows=rows,
        counts=design.row_counts,
        collectors=_collectors(design, rows),
        rails=rails,
        lines=carriers_of(design),
        objects=objects_of(design),
        strips=strips_of(design),
        fixing=fixing,
        verdict=verdict,
        verdict_reason=reason,
        span=span,
        overhang=overhang,
        holds_up=holds_up,
        holds_down=fixing.holds_down if roof.holds_down_n.value is None else roof.holds_down_n.value,
        by_screws=by_screws,
        gust=gust,
        pressure=wind_pressure(gust=gust),
        added_share=_added(design, rows, plane),
        fits_across=row_count(
            roof_width=plane.width,
            collector_width=shape.width,
            gap=roof.gap_m.value,
            side_clearance=roof.side_clear_m.value,
        ),
        figures=(),
        findings=(),
    )
    return replace(result, figures=roof_figures(design, result), findings=roof_findings(design, result))


def gust_of(design: Design, plane: Box) -> float:
    """The gust at the field [m/s]: as typed, else by exposure and height."""
    roof = design.roof
    if roof.gust_m_s.value is not None:
        return roof.gust_m_s.value
    eaves = 0.0 if roof.way.value == "ground" else eaves_of(design)
    rise = plane.height * math.sin(math.radians(design.survey.roof_tilt_deg.value)) if design.on_roof else 0.0
    return gust_at(gust=EXPOSURE[roof.exposure.value], height=eaves + rise)


def _loads(design: Design, row: Box, count: int, gust: float) -> Loads:
    """What acts on each m of a row, evenly spread over its rails."""
    item, roof, tilt = design.collector.item.value, design.roof, design.tilt_deg
    rails, each = roof.rails.value, count / row.width
    cos, sin = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    area = item.gross_m2 * each
    snow = snow_force(ground_snow=roof.snow_pa.value, tilt=tilt, area=area, slides=roof.snow_slides.value)
    wet = ((item.dry_mass_kg + item.contents_l * LIQUID_KG_L) * each + RAIL_KG_M * rails) * GRAVITY
    return Loads(
        lift=LIFT[roof.way.value],
        pressure=wind_pressure(gust=gust),
        height=area,
        rails=rails,
        dead=item.dry_mass_kg * each * GRAVITY,
        down=(snow + wet) * cos / rails,
        along=(snow + wet) * sin / rails,
    )


@record
class Holding:
    """Where a foot stands and what holds it: plane, edge zone [m], what it holds up [N] and whether by its screws alone."""

    plane: Box
    edge: float
    up: float
    by_screws: bool
    fixing: Fixing
    cuts: tuple[Cut, ...] = ()


def _rails(design: Design, number: int, row: Box, gust: float, holding: Holding) -> list[Rail]:
    """The rails of a row: feet as few as span, overhang and lift allow."""
    roof, loads = design.roof, _loads(design, row, design.row_counts[number], gust)
    length = shape_of(design).length
    # on a rack the rails lie as far apart on the collector; from above it looks less
    apart = row.height * rails_apart(design) / length
    first = row.y + (row.height - apart) / 2
    parts = _parts(design, apart / row.height * length)
    over, limits = roof.rail_over_m.value, limits_of(design, holding.fixing)
    wanted = wanted_safety(by_screws=holding.by_screws)
    found = []
    for k in range(loads.rails):
        y = first + apart * k / (loads.rails - 1)
        feet: tuple[Foot, ...] = ()
        choices = feet_of(design, row.x, row.right, limits=limits)
        # where even the mildest zone pulls the largest share too hard, no foot needs to be looked at
        mildest = _pull(loads, min(loads.lift.values()), parts[k]) * wanted
        for number_of, places in enumerate(choices, 1):
            last = number_of == len(choices)
            if not last and max(shares(feet=places, start=row.x, end=row.right)) * mildest > holding.up:
                continue
            feet = _feet(places, y, row, loads, holding, parts[k])
            if max(foot.up for foot in feet) * wanted <= holding.up:
                break
        if holding.fixing.key == "ballast" and choices:
            # it is laid on: it does not come with more trays
            feet = _feet(choices[0], y, row, loads, holding, parts[k])
        found.append(Rail(number, row.x - over, row.right + over, y, feet, *parts[k]))
    return found


def _parts(design: Design, apart: float) -> list[tuple[float, float]]:
    """Each rail's part of the wind and of the weight [-], lowest first; `apart` is from the lowest to the highest rail [m].

    A row that stands behind another stands on its own feet, and is overturned; another lies on what it is fixed to.
    """
    count, length = design.roof.rails.value, shape_of(design).length
    # over what it stands on: a row on a pitched roof leans as much less
    tilt = max(design.tilt_deg - design.stands_on_deg, 0.0)
    if not design.stands_behind or tilt > UPRIGHT_DEG:
        return [(1 / count, math.cos(math.radians(design.tilt_deg)) / count)] * count
    edge = design.roof.lower_edge_m.value if design.roof.way.value == "ground" else RACK_EDGE_M
    rails = [(length - apart) / 2 + apart * k / (count - 1) for k in range(count)]
    return [(part, 1 / count) for part in pulls(tilt=tilt, length=length, edge=edge, rails=rails)]


def _feet(
    places: tuple[float, ...], y: float, row: Box, loads: Loads, holding: Holding, part: tuple[float, float]
) -> tuple[Foot, ...]:
    found = []
    for x, share in zip(places, shares(feet=places, start=row.x, end=row.right), strict=True):
        zone = zone_of(holding.plane, holding.edge, x, y, holding.cuts)
        up = share * _pull(loads, loads.lift[zone], part)
        # mats lie on the roof itself: a strap holds them down, and snow presses on the roof
        lies = holding.fixing.key == "strap"
        down, along = (0.0, 0.0) if lies else (share * loads.down, share * loads.along)
        found.append(Foot(x, y, zone, share, max(up, 0.0), down, along))
    return tuple(found)


def _pull(loads: Loads, lift: float, part: tuple[float, float]) -> float:
    """What lifts each metre of a row that a foot carries [N/m], at a coefficient."""
    wind, weight = part
    return loads.pressure * lift * loads.height * wind - DEAD_SHARE * loads.dead * weight


def zone_of(plane: Box, edge: float, x: float, y: float, cuts: tuple[Cut, ...] = ()) -> Zone:
    """The zone of the roof a place lies in: where two edges meet, the corner. A hip is an edge as well; a valley is sheltered."""
    near = (min(x, plane.width - x) < edge) + (min(y, plane.height - y) < edge)
    near += sum(cut.upper and cut.distance(x, y) < edge for cut in cuts)
    zones: tuple[Zone, Zone, Zone] = ("field", "edge", "corner")
    return zones[min(near, 2)]


def _holds_up(design: Design, fixing: Fixing) -> tuple[float, bool]:
    """What a fixing holds upward [N]: the maker's, its rating or its screws, whichever is less; and whether the screws decide."""
    if fixing.key == "ballast":
        return design.roof.ballast_kg.value * GRAVITY, False
    typed = design.roof.holds_up_n.value
    rated = fixing.holds_up if typed is None else typed
    if not fixing.timber or not fixing.screws:
        return (rated or 0.0), False
    screws = fixing.screws * screw_holds(design, fixing)
    if rated is None:
        return screws, True
    # a rating is wanted one and a half times, a withdrawal twice
    return (screws, True) if screws / WANTED_WITHDRAWAL < rated / WANTED_RATED else (rated, False)


def screw_holds(design: Design, fixing: Fixing) -> float:
    """What one structural screw of a fixing holds in the rafter [N]: in proportion to thread and gravity. Source: defaults, roof."""
    gravity = TIMBER_G[design.roof.timber.value]
    return SCREW_N * thread_in(design, fixing) / SCREW_THREAD_M * gravity / SCREW_G


def thread_in(design: Design, fixing: Fixing) -> float:
    """Thread in the rafter [m]: what is left of the screw beyond foot and deck, never more than its thread."""
    return max(min(fixing.thread, fixing.screw_length - HOLE_M - design.roof.deck_m.value), 0.0)


def _collectors(design: Design, rows: tuple[Box, ...]) -> tuple[Box, ...]:
    shape, gap = shape_of(design), design.roof.gap_m.value
    return tuple(
        Box(row.x + k * (shape.width + gap), row.y, shape.width, row.height)
        for row, count in zip(rows, design.row_counts, strict=True)
        for k in range(count)
    )


def _added(design: Design, rows: tuple[Box, ...], plane: Box) -> float:
    """Weight the field adds, as a share of what the plane carries with its snow [-]."""
    item, roof = design.collector.item.value, design.roof
    mass = design.collector.count.value * (item.dry_mass_kg + item.contents_l * LIQUID_KG_L)
    mass += sum(row.width for row in rows) * roof.rails.value * RAIL_KG_M
    tilt = design.survey.roof_tilt_deg.value
    area = plane.width * plane.height
    snow = snow_force(ground_snow=roof.snow_pa.value, tilt=tilt, area=area, slides=roof.snow_slides.value)
    return mass * GRAVITY / (DEAD_PA[design.survey.covering.value] * area + snow)
