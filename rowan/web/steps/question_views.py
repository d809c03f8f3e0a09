"""Views of the pages that are asked something: a loop as found, a line of a data sheet, a pump by its points."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from pydantic import ValidationError

from rowan.core.goods.items import PumpItem
from rowan.core.records.data_sheet_line import LINES, readings, stored
from rowan.core.steps.run.own_pump import speeds_from_csv
from rowan.core.studies.choices import typed_store
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import fixed
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.selectors import actor, worked_plan_of
from rowan.web.steps.charge.vessel_page import vessel_context, vessel_fields, vessel_from
from rowan.web.steps.page import frame
from rowan.web.steps.questions import found_context, pump_context, pump_from, reading_context
from rowan.web.steps.run.charts import pump_chart
from rowan.web.steps.run.grid import grid_changes, grid_context
from rowan.web.steps.schools import schools_context
from rowan.web.steps.store.data_sheet import store_context, store_fields, store_from
from rowan.web.steps.survey.measure import NAMES, asked, measure_context, measured
from rowan.web.ui.context import units_of
from rowan.web.ui.methods import takes_forms

UNPROCESSABLE, CONFLICT = 422, 409
LARGEST_CSV_BYTES = 100_000
# the template of each question
PAGES = {
    "store_sheet": "store/datasheet",
    "vessel_sheet": "charge/vessel",
    "measure": "survey/measure",
    "schools": "schools",
    "found": "charge/found",
    "reading": "reading",
    "grid": "run/grid",
    "pump": "run/pump",
}
CHANGED = "somebody changed this plan meanwhile; the page shows the newest state, send it again"


def _page(request: HttpRequest, plan: Plan, key: str, context: dict[str, Any], status: int = 200) -> HttpResponse:
    whole = {**frame(plan, plan.head, _sheet(request, plan), key), **context}
    return render(request, f"steps/{PAGES[key]}.html", whole, status=status)


def _sheet(request: HttpRequest, plan: Plan) -> Sheet:
    return sheet_of(plan, units_of(request))


def _keep(request: HttpRequest, plan: Plan, changes: list[Change], words: str) -> None:
    """Save what a page changes. Raises StaleRevisionError or RowanError."""
    try:
        revision = int(request.POST.get("revision", ""))
    except ValueError as error:
        raise Http404 from error
    services.change_plan(
        plan=plan, author=actor(request), based_on=revision, edit=services.Edit(changes, changes[0].path, words)
    )


def schools(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Where installers differ, and what each school comes to on this job."""
    plan = worked_plan_of(request, job, letter)
    return _page(request, plan, "schools", schools_context(_sheet(request, plan)))


def found(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What the gauge of a loop says today."""
    plan = worked_plan_of(request, job, letter)
    context = found_context(_sheet(request, plan), request.GET.dict())
    wrong = any(field.wrong for field in context["fields"]) or "problem" in context
    return _page(request, plan, "found", context, UNPROCESSABLE if wrong else 200)


@takes_forms
def reading(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """A line of a data sheet, read in every way it may mean; one of them taken."""
    plan = worked_plan_of(request, job, letter)
    typed = (request.POST if request.method == "POST" else request.GET).dict()
    sheet = _sheet(request, plan)
    context, status = reading_context(sheet, typed), 200
    if context["wrong"]:
        status = UNPROCESSABLE
    elif request.method == "POST":
        status, notice = _take_reading(request, plan, sheet, typed)
        if not notice:
            return redirect("steps:reading", plan.job_id, plan.letter)
        context["notice"] = notice
    return _page(request, plan, "reading", context, status)


def _take_reading(request: HttpRequest, plan: Plan, sheet: Sheet, typed: dict[str, str]) -> tuple[int, str]:
    """Put a chosen reading into the plan's collector; a status and what was wrong, or nothing."""
    line = typed.get("line", "")
    if line not in LINES:
        raise Http404
    try:
        offered = readings(sheet.design, sheet.result, line=line, text=typed.get("text", ""), system=sheet.units)
        chosen = offered[int(typed.get("take", ""))]
    except (ValueError, IndexError) as error:
        raise Http404 from error
    words, key = LINES[line]
    item = sheet.design.collector.item.value
    data = item.model_dump() | {key: round(stored(line, chosen.each), 6)}
    try:
        changed = type(item).model_validate(data)
        _keep(
            request,
            plan,
            [Change("collector.item", changed, "data sheet")],
            tr("{words} read as {chosen}", words=words, chosen=chosen.words),
        )
    except services.StaleRevisionError:
        return CONFLICT, CHANGED
    except ValidationError:
        return UNPROCESSABLE, "no collector has that"
    except RowanError as error:
        return UNPROCESSABLE, error.text(sheet.units)
    return 200, ""


@takes_forms
def legs(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The legs as a grid, saved in one step; what cannot be is shown where it was typed."""
    plan = worked_plan_of(request, job, letter)
    sheet = _sheet(request, plan)
    if request.method != "POST":
        return _page(request, plan, "grid", grid_context(sheet, {}, {}))
    posted = request.POST.dict()
    changes, wrong = grid_changes(sheet.design, posted, sheet.units)
    notice, status = "", UNPROCESSABLE
    if not wrong:
        if not changes:
            return redirect("steps:bench", plan.job_id, plan.letter, "run")
        try:
            _keep(request, plan, changes, tr("{changes} fields of the legs typed", changes=len(changes)))
            return redirect("steps:bench", plan.job_id, plan.letter, "run")
        except services.StaleRevisionError:
            notice, status = tr("Not saved: {refusal}.", refusal=CHANGED), CONFLICT
        except RowanError as error:
            notice = tr("Not saved: {units}.", units=error.text(sheet.units))
    return _page(request, plan, "grid", {**grid_context(sheet, posted, wrong), "notice": notice}, status)


@takes_forms
def store_sheet(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan's store as its data sheet has it; typed anew it becomes the plan's, with its ports."""
    plan = worked_plan_of(request, job, letter)
    units, design = units_of(request), reckoned(plan.head).design
    item = design.store.item.value
    if request.method != "POST":
        return _page(request, plan, "store_sheet", store_context(item, store_fields(item, units)))
    post, status = request.POST.dict(), UNPROCESSABLE
    made, fields, problem = store_from(post, item, units)
    if made is not None:
        changes = typed_store(design, made)
        try:
            _keep(request, plan, changes, tr("data sheet of {name}", name=made.name))
            return redirect("steps:store_sheet", plan.job_id, plan.letter)
        except services.StaleRevisionError:
            status, problem = CONFLICT, CHANGED
        except RowanError as error:
            problem = error.text(units)
    return _page(request, plan, "store_sheet", store_context(item, fields, post, problem), status)


@takes_forms
def measure(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What a phone's readings say of the roof, and into the plan with them."""
    plan = worked_plan_of(request, job, letter)
    design = reckoned(plan.head).design
    if request.method != "POST":
        return _page(request, plan, "measure", measure_context(design, request.GET.dict()))
    data = request.POST.dict()
    what, status, context = asked(data), 200, measure_context(design, data)
    if "problem" in context:
        status = UNPROCESSABLE
    elif data.get("do") == "use" and context.get("can_use"):
        try:
            found, changes = measured(design, what, data)
            _keep(
                request,
                plan,
                changes,
                tr(
                    "{what} measured with the phone: {angle}° ± {within}°",
                    what=NAMES[what],
                    angle=fixed(found.value, 1),
                    within=fixed(max(found.within, 0.1), 1),
                ),
            )
            return redirect("steps:bench", plan.job_id, plan.letter, "sun" if what == "horizon" else "survey")
        except services.StaleRevisionError:
            status, context = CONFLICT, {**context, "notice": CHANGED}
        except RowanError as error:
            status, context = UNPROCESSABLE, {**context, "notice": error.text(units_of(request))}
    return _page(request, plan, "measure", context, status)


@takes_forms
def vessel_sheet(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan's vessel as its plate has it; typed anew it becomes the plan's."""
    plan = worked_plan_of(request, job, letter)
    units, design = units_of(request), reckoned(plan.head).design
    if request.method != "POST":
        return _page(request, plan, "vessel_sheet", vessel_context(design, vessel_fields(design, units), units))
    status = UNPROCESSABLE
    changes, fields, problem = vessel_from(request.POST.dict(), design, units)
    if changes:
        try:
            _keep(request, plan, changes, "data sheet of the vessel")
            return redirect("steps:vessel_sheet", plan.job_id, plan.letter)
        except services.StaleRevisionError:
            status, problem = CONFLICT, CHANGED
        except RowanError as error:
            problem = error.text(units)
    return _page(request, plan, "vessel_sheet", vessel_context(design, fields, units, problem), status)


@takes_forms
def pump(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan's pump by its points, typed or from a CSV."""
    plan = worked_plan_of(request, job, letter)
    units = units_of(request)
    item = reckoned(plan.head).design.run.pump.value
    if request.method != "POST":
        return _pump_page(request, plan, pump_context(item, units, None, ""))
    typed = request.POST.dict()
    status = UNPROCESSABLE
    try:
        made = _pump_file(request, item) if typed.get("do") == "file" else pump_from(typed, item, units)
        speed = min(reckoned(plan.head).design.run.speed.value, len(made.speeds))
        changes = [Change("run.pump", made, "data sheet"), Change("run.speed", speed)]
        _keep(request, plan, changes, f"pump: {made.name}")
        return redirect("steps:bench", plan.job_id, plan.letter, "run")
    except services.StaleRevisionError:
        status, problem = CONFLICT, CHANGED
    except ValidationError as error:
        problem = str(error.errors(include_url=False)[0]["msg"])
    except RowanError as error:
        problem = error.text(units)
    kept = None if typed.get("do") == "file" else typed
    return _pump_page(request, plan, pump_context(item, units, kept, problem), status)


def _pump_page(request: HttpRequest, plan: Plan, context: dict[str, Any], status: int = 200) -> HttpResponse:
    """The page with the chart of the pump the plan has now."""
    return _page(request, plan, "pump", context | {"chart": pump_chart(_sheet(request, plan))}, status)


def _pump_file(request: HttpRequest, base: PumpItem) -> PumpItem:
    """The pump in a CSV that was sent; what the file does not say is the plan's. Raises RowanError."""
    file = request.FILES.get("file")
    if file is None:
        raise TypedNumberError("choose a file first, or drop one on this page")
    if (file.size or 0) > LARGEST_CSV_BYTES:
        raise TypedNumberError("a pump's points are a few lines; this file is larger than any")
    try:
        text = file.read().decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise TypedNumberError("this is no text file in UTF-8") from error
    name = (file.name or "pump").rsplit("/", 1)[-1].rsplit(".", 1)[0][:60]
    data = base.model_dump() | {"name": name or "pump", "speeds": speeds_from_csv(text, units_of(request))}
    return PumpItem.model_validate(data)
