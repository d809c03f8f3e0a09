"""A year made from twelve normals: the same for the same place and seed, with days as they come. Source: methods 1.

Daily clearness is spread as Bendt, Collares-Pereira and Rabl (1981) found it and put in an order in which fine and dull
days keep together; hours follow Collares-Pereira and Rabl (1979) with scatter; temperature swings with the day and leans
towards warm on clear summer and cold on clear winter days.
"""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAYS, DAYS_IN_MONTH, HOURS
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.weather.hours import Place, SunYear, Weather, sun_year
from rowan.core.weather.sun import SOLAR_CONSTANT, TROPIC_DEG

Array = NDArray[np.float64]
LEAST_CLEARNESS, MOST_CLEARNESS = 0.05, 0.80  # of what falls outside the air, over a day
DAY_AFTER_DAY = 0.42  # of the order, before it is put on the spread of days
HOUR_SCATTER = 0.22  # of an hour about its day's pattern
CLEAREST_MONTH = 0.75  # mean clearness no month passes
LARGEST_HOUR = 0.85  # of what falls on the flat outside the air
# standard deviation over the mean of a month's sun, of temperate climates; rule of thumb
IRRADIATION_SPREAD_WINTER, IRRADIATION_SPREAD_SUMMER = 0.12, 0.08
TEMPERATURE_SPREAD_K = 1.2  # K of a month's mean from year to year
WARMEST_HOUR = 14.5  # of a clear day, true solar time
DAILY_ANOMALY_K, ANOMALY_KEPT = 2.6, 0.7  # K of a day about its month, and how much of it is left the next day
USUAL_RANGE_K = 7.0  # K from night to afternoon, where nobody knows it


@record
class Climate:
    """A place by its normals: mean daily irradiation on the flat [kWh/m²·day] and air [°C] of twelve months; daily range [K]."""

    place: Place
    ghi: tuple[float, ...]
    air: tuple[float, ...]
    daily_range: tuple[float, ...] = (USUAL_RANGE_K,) * 12

    def __post_init__(self) -> None:
        for name in ("ghi", "air", "daily_range"):
            if len(getattr(self, name)) != 12:
                raise ImpossibleInputError(
                    "twelve monthly values are needed for {name}, not {count}",
                    name=name,
                    count=f"{len(getattr(self, name))}",
                )
        if min(self.ghi) < 0:
            raise ImpossibleInputError("irradiation cannot be below zero")


def generator(climate: Climate, seed: int) -> np.random.Generator:
    """The random numbers of a place and seed: the same everywhere."""
    words = repr((climate.place, climate.ghi, climate.air, climate.daily_range, seed))
    return np.random.Generator(np.random.PCG64(int.from_bytes(hashlib.sha256(words.encode()).digest()[:8], "big")))


def month_means(climate: Climate, seed: int, rng: np.random.Generator, outside: Array) -> tuple[Array, Array]:
    """The months' means this year is held to: irradiation [kWh/m²·day] and air [°C]. Seed 0 is the mean year.

    `outside` is what falls on the flat outside the air on each day [kWh/m²]: no month gets more than a sky lets through.
    """
    ghi, air = np.array(climate.ghi), np.array(climate.air)
    if seed == 0:
        return ghi, air
    months = np.arange(12)
    summer = (
        np.isin(months, (3, 4, 5, 6, 7, 8)) if climate.place.latitude >= 0 else np.isin(months, (9, 10, 11, 0, 1, 2))
    )
    spread = np.where(summer, IRRADIATION_SPREAD_SUMMER, IRRADIATION_SPREAD_WINTER)
    factor = np.clip(1 + spread * rng.standard_normal(12), 0.5, 1.5)
    month = np.repeat(np.arange(12), DAYS_IN_MONTH)
    most = CLEAREST_MONTH * np.bincount(month, outside, 12) / np.array(DAYS_IN_MONTH)
    return np.minimum(ghi * factor, np.maximum(most, ghi)), air + TEMPERATURE_SPREAD_K * rng.standard_normal(12)


def outside_hours(sun: SunYear) -> Array:
    """Irradiance on the flat outside the air each hour [W/m²], shape (8760,)."""
    day = np.arange(HOURS) // 24 + 1
    return (
        SOLAR_CONSTANT
        * (1 + 0.033 * np.cos(2 * np.pi * day / 365))
        * np.clip(np.sin(np.radians(sun.elevation)), 0, None)
    )


def spread_of_days(mean: float, days: int) -> Array:
    """Clearness of a month's days about its mean, dullest first: Bendt's distribution at even shares."""
    most = float(np.clip(0.6313 + 0.267 * mean - 11.9 * (mean - 0.75) ** 8, mean + 0.06, MOST_CLEARNESS))
    xi = (most - LEAST_CLEARNESS) / max(most - mean, 1e-6)
    gamma = -1.498 + (1.184 * xi - 27.182 * np.exp(-1.5 * xi)) / (most - LEAST_CLEARNESS)
    shares = (np.arange(days) + 0.5) / days
    if abs(gamma) < 1e-6:
        return np.asarray(LEAST_CLEARNESS + shares * (most - LEAST_CLEARNESS))
    low, high = np.exp(gamma * LEAST_CLEARNESS), np.exp(gamma * most)
    return np.asarray(np.log(low + shares * (high - low)) / gamma)


def _in_order(values: Array, rng: np.random.Generator, before: float) -> tuple[Array, float]:
    """Sorted values put in the order of a walk in which a day resembles the one before; gives the walk's end too."""
    walk = np.empty(values.size)
    for i, step in enumerate(rng.standard_normal(values.size)):
        before = DAY_AFTER_DAY * before + np.sqrt(1 - DAY_AFTER_DAY**2) * step
        walk[i] = before
    ordered = np.empty(values.size)
    ordered[np.argsort(walk, kind="stable")] = np.sort(values)
    return ordered, before


def daily_clearness(means: Array, outside: Array, rng: np.random.Generator) -> Array:
    """Clearness of each day [-], shape (365,); every month keeps its mean irradiation [kWh/m²·day] where the sky allows it."""
    clearness, start, before = np.zeros(DAYS), 0, 0.0
    for month, days in enumerate(DAYS_IN_MONTH):
        above = outside[start : start + days]
        whole = above.sum()
        if whole > 0:
            mean = float(np.clip(means[month] * days / whole, 0.02, MOST_CLEARNESS - 0.02))
            kt, before = _in_order(spread_of_days(mean, days), rng, before)
            for _ in range(40):  # scaled until the month's sum is held, within what a sky can be
                kt = np.clip(kt * mean * whole / (kt * above).sum(), 0.01, MOST_CLEARNESS)
            clearness[start : start + days] = kt
        start += days
    return clearness


def hourly_irradiation(clearness: Array, sun: SunYear, place: Place, outside: Array, rng: np.random.Generator) -> Array:
    """Irradiance on the flat each hour [W/m²]: the day's shape with scatter; every day keeps its sum."""
    latitude = np.radians(place.latitude)
    day = np.arange(HOURS) // 24 + 1
    declination = np.radians(TROPIC_DEG * np.sin(2 * np.pi * (284 + day) / 365))
    sunset = np.arccos(np.clip(-np.tan(latitude) * np.tan(declination), -1, 1))
    height = np.sin(np.radians(sun.elevation))
    along = (height - np.sin(latitude) * np.sin(declination)) / (np.cos(latitude) * np.cos(declination))
    a, b = 0.409 + 0.5016 * np.sin(sunset - np.pi / 3), 0.6609 - 0.4767 * np.sin(sunset - np.pi / 3)
    shape = np.clip((a + b * np.clip(along, -1, 1)) * np.clip(height, 0, None), 0, None)
    scatter = np.clip(1 + HOUR_SCATTER * rng.standard_normal(HOURS), 0.3, 1.7)
    wanted = (clearness[:, None] * outside.reshape(DAYS, 24)).sum(axis=1, keepdims=True)
    most = LARGEST_HOUR * outside.reshape(DAYS, 24)
    hours = (shape * scatter).reshape(DAYS, 24)
    for _ in range(12):  # what is cut from the brightest hours goes to the others
        total = hours.sum(axis=1, keepdims=True)
        hours = np.minimum(hours * np.where(total > 0, wanted / np.where(total > 0, total, 1.0), 0.0), most)
    return np.asarray(hours.reshape(HOURS))


def split(ghi: Array, sun: SunYear) -> tuple[Array, Array]:
    """Beam on its normal and diffuse on the flat [W/m²], by Erbs; a sun at the horizon gives no beam."""
    from pvlib.irradiance import erbs

    day = np.arange(HOURS) // 24 + 1
    found = erbs(ghi, 90 - sun.elevation, day)
    dhi = np.nan_to_num(np.asarray(found["dhi"], dtype=float))
    height = np.sin(np.radians(sun.elevation))
    dni = np.where(height > 0.03, (ghi - dhi) / np.maximum(height, 0.03), 0.0)
    dni = np.clip(dni, 0, SOLAR_CONSTANT)
    return dni, np.maximum(ghi - dni * np.clip(height, 0, None), 0.0)


def temperatures(climate: Climate, means: Array, clearness: Array, rng: np.random.Generator) -> Array:
    """Air of each hour [°C]: months keep their means, days swing to mid-afternoon, warmer when clear in the bright half."""
    middles = np.cumsum(DAYS_IN_MONTH) - np.array(DAYS_IN_MONTH) / 2
    day = np.arange(DAYS) + 0.5
    base = np.interp(day, np.r_[middles[-1] - DAYS, middles, middles[0] + DAYS], np.r_[means[-1], means, means[0]])
    walk, before = np.empty(DAYS), 0.0
    for i, step in enumerate(rng.standard_normal(DAYS)):
        before = ANOMALY_KEPT * before + np.sqrt(1 - ANOMALY_KEPT**2) * step
        walk[i] = before
    month = np.repeat(np.arange(12), DAYS_IN_MONTH)
    usual = np.array([clearness[month == m].mean() for m in range(12)])[month]
    bright = np.array(climate.ghi) >= np.median(climate.ghi)
    lean = np.where(bright[month], 1.0, -1.0) * (clearness - usual) / 0.2
    daily = base + DAILY_ANOMALY_K * (0.85 * walk + 0.5 * lean)
    hour = np.arange(24) + 0.5
    swing = np.cos(2 * np.pi * (hour - WARMEST_HOUR) / 24)
    reach = np.array(climate.daily_range)[month] / 2 * np.clip(0.5 + clearness / np.maximum(usual, 0.05) / 2, 0.5, 1.6)
    air = (daily[:, None] + reach[:, None] * swing[None, :]).reshape(HOURS)
    of_hour = np.repeat(month, 24)
    for m in range(12):
        air[of_hour == m] += means[m] - air[of_hour == m].mean()
    return np.asarray(air)


def made_year(climate: Climate, seed: int = 0, sun: SunYear | None = None) -> Weather:
    """A year of hours for a climate. Seed 0 keeps the normals; other seeds first draw each month's mean about them."""
    rng = generator(climate, seed)
    found = sun or sun_year(climate.place)
    outside = outside_hours(found)
    daily_outside = outside.reshape(DAYS, 24).sum(axis=1) / 1000
    ghi_means, air_means = month_means(climate, seed, rng, daily_outside)
    clearness = daily_clearness(ghi_means, daily_outside, rng)
    ghi = hourly_irradiation(clearness, found, climate.place, outside, rng)
    dni, dhi = split(ghi, found)
    return Weather(ghi, dni, dhi, temperatures(climate, air_means, clearness, rng))
