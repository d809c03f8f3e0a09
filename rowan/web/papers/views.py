"""Papers and open files over HTTP."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from rowan.core.records.roof_files import roof_dxf
from rowan.core.terms.units import System
from rowan.web.benches.sheet import sheet_of
from rowan.web.commissioning.views import run_of
from rowan.web.house.services import card_address
from rowan.web.papers.chalk_sheet import chalk_pdf
from rowan.web.papers.exports import drawings, marks_csv, parts_csv
from rowan.web.papers.job_sheet import job_sheet_pdf
from rowan.web.papers.run_record import record_of
from rowan.web.papers.settings_card import settings_card_pdf
from rowan.web.papers.shade_letter import shade_letter_pdf
from rowan.web.papers.sheets import SIZES, PaperComingError, PaperToolsMissingError, Size, usual_size
from rowan.web.papers.wiring import wiring_pdf
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of

AGAIN_S = 1  # until a page that waits for its paper asks again


def _file(content: str | bytes, kind: str, plan: Plan, name: str, *, inline: bool = False) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    stem, _, ending = name.rpartition(".")
    way = "inline" if inline else "attachment"
    response["Content-Disposition"] = f'{way}; filename="{stem}-{plan.job_id}-{plan.letter}.{ending}"'
    return response


def paper_units(request: HttpRequest, plan: Plan) -> System:
    """The units of the job's papers; those of whoever prints where the job has none."""
    chosen = plan.job.paper_units
    return "us" if chosen == "us" else "metric" if chosen == "metric" else units_of(request)


def paper_answer(
    request: HttpRequest, plan: Plan, name: str, make: Callable[[Plan, System, Size | None], bytes]
) -> HttpResponse:
    """A paper as PDF in the size asked for, or a page that says what to install for it."""
    asked = request.GET.get("paper")
    size: Size | None = "a4" if asked == "a4" else "letter" if asked == "letter" else None
    try:
        made = make(plan, paper_units(request, plan), size)
    except PaperToolsMissingError as error:
        context = {"title": "Papers need one more library", "text": str(error)}
        return render(request, "ui/problem.html", context, status=503)
    except PaperComingError:
        words = name.removesuffix(".pdf").replace("-", " ").capitalize()
        around = {"paper": words, "again": request.get_full_path(), "job": plan.job_id, "letter": plan.letter}
        answer = render(request, "papers/coming.html", around, status=202)
        answer["Refresh"] = str(AGAIN_S)
        return answer
    return _file(made, "application/pdf", plan, name, inline=True)


def settings_card(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The settings card of a plan as PDF."""
    plan = plan_of(request, job, letter)
    make = partial(settings_card_pdf, address=card_address(request, plan))
    return paper_answer(request, plan, "settings-card.pdf", make)


def job_sheet(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The whole plan as PDF."""
    return paper_answer(request, plan_of(request, job, letter), "job-sheet.pdf", job_sheet_pdf)


def shade_letter(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Sun and shade of a plan for the householder, as PDF."""
    return paper_answer(request, plan_of(request, job, letter), "sun-and-shade.pdf", shade_letter_pdf)


def wiring_paper(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The backup's wiring as PDF."""
    return paper_answer(request, plan_of(request, job, letter), "wiring.pdf", wiring_pdf)


def run_record(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """The record of a run on site as PDF."""
    run = run_of(request, job, letter, number)
    return paper_answer(request, run.plan, "record.pdf", record_of(run))


def chalk_sheet(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What is marked on the roof, as PDF."""
    return paper_answer(request, plan_of(request, job, letter), "chalk-sheet.pdf", chalk_pdf)


def roof_marks(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Every foot's mark as CSV, in metres."""
    plan = plan_of(request, job, letter)
    return _file(marks_csv(sheet_of(plan, paper_units(request, plan))), "text/csv; charset=utf-8", plan, "roof.csv")


def roof_drawing(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The roof's layout as a DXF drawing, in metres."""
    plan = plan_of(request, job, letter)
    made = roof_dxf(sheet_of(plan, paper_units(request, plan)).result.roof)
    return _file(made, "image/vnd.dxf", plan, "roof.dxf")


def papers(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What can be printed, taken along and handed on."""
    plan = plan_of(request, job, letter)
    sheet, revision = sheet_of(plan, units_of(request)), plan.head
    size = usual_size(paper_units(request, plan))
    context = {
        **frame(plan, revision, sheet, "papers"),
        "sizes": [(key, name, key == size) for key, name in SIZES.items()],
        "drawings": [(key, title) for key, title, _ in drawings(sheet)],
        "open_findings": [f for f in sheet.findings if f.level != "mind"],
    }
    return render(request, "papers/papers.html", context)


def parts(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The packing list as CSV."""
    plan = plan_of(request, job, letter)
    return _file(parts_csv(sheet_of(plan, paper_units(request, plan))), "text/csv; charset=utf-8", plan, "parts.csv")


def drawing(request: HttpRequest, job: int, letter: str, key: str) -> HttpResponse:
    """One drawing of a plan as an SVG file that stands alone."""
    plan = plan_of(request, job, letter)
    for name, _, found in drawings(sheet_of(plan, paper_units(request, plan)), key):
        if name == key:
            return _file(found.svg_file(), "image/svg+xml", plan, f"{key}.svg")
    raise Http404
