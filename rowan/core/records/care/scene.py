"""A log and its plan side by side: what was read and what the loop's twin is driven by, row by row, and the blocks both are compared in."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.care.twin import Loop
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.log import GAP_STEPS, Log
from rowan.core.records.logs.stamps import HOUR_S, WHOLE_DAY_S
from rowan.core.records.planned import allowed_in
from rowan.core.simulation.controller import speed_share
from rowan.core.simulation.day import clear_weather, month_air
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.simulate import planes_of, sky_of, sun_of
from rowan.core.simulation.system import NEVER_C, Line, System
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

Array = NDArray[np.float64]
NEEDED = ("field_c", "low_c", "pump_share")
ROW_S = 60.0  # s between rows that are reckoned, where a log has more
# hours of the sun's day at which a part of it begins: night, morning, noon, afternoon, evening
PARTS_H = (0.0, 5.0, 10.0, 14.0, 19.0)
BINS = 2 * len(PARTS_H)  # pump at rest and running, in each part of the day
LEAST_BLOCK_S = 900.0  # s of a part of a day that have to be read
LEAST_CLEAR_W_M2 = 20.0  # W/m² of a clear sky below which no share of it is told
TOP_OVER_FOOT_K = 15.0  # K of a store's top over its foot where only the foot is read; rule of thumb
USUAL_UP = 0.15  # of the way from foot to top: where the warmer half of a coil in the lower store works; rule of thumb
LEAST_DAYS = 3
NOON = 2  # of the parts of a day
BUSY_S = 3600.0  # s for which the pump has to run in it
DRAW_K, DRAW_S = 1.5, 1200.0  # K by which the foot falls within s when water is drawn


@record
class Gauge:
    """How the gauge goes with the loop's warmth as planned: as filled [Pa] at 20 °C, and by degree [Pa/K]."""

    fill: float
    by_k: float


@record
class Store:
    """What a store loses and holds: loss over capacity [1/h], what its foot's half holds [J/K], its backup's set point [°C] or None."""

    cools: float
    half: float
    held: float | None
    room: float


@record
class Scene:
    """A log on a regular footing, and its plan as plain numbers. `lasts` is what each row speaks for [s]; `by_file` tells that its light is
    a weather file's."""

    at: Array
    lasts: Array
    day: NDArray[np.int64]
    bin: NDArray[np.int64]
    hour: Array
    read: dict[str, Array]
    given: Array
    days: int
    first_day: int
    loop: Loop
    store: Store
    gauge: Gauge | None
    flow: float
    has_sun: bool
    has_air: bool
    by_file: bool
    step: float

    @cached_property
    def busy_noon(self) -> NDArray[np.bool_]:
        """Rows of noon, pump on or off, of days on which it ran for an hour of them, in the longest piece in which nothing was drawn."""
        noon = self.bin % len(PARTS_H) == NOON
        ran = np.bincount(self.day, weights=self.lasts * (noon & (self.given[:, 2] > 0)), minlength=self.days)
        rows = np.flatnonzero(noon & (ran >= BUSY_S)[self.day] & ~self._drawn())
        found = np.zeros(len(self.at), dtype=bool)
        for day in np.split(rows, np.flatnonzero(np.diff(self.day[rows])) + 1):
            pieces = np.split(day, np.flatnonzero(np.diff(day) > 1) + 1)
            found[max(pieces, key=len)] = True
        return found

    def _drawn(self) -> NDArray[np.bool_]:
        """Rows in which the store's foot falls as nothing but fresh cold water makes it."""
        foot, near = self.given[:, 0], max(1, round(DRAW_S / self.step))
        falls = np.flatnonzero(foot[:-near] - foot[near:] >= DRAW_K)
        edges = np.bincount(falls, minlength=len(foot) + 1) - np.bincount(falls + near + 1, minlength=len(foot) + 1)
        return np.asarray(np.cumsum(edges)[: len(foot)] > 0)

    def blocks(self, values: Array, *, of: NDArray[np.bool_] | None = None) -> Array:
        """Means of values by day and bin, shape (days, BINS); not a number where too little was read."""
        good = np.isfinite(values) if of is None else np.isfinite(values) & of
        place = self.day[good] * BINS + self.bin[good]
        size = self.days * BINS
        lasts = self.lasts[good]
        time = np.bincount(place, weights=lasts, minlength=size)
        sums = np.bincount(place, weights=lasts * values[good], minlength=size)
        with np.errstate(invalid="ignore", divide="ignore"):
            found = np.where(time >= LEAST_BLOCK_S, sums / time, np.nan)
        return np.asarray(found.reshape(self.days, BINS), dtype=float)

    def daily(self, values: Array, of: NDArray[np.bool_], *, least_s: float = 0.0) -> Array:
        """Means of values over some rows of each day."""
        good = np.isfinite(values) & of
        time = np.bincount(self.day[good], weights=self.lasts[good], minlength=self.days)
        sums = np.bincount(self.day[good], weights=self.lasts[good] * values[good], minlength=self.days)
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.asarray(np.where(time > least_s, sums / time, np.nan), dtype=float)


def _line(line: Line) -> tuple[float, float, float]:
    """A line's whole capacity [J/K], loss [W/K] and share outdoors [-]."""
    loss = float(line.loss.sum())
    outdoors = float((line.loss * line.outdoors).sum() / loss) if loss > 0 else 0.0
    return float(line.capacity.sum()), loss, outdoors


def loop_of(system: System) -> Loop:
    """A plan's loop as the twin takes it."""
    field, tank = system.field, system.tank
    hot, cold = _line(system.hot), _line(system.cold)
    area = field.area + (system.beside.area if system.beside else 0.0)
    rate = system.flow * system.heat_capacity
    return Loop(
        area=area,
        eta0=field.eta0,
        a1=field.a1,
        a2=field.a2,
        capacity=area * field.capacity,
        hot_capacity=hot[0],
        hot_loss=hot[1],
        hot_outdoors=hot[2],
        cold_capacity=cold[0],
        cold_loss=cold[1],
        cold_outdoors=cold[2],
        coil=tank.coil_ua if tank.coil_ua > 0 else 50.0 * rate,
        rate=rate,
        room=tank.room,
        up=USUAL_UP,
        dry_capacity=area * field.capacity - system.field_liquid if system.drains else 0.0,
    )


def _hourly(values: Array, of_year: Array) -> Array:
    """A year's hourly means at moments in hours of the year, straight between the middles of hours."""
    return np.interp(of_year, np.arange(-1, HOURS + 1) + 0.5, np.concatenate(([values[-1]], values, [values[0]])))


def scene_of(design: Design, result: Reckoning, log: Log, *, zone_h: float, sky: Sky | None = None) -> Scene:
    """A log on its plan, by a clock that is `zone_h` ahead of universal time [h]; `sky` is the weather of its days, where a file has it. Raises LogError where the log has not what is needed, or too few days; ImpossibleInputError as `system_of`."""
    if any(key not in log.columns for key in NEEDED) or not np.isfinite(log.columns["low_c"]).any():
        raise LogError("field, store foot and pump have to be in the log before it can be held against the plan")
    log = _with_speeds(_thinned(log), design)
    made = sky_of(design)
    system = system_of(design, result, made.weather)
    local = log.at.astype(float) + zone_h * HOUR_S
    number = (local // WHOLE_DAY_S).astype(np.int64)
    first, days = int(number[0]), int(number[-1] - number[0]) + 1
    if days < LEAST_DAYS:
        if days == 1:
            raise LogError(
                "a log of one day says nothing sure: {least_days} with sun at least", least_days=f"{LEAST_DAYS}"
            )
        raise LogError(
            "a log of {days} days says nothing sure: {least_days} with sun at least",
            days=f"{days}",
            least_days=f"{LEAST_DAYS}",
        )
    until = np.diff(log.at, append=log.at[-1] + log.step).astype(float)
    lasts = np.where(until > GAP_STEPS * log.step, float(log.step), until)
    pump = np.nan_to_num(log.columns["pump_share"])
    of_year, solar = _sun_time(log, zone_h, made)
    part = np.searchsorted(PARTS_H, solar, side="right") - 1
    runs = pump > 0.0
    given, has_sun, has_air = _given(design, result, log, system, made, of_year, solar)
    if sky is not None:
        given = _by_file(given, design, result, system, sky, of_year, air=not has_air, light=not has_sun)
    none = np.full(len(log.at), np.nan)
    read = {
        key: log.columns.get(key, none)
        for key in (*NEEDED, "high_c", "hot_c", "cold_c", "flow_m3_s", "gauge_pa", "level_m")
    }
    return Scene(
        at=log.at.astype(float),
        lasts=lasts,
        day=number - first,
        bin=(part + len(PARTS_H) * runs).astype(np.int64),
        hour=(local % WHOLE_DAY_S) / HOUR_S,
        read={key: np.asarray(values, dtype=float) for key, values in read.items()},
        given=given,
        days=days,
        first_day=first,
        loop=loop_of(system),
        store=_store(design, system),
        gauge=_gauge(result),
        flow=result.run.flow,
        has_sun=has_sun,
        has_air=has_air,
        by_file=sky is not None and not has_sun,
        step=float(log.step),
    )


def _with_speeds(log: Log, design: Design) -> Log:
    """The log with the speed its plan gives the pump, where that follows the difference and was logged as on and off alone."""
    may, pump = allowed_in(design), log.columns["pump_share"]
    if may.floor >= 1.0 or _has_speeds(pump):
        return log
    over = log.columns["field_c"] - log.columns["low_c"] - design.control.start_k.value
    runs = np.flatnonzero(pump > 0.0)
    speeds = pump.copy()
    speeds[runs] = [pump[n] if np.isnan(over[n]) else speed_share(over[n], may.floor, may.slope) for n in runs]
    return replace(log, columns=log.columns | {"pump_share": speeds})


def _has_speeds(pump: Array) -> bool:
    """Whether a pump was logged with its speed."""
    share = pump[np.isfinite(pump)]
    return bool(((share > 0.05) & (share < 0.95)).any())


def _thinned(log: Log) -> Log:
    """Every so many rows where a log has more than one a minute."""
    every = max(1, round(ROW_S / max(log.step, 1)))
    if every == 1:
        return log
    return replace(
        log,
        at=log.at[::every],
        columns={key: values[::every] for key, values in log.columns.items()},
        step=log.step * every,
    )


def _sun_time(log: Log, zone_h: float, sky: Sky) -> tuple[Array, Array]:
    """The hour of the year by the place's clock, and the sun's own hour of the day, of each row."""
    moments = log.at.astype("datetime64[s]") + np.timedelta64(round(zone_h * HOUR_S), "s")
    years = moments.astype("datetime64[Y]")
    of_year = (moments - years.astype("datetime64[s]")).astype(float) / HOUR_S % HOURS
    b = 2 * np.pi * (of_year / 24.0 - 80.0) / 364.0
    equation = (9.87 * np.sin(2 * b) - 7.53 * np.cos(b) - 1.5 * np.sin(b)) / 60.0
    solar = (of_year - zone_h + sky.place.longitude / 15.0 + equation) % 24.0
    return of_year, solar


def _given(
    design: Design, result: Reckoning, log: Log, system: System, sky: Sky, of_year: Array, solar: Array
) -> tuple[Array, bool, bool]:
    """What drives the twin, as `follow` wants it, and whether sun and air were read."""
    sun = sun_of(sky.place)
    weather = clear_weather(sky.weather, sun)
    clear = Sky(sky.place, weather, "clear days", f"clear-{sky.digest}")
    first, beside = planes_of(design, clear, result.site.horizon)
    falls, counts = first.beam + first.diffuse, system.field.absorbed(first, weather.air) / system.field.eta0
    if beside is not None and system.beside is not None:
        share = system.beside.area / (system.beside.area + system.field.area)
        falls = (1 - share) * falls + share * (beside.beam + beside.diffuse)
        counts = (1 - share) * counts + share * system.field.absorbed(beside, weather.air) / system.field.eta0
    counts = np.clip(counts, 0.0, None)
    with np.errstate(invalid="ignore", divide="ignore"):
        glass = np.where(falls > LEAST_CLEAR_W_M2, counts / falls, 0.9)
    none = np.full(len(log.at), np.nan)
    measured = log.columns.get("sun_w_m2", none)
    has_sun = bool(np.isfinite(measured).mean() > 0.5)
    light = measured * _hourly(glass, of_year) if has_sun else none
    air = log.columns.get("air_c", none)
    has_air = bool(np.isfinite(air).mean() > 0.5)
    usual = _hourly(month_air(sky.weather), of_year)
    air = np.where(np.isfinite(air), air, usual) if has_air else usual
    foot = filled(log.columns["low_c"])
    top = filled(log.columns["high_c"]) if "high_c" in log.columns else foot + TOP_OVER_FOOT_K
    pump = np.nan_to_num(log.columns["pump_share"])
    # a row of a gap in the sensor's own column counts as dark, not as unknown
    light = np.where(np.isfinite(light), light, 0.0) if has_sun else light
    columns = (foot, top, pump, light, _hourly(counts, of_year), air, log.columns["field_c"], solar)
    return np.ascontiguousarray(np.stack(columns, axis=1), dtype=float), has_sun, has_air


def _by_file(
    given: Array,
    design: Design,
    result: Reckoning,
    system: System,
    sky: Sky,
    of_year: Array,
    *,
    air: bool,
    light: bool,
) -> Array:
    """What drives the twin with the light and the air of a weather file, where the log has none of its own."""
    made = given.copy()
    if light:
        first, beside = planes_of(design, sky, result.site.horizon)
        counts = system.field.absorbed(first, sky.weather.air) / system.field.eta0
        if beside is not None and system.beside is not None:
            share = system.beside.area / (system.beside.area + system.field.area)
            counts = (1 - share) * counts + share * system.field.absorbed(beside, sky.weather.air) / system.field.eta0
        made[:, 3] = _hourly(np.clip(counts, 0.0, None), of_year)
    if air:
        made[:, 5] = _hourly(sky.weather.air, of_year)
    return np.ascontiguousarray(made)


def filled(values: Array) -> Array:
    """Straight over what was not read."""
    good = np.isfinite(values)
    if not good.any():
        return np.zeros(len(values))
    return np.interp(np.arange(len(values)), np.flatnonzero(good), values[good])


def _store(design: Design, system: System) -> Store:
    tank = system.tank
    whole = tank.volume * tank.density * tank.heat_capacity
    heater = system.backup
    # a backup that holidays switch off, or that has no hour in which it may heat, promises no warm top
    heats = heater is not None and system.around is None and bool((heater.minutes > NEVER_C).any())
    held = heater.set_point if heater is not None and heats else None
    return Store(float(tank.node_loss().sum()) * HOUR_S / whole, whole / 2, held, tank.room)


def _gauge(result: Reckoning) -> Gauge | None:
    cold, hot = result.vessel_states.get("fill"), result.vessel_states.get("hot")
    if cold is None or hot is None or cold.station is None or hot.station is None:
        return None
    by_k = (hot.station - cold.station) / (hot.temperature - cold.temperature)
    return Gauge(cold.station + by_k * (20.0 - cold.temperature), by_k)
