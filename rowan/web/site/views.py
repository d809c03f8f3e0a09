"""The work on the roof as a list to tick, made for a phone in a glove."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from rowan.core.steps.parts.counting import Part
from rowan.core.steps.roof.order import Task, order_of_work
from rowan.core.terms.units import System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.site.services import Standing, UnknownStepError, standing, tick_step
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.methods import forms_only

DELIVERED = "delivered-"


def _delivered(sheet: Sheet) -> list[Part]:
    """What has to lie there before the roof is opened."""
    return [part for part in sheet.result.parts.parts if part.place == "roof" and part.merchant != "hire"]


def _rows(tasks: tuple[Task, ...], ticked: dict[str, Standing]) -> list[dict[str, Any]]:
    """Every step with its tick; a gate that is open holds what comes after it."""
    held, found = "", []
    for number, task in enumerate(tasks, 1):
        stands = ticked.get(task.key)
        done = stands is not None and stands.tick.done
        found.append(
            {
                "number": number,
                "task": task,
                "stands": stands,
                "done": done,
                "held": "" if done else held,
                "sent": uuid.uuid4(),
            }
        )
        if task.gate and not done and not held:
            held = task.name
    return found


def _goods(parts: list[Part], ticked: dict[str, Standing], units: System) -> list[dict[str, Any]]:
    rows = []
    for part in parts:
        stands = ticked.get(DELIVERED + part.key)
        number = part.quantity.shown(units)
        rows.append(
            {
                "key": DELIVERED + part.key,
                "name": f"{number} {part.name.text(units)}",
                "stands": stands,
                "done": bool(stands and stands.tick.done),
                "sent": uuid.uuid4(),
            }
        )
    return rows


def _dry_days(ticked: dict[str, Standing]) -> int | None:
    """Days that the field hangs dry and uncovered: from its last collector on, till the pressure test."""
    up = [s.tick.at for key, s in ticked.items() if key.startswith("collector-") and s.tick.done]
    tested = ticked.get("pressure")
    if not up or (tested and tested.tick.done):
        return None
    return (timezone.now() - max(up)) // timedelta(days=1)


def roof_work(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The list for this plan, with who ticked what and when."""
    plan = plan_of(request, job, letter)
    return _page(request, plan)


def _page(request: HttpRequest, plan: Plan, problem: str = "", status: int = 200) -> HttpResponse:
    units = units_of(request)
    sheet, ticked = sheet_of(plan, units), standing(plan)
    rows = _rows(order_of_work(sheet.design, sheet.result.roof), ticked)
    first = next((row for row in rows if not row["done"]), None)
    context = {
        **frame(plan, plan.head, sheet, "roof_work"),
        "rows": rows,
        "first": first["task"].key if first else "",
        "left": sum(not row["done"] for row in rows),
        "goods": _goods(_delivered(sheet), ticked, units),
        "dry_days": _dry_days(ticked),
        "stops": [f for f in sheet.result.roof.findings if f.level == "stop"],
        "problem": problem,
    }
    return render(request, "site/roof_work.html", context, status=status)


@forms_only
def tick(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Writes one tick, and shows the list again where it stood."""
    plan = plan_of(request, job, letter)
    sheet = sheet_of(plan, units_of(request))
    known = {task.key for task in order_of_work(sheet.design, sheet.result.roof)}
    known |= {DELIVERED + part.key for part in _delivered(sheet)}
    key, done = request.POST.get("key", ""), request.POST.get("done") == "yes"
    rows = _rows(order_of_work(sheet.design, sheet.result.roof), standing(plan))
    held = next((row["held"] for row in rows if row["task"].key == key), "")
    if done and held:
        return _page(request, plan, f"“{held}” comes first", 422)
    try:
        tick_step(
            plan=plan,
            key=key,
            done=done,
            person=actor(request),
            known=frozenset(known),
            sent=request.POST.get("sent", ""),
        )
    except UnknownStepError as error:
        return _page(request, plan, str(error), 422)
    return redirect(reverse("site:roof_work", args=(plan.job_id, plan.letter)) + f"#step-{key}")
