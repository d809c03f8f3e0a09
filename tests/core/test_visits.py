"""Visits and where a job stands: nobody in two places, nobody alone on a roof, nothing missing left unsaid."""

from __future__ import annotations

from datetime import date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.records.job_state import STATES, Facts, missing_for, next_state
from rowan.core.records.visits import Planned, VisitKind, free_half_days, next_free, troubles

MONDAY = date(2026, 6, 1)


def at(day: int, hour: float) -> datetime:
    return datetime.combine(MONDAY, datetime.min.time()) + timedelta(days=day, hours=hour)


def visit(
    key: int, kind: VisitKind, people: tuple[int, ...], day: int, start: float, end: float, job: int = 0
) -> Planned:
    return Planned(key, kind, people, at(day, start), at(day, end), job)


def test_who_stands_in_two_places_is_named_once() -> None:
    roof, filling = visit(1, "roof", (7, 8), 2, 8, 17, 4), visit(2, "commissioning", (7,), 2, 6.5, 12, 5)
    scaffold = visit(3, "scaffold", (), 1, 15, 72, 4)
    found = troubles([roof, filling, scaffold])
    assert [(one.key, one.visits, one.person) for one in found] == [("clash", (2, 1), 7)]


def test_one_may_begin_when_the_other_ends() -> None:
    assert troubles([visit(1, "survey", (7,), 0, 8, 10), visit(2, "service", (7,), 0, 10, 12)]) == ()


@pytest.mark.parametrize(("people", "scaffold", "keys"), [
    ((7, 8), True, []), ((7,), True, ["alone"]), ((7, 8), False, ["no_scaffold"]), ((), False, ["alone", "no_scaffold"]),
])  # fmt: skip
def test_a_roof_wants_two_people_and_what_they_stand_on(
    people: tuple[int, ...], scaffold: bool, keys: list[str]
) -> None:
    visits = [visit(1, "roof", people, 2, 8, 17, 4), *([visit(3, "scaffold", (), 1, 15, 72, 4)] if scaffold else [])]
    assert [one.key for one in troubles(visits)] == keys


def test_half_days_that_are_free() -> None:
    visits = [visit(1, "survey", (7,), 0, 9, 11), visit(2, "roof", (7, 8), 2, 8, 17), visit(3, "away", (8,), 4, 7, 17)]
    assert [free_half_days(person, visits, MONDAY, 40) for person in (7, 8, 9)] == [7, 6, 10]
    assert free_half_days(7, visits, MONDAY, 8) == 0


def test_a_clashing_visit_is_offered_its_own_hour_on_the_next_free_day() -> None:
    visits = [
        visit(1, "roof", (7, 8), 2, 8, 17),
        visit(2, "roof", (7, 8), 3, 8, 17),
        visit(3, "commissioning", (7,), 2, 6.5, 12),
    ]
    assert next_free(visits[2], visits) == at(4, 6.5)


@given(
    st.lists(
        st.tuples(st.integers(0, 9), st.integers(7, 15), st.integers(1, 6), st.sets(st.integers(1, 3), min_size=1)),
        min_size=1,
        max_size=12,
    )
)
def test_what_is_offered_is_free(rows: list[tuple[int, int, int, set[int]]]) -> None:
    visits = [
        Planned(key, "service", tuple(sorted(who)), at(day, hour), at(day, hour + length))
        for key, (day, hour, length, who) in enumerate(rows)
    ]
    first = visits[0]
    start = next_free(first, visits)
    if start is None:
        return
    moved = Planned(first.key, first.kind, first.people, start, start + (first.end - first.start))
    assert start > first.start
    assert start.weekday() < 5
    # two visits that clash share a person at a time, found without the product's own pairing
    assert not any(
        set(one.people) & set(moved.people) and max(one.start, start) < min(one.end, moved.end) for one in visits[1:]
    )


def test_a_job_goes_from_state_to_state_to_its_end() -> None:
    state, seen = "enquiry", ["enquiry"]
    while (after := next_state(state)) is not None:  # type: ignore[arg-type]
        state = after
        seen.append(state)
    assert seen == list(STATES)
    assert next_state("declined") is None


@pytest.mark.parametrize(("state", "facts", "words"), [
    ("surveyed", Facts(unmeasured=9), ["no address", "9 inputs of the survey are guesses"]),
    ("quoted", Facts(customer=True, offered=True, stops=("The relief opens",)), ["The relief opens"]),
    ("agreed", Facts(stops=("The relief opens",)), ["The relief opens", "no customer"]),
    ("roof", Facts(visit_planned=True), []),
    ("commissioned", Facts(roof_closed=True), ["no first commissioning is closed"]),
    ("handed_over", Facts(customer=True, first_closed=True, frost_point_read=False), ["frost point not read"]),
    ("service", Facts(), []),
])  # fmt: skip
def test_what_is_missing_for_a_state_is_said(state: str, facts: Facts, words: list[str]) -> None:
    assert [one.words for one in missing_for(state, facts)] == words  # type: ignore[arg-type]
