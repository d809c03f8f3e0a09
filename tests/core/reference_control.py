"""The controller of the year, step by step, for the reference cases: with and without functions it decides the same."""

from __future__ import annotations

from typing import Any

import numpy as np

from rowan.core.year import kernel
from rowan.core.year.functions import PUMP, REST, SUN, functions, why_runs
from rowan.core.year.run import fresh_memory, plant_of
from rowan.core.year.system import Absorber, Line, Settings, System, Tank

FOOT, TOP = 1, 0


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
        plant, memory, found = _plant(g, used), fresh_memory(15.0), []
        for exit_c, foot, top in g["steps_c"]:
            state = kernel.State(
                np.zeros(5), np.full(5, float(exit_c)), np.zeros(5), np.array([top, foot], float), memory
            )
            why = why_runs(plant, state, 500.0, 10.0, 600, 1, 0.0) if used else REST
            on = why == SUN if used else bool(kernel.control(plant, state))
            memory[PUMP] = 1.0 if on else 0.0
            found.append(on)
        runs[used] = found
    assert runs[False] == runs[True], "a controller with functions decides as one without"
    return runs[True]
