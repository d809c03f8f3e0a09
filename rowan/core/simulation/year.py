"""A year of a system in its weather, and what it comes to."""

from __future__ import annotations

from dataclasses import field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation import kernel
from rowan.core.simulation.controller import (
    CHARGE,
    NOT_READ,
    READ_FIELD,
    READ_STORE,
    REMEMBERED,
    RING_C,
    SPEED,
    functions,
)
from rowan.core.simulation.system import NEVER_C, Absorber, Around, Draws, Line, Settings, System, Tank
from rowan.core.terms.calendar import DAY_S, DAYS, DAYS_IN_MONTH, HOURS, MINUTES_A_DAY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.weather.hours import PlaneYear, Weather

Array = NDArray[np.float64]
# s at once where nothing flows and nothing is drawn
LONG_STEP_S = 900.0
MINUTE_S = 60.0
NEVER = np.full(MINUTES_A_DAY, NEVER_C)
# nobody looks: no row is written
UNWATCHED = np.zeros((0, len(kernel.WATCHED)), dtype=np.float32)
NOTHING_MORE = functions()
MONTH_SHARES = np.array(DAYS_IN_MONTH) / DAYS
MONTH_OF_DAY = np.repeat(np.arange(12), DAYS_IN_MONTH)


@record
class After:
    """What comes after the store: whether a heater makes up what it lacks, and what a second tank loses in a year [J]."""

    heats: bool = True
    standing: float = 0.0


@record
class Year:
    """The sums of a year: `daily` [J], [s] by day and by `kernel.SUMS`, shape (365, 16); highest temperatures [°C].

    `kept_warm_loss` is the yearly loss of what the backup keeps warm, without solar [J].
    `residual` is what the energy balance of loop and store leaves over, as a share of the solar heat [-].
    """

    daily: Array
    highest_collector: float
    highest_store: float
    residual: float
    plane_kwh_m2: float
    kept_warm_loss: float = 0.0
    after: After = After()
    weather: str = ""
    traced: NDArray[np.float32] = field(default_factory=lambda: np.zeros((0, len(kernel.HOURLY)), np.float32))
    # what a heater in the store gave, and what the store did not give, by month and hour of the day [J], shape (2, 12, 24)
    clock: Array = field(default_factory=lambda: np.zeros((2, 12, 24)))

    def total(self, name: str) -> float:
        """The year's sum of a name of `kernel.SUMS` [J or s]."""
        return float(self.day_sums(name).sum())

    def day_sums(self, name: str) -> Array:
        """The sums of the days of a name of `kernel.SUMS`, shape (365,) [J or s]."""
        return self.daily[:, kernel.SUMS.index(name)]

    def months(self, name: str) -> Array:
        """The sums of the months, shape (12,)."""
        sums: Array = np.bincount(MONTH_OF_DAY, self.day_sums(name), 12).astype(float)
        return sums

    @property
    def solar_heat(self) -> float:
        """Heat the coil brought into the store [J]."""
        return self.total("coil")

    @property
    def backup(self) -> float:
        """Heat from elsewhere [J]: what a heater in the store gave, and what one after it has to add."""
        return float(self.backup_months.sum())

    @property
    def short_months(self) -> Array:
        """What the store did not give of what was drawn, in each month [J], shape (12,)."""
        return np.asarray(np.clip(self.months("demand") - self.months("draw"), 0.0, None), dtype=float)

    @property
    def backup_months(self) -> Array:
        """Heat from elsewhere in each month [J], shape (12,)."""
        after = self.short_months if self.after.heats else np.zeros(12)
        return np.asarray(self.months("backup") + after + self.after.standing * MONTH_SHARES, dtype=float)

    @property
    def own_need(self) -> Array | None:
        """What holds a body that is its own store, and what is taken from it, in each month [J], shape (12,); None of a tank."""
        held = self.months("held")
        return np.asarray(held + self.months("demand"), dtype=float) if held.sum() > 0 else None

    @property
    def saved_months(self) -> Array:
        """Heat saved against the same house without the sun in each month [J], shape (12,)."""
        need = self.own_need
        if need is not None:
            return np.asarray(np.minimum(self.months("coil"), need), dtype=float)
        standing = (self.kept_warm_loss + self.after.standing) * MONTH_SHARES
        return np.asarray(self.months("demand") + standing - self.backup_months - self.unmet_months, dtype=float)

    @property
    def unmet_months(self) -> Array:
        """What nobody made up, in each month [J], shape (12,)."""
        return np.zeros(12) if self.after.heats else self.short_months

    @property
    def solar_fraction(self) -> float:
        """1 − (backup + unmet)/(demand + what the backup alone would lose) [-]; of what is its own store, the share of its need.

        Source: methods 5.
        """
        need = self.own_need
        if need is not None:
            return float(np.minimum(self.months("coil"), need).sum() / need.sum())
        without_sun = self.total("demand") + self.kept_warm_loss + self.after.standing
        lacking = self.backup + float(self.unmet_months.sum())
        return 1 - lacking / without_sun if without_sun > 0 else 0.0

    @property
    def saved(self) -> float:
        """Heat saved against the same house without the sun [J]; of what is its own store, what of its need the sun brings."""
        return float(self.saved_months.sum())

    def layers(self, day: int) -> Array:
        """Temperatures of the store's nodes, top first, at the end of each hour of a day [°C], shape (24, nodes)."""
        return np.asarray(self.traced[24 * day : 24 * day + 24, : self.nodes], dtype=float)

    @property
    def nodes(self) -> int:
        """Nodes of the store whose hours are kept."""
        return self.traced.shape[1] - len(kernel.HOURLY)

    def hourly(self, name: str) -> Array:
        """A name of `kernel.HOURLY` at the end of each hour, shape (8760,)."""
        return np.asarray(self.traced[:, self.nodes + kernel.HOURLY.index(name)], dtype=float)

    @property
    def backup_clock(self) -> Array:
        """Heat from elsewhere by month and hour of the day [J], shape (12, 24); a second tank's own loss over all hours alike."""
        after = np.clip(self.clock[1], 0.0, None) if self.after.heats else np.zeros((12, 24))
        return np.asarray(self.clock[0] + after + self.after.standing * MONTH_SHARES[:, None] / 24, dtype=float)

    def hours_between(self, node: int, edges: tuple[float, ...]) -> Array:
        """Hours of the year in which a node stands between one edge and the next [°C]; shape (edges + 1,)."""
        found: Array = np.histogram(self.traced[:, node], (-1e3, *edges, 1e3))[0].astype(float)
        return found

    @property
    def starts_per_day(self) -> float:
        """Starts over the days with at least one [-]."""
        days = self.total("days_with_start")
        return self.total("starts") / days if days else 0.0


def _rows(line: Line) -> Array:
    return np.stack((line.capacity, line.loss, line.outdoors))


def _beside(system: System, liquid: float) -> dict[str, Any]:
    """The string on the other plane as the compiled loop wants it, with its part of what a drained field holds [J/K]."""
    field, beside = system.field, system.beside
    area = beside.area if beside else 0.0
    return {
        "beside_gain": area,
        "beside_capacity": area * field.capacity,
        "beside_nodes": field.nodes if beside else 0,
        "beside_share": beside.share if beside else 0.0,
        "beside_liquid": liquid * area / system.area,
    }


def plant_of(system: System, tap: float, zone: tuple[float, float] = (0.0, 0.0)) -> kernel.Plant:
    """A system as the compiled loop wants it; `zone` is what heating beside the taps is given and sends back [°C]."""
    field, tank, settings = system.field, system.tank, system.settings
    heater, liquid = system.backup, system.field_liquid if system.drains else 0.0
    mcp = system.flow * system.heat_capacity
    node_volume = tank.volume / tank.nodes
    rho_c = tank.density * tank.heat_capacity
    siphon = system.siphon
    rises = siphon.rises if siphon else (0.0, 0.0, 0.0, 0.0)
    coil = np.zeros(tank.nodes) if system.return_node is not None else tank.node_coil()
    return kernel.Plant(
        field_gain=field.area,
        field_capacity=field.area * field.capacity,
        a1=field.a1,
        a2=field.a2,
        mcp=mcp,
        pump_power=system.pump_power,
        pump_heat=system.pump_power * system.pump_heat_share,
        cold=_rows(system.cold),
        hot=_rows(system.hot),
        nodes=np.stack((coil, tank.node_loss())),
        field_nodes=field.nodes,
        **_beside(system, liquid),
        node_capacity=node_volume * rho_c,
        node_volume=node_volume,
        conduction=tank.conduction * tank.cross_section / tank.node_height,
        room=tank.room,
        rho_c=rho_c,
        start=settings.start,
        stop=settings.stop,
        least=settings.least_collector,
        store_maximum=settings.store_maximum,
        store_latch=settings.store_latch,
        cut_out=settings.cut_out,
        cut_out_latch=settings.cut_out_latch,
        store_node=settings.store_node,
        limit_node=settings.limit_node,
        tap=tap,
        tap_ua=tank.tap_ua,
        zone_c=zone[0],
        zone_back=zone[1],
        stagnation=system.stagnation,
        backup_power=heater.power if heater else 0.0,
        backup_node=heater.node if heater else 0,
        step=system.step,
        return_node=-1 if system.return_node is None else system.return_node,
        drains=system.drains,
        field_liquid=liquid * field.area / system.area,
        refill=system.refill,
        frost_start=system.frost_start,
        frost_stop=system.frost_start + system.frost_band,
        rise_field=rises[0],
        rise_hot=rises[1],
        fall_store=rises[2],
        fall_cold=rises[3],
        k1=siphon.k1 if siphon else 0.0,
        k2=siphon.k2 if siphon else 0.0,
        heat_capacity=system.heat_capacity,
        held=system.around.held if system.around else 0.0,
        more=system.more or NOTHING_MORE,
    )


def fresh_state(system: System) -> kernel.State:
    """The loop at rest at its first temperatures."""
    loop = system.loop_start
    return kernel.State(
        np.full(system.cold.loss.size, loop),
        np.full(system.field.nodes * (2 if system.beside else 1), loop),
        np.full(system.hot.loss.size, loop),
        np.full(system.tank.nodes, system.store_start),
        fresh_memory(loop),
    )


def fresh_memory(around: float) -> Array:
    """What a controller remembers when it is switched on: nothing, a full battery, and a ring as warm as its room."""
    memory = np.zeros(REMEMBERED)
    memory[SPEED], memory[CHARGE], memory[RING_C] = 1.0, 1.0, around
    memory[READ_FIELD] = memory[READ_STORE] = NOT_READ
    return memory


def stored_in(plant: kernel.Plant, state: kernel.State) -> float:
    """Heat in lines and store over 0 °C [J]."""
    return float(plant.cold[0] @ state.cold + plant.hot[0] @ state.hot + plant.node_capacity * state.store.sum())


def feed_of(
    system: System, draws: Draws, sun: Array, air: Array, days: range, beside: Array | None = None
) -> kernel.Feed:
    """What comes from outside on some days of the year, one after the other.

    `sun` absorbed [W/m²] and `air` [°C] are those days' alone, for each hour or for equal parts of one; `beside` is the sun on the
    other string of two.
    """
    around = system.around or Around(np.full(HOURS, system.tank.room), np.ones(HOURS), np.ones(DAYS))
    hours = slice(24 * days.start, 24 * days.stop)
    heater = system.backup
    return kernel.Feed(
        np.ascontiguousarray(sun),
        np.ascontiguousarray(air),
        draws.minute,
        draws.days,
        draws.cold,
        days.start,
        np.ascontiguousarray(around.temperature[hours]),
        np.ascontiguousarray(around.exposed[hours]),
        around.days,
        heater.on if heater else NEVER,
        heater.off if heater else NEVER,
        system.cool_days if system.cool_days is not None else np.zeros(DAYS),
        system.ring_minutes if system.ring_minutes is not None else np.zeros(MINUTES_A_DAY),
        draws.zone if draws.zone is not None else np.zeros(DAYS),
        beside,
    )


def kept_warm_loss(system: System) -> float:
    """What the volume that the backup keeps warm loses in a year at its set point [J]; nothing without one."""
    heater = system.backup
    if heater is None:
        return 0.0
    loss = float(system.tank.node_loss()[: heater.node + 1].sum())
    return loss * max(heater.set_point - system.tank.room, 0.0) * DAYS * DAY_S


def run_year(
    *,
    system: System,
    weather: Weather,
    plane: PlaneYear,
    draws: Draws,
    beside: PlaneYear | None = None,
    long_nights: bool = True,
    trace: bool = False,
) -> Year:
    """A year of 365 days from 1 January. The residual closes over lines and store together.

    `long_nights` takes steps of a quarter of an hour while it is dark, the pump is off and nothing is drawn, and of
    five minutes while the field surely stays below its start. `trace`
    keeps the store's layers, the field's exit and the share of flow at the end of each hour. `beside` is the other plane of a
    field on two. Raises ImpossibleInputError where only one of system and planes knows of two.
    """
    plant, state = plant_of(system, draws.tap, (draws.zone_c, draws.zone_back)), fresh_state(system)
    sums, highest = np.zeros((DAYS, len(kernel.SUMS))), np.full(2, -273.0)
    before = stored_in(plant, state)
    if (system.beside is None) != (beside is None):
        raise ImpossibleInputError("a field on two planes has two strings, and two strings lie on two planes")
    other = None if beside is None else system.field.absorbed(beside, weather.air)
    feed = feed_of(system, draws, system.field.absorbed(plane, weather.air), weather.air, range(DAYS), other)
    traced = np.zeros((HOURS if trace else 0, system.tank.nodes + len(kernel.HOURLY)), dtype=np.float32)
    step = system.step
    long = max(LONG_STEP_S, step) if long_nights else step
    pause = kernel.PAUSE_STEPS * step if long_nights and step == MINUTE_S else step
    kernel.run(plant, kernel.Paces(step, pause, long, step), state, feed, kernel.Kept(sums, highest, traced, UNWATCHED))
    after = stored_in(plant, state)
    totals = dict(zip(kernel.SUMS, sums.sum(axis=0), strict=True))
    gained = (
        totals["collector"]
        + totals["pump_heat"]
        + totals["backup"]
        - totals["line_loss"]
        - totals["store_loss"]
        - totals["draw"]
        - totals["dumped"]
        - totals["ring"]
    )
    residual = float(abs(gained - (after - before)) / max(totals["collector"], 1.0))
    return Year(
        sums,
        float(highest[0]),
        float(highest[1]),
        residual,
        system.mean_of(plane.total_kwh_m2, None if beside is None else beside.total_kwh_m2),
        kept_warm_loss(system),
        traced=traced,
        clock=_by_month_and_hour(traced[:, -2:]),
    )


def _by_month_and_hour(hours: NDArray[np.float32]) -> Array:
    """Sums of hourly columns by month and hour of the day, shape (columns, 12, 24); nothing of a year whose hours are not kept."""
    found = np.zeros((hours.shape[1], 12, 24))
    if len(hours):
        days = hours.T.reshape(hours.shape[1], DAYS, 24).astype(float)
        for month in range(12):
            found[:, month] = days[:, np.equal(MONTH_OF_DAY, month)].sum(axis=1)
    return found


def warm() -> None:
    """Compiles the loop, or loads it compiled, so that the first year asked for does not wait."""
    tank = Tank(volume=0.3, diameter=0.55, loss=0.7, room=15.0, coil_ua=400.0, coil_top=0.7, coil_bottom=0.1)
    five = np.full(5, 1.0)
    settings = Settings(8.0, 3.0, 20.0, 80.0, 130.0, 9, 0)
    line = Line(five, five, five)
    system = System(Absorber(4.0, 0.8, 3.6, 0.014, 7000.0), line, line, tank, settings, 0.03, 3800.0, 40.0)
    plant = plant_of(system, 45.0)
    hours = np.zeros(24)
    feed = kernel.Feed(
        hours,
        hours,
        NEVER,
        np.ones(DAYS),
        np.full(DAYS, 10.0),
        0,
        hours,
        hours,
        np.ones(DAYS),
        NEVER,
        NEVER,
        np.zeros(DAYS),
        NEVER,
        np.zeros(DAYS),
    )
    kept = kernel.Kept(np.zeros((1, len(kernel.SUMS))), np.zeros(2), UNWATCHED, UNWATCHED)
    kernel.run(plant, kernel.Paces(MINUTE_S, MINUTE_S, MINUTE_S, MINUTE_S), fresh_state(system), feed, kept)
