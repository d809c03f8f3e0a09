"""The quotation of a plan: reckoned at the firm's prices while margin and tax are typed, made, printed, taken as the plan's price."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from rowan.core.terms.errors import RowanError
from rowan.core.terms.units import System, typed_to_si
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.customers.services import card_of
from rowan.web.goods import services
from rowan.web.goods.models import KINDS, Quote
from rowan.web.papers.sheets import Size, paper_context, pdf, usual_size
from rowan.web.papers.views import paper_answer, paper_units
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE, problem

MARGIN, TAX = 0.15, 0.2  # to begin with; every firm has its own


def _shares(data: Any) -> tuple[float, float]:
    """Margin and tax [-] as typed. Raises RowanError."""

    def read(name: str, usual: float) -> float:
        text = data.get(name, "").replace("\x00", "").strip()[:20]
        return typed_to_si(text, "share") if text else usual

    return read("margin", MARGIN), read("tax", TAX)


@takes_forms
def quotation(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What it would be offered for; by the button it is made and kept."""
    plan, units = plan_of(request, job, letter), units_of(request)
    data = request.POST if request.method == "POST" else request.GET
    context: dict[str, Any] = {**frame(plan, plan.head, sheet_of(plan, units), "quotation")}
    status = 200
    try:
        margin, tax = _shares(data)
        context["quote"] = services.reckon_quote(plan=plan, margin=margin, tax=tax)
        if request.method == "POST":
            made = services.make_quote(
                plan=plan, person=actor(request), margin=margin, tax=tax, units=paper_units(request, plan)
            )
            return redirect(f"{request.path}#quote-{made.pk}")
    except (RowanError, WebError) as error:
        context["problem"], status = f"{words_of(error, units)}.".capitalize(), UNPROCESSABLE
        margin, tax = MARGIN, TAX
    context |= {
        "margin": data.get("margin", "") or f"{100 * margin:g}",
        "tax": data.get("tax", "") or f"{100 * tax:g}",
        "made": plan.quotes.select_related("by", "revision"),
        "told": services.told_of(plan),
        "currency": plan.job.firm.currency,
        "good_kinds": KINDS,
    }
    return render(request, "handover/quotation.html", context, status=status)


def _quote(request: HttpRequest, job: int, letter: str, number: str) -> Quote:
    return get_object_or_404(plan_of(request, job, letter).quotes.select_related("by", "revision"), pk=int(number))


def quote_pdf(plan: Plan, units: System, size: Size | None = None, *, quote: Quote) -> bytes:
    """A quotation as it was made, on paper, with the year's heat."""
    sheet = sheet_of(plan, units)
    figures = sheet.figures
    context = {
        **paper_context(plan, sheet, size or usual_size(units)),
        "revision": quote.revision,
        "quote": quote,
        "card": card_of(plan.job),
        "heat": figures.get("year_solar"),
        "share": figures.get("year_fraction"),
        "band": _band(sheet),
    }
    return pdf("handover/quote.html", context)


YEARS = 9  # made ones, by which a year may be more or less than usual


def _band(sheet: Sheet) -> tuple[float, float] | None:
    """The least and the most heat of nine made years [J]; None where none can be run."""
    try:
        found = [sheet.year(seed).solar_heat for seed in range(1, YEARS + 1)]
    except RowanError:
        return None
    return min(found), max(found)


def paper(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """A quotation as PDF."""
    quote = _quote(request, job, letter, number)
    return paper_answer(request, quote.plan, "quotation.pdf", partial(quote_pdf, quote=quote))


@forms_only
def take_price(request: HttpRequest, job: int, letter: str, number: str) -> HttpResponse:
    """The quoted price becomes the plan's."""
    quote = _quote(request, job, letter, number)
    try:
        services.take_price(quote=quote, person=actor(request))
    except (RowanError, WebError) as error:
        return problem(request, "Not taken", words_of(error, units_of(request)))
    return redirect("steps:bench", quote.plan.job_id, quote.plan.letter, "parts")
