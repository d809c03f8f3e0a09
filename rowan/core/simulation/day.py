"""A day under the lens: the year's loop at ten seconds, under a sky that is clear, broken, dull, frosty or as it comes.

Clear sky by Haurwitz (1945), split by Erbs; a dull one lets a sixth through, all of it diffuse; under broken cloud the
beam comes and goes in a pattern that is the same for every day of that number.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation import kernel
from rowan.core.simulation.system import Draws, System
from rowan.core.simulation.year import LONG_STEP_S, MINUTE_S, UNWATCHED, feed_of, fresh_state, plant_of
from rowan.core.terms.calendar import DAYS, DAYS_IN_MONTH, HOURS, MINUTES_A_DAY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.weather.hours import PlaneYear, SunYear, Weather
from rowan.core.weather.made_year import WARMEST_HOUR, Climate, outside_hours, split

Array = NDArray[np.float64]
Kind = Literal["clear", "broken", "dull", "frost", "away", "as"]
KINDS: tuple[Kind, ...] = ("clear", "broken", "dull", "frost", "away", "as")
STEP_S, BEFORE_STEP_S = 10.0, 60.0  # s of the day, and of the day before it
MINUTES = 60  # sun and air are given for each of an hour
AWAY_DAYS = 7  # days nobody draws
DULL_SHARE = 0.16  # of what falls on the flat outside the air
HAURWITZ_W_M2, HAURWITZ_DEPTH = 1098.0, 0.059  # clear sky, Haurwitz 1945
CLOUD_LETS, CLOUD_BRIGHTENS = 0.12, 1.5  # of the beam through a cloud; what broken cloud adds to the diffuse
LIT_MINUTES, CLOUD_MINUTES, EDGE_MINUTES = (5, 25), (3, 15), 1  # least and most minutes of sun and cloud, rule of thumb
LIT_SHARE = 0.5  # of the beam, from which the sun is said to be out
CLOUD_SEED = 57  # the same day has the same clouds
FROST_RISE_K = 7.0  # from the night's lowest to the afternoon of a clear winter day


@record
class Light:
    """What a kind of sky brings on one day or several, by the minute: absorbed sun [W/m²], air [°C]; shape (days · 1440,).

    `beside` is the sun absorbed on the other plane of a field on two.
    """

    sun: Array
    air: Array
    beside: Array | None = None


@record
class Ready:
    """A plant at a day's midnight with what will come; runs of it start alike. `days` are its days of the year from 0."""

    plant: kernel.Plant
    feed: kernel.Feed
    state: kernel.State
    days: range


@record
class Day:
    """A run of a day or several: `watched` by `kernel.WATCHED`, shape (steps, 8); `sums` by `kernel.SUMS` [J, s]."""

    watched: NDArray[np.float32]
    sums: Array
    highest_collector: float
    highest_store: float

    def total(self, name: str) -> float:
        """The sum of a name of `kernel.SUMS` [J or s]."""
        return float(self.sums[kernel.SUMS.index(name)])

    def column(self, name: str) -> NDArray[np.float32]:
        """A column of `kernel.WATCHED` at every step."""
        return self.watched[:, kernel.WATCHED.index(name)]

    @property
    def hours(self) -> Array:
        """The hour at the end of each step [h], from the first day's midnight."""
        return (np.arange(self.watched.shape[0]) + 1) * STEP_S / 3600

    @property
    def starts(self) -> int:
        """How often the pump started."""
        return round(self.total("starts"))


def clear_weather(weather: Weather, sun: SunYear) -> Weather:
    """A year of clear days at a place, with the means of its months for air."""
    height = np.clip(np.sin(np.radians(sun.elevation)), 0.0, None)
    ghi = np.where(height > 0, HAURWITZ_W_M2 * height * np.exp(-HAURWITZ_DEPTH / np.maximum(height, 1e-3)), 0.0)
    dni, dhi = split(ghi, sun)
    return Weather(ghi, dni, dhi, month_air(weather))


def dull_weather(weather: Weather, sun: SunYear) -> Weather:
    """A year of dull days: no beam."""
    ghi = DULL_SHARE * outside_hours(sun)
    return Weather(ghi, np.zeros(HOURS), ghi, month_air(weather))


def month_air(weather: Weather) -> Array:
    """Air of each hour as the mean of its month's days at that hour [°C], shape (8760,)."""
    found, first = np.empty(HOURS), 0
    for days in DAYS_IN_MONTH:
        hours = slice(24 * first, 24 * (first + days))
        found[hours] = np.tile(weather.air[hours].reshape(days, 24).mean(axis=0), days)
        first += days
    return found


def coldest_day(climate: Climate) -> int:
    """The middle of the month with the coldest air, as a day of the year from 0."""
    month = int(np.argmin(climate.air))
    return sum(DAYS_IN_MONTH[:month]) + DAYS_IN_MONTH[month] // 2


def _about(days: range) -> NDArray[np.int64]:
    """The hours of some days of the year, with the one before and the one after them."""
    return np.arange(24 * days.start - 1, 24 * days.stop + 1) % HOURS


def _minutes(about: Array) -> Array:
    """Hourly means of some days, with the hour before and after them, as a line through the middles of the hours, minute by minute."""
    middles = np.arange(about.size) - 0.5
    minutes = (np.arange(MINUTES * (about.size - 2)) + 0.5) / MINUTES
    return np.asarray(np.interp(minutes, middles, about), dtype=float)


def by_minute(hours: Array, days: range) -> Array:
    """Hourly means of a year minute by minute on some days."""
    return _minutes(hours[_about(days)])


@lru_cache(maxsize=64)
def cloud_pattern(day: int) -> Array:
    """Share of the beam that broken cloud lets through in each minute of a day, shape (1440,): the same for the same day, and kept."""
    rng = np.random.Generator(np.random.PCG64(CLOUD_SEED + day))
    through, at, lit = np.ones(MINUTES_A_DAY), 0, True
    while at < MINUTES_A_DAY:
        lasts = int(rng.integers(*(LIT_MINUTES if lit else CLOUD_MINUTES), endpoint=True))
        if not lit:
            through[at : at + lasts] = CLOUD_LETS
        at, lit = at + lasts, not lit
    edges = np.ones(2 * EDGE_MINUTES + 1) / (2 * EDGE_MINUTES + 1)
    found = np.convolve(np.pad(through, EDGE_MINUTES, mode="edge"), edges, mode="valid")
    found.flags.writeable = False
    return found


def sun_returns(day: Day, number: int) -> int:
    """How often the sun came back from broken cloud while a pump was at work on day `number` of the year: from its first start
    to its last stop. The light it first started by counts as one."""
    at_work = np.flatnonzero(day.column("speed") > 0)
    if not at_work.size:
        return 0
    lit = cloud_pattern(number % DAYS) > LIT_SHARE
    first, last = (int(step * STEP_S // MINUTE_S) for step in at_work[[0, -1]])
    return 1 + int(np.count_nonzero(np.diff(lit[first : last + 1].astype(int)) == 1))


def light_of(
    system: System,
    weather: Weather,
    planes: tuple[PlaneYear, PlaneYear | None],
    days: range,
    *,
    clouds: bool = False,
    coldest: float | None = None,
) -> Light:
    """What the field absorbs on some days [W/m²]: under broken cloud with `clouds`, down to `coldest` [°C] in a frosty night."""
    suns = [_absorbed(system, weather, plane, days, clouds=clouds) for plane in planes if plane is not None]
    air = by_minute(weather.air, days)
    if coldest is not None:
        hour = (np.arange(air.size) + 0.5) / MINUTES
        air = coldest + FROST_RISE_K / 2 * (1 + np.cos(2 * np.pi * (hour - WARMEST_HOUR) / 24))
    return Light(suns[0], air, suns[1] if len(suns) > 1 else None)


def _absorbed(system: System, weather: Weather, plane: PlaneYear, days: range, *, clouds: bool) -> Array:
    """What an absorber on a plane takes in on some days, by the minute [W/m²]."""
    at = _about(days)
    # of a year a day's hours alone: two kinds of day and their eves are asked for after each change of a plan
    seen, air = plane.at(at), weather.air[at]
    whole = system.field.absorbed(seen, air)
    shaded = system.field.absorbed(replace(seen, beam=np.zeros(at.size)), air)
    beam, rest = _minutes(whole - shaded), _minutes(shaded)
    if clouds:
        beam = beam * np.concatenate([cloud_pattern(day % DAYS) for day in days])
        rest = np.where(rest > 0, rest * CLOUD_BRIGHTENS, rest)
    return np.asarray(beam + rest, dtype=float)


def ready(system: System, draws: Draws, light: Light, before: Light, days: range) -> Ready:
    """A plant at the midnight before some days of the year, after a day of weather `before` run in minutes.

    Raises ImpossibleInputError unless `light` has a value for each minute of the days.
    """
    if light.sun.size != MINUTES_A_DAY * len(days):
        raise ImpossibleInputError(
            "{days} days have {minutes_a_day} minutes, not {size}",
            days=f"{len(days)}",
            minutes_a_day=f"{MINUTES_A_DAY * len(days)}",
            size=f"{light.sun.size}",
        )
    plant, state = (
        plant_of(replace(system, step=BEFORE_STEP_S), draws.tap, (draws.zone_c, draws.zone_back)),
        fresh_state(system),
    )
    state.store[:] = _usual_store(system, draws, days.start)
    day_before = (days.start - 1) % DAYS
    feed = feed_of(system, draws, before.sun, before.air, range(day_before, day_before + 1), before.beside)
    sums, highest = np.zeros((1, len(kernel.SUMS))), np.zeros(2)
    paces = kernel.Paces(BEFORE_STEP_S, BEFORE_STEP_S, LONG_STEP_S, BEFORE_STEP_S)
    kernel.run(plant, paces, state, feed, kernel.Kept(sums, highest, UNWATCHED, UNWATCHED))
    return Ready(
        plant._replace(step=STEP_S), feed_of(system, draws, light.sun, light.air, days, light.beside), state, days
    )


def _usual_store(system: System, draws: Draws, day: int) -> Array:
    """A store as an evening leaves it: at the backup's set point above its heater, half-way to the cold main below [°C]."""
    cold = float(draws.cold[day % DAYS])
    held = float(system.around.held) if system.around else 0.0
    if held > 0:
        return np.full(system.tank.nodes, held)
    heater = system.backup
    if heater is None:
        return np.linspace(draws.tap, cold, system.tank.nodes)
    found = np.full(system.tank.nodes, (float(heater.off.max()) + cold) / 2)
    found[: heater.node + 1] = heater.off.max()
    found[heater.node + 1 :] = np.linspace(found[0], cold, system.tank.nodes - heater.node)[1:]
    return found


def paces_of(plant: kernel.Plant) -> kernel.Paces:
    """A plant in steps of its own, with minutes where nothing can happen and for the store, and long ones in the dark."""
    return kernel.Paces(plant.step, BEFORE_STEP_S, LONG_STEP_S, BEFORE_STEP_S)


def run_day(made: Ready, *, start: float, stop: float, watch: bool = True) -> Day:
    """The day with a pair of differences [K]; `watch` keeps every step.

    Raises ImpossibleInputError unless stop lies below start. Source: methods 6, 7.
    """
    if stop >= start:
        raise ImpossibleInputError(
            "the stop difference must be below the start difference: {stop} is not below {start}",
            stop=(stop, "difference"),
            start=(start, "difference"),
        )
    plant = made.plant._replace(start=start, stop=stop)
    state = kernel.State(*(part.copy() for part in made.state))
    steps = round(24 * len(made.days) * 3600 / STEP_S)
    watched = np.zeros((steps if watch else 0, len(kernel.WATCHED)), dtype=np.float32)
    sums, highest = np.zeros((len(made.days), len(kernel.SUMS))), np.full(2, -273.0)
    kernel.run(plant, paces_of(plant), state, made.feed, kernel.Kept(sums, highest, UNWATCHED, watched))
    return Day(watched, sums.sum(axis=0), float(highest[0]), float(highest[1]))
