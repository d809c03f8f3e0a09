"""What is done with goods, prices and quotations: each with its right, in one transaction."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone
from pydantic import ValidationError

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.design.refusals import refusal
from rowan.core.records.quotation import Quotation, quotation
from rowan.core.studies.choices import SHEET_SETS, chosen, set_by, sheet_of_plan
from rowan.core.terms.dates import day_said
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import System
from rowan.web.accounts import policy
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import note
from rowan.web.goods.models import ITEMS, PATHS, Good, Price, Quote
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.services import Edit, change_plan
from rowan.web.ui.errors import NoSuchStepError

GOOD_FOR = timedelta(days=30)  # how long a quotation's prices hold
MOST_GOODS = 5_000
DEAREST = 1e7  # of any currency; more is a slip of the decimal mark


def save_good(
    *, firm: Firm, person: User, kind: str, data: Mapping[str, Any], price: float | None = None, merchant: str = ""
) -> Good:
    """An item into the catalogue; one of the same name is replaced. Raises JobFileError for what is no such item, NotAllowedError."""
    model = ITEMS.get(kind)
    if model is None:
        raise NoSuchStepError("there is no such kind of goods")
    _check_price(price)
    try:
        # what it costs is one number, of the firm's own list
        cost = {"price": price} if price is not None and "price" in model.model_fields else {}
        item = model.model_validate({**data, **cost})
    except ValidationError as error:
        raise refusal(error, model) from error
    with transaction.atomic():
        policy.check(person, firm, "lead")
        if firm.goods.count() >= MOST_GOODS:
            raise NoSuchStepError(tr("a catalogue holds {most} items", most=MOST_GOODS))
        found, _ = Good.objects.update_or_create(
            firm=firm,
            kind=kind,
            name=item.name,  # type: ignore[attr-defined]
            defaults={
                "data": item.model_dump(mode="json"),
                "price": price,
                "merchant": merchant[:80],
                "withdrawn": None,
            },
        )
        note(firm, person, f"put {found.name} into the catalogue")
    return found


def _check_price(price: float | None) -> None:
    if price is not None and not 0 <= price <= DEAREST:
        raise NoSuchStepError(
            tr("a price lies between 0 and {most}; is the decimal mark right", most=f"{DEAREST:,.0f}")
        )


def keep_of_plan(*, plan: Plan, person: User, kind: str) -> Good:
    """What a plan has of a kind, into the catalogue. Raises as `save_good` does."""
    path = PATHS.get(kind)
    if path is None:
        raise NoSuchStepError("there is no such kind of goods")
    design, model = reckoned(plan.head).design, ITEMS[kind]
    found = locate(design, path)
    item = found.value
    if model in SHEET_SETS:
        try:
            item = sheet_of_plan(design, model, found.note[:80] or f"{kind} of {plan.job.title}"[:80])
        except ValidationError as error:
            raise refusal(error, model) from error
    price = getattr(item, "price", None) or None
    return save_good(firm=plan.job.firm, person=person, kind=kind, data=item.model_dump(mode="json"), price=price)


def set_good(*, good: Good, person: User, price: float | None, merchant: str, withdrawn: date | None) -> None:
    """Another price or merchant, or withdrawn from a day on. Raises NotAllowedError, NoSuchStepError for a price that cannot be."""
    _check_price(price)
    with transaction.atomic():
        policy.check(person, good.firm, "lead")
        good.price, good.merchant, good.withdrawn = price, merchant.strip()[:80], withdrawn
        good.save()
        note(good.firm, person, f"changed {good.name} in the catalogue")


def use_in_plan(*, good: Good, plan: Plan, person: User) -> Revision:
    """Copy an item into a plan, with what goes with it. Raises as a change does, NoSuchStepError for a withdrawn one."""
    if good.firm_id != plan.job.firm_id:
        raise NoSuchStepError("there is no such item")
    if good.withdrawn is not None and good.withdrawn <= timezone.localdate():
        raise NoSuchStepError(
            tr("{name} was withdrawn on {day}", name=good.name, day=day_said(good.withdrawn, year=True).text())
        )
    head = plan.head
    item = good.item
    if good.kind == "collector" and good.price is not None:
        item = item.model_copy(update={"price": good.price})
    sheet = type(item) in SHEET_SETS
    changes = set_by(item) if sheet else chosen(reckoned(head).design, PATHS[good.kind], item)
    said = [Change(one.path, one.value, one.origin or "data sheet", one.note) for one in changes]
    edit = Edit(said, PATHS[good.kind], good.name)
    return change_plan(plan=plan, author=person, based_on=head.number, edit=edit)


def set_prices(*, firm: Firm, person: User, rows: Mapping[str, tuple[float | None, str]]) -> int:
    """Prices by part; None takes one away. How many stand afterwards. Raises NotAllowedError, NoSuchStepError."""
    for price, _ in rows.values():
        _check_price(price)
    with transaction.atomic():
        policy.check(person, firm, "lead")
        for key, (price, merchant) in rows.items():
            if price is None:
                firm.prices.filter(key=key).delete()
            else:
                Price.objects.update_or_create(
                    firm=firm, key=key[:40], defaults={"price": price, "merchant": merchant[:80]}
                )
        note(firm, person, f"changed {len(rows)} prices")
        return firm.prices.count()


def _name_in(design: Design, kind: str) -> str:
    """What a plan's goods of a kind are called: by the item it holds, or by the note of the input that a sheet has set."""
    found = locate(design, PATHS[kind])
    return str(getattr(found.value, "name", "")) or found.note


def prices_of(firm: Firm, plan: Plan) -> dict[str, float]:
    """The firm's own prices by part, those of catalogue items that the plan has among them."""
    found = dict(firm.prices.values_list("key", "price"))
    design = reckoned(plan.head).design
    # the part of the list that goods of a kind are
    keys = {
        "collector": "collectors",
        "store": "store",
        "pump": "pump",
        "fluid": "fluid",
        "controller": "controller",
        "fixing": "feet",
    }
    for good in firm.goods.exclude(price=None).filter(kind__in=keys):
        if _name_in(design, good.kind) == good.name and good.price is not None:
            found[keys[good.kind]] = good.price
    return found


def reckon_quote(*, plan: Plan, margin: float, tax: float, more: Sequence[tuple[str, float]] = ()) -> Quotation:
    """What a plan is offered for, at the firm's prices. Raises OutOfRangeError."""
    found, firm = reckoned(plan.head), plan.job.firm
    hour = firm.hourly_rate if firm.hourly_rate is not None else found.design.money.hour_price.value
    return quotation(
        found.design, found.result, prices=prices_of(firm, plan), hour_price=hour, margin=margin, tax=tax, more=more
    )


def make_quote(
    *, plan: Plan, person: User, margin: float, tax: float, units: System, more: Sequence[tuple[str, float]] = ()
) -> Quote:
    """A quotation as it is printed, kept with its lines. Raises NotAllowedError, OutOfRangeError."""
    made = reckon_quote(plan=plan, margin=margin, tax=tax, more=more)
    # who reads it is told what things cost him: the margin is in each line
    up = 1 + margin
    data = {
        "lines": [
            [line.name.text(units), line.quantity.shown(units), line.each * up, line.total * up, line.own]
            for line in made.lines
        ],
        "delivered": made.goods + made.margin, "hours": made.hours, "work": made.work, "margin_share": margin,
        "net": made.net, "tax": made.tax, "tax_share": tax, "total": made.total,
    }  # fmt: skip
    with transaction.atomic():
        policy.check(person, plan.job.firm, "work")
        note(plan.job.firm, person, f"made a quotation for job {plan.job_id}")
        return Quote.objects.create(
            plan=plan,
            revision=plan.head,
            by=person,
            until=timezone.localdate() + GOOD_FOR,
            currency=plan.job.firm.currency,
            data=data,
        )


def take_price(*, quote: Quote, person: User) -> Revision:
    """The quoted price becomes the plan's: money, Compare and the papers follow. Raises as a change does."""
    plan = quote.plan
    change = Change("money.system_price", round(quote.data["total"], 2), "agreed")
    edit = Edit([change], "money.system_price", f"as quoted on {day_said(quote.made, year=True, short=True)}")
    return change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)


def told_of(plan: Plan) -> list[str]:
    """What has changed in the catalogue since a plan copied from it: withdrawn, or another price."""
    design = reckoned(plan.head).design
    found = []
    for good in plan.job.firm.goods.all():
        if _name_in(design, good.kind) != good.name:
            continue
        item = locate(design, PATHS[good.kind]).value
        if good.withdrawn is not None:
            day = day_said(good.withdrawn, year=True).text()
            found.append(tr("{name} was withdrawn on {day}", name=good.name, day=day))
        elif good.price is not None and getattr(item, "price", good.price) != good.price:
            prices = {"price": f"{good.price:g}", "old": f"{item.price:g}"}
            found.append(tr("{name} costs {price} by now; the plan has {old}", name=good.name, **prices))
    return found
