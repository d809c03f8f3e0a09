"""`bin/rowan standin`: a controller on a simulated loop of a plan, in accelerated time, that sends and logs readings."""

from __future__ import annotations

import argparse
import math
import sys
import time
from collections.abc import Iterator
from datetime import UTC, datetime
from itertools import islice
from pathlib import Path
from typing import Any

from rowan.core.design.design import Design
from rowan.core.design.inputs.functions import FunctionInputs
from rowan.core.fluid import properties
from rowan.core.reckon import Reckoning, reckon
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import store_limit, system_of
from rowan.core.simulation.simulate import sky_of
from rowan.core.terms.units import LITRE
from rowan.core.weather.hours import winter_clock
from rowan.standin.controller import Pair, Standin
from rowan.standin.faults import UnknownFaultError, fault_of
from rowan.standin.loop import Plant
from rowan.standin.send import RefusedError, Sender, write_csv

REFUSED, NO_PLAN = 3, 2
LEAST_GAUGE_PA, USUAL_GAUGE_PA_K = 50e3, 400.0
REST_LEVEL_M, RUNS_LOWER_M = 0.8, 0.25  # of a reservoir as they are built, while it rests and runs
NO_BACKUP_C = -100.0
BATCH_S = 1.0  # of real time


def plant_of(design: Design) -> Plant:
    """A plan's loop as plain numbers for the stand-in, which makes its own of them. Raises RowanError."""
    result = reckon(design)
    sky = sky_of(design)
    system = system_of(design, result, sky.weather)
    area, survey, duty = system.field.area, design.survey, design.duty
    fill = result.setting.fill if result.setting else result.charge.static
    months, heater, around = survey.normals.value.air_c, system.backup, system.around
    # a pool, a slab or a bath is warm by itself, loses to what surrounds it, and nobody draws from it
    own = around if around is not None and around.held > 0.0 else None
    density = properties(volume_share=design.glycol_share, temperature=40.0).density
    return Plant(
        area=area,
        eta0=system.field.eta0,
        a1=system.field.a1,
        a2=system.field.a2,
        field_capacity=area * system.field.capacity,
        rate=system.flow * system.heat_capacity,
        flow=system.flow / density,
        coil=system.tank.coil_ua or 500.0,
        hot_loss=float(system.hot.loss.sum()),
        cold_loss=float(system.cold.loss.sum()),
        line_capacity=float(system.hot.capacity.sum()),
        store=system.tank.volume,
        store_loss=float(system.tank.node_loss().sum()) * (float(own.exposed.mean()) if own else 1.0),
        pump_power=system.pump_power,
        latitude=survey.latitude_deg.value,
        tilt=design.tilt_deg,
        azimuth=survey.roof_azimuth_deg.value,
        room_c=float(own.temperature.mean()) if own else survey.room_c.value,
        air_c=float(sky.weather.air.mean()),
        air_swing_k=(max(months) - min(months)) / 2,
        longitude=survey.longitude_deg.value,
        zone_h=winter_clock(survey.longitude_deg.value),
        daily_draw=0.0 if own else duty.persons.value * duty.litres_per_person_l.value * LITRE,
        tap_c=duty.tap_c.value,
        cold_main_c=float(draws_of(design, sky.weather).cold.mean()),
        backup_c=heater.set_point if heater is not None and not own else NO_BACKUP_C,
        backup_power=heater.power if heater is not None and not own else 0.0,
        begins_c=own.held if own else 0.0,
        gauge_pa=max(fill, LEAST_GAUGE_PA),
        gauge_per_k=_gauge_per_k(result),
        level=REST_LEVEL_M if system.drains else 0.0,
        level_drop=RUNS_LOWER_M if system.drains else 0.0,
        dry_capacity=area * system.field.capacity - system.field_liquid if system.drains else 0.0,
    )


def _gauge_per_k(result: Reckoning) -> float:
    """How far a degree moves the gauge [Pa/K], from the vessel as filled and as it works; a usual one without a vessel."""
    states = result.vessel_states
    cold, hot = states.get("fill"), states.get("hot")
    if cold is None or hot is None or cold.station is None or hot.station is None:
        return USUAL_GAUGE_PA_K
    return (hot.station - cold.station) / (hot.temperature - cold.temperature)


def _speed(held: FunctionInputs) -> tuple[float, float]:
    """The slowest speed [-] and what of difference over the start makes it the full one [K]."""
    return (held.speed_floor.value, held.speed_full_k.value) if held.follows else (1.0, held.speed_full_k.value)


def pair_of(design: Design) -> Pair:
    """What a plan has set at its controller."""
    control = design.control
    return Pair(
        control.start_k.value,
        control.stop_k.value,
        control.least_collector_c.value,
        store_limit(design),
        control.cut_out_c.value,
        *_speed(design.functions),
    )


def run(options: argparse.Namespace, design: Design) -> int:
    """Runs the stand-in till its hours are over; gives the exit code."""
    try:
        faults = tuple(fault_of(text) for text in options.fault)
        begins = datetime.fromisoformat(options.begin).replace(tzinfo=UTC)
    except (UnknownFaultError, ValueError) as error:
        print(f"rowan: {error}", file=sys.stderr)
        return NO_PLAN
    if not (0 < options.hours <= 9000 and 5 <= options.every <= 3600 and options.speed >= 0):
        print("rowan: hours lie above 0, a reading comes every 5 to 3600 s, speed is not below 0", file=sys.stderr)
        return NO_PLAN
    device = Standin(plant_of(design), pair_of(design), begins, options.seed, faults)
    readings = device.run(options.hours * 3600.0, options.every)
    if not options.url:
        return _log(options, readings)
    kept: list[dict[str, Any]] = []
    code = _send(options, readings, kept)
    if options.csv:
        _log(options, iter(kept))
    return code


def _log(options: argparse.Namespace, readings: Iterator[dict[str, Any]]) -> int:
    """Writes the logger's file, or the table to standard output."""
    if options.csv:
        with Path(options.csv).open("w", encoding="utf-8", newline="") as into:
            print(f"{write_csv(readings, into)} readings in {options.csv}")
    else:
        write_csv(readings, sys.stdout)
    return 0


def _send(options: argparse.Namespace, readings: Iterator[dict[str, Any]], kept: list[dict[str, Any]]) -> int:
    """Sends what each second of life brings."""
    sender = Sender(options.url, options.token)
    at_once = max(1, math.ceil(options.speed * BATCH_S / options.every)) if options.speed else 500
    while batch := list(islice(readings, at_once)):
        began = time.monotonic()
        kept += batch
        sender.add(batch)
        try:
            sent = sender.flush()
        except RefusedError as error:
            print(f"rowan: refused: {error}", file=sys.stderr)
            return REFUSED
        waits = f", {len(sender.waiting)} wait for an answer" if sender.waiting else ""
        print(f"{batch[-1]['at']}  {sent} sent{waits}", flush=True)
        if options.speed:
            lasts = len(batch) * options.every / options.speed
            time.sleep(max(lasts - (time.monotonic() - began), 0.0))
    if sender.waiting:
        print(f"rowan: {len(sender.waiting)} readings met no answer", file=sys.stderr)
        return REFUSED
    return 0
