"""What shade does to a roof, as a page for the householder: the sky drawn, the verdict, the reason."""

from __future__ import annotations

from typing import Any

from rowan.core.terms.calendar import MONTHS
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import System
from rowan.web.benches.sheet import sheet_of
from rowan.web.papers.sheets import Size, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.steps.sun.horizon import horizon
from rowan.web.steps.sun.shade import shade_table

HEADINGS = {
    "clean": "Your roof has the sun",
    "acceptable": "Your roof has the sun, with some shade",
    "poor": "Your roof stands in shade too often",
    "no": "Why we advise against collectors here",
}
ADVICE = {
    "clean": "Nothing that counts stands before the sun. Keep it so: trees grow.",
    "acceptable": "It works, and it brings a little less than it could. Trees grow: look again in some years.",
    "poor": "It would work, but every square metre would bring less than it costs elsewhere. Another place for the collectors, or fewer trees, comes first.",
    "no": "We would be paid for a system that stands in shade. Better to spend the money on insulation, or to look for another place: a garage, a wall, a neighbour's roof.",
}


def letter_context(plan: Plan, units: System, size: Size | None = None) -> dict[str, Any]:
    """Everything the page prints."""
    sheet = sheet_of(plan, units)
    shade = sheet.result.site.shading
    bad = [tr(MONTHS[m]) for m in range(12) if shade.window_months[m] > 0.5]
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "heading": tr(HEADINGS[shade.verdict]),
        "advice": tr(ADVICE[shade.verdict]),
        "reason": say(
            "Between 9 and 15 o'clock by the sun a collector earns most of its year. Here shade takes {w} of the sun in those hours, "
            "and {y} of all the sun on the roof.",
            w=Quantity(shade.window, "share_fine"),
            y=Quantity(shade.year, "share_fine"),
        ),
        "bad_months": ", ".join(bad),
        "horizon": on_paper(horizon(sheet)),
        "table": on_paper(shade_table(sheet)),
        "deference": caution("deference"),
    }


def shade_letter_pdf(plan: Plan, units: System, size: Size | None = None) -> bytes:
    """The page as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/shade_letter.html", letter_context(plan, units, size))
