"""Every address is walked by nobody, by a stranger and by a member; none may be forgotten."""

from __future__ import annotations

import io
import uuid
from collections.abc import Callable, Iterator
from contextlib import nullcontext
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest.mock import patch

import pytest
from django.template.backends.django import Template as PageTemplate
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver, reverse
from pypdf import PdfWriter

from rowan.core.goods.catalogue import PIPES
from rowan.web.accounts.models import User
from rowan.web.care.log_services import take_file
from rowan.web.commissioning.services import start_run
from rowan.web.config.rules import RULES
from rowan.web.customers.models import Customer, JobFile, Site
from rowan.web.dates.models import Visit
from rowan.web.goods.models import Good
from rowan.web.goods.services import make_quote
from rowan.web.papers import sheets
from rowan.web.plans.models import FirmPlace, Plan
from rowan.web.plans.proposals import open_proposal
from rowan.web.practice import papers
from rowan.web.practice.services import begin
from rowan.web.ui.methods import MOST_BODY

# pages with a form that is sent to themselves
FORM_PAGES = {
    "accounts:password", "steps:climate", "steps:datasheet", "steps:reading", "steps:legs", "steps:store_sheet", "steps:measure",
    "steps:vessel_sheet", "steps:pump", "care:as_left", "care:by_hand", "care:mapping", "history:merge", "commissioning:runs", "accounts:people", "accounts:firm",
    "accounts:second", "customers:customers", "customers:customer", "customers:site", "dates:new_visit", "dates:visit", "jobs:places", "goods:good", "handover:quotation",
    "handover:drill",
}  # fmt: skip
# address name: (method, arguments, post data, member's status)
PLAN = ("job", "letter")
RUN = (*PLAN, "number")
TABLE: dict[str, tuple[str, tuple[str, ...], dict[str, str], int]] = {
    "jobs:list": ("get", (), {}, 200),
    "jobs:proposal": ("get", (), {}, 302),
    "jobs:facts_band": ("get", (), {}, 302),
    "jobs:start": (
        "post",
        (),
        {
            "place": "Aldersund",
            "azimuth": "180",
            "tilt": "40",
            "covering": "slate",
            "storeys": "2",
            "persons": "4",
            "heater": "oil",
        },
        302,
    ),
    "accounts:units": ("post", (), {"units": "us"}, 302),
    "accounts:password": ("get", (), {}, 200),
    "accounts:password_changed": ("get", (), {}, 200),
    "accounts:sign_out": ("post", (), {}, 302),
    "accounts:me": ("get", (), {}, 200),
    "accounts:end_session": ("post", (), {"which": "others"}, 302),
    "accounts:second": ("get", (), {}, 200),
    "accounts:second_end": ("post", (), {"password": "wrong"}, 302),
    "accounts:people": ("get", (), {}, 200),
    "accounts:role": ("post", ("number",), {"role": "viewer"}, 404),
    "accounts:leave": ("post", ("number",), {}, 404),
    "accounts:withdraw": ("post", ("number",), {}, 404),
    "accounts:firm": ("get", (), {}, 200),
    "accounts:logo": ("get", (), {}, 404),
    "accounts:log": ("get", (), {}, 200),
    "history:proposal": ("get", RUN, {}, 200),
    "customers:customers": ("get", (), {}, 200),
    "customers:customer": ("get", ("number",), {}, 200),
    "customers:delete": ("post", ("number",), {}, 302),
    "customers:export": ("get", ("number",), {}, 200),
    "customers:site": ("get", ("number",), {}, 200),
    "customers:set_card": ("post", ("job",), {"new_customer": "Ebba Kvist", "new_site": "4 Ropewalk, Aldersund"}, 302),
    "customers:set_state": ("post", ("job",), {"state": "surveyed"}, 302),
    "customers:write_note": ("post", ("job",), {"text": "the dog stays in the kitchen"}, 302),
    "customers:file": ("get", ("job", "number"), {}, 200),
    "customers:remove_file": ("post", ("job", "number"), {}, 302),
    "handover:bench": ("get", PLAN, {}, 200),
    "handover:choose": ("post", PLAN, {"on": "2026-06-05", "paper": "card"}, 302),
    "handover:offsets": ("post", PLAN, {"offset-c1": "0.4 m from the wall"}, 302),
    "handover:links": ("post", PLAN, {"kind": "sent"}, 302),
    "handover:drill": ("get", PLAN, {}, 200),
    "handover:pack": ("get", PLAN, {}, 200),
    "handover:paper": ("get", (*PLAN, "key"), {}, 200),
    "archive:archive": ("get", (), {}, 200),
    "archive:firm_zip": ("get", (), {}, 200),
    "archive:look": ("post", (), {}, 422),
    "archive:take": ("post", (), {"key": "x"}, 422),
    "archive:job_zip": ("get", ("job",), {}, 200),
    "jobs:places": ("get", (), {}, 200),
    "jobs:map": ("get", (), {}, 200),
    "jobs:remove_place": ("post", ("number",), {}, 302),
    "goods:catalogue": ("get", (), {}, 200),
    "goods:take_in": ("post", (), {"kind": "prices"}, 302),
    "goods:set_price": ("post", (), {"part": "controller", "price": "210"}, 302),
    "goods:price_list": ("get", (), {}, 200),
    "goods:csv": ("get", ("key",), {}, 200),
    "goods:good": ("get", ("number",), {}, 200),
    "goods:use": ("post", ("number",), {"plan": "0"}, 404),
    "goods:keep": ("post", PLAN, {"kind": "pump"}, 302),
    "handover:quotation": ("get", PLAN, {}, 200),
    "handover:quote_paper": ("get", RUN, {}, 200),
    "handover:take_price": ("post", RUN, {}, 302),
    "quick:quick": ("get", (), {"from": "23 psi"}, 200),
    "quick:sum": ("get", ("key",), {}, 200),
    "quick:keep": ("post", ("key",), {}, 302),
    "practice:book": ("get", (), {}, 200),
    "practice:begin": ("post", (), {}, 422),
    "practice:run": ("get", ("number",), {}, 200),
    "practice:go_on": ("post", ("number",), {"until": "9"}, 302),
    "practice:turn": ("post", ("number",), {"turn": "drain:open", "until": "9"}, 302),
    "practice:back": ("post", ("number",), {}, 302),
    "practice:end": ("post", ("number",), {}, 302),
    "practice:again": ("post", ("number",), {"until": "0"}, 302),
    "practice:answer": ("post", ("number",), {"q-places": "edge", "done": "1"}, 302),
    "practice:once_more": ("post", ("number",), {"same": "1"}, 302),
    "practice:paper": ("get", ("number",), {}, 200),
    "practice:look": ("post", ("number",), {"with": "gauge"}, 302),
    "practice:put_right": ("post", ("number",), {"named": "air", "cure": "bleed"}, 302),
    "practice:certificate": ("get", (), {}, 200),
    "practice:certificate_of": ("get", ("number",), {}, 200),
    "practice:witnessed": ("post", ("number",), {"skill": "clamp"}, 302),
    "dates:week": ("get", (), {"visit": "1"}, 200),
    "care:fleet": ("get", (), {}, 200),
    "dates:job": ("get", ("job",), {}, 200),
    "dates:new_visit": ("get", (), {}, 200),
    "dates:visit": ("get", ("number",), {}, 200),
    "dates:move": ("post", ("number",), {"to": "2026-06-05T09:00"}, 302),
    "dates:cancel": ("post", ("number",), {}, 302),
    "dates:calendar": ("get", (), {}, 200),
    "dates:set_feed": ("post", (), {"wanted": "yes"}, 302),
    "history:answer": ("post", RUN, {"act": "decline", "said": "the hump stays", "revision": "1"}, 302),
    "steps:job": ("get", ("job",), {}, 302),
    "history:compare": ("get", ("job",), {}, 200),
    "steps:bench": ("get", (*PLAN, "key"), {}, 200),
    "steps:assumed": ("get", PLAN, {}, 200),
    "steps:export": ("get", PLAN, {}, 200),
    "steps:set": (
        "post",
        PLAN,
        {"path": "charge.relief_gauge_pa", "value": "6 bar", "origin": "measured", "revision": "1", "bench": "charge"},
        302,
    ),
    "steps:drag": (
        "post",
        PLAN,
        {"path": "charge.gap_pa", "value": "40000", "revision": "1", "bench": "charge"},
        302,
    ),
    "steps:cure": ("post", PLAN, {"finding": "vent_steam", "cure": "0", "revision": "1", "bench": "charge"}, 302),
    "steps:step": ("post", (*PLAN, "direction"), {"revision": "1", "bench": "charge"}, 422),
    "steps:entries": ("post", PLAN, {"add": "tree", "revision": "1", "bench": "sun"}, 302),
    "steps:run": ("get", (*PLAN, "key"), {}, 200),
    "steps:climate": ("get", PLAN, {}, 200),
    "steps:datasheet": ("get", PLAN, {}, 200),
    "steps:sensors": ("get", PLAN, {"ohm": "1100"}, 200),
    "steps:wiring": ("get", PLAN, {"programmer": "1"}, 200),
    "steps:race": ("get", PLAN, {"start": "7", "stop": "2"}, 302),
    "steps:pairs": ("get", PLAN, {}, 200),
    "steps:calming": ("get", PLAN, {}, 200),
    "steps:battery": ("post", PLAN, {"revision": "1", "bench": "functions"}, 302),
    "care:bench": ("get", PLAN, {}, 200),
    "care:health": ("get", PLAN, {}, 302),
    "care:take_log": ("post", (), {}, 404),
    "care:mapping": ("get", RUN, {}, 200),
    "care:delete_log": ("post", RUN, {}, 302),
    "care:live": ("get", PLAN, {}, 200),
    "care:live_now": ("get", PLAN, {}, 302),
    "care:connect": ("post", PLAN, {"name": "cellar"}, 302),
    "care:end": ("post", PLAN, {"device": "0"}, 404),
    "care:log": ("get", PLAN, {"device": "0"}, 404),
    "care:as_left": ("get", PLAN, {}, 200),
    "care:use_sky": ("post", PLAN, {"sky": ""}, 302),
    "care:window": ("get", PLAN, {}, 404),
    "care:by_hand": ("get", PLAN, {}, 200),
    "care:strike": ("post", PLAN, {"entry": "0"}, 404),
    "papers:wiring": ("get", PLAN, {}, 200),
    "steps:take": ("post", PLAN, {"start": "7", "stop": "2", "revision": "1", "bench": "control"}, 302),
    "steps:slip": ("get", PLAN, {"path": "charge.vessel_l", "revision": "1", "bench": "charge"}, 302),
    "steps:store_sheet": ("get", PLAN, {}, 200),
    "steps:vessel_sheet": ("get", PLAN, {}, 200),
    "commissioning:runs": ("get", PLAN, {}, 200),
    "commissioning:rehearsal": ("get", PLAN, {}, 200),
    "commissioning:run": ("get", RUN, {}, 200),
    "commissioning:work": ("get", RUN, {}, 200),
    "commissioning:entries": ("post", RUN, {"kind": "read", "step": "inspect", "field": "field_c", "typed": "14"}, 200),
    "commissioning:photos": ("post", RUN, {"step": "inspect"}, 422),
    "commissioning:photo": ("get", (*RUN, "sha"), {}, 404),
    "commissioning:as_built": ("post", RUN, {"revision": "1"}, 422),
    "commissioning:due": ("post", RUN, {"day": "2026-06-05"}, 302),
    "commissioning:calendar": ("get", RUN, {}, 404),
    "commissioning:record": ("get", RUN, {}, 200),
    "papers:run_record": ("get", RUN, {}, 200),
    "steps:measure": ("get", PLAN, {}, 200),
    "steps:schools": ("get", PLAN, {}, 200),
    "steps:found": ("get", PLAN, {}, 200),
    "steps:reading": ("get", PLAN, {}, 200),
    "steps:pump": ("get", PLAN, {}, 200),
    "steps:legs": ("get", PLAN, {}, 200),
    "papers:shade_letter": ("get", PLAN, {}, 200),
    "steps:copy": ("post", PLAN, {"bench": "charge"}, 302),
    "history:revisions": ("get", PLAN, {}, 200),
    "history:merge": ("get", PLAN, {"since": "1", "path": "charge.gap_pa", "value": "0.5 bar"}, 200),
    "history:restore": ("post", PLAN, {"number": "1", "revision": "1"}, 422),
    "papers:settings_card": ("get", PLAN, {}, 200),
    "papers:chalk_sheet": ("get", PLAN, {}, 200),
    "papers:roof_csv": ("get", PLAN, {}, 200),
    "papers:roof_dxf": ("get", PLAN, {}, 200),
    "papers:job_sheet": ("get", PLAN, {}, 200),
    "papers:parts_csv": ("get", PLAN, {}, 200),
    "papers:drawing": ("get", (*PLAN, "key"), {}, 200),
    "papers:papers": ("get", PLAN, {}, 200),
    "jobs:take_in": ("post", (), {}, 422),
    "jobs:rename": ("post", ("job",), {"title": "Kvist", "was": "Kvist house, 4 Ropewalk", "next": "/"}, 302),
    "jobs:duplicate": ("post", ("job",), {}, 302),
    "jobs:paper_units": ("post", ("job",), {"units": "us", "next": "/"}, 302),
    "jobs:archive": ("post", ("job",), {"archived": "yes"}, 302),
    "jobs:schema": ("get", (), {}, 200),
    "methods:index": ("get", (), {}, 200),
    "methods:page": ("get", ("number",), {}, 200),
    "methods:glossary": ("get", (), {}, 200),
    "methods:job_file": ("get", (), {}, 200),
}
# signing in, who is signed in (nobody, too, is an answer), and readings, which bring a token of their own
OPEN = {name for name, (look, _) in RULES.items() if look == "anyone"}


LOG = b"Date;Coll;Tank\n" + b"".join(b"2026-05-04 %02d:00;21.%d;30.%d\n" % (n, n % 9, n % 7) for n in range(24))
# what stands in the book, made for the address that asks for it by number
NINE = datetime(2026, 6, 1, 9, tzinfo=UTC)
BOOK: dict[str, Callable[[Plan], Any]] = {
    **dict.fromkeys(
        ("customers:customer", "customers:delete", "customers:export"),
        lambda plan: Customer.objects.create(firm=plan.job.firm, name="Ebba Kvist"),
    ),
    "customers:site": lambda plan: Site.objects.create(firm=plan.job.firm, address="4 Ropewalk"),
    **dict.fromkeys(
        ("customers:file", "customers:remove_file"),
        lambda plan: JobFile.objects.create(job=plan.job, name="letter.txt", size=2, content=b"hi"),
    ),
    "jobs:remove_place": lambda plan: FirmPlace.objects.create(
        firm=plan.job.firm,
        name=uuid.uuid4().hex,
        latitude=1,
        longitude=1,
        altitude=1,
        coldest=1,
        ghi=[1] * 12,
        air=[1] * 12,
    ),
    **dict.fromkeys(
        ("care:mapping", "care:delete_log"),
        lambda plan: take_file(
            plan=plan,
            person=plan.head.author,
            name="log.csv",
            data=LOG.replace(b"Coll", uuid.uuid4().hex.encode()),
            zone_h=1.0,
        ),
    ),
    **dict.fromkeys(
        ("goods:good", "goods:use"),
        lambda plan: Good.objects.create(
            firm=plan.job.firm, kind="pipe", name=uuid.uuid4().hex, data=PIPES["Copper 22 × 1"].model_dump(mode="json")
        ),
    ),
    **dict.fromkeys(
        ("handover:quote_paper", "handover:take_price"),
        lambda plan: make_quote(plan=plan, person=plan.head.author, margin=0.1, tax=0.2, units="metric"),
    ),
    **dict.fromkeys(
        ("practice:run", "practice:go_on", "practice:turn", "practice:back", "practice:end", "practice:again"),
        lambda plan: begin(person=plan.head.author, plan=plan),
    ),
    **dict.fromkeys(
        ("practice:answer", "practice:once_more", "practice:paper"),
        lambda plan: papers.begin(person=plan.head.author, plan=plan, task="dangers", seed=3),
    ),
    **dict.fromkeys(
        ("practice:look", "practice:put_right"),
        lambda plan: papers.begin(person=plan.head.author, plan=plan, task="hunt", seed=3),
    ),
    **dict.fromkeys(
        ("practice:certificate_of", "practice:witnessed"),
        lambda plan: User.objects.create_user(
            f"{uuid.uuid4().hex}@hollinwray.example", uuid.uuid4().hex, firm=plan.job.firm, role="apprentice"
        ),
    ),
    **dict.fromkeys(
        ("dates:visit", "dates:move", "dates:cancel"),
        lambda plan: Visit.objects.create(
            firm=plan.job.firm, kind="survey", uid=uuid.uuid4().hex, start=NINE, end=NINE + timedelta(hours=2)
        ),
    ),
}
KEYS = {"goods:csv": "kind"}  # what the address calls its key
OF_THE_FIRM = [name for name, row in TABLE.items() if "job" in row[1] or name in BOOK]


def _names(patterns: list[URLPattern | URLResolver], space: str = "") -> Iterator[str]:
    for pattern in patterns:
        if isinstance(pattern, URLResolver):
            inner = f"{space}{pattern.namespace}:" if pattern.namespace else space
            yield from _names(pattern.url_patterns, inner)
        else:
            yield f"{space}{pattern.name}"


def test_every_address_is_in_the_table_and_has_its_rule() -> None:
    names = set(_names(get_resolver().url_patterns))
    assert names == set(TABLE) | OPEN
    assert names == set(RULES)


def test_an_address_without_a_rule_is_shut(plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delitem(RULES, "papers:papers")
    assert page.get(_address("papers:papers", plan)).status_code == 404


# what each role may, as the product promises it; written out here, so that a slip in the product's own order of rights shows
ROLE_MAY = {
    "lead": {"anyone", "oneself", "look", "propose", "work", "lead"},
    "installer": {"anyone", "oneself", "look", "propose", "work"},
    "apprentice": {"anyone", "oneself", "look", "propose"},
    "viewer": {"anyone", "oneself", "look"},
}


WAYS = [*((name, row[0]) for name, row in TABLE.items()), *((name, "post") for name in sorted(FORM_PAGES))]


@pytest.mark.parametrize(("name", "method"), WAYS)
def test_each_role_gets_as_far_as_its_right(
    name: str, method: str, plan: Plan, person: User, blank_papers: None
) -> None:
    """Every address × every role, looking and sending each by its own right: refused at the door with nothing done, or let in. Who
    may most comes first, to a plan that nobody has touched, and gets what the table says."""
    in_table = method == TABLE[name][0]
    ask = RULES[name][0 if method == "get" else 1]
    address = _address(name, plan)
    client = Client()
    client.force_login(person)
    for role, may in ROLE_MAY.items():
        User.objects.filter(pk=person.pk).update(role=role)
        before = plan.head.number, Plan.everything.count()
        # what the lead was shown is not rendered for the others
        with (
            patch.object(PageTemplate, "render", lambda *_: "") if role != "lead" and method == "get" else nullcontext()
        ):
            status = getattr(client, method)(address, TABLE[name][2] if in_table else {}).status_code
        assert (status == 403) is (ask not in may), (role, status)
        if status == 403:
            assert (plan.head.number, Plan.everything.count()) == before
        if role == "lead" and in_table:
            assert status == TABLE[name][3]


def _address(name: str, plan: Plan) -> str:
    values = {
        "job": plan.job_id,
        "letter": plan.letter,
        "key": {"papers:drawing": "loop", "handover:paper": "how", "goods:csv": "pipe", "steps:run": "systems"}.get(
            name, "charge"
        ),
        "direction": "undo",
        "number": 10,
        "sha": "0" * 64,
    }
    if name.startswith("history:") and TABLE[name][1][:3] == RUN:
        known = {"name": "Pim", "firm": plan.job.firm, "role": "apprentice"}
        maker, _ = User.objects.get_or_create(email="pim@hollinwray.example", defaults=known)
        values["number"] = open_proposal(plan, maker).pk
    elif name in BOOK:
        values["number"] = BOOK[name](plan).pk
    elif TABLE[name][1][:3] == RUN:
        values["number"] = start_run(plan=plan, kind="first", person=plan.head.author or User()).pk
    return reverse(
        name,
        kwargs={
            KEYS.get(name, argument) if argument == "key" else argument: values[argument] for argument in TABLE[name][1]
        },
    )


@pytest.mark.parametrize("name", TABLE)
def test_nobody_is_sent_to_sign_in(name: str, plan: Plan, client: Client) -> None:
    method, _, data, _ = TABLE[name]
    answer = getattr(client, method)(_address(name, plan), data)
    assert answer.status_code == 302
    assert answer["Location"].startswith(reverse("accounts:sign_in"))
    assert plan.head.number == 1


@pytest.mark.parametrize("name", OF_THE_FIRM)
def test_a_stranger_finds_nothing(name: str, plan: Plan, stranger: User, client: Client) -> None:
    client.force_login(stranger)
    method, _, data, _ = TABLE[name]
    assert getattr(client, method)(_address(name, plan), data).status_code == 404
    assert plan.head.number == 1


def _blank() -> bytes:
    made, into = PdfWriter(), io.BytesIO()
    made.add_blank_page(100, 100)
    made.write(into)
    return into.getvalue()


BLANK = _blank()


@pytest.fixture
def blank_papers(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Papers are drawn in tests of their own: here it counts who gets one."""
    monkeypatch.setattr(sheets, "draw", lambda html: BLANK)
    sheets.DRAWN.forget()
    yield
    sheets.DRAWN.forget()


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if row[0] == "post"])
def test_what_changes_something_is_not_done_by_looking(name: str, plan: Plan, page: Client) -> None:
    assert page.get(_address(name, plan)).status_code == 405


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if row[0] == "get"])
def test_a_page_takes_a_form_only_where_it_has_one(name: str, plan: Plan, page: Client) -> None:
    assert (page.post(_address(name, plan)).status_code != 405) is (name in FORM_PAGES)


def test_no_address_takes_what_nobody_sends(plan: Plan, page: Client) -> None:
    for name in TABLE:
        for method in ("put", "patch", "delete", "options", "trace"):
            assert getattr(page, method)(_address(name, plan)).status_code == 405, (name, method)


def test_what_is_too_large_or_does_not_say_how_large_is_refused_unread(page: Client, plan: Plan) -> None:
    address = _address("steps:set", plan)
    assert page.post(address, CONTENT_LENGTH=str(MOST_BODY + 1)).status_code == 413
    assert page.post(address, CONTENT_LENGTH="-1").status_code == 411
    assert page.post(address, headers={"Transfer-Encoding": "chunked"}).status_code == 411
    assert page.post(address, {"path": "x"}).status_code not in (411, 413)


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if row[0] == "post"])
def test_what_changes_something_needs_its_token(name: str, plan: Plan, person: User) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(person)
    assert strict.post(_address(name, plan), TABLE[name][2]).status_code == 403


def test_a_stranger_s_list_is_empty(plan: Plan, stranger: User, client: Client) -> None:
    client.force_login(stranger)
    text = client.get(reverse("jobs:list")).content.decode()
    assert "Kvist" not in text
    assert "No jobs yet" in text


def test_someone_without_a_firm_can_start_nothing(client: Client, db: None) -> None:
    client.force_login(User.objects.create_user("lone@nowhere.example", "lonely-pass-1", name="Lone"))
    assert client.post(reverse("jobs:start"), TABLE["jobs:start"][2]).status_code == 403
