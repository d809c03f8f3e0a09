"""Views of the Control bench's own requests: the race while B is moved, the map of pairs, a pair taken."""

from __future__ import annotations

import math
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from rowan.core.studies.trials import battery_preset
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.selectors import worked_plan_of
from rowan.web.steps.control.bench import pairs_context, race_page
from rowan.web.steps.control.calming import calming_context
from rowan.web.steps.control.sensors import sensors_context
from rowan.web.steps.control.wiring import wiring_context
from rowan.web.steps.looks import MOST_K, keep_rival, look_of
from rowan.web.steps.page import frame
from rowan.web.steps.views import change_and_back
from rowan.web.ui.context import is_piece, units_of
from rowan.web.ui.methods import forms_only

LAST_HOUR = 24.0 * 7


def _number(text: str, most: float) -> float | None:
    """A number of an address between 0 and `most`; None where there is none. 404 for nonsense."""
    if not text:
        return None
    try:
        value = float(text)
    except ValueError as error:
        raise Http404 from error
    if not (math.isfinite(value) and 0 <= value <= most):
        raise Http404
    return value


def _page(request: HttpRequest, plan: Plan) -> tuple[Sheet, dict[str, Any]]:
    job, letter = plan.job_id, plan.letter
    revision, look = plan.head, look_of(request, plan)
    sheet = sheet_of(plan, units_of(request), look)
    addresses = {f"{name}_address": reverse(f"steps:{name}", args=(job, letter)) for name in ("set", "slip")}
    base = {"plan": plan, "job": plan.job, "revision": revision, "look": look, "bench_key": "control", **addresses}
    return sheet, base


def race(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The race alone, while its rival is moved or the day is looked at closer."""
    plan = worked_plan_of(request, job, letter)
    start, stop = (_number(request.GET.get(name, ""), MOST_K) for name in ("start", "stop"))
    if start is not None and stop is not None and stop < start:
        keep_rival(request, plan, (start, stop))
    first, last = (_number(request.GET.get(name, ""), LAST_HOUR) for name in ("from", "to"))
    asked = None if first is None or last is None else (first, last)
    if not is_piece(request):
        return redirect("steps:bench", job, letter, "control")
    sheet, base = _page(request, plan)
    return render(request, "steps/control/race.html", {**base, **race_page(sheet, asked)})


def pairs(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The map of pairs, run if it is not there yet; as a page of its own with `whole`."""
    plan = worked_plan_of(request, job, letter)
    sheet, base = _page(request, plan)
    context = {**base, **pairs_context(sheet, request.GET.get("map", ""), run=True)}
    if is_piece(request) and "whole" not in request.GET:
        return render(request, "steps/control/pairs.html", context)
    around = frame(plan, base["revision"], sheet, "control")
    return render(request, "steps/control/pairs_page.html", {**around, **context})


def calming(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What would calm the pump, tried on the day under the lens; as a page of its own with `whole`."""
    plan = worked_plan_of(request, job, letter)
    sheet, base = _page(request, plan)
    context = {**base, **calming_context(sheet)}
    if is_piece(request) and "whole" not in request.GET:
        return render(request, "steps/control/calming.html", context)
    around = frame(plan, base["revision"], sheet, "control")
    return render(request, "steps/control/calming_page.html", {**around, **context})


def sensors(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Sensors by their ohms, and the test on the bench."""
    plan = worked_plan_of(request, job, letter)
    sheet, base = _page(request, plan)
    context = sensors_context(sheet, request.GET.dict())
    around = frame(plan, base["revision"], sheet, "sensors")
    return render(request, "steps/control/sensors.html", {**around, **context}, status=422 if context["wrong"] else 200)


def wiring(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The backup's wiring with its switches as the address says."""
    plan = worked_plan_of(request, job, letter)
    sheet, base = _page(request, plan)
    around = frame(plan, base["revision"], sheet, "wiring")
    return render(request, "steps/control/wiring.html", {**around, **wiring_context(sheet, request.GET.dict())})


@forms_only
def take(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """A pair becomes the plan's."""
    plan = worked_plan_of(request, job, letter)
    pair = [_number(request.POST.get(name, ""), MOST_K) for name in ("start", "stop")]
    if None in pair:
        raise Http404
    start, stop = (float(k or 0.0) for k in pair)
    words = tr(
        "start {start}, stop {stop} taken from the race",
        start=shown(start, "difference"),
        stop=shown(stop, "difference"),
    )
    return change_and_back(request, plan, [Change("control.start_k", start), Change("control.stop_k", stop)], words)


@forms_only
def battery(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan set up for a pump on a battery."""
    plan = worked_plan_of(request, job, letter)
    found = reckoned(plan.head)
    changes = list(battery_preset(found.design, found.result.run))
    return change_and_back(request, plan, changes, "set up for a battery pump")
