"""A roof of several planes: each as a sheet of its own, and the table in which they are measured and weighed."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rowan.core.design.moves import FIRST
from rowan.core.design.planes import beside_part, first_part, part_on
from rowan.core.steps.site.stage import irradiation
from rowan.core.terms.compass import compass_name
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.editing.blanks import blank

FIRST_CELLS = (
    "survey.roof_azimuth_deg",
    "survey.roof_tilt_deg",
    "survey.roof_width_m",
    "survey.roof_slope_m",
    "roof.eaves_m",
)
CELLS = ("azimuth_deg", "pitch_deg", "width_m", "slope_m", "eaves_m")


def plane_sheets(sheet: Sheet) -> list[tuple[str, Sheet]]:
    """The first plane, and the other one where collectors lie on it: each by its key, as if it were the whole roof."""
    roof, other = sheet.result.roof, beside_part(sheet.design)
    found = [(FIRST, replace(sheet, design=first_part(sheet.design)))]
    plane = sheet.design.plane_beside
    if other is not None and roof.beside is not None and plane is not None:
        found.append((plane.id, replace(sheet, design=other, result=replace(sheet.result, roof=roof.beside))))
    return found


def plane_title(sheet: Sheet, key: str) -> str:
    """What a plane's drawing is called."""
    if sheet.design.roof.way.value == "ground":
        return "The field from above"
    if not sheet.design.on_roof:
        return "The wall from in front"
    if len(sheet.design.roof.planes) == 0:
        return "The roof from in front"
    facing = sheet.design.survey.roof_azimuth_deg.value
    if key != FIRST:
        facing = next(plane.azimuth_deg for plane in sheet.design.roof.planes if plane.id == key)
    return tr("The plane to {facing}, from in front", facing=compass_name(facing))


def plane_rows(sheet: Sheet) -> list[dict[str, Any]]:
    """Every plane with its measures, its collectors and the sun on it, the first one's first."""
    design, units, best = sheet.design, sheet.units, sheet.result.site.best.year
    if not design.on_roof:
        return []

    def sun(year: float) -> str:
        """A year's sun as a share of the best plane's."""
        return shown(year / best, "share", units)

    rows: list[dict[str, Any]] = [
        {
            "entry": None,
            "name": compass_name(design.survey.roof_azimuth_deg.value),
            # its inputs stand in the benches' own sentences
            "cells": [blank(design, path, units).shown for path in FIRST_CELLS],
            "count": str(design.count_first),
            # as the other planes' input takes it
            "held": " + ".join(str(n) for n in design.rows_first) if len(design.rows_first) > 1 else "1",
            "sun": sun(irradiation(first_part(design))),
        }
    ]
    for plane in design.roof.planes:
        path = f"roof.planes.{plane.id}"
        rows.append(
            {
                "entry": plane,
                "name": compass_name(plane.azimuth_deg),
                "cells": [blank(design, f"{path}.{name}", units) for name in CELLS],
                "count": blank(design, f"{path}.count", units),
                "held": blank(design, f"{path}.rows", units),
                "sun": sun(irradiation(part_on(design, plane))),
            }
        )
    return rows
