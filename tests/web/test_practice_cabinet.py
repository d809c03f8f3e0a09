"""The rig with its controller on its pages: work takes its minutes, numbers are typed in the reader's unit, a day goes by, all is judged."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.practice.cabinet import LONGEST_S, minutes_of
from rowan.core.practice.cabinet_marks import MARKS, PARTS
from rowan.demo.corrim import corrim
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.plans.services import take_in
from rowan.web.practice import rigs, services
from rowan.web.practice.models import CABINET, PracticeRun
from rowan.web.ui.errors import NoSuchStepError
from tests.web.text import one_line


@pytest.fixture
def run(plan: Plan, person: User) -> PracticeRun:
    return services.begin(person=person, plan=plan, task=CABINET)


def at(name: str, run: PracticeRun) -> str:
    return reverse(f"practice:{name}", args=(run.pk,))


def turned(page: Client, run: PracticeRun, turn: str, until: int = 0, **more: str) -> int:
    return page.post(at("turn", run), {"turn": turn, "until": str(until)} | more).status_code


def mastered(run: PracticeRun) -> PracticeRun:
    turns = services.master_turns(run)
    run.turns = [[turn.at, turn.handle, turn.position] for turn in turns]
    run.until = int(turns[-1].at) + 3600
    run.save(update_fields=["turns", "until"])
    return run


def test_it_is_begun_from_the_book_and_shows_handles_menu_and_card(plan: Plan, page: Client) -> None:
    page.post(reverse("practice:begin"), {"plan": str(plan.pk), "task": CABINET, "heat": "6 kWh"})
    run = PracticeRun.objects.get()
    assert run.said == {"heat": pytest.approx(6 * 3.6e6)}
    text = one_line(page.get(at("run", run)))
    assert "08:00" in text
    assert "The card of this plan" in text
    assert "tempering valve fitted" in text
    assert "hanging loose, unmarked: brown, grey, white" in text
    assert "Store limit" in text
    assert "licensed electrician" in text


def test_a_turn_takes_its_minutes(run: PracticeRun, page: Client) -> None:
    assert turned(page, run, "pump:arrow up, shaft level", 65) == 302
    run.refresh_from_db()
    # sixty-five seconds are rounded to the minute that they are in
    assert run.until == 60 + 60 * minutes_of("pump", "arrow up, shaft level")
    assert run.turns == [[run.until, "pump", "arrow up, shaft level"]]


@pytest.mark.parametrize(("units", "typed", "kelvin"), [("metric", "8", 8.0), ("us", "14.4", 8.0), ("us", "8 K", 8.0)])
def test_a_number_of_the_menu_is_typed_in_the_readers_unit(
    run: PracticeRun, page: Client, person: User, units: str, typed: str, kelvin: float
) -> None:
    User.objects.filter(pk=person.pk).update(units=units)
    assert turned(page, run, "control.start_k:", value=typed) == 302
    run.refresh_from_db()
    assert float(run.turns[-1][2]) == pytest.approx(kelvin)
    assert float(rigs.cabinet_course(run).menus[-1]["control.start_k"]) == pytest.approx(kelvin)


@pytest.mark.parametrize(
    ("turn", "value", "said"),
    [
        ("control.start_k:", "warm", "Not done"),
        ("control.start_k:", "", "Not done"),
        ("store.maximum_c:", "5000", "no controller takes that"),
        ("survey.room_c:", "20", "no such setting"),
        ("pump:sideways", "", "cannot be sideways"),
    ],
)
def test_what_cannot_be_set_is_refused_in_words(
    run: PracticeRun, page: Client, turn: str, value: str, said: str
) -> None:
    answer = page.post(at("turn", run), {"turn": turn, "until": "0", "value": value})
    assert answer.status_code == 422
    assert said in one_line(answer)
    run.refresh_from_db()
    assert run.turns == []
    assert run.until == 0


def test_hours_go_by_at_once_and_end_on_the_second_night(run: PracticeRun, page: Client) -> None:
    page.post(at("go_on", run), {"until": str(6 * 3600)})
    assert "14:00" in one_line(page.get(at("run", run)))
    assert services.go_on(run=run, until=10**7).until == 30 * 3600
    assert "14:00, next day" in one_line(page.get(at("run", run)))
    assert services.go_on(run=run, until=10**7).until == LONGEST_S


def test_the_last_turn_is_taken_back_with_its_work(run: PracticeRun, page: Client) -> None:
    turned(page, run, "isolator:off, locked")
    run.refresh_from_db()
    before = run.until
    turned(page, run, "pump:arrow down, shaft level", before)
    page.post(at("go_on", run), {"until": str(4 * 3600)})
    page.post(at("back", run))
    run.refresh_from_db()
    assert run.until == before
    assert [turn[1] for turn in run.turns] == ["isolator"]
    page.post(at("back", run))
    run.refresh_from_db()
    assert (run.until, run.turns) == (0, [])


def test_a_masters_run_is_worth_all_and_its_debrief_says_what_comes(run: PracticeRun, page: Client) -> None:
    page.post(at("end", mastered(run)))
    run.refresh_from_db()
    assert run.total == 100.0
    assert run.marks == MARKS
    text = one_line(page.get(at("run", run)))
    assert "All of it by" in text
    assert "A week in high summer with nobody there" in text
    assert "menu: Store limit" in text
    for name in PARTS.values():
        assert name in text
    then = one_line(page.get(f"{at('run', run)}?at=7200"))
    assert "As it stood at 10:00" in then
    assert "an hour back" in then


def test_a_slip_is_begun_again_from_just_before_it(run: PracticeRun, page: Client) -> None:
    run = mastered(run)
    run.turns = [[at_, handle, "high limit bridged" if handle == "backup" else to] for at_, handle, to in run.turns]
    run.save(update_fields=["turns"])
    page.post(at("end", run))
    run.refresh_from_db()
    assert run.total == pytest.approx(100.0 - MARKS["mains"])
    text = one_line(page.get(at("run", run)))
    assert "is bridged" in text
    wired = next(int(at_) for at_, handle, _ in run.turns if handle == "backup")
    page.post(at("again", run), {"until": str(wired - 60)})
    fresh = PracticeRun.objects.exclude(pk=run.pk).get()
    assert "backup" not in {turn[1] for turn in fresh.turns}
    assert fresh.until == wired - 60


def test_what_was_said_stands_beside_what_it_showed(plan: Plan, person: User, page: Client) -> None:
    run = mastered(services.begin(person=person, plan=plan, task=CABINET, said={"warmest": 400.0, "heat": 0.0}))
    page.post(at("end", run))
    text = one_line(page.get(at("run", run)))
    assert "the field at its warmest" in text
    assert "heat into the store by the time it is done" in text


def test_a_loop_that_is_no_such_rig_is_refused_in_words(person: User) -> None:
    (plan,) = take_in(firm=person.firm, author=person, designs=[("Corrim", corrim())])
    with pytest.raises(NoSuchStepError, match="sealed loop"):
        services.begin(person=person, plan=plan, task=CABINET)
