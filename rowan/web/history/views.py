"""The history of a plan, the way back, and plans side by side."""

from __future__ import annotations

from collections.abc import Sequence

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.web.benches.sheet import sheet_of
from rowan.web.history.compare import comparison
from rowan.web.history.merge import Clash, clashes, merge_context, mine_from
from rowan.web.history.revisions import history
from rowan.web.plans import services
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.selectors import actor, job_of, worked_plan_of
from rowan.web.steps.page import frame
from rowan.web.steps.views import CONFLICT, UNPROCESSABLE, Attempt, based_on, edit, page_key
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms


def history_page(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Who changed what, and which figures it moved."""
    plan = worked_plan_of(request, job, letter)
    revision, units = plan.head, units_of(request)
    asked = request.GET.get("before", "")
    before = int(asked) if asked.isdecimal() and len(asked) < 9 else None
    context = {**frame(plan, revision, sheet_of(plan, units), "history"), **history(plan, units, before)}
    return render(request, "history/history.html", context)


@forms_only
def restore(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Go back to an older state."""
    plan = worked_plan_of(request, job, letter)
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


def _put_on_top(request: HttpRequest, plan: Plan, picked: Sequence[Clash]) -> None:
    """Saves what was picked of mine. Raises WebError and RowanError."""
    changes = [change for row in picked for change in row.changes]
    if changes:
        summary = "put on top of another's change: " + ", ".join(row.label for row in picked)
        made = services.Edit(changes, "", summary[:200])
        services.change_plan(plan=plan, author=actor(request), based_on=based_on(request), edit=made)


@takes_forms
def merge(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Values of mine beside what others saved since a state; what is picked is saved."""
    plan, units = worked_plan_of(request, job, letter), units_of(request)
    asked = request.POST if request.method == "POST" else request.GET
    then = _state(plan, asked.get("since", ""))
    mine = mine_from(asked)
    notice, status = "", 200
    if request.method == "POST":
        rows = clashes(services.design_of(then), services.design_of(plan.head), mine, units)
        try:
            _put_on_top(request, plan, [row for n, row in enumerate(rows) if request.POST.get(f"pick-{n}") == "mine"])
            return redirect("steps:bench", plan.job_id, plan.letter, page_key(request))
        except services.StaleRevisionError:
            notice, status = "Not saved: the plan was changed once more. This is how it stands now.", CONFLICT
        except (WebError, RowanError) as error:
            notice, status = tr("Not saved: {words_of}.", words_of=words_of(error, units)), UNPROCESSABLE
    context = {
        **frame(plan, plan.head, sheet_of(plan, units), page_key(request)),
        **merge_context(plan, then, mine, units),
        "notice": notice,
        "kept": asked["kept"] if asked.get("kept", "").isdecimal() else "",
    }
    return render(request, "history/merge.html", context, status=status)


def _state(plan: Plan, number: str) -> Revision:
    """A state of a plan by its number; 404 for none."""
    found = plan.revisions.filter(number=int(number)).first() if number.isdecimal() and len(number) < 9 else None
    if found is None:
        raise Http404
    return found


def compare(request: HttpRequest, job: int) -> HttpResponse:
    """The plans of a job side by side, differences first."""
    found = job_of(request, job)
    return render(request, "history/compare.html", comparison(found, units_of(request)))
