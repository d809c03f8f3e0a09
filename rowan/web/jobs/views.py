"""The list of jobs with the four facts above it; what is done with a whole job; job files in."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from urllib.parse import urlencode

from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from rowan.core.design.schema import schema_text
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import User
from rowan.web.benches.bench import sheet_from
from rowan.web.benches.loop import small_loop
from rowan.web.care.fleet import ill_loops
from rowan.web.commissioning.dates import reminders
from rowan.web.jobs.facts_band import FACTS_BAND, rounded
from rowan.web.jobs.files import RefusedFileError, read_files
from rowan.web.jobs.forms import FactsForm
from rowan.web.jobs.ledger import A_PAGE, Ask, counted_states, found_jobs, ledger, sizes, spots_of
from rowan.web.jobs.map_drawing import Group, groups, map_drawing
from rowan.web.plans import services
from rowan.web.plans.selectors import actor, job_of
from rowan.web.studies.kinds import Place, run_view
from rowan.web.ui.context import back_to, is_piece, units_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.sentences import sentence

UNPROCESSABLE = 422


@record
class Proposal:
    """What the facts lead to, or why they lead nowhere."""

    context: dict[str, object]

    @classmethod
    def of(cls, form: FactsForm, request: HttpRequest, *, begin: bool = False) -> Proposal:
        """The proposal of a form."""
        if not form.is_valid():
            data = form.errors.as_data()
            wrong = next((e.messages[0] for one in data.values() for e in one if e.code != "required"), "")
            return cls({"problem": wrong or tr("Fill the blanks and the proposal appears here.")})
        units = units_of(request)
        query = urlencode({name: form.data.get(name, "") for name in form.fields})
        try:
            sheet = sheet_from(services.proposal_for(actor(request).firm, form.facts()), units, None)
            design, figures, findings = sheet.design, sheet.figures, sheet.findings
        except RowanError as error:
            return cls({"problem": tr("No plan fits these facts: {units}.", units=error.text(units))})
        return cls(
            {
                "design": design,
                "figures": figures,
                "sizes": sizes(design, units),
                "drawing": small_loop(sheet).svg(),
                "findings": findings,
                "assumed_count": sheet.counted[1],
                "input_count": sheet.counted[0],
                "about": rounded(figures["year_solar"].value) if "year_solar" in figures else None,
                "money": sheet.appraisal.money,
                "currency": design.money.currency.value,
                "band": run_view(
                    FACTS_BAND, sheet, _desk(request), f"{reverse('jobs:facts_band')}?{query}", begin=begin
                ),
            }
        )


def _desk(request: HttpRequest) -> Place:
    """Where somebody's proposal is run: newer facts end the years of the older."""
    person = actor(request)
    return Place(f"facts:{person.pk}", person.firm_id or 0)


def _facts_form(request: HttpRequest, data: Any) -> FactsForm:
    """The four facts, with the places of the person's firm."""
    return FactsForm(data, firm=actor(request).firm)


def _firm_member(request: HttpRequest) -> User:
    person = actor(request)
    if person.firm is None:
        raise PermissionDenied
    return person


def _due(person: User) -> list[dict[str, object]]:
    """What is due at the firm's jobs, and whether its day has passed."""
    today = timezone.localdate()
    return [{"reminder": one, "is_late": one.late(today)} for one in reminders(person)]


def _list(request: HttpRequest, form: FactsForm, status: int = 200, **more: object) -> HttpResponse:
    context = {
        "form": form,
        "here": reverse("jobs:list"),
        **ledger(actor(request), Ask.of(request.GET.dict()), units_of(request)),
        **Proposal.of(form, request).context,
        "due": _due(actor(request)),
        "ill": ill_loops(actor(request)),
        **more,
    }
    return render(request, "jobs/list.html", context, status=status)


def job_list(request: HttpRequest) -> HttpResponse:
    """Four facts, and the firm's jobs."""
    query = request.GET.urlencode()
    here = reverse("jobs:list") + (f"?{query}" if query else "")
    return _list(request, _facts_form(request, FactsForm.START), here=here)


def _leads_to(ask: Ask, dot: Group) -> str:
    """A dot leads to its job, to the list of its jobs, or nearer to more jobs than a page of the list holds."""
    if len(dot.spots) == 1:
        return reverse("dates:job", args=(dot.spots[0].job,))
    south, west, north, east = dot.box
    nearer = len(dot.spots) > A_PAGE and (north > south or east > west) and dot.box != ask.box
    return reverse("jobs:map" if nearer else "jobs:list") + replace(ask, page=1, box=dot.box).query()


def job_map(request: HttpRequest) -> HttpResponse:
    """Where the firm's jobs are; the same question as the list's."""
    ask, person = Ask.of(request.GET.dict()), actor(request)
    jobs = found_jobs(person, ask)
    spots = spots_of(person, jobs)
    dots = groups(spots)
    links = [_leads_to(ask, dot) for dot in dots]
    rows = zip(links, dots, strict=True)
    context = {
        "drawing": map_drawing(dots, links, units_of(request)).svg() if spots else "",
        "rows": [(link, dot.name, len(dot.spots), sum(not spot.own for spot in dot.spots)) for link, dot in rows],
        "ask": ask,
        "back": reverse("jobs:list") + replace(ask, page=1).query(),
        "whole": replace(ask, page=1, box=None).query(),
        "number": len(spots),
        "nowhere": jobs.count() - len(spots),
        "by_place": sum(not spot.own for spot in spots),
        "states": [
            (replace(ask, page=1, state=key).query(), name, count, ask.state == key)
            for key, name, count in counted_states(person, ask)
        ],
        "all_states": replace(ask, page=1, state="").query(),
    }
    return render(request, "jobs/map.html", context)


def proposal(request: HttpRequest) -> HttpResponse:
    """The live proposal beside the facts; opened by itself, the page it stands on."""
    if not is_piece(request):
        return redirect("jobs:list")
    form = _facts_form(request, request.GET)
    return render(request, "jobs/proposal.html", Proposal.of(form, request).context)


def facts_band(request: HttpRequest) -> HttpResponse:
    """Nine made years of the proposal, as far as they are; opened by itself, the page it stands on."""
    form = _facts_form(request, request.GET)
    found = Proposal.of(form, request, begin=True).context if is_piece(request) else {}
    if "band" not in found:
        return redirect("jobs:list")
    return render(request, "jobs/facts_band.html", found)


@forms_only
def start(request: HttpRequest) -> HttpResponse:
    """A new job from four facts."""
    form = _facts_form(request, request.POST)
    person = _firm_member(request)
    if form.is_valid() and person.firm is not None:
        try:
            plan = services.start_from_facts(
                firm=person.firm, author=person, title=form.job_title(), facts=form.facts()
            )
            return redirect("steps:bench", plan.job_id, plan.letter, "survey")
        except RowanError as error:
            form.add_error(None, tr("No plan fits these facts: {error}.", error=error.text(units_of(request))))
    return _list(request, form, UNPROCESSABLE)


@forms_only
def take_in(request: HttpRequest) -> HttpResponse:
    """New jobs from job files; all of them, or none and the reason."""
    person = _firm_member(request)
    assert person.firm is not None  # noqa: S101  _firm_member saw to it
    try:
        designs = read_files(request.FILES.getlist("file"), units_of(request))
        made = services.take_in(firm=person.firm, author=person, designs=designs)
    except RefusedFileError as error:
        return _list(request, _facts_form(request, FactsForm.START), UNPROCESSABLE, file_refusal=str(error))
    if len(made) == 1:
        return redirect("steps:bench", made[0].job_id, made[0].letter, "charge")
    return redirect("jobs:list")


@forms_only
def rename(request: HttpRequest, job: int) -> HttpResponse:
    """Another name for a job; an empty one changes nothing."""
    found = job_of(request, job)
    try:
        title = request.POST.get("title", "").replace("\x00", "")
        services.rename_job(job=found, author=actor(request), title=title, was=request.POST.get("was", ""))
    except WebError as error:
        context = {
            "title": "Not renamed",
            "text": tr(
                "{sentence} It keeps the name it has: {title}.", sentence=sentence(str(error)), title=found.title
            ),
        }
        return render(request, "ui/problem.html", context, status=UNPROCESSABLE)
    return back_to(request, request.POST.get("next", ""))


@forms_only
def paper_units(request: HttpRequest, job: int) -> HttpResponse:
    """The units a job's papers are printed in."""
    services.set_paper_units(job=job_of(request, job), author=actor(request), units=request.POST.get("units", ""))
    return back_to(request, request.POST.get("next", ""))


@forms_only
def duplicate(request: HttpRequest, job: int) -> HttpResponse:
    """A new job with all the plans of this one."""
    copy = services.duplicate_job(job=job_of(request, job), author=actor(request))
    return redirect("steps:job", copy.pk)


@forms_only
def archive(request: HttpRequest, job: int) -> HttpResponse:
    """Off the list of open jobs, or back on it."""
    archived = request.POST.get("archived") == "yes"
    services.archive_job(job=job_of(request, job), author=actor(request), archived=archived)
    return redirect("jobs:list")


def schema(request: HttpRequest) -> HttpResponse:
    """The JSON Schema of the job file."""
    return HttpResponse(schema_text(), content_type="application/schema+json; charset=utf-8")
