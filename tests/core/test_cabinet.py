"""The rig with its controller: it is the simulated loop, a master has all marks, each habit left out loses its own with its reason."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.practice import cabinet as cabinets
from rowan.core.practice import cabinet_marks as marks
from rowan.core.practice.cabinet import (
    AGAINST,
    BRIDGED,
    CABLES,
    HANDLES,
    PAST,
    PLACES,
    UPRIGHT,
    Cabinet,
    Course,
    Play,
    cabinet_of,
    checked,
    minutes_of,
    plastic_c,
    play,
)
from rowan.core.practice.filling import Debrief
from rowan.core.practice.rig import Turn
from rowan.core.practice.rig_kernel import FLOWS_M3_S
from rowan.core.practice.sheets.control import FACTORY
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import Reckoning, reckon
from rowan.core.simulation.day import run_day
from rowan.core.simulation.plant import SUMS
from rowan.core.simulation.year import stored_in
from rowan.core.terms.calendar import MINUTES_A_DAY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from tests.core.designs import plan_a, proposed

SEEDS = range(6)  # every order of three cables, and then some
LONG_MIN = cabinets.LONGEST_S // 60


@lru_cache
def _reckoned(key: str) -> tuple[Design, Reckoning]:
    design = plan_a() if key == "a" else proposed(key)
    return design, reckon(design)


@lru_cache
def rig(seed: int = 0, key: str = "a") -> Cabinet:
    return cabinet_of(Ground(*_reckoned(key), seed))


@lru_cache
def masters(seed: int = 0, key: str = "a") -> tuple[Turn, ...]:
    return tuple(marks.master(rig(seed, key)))


def cable_of(made: Cabinet, place: str) -> str:
    return next(cable for cable, real in made.cables.items() if real == place)


def with_slip(slip: dict[str, str | None], seed: int = 0, until: float | None = None) -> Course:
    """A master's turns with every turn of some handles to another position, or left out, and at the end once more."""
    made = []
    for turn in masters(seed):
        position = slip.get(turn.handle, turn.position)
        if position is not None:
            made.append(Turn(turn.at, turn.handle, position))
    return play(rig(seed), made, until if until is not None else made[-1].at + 4 * 3600)


def judged(course: Course, seed: int = 0) -> Debrief:
    return marks.judge(rig(seed), course)


def words(found: Debrief, part: str) -> str:
    return " ".join(one.words.text() for one in found.moments if one.part == part)


@pytest.mark.parametrize("key", ["a", "aldersund-8-electric", "aldersund-5-oil"])
@pytest.mark.parametrize("seed", SEEDS)
def test_a_master_has_all_marks(seed: int, key: str) -> None:
    found = marks.judge(rig(seed, key), marks.mastered(rig(seed, key)))
    assert found.moments == ()
    assert found.total == pytest.approx(100.0)


def test_played_again_it_is_what_it_was() -> None:
    live = marks.mastered(rig())
    again = play(rig(), live.turns, live.rows[-1, cabinets.MINUTE] * 60)
    assert again.stands[-1] == live.stands[-1]
    assert again.menus[-1] == live.menus[-1]
    np.testing.assert_allclose(again.rows[-1], live.rows[-1], rtol=1e-9, atol=1e-6)


def test_left_as_planned_it_brings_what_the_simulated_day_brings() -> None:
    made = rig()
    control = made.ground.design.control
    day = run_day(made.ready, start=control.start_k.value, stop=control.stop_k.value)
    run = Play(made, begins=0, piece=15)
    left = marks.mastered(made)
    run.stands, run.menu = dict(left.stands[-1]), dict(left.menus[-1])
    run.go_on(MINUTES_A_DAY)
    # a quarter of an hour is the same as a day at once, but for the long steps that the day's own run takes in the dark
    assert run.course.rows[-1, cabinets.COIL_J] == pytest.approx(day.total("coil"), rel=5e-3)
    assert run.course.rows[-1, cabinets.HIGHEST_C] == pytest.approx(day.highest_collector, abs=0.5)


@pytest.mark.parametrize(
    ("slip", "part", "said"),
    [
        ({"pump": AGAINST}, "hung", "against its non-return"),
        ({"pump": UPRIGHT}, "hung", "air gathers under its rotor"),
        ({"pump": None}, "hung", "still in its box"),
        ({"tail": "plastic"}, "hung", "Plastic in the hot line"),
        ({"loop": None}, "hung", "not filled"),
        ({"isolator": None}, "mains", "worked on live"),
        ({"backup": BRIDGED}, "mains", "bridged"),
        ({"backup": PAST}, "mains", "past the controller"),
        ({"backup": None}, "mains", "hang bare"),
        ({"hours": None}, "card", "all day"),
        ({"frost": None}, "card", "frost function is on"),
        ({"store.maximum_c": None}, "card", "left at 90"),
        ({"control.cut_out_c": None}, "card", "left at 180"),
        ({"hand": None}, "tried", "taken on trust"),
        ({"mode": "automatic"}, "tried", "Never run by hand"),
        ({"mode": "by hand"}, "left", "Left by hand"),
        ({"mode": None}, "left", "Left off"),
        ({"cover": None}, "left", "still covered"),
    ],
)
def test_each_habit_left_out_loses_marks_for_its_own_reason(slip: dict[str, str | None], part: str, said: str) -> None:
    found = judged(with_slip(slip))
    assert said in words(found, part)
    assert found.marks[part] < marks.MARKS[part]
    assert found.total < 100.0


@pytest.mark.parametrize("seed", SEEDS)
def test_swapped_field_and_foot_pump_the_store_out_by_night(seed: int) -> None:
    made = rig(seed)
    run = Play(made)
    for turn in masters(seed):
        run.go_on(int(turn.at // 60) - run.minute)
        run.set(turn.handle, turn.position)
    run.go_on(10 * 60 - run.minute)  # a day of sun first
    run.turn("field", cable_of(made, "foot"))
    run.turn("foot", cable_of(made, "field"))
    assert run.stands["top"] == cable_of(made, "top")
    before = run.now[cabinets.COIL_J]
    run.go_on(LONG_MIN - run.minute)
    course = run.course
    night = (course.column(cabinets.MINUTE) > 11 * 60) & (course.column(cabinets.MINUTE) < 21 * 60)
    assert course.column(cabinets.TOLD)[night].any()
    assert run.now[cabinets.COIL_J] < before
    found = judged(course, seed)
    assert "the field's probe" in words(found, "probes")
    assert "brings" in words(found, "left")


def test_an_upright_pump_moves_something_at_first_and_nothing_later() -> None:
    course = with_slip({"pump": UPRIGHT})
    flow = course.column(cabinets.FLOW)
    assert (flow > FLOWS_M3_S).any()
    assert flow[-1] == 0.0
    assert course.column(cabinets.TOLD)[-1] == 1.0
    # it is told to run and the field comes to its standstill
    assert course.rows[-1, cabinets.FIELD_C] > 90.0


def test_plastic_lets_go_once_the_field_stands_and_the_loop_is_dry() -> None:
    course = with_slip({"tail": "plastic", "pump": AGAINST}, until=8 * 3600)
    assert course.rows[-1, cabinets.BURST] == 1.0
    assert course.stands[-1]["loop"] == "dry"
    burst = int(np.flatnonzero(course.column(cabinets.BURST))[0])
    assert course.rows[burst - 1, cabinets.HIGHEST_C] <= plastic_c() < course.rows[burst, cabinets.HIGHEST_C]
    assert "let go" in words(judged(course), "hung")
    # run as it should, an afternoon's trial goes well, and the summer's standstill does not
    trial = with_slip({"tail": "plastic"})
    assert trial.rows[-1, cabinets.BURST] == 0.0
    assert "plastic lets go" in " ".join(one.what.text() for one in marks.after(rig(), trial))


def test_a_filled_loop_that_is_taken_apart_is_dry_again() -> None:
    run = Play(rig())
    for turn in masters():
        run.go_on(int(turn.at // 60) - run.minute)
        run.set(turn.handle, turn.position)
    run.turn("pump", AGAINST)
    assert run.stands["loop"] == "dry"
    assert "mix is on the floor" in words(judged(run.course), "hung")


def test_a_warm_hand_moves_its_own_number_alone() -> None:
    made = rig(3)
    run = Play(made)
    for place, cable in zip(PLACES, CABLES, strict=True):
        run.turn(place, cable)
    columns = (cabinets.READS_FIELD, cabinets.READS_FOOT, cabinets.READS_TOP)
    for hand, warm in cabinets.WARMED.items():
        before = [run.now[column] for column in columns]
        run.set("hand", hand)
        moved = [run.now[column] - was for column, was in zip(columns, before, strict=True)]
        terminal = next(name for name, cable in zip(PLACES, CABLES, strict=True) if made.cables[cable] == warm)
        assert moved[PLACES.index(terminal)] == pytest.approx(cabinets.HAND_K)
        assert sum(abs(one) > 1e-9 for one in moved) == 1
        run.set("hand", "in the pocket")


def test_after_a_loop_left_by_hand_the_store_goes_out_over_the_roof() -> None:
    lines = [one.what.text() for one in marks.after(rig(), with_slip({"mode": "by hand"}))]
    assert any("coldest" in line and "less than as planned" in line for line in lines)
    whole = marks.after(rig(), marks.mastered(rig()))
    assert all(one.level is None for one in whole)
    assert len(whole) == 2


def test_a_limit_left_as_shipped_heats_the_store_further_in_an_empty_summer() -> None:
    lines = marks.after(rig(), with_slip({"store.maximum_c": None, "control.cut_out_c": None}))
    hot = next(one for one in lines if "high summer" in one.what.text())
    assert hot.level == "fix"
    assert "scalds" in hot.what.text()


@pytest.mark.parametrize("design", [corrim, pipwater])
def test_a_loop_that_is_no_such_rig_is_refused_in_words(design: object) -> None:
    made = design()  # type: ignore[operator]
    with pytest.raises(ImpossibleInputError, match=r"asks for|is not on it"):
        cabinet_of(Ground(made, reckon(made), 0))


@pytest.mark.parametrize(
    ("turn", "said"),
    [
        (Turn(0.0, "pump", "sideways"), "cannot be sideways"),
        (Turn(0.0, "tap", "open"), "cannot be open"),
        (Turn(0.0, "control.start_k", "nan"), "no controller takes that"),
        (Turn(0.0, "control.start_k", "much"), "no controller takes that"),
        (Turn(0.0, "store.maximum_c", "1e9"), "no controller takes that"),
        (Turn(cabinets.LONGEST_S + 1.0, "mode", "off"), "second day"),
        (Turn(-1.0, "mode", "off"), "before a run begins"),
    ],
)
def test_what_cannot_be_turned_is_refused(turn: Turn, said: str) -> None:
    with pytest.raises(ImpossibleInputError, match=said):
        checked([turn], 10.0)


def test_a_limit_without_its_probe_is_said_to_be_none() -> None:
    made = rig()
    course = with_slip({"top": None}, until=marks.mastered(made).rows[-1, cabinets.MINUTE] * 60)
    assert "nothing stops the pump when the store is full" in words(judged(course), "probes")
    full = next(one for one in marks.after(made, course) if "high summer" in one.what.text())
    assert full.level == "fix"


@pytest.mark.parametrize("worked", ["pump", "backup"])
def test_mains_are_live_until_the_isolator_is_off(worked: str) -> None:
    position = {"pump": cabinets.ALONG, "backup": cabinets.DRAWN}[worked]
    run = Play(rig())
    run.turn(worked, position)
    assert f"The {worked}'s terminals were worked on live" in words(judged(run.course), "mains")
    run = Play(rig())
    for handle, to in (("isolator", "off, locked"), (worked, position), ("isolator", "on")):
        run.turn(handle, to)
    assert "live" not in words(judged(run.course), "mains")
    run.turn(worked, HANDLES[worked][0])
    assert "worked on live" in words(judged(run.course), "mains")


def test_the_sun_stands_over_the_field_by_day_alone_covered_or_not() -> None:
    run = Play(rig())
    run.go_on(LONG_MIN)
    sun, hour = run.course.column(cabinets.SUN), (cabinets.BEGINS_MIN + run.course.column(cabinets.MINUTE)) / 60 % 24
    assert (sun[(hour > 10) & (hour < 15)] > 0).all()
    assert (sun[(hour > 22) | (hour < 3)] == 0).all()


def test_work_takes_its_minutes_and_plastic_is_quick() -> None:
    assert minutes_of("tail", "copper") > minutes_of("tail", "plastic") > 0
    run = Play(rig())
    run.turn("pump", UPRIGHT)
    assert run.minute == minutes_of("pump", UPRIGHT)


@st.composite
def turnings(draw: st.DrawFn) -> list[tuple[str, str, int]]:
    handles = draw(st.lists(st.sampled_from([*HANDLES, *FACTORY]), min_size=1, max_size=14))
    found = []
    for handle in handles:
        position = draw(st.sampled_from(HANDLES[handle])) if handle in HANDLES else repr(draw(st.floats(-30.0, 200.0)))
        found.append((handle, position, draw(st.integers(0, 200))))
    return found


@given(turnings())
@settings(max_examples=25, deadline=None)
def test_whatever_is_turned_heat_is_somewhere_and_a_verdict_is_found(turns: list[tuple[str, str, int]]) -> None:
    run = Play(rig())
    plant = run.ready.plant
    before = stored_in(plant, run.state)
    for handle, position, minutes in turns:
        if run.minute + minutes + minutes_of(handle, position) > LONG_MIN:
            break
        run.turn(handle, position)
        run.go_on(minutes)
    course = run.course
    held = course.rows[:, [cabinets.FIELD_C, cabinets.FOOT_C, cabinets.TOP_C]]
    assert np.isfinite(held).all()
    assert held.max() < 260.0
    total = dict(zip(SUMS, run.sums[0], strict=True))
    came = (
        total["collector"]
        + total["pump_heat"]
        + total["backup"]
        - total["line_loss"]
        - total["store_loss"]
        - total["draw"]
        - total["wasted"]
    )
    scale = abs(total["collector"]) + total["backup"] + total["draw"] + total["store_loss"] + 1e6
    assert abs(stored_in(plant, run.state) - before - came) < 1e-3 * scale
    found = marks.judge(rig(), course)
    assert 0.0 <= found.total <= 100.0
    assert set(found.marks) == set(marks.MARKS)
    assert sum(marks.MARKS.values()) == 100.0
