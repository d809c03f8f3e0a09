"""Hourly weather from open files: EPW, TMY3 CSV and PVGIS CSV, read with pvlib, checked, and mended where that is honest.

Rows of EPW and TMY3 are means over the hour that ends; those of PVGIS are moments by universal time.
"""

from __future__ import annotations

import hashlib
import io
import re
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.calendar import DAYS_IN_MONTH, HOURS
from rowan.core.terms.errors import RowanError
from rowan.core.terms.record import record
from rowan.core.weather.hours import HOUR_DEG, Place, Sky, Weather, sun_year, winter_clock
from rowan.core.weather.made_year import split

Array = NDArray[np.float64]
Kind = Literal["EPW", "TMY3", "PVGIS"]
LARGEST_BYTES = 12_000_000  # bytes; a year of hours has one or two million
MOST_GAP_HOURS = 72  # in all, that are filled from the days beside them
MOST_SUN, LEAST_AIR, MOST_AIR = 1500.0, -70.0, 60.0  # W/m² and °C that no place on earth has had
NIGHT_SHARE = 0.02  # of the year's sun that may fall with the sun well below the horizon
NIGHT_DEG = -2.0  # ° of the sun under which light is a fault of the clock
LOWEST_M, HIGHEST_M = -450.0, 6000.0  # m above the sea: the lowest shore and the highest town there are
LEAST_ZONE, MOST_ZONE = -12.0, 14.0  # hours from UTC
LEAP_YEAR = 2020  # any, to read 29 February before it is left out
EPW_HEAD, EPW_ZONE = 8, 8  # lines of its head, and the field of its zone
COLUMNS = ("ghi", "dni", "dhi", "air")


class WeatherFileError(RowanError):
    """A weather file that cannot be taken, with the reason."""


@record
class WeatherFile:
    """A year taken from a file: its sky, the twelve means of it, its coldest hour [°C], and what was mended on the way."""

    kind: Kind
    sky: Sky
    ghi_kwh_m2_day: tuple[float, ...]
    air_c: tuple[float, ...]
    coldest_c: float
    mended: tuple[str, ...]


@dataclass
class _Rows:
    """What a reader found: columns by month, day and hour of a clock so many hours ahead of UTC."""

    month: NDArray[np.int64]
    day: NDArray[np.int64]
    hour: NDArray[np.int64]
    columns: dict[str, Array]
    place: Place
    name: str
    # moments stand so many hours after their stamps; None for means over the hour
    moments_after: float | None = None
    left_out: int = 0


def kind_of(text: str) -> Kind:
    """The format a file's first lines show. Raises WeatherFileError for another one."""
    first = text[:4000]
    if first.startswith("LOCATION,"):
        return "EPW"
    if "Date (MM/DD/YYYY)" in first:
        return "TMY3"
    if "Latitude (decimal degrees)" in first or ("G(h)" in text[:20000] and "T2m" in text[:20000]):
        return "PVGIS"
    raise WeatherFileError("this is none of the weather files Rowan reads: EPW, TMY3 as CSV, PVGIS as CSV")


def _numbers(table: Any, name: str) -> Array:
    if name not in table:
        return np.full(len(table), np.nan)
    import pandas as pd

    return np.asarray(pd.to_numeric(table[name], errors="coerce"), dtype=float)


def _epw(text: str) -> _Rows:
    from pvlib.iotools import read_epw

    text, left_out = _possible_days(text)
    # a leap year takes 29 February along; it is left out later, and said
    table, meta = read_epw(io.StringIO(text), coerce_year=LEAP_YEAR)
    air = _numbers(table, "temp_air")
    columns = {name: _numbers(table, name) for name in ("ghi", "dni", "dhi")}
    # the format writes what is missing as nines
    columns = {name: np.where(values >= 9999, np.nan, values) for name, values in columns.items()}
    columns["air"] = np.where(air >= 99.9, np.nan, air)
    place = Place(float(meta["latitude"]), float(meta["longitude"]), float(meta["altitude"]), float(meta["TZ"]))
    return _Rows(
        np.asarray(table["month"], dtype=np.int64),
        np.asarray(table["day"], dtype=np.int64),
        np.asarray(table["hour"], dtype=np.int64) - 1,
        columns,
        place,
        str(meta.get("city", "")).strip(),
        left_out=left_out,
    )


def _possible_days(text: str) -> tuple[str, int]:
    """An EPW file without the rows whose date cannot be, and how many those are. Raises WeatherFileError for its clock."""
    lines = text.splitlines()
    head = lines[0].split(",")
    try:
        zone = float(head[8]) if len(head) > EPW_ZONE else 0.0
    except ValueError as error:
        raise WeatherFileError("its first line names no clock") from error
    if not LEAST_ZONE <= zone <= MOST_ZONE:
        raise WeatherFileError("its clock is {zone} hours from UTC, which no clock is", zone=f"{zone:g}")
    rows = [line for line in lines[EPW_HEAD:] if line.strip()]
    good = [row for row in rows if _is_hour(row.split(",", 5)[1:4])]
    return "\n".join([*lines[:EPW_HEAD], *good]) + "\n", len(rows) - len(good)


def _is_hour(parts: list[str]) -> bool:
    """Whether month, day and hour of a row can be; 29 February can."""
    if len(parts) < 3 or not all(part.strip().isdecimal() for part in parts):
        return False
    month, day, hour = (int(part) for part in parts)
    return 1 <= month <= 12 and 1 <= day <= (29 if month == 2 else DAYS_IN_MONTH[month - 1]) and 1 <= hour <= 24


def _tmy3(text: str) -> _Rows:
    from pvlib.iotools import read_tmy3

    table, meta = read_tmy3(io.StringIO(text))
    dates = table["Date (MM/DD/YYYY)"].str.split("/", expand=True).astype(int)
    hours = table["Time (HH:MM)"].str.split(":").str[0].astype(int)
    columns = {name: _numbers(table, name) for name in ("ghi", "dni", "dhi")}
    columns["air"] = _numbers(table, "temp_air")
    columns = {name: np.where(values <= -900, np.nan, values) for name, values in columns.items()}
    place = Place(float(meta["latitude"]), float(meta["longitude"]), float(meta["altitude"]), float(meta["TZ"]))
    return _Rows(
        dates[0].to_numpy(np.int64),
        dates[1].to_numpy(np.int64),
        hours.to_numpy(np.int64) - 1,
        columns,
        place,
        str(meta.get("Name", "")).strip('" '),
    )


def _pvgis(text: str) -> _Rows:
    from pvlib.iotools import read_pvgis_hourly, read_pvgis_tmy

    if "Gb(n)" in text[:20000]:
        table, meta = read_pvgis_tmy(io.BytesIO(text.encode()), pvgis_format="csv")
        columns = {name: _numbers(table, name) for name in ("ghi", "dni", "dhi")}
    else:
        table, meta = read_pvgis_hourly(io.StringIO(text), pvgis_format="csv")
        columns = _from_plane(table, meta)
    columns["air"] = _numbers(table, "temp_air")
    found = _flat(meta)
    place = Place(float(found["latitude"]), float(found["longitude"]), float(found.get("elevation", 0.0)), 0.0)
    index = table.index
    if len(set(index.year)) > 1 and "Gb(n)" not in text[:20000]:
        last = max(year for year in set(index.year) if int((index.year == year).sum()) >= HOURS)
        keep = np.asarray(index.year == last)
        index, columns = index[keep], {name: values[keep] for name, values in columns.items()}
    return _Rows(
        np.asarray(index.month, dtype=np.int64),
        np.asarray(index.day, dtype=np.int64),
        np.asarray(index.hour, dtype=np.int64),
        columns,
        place,
        "",
        moments_after=_offset(meta),
    )


def _offset(meta: Any) -> float:
    """How long after its stamp the irradiance of a PVGIS row was taken [h], as its header says."""
    try:
        return min(max(float(meta["inputs"]["irradiance time offset"]), 0.0), 0.5)
    except (KeyError, TypeError, ValueError):
        return 0.0


def _flat(meta: Any) -> dict[str, Any]:
    """The place in a PVGIS header, whichever of its forms it has."""
    found = meta.get("inputs", meta) if isinstance(meta, dict) else {}
    return found.get("location", found) if isinstance(found, dict) else {}


def _from_plane(table: Any, meta: Any) -> dict[str, Array]:
    """Horizontal irradiances of a file that gives those of a plane: only a level plane has them."""
    inputs = meta.get("inputs", {}) if isinstance(meta, dict) else {}
    slope = next((str(value) for key, value in inputs.items() if "slope" in str(key).lower()), "0")
    number = re.match(r"\s*-?\d+(\.\d+)?", slope)
    beam, diffuse, ground = (_numbers(table, key) for key in ("poa_direct", "poa_sky_diffuse", "poa_ground_diffuse"))
    if np.isnan(beam).all():
        raise WeatherFileError("the file has no beam and diffuse columns: ask for radiation components")
    if np.nansum(ground) > 0 or (number is not None and float(number.group()) != 0):
        raise WeatherFileError("the file is for a tilted plane; Rowan tilts by itself: ask for a slope of 0")
    return {"ghi": beam + diffuse, "dhi": diffuse, "dni": np.full(len(table), np.nan)}


def read_weather(name: str, content: bytes) -> WeatherFile:
    """A year from a weather file's content. Raises WeatherFileError with what is wrong and what to do."""
    if len(content) > LARGEST_BYTES:
        raise WeatherFileError(
            "the file has {content} MB; a year of hours has one or two", content=f"{len(content) / 1e6:.0f}"
        )
    text = content.decode("utf-8-sig", errors="replace")
    kind = kind_of(text)
    reader = {"EPW": _epw, "TMY3": _tmy3, "PVGIS": _pvgis}[kind]
    try:
        rows = reader(text)
    except WeatherFileError:
        raise
    except Exception as error:  # what a broken file does to a parser cannot be foreseen
        raise WeatherFileError(
            "the file begins like {kind} but cannot be read to its end: {short}", kind=kind, short=_short(error)
        ) from error
    return _checked(name, kind, rows)


def _short(error: Exception) -> str:
    words = " ".join(str(error).split())
    return words[:120] or type(error).__name__


def _place_checked(place: Place, mended: list[str]) -> Place:
    if not (-65 <= place.latitude <= 65 and -180 <= place.longitude <= 180):
        raise WeatherFileError(
            "the file is from {latitude}°, {longitude}°; Rowan reckons from 65° south to 65° north",
            latitude=f"{place.latitude:g}",
            longitude=f"{place.longitude:g}",
        )
    if not LOWEST_M <= place.altitude <= HIGHEST_M:
        raise WeatherFileError(
            "the file is from {altitude} m above the sea, where nobody lives", altitude=f"{place.altitude:g}"
        )
    if not LEAST_ZONE <= place.utc_offset <= MOST_ZONE:
        raise WeatherFileError(
            "its clock is {utc_offset} hours from UTC, which no clock is", utc_offset=f"{place.utc_offset:g}"
        )
    apart = place.utc_offset - place.longitude / HOUR_DEG
    if abs(apart) > 2.5:
        mended.append(f"its clock is {apart:+.1f} h from the sun's at its longitude; taken as it says")
    return place


def _checked(name: str, kind: Kind, rows: _Rows) -> WeatherFile:
    mended: list[str] = []
    place = _place_checked(rows.place, mended)
    grid = _on_the_hours(rows, mended)
    _no_nonsense(grid, mended)
    if rows.moments_after is not None:
        place, grid = _by_local_clock(place, grid, rows.moments_after, mended)
    sun = sun_year(place)
    _fill(grid, mended)
    if np.isnan(grid["ghi"]).all():
        raise WeatherFileError("the file has no global irradiation")
    _night(grid, sun.elevation)
    if np.isnan(grid["dni"]).any() or np.isnan(grid["dhi"]).any():
        grid["dni"], grid["dhi"] = split(grid["ghi"], sun)
        mended.append("beam and diffuse told apart by Erbs, as the file lacks one of them")
    ghi_hours, dni_hours, dhi_hours = (np.clip(grid[key], 0, None) for key in ("ghi", "dni", "dhi"))
    weather = Weather(ghi_hours, dni_hours, dhi_hours, grid["air"])
    digest = hashlib.sha256(
        b"".join(np.round(getattr(weather, key), 3).tobytes() for key in COLUMNS) + repr(place).encode()
    ).hexdigest()
    days = np.repeat(np.arange(12), np.array(DAYS_IN_MONTH) * 24)
    ghi = np.bincount(days, weather.ghi, 12) / 1000 / np.array(DAYS_IN_MONTH)
    air = np.bincount(days, weather.air, 12) / (np.array(DAYS_IN_MONTH) * 24)
    title = (f"{rows.name}, {name}" if rows.name and rows.name.lower() not in name.lower() else name)[:80]
    return WeatherFile(
        kind,
        Sky(place, weather, title, digest),
        tuple(round(float(v), 3) for v in ghi),
        tuple(round(float(v), 2) for v in air),
        float(weather.air.min()),
        tuple(mended),
    )


def _on_the_hours(rows: _Rows, mended: list[str]) -> dict[str, Array]:
    """The columns on the 8,760 hours of a year; what has no row is NaN."""
    leap = (rows.month == 2) & (rows.day == 29)
    if leap.any():
        mended.append(f"29 February left out, {int(leap.sum())} hours")
    starts = np.concatenate(([0], np.cumsum(DAYS_IN_MONTH)))
    good = (rows.month >= 1) & (rows.month <= 12) & (rows.hour >= 0) & (rows.hour <= 23) & (rows.day >= 1) & ~leap
    month = np.clip(rows.month, 1, 12)
    good &= rows.day <= np.array(DAYS_IN_MONTH)[month - 1]
    bad = int((~good & ~leap).sum()) + rows.left_out
    if bad:
        mended.append(f"{bad} rows with an impossible date left out")
    at = (starts[month - 1] + rows.day - 1) * 24 + rows.hour
    found = at[good]
    twice = found.size - np.unique(found).size
    if twice:
        mended.append(f"{twice} hours stand twice; the first of each was taken")
    missing = HOURS - np.unique(found).size
    if missing > MOST_GAP_HOURS:
        raise WeatherFileError(
            "{missing} of the year's 8,760 hours are not in the file; up to {most_gap_hours} are filled in",
            missing=f"{missing}",
            most_gap_hours=f"{MOST_GAP_HOURS}",
        )
    if missing:
        mended.append(f"{missing} missing hours filled from the days beside them")
    grid = {}
    for key, values in rows.columns.items():
        column = np.full(HOURS, np.nan)
        column[found[::-1]] = values[good][::-1]
        grid[key] = column
    return grid


def _no_nonsense(grid: dict[str, Array], mended: list[str]) -> None:
    """What no sky gives becomes a gap."""
    for key, words in (("ghi", "global"), ("dni", "beam"), ("dhi", "diffuse")):
        column = grid[key]
        with np.errstate(invalid="ignore"):
            below, above = column < 0, column > MOST_SUN
        if below.any():
            mended.append(f"{int(below.sum())} hours of {words} irradiance below zero set to zero")
        column[below] = 0.0
        _gap(column, above, f"{words} irradiance above {MOST_SUN:g} W/m²", mended)
    with np.errstate(invalid="ignore"):
        odd = (grid["air"] < LEAST_AIR) | (grid["air"] > MOST_AIR)
    _gap(grid["air"], odd, f"air beyond {LEAST_AIR:g} to {MOST_AIR:g} °C", mended)


def _gap(column: Array, odd: NDArray[np.bool_], words: str, mended: list[str]) -> None:
    count = int(odd.sum())
    if count > MOST_GAP_HOURS:
        raise WeatherFileError(
            "{count} hours have {words}: this is not what the file says it is", count=f"{count}", words=words
        )
    if count:
        column[odd] = np.nan
        mended.append(f"{count} hours with {words} filled from the days beside them")


def _by_local_clock(
    place: Place, grid: dict[str, Array], after: float, mended: list[str]
) -> tuple[Place, dict[str, Array]]:
    """Moments by universal time become means over the hours of the place's own clock."""
    ahead = int(winter_clock(place.longitude))
    made = {}
    for key, values in grid.items():
        # the middle of the hour lies between this row's moment and the next one's
        share = 0.5 if key == "air" else 0.5 - after
        made[key] = np.roll(values * (1 - share) + np.roll(values, -1) * share, ahead)
    mended.append(f"moments by universal time made hours of a clock {ahead:+d} h ahead of it")
    return replace(place, utc_offset=float(ahead)), made


def _fill(grid: dict[str, Array], mended: list[str]) -> None:
    """Gaps take the same hour of the nearest days that have it."""
    for key, column in grid.items():
        empty = np.isnan(column)
        if not empty.any() or empty.all():
            if key == "air" and empty.all():
                raise WeatherFileError("the file has no air temperature")
            continue
        count = int(empty.sum())
        if count > MOST_GAP_HOURS:
            if key in ("dni", "dhi"):
                column[:] = np.nan
                continue
            raise WeatherFileError(
                "{count} hours of {key} are missing; up to {most_gap_hours} are filled in",
                count=f"{count}",
                key=key,
                most_gap_hours=f"{MOST_GAP_HOURS}",
            )
        days = column.reshape(365, 24)
        for day, hour in zip(*np.nonzero(np.isnan(days)), strict=True):
            days[day, hour] = _beside(days[:, hour], int(day))
        if not any("missing" in words or "filled" in words for words in mended):
            mended.append(f"{count} hours without a value of {key} filled from the days beside them")


def _beside(days: Array, day: int) -> float:
    """The mean of the nearest earlier and later day that have a value."""
    n = days.size
    found = []
    for sign in (-1, 1):
        value = next(
            (days[(day + sign * k) % n] for k in range(1, n) if not np.isnan(days[(day + sign * k) % n])), np.nan
        )
        found.append(float(value))
    return float(np.nanmean(found))


def _night(grid: dict[str, Array], elevation: Array) -> None:
    """Light by night means a wrong clock or longitude; a trace of it is set to zero."""
    dark = elevation < NIGHT_DEG
    whole = float(np.nansum(grid["ghi"]))
    if whole <= 0:
        raise WeatherFileError("no sun shines in the whole file")
    share = float(np.nansum(grid["ghi"][dark])) / whole
    if share > NIGHT_SHARE:
        raise WeatherFileError(
            "{share} % of its sun shines at night: its clock or its longitude is wrong", share=f"{100 * share:.0f}"
        )
    for key in ("ghi", "dni", "dhi"):
        grid[key][dark] = np.where(np.isnan(grid[key][dark]), np.nan, 0.0)
