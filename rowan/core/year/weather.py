"""An hourly year of weather, and what of it falls on a tilted plane. Source: methods 2."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.errors import ImpossibleInputError
from rowan.core.site.sun import ALBEDO

Array = NDArray[np.float64]
SkyModel = Literal["haydavies", "perez", "isotropic"]
HOURS = 8760
# any year without a leap day; weather rows carry no year of their own
YEAR = 2021


@dataclass(frozen=True)
class Place:
    """Where weather is measured: latitude, longitude [°], height above the sea [m], hours ahead of UTC."""

    latitude: float
    longitude: float
    altitude: float
    utc_offset: float = 0.0


@dataclass(frozen=True)
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
                    f"a year has {HOURS} hours, {name} has {values.shape[0] if values.ndim else 0}"
                )
            if not np.isfinite(values).all():
                raise ImpossibleInputError(f"{name} holds a value that is no number")


@dataclass(frozen=True)
class SunYear:
    """The sun at the middle of each hour, shape (8760,): true elevation and azimuth from north [°]."""

    elevation: Array
    azimuth: Array


@dataclass(frozen=True)
class PlaneYear:
    """What falls on a plane each hour [W/m²], shape (8760,): beam, and all else; and the sun in the plane's axes [-].

    `normal`, `across`, `along` are the parts of the unit vector to the sun.
    """

    beam: Array
    diffuse: Array
    normal: Array
    across: Array
    along: Array

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


def plane_year(
    *, weather: Weather, sun: SunYear, tilt: float, azimuth: float, sky: SkyModel = "haydavies", albedo: float = ALBEDO
) -> PlaneYear:
    """Irradiance of a plane tilted and turned by [°]; circumsolar light and the ground count as diffuse."""
    from pvlib.atmosphere import get_relative_airmass
    from pvlib.irradiance import get_extra_radiation, get_total_irradiance

    day = np.arange(HOURS) // 24 + 1
    extra = np.asarray(get_extra_radiation(day, method="spencer"), dtype=float)
    zenith = 90 - sun.elevation
    found = get_total_irradiance(
        tilt,
        azimuth,
        zenith,
        sun.azimuth,
        weather.dni,
        weather.ghi,
        weather.dhi,
        dni_extra=extra,
        airmass=np.nan_to_num(get_relative_airmass(zenith), nan=0.0) if sky == "perez" else None,
        albedo=albedo,
        model=sky,
    )
    elevation, turned, slope = np.radians(sun.elevation), np.radians(sun.azimuth - azimuth), np.radians(tilt)
    toward, aside, up = np.cos(elevation) * np.cos(turned), np.cos(elevation) * np.sin(turned), np.sin(elevation)
    return PlaneYear(
        np.nan_to_num(np.asarray(found["poa_direct"], dtype=float)),
        np.nan_to_num(np.asarray(found["poa_diffuse"], dtype=float)),
        toward * np.sin(slope) + up * np.cos(slope),
        aside,
        up * np.sin(slope) - toward * np.cos(slope),
    )
