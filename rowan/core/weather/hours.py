"""An hourly year of weather, and what of it falls on a tilted plane. Source: methods 2."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAYS_IN_MONTH, HOURS
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import within
from rowan.core.terms.record import record
from rowan.core.weather.horizon import OPEN_SKY, Horizon, hidden_sky, in_leaf, passes
from rowan.core.weather.sun import ALBEDO, GRID_DEG

Array = NDArray[np.float64]
SkyModel = Literal["haydavies", "perez", "isotropic"]
PARTS_OF_HOUR = 4  # moments of an hour at which the horizon is looked at
# any year without a leap day; weather rows carry no year of their own
YEAR = 2021  # any without a leap day, for the ephemeris
HOUR_DEG = 15.0  # ° that the sun goes in an hour
FIRST_WEEKDAY = 4  # it begins on a Friday; Monday is 0


def winter_clock(longitude: float) -> float:
    """Hours that the clock of a place is ahead of universal time in winter: the whole hour nearest to its longitude [°]."""
    return float(round(longitude / HOUR_DEG))


@record
class Place:
    """Where weather is measured: latitude, longitude [°], height above the sea [m], hours ahead of UTC."""

    latitude: float
    longitude: float
    altitude: float
    utc_offset: float = 0.0


@record
class Weather:
    """Means over each hour of a year, shape (8760,): irradiances [W/m²], air [°C]. Row 1 is 1 January 0-1 h."""

    ghi: Array
    dni: Array
    dhi: Array
    air: Array

    def __post_init__(self) -> None:
        for name in ("ghi", "dni", "dhi", "air"):
            values = getattr(self, name)
            if values.shape != (HOURS,):
                raise ImpossibleInputError(
                    "a year has {hours} hours, {name} has {values}",
                    hours=f"{HOURS}",
                    name=name,
                    values=f"{values.shape[0] if values.ndim else 0}",
                )
            if not np.isfinite(values).all():
                raise ImpossibleInputError("{name} holds a value that is no number", name=name)


@record
class Sky:
    """A year of weather with where and by which clock it was measured; `name` says what it is."""

    place: Place
    weather: Weather
    name: str
    digest: str


@record
class SunYear:
    """The sun at the middle of each hour, shape (8760,): true elevation and azimuth from north [°]."""

    elevation: Array
    azimuth: Array


@record
class PlaneYear:
    """What falls on a plane each hour [W/m²], shape (8760,): beam, and all else; and the sun in the plane's axes [-].

    `normal`, `across`, `along` are the parts of the unit vector to the sun. `unshaded` is the year's irradiation
    without a horizon [Wh/m²].
    """

    beam: Array
    diffuse: Array
    normal: Array
    across: Array
    along: Array
    unshaded: float = 0.0

    def at(self, hours: NDArray[np.int64]) -> PlaneYear:
        """Some hours of it alone, by their numbers in the year."""
        return PlaneYear(
            self.beam[hours], self.diffuse[hours], self.normal[hours], self.across[hours], self.along[hours]
        )

    @property
    def total_kwh_m2(self) -> float:
        """The year's irradiation [kWh/m²]."""
        return float((self.beam + self.diffuse).sum()) / 1000


def sun_year(place: Place) -> SunYear:
    """The sun of a place at the middle of each hour, by NREL's SPA."""
    import pandas as pd
    from pvlib.solarposition import get_solarposition

    times = pd.date_range(f"{YEAR}-01-01 00:30", periods=HOURS, freq="h", tz="UTC") - pd.Timedelta(
        hours=place.utc_offset
    )
    table = get_solarposition(times, place.latitude, place.longitude, altitude=place.altitude)
    return SunYear(table["elevation"].to_numpy(float), table["azimuth"].to_numpy(float))


def _between(sun: SunYear) -> tuple[Array, Array]:
    """Elevation and bearing [°] of the sun at `PARTS_OF_HOUR` places within each hour, shape (8760, parts)."""
    e, b = np.radians(sun.elevation), np.radians(sun.azimuth)
    vector = np.stack((np.cos(e) * np.sin(b), np.cos(e) * np.cos(b), np.sin(e)))
    parts = (np.arange(PARTS_OF_HOUR) + 0.5) / PARTS_OF_HOUR - 0.5
    before, after = np.roll(vector, 1, axis=1), np.roll(vector, -1, axis=1)
    share = np.abs(parts)[None, None, :]
    other = np.where(parts[None, None, :] < 0, before[:, :, None], after[:, :, None])
    at = vector[:, :, None] * (1 - share) + other * share
    return np.degrees(np.arctan2(at[2], np.hypot(at[0], at[1]))), np.degrees(np.arctan2(at[0], at[1])) % 360


def through_horizon(sun: SunYear, horizon: Horizon) -> Array:
    """Share of the beam that the horizon lets through in each hour [-], shape (8760,)."""
    elevation, bearing = _between(sun)
    leaves = np.repeat([in_leaf(month, southern=horizon.southern) for month in range(12)], np.array(DAYS_IN_MONTH) * 24)
    leaf = np.broadcast_to(leaves[:, None], elevation.shape)
    weight = np.clip(np.sin(np.radians(elevation)), 1e-6, None)
    shares = passes(horizon, bearing=bearing, elevation=elevation, leaves=leaf)
    through: Array = (shares * weight).sum(axis=1) / weight.sum(axis=1)
    return through


def _open_sky(horizon: Horizon, tilt: float, azimuth: float) -> Array:
    """Share of the even sky's light on a plane that the horizon leaves, shape (8760,)."""
    bare, in_full = 1 - hidden_sky(horizon, tilt=np.array([tilt]), azimuth=np.array([azimuth]))[0]
    by_leaf = {False: float(bare), True: float(in_full)}
    months = [by_leaf[in_leaf(month, southern=horizon.southern)] for month in range(12)]
    return np.repeat(months, np.array(DAYS_IN_MONTH) * 24)


def _even_part(weather: Weather, extra: Array, tilt: float, sky: SkyModel) -> Array:
    """The even sky's light on a plane [W/m²]; what a model gives beyond it lies about the sun."""
    even = weather.dhi * (1 + np.cos(np.radians(tilt))) / 2
    # Hay and Davies move the beam's own share of the diffuse to the sun
    return even * (1 - np.clip(weather.dni / extra, 0.0, 1.0)) if sky == "haydavies" else even


@lru_cache(maxsize=1)
def _outside_air() -> Array:
    """The sun's normal irradiance outside the air in each hour of a year [W/m²]: the same for every place."""
    from pvlib.irradiance import get_extra_radiation

    found = np.asarray(get_extra_radiation(np.arange(HOURS) // 24 + 1, method="spencer"), dtype=float)
    found.flags.writeable = False
    return found


def plane_year(
    *,
    weather: Weather,
    sun: SunYear,
    tilt: float,
    azimuth: float,
    sky: SkyModel = "haydavies",
    albedo: float = ALBEDO,
    horizon: Horizon = OPEN_SKY,
    through: Array | None = None,
) -> PlaneYear:
    """Irradiance of a plane tilted and turned by [°]; circumsolar light and the ground count as diffuse.

    `through` is what `through_horizon` gives for this sun and horizon, where somebody has it already: no plane changes it.
    Raises OutOfRangeError for a tilt outside 0 to 90. Source: methods 2.
    """
    from pvlib.atmosphere import get_relative_airmass
    from pvlib.irradiance import get_total_irradiance

    tilt = within("tilt", tilt, 0, 90, "°")
    extra = _outside_air()
    zenith = 90 - sun.elevation
    airmass = np.nan_to_num(get_relative_airmass(zenith), nan=0.0) if sky == "perez" else None
    found = get_total_irradiance(
        tilt,
        azimuth,
        zenith,
        sun.azimuth,
        weather.dni,
        weather.ghi,
        weather.dhi,
        dni_extra=extra,
        airmass=airmass,
        albedo=albedo,
        model=sky,
    )
    elevation, turned, slope = np.radians(sun.elevation), np.radians(sun.azimuth - azimuth), np.radians(tilt)
    toward, aside, up = np.cos(elevation) * np.cos(turned), np.cos(elevation) * np.sin(turned), np.sin(elevation)
    beam = np.nan_to_num(np.asarray(found["poa_direct"], dtype=float))
    diffuse = np.nan_to_num(np.asarray(found["poa_diffuse"], dtype=float))
    unshaded = float((beam + diffuse).sum())
    if not horizon.open:
        if through is None:
            through = through_horizon(sun, horizon)
        # what the even sky gives is told from the rest by the isotropic part alone
        even = _even_part(weather, extra, tilt, sky)
        circumsolar = np.clip(np.nan_to_num(np.asarray(found["poa_sky_diffuse"], dtype=float)) - even, 0.0, None)
        diffuse = diffuse - circumsolar * (1 - through) - even * (1 - _open_sky(horizon, tilt, azimuth))
        beam = beam * through
    return PlaneYear(
        beam,
        np.clip(diffuse, 0.0, None),
        toward * np.sin(slope) + up * np.cos(slope),
        aside,
        up * np.sin(slope) - toward * np.cos(slope),
        unshaded,
    )


def plane_grid_year(*, weather: Weather, sun: SunYear, albedo: float = ALBEDO) -> tuple[Array, Array, Array]:
    """The year's irradiation [kWh/m²] on planes of a 5° grid, Hay-Davies: tilts, azimuths [°], and the sums (19, 72)."""
    up = sun.elevation > 0
    extra = _outside_air()[up]
    e, b = np.radians(sun.elevation[up]), np.radians(sun.azimuth[up])
    dni, dhi = weather.dni[up], weather.dhi[up]
    tilts, azimuths = np.arange(0, 91, GRID_DEG, dtype=float), np.arange(0, 360, GRID_DEG, dtype=float)
    direct = dni + dhi * np.clip(dni / extra, 0, 1) / np.clip(np.sin(e), 0.01745, None)
    even, ground = float((weather.dhi[up] * (1 - np.clip(dni / extra, 0, 1))).sum()), float(weather.ghi.sum())
    east, north, height = np.cos(e) * np.sin(b), np.cos(e) * np.cos(b), np.sin(e)
    sums = np.empty((tilts.size, azimuths.size))
    for i, tilt in enumerate(np.radians(tilts)):
        a = np.radians(azimuths)[:, None]
        toward = np.clip(np.cos(tilt) * height + np.sin(tilt) * (east * np.sin(a) + north * np.cos(a)), 0, None)
        sky = even * (1 + np.cos(tilt)) / 2 + ground * albedo * (1 - np.cos(tilt)) / 2
        sums[i] = (toward * direct).sum(axis=1) + sky
    return tilts, azimuths, sums / 1000
