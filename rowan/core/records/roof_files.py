"""The roof in open formats: marks as rows for a table, and the layout as a drawing in metres.

Source: DXF by ezdxf; places are those of the chalk sheet.
"""

from __future__ import annotations

from collections.abc import Iterator
from io import StringIO
from typing import Any

from rowan.core.steps.roof.marks import marks_of
from rowan.core.steps.roof.result import Box, RoofResult

COLUMNS = ("plane", "mark", "rail", "foot", "along_the_eave_m", "up_the_slope_m", "zone", "lift_n")
DECIMALS = 4
APART_M = 2.0  # between two planes in the drawing
FOOT_M = 0.04  # half of the cross that marks a foot in the drawing
# layers of the drawing, each with its colour by number
LAYERS = {"ROOF": 7, "RAFTERS": 8, "OBJECTS": 6, "COLLECTORS": 5, "RAILS": 3, "FEET": 1, "MARKS": 2}


def mark_rows(roof: RoofResult) -> Iterator[tuple[str, ...]]:
    """Every foot's mark as a row for a table: places [m], zone, lift on it [N]."""
    for number, plane in enumerate(roof.planes, 1):
        feet = {(foot.x, foot.y): foot for foot in plane.feet}
        for mark in marks_of(plane):
            foot = feet[mark.x, mark.y]
            yield (
                str(number),
                str(mark.number),
                str(mark.rail),
                str(mark.foot),
                f"{mark.x:.{DECIMALS}f}",
                f"{mark.y:.{DECIMALS}f}",
                foot.zone,
                f"{foot.up:.0f}",
            )


def _draw(space: Any, roof: RoofResult, along: float) -> None:
    """One plane, its eave's left end at a place along [m]."""

    def outline(box: Box, layer: str) -> None:
        """A box, closed, on this layer of the drawing."""
        corners = [(along + x, y) for x, y in box.corners]
        space.add_lwpolyline(corners, close=True, dxfattribs={"layer": layer})

    outline(roof.plane, "ROOF")
    for x in roof.lines:
        space.add_line((along + x, 0), (along + x, roof.plane.height), dxfattribs={"layer": "RAFTERS"})
    for box in roof.objects:
        outline(box, "OBJECTS")
    for box in roof.collectors:
        outline(box, "COLLECTORS")
    for rail in roof.rails:
        space.add_line((along + rail.start, rail.y), (along + rail.end, rail.y), dxfattribs={"layer": "RAILS"})
    for mark in marks_of(roof):
        x, y = round(along + mark.x, DECIMALS), round(mark.y, DECIMALS)
        space.add_point((x, y), dxfattribs={"layer": "FEET"})
        space.add_circle((x, y), FOOT_M, dxfattribs={"layer": "FEET"})
        space.add_text(str(mark.number), height=0.08, dxfattribs={"layer": "MARKS"}).set_placement(
            (x + FOOT_M, y + FOOT_M)
        )


def roof_dxf(roof: RoofResult) -> str:
    """The layout as a DXF drawing in metres: the eave's left end is its origin; another plane stands to the right of the first."""
    import ezdxf  # takes half a second, and nothing else needs it
    from ezdxf import units

    made = ezdxf.new("R2010", units=units.M)  # type: ignore[attr-defined]
    made.header["$MEASUREMENT"] = 1
    for name, colour in LAYERS.items():
        made.layers.add(name, color=colour)
    space, along = made.modelspace(), 0.0
    for plane in roof.planes:
        _draw(space, plane, along)
        along += plane.plane.width + APART_M
    out = StringIO()
    made.write(out)
    return out.getvalue()
