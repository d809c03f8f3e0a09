"""The history of a plan, the way back, and plans side by side."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from rowan.web.benches.sheet import sheet_of
from rowan.web.history.compare import comparison
from rowan.web.history.revisions import history
from rowan.web.plans import services
from rowan.web.plans.selectors import actor, job_of, plan_of
from rowan.web.steps.page import frame
from rowan.web.steps.views import Attempt, edit
from rowan.web.ui.context import units_of


def history_page(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Who changed what, and which figures it moved."""
    plan = plan_of(request, job, letter)
    revision, units = plan.head, units_of(request)
    asked = request.GET.get("before", "")
    before = int(asked) if asked.isdecimal() and len(asked) < 9 else None
    context = {**frame(plan, revision, sheet_of(plan, units), "history"), **history(plan, units, before)}
    return render(request, "history/history.html", context)


@require_POST
def restore(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Go back to an older state."""
    plan = plan_of(request, job, letter)
    try:
        number = int(request.POST.get("number", ""))
    except ValueError as error:
        raise Http404 from error
    return edit(
        request,
        plan,
        lambda based_on: services.restore(plan=plan, author=actor(request), based_on=based_on, number=number),
        Attempt(verb=""),
        back=lambda _, plan, __: redirect("history:revisions", plan.job_id, plan.letter),
    )


def compare(request: HttpRequest, job: int) -> HttpResponse:
    """The plans of a job side by side, differences first."""
    found = job_of(request, job)
    return render(request, "history/compare.html", comparison(found, units_of(request)))
