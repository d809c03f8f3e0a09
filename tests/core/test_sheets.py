"""Tasks on paper: a master has all marks, usual mistakes lose theirs for their own reason, the same seed gives the same task."""

from __future__ import annotations

from functools import lru_cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.practice.a_day import comes_of
from rowan.core.practice.sheet import ALL_MARKS, BESIDE, HINT, Plot, Question, Range, Sheet, around, mark, total
from rowan.core.practice.sheets import BY_KEY, PARTS, TASKS
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import Reckoning, reckon
from rowan.core.steps.charge.result import sealed_charge
from rowan.core.terms.errors import ImpossibleInputError, RowanError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.units import LITRE, SYSTEMS
from rowan.demo.corrim import corrim
from rowan.demo.tolliver import tolliver
from tests.core.designs import plan_a
from tests.core.thermosiphons import roof_tank

SEEDS = (1, 2, 3, 4)
PLANS = {"kvist": plan_a, "corrim": corrim, "tolliver": tolliver}
# tasks that a loop without a vessel has none of, with what it says
SEALED = ("vessel", "test", "tub", "weeks", "mistakes", "assembly")


@lru_cache
def _reckoned(plan: str) -> tuple[object, Reckoning]:
    design = PLANS[plan]()
    return design, reckon(design)


@lru_cache
def sheet(task: str, plan: str = "kvist", seed: int = 1) -> Sheet | None:
    """A task, or None where the plan gives none."""
    design, result = _reckoned(plan)
    try:
        return BY_KEY[task].made(Ground(design, result, seed))  # type: ignore[arg-type]
    except RowanError as error:
        assert len(error.text("metric")) > 20
        return None


def made(task: str, seed: int = 1) -> Sheet:
    found = sheet(task, seed=seed)
    assert found is not None
    return found


@pytest.mark.parametrize("task", BY_KEY)
def test_the_plan_of_the_demo_gives_every_task(task: str) -> None:
    assert all(sheet(task, seed=seed) is not None for seed in SEEDS)


@pytest.mark.parametrize("task", BY_KEY)
@pytest.mark.parametrize("plan", PLANS)
def test_a_master_has_all_marks_and_a_slip_loses_its_own(task: str, plan: str) -> None:
    for seed in SEEDS:
        found = sheet(task, plan, seed)
        if found is None:
            assert plan == "corrim"
            assert task in SEALED
            continue
        masters = found.masters()
        assert total(mark(found, masters)) == pytest.approx(ALL_MARKS)
        assert len(found.slips) >= 2
        for slip in found.slips:
            marked = {one.question.key: one for one in mark(found, {**masters, **slip.answers})}
            assert not marked[slip.costs].full, slip.name
            assert marked[slip.costs].words, slip.name
            assert total(tuple(marked.values())) < ALL_MARKS


@pytest.mark.parametrize("task", BY_KEY)
def test_a_task_is_worded_in_both_units_and_says_why(task: str) -> None:
    found = made(task)
    for units in SYSTEMS:
        for one in found.questions:
            for words in (one.asks, one.hint, one.why, *(option.words for option in one.options)):
                text = words.text(units)
                assert text
                assert "{" not in text
        for _, given_words in found.given:
            text = given_words.text(units) if not isinstance(given_words, Quantity) else given_words.shown(units)
            assert text
            assert "{" not in text


@pytest.mark.parametrize("task", BY_KEY)
def test_the_same_seed_gives_the_same_task(task: str) -> None:
    design, result = _reckoned("kvist")
    again = BY_KEY[task].made(Ground(design, result, 2))  # type: ignore[arg-type]
    assert again == made(task, 2)


def test_most_tasks_change_with_their_seed() -> None:
    same = [task for task in BY_KEY if made(task, 1) == made(task, 2) == made(task, 3)]
    # these ask about the plan itself; chance has no part in them
    assert set(same) <= {"shade", "rows", "hunting", "card", "differences", "chart"}


def test_every_task_belongs_to_a_part_of_the_work() -> None:
    assert {task.part for task in TASKS} == set(PARTS)
    assert len(BY_KEY) == len(TASKS) == 18


def test_a_loop_without_a_pump_is_refused_in_words() -> None:
    design = roof_tank()
    ground = Ground(design, reckon(design), 1)
    for task in ("differences", "chart", "card", "vessel"):
        with pytest.raises(ImpossibleInputError, match="this task asks for"):
            BY_KEY[task].made(ground)


# how answers are marked


def question(**more: object) -> Question:
    return Question(key="q", asks=say("How much"), marks=100, hint=say("Think"), why=say("So"), **more)  # type: ignore[arg-type]


def of(one: Question) -> Sheet:
    return Sheet(say("Do it"), (), (one,), say("Does it"), ())


def test_a_number_beside_its_range_is_worth_half_and_far_off_nothing() -> None:
    one = of(question(dimension="volume", right=Range(2e-3, 4e-3, 3e-3)))
    worth = {value: mark(one, {"q": value * LITRE})[0].marks for value in (2.0, 3.1, 4.0, 4.9, 5.1, 1.1, 0.9)}
    assert worth == {2.0: 100, 3.1: 100, 4.0: 100, 4.9: 100 * BESIDE, 5.1: 0, 1.1: 100 * BESIDE, 0.9: 0}
    assert mark(one, {"q": 5.1 * LITRE})[0].words[0].text() == "Said 5.1\u00a0L; right from 2.0\u00a0L to 4.0\u00a0L"


def test_a_hint_costs_a_quarter_and_no_answer_all() -> None:
    one = of(question(dimension="volume", right=around(3e-3, 0.1)))
    assert mark(one, {"q": 3e-3}, frozenset({"q"}))[0].marks == 100 * HINT
    assert mark(one, {})[0].marks == 0
    assert mark(one, {})[0].words[0].text() == "Not answered"


def test_a_range_is_never_narrower_than_it_is_read() -> None:
    assert around(0.0, 0.1, 0.2) == Range(-0.2, 0.2, 0.0)
    assert around(10.0, 0.1) == Range(9.0, 11.0, 10.0)


def test_a_school_is_judged_by_its_own_rule() -> None:
    found = made("vessel")
    charge = next(one for one in found.questions if one.key == "charge")
    assert len(charge.by) >= 3
    assert len({round(held.best) for held in charge.by.values()}) >= 3
    for school, held in charge.by.items():
        marked = {one.question.key: one for one in mark(found, {"school": school, "charge": held.best})}
        assert marked["charge"].full
    # without a school there is no rule to be judged by
    alone = {one.question.key: one for one in mark(found, {"charge": charge.by["reserve"].best})}
    assert alone["charge"].marks == 0


def test_what_could_hurt_somebody_costs_the_whole_question() -> None:
    found = made("wiring")
    bridge = next(one for one in found.questions if one.key == "bridge")
    assert bridge.grave == {"bridge", "watch"}
    marked = {one.question.key: one for one in mark(found, {**found.masters(), "bridge": "watch"})}
    assert marked["bridge"].marks == 0


def test_orders_are_right_that_break_no_pair() -> None:
    found = made("test")
    begun = next(one for one in found.questions if one.key == "handles")
    for order, worth in (
        (("vessel", "outlet", "supply", "hold"), 1.0),
        (("outlet", "supply", "vessel", "hold"), 1.0),
        (("supply", "outlet", "vessel", "hold"), 2 / 3),
        (("hold", "supply", "outlet", "vessel"), 0.0),
        (("outlet", "supply"), 1 / 3),
    ):
        marked = {one.question.key: one for one in mark(found, {"handles": order})}
        assert marked["handles"].marks == pytest.approx(begun.marks * worth, abs=0.06), order


def test_the_right_answers_are_the_plan_s_own_figures() -> None:
    _, result = _reckoned("kvist")
    charge = sealed_charge(result.charge)
    best = {one.key: one for one in made("vessel").questions}
    settings = {one.school: one.setting for one in charge.schools}
    for school, held in best["fill"].by.items():
        assert held.best == settings[school].fill  # type: ignore[union-attr, index]
    assert charge.setting is not None
    chart = made("chart")
    asked = next(one for one in chart.questions if one.key == "flow")
    flows = [point.flow for point in result.run.pump.points if point is not None]
    assert asked.right is not None
    assert asked.right.best in flows
    assert isinstance(chart.shown, Plot)
    assert chart.shown.both


def test_marks_that_are_not_a_hundred_are_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="a hundred together, not 40"):
        Sheet(say("x"), (), (Question(key="q", asks=say("x"), marks=40, hint=say("x"), why=say("x")),), say("x"), ())


@given(data=st.data(), task=st.sampled_from(list(BY_KEY)))
def test_whatever_is_answered_is_marked_between_nothing_and_all(data: st.DataObject, task: str) -> None:
    found = made(task)
    answers: dict[str, object] = {}
    for one in found.questions:
        keys = [option.key for option in one.options]
        if one.kind == "number":
            answers[one.key] = data.draw(st.floats(-1e9, 1e9))
        elif one.kind == "one":
            answers[one.key] = data.draw(st.sampled_from([*keys, "nonsense"]))
        else:
            answers[one.key] = tuple(data.draw(st.lists(st.sampled_from(keys), unique=True)))
    marked = mark(found, answers)  # type: ignore[arg-type]
    assert all(0 <= one.marks <= one.question.marks for one in marked)
    assert 0 <= total(marked) <= ALL_MARKS


# what a day makes of a pair


def ground(plan: str = "kvist") -> Ground:
    design, result = _reckoned(plan)
    return Ground(design, result, 1)  # type: ignore[arg-type]


def test_a_day_shows_what_a_pair_comes_to_beside_the_plan_s() -> None:
    control = ground().design.control
    own = {"control.start_k": control.start_k.value, "control.stop_k": control.stop_k.value}
    same = comes_of("card", ground(), own)
    assert [same[0].quantities[key] for key in "hnt"] == [same[1].quantities[key] for key in "hnt"]
    narrow = comes_of("differences", ground(), {"start_own": 3.0, "stop_own": 2.0})
    starts = [one.quantities["n"].value for one in narrow]  # type: ignore[union-attr]
    assert starts[0] > starts[1]
    assert "kWh" in narrow[0].text()


def test_a_pair_that_meets_chatters_and_what_was_not_answered_has_no_day() -> None:
    met = comes_of("card", ground(), {"control.start_k": 4.0, "control.stop_k": 4.0})
    assert len(met) == 1
    assert "chatters" in met[0].text()
    assert (
        "no controller takes that"
        in comes_of("card", ground(), {"control.start_k": 900.0, "control.stop_k": 4.0})[0].text()
    )
    assert comes_of("card", ground(), {"control.start_k": 4.0}) == ()
    assert comes_of("vessel", ground(), {"charge": 1.2e5}) == ()


def test_what_the_shade_task_gives_adds_up_to_what_it_asks() -> None:
    found = sheet("shade", "tolliver")
    assert found is not None
    year = next(one for one in found.questions if one.key == "year")
    assert year.right is not None
    said = [(words.quantities["s"].value, words.quantities["w"].value) for _, words in found.given]  # type: ignore[union-attr]
    # as it is printed: whole percents of what is taken, tenths of what counts
    printed = sum(round(taken, 2) * round(counts, 3) for taken, counts in said)
    assert year.right.low < printed < year.right.high
    assert printed == pytest.approx(year.right.best, abs=0.004)
