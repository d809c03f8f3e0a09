"""What all papers share: their sizes, their type, and the way from a template to PDF."""

from __future__ import annotations

import base64
import hashlib
import re
from typing import Any, Literal

from django.conf import settings
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import SafeString

from rowan.core.design.changes import assumed
from rowan.core.simulation.cache import Kept
from rowan.core.terms.compass import compass_name
from rowan.core.terms.language import tr
from rowan.core.terms.source import METHODS, Method
from rowan.core.terms.units import System
from rowan.web.accounts.models import Firm
from rowan.web.benches.bench import Sheet
from rowan.web.editing.blanks import Blank, blank
from rowan.web.papers.font_cuts import font_faces
from rowan.web.papers.whole_words import install
from rowan.web.plans.models import Plan
from rowan.web.studies.beside import NobodyThereError, ask
from rowan.web.ui.errors import WebError
from rowan.web.ui.svg import Drawing

Size = Literal["a4", "letter"]
SIZES: dict[Size, str] = {"a4": "A4", "letter": "Letter"}


# papers by their content: what is printed twice is drawn once
DRAWN = Kept(16)


class PaperToolsMissingError(WebError):
    """WeasyPrint cannot load the libraries it draws with."""


class PaperComingError(WebError):
    """A paper that is being drawn: asked for again in a moment it is there."""


def usual_size(units: System) -> Size:
    """The paper people with these units have in their printer."""
    return "letter" if units == "us" else "a4"


def on_paper(drawing: Drawing) -> SafeString:
    """A drawing as a picture with its title, as paper needs it: its style and its names are its own, and it is read once, as a
    drawing, not as part of the page too."""
    data = base64.b64encode(drawing.svg_file(paper=True).encode()).decode()
    return format_html('<img alt="{}" src="data:image/svg+xml;base64,{}">', tr(drawing.title), data)


def guesses(sheet: Sheet) -> list[Blank]:
    """What is still assumed, as blanks."""
    return [blank(sheet.design, found.path, sheet.units) for found in assumed(sheet.design)]


def cited(sheet: Sheet) -> list[Method]:
    """The methods the plan's figures cite, in order."""
    numbers = {
        int(number)
        for figure in sheet.figures.values()
        for number in re.findall(r"[Mm]ethods (\d+)", figure.why.source)
    }
    return [METHODS[number] for number in sorted(numbers) if number in METHODS]


def head_picture(firm: Firm) -> str:
    """The head of a firm's papers as a picture in the page itself; empty without one."""
    return f"data:{firm.logo_kind};base64,{base64.b64encode(bytes(firm.logo)).decode()}" if firm.logo else ""


def paper_context(plan: Plan, sheet: Sheet, size: Size) -> dict[str, Any]:
    """What stands on every paper of a plan: whose it is, which state it shows, what is open."""
    return {
        "plan": plan,
        "job": plan.job,
        "firm": plan.job.firm,
        "head_picture": head_picture(plan.job.firm),
        "revision": plan.head,
        "design": sheet.design,
        "result": sheet.result,
        "units": sheet.units,
        "bearing": compass_name(sheet.design.survey.roof_azimuth_deg.value),
        "open_findings": [f for f in sheet.findings if f.level != "mind"],
        "paper_size": SIZES[size],
    }


def can_print() -> bool:
    """Whether papers can be drawn on this machine."""
    try:
        import weasyprint  # noqa: F401
    except OSError:
        return False
    return True


def draw(html: str) -> bytes:
    """A page of HTML as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    try:
        from weasyprint import HTML
    except OSError as error:
        raise PaperToolsMissingError(
            "Rowan prints with WeasyPrint, which draws with Pango. Install the packages libpango-1.0-0 and "
            "libpangoft2-1.0-0 (as root: apt-get install libpango-1.0-0 libpangoft2-1.0-0) and start Rowan again. "
            "Everything else works without them."
        ) from error
    install()
    # tagged: a screen reader finds headings, tables and their order
    return bytes(HTML(string=html).write_pdf(pdf_tags=True) or b"")


def pdf(template: str, context: dict[str, Any]) -> bytes:
    """A paper as PDF. Raises PaperToolsMissingError where Pango is not installed, PaperComingError while it is being drawn
    beside the server."""
    html = render_to_string(template, {**context, "font_faces": font_faces()})
    key = hashlib.sha256(html.encode()).hexdigest()
    found: bytes | None = DRAWN.get(key)
    if found is None:
        found = _drawn_beside(key, html) if settings.STUDIES_BESIDE else draw(html)
        DRAWN.keep(key, found)
    return found


def _drawn_beside(key: str, html: str) -> bytes:
    try:
        found: bytes | None = ask("paper", key=key, html=html)
    except NobodyThereError as error:
        raise PaperComingError from error
    if found is None:
        raise PaperComingError
    return found
