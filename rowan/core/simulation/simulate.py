"""A plan through a year: design and reckoning to a system in its weather. It comes after `reckon`, which it reads."""

from __future__ import annotations

import hashlib
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.planes import parts
from rowan.core.reckon import Reckoning
from rowan.core.simulation.cache import Kept, content_key
from rowan.core.simulation.draws import draws_of, season_days
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.system import Draws, System
from rowan.core.simulation.year import After, Year, run_year
from rowan.core.steps.site.rows import rows_behind
from rowan.core.terms.calendar import DAY_S, DAYS
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE
from rowan.core.weather.horizon import Horizon
from rowan.core.weather.hours import Place, PlaneYear, Sky, SunYear, plane_year, sun_year, through_horizon, winter_clock
from rowan.core.weather.made_year import Climate, made_year
from rowan.core.weather.rows import Rows, behind_in_year

Array = NDArray[np.float64]
# years; one with its hours of 14 temperatures is half a megabyte
KEPT = 96
# W/m²K, 50 mm of foam round a small tank; rule of thumb
SECOND_LOSS_W_M2K = 0.7


def climate_of(design: Design) -> Climate:
    """The climate of a plan's place; its clock is the whole hour nearest to its longitude."""
    survey = design.survey
    longitude = survey.longitude_deg.value
    place = Place(survey.latitude_deg.value, longitude, survey.altitude_m.value, winter_clock(longitude))
    normals = survey.normals.value
    return Climate(place, tuple(normals.ghi_kwh_m2_day), tuple(normals.air_c))


_suns, _skies, _planes, _years = Kept(KEPT), Kept(32), Kept(32), Kept(KEPT)
_throughs = Kept(8)  # places with their horizon; a year of shares each


def sun_of(place: Place) -> SunYear:
    """The sun of a place, reckoned once."""
    found = _suns.get(place)
    return found if found is not None else _suns.keep(place, sun_year(place))


def made_sky(climate: Climate, seed: int) -> Sky:
    """The made year of a climate and seed."""
    key = (climate, seed)
    found = _skies.get(key)
    if found is None:
        weather = made_year(climate, seed, sun_of(climate.place))
        digest = hashlib.sha256(repr(key).encode()).hexdigest()
        name = "the made mean year" if seed == 0 else f"made year {seed}"
        found = _skies.keep(key, Sky(climate.place, weather, name, digest))
    return found


def sky_of(design: Design, seed: int = 0, measured: Sky | None = None) -> Sky:
    """The weather a plan's year is run in: the file it names, if it is at hand and no other seed is asked for."""
    item = design.survey.weather.value
    if seed == 0 and measured is not None and item is not None and item.digest == measured.digest:
        return measured
    return made_sky(climate_of(design), seed)


def plane_of(sky: Sky, tilt: float, azimuth: float, horizon: Horizon, rows: Rows | None = None) -> PlaneYear:
    """What falls on a plane in a sky, kept; on the whole of `rows` that stand behind each other."""
    key = (sky.digest, tilt, azimuth, horizon, rows)
    found = _planes.get(key)
    if found is None:
        made = plane_year(
            weather=sky.weather,
            sun=sun_of(sky.place),
            tilt=tilt,
            azimuth=azimuth,
            horizon=horizon,
            through=None if horizon.open else through_of(sky.place, horizon),
        )
        found = _planes.keep(key, made if rows is None else behind_in_year(made, sun_of(sky.place), rows))
    return found


PlaneKey = tuple[float, float, Horizon, Rows | None]


def plane_keys(design: Design, horizon: Horizon) -> tuple[PlaneKey, ...]:
    """What the sun on each of a design's planes is kept by, beside the sky: the first plane's before the other's."""
    return tuple(
        (part.tilt_deg, part.survey.roof_azimuth_deg.value, horizon, rows_behind(part)) for part in parts(design)
    )


def planes_of(design: Design, sky: Sky, horizon: Horizon) -> tuple[PlaneYear, PlaneYear | None]:
    """What falls on the first plane, and on the other one where collectors lie on it."""
    found = [plane_of(sky, *key) for key in plane_keys(design, horizon)]
    return found[0], found[1] if len(found) > 1 else None


def light_on(design: Design, sky: Sky, horizon: Horizon) -> Array:
    """What falls on the collectors in each hour [W/m²], the mean of both planes where they lie on two."""
    first, beside = planes_of(design, sky, horizon)
    light = first.beam + first.diffuse
    if beside is None:
        return light
    share = design.count_first / design.collector.count.value
    return np.asarray(share * light + (1 - share) * (beside.beam + beside.diffuse), dtype=float)


def through_of(place: Place, horizon: Horizon) -> Array:
    """What a place's horizon lets through of the beam in each hour, kept: it is the same for every plane and every weather."""
    key = (place, horizon)
    found: Array | None = _throughs.get(key)
    return found if found is not None else _throughs.keep(key, through_horizon(sun_of(place), horizon))


def after_of(design: Design) -> After:
    """What makes up what the store lacks, and what it loses of itself in a year [J]."""
    store = design.store
    kind = store.backup.value
    if kind != "second":
        return After(heats=kind == "instant", standing=0.0)
    volume = store.second_l.value * LITRE
    # a tank twice as high as wide
    diameter = (2 * volume / np.pi) ** (1 / 3)
    surface = np.pi * diameter * 2 * diameter + np.pi / 2 * diameter**2
    over = max(store.backup_c.value - design.survey.room_c.value, 0.0)
    return After(heats=True, standing=float(SECOND_LOSS_W_M2K * surface * over * DAYS * DAY_S))


def working_points(
    design: Design, reckoning: Reckoning, year: Year, *, measured: Sky | None = None
) -> tuple[Array, Array]:
    """Where the field works while something flows in a year: over the air [K], and the sun on it then [Wh/m²], by hours."""
    sky = sky_of(design, 0, measured)
    flows = year.hourly("flow")
    runs = flows > 0
    over = year.hourly("exit") - sky.weather.air
    return over[runs], (flows * light_on(design, sky, reckoning.site.horizon))[runs]


@record
class _Wanted:
    """What a plan's year is run from, and the key it is kept by."""

    sky: Sky
    planes: tuple[PlaneKey, ...]
    system: System
    draws: Draws
    after: After
    season: Array | None
    key: str


def _wanted(design: Design, reckoning: Reckoning, seed: int, measured: Sky | None) -> _Wanted:
    sky = sky_of(design, seed, measured)
    system, draws = system_of(design, reckoning, sky.weather), draws_of(design, sky.weather)
    planes = plane_keys(design, reckoning.site.horizon)
    season = season_days(design) if design.duty.kind.value == "pool" else None
    after = after_of(design)
    key = content_key(system, sky.digest, planes, draws, after, season)
    return _Wanted(sky, planes, system, draws, after, season, key)


def year_key(design: Design, reckoning: Reckoning, *, measured: Sky | None = None) -> str:
    """What the year of a plan is kept by: for whoever asks for it more than once. Raises like `simulate`."""
    return _wanted(design, reckoning, 0, measured).key


def year_by_key(key: str) -> Year | None:
    """The year kept by a key; None if it has not been run, or is no longer kept."""
    found: Year | None = _years.get(key)
    return found


def kept_year(design: Design, reckoning: Reckoning, *, measured: Sky | None = None) -> Year | None:
    """The year of a plan if it has been run already; None if it has not, without running it. Raises like `simulate`."""
    return year_by_key(year_key(design, reckoning, measured=measured))


def simulate(
    design: Design, reckoning: Reckoning, *, seed: int = 0, measured: Sky | None = None, keep: bool = True
) -> Year:
    """The year of a plan; seed 0 is the mean year, or the year measured. Kept by content: only what is relevant runs it again.

    Without `keep` a year that is not there already is not kept: one of many would push out those that pages show.
    Raises ImpossibleInputError for a plan without flow or with its differences crossed.
    """
    wanted = _wanted(design, reckoning, seed, measured)
    found: Year | None = _years.get(wanted.key)
    if found is None:
        weather = wanted.sky.weather
        planes = [plane_of(wanted.sky, *key) for key in wanted.planes]
        if wanted.season is not None:
            hours = np.repeat(wanted.season, 24)
            planes = [replace(plane, beam=plane.beam * hours, diffuse=plane.diffuse * hours) for plane in planes]
        plane, beside = planes[0], planes[1] if len(planes) > 1 else None
        year = run_year(
            system=wanted.system, weather=weather, plane=plane, beside=beside, draws=wanted.draws, trace=True
        )
        found = replace(year, after=wanted.after, weather=wanted.sky.name)
        if keep:
            _years.keep(wanted.key, found)
    return found
