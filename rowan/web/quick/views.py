"""Quick sums: what is asked stands in the address, so that a sum can be kept, sent, and gone back to; kept as a job where it grows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from rowan.core.design.changes import changed
from rowan.core.goods.catalogue import PIPES, PUMPS
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts
from rowan.core.studies.quick import SUMS, Ask, QuickSum
from rowan.core.studies.quick.convert import converted
from rowan.core.terms.errors import RowanError
from rowan.core.terms.expression import significant
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, dimension, typed_to_si
from rowan.web.plans.selectors import actor
from rowan.web.plans.services import proposed_for, start_job
from rowan.web.ui.context import units_of
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import UNPROCESSABLE, problem
from rowan.web.ui.sentences import sentence
from rowan.web.ui.window_bar import window_bar

DIGITS = 6  # significant, of a usual value as it stands in its field
MOST_TYPED = 40  # letters
# what a job begins from, where only a sum is known
START = Facts(PLACES["Aldersund"], 180, 40, "slate", 4, "oil", 2)


@record
class Row:
    """A field: what is asked, what stands in it, its unit, what is wrong with it."""

    ask: Ask
    typed: str
    unit: str
    wrong: str = ""


def quick(request: HttpRequest) -> HttpResponse:
    """Every sum; and any unit to any other."""
    text = request.GET.get("from", "").replace("\x00", "")[:MOST_TYPED]
    context: dict[str, Any] = {"sums": list(SUMS.values()), "text": text}
    status = 200
    if text:
        try:
            context["converted"] = converted(text)
        except RowanError as error:
            context["wrong"], status = f"{error.text(units_of(request))}.", UNPROCESSABLE
    return render(request, "quick/quick.html", context, status=status)


def _sum(key: str) -> QuickSum:
    found = SUMS.get(key)
    if found is None:
        raise Http404
    return found


def _read(one: QuickSum, data: Mapping[str, str], units: System) -> tuple[dict[str, float], list[Row]]:
    """Values [SI] and fields of a sum: what was typed, else what is usual; a field that cannot be read says so."""
    values, rows = one.usual(), []
    for ask in one.asks:
        text = data.get(ask.key, "").replace("\x00", "").strip()[:MOST_TYPED]
        unit = dimension(ask.dimension).unit(units) if ask.dimension else None
        wrong = ""
        if ask.choices:
            if text.isdecimal() and int(text[:4]) < len(ask.choices):
                values[ask.key] = float(text)
        elif text:
            try:
                values[ask.key] = typed_to_si(text, ask.dimension, units)
            except RowanError as error:
                wrong = f"{error.text(units)}."
        shown = text
        if not text and unit is not None:
            shown = significant((ask.usual - unit.offset) / unit.factor, DIGITS).replace("\u202f", "")
        rows.append(Row(ask, shown, unit.label if unit is not None else "", wrong))
    return values, rows


def quick_sum(request: HttpRequest, key: str) -> HttpResponse:
    """One sum: its fields, its figures with their why."""
    one, units = _sum(key), units_of(request)
    values, rows = _read(one, request.GET.dict(), units)
    context: dict[str, Any] = {"one": one, "rows": rows, "values": values, "here": request.get_full_path()}
    status = UNPROCESSABLE if any(row.wrong for row in rows) else 200
    if status == 200:
        try:
            context["figures"] = [(figure, window_bar(figure, units)) for figure in one.figures(values)]
        except RowanError as error:
            context["problem"], status = sentence(error.text(units)), UNPROCESSABLE
    context["keeps"] = any(ask.path for ask in one.asks)
    return render(request, "quick/sum.html", context, status=status)


@forms_only
def keep(request: HttpRequest, key: str) -> HttpResponse:
    """Carry a sum on as a job: a first design, with what was typed here agreed."""
    one, person, units = _sum(key), actor(request), units_of(request)
    values, rows = _read(one, request.POST.dict(), units)
    if person.firm is None or any(row.wrong for row in rows):
        raise Http404
    try:
        one.figures(values)
        design = proposed_for(person.firm, START)
        changes = []
        for ask in one.asks:
            if ask.path:
                goods = PIPES if ask.path == "run.pipe" else PUMPS
                value: Any = goods[ask.choices[int(values[ask.key])]] if ask.choices else values[ask.key] * ask.scale
                changes.append(Change(ask.path, value, "agreed"))
        plan = start_job(
            firm=person.firm,
            author=person,
            title=tr("{name}, a quick sum", name=one.name),
            design=changed(design, changes),
        )
    except RowanError as error:
        return problem(request, "Not kept as a job", error.text(units))
    return redirect(reverse("steps:bench", args=(plan.job_id, plan.letter, "charge")))
