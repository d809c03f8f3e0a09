"""The list of jobs with the four facts above it."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from rowan.core.design.changes import assumed, inputs
from rowan.core.design.design import Design
from rowan.core.errors import RowanError
from rowan.core.propose import propose
from rowan.core.reckon import Reckoning, reckon
from rowan.core.units import KWH, LITRE, System, number_text, shown_number, unit_label
from rowan.web.benches.bench import STEPS, Sheet
from rowan.web.benches.loop import small_loop, small_tape
from rowan.web.benches.registry import BENCHES
from rowan.web.jobs.forms import FactsForm
from rowan.web.jobs.models import Job
from rowan.web.jobs.selectors import actor
from rowan.web.jobs.services import design_of, start_from_facts
from rowan.web.ui.context import units_of


@dataclass(frozen=True)
class Proposal:
    """What the facts lead to, or why they lead nowhere."""

    context: dict[str, object]

    @classmethod
    def of(cls, form: FactsForm, request: HttpRequest) -> Proposal:
        """The proposal of a form."""
        if not form.is_valid():
            return cls({"problem": "Fill the blanks and the proposal appears here."})
        try:
            design = propose(form.facts())
            result = reckon(design)
        except RowanError as error:
            return cls({"problem": f"No plan fits these facts: {error}."})
        sheet = Sheet(design, result, units_of(request))
        return cls(
            {
                "design": design,
                "figures": result.figures,
                "sizes": _sizes(design, units_of(request)),
                "drawing": small_loop(sheet).svg(),
                "findings": result.findings,
                "assumed_count": len(assumed(design)),
                "input_count": sum(1 for _ in inputs(design)),
            }
        )


def _sizes(design: Design, units: System) -> dict[str, tuple[str, str]]:
    """Aperture of one collector, store and vessel as number and unit."""
    sizes = {
        "each": (design.collector.item.value.aperture_m2, "area"),
        "store": (design.store.item.value.contents_l * LITRE, "tank"),
        "vessel": (design.charge.vessel_l.value * design.charge.vessels.value * LITRE, "tank"),
    }
    return {
        name: (shown_number(value, dimension, units), unit_label(dimension, units))
        for name, (value, dimension) in sizes.items()
    }


def _stands_at(result: Reckoning) -> int:
    """The step a job stands at: the first with something to stop or mend, else the last that is built."""
    keys = [key for key, _ in STEPS]
    open_steps = [keys.index(f.stage) for f in result.findings if f.level != "mind"]
    return min(open_steps, default=max(keys.index(key) for key in BENCHES))


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _ledger(request: HttpRequest) -> list[dict[str, object]]:
    rows = []
    for job in Job.objects.visible(actor(request)).filter(archived=False).prefetch_related("plans"):
        plan = job.plans.all().first()
        if plan is None:
            continue
        head = plan.head
        design = design_of(head)
        result = reckon(design)
        finding = next(iter(result.findings), None)
        heat = number_text(head.year_heat_j / KWH, 0) if head.year_heat_j is not None else ""
        rows.append(
            {
                "job": job,
                "plan": plan,
                "head": head,
                "design": design,
                "heat": heat,
                "finding": finding,
                "plans": job.plans.all(),
                "sizes": _sizes(design, units_of(request)),
                "next": _capital(finding.title.text(units_of(request))) if finding else "",
                "tape": small_tape(_stands_at(result), tuple(name for _, name in STEPS), f"tape-{job.pk}").svg(),
                "drawing": small_loop(Sheet(design, result, units_of(request)), 48, 64, f"job-{job.pk}").svg(),
            }
        )
    return rows


@require_GET
def job_list(request: HttpRequest) -> HttpResponse:
    """Four facts, and the firm's jobs."""
    form = FactsForm(FactsForm.START)
    proposal = Proposal.of(form, request)
    return render(request, "jobs/list.html", {"form": form, "rows": _ledger(request), **proposal.context})


@require_GET
def proposal(request: HttpRequest) -> HttpResponse:
    """The live proposal beside the facts."""
    form = FactsForm(request.GET)
    return render(request, "jobs/proposal.html", Proposal.of(form, request).context)


@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """A new job from four facts."""
    form = FactsForm(request.POST)
    person = actor(request)
    if person.firm is None:
        raise PermissionDenied
    if form.is_valid():
        try:
            plan = start_from_facts(firm=person.firm, author=person, title=form.job_title(), facts=form.facts())
            return redirect("benches:bench", plan.job_id, plan.letter, "charge")
        except RowanError as error:
            form.add_error(None, f"No plan fits these facts: {error}.")
    context = {"form": form, "rows": _ledger(request), **Proposal.of(form, request).context}
    return render(request, "jobs/list.html", context, status=422)
