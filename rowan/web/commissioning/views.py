"""Runs on site: started, carried on step by step on a phone, read at a desk; and the same order rehearsed at a kitchen table."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from rowan.core.records.as_built import as_built, changes_of
from rowan.core.records.run import RUN_WORDS, RunKind, RunState, kinds_for
from rowan.core.records.run import run_of as replay
from rowan.core.terms.dates import day_said
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import System
from rowan.web.benches.bench import Sheet, sheet_from
from rowan.web.benches.sheet import sheet_of
from rowan.web.commissioning import services
from rowan.web.commissioning.dates import dry_field, revisit_calendar
from rowan.web.commissioning.desk import photo_rows, reading_rows, signatures, title_of
from rowan.web.commissioning.handles import handles_drawing
from rowan.web.commissioning.models import Entry, Run
from rowan.web.commissioning.payload import entry_data, steps_data, units_data
from rowan.web.commissioning.record import hash_of, record_data
from rowan.web.commissioning.refused import EntryRefusedError, RunClosedError
from rowan.web.commissioning.services import Told
from rowan.web.commissioning.timeline import timeline
from rowan.web.commissioning.water_curve import water_curve
from rowan.web.commissioning.words import turn_words
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import Reckoned, reckoned
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.plans.services import Edit, change_plan
from rowan.web.plans.weather import measured_sky
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.svg import Drawing

REFUSED, CONFLICT = 422, 409


def run_of(request: HttpRequest, job: int, letter: str, number: int) -> Run:
    """A run of a plan the person may see; 404 for a stranger's."""
    plan = plan_of(request, job, letter)
    return get_object_or_404(plan.runs.select_related("revision", "started_by"), pk=number)


@takes_forms
def runs(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The runs of a plan, and the form that starts one."""
    plan, problem = plan_of(request, job, letter), ""
    if request.method == "POST":
        try:
            started = services.start_run(
                plan=plan, kind=request.POST.get("kind", ""), person=actor(request), sent=request.POST.get("sent", "")
            )
        except EntryRefusedError as error:
            problem = str(error)
        else:
            return redirect("commissioning:work", job, letter, started.pk)
    sheet = sheet_of(plan, units_of(request))
    rows = [{"run": run, "state": services.state_of(run)} for run in plan.runs.select_related("revision", "started_by")]
    context = {
        **frame(plan, plan.head, sheet, "runs"),
        "rows": rows,
        "dry": dry_field(plan),
        "kinds": [(kind, name, RUN_WORDS[kind]) for kind, name in kinds_for(sheet).items()],
        "usual": _usual(plan),
        "sent": uuid.uuid4(),
        "problem": problem,
    }
    return render(request, "commissioning/runs.html", context, status=REFUSED if problem else 200)


def _usual(plan: Plan) -> RunKind:
    """The run that usually comes next."""
    begun = set(plan.runs.values_list("kind", flat=True))
    return "first" if "first" not in begun else "rebleed" if "rebleed" not in begun else "service"


def _sheet(found: Reckoned, plan: Plan, units: System) -> Sheet:
    return sheet_from(found, units, measured_sky(found.design, plan.job.firm_id))


def _rows(state: RunState, sheet: Sheet, units: System) -> list[dict[str, Any]]:
    """Every step as the phone shows it."""
    commission = sheet.result.commission
    return [
        {
            "number": number,
            "step": one.step,
            "state": one,
            "drawing": handles_drawing(sheet, one.step.valves, f"Handles: {one.step.name}")
            if one.step.valves
            else None,
            "turns": turn_words(one.step.acts, commission.graph),
            "closing": turn_words(one.step.closing, commission.graph),
            "lead": one.step.targets[0] if one.step.targets else None,
        }
        for number, one in enumerate(state.steps, 1)
    ]


def _data(found: Reckoned, state: RunState, kind: RunKind, units: System) -> dict[str, Any]:
    commission, steps = found.result.commission, tuple(one.step for one in state.steps)
    tables = found.beside(f"handles {kind} {units}", lambda: steps_data(steps, commission, units))
    derived = [[one.name, one.formula] for one in commission.derived]
    return {
        **tables,
        "units": units,
        "dimensions": units_data(units, steps),
        "constants": dict(commission.constants),
        "derived": derived,
    }


def work(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """A run on a phone: one step at a time, whole on one page, so that it needs no signal once it was opened."""
    run, units = run_of(request, job, letter, number), units_of(request)
    found = services.reckoned_run(run)
    entries = list(run.entries.select_related("person"))
    state = replay(run.run_kind, found, [entry.written for entry in entries])
    head = run.plan.newest_number
    context = {
        "job": run.plan.job,
        "plan": run.plan,
        "run": run,
        "state": state,
        "rows": _rows(state, _sheet(found, run.plan, units), units),
        "moved": head - run.revision.number,
        "dry": dry_field(run.plan) if run.kind == "first" else None,
        "data": {**_data(found, state, run.run_kind, units), "entries": [entry_data(entry) for entry in entries]},
    }
    return render(request, "commissioning/work.html", context)


def rehearsal(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The whole order at the kitchen table: the same page, and nothing of it is written down."""
    plan, units = plan_of(request, job, letter), units_of(request)
    found = reckoned(plan.head)
    state = replay("first", found, [])
    context = {
        "job": plan.job,
        "plan": plan,
        "run": None,
        "state": state,
        "rows": _rows(state, _sheet(found, plan, units), units),
        "moved": 0,
        "data": {**_data(found, state, "first", units), "entries": []},
    }
    return render(request, "commissioning/work.html", context)


def run(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """A run at a desk: its steps hung on the clock, what was read against what was reckoned, what it came to."""
    return _desk(request, run_of(request, job, letter, number))


def _desk(request: HttpRequest, found: Run, problem: str = "") -> HttpResponse:
    units, plan = units_of(request), found.plan
    state, reckoning = services.state_of(found), services.reckoned_run(found)
    sheet = _sheet(reckoning, plan, units)
    built = as_built(reckoning.design, state, (state.closed.at if state.closed else found.started).date())
    context = {
        **frame(plan, plan.head, sheet_of(plan, units), "runs"),
        "run": found,
        "state": state,
        "title": title_of(state),
        "people": sorted({entry.person for entry in state.entries} or {str(found.started_by)}),
        "timeline": timeline(state, units),
        "curve": water_curve(state, units),
        "handles": _as_left(sheet, state),
        "readings": reading_rows(state, units),
        "built": built,
        "changes": len(changes_of(built)),
        "hash": hash_of(found, state),
        "signatures": signatures(state),
        "photos": photo_rows(found, state),
        "problem": problem,
    }
    return render(request, "commissioning/run.html", context, status=REFUSED if problem else 200)


def _as_left(sheet: Sheet, state: RunState) -> Drawing | None:
    """The handles at the end; none where no handle was touched."""
    left = state.steps[-1].step.valves
    return handles_drawing(sheet, left, "Handles as they are left") if left else None


@forms_only
def entries(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """Writes one entry; what cannot be taken is refused in words."""
    run, posted = run_of(request, job, letter, number), request.POST
    units: System = "us" if posted.get("units", units_of(request)) == "us" else "metric"
    since = posted.get("since", "")
    newest = int(since) if since.isdecimal() and len(since) < 7 else 0
    return _answered(
        lambda: services.write(run=run, told=Told.of(posted.dict()), person=actor(request), units=units), newest
    )


def _answered(write: Callable[[], Entry], newest: int | None = None) -> HttpResponse:
    """What was kept, and with it what others wrote since the newest entry that the page knows."""
    try:
        entry = write()
    except EntryRefusedError as error:
        return JsonResponse({"reason": str(error)}, status=REFUSED)
    except RunClosedError as error:
        return JsonResponse({"reason": str(error)}, status=CONFLICT)
    news = () if newest is None else entry.run.entries.filter(number__gt=newest).select_related("person")
    return JsonResponse({"entry": entry_data(entry), "news": [entry_data(one) for one in news]})


@forms_only
def photos(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """Keeps a photograph of a step."""
    run, sent = run_of(request, job, letter, number), request.FILES.get("photo")
    if sent is None:
        return JsonResponse({"reason": "no photograph came with it"}, status=REFUSED)
    content, told = sent.read(), Told.of(request.POST.dict())
    return _answered(lambda: services.write_photo(run=run, told=told, content=content, person=actor(request)))


def photo(request: HttpRequest, job: int, letter: str, number: int, sha: str) -> HttpResponse:
    """A photograph of the run, or a small one of it."""
    found = get_object_or_404(run_of(request, job, letter, number).photos, sha256=sha)
    return HttpResponse(bytes(found.small if "small" in request.GET else found.content), content_type="image/jpeg")


@forms_only
def take_built(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """What was found becomes the plan's, as one change."""
    run = run_of(request, job, letter, number)
    state, found = services.state_of(run), services.reckoned_run(run)
    changes = changes_of(as_built(found.design, state, run.started.date()))
    if not changes:
        return _desk(request, run, "nothing was read that differs from the plan")
    edit = Edit(
        changes,
        "",
        tr(
            "as built, by the run of {day}", day=day_said(timezone.localtime(run.started), year=True, short=True).text()
        ),
    )
    try:
        change_plan(
            plan=run.plan, author=actor(request), based_on=int(request.POST.get("revision", "0") or 0), edit=edit
        )
    except (WebError, RowanError) as error:
        return _desk(request, run, words_of(error, units_of(request)))
    return redirect("commissioning:run", job, letter, number)


@forms_only
def due(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """Sets the day on which somebody comes back."""
    run = run_of(request, job, letter, number)
    told = Told("due", text=request.POST.get("day", ""), sent=request.POST.get("sent", ""))
    try:
        services.write(run=run, told=told, person=actor(request), units="metric")
    except EntryRefusedError as error:
        return _desk(request, run, str(error))
    return redirect("commissioning:run", job, letter, number)


def calendar(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """The day somebody comes back, for a calendar; a changed day updates the same entry."""
    run = run_of(request, job, letter, number)
    state = services.state_of(run)
    if state.revisit is None:
        raise Http404
    answer = HttpResponse(revisit_calendar(run, state, state.revisit), content_type="text/calendar; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="revisit-{run.plan.job_id}-{run.plan.letter}.ics"'
    return answer


def record(request: HttpRequest, job: int, letter: str, number: int) -> HttpResponse:
    """The record as an open file."""
    run = run_of(request, job, letter, number)
    answer = JsonResponse(
        record_data(run, services.state_of(run)), json_dumps_params={"indent": 1, "ensure_ascii": False}
    )
    answer["Content-Disposition"] = f'attachment; filename="run-{run.plan.job_id}-{run.plan.letter}-{run.pk}.json"'
    return answer
