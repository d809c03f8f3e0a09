"""What the compiled loop is given and keeps: a plant, its state, what comes from outside, and the sums of a run."""

from __future__ import annotations

from typing import Any, NamedTuple, get_type_hints

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
# what is kept of each hour behind the store's layers: the field's exit [°C], share of the hour with flow, what a heater in the
# store gave and what the store did not give of what was drawn [J]
HOURLY = ("exit", "flow", "heated", "short")
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
    # lines by their nodes: rows of capacity [J/K], loss [W/K] and 1 for outdoors
    cold: Array
    hot: Array
    # the store's nodes: rows of the coil's UA and of loss [W/K]
    nodes: Array
    field_nodes: int
    # a string on another plane of the roof, beside the first: aperture [m²], capacity [J/K], nodes, share of the flow; 0 without
    beside_gain: float
    beside_capacity: float
    beside_nodes: int
    beside_share: float
    beside_liquid: float
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
    # of a coil that the taps' water runs through [W/K]; none where it is the store's own
    tap_ua: float
    # what a house that is heated beside its taps is given and sends back [°C]
    zone_c: float
    zone_back: float
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
    """Temperatures [°C] of cold line, field, hot line and store, and what is remembered (by the names in `controller`)."""

    cold: Array
    field: Array
    hot: Array
    store: Array
    memory: Array


class Paces(NamedTuple):
    """Lengths of steps [s], where longer ones serve as well: of the loop; of bright minutes in which nothing can happen; of
    dark hours; and of the store, which takes up what the loop brought in shorter steps. All alike where none may be longer."""

    own: float
    pause: float
    long: float
    store: float
    # what the loop takes as an hour; less where a run is cut at the minute at which somebody turns something
    hour: float = 3600.0


class Reads(NamedTuple):
    """Which place in the row of temperatures each terminal of a controller reads, where it is not wired as planned."""

    field: int
    foot: int
    limit: int


class Feed(NamedTuple):
    """What comes from outside: absorbed sun [W/m²] and air [°C] of each hour, or of each of several equal parts of one;
    draws by minute of the day [m³], with a factor and the cold main [°C] for each day of the year; the day of the year
    the hours begin with. `room` [°C] and `exposed` (a factor on its loss) are what surrounds the store in each hour;
    `heats` says on which days its backup may; in each minute of a day it starts below `backup_on` and stops at
    `backup_off` [°C]. `cool_days` are those of night cooling, `ring_minutes` those in which a ring main may run, 0 or 1; `zone` is what heating
    takes in each day of the year beside the taps [m³]."""

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
    zone: Array
    # absorbed sun of the string on the other plane, as `sun`; None without one
    beside: Array | None = None


class Outside(NamedTuple):
    """A feed in tables, as the compiled loop takes it: (sun, air, sun on the other plane), (room, exposed) by hour, (draw, backup on, backup off,
    ring) by minute of the day, (factor, cold main, heats, cools) by day of the year, and what the next minutes of a day bring."""

    sky: Array
    around: Array
    clock: Array
    days: Array
    ahead: Array


class Kept(NamedTuple):
    """What a run writes: sums by day, shape (days, sums); highest field and store [°C]; the store's layers, the field's exit
    [°C] and the rest of `HOURLY` at the end of each hour, shape (hours, nodes + 4); `WATCHED` of every step, shape (steps, 8). The last two have no rows where nothing of the kind is wanted."""

    sums: Array
    highest: Array
    traced: NDArray[np.float32]
    watched: NDArray[np.float32]


# where the parts lie in the one row of temperatures, and the lengths of steps
_PLACES = (
    "cold0", "field0", "beside0", "hot0", "store0", "end", "exit", "exit_beside", "arrives", "foot", "limit", "heater", "into", "last", "coil0", "coil1",
)  # fmt: skip
_STEPS = ("step", "pause_step", "long_step", "store_step", "hour_step")
_ARRAYS = ("cold", "hot", "nodes", "more")


def _columns() -> list[tuple[str, Any]]:
    numbers = {float: np.float64, int: np.int64, bool: np.int64}
    fields = get_type_hints(Plant) | get_type_hints(Functions)
    scalars = [(name, numbers[kind]) for name, kind in fields.items() if name not in _ARRAYS and name != "step"]
    # places are unsigned: one that might count from the end would be looked at anew at every use
    places = [(name, np.uint64) for name in _PLACES]
    return [*scalars, *places, ("first_day", np.int64), *((name, np.float64) for name in _STEPS)]


# the plant as one record: passed by its address, where a tuple of seventy numbers would be copied at every call
PLANT = np.dtype(_columns(), align=True)


def record_of(plant: Plant, paces: Paces, first_day: int = 0, reads: Reads | None = None) -> np.void:
    """A plant as the record that the compiled loop reads; its probes as planned, or as they are wired. Every number becomes of its
    column's kind."""
    found: dict[str, Any] = {
        name: value for name, value in plant._asdict().items() if name not in _ARRAYS and name != "step"
    }
    found |= plant.more._asdict()
    cold, field, hot, store = plant.cold.shape[1], plant.field_nodes, plant.hot.shape[1], plant.nodes.shape[1]
    beside = cold + field
    hot0 = beside + plant.beside_nodes
    first = hot0 + hot
    found["cold0"], found["field0"], found["beside0"], found["hot0"] = 0, cold, beside, hot0
    found["store0"], found["end"] = first, first + store
    # without a second string its exit is the first one's
    found["exit"], found["exit_beside"] = beside - 1, hot0 - 1
    found["arrives"], found["last"] = first - 1, first + store - 1
    found["foot"], found["limit"] = first + plant.store_node, first + plant.limit_node
    found["heater"], found["into"] = first + plant.backup_node, first + max(plant.return_node, 0)
    # the coil: nodes that it passes, or all from where a direct loop's hot line enters
    passed = np.flatnonzero(plant.nodes[0] > 0) if plant.return_node < 0 else np.arange(plant.return_node, store)
    found["coil0"] = first + (int(passed[0]) if passed.size else 0)
    found["coil1"] = first + (int(passed[-1]) + 1 if passed.size else 0)
    found["first_day"] = first_day
    found |= dict(zip(_STEPS, paces, strict=True))
    if reads is not None:
        found["exit"] = found["exit_beside"] = reads.field
        found["foot"], found["limit"] = reads.foot, reads.limit
    made = np.array([tuple(found[name] for name in PLANT.names or ())], dtype=PLANT)
    record: np.void = made[0]
    return record
