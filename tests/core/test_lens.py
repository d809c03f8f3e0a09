"""The day under the lens, its races and the map of pairs; functions of the controller; sensors by their ohms."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.simulation import kernel, plan_day
from rowan.core.simulation.controller import COOLS, DUMPS, EXERCISES, FROST_RUN, NIGHT, Functions, functions
from rowan.core.simulation.day import (
    KINDS,
    Day,
    Light,
    Ready,
    by_minute,
    cloud_pattern,
    light_of,
    paces_of,
    ready,
    run_day,
)
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.simulation.simulate import plane_of, sky_of
from rowan.core.simulation.system import System
from rowan.core.simulation.year import run_year
from rowan.core.steps.control import sensors
from rowan.core.steps.control.sensors import BenchReading, PointCurve
from rowan.core.studies.pairs import LEAST_APART_K, Tried, Weights, advise, grid, pair_map, try_pairs, weights_of
from rowan.core.terms.calendar import DAYS, MINUTES_A_DAY
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.demo.corrim import corrim
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered, plan_b

KWH = 3.6e6


@pytest.fixture(scope="module")
def result() -> Reckoning:
    return reckon(plan_b())


@lru_cache
def plain() -> Design:
    """The built house with nothing acting beside the two differences."""
    return altered(plan_b(), functions__least_run_s=0.0)


def made(kind: Any = "clear", day: int = 106) -> Ready:
    return made_ready(plain(), reckon(plain()), Lens(kind, day))


def with_functions(start: Ready, **those: Any) -> Ready:
    return replace(start, plant=start.plant._replace(more=functions(**those)))


# the day


def test_a_year_of_days_is_the_year() -> None:
    """The bench's way to the kernel gives the year's sums where it is given the year's weather and step."""
    design = plan_b()
    found = reckon(design)
    sky = sky_of(design)
    system, draws = system_of(design, found, sky.weather), draws_of(design, sky.weather)
    survey = design.survey
    plane = plane_of(sky, survey.roof_tilt_deg.value, survey.roof_azimuth_deg.value, found.site.horizon)
    year = run_year(system=system, weather=sky.weather, plane=plane, draws=draws, long_nights=False)
    sun = np.repeat(system.field.absorbed(plane, sky.weather.air), 60)
    air = np.repeat(sky.weather.air, 60)
    light = Light(sun, air)
    eve = Light(sun[:MINUTES_A_DAY], air[:MINUTES_A_DAY])
    whole = ready(system, draws, light, eve, range(DAYS))
    control = design.control
    days = run_day(
        replace(whole, plant=whole.plant._replace(step=60.0)),
        start=control.start_k.value,
        stop=control.stop_k.value,
        watch=False,
    )
    # they begin with another store and the days sleep through dark hours: one day's heat in a year of them
    assert days.total("coil") == pytest.approx(year.solar_heat, rel=4e-3)
    assert days.total("demand") == pytest.approx(year.total("demand"))


@pytest.mark.parametrize("kind", KINDS)
def test_a_day_closes_its_balance(kind: str, result: Reckoning) -> None:
    start = made(kind)
    run = run_day(start, start=8.0, stop=3.0, watch=False)
    state = start.state
    plant = start.plant

    def held(s: kernel.State) -> float:
        return float(plant.cold[0] @ s.cold + plant.hot[0] @ s.hot + plant.node_capacity * s.store.sum())

    after = kernel.State(*(part.copy() for part in state))
    sums, highest = np.zeros((len(start.days), len(kernel.SUMS))), np.zeros(2)
    none = np.zeros((0, len(kernel.WATCHED)), dtype=np.float32)
    own = plant._replace(start=8.0, stop=3.0)
    kernel.run(own, paces_of(own), after, start.feed, kernel.Kept(sums, highest, none, none))
    gained = sum(run.total(name) for name in ("collector", "pump_heat", "backup"))
    lost = sum(run.total(name) for name in ("line_loss", "store_loss", "draw", "dumped", "ring"))
    assert gained - lost == pytest.approx(held(after) - held(state), abs=1e-3 * max(run.total("collector"), KWH))


def test_skies_rank_as_they_should() -> None:
    heat = {
        kind: run_day(made(kind), start=8, stop=3, watch=False).total("coil") for kind in ("clear", "broken", "dull")
    }
    assert heat["clear"] > heat["broken"] > heat["dull"] > 0


def test_a_frosty_night_is_as_cold_as_the_place_gets() -> None:
    found = made("frost")
    assert found.feed.air.min() == pytest.approx(plan_b().survey.design_minimum_c.value, abs=0.01)
    assert found.days == range(15, 16), "the middle of January"


def test_nobody_draws_in_a_week_away_and_the_store_reaches_its_limit() -> None:
    run = run_day(made("away", 170), start=8, stop=3)
    assert run.total("demand") == 0
    assert run.watched.shape[0] == 7 * 8640
    limit = plan_b().store.maximum_c.value
    assert limit <= run.highest_store < limit + 3


def test_the_same_day_has_the_same_clouds() -> None:
    assert (cloud_pattern(106) == cloud_pattern(106)).all()
    assert (cloud_pattern(106) != cloud_pattern(107)).any()
    assert cloud_pattern(106).min() < 0.2
    assert cloud_pattern(106).max() == 1.0


@pytest.mark.parametrize("day", [0, 106, DAYS - 1])
def test_a_day_s_light_is_what_the_year_s_hours_give(day: int) -> None:
    """A day takes its own hours alone, at the year's ends too."""
    design, found = plain(), reckon(plain())
    sky = sky_of(design)
    system = system_of(design, found, sky.weather)
    plane = plane_of(sky, design.tilt_deg, design.survey.roof_azimuth_deg.value, found.site.horizon)
    days = range(day, day + 1)
    light = light_of(system, sky.weather, (plane, None), days)
    whole = by_minute(system.field.absorbed(plane, sky.weather.air), days)
    assert light.sun == pytest.approx(whole, rel=1e-12, abs=1e-9)
    assert light.sun.max() > 0.0, "a day without light would compare nothing"
    assert (light.air == by_minute(sky.weather.air, days)).all()


@given(st.integers(0, 364))
@settings(max_examples=20, deadline=None)
def test_minutes_go_through_the_middles_of_the_hours(day: int) -> None:
    hours = np.sin(np.arange(8760) / 11.0)
    minutes = by_minute(hours, range(day, day + 1))
    middles = minutes.reshape(24, 60)[:, 29:31].mean(axis=1)
    assert middles == pytest.approx(hours[24 * day : 24 * day + 24], abs=0.01)


def test_a_pair_that_crosses_is_refused(result: Reckoning) -> None:
    with pytest.raises(ImpossibleInputError, match="below the start"):
        run_day(made(), start=4, stop=4)
    start = made()
    sky = sky_of(plan_b())
    system, draws = system_of(plan_b(), result, sky.weather), draws_of(plan_b(), sky.weather)
    whole, short = Light(start.feed.sun, start.feed.air), Light(start.feed.sun[:100], start.feed.air[:100])
    with pytest.raises(ImpossibleInputError, match="minutes"):
        ready(system, draws, short, whole, range(5, 6))


@given(start=st.floats(4, 16), stop=st.floats(0.5, 3.5))
@settings(max_examples=15, deadline=None)
def test_what_is_watched_adds_up(start: float, stop: float) -> None:
    run = run_day(made("broken"), start=start, stop=stop)
    speed = run.column("speed")
    assert (speed > 0).sum() * 10.0 == pytest.approx(run.total("pump_time"))
    rises = int(((speed[1:] > 0) & (speed[:-1] == 0)).sum()) + int(speed[0] > 0)
    assert rises == run.starts
    assert run.highest_collector >= run.column("exit").max() - 0.01


def test_a_wider_pair_starts_less_often() -> None:
    day = made("broken")
    starts = [run_day(day, start=a, stop=b, watch=False).starts for a, b in ((5, 4), (8, 3), (14, 2))]
    assert starts == sorted(starts, reverse=True)
    assert starts[0] > starts[-1]


# functions


def ran(start: Ready, why: int, **those: Any) -> Day:
    run = run_day(with_functions(start, **those), start=8.0, stop=3.0)
    assert (run.column("why") == why).any(), "it never acted"
    return run


def test_functions_that_are_off_change_nothing() -> None:
    plain = run_day(made("broken"), start=8.0, stop=3.0)
    off = run_day(with_functions(made("broken"), least_run=0.0), start=8.0, stop=3.0)
    assert off.total("coil") == pytest.approx(plain.total("coil"), rel=0.01)
    assert abs(off.starts - plain.starts) <= 2, "sensors are read a step later"


def test_a_least_run_and_a_slower_pump_calm_it() -> None:
    day = made("broken")
    plain = run_day(day, start=8.0, stop=3.0).starts
    assert run_day(with_functions(day, least_run=600.0), start=8.0, stop=3.0).starts < plain
    slow = run_day(with_functions(day, floor=0.3, slope=0.1), start=8.0, stop=3.0)
    assert slow.starts < plain
    speeds = slow.column("speed")
    assert speeds[speeds > 0].min() == pytest.approx(0.3)
    assert slow.total("electric") < run_day(day, start=8.0, stop=3.0).total("electric")


def test_a_sensor_that_reads_wrong_costs_heat_or_runs_for_nothing() -> None:
    day = made("clear")
    right = run_day(day, start=8.0, stop=3.0)
    low = run_day(with_functions(day, field_offset=-6.0), start=8.0, stop=3.0)
    high = run_day(with_functions(day, field_offset=6.0), start=8.0, stop=3.0)
    assert low.total("coil") < right.total("coil")
    assert high.total("wasted") > right.total("wasted")
    assert high.total("electric") > right.total("electric")


def test_a_strapped_and_slow_sensor_starts_later() -> None:
    day = made("clear")
    first = {}
    for name, those in (("pocket", {"least_run": 0.0}), ("strapped", {"field_strap": 0.2, "field_lag": 300.0})):
        run = run_day(with_functions(day, **those), start=8.0, stop=3.0)
        first[name] = float(run.hours[(run.column("speed") > 0).argmax()])
    assert first["strapped"] > first["pocket"]


def test_a_full_store_is_cooled_dumped_or_left() -> None:
    week = made("away", 170)
    left = run_day(with_functions(week, least_run=0.0), start=8.0, stop=3.0, watch=False)
    cooled = ran(week, COOLS, cooling=110.0)
    dumped = ran(week, DUMPS, dump=100.0, dump_w_k=120.0)
    assert cooled.highest_collector < left.highest_collector
    assert dumped.highest_collector < left.highest_collector
    assert dumped.total("dumped") > KWH
    assert cooled.highest_store > left.highest_store, "what the field loses the store takes"
    assert cooled.highest_store < 96


def test_no_function_fills_a_dry_field_that_is_too_hot() -> None:
    design = corrim()
    week = made_ready(design, reckon(design), Lens("away", 170))
    refill = design.control.refill_c.value
    run = run_day(with_functions(week, cooling=110.0), start=8.0, stop=3.0)
    speed, exit_c = run.column("speed"), run.column("exit")
    starts = np.flatnonzero((speed[1:] > 0) & (speed[:-1] == 0))
    assert exit_c.max() > 110.0, "the field was hot enough to ask for cooling"
    assert exit_c[starts].max() < refill


def test_night_cooling_gives_heat_back_and_only_on_its_days() -> None:
    week = made("away", 170)
    marked = np.zeros(DAYS)
    week = replace(week, feed=week.feed._replace(cool_days=marked))
    never = run_day(with_functions(week, night_c=55.0), start=8.0, stop=3.0)
    assert not (never.column("why") == NIGHT).any()
    marked[week.days.start : week.days.stop] = 1.0
    found = ran(week, NIGHT, night_c=55.0)
    assert found.total("wasted") > KWH
    assert found.highest_store <= never.highest_store


def test_exercise_runs_once_a_week() -> None:
    week = made("away", 170)
    run = run_day(with_functions(week, exercise=120.0, exercise_minute=120), start=8.0, stop=3.0)
    assert (run.column("why") == EXERCISES).sum() == 12, "two minutes of ten seconds, one night in seven"


def test_frost_runs_and_pauses() -> None:
    design = altered(sandreef(), control__frost=True, survey__design_minimum_c=-6.0)
    found = made_ready(design, reckon(design), Lens("frost", 0))
    always = run_day(found, start=8.0, stop=3.0)
    paused = run_day(with_functions(found, frost_run=20.0, frost_pause=60.0), start=8.0, stop=3.0)

    def longest(run: Day) -> int:
        """Steps of the longest time that frost protection ran without a pause."""
        on = (run.column("why") == FROST_RUN).astype(int)
        edges = np.flatnonzero(np.diff(np.concatenate(([0], on, [0]))))
        return int((edges[1::2] - edges[::2]).max())

    assert longest(paused) == 2, "twenty seconds of ten"
    assert longest(always) > 2
    assert paused.total("frost") > 0
    assert paused.column("exit")[: 6 * 360].min() > 0.0, "it still keeps the field from freezing"


def test_a_battery_cuts_off_and_comes_back() -> None:
    day = made("clear")
    small = run_day(
        with_functions(day, battery_wh=20.0, panel_w=20.0, resistance=0.1, cut_v=11.6, resume_v=12.4),
        start=8.0,
        stop=3.0,
    )
    large = run_day(
        with_functions(day, battery_wh=2000.0, panel_w=60.0, resistance=0.1, cut_v=11.6, resume_v=12.4),
        start=8.0,
        stop=3.0,
    )
    assert small.total("pump_time") < large.total("pump_time")
    assert large.total("coil") == pytest.approx(run_day(day, start=8.0, stop=3.0).total("coil"), rel=0.02)


def test_a_ring_main_takes_heat_while_it_may() -> None:
    day = made("clear")
    ring = {"ring_flow": 2e-5, "ring_w_k": 8.0, "ring_node": 6}
    minutes = np.zeros(MINUTES_A_DAY)
    quiet = run_day(with_functions(replace(day, feed=day.feed._replace(ring_minutes=minutes)), **ring), start=8, stop=3)
    assert quiet.total("ring") == 0
    minutes = np.ones(MINUTES_A_DAY)
    found = run_day(with_functions(replace(day, feed=day.feed._replace(ring_minutes=minutes)), **ring), start=8, stop=3)
    assert found.total("ring") > KWH
    by_return = run_day(
        with_functions(replace(day, feed=day.feed._replace(ring_minutes=minutes)), **ring, ring_return=40.0),
        start=8,
        stop=3,
    )
    assert 0 < by_return.total("ring") < found.total("ring")


def test_hygiene_heats_the_store_through() -> None:
    week = made("away", 20)
    run = run_day(with_functions(week, hygiene_c=60.0, hygiene_minute=180), start=8.0, stop=3.0)
    assert run.column("foot").max() >= 59.9
    plain = run_day(with_functions(week, least_run=0.0), start=8.0, stop=3.0)
    assert run.total("backup") > plain.total("backup")


def test_a_function_named_wrongly_is_no_function() -> None:
    with pytest.raises(TypeError):
        functions(no_such=1.0)
    assert isinstance(functions(), Functions)
    assert not functions().used


def test_the_year_runs_with_functions(result: Reckoning) -> None:
    design = plan_b()
    sky = sky_of(design)
    system: System = system_of(design, result, sky.weather)
    survey = design.survey
    plane = plane_of(sky, survey.roof_tilt_deg.value, survey.roof_azimuth_deg.value, result.site.horizon)
    draws = draws_of(design, sky.weather)
    plain = run_year(system=system, weather=sky.weather, plane=plane, draws=draws)
    calm = run_year(
        system=replace(system, more=functions(floor=0.3, slope=0.1)), weather=sky.weather, plane=plane, draws=draws
    )
    assert calm.residual < 1e-3
    assert calm.total("starts") < plain.total("starts")
    assert calm.solar_heat == pytest.approx(plain.solar_heat, rel=0.1)
    assert (calm.total("electric") / calm.total("pump_time")) < (plain.total("electric") / plain.total("pump_time"))


# advice


def test_the_grid_never_lets_start_and_stop_meet() -> None:
    assert all(start - stop >= LEAST_APART_K for start, stop in grid())
    assert len(set(grid())) == len(grid()) > 150


def tried(heat: float, starts: float = 0.0) -> Tried:
    return Tried(heat * KWH, 0.0, 0.0, starts, 0.0)


def test_the_smallest_regret_wins_not_the_best_single_day() -> None:
    pairs = ((6.0, 2.0), (8.0, 2.0), (10.0, 2.0))
    days = ((tried(10.0), tried(9.8), tried(9.0)), (tried(1.0), tried(1.9), tried(2.0)))
    found = advise(pairs, days, Weights(0.0, 0.0), floor=1.0)
    assert (found.start, found.stop) == (8.0, 2.0)
    assert found.regret == pytest.approx(0.2 * KWH)
    assert found.regret_of(6.0, 2.0) == pytest.approx(1.0 * KWH)
    assert found.regret_of(7.0, 2.0) is None


def test_starts_and_the_floor_weigh() -> None:
    pairs = ((6.0, 1.0), (8.0, 3.0))
    days = ((tried(10.0, 50), tried(9.9, 5)),)
    assert advise(pairs, days, Weights(0.0, 0.0), floor=0.5).start == 6.0
    assert advise(pairs, days, Weights(0.0, 36e3), floor=0.5).start == 8.0
    assert advise(pairs, days, Weights(0.0, 0.0), floor=2.0).start == 8.0
    assert advise(pairs, days, Weights(0.0, 0.0), floor=9.0).start == 6.0, "where none reaches the floor all are taken"
    with pytest.raises(ImpossibleInputError):
        advise((), (), Weights(0.0, 0.0), floor=1.0)


def test_pairs_stop_when_they_are_told_to() -> None:
    assert try_pairs(made(), grid()[:4], stop_asked=lambda: True) == ()
    two = try_pairs(made(), ((8.0, 3.0), (6.0, 4.0)))
    assert two[0] == Tried.of(run_day(made(), start=8.0, stop=3.0, watch=False))


def test_the_map_of_a_plan(result: Reckoning) -> None:
    found = pair_map(plan_b(), result, day=usual_day(plan_b()))
    assert found is not None
    assert found.advice.stop >= result.differences.floor
    own = race_day(made_ready(plan_b(), result, Lens("broken", usual_day(plan_b()))), start=8.0, stop=3.0)
    at = found.pairs.index((8.0, 3.0))
    assert found.tried["broken"][at] == Tried.of(own), "map and race run the same day"
    assert weights_of(plan_b()).electricity > 1
    assert usual_day(sandreef()) > 200 > usual_day(plan_b())
    assert (
        pair_map(altered(plan_b(), run__bends=29), reckon(altered(plan_b(), run__bends=29)), day=3, run=False) is None
    )


def test_the_plan_s_pair_does_not_move_where_the_race_begins(result: Reckoning) -> None:
    other = altered(plan_b(), control__start_k=12.0, control__stop_k=6.0)
    assert made_ready(other, reckon(other), Lens("clear", 106)) is made_ready(plan_b(), result, Lens("clear", 106))


# sensors


@given(st.floats(-199, 849))
def test_platinum_goes_there_and_back(temperature: float) -> None:
    assert sensors.platinum_c(ohm=sensors.platinum_ohm(temperature=temperature)) == pytest.approx(temperature, abs=1e-6)


@pytest.mark.parametrize(
    ("temperature", "ohm"),
    [(-200, 185.201), (-50, 803.063), (25, 1097.347), (100, 1385.055), (200, 1758.560), (850, 3904.811)],
)
def test_platinum_as_published(temperature: float, ohm: float) -> None:
    # IEC 60751, a thousand ohms at 0 °C: the table for a hundred has two decimals
    assert sensors.platinum_ohm(temperature=temperature) == pytest.approx(ohm, abs=0.06)


@given(st.sampled_from(sensors.SENSOR_KINDS), st.floats(-59, 199))
def test_every_kind_goes_there_and_back(kind: sensors.SensorKind, temperature: float) -> None:
    assert kind.temperature(kind.ohm(temperature)) == pytest.approx(temperature, abs=1e-6)


def test_thermistors_fall_and_have_their_value_at_25() -> None:
    ntc = next(kind for kind in sensors.SENSOR_KINDS if kind.key == "ntc-10k")
    assert ntc.ohm(25.0) == pytest.approx(10_000.0)
    assert ntc.ohm(0.0) > ntc.ohm(25.0) > ntc.ohm(60.0)
    with pytest.raises(OutOfRangeError):
        ntc.ohm(400.0)
    with pytest.raises(OutOfRangeError):
        ntc.temperature(1e9)
    with pytest.raises(OutOfRangeError):
        sensors.platinum_c(ohm=5000.0)


@given(st.floats(1, 99))
def test_a_typed_curve_goes_through_its_points_and_between(temperature: float) -> None:
    curve = PointCurve(((100.0, 680.0), (0.0, 32650.0), (25.0, 10000.0), (50.0, 3603.0)))
    assert curve.temperature(curve.ohm(temperature)) == pytest.approx(temperature, abs=1e-6)
    assert curve.temperature(10_000.0) == pytest.approx(25.0)


@pytest.mark.parametrize(
    "points",
    [
        ((0.0, 100.0),),
        ((0.0, 100.0), (10.0, 50.0), (20.0, 80.0)),
        ((0.0, 100.0), (0.0, 90.0)),
        ((0.0, 0.0), (9.0, 5.0)),
        ((0.0, 5.0), (9.0, 5.0)),
    ],
)
def test_a_curve_that_turns_back_is_refused(points: tuple[tuple[float, float], ...]) -> None:
    with pytest.raises(ImpossibleInputError):
        PointCurve(points)


def test_which_sensor_is_this() -> None:
    assert sensors.candidates(ohm=1077.9)[0].kind.key == "platinum-1000"
    assert sensors.candidates(ohm=12_490.0, held_at=20.0)[0].kind.key == "ntc-10k"
    assert sensors.candidates(ohm=1e7) == ()
    assert sensors.broken(ohm=2e6) == "open"
    assert sensors.broken(ohm=0.4) == "short"
    assert sensors.broken(ohm=1100.0) == ""


def test_an_open_collector_sensor_is_safe_with_a_thermistor_only() -> None:
    platinum, ntc = sensors.SENSOR_KINDS[0], sensors.SENSOR_KINDS[2]

    def safe(kind: sensors.SensorKind, place: str, state: str) -> bool:
        return next(f.safe for f in sensors.faults(kind) if (f.place, f.state) == (place, state))

    assert not safe(platinum, "collector", "open")
    assert safe(ntc, "collector", "open")
    assert safe(platinum, "store", "open")
    assert not safe(ntc, "store", "open")
    assert all(safe(k, "collector", "open") != safe(k, "collector", "short") for k in (platinum, ntc))


def test_side_by_side_tells_offset_from_drift() -> None:
    mean, told = sensors.side_by_side([BenchReading(20.4, 20.0)])
    assert mean == pytest.approx(0.4)
    assert [line.level for line in told] == [""]
    _, told = sensors.side_by_side([BenchReading(22.0, 20.0), BenchReading(62.2, 60.0)])
    assert [line.level for line in told] == ["mind"]
    _, told = sensors.side_by_side([BenchReading(25.0, 20.0), BenchReading(61.0, 60.0)])
    assert "fix" in [line.level for line in told]
    _, told = sensors.side_by_side([BenchReading(25.0, 25.2, true=20.0)])
    assert sum("sensor shows" in line.what.text() for line in told) == 2
    with pytest.raises(ImpossibleInputError):
        sensors.side_by_side([])


def test_what_was_seen_against_what_was_set() -> None:
    assert [t.level for t in sensors.switch_told(on=8.2, off=3.1, start=8, stop=3)] == ["", ""]
    assert [t.level for t in sensors.switch_told(on=11, off=3.1, start=8, stop=3)] == ["fix", ""]
    assert sensors.switch_told(on=4, off=4, start=8, stop=3)[-1].level == "stop"


def test_swapped_sensors_show_in_the_hand() -> None:
    assert sensors.swapped(collector_read=0.2, store_read=6.0, warmed="collector")
    assert not sensors.swapped(collector_read=6.0, store_read=0.2, warmed="collector")
    assert sensors.swapped(collector_read=6.0, store_read=0.2, warmed="store")


def test_what_kinds_of_day_share_of_a_plan_is_made_once_and_never_another_plan_s(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    asked: list[Design] = []

    def counted(design: Design, result: Reckoning, weather: Any) -> System:
        """The system, and that it was asked for."""
        asked.append(design)
        return system_of(design, result, weather)

    design = altered(plan_b(), survey__gauge_to_top_m=8.7)
    result, thirsty = reckon(design), altered(design, duty__persons=design.duty.persons.value + 3)
    monkeypatch.setattr(plan_day, "system_of", counted)
    clear, broken = (made_ready(design, result, Lens(kind, 106)) for kind in ("clear", "broken"))
    assert len(asked) == 1
    assert clear is not broken
    # the same reckoning under another design, and a design's other reckoning, are not taken for it
    made_ready(thirsty, result, Lens("clear", 106))
    made_ready(design, reckon(design), Lens("clear", 106))
    assert len(asked) == 3
    assert made_ready(design, result, Lens("clear", 106)) is clear
    assert len(asked) == 3
