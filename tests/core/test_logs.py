"""A logger's file, however it is written, gives the same log; what cannot be is refused or left out, and listed."""

from __future__ import annotations

import io
import re
from datetime import UTC, datetime, timedelta, timezone
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.command.standin import pair_of, plant_of
from rowan.core.records.logs.channels import CHANNELS, UNITS
from rowan.core.records.logs.days import days_of
from rowan.core.records.logs.deviations import deviations
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.log import Log, LogMapping, as_guessed, joined, newest_readings, opened, read_log
from rowan.core.records.logs.nights import sees_nights, warm_nights
from rowan.core.records.logs.sheet import MOST_ROWS, cells_of
from rowan.core.records.logs.stamps import WHOLE_DAY_S, summer_time
from rowan.core.records.readings import Planned
from rowan.demo.kvist import kvist_plan_b
from rowan.standin.controller import Standin
from rowan.standin.faults import Fault
from rowan.standin.send import write_csv

NOW = datetime(2026, 11, 1, tzinfo=UTC)
BEGINS = datetime(2026, 4, 20, tzinfo=UTC)
STEP_S = 300
DAYS = 16
NAMES = ("Collector", "Tank top", "Tank bottom", "Pump", "Pressure")


def truth(days: float = DAYS) -> dict[str, np.ndarray]:
    """A loop's days: a field that swings, a store, a pump that is on or off, a gauge. SI, °C."""
    seconds = np.arange(0, days * WHOLE_DAY_S, STEP_S)
    sun = np.clip(np.sin((seconds % WHOLE_DAY_S / WHOLE_DAY_S - 0.25) * 2 * np.pi), 0.0, None)
    return {
        "field_c": np.round(8.0 + 62.0 * sun - 2.0 * np.cos(seconds / 9e4), 1),
        "high_c": np.round(48.0 + 6.0 * np.sin(seconds / 8e4), 1),
        "low_c": np.round(22.0 + 9.0 * np.sin(seconds / 5e4), 1),
        "pump_share": (sun > 0.4).astype(float),
        "gauge_pa": np.round(1.6e5 + 2e4 * sun, -3),
    }


def written(
    *,
    delimiter: str = ";",
    decimal: str = ".",
    stamp: str = "%d.%m.%Y %H:%M",
    zone: timezone = UTC,
    names: tuple[str, ...] = NAMES,
    days: float = DAYS,
    begins: datetime = BEGINS,
    kelvin: bool = False,
) -> str:
    """The same days as a file of some form; gauge in bar."""
    columns = truth(days)
    lines = [delimiter.join(("Date", *names))]
    for row in range(len(columns["field_c"])):
        at = (begins + timedelta(seconds=row * STEP_S)).astimezone(zone).strftime(stamp)
        warm = [columns[key][row] + (273.15 if kelvin else 0.0) for key in ("field_c", "high_c", "low_c")]
        cells = [f"{value:.1f}" if not kelvin else f"{value:.2f}" for value in warm]
        cells += [f"{columns['pump_share'][row]:.0f}", f"{columns['gauge_pa'][row] / 1e5:.2f}"]
        lines.append(delimiter.join((at, *(cell.replace(".", decimal) for cell in cells))))
    return "\n".join(lines) + "\n"


def taken(text: str | bytes, *, zone_h: float = 0.0) -> Log:
    """A file taken in by its own guesses."""
    found = opened(text if isinstance(text, bytes) else text.encode())
    return read_log(found, as_guessed(found), zone_h=zone_h, now=NOW)


def assert_true(log: Log, days: float = DAYS, keys: tuple[str, ...] = tuple(truth(1))) -> None:
    """The log is the truth to the digits that were written."""
    want = truth(days)
    assert log.begins == BEGINS
    assert len(log.at) == len(want["field_c"])
    assert log.step == STEP_S
    for key in keys:
        np.testing.assert_allclose(log.columns[key], want[key], atol=1e-6 * max(1.0, want[key].max()), err_msg=key)


def repaired(log: Log) -> dict[str, int]:
    """What was repaired, by its key."""
    return {repair.key: repair.count for repair in log.repairs}


@given(
    delimiter=st.sampled_from([";", "\t", "|", ","]),
    decimal=st.sampled_from([".", ","]),
    stamp=st.sampled_from(
        [
            "%d.%m.%Y %H:%M",
            "%d/%m/%Y %H:%M:%S",
            "%m/%d/%Y %I:%M %p",
            "%Y-%m-%d %H:%M:%S",
            "%Y-%m-%dT%H:%MZ",
            "%d.%m.%y %H:%M",
        ]
    ),
    head=st.booleans(),
)
def test_the_form_of_a_file_changes_nothing_of_its_log(delimiter: str, decimal: str, stamp: str, head: bool) -> None:
    if delimiter == "," and decimal == ",":
        decimal = "."
    text = written(delimiter=delimiter, decimal=decimal, stamp=stamp)
    if head:
        assert_true(taken(text))
    else:
        # without names a gauge is a number among others: field, store and pump are known by how they behave
        assert_true(taken(text.split("\n", 1)[1]), keys=("field_c", "high_c", "low_c", "pump_share"))


def test_stamps_with_a_zone_and_seconds_since_1970_need_none_of_the_place() -> None:
    zoned = written(stamp="%Y-%m-%dT%H:%M:%S%z", zone=timezone(timedelta(hours=2)))
    assert_true(taken(zoned, zone_h=-7.0))
    rows = [line.split(";") for line in written().splitlines()]
    first = int(BEGINS.timestamp())
    epoch = [";".join((str(first + (at - 1) * STEP_S), *row[1:])) for at, row in enumerate(rows) if at]
    assert_true(taken("\n".join([";".join(rows[0]), *epoch]), zone_h=5.0))


def test_a_file_by_local_time_is_by_the_place() -> None:
    assert_true(taken(written(zone=timezone(timedelta(hours=-5))), zone_h=-5.0))


def test_date_and_time_in_two_columns_are_one_stamp() -> None:
    assert_true(taken(written(stamp="%d.%m.%Y;%H:%M").replace("Date;", "Date;Time;")))


def test_western_letters_utf_16_and_a_line_of_units() -> None:
    named = written().replace("Date;Collector", "Date;Kollektor für Süd")
    assert_true(taken(named.encode("cp1252")))
    assert_true(taken(named.encode("utf-16")))
    lines = written().splitlines()
    with_units = "\n".join(["Log of a loop", "", lines[0], ";°C;°C;°C;;bar", *lines[1:]])
    assert_true(taken(with_units))


def test_kelvin_written_as_celsius_is_seen() -> None:
    assert_true(taken(written(kelvin=True)))
    assert_true(taken(written(kelvin=True, names=("Collector (°C)", *NAMES[1:]))))


def test_an_order_that_nothing_tells_is_a_guess_and_says_so() -> None:
    text = written(days=1.0, begins=datetime(2026, 5, 4, tzinfo=UTC))
    assert "day first is assumed" in opened(text.encode()).stamps.why
    assert opened(text.encode()).stamps.is_guess
    assert opened(text.encode(), prefers="mdy").stamps.order == "mdy"
    assert not opened(written().encode()).stamps.is_guess


def test_the_newest_first_out_of_order_and_twice() -> None:
    lines = written().splitlines()
    turned = taken("\n".join([lines[0], *reversed(lines[1:])]))
    assert_true(turned)
    assert "turned" in repaired(turned)
    mixed = taken("\n".join([*lines[:50], *lines[60:70], *lines[50:60], *lines[70:], lines[30]]))
    assert_true(mixed)
    assert repaired(mixed)["twice"] == 1
    assert repaired(mixed)["order"] >= 1


def test_a_gap_is_left_open_and_told() -> None:
    lines = written().splitlines()
    log = taken("\n".join([*lines[:100], *lines[172:]]))
    gap = next(repair for repair in log.repairs if repair.key == "gaps")
    assert gap.count == 1
    assert "6.0 h" in gap.what


def test_a_clock_reset_to_long_ago_and_one_ahead_are_left_out_with_their_number() -> None:
    lines = written().splitlines()
    reset = [line.replace(".2026 ", ".1970 ") for line in lines[200:210]]
    ahead = [line.replace(".2026 ", ".2031 ") for line in lines[300:303]]
    log = taken("\n".join([*lines[:200], *reset, *lines[210:300], *ahead, *lines[303:]]))
    assert repaired(log)["reset"] == 10
    assert repaired(log)["ahead"] == 3
    assert log.ends < NOW
    with pytest.raises(LogError, match="no row is left"):
        taken(written(begins=datetime(1970, 1, 5, tzinfo=UTC)))


def test_impossible_stuck_and_worded_values_are_no_readings() -> None:
    lines = written().splitlines()
    odd = [*lines]
    for row in range(10, 15):
        odd[row] = odd[row].replace(odd[row].split(";")[1], "888.8", 1)
    odd[20] = odd[20].rsplit(";", 1)[0] + ";---"
    odd[21] = odd[21].rsplit(";", 1)[0] + ";=1+2"
    odd[22] = odd[22].rsplit(";", 1)[0] + ";broken"
    log = taken("\n".join(odd))
    assert repaired(log)["impossible_field_c"] == 5
    assert repaired(log)["formulas"] == 1
    assert repaired(log)["words"] == 1
    assert np.isnan(log.columns["field_c"]).sum() == 5
    assert np.isnan(log.columns["gauge_pa"]).sum() == 3
    stuck = [
        line if row < 600 or row > 1200 else ";".join((*line.split(";")[:3], "21.7", *line.split(";")[4:]))
        for row, line in enumerate(lines)
    ]
    log = taken("\n".join(stuck))
    assert repaired(log)["stuck_low_c"] == np.isnan(log.columns["low_c"]).sum() >= 600


def test_a_store_that_stands_still_in_whole_degrees_is_no_stuck_sensor() -> None:
    lines = [line.split(";") for line in written().splitlines()]
    # a pool in whole degrees: the same for four days while the field swings by sixty
    whole = [
        ";".join((*row[:3], "21" if at < 1200 else "22", *row[4:])) if at else ";".join(row)
        for at, row in enumerate(lines)
    ]
    log = taken("\n".join(whole))
    assert "stuck_low_c" not in repaired(log)
    assert not np.isnan(log.columns["low_c"]).any()


PLANNED = Planned(start=8.0, stop=3.0, least_c=20.0, store_c=80.0, cut_out_c=130.0, flow=7e-5)


def test_a_sensor_that_stood_still_is_said_to_have_and_not_to_read_nothing() -> None:
    lines = written().splitlines()
    stuck = [
        line if row < 3000 else ";".join((*line.split(";")[:3], "21.7", *line.split(";")[4:]))
        for row, line in enumerate(lines)
    ]
    log = taken("\n".join(stuck))
    keys = [one.key for one in deviations(log, PLANNED)]
    assert "stuck_low_c" in keys
    assert "open_low_c" not in keys
    # one that truly reads nothing at the end is told so
    dead = [
        line if row < 4500 else ";".join((*line.split(";")[:3], "", *line.split(";")[4:]))
        for row, line in enumerate(lines)
    ]
    keys = [one.key for one in deviations(taken("\n".join(dead)), PLANNED)]
    assert "open_low_c" in keys


def test_switching_points_are_not_told_from_rows_far_apart() -> None:
    at = int(BEGINS.timestamp()) + np.arange(1440) * 60
    # starts at four kelvins, where eight are planned, each half hour
    on = np.arange(1440) % 30 >= 15
    columns = {
        "field_c": np.where(on, 44.0, 32.0),
        "low_c": np.full(1440, 40.0),
        "high_c": np.full(1440, 55.0),
        "pump_share": on.astype(float),
    }
    log = Log(at, columns, 60, ())
    assert [one.key for one in deviations(log, PLANNED)] == ["other_pair"]
    apart = Log(at[::5], {key: values[::5] for key, values in columns.items()}, 300, ())
    assert deviations(apart, PLANNED) == []


def test_a_pump_in_words_or_percent_and_a_sun_under_nothing() -> None:
    lines = written().splitlines()
    words = [
        lines[0],
        *(
            ";".join((*row[:4], "on" if row[4] == "1" else "off", *row[5:]))
            for row in (line.split(";") for line in lines[1:])
        ),
    ]
    assert_true(taken("\n".join(words)))
    percent = [
        lines[0],
        *(
            ";".join((*row[:4], "100" if row[4] == "1" else "0", *row[5:]))
            for row in (line.split(";") for line in lines[1:])
        ),
    ]
    assert_true(taken("\n".join(percent)))
    sunny = [lines[0] + ";Sun", *(line + (";-3" if line.split(";")[4] == "0" else ";640") for line in lines[1:])]
    log = taken("\n".join(sunny))
    assert log.columns["sun_w_m2"].min() == 0.0
    assert repaired(log)["zero"] == int((truth()["pump_share"] == 0.0).sum())


def test_a_file_cut_in_a_row_keeps_the_rest() -> None:
    text = written()[:-9]
    log = taken(text)
    assert repaired(log)["cut"] == 1
    assert len(log.at) == len(truth()["field_c"])


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"PK\x03\x04" + b"\0" * 90, "spreadsheet"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 90, "spreadsheet"),
        (b"a;b\0c", "no text"),
        (b"Dear house,\nthe pump is loud.\n", "no row with a time"),
        (b"Dear house.\n", "no table"),
        (b"Date;Field\n2026-05-01;40\n2026-05-02;41\n2026-05-03;44\n2026-05-04;45\n", "no time of the day"),
        (b"Row;Field\n10001;40\n10002;41\n10003;44\n10004;45\n", "no column holds a date"),
        (b"x;y\n" * (MOST_ROWS + 1), "at most"),
    ],
)
def test_what_is_no_log_is_refused_with_its_reason(data: bytes, words: str) -> None:
    with pytest.raises(LogError, match=words):
        opened(data)


@given(st.binary(max_size=3000))
def test_any_bytes_are_read_or_refused_in_words(data: bytes) -> None:
    try:
        log = taken(data)
    except LogError as error:
        assert str(error)
    else:
        assert (np.diff(log.at) > 0).all()


def test_the_days_of_a_log_are_summed_by_the_place_s_clock() -> None:
    # one row before midnight begins the log: no day of its own
    log = taken(written(zone=UTC))
    days = days_of(log, zone_h=0.0)
    want = truth()
    by_day = want["pump_share"].reshape(DAYS, -1)
    assert len(days.day) == DAYS
    assert days.is_full.all()
    np.testing.assert_allclose(days.pump_h, by_day.sum(axis=1) * STEP_S / 3600)
    assert days.days_run == DAYS
    assert days.hours_run == pytest.approx(by_day.sum() * STEP_S / 3600)
    assert (days.starts == 1.0).all()
    assert days.usual_starts == 1.0
    np.testing.assert_allclose(days.field_high, want["field_c"].reshape(DAYS, -1).max(axis=1))
    np.testing.assert_allclose(days.foot_low, want["low_c"].reshape(DAYS, -1).min(axis=1))
    assert days.field_hottest == pytest.approx(want["field_c"].max())
    assert days.store_hottest == pytest.approx(want["high_c"].max())
    assert days.gauge_least == pytest.approx(1.6e5)
    # by a clock eight hours behind the first eight hours are a day's end
    west = days_of(log, zone_h=-8.0)
    assert len(west.day) == DAYS + 1
    assert west.read_h[0] == pytest.approx(8.0)
    assert not west.is_full[0]


def test_days_without_a_row_stand_between_and_what_was_not_logged_is_none() -> None:
    lines = written().splitlines()
    per_day = WHOLE_DAY_S // STEP_S
    found = opened("\n".join([*lines[: 1 + 3 * per_day], *lines[1 + 6 * per_day :]]).encode())
    log = read_log(found, LogMapping({1: ("field_c", "°C")}, "utc"), zone_h=0.0, now=NOW)
    days = days_of(log, zone_h=0.0)
    assert len(days.day) == DAYS
    # the row before a gap speaks for one interval, not for the days without one
    assert days.read_h[2] == pytest.approx(24.0)
    assert (days.read_h[3:6] == 0.0).all()
    assert np.isnan(days.field_high[3:6]).all()
    assert not days.has_pump
    assert (days.hours_run, days.usual_starts, days.days_run) == (0.0, 0.0, 0)
    assert (days.store_hottest, days.gauge_least) == (None, None)


def local_minutes(begins: datetime, days: int, offset_h: list[tuple[int, int]]) -> np.ndarray:
    """What a wall clock reads each minute: hours ahead by the minute from which they hold."""
    utc = int(begins.timestamp()) + np.arange(days * 1440) * 60
    ahead = np.zeros(len(utc), dtype=np.int64)
    for minute, hours in offset_h:
        ahead[minute:] = hours * 3600
    return utc + ahead


def test_summer_time_is_seen_where_an_hour_is_left_out_and_where_one_comes_twice() -> None:
    # 29 March 2026, a Sunday, 01:00 UTC, for a clock an hour ahead; back on 25 October
    spring = local_minutes(datetime(2026, 3, 28, tzinfo=UTC), 3, [(0, 1), (1440 + 60, 2)])
    found = summer_time(spring)
    assert found.changes == 1
    assert found.ahead.sum() == 3 * 1440 - 1500
    autumn = local_minutes(datetime(2026, 10, 24, tzinfo=UTC), 3, [(0, 2), (1440 + 60, 1)])
    found = summer_time(autumn)
    assert found.changes == 1
    assert found.ahead.sum() == 1500
    # an hour without power on a Tuesday is a gap
    tuesday = np.concatenate([spring[:300] + 2 * WHOLE_DAY_S, spring[360:900] + 2 * WHOLE_DAY_S])
    assert summer_time(tuesday).changes == 0


def test_a_log_through_spring_by_a_wall_clock_has_no_hole() -> None:
    local = local_minutes(datetime(2026, 3, 28, tzinfo=UTC), 3, [(0, 1), (1500, 2)])
    rows = [
        f"{datetime.fromtimestamp(int(at), UTC):%d.%m.%Y %H:%M};{40 + at % 7000 / 200:.1f};{30 + at % 90_000 / 9000:.1f};30"
        for at in local
    ]
    log = taken("\n".join(["Date;Field;Store top;Store foot", *rows]), zone_h=1.0)
    assert (np.diff(log.at) == 60).all()
    assert log.begins == datetime(2026, 3, 28, tzinfo=UTC)


def test_files_of_one_device_join_and_a_moment_counts_once() -> None:
    lines = written().splitlines()
    first, second = taken("\n".join(lines[:2000])), taken("\n".join([lines[0], *lines[1900:]]))
    both = joined([second, first])
    assert_true(both)
    assert repaired(both)["twice"] == 100
    with pytest.raises(LogError):
        joined([])


def test_a_name_given_twice_or_none_is_refused() -> None:
    found = opened(written().encode())
    for channels, words in (({1: ("field_c", "°C"), 2: ("field_c", "°C")}, "same name"), ({}, "no column is named")):
        with pytest.raises(LogError, match=words):
            read_log(found, LogMapping(channels, "utc"), zone_h=0.0, now=NOW)


def test_each_channel_has_a_unit_and_cells_keep_what_quotes_hold() -> None:
    kinds = {kind for kind, _, _ in UNITS.values()}
    assert {channel.kind for channel in CHANNELS} == kinds
    assert cells_of('1,"2,5",3', ",") == ["1", "2,5", "3"]


def test_the_newest_rows_are_readings_and_what_is_missing_is_none() -> None:
    lines = written().splitlines()
    lines[-1] = lines[-1].rsplit(";", 1)[0] + ";---"
    log = taken("\n".join(lines))
    readings = newest_readings(log, WHOLE_DAY_S)
    assert len(readings) == WHOLE_DAY_S // STEP_S
    assert readings[-1].at == log.ends
    assert readings[-1].gauge_pa is None
    assert readings[-1].hot_c is None
    assert readings[0].field_c == pytest.approx(log.columns["field_c"][-len(readings)])


@lru_cache
def kvist_log() -> tuple[str, ...]:
    """Six weeks of the house by ten minutes; its check valve begins to leak on day 17."""
    design = kvist_plan_b()
    device = Standin(
        plant_of(design), pair_of(design), datetime(2026, 5, 4, tzinfo=UTC), 7, (Fault("leaking_check", 17 * 86_400.0),)
    )
    into = io.StringIO()
    write_csv(device.run(42 * 86_400.0, 600.0), into)
    return tuple(into.getvalue().splitlines())


def cellar(first_day: int, last_day: int, *, without: tuple[str, ...] = ()) -> Log:
    """Days of the log that the stand-in wrote; its check valve begins to leak on day 17."""
    lines = kvist_log()
    found = opened("\n".join([lines[0], *lines[1 + 144 * first_day : 1 + 144 * last_day]]).encode())
    channels = {at: pair for at, pair in as_guessed(found).channels.items() if pair[0] not in without}
    return read_log(found, LogMapping(channels, "utc"), zone_h=0.0, now=NOW)


def test_heat_that_rises_by_night_is_seen_from_the_day_it_began_and_not_before() -> None:
    assert warm_nights(cellar(0, 17), zone_h=0.0) == []
    (seen,) = warm_nights(cellar(0, 42), zone_h=0.0)
    said = re.search(r"on (\d+) of (\d+) nights from (\d+) May to 14 June", seen.what.text("metric"))
    assert said is not None
    shown, nights, first = map(int, said.groups())
    assert 21 <= first <= 23, "dull days cool both lines alike"
    assert shown >= 0.85 * nights
    assert seen.level == "fix"
    # with a field that stays cold it may be one pipe that circulates within itself
    log = cellar(0, 42)
    log.columns["field_c"][log.columns["pump_share"] == 0.0] = 5.0
    assert [one.level for one in warm_nights(log, zone_h=0.0)] == ["mind"]
    # four nights are not enough to say it
    assert warm_nights(cellar(0, 21), zone_h=0.0) == []
    # a log that was never healthy is judged too
    assert warm_nights(cellar(18, 42), zone_h=0.0)


def test_a_log_that_cannot_tell_says_nothing_of_its_nights() -> None:
    log = cellar(0, 42, without=("cold_c", "air_c"))
    assert not sees_nights(log)
    assert warm_nights(log, zone_h=0.0) == []
    assert sees_nights(cellar(0, 5))


@pytest.mark.parametrize(("over", "is_seen"), [(9.0, True), (3.0, False), (-4.0, False)])
def test_a_field_over_the_air_by_night_is_seen(over: float, is_seen: bool) -> None:
    at = int(BEGINS.timestamp()) + np.arange(20 * 144) * 600
    hour = at % WHOLE_DAY_S / 3600
    air = 6.0 + np.zeros(len(at))
    pump = ((hour > 9) & (hour < 16)).astype(float)
    log = Log(at, {"field_c": np.where(pump > 0, 60.0, air + over), "air_c": air, "pump_share": pump}, 600, ())
    assert bool(warm_nights(log, zone_h=0.0)) is is_seen
    # nights in which the pump ran, as to cool the store, say nothing
    log.columns["pump_share"][hour < 4] = 1.0
    assert warm_nights(log, zone_h=0.0) == []
