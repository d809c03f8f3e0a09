"""Measured with a phone: its zero error drops out, scatter refuses, bearings come true by declination or by a shadow."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta, timezone
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.records.phone import (
    MOST_SPREAD,
    bearing_by_shadow,
    bearing_of,
    declination_at,
    mean_bearing,
    slope_of,
)
from rowan.core.terms.errors import RowanError


@given(slope=st.floats(0, 60), error=st.floats(-4, 4), scatter=st.lists(st.floats(-0.9, 0.9), min_size=2, max_size=8))
def test_a_phone_s_own_error_drops_out(slope: float, error: float, scatter: list[float]) -> None:
    first = [slope + error + s for s in scatter]
    turned = [-slope + error + s for s in scatter]
    found = slope_of(first=first, turned=turned)
    assert found.value == pytest.approx(slope, abs=1e-9)
    assert found.error == pytest.approx(error + sum(scatter) / len(scatter), abs=1e-9)
    assert found.within <= found.spread


def test_half_the_difference_and_the_mean_by_hand() -> None:
    found = slope_of(first=[41.2, 41.0, 41.1], turned=[-38.9, -39.0, -39.1])
    assert found.value == pytest.approx(40.05)
    assert found.error == pytest.approx(1.05)
    assert found.doubts == ()
    bump = slope_of(first=[48.0, 48.0], turned=[-32.0, -32.0])
    assert bump.value == pytest.approx(40)
    assert "camera" in bump.doubts[0]


def test_readings_that_scatter_more_than_a_fall_are_refused_with_the_better_way() -> None:
    with pytest.raises(RowanError, match="600 mm level"):
        slope_of(first=[1.0, 1.5], turned=[-1.2, -1.0], what="fall")
    assert slope_of(first=[1.0, 1.5], turned=[-1.2, -1.0]).value == pytest.approx(1.175)
    assert MOST_SPREAD["fall"] < 1.2 < MOST_SPREAD["pitch"], "a fall of 1:48 is 1.2° itself"


def test_a_mean_bearing_goes_across_north() -> None:
    assert mean_bearing([350.0, 10.0]) == pytest.approx(0.0, abs=1e-9) or mean_bearing([350.0, 10.0]) == pytest.approx(
        360
    )
    assert mean_bearing([170.0, 190.0]) == pytest.approx(180.0)
    with pytest.raises(RowanError):
        mean_bearing([0.0, 180.0])


def test_a_bearing_is_made_true_and_iron_is_noticed() -> None:
    found = bearing_of(here=[150.0, 152.0], aside=[151.0, 151.0], declination=3.6)
    assert found.value == pytest.approx(154.6)
    assert found.doubts == ()
    iron = bearing_of(here=[150.0, 150.0], aside=[165.0, 165.0], declination=0.0)
    assert "iron is near" in iron.doubts[0]
    with pytest.raises(RowanError):
        bearing_of(here=[150.0, 170.0], aside=[150.0, 150.0], declination=0.0)


def test_declination_of_the_model_at_two_places() -> None:
    # the model of 2025: near zero in the north of these islands, over three degrees east in the Alps
    assert declination_at(latitude=57.2, longitude=-3.1, altitude=85, day=date(2026, 11, 27)) == pytest.approx(
        -0.4, abs=0.3
    )
    assert declination_at(latitude=44.6, longitude=7.2, altitude=1100, day=date(2027, 6, 1)) == pytest.approx(
        3.5, abs=0.4
    )
    late = declination_at(latitude=44.6, longitude=7.2, altitude=1100, day=date(2040, 1, 1))
    assert late == pytest.approx(3.6, abs=0.5), "after its years the last one stands"


def test_a_shadow_points_away_from_the_sun_whatever_the_clock_s_zone() -> None:
    # solar noon at 3.1° west falls at about 12:14 UTC in June: the shadow points north
    noon = datetime(2026, 6, 21, 12, 14, tzinfo=UTC)
    found = bearing_by_shadow(latitude=57.2, longitude=-3.1, at=noon, turned=0.0)
    assert (found.value + 180) % 360 - 180 == pytest.approx(0.0, abs=1.0)
    south = bearing_by_shadow(latitude=57.2, longitude=-3.1, at=noon, turned=180.0)
    assert south.value == pytest.approx(180, abs=1.0)
    other = noon.astimezone(timezone(timedelta(hours=5)))
    assert bearing_by_shadow(latitude=57.2, longitude=-3.1, at=other, turned=0.0).value == pytest.approx(found.value)


@pytest.mark.parametrize(
    ("call", "given_"),
    [
        (slope_of, {"first": [], "turned": [1.0, 1.0]}),
        (slope_of, {"first": [1.0], "turned": [1.0, 1.0]}),
        (slope_of, {"first": [1.0, float("nan")], "turned": [1.0, 1.0]}),
        (bearing_of, {"here": [1.0, 2.0], "aside": [900.0, 1.0], "declination": 0.0}),
        (declination_at, {"latitude": 99.0, "longitude": 0.0, "altitude": 0.0, "day": date(2026, 1, 1)}),
        (
            bearing_by_shadow,
            {"latitude": 57.0, "longitude": 0.0, "at": datetime(2026, 12, 21, 23, tzinfo=UTC), "turned": 0.0},
        ),
        (bearing_by_shadow, {"latitude": 57.0, "longitude": 0.0, "at": datetime(2026, 6, 21, 12), "turned": 0.0}),
    ],
)
def test_what_tells_nothing_is_refused(call: Any, given_: dict[str, Any]) -> None:
    with pytest.raises(RowanError):
        call(**given_)
