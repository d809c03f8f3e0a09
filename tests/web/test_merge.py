"""Two hands on one plan: what each changed is laid side by side, and each value is picked."""

from __future__ import annotations

from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest
from django.test import Client

from rowan.core.terms.finding import Change
from rowan.web.accounts.models import User
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from tests.web.text import one_line

pytestmark = pytest.mark.django_db
SENT = "0b7c9c1e-7a53-4d0e-9a3e-1f2a3b4c5d6e"


def theirs(plan: Plan, colleague: User, path: str, value: Any) -> int:
    """A colleague saves something; gives the number of the state I still see."""
    before = plan.head.number
    edit = services.Edit([Change(path, value)], path, "changed by a colleague")
    services.change_plan(plan=plan, author=colleague, based_on=before, edit=edit)
    plan.refresh_from_db()
    return before


def send(page: Client, plan: Plan, number: int, **more: str) -> Any:
    post = {
        "path": "control.start_k",
        "value": "9 K",
        "revision": number,
        "bench": "control",
        "origin": "agreed",
        **more,
    }
    return page.post(f"/jobs/{plan.job_id}/A/set/", post)


def test_an_overtaken_change_leads_to_both_side_by_side(plan: Plan, page: Client, colleague: User) -> None:
    number = theirs(plan, colleague, "control.start_k", 11.0)
    answer = send(page, plan, number)
    assert answer.status_code == 409
    text = answer.content.decode()
    link = text.split('id="to-merge"')[1].split('href="')[1].split('"')[0].replace("&amp;", "&")
    asked = parse_qs(urlsplit(link).query)
    assert (asked["path"], asked["value"], asked["origin"]) == (["control.start_k"], ["9 K"], ["agreed"])
    shown = one_line(page.get(link))
    for words in ("changed by both", "11.0 K", "<b>9 K</b>", colleague.name, "What yours would move"):
        assert words in shown, words


@pytest.mark.parametrize(("pick", "wanted"), [("mine", 9.0), ("theirs", 11.0)])
def test_what_is_picked_is_saved(plan: Plan, page: Client, colleague: User, pick: str, wanted: float) -> None:
    number = theirs(plan, colleague, "control.start_k", 11.0)
    post = {
        "revision": plan.head.number, "since": number, "bench": "control",
        "path": ["control.start_k", "survey.room_c"], "value": ["9 K", "16"], "origin": ["agreed", "measured"],
        "pick-0": pick, "pick-1": "mine",
    }  # fmt: skip
    answer = page.post(f"/jobs/{plan.job_id}/A/merge/", post)
    assert answer.status_code == 302
    plan.refresh_from_db()
    design = services.design_of(plan.head)
    assert design.control.start_k.value == wanted
    assert (design.survey.room_c.value, design.survey.room_c.origin) == (16.0, "measured")
    assert plan.head.number == number + 2, "one state for all that is picked"


def test_a_plan_that_moves_on_while_picking_is_shown_anew(plan: Plan, page: Client, colleague: User) -> None:
    number = theirs(plan, colleague, "control.start_k", 11.0)
    seen = plan.head.number
    theirs(plan, colleague, "control.start_k", 12.0)
    post = {
        "revision": seen,
        "since": number,
        "bench": "control",
        "path": "control.start_k",
        "value": "9 K",
        "origin": "",
        "pick-0": "mine",
    }
    answer = page.post(f"/jobs/{plan.job_id}/A/merge/", post)
    assert answer.status_code == 409
    assert "12.0 K" in one_line(answer)
    assert services.design_of(plan.head).control.start_k.value == 12.0


def test_what_cannot_be_taken_is_said_and_not_offered(plan: Plan, page: Client, colleague: User) -> None:
    number = theirs(plan, colleague, "control.start_k", 11.0)
    address = f"/jobs/{plan.job_id}/A/merge/?since={number}&path=control.start_k&value=900+K&path=no.such&value=1"
    text = one_line(page.get(address))
    assert "outside what can be" in text
    assert "disabled" in text
    assert "no.such" not in text
    for since in ("x", "99999", ""):
        assert page.get(f"/jobs/{plan.job_id}/A/merge/?since={since}").status_code == 404


def test_a_late_change_goes_on_top_where_nobody_touched_its_input(plan: Plan, page: Client, colleague: User) -> None:
    number = theirs(plan, colleague, "survey.room_c", 17.0)
    assert send(page, plan, number).status_code == 409, "at the page itself somebody looks first"
    assert send(page, plan, number, late="1", sent=SENT).status_code == 302
    plan.refresh_from_db()
    design = services.design_of(plan.head)
    assert (design.control.start_k.value, design.survey.room_c.value) == (9.0, 17.0)
    # sent once more it is known already
    assert send(page, plan, number, late="1", sent=SENT).status_code == 302
    assert plan.head.number == number + 2


def test_a_late_change_of_the_same_input_is_overtaken(plan: Plan, page: Client, colleague: User) -> None:
    number = theirs(plan, colleague, "control.start_k", 11.0)
    assert send(page, plan, number, late="1", sent=SENT).status_code == 409
    assert services.design_of(plan.head).control.start_k.value == 11.0


def test_nobody_of_another_firm_sees_it(plan: Plan, stranger: User, client: Client) -> None:
    client.force_login(stranger)
    assert client.get(f"/jobs/{plan.job_id}/A/merge/?since=1").status_code == 404


def test_who_is_signed_in_and_a_token_that_counts(page: Client, client: Client, person: User) -> None:
    here = page.get("/who/").json()
    assert here["person"] == person.pk
    assert len(here["token"]) > 30
    nobody = Client().get("/who/").json()
    assert nobody["person"] is None
    assert nobody["token"]


def test_what_one_browser_sends_late_does_not_overtake_itself(plan: Plan, page: Client) -> None:
    """Three changes of one input, kept without network on the same state: each goes on top of the one before."""
    number = plan.head.number
    for n, kelvin in enumerate((9, 10, 11), 1):
        sent = f"{SENT[:8]}-7a53-4d0e-9a3e-1f2a3b4c5d{n:02d}"
        assert send(page, plan, number, value=f"{kelvin} K", late="1", sent=sent).status_code == 302
    plan.refresh_from_db()
    assert plan.head.number == number + 3
    assert services.design_of(plan.head).control.start_k.value == 11.0
    # another browser, which did not see them, is overtaken
    assert send(page, plan, number, late="1", sent=SENT.replace("0b7c", "1b7c")).status_code == 409
