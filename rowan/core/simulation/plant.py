"""What the compiled loop is given and keeps: a plant, its state, what comes from outside, and the sums of a run."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.controller import Functions

Array = NDArray[np.float64]

# sums of a run: energies [J], times [s]
SUMS = (
    "collector", "coil", "line_loss", "pump_heat", "store_loss", "draw", "demand", "pump_time", "starts",
    "stagnation_time", "electric", "days_with_start", "wasted", "backup", "frost", "held", "dumped", "ring",
)  # fmt: skip
(
    COLLECTOR, COIL, LINE_LOSS, PUMP_HEAT, STORE_LOSS, DRAW, DEMAND, PUMP_TIME, STARTS, STAGNATION_TIME, ELECTRIC,
    DAYS_WITH_START, WASTED, BACKUP, FROST, HELD, DUMPED, RING,
) = range(len(SUMS))  # fmt: skip
# what a watched step keeps: temperatures [°C], flow as a share of the whole, why it runs, sun on the absorber [W/m²]
WATCHED = ("exit", "foot", "top", "arrives", "returns", "speed", "why", "sun")


class Plant(NamedTuple):
    """Everything that does not change in a run, as the compiler wants it: numbers and arrays, SI, node 0 first in flow or at the top."""

    field_gain: float
    field_capacity: float
    a1: float
    a2: float
    mcp: float
    pump_power: float
    pump_heat: float
    # lines by their nodes: rows of capacity [J/K], loss [W/K] and 1 for outdoors. Few arrays: each costs at every call
    cold: Array
    hot: Array
    # the store's nodes: rows of what passes the coil [-], loss [W/K] and the coil's own UA [W/K]
    nodes: Array
    node_capacity: float
    node_volume: float
    conduction: float
    room: float
    rho_c: float
    start: float
    stop: float
    least: float
    store_maximum: float
    store_latch: float
    cut_out: float
    cut_out_latch: float
    store_node: int
    limit_node: int
    tap: float
    stagnation: float
    backup_power: float
    backup_node: int
    step: float
    # a direct loop flows through the store itself, from this node down; −1 for one with a coil
    return_node: int
    # drainback: what the field holds only while the pump runs [J/K]; above `refill` it is not filled
    drains: bool
    field_liquid: float
    refill: float
    frost_start: float
    frost_stop: float
    # a thermosiphon: heights of field, hot line, store and cold line [m], friction k1·q + k2·q² [Pa]; k2 0 for a pump
    rise_field: float
    rise_hot: float
    fall_store: float
    fall_cold: float
    k1: float
    k2: float
    heat_capacity: float
    # what a store that is a pool is held at [°C]; far below zero otherwise
    held: float
    # what the controller does beside the two differences
    more: Functions


class State(NamedTuple):
    """Temperatures [°C] of cold line, field, hot line and store, and what is remembered (by the names in `functions`)."""

    cold: Array
    field: Array
    hot: Array
    store: Array
    memory: Array


class Feed(NamedTuple):
    """What comes from outside: absorbed sun [W/m²] and air [°C] of each hour, or of each of several equal parts of one;
    draws by minute of the day [m³], with a factor and the cold main [°C] for each day of the year; the day of the year
    the hours begin with. `room` [°C] and `exposed` (a factor on its loss) are what surrounds the store in each hour;
    `heats` says on which days its backup may; in each minute of a day it starts below `backup_on` and stops at
    `backup_off` [°C]. `cool_days` are those of night cooling, `ring_minutes` those in which a ring main may run, 0 or 1."""

    sun: Array
    air: Array
    minute: Array
    days: Array
    cold: Array
    first_day: int
    room: Array
    exposed: Array
    heats: Array
    backup_on: Array
    backup_off: Array
    cool_days: Array
    ring_minutes: Array
