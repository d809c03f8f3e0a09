"""The training rig: nothing is lost or made, what is done wrong has its own consequence, a master's run is worth all marks."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.fluid import frost_point
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.practice import rig as rigs
from rowan.core.practice import rig_kernel as kernel
from rowan.core.practice.filling import MARKS, Debrief, after, clear_seconds, judge, master
from rowan.core.practice.rig import HANDLES, LONGEST_S, STANDSTILL_AIR_C, Ready, Track, Turn, play, ready_of, rig_of
from rowan.core.practice.rig_kernel import Rig
from rowan.core.reckon import reckon
from rowan.core.steps.charge.result import sealed_charge
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.demo.corrim import corrim
from tests.core.designs import plan_b

LITRE = 1e-3


@lru_cache
def rig() -> Rig:
    return rig_of(plan_b(), reckon(plan_b()))


def ready() -> Ready:
    return ready_of(plan_b(), reckon(plan_b()))


@lru_cache
def masters() -> tuple[Turn, ...]:
    return tuple(master(rig(), ready()))


def played(*turns: tuple[float, str, str], until: float = 120.0) -> Track:
    return play(rig(), ready(), [Turn(*one) for one in turns], until)


def column() -> float:
    """What the gauge carries once liquid stands on top [Pa]."""
    return float(rig().rise[rig().rise > 0.0].sum() * rig().density * GRAVITY)


FILLED = ((0.0, "drain", "open"), (1.0, "hose", "tub 2"), (2.0, "drill", "on"), (3.0, "fill", "open"))
BACK = (75.0, "hose", "tub 1")


def marked(turns: list[Turn] | tuple[Turn, ...], until: float | None = None) -> Debrief:
    ends = until if until is not None else turns[-1].at + 10
    return judge(rig(), play(rig(), ready(), list(turns), ends), wanted=plan_b().glycol_share)


# nothing is lost or made


turned = st.tuples(
    st.integers(0, 400), st.sampled_from([(name, position) for name in HANDLES for position in HANDLES[name]])
)


@given(st.lists(turned, max_size=14))
@settings(max_examples=40)
def test_liquid_and_glycol_are_somewhere_whatever_is_turned(turns: list[tuple[int, tuple[str, str]]]) -> None:
    begun = ready()
    track = play(rig(), begun, [Turn(float(at), *pair) for at, pair in turns], 420.0)
    liquid = begun.tub + begun.water
    assert track.ends.liquid_in_all == pytest.approx(liquid, rel=1e-9)
    assert track.ends.glycol_in_all == pytest.approx(begun.tub * begun.share, rel=1e-9)
    assert (track.ends.liquid >= -1e-12).all()
    assert (track.ends.liquid <= rig().cell + 1e-12).all()
    assert (track.ends.glycol <= track.ends.liquid + 1e-12).all()
    assert np.isfinite(track.rows).all()


@given(st.integers(0, 60))
def test_a_run_is_its_turns_and_nothing_else(until: int) -> None:
    one, two = (played(*FILLED, until=float(until)) for _ in range(2))
    assert (one.rows == two.rows).all()
    longer = played(*FILLED, until=80.0)
    assert (longer.rows[: until + 1] == one.rows).all()


# it is the plan's own loop


def test_the_rig_holds_what_the_plan_s_loop_holds_and_stands_as_high() -> None:
    charge = sealed_charge(reckon(plan_b()).charge)
    assert rig().cells * rig().cell == pytest.approx(charge.contents.total, rel=1e-6)
    assert column() == pytest.approx(charge.static, rel=0.15)
    assert rig().vessel == charge.vessel
    assert charge.setting is not None
    assert rig().charge == charge.setting.precharge
    assert ready().tub == charge.prepare


def test_a_loop_without_a_vessel_is_not_filled_so() -> None:
    with pytest.raises(ImpossibleInputError, match="sealed loop"):
        rig_of(corrim(), reckon(corrim()))
    with pytest.raises(ImpossibleInputError, match="sealed loop"):
        ready_of(corrim(), reckon(corrim()))


# what follows from what


def test_the_gauge_climbs_with_the_column_and_falls_once_liquid_comes_down() -> None:
    gauge = played(*FILLED, until=240.0).column(rigs.GAUGE)
    top = int(np.argmax(gauge))
    assert gauge[top] == pytest.approx(column(), rel=0.35)
    assert 30 < top < 110
    assert gauge[-1] < 0.5 * gauge[top]


def test_water_that_stayed_comes_back_first_and_then_the_colour() -> None:
    track = played(*FILLED, until=150.0)
    colour = track.column(rigs.DRAINED_STRENGTH)
    assert colour[20] < 0.02
    assert colour[-1] == pytest.approx(ready().share, abs=0.02)
    full = int(np.flatnonzero(colour > 0.97 * ready().share)[0])
    # by then the old water and little of the mix is in tub 2
    assert track.rows[full, rigs.TUB2] == pytest.approx(ready().water, abs=1.0 * LITRE)


def test_a_shut_loop_comes_up_to_what_the_pump_reaches_within_seconds_and_not_with_its_vessel_open() -> None:
    full = (*FILLED, BACK, (150.0, "drain", "shut"))
    shut, opened = (played(*full, (4.0, "vessel", way), until=158.0) for way in ("shut", "open"))
    assert shut.rows[-1, rigs.GAUGE] > 0.8 * rig().dead
    assert opened.rows[-1, rigs.GAUGE] < 0.7 * rig().dead
    assert opened.rows[-1, rigs.VESSEL_HAS] > 0.5 * LITRE


def test_a_drill_that_stops_with_the_fill_open_lets_the_column_back_into_the_tub() -> None:
    stopped = played(*FILLED, (60.0, "drill", "off"), until=90.0)
    shut = played(*FILLED, (60.0, "fill", "shut"), (60.0, "drill", "off"), until=90.0)
    assert stopped.rows[-1, rigs.TUB1] > stopped.rows[60, rigs.TUB1] + 1.0 * LITRE
    assert shut.rows[-1, rigs.TUB1] == pytest.approx(shut.rows[60, rigs.TUB1])


def test_an_open_valve_between_sends_all_of_it_the_short_way() -> None:
    short = played((0.0, "between", "open"), *FILLED, until=60.0)
    assert short.rows[-1, rigs.AIR] > 0.7 * rig().volume
    assert played(*FILLED, until=60.0).rows[-1, rigs.AIR] < 0.6 * rig().volume


def test_an_open_vent_is_heard_once_liquid_stands_there() -> None:
    vented = played((0.0, "vent", "open"), *FILLED, until=150.0)
    assert vented.rows[30, rigs.SPILLED] == 0.0
    assert vented.rows[-1, rigs.SPILLED] > 1.0 * LITRE


def test_an_empty_tub_makes_the_drill_draw_air() -> None:
    dry = played(*FILLED, until=400.0)
    assert dry.rows[-1, rigs.TUB1] == pytest.approx(rig().mouth, abs=0.2 * LITRE)
    assert dry.rows[-1, rigs.DRAWN_AIR] > 1.0 * LITRE


def test_a_relief_opens_before_a_strong_pump_bursts_anything() -> None:
    strong = rig()._replace(dead=9e5)
    turns = [Turn(*one) for one in (*FILLED, BACK, (150.0, "drain", "shut"))]
    track = play(strong, ready(), turns, 200.0)
    assert track.column(rigs.GAUGE).max() < 1.1 * rig().relief
    assert track.rows[-1, rigs.CAN] > 0.0


# what it was worth


def test_a_master_s_run_is_worth_all_marks() -> None:
    made = marked(masters())
    assert made.moments == ()
    assert made.total == sum(MARKS.values()) == 100.0


def changed_master(drop: tuple[str, str] | None = None, add: tuple[Turn, ...] = ()) -> list[Turn]:
    """A master's run with one habit left out, or something more."""
    kept = [turn for turn in masters() if drop is None or (turn.handle, turn.position) != drop]
    return sorted([*kept, *add], key=lambda turn: turn.at)


@pytest.mark.parametrize(
    ("turns", "part", "words"),
    [
        (lambda: changed_master(add=(Turn(0.0, "vessel", "open"),)), "order", "vessel was still open"),
        (lambda: changed_master(("fill", "shut")), "order", "stopped with the fill open"),
        (lambda: changed_master(("vent", "shut")), "order", "left open"),
        (lambda: changed_master(("between", "shut")), "order", "short way"),
        (lambda: changed_master(("hose", "tub 2")), "mix", "old water"),
        (lambda: changed_master(("hose", "tub 1")), "tub", "drew air"),
        (lambda: changed_master(("drill", "off")), "drill", "without a rest"),
        (lambda: [turn for turn in masters() if turn.at < 200.0], "air", "air stayed"),
        (lambda: [Turn(0.0, "drill", "on"), Turn(1.0, "fill", "open"), *(t for t in masters() if t.at > 8)], "order", "before the drain"),
    ],
)  # fmt: skip
def test_what_is_done_wrong_costs_marks_for_its_own_reason(turns: object, part: str, words: str) -> None:
    made = marked(turns(), until=masters()[-1].at + 10)  # type: ignore[operator]
    said = [moment for moment in made.moments if moment.part == part]
    assert any(words in moment.words.text("metric") for moment in said)
    assert made.marks[part] < MARKS[part]
    assert made.total < 100.0


def test_each_moment_lies_in_the_run_and_the_dearest_comes_first() -> None:
    made = marked([Turn(0.0, "drill", "on"), Turn(1.0, "fill", "open")], until=200.0)
    assert [one.marks for one in made.moments] == sorted((one.marks for one in made.moments), reverse=True)
    assert all(0 <= one.at <= 200 for one in made.moments)
    assert all(0.0 <= made.marks[part] <= MARKS[part] for part in MARKS)


def test_a_rest_is_neither_for_nor_against_the_time_without_a_bubble() -> None:
    flow = np.array([1.0, 1, 1, 0, 0, 1, 1, 1, 1]) * 1e-4
    bubbles = np.array([1.0, 0, 0, 0, 0, 0, 0, 1, 0]) * 1e-6
    assert clear_seconds(flow, bubbles) == 4
    assert clear_seconds(np.zeros(5), np.zeros(5)) == 0


@pytest.mark.parametrize(
    "turn", [Turn(0.0, "door", "open"), Turn(0.0, "fill", "half"), Turn(-1.0, "fill", "open"), Turn(LONGEST_S + 1.0, "fill", "open")]
)  # fmt: skip
def test_what_cannot_be_turned_is_refused(turn: Turn) -> None:
    with pytest.raises(ImpossibleInputError):
        play(rig(), ready(), [turn], 10.0)


def test_nobody_stands_at_a_tub_for_longer_than_four_hours() -> None:
    with pytest.raises(ImpossibleInputError, match="four hours"):
        play(rig(), ready(), [], LONGEST_S + 1.0)


def test_a_thin_mix_splits_a_header_on_the_coldest_night_and_left_air_gathers() -> None:
    track = play(rig(), ready(), list(masters()), masters()[-1].at + 10)
    share = float(track.rows[-1, rigs.STRENGTH])
    fine = after(track, coldest=frost_point(volume_share=share) + 1.0)
    assert [line.level for line in fine] == [None]
    split = after(track, coldest=frost_point(volume_share=share) - 1.0)
    assert split[0].level == "stop"
    assert "a header splits" in split[0].what.text()
    # without the burps air stays in the corners
    calm = [
        turn
        for turn in masters()
        if turn.handle != "check" and not (turn.handle == "drain" and 0 < turn.at < masters()[-1].at - 20)
    ]
    left = after(play(rig(), ready(), calm, calm[-1].at + 10), coldest=0.0)
    assert [line.level for line in left] == [None, "fix"]
    assert "of air gather on top" in left[1].what.text()
    half = after(play(rig(), ready(), list(masters()), 30.0), coldest=0.0)
    assert half[0].level == "stop"
    assert "that loop is not filled" in half[0].what.text()


# heat


def in_sun(*turns: tuple[float, str, str], until: float) -> Track:
    return played((0.0, "cover", "off"), *turns, until=until)


def energy_off(track: Track) -> float:
    """What of the sun's energy is neither lost, carried off, steamed away nor in the field [J]."""
    s = track.ends.scalars
    held = rig().metal * (s[kernel.FIELD_C] - rig().air)
    return float(s[kernel.SUN_J] - s[kernel.LOST_J] - s[kernel.CARRIED_J] - s[kernel.STEAM_J] - held)


def test_an_uncovered_field_comes_to_its_own_standstill_and_a_covered_one_stays_cool() -> None:
    dry = in_sun(until=12_000)
    stands = stagnation_of(plan_b().collector.item.value) - STANDSTILL_AIR_C + rig().air
    assert dry.rows[-1, rigs.FIELD_C] == pytest.approx(stands, rel=0.02)
    assert played(until=4000).rows[-1, rigs.FIELD_C] == pytest.approx(rig().air)


def test_filled_in_the_sun_it_steams_the_gauge_leaps_and_the_debrief_names_the_moment() -> None:
    late = [(at + 2400.0, handle, position) for at, handle, position in FILLED]
    track = in_sun(*late, until=2600)
    steams = np.flatnonzero(track.column(rigs.STEAMS) > 0)
    assert len(steams) > 5
    assert track.rows[steams[0] - 1, rigs.FIELD_C] > 100
    assert track.column(rigs.GAUGE)[steams].max() > played(*FILLED, until=200).column(rigs.GAUGE).max()
    found = judge(rig(), track, wanted=plan_b().glycol_share)
    said = [one for one in found.moments if "of steam at hose and vent" in one.words.text()]
    assert said
    assert said[0].at == steams[0]
    assert found.marks["order"] < MARKS["order"] - 15
    # liquid cools it: it ends far under boiling
    assert track.rows[-1, rigs.FIELD_C] < kernel.BOILS_C


def test_a_master_covers_and_never_sees_steam() -> None:
    track = play(rig(), ready(), list(masters()), masters()[-1].at + 10)
    assert track.column(rigs.STEAM_KG)[-1] == 0
    assert track.column(rigs.FIELD_C).max() == pytest.approx(rig().air)


@settings(max_examples=25)
@given(begins=st.integers(0, 2400), pumps=st.integers(10, 600), covered=st.booleans())
def test_no_energy_is_lost_or_made(begins: int, pumps: int, covered: bool) -> None:
    turns = [(at + begins, handle, position) for at, handle, position in FILLED]
    track = (played if covered else in_sun)(*turns, until=float(begins + pumps))
    whole = max(track.ends.scalars[kernel.SUN_J], rig().metal)
    assert abs(energy_off(track)) < 1e-3 * whole
    assert abs(energy_off(track)) < 1e-6 * whole
    assert track.ends.liquid_in_all == pytest.approx(ready().tub + ready().water, rel=1e-9)


def test_a_run_kept_before_there_was_a_cover_is_played_covered() -> None:
    old = ready()
    handles = {name: position for name, position in old.handles.items() if name != "cover"}
    track = play(rig(), Ready(old.tub, old.share, old.water, handles), [], 10)
    assert track.rows[-1, rigs.FIELD_C] == pytest.approx(rig().air)
