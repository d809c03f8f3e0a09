"""Where the disk takes nothing: each cause by its name, with what was typed, and looking goes on."""

from __future__ import annotations

from typing import Any

import pytest
from django.db import OperationalError
from django.test import Client

from rowan.web.plans import services
from rowan.web.plans.models import Plan
from tests.web.test_pages import bench_url
from tests.web.text import one_line

pytestmark = pytest.mark.django_db
CAUSES = {
    "database or disk is full": "disk is full",
    "database is locked": "busy saving",
    "attempt to write a readonly database": "may only read",
    "unable to open database file": "cannot reach its data",
    "disk I/O error": "cannot save",
}


def failing(told: str) -> Any:
    def insert(*_: object, **__: object) -> None:
        raise OperationalError(told)

    return insert


@pytest.mark.parametrize(("told", "words"), CAUSES.items())
def test_a_save_that_the_disk_does_not_take_is_named_and_shows_what_was_typed(
    plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch, told: str, words: str
) -> None:
    page.raise_request_exception = False
    before = plan.head.number
    monkeypatch.setattr(services, "_insert", failing(told))
    post = {"path": "survey.gauge_to_top_m", "value": "7.9 m", "revision": before, "bench": "charge"}
    answer = page.post(f"/jobs/{plan.job_id}/A/set/", post)
    assert answer.status_code == 503
    text = one_line(answer)
    assert words in text
    assert "7.9 m" in text
    assert plan.head.number == before
    assert page.get(bench_url(plan, "charge")).status_code == 200, "looking goes on"


def test_signing_in_while_the_disk_is_full_is_named_and_shows_no_password(
    plan: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    from django.contrib.sessions.backends.db import SessionStore

    monkeypatch.setattr(SessionStore, "save", failing("database or disk is full"))
    client = Client(raise_request_exception=False)
    answer = client.post("/sign-in/", {"username": "mara@example.org", "password": "correct horse battery"})
    assert answer.status_code in (200, 503)
    assert b"correct horse" not in answer.content


def test_an_error_page_stands_where_not_even_the_session_can_be_read(
    plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    from django.contrib.sessions.backends.db import SessionStore

    page.raise_request_exception = False
    monkeypatch.setattr(SessionStore, "load", failing("unable to open database file"))
    answer = page.get(bench_url(plan, "charge"))
    assert answer.status_code == 503
    assert b"cannot reach its data" in answer.content


def test_what_broke_otherwise_is_still_a_500(plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    page.raise_request_exception = False

    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(services, "_insert", broken)
    post = {"path": "survey.gauge_to_top_m", "value": "7.9 m", "revision": plan.head.number, "bench": "charge"}
    answer = page.post(f"/jobs/{plan.job_id}/A/set/", post)
    assert answer.status_code == 500
    assert "Something broke" in one_line(answer)
    assert "7.9 m" in one_line(answer)


@pytest.mark.parametrize(
    ("headers", "way"),
    [({}, "go back, where it still stands"), ({"X-Alpine-Request": "true"}, "sends it again by itself")],
)
def test_whether_it_is_sent_again_by_itself_is_said_truly(
    plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch, headers: dict[str, str], way: str
) -> None:
    """Only the page's script keeps a change; a plain form is sent again by hand."""
    page.raise_request_exception = False
    monkeypatch.setattr(services, "_insert", failing("database or disk is full"))
    post = {"path": "survey.gauge_to_top_m", "value": "7.9 m", "revision": plan.head.number, "bench": "charge"}
    told = one_line(page.post(bench_url(plan, "set"), post, headers=headers))
    assert way in told
    looked = one_line(page.get(bench_url(plan, "charge")))
    assert "go back" not in looked
