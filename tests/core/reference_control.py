"""Reference rules of control: differences, sensors, speed, battery, and the year's controller step by step."""

from __future__ import annotations

from typing import Any

import numpy as np

from rowan.core.simulation import controller as year_functions
from rowan.core.simulation import kernel
from rowan.core.simulation.controller import PUMP, REST, SUN, functions, why_runs
from rowan.core.simulation.plant import Paces, record_of
from rowan.core.simulation.system import Absorber, Line, Settings, System, Tank
from rowan.core.simulation.year import fresh_memory, plant_of
from rowan.core.steps.control import differences, sensors
from tests.core.reference_registry import Given, rule

FOOT, TOP = 1, 0
MINUTES = Paces(60.0, 60.0, 60.0, 60.0)


def _plant(g: dict[str, Any], used: bool) -> kernel.Plant:
    five = np.full(5, 1.0)
    settings = Settings(
        g["start_difference_k"],
        g["stop_difference_k"],
        g["least_collector_c"],
        g["store_maximum_c"],
        g["collector_cut_out_c"],
        FOOT,
        TOP,
        g["store_hysteresis_k"],
        g["cut_out_hysteresis_k"],
    )
    tank = Tank(volume=0.3, diameter=0.55, loss=0.7, room=15.0, coil_ua=400.0, coil_top=0.7, coil_bottom=0.1, nodes=2)
    line, field = Line(five, five, five), Absorber(4.0, 0.8, 3.6, 0.014, 7000.0)
    more = functions(least_run=0.0) if used else None
    return plant_of(System(field, line, line, tank, settings, 0.03, 3800.0, 40.0, more=more), 45.0)


def pump_sequence(g: dict[str, Any]) -> list[bool]:
    """Whether the pump runs after each step of temperatures (exit, store foot, store top) [°C]."""
    runs: dict[bool, list[bool]] = {}
    for used in (False, True):
        plant, memory, found = record_of(_plant(g, used), MINUTES), fresh_memory(15.0), []
        for exit_c, foot, *upper in g["steps_c"]:
            top = foot if not upper or upper[0] is None else upper[0]  # without an upper sensor the lower one decides
            t = np.concatenate((np.zeros(5), np.full(5, float(exit_c)), np.zeros(5), np.array([top, foot], float)))
            why = why_runs(plant, t, memory, 500.0, 10.0, 600, 1, 0.0) if used else REST
            on = why == SUN if used else bool(kernel.control(plant, t, memory))
            memory[PUMP] = 1.0 if on else 0.0
            found.append(on)
        runs[used] = found
    assert runs[False] == runs[True], "a controller with functions decides as one without"
    return runs[True]


def _stability(g: Given) -> differences.Stability:
    return differences.stability(
        start=g["start_difference_k"],
        stop=g["stop_difference_k"],
        area=g["area_m2"],
        fr_ul=g["fr_ul_w_m2k"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )


@rule("stability")
def _(g: Given) -> dict[str, Any]:
    found = _stability(g)
    return {"largest_stable_stop_difference_k": found.largest_stop, "stable": found.stable}


@rule("cycling_finding")
def _(g: Given) -> dict[str, Any]:
    level = differences.cycling_level(stable=_stability(g).stable, starts_per_day=g["starts_per_day"])
    return {"finding": level}


@rule("cycling_band")
def _(g: Given) -> dict[str, Any]:
    band = differences.cycling_band(
        start=g["start_difference_k"],
        stop=g["stop_difference_k"],
        loop=differences.LoopAtStart(
            g["area_m2"],
            g["fr_tau_alpha"],
            g["fr_ul_w_m2k"],
            g["flow_kg_s"] * g["heat_capacity_j_kg_k"],
            g["store_bottom_c"],
            g["air_temperature_c"],
        ),
    )
    return {
        "start_irradiance_w_m2": band.start_irradiance,
        "hold_irradiance_w_m2": band.hold_irradiance,
        "cycles": band.cycles,
    }


@rule("loss_floor")
def _(g: Given) -> dict[str, Any]:
    floor = differences.loss_floor(
        sensor_error=g["sensor_error_k"],
        pipe_loss=g["pipe_loss_w"],
        pump_power=g["pump_power_w"],
        price_ratio=g["price_ratio"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"least_stop_difference_k": floor}


@rule("loss_floor_without_day")
def _(g: Given) -> dict[str, Any]:
    loss = g["line_loss_w_k"] * (g["line_temperature_c"] - g["annual_mean_air_c"])
    floor = differences.loss_floor(
        sensor_error=g["sensor_error_k"],
        pipe_loss=loss,
        pump_power=g["pump_power_w"],
        price_ratio=g["price_ratio"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"pipe_loss_w": loss, "least_stop_difference_k": floor}


@rule("pt1000")
def _(g: Given) -> dict[str, Any]:
    return {"resistance_ohm": sensors.platinum_ohm(temperature=g["temperature_c"])}


@rule("pump_speed")
def _(g: Given) -> dict[str, Any]:
    over = g["difference_k"] - g["start_difference_k"]
    return {"speed": year_functions.speed_share(over, g["floor_share"], g["slope_1_k"])}


@rule("battery")
def _(g: Given) -> dict[str, Any]:
    low, runs = 0.0, []
    for open_circuit in g["open_circuit_v"]:
        volts = open_circuit - (g["current_a"] * g["resistance_ohm"] if low == 0.0 else 0.0)
        low = year_functions.battery_low(volts, low, g["cut_v"], g["resume_v"])
        runs.append(low == 0.0)
    hunts = differences.battery_hunts(
        current=g["current_a"], resistance=g["resistance_ohm"], cut=g["cut_v"], resume=g["resume_v"]
    )
    return {"pump": runs, "hunts": hunts}


@rule("pump_sequence")
def _(g: Given) -> dict[str, Any]:
    return {"pump": pump_sequence(g)}
