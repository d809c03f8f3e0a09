"""The made year has the properties it states: over eight climates and five seeds, both hemispheres, 0 to 65 degrees."""

from __future__ import annotations

from functools import cache, lru_cache

import numpy as np
import pytest

from rowan.core.terms.calendar import DAYS_IN_MONTH
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.weather.hours import Place, SunYear, Weather, sun_year
from rowan.core.weather.made_year import (
    LARGEST_HOUR,
    Climate,
    generator,
    made_year,
    month_means,
    outside_hours,
    spread_of_days,
)

MONTH = np.repeat(np.arange(12), DAYS_IN_MONTH)
SEEDS = range(5)


def _climate(
    latitude: float, clearness: tuple[float, float], air: tuple[float, float], altitude: float = 0.0
) -> Climate:
    """Normals from a winter and a summer clearness and air temperature, seasons by hemisphere."""
    place = Place(latitude, 0.0, altitude)
    above = outside_hours(sun_of(place)).reshape(365, 24).sum(axis=1) / 1000
    season = 0.5 - 0.5 * np.cos(2 * np.pi * (np.arange(12) + 0.5) / 12) * (1 if latitude >= 0 else -1)
    kt = clearness[0] + (clearness[1] - clearness[0]) * season
    temperature = air[0] + (air[1] - air[0]) * season
    ghi = [float(kt[m] * above[m == MONTH].mean()) for m in range(12)]
    return Climate(place, tuple(ghi), tuple(float(t) for t in temperature))


def above(place: Place) -> np.ndarray:
    """What falls on the flat outside the air on each day [kWh/m²]."""
    return outside_hours(sun_of(place)).reshape(365, 24).sum(axis=1) / 1000


@lru_cache(maxsize=16)
def sun_of(place: Place) -> SunYear:
    return sun_year(place)


CLIMATES = {
    "65 N, dim": _climate(65, (0.25, 0.45), (-12, 14)),
    "57 N, wet": _climate(57.2, (0.28, 0.44), (3, 14), 85),
    "46 N": _climate(46, (0.35, 0.52), (0, 20), 240),
    "44.6 N, high": _climate(44.6, (0.45, 0.58), (-7, 15), 1100),
    "30 N, desert": _climate(30, (0.60, 0.70), (12, 34)),
    "equator": _climate(0, (0.50, 0.52), (26, 27)),
    "29 S": _climate(-29.4, (0.58, 0.62), (13, 21), 12),
    "55 S": _climate(-55, (0.32, 0.42), (1, 9)),
}


@cache
def made(name: str, seed: int) -> Weather:
    climate = CLIMATES[name]
    return made_year(climate, seed, sun_of(climate.place))


def days(weather: Weather) -> np.ndarray:
    return weather.ghi.reshape(365, 24).sum(axis=1) / 1000


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("name", CLIMATES)
def test_a_made_year_keeps_its_sums(name: str, seed: int) -> None:
    climate, weather = CLIMATES[name], made(name, seed)
    ghi, air = month_means(climate, seed, generator(climate, seed), above(climate.place))
    mean_air = weather.air.reshape(365, 24).mean(axis=1)
    for month in range(12):
        found = days(weather)[month == MONTH].mean()
        assert found == pytest.approx(ghi[month], rel=0.005, abs=1e-3), month
        assert mean_air[month == MONTH].mean() == pytest.approx(air[month], abs=0.1), month
    if seed == 0:
        assert tuple(ghi) == climate.ghi


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("name", CLIMATES)
def test_a_made_year_could_be(name: str, seed: int) -> None:
    weather, sun = made(name, seed), sun_of(CLIMATES[name].place)
    height = np.sin(np.radians(sun.elevation))
    for values in (weather.ghi, weather.dni, weather.dhi):
        assert (values >= 0).all()
    assert (weather.dhi <= weather.ghi + 1e-9).all()
    assert (weather.ghi <= LARGEST_HOUR * outside_hours(sun) + 1e-6).all()
    assert (weather.ghi[height <= 0] == 0).all(), "no light at night"
    assert weather.dhi + weather.dni * np.clip(height, 0, None) == pytest.approx(weather.ghi, abs=1e-6)


@pytest.mark.parametrize("name", CLIMATES)
def test_days_resemble_the_day_before_as_days_do(name: str) -> None:
    above = outside_hours(sun_of(CLIMATES[name].place)).reshape(365, 24).sum(axis=1) / 1000
    found = []
    for seed in SEEDS:
        kt = days(made(name, seed)) / np.maximum(above, 1e-6)
        lit = above > 0.05
        usual = np.array([kt[(m == MONTH) & lit].mean() if ((m == MONTH) & lit).any() else 0.0 for m in range(12)])
        rest = (kt - usual[MONTH])[lit]
        found.append(float(np.corrcoef(rest[:-1], rest[1:])[0, 1]))
    assert 0.15 <= np.mean(found) <= 0.45, found


@pytest.mark.parametrize("mean", [0.25, 0.35, 0.45, 0.55, 0.65])
def test_days_spread_about_their_mean_as_published(mean: float) -> None:
    found = spread_of_days(mean, 1000)
    assert found.mean() == pytest.approx(mean, abs=0.03)
    assert (np.diff(found) >= 0).all()
    if mean < 0.4:
        assert np.median(found) < found.mean() + 0.02, "dull months have a long bright tail"


def test_the_same_place_and_seed_give_the_same_year_and_other_seeds_other_years() -> None:
    climate = CLIMATES["57 N, wet"]
    again = made_year(climate, 3, sun_of(climate.place))
    assert (again.ghi == made("57 N, wet", 3).ghi).all()
    assert not (made("57 N, wet", 4).ghi == again.ghi).all()


def test_years_differ_as_years_do() -> None:
    climate = CLIMATES["46 N"]
    means = np.array(
        [month_means(climate, seed, generator(climate, seed), above(climate.place))[0] for seed in range(1, 201)]
    )
    spread = means.std(axis=0) / np.array(climate.ghi)
    assert spread[:3] == pytest.approx(0.12, abs=0.025)
    assert spread[4:8] == pytest.approx(0.08, abs=0.02)
    assert means.mean(axis=0) == pytest.approx(np.array(climate.ghi), rel=0.03)


@pytest.mark.parametrize("name", ["57 N, wet", "29 S"])
def test_afternoons_are_warm_and_clear_summer_days_warmer(name: str) -> None:
    weather = made(name, 0)
    by_hour = weather.air.reshape(365, 24).mean(axis=0)
    assert 12 <= int(by_hour.argmax()) <= 16
    summer = np.isin(MONTH, (5, 6, 7) if CLIMATES[name].place.latitude > 0 else (11, 0, 1))
    air, light = weather.air.reshape(365, 24).mean(axis=1)[summer], days(weather)[summer]
    assert np.corrcoef(air, light)[0, 1] > 0.1


@pytest.mark.parametrize("field", ["ghi", "air", "daily_range"])
def test_normals_that_are_not_twelve_are_refused(field: str) -> None:
    values = {"ghi": (1.0,) * 12, "air": (10.0,) * 12, "daily_range": (7.0,) * 12, field: (1.0,) * 11}
    with pytest.raises(ImpossibleInputError, match=f"twelve monthly values are needed for {field}, not 11"):
        Climate(Place(50, 0, 0), **values)  # type: ignore[arg-type]
