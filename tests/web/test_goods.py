"""The firm's goods: kept, priced, withdrawn, in and out as CSV, put into a plan; quotations that add up and keep their lines."""

from __future__ import annotations

import csv
import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import locate
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.reckon import reckon
from rowan.core.records.quotation import quotation
from rowan.core.terms.errors import OutOfRangeError
from rowan.web.accounts.models import Firm, User
from rowan.web.goods import services
from rowan.web.goods.csv_files import CsvRefusedError, rows_of, safe_cell
from rowan.web.goods.models import Good
from rowan.web.handover.quote_views import quote_pdf
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.services import design_of
from rowan.web.ui.errors import NoSuchStepError
from tests.core.designs import plan_b
from tests.web.text import plain, printed

PLATE = next(iter(COLLECTORS.values()))


@pytest.fixture
def plate(firm: Firm, person: User) -> Good:
    data = {**PLATE.model_dump(mode="json"), "name": "Plate of ours"}
    return services.save_good(
        firm=firm, person=person, kind="collector", data=data, price=612.5, merchant="Ropery Hire"
    )


# --- the sum


def test_a_quotation_adds_up_by_hand() -> None:
    design = plan_b()
    found = quotation(
        design,
        reckon(design),
        prices={"collectors": 700.0},
        hour_price=48,
        margin=0.15,
        tax=0.2,
        more=[("scaffold {tower}", 90.0)],
    )
    goods = sum(line.each * line.quantity.value for line in found.lines)
    assert found.goods == pytest.approx(goods)
    assert found.net == pytest.approx(goods * 1.15 + found.hours * 48)
    assert found.total == pytest.approx(found.net * 1.2)
    line = next(line for line in found.lines if line.key == "collectors")
    assert (line.each, line.own, line.total) == (700, True, 700 * design.collector.count.value)
    assert found.usual == len(found.lines) - 2
    assert found.lines[-1].name.text("metric") == "scaffold (tower)"


def test_without_prices_of_its_own_it_is_the_list_of_the_parts_bench() -> None:
    design = plan_b()
    result = reckon(design)
    found = quotation(design, result, prices={}, hour_price=design.money.hour_price.value)
    assert found.goods == pytest.approx(result.figures["goods_price"].value)


@pytest.mark.parametrize("wrong", [{"margin": -0.1}, {"tax": 20.0}, {"prices": {"store": -1.0}}])
def test_a_share_or_price_that_cannot_be_is_refused(wrong: dict[str, object]) -> None:
    design = plan_b()
    with pytest.raises(OutOfRangeError):
        quotation(design, reckon(design), **{"prices": {}, "hour_price": 40, **wrong})  # type: ignore[arg-type]


# --- the catalogue


def test_an_item_goes_into_a_plan_and_the_plan_keeps_it_as_it_was(
    page: Client, plan: Plan, plate: Good, person: User
) -> None:
    answer = page.post(reverse("goods:use", args=(plate.pk,)), {"plan": plan.pk})
    assert answer["Location"] == reverse("steps:bench", args=(plan.job_id, "A", "collector"))
    item = design_of(plan.head).collector.item
    assert (item.value.name, item.value.price, item.origin) == ("Plate of ours", 612.5, "data sheet")
    services.set_good(good=plate, person=person, price=700.0, merchant="", withdrawn=None)
    assert design_of(plan.head).collector.item.value.price == 612.5
    assert services.told_of(plan) == ["Plate of ours costs 700 by now; the plan has 612.5"]
    services.set_good(good=plate, person=person, price=700.0, merchant="", withdrawn=timezone.localdate())
    assert "was withdrawn" in services.told_of(plan)[0]
    assert page.post(reverse("goods:use", args=(plate.pk,)), {"plan": plan.pk}).status_code == 422


def test_what_a_plan_has_is_kept(page: Client, plan: Plan) -> None:
    for kind in ("collector", "store", "pump", "pipe"):
        assert page.post(reverse("goods:keep", args=(plan.job_id, "A")), {"kind": kind}).status_code == 302
        assert page.get(reverse("goods:catalogue"), {"kind": kind}).status_code == 200
    assert Good.objects.count() == 4
    assert page.post(reverse("goods:keep", args=(plan.job_id, "A")), {"kind": "house"}).status_code == 422


SHEETS = {
    "fluid": {"name": "Carrier of ours", "fluid": "food", "concentrate": 0.93, "ph_new": 8.6, "ph_least": 7.2},
    "controller": {"name": "Switch of ours", "sensor_error_k": 0.7, "frost_c": 3.5},
    "fixing": {"name": "Hook of ours", "fixing": "hook", "holds_up_n": 1350.0, "span_m": 1.1},
}
SET = {
    "fluid": {"charge.fluid": "food", "charge.concentrate": 0.93, "charge.ph_new": 8.6, "charge.ph_least": 7.2},
    "controller": {"control.sensor_error_k": 0.7, "control.frost_c": 3.5, "control.restart_k": 5.0},
    "fixing": {"roof.fixing": "hook", "roof.holds_up_n": 1350.0, "roof.span_m": 1.1, "roof.overhang_m": None},
}


@pytest.mark.parametrize("kind", SHEETS)
def test_a_sheet_sets_inputs_and_is_known_by_their_note(
    kind: str, page: Client, plan: Plan, firm: Firm, person: User
) -> None:
    good = services.save_good(firm=firm, person=person, kind=kind, data=SHEETS[kind], price=31.0)
    assert page.post(reverse("goods:use", args=(good.pk,)), {"plan": plan.pk}).status_code == 302
    design = design_of(plan.head)
    for path, value in SET[kind].items():
        found = locate(design, path)
        assert found.value == value
        # a line that the sheet leaves empty set nothing
        named = path.split(".")[1] in SHEETS[kind]
        assert found.note == (good.name if named else "")
        assert (found.origin == "data sheet") is named
    part = {"fluid": "fluid", "controller": "controller", "fixing": "feet"}[kind]
    assert services.prices_of(firm, plan)[part] == 31.0
    assert services.told_of(plan) == []
    services.set_good(good=good, person=person, price=31.0, merchant="", withdrawn=timezone.localdate())
    assert services.told_of(plan) == [f"{good.name} was withdrawn on {timezone.localdate():%-d %B %Y}"]
    # kept from the plan again it is the same sheet, with what the plan has where the sheet was silent
    again = services.keep_of_plan(plan=plan, person=person, kind=kind)
    assert (again.pk, again.data["name"]) == (good.pk, good.name)
    assert SHEETS[kind].items() <= again.data.items()


def test_a_fixing_that_is_usual_for_the_covering_is_no_goods(page: Client, plan: Plan) -> None:
    assert design_of(plan.head).roof.fixing.value == "usual"
    answer = page.post(reverse("goods:keep", args=(plan.job_id, "A")), {"kind": "fixing"})
    assert answer.status_code == 422
    assert "Fixing: must be one of plate, hook" in plain(answer.content.decode())
    assert not Good.objects.exists()


def test_a_sheet_that_no_plan_takes_is_refused_where_it_is_used(
    page: Client, plan: Plan, firm: Firm, person: User
) -> None:
    good = services.save_good(firm=firm, person=person, kind="fluid", data={"name": "Sour", "ph_new": 2.0})
    before = plan.head.number
    assert page.post(reverse("goods:use", args=(good.pk,)), {"plan": plan.pk}).status_code == 422
    assert plan.head.number == before


@pytest.mark.parametrize("kind", SHEETS)
def test_sheets_go_out_and_come_back_as_csv(kind: str, page: Client, firm: Firm, person: User) -> None:
    good = services.save_good(firm=firm, person=person, kind=kind, data=SHEETS[kind], price=31.0, merchant="Ropery")
    text = page.get(reverse("goods:csv", args=(kind,))).content.decode()
    before = (good.data, good.price, good.merchant)
    Good.objects.all().delete()
    assert _send(page, kind, text) == ""
    found = Good.objects.get()
    assert (found.data, found.price, found.merchant) == before


def test_another_firm_s_item_is_not_there(plate: Good, stranger: User, plan: Plan, client: Client) -> None:
    client.force_login(stranger)
    assert client.get(reverse("goods:good", args=(plate.pk,))).status_code == 404
    other = Good.objects.create(firm=stranger.firm, kind="collector", name="x", data=plate.data)
    with pytest.raises(NoSuchStepError):
        services.use_in_plan(good=other, plan=plan, person=plan.head.author)


# --- CSV


def _send(page: Client, kind: str, text: str) -> str:
    file = SimpleUploadedFile("goods.csv", text.encode())
    answer = page.post(reverse("goods:take_in"), {"kind": kind, "file": file})
    return "" if answer.status_code == 302 else plain(answer.content.decode())


def test_the_catalogue_goes_out_and_comes_back_whole(page: Client, firm: Firm, plate: Good) -> None:
    before = (plate.data, plate.price, plate.merchant)
    text = page.get(reverse("goods:csv", args=("collector",))).content.decode()
    Good.objects.all().delete()
    assert _send(page, "collector", text) == ""
    found = Good.objects.get()
    assert (found.data, found.price, found.merchant) == before


def test_prices_come_in_with_either_mark_by_their_delimiter(page: Client, firm: Firm) -> None:
    assert _send(page, "prices", "part;price;merchant\ncontroller;210,50;Ropery\nfluid;42;\n") == ""
    assert dict(firm.prices.values_list("key", "price")) == {"controller": 210.5, "fluid": 42.0}
    assert _send(page, "prices", "part,price,merchant\ncontroller,,\n") == ""
    assert dict(firm.prices.values_list("key", "price")) == {"fluid": 42.0}
    rows = list(csv.reader(io.StringIO(page.get(reverse("goods:price_list")).content.decode())))
    assert rows == [["part", "price", "merchant"], ["fluid", "42", ""]]


@pytest.mark.parametrize(("kind", "text", "words"), [
    ("prices", "part,price,merchant\ncontroller,\"=1+1\",\n", "Line 2: “=1+1” in price is a formula"),
    ("prices", "part,price,merchant\nfluid,42,\ncontroller,210,@SUM(A1)\n", "Line 3"),
    ("prices", "part;price\ncontroller;1,234\n", "Line 2"),
    ("prices", "part,price\ncontroller,dear\n", "Line 2"),
    ("prices", "name,price\nx,1\n", "column “part”"),
    ("collector", "name,size\nx,3\n", "there is no column “size”"),
    ("collector", "name,aperture_m2\nx,-3\n", "Line 2"),
    ("house", "name\nx\n", "no such kind"),
])  # fmt: skip
def test_what_cannot_be_taken_names_its_line_and_nothing_is_taken(
    page: Client, firm: Firm, kind: str, text: str, words: str
) -> None:
    assert words in _send(page, kind, text)
    assert not firm.prices.exists()
    assert not firm.goods.exists()


@given(st.text(max_size=40))
def test_no_cell_of_ours_is_run_by_a_spreadsheet(text: str) -> None:
    cell = safe_cell(text)
    assert cell[:1] not in ("=", "@", "+", "\t", "\r")
    assert not (cell.startswith("-") and not cell[1:].replace(".", "").replace(",", "").isdigit())
    assert cell.removeprefix("'") == text.removeprefix("'")


@given(st.binary(max_size=200))
def test_any_bytes_are_a_table_or_refused(content: bytes) -> None:
    try:
        rows_of(content)
    except CsvRefusedError as error:
        assert str(error).startswith("line ")


# --- quotations


def test_a_quotation_is_made_printed_and_becomes_the_plan_s_price(
    page: Client, plan: Plan, plate: Good, person: User, firm: Firm
) -> None:
    firm.hourly_rate, firm.currency = 48.0, "crowns"
    firm.save()
    services.use_in_plan(good=plate, plan=plan, person=person)
    address = reverse("handover:quotation", args=(plan.job_id, "A"))
    shown = page.get(address, {"margin": "10", "tax": "25"})
    expected = services.reckon_quote(plan=plan, margin=0.1, tax=0.25)
    assert shown.context["quote"] == expected
    assert next(line for line in expected.lines if line.key == "collectors").each == 612.5
    assert page.post(address, {"margin": "10", "tax": "25"}).status_code == 302
    quote = plan.quotes.get()
    assert quote.data["total"] == pytest.approx(expected.total)
    assert sum(line[3] for line in quote.data["lines"]) == pytest.approx(quote.data["delivered"])
    services.set_good(good=plate, person=person, price=9_999.0, merchant="", withdrawn=None)
    quote.refresh_from_db()
    assert quote.data["total"] == pytest.approx(expected.total)  # as it was made
    text = " ".join(printed(quote_pdf(plan, "metric", quote=quote)))
    assert "of heat" in text
    assert "612.50" not in text  # what it cost the firm
    assert f"{612.5 * 1.1:.2f}" in text
    page.post(reverse("handover:take_price", args=(plan.job_id, "A", quote.pk)))
    figures = reckoned(plan.head).result.figures
    assert figures["system_price"].value == pytest.approx(expected.total, abs=0.01)


@pytest.mark.parametrize("form", [{"margin": "lots"}, {"tax": "2000"}, {"margin": "-5"}])
def test_a_share_that_cannot_be_is_asked_back(page: Client, plan: Plan, form: dict[str, str]) -> None:
    answer = page.post(reverse("handover:quotation", args=(plan.job_id, "A")), form)
    assert answer.status_code == 422
    assert f'value="{next(iter(form.values()))}"' in answer.content.decode()
    assert not plan.quotes.exists()
