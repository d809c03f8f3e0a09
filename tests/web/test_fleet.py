"""All loops of a firm on one page: gravest first, the silent ones said, nothing of another firm's."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from rowan.web.accounts.models import User
from rowan.web.care.fleet import loops_of
from rowan.web.care.log_services import delete_file
from rowan.web.care.models import LogFile, LoopHealth
from rowan.web.care.services import make_device
from rowan.web.house.services import give_link, token_of
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.services import add_plan
from tests.web.text import plain

ENDS = datetime(2026, 6, 10, tzinfo=UTC)


def said(page: Client) -> str:
    return plain(page.get(reverse("care:fleet")).content.decode())


def logged(plan: Plan, level: str, words: str, **heat: float) -> LoopHealth:
    LogFile.objects.create(
        plan=plan,
        name="a.csv",
        digest=f"{plan.pk}",
        size=1,
        raw=b"x",
        signature="s",
        columns=b"x",
        first=ENDS,
        last=ENDS,
    )
    return LoopHealth.objects.create(plan=plan, key="k", level=level, words=words, last=ENDS, **heat)


@pytest.fixture
def page(client: Client, person: User) -> Client:
    client.force_login(person)
    return client


@pytest.fixture
def second(plan: Plan, person: User) -> Plan:
    return add_plan(job=plan.job, author=person, design=reckoned(plan.head).design, letter="B")


def test_without_a_log_it_says_how_one_comes(page: Client) -> None:
    text = said(page)
    assert "No loop is listened to yet" in text
    assert "Take in a logger's file" in text


def test_the_gravest_stands_first(page: Client, plan: Plan, second: Plan, person: User) -> None:
    logged(plan, "pass", "It does what it should", came=9e9, due=10e9, low=8e9, high=12e9)
    logged(
        second, "fix", "Since 4 June: the pump is told to run and nothing flows", came=1e9, due=10e9, low=8e9, high=12e9
    )
    loops = loops_of(Job.objects.visible(person), timezone.now())
    assert [one.plan.letter for one in loops] == ["B", "A"]
    assert [one.percent for one in loops] == [10, 90]
    assert loops[0].bar == (9.0, 72.0, 108.0)
    text = said(page)
    assert "1 of 2 loops is ill" in text
    assert "nothing flows" in text
    assert "90 %" in text


def test_the_page_of_jobs_names_what_is_ill_and_nothing_else(page: Client, plan: Plan, second: Plan) -> None:
    logged(plan, "mind", "The clock is off by an hour")
    assert "Ill" not in plain(page.get(reverse("jobs:list")).content.decode())
    logged(second, "fix", "Since 4 June: the loop leaks")
    text = plain(page.get(reverse("jobs:list")).content.decode())
    assert "Since 4 June: the loop leaks" in text
    assert "The clock is off" not in text


def test_a_device_that_went_silent_is_said(page: Client, plan: Plan, person: User) -> None:
    device, _ = make_device(plan=plan, name="cellar", person=person)
    device.heard = timezone.now() - timedelta(days=9, hours=1)
    device.save()
    (loop,) = loops_of(Job.objects.visible(person), timezone.now())
    assert loop.silent == 9
    assert loop.level == "mind"
    assert "no reading for 9 days" in said(page)
    device.heard = timezone.now() - timedelta(hours=3)
    device.save()
    (loop,) = loops_of(Job.objects.visible(person), timezone.now())
    assert loop.level is None


def test_what_was_said_of_an_older_log_is_asked_for_again(page: Client, plan: Plan) -> None:
    kept = logged(plan, "fix", "The loop leaks")
    assert "data-run" not in page.get(reverse("care:fleet")).content.decode()
    kept.last = ENDS - timedelta(days=3)
    kept.save()
    found = page.get(reverse("care:fleet")).content.decode()
    assert reverse("care:health", args=(plan.job_id, plan.letter)) in found


def test_the_house_reads_what_it_has_brought(client: Client, plan: Plan, person: User) -> None:
    link = give_link(plan=plan, person=person, kind="card")
    address = reverse("handover:house", args=(token_of(link),))
    assert "What it has brought" not in plain(client.get(address).content.decode())
    logged(plan, "fix", "The loop leaks", brought=3.6e9, promised=4.32e9)
    LoopHealth.objects.update(first=ENDS.date() - timedelta(days=40))
    text = plain(client.get(address).content.decode())
    assert re.search(r"1\W?000\W*kWh of heat from the sun", text)
    assert "something is to be mended" in text
    assert "The loop leaks" not in text, "a lay person is told whom to ring, not what to turn"


def test_what_was_said_of_a_log_goes_with_its_file(plan: Plan, person: User) -> None:
    logged(plan, "fix", "The loop leaks")
    delete_file(file=plan.logs.get(), person=person)
    assert not LoopHealth.objects.exists()
    assert loops_of(Job.objects.visible(person), timezone.now()) == []


def test_another_firm_sees_none_of_it(page: Client, plan: Plan, stranger: User) -> None:
    logged(plan, "fix", "The loop leaks")
    page.force_login(stranger)
    assert "The loop leaks" not in said(page)


def test_what_is_put_away_is_not_listened_to(plan: Plan, person: User) -> None:
    logged(plan, "fix", "The loop leaks")
    Job.objects.filter(pk=plan.job_id).update(archived=True)
    assert loops_of(Job.objects.visible(person), timezone.now()) == []


def test_many_loops_take_as_many_queries_as_one(
    page: Client, plan: Plan, second: Plan, django_assert_max_num_queries: Any
) -> None:
    logged(plan, "fix", "a")
    logged(second, "mind", "b")
    with django_assert_max_num_queries(12):
        page.get(reverse("care:fleet"))
