"""The stand-in controller on its own loop, and what Rowan sees in its readings: never its own model tested on itself."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.command.standin import plant_of
from rowan.core.records.readings import LIMITS, Allowed, Planned, Reading, observed, reading_of, switching
from rowan.core.terms.errors import ReadingError
from rowan.standin import send
from rowan.standin.controller import Pair, Standin
from rowan.standin.faults import FAULTS, Fault, UnknownFaultError, fault_of
from rowan.standin.loop import OFF, Plant, off_by_some
from rowan.standin.send import COLUMNS, RefusedError, Sender, write_csv
from tests.core.designs import plan_b

MAY = datetime(2026, 5, 4, tzinfo=UTC)
DAY_S = 86_400.0


@lru_cache
def plant() -> Plant:
    return plant_of(plan_b())


def planned() -> Planned:
    return Planned(8.0, 3.0, 20.0, 80.0, 130.0, plant().flow, 120e3)


@lru_cache(maxsize=32)
def run(seed: int = 1, fault: str = "", begins: float = 0.0, days: float = 1.0) -> tuple[Reading, ...]:
    faults = (Fault(fault, begins * 3600.0),) if fault else ()
    device = Standin(plant(), Pair(), MAY, seed, faults)
    return tuple(reading_of(reading) for reading in device.run(days * DAY_S))


# the loop


@given(seed=st.integers(0, 10_000))
@settings(max_examples=50)
def test_the_loop_is_five_to_ten_percent_off_in_each_number(seed: int) -> None:
    real = off_by_some(plant(), seed)
    assert real == off_by_some(plant(), seed)
    for name in OFF:
        share = abs(getattr(real, name) / getattr(plant(), name) - 1.0)
        assert 0.05 - 1e-9 <= share <= 0.10 + 1e-9
    assert real.flow == plant().flow


@pytest.mark.parametrize("seed", [1, 7, 23])
def test_a_day_of_it_is_a_day_as_it_comes(seed: int) -> None:
    readings = run(seed)
    assert len(readings) == 1440
    assert readings[0].at == MAY + timedelta(minutes=1)
    assert all(-15 < (r.field_c or 0) < 140 for r in readings)
    assert all(5 < (r.low_c or 0) < 85 for r in readings)
    noon = [r for r in readings if 9 <= r.at.hour < 15]
    night = [r for r in readings if r.at.hour < 4]
    assert any(r.runs for r in noon)
    assert not any(r.runs for r in night)
    assert (readings[-1].high_c or 0) > 40


def test_the_same_seed_is_the_same_day_and_another_is_not() -> None:
    again = tuple(reading_of(r) for r in Standin(plant(), Pair(), MAY, 1).run(DAY_S))
    assert again == run(1)
    assert run(2) != run(1)


def test_sensors_flicker_and_show_tenths() -> None:
    low = [r.low_c for r in run() if r.at.hour < 3]
    assert len(set(low)) > 3, "a still store does not stand still on the display"
    assert all(value == pytest.approx(round(value or 0, 1)) for value in low)


def test_the_pump_switches_where_it_was_set() -> None:
    seen = switching(run())
    assert seen.starts >= 2
    assert seen.start == pytest.approx(8.0, abs=1.5)
    assert seen.stop == pytest.approx(3.0, abs=1.5)


# faults, and what is seen of them


@pytest.mark.parametrize("seed", [1, 5, 11])
def test_nothing_is_found_where_nothing_is_wrong(seed: int) -> None:
    readings = run(seed, days=2.0)
    for end in range(180, len(readings), 120):
        assert observed(readings[max(0, end - 1440) : end], planned()) == [], readings[end - 1]


@pytest.mark.parametrize(
    ("fault", "expected"),
    [
        ("stuck_pump", "no_flow"),
        ("open_sensor", "open_field_c"),
        ("lost_pressure", "pressure"),
        ("night_circulation", "night_pump"),
        ("wrong_differences", "other_pair"),
        ("air", "no_flow"),
    ],
)
@pytest.mark.parametrize("seed", [1, 5])
def test_a_fault_is_seen_on_the_day_it_shows(fault: str, expected: str, seed: int) -> None:
    readings = run(seed, fault, 0.0, 1.0)
    seen = {entry.key for end in range(120, 1441, 60) for entry in observed(readings[:end], planned())}
    assert expected in seen


def test_swapped_sensors_run_the_pump_at_night_and_stop_it_by_day() -> None:
    readings = run(1, "swapped_sensors")
    assert any(r.runs for r in readings if r.at.hour < 4)
    assert not any(r.runs for r in readings if 11 <= r.at.hour < 14)
    good = run(1)
    assert max(r.field_c or 0 for r in readings) != max(r.field_c or 0 for r in good)


def test_a_leaking_valve_warms_the_field_at_night() -> None:
    late = [slice(1320, 1440)]
    leaking = [r.field_c or 0 for r in run(1, "leaking_check", 12.0)[late[0]]]
    sound = [r.field_c or 0 for r in run(1)[late[0]]]
    assert min(leaking) > max(sound)


def test_a_broken_wire_stops_the_pump() -> None:
    readings = run(1, "open_sensor", 10.0)
    after = [r for r in readings if r.at.hour >= 11]
    assert all(r.field_c is None for r in after)
    assert not any(r.runs for r in after)


def test_a_fault_begins_when_it_is_asked_to() -> None:
    noon = MAY + timedelta(hours=12)
    before = [r for r in run(1, "stuck_pump", 12.0) if r.at < noon]
    assert before == [r for r in run(1) if r.at < noon]
    assert not any(r.flow_m3_s for r in run(1, "stuck_pump", 12.0) if r.at > noon)
    assert any(r.flow_m3_s for r in run(1) if r.at >= noon)


def test_faults_are_read_as_typed() -> None:
    assert fault_of("air") == Fault("air", 0.0)
    assert fault_of("air@6.5") == Fault("air", 23_400.0)
    for text in ("rust", "air@soon", "air@-1", "air@nan", ""):
        with pytest.raises(UnknownFaultError):
            fault_of(text)
    assert set(FAULTS) == {key for key in FAULTS if fault_of(key).key == key}


def test_silence_is_said() -> None:
    last = run()[-1]
    found = observed([last], planned(), now=last.at + timedelta(hours=2))
    assert "silent" in {entry.key for entry in found}
    assert observed([], planned()) == []


# single looks


def look(*, over: float, pump: float, flow: float | None = None, **more: Any) -> list[str]:
    base = Reading(MAY.replace(hour=12), 30.0 + over, 30.0, 45.0, pump_share=pump, flow_m3_s=flow)
    rows = [replace(base, at=base.at + timedelta(minutes=n), **more) for n in range(3)]
    return [entry.key for entry in observed(rows, planned())]


def test_the_pump_is_held_against_the_plan_s_pair() -> None:
    assert look(over=1.0, pump=1.0) == ["runs_on"]
    assert look(over=5.0, pump=1.0) == []
    assert look(over=5.0, pump=0.0) == [], "between stop and start it may rest"
    assert look(over=12.0, pump=0.0) == ["rests"]
    assert look(over=12.0, pump=0.0, high_c=79.0) == [], "the store is full"
    assert look(over=105.0, pump=0.0) == [], "over the cut-out"
    assert look(over=12.0, pump=1.0, flow=0.0) == ["no_flow"]
    assert look(over=12.0, pump=1.0, flow=plant().flow) == []


@pytest.mark.parametrize(
    ("allowed", "field_c", "keys"),
    [
        (Allowed(), 12.0, {"night_pump", "runs_on"}),
        (Allowed(nights=True), 12.0, set()),
        (Allowed(frost_c=4.0), 12.0, set()),
        (Allowed(frost_c=4.0), 25.0, {"night_pump", "runs_on"}),
        (Allowed(timer_h=(0.0, 5.0)), 12.0, set()),
        (Allowed(timer_h=(9.0, 16.0)), 12.0, {"night_pump", "runs_on"}),
        (Allowed(cools_c=110.0), 12.0, {"night_pump", "runs_on"}),
    ],
)
def test_what_the_plan_lets_the_pump_do_is_not_held_against_it(
    allowed: Allowed, field_c: float, keys: set[str]
) -> None:
    night = [Reading(MAY + timedelta(minutes=n), field_c, 40.0, 50.0, pump_share=1.0) for n in range(6)]
    assert {one.key for one in observed(night, replace(planned(), allowed=allowed))} == keys


def test_a_pump_on_a_battery_may_rest() -> None:
    noon = [Reading(MAY.replace(hour=12) + timedelta(minutes=n), 60.0, 30.0, 45.0, pump_share=0.0) for n in range(3)]
    assert [one.key for one in observed(noon, planned())] == ["rests"]
    assert observed(noon, replace(planned(), allowed=Allowed(rests=True))) == []


# readings as they are sent


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ([], "object"),
        ({}, "“at” is missing"),
        ({"at": 5}, "“at” is missing"),
        ({"at": "yesterday"}, "is no time"),
        ({"at": "2026-05-04T12:00:00"}, "zone"),
        ({"at": "1970-01-01T00:00:00Z"}, "1970"),
        ({"at": "2026-05-04T12:00:00Z", "field": 3}, "no key"),
        ({"at": "2026-05-04T12:00:00Z", "field_c": "warm"}, "number or null"),
        ({"at": "2026-05-04T12:00:00Z", "field_c": True}, "number or null"),
        ({"at": "2026-05-04T12:00:00Z", "field_c": 900}, "between"),
        ({"at": "2026-05-04T12:00:00Z", "field_c": float("nan")}, "between"),
        ({"at": "2026-05-04T12:00:00Z", "pump_share": 1.01}, "between"),
        ({"at": "2026-05-04T12:00:00Z", "gauge_pa": 10**400}, "between"),
    ],
)
def test_what_is_no_reading_is_refused_in_words(data: Any, says: str) -> None:
    with pytest.raises(ReadingError, match=says):
        reading_of(data)


@given(
    values=st.fixed_dictionaries(
        {}, optional={key: st.none() | st.floats(low, high) for key, (low, high) in LIMITS.items()}
    )
)
def test_every_reading_within_the_limits_is_taken(values: dict[str, float | None]) -> None:
    found = reading_of({"at": "2026-05-04T12:00:00+02:00", **values})
    assert {key: getattr(found, key) for key in values} == values
    assert found.at == datetime(2026, 5, 4, 10, tzinfo=UTC)


def rows(count: int) -> Iterator[dict[str, Any]]:
    return Standin(plant(), Pair(), MAY, 1).run(60.0 * count)


def test_what_meets_no_answer_waits_and_goes_with_the_next() -> None:
    got: list[dict[str, Any]] = []
    up = False

    def post(url: str, body: bytes, headers: dict[str, str]) -> bytes:
        if not up:
            raise OSError("no route")
        assert headers["Authorization"] == "Bearer abc"
        got.extend(json.loads(line) for line in body.splitlines())
        return b"{}"

    sender = Sender("http://cellar.example/readings/", "abc", post)
    sender.add(rows(5))
    assert sender.flush() == 0
    assert len(sender.waiting) == 5
    up = True
    sender.add(list(rows(7))[5:])
    assert sender.flush() == 7
    assert not sender.waiting
    assert got == list(rows(7)), "in their order, each once"


def test_a_refusal_is_not_tried_again() -> None:
    def post(url: str, body: bytes, headers: dict[str, str]) -> bytes:
        raise RefusedError("401")

    sender = Sender("http://cellar.example/", "bad", post)
    sender.add(rows(1))
    with pytest.raises(RefusedError):
        sender.flush()
    with pytest.raises(RefusedError, match="no address"):
        send.post("file:///etc/hosts", b"", {})


def test_the_logger_s_file_names_its_units_and_leaves_a_broken_wire_empty() -> None:
    into = io.StringIO()
    device = Standin(plant(), Pair(), MAY, 1, (Fault("open_sensor"),))
    assert write_csv(device.run(600.0), into) == 10
    table = list(csv.DictReader(io.StringIO(into.getvalue())))
    assert tuple(table[0]) == COLUMNS
    assert all(row["field_c"] == "" and float(row["low_c"]) > 0 for row in table)


def test_a_pump_whose_speed_follows_runs_between_its_slowest_and_full() -> None:
    device = Standin(plant(), Pair(floor=0.4, full_k=8.0), MAY, 1)
    told = [reading["pump_share"] for reading in device.run(2 * DAY_S)]
    runs = sorted({share for share in told if share > 0})
    assert runs[0] >= 0.4
    assert runs[-1] <= 1.0
    assert len(runs) > 5


def test_a_slow_pump_that_moves_what_its_speed_gives_is_no_fault_and_one_that_moves_nothing_is() -> None:
    slow = replace(planned(), allowed=Allowed(floor=0.2, slope=0.1))
    for share, flow, expected in (
        (0.2, 0.2, set()),
        (1.0, 0.2, set()),
        (0.2, 0.01, {"no_flow"}),
        (1.0, 0.0, {"no_flow"}),
    ):
        rows = [
            Reading(datetime(2026, 5, 4, 12, n, tzinfo=UTC), 40.0, 30.0, 35.0, None, None, share, flow * planned().flow)
            for n in range(3)
        ]
        assert {seen.key for seen in observed(rows, slow)} & {"no_flow"} == expected
