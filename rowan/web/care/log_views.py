"""The Care bench: files of loggers, how their columns are read, and what the days of them were."""

from __future__ import annotations

import uuid
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from rowan.core.records.care.evidence import PLACES
from rowan.core.records.care.faults import FAULTS
from rowan.core.records.care.health import Health, day_words, evidence_words, off_words, verdict
from rowan.core.records.care.mornings import mornings_of
from rowan.core.records.care.periods import months_of
from rowan.core.records.care.worth import worth_of
from rowan.core.records.logs.channels import BY_KEY, CHANNELS, UNITS
from rowan.core.records.logs.days import Days, days_of
from rowan.core.records.logs.deviations import deviations
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.log import Log
from rowan.core.records.logs.nights import sees_nights
from rowan.core.records.logs.sheet import LARGEST_BYTES
from rowan.core.records.planned import planned_of
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import System
from rowan.web.benches.sheet import sheet_of
from rowan.web.care import log_services as services
from rowan.web.care.health import health_for, note_health
from rowan.web.care.health_drawing import health_drawing
from rowan.web.care.log_drawing import log_drawing
from rowan.web.care.models import LogFile
from rowan.web.care.mornings_drawing import mornings_drawing
from rowan.web.commissioning.dates import due_at
from rowan.web.commissioning.services import for_next
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.studies.room import Progress
from rowan.web.ui.context import is_piece, units_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE

EPOCH = date(1970, 1, 1)
# a clock as somebody chooses it; the words a page says it with
CLOCKS = {
    "standard": "the place's winter clock all year",
    "summer": "the place's clock, with summer time",
    "utc": "universal time",
}
MOST_SUPPOSED, LEAST_SHARE = 5, 0.005
ORDERS = {"dmy": "day before month", "mdy": "month before day"}


def _zone(plan: Plan) -> float:
    return services.zone_in(plan, reckoned(plan.head).design.survey.longitude_deg.value)


def _verdict(days: Days | None, waiting: int) -> Statement:
    """What the log says, in one line."""
    if days is None:
        return say("A logger's file waits to be named" if waiting else "No log of this loop yet")
    first, last = (EPOCH + timedelta(days=int(days.day[at])) for at in (0, -1))
    span = {"first": day_said(first, year=True), "last": day_said(last, year=True)}
    if not days.has_pump:
        return say(
            "{first} to {last}: {int} whole days read, no pump among its columns",
            **span,
            int=f"{int(days.is_full.sum())}",
        )
    return say(
        "{first} to {last}: the pump ran on {days_run} of {len} days",
        **span,
        days_run=f"{days.days_run}",
        len=f"{len(days.day)}",
    )


def bench(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What was logged of this loop, whether it does what it should, and the way in for more."""
    return _page(request, plan_of(request, job, letter))


def health(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """How far the log is held against the plan: a piece that asks again until it is done, when its page is shown anew."""
    plan = plan_of(request, job, letter)
    log, zone_h = services.log_of(plan), _zone(plan)
    if log is None or not is_piece(request):
        return redirect("care:bench", plan.job_id, plan.letter)
    found = health_for(plan, log, zone_h, begin=True)
    if found.done:
        note_health(plan, zone_h, found.made, log.ends)
    return render(request, "care/coming.html", {"job": plan.job, "plan": plan, **_coming(found)})


def _coming(found: Progress) -> dict[str, Any]:
    return {"percent": round(100 * found.share), "is_done": found.done}


def _health(plan: Plan, log: Log, days: Days, zone_h: float, units: System) -> dict[str, Any]:
    """What the page shows of a log held against its plan."""
    found = health_for(plan, log, zone_h, begin=settings.SHORT_RUNS_BEGIN)
    if not found.done:
        return {"coming": True, **_coming(found)}
    if isinstance(found.made, str):
        return {"not_held": found.made}
    made: Health = found.made
    came, due, low, high = made.expected.sums(made.begins)
    named = made.named
    return {
        "health": made,
        "verdict": verdict(made),
        "health_drawing": health_drawing(made.expected, made.begins, units).svg(),
        "drawn_percent": round(100 * (made.expected.drawn or 1.0)),
        "came": came,
        "worth": worth_of(reckoned(plan.head).design, heat=max(made.expected.sums()[0], 0.0)),
        "currency": reckoned(plan.head).design.money.currency.value,
        "missing": due - came if named is not None and came < low else 0.0,
        "due": due,
        "due_low": low,
        "due_high": high,
        "is_low": came < low,
        "since": day_words(made.expected.first_day, made.begins).text(),
        "named": named,
        "evidence": [evidence_words(one) for one in made.match.evidence],
        "supposed": [
            {
                "one": one,
                "percent": round(100 * one.share),
                "wide": round(59 * one.share, 1),
                "says": [made.speech(one).get(place, "-") for place in PLACES],
            }
            for one in made.classes[:MOST_SUPPOSED]
            if one.share >= LEAST_SHARE or one is named
        ]
        if named is not None
        else [],
        "places": list(PLACES),
        "tried": len(FAULTS) - len(made.match.unseen),
        "healthy_percent": round(100 * made.match.healthy),
        "nights": made.night_heat,
        "hours": made.expected.hours(made.begins),
        "off": off_words(made.match),
        "months": months_of(made.expected, days),
        "begins_later": made.begins > 0,
        "mornings": _mornings(log, zone_h, made, units),
    }


def _page(request: HttpRequest, plan: Plan, problem: str = "", status: int = 200) -> HttpResponse:
    units, found = units_of(request), reckoned(plan.head)
    sheet = sheet_of(plan, units)
    log, zone_h = services.log_of(plan), _zone(plan)
    days = days_of(log, zone_h=zone_h) if log is not None else None
    files = list(plan.logs.defer("raw", "columns").order_by("first", "pk"))
    waiting = [file for file in files if not file.rows]
    planned = planned_of(found.design, found.result)
    context: dict[str, Any] = {
        **frame(plan, plan.head, sheet, "care"),
        "verdict": _verdict(days, len(waiting)),
        "files": files,
        "problem": problem,
        "has_log": log is not None,
        "most_mb": LARGEST_BYTES // 1_000_000,
        "devices": plan.devices.count(),
        "repairs": [
            {"file": file.name, "what": what, "count": count} for file in files for _, what, count in file.repairs
        ],
    }
    context |= _service(plan)
    if log is not None and "sun_w_m2" not in log.columns:
        context |= {
            "skies": plan.job.firm.weather_years.all(),
            "sky": next((f.mapping.get("sky") for f in files if f.rows), ""),
        }
    if log is not None and days is not None:
        context |= {
            "seen": deviations(log, replace(planned, zone_h=zone_h)),
            "sees_nights": sees_nights(log),
            "drawing": log_drawing(days, units, planned.least_gauge).svg(),
            "days": days,
            "full": int(days.is_full.sum()),
            "channels": [BY_KEY[key].label for key in BY_KEY if key in log.columns],
            "step_min": log.step / 60,
        }
        context |= _health(plan, log, days, zone_h, units)
        made = context.get("health")
        if made is not None:
            # one fault is said once
            context["seen"] = [one for one in context["seen"] if not made.covers(one.key)]
    return render(request, "care/bench.html", context, status=status)


def _mornings(log: Log, zone_h: float, made: Health, units: System) -> str:
    """A healthy morning beside an ill one, drawn; nothing where no morning was read."""
    found = mornings_of(log, zone_h=zone_h, begins=made.begins, named=made.named is not None)
    return mornings_drawing(found, units).svg() if found else ""


def _service(plan: Plan) -> dict[str, Any]:
    """When it was serviced last, what is due, and what was left for the next visit."""
    last = plan.runs.filter(kind="service", closed_at__isnull=False).order_by("-closed_at").first()
    today = timezone.localdate()
    return {
        "serviced": last.closed_at if last is not None else None,
        "due_dates": [(one, one.late(today)) for one in due_at(plan) if one.run.closed_at is not None],
        "open_service": plan.runs.filter(kind="service", closed_at=None).first(),
        "for_next": [note for _, note in for_next(plan)],
        "sent": str(uuid.uuid4()),
    }


@forms_only
def take(request: HttpRequest) -> HttpResponse:
    """Take in files of a logger, for the plan that the form names; the first that has to be named is shown."""
    job, letter = request.POST.get("job", ""), request.POST.get("letter", "")
    if not (job.isdecimal() and len(job) < 10) or letter not in list("ABCD"):
        raise Http404
    plan = plan_of(request, int(job), letter)
    files, wrong, unnamed, zone_h = request.FILES.getlist("file"), [], None, _zone(plan)
    if not files:
        return _page(request, plan, "Choose a file first.", UNPROCESSABLE)
    for file in files:
        try:
            if (file.size or 0) > LARGEST_BYTES:
                raise services.LogRefusedError(
                    tr("more than {most} MB; send it in parts, a year each", most=LARGEST_BYTES // 1_000_000)
                )
            kept = services.take_file(
                plan=plan, person=actor(request), name=file.name or "", data=file.read(), zone_h=zone_h
            )
        except services.LogRefusedError as error:
            wrong.append(f"{file.name}: {error}")
        else:
            unnamed = unnamed or (kept if not kept.rows else None)
    if wrong:
        return _page(request, plan, "Not taken in: " + "; ".join(wrong) + ".", UNPROCESSABLE)
    if unnamed is not None:
        return redirect("care:mapping", plan.job_id, plan.letter, unnamed.pk)
    return redirect("care:bench", plan.job_id, plan.letter)


def _file(plan: Plan, number: str) -> LogFile:
    return get_object_or_404(plan.logs, pk=int(number))


@takes_forms
def mapping(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """What each column of a file is: its first rows, the guesses with their reasons, and the choice."""
    plan = plan_of(request, job, letter)
    file = _file(plan, number)
    problem, status = "", 200
    prefers = request.POST.get("prefers") or file.mapping.get("prefers", "dmy")
    try:
        found = services.open_again(file, prefers)
    except LogError as error:
        raise Http404 from error
    asked = services.offered(found, file.mapping)
    channels, clock = dict(asked.channels), asked.clock
    zone = request.POST.get("zone", f"{file.mapping.get('zone_h', _zone(plan)):g}")
    if request.method == "POST":
        channels = _chosen(request, len(found.sheet.names))
        clock = request.POST.get("clock", "")  # type: ignore[assignment]
        try:
            services.name_columns(
                file=file, person=actor(request), channels=channels, clock=clock, prefers=prefers, zone_h=_hours(zone)
            )
        except services.LogRefusedError as error:
            problem, status = tr("Not read: {error}.", error=error), UNPROCESSABLE
        else:
            return redirect("care:bench", plan.job_id, plan.letter)
    whys = {guess.column: guess.why for guess in found.guessed}
    columns = [
        {
            "at": at,
            "name": name,
            "is_time": at in found.stamps.columns,
            "channel": channels.get(at, ("", ""))[0],
            "unit": channels.get(at, ("", ""))[1],
            "why": found.stamps.why if at in found.stamps.columns else whys.get(at, ""),
            "first": [row[at] for row in found.sheet.first_rows[:4]],
        }
        for at, name in enumerate(found.sheet.names)
    ]
    context = {
        **frame(plan, plan.head, sheet_of(plan, units_of(request)), "care"),
        "file": file,
        "columns": columns,
        "channels": CHANNELS,
        "units_of_channels": UNITS,
        "clocks": CLOCKS,
        "clock": clock,
        "why_clock": found.why_clock,
        "has_zone": found.stamps.has_zone,
        "orders": ORDERS if found.stamps.is_guess or prefers == "mdy" else {},
        "prefers": "mdy" if found.stamps.order == "mdy" else "dmy",
        "notes": found.sheet.notes,
        "problem": problem,
        "rows": range(4),
        "named": sum(bool(key) for key, _ in channels.values()),
        "zone": zone,
    }
    return render(request, "care/mapping.html", context, status=status)


def _hours(text: str) -> float:
    """Hours as typed. Raises LogRefusedError."""
    try:
        return float(text.strip().replace(",", ".").replace("\u2212", "-"))
    except ValueError as error:
        raise services.LogRefusedError(tr("“{text}” is no number of hours", text=text[:12])) from error


def _chosen(request: HttpRequest, width: int) -> dict[int, tuple[str, str]]:
    """What somebody has chosen for each column; one without a channel is left out."""
    found = {}
    for at in range(width):
        key = request.POST.get(f"channel-{at}", "")
        if key:
            found[at] = (key, request.POST.get(f"unit-{at}", ""))
    return found


@forms_only
def use_sky(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Which weather year was that of the log's days."""
    plan = plan_of(request, job, letter)
    try:
        services.use_sky(plan=plan, person=actor(request), digest=request.POST.get("sky", "")[:64])
    except services.LogRefusedError as error:
        return _page(request, plan, tr("Not taken: {error}.", error=error), UNPROCESSABLE)
    return redirect("care:bench", plan.job_id, plan.letter)


@forms_only
def delete(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """Throw a file away."""
    plan = plan_of(request, job, letter)
    services.delete_file(file=_file(plan, number), person=actor(request))
    return redirect("care:bench", plan.job_id, plan.letter)
