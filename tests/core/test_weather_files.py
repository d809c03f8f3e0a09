"""Weather files: the three formats, and what a bad one is told."""

from __future__ import annotations

import csv
import datetime
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

import numpy as np
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.goods.items import Normals, WeatherItem
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.terms.finding import Change
from rowan.core.weather.files import MOST_GAP_HOURS, WeatherFile, WeatherFileError, read_weather
from tests.core.designs import plan_b

HERE = Path(__file__).parent / "reference" / "year" / "weather.csv"
TMY = Path(pvlib.__file__).parent / "data"
Row = dict[str, str]


@lru_cache
def hours() -> tuple[Row, ...]:
    with HERE.open(encoding="utf-8", newline="") as file:
        return tuple(csv.DictReader(file))


def epw(
    change: Callable[[list[list[str]]], list[list[str]]] | None = None,
    zone: float = 0.0,
    longitude: float = -3.1,
    latitude: float = 57.2,
) -> bytes:
    """The invented year as an EPW file, with its rows changed."""
    start = datetime.datetime(2021, 1, 1)
    rows = []
    for i, row in enumerate(hours()):
        at = start + datetime.timedelta(hours=i)
        sun = [row["ghi_w_m2"], row["dni_w_m2"], row["dhi_w_m2"]]
        head = [str(at.year), str(at.month), str(at.day), str(at.hour + 1), "0", "?", row["air_c"]]
        rows.append([*head, "0", "50", "100000", "0", "0", "300", *sun, *["0"] * 19])
    rows = change(rows) if change else rows
    head = f"LOCATION,Aldersund,-,-,made,000000,{latitude},{longitude},{zone},85"
    return "\n".join([head, *["-"] * 7, *(",".join(row) for row in rows)]).encode()


def pvgis() -> bytes:
    """The invented year as a PVGIS typical year: moments by universal time."""
    lines = ["Latitude (decimal degrees): 57.2", "Longitude (decimal degrees): -3.1", "Elevation (m): 85"]
    lines.append("Irradiance Time Offset (h): 0.1761")
    lines += ["month,year", *(f"{m},2015" for m in range(1, 13))]
    lines.append("time(UTC),T2m,RH,G(h),Gb(n),Gd(h),IR(h),WS10m,WD10m,SP")
    start = datetime.datetime(2015, 1, 1)
    for i, row in enumerate(hours()):
        at = (start + datetime.timedelta(hours=i)).strftime("%Y%m%d:%H%M")
        values = (row["air_c"], "70", row["ghi_w_m2"], row["dni_w_m2"], row["dhi_w_m2"], "300", "3", "200", "100000")
        lines.append(",".join((at, *values)))
    return "\n".join([*lines, "", "T2m: air", "PVGIS (c) made"]).encode()


def test_an_hour_ending_file_is_read_hour_for_hour() -> None:
    found = read_weather("made.epw", epw())
    assert found.kind == "EPW"
    assert found.mended == ()
    assert found.sky.weather.ghi[4000] == float(hours()[4000]["ghi_w_m2"])
    assert found.sky.weather.air[17] == float(hours()[17]["air_c"])
    assert found.ghi_kwh_m2_day == pytest.approx(plan_b().survey.normals.value.ghi_kwh_m2_day, rel=0.01)
    assert found.sky.name == "Aldersund, made.epw"


@pytest.mark.parametrize("name", ["703165TY.csv", "723170TYA.CSV"])
def test_measured_years_that_ship_with_the_reader(name: str) -> None:
    found = read_weather(name, (TMY / name).read_bytes())
    assert found.kind == "TMY3"
    assert 800 < found.sky.weather.ghi.sum() / 1000 < 1800
    assert found.sky.place.utc_offset in (-9, -5)
    noon = found.sky.weather.ghi.reshape(365, 24).mean(axis=0)
    assert int(noon.argmax()) in (11, 12, 13), "rows stand at their own hours"


def test_moments_by_universal_time_become_hours_of_the_place() -> None:
    found = read_weather("pvgis.csv", pvgis())
    assert found.kind == "PVGIS"
    assert any("universal time" in words for words in found.mended)
    given_sum = sum(float(row["ghi_w_m2"]) for row in hours())
    assert found.sky.weather.ghi.sum() == pytest.approx(given_sum, rel=0.01)
    # rows a third of an hour before the middle of theirs, each a mean over its hour here: the sun comes a little early
    shift = np.arange(24) @ found.sky.weather.ghi.reshape(365, 24).sum(axis=0) / found.sky.weather.ghi.sum()
    whole = read_weather("made.epw", epw()).sky.weather.ghi
    usual = np.arange(24) @ whole.reshape(365, 24).sum(axis=0) / whole.sum()
    assert shift - usual == pytest.approx(-(0.5 - 0.1761), abs=0.02)


def plane_hours(slope: str, column: str = "Gb(i)") -> bytes:
    """The invented year as a PVGIS series for a plane."""
    lines = ["Latitude (decimal degrees):\t57.2", "Longitude (decimal degrees):\t-3.1", "Elevation (m):\t85"]
    lines += ["Radiation database:\tmade", f"Slope: {slope}", "Azimuth: 0 deg.", ""]
    lines.append(f"time,{column},Gd(i),Gr(i),H_sun,T2m,WS10m,Int")
    start = datetime.datetime(2019, 1, 1)
    for i, row in enumerate(hours()):
        at = (start + datetime.timedelta(hours=i)).strftime("%Y%m%d:%H%M")
        beam = float(row["ghi_w_m2"]) - float(row["dhi_w_m2"])
        lines.append(f"{at},{beam:.2f},{row['dhi_w_m2']},0.0,0,{row['air_c']},3,0")
    return "\n".join([*lines, "", "made"]).encode()


def test_a_level_plane_gives_its_year_and_a_tilted_one_is_refused() -> None:
    found = read_weather("level.csv", plane_hours("0 deg."))
    assert found.sky.weather.ghi.sum() == pytest.approx(sum(float(row["ghi_w_m2"]) for row in hours()), rel=0.01)
    assert any("Erbs" in words for words in found.mended), "the beam on its normal is not in such a file"
    with pytest.raises(WeatherFileError, match="tilted plane"):
        read_weather("tilted.csv", plane_hours("35 deg."))
    with pytest.raises(WeatherFileError, match="radiation components"):
        read_weather("sum.csv", plane_hours("0 deg.", "G(i)"))


def without(first: int, last: int) -> Callable[[list[list[str]]], list[list[str]]]:
    return lambda rows: rows[:first] + rows[last:]


def with_value(row: int, column: int, value: str, count: int = 1) -> Callable[[list[list[str]]], list[list[str]]]:
    def change(rows: list[list[str]]) -> list[list[str]]:
        for i in range(row, row + count):
            rows[i][column] = value
        return rows

    return change


def leap(rows: list[list[str]]) -> list[list[str]]:
    day = [[*row[:1], "2", "29", *row[3:]] for row in rows[58 * 24 : 59 * 24]]
    return rows[: 59 * 24] + day + rows[59 * 24 :]


MENDED = {
    "a gap": (without(4000, 4010), "10 missing hours filled"),
    "a leap day": (leap, "29 February left out, 24 hours"),
    "twice": (lambda rows: [*rows, rows[0], rows[1]], "2 hours stand twice"),
    "below zero": (with_value(4000, 13, "-5", 3), "3 hours of global irradiance below zero"),
    "too bright": (with_value(4000, 13, "2400"), "1 hours with global irradiance above 1500"),
    "missing air": (with_value(100, 6, "99.9", 4), "4 hours without a value of air"),
    "nonsense air": (with_value(100, 6, "-88"), "air beyond -70"),
    "no beam": (with_value(0, 14, "9999", 8760), "told apart by Erbs"),
    "odd date": (with_value(31 * 24 + 5, 2, "31"), "1 rows with an impossible date left out"),
}


@pytest.mark.parametrize("case", MENDED)
def test_what_can_be_mended_is_and_said(case: str) -> None:
    change, words = MENDED[case]
    found = read_weather("x.epw", epw(change))
    assert any(words in mended for mended in found.mended), found.mended
    assert np.isfinite(found.sky.weather.air).all()
    whole = read_weather("x.epw", epw())
    assert found.sky.weather.ghi.sum() == pytest.approx(whole.sky.weather.ghi.sum(), rel=0.01)


REFUSED = {
    "a long gap": (epw(without(4000, 4100)), "100 of the year's 8,760 hours"),
    "half a year": (epw(lambda rows: rows[:4000]), "4760 of the year's"),
    "a wrong clock": (epw(zone=10), "shines at night"),
    "no clock": (epw(zone=40), "which no clock is"),
    "the pole": (epw(latitude=78), "from 65° south to 65° north"),
    "dark": (epw(with_value(0, 13, "0", 8760)), "no sun shines"),
    "nonsense": (epw(with_value(100, 6, "77", 400)), "400 hours have air beyond"),
    "no air": (epw(with_value(0, 6, "99.9", 8760)), "no air temperature"),
    "no sun": (epw(with_value(0, 13, "9999", 8760)), "no global irradiation"),
    "text": (b"hello", "none of the weather files"),
    "nothing": (b"", "none of the weather files"),
    "a head alone": (b"LOCATION,a\n", "begins like EPW but cannot be read"),
    "a cut line": (epw()[:-300] + b"\n1,2", "begins like EPW"),
}


@pytest.mark.parametrize("case", REFUSED)
def test_what_cannot_be_taken_is_refused_with_the_reason(case: str) -> None:
    content, words = REFUSED[case]
    try:
        found = read_weather("x.epw", content)
    except WeatherFileError as error:
        assert words in str(error)
    else:
        # a file cut in its last line loses an hour or two and may be mended instead
        assert case == "a cut line"
        assert found.mended


@settings(max_examples=30, deadline=None)
@given(at=st.integers(0, 400_000), junk=st.binary(min_size=1, max_size=40))
def test_a_damaged_file_is_mended_or_refused_never_a_fault(at: int, junk: bytes) -> None:
    content = epw()
    damaged = content[:at] + junk + content[at + len(junk) :]
    try:
        found = read_weather("x.epw", damaged)
    except WeatherFileError as error:
        assert str(error)
        return
    assert isinstance(found, WeatherFile)
    assert np.isfinite(found.sky.weather.ghi).all()
    assert (found.sky.weather.ghi >= 0).all()


def test_gaps_up_to_the_limit_are_filled_and_one_more_is_not() -> None:
    assert read_weather("x.epw", epw(without(4000, 4000 + MOST_GAP_HOURS))).mended
    with pytest.raises(WeatherFileError):
        read_weather("x.epw", epw(without(4000, 4001 + MOST_GAP_HOURS)))


def test_a_plan_runs_in_the_weather_it_names_and_only_there() -> None:
    found = read_weather("723170TYA.CSV", (TMY / "723170TYA.CSV").read_bytes())
    item = WeatherItem(name=found.sky.name, digest=found.sky.digest)
    normals = Normals(ghi_kwh_m2_day=list(found.ghi_kwh_m2_day), air_c=list(found.air_c))
    design = changed(
        plan_b(),
        [
            Change("survey.weather", item),
            Change("survey.normals", normals),
            Change("survey.latitude_deg", found.sky.place.latitude),
            Change("survey.longitude_deg", found.sky.place.longitude),
        ],
    )
    result = reckon(design)
    measured = simulate(design, result, measured=found.sky)
    assert measured.weather == found.sky.name
    made = simulate(design, result)
    assert made.weather == "the made mean year", "without the file the means are used, and it says so"
    assert measured.solar_heat != made.solar_heat
    assert measured.solar_heat == pytest.approx(made.solar_heat, rel=0.1), "the means are those of the file"
    assert sky_of(design, 3, found.sky).name == "made year 3"
    assert sky_of(plan_b(), 0, found.sky).name == "the made mean year"


@pytest.mark.parametrize("altitude", ["nan", "1e308", "-900", "inf"])
def test_an_altitude_where_nobody_lives_is_refused_in_words(altitude: str) -> None:
    with pytest.raises(WeatherFileError, match="where nobody lives"):
        read_weather("high.epw", epw().replace(b",85\n", f",{altitude}\n".encode(), 1))
