"""The rig of a loop that drains: nothing is lost, a master has all marks, each habit left out loses its own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.practice import draining as tanks
from rowan.core.practice.draining import (
    CYCLES,
    HANDLES,
    LEFT,
    LIFTS,
    MARKS,
    PARTS,
    Course,
    Tank,
    cycles_of,
    judge,
    master,
    play,
    showed,
    tank_of,
)
from rowan.core.practice.filling import Debrief
from rowan.core.practice.rig import STANDSTILL_AIR_C, Turn
from rowan.core.reckon import reckon
from rowan.core.steps.charge.result import DrainbackCharge
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from tests.core.designs import plan_a


@lru_cache
def tank() -> Tank:
    return tank_of(corrim(), reckon(corrim()))


@lru_cache
def masters() -> tuple[Turn, ...]:
    return tuple(master(tank()))


def played(turns: list[Turn] | tuple[Turn, ...], until: float | None = None) -> Course:
    return play(tank(), list(turns), until if until is not None else turns[-1].at + 10)


def marked(turns: list[Turn] | tuple[Turn, ...], until: float | None = None) -> Debrief:
    return judge(tank(), played(turns, until))


def words(found: Debrief, part: str) -> str:
    return " ".join(one.words.text() for one in found.moments if one.part == part)


def test_it_is_the_plan_s_own_loop() -> None:
    charge = reckon(corrim()).charge
    assert isinstance(charge, DrainbackCharge)
    found = charge.draining
    assert tank().above == found.above
    assert tank().mark == found.marks.fill_mark
    assert found.levels is not None
    # what runs up lowers the open store by what its levels say
    assert tank().above / tank().area == pytest.approx(found.levels.rest - found.levels.running)
    assert found.drain is not None
    assert tank().drains_s == found.drain.time


def test_a_master_has_all_marks() -> None:
    found = marked(masters())
    assert found.total == pytest.approx(100.0)
    assert found.moments == ()
    assert len(cycles_of(tank(), played(masters()))) == CYCLES


def test_running_it_falls_by_what_stands_above_and_comes_back_in_its_time() -> None:
    course = played(masters())
    told = showed(tank(), course)
    assert told["goes_up"] == pytest.approx(tank().above)
    assert told["drains"] == pytest.approx(tank().drains_s, abs=2)
    running = course.column(tanks.RESERVOIR)[course.column(tanks.FLOW) > 0]
    assert running.min() == pytest.approx(tank().mark - tank().above, abs=2e-4)
    assert abs(course.rows[-1, tanks.RESERVOIR] - tank().mark) / tank().area < tanks.MARK_CLOSE_M


def shifted(by: Callable[[Turn], Turn | None]) -> list[Turn]:
    return [made for turn in masters() if (made := by(turn)) is not None]


def _slow_at_once(turn: Turn) -> Turn | None:
    """Set beside full a little after it: before the return has filled."""
    if (turn.handle, turn.position) == ("pump", "set"):
        return Turn(turn.at - 55.0, "pump", "set")
    return turn


FIRST_ON = next(turn.at for turn in masters() if turn.handle == "pump")


@pytest.mark.parametrize(
    ("turns", "until", "part", "said"),
    [
        (lambda: [Turn(turn.at + (30 if turn.at > 0 else 0), turn.handle, turn.position) for turn in masters()], None, "level", "over the mark at rest"),
        (lambda: [Turn(0.0, "fill", "open"), Turn(40.0, "pump", "full"), Turn(400.0, "fill", "shut"), Turn(420.0, "pump", "off")], 520.0, "level", "Filled while the pump ran"),
        (lambda: [Turn(0.0, "fill", "open")], 4000.0, "level", "ran over"),
        (lambda: list(masters())[:4], masters()[3].at + 2, "level", "before it had drained"),
        (lambda: [turn for turn in masters() if turn.handle != "tap"] + [Turn(masters()[-1].at, "tap", "open"), Turn(masters()[-1].at + 90, "tap", "shut")], masters()[-1].at + 120, "level", "under its mark"),
        (lambda: shifted(_slow_at_once), None, "start", "the siphon broke"),
        (lambda: [Turn(0.0, "cover", "off"), *(Turn(turn.at + 3000, turn.handle, turn.position) for turn in masters())], None, "start", "refilling is locked out"),
        (lambda: [Turn(0.0, "pump", "full"), *masters()], None, "start", "drew air"),
        (lambda: [turn for turn in masters() if turn.at < 500] + [Turn(520.0, "pump", "off"), Turn(600.0, "lid", "on")], 620.0, "cycles", "one time tells nothing"),
        (lambda: [turn for turn in masters() if turn.handle != "lid"], None, "left", "goes as vapour"),
        (lambda: [*masters(), Turn(masters()[-1].at + 2, "cover", "off")], None, "left", "cover"),
    ],
)  # fmt: skip
def test_a_habit_left_out_loses_marks_for_its_own_reason(
    turns: Callable[[], list[Turn]], until: float | None, part: str, said: str
) -> None:
    found = marked(turns(), until)
    assert found.marks[part] < MARKS[part]
    assert said in words(found, part)


def test_a_slowed_pump_does_not_reach_the_top_by_itself() -> None:
    filled = [turn for turn in masters() if turn.at < FIRST_ON]
    course = played([*filled, Turn(FIRST_ON, "pump", "set")], FIRST_ON + 600)
    assert course.column(tanks.UP).max() == pytest.approx(LIFTS * tank().above, rel=1e-6)
    assert course.column(tanks.FLOW).max() == 0


def test_an_uncovered_field_comes_to_its_standstill() -> None:
    stands = tank().sun / tank().loses + tank().air
    assert played([Turn(0.0, "cover", "off")], 14_000).rows[-1, tanks.FIELD_C] == pytest.approx(stands, rel=0.01)
    assert stands > 100 + tank().air - STANDSTILL_AIR_C


def test_the_plan_s_own_lock_says_from_when_nothing_is_let_in() -> None:
    lower = changed(corrim(), [Change("control.refill_c", 70.0)])
    cold = tank_of(lower, reckon(lower))
    assert cold.locked_c == 70.0
    late = [Turn(0.0, "cover", "off"), *(Turn(turn.at + 700, turn.handle, turn.position) for turn in masters())]
    course = play(cold, late, late[-1].at + 10)
    started = course.column(tanks.FIELD_C)[int(FIRST_ON) + 700]
    assert 70 < started < 95
    assert "refilling is locked out" in words(judge(cold, course), "start")
    assert "refilling" not in words(judge(tank(), play(tank(), late, late[-1].at + 10)), "start")


def test_a_trap_keeps_its_water() -> None:
    held = replace(tank(), held=2e-3)
    course = play(held, list(masters()), masters()[-1].at + 10)
    assert course.rows[-1, tanks.UP] == pytest.approx(2e-3)
    assert judge(held, play(held, list(master(held)), master(held)[-1].at + 10)).total == pytest.approx(100.0)


TURNS = st.lists(
    st.tuples(st.integers(0, 1500), st.sampled_from(list(HANDLES)), st.integers(0, 5)).map(
        lambda one: Turn(float(one[0]), one[1], HANDLES[one[1]][one[2] % len(HANDLES[one[1]])])
    ),
    max_size=14,
)


@settings(max_examples=40)
@given(turns=TURNS)
def test_no_water_and_no_energy_is_lost_or_made_and_it_is_judged(turns: list[Turn]) -> None:
    course = played(turns, 1600)
    last = course.rows[-1]
    water = last[tanks.RESERVOIR] + last[tanks.UP] + last[tanks.SPILLED] + last[tanks.TAPPED]
    assert water == pytest.approx(last[tanks.FILLED], abs=1e-9)
    held = tank().metal * (last[tanks.FIELD_C] - tank().air)
    energy = last[tanks.SUN_J] - last[tanks.LOST_J] - last[tanks.CARRIED_J] - last[tanks.STEAM_J] - held
    assert abs(energy) <= 1e-6 * max(last[tanks.SUN_J], tank().metal)
    assert (course.column(tanks.UP) >= -1e-12).all()
    assert np.all(course.column(tanks.RESERVOIR) <= tank().reservoir + 1e-12)
    assert 0 <= judge(tank(), course).total <= 100


def test_what_there_is_not_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="cannot be half"):
        play(tank(), [Turn(0.0, "pump", "half")], 5)
    with pytest.raises(ImpossibleInputError, match="before a run begins"):
        play(tank(), [Turn(-3.0, "pump", "full")], 5)
    with pytest.raises(ImpossibleInputError, match="only a loop that drains"):
        tank_of(plan_a(), reckon(plan_a()))


def test_marks_are_a_hundred_and_each_part_and_handle_is_named() -> None:
    assert sum(MARKS.values()) == 100
    assert set(MARKS) == set(PARTS)
    assert set(LEFT) == set(HANDLES)
