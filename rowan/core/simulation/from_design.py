"""A plan as the year takes it: field, lines, store, backup and control as plain numbers."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.own_store import own_store_of
from rowan.core.fluid import properties
from rowan.core.goods.collector_rating import rating_of
from rowan.core.goods.items import CollectorItem, PipeItem
from rowan.core.reckon import Reckoning
from rowan.core.simulation.draws import heating_power, hour_shares, season_days, working_days
from rowan.core.simulation.pool import surroundings
from rowan.core.simulation.switching import cooling_days, heating_days, heating_minutes, more_of, ring_times
from rowan.core.simulation.system import (
    NEVER_C,
    NO_FROST_C,
    Absorber,
    Around,
    Backup,
    Beside,
    Line,
    Settings,
    Siphon,
    System,
    Tank,
)
from rowan.core.steps.run.result import Buoyancy, RunResult
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.constants import COPPER_J_KGK, COPPER_KG_M3
from rowan.core.terms.units import LITRE
from rowan.core.weather.hours import Weather

Array = NDArray[np.float64]
# of each line, as method 18 has it
LINE_NODES = 5
SKY_COLDER = 0.18 * 0.95  # share of σT⁴ an unglazed absorber loses to a sky that gives 0.82 of it, rule of thumb
RESERVOIR_L = 10.0  # beside what the field holds, where the store is not the reservoir
WET_SHARE = 0.8  # of an absorber's heat capacity at most is its liquid
# °C, a limit that never acts
UNLIMITED_C = 1e6
# a pool is mixed by its own filter pump, a bath by the work in it, a slab has no layers
OWN_NODES = 2


def absorber_of(item: CollectorItem, *, area: float) -> Absorber:
    """A field of a catalogue item. Unglazed ones are taken in a light wind under a usual sky."""
    rating = rating_of(item)
    return Absorber(
        area=area,
        eta0=rating.eta0,
        a1=rating.a1,
        a2=rating.a2,
        capacity=item.c_eff_j_m2k,
        b0=item.b0,
        k_d=item.k_d,
        angles=tuple(item.angles_deg),
        k_t=tuple(item.k_across),
        k_l=tuple(item.k_along),
        sky_loss=SKY_COLDER if item.kind == "unglazed" else 0.0,
        tracks=item.tracks,
    )


def _per_metre(pipe: PipeItem, design: Design) -> float:
    """Heat capacity of a metre of pipe with what is in it [J/K·m]."""
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    metal = np.pi / 4 * (pipe.outer_diameter_m**2 - pipe.bore_m**2) * COPPER_KG_M3 * COPPER_J_KGK
    return float(pipe.bore_area_m2 * fluid.density * fluid.heat_capacity + metal)


def line_of(line: str, design: Design, reckoning: Reckoning) -> Line:
    """A line in five equal lengths, each with what it holds and loses; a length is outdoors if most of it is."""
    legs = [found for found in reckoning.run.loss.legs if found.leg.line == line]
    total = sum(found.leg.length for found in legs)
    edges = np.linspace(0, total, LINE_NODES + 1)
    outdoors, loss, capacity = np.zeros(LINE_NODES), np.zeros(LINE_NODES), np.zeros(LINE_NODES)
    for found in legs:
        leg, per_metre = found.leg, _per_metre(found.leg.pipe, design)
        within = np.clip(np.minimum(leg.end, edges[1:]) - np.maximum(leg.start, edges[:-1]), 0.0, None)
        outdoors += within * leg.outdoors
        loss += within * found.per_metre
        capacity += within * per_metre
    length = total / LINE_NODES
    return Line(np.maximum(capacity, 1.0), loss, (outdoors > length / 2).astype(float))


def tank_of(design: Design, reckoning: Reckoning) -> Tank:
    """The store as planned, or what is its own store."""
    store, item, own = design.store, design.store.item.value, own_store_of(design)
    if own is not None:
        return Tank(
            volume=own.volume,
            diameter=math.sqrt(4 * own.across / math.pi),
            loss=1.0,
            room=design.survey.room_c.value,
            coil_ua=reckoning.store.coil_conductance,
            coil_top=own.height,
            coil_bottom=0.0,
            nodes=OWN_NODES,
        )
    return Tank(
        volume=item.contents_l * LITRE,
        diameter=item.diameter_m,
        loss=item.loss_w_m2k,
        room=design.survey.room_c.value,
        coil_ua=reckoning.store.coil_conductance,
        coil_top=store.coil_top_m.value,
        coil_bottom=store.coil_bottom_m.value,
        tap_ua=reckoning.store.taps_conductance,
    )


def backup_of(design: Design, tank: Tank) -> Backup | None:
    """An element or the boiler's coil in the store; None where the heater comes after it, or there is none."""
    store = design.store
    if store.backup.value not in ("coil", "element"):
        return None
    own = own_store_of(design)
    usual = store.backup_c.value if own is None else own.held
    if own is not None:
        minutes = np.where(hour_shares(store.backup_hours.value) > 0, usual, NEVER_C)
        return Backup(store.backup_w.value, usual, 0, minutes, latch=0.5)
    above = (store.coil_top_m.value + store.upper_sensor_m.value) / 2
    begins, minutes = heating_minutes(design, usual)
    # what it would keep warm without the sun: the warmest it heats to
    held = float(minutes.max()) if minutes.max() > NEVER_C else usual
    return Backup(store.backup_w.value, held, tank.node_at(above), minutes, begins=begins)


def siphon_of(found: Buoyancy) -> Siphon:
    """Heights and friction of a loop without a pump, as its run has them."""
    rises = found.rises
    return Siphon((rises.field, rises.hot, rises.store, rises.cold), found.k1, found.k2)


def around_of(design: Design, tank: Tank, weather: Weather) -> Around | None:
    """A pool stands in the open, a slab under a house, a bath and a store in their room."""
    own, duty = own_store_of(design), design.duty
    if own is None:
        days = heating_days(design)
        return None if days is None else Around(np.full(HOURS, tank.room), np.ones(HOURS), days)
    whole = float(tank.node_loss().sum())
    if own.kind == "slab":
        # the house takes heat only where it is colder than its heating begins at: sun and people make up the rest
        over = np.clip(duty.heat_below_c.value - weather.air, 0.0, None)
        runs = (heating_power(design, weather) > 0).astype(float)
        return Around(own.held - over, np.full(HOURS, duty.house_loss_w_k.value / whole), runs, own.held)
    if own.kind == "bath":
        exposed = np.full(HOURS, duty.bath_loss_w_k.value / whole)
        return Around(np.full(HOURS, tank.room), exposed, working_days(design), own.held)
    return surroundings(
        area=own.across,
        held=own.held,
        cover=duty.pool_cover.value,
        weather=weather,
        days=season_days(design),
        whole_loss=whole,
    )


def store_limit(design: Design) -> float:
    """Where the pump stops because the store is warm enough [°C]: its limit, or what a pool, slab or bath may swing to."""
    own = own_store_of(design)
    return float(design.store.maximum_c.value if own is None else own.held + own.swing)


def settings_of(design: Design, tank: Tank) -> Settings:
    """Differences and limits of the controller at the store's nodes."""
    control, store = design.control, design.store
    own = own_store_of(design)
    drains = design.drains
    return Settings(
        start=control.start_k.value,
        stop=control.stop_k.value,
        least_collector=control.least_collector_c.value,
        store_maximum=store_limit(design),
        cut_out=control.cut_out_c.value,
        store_node=tank.nodes - 1 if own else tank.node_at(store.lower_sensor_m.value),
        limit_node=0 if own else tank.node_at(store.upper_sensor_m.value),
        store_latch=0.5 if own else control.restart_k.value if drains else 3.0,
    )


def beside_of(design: Design, run: RunResult) -> Beside | None:
    """The string on the other plane with the flow that an equal pressure drop gives it; None where all lie on one."""
    plane = design.plane_beside
    if plane is None:
        return None
    count, rows = design.count_on(plane), run.divided.rows
    whole = sum(row.flow for row in rows)
    share = count / design.collector.count.value
    if len(rows) == len(design.row_counts) and whole > 0:
        share = sum(row.flow for row in rows[len(design.rows_first) :]) / whole
    return Beside(count * design.collector.item.value.aperture_m2, share)


def system_of(design: Design, reckoning: Reckoning, weather: Weather) -> System:
    """A plan as the year takes it. Raises ImpossibleInputError for one without flow or with its differences crossed."""
    control, run, kind = design.control, reckoning.run, design.charge.kind.value
    tank = tank_of(design, reckoning)
    beside = beside_of(design, run)
    system = System(
        field=absorber_of(design.collector.item.value, area=design.area_m2 - (beside.area if beside else 0.0)),
        beside=beside,
        cold=line_of("cold", design, reckoning),
        hot=line_of("hot", design, reckoning),
        tank=tank,
        settings=settings_of(design, tank),
        flow=run.mass_flow,
        heat_capacity=run.heat_capacity,
        pump_power=run.pump_power,
        backup=backup_of(design, tank),
        around=around_of(design, tank, weather),
        more=more_of(design, tank),
        cool_days=cooling_days(design),
        ring_minutes=ring_times(design),
        store_start=design.survey.room_c.value,
        loop_start=design.survey.room_c.value,
    )
    frost = control.frost_c.value if control.frost.value else NO_FROST_C
    if kind == "sealed":
        return replace(system, frost_start=frost)
    into = 0 if design.own_store else tank.node_at(design.store.coil_top_m.value)
    system = replace(system, return_node=into if design.through_store else None)
    if kind == "drainback":
        return _drainback(system, design)
    if run.buoyancy is not None:
        free = replace(system.settings, store_maximum=UNLIMITED_C, cut_out=UNLIMITED_C)
        # nothing pumps: no function of the controller acts
        return replace(system, siphon=siphon_of(run.buoyancy), settings=free, more=None, cool_days=None)
    return replace(system, frost_start=frost)


def _drainback(system: System, design: Design) -> System:
    """Field and outdoor lines empty when the pump stops, into the cold line's first length with its reservoir."""
    water = properties(volume_share=0.0, temperature=40.0)
    per_litre = LITRE * water.density * water.heat_capacity
    contents = design.collector.count.value * design.collector.item.value.contents_l * per_litre
    liquid = min(contents, WET_SHARE * design.area_m2 * system.field.capacity)
    capacity, outdoors = system.cold.capacity.copy(), system.cold.outdoors.copy()
    capacity[0] += liquid + RESERVOIR_L * per_litre
    outdoors[0] = 0.0
    return replace(
        system,
        cold=Line(capacity, system.cold.loss, outdoors),
        drains=True,
        field_liquid=liquid,
        refill=design.control.refill_c.value,
    )
