"""HTTP in, one service call, HTTP out."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import PurePath
from urllib.parse import urlencode

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import ORIGINS, Origin
from rowan.core.design.lists import add_entry, remove_entry
from rowan.core.design.moves import handle_changes
from rowan.core.terms.errors import JobFileError, RowanError, TypedNumberError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.core.weather.files import LARGEST_BYTES as LARGEST_WEATHER_BYTES
from rowan.core.weather.files import WeatherFileError, read_weather
from rowan.web.benches.sheet import sheet_of
from rowan.web.editing.blanks import Blank, RefusedInputError, blank, changes_from_text, shown_value, typed_number
from rowan.web.plans import services
from rowan.web.plans.models import Plan, Revision, WeatherYear
from rowan.web.plans.selectors import actor, job_of, plan_of, worked_plan_of
from rowan.web.plans.weather import changes_to_place, changes_to_year, keep_weather
from rowan.web.steps.collector.data_sheet import fields_of, item_from, sheet_context
from rowan.web.steps.looks import look_of
from rowan.web.steps.page import BESIDE, Refusal, bench_page, frame, leave_runs, page_address, run_page, told
from rowan.web.steps.registry import BENCHES, PAGES
from rowan.web.steps.study_registry import RUNS
from rowan.web.steps.survey.climate import MonthRow, climate_context, normals_from
from rowan.web.ui.context import is_piece, units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.sentences import sentence

UNPROCESSABLE, CONFLICT = 422, 409
MOST_DIGITS = 9
LOOK_AGAIN_S = 2  # until a page without a script asks again for a run

# the id of a change, as a browser makes it
SENT = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def based_on(request: HttpRequest) -> int:
    """The revision a form was made from; 404 for nonsense."""
    try:
        return int(request.POST.get("revision", ""))
    except ValueError as error:
        raise Http404 from error


def _known_page(key: str) -> str:
    return key if key in PAGES or key in BESIDE else next(iter(BENCHES))


def _bench_key(request: HttpRequest) -> str:
    key = request.POST.get("bench", "")
    return key if key in PAGES else next(iter(BENCHES))


def page_key(request: HttpRequest) -> str:
    """The page a request says it comes from, by form or address; the first bench where it says none."""
    return _known_page(request.POST.get("bench", "") or request.GET.get("bench", ""))


def _back(request: HttpRequest, plan: Plan, saved: Revision | None = None) -> HttpResponse:
    key = request.POST.get("bench", "")
    if request.headers.get("X-Alpine-Request") and key in PAGES:
        # the script swaps the page in: one way there and back instead of two
        page = bench_page(plan, PAGES[key], units_of(request), look=look_of(request, plan), saved=saved or plan.head)
        words = told(page["sheet"], PAGES[key])
        return render(request, "steps/bench.html", page | {"whys_later": bool(page["later"]), "told": words})
    return redirect(page_address(plan, key if key in BESIDE else _bench_key(request)))


def refused(request: HttpRequest, plan: Plan, refusal: Refusal, status: int) -> HttpResponse:
    """The page again with what was refused and what was typed."""
    page = bench_page(plan, PAGES[_bench_key(request)], units_of(request), refusal, look_of(request, plan))
    if refusal.blank is not None and not _shown_on(page, refusal.blank):
        page["loose_blank"] = refusal.blank
    return render(request, "steps/bench.html", page, status=status)


def _shown_on(page: dict[str, object], refused: Blank) -> bool:
    shown = [*page["line"], *page["more"], *(cell for row in page["legs"] for cell in row["cells"])]  # type: ignore[misc,attr-defined]
    return any(isinstance(entry, Blank) and entry.path == refused.path for entry in shown)


@record
class Attempt:
    """What somebody tries to change, so that nothing of it is lost where it cannot be saved: the input's path, what was typed
    in the reader's unit, the origin chosen, and how a refusal begins."""

    path: str = ""
    typed: str = ""
    origin: Origin | None = None
    verb: str = "Not done"


def edit(
    request: HttpRequest,
    plan: Plan,
    act: Callable[[int], Revision],
    attempt: Attempt,
    back: Callable[[HttpRequest, Plan, Revision], HttpResponse] | None = None,
) -> HttpResponse:
    """The one way every change of a plan goes: `act` is given the revision it is based on and saves, or raises.

    A refusal shows the page with what was typed; a plan that moved on meanwhile shows its newest state with the same.
    """
    units = units_of(request)
    plan.sending = sent_id(request)
    try:
        saved = services.sent_before(plan) or _saved(request, plan, act, attempt)
    except services.StaleRevisionError as error:
        return stale(request, plan, error, attempt)
    except (WebError, RowanError) as error:
        words = words_of(error, units)
        again = None
        if attempt.path and not attempt.verb:
            readings = error.readings if isinstance(error, RefusedInputError | TypedNumberError) else ()
            message = sentence(words) if isinstance(error, RowanError) else words
            again = _again(plan, attempt, units, message, readings)
        notice = "" if again else (f"{attempt.verb}: {words}." if attempt.verb else sentence(words))
        return refused(request, plan, Refusal(again, notice, attempt.typed, attempt.path), UNPROCESSABLE)
    if saved.follows is not None:
        leave_runs(plan)
    return (back or _back)(request, plan, saved)


def _saved(request: HttpRequest, plan: Plan, act: Callable[[int], Revision], attempt: Attempt) -> Revision:
    """What `act` saves. A change that comes late, for it was kept in a browser, goes on top of what others changed meanwhile
    where none of them touched the same input; else it is overtaken like any other. Raises as `act` does."""
    number = based_on(request)
    try:
        return act(number)
    except services.StaleRevisionError as error:
        if not request.POST.get("late") or not services.overtakes_nobody(plan, number, attempt.path):
            raise
        return act(error.head.number)


def sent_id(request: HttpRequest) -> str | None:
    """The id a browser gave to what it sends; None where it gave none that can be one."""
    given = request.POST.get("sent", "")
    return given if SENT.fullmatch(given) else None


def _again(plan: Plan, attempt: Attempt, units: System, error: str, readings: tuple[str, ...] = ()) -> Blank | None:
    """The input with what was typed in it, open; None for what is no input."""
    try:
        return blank(
            services.design_of(plan.head),
            attempt.path,
            units,
            typed=attempt.typed,
            error=error,
            readings=readings,
            chosen=attempt.origin,
        )
    except JobFileError:
        return None


def stale(request: HttpRequest, plan: Plan, error: services.StaleRevisionError, attempt: Attempt) -> HttpResponse:
    """The newest state, with what was typed on top of an older one kept open."""
    who = (
        error.head.author.name
        if error.head.author and error.head.author_id != actor(request).pk
        else "you, in another window,"
    )
    notice = tr(
        "Not saved: {who} changed this plan meanwhile ({summary}). The page now shows the newest state.",
        who=who,
        summary=error.head.summary,
    )
    words = "Not saved yet. Save it again to put it on top of the newest state."
    again = _again(plan, attempt, units_of(request), words)
    merge = "" if again is None else _merge_address(request, plan, attempt)
    return refused(request, plan, Refusal(again, notice, attempt.typed, attempt.path, merge), CONFLICT)


def _merge_address(request: HttpRequest, plan: Plan, attempt: Attempt) -> str:
    """Where both hands are laid side by side: what I typed, on the state I saw."""
    query = {
        "since": based_on(request),
        "path": attempt.path,
        "value": attempt.typed,
        "origin": attempt.origin or "",
        "bench": _bench_key(request),
    }
    return f"{reverse('history:merge', args=(plan.job_id, plan.letter))}?{urlencode(query)}"


def open_job(request: HttpRequest, job: int) -> HttpResponse:
    """The first plan of a job."""
    found = job_of(request, job)
    plan = found.plans.first()
    if plan is None:
        raise Http404
    return redirect("steps:bench", found.pk, plan.letter, "charge")


def bench(request: HttpRequest, job: int, letter: str, key: str) -> HttpResponse:
    """One bench of one plan."""
    if key not in PAGES:
        raise Http404
    plan = worked_plan_of(request, job, letter)
    look = look_of(request, plan)
    page = bench_page(plan, PAGES[key], units_of(request), look=look)
    return render(request, "steps/bench.html", page, status=UNPROCESSABLE if look.wrong else 200)


@forms_only
def set_input(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Save what was typed into a blank."""
    plan = worked_plan_of(request, job, letter)
    path, text = request.POST.get("path", ""), request.POST.get("value", "")
    asked = request.POST.get("origin", "")
    origin: Origin = asked if asked in ORIGINS else "measured"
    units, head = units_of(request), plan.head
    design = services.design_of(head)
    try:
        before = locate(design, path)
    except JobFileError as error:
        raise Http404 from error

    def act(number: int) -> Revision:
        changes = changes_from_text(design, path, text, units)
        summary = tr(
            "{label}: {shown_value} to {text}",
            label=before.spec.label,
            shown_value=shown_value(before, "metric"),
            text=text.strip(),
        )
        made = services.Edit(changes, path, summary, origin, Revision.Kind.TYPED)
        return services.change_plan(plan=plan, author=actor(request), based_on=number, edit=made, head=head)

    return edit(request, plan, act, Attempt(path, text, origin, verb=""))


def slip(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The slip of one input, for a page that was swapped in without it: it is saved on top of that page's revision."""
    plan = worked_plan_of(request, job, letter)
    if not is_piece(request):
        return redirect(page_address(plan, _known_page(request.GET.get("bench", ""))))
    try:
        item = blank(services.design_of(plan.head), request.GET.get("path", ""), units_of(request))
        number = int(request.GET.get("revision", ""))
    except (JobFileError, ValueError) as error:
        raise Http404 from error
    context = {
        "item": item,
        "revision_number": number,
        "bench_key": _known_page(request.GET.get("bench", "")),
        "set_address": reverse("steps:set", args=(plan.job_id, plan.letter)),
        "piece": False,  # here the form is what is asked for
    }
    return render(request, "steps/slip.html", context)


@forms_only
def drag(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Save what was dragged or nudged on a drawing: a stored number for an input or a handle."""
    plan = worked_plan_of(request, job, letter)
    path = request.POST.get("path", "")
    head = plan.head
    design = services.design_of(head)
    try:
        value = float(request.POST.get("value", ""))
        second = float(request.POST["second"]) if request.POST.get("second") else None
    except ValueError as error:
        raise Http404 from error
    origin: Origin = "agreed" if path.startswith(("charge", "control", "collector")) else "measured"

    def act(number: int) -> Revision:
        changes = handle_changes(design, path, value, second)
        kind, colon, _ = path.partition(":")
        label = tr("{kind} moved", kind=kind) if colon else locate(design, path).spec.label + " moved"
        made = services.Edit(changes, path, tr("{label} on the drawing", label=label), origin, Revision.Kind.TYPED)
        return services.change_plan(plan=plan, author=actor(request), based_on=number, edit=made, head=head)

    typed = _in_reader_s_unit(design, path, value, units_of(request))
    return edit(request, plan, act, Attempt(path, typed, origin, verb="Not moved"))


def _in_reader_s_unit(design: Design, path: str, value: float, units: System) -> str:
    """A dragged number as the reader would have typed it; empty for a handle that is no input."""
    try:
        return typed_number(replace(locate(design, path), value=value), units)
    except RowanError:
        return ""


def change_and_back(request: HttpRequest, plan: Plan, changes: list[Change], words: str) -> HttpResponse:
    """Save agreed changes that belong together, and show the bench again."""

    def act(number: int) -> Revision:
        made = services.Edit(changes, "", words, "agreed")
        return services.change_plan(plan=plan, author=actor(request), based_on=number, edit=made)

    return edit(request, plan, act, Attempt(verb="Not taken"))


@forms_only
def entries(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Add to a list of the plan or take from it."""
    plan = worked_plan_of(request, job, letter)
    design = services.design_of(plan.head)
    add, remove = request.POST.get("add", ""), request.POST.get("remove", "")

    def act(number: int) -> Revision:
        change, words = add_entry(design, add) if add else remove_entry(design, request.POST.get("list", ""), remove)
        made = services.Edit([change], "", words)
        return services.change_plan(plan=plan, author=actor(request), based_on=number, edit=made)

    return edit(request, plan, act, Attempt())


@forms_only
def cure(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Try a finding's cure."""
    plan = worked_plan_of(request, job, letter)
    try:
        index = int(request.POST.get("cure", ""))
    except ValueError as error:
        raise Http404 from error
    key = request.POST.get("finding", "")

    def act(number: int) -> Revision:
        return services.apply_cure(plan=plan, author=actor(request), based_on=number, finding_key=key, cure_index=index)

    return edit(request, plan, act, Attempt(verb="Not tried"))


@forms_only
def step(request: HttpRequest, job: int, letter: str, direction: str) -> HttpResponse:
    """Undo or redo."""
    plan = worked_plan_of(request, job, letter)
    action = services.undo if direction == "undo" else services.redo
    return edit(
        request,
        plan,
        lambda number: action(plan=plan, author=actor(request), based_on=number),
        Attempt(verb=""),
    )


@forms_only
def copy(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """A further plan with this plan's design."""
    plan = plan_of(request, job, letter)
    try:
        made = services.copy_plan(plan=plan, author=actor(request))
    except WebError as error:
        return refused(request, plan, Refusal(None, sentence(str(error))), UNPROCESSABLE)
    return redirect("steps:bench", made.job_id, made.letter, _bench_key(request))


def assumed_list(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What nobody has measured, read or agreed yet."""
    plan = worked_plan_of(request, job, letter)
    units = units_of(request)
    sheet = sheet_of(plan, units)
    design = sheet.design
    benches = {key: bench.name for key, bench in BENCHES.items()} | {
        "duty": "Survey",
        "money": "Collector",
        "functions": "Control",
    }
    told = sheet.kept.guesses() if sheet.kept is not None else ()
    rows = [
        (benches.get(guess.found.path.split(".")[0], ""), blank(design, guess.found.path, units), guess)
        for guess in told
    ]
    context = {**frame(plan, plan.head, sheet, "assumed"), "assumed_rows": rows}
    return render(request, "steps/assumed.html", context)


def _climate_page(
    request: HttpRequest, plan: Plan, status: int = 200, rows: list[MonthRow] | None = None, **more: object
) -> HttpResponse:
    sheet = sheet_of(plan, units_of(request))
    context = {
        **frame(plan, plan.head, sheet, "climate"),
        **climate_context(plan, sheet, rows),
        "design_place": sheet.design.survey.place.value,
        **more,
    }
    return render(request, "steps/survey/climate.html", context, status=status)


def _weather_file(request: HttpRequest, plan: Plan) -> WeatherYear:
    """The year in the file sent. Raises WeatherFileError."""
    file = request.FILES.get("file")
    if file is None:
        raise WeatherFileError("choose a file first, or drop one on this page")
    name = PurePath(file.name or "weather file").name[:60]
    if (file.size or 0) > LARGEST_WEATHER_BYTES:
        raise WeatherFileError(
            tr(
                "{name} has {size} MB; a year of hours has one or two",
                name=name,
                size=f"{(file.size or 0) / 1e6:.0f}",
            )
        )
    return keep_weather(firm=plan.job.firm, found=read_weather(name, file.read()))


def _climate_changes(request: HttpRequest, plan: Plan, do: str) -> tuple[list[Change], str]:
    """What a form of the climate page changes, and how the history words it. Raises WeatherFileError; 404 for nonsense."""
    if do == "file":
        year = _weather_file(request, plan)
        return changes_to_year(year), tr("weather of {name}", name=year.name)
    if do == "year":
        year = get_object_or_404(WeatherYear, firm_id=plan.job.firm_id, pk=_number_or_404(request.POST.get("year", "")))
        return changes_to_year(year), tr("weather of {name}", name=year.name)
    changes = (
        changes_to_place(services.design_of(plan.head), request.POST.get("place", ""), plan.job.firm)
        if do == "place"
        else []
    )
    if not changes:
        raise Http404
    return changes, tr("climate of {place}", place=request.POST["place"])


def _number_or_404(text: str) -> int:
    if not text.isdecimal() or len(text) > MOST_DIGITS:
        raise Http404
    return int(text)


@takes_forms
def climate(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The climate of a plan, and the ways to change it."""
    plan = worked_plan_of(request, job, letter)
    if request.method != "POST":
        return _climate_page(request, plan)
    do = request.POST.get("do", "")
    rows: list[MonthRow] | None = None
    try:
        if do == "normals":
            changes, rows = normals_from(request.POST.dict(), units_of(request))
            if not changes:
                return _climate_page(request, plan, UNPROCESSABLE, rows)
            words = "twelve means typed"
        else:
            changes, words = _climate_changes(request, plan, do)
        edit = services.Edit(changes, "", words)
        services.change_plan(plan=plan, author=actor(request), based_on=based_on(request), edit=edit)
    except services.StaleRevisionError:
        notice = "Not changed: somebody changed this plan meanwhile. The page now shows the newest state."
        return _climate_page(request, plan, CONFLICT, rows, notice=notice)
    except RowanError as error:
        return _climate_page(
            request, plan, UNPROCESSABLE, notice=tr("Not taken in: {error}.", error=error.text(units_of(request)))
        )
    if do == "file":
        report = plan.job.firm.weather_years.defer("rows").filter(digest=changes[-1].value.digest).first()
        return _climate_page(request, plan, report=report)
    return redirect("steps:climate", plan.job_id, plan.letter)


@takes_forms
def datasheet(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan's collector as its data sheet has it; typed anew it becomes the plan's."""
    plan = worked_plan_of(request, job, letter)
    units = units_of(request)
    item, status = services.design_of(plan.head).collector.item.value, 200
    fields, post, problem = fields_of(item, units), None, ""
    if request.method == "POST":
        post = request.POST.dict()
        typed, fields, problem = item_from(post, item, units)
        status = UNPROCESSABLE
        if typed is not None:
            change = Change("collector.item", typed, "data sheet")
            edit = services.Edit([change], "collector.item", tr("data sheet of {name}", name=typed.name))
            try:
                services.change_plan(plan=plan, author=actor(request), based_on=based_on(request), edit=edit)
                return redirect("steps:datasheet", plan.job_id, plan.letter)
            except services.StaleRevisionError:
                status, problem = CONFLICT, "somebody changed this plan meanwhile; save it again to put it on top"
            except RowanError as error:
                problem = error.text(units)
    context = {
        **frame(plan, plan.head, sheet_of(plan, units), "datasheet"),
        **sheet_context(item, fields, post, problem),
    }
    return render(request, "steps/collector/datasheet.html", context, status=status)


def run(request: HttpRequest, job: int, letter: str, key: str) -> HttpResponse:
    """A run of many years: what there is so far, begun by being asked for; as a page of its own with `whole`."""
    if key not in RUNS:
        raise Http404
    plan = worked_plan_of(request, job, letter)
    sheet = sheet_of(plan, units_of(request))
    view = run_page(plan, sheet, key, begin=True)
    if is_piece(request) and "whole" not in request.GET:
        around = {
            "revision": plan.head,
            "bench_key": RUNS[key][1],
            "set_address": reverse("steps:set", args=(plan.job_id, plan.letter)),
        }
        return render(request, "steps/run.html", {"run": view, **around})
    context = {
        **frame(plan, plan.head, sheet, RUNS[key][1]),
        "run": view,
        "back": RUNS[key][1],
    }
    answer = render(request, "steps/run_page.html", context)
    if view.waiting:
        answer["Refresh"] = str(LOOK_AGAIN_S)  # without a script it follows all the same, and no request waits for it
    return answer


def export(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """The plan as a job file."""
    plan = worked_plan_of(request, job, letter)
    response = JsonResponse(
        services.design_of(plan.head).model_dump(mode="json"), json_dumps_params={"indent": 1, "ensure_ascii": False}
    )
    response["Content-Disposition"] = f'attachment; filename="rowan-job-{plan.job_id}-{plan.letter}.json"'
    return response
