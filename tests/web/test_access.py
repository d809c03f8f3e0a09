"""Every address is walked by nobody, by a stranger and by a member; none may be forgotten."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver, reverse

from rowan.web.accounts.models import User
from rowan.web.commissioning.services import start_run
from rowan.web.papers import sheets
from rowan.web.plans.models import Plan
from rowan.web.ui.methods import MOST_BODY

# pages with a form that is sent to themselves
FORM_PAGES = {
    "accounts:password", "steps:climate", "steps:datasheet", "steps:reading", "steps:legs", "steps:store_sheet", "steps:measure",
    "steps:vessel_sheet", "steps:pump", "care:as_left", "history:merge", "commissioning:runs",
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
    "care:live": ("get", PLAN, {}, 200),
    "care:live_now": ("get", PLAN, {}, 302),
    "care:connect": ("post", PLAN, {"name": "cellar"}, 302),
    "care:end": ("post", PLAN, {"device": "0"}, 404),
    "care:log": ("get", PLAN, {"device": "0"}, 404),
    "care:as_left": ("get", PLAN, {}, 200),
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
    "methods:job_file": ("get", (), {}, 200),
}
# signing in, who is signed in (nobody, too, is an answer), and readings, which bring a token of their own
OPEN = {"worker", "health", "ready", "accounts:sign_in", "accounts:who", "care:readings"}


def _names(patterns: list[URLPattern | URLResolver], space: str = "") -> Iterator[str]:
    for pattern in patterns:
        if isinstance(pattern, URLResolver):
            inner = f"{space}{pattern.namespace}:" if pattern.namespace else space
            yield from _names(pattern.url_patterns, inner)
        else:
            yield f"{space}{pattern.name}"


def test_every_address_is_in_the_table() -> None:
    assert set(_names(get_resolver().url_patterns)) == set(TABLE) | OPEN


def _address(name: str, plan: Plan) -> str:
    values = {
        "job": plan.job_id,
        "letter": plan.letter,
        "key": {"papers:drawing": "loop", "steps:run": "systems"}.get(name, "charge"),
        "direction": "undo",
        "number": 10,
        "sha": "0" * 64,
    }
    if TABLE[name][1][:3] == RUN:
        values["number"] = start_run(plan=plan, kind="first", person=plan.head.author or User()).pk
    return reverse(name, kwargs={argument: values[argument] for argument in TABLE[name][1]})


@pytest.mark.parametrize("name", TABLE)
def test_nobody_is_sent_to_sign_in(name: str, plan: Plan, client: Client) -> None:
    method, _, data, _ = TABLE[name]
    answer = getattr(client, method)(_address(name, plan), data)
    assert answer.status_code == 302
    assert answer["Location"].startswith(reverse("accounts:sign_in"))
    assert plan.head.number == 1


@pytest.mark.parametrize("name", [name for name, row in TABLE.items() if "job" in row[1]])
def test_a_stranger_finds_nothing(name: str, plan: Plan, stranger: User, client: Client) -> None:
    client.force_login(stranger)
    method, _, data, _ = TABLE[name]
    assert getattr(client, method)(_address(name, plan), data).status_code == 404
    assert plan.head.number == 1


@pytest.fixture
def blank_papers(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Papers are drawn in tests of their own: here it counts who gets one."""
    monkeypatch.setattr(sheets, "draw", lambda html: b"%PDF")
    sheets.DRAWN.forget()
    yield
    sheets.DRAWN.forget()


@pytest.mark.parametrize("name", TABLE)
def test_a_member_gets_in(name: str, plan: Plan, page: Client, blank_papers: None) -> None:
    method, _, data, status = TABLE[name]
    assert getattr(page, method)(_address(name, plan), data).status_code == status


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
