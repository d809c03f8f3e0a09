"""Sun position, incidence and irradiation of a tilted plane, month by month."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAY_S, DAYS_IN_MONTH
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, Span, takes, within
from rowan.core.terms.record import record
from rowan.core.weather.horizon import OPEN_SKY, Horizon, hidden_sky, in_leaf, passes

Array = NDArray[np.float64]

# Klein 1977: the day of each month whose extraterrestrial irradiation is the month's mean
MEAN_DAYS = np.array([17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344], dtype=float)
SOLAR_CONSTANT = 1367.0  # W/m² outside the air
TROPIC_DEG = 23.45  # the largest declination, Cooper 1969
ALBEDO = 0.2  # of the ground, usual; snow has more
STEPS_A_DAY = 48  # half hours of a mean day
PARTS_OF_STEP = 5  # moments within a step, where the horizon is looked at
GRID_DEG = 5  # ° between the patches of sky and planes


@record
class SunPosition:
    """True (unrefracted) elevation and azimuth from north [°]."""

    elevation: float
    azimuth: float


def sun_position(*, time: str, latitude: float, longitude: float, altitude: float = 0.0) -> SunPosition:
    """Sun position by NREL's SPA at an ISO time with offset; latitude, longitude [°], altitude [m]. Source: methods 2."""
    import pandas as pd
    from pvlib.solarposition import get_solarposition

    table = get_solarposition(pd.DatetimeIndex([pd.Timestamp(time)]), latitude, longitude, altitude=altitude)
    return SunPosition(float(table["elevation"].iloc[0]), float(table["azimuth"].iloc[0]))


@takes(sun_elevation=ANY_ANGLE, sun_azimuth=ANY_ANGLE, tilt=ANY_ANGLE, azimuth=ANY_ANGLE)
def incidence_angle(*, sun_elevation: float, sun_azimuth: float, tilt: float, azimuth: float) -> float:
    """Angle between the sun and the normal of a plane [°]; all angles [°], azimuths from north. Source: methods 2."""
    h, b = math.radians(sun_elevation), math.radians(tilt)
    cosine = math.sin(h) * math.cos(b) + math.cos(h) * math.sin(b) * math.cos(math.radians(sun_azimuth - azimuth))
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


@record
class MonthlyDays:
    """The mean day of each month at a place, in steps: arrays of shape (12, steps), irradiation in J/m² a step."""

    beam: Array
    diffuse: Array
    cos_zenith: Array
    sun_east: Array
    sun_north: Array
    anisotropy: Array
    ghi: Array
    through: Array | None = None
    horizon: Horizon | None = None


@record
class PlaneMonths:
    """Irradiation of a plane on the mean day of each month [J/m²·day], shape (12,), and its incidence factor.

    `steps` is the irradiation of each step of those days, shape (12, steps).
    """

    beam: Array
    diffuse: Array
    incidence_factor: Array
    steps: Array

    @property
    def total(self) -> Array:
        """Beam and diffuse together [J/m²·day]."""
        return self.beam + self.diffuse

    @property
    def year(self) -> float:
        """The year's irradiation [J/m²]."""
        return float(np.dot(self.total, DAYS_IN_MONTH))


def mean_months(*, planes: Sequence[PlaneMonths], counts: Sequence[int]) -> PlaneMonths:
    """Several planes as one, by how many equal collectors lie on each; the incidence factor by what falls on them.

    Raises ImpossibleInputError unless each plane has a count above zero.
    """
    if not planes or len(planes) != len(counts) or min(counts) < 1:
        raise ImpossibleInputError("each plane has one collector or more")
    shares = np.array(counts, dtype=float) / sum(counts)
    beam = sum(share * plane.beam for share, plane in zip(shares, planes, strict=True))
    diffuse = sum(share * plane.diffuse for share, plane in zip(shares, planes, strict=True))
    steps = sum(share * plane.steps for share, plane in zip(shares, planes, strict=True))
    taken = sum(share * plane.total * plane.incidence_factor for share, plane in zip(shares, planes, strict=True))
    total = np.asarray(beam + diffuse)
    factor = np.where(total > 0, taken / np.where(total > 0, total, 1.0), planes[0].incidence_factor)
    return PlaneMonths(np.asarray(beam), np.asarray(diffuse), factor, np.asarray(steps))


def _daily_diffuse_share(clearness: Array, sunset: Array) -> Array:
    """Erbs' monthly-mean diffuse share from clearness [-] and sunset hour angle [rad]."""
    k = np.clip(clearness, 0.3, 0.8)
    winter = 1.391 - 3.560 * k + 4.189 * k**2 - 2.137 * k**3
    summer = 1.311 - 3.022 * k + 3.427 * k**2 - 1.821 * k**3
    return np.where(np.degrees(sunset) <= 81.4, winter, summer)


@takes(latitude=LATITUDE)
def noon_heights(*, latitude: float) -> tuple[float, float]:
    """Height of the noon sun on the longest and on the shortest day [°]; latitude [°]. None is below the level."""
    away = abs(latitude)
    return 90.0 - abs(away - TROPIC_DEG), max(90.0 - away - TROPIC_DEG, 0.0)


@lru_cache(maxsize=64)
def mean_days(*, latitude: float, ghi: tuple[float, ...]) -> MonthlyDays:
    """The mean days of a place: latitude −65 to 65 [°], ghi twelve daily means [J/m²·day]. Source: methods 2."""
    latitude = within("latitude", latitude, -65, 65, "°")
    lat = math.radians(latitude)
    decl = np.radians(TROPIC_DEG * np.sin(np.radians(360 * (284 + MEAN_DAYS) / 365)))
    sunset = np.arccos(np.clip(-math.tan(lat) * np.tan(decl), -1, 1))
    normal = SOLAR_CONSTANT * (1 + 0.033 * np.cos(np.radians(360 * MEAN_DAYS / 365)))
    outside_day = (
        DAY_S
        / math.pi
        * normal
        * (np.cos(decl) * math.cos(lat) * np.sin(sunset) + sunset * np.sin(decl) * math.sin(lat))
    )
    horizontal = np.asarray(ghi, dtype=float)
    diffuse_day = horizontal * _daily_diffuse_share(horizontal / outside_day, sunset)

    hour = ((np.arange(STEPS_A_DAY) + 0.5) / STEPS_A_DAY * 24 - 12) * math.pi / 12
    w, ws, d = hour[None, :], sunset[:, None], decl[:, None]
    cos_zenith, east, north = _sun_vector(latitude, d, w)
    up = np.abs(w) < ws
    shape = np.where(up, np.cos(w) - np.cos(ws), 0.0)
    a, b = 0.409 + 0.5016 * np.sin(ws - math.pi / 3), 0.6609 - 0.4767 * np.sin(ws - math.pi / 3)
    total_shape = np.clip((a + b * np.cos(w)) * shape, 0, None)
    total = horizontal[:, None] * total_shape / total_shape.sum(axis=1, keepdims=True)
    diffuse = diffuse_day[:, None] * shape / shape.sum(axis=1, keepdims=True)
    diffuse = np.minimum(diffuse, total)
    beam = total - diffuse
    outside = np.clip(normal[:, None] * cos_zenith, 1e-9, None) * DAY_S / STEPS_A_DAY
    anisotropy = np.where(up, np.clip(beam / outside, 0, 1), 0.0)
    return MonthlyDays(beam, diffuse, cos_zenith, east, north, anisotropy, total)


@lru_cache(maxsize=32)
def under(*, latitude: float, ghi: tuple[float, ...], horizon: Horizon) -> MonthlyDays:
    """The mean days of a place under a horizon: beam and circumsolar light come through or do not. Source: methods 2."""
    days = mean_days(latitude=latitude, ghi=ghi)
    if horizon.open:
        return days
    decl = np.radians(TROPIC_DEG * np.sin(np.radians(360 * (284 + MEAN_DAYS) / 365)))
    # several places of the sun within a step: a narrow chimney takes a part of it
    fine = STEPS_A_DAY * PARTS_OF_STEP
    hour = ((np.arange(fine) + 0.5) / fine * 24 - 12) * math.pi / 12
    up, east, north = _sun_vector(latitude, decl[:, None], hour[None, :])
    elevation, bearing = np.degrees(np.arcsin(np.clip(up, -1, 1))), np.degrees(np.arctan2(east, north)) % 360
    leaves = np.array([in_leaf(month, southern=horizon.southern) for month in range(12)])[:, None]
    shares = passes(horizon, bearing=bearing, elevation=elevation, leaves=np.broadcast_to(leaves, bearing.shape))
    weight = np.clip(up, 1e-9, None)
    parts = (12, STEPS_A_DAY, PARTS_OF_STEP)
    through = (shares * weight).reshape(parts).sum(axis=2) / weight.reshape(parts).sum(axis=2)
    return replace(days, through=through, horizon=horizon)


def _sun_vector(latitude: float, declination: Array, hour_angle: Array) -> tuple[Array, Array, Array]:
    """Unit vector to the sun: up, east, north. Declination and hour angle [rad], latitude [°]."""
    lat = math.radians(latitude)
    up = np.sin(declination) * math.sin(lat) + np.cos(declination) * math.cos(lat) * np.cos(hour_angle)
    east = -np.cos(declination) * np.sin(hour_angle)
    north = np.sin(declination) * math.cos(lat) - np.cos(declination) * math.sin(lat) * np.cos(hour_angle)
    return up, east, north


@record
class SunPath:
    """The sun of a day in steps of solar time [h]: elevation and bearing [°]."""

    hours: Array
    elevation: Array
    bearing: Array


@takes(latitude=LATITUDE, declination=Span(-23.46, 23.46))
def sun_path(*, latitude: float, declination: float, steps: int = 96) -> SunPath:
    """The sun's way over a day: latitude and declination [°]. Source: methods 2."""
    if steps < 1:
        raise OutOfRangeError("steps", steps, 1, None)
    hours = np.arange(steps + 1) / steps * 24
    up, east, north = _sun_vector(latitude, np.array(math.radians(declination)), (hours - 12) * math.pi / 12)
    return SunPath(hours, np.degrees(np.arcsin(np.clip(up, -1, 1))), np.degrees(np.arctan2(east, north)) % 360)


def _open_part(days: MonthlyDays, tilt: Array, azimuth: Array) -> Array | float:
    """Share of the even sky's light that planes keep under the horizon, shape (n, 12, 1)."""
    horizon = days.horizon
    if horizon is None:
        return 1.0
    leaf = [int(in_leaf(month, southern=horizon.southern)) for month in range(12)]
    return 1 - hidden_sky(horizon, tilt=tilt, azimuth=azimuth)[:, leaf, None]


def _falling(days: MonthlyDays, tilt: Array, azimuth: Array) -> tuple[Array, Array, Array]:
    """Cosine of incidence [-], beam and diffuse [J/m²] in each step of the mean days on planes of shape (n,): arrays (n, 12, steps)."""
    t, az = np.radians(tilt)[:, None, None], np.radians(azimuth)[:, None, None]
    cos_theta = np.cos(t) * days.cos_zenith + np.sin(t) * (days.sun_east * np.sin(az) + days.sun_north * np.cos(az))
    cos_theta = np.where(days.cos_zenith > 0, np.maximum(cos_theta, 0.0), 0.0)
    ratio = np.maximum(cos_theta / np.maximum(days.cos_zenith, 0.01745), 0.0)
    if days.through is not None:
        ratio = ratio * days.through
    even = (1 - days.anisotropy) * (1 + np.cos(t)) / 2 * _open_part(days, tilt, azimuth)
    diffuse = days.diffuse * (days.anisotropy * ratio + even) + days.ghi * ALBEDO * (1 - np.cos(t)) / 2
    return cos_theta, days.beam * ratio, diffuse


def _plane(days: MonthlyDays, tilt: float, azimuth: float, b0: float, k_d: float) -> tuple[Array, Array, Array, Array]:
    """Beam, diffuse [J/m²·day] and incidence factor of one plane by month, shape (12,); and each step."""
    cos_theta, beam, diffuse = (found[0] for found in _falling(days, np.array([tilt]), np.array([azimuth])))
    with np.errstate(divide="ignore"):
        k_b = np.where(cos_theta > 1e-6, np.maximum(1 - b0 * (1 / np.maximum(cos_theta, 1e-6) - 1), 0.0), 0.0)
    beam_day, diffuse_day = beam.sum(axis=1), diffuse.sum(axis=1)
    factor = ((beam * k_b).sum(axis=1) + k_d * diffuse_day) / np.maximum(beam_day + diffuse_day, 1e-9)
    return beam_day, diffuse_day, factor, beam + diffuse


def plane_months(*, days: MonthlyDays, tilt: float, azimuth: float, b0: float = 0.0, k_d: float = 1.0) -> PlaneMonths:
    """Monthly irradiation of one plane; tilt 0 to 90, azimuth from north [°]. Hay-Davies each step. Source: methods 2."""
    tilt = within("tilt", tilt, 0, 90, "°")
    return PlaneMonths(*_plane(days, tilt, azimuth, b0, k_d))


@record
class BestPlane:
    """The best tilt and azimuth on a 5° grid [°] and its yearly irradiation [J/m²]."""

    tilt: float
    azimuth: float
    year: float


@record
class PlaneGrid:
    """The year's irradiation [J/m²] of planes on a 5° grid: `year[i, j]` at `tilts[i]` toward `azimuths[j]` [°]."""

    tilts: Array
    azimuths: Array
    year: Array


Season = Literal["year", "summer", "winter"]
SUMMER = (3, 4, 5, 6, 7, 8)  # April to September north of the equator, 0 is January


@takes(month=Span(0, 11), latitude=LATITUDE)
def season_of(*, month: int, latitude: float) -> Season:
    """Whether a month, from 0 for January, is of the summer or of the winter half of the year at a latitude [°]."""
    return "summer" if (month + (0 if latitude >= 0 else 6)) % 12 in SUMMER else "winter"


@lru_cache(maxsize=32)
def plane_grid(
    *, latitude: float, ghi: tuple[float, ...], horizon: Horizon = OPEN_SKY, season: Season = "year"
) -> PlaneGrid:
    """The year, or the half of it that is summer or winter there, on every plane at a place, under its horizon. Source: methods 2."""
    days = under(latitude=latitude, ghi=ghi, horizon=horizon)
    tilts, azimuths = np.arange(0, 91, GRID_DEG, dtype=float), np.arange(0, 360, GRID_DEG, dtype=float)
    wanted = np.array([season == "year" or season_of(month=month, latitude=latitude) == season for month in range(12)])
    weights = np.array(DAYS_IN_MONTH, dtype=float) * wanted
    year = np.zeros((len(tilts), len(azimuths)))
    for row, tilt in enumerate(tilts):  # one pitch at a time: what all of them take fits no processor's own memory
        _, beam, diffuse = _falling(days, np.full(azimuths.shape, tilt), azimuths)
        year[row] = (beam + diffuse).sum(axis=2) @ weights
    return PlaneGrid(tilts, azimuths, year)


def best_plane(*, latitude: float, ghi: tuple[float, ...], horizon: Horizon = OPEN_SKY) -> BestPlane:
    """The plane with the most irradiation a year, on a 5° grid of tilt and azimuth. Source: methods 2."""
    grid = plane_grid(latitude=latitude, ghi=ghi, horizon=horizon)
    i, j = np.unravel_index(int(np.argmax(grid.year)), grid.year.shape)
    tilt = float(grid.tilts[i])
    toward_equator = 180.0 if latitude >= 0 else 0.0
    return BestPlane(tilt, toward_equator if tilt == 0 else float(grid.azimuths[j]), float(grid.year[i, j]))
