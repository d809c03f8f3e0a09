"""The page of whoever lives there: one job by its link, no sign-in. What is on the roof, the monthly look, the papers, whom to call."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from rowan.core.records.care.worth import worth_of
from rowan.core.records.house_look import Look, asked_of
from rowan.core.terms.errors import RowanError
from rowan.core.terms.units import System, typed_to_si
from rowan.web.benches.loop import loop_drawing
from rowan.web.care.models import LoopHealth
from rowan.web.handover.pack import Pack
from rowan.web.handover.papers import gauge_drawing, paper_pdf
from rowan.web.house import services
from rowan.web.house.models import HouseLink
from rowan.web.papers.settings_card import settings_card_pdf
from rowan.web.papers.sheets import on_paper
from rowan.web.papers.views import paper_answer
from rowan.web.plans.models import Plan
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import takes_forms
from rowan.web.ui.problem import UNPROCESSABLE
from rowan.web.ui.sentences import sentence

# what a householder may print
PAPERS = ("card", "how", "normal", "whom")
MOST_GAUGE = 2e6  # Pa, above any gauge that hangs in a house


def _link(token: str) -> HouseLink:
    """The link of an address; 404, which says nothing of why, for one that opens nothing."""
    found = services.link_of(token)
    if found is None:
        raise Http404
    return found


def _units(link: HouseLink) -> System:
    """The units of the gauge in their cellar, else the firm's."""
    job = link.plan.job
    return "us" if (job.paper_units or job.firm.units) == "us" else "metric"


def _private(answer: HttpResponse) -> HttpResponse:
    """Kept by nobody on the way, found by no search; its address is told to no other site, by the policy of all pages."""
    answer["Cache-Control"] = "private, no-store"
    answer["X-Robots-Tag"] = "noindex, nofollow"
    return answer


@takes_forms
@login_not_required
def house(request: HttpRequest, token: str) -> HttpResponse:
    """Their page; a look sent from it is judged at once and stands in the diary."""
    link = _link(token)
    units = _units(link)
    pack = Pack(link.plan, units)
    context = _context(link, pack, token)
    if request.method != "POST":
        services.opened(link)
        return _private(render(request, "handover/house.html", context))
    try:
        told = services.take_look(link=link, look=_look(request, pack), units=units)
    except (WebError, RowanError) as error:
        words = error.text(units) if isinstance(error, RowanError) else str(error)
        context |= {"problem": sentence(words), "typed": request.POST.get("gauge", "")}
        return _private(render(request, "handover/house.html", context, status=UNPROCESSABLE))
    context = {**_context(link, pack, token), "told": told}
    return _private(render(request, "handover/house.html", context))


def _look(request: HttpRequest, pack: Pack) -> Look:
    """What the form says. Raises RowanError for what is no pressure, WebError for one that no gauge shows."""
    asked = asked_of(pack.sheet.design)
    text = request.POST.get("gauge", "").replace("\x00", "").strip()[:40]
    gauge = typed_to_si(text, "pressure", pack.units) if text and "gauge" in asked else None
    if gauge is not None and not -1e5 <= gauge <= MOST_GAUGE:
        raise WebError("no gauge in a house shows that; is the unit right")

    def answer(key: str) -> bool | None:
        return {"yes": True, "no": False}.get(request.POST.get(key, "")) if key in asked else None

    return Look(gauge, answer("level_right"), answer("pump_ran"), answer("drips"), answer("water_warm"))


QUESTIONS = {
    "level_right": "Is the level at its mark?",
    "pump_ran": "Did the pump run in the sun?",
    "water_warm": "Is the water warm after a sunny day?",
    "drips": "Did anything run out under the relief?",
}


def _context(link: HouseLink, pack: Pack, token: str) -> dict[str, Any]:
    drawing = gauge_drawing(pack)
    month = pack.months[timezone.localdate().month - 1] if pack.months else None
    asked = asked_of(pack.sheet.design)
    return {
        **pack.words(),
        "pack": pack,
        "job": link.plan.job,
        "firm": link.plan.job.firm,
        "link": link,
        "token": token,
        "loop": on_paper(loop_drawing(pack.sheet, "", lambda _: "")),
        "gauge": on_paper(drawing) if drawing is not None else "",
        "month": month,
        "asks_gauge": "gauge" in asked,
        "questions": [(key, words) for key, words in QUESTIONS.items() if key in asked],
        **_brought(link.plan, pack),
        "looks": link.plan.job.diary.filter(kind="look")[:6],
        "papers": [paper for paper in pack.papers if paper.key in PAPERS],
        "units": pack.units,
    }


def _brought(plan: Plan, pack: Pack) -> dict[str, Any]:
    """What its log says it has brought, if there is one that was held against the plan."""
    kept = LoopHealth.objects.filter(plan=plan, promised__gt=0).first()
    if kept is None:
        return {}
    worth = worth_of(pack.sheet.design, heat=max(kept.brought, 0.0))
    return {"brought": kept, "brought_worth": worth, "currency": pack.sheet.design.money.currency.value}


@login_not_required
def house_paper(request: HttpRequest, token: str, key: str) -> HttpResponse:
    """A paper of theirs as PDF."""
    link = _link(token)
    if key not in PAPERS:
        raise Http404
    own = request.build_absolute_uri(request.path.rsplit("/", 1)[0] + "/")
    make = partial(settings_card_pdf, address=own) if key == "card" else partial(paper_pdf, key=key, address=own)
    return _private(paper_answer(request, link.plan, f"{key}.pdf", make))
