"""A field on two planes of one roof: each part as a design of its own, and what is said of a part as changes of the whole.

A part has the first plane's house (covering, carriers, wind, snow) with its own bearing, pitch, size, collectors and things.
Whatever is reckoned of one plane is so reckoned of either, by one rule.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rowan.core.design.design import Design
from rowan.core.design.inputs.roof import RoofPlane
from rowan.core.terms.finding import Change

# what a part's input is called in the whole, for a plane's own entry
OWN = {
    "survey.roof_azimuth_deg": "azimuth_deg",
    "survey.roof_tilt_deg": "pitch_deg",
    "survey.roof_width_m": "width_m",
    "survey.roof_slope_m": "slope_m",
    "roof.eaves_m": "eaves_m",
    "roof.line_first_m": "line_first_m",
    "roof.field_x_m": "field_x_m",
    "roof.field_y_m": "field_y_m",
    "collector.count": "count",
    "collector.rows": "rows",
}


def _with(design: Design, **stages: dict[str, Any]) -> Design:
    """The design with some inputs' values, origins kept; nothing is checked anew, for every value was when it was typed."""
    changed = {}
    for stage, values in stages.items():
        model = getattr(design, stage)
        update = {
            name: value if isinstance(value, list) else getattr(model, name).model_copy(update={"value": value})
            for name, value in values.items()
        }
        changed[stage] = model.model_copy(update=update)
    return design.model_copy(update=changed)


def first_part(design: Design) -> Design:
    """What lies on the first plane: the whole design where there is no other plane. On the ground and on a wall nothing of the roof is."""
    objects = [thing for thing in design.roof.objects if not thing.plane and design.on_roof]
    if not design.roof.planes and len(objects) == len(design.roof.objects):
        return design
    found = _with(design, roof={"planes": [], "objects": objects})
    if design.plane_beside is None:
        return found
    return _with(found, collector={"count": design.count_first})


def beside_part(design: Design) -> Design | None:
    """What lies on the other plane; None where nothing does."""
    plane = design.plane_beside
    return None if plane is None else part_on(design, plane)


def part_on(design: Design, plane: RoofPlane) -> Design:
    """A plane as a design: with its collectors, or with one where it has none yet."""
    roof = design.roof
    objects = [thing.model_copy(update={"plane": ""}) for thing in roof.objects if thing.plane == plane.id]
    first = roof.line_first_m.value if plane.line_first_m is None else plane.line_first_m
    return _with(
        design,
        survey={
            "roof_azimuth_deg": plane.azimuth_deg,
            "roof_tilt_deg": plane.pitch_deg,
            "roof_width_m": plane.width_m,
            "roof_slope_m": plane.slope_m,
        },
        collector={"count": max(design.count_on(plane), 1), "rows": plane.rows},
        roof={
            "planes": [],
            "objects": objects,
            "eaves_m": roof.eaves_m.value if plane.eaves_m is None else plane.eaves_m,
            "line_first_m": first,
            "field_x_m": plane.field_x_m,
            "field_y_m": plane.field_y_m,
        },
    )


def parts(design: Design) -> tuple[Design, ...]:
    """The parts with collectors, the first plane's first."""
    beside = beside_part(design)
    return (first_part(design),) if beside is None else (first_part(design), beside)


def in_whole(design: Design, changes: Iterable[Change], plane: RoofPlane | None) -> tuple[Change, ...]:
    """Changes of a part as changes of the whole design; `plane` is None for the first."""
    found = []
    for change in changes:
        if plane is None:
            more = design.collector.count.value - design.count_first if change.path == "collector.count" else 0
            found.append(Change(change.path, change.value + more, change.origin, change.note) if more else change)
            continue
        own = OWN.get(change.path)
        if own is not None:
            found.append(Change(f"roof.planes.{plane.id}.{own}", change.value, change.origin, change.note))
        else:
            found.append(change)
    return tuple(found)
