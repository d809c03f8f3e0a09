"""Readings by hand: kept in the diary, put together with looks, runs and the log, struck out and never rewritten."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from rowan.core.records.house_look import Look
from rowan.web.accounts.models import User
from rowan.web.care.hand import asked_by_hand, readings_of
from rowan.web.house.models import DiaryEntry
from rowan.web.house.services import give_link, take_look
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from tests.web.text import one_line


def address(plan: Plan) -> str:
    return reverse("care:by_hand", args=(plan.job_id, plan.letter))


def keep(page: Client, plan: Plan, status: int = 302, **typed: str) -> str:
    answer = page.post(address(plan), typed)
    assert answer.status_code == status
    return one_line(answer) if status != 302 else ""  # type: ignore[arg-type]


def test_a_page_without_a_reading_says_what_it_is_for(plan: Plan, page: Client) -> None:
    text = one_line(page.get(address(plan)))
    assert "Nothing was read by hand yet" in text
    assert "months before the loop stands still" in text


def test_a_reading_is_kept_with_its_day_and_its_person(plan: Plan, page: Client, person: User) -> None:
    keep(page, plan, gauge="1.7 bar", at_c="20", day="2026-05-04")
    entry = DiaryEntry.objects.get(kind="read")
    assert entry.person == person
    assert len(entry.data.pop("id")) == 32
    assert entry.data == {"plan": plan.letter, "day": "2026-05-04", "gauge": pytest.approx(1.7e5), "at_c": 20.0}
    text = one_line(page.get(address(plan)))
    assert "Read on 4 May 2026: gauge 1.70 bar, warmth at the gauge 20 °C." in text
    assert "too few, or too close together" in text


def test_months_of_readings_show_the_leak_and_its_day(plan: Plan, page: Client) -> None:
    for n in range(6):
        keep(page, plan, gauge=f"{1.77 - 0.03 * n:.2f} bar", at_c="10", day=f"2026-0{n + 2}-10")
    text = one_line(page.get(address(plan)))
    assert "a month and goes on" in text
    assert "At its least" in text


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({}, "Type at least one reading"),
        ({"at_c": "20"}, "Type at least one reading"),
        ({"gauge": "much"}, "Gauge: "),
        ({"gauge": "40 bar"}, "cannot be"),
        ({"gauge": "1.7", "day": "2026-13-40"}, "That is no date"),
        ({"gauge": "1.7", "day": "1970-01-01"}, "too long ago"),
        ({"gauge": "1.7", "day": (timezone.localdate() + timedelta(days=1)).isoformat()}, "still to come"),
        ({"heat": "-4"}, "cannot be"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_is_lost(plan: Plan, page: Client, typed: dict[str, str], said: str) -> None:
    text = keep(page, plan, 422, **typed)
    assert said.lower() in text.lower()
    assert not DiaryEntry.objects.filter(kind="read").exists()
    raw = page.post(address(plan), typed).content.decode()
    assert all(f'value="{value}"' in raw for value in typed.values())


def test_a_wrong_reading_is_struck_out_and_stays_in_the_diary(plan: Plan, page: Client) -> None:
    keep(page, plan, gauge="9 bar", day="2026-05-04")
    entry = DiaryEntry.objects.get(kind="read")
    strike = reverse("care:strike", args=(plan.job_id, plan.letter))
    assert page.post(strike, {"entry": str(entry.pk)}).status_code == 302
    assert readings_of(plan).gauges == ()
    assert DiaryEntry.objects.filter(kind="read").count() == 2
    # neither twice from a page that stood open, nor what struck it
    for one in DiaryEntry.objects.exclude(pk=entry.pk):
        assert page.post(strike, {"entry": str(one.pk)}).status_code == 404


def test_a_look_of_the_house_counts_as_well(plan: Plan, page: Client, person: User) -> None:
    take_look(link=give_link(plan=plan, person=person, kind="card"), look=Look(gauge=1.6e5), units="metric")
    (read,) = readings_of(plan).gauges
    assert (read.gauge, read.at_c, read.who) == (1.6e5, None, "the house")
    assert read.day == timezone.localdate()


def test_a_reading_belongs_to_the_plan_it_was_typed_in(plan: Plan, page: Client) -> None:
    keep(page, plan, gauge="1.7")
    entry = DiaryEntry.objects.get(kind="read")
    entry.data["plan"] = "D"
    entry.save()
    assert readings_of(plan).entries == ()
    assert (
        page.post(reverse("care:strike", args=(plan.job_id, plan.letter)), {"entry": str(entry.pk)}).status_code == 404
    )


def test_two_readings_of_a_meter_stand_beside_a_usual_year(plan: Plan, page: Client) -> None:
    keep(page, plan, heat="100 kWh", day="2026-05-01")
    keep(page, plan, heat="110 kWh", day="2026-06-01")
    text = one_line(page.get(address(plan)))
    assert "By the heat meter" in text
    assert "less than" in text


def test_hours_of_the_pump_are_counted_as_well(plan: Plan, page: Client) -> None:
    keep(page, plan, ran="1000 h", day="2026-05-01")
    keep(page, plan, ran="1600 h", day="2026-06-01")
    text = one_line(page.get(address(plan)))
    assert "By the pump" in text
    assert "600 h" in text
    assert "more than" in text, "a pump that ran four fifths of a month ran by night"


def test_what_is_asked_goes_by_the_kind_of_loop(plan: Plan) -> None:
    assert asked_by_hand(reckoned(plan.head).design) == ("gauge", "at_c", "heat", "ran")


def test_us_units_are_read_and_shown(plan: Plan, page: Client) -> None:
    page.post(reverse("accounts:units"), {"units": "us", "next": "/"})
    keep(page, plan, gauge="25 psi", day="2026-05-04")
    assert DiaryEntry.objects.get(kind="read").data["gauge"] == pytest.approx(172_369, rel=1e-4)
    assert "25.0 psi" in one_line(page.get(address(plan)))


def test_dates_are_kept_as_days(plan: Plan, page: Client) -> None:
    keep(page, plan, gauge="1.7", day="2026-02-28")
    assert readings_of(plan).gauges[0].day == date(2026, 2, 28)
