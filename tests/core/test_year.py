"""The minute loop keeps what physics keeps: energy, limits, order; and short cuts change nothing that counts."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.goods import efficiency
from rowan.core.simulation import kernel
from rowan.core.simulation.system import Absorber, Draws, System, Tank
from rowan.core.simulation.year import Year, run_year
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.weather.hours import PlaneYear, Weather, plane_year
from tests.core import reference_year

FOLDER = Path(__file__).parent / "reference" / "year"


@lru_cache
def case() -> dict[str, Any]:
    cases = json.loads((FOLDER / "year_cases.json").read_text(encoding="utf-8"))
    return {**cases[0]["given"], "weather_path": str(FOLDER / "weather.csv")}


@lru_cache
def parts() -> tuple[System, Weather, PlaneYear, Draws]:
    g = case()
    weather = reference_year.weather_of(g["weather_path"])
    return reference_year.system_of(g), weather, reference_year.plane_of(g), reference_year.draws_of(g)


def year(
    system: System | None = None,
    draws: Draws | None = None,
    *,
    weather: Weather | None = None,
    long_nights: bool = True,
) -> Year:
    usual, sky, plane, taps = parts()
    return run_year(
        system=system or usual, weather=weather or sky, plane=plane, draws=draws or taps, long_nights=long_nights
    )


def with_area(area: float) -> System:
    """The usual system with another field, flow for each square metre as before."""
    system = parts()[0]
    return replace(system, field=replace(system.field, area=area), flow=system.flow * area / system.field.area)


@settings(max_examples=12, deadline=None)
@given(
    area=st.floats(1.0, 30.0),
    volume=st.floats(0.08, 2.0),
    start=st.floats(4.0, 20.0),
    flow=st.floats(0.01, 0.2),
    loss=st.floats(0.0, 6.0),
)
def test_energy_is_neither_made_nor_lost(area: float, volume: float, start: float, flow: float, loss: float) -> None:
    system = with_area(area)
    system = replace(
        system,
        flow=flow,
        settings=replace(system.settings, start=start, stop=start / 3),
        tank=replace(
            system.tank, volume=volume, diameter=0.5 * (volume / 0.3) ** (1 / 3), coil_top=0.3, coil_bottom=0.05
        ),
        hot=replace(system.hot, loss=np.full(5, loss)),
    )
    found = year(system)
    assert found.residual < 1e-3
    assert np.isfinite(found.daily).all()
    assert found.total("draw") <= found.total("demand") + 1
    assert 0 <= found.solar_fraction <= 1


@pytest.mark.parametrize("small", [2.3, 4.6, 9.2])
def test_more_area_never_brings_less(small: float) -> None:
    assert year(with_area(small * 1.3)).solar_heat >= 0.995 * year(with_area(small)).solar_heat


def test_no_sun_no_heat() -> None:
    system, weather, plane, draws = parts()
    dark = np.zeros(HOURS)
    frost = replace(weather, air=dark)  # warm air would warm a cold store a little, and rightly
    night = run_year(system=system, weather=frost, plane=replace(plane, beam=dark, diffuse=dark), draws=draws)
    assert night.solar_heat == 0
    assert night.total("starts") == 0
    assert night.highest_store <= system.store_start


def test_without_a_draw_the_store_rises_to_its_limit_and_stops() -> None:
    system, _, _, draws = parts()
    found = year(draws=replace(draws, minute=np.zeros(1440)))
    assert found.total("draw") == 0
    assert system.settings.store_maximum - 1 < found.highest_store < system.settings.store_maximum + 2
    assert found.total("stagnation_time") > 0, "a full store leaves the field standing"


def test_halving_the_step_changes_the_heat_by_less_than_a_percent() -> None:
    system = parts()[0]
    whole, half = year(system, long_nights=False), year(replace(system, step=30.0), long_nights=False)
    assert half.solar_heat == pytest.approx(whole.solar_heat, rel=0.01)
    assert half.total("demand") == pytest.approx(whole.total("demand"), rel=1e-9)


def test_long_steps_at_night_change_nothing_that_counts() -> None:
    short, long = year(long_nights=False), year()
    for name in ("coil", "draw", "collector", "store_loss", "line_loss"):
        assert long.total(name) == pytest.approx(short.total(name), rel=0.003), name
    assert long.total("starts") == pytest.approx(short.total("starts"), rel=0.01)


def test_years_do_not_depend_on_the_runs_before() -> None:
    first, _, again = year(), year(with_area(9.2)), year()
    assert (first.daily == again.daily).all()


def test_months_and_days_add_up_to_the_year() -> None:
    found = year()
    for name in kernel.SUMS:
        assert found.months(name).sum() == pytest.approx(found.total(name), rel=1e-12)


@settings(max_examples=60, deadline=None)
@given(temperatures=st.lists(st.floats(5, 95), min_size=2, max_size=14))
def test_mixing_keeps_the_heat_and_leaves_warm_over_cold(temperatures: list[float]) -> None:
    layers = np.array(temperatures)
    before = layers.copy()
    table = np.zeros((kernel.ROWS, layers.size))
    first, end = np.uint64(0), np.uint64(layers.size)
    kernel.mix(layers, table, first, end)
    assert layers.sum() == pytest.approx(before.sum(), rel=1e-9)
    assert (np.diff(layers) <= 1e-6).all()
    assert layers.max() <= before.max() + 1e-9
    assert layers.min() >= before.min() - 1e-9
    once = layers.copy()
    kernel.mix(once, table, first, end)
    assert once == pytest.approx(layers, abs=1e-9)


def test_the_coil_s_share_lies_between_its_ports() -> None:
    tank = Tank(volume=0.3, diameter=0.55, loss=0.7, room=15, coil_ua=450, coil_top=0.65, coil_bottom=0.12)
    shares = tank.node_coil()
    assert shares.sum() == pytest.approx(450)
    assert (shares[:5] == 0).all(), "nothing above the upper port"
    assert tank.node_at(0.0) == 11
    assert tank.node_at(9.0) == 0
    with pytest.raises(ImpossibleInputError, match="ports must stand inside"):
        replace(tank, coil_top=5.0, coil_bottom=4.0).node_coil()


@settings(max_examples=40, deadline=None)
@given(b0=st.floats(0, 0.3), normal=st.floats(-1, 1))
def test_a_plate_takes_no_beam_from_behind_and_never_more_than_straight_on(b0: float, normal: float) -> None:
    one = np.full(HOURS, 1.0)
    plane = PlaneYear(one * 800, one * 0, one * normal, one * 0, one * np.sqrt(1 - normal**2))
    got = Absorber(area=1, eta0=0.8, a1=3, a2=0.01, capacity=7000, b0=b0, k_d=0.9).absorbed(plane, one * 10)[0]
    assert 0 <= got <= 0.8 * 800 + 1e-9
    if normal <= 0:
        assert got == 0


@pytest.mark.parametrize(
    ("change", "message"),
    [({"flow": 0.0}, "area and flow"), ({"field": None}, "area and flow")],
)
def test_a_system_that_cannot_be_is_refused(change: dict[str, Any], message: str) -> None:
    system = parts()[0]
    if "field" in change:
        change = {"field": replace(system.field, area=0.0)}
    with pytest.raises(ImpossibleInputError, match=message):
        replace(system, **change)


def test_a_stop_over_the_start_is_refused_in_either_unit() -> None:
    system = parts()[0]
    with pytest.raises(ImpossibleInputError) as caught:
        replace(system, settings=replace(system.settings, stop=14.0))
    assert "14.0\N{NO-BREAK SPACE}K is not below 10.0\N{NO-BREAK SPACE}K" in caught.value.text()
    assert "25.2\N{NO-BREAK SPACE}F°" in caught.value.text("us")


@pytest.mark.parametrize("values", [np.zeros(8784), np.zeros(10), np.full(HOURS, np.nan)])
def test_weather_that_is_no_year_is_refused(values: np.ndarray) -> None:
    with pytest.raises(ImpossibleInputError):
        Weather(values, np.zeros(HOURS), np.zeros(HOURS), np.zeros(HOURS))


@settings(max_examples=30, deadline=None)
@given(hour=st.integers(0, HOURS - 1), tilt=st.floats(5, 85), azimuth=st.floats(0, 359))
def test_the_year_s_incidence_is_the_collector_s_own(hour: int, tilt: float, azimuth: float) -> None:
    """Two ways to one definition: whole arrays here, single angles in the collector's rules, which the reference holds."""
    weather = reference_year.weather_of(case()["weather_path"])
    sun = reference_year.sun_at(57.2, -3.1, 85, 0.0)
    plane = plane_year(weather=weather, sun=sun, tilt=tilt, azimuth=azimuth)
    lit = replace(plane, beam=np.ones(HOURS), diffuse=np.zeros(HOURS))
    found = efficiency.tube_angles(
        sun_elevation=float(sun.elevation[hour]), sun_azimuth=float(sun.azimuth[hour]), tilt=tilt, azimuth=azimuth
    )
    if abs(found.incidence - 90) < 0.01:
        return
    angles, across, along = (0.0, 30.0, 60.0, 90.0), (1.0, 1.1, 1.2, 0.0), (1.0, 0.98, 0.9, 0.0)
    plate = Absorber(area=1, eta0=1, a1=3, a2=0, capacity=7000, b0=0.15)
    tube = replace(plate, angles=angles, k_t=across, k_l=along)
    flat_factor = efficiency.incidence_flat(angle=found.incidence, b0=0.15)
    tube_factor = efficiency.incidence_tube(
        transverse=found.transverse, longitudinal=found.longitudinal, angles=angles, across=across, along=along
    )
    assert plate.absorbed(lit, weather.air)[hour] == pytest.approx(flat_factor, abs=1e-6)
    assert tube.absorbed(lit, weather.air)[hour] == pytest.approx(tube_factor, abs=1e-6)
