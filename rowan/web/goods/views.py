"""The firm's catalogue and price list: looked at, changed, in and out as CSV; put into a plan, or kept from one."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.dateparse import parse_date

from rowan.core.steps.parts.counting import MERCHANTS
from rowan.core.steps.parts.pricing import PIECE
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import typed_to_si
from rowan.web.accounts.models import Firm
from rowan.web.goods import services
from rowan.web.goods.csv_files import CsvRefusedError, goods_csv, item_of, price_of, prices_csv, rows_of
from rowan.web.goods.models import MANY, PATHS, Good
from rowan.web.goods.pieces import called
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import actor, firm_of, plan_of
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError, words_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE, problem

MOST_PLANS = 200


def _good(request: HttpRequest, number: str) -> Good:
    return get_object_or_404(firm_of(request).goods, pk=int(number))


def catalogue(request: HttpRequest) -> HttpResponse:
    """The goods of a kind, the price list beside them."""
    firm = firm_of(request)
    kind = request.GET.get("kind", "collector")
    kind = kind if kind in MANY else "collector"
    words = request.GET.get("q", "").replace("\x00", "").strip()[:80]
    rows = firm.goods.filter(kind=kind)
    context = {
        "kind": kind,
        "kinds": MANY,
        "many": MANY[kind],
        "rows": rows.filter(name__icontains=words) if words else rows,
        "words": words,
        "prices": [(one, called(one.key)) for one in firm.prices.all()],
        "parts": sorted(((key, str(called(key))) for key in PIECE), key=lambda pair: pair[1].casefold()),
        "merchants": MERCHANTS.values(),
    }
    return render(request, "goods/catalogue.html", context)


@takes_forms
def good(request: HttpRequest, number: str) -> HttpResponse:
    """An item: its sheet, its price, whether it is still sold; into a plan."""
    found, person = _good(request, number), actor(request)
    wrong = ""
    if request.method == "POST":
        try:
            text = request.POST.get("price", "").strip()[:40]
            price = typed_to_si(text, "money") if text else None
            withdrawn = parse_date(request.POST.get("withdrawn", ""))
            merchant = request.POST.get("merchant", "").replace("\x00", "")
            services.set_good(good=found, person=person, price=price, merchant=merchant, withdrawn=withdrawn)
            return redirect("goods:good", found.pk)
        except (WebError, RowanError, ValueError) as error:
            wrong = tr(
                "Not changed: {refusal}.",
                refusal=words_of(error, units_of(request)) if isinstance(error, WebError | RowanError) else error,
            )
    sheet = [(name.replace("_", " "), value) for name, value in found.data.items() if value not in (None, "", [])]
    plans = (
        Plan.objects.filter(job__firm=found.firm, job__archived=False)
        .select_related("job")
        .order_by("job__title", "letter")
    )
    context = {"good": found, "sheet": sheet, "plans": plans[:MOST_PLANS], "problem": wrong, "many": MANY[found.kind]}
    return render(request, "goods/good.html", context, status=UNPROCESSABLE if wrong else 200)


def kind_csv(request: HttpRequest, kind: str) -> HttpResponse:
    """The catalogue of a kind as CSV."""
    if kind not in MANY:
        raise Http404
    return _csv(goods_csv(kind, list(firm_of(request).goods.filter(kind=kind))), f"{kind}.csv")


def price_list(request: HttpRequest) -> HttpResponse:
    """The price list as CSV."""
    rows = {row.key: (row.price, row.merchant) for row in firm_of(request).prices.all()}
    return _csv(prices_csv(rows), "prices.csv")


def _csv(text: str, name: str) -> HttpResponse:
    answer = HttpResponse(text, content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@forms_only
def take_in(request: HttpRequest) -> HttpResponse:
    """Goods or prices from a CSV; all of it, or none and the line that is wrong."""
    firm, person, kind = firm_of(request), actor(request), request.POST.get("kind", "")
    file = request.FILES.get("file")
    try:
        rows = rows_of(file.read() if file is not None else b"")
        with transaction.atomic():
            if kind == "prices":
                found = {
                    row.get("part", ""): (price_of(row.get("price", ""), n), row.get("merchant", "").removeprefix("'"))
                    for n, row in enumerate(rows, 2)
                }
                if "" in found:
                    raise CsvRefusedError(2, "a column “part” with the part's key is wanted")
                services.set_prices(firm=firm, person=person, rows=found)
            else:
                _take_goods(firm, person, kind, rows)
    except (WebError, RowanError) as error:
        return problem(request, "Nothing was taken in", words_of(error, units_of(request)))
    return redirect(reverse("goods:catalogue") + (f"?kind={kind}" if kind in MANY else ""))


def _take_goods(firm: Firm, person: Any, kind: str, rows: list[dict[str, str]]) -> None:
    if kind not in MANY:
        raise WebError("there is no such kind of goods")
    for number, row in enumerate(rows, 2):
        try:
            made = services.save_good(
                firm=firm, person=person, kind=kind, data=item_of(kind, row, number), price=price_of(row.get("price", ""), number),
                merchant=row.get("merchant", "").removeprefix("'"),
            )  # fmt: skip
        except RowanError as error:
            raise CsvRefusedError(number, error.text()) from error
        if row.get("withdrawn", "").strip():
            made.withdrawn = parse_date(row["withdrawn"].strip())
            made.save(update_fields=["withdrawn"])


@forms_only
def set_price(request: HttpRequest) -> HttpResponse:
    """The price of one part; an empty one takes it away."""
    key, text = request.POST.get("part", ""), request.POST.get("price", "").strip()[:40]
    if key not in PIECE:
        return problem(request, "Not kept", "there is no such part")
    try:
        price = typed_to_si(text, "money") if text else None
        merchant = request.POST.get("merchant", "").replace("\x00", "")
        services.set_prices(firm=firm_of(request), person=actor(request), rows={key: (price, merchant)})
    except (WebError, RowanError) as error:
        return problem(request, "Not kept", words_of(error, units_of(request)))
    return redirect("goods:catalogue")


@forms_only
def keep(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What a plan has of a kind, into the catalogue."""
    plan = plan_of(request, job, letter)
    try:
        made = services.keep_of_plan(plan=plan, person=actor(request), kind=request.POST.get("kind", ""))
    except (WebError, RowanError) as error:
        return problem(request, "Not kept", words_of(error, units_of(request)))
    return redirect("goods:good", made.pk)


@forms_only
def use(request: HttpRequest, number: str) -> HttpResponse:
    """An item into a plan."""
    found = _good(request, number)
    wanted = request.POST.get("plan", "")
    plan = get_object_or_404(
        Plan.objects.filter(job__firm=found.firm), pk=int(wanted) if wanted.isdecimal() and len(wanted) < 10 else 0
    )
    try:
        services.use_in_plan(good=found, plan=plan, person=actor(request))
    except (WebError, RowanError) as error:
        return problem(request, "Not put in", words_of(error, units_of(request)))
    return redirect("steps:bench", plan.job_id, plan.letter, PATHS[found.kind].split(".")[0])
