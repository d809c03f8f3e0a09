"""Hand over: papers and what they lack, the drill, links that end, the page of whoever lives there, its look judged and kept."""

from __future__ import annotations

import io
from datetime import timedelta

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from rowan.core.records.handover import hidden_legs
from rowan.core.records.house_look import Look
from rowan.web.accounts.models import User
from rowan.web.care.services import leave_settings
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.services import Told, start_run, write
from rowan.web.customers.services import save_customer, set_card
from rowan.web.handover.pack import Pack
from rowan.web.handover.papers import OWN, pack_pdf, paper_pdf
from rowan.web.handover.services import choose
from rowan.web.house import services
from rowan.web.house.models import DiaryEntry, HouseLink
from rowan.web.papers.settings_card import settings_card_pdf
from rowan.web.plans.models import Plan
from rowan.web.plans.services import start_job
from rowan.web.ui.errors import NoSuchStepError
from tests.core.designs import plan_b
from tests.web.text import plain, printed


@pytest.fixture
def built(plan: Plan, person: User) -> Plan:
    return start_job(firm=plan.job.firm, author=person, title="Kvist house as built", design=plan_b())


@pytest.fixture
def link(built: Plan, person: User) -> HouseLink:
    return services.give_link(plan=built, person=person, kind="sent")


def _house(link: HouseLink) -> str:
    return reverse("handover:house", args=(services.token_of(link),))


def test_the_bench_says_what_is_ready_and_what_is_missing(built: Plan, page: Client) -> None:
    html = page.get(reverse("handover:bench", args=(built.job_id, "A"))).content.decode()
    text = plain(html)
    assert "4 of 8 papers are ready" in text
    for words in ("frost point not read", "nothing proves the devices", "no telephone on its papers", "no photo of"):
        assert words in text
    assert "1.57" in text  # the least the gauge may show
    assert f'href="{reverse("handover:bench", args=(built.job_id, "A"))}"' in html  # no dead word on the tape


@pytest.mark.parametrize("key", ["card", "how", "normal", "modes", "route", "safety", "records", "whom", "nonsense"])
def test_every_paper_opens_on_the_bench(built: Plan, page: Client, key: str) -> None:
    answer = page.get(reverse("handover:bench", args=(built.job_id, "A")), {"paper": key})
    assert answer.status_code == 200
    assert answer.context["opened"] == ("card" if key == "nonsense" else key)


@pytest.mark.parametrize("fixture", ["plan", "direct_plan", "roof_tank_plan"])
def test_every_kind_of_loop_has_its_bench_and_its_house_page(
    fixture: str, request: pytest.FixtureRequest, page: Client, person: User
) -> None:
    found: Plan = request.getfixturevalue(fixture)
    assert page.get(reverse("handover:bench", args=(found.job_id, "A"))).status_code == 200
    link = services.give_link(plan=found, person=person, kind="sent")
    text = plain(Client().get(_house(link)).content.decode())
    assert "The monthly look" in text
    assert ("gauge, before sunrise" in text) is found.head.design["charge"]["kind"]["value"].startswith("sealed")


def test_what_was_done_makes_papers_ready(built: Plan, person: User) -> None:
    assert [lack.level for lack in Pack(built, "metric").papers[0].lacks] == ["fix", "fix"]
    run = start_run(plan=built, kind="first", person=person)
    for field, step, typed in (("frost_c", "fluid", "-22 °C"), ("left_p", "close", "1.78 bar")):
        write(run=run, told=Told(kind="read", step=step, field=field, typed=typed), person=person, units="metric")
    Run.objects.update(closed_at=timezone.now())
    settings = {row.path: row for row in Pack(built, "metric").left}
    numbers = {path: 1.0 for path, row in settings.items() if not row.field.choices}
    words = {path: row.field.choices[0][0] for path, row in settings.items() if row.field.choices}
    leave_settings(plan=built, person=person, numbers=dict(numbers), words=words)
    pack = Pack(built, "metric")
    assert pack.facts.settings_left == pack.facts.settings
    assert pack.papers[0].lacks[0].words.text("metric") == "settings not read again after they were entered"
    assert [paper.key for paper in pack.papers if any(lack.level == "fix" for lack in paper.lacks)] == ["whom"]


def test_papers_are_chosen_with_a_day(built: Plan, page: Client) -> None:
    page.post(reverse("handover:choose", args=(built.job_id, "A")), {"on": "2026-06-05", "paper": ["how", "whom"]})
    pack = Pack(built, "metric")
    assert [paper.key for paper in pack.chosen] == ["how", "whom"]
    assert pack.handover.on.isoformat() == "2026-06-05"
    assert page.post(reverse("handover:choose", args=(built.job_id, "A")), {"on": "2026-02-31"}).status_code == 302


def test_where_hidden_pipes_lie_is_kept_printed_and_missed_where_it_is_not(
    built: Plan, page: Client, person: User
) -> None:
    hidden = hidden_legs(Pack(built, "metric").sheet.design)
    assert hidden
    bench = reverse("handover:bench", args=(built.job_id, "A"))
    lack = "whoever drills there later needs the place"
    assert f"no offset of {hidden[0].name}" in plain(page.get(bench).content.decode())
    said = {f"offset-{leg.id}": f" {n}.20 m from the gable wall " for n, leg in enumerate(hidden)}
    # of a leg that everybody sees nothing is kept
    seen = next(
        leg for leg in Pack(built, "metric").sheet.result.run.route.legs() if leg.id not in {one.id for one in hidden}
    )
    answer = page.post(
        reverse("handover:offsets", args=(built.job_id, "A")), {**said, f"offset-{seen.id}": "in plain sight"}
    )
    assert answer["Location"] == f"{bench}?paper=route#open-paper"
    kept = Pack(built, "metric")
    assert kept.handover.offsets == {leg.id: f"{n}.20 m from the gable wall" for n, leg in enumerate(hidden)}
    assert next(one for one in kept.papers if one.key == "route").lacks[0].words.text("metric").startswith("no photo")
    assert "0.20 m from the gable wall" in printed(paper_pdf(built, "metric", "a4", key="route"))[0]
    # emptied again it is missed again; a day is kept beside it
    choose(plan=built, person=person, on=timezone.localdate(), left_out=["how"])
    page.post(reverse("handover:offsets", args=(built.job_id, "A")), {f"offset-{hidden[0].id}": " "})
    pack = Pack(built, "metric")
    assert hidden[0].id not in pack.handover.offsets
    assert pack.handover.left_out == ["how"]
    assert any(lack in one.words.text("metric") for paper in pack.papers for one in paper.lacks)


def test_the_pack_is_one_file_in_order_with_the_firm_s_head(built: Plan, person: User) -> None:
    firm = built.job.firm
    firm.telephone = "0555 010 000"
    firm.save()
    customer = save_customer(firm=firm, person=person, values={"name": "Ebba Kvist", "telephone": "0555 010 014"})
    set_card(job=built.job, person=person, customer=customer, site=None)
    pages = printed(pack_pdf(built, "metric", "a4", card_address="http://testserver/h/1.x/"))
    order = [
        head
        for head in pages
        if any(
            head.startswith(name)
            for name in ("Settings card", "How it works", "What is normal", "Modes", "Where", "Safety", "Whom")
        )
    ]
    assert [head.split("Kvist")[0].strip() for head in order] == [
        "Settings card", "How it works", "What is normal", "Modes and tags", "Where the pipes are", "Safety devices", "Whom to call",
    ]  # fmt: skip
    assert len(pages) == 8  # tags have a page of their own
    assert all("0555 010 000" in words for words in pages if "Tags to cut" not in words)
    assert "Ebba Kvist" in pages[-1]
    assert "do not spray water into a hot field" in pages[-1]


@pytest.mark.parametrize("size", ["a4", "letter"])
def test_the_card_is_one_page_and_so_is_each_paper_but_the_tags(built: Plan, size: str) -> None:
    units = "us" if size == "letter" else "metric"
    assert len(PdfReader(io.BytesIO(settings_card_pdf(built, units, size))).pages) == 1  # type: ignore[arg-type]
    for key in OWN:
        pages = len(PdfReader(io.BytesIO(paper_pdf(built, units, size, key=key))).pages)  # type: ignore[arg-type]
        assert pages == (2 if key == "modes" else 1), key


# --- the drill


def test_the_drill_compares_what_the_controller_shows_with_the_card(built: Plan, page: Client, person: User) -> None:
    leave_settings(plan=built, person=person, numbers={"control.start_k": 8.0, "control.stop_k": 3.0}, words={})
    address = reverse("handover:drill", args=(built.job_id, "A"))
    answer = page.post(address, {"control.start_k": "8", "control.stop_k": "5"})
    assert answer.context["done"] == {"of": 2, "same": 1, "differ": {"Stop, field over store foot": "5"}}
    entry = DiaryEntry.objects.get()
    assert (entry.kind, entry.level, entry.data["same"]) == ("drill", "fix", 1)
    assert page.post(address, {}).status_code == 422
    wrong = page.post(address, {"control.start_k": "warm"})
    assert wrong.status_code == 422
    assert 'value="warm"' in wrong.content.decode()
    assert DiaryEntry.objects.count() == 1


# --- the page of whoever lives there


def test_a_look_is_judged_at_once_and_stands_in_the_diary(link: HouseLink, page: Client) -> None:
    answer = Client().post(_house(link), {"gauge": "1.2 bar", "pump_ran": "yes"})
    text = plain(answer.content.decode())
    assert "1.20 bar is 0.5" in text
    assert "ring us" in text
    entry = DiaryEntry.objects.get()
    assert (entry.level, entry.person, entry.link) == ("fix", None, link)
    assert entry.data == {"gauge": pytest.approx(1.2e5), "pump_ran": True}
    assert "0.5" in plain(page.get(reverse("handover:bench", args=(link.plan.job_id, "A"))).content.decode())
    fine = Client().post(_house(link), {"gauge": "1,77"})
    assert "As it should be" in plain(fine.content.decode())


@pytest.mark.parametrize(("form", "words"), [
    ({}, "Nothing was looked at"), ({"gauge": "warm"}, "warm"), ({"gauge": "1200 bar"}, "No gauge in a house shows that"),
    ({"gauge": "-3 bar"}, "No gauge in a house shows that"),
])  # fmt: skip
def test_what_is_no_look_is_asked_back(link: HouseLink, form: dict[str, str], words: str) -> None:
    answer = Client().post(_house(link), form)
    assert answer.status_code == 422
    assert words in plain(answer.content.decode())
    assert not DiaryEntry.objects.exists()


def test_psi_is_understood(link: HouseLink) -> None:
    Client().post(_house(link), {"gauge": "26 psi"})
    assert DiaryEntry.objects.get().data["gauge"] == pytest.approx(26 * 6894.757, rel=1e-4)


def test_a_link_that_is_tampered_with_over_or_taken_back_opens_nothing(
    link: HouseLink, person: User, plan: Plan
) -> None:
    address = _house(link)
    assert Client().get(address).status_code == 200
    other = HouseLink.objects.create(plan=plan, kind="sent", made_by=person, ends=timezone.localdate())
    token = services.token_of(link)
    for wrong in (
        address.replace(f"/{link.pk}.", f"/{other.pk}."),
        reverse("handover:house", args=(token[:-1] + ("A" if token[-1] != "A" else "B"),)),
        f"/h/{link.pk}/", "/h/x.y/",
    ):  # fmt: skip
        assert Client().get(wrong).status_code == 404
    HouseLink.objects.filter(pk=link.pk).update(ends=timezone.localdate() - timedelta(days=1))
    assert Client().get(address).status_code == 404
    HouseLink.objects.filter(pk=link.pk).update(ends=None)
    services.take_back_link(link=link, person=person)
    assert Client().get(address).status_code == 404
    assert Client().post(address, {"gauge": "1.7"}).status_code == 404


def test_a_link_shows_one_house_and_nothing_else(link: HouseLink, plan: Plan, person: User) -> None:
    text = Client().get(_house(link)).content.decode()
    assert "4 Ropewalk" not in text  # another job of the firm
    assert 'href="/jobs/' not in text
    assert "no-store" in Client().get(_house(link))["Cache-Control"]
    assert "noindex" in Client().get(_house(link))["X-Robots-Tag"]
    for key in ("safety", "records", "job-sheet"):
        assert Client().get(f"{_house(link)}{key}.pdf").status_code == 404
    link.refresh_from_db()
    assert link.opened == 3


def test_the_square_on_the_card_opens_the_house_s_page_until_it_is_taken_back(
    built: Plan, page: Client, person: User
) -> None:
    address = reverse("handover:links", args=(built.job_id, "A"))
    page.post(address, {"kind": "card"})
    page.post(address, {"kind": "card"})
    card = built.house_links.get(kind="card", revoked=None)  # one at a time
    assert card.ends is None
    request = page.get(reverse("handover:bench", args=(built.job_id, "A"))).wsgi_request
    assert services.card_address(request, built) == f"http://testserver{_house(card)}"
    page.post(address, {"end": card.pk})
    assert "/control/" in services.card_address(request, built)
    assert Client().get(_house(card)).status_code == 404


def test_looks_are_few_a_day(link: HouseLink) -> None:
    for _ in range(services.MOST_LOOKS):
        services.take_look(link=link, look=Look(pump_ran=True), units="metric")
    with pytest.raises(NoSuchStepError, match="enough for one day"):
        services.take_look(link=link, look=Look(pump_ran=True), units="metric")


def test_another_plan_s_link_cannot_be_ended_here(link: HouseLink, plan: Plan, page: Client) -> None:
    assert page.post(reverse("handover:links", args=(plan.job_id, "A")), {"end": link.pk}).status_code == 404
