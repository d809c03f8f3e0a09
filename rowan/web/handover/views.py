"""The Hand over bench, its papers, links for whoever lives there, the drill that reads the settings again."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.dateparse import parse_date

from rowan.core.records.handover import hidden_legs
from rowan.web.handover.drawing import sheet_hint
from rowan.web.handover.pack import Pack
from rowan.web.handover.papers import OWN, gauge_drawing, mode_rows, pack_pdf, paper_pdf, tags
from rowan.web.handover.services import choose as choose_papers
from rowan.web.handover.services import set_offsets
from rowan.web.house import services as house
from rowan.web.papers.sheets import SIZES, usual_size
from rowan.web.papers.views import paper_answer, paper_units
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import problem


def _open_part(pack: Pack, key: str) -> dict[str, Any]:
    """What the open paper shows on the bench."""
    found: dict[str, Any] = {}
    if key == "normal" and (drawing := gauge_drawing(pack)) is not None:
        found["gauge"] = drawing.svg()
    if key == "modes":
        found |= {"rows": mode_rows(pack, lambda drawn: drawn.svg()), "tags": [tag.svg() for tag in tags(pack)[:1]]}
        found["tag_count"] = len(tags(pack))
    return found


def bench(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What is handed over: the papers in order, the open one, what is missing, the links, the diary."""
    plan, units = plan_of(request, job, letter), units_of(request)
    pack = Pack(plan, units)
    asked = request.GET.get("paper", "normal")
    opened = asked if any(paper.key == asked for paper in pack.papers) else "card"
    rows = [
        {"paper": paper, "hint": sheet_hint(paper.key, bool(paper.lacks), paper.key == opened).svg(), "open": paper.key == opened,
         "in_pack": paper.key not in pack.handover.left_out}
        for paper in pack.papers
    ]  # fmt: skip
    ready = sum(not any(lack.level == "fix" for lack in paper.lacks) for paper in pack.papers)
    links = plan.house_links.filter(revoked=None)
    context = {
        **frame(plan, plan.head, pack.sheet, "handover"),
        **pack.words(),
        **_open_part(pack, opened),
        "pack": pack,
        "rows_of_papers": rows,
        "opened": opened,
        "own": OWN,
        "ready": ready,
        "lacks": [(paper, lack) for paper in pack.papers for lack in paper.lacks],
        "first_lack": next((lack for paper in pack.papers for lack in paper.lacks), None),
        "has_card": links.filter(kind="card").exists(),
        "size": usual_size(paper_units(request, plan)),
        "sizes": SIZES,
        "links": [{"link": link, "address": house.house_address(request, link)} for link in links],
        "diary": plan.job.diary.select_related("person")[:12],
        "today": timezone.localdate(),
        "month": pack.months[timezone.localdate().month - 1] if pack.months else None,
    }
    return render(request, "handover/bench.html", context)


@forms_only
def choose(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """When it is handed over, and without which papers."""
    plan = plan_of(request, job, letter)
    try:
        on = parse_date(request.POST.get("on", ""))
    except ValueError:
        on = None
    keys = {paper.key for paper in Pack(plan, units_of(request)).papers}
    left_out = sorted(keys - set(request.POST.getlist("paper")))
    choose_papers(plan=plan, person=actor(request), on=on, left_out=left_out)
    return redirect("handover:bench", plan.job_id, plan.letter)


@forms_only
def offsets(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Where the hidden pipes lie, as they were measured while they were seen."""
    plan = plan_of(request, job, letter)
    named = {leg.id for leg in hidden_legs(Pack(plan, units_of(request)).sheet.design)}
    said = {key: request.POST[f"offset-{key}"].replace("\x00", "") for key in named if f"offset-{key}" in request.POST}
    set_offsets(plan=plan, person=actor(request), offsets=said)
    return redirect(reverse("handover:bench", args=(plan.job_id, plan.letter)) + "?paper=route#open-paper")


@forms_only
def links(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """A new link, or one taken back."""
    plan, person = plan_of(request, job, letter), actor(request)
    number = request.POST.get("end", "")
    if number.isdecimal() and len(number) < 10:
        house.take_back_link(link=get_object_or_404(plan.house_links, pk=int(number)), person=person)
    else:
        kind = "card" if request.POST.get("kind") == "card" else "sent"
        try:
            house.give_link(plan=plan, person=person, kind=kind)
        except WebError as error:
            return problem(request, "Not done", str(error))
    return redirect("handover:bench", plan.job_id, plan.letter)


def paper(request: HttpRequest, job: int, letter: str, key: str) -> HttpResponse:
    """A paper of the pack as PDF."""
    plan = plan_of(request, job, letter)
    if key not in OWN:
        raise Http404
    make = partial(paper_pdf, key=key, address=house.card_address(request, plan))
    return paper_answer(request, plan, f"{key}.pdf", make)


def whole_pack(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Every chosen paper in one file."""
    plan = plan_of(request, job, letter)
    address = house.card_address(request, plan)
    return paper_answer(request, plan, "pack.pdf", partial(pack_pdf, address=address, card_address=address))
