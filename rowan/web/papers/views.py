"""Papers over HTTP."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from rowan.web.jobs.selectors import plan_of
from rowan.web.papers.settings_card import PaperToolsMissingError, settings_card_pdf
from rowan.web.ui.context import units_of


def settings_card(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The settings card of a plan as PDF, or a page that says what to install for it."""
    plan = plan_of(request, job, letter)
    try:
        pdf = settings_card_pdf(plan, units_of(request))
    except PaperToolsMissingError as error:
        context = {"title": "Papers need one more library", "text": str(error)}
        return render(request, "ui/problem.html", context, status=503)
    response = HttpResponse(pdf, content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="settings-card-{plan.job_id}-{plan.letter}.pdf"'
    return response
