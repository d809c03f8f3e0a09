"""Readings over HTTP, what devices show now, and what was left set at the controller."""

from __future__ import annotations

import csv
import io
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.csrf import csrf_exempt

from rowan.core.records.planned import planned_of
from rowan.core.records.readings import LIMITS, Planned, observed, switching
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.benches.sheet import sheet_of
from rowan.web.care import services
from rowan.web.care.live_drawing import SPAN, live_drawing
from rowan.web.care.models import Device
from rowan.web.care.settings_left import left_rows, read_typed, with_refusals, with_typed
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import is_piece, units_of
from rowan.web.ui.methods import forms_only, takes_forms

MOST_BYTES = 1_000_000
LONGEST_NAME = 60
TOKEN = "new_device_token"  # noqa: S105  the session key a new token is shown from, once
MOST_LOGGED = 600_000
MOST_DRAWN = 1440  # readings of a day: one a minute, which is more than the drawing has dots


def _refused(status: int, reason: str, **more: Any) -> JsonResponse:
    answer = JsonResponse({"error": reason, **more}, status=status)
    if status == 401:
        answer["WWW-Authenticate"] = 'Bearer realm="readings"'
    return answer


@csrf_exempt
@login_not_required
@forms_only
def readings(request: HttpRequest) -> HttpResponse:
    """Takes readings as JSON lines from a device that brings its token. All of a lot is stored, or nothing of it.

    Sent twice they are stored once; their order does not matter.
    """
    scheme, _, token = request.headers.get("Authorization", "").partition(" ")
    device = services.device_of_token(token.strip()) if scheme.lower() == "bearer" else None
    if device is None:
        return _refused(401, "this token is not known; make a device on the plan's page of live values")
    try:
        body = request.body
    except RequestDataTooBig:
        body = b" " * (MOST_BYTES + 1)
    if len(body) > MOST_BYTES:
        return _refused(413, tr("at most {most} bytes at once", most=MOST_BYTES))
    try:
        found = services.lines_of(body.decode("utf-8"))
    except UnicodeDecodeError:
        return _refused(400, "this is no text in UTF-8")
    except services.LineRefusedError as error:
        return _refused(400, str(error), line=error.number)
    try:
        taken = services.take_in(device, found)
    except services.TooManyReadingsError as error:
        return _refused(429, str(error))
    return JsonResponse({"stored": taken.stored, "known": taken.known, "aside": taken.aside})


def _verdict(latest: Any, seen: list[Any]) -> Statement:
    """The state now, in one line."""
    over = latest.over
    if over is None:
        return say("A sensor reads nothing")
    words = "The pump runs" if latest.runs else "The pump rests"
    end = "; nothing stands against the plan" if not seen else ""
    return say(
        "{words}, the field {d} over the store's foot{end}",
        words=words,
        end=f"{end}",
        d=Quantity(over, "difference", 1),
    )


def _now_values(latest: Any, units: System) -> list[tuple[str, str]]:
    rows = (
        ("collector", latest.field_c, "temperature"),
        ("store foot", latest.low_c, "temperature"),
        ("store top", latest.high_c, "temperature"),
        ("hot line arrives", latest.hot_c, "temperature"),
        ("cold line leaves", latest.cold_c, "temperature"),
        ("flow", latest.flow_m3_s, "flow"),
        ("gauge", latest.gauge_pa, "pressure"),
        ("air outside", latest.air_c, "temperature"),
        ("sun on the field", latest.sun_w_m2, "irradiance"),
        ("water level", latest.level_m, "length"),
    )
    return [
        (name, "nothing" if value is None else shown(value, kind, units, 1 if kind == "temperature" else None))
        for name, value, kind in rows
        if value is not None or name in ("collector", "store foot", "store top")
    ]


def _device_now(device: Device, planned: Planned, units: System) -> dict[str, Any]:
    """A device with its newest day."""
    rows, aside = device.newest_day(SPAN, MOST_DRAWN), device.readings.filter(aside=True)
    count = aside.count()
    wrong = {"aside": count, "aside_at": aside.values_list("at", flat=True).last()}
    if not rows:
        return {"device": device, "readings": 0, **wrong}
    seen = observed(rows, planned)
    found = switching(rows)
    return {
        "device": device,
        **wrong,
        "readings": device.readings.count() - count,
        "at": rows[-1].at,
        "verdict": _verdict(rows[-1], seen),
        "seen": seen,
        "values": _now_values(rows[-1], units),
        "drawing": live_drawing(rows, units),
        "starts": found.starts,
        "start_seen": "" if found.start is None else shown(found.start, "difference", units),
        "stop_seen": "" if found.stop is None else shown(found.stop, "difference", units),
    }


def _now(request: HttpRequest, plan: Plan) -> dict[str, Any]:
    found, units = reckoned(plan.head), units_of(request)
    planned = planned_of(found.design, found.result)
    return {
        "plan": plan,
        "job": plan.job,
        "devices": [_device_now(device, planned, units) for device in plan.devices.all()],
        "start_planned": shown(planned.start, "difference", units),
        "stop_planned": shown(planned.stop, "difference", units),
    }


def live(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What the plan's devices show now, and how to connect one."""
    plan = plan_of(request, job, letter)
    return _live_page(request, plan)


def _live_page(request: HttpRequest, plan: Plan, problem: str = "", status: int = 200) -> HttpResponse:
    context = {
        **frame(plan, plan.head, sheet_of(plan, units_of(request)), "live"),
        **_now(request, plan),
        "token": request.session.pop(TOKEN, ""),
        "address": request.build_absolute_uri(reverse("care:readings")),
        "problem": problem,
        "most_devices": services.MOST_DEVICES,
        "keys": ", ".join(LIMITS),
    }
    return render(request, "care/live.html", context, status=status)


def live_now(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The live values alone, asked for again and again; opened by itself, the page they stand on."""
    plan = plan_of(request, job, letter)
    if not is_piece(request):
        return redirect("care:live", job=job, letter=letter)
    return render(request, "care/now.html", _now(request, plan))


@forms_only
def connect(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Make a device; its token is shown on the next page and never again."""
    plan = plan_of(request, job, letter)
    name = request.POST.get("name", "").strip()
    if not 1 <= len(name) <= LONGEST_NAME:
        return _live_page(request, plan, tr("Type a name of 1 to {most} letters.", most=LONGEST_NAME), 422)
    try:
        _, token = services.make_device(plan=plan, name=name, person=actor(request))
    except services.TooManyDevicesError:
        return _live_page(
            request,
            plan,
            tr("A plan has at most {most} devices. End one first.", most=services.MOST_DEVICES),
            422,
        )
    request.session[TOKEN] = token
    return redirect("care:live", job=plan.job_id, letter=plan.letter)


def _device(request: HttpRequest, plan: Plan, number: str) -> Device:
    device = plan.devices.filter(pk=int(number)).first() if number.isdecimal() and len(number) < 10 else None
    if device is None:
        raise Http404
    return device


@forms_only
def end(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """End a device: its token no longer counts, its readings go with it."""
    plan = plan_of(request, job, letter)
    _device(request, plan, request.POST.get("device", "")).delete()
    return redirect("care:live", job=plan.job_id, letter=plan.letter)


def log(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """A device's readings as a logger's CSV file."""
    plan = plan_of(request, job, letter)
    device = _device(request, plan, request.GET.get("device", ""))
    into = io.StringIO()
    writer = csv.writer(into, lineterminator="\n")
    writer.writerow(("at", *LIMITS))
    for entry in device.readings.filter(aside=False).order_by("at")[:MOST_LOGGED].iterator(chunk_size=5000):
        values = (getattr(entry, key) for key in LIMITS)
        writer.writerow((entry.at.isoformat(), *("" if value is None else value for value in values)))
    answer = HttpResponse(into.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="readings-{plan.job_id}-{plan.letter}-{device.pk}.csv"'
    return answer


@takes_forms
def as_left(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What was left set at the controller: shown beside the plan, typed, kept."""
    plan = plan_of(request, job, letter)
    sheet = sheet_of(plan, units_of(request))
    rows, status, notice = left_rows(plan, sheet), 200, ""
    if request.method == "POST":
        typed = read_typed(sheet, request.POST.dict())
        try:
            services.leave_settings(
                plan=plan,
                person=actor(request),
                numbers=typed.numbers,
                words=typed.words,
                seen=request.POST.get("seen", ""),
            )
        except services.LeftMeanwhileError as error:
            notice, status = (
                tr("Not kept: {error}. What you typed still stands here; keep it again to put it on top.", error=error),
                409,
            )
            rows = with_typed(left_rows(plan, sheet), request.POST.dict())
        else:
            if not typed.wrong:
                return redirect("care:as_left", job=plan.job_id, letter=plan.letter)
            rows, status = with_refusals(left_rows(plan, sheet), typed.wrong), 422
    context = {
        **frame(plan, plan.head, sheet, "as_left"),
        "seen": services.left_state(plan),
        "notice": notice,
        "rows": rows,
        "apart": sum(row.differs for row in rows),
        "written": sum(bool(row.left) for row in rows),
    }
    return render(request, "care/as_left.html", context, status=status)
