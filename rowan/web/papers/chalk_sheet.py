"""The chalk sheet: what two people mark on the roof, every length from one corner."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.steps.roof.figures import PLANNING
from rowan.core.steps.roof.marks import across_marks, grid_diagonal, marks_of
from rowan.core.steps.roof.square import MARKED_FALL, SQUARE_RAD, central_third, diagonal, marking_error
from rowan.core.terms.caution import caution
from rowan.core.terms.units import System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.papers.sheets import Size, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.steps.roof.plane import roof_plane
from rowan.web.steps.roof.planes import plane_sheets, plane_title
from rowan.web.steps.roof.tape import mark_text

FEW = 4  # marks that stay in one column


def chalk_rows(sheet: Sheet) -> dict[str, Any]:
    """Everything that is marked, as it is read off a tape."""
    roof, design, units = sheet.result.roof, sheet.design, sheet.units
    fall = fall_of(sheet)
    marks = marks_of(roof, fall=fall)
    whole, (width, height) = grid_diagonal(roof), roof.grid
    timber = roof.fixing.timber and design.roof.carrier.value != "slab"

    def told(metres: float) -> str:
        """A length as the tape has it."""
        return mark_text(metres, units)

    return {
        "across": [told(x) for x in across_marks(roof)],
        "columns": columns_of(
            [
                {
                    "number": m.number,
                    "rail": m.rail,
                    "x": told(m.x),
                    "y": told(m.y),
                    "rise": told(m.rise) if fall else "",
                }
                for m in marks
            ]
        ),
        "rails": [
            {
                "number": k,
                "y": told(rail.y),
                "start": told(rail.start),
                "long": told(rail.end - rail.start),
                "feet": len(rail.feet),
            }
            for k, rail in enumerate(roof.rails, 1)
        ],
        "corners": [told(v) for v in (roof.field.x, roof.rows[0].y)],
        "diagonal": told(whole) if whole else "",
        "within": told(2 * SQUARE_RAD * width * height / diagonal(width=width, height=height)) if whole else "",
        "limit": f"{SQUARE_RAD * 1000:g}",
        "third": told(central_third(width=design.roof.line_width_m.value)) if timber else "",
        "error": told(marking_error(design.roof.found.value)) if timber else "",
        "fall": f"{fall * 100:.1f}" if fall else "",
        "fixing": roof.fixing,
        "planning": PLANNING,
        "covering": sheet.design.survey.covering.value,
    }


def columns_of(rows: list[dict[str, Any]]) -> list[list[dict[str, Any]]]:
    """The marks in two columns that read downward; a few stay in one."""
    if len(rows) <= FEW:
        return [rows]
    half = -(-len(rows) // 2)
    return [rows[:half], rows[half:]]


def fall_of(sheet: Sheet) -> float:
    """What the field falls by toward its cold end [-]: a loop that drains falls, another lies level."""
    return MARKED_FALL if sheet.design.drains else 0.0


def chalk_context(plan: Plan, units: System, size: Size | None = None) -> dict[str, Any]:
    """Everything the sheet prints."""
    sheet = sheet_of(plan, units)
    planes = [
        {
            **chalk_rows(plane),
            "title": plane_title(sheet, key),
            "drawing": on_paper(roof_plane(plane, key)),
        }
        for key, plane in plane_sheets(sheet)
    ]
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "planes": planes,
        "several": len(planes) > 1,
        **planes[0],
        "roof_cautions": [*bench_cautions(sheet.design, "roof"), caution("deference")],
        "stops": [f for f in sheet.result.roof.findings if f.level != "mind"],
    }


def chalk_pdf(plan: Plan, units: System, size: Size | None = None) -> bytes:
    """The sheet as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/chalk_sheet.html", chalk_context(plan, units, size))
