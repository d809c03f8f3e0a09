"""The practice bench on its pages: begun, turned, let go on, taken back, ended, begun again from a moment; one's own, and the lead's."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.practice.rig import LONGEST_S
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.practice import rigs, services
from rowan.web.practice.models import PracticeRun
from rowan.web.ui.errors import NoSuchStepError
from tests.web.text import one_line


@pytest.fixture
def run(plan: Plan, person: User) -> PracticeRun:
    return services.begin(person=person, plan=plan)


def at(name: str, run: PracticeRun) -> str:
    return reverse(f"practice:{name}", args=(run.pk,))


def turned(page: Client, run: PracticeRun, turn: str, until: int) -> int:
    return page.post(at("turn", run), {"turn": turn, "until": str(until)}).status_code


def test_the_book_is_empty_at_first_and_offers_a_rig(plan: Plan, page: Client) -> None:
    text = one_line(page.get(reverse("practice:book")))
    assert "Learn it on a loop that forgives" in text
    assert plan.job.title in text
    assert "Fill and purge with a drill pump" in text


def test_a_run_is_begun_turned_ended_and_stands_in_the_book(plan: Plan, page: Client, person: User) -> None:
    answer = page.post(reverse("practice:begin"), {"plan": str(plan.pk), "tub_full": "7 L", "mix_end": "39"})
    run = PracticeRun.objects.get()
    assert answer.headers["Location"] == at("run", run)
    assert run.said == {"tub_full": pytest.approx(0.007), "mix_end": pytest.approx(0.39)}
    for turn, until in (("drain:open", 2), ("hose:tub 2", 3), ("drill:on", 4), ("fill:open", 5)):
        assert turned(page, run, turn, until) == 302
    page.post(at("go_on", run), {"until": "90"})
    text = one_line(page.get(at("run", run)))
    assert "01:30" in text
    assert "L/min" in text
    assert page.post(at("end", run)).headers["Location"] == at("run", run)
    run.refresh_from_db()
    assert run.total is not None
    debrief = one_line(page.get(at("run", run)))
    assert "What cost marks" in debrief
    assert "You said, the rig showed" in debrief
    assert "A master takes" in debrief
    book = one_line(page.get(reverse("practice:book")))
    assert "1 run in your book" in book
    assert "Fill and purge" in book


def test_a_turn_is_made_at_its_second_and_the_piece_shows_it(run: PracticeRun, page: Client) -> None:
    answer = page.post(at("turn", run), {"turn": "drain:open", "until": "12"}, headers={"X-Piece": "1"})
    text = answer.content.decode()
    assert 'data-until="12"' in text
    assert "D drain, open" in text
    run.refresh_from_db()
    assert run.turns == [[12, "drain", "open"]]


def test_time_goes_one_way_and_never_in_a_leap(run: PracticeRun) -> None:
    assert services.go_on(run=run, until=100).until == 100
    assert services.go_on(run=run, until=40).until == 100
    assert services.go_on(run=run, until=10**6).until == 100 + services.LEAP_S
    PracticeRun.objects.filter(pk=run.pk).update(until=LONGEST_S - 5)
    assert services.go_on(run=run, until=LONGEST_S + 50).until == LONGEST_S


def test_what_was_turned_is_taken_back_with_its_time(run: PracticeRun, page: Client) -> None:
    for turn, until in (("drain:open", 2), ("drill:on", 40), ("fill:open", 50)):
        turned(page, run, turn, until)
    page.post(at("back", run))
    run.refresh_from_db()
    assert (run.until, run.turns) == (20, [[2, "drain", "open"]])
    page.post(at("back", run))
    run.refresh_from_db()
    assert (run.until, run.turns) == (0, [])


def test_what_cannot_be_turned_is_said_and_nothing_is_kept(run: PracticeRun, page: Client) -> None:
    for turn in ("door:open", "fill:half", "", "fill"):
        answer = page.post(at("turn", run), {"turn": turn, "until": "5"})
        assert answer.status_code == 422
        assert "cannot be" in one_line(answer)  # type: ignore[arg-type]
    run.refresh_from_db()
    assert run.turns == []


def test_a_run_that_has_ended_is_turned_no_more_but_begun_again_from_a_moment(
    run: PracticeRun, page: Client, person: User
) -> None:
    turned(page, run, "drain:open", 2)
    turned(page, run, "drill:on", 40)
    page.post(at("end", run))
    page.post(at("end", run))  # sent twice
    assert turned(page, run, "fill:open", 60) == 302
    run.refresh_from_db()
    assert len(run.turns) == 2
    page.post(at("again", run), {"until": "30"})
    further = PracticeRun.objects.exclude(pk=run.pk).get()
    assert (further.until, further.turns, further.ended) == (30, [[2, "drain", "open"]], None)
    assert further.rig == run.rig


def test_a_run_keeps_its_rig_when_the_plan_changes(run: PracticeRun, plan: Plan) -> None:
    before = rigs.rig_in(run)[0].volume
    plan.job.delete()
    assert rigs.rig_in(PracticeRun.objects.get(pk=run.pk))[0].volume == before


def test_runs_are_one_s_own_and_the_lead_s_to_look_at(
    run: PracticeRun, client: Client, stranger: User, viewer: User, page: Client
) -> None:
    services.end(run=run)
    client.force_login(stranger)
    assert client.get(at("run", run)).status_code == 404
    client.force_login(viewer)
    assert client.get(at("run", run)).status_code == 404


def test_a_lead_sees_the_firm_s_runs_and_turns_none(plan: Plan, viewer: User, page: Client, person: User) -> None:
    theirs = services.begin(person=viewer, plan=plan)
    services.end(run=theirs)
    assert person.role == "lead"
    assert str(viewer) in one_line(page.get(reverse("practice:book")))
    assert page.get(at("run", theirs)).status_code == 200
    assert page.post(at("again", theirs), {"until": "0"}).status_code == 404


@pytest.mark.parametrize("typed", [{"tub_full": "much"}, {"mix_end": "300"}, {"old_water": "-4"}])
def test_what_is_said_has_to_be_a_number(plan: Plan, page: Client, typed: dict[str, str]) -> None:
    answer = page.post(reverse("practice:begin"), {"plan": str(plan.pk), **typed})
    assert answer.status_code == 422
    assert "Not begun" in one_line(answer)  # type: ignore[arg-type]
    assert not PracticeRun.objects.exists()


def test_a_rig_is_made_of_one_s_own_firm_s_plans_alone(plan: Plan, client: Client, stranger: User) -> None:
    client.force_login(stranger)
    for number in (str(plan.pk), "", "x", "9" * 12):
        assert client.post(reverse("practice:begin"), {"plan": number}).status_code == 422
    assert not PracticeRun.objects.exists()


def test_a_book_holds_so_many_runs_and_no_more(run: PracticeRun, plan: Plan, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MOST_RUNS", 1)
    with pytest.raises(NoSuchStepError, match="book is full"):
        services.begin(person=run.person, plan=plan)
    with pytest.raises(NoSuchStepError, match="book is full"):
        services.again_from(run=run, person=run.person, at=0)


def test_a_task_is_due_again_the_sooner_the_worse_it_went(run: PracticeRun) -> None:
    assert services.due_again(run) is None
    ended = services.end(run=run)
    days = []
    for total in (95.0, 75.0, 20.0):
        ended.total = total
        due = services.due_again(ended)
        assert due is not None
        assert ended.ended is not None
        days.append((due - ended.ended.date()).days)
    assert days[0] > days[1] > days[2] >= 0


def test_a_run_that_has_ended_is_looked_at_second_by_second(run: PracticeRun, page: Client) -> None:
    for turn, until in (("drain:open", 2), ("drill:on", 4), ("fill:open", 5), ("vessel:open", 40)):
        turned(page, run, turn, until)
    page.post(at("go_on", run), {"until": "60"})
    page.post(at("end", run))
    then = one_line(page.get(at("run", run) + "?at=20"))
    assert "As it stood at 00:20" in then
    assert "X vessel, shut" in then
    assert "?at=30#then-name" in then
    assert "X vessel, open" in one_line(page.get(at("run", run) + "?at=50"))
    # beyond its end it stands as at its end; nonsense is no moment
    assert "As it stood at 01:00" in one_line(page.get(at("run", run) + "?at=99999"))
    assert "As it stood" not in one_line(page.get(at("run", run) + "?at=never"))


def test_the_order_of_the_work_is_a_hint_and_a_masters_turns_stand_in_the_debrief(
    run: PracticeRun, page: Client
) -> None:
    assert "A hint: the order of it" in one_line(page.get(at("run", run)))
    page.post(at("end", run))
    debrief = one_line(page.get(at("run", run)))
    assert "What a master turns, and when" in debrief
    assert debrief.count("drill pump") >= 4
