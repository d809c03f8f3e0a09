"""Tasks on paper and hunts on their pages: begun, hinted, kept, handed in, printed, looked at; what was practised and witnessed."""

from __future__ import annotations

from html import escape

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from rowan.core.practice import draining
from rowan.core.practice.a_day import PAIRS
from rowan.core.practice.hunt import HUNTED, INSTRUMENTS
from rowan.core.practice.sheets import BY_KEY
from rowan.core.records.care.faults import BY_KEY as FAULTS
from rowan.core.terms.units import shown
from rowan.demo.corrim import corrim
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import Plan
from rowan.web.plans.services import start_job
from rowan.web.practice import papers, rigs, services
from rowan.web.practice.models import CABINET, FILLING, HUNT, RAISING, HandSkill, PracticeRun
from rowan.web.ui.errors import NoSuchStepError
from tests.web.text import one_line


def at(name: str, run: PracticeRun) -> str:
    return reverse(f"practice:{name}", args=(run.pk,))


def begun(person: User, plan: Plan, task: str, seed: int = 3) -> PracticeRun:
    return papers.begin(person=person, plan=plan, task=task, seed=seed)


def as_typed(run: PracticeRun) -> dict[str, object]:
    """A master's answers as a form sends them."""
    sheet = papers.sheet_in(run)
    typed: dict[str, object] = {}
    for key, given in sheet.masters().items():
        one = next(question for question in sheet.questions if question.key == key)
        if one.kind == "number":
            typed[f"q-{key}"] = shown(float(given), one.dimension, "metric", 4)  # type: ignore[arg-type]
        elif one.kind == "order":
            typed |= {f"q-{key}-{option}": str(place) for place, option in enumerate(given, 1)}  # type: ignore[arg-type]
        else:
            typed[f"q-{key}"] = list(given) if isinstance(given, tuple) else given
    return typed


@pytest.mark.parametrize("task", BY_KEY)
def test_a_task_is_asked_handed_in_and_debriefed(plan: Plan, page: Client, person: User, task: str) -> None:
    answer = page.post(reverse("practice:begin"), {"plan": str(plan.pk), "task": task, "seed": "3"})
    run = PracticeRun.objects.get()
    assert answer.headers["Location"] == at("run", run)
    assert run.rig["seed"] == 3
    asked = one_line(page.get(at("run", run)))
    for one in papers.sheet_in(run).questions:
        assert " ".join(escape(one.asks.text()).split()) in asked
    assert page.post(at("answer", run), {**as_typed(run), "done": "1"}).status_code == 302
    run.refresh_from_db()
    assert run.total == pytest.approx(100.0)
    debrief = one_line(page.get(at("run", run)))
    assert "100 of 100" in debrief
    assert "A master:" in debrief
    assert ("A day of it" in debrief) == (task in PAIRS)
    us = Client()
    us.force_login(person)
    us.post(reverse("accounts:units"), {"units": "us", "next": "/practice/"})
    assert us.get(at("run", run)).status_code == 200


def test_a_plan_that_gives_no_task_says_why(direct_plan: Plan, page: Client) -> None:
    answer = page.post(reverse("practice:begin"), {"plan": str(direct_plan.pk), "task": "vessel"})
    assert answer.status_code == 422
    assert "this task asks for a sealed loop" in one_line(answer)
    assert PracticeRun.objects.count() == 0
    assert page.post(reverse("practice:begin"), {"plan": str(direct_plan.pk), "task": "juggling"}).status_code == 422


def test_a_hint_is_taken_and_costs_and_what_was_typed_stays(plan: Plan, page: Client, person: User) -> None:
    run = begun(person, plan, "vessel")
    page.post(at("answer", run), {"hint": "charge", "q-when": "empty", "q-school": "reserve", "q-charge": "1.2 bar"})
    run.refresh_from_db()
    assert run.hinted == ["charge"]
    assert run.said == {"when": "empty", "school": "reserve", "charge": pytest.approx(1.2e5)}
    text = one_line(page.get(at("run", run)))
    assert "Hint: Begin with the column" in text
    assert 'value="1.20' in page.get(at("run", run)).content.decode()
    page.post(at("answer", run), {**as_typed(run), "done": "1"})
    run.refresh_from_db()
    assert run.total == pytest.approx(100.0 - 30.0 / 4)


def test_a_number_that_cannot_be_read_keeps_everything_else(plan: Plan, page: Client, person: User) -> None:
    run = begun(person, plan, "vessel")
    answer = page.post(at("answer", run), {"q-when": "empty", "q-charge": "a lot", "done": "1"})
    assert answer.status_code == 422
    assert 'value="a lot"' in answer.content.decode()
    run.refresh_from_db()
    assert run.ended is None
    assert run.said == {"when": "empty"}


def test_a_task_is_handed_in_once(plan: Plan, page: Client, person: User) -> None:
    run = begun(person, plan, "dangers")
    page.post(at("answer", run), {"q-first": "stop", "done": "1"})
    run.refresh_from_db()
    first = run.total
    page.post(at("answer", run), {**as_typed(run), "done": "1"})
    run.refresh_from_db()
    assert run.total == first == pytest.approx(30.0)
    with pytest.raises(NoSuchStepError, match="has ended"):
        papers.answer(run=run, answers={})


def test_the_same_again_and_other_numbers(plan: Plan, page: Client, person: User) -> None:
    run = begun(person, plan, "tub")
    page.post(at("once_more", run), {"same": "1"})
    again = PracticeRun.objects.exclude(pk=run.pk).get()
    assert papers.sheet_in(again) == papers.sheet_in(run)
    page.post(at("once_more", run), {})
    assert PracticeRun.objects.count() == 3


def test_a_plan_that_changes_leaves_the_task_as_it_was(plan: Plan, person: User) -> None:
    run = begun(person, plan, "vessel")
    before = papers.sheet_in(run)
    plan.job.delete()
    papers._tasks.forget()
    rigs._grounds.forget()
    run.refresh_from_db()
    assert papers.sheet_in(run) == before


def test_the_worksheet_keeps_its_answers_until_it_is_handed_in(
    plan: Plan, page: Client, person: User, apprentice: User
) -> None:
    run = begun(person, plan, "vessel")
    text = one_line(page.get(at("paper", run)))
    assert "Name ____" in text
    assert "Answer sheet:" not in text
    page.post(at("answer", run), {"q-when": "empty", "done": "1"})
    assert "Answer sheet:" in one_line(page.get(at("paper", run)))
    # a lead prints an apprentice's with its answers at once
    theirs = begun(apprentice, plan, "tub")
    assert "Answer sheet:" in one_line(page.get(at("paper", theirs)))


@pytest.mark.parametrize("task", [FILLING, RAISING, CABINET])
def test_a_task_at_the_rig_has_a_worksheet_and_keeps_its_answers(
    plan: Plan, page: Client, person: User, apprentice: User, task: str
) -> None:
    run = services.begin(person=person, plan=plan, task=task)
    text = one_line(page.get(at("paper", run)))
    assert "What can be turned, as it stands first" in text
    assert "Say before it shows" in text
    assert "Answer sheet:" not in text
    page.post(at("end", run))
    answers = one_line(page.get(at("paper", run))).split("Answer sheet:")[1]
    for turn in services.master_turns(run)[:3]:
        assert turn.position in answers
    theirs = services.begin(person=apprentice, plan=plan, task=task)
    assert "Answer sheet:" in one_line(page.get(at("paper", theirs)))


def test_a_worksheet_shows_the_rig_as_one_comes_to_it(plan: Plan, page: Client, person: User) -> None:
    run = services.begin(person=person, plan=plan, task=CABINET)
    before = one_line(page.get(at("paper", run)))
    page.post(at("turn", run), {"turn": "pump:arrow down, shaft level", "until": "0"})
    assert one_line(page.get(at("paper", run))) == before


def test_a_hunt_is_printed_and_read_out_by_whoever_has_its_answers(
    plan: Plan, page: Client, person: User, apprentice: User
) -> None:
    run = begun(person, plan, HUNT)
    text = one_line(page.get(at("paper", run)))
    assert "Read the gauge" in text
    assert "Answer sheet:" not in text
    theirs = begun(apprentice, plan, HUNT)
    answers = one_line(page.get(at("paper", theirs))).split("Answer sheet:")[1]
    house = papers.house_in(theirs)
    assert escape(FAULTS[house.fault].name) in answers
    for instrument in INSTRUMENTS:
        assert escape(instrument.name) in answers


def test_nobody_answers_for_another(plan: Plan, page: Client, apprentice: User, stranger: User) -> None:
    run = begun(apprentice, plan, "dangers")
    assert page.get(at("run", run)).status_code == 200
    assert page.post(at("answer", run), {"done": "1"}).status_code == 404
    other = Client()
    other.force_login(stranger)
    assert other.get(at("run", run)).status_code == 404
    assert other.get(reverse("practice:certificate_of", args=(apprentice.pk,))).status_code == 404


def test_a_rig_a_paper_and_a_hunt_are_each_its_own(plan: Plan, page: Client, person: User) -> None:
    rig = services.begin(person=person, plan=plan)
    sheet, hunt = begun(person, plan, "dangers"), begun(person, plan, HUNT)
    for name, run in (("answer", rig), ("look", sheet), ("put_right", sheet), ("answer", hunt)):
        assert page.post(at(name, run)).status_code == 404
    for name in ("go_on", "turn", "back", "end", "again"):
        assert page.post(at(name, sheet), {"until": "3", "turn": "drain:open"}).status_code == 404
    with pytest.raises(NoSuchStepError, match="no hunt"):
        papers.house_in(sheet)
    with pytest.raises(NoSuchStepError, match="no questions"):
        papers.sheet_in(hunt)


def test_a_hunt_is_looked_at_and_put_right(plan: Plan, page: Client, person: User) -> None:
    run = begun(person, plan, HUNT)
    assert "something is wrong" in one_line(page.get(at("run", run)))
    fault = papers.house_in(run).fault
    cure, way = HUNTED[fault]
    for instrument in (*way, way[0]):
        page.post(at("look", run), {"with": instrument})
    run.refresh_from_db()
    assert run.turns == list(way)
    assert "minutes on the clock" in one_line(page.get(at("run", run)))
    assert page.post(at("look", run), {"with": "crystal ball"}).status_code == 422
    assert page.post(at("put_right", run), {"named": "", "cure": cure}).status_code == 422
    assert page.post(at("put_right", run), {"named": fault, "cure": cure}).status_code == 302
    run.refresh_from_db()
    assert run.total == pytest.approx(100.0)
    assert "100 of 100" in one_line(page.get(at("run", run)))
    # after it has ended nothing is looked at any more
    assert page.post(at("look", run), {"with": "gauge"}).status_code == 302
    run.refresh_from_db()
    assert "gauge" in way or "gauge" not in run.turns


def test_a_task_comes_back_later_the_better_it_goes(plan: Plan, person: User) -> None:
    def done(total: float) -> services.Practised:
        run = begun(person, plan, "dangers")
        PracticeRun.objects.filter(pk=run.pk).update(ended=timezone.now(), total=total)
        return services.practised(person)["dangers"]

    waits = [(row.due - row.on).days for row in (done(total) for total in (50, 75, 95, 95, 100, 100, 100, 60))]
    assert waits == [1, 3, 14, 30, 90, 180, 180, 1]
    last = services.practised(person)["dangers"]
    assert (last.runs, last.best, last.last, last.in_a_row) == (8, 100, 60, 0)


def test_the_book_lists_every_task_and_the_lead_sees_the_firm(
    plan: Plan, page: Client, person: User, apprentice: User
) -> None:
    papers.hand_in(run=begun(apprentice, plan, "dangers"), answers={"first": "stop"})
    text = one_line(page.get(reverse("practice:book")))
    for task in BY_KEY.values():
        assert task.name in text
    assert "Isa Brand" in text
    assert "1 of 23" in text
    learner = Client()
    learner.force_login(apprentice)
    own = one_line(learner.get(reverse("practice:book")))
    assert "The firm's" not in own
    assert "best of 1" in own


def test_a_certificate_says_what_was_practised_and_claims_nothing_else(
    plan: Plan, page: Client, apprentice: User
) -> None:
    papers.hand_in(run=begun(apprentice, plan, "dangers"), answers={"first": "stop"})
    where = reverse("practice:certificate_of", args=(apprentice.pk,))
    text = one_line(page.get(where))
    assert "What Isa Brand has practised" in text
    assert "Spot eight dangers" in text
    assert "It is no licence, and stands for no examination" in text
    answer = page.post(
        reverse("practice:witnessed", args=(apprentice.pk,)),
        {"skill": "brazing", "words": "clean, cut open, filled all round"},
    )
    assert answer.status_code == 302
    assert HandSkill.objects.get().witness == "Mara Hollin"
    assert "clean, cut open, filled all round" in one_line(page.get(where))
    assert page.post(reverse("practice:witnessed", args=(apprentice.pk,)), {"skill": "juggling"}).status_code == 422


def test_nobody_is_a_witness_of_his_own_hand(page: Client, person: User) -> None:
    answer = page.post(reverse("practice:witnessed", args=(person.pk,)), {"skill": "clamp"})
    assert answer.status_code == 422
    assert "witness of his own hand" in one_line(answer)


def test_a_loop_is_raised_and_the_debrief_says_what_came_after(plan: Plan, page: Client) -> None:
    answer = page.post(reverse("practice:begin"), {"plan": str(plan.pk), "task": "raising", "raised": "2.5 bar"})
    run = PracticeRun.objects.get()
    assert answer.headers["Location"] == at("run", run)
    text = one_line(page.get(at("run", run)))
    assert "It is full and purged" in text
    for turn, until in (("drill:on", 1), ("fill:open", 2), ("fill:shut", 30), ("drill:off", 31)):
        assert page.post(at("turn", run), {"turn": turn, "until": str(until)}).status_code == 302
    page.post(at("end", run))
    debrief = one_line(page.get(at("run", run)))
    assert "What came after it" in debrief
    assert "With the vessel shut each degree lifts the gauge" in debrief
    assert "the gauge once it is raised with the vessel shut" in debrief
    page.post(at("again", run), {"until": "0"})
    assert PracticeRun.objects.filter(task="raising", ended=None).count() == 1


def test_a_loop_that_drains_is_started_on_its_own_rig(firm: Firm, page: Client, person: User, plan: Plan) -> None:
    drains = start_job(firm=firm, author=person, title="Corrim hostel", design=corrim())
    refused = page.post(reverse("practice:begin"), {"plan": str(plan.pk), "task": "draining"})
    assert refused.status_code == 422
    assert "only a loop that drains" in one_line(refused)
    page.post(reverse("practice:begin"), {"plan": str(drains.pk), "task": "draining", "goes_up": "30 L"})
    run = PracticeRun.objects.get()
    assert "Fill it to its cold mark with the pump off" in one_line(page.get(at("run", run)))
    assert "What can be turned, as it stands first" in one_line(page.get(at("paper", run)))
    tank = rigs.tank_in(run)
    for turn in draining.master(tank):
        sent = {"turn": f"{turn.handle}:{turn.position}", "until": str(int(turn.at))}
        assert page.post(at("turn", run), sent).status_code == 302
    run.refresh_from_db()
    page.post(at("go_on", run), {"until": str(run.until + 10)})
    assert page.post(at("turn", run), {"turn": "drain:open", "until": "1"}).status_code == 422
    page.post(at("end", run))
    run.refresh_from_db()
    assert run.total == pytest.approx(100.0)
    debrief = one_line(page.get(at("run", run) + "?at=300"))
    assert "Nothing cost a mark" in debrief
    assert "litres that leave the reservoir when it runs" in debrief
    assert "As it stood at 05:00" in debrief


def test_a_full_book_says_so_and_takes_no_more(
    plan: Plan, page: Client, person: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet, hunt = begun(person, plan, "tub"), begun(person, plan, HUNT)
    page.post(at("answer", sheet), {"done": "1"})
    monkeypatch.setattr(services, "MOST_RUNS", 2)
    for run in (sheet, hunt):
        answer = page.post(at("once_more", run), {})
        assert answer.status_code == 422
        assert "the book is full" in one_line(answer)
    assert PracticeRun.objects.count() == 2


def test_a_run_keeps_its_plan_packed(plan: Plan, person: User) -> None:
    run = begun(person, plan, "vessel")
    run.refresh_from_db()
    assert "design" not in run.rig
    # a tenth of the text, which is some twenty thousand letters
    assert len(bytes(run.design or b"")) < 5_000
    rigs._grounds.forget()
    assert rigs.ground_in(run).design == papers.ground_in(run).design


def test_handed_in_from_another_page_it_is_handed_in_once(
    plan: Plan, page: Client, person: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = begun(person, plan, "dangers")
    real = papers.answer

    def late(**given: object) -> PracticeRun:
        papers.hand_in(run=PracticeRun.objects.get(pk=run.pk), answers={"first": "stop"})
        return real(**given)  # type: ignore[arg-type]

    monkeypatch.setattr(papers, "answer", late)
    assert page.post(at("answer", run), {**as_typed(run), "done": "1"}).status_code == 302
    run.refresh_from_db()
    assert run.total == pytest.approx(30.0)


def test_the_firm_s_book_asks_the_same_however_many_learn(
    plan: Plan, page: Client, person: User, apprentice: User, colleague: User
) -> None:
    for learner in (apprentice, colleague):
        for task in ("dangers", "tub"):
            papers.hand_in(run=begun(learner, plan, task), answers={})
    with CaptureQueriesContext(connection) as asked:
        page.get(reverse("practice:book"))
    several = len(asked)
    User.objects.filter(pk=colleague.pk).update(is_active=False)
    with CaptureQueriesContext(connection) as asked:
        page.get(reverse("practice:book"))
    assert len(asked) == several
