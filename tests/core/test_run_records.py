"""A run as a record: in whatever order entries come, nothing is rewritten and nothing lost."""

from __future__ import annotations

import random
from datetime import UTC, datetime, timedelta
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.reckon import Reckoning, reckon
from rowan.core.records.run import RUN_KINDS, Entry, RunState, digest, kinds_for, put_right, run_of, run_steps
from rowan.core.terms.errors import ImpossibleInputError
from rowan.demo.pipwater import pipwater_lawn
from tests.core.designs import plan_b

NINE = datetime(2026, 5, 12, 9, 0, tzinfo=UTC)


@cache
def kvist() -> Reckoning:
    return reckon(plan_b())


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
    fill = {one.step.key: one for one in found.steps}["fill"]
    assert fill.corrected == ("colour_s",)
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


@pytest.mark.parametrize("kind", [kind for kind in RUN_KINDS if kind != "bench"])
def test_each_kind_of_run_has_steps_of_its_own_that_the_loop_has(kind: str) -> None:
    steps = [step.key for step in run_steps(kind, kvist().commission)]  # type: ignore[arg-type]
    assert steps[0] == "inspect"
    assert {"close"} <= set(steps)
    assert set(steps) <= {step.key for step in kvist().commission.steps}


def test_what_is_buried_is_tested_on_the_bench_and_in_the_open_trench() -> None:
    assert "bench" not in kinds_for(kvist().commission), "nothing of it is buried"
    ground = reckon(pipwater_lawn())
    assert [step.key for step in run_steps("bench", ground.commission)] == ["bench", "trench"]


def test_an_unknown_kind_of_run_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="no run of the kind"):
        run_steps("party", kvist().commission)  # type: ignore[arg-type]
