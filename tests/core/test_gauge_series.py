"""A loop's gauge and level over months: litres from the vessel, a leak told from air that comes out, when the limit is met; heat meters."""

from __future__ import annotations

from datetime import date, timedelta
from math import exp

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.reckon import reckon
from rowan.core.records.care.counters import Counter, between, usual_days
from rowan.core.records.care.fluid_age import fluid_age
from rowan.core.records.care.gauge_series import (
    GaugeRead,
    GaugeSeries,
    LevelRead,
    gauge_series,
    level_series,
    level_words,
    series_words,
)
from rowan.core.records.house_look import gauge_months, gauge_with
from rowan.core.records.logs.log import Log
from rowan.core.steps.charge.gauge_findings import vessel_of
from rowan.core.steps.charge.result import sealed_charge
from rowan.core.terms.finding import Change
from rowan.core.terms.units import KWH
from rowan.demo.corrim import corrim
from tests.core.designs import plan_b

LITRE = 1e-3
BEGIN = date(2026, 1, 10)


def read_with(lost: float, day: date, *, at_c: float | None = None, design: Design | None = None) -> GaugeRead:
    """What the gauge of a loop that has lost so much [m³] shows on a day: made with the vessel alone."""
    of = design or plan_b()
    result = reckon(of)
    charge = sealed_charge(result.charge)
    if at_c is None:
        whole = gauge_months(of, result)[day.month - 1].expected
    else:
        found = gauge_with(of, result.run, charge, at_c, at_c)
        assert found is not None
        whole = found
    gauge = vessel_of(of, result.run, charge).gauge_after(whole, lost) if lost > 0 else whole
    assert gauge is not None
    return GaugeRead(day, gauge, at_c)


def series(*lost: float, every: int = 20, at_c: float | None = None) -> GaugeSeries:
    found = gauge_series(
        plan_b(),
        reckon(plan_b()),
        [read_with(one, BEGIN + timedelta(days=every * n), at_c=at_c) for n, one in enumerate(lost)],
    )
    assert found is not None
    return found


@pytest.mark.parametrize("at_c", [None, 5.0, 20.0, 60.0])
@pytest.mark.parametrize("lost", [0.0, 0.3 * LITRE, 0.9 * LITRE])
def test_litres_that_are_missing_are_found_at_any_warmth(lost: float, at_c: float | None) -> None:
    (point,) = series(lost, at_c=at_c).points
    assert point.missing == pytest.approx(lost, abs=1e-6)
    setting = sealed_charge(reckon(plan_b()).charge).setting
    assert setting is not None
    if lost == 0.0:
        assert point.cold == pytest.approx(setting.fill, abs=1.0)
    else:
        assert point.cold < setting.fill


def test_warm_and_cold_readings_are_put_to_one_warmth() -> None:
    reads = [read_with(0.2 * LITRE, BEGIN + timedelta(days=30 * n), at_c=4.0 + 6.0 * n) for n in range(10)]
    found = gauge_series(plan_b(), reckon(plan_b()), reads)
    assert found is not None
    assert np.ptp([point.read.gauge for point in found.points]) > 10e3
    assert np.ptp([point.cold for point in found.points]) < 5.0
    assert found.course == "steady"
    assert "0.2" in series_words(found).text("metric")


def test_a_leak_goes_on_and_is_given_a_day() -> None:
    found = series(*(0.01 * LITRE * 10 * n for n in range(8)), every=10)
    assert found.course == "leak"
    assert found.a_day == pytest.approx(0.01 * LITRE, rel=1e-3)
    assert found.a_day_low < found.a_day < found.a_day_high
    assert found.reaches is not None
    days = (found.reaches - found.points[-1].read.day).days
    assert days == pytest.approx((found.kept - found.missing) / (0.01 * LITRE), abs=2)
    assert found.reaches_first is not None
    assert found.reaches_first <= found.reaches
    assert "a month" in series_words(found).text("metric")
    assert found.level in ("fix", "mind")


def test_what_goes_fast_and_then_slows_was_air() -> None:
    found = series(*(0.8 * LITRE * (1 - exp(-n / 2)) for n in range(9)), every=7)
    assert found.course == "slows"
    assert "air" in series_words(found).text("metric")
    assert found.reaches is None


def test_a_loop_under_what_the_coldest_night_needs_is_told_at_once() -> None:
    kept = series(0.0).kept
    found = series(kept * 1.02, at_c=60.0)
    assert found.level == "fix"
    assert "coldest night" in series_words(found).text("metric")


def test_a_topping_up_hides_no_leak() -> None:
    rows = [FluidEntry(id="r1", date="2026-02-20", water_l=0.5)]
    design = changed(plan_b(), [Change("charge.log", rows)])
    reads = []
    for n in range(8):
        day = BEGIN + timedelta(days=10 * n)
        lost = 0.012 * LITRE * 10 * n - (0.5 * LITRE if day > date(2026, 2, 20) else 0.0)
        reads.append(read_with(lost, day, design=design) if lost >= 0 else read_with(0.0, day, design=design))
    found = gauge_series(design, reckon(design), reads[:4] + reads[6:])
    assert found is not None
    assert found.refilled == pytest.approx(0.5 * LITRE)
    assert found.points[-1].lost == pytest.approx(0.012 * LITRE * 70, abs=0.02 * LITRE)
    assert found.course == "leak"


def test_few_readings_have_no_course_and_say_so() -> None:
    found = series(0.1 * LITRE, 0.2 * LITRE)
    assert found.course == "unsure"
    assert "too few" in series_words(found).text("metric")


def test_a_loop_without_a_vessel_has_no_gauge_series() -> None:
    design = corrim()
    assert gauge_series(design, reckon(design), [GaugeRead(BEGIN, 1e5)]) is None
    assert gauge_series(plan_b(), reckon(plan_b()), []) is None


@given(st.floats(0.0, 0.9), st.floats(-15.0, 70.0))
def test_more_missing_is_always_a_lower_gauge(lost: float, at_c: float) -> None:
    less, more = (read_with(one * LITRE, BEGIN, at_c=at_c).gauge for one in (lost, lost + 0.05))
    assert more < less


def test_a_level_that_falls_is_told_from_its_newest_weeks() -> None:
    reads = [LevelRead(BEGIN + timedelta(days=n), 0.0 if n < 20 else -0.005 * (n - 20)) for n in range(42)]
    found = level_series(reads)
    assert found is not None
    assert found.falls
    assert found.month == pytest.approx(0.15, rel=0.02)
    assert "a month" in level_words(found).text("metric")


def test_a_level_that_stands_is_in_order_and_a_low_one_is_not() -> None:
    stands = level_series(LevelRead(BEGIN + timedelta(days=n), 0.001 * (n % 2)) for n in range(30))
    low = level_series([LevelRead(BEGIN, -0.04)])
    assert stands is not None
    assert low is not None
    assert (stands.level, low.level) == (None, "fix")
    assert level_series([]) is None


def test_between_two_readings_of_a_meter_stands_what_a_usual_year_brings() -> None:
    usual = usual_days(plan_b(), reckon(plan_b()))
    assert usual.shape == (365,)
    (year,) = between(usual, [Counter(date(2025, 1, 1), 10 * KWH), Counter(date(2026, 1, 1), 10 * KWH + usual.sum())])
    assert year.due == pytest.approx(usual.sum())
    assert year.says == ""
    june = usual[151:181].sum()
    for share, says in ((0.4, "less"), (0.8, ""), (1.2, ""), (1.8, "more")):
        (found,) = between(usual, [Counter(date(2026, 7, 1), share * june), Counter(date(2026, 6, 1), 0.0)])
        assert found.due == pytest.approx(june)
        assert found.says == says
        assert (found.high - found.low) / found.due > (year.high - year.low) / year.due


def test_a_meter_that_was_set_to_nothing_is_left_out() -> None:
    usual = np.ones(365)
    found = between(usual, [Counter(BEGIN, 50.0), Counter(BEGIN, 51.0), Counter(BEGIN + timedelta(9), 3.0)])
    assert found == ()


# how the fluid ages


def test_a_fluid_ages_by_the_hours_its_field_stood_hot() -> None:
    at = 1_767_225_600 + 600 * np.arange(6 * 24 * 30)
    field = np.where((at % 86_400) < 3_600, 200.0, 30.0)
    result = reckon(plan_b())
    aged = fluid_age(plan_b(), result, Log(at, {"field_c": field}, 600, ()))
    cool = fluid_age(plan_b(), result, Log(at, {"field_c": np.full(len(at), 30.0)}, 600, ()))
    assert aged is not None
    assert cool is not None
    assert (aged.hot, aged.read) == (30 * 3_600.0, 30 * 86_400.0)
    assert cool.hot == 0.0
    assert aged.ageing is not None
    assert cool.ageing is not None
    # an hour a day is 365 in a year
    assert aged.ageing.standing == pytest.approx(plan_b().charge.ph_hot.value * 3.65)
    assert aged.ageing.falls > cool.ageing.falls
    assert aged.ageing.lasts is not None
    assert cool.ageing.lasts is not None
    assert aged.ageing.lasts < cool.ageing.lasts


def test_a_log_without_its_field_says_nothing_of_the_fluid() -> None:
    at = 1_767_225_600 + 600 * np.arange(100)
    assert fluid_age(plan_b(), reckon(plan_b()), Log(at, {"low_c": np.full(100, 30.0)}, 600, ())) is None
