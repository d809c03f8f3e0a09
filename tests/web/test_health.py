"""A loop's health on its Care bench: asked for beside the page, shown when it is there, said once."""

from __future__ import annotations

import io
import threading
import time
from datetime import UTC, datetime
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from rowan.command.standin import pair_of, plant_of
from rowan.core.terms.calendar import DAY_S
from rowan.standin.controller import Standin
from rowan.standin.faults import Fault
from rowan.standin.send import write_csv
from rowan.web.accounts.models import User
from rowan.web.care.health import health_key
from rowan.web.care.log_services import log_of, name_columns, offered, open_again, take_file
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.studies.room import Progress, Room
from tests.web.text import plain

DAYS = 6
PATIENCE_S = 60.0


def _text(answer: Any) -> str:
    return plain(answer.content.decode())


def log_file(plan: Plan, *faults: Fault, seed: int = 4) -> bytes:
    """Some days of the plan's loop by ten minutes."""
    design = reckoned(plan.head).design
    device = Standin(plant_of(design), pair_of(design), datetime(2026, 6, 4, tzinfo=UTC), seed, faults)
    into = io.StringIO()
    write_csv(device.run(DAYS * DAY_S, 600.0), into)
    return into.getvalue().encode()


def taken(plan: Plan, person: User, data: bytes) -> None:
    file = take_file(plan=plan, person=person, name="loop.csv", data=data, zone_h=0.0)
    asked = offered(open_again(file), {})
    name_columns(
        file=file, person=person, channels=dict(asked.channels), clock=asked.clock, prefers=asked.prefers, zone_h=0.0
    )


def piece(client: Client, plan: Plan) -> str:
    """The piece that asks again, until it is done."""
    address = reverse("care:health", args=(plan.job_id, plan.letter))
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until:
        found = client.get(address, headers={"X-Requested-With": "fetch"}).content.decode()
        if "data-whole" in found:
            return found
        assert "data-run" in found
        time.sleep(0.2)
    raise AssertionError("it never came")


@pytest.fixture
def page(client: Client, person: User) -> Client:
    client.force_login(person)
    return client


def bench(page: Client, plan: Plan) -> str:
    return _text(page.get(reverse("care:bench", args=(plan.job_id, plan.letter))))


def test_a_healthy_loop_is_said_to_be_one(page: Client, plan: Plan, person: User) -> None:
    taken(plan, person, log_file(plan))
    before = bench(page, plan)
    assert "The log is held against the plan" in before
    piece(page, plan)
    said = bench(page, plan)
    assert "It does what it should" in said
    assert "faults were tried, and none explains the log better than a healthy loop" in said
    assert "Heat to the store" in said
    assert "What it can be" not in said


def test_a_fault_is_named_with_its_evidence_once(page: Client, plan: Plan, person: User) -> None:
    taken(plan, person, log_file(plan, Fault("stuck_pump", 2 * DAY_S)))
    piece(page, plan)
    said = bench(page, plan)
    assert "The pump is told to run and nothing flows, since 6 June" in said
    assert "What it can be" in said
    assert "What tells" in said
    assert "pump on:" in said
    assert "Feel both lines" in said
    assert said.count("Fix:") == 1, "the last day's rule says the same"


def test_what_cannot_be_held_against_the_plan_is_said(page: Client, plan: Plan, person: User) -> None:
    head, *rows = log_file(plan).decode().splitlines()
    short = "\n".join([head, *rows[:144]]).encode()
    taken(plan, person, short)
    piece(page, plan)
    assert "Not held against the plan: a log of 2 days says nothing sure" in bench(page, plan)


def test_another_log_or_another_plan_is_another_answer(plan: Plan, person: User) -> None:
    taken(plan, person, log_file(plan))
    first = health_key(plan, 0.0)
    assert health_key(plan, 0.0) == first
    assert health_key(plan, 1.0) != first
    taken(plan, person, log_file(plan, seed=5))
    assert health_key(plan, 0.0) != first
    assert log_of(plan) is not None


def test_whoever_opens_the_address_is_shown_the_bench(page: Client, plan: Plan) -> None:
    answer = page.get(reverse("care:health", args=(plan.job_id, plan.letter)))
    assert answer.status_code == 302
    assert answer.headers["Location"].endswith("/care/")


def test_a_log_of_another_firm_is_not_looked_at(page: Client, plan: Plan, stranger: User) -> None:
    page.force_login(stranger)
    assert page.get(reverse("care:health", args=(plan.job_id, plan.letter))).status_code == 404


# the room it is made in


def test_a_room_makes_a_thing_once_and_tells_how_far_it_is() -> None:
    half, go_on = threading.Event(), threading.Event()
    made: list[str] = []

    def make(what: str, told: Any) -> str:
        told(0.5)
        half.set()
        assert go_on.wait(10)
        made.append(what)
        return what.upper()

    room = Room(make, kept=2, name="test")
    assert room.look(key="a") is None
    room.start(key="a", what="one")
    assert half.wait(10)
    assert room.look(key="a") == Progress(0.5)
    go_on.set()
    assert room.begin(key="a", what="one").future.result(10) == "ONE"
    assert room.look(key="a") == Progress(1.0, "ONE", done=True)
    assert made == ["one"]


def test_what_failed_is_tried_anew() -> None:
    tries: list[int] = []

    def make(told: Any) -> int:
        tries.append(1)
        if len(tries) == 1:
            raise ValueError("not yet")
        return len(tries)

    room = Room(make, kept=2, name="test")
    making = room.begin(key="a")
    with pytest.raises(ValueError, match="not yet"):
        making.future.result(10)
    with pytest.raises(ValueError, match="not yet"):
        room.look(key="a")
    assert room.look(key="a") is None
    assert room.begin(key="a").future.result(10) == 2


def test_a_room_keeps_what_was_asked_for_last() -> None:
    room = Room(lambda told, what: what, kept=2, name="test")
    for what in "abc":
        room.begin(key=what, what=what).future.result(10)
    assert room.look(key="a") is None
    assert room.look(key="c") == Progress(1.0, "c", done=True)


def test_an_upload_from_the_page_is_held_against_the_plan(page: Client, plan: Plan) -> None:
    upload = SimpleUploadedFile("loop.csv", log_file(plan, Fault("hand_off")))
    answer = page.post(reverse("care:take_log"), {"job": plan.job_id, "letter": plan.letter, "file": upload})
    assert "/care/logs/" in answer.headers["Location"], "a new head has to be named first"
