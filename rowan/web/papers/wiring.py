"""The backup's wiring on paper: for the electrician who makes it, and for the door of the unit."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.control.wiring import DANGERS
from rowan.core.terms.caution import caution
from rowan.core.terms.units import System
from rowan.web.benches.sheet import sheet_of
from rowan.web.papers.sheets import Size, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.steps.control.wiring import wirings


def wiring_paper_context(plan: Plan, units: System, size: Size | None = None) -> dict[str, Any]:
    """Everything the paper prints; the rungs as they stand on a winter morning."""
    sheet = sheet_of(plan, units)
    found = [{**one, "rungs": on_paper(one["rungs"])} for one in wirings(sheet)]
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "wirings": found,
        "dangers": DANGERS,
        "deference": caution("deference"),
    }


def wiring_pdf(plan: Plan, units: System, size: Size | None = None) -> bytes:
    """The paper as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/wiring.html", wiring_paper_context(plan, units, size))
