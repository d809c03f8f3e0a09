"""What is fitted of a loop, and what is left over: on blocks made by hand, where the answer is known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.records.care.blocks import Blocks
from rowan.core.records.care.evidence import PLACES, evidence_of
from rowan.core.records.care.faults import BY_KEY, FAULTS, Change
from rowan.core.records.care.fit import ENOUGH_DAYS, Fit, Leaks, likelihood
from rowan.core.records.care.match import LEAST_GAIN, Supposed, speech
from rowan.core.records.care.scene import BINS
from rowan.core.records.care.signs import Signs

DAYS = 30


def blocks(days: int = DAYS, value: float = 0.0, *, spread: float = 1.0, bias: float = 1e-6) -> Blocks:
    """One channel of the field, and the gauge, read in every block of every day."""
    names = ["field_c", "gauge_pa"]
    size = days * BINS
    day = np.tile(np.repeat(np.arange(days), BINS), 2)
    group = np.concatenate((np.tile(np.arange(BINS), days), BINS + np.tile(np.arange(BINS), days)))
    return Blocks(
        names=names,
        group=group,
        day=day,
        value=np.concatenate((np.full(size, value), np.full(size, 150e3))),
        spread=np.concatenate((np.full(size, spread), np.full(size, 4e3))),
        bias=np.full(2 * size, bias),
        mask={name: np.ones((days, BINS), dtype=bool) for name in names},
        first={"field_c": 0, "gauge_pa": BINS},
    )


# the fit


@given(number=st.floats(-1.5, 1.5))
def test_a_number_that_is_off_is_found(number: float) -> None:
    rows = blocks()
    lever = rows.only("field_c") * 8.0
    left, found, cost = Fit(rows, lever[:, None])(lever * number)
    assert found[0] == pytest.approx(number, abs=0.02)
    assert np.abs(left).max() < 0.2
    assert cost == pytest.approx(0.5 * number**2, abs=0.05)


def test_what_no_number_explains_is_left_over() -> None:
    rows = blocks()
    odd = np.where(rows.day >= 20, 10.0, 0.0) * rows.only("field_c")
    left, _, _ = Fit(rows, (rows.only("field_c") * 0.1)[:, None])(odd)
    assert left[(rows.day >= 20) & (rows.only("field_c") > 0)].min() > 9.0


def test_a_few_days_that_do_not_fit_pull_little() -> None:
    """Student's t: three wild days of thirty move the fit by less than a tenth of what they would pull a mean."""
    rows = blocks()
    wild = np.where(rows.day < 3, 40.0, 0.0) * rows.only("field_c")
    _, found, _ = Fit(rows, (rows.only("field_c") * 10.0)[:, None])(wild)
    assert abs(found[0]) < 0.04 < 0.1 * 4.0


@pytest.mark.parametrize("days", [ENOUGH_DAYS - 1, 3 * ENOUGH_DAYS])
def test_a_long_log_is_fitted_by_some_of_its_days_and_told_of_all(days: int) -> None:
    rows = blocks(days)
    lever = rows.only("field_c") * 8.0
    fit = Fit(rows, lever[:, None])
    assert fit.some.mean() == pytest.approx(1.0 if days < ENOUGH_DAYS else 1 / 2, abs=0.2)
    left, found, _ = fit(lever * 0.7)
    assert len(left) == len(rows.value)
    assert found[0] == pytest.approx(0.7, abs=0.02)


def test_the_size_of_a_supposition_is_interpolated() -> None:
    rows = blocks()
    effect = rows.only("field_c") * 10.0
    # read is 0.8 of what the supposed size would do: left over is -2, and a quarter of the effect is one prior
    left, found, cost = Fit(rows, np.zeros((len(rows.value), 1)))(-0.2 * effect, size=0.25 * effect)
    assert np.abs(left).max() < 0.1
    assert found[-1] == pytest.approx(-0.8, abs=0.03)
    assert cost < 0.5


def test_likelihood_is_highest_at_nothing_and_falls_ever_slower() -> None:
    found = likelihood(np.array([0.0, 1.0, 2.0, 20.0, 21.0]))
    assert found[0] == 0.0
    assert (np.diff(found) < 0).all()
    assert found[3] - found[4] < found[0] - found[1]


# what leaks


@pytest.mark.parametrize("begins", [0, 7, 18])
@pytest.mark.parametrize("change", [Change(gauge_leak=4e3), Change(gauge_air=60e3)])
def test_the_day_a_gauge_begins_to_fall_is_found(begins: int, change: Change) -> None:
    rows = blocks()
    leaks = Leaks(rows, np.zeros(DAYS))
    lost = leaks.lost(change, begins)
    assert (lost[rows.day < begins] == 0.0).all()
    assert (lost[rows.only("field_c") > 0] == 0.0).all()
    fallen = replace(rows, value=rows.value - lost)
    leaks = Leaks(fallen, np.zeros(DAYS))
    base = fallen.value - rows.value
    fit = Fit(fallen, (fallen.only("gauge_pa") * 30e3)[:, None])
    day, gain = leaks.best(fit, base, base, change)
    assert abs(day - begins) <= 1
    assert gain > LEAST_GAIN


def test_a_gauge_that_stands_is_no_leak() -> None:
    rows = blocks()
    leaks = Leaks(rows, np.zeros(DAYS))
    base = np.zeros(len(rows.value))
    _, gain = leaks.best(Fit(rows, (rows.only("gauge_pa") * 30e3)[:, None]), base, base, Change(gauge_leak=4e3))
    assert gain < 1.0
    assert not leaks.is_of(Change(share=0.4))


def test_no_gauge_falls_under_nothing() -> None:
    rows = blocks()
    leaks = Leaks(rows, np.zeros(DAYS))
    empty = replace(rows, value=rows.value * np.where(rows.only("gauge_pa") > 0, 0.0, 1.0))
    left = Leaks(empty, np.zeros(DAYS)).left(empty.value - rows.value, Change(gauge_leak=250e3), 0)
    late = (rows.only("gauge_pa") > 0) & (rows.day >= 1)
    assert left[late] == pytest.approx(0.0)
    assert leaks.is_of(Change(gauge_leak=250e3))


# what tells it


def test_evidence_is_where_a_supposition_is_nearer() -> None:
    rows = blocks(value=30.0)
    here = (rows.group == 3) & (rows.day >= 10)
    base = np.where(here, 12.0, 0.0)
    (one,) = evidence_of(rows, base, np.zeros(len(base)), 10)
    assert (one.channel, one.part, one.runs) == ("field_c", 3, False)
    assert (one.read, one.healthy, one.supposed) == (30.0, 18.0, 30.0)
    assert (one.nearer, one.days) == (20, 20)
    assert evidence_of(rows, np.zeros(len(base)), np.zeros(len(base)), 0) == ()


def test_a_place_fits_speaks_against_or_says_nothing() -> None:
    def supposed(**speaks: float) -> Supposed:
        return Supposed(BY_KEY["no_flow"], Change(share=0.0), 20.0, 0, speaks)

    best = supposed(field_c=20.0, off_h=8.0, hot_c=0.5, gauge_pa=0.0)
    other = supposed(field_c=19.0, off_h=1.0, hot_c=0.4, gauge_pa=-5.0)
    assert speech(best, best) == {"field": "fits", "lines": "", "pump": "fits", "gauge": ""}
    assert speech(other, best) == {"field": "fits", "lines": "", "pump": "against", "gauge": "against"}


def test_every_channel_has_its_place_and_every_fault_its_test() -> None:
    channels = [channel for found in PLACES.values() for channel in found]
    assert len(channels) == len(set(channels))
    assert len({fault.key for fault in FAULTS}) == len(FAULTS)
    for fault in FAULTS:
        assert fault.sizes, fault.key
        assert fault.test, fault.key
        assert 0 < fault.minutes <= 30, fault.key
        assert all(size != Change() for size in fault.sizes), "a size that changes nothing is no fault"


def test_only_what_was_read_is_compared() -> None:
    rows = blocks()
    values = np.arange(DAYS * BINS, dtype=float).reshape(DAYS, BINS)
    rows = replace(rows, names=["field_c"], mask={"field_c": values % 2 == 0})
    assert (rows.of(Signs({"field_c": values})) % 2 == 0).all()
    assert rows.by_channel(np.ones(DAYS * BINS // 2)) == {"field_c": DAYS * BINS / 2}
