"""Loops that empty: levels, lift, falls, draining and freezing, and every rule fired and cured."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import LIFTING_PUMP, PIPES, STORES, THREE_SPEED
from rowan.core.reckon import Reckoning, reckon
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.roof.layout import foot_heights
from rowan.core.steps.run.drainback import Draining, draining, lift_of, lifted_crossings, water_level
from rowan.core.steps.run.draining import (
    Segment,
    bore_allowed,
    drain,
    drains_in_time,
    falls,
    freeze_time,
    is_trap,
    reservoir,
)
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.errors import OutOfRangeError
from rowan.demo.corrim import corrim
from tests.core.designs import altered, plan_b

WATER = {"roughness": 1.5e-6, "density": 985.0, "viscosity": 6e-4}


def emptied(design: Design) -> tuple[Reckoning, Draining]:
    result = reckon(design)
    assert result.draining is not None
    return result, result.draining


def keys(design: Design) -> dict[str, str]:
    return {finding.key: finding.level for finding in reckon(design).findings}


@given(above=st.floats(0, 500), least=st.floats(0, 50))
def test_a_reservoir_holds_what_drains_and_a_tenth_of_air(above: float, least: float) -> None:
    found = reservoir(contents_above=above, least_water=least)
    assert found.running <= found.fill_mark <= found.volume
    assert found.fill_mark - found.running == pytest.approx(above)
    assert found.volume - found.fill_mark == pytest.approx(0.1 * above)


def test_less_than_nothing_does_not_drain() -> None:
    with pytest.raises(OutOfRangeError):
        reservoir(contents_above=-1, least_water=1)


@given(volume=st.floats(1e-3, 0.2), height=st.floats(0.2, 20), bore=st.floats(0.012, 0.05), more=st.floats(1.05, 3))
def test_it_empties_faster_the_higher_and_the_wider(volume: float, height: float, bore: float, more: float) -> None:
    usual = drain(volume=volume, driving_height=height, length=15, bore=bore, k_sum=6, **WATER)
    higher = drain(volume=volume, driving_height=height * more, length=15, bore=bore, k_sum=6, **WATER)
    wider = drain(volume=volume, driving_height=height, length=15, bore=bore * more, k_sum=6, **WATER)
    assert higher.time < usual.time
    assert wider.time < usual.time
    assert usual.velocity**2 < 2 * GRAVITY * height, "never faster than it would fall"
    assert usual.time == pytest.approx(volume / (usual.velocity * 3.141592653589793 / 4 * bore**2))


@pytest.mark.parametrize("wrong", [{"driving_height": 0.0}, {"bore": 0.0}])
def test_nothing_drains_without_height_or_bore(wrong: dict[str, float]) -> None:
    usual = {"volume": 0.01, "driving_height": 3.0, "length": 10.0, "bore": 0.02, "k_sum": 5.0}
    with pytest.raises(OutOfRangeError):
        drain(**{**usual, **wrong}, **WATER)


@given(start=st.floats(1, 90), air=st.floats(-40, -0.5), colder=st.floats(0.5, 20))
def test_it_freezes_sooner_the_colder(start: float, air: float, colder: float) -> None:
    usual = freeze_time(capacity=1450, loss=0.24, start=start, air=air)
    cold = freeze_time(capacity=1450, loss=0.24, start=start, air=air - colder)
    assert usual is not None
    assert cold is not None
    assert 0 < cold < usual


def test_above_freezing_nothing_freezes_and_ice_is_there_at_once() -> None:
    assert freeze_time(capacity=1450, loss=0.24, start=30, air=0) is None
    assert freeze_time(capacity=1450, loss=0.24, start=0, air=-5) == 0
    assert drains_in_time(drain_time=1e9, freezes_after=None)
    assert not drains_in_time(drain_time=34, freezes_after=100)
    assert drains_in_time(drain_time=33, freezes_after=100)
    with pytest.raises(OutOfRangeError):
        freeze_time(capacity=0, loss=0.24, start=30, air=-5)


@given(length=st.floats(0.2, 20), fall=st.floats(-1, 1), outdoors=st.booleans())
def test_a_trap_is_what_falls_too_little(length: float, fall: float, outdoors: bool) -> None:
    found = falls(segments=[Segment(length, fall * length, 0.02, outdoors)])
    assert bool(found.traps) == is_trap(fall=found.fall[0], outdoors=outdoors)
    if fall > 0.021 or (fall > 0.001 and not outdoors):
        assert found.held == 0
    if fall < -0.001:
        assert found.held == pytest.approx(3.141592653589793 / 4 * 0.02**2 * length)


def test_limits_that_are_just_kept() -> None:
    assert not is_trap(fall=0.02, outdoors=True)
    assert bore_allowed(bore=0.0199)
    assert not bore_allowed(bore=0.0198)
    assert foot_heights(base_height=0.1, slope=0.02, distances=[0, 5]) == pytest.approx((0.1, 0.2))


# a whole design


def test_the_hostel_drains_and_needs_nothing() -> None:
    result, found = emptied(corrim())
    assert not [f for f in result.findings if f.level != "mind"]
    assert found.falls.traps == ()
    assert found.drain is not None
    assert found.freezes_after is not None
    assert found.drain.time < found.freezes_after / 3
    assert found.head.siphon
    beside = altered(corrim(), store__item=STORES["Store 1000 single coil"], charge__reservoir_at_m=0.9)
    other, reservoir = emptied(beside)
    assert other.figures["fill_mark"].value == pytest.approx(reservoir.marks.fill_mark)
    assert result.figures["start_head"].value == pytest.approx(found.lift.start_head)
    assert not isinstance(result.charge, SealedCharge), "no vessel"


def test_an_open_store_is_its_own_reservoir_and_a_closed_one_wants_one() -> None:
    opened = corrim()
    closed = altered(opened, store__item=STORES["Store 1000 single coil"], charge__reservoir_at_m=0.9)
    assert water_level(closed, reckon(closed).run.route) == 0.9
    assert "reservoir" in reckon(closed).figures
    assert "reservoir" not in reckon(opened).figures
    assert keys(altered(closed, charge__reservoir_l=10.0))["reservoir_small"] == "stop"
    assert "reservoir_small" not in keys(altered(closed, charge__reservoir_l=200.0))


def test_what_stands_above_the_water_is_what_comes_back() -> None:
    design = corrim()
    _, found = emptied(design)
    field = design.collector.count.value * design.collector.item.value.contents_l * 1e-3
    lines = reckon(design).run.route.length * design.run.pipe.value.bore_area_m2
    assert field < found.above < field + lines
    deeper = altered(design, store__foot_below_gauge_m=design.store.foot_below_gauge_m.value + 0.5)
    assert emptied(deeper)[1].above > found.above


def test_a_pump_that_cannot_lift_gives_no_flow_and_the_cure_does() -> None:
    weak = altered(corrim(), run__pump=THREE_SPEED, run__speed=3)
    result = reckon(weak)
    finding = next(f for f in result.findings if f.key == "lift_short")
    assert finding.level == "stop"
    assert result.run.point is None
    mended = reckon(changed(weak, finding.cures[0].changes))
    assert mended.run.point is not None
    assert all(f.key != "lift_short" for f in mended.findings)


def test_with_a_siphon_friction_is_all_that_is_left() -> None:
    design = corrim()
    result = reckon(design)
    point = result.run.point
    assert point is not None
    assert point.head == pytest.approx(result.run.warm.drop(point.flow), rel=1e-6)
    wide = altered(design, run__pipe=PIPES["Copper 54 × 1.5"], run__speed=1)
    slow = reckon(wide)
    assert slow.draining is not None
    assert not slow.draining.head.siphon
    assert slow.run.point is not None
    lifted = slow.run.warm.drop(slow.run.point.flow) + lift_of(wide, slow.run.route, slow.run.warm.density).start_head
    assert slow.run.point.head == pytest.approx(lifted, rel=1e-6)
    assert keys(wide)["no_siphon"] == "mind"


@given(height=st.floats(0.5, 25))
def test_a_higher_field_never_gets_more_flow(height: float) -> None:
    low = reckon(altered(corrim(), survey__gauge_to_top_m=6.7))
    lift = lift_of(corrim(), low.run.route, low.run.warm.density)
    flows = []
    for more in (0.0, height):
        higher = type(lift)(lift.height + more, lift.density, lift.bore, lift.atmosphere, lift.water_c)
        points = lifted_crossings(low.run.pump.curves, low.run.warm, higher)
        flows.append([point.flow if point else 0.0 for point in points])
    assert all(b <= a + 1e-12 for a, b in zip(*flows, strict=True))


def test_a_trap_is_found_where_it_is_and_cured_there() -> None:
    sagging = altered(corrim(), run__cold__c6__rise_m=0.01)
    finding = next(f for f in reckon(sagging).findings if f.key == "trap_cold_c6")
    assert finding.level == "stop", "it freezes there"
    assert finding.place == "cold.c6"
    mended = reckon(changed(sagging, finding.cures[0].changes))
    assert all(f.key != "trap_cold_c6" for f in mended.findings)
    warm = altered(sagging, survey__design_minimum_c=4.0)
    assert keys(warm)["trap_cold_c6"] == "fix"
    level = altered(corrim(), run__hot__h3__rise_m=0.0)
    assert keys(level)["trap_hot_h3"] == "fix", "indoors it must fall at all"


@pytest.mark.parametrize(
    ("key", "change"),
    [
        ("return_narrow", {"run__pipe": PIPES["Copper 18 × 1"]}),
        ("vent_in_drainback", {"run__hot__h1__vented": True}),
        ("non_return_drainback", {"run__non_return": True}),
    ],
)
def test_each_rule_fires_and_stops_after_its_cure(key: str, change: dict[str, object]) -> None:
    broken = altered(corrim(), **change)
    finding = next(f for f in reckon(broken).findings if f.key == key)
    assert key not in keys(corrim())
    assert key not in keys(changed(broken, finding.cures[0].changes))


def test_water_as_high_as_the_field_does_not_drain() -> None:
    closed = altered(corrim(), store__item=STORES["Store 1000 single coil"], charge__reservoir_at_m=8.0)
    assert keys(closed)["no_fall"] == "stop"
    assert "drain_time" not in reckon(closed).figures


def test_a_long_wet_line_in_hard_frost_may_freeze_first() -> None:
    result, found = emptied(corrim())
    slow = draining(
        altered(corrim(), run__pipe=PIPES["Copper 22 × 1"], survey__design_minimum_c=-45.0, collector__working_c=10.0),
        result.run.route,
        flow=result.run.flow,
        friction=1e4,
        outdoor_loss=60.0,
    )
    assert slow.freezes_after is not None
    assert found.freezes_after is not None
    assert slow.freezes_after < found.freezes_after
    assert slow.drain is not None
    assert not drains_in_time(drain_time=slow.drain.time, freezes_after=slow.freezes_after)


def test_steps_and_parts_are_those_of_a_loop_that_drains() -> None:
    result = reckon(corrim())
    steps = [step.key for step in result.commission.steps]
    assert steps == [
        "inspect", "falls", "flush", "test", "release", "fill", "start", "stop", "settings", "taps", "sun", "provoked", "close",
        "weeks",
    ]  # fmt: skip
    by_key = {step.key: step for step in result.commission.steps}
    held, filled = by_key["test"].valves, by_key["fill"].valves
    assert {held["tank flow"], held["tank return"]} == {"shut"}
    assert {filled["tank flow"], filled["tank return"], filled["air"]} == {"open"}
    assert any(target.figure == "drain_time" for target in by_key["stop"].targets)
    assert "colour_time" not in result.figures
    parts = {part.key for part in result.parts.parts}
    assert {"level_tube", "lid_seal"} <= parts
    assert not {"vessel", "station", "non_return", "fluid", "filling_station"} & parts
    assert LIFTING_PUMP.name.lower() in " ".join(p.name.text() for p in result.parts.parts)
    closed = altered(corrim(), store__item=STORES["Store 1000 single coil"])
    assert "reservoir" in {part.key for part in reckon(closed).parts.parts}
    assert "reservoir" not in {part.key for part in reckon(plan_b()).parts.parts}
