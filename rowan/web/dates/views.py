"""The week, its visits, one's calendar link, and a job's own page: whose it is, where it stands, its days."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.dateparse import parse_date, parse_datetime

from rowan.core.records.job_state import DECLINED, STATES
from rowan.core.terms.units import System
from rowan.web.accounts.models import Firm
from rowan.web.commissioning.dates import reminders
from rowan.web.customers.models import Customer, Site
from rowan.web.customers.services import card_of
from rowan.web.customers.standing import facts_of, standing
from rowan.web.dates import services
from rowan.web.dates.calendar import calendar_of, visits_of
from rowan.web.dates.drawing import week_drawing
from rowan.web.dates.forms import VisitForm, initial_of, usual_hours
from rowan.web.dates.models import Visit
from rowan.web.dates.week import monday_of, week_of
from rowan.web.plans.models import Job
from rowan.web.plans.selectors import actor, firm_of, job_of
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE
from rowan.web.ui.sentences import sentence

MOST_PICKED = 500  # customers and sites in a list to pick from


def _day(text: str) -> date:
    try:
        return parse_date(text) or timezone.localdate()
    except ValueError:
        return timezone.localdate()


def visit_of(request: HttpRequest, number: str) -> Visit:
    """A visit of the person's firm; 404 for a stranger's."""
    return get_object_or_404(Visit.objects.select_related("job", "firm"), firm=firm_of(request), pk=int(number))


def job_context(job: Job, units: System) -> dict[str, Any]:
    """A job's card, its states and what is missing for the next."""
    card = card_of(job)
    coming = job.visits.filter(cancelled=None, end__gt=timezone.now() - timedelta(days=1)).prefetch_related("people")
    facts = facts_of(job, card, units, visit_planned=any(visit.kind == "roof" for visit in coming))
    return {"card": card, "coming": coming, **standing(job, card, facts)}


def week(request: HttpRequest) -> HttpResponse:
    """Who is where this week, what is wrong, what is free; the customer of the visit that is chosen."""
    firm = firm_of(request)
    day = _day(request.GET.get("day", ""))
    found = week_of(firm, day)
    asked = request.GET.get("visit", "")
    chosen = next((visit for visit in found.visits if str(visit.pk) == asked), None)
    here = f"{reverse('dates:week')}?day={found.monday}"
    today = timezone.localdate()
    context: dict[str, Any] = {
        "week": found,
        "here": here,
        "number": found.monday.isocalendar().week,
        "drawing": week_drawing(found, datetime.now(), chosen.pk if chosen else None, f"{here}&visit=").svg(),
        "advice": found.advice(),
        "free": sum(found.free(person) for person in found.people),
        "clashes": sum(one.key == "clash" for one in found.troubles),
        "before": found.monday - timedelta(days=7),
        "after": found.monday + timedelta(days=7),
        "this_week": monday_of(today),
        "chosen": chosen,
        "due": [{"reminder": one, "is_late": one.late(today)} for one in reminders(actor(request))],
    }
    if chosen is not None and chosen.job is not None:
        context |= {"job": chosen.job, **job_context(chosen.job, units_of(request))}
    return render(request, "dates/week.html", context)


@takes_forms
def new_visit(request: HttpRequest) -> HttpResponse:
    """Put a visit on the tape."""
    firm, person = firm_of(request), actor(request)
    if request.method == "POST":
        return _saved(request, firm, VisitForm(firm, request.POST))
    kind, job = request.GET.get("kind", "survey"), request.GET.get("job", "")
    initial = {
        "kind": kind, "day": _day(request.GET.get("day", "")), "start": "08:00", "hours": usual_hours(kind),
        "job": job if job.isdecimal() else None, "people": [person.pk],
    }  # fmt: skip
    return render(request, "dates/visit.html", {"form": VisitForm(firm, initial=initial)})


@takes_forms
def visit(request: HttpRequest, number: str) -> HttpResponse:
    """Another time, place or people for a visit."""
    found = visit_of(request, number)
    if request.method == "POST":
        return _saved(request, found.firm, VisitForm(found.firm, request.POST), found)
    context = {"form": VisitForm(found.firm, initial=initial_of(found)), "visit": found}
    return render(request, "dates/visit.html", context)


def _saved(request: HttpRequest, firm: Firm, form: VisitForm, found: Visit | None = None) -> HttpResponse:
    """On the tape, or the form again with what is wrong."""
    if form.is_valid():
        try:
            made = services.save_visit(firm=firm, person=actor(request), wish=form.wish(), visit=found)
        except WebError as error:
            form.add_error(None, sentence(str(error)))
        else:
            return redirect(f"{reverse('dates:week')}?day={made.start:%Y-%m-%d}&visit={made.pk}")
    return render(request, "dates/visit.html", {"form": form, "visit": found}, status=UNPROCESSABLE)


@forms_only
def move(request: HttpRequest, number: str) -> HttpResponse:
    """The same visit at another time."""
    found = visit_of(request, number)
    try:
        start = parse_datetime(request.POST.get("to", ""))
    except ValueError:
        start = None
    if start is None:
        raise Http404
    moved = services.move_visit(visit=found, person=actor(request), start=start)
    return redirect(f"{reverse('dates:week')}?day={moved.start:%Y-%m-%d}&visit={moved.pk}")


@forms_only
def cancel(request: HttpRequest, number: str) -> HttpResponse:
    """It does not take place."""
    found = visit_of(request, number)
    services.cancel_visit(visit=found, person=actor(request))
    return redirect(f"{reverse('dates:week')}?day={found.start:%Y-%m-%d}")


@login_not_required
def feed(request: HttpRequest, token: str) -> HttpResponse:
    """Somebody's visits for their calendar, by a secret link."""
    owner = services.owner_of_feed(token)
    if owner is None or owner.firm_id is None:
        raise Http404
    answer = HttpResponse(calendar_of(visits_of(owner)), content_type="text/calendar; charset=utf-8")
    answer["Cache-Control"] = "private, no-store"
    answer["Referrer-Policy"] = "no-referrer"
    return answer


@forms_only
def set_feed(request: HttpRequest) -> HttpResponse:
    """A new link to one's calendar, or none."""
    services.set_feed(person=actor(request), wanted=bool(request.POST.get("wanted")))
    return redirect("dates:calendar")


def calendar(request: HttpRequest) -> HttpResponse:
    """One's calendar link."""
    person = actor(request)
    link = request.build_absolute_uri(reverse("dates:feed", args=(person.feed,))) if person.feed else ""
    return render(request, "dates/calendar.html", {"link": link})


def job(request: HttpRequest, job: int) -> HttpResponse:
    """A job's own page."""
    found = job_of(request, job)
    firm, units = found.firm, units_of(request)
    context = {
        "job": found,
        **job_context(found, units),
        "plans": found.plans.all(),
        "customers": Customer.objects.visible(actor(request)).filter(deleted=None)[:MOST_PICKED],
        "sites": Site.objects.visible(actor(request))[:MOST_PICKED],
        "all_states": [*STATES.items(), (DECLINED, "declined: it ends here")],
        "today": timezone.localdate(),
        "visits": found.visits.prefetch_related("people").order_by("-start")[:40],
        "notes": found.notes.select_related("person"),
        "files": found.files.defer("content").select_related("person"),
        "firm": firm,
    }
    return render(request, "dates/job.html", context)
