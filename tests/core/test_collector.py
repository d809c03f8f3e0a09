from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.goods import efficiency
from rowan.core.goods.efficiency import InletRating, PlaneSun, Rating
from rowan.core.reckon import reckon
from rowan.core.steps.collector import correlation
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from tests.core.designs import altered, plan_b, proposed

RATINGS = st.builds(Rating, st.floats(0.3, 0.9), st.floats(0.5, 12), st.floats(0, 0.05))
FIELD = correlation.Field(area=6.0, fr_ul=4.0, fr_tau_alpha=0.74, exchanger_factor=0.97, incidence_factor=0.95)
MONTH = correlation.Month(irradiation=1.2e7, air_temperature=5.0, days=31, load=9e8, hot_water=45.0, mains=10.0)


def test_output_at_rest_with_the_air_is_the_gain_alone() -> None:
    """4.6 m² × 0.8 × (700 + 100) W/m² = 2944 W."""
    sun = PlaneSun(700, 100)
    heat = efficiency.collector_heat(
        area=4.6, rating=Rating(0.8, 3.6, 0.014), sun=sun, mean_temperature=20, air_temperature=20
    )
    assert heat == pytest.approx(2944)


@given(rating=RATINGS, irradiance=st.floats(300, 1100), air=st.floats(-20, 40))
def test_a_dry_collector_gains_nothing(rating: Rating, irradiance: float, air: float) -> None:
    dry = efficiency.stagnation_temperature(rating=rating, irradiance=irradiance, air_temperature=air)
    heat = efficiency.collector_heat(
        area=2.0, rating=rating, sun=PlaneSun(irradiance, 0.0), mean_temperature=dry, air_temperature=air
    )
    assert heat == pytest.approx(0.0, abs=1e-6 * irradiance)
    assert efficiency.efficiency(rating=rating, over_temperature=dry - air, irradiance=irradiance) == pytest.approx(
        0, abs=1e-9
    )


@given(rating=RATINGS, colder=st.floats(0, 60), step=st.floats(0.5, 40))
def test_a_warmer_loop_gains_less(rating: Rating, colder: float, step: float) -> None:
    shares = [efficiency.efficiency(rating=rating, over_temperature=t, irradiance=800) for t in (colder, colder + step)]
    assert shares[1] < shares[0]


@given(eta=st.floats(0.3, 0.9), a1=st.floats(0.5, 10), flow=st.floats(0.02, 0.2), area=st.floats(1, 8))
def test_the_two_rating_forms_go_there_and_back(eta: float, a1: float, flow: float, area: float) -> None:
    inlet = efficiency.mean_to_inlet(rating=Rating(eta, a1), area=area, flow=flow, heat_capacity=3700)
    back = efficiency.inlet_to_mean(rating=inlet, area=area, flow=flow, heat_capacity=3700)
    assert (back.eta0, back.a1) == (pytest.approx(eta), pytest.approx(a1))
    assert inlet.fr_ul < a1


def test_a_flow_too_small_for_the_rating_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="must be below 2"):
        efficiency.inlet_to_mean(rating=InletRating(0.7, 5), area=10, flow=0.005, heat_capacity=3700)


@given(angle=st.floats(0, 89), b0=st.floats(0, 0.3))
def test_the_incidence_factor_falls_from_one(angle: float, b0: float) -> None:
    factor = efficiency.incidence_flat(angle=angle, b0=b0)
    assert 0 <= factor <= 1
    assert efficiency.incidence_flat(angle=0, b0=b0) == 1
    assert efficiency.incidence_flat(angle=angle / 2, b0=b0) >= factor


def test_a_table_of_tubes_is_flat_beyond_its_ends() -> None:
    tables = {"angles": [10, 50], "across": [1.0, 1.3], "along": [1.0, 0.8]}
    assert efficiency.incidence_tube(transverse=0, longitudinal=0, **tables) == 1.0
    assert efficiency.incidence_tube(transverse=70, longitudinal=70, **tables) == pytest.approx(1.3 * 0.8)
    assert efficiency.incidence_tube(transverse=30, longitudinal=10, **tables) == pytest.approx(1.15)
    assert efficiency.incidence_tube(transverse=90, longitudinal=0, **tables) == 0.0


def test_a_table_without_a_factor_for_each_angle_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="one factor for each angle"):
        efficiency.incidence_tube(transverse=20, longitudinal=20, angles=[0, 50], across=[1.0], along=[1.0, 0.9])


@given(elevation=st.floats(5, 85), azimuth=st.floats(90, 270), tilt=st.floats(0, 90))
def test_tube_angles_agree_with_the_incidence_angle(elevation: float, azimuth: float, tilt: float) -> None:
    """tan² θ = tan² θ_T + tan² θ_L wherever the sun is before the plane."""
    found = efficiency.tube_angles(sun_elevation=elevation, sun_azimuth=azimuth, tilt=tilt, azimuth=180)
    if found.incidence < 88:
        squares = sum(math.tan(math.radians(a)) ** 2 for a in (found.transverse, found.longitudinal))
        assert math.tan(math.radians(found.incidence)) ** 2 == pytest.approx(squares, rel=1e-6, abs=1e-9)


def test_tubes_laid_across_exchange_their_angles() -> None:
    args = {"sun_elevation": 30.0, "sun_azimuth": 150.0, "tilt": 45.0, "azimuth": 180.0}
    up, across = (efficiency.tube_angles(**args, tubes_across=flag) for flag in (False, True))
    assert (up.transverse, up.longitudinal) == (across.longitudinal, across.transverse)


def test_wind_takes_from_an_unglazed_field() -> None:
    rating = efficiency.UnglazedRating(0.88, 0.02, 12, 3, 0.95)
    calm, windy = (
        efficiency.unglazed_heat(
            area=20, rating=rating, irradiance=700, longwave=340, wind=wind, mean_temperature=30, air_temperature=22
        ).heat
        for wind in (0.5, 4.0)
    )
    assert windy < calm


@given(area=st.floats(1, 20), more=st.floats(0.1, 5))
def test_more_field_never_brings_less(area: float, more: float) -> None:
    def fraction(size: float) -> float:
        field = correlation.Field(size, FIELD.fr_ul, FIELD.fr_tau_alpha, FIELD.exchanger_factor, FIELD.incidence_factor)
        return correlation.month_fraction(field=field, month=MONTH, store_per_area=75).fraction

    try:
        assert fraction(area + more) >= fraction(area) - 1e-9
    except OutOfRangeError as error:
        assert error.name.startswith(("X", "Y"))


@pytest.mark.parametrize("per_area", [20.0, 400.0])
def test_a_store_outside_the_correlation_is_refused(per_area: float) -> None:
    with pytest.raises(OutOfRangeError, match="store by aperture"):
        correlation.month_fraction(field=FIELD, month=MONTH, store_per_area=per_area)


def test_a_perfect_coil_costs_nothing() -> None:
    factor = correlation.exchanger_factor(area=5, fr_ul=4, capacity_rate=250, coil_conductance=1e6)
    assert factor == pytest.approx(1.0)
    assert correlation.exchanger_factor(area=5, fr_ul=4, capacity_rate=250, coil_conductance=200) < 1.0


def test_the_year_is_the_sum_of_its_months_and_never_above_the_duty() -> None:
    for key in ("aldersund-5-oil", "aldersund-8-west", "maravel-8-gas"):
        result = reckon(proposed(key))
        assert result.collector.year_heat == pytest.approx(sum(result.collector.monthly_heat))
        for heat, load in zip(result.collector.monthly_heat, result.duty.monthly_heat, strict=True):
            assert 0 <= heat <= load + 1e-6


def test_winter_brings_less_than_summer_on_both_sides_of_the_equator() -> None:
    north, south = (reckon(proposed(key)).collector.monthly_heat for key in ("aldersund-8-electric", "maravel-8-west"))
    assert north[11] < north[5]
    assert south[5] < south[11]


def test_a_store_too_small_for_the_correlation_leaves_no_figure_and_says_why() -> None:
    result = reckon(altered(plan_b(), collector__count=9))
    assert result.collector.year_heat is None
    assert "solar_heat" not in result.figures
    assert "saved" not in result.figures
    assert result.collector.unchecked is not None
    assert "refuses" in result.collector.unchecked.text()
    assert reckon(plan_b()).collector.unchecked is None
