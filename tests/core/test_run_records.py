"""A run as a record: in whatever order entries come, nothing is rewritten and nothing lost."""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.records.run import Entry, RunState, digest, hung_dry, kinds_for, put_right, run_of, run_steps
from rowan.core.terms.errors import ImpossibleInputError
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater, pipwater_lawn
from tests.core.designs import plan_b
from tests.core.thermosiphons import roof_tank

NINE = datetime(2026, 5, 12, 9, 0, tzinfo=UTC)


@dataclass(frozen=True)
class Planned:
    design: Design
    result: Reckoning


@cache
def kvist() -> Planned:
    return Planned(plan_b(), reckon(plan_b()))


def entry(number: int, kind: str, step: str = "", name: str = "", value: float | None = None, text: str = "") -> Entry:
    return Entry(number, kind, NINE + timedelta(minutes=number), "Tom Wray", step, name, value, text)  # type: ignore[arg-type]


def run(*entries: Entry) -> RunState:
    return run_of("first", kvist(), entries)


FILLED = (entry(1, "read", "fill", "colour_s", 84.0), entry(2, "read", "fill", "tub_fell", 0.16))


def test_a_step_is_passed_when_it_is_read_right_and_somebody_says_so() -> None:
    fill = {one.step.key: one for one in run(*FILLED).steps}["fill"]
    assert fill.state == "open"
    done = {one.step.key: one for one in run(*FILLED, entry(3, "done", "fill")).steps}["fill"]
    assert done.state == "passed"
    assert done.started == NINE + timedelta(minutes=1)


def test_a_tick_does_not_pass_what_is_wrong() -> None:
    short = (
        entry(1, "read", "fill", "colour_s", 4.0),
        entry(2, "read", "fill", "tub_fell", 0.16),
        entry(3, "done", "fill"),
    )
    assert {one.step.key: one for one in run(*short).steps}["fill"].state == "wrong"


def test_a_cured_deviation_stays_in_the_record() -> None:
    short = entry(1, "read", "fill", "colour_s", 4.0)
    found = run(
        short,
        entry(2, "read", "fill", "colour_s", 88.0, "valve 2 shut, run again"),
        entry(3, "read", "fill", "tub_fell", 0.16),
    )
    (was,) = found.deviations
    assert (was.key, was.cured) == ("short_circuit", True)
    assert "short way" in was.words.text()
    assert [e.value for e in found.entries] == [4.0, 88.0, 0.16], "the first reading is still there"


def test_a_step_that_is_left_out_says_why_and_is_not_passed() -> None:
    found = run(entry(1, "left", "fluid", text="refractometer broken"))
    fluid = {one.step.key: one for one in found.steps}["fluid"]
    assert (fluid.state, fluid.left.text if fluid.left else "") == ("left", "refractometer broken")
    again = run(
        entry(1, "left", "fluid"),
        entry(2, "read", "fluid", "frost_c", -22.0),
        entry(3, "read", "fluid", "fluid_ph", 8.1),
        entry(4, "done", "fluid"),
    )
    assert {one.step.key: one for one in again.steps}["fluid"].state == "passed"


def test_a_tick_can_be_taken_back() -> None:
    found = run(entry(1, "tick", "close", "caps", 1.0), entry(2, "tick", "close", "caps", 0.0))
    assert "caps" in {one.step.key: one for one in found.steps}["close"].judgement.missing


@given(seed=st.integers(0, 10_000))
def test_entries_of_two_phones_tell_the_same_in_whatever_order_they_come(seed: int) -> None:
    entries = [*FILLED, entry(3, "done", "fill"), entry(4, "read", "fluid", "frost_c", -22.0), entry(5, "pause"), entry(6, "resume"),
               entry(7, "read", "fill", "colour_s", 86.0), entry(8, "note", "fill", text="foam")]  # fmt: skip
    mixed = entries.copy()
    random.Random(seed).shuffle(mixed)
    assert run(*mixed) == run(*entries)


def test_a_run_is_paused_and_closed_by_its_last_word() -> None:
    assert run(entry(1, "pause")).paused
    assert not run(entry(1, "pause"), entry(2, "resume")).paused
    closed = run(entry(1, "close", text="Tom Wray")).closed
    assert closed is not None
    assert closed.text == "Tom Wray"


@pytest.mark.parametrize(("at", "before", "right", "off"), [
    (NINE, None, NINE, False),
    (NINE + timedelta(minutes=4), None, NINE, False),
    (NINE + timedelta(days=400), None, NINE, True),
    (NINE - timedelta(days=61), None, NINE, True),
    (NINE - timedelta(hours=2), NINE - timedelta(hours=1), NINE - timedelta(hours=1), True),
    (NINE - timedelta(hours=1), NINE - timedelta(hours=2), NINE - timedelta(hours=1), False),
])  # fmt: skip
def test_a_clock_that_cannot_be_right_is_put_right(
    at: datetime, before: datetime | None, right: datetime, off: bool
) -> None:
    assert put_right(at, received=NINE, before=before) == (right, off)


def test_the_record_s_hash_moves_with_every_letter() -> None:
    head = {"plan": "Kvist house, plan B", "revision": 41}
    one = digest(head, FILLED)
    assert one == digest(head, list(FILLED))
    assert one != digest({**head, "revision": 42}, FILLED)
    assert one != digest(head, (FILLED[0], entry(2, "read", "fill", "tub_fell", 0.161)))
    assert len(one) == 19


@pytest.mark.parametrize("kind", ["first", "test", "rebleed", "repair"])
def test_each_kind_of_run_has_steps_of_its_own_that_the_loop_has(kind: str) -> None:
    steps = [step.key for step in run_steps(kind, kvist())]  # type: ignore[arg-type]
    assert steps[0] == "inspect"
    assert {"close"} <= set(steps)
    assert set(steps) <= {step.key for step in kvist().result.commission.steps}


OF_A_SERVICE = {
    "kvist": (plan_b, {"vessel_charge", "relief", "fluid", "anode", "sensors", "taps", "provoked", "settings"}),
    "corrim": (corrim, {"level", "stop", "sensors", "provoked", "settings"}),
    "pipwater": (pipwater, {"sensors", "provoked", "settings"}),
    "thermosiphon": (roof_tank, {"settings", "night"}),
}


@pytest.mark.parametrize("name", OF_A_SERVICE)
def test_a_service_looks_at_what_its_kind_of_loop_wants(name: str) -> None:
    make, wanted = OF_A_SERVICE[name]
    design = make()
    plan = Planned(design, reckon(design))
    steps = run_steps("service", plan)
    keys = [step.key for step in steps]
    assert keys[:2] == ["found", "outside"], "as found comes before anything is turned"
    assert keys[-2:] == ["next", "close"]
    assert wanted <= set(keys)
    assert ("vessel_charge" in keys) is design.sealed
    assert ("level" in keys) is design.drains
    assert len(keys) == len(set(keys))
    works = plan.result.commission.step("close").valves
    assert all(dict(step.valves) == dict(works) for step in steps if step.key in ("found", "outside", "next", "relief"))
    fields = [field.key for step in steps for field in step.fields]
    assert len(fields) == len(set(fields))


def service(*entries: Entry) -> RunState:
    return run_of("service", kvist(), entries)


@pytest.mark.parametrize(
    ("gauge", "warm", "says"),
    [
        (1.77e5, 10.0, ""),
        (1.5e5, 10.0, "found_low"),
        (2.3e5, 10.0, "found_high"),
        (1.6e5, 10.0, ""),
        (1.6e5, 60.0, "found_low"),
    ],
)
def test_a_gauge_as_found_is_judged_by_its_warmth(gauge: float, warm: float, says: str) -> None:
    found = service(entry(1, "read", "found", "found_p", gauge), entry(2, "read", "found", "found_c", warm))
    said = {one.key for one in found.steps[0].judgement.said if one.level == "fix"}
    assert said == ({says} if says else set())


def test_a_burst_membrane_and_a_wet_can_are_told() -> None:
    burst = service(entry(1, "tick", "vessel_charge", "vessel_burst", 1.0))
    assert "membrane" in {said.key for one in burst.steps for said in one.judgement.said}
    ran = service(entry(1, "read", "relief", "can_l", 0.0004))
    assert "ran" in {said.key for one in ran.steps for said in one.judgement.said}
    dry = service(entry(1, "read", "relief", "can_l", 0.0))
    assert "ran" not in {said.key for one in dry.steps for said in one.judgement.said}


def test_a_service_is_due_again_a_year_after_it_was_closed_and_hands_its_notes_on() -> None:
    noted = entry(1, "note", "next", text="bring an anode, 1 1/4")
    put_in = entry(2, "part", text="2 L of mix")
    closed = service(noted, put_in, entry(3, "close", text="Tom Wray"))
    assert closed.closed is not None
    assert closed.revisit == closed.closed.at.date() + timedelta(days=365)
    assert closed.then_service
    assert [one.text for one in closed.for_next] == ["bring an anode, 1 1/4"]
    assert [one.text for one in closed.parts] == ["2 L of mix"]
    assert service(noted).revisit is None


def test_what_is_buried_is_tested_on_the_bench_and_in_the_open_trench() -> None:
    assert "bench" not in kinds_for(kvist()), "nothing of it is buried"
    lawn = pipwater_lawn()
    assert [step.key for step in run_steps("bench", Planned(lawn, reckon(lawn)))] == ["bench", "trench"]


def test_an_unknown_kind_of_run_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="no run of the kind"):
        run_steps("party", kvist())  # type: ignore[arg-type]


# --- delivery and roof


def roof(*entries: Entry) -> RunState:
    return run_of("roof", kvist(), entries)


def test_a_gate_holds_what_comes_after_it() -> None:
    held = roof().held_by("marks")
    assert held is not None
    assert held.key == "weather"
    done = (
        entry(1, "read", "weather", "gust", 4.0),
        entry(2, "tick", "weather", "done_weather", 1.0),
        entry(3, "done", "weather"),
    )
    following = roof(*done).held_by("marks")
    assert following is not None
    assert following.key == "edge"
    assert roof(*done).held_by("edge") is None


def test_in_gusts_nobody_goes_up_whatever_is_ticked() -> None:
    windy = (
        entry(1, "read", "weather", "gust", 12.0),
        entry(2, "tick", "weather", "done_weather", 1.0),
        entry(3, "done", "weather"),
    )
    assert roof(*windy).steps[0].state == "wrong"
    held = roof(*windy).held_by("edge")
    assert held is not None
    assert "nobody goes up" in roof(*windy).steps[0].judgement.said[0].words.text()


def test_rails_are_square_by_both_diagonals() -> None:
    step = next(one.step for one in roof().steps if one.step.key == "diagonals")
    whole = float(step.fields[0].expected)

    def keys(other: float) -> set[str]:
        read = (
            entry(1, "read", "diagonals", "diagonal_1a", whole),
            entry(2, "read", "diagonals", "diagonal_1b", other),
        )
        return {said.key for one in roof(*read).steps if one.step.key == "diagonals" for said in one.judgement.said}

    assert not {"not_square_left", "not_square_right"} & keys(whole + 0.001)
    assert "not_square_right" in keys(whole + 0.05)
    assert "not_square_left" in keys(whole - 0.05)


def test_the_day_from_which_a_field_hangs_dry_is_that_of_its_last_collector() -> None:
    assert hung_dry(roof()) is None
    assert hung_dry(roof(entry(5, "done", "collector-1"), entry(9, "done", "collector-2"))) == NINE.date()


def test_all_that_is_bought_is_ticked_off_by_its_place() -> None:
    steps = run_steps("delivery", kvist())
    bought = [part.key for part in kvist().result.parts.parts if part.merchant != "hire"]
    assert sorted(field.key for step in steps for field in step.fields) == sorted(f"came_{key}" for key in bought)


def test_a_survey_is_a_walk_that_leaves_out_what_is_not_there() -> None:
    assert [step.key for step in run_steps("survey", kvist())] == [
        "outside", "covering", "attic", "horizon", "route", "room", "heater", "water",
    ]  # fmt: skip
    lawn = pipwater_lawn()
    assert not {"covering", "attic"} & {step.key for step in run_steps("survey", Planned(lawn, reckon(lawn)))}
