"""Proposals of apprentices: looked at, handed in, taken or declined."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.web.benches.sheet import sheet_of
from rowan.web.history.proposals import proposal_context
from rowan.web.plans import proposals
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.plans.services import StaleRevisionError
from rowan.web.steps.page import frame
from rowan.web.steps.views import CONFLICT, UNPROCESSABLE, based_on
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only


def _found(request: HttpRequest, job: int, letter: str, number: int) -> Plan:
    plan = plan_of(request, job, letter)
    return get_object_or_404(
        Plan.everything.select_related("proposed_by", "proposed_on", "job__firm"), proposal_of=plan, pk=number
    )


def _page(request: HttpRequest, found: Plan, notice: str = "", status: int = 200) -> HttpResponse:
    units = units_of(request)
    plan = found.real
    context = {
        **frame(plan, plan.head, sheet_of(plan, units), "history"),
        **proposal_context(found, units),
        "notice": notice,
        "own": found.proposed_by_id == actor(request).pk,
        "is_open": found.answer in proposals.OPEN,
    }
    return render(request, "history/proposal.html", context, status=status)


def proposal(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """What it changes and which figures that moves."""
    return _page(request, _found(request, job, letter, int(number)))


@forms_only
def answer(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """Hand in, take back, take or decline, by the button that was pressed."""
    found, person = _found(request, job, letter, int(number)), actor(request)
    said = request.POST.get("said", "").replace("\x00", "")
    leave = set(request.POST.getlist("path")) - set(request.POST.getlist("pick"))

    def take() -> Revision:
        return proposals.take(proposal=found, person=person, based_on=based_on(request), leave=leave, said=said)

    acts = {
        "hand in": lambda: proposals.hand_in(proposal=found, person=person, said=said),
        "take back": lambda: proposals.take_back(proposal=found, person=person),
        "decline": lambda: proposals.decline(proposal=found, person=person, said=said),
        "take": take,
    }
    act = acts.get(request.POST.get("act", ""))
    if act is None:
        return _page(request, found, "Nothing was chosen.", UNPROCESSABLE)
    try:
        act()
    except StaleRevisionError:
        return _page(request, found, "The plan was changed meanwhile; this is how it stands now.", CONFLICT)
    except (WebError, RowanError) as error:
        return _page(
            request, found, tr("Not done: {words_of}.", words_of=words_of(error, units_of(request))), UNPROCESSABLE
        )
    return redirect("history:proposal", found.job_id, found.letter, found.pk)
