"""The loop minute by minute, compiled. Order in a step: control, ring, store, draw, mixing. Source: methods 5 to 7.

The ring of cold line, field, hot line and coil is linear in its inlet temperature, so the inlet is solved exactly:
every part maps an entering temperature a + b·x to a leaving one, and x closes the ring.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]

# sums of a run: energies [J], times [s]
SUMS = (
    "collector", "coil", "line_loss", "pump_heat", "store_loss", "draw", "demand", "pump_time", "starts",
    "stagnation_time", "electric", "days_with_start", "wasted", "backup",
)  # fmt: skip
(
    COLLECTOR, COIL, LINE_LOSS, PUMP_HEAT, STORE_LOSS, DRAW, DEMAND, PUMP_TIME, STARTS, STAGNATION_TIME, ELECTRIC,
    DAYS_WITH_START, WASTED, BACKUP,
) = range(len(SUMS))  # fmt: skip
HIGHEST_COLLECTOR, HIGHEST_STORE = 0, 1
SURELY_WARM_K = 1.0  # a store this far above its backup's start stays there through an hour without a draw
SURELY_OFF_K = 2.0  # a field this far below its start stays off through a dark hour
LARGEST_PART = 0.5  # of a node, that a draw may move at once


class Plant(NamedTuple):
    """Everything that does not change in a run, as the compiler wants it: numbers and arrays, SI, node 0 first in flow or at the top."""

    field_gain: float
    field_capacity: float
    a1: float
    a2: float
    mcp: float
    pump_power: float
    pump_heat: float
    cold_capacity: Array
    cold_loss: Array
    cold_out: Array
    hot_capacity: Array
    hot_loss: Array
    hot_out: Array
    coil_pass: Array
    node_capacity: float
    node_volume: float
    node_loss: Array
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
    backup_set: float
    backup_latch: float
    backup_node: int
    backup_minutes: Array
    step: float


class State(NamedTuple):
    """Temperatures [°C] of cold line, field, hot line and store, and what is remembered (0 or 1): pump, store limit,
    cut-out, backup."""

    cold: Array
    field: Array
    hot: Array
    store: Array
    memory: Array


class Feed(NamedTuple):
    """What comes from outside: each hour's absorbed sun [W/m²] and air [°C]; draws by minute of the day [m³], with a
    factor and the cold main [°C] for each day of the year; the day of the year the hours begin with."""

    sun: Array
    air: Array
    minute: Array
    days: Array
    cold: Array
    first_day: int


@njit(cache=True, error_model="numpy", fastmath=True)
def control(p: Any, s: Any) -> bool:
    """Whether the pump runs in this step, by the temperatures at the end of the last one."""
    exit_c, foot, top = s.field[-1], s.store[p.store_node], s.store[p.limit_node]
    if top >= p.store_maximum:
        s.memory[1] = 1.0
    elif top <= p.store_maximum - p.store_latch:
        s.memory[1] = 0.0
    if exit_c >= p.cut_out:
        s.memory[2] = 1.0
    elif exit_c <= p.cut_out - p.cut_out_latch:
        s.memory[2] = 0.0
    free = s.memory[1] == 0.0 and s.memory[2] == 0.0
    if s.memory[0] > 0.0:
        return free and exit_c - foot > p.stop
    return free and exit_c - foot >= p.start and exit_c >= p.least


@njit(cache=True, error_model="numpy", fastmath=True)
def line_map(
    t: Array, capacity: Array, loss: Array, out: Array, p: Any, air: float, a: float, b: float
) -> tuple[float, float]:
    """What a line makes of an entering temperature a + b·x."""
    for i in range(t.size):
        around = air if out[i] > 0.0 else p.room
        held = capacity[i] / p.step
        whole = held + p.mcp + loss[i]
        a = (held * t[i] + loss[i] * around + p.mcp * a) / whole
        b = p.mcp * b / whole
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True)
def line_run(
    t: Array, capacity: Array, loss: Array, out: Array, p: Any, air: float, entering: float
) -> tuple[float, float]:
    """Moves a line on with the pump running; gives the leaving temperature and the heat lost [J]."""
    lost = 0.0
    for i in range(t.size):
        around = air if out[i] > 0.0 else p.room
        held = capacity[i] / p.step
        t[i] = (held * t[i] + loss[i] * around + p.mcp * entering) / (held + p.mcp + loss[i])
        lost += loss[i] * (t[i] - around) * p.step
        entering = t[i]
    return entering, lost


@njit(cache=True, error_model="numpy", fastmath=True)
def line_rest(t: Array, capacity: Array, loss: Array, out: Array, p: Any, air: float) -> float:
    """Lets a line cool with the pump off; gives the heat lost [J]."""
    lost = 0.0
    for i in range(t.size):
        around = air if out[i] > 0.0 else p.room
        held = capacity[i] / p.step
        t[i] = (held * t[i] + loss[i] * around) / (held + loss[i])
        lost += loss[i] * (t[i] - around) * p.step
    return lost


@njit(cache=True, error_model="numpy", fastmath=True)
def field_map(t: Array, p: Any, sun: float, air: float, a: float, b: float) -> tuple[float, float]:
    """What the field makes of an entering temperature; a2 linearised with each node's old temperature."""
    part = p.field_gain / t.size
    held = p.field_capacity / t.size / p.step
    for i in range(t.size):
        loss = part * (p.a1 + p.a2 * abs(t[i] - air))
        whole = held + p.mcp + loss
        a = (held * t[i] + part * sun + loss * air + p.mcp * a) / whole
        b = p.mcp * b / whole
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True)
def field_move(t: Array, p: Any, sun: float, air: float, mcp: float, entering: float) -> float:
    """Moves the field on, with the pump running (mcp) or standing (mcp 0); gives the leaving temperature."""
    part = p.field_gain / t.size
    held = p.field_capacity / t.size / p.step
    for i in range(t.size):
        loss = part * (p.a1 + p.a2 * abs(t[i] - air))
        t[i] = (held * t[i] + part * sun + loss * air + mcp * entering) / (held + mcp + loss)
        entering = t[i]
    return entering


@njit(cache=True, error_model="numpy", fastmath=True)
def coil_map(store: Array, p: Any, a: float, b: float) -> tuple[float, float]:
    """What the coil makes of an entering temperature, from its top port down."""
    for i in range(store.size):
        keep = p.coil_pass[i]
        if keep < 1.0:
            a = store[i] * (1.0 - keep) + keep * a
            b = keep * b
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True)
def coil_run(store: Array, gains: Array, p: Any, entering: float) -> float:
    """Heat the coil leaves in each node [J], added to `gains`; gives the leaving temperature."""
    for i in range(store.size):
        keep = p.coil_pass[i]
        if keep < 1.0:
            leaving = store[i] + (entering - store[i]) * keep
            gains[i] += p.mcp * (entering - leaving) * p.step
            entering = leaving
    return entering


@njit(cache=True, error_model="numpy", fastmath=True)
def ring(s: Any, p: Any, gains: Array, sums: Array, sun: float, air: float) -> None:
    """One step with the pump running: the inlet is solved, then every part is moved on."""
    a, b = line_map(s.cold, p.cold_capacity, p.cold_loss, p.cold_out, p, air, 0.0, 1.0)
    a, b = field_map(s.field, p, sun, air, a, b)
    a, b = line_map(s.hot, p.hot_capacity, p.hot_loss, p.hot_out, p, air, a, b)
    a, b = coil_map(s.store, p, a, b)
    inlet = (a + p.pump_heat / p.mcp) / (1.0 - b)
    before, lost = line_run(s.cold, p.cold_capacity, p.cold_loss, p.cold_out, p, air, inlet)
    after = field_move(s.field, p, sun, air, p.mcp, before)
    sums[COLLECTOR] += p.mcp * (after - before) * p.step
    entering, lost_hot = line_run(s.hot, p.hot_capacity, p.hot_loss, p.hot_out, p, air, after)
    leaving = coil_run(s.store, gains, p, entering)
    heat = p.mcp * (entering - leaving) * p.step
    sums[COIL] += heat
    if heat < 0.0:
        sums[WASTED] -= heat
    sums[LINE_LOSS] += lost + lost_hot
    sums[PUMP_HEAT] += p.pump_heat * p.step
    sums[ELECTRIC] += p.pump_power * p.step
    sums[PUMP_TIME] += p.step


@njit(cache=True, error_model="numpy", fastmath=True)
def rest(s: Any, p: Any, sums: Array, sun: float, air: float) -> None:
    """One step with the pump off."""
    field_move(s.field, p, sun, air, 0.0, 0.0)
    sums[LINE_LOSS] += line_rest(s.cold, p.cold_capacity, p.cold_loss, p.cold_out, p, air)
    sums[LINE_LOSS] += line_rest(s.hot, p.hot_capacity, p.hot_loss, p.hot_out, p, air)
    if s.field.max() >= p.stagnation:
        sums[STAGNATION_TIME] += p.step


@njit(cache=True, error_model="numpy", fastmath=True)
def backup(s: Any, p: Any, gains: Array, sums: Array, minute: int) -> None:
    """A heater in the upper part, which warms from its node to the top: on below its set point and latch, off at it, within its times."""
    t = s.store[p.backup_node]
    if t >= p.backup_set or p.backup_minutes[minute] == 0.0:
        s.memory[3] = 0.0
    elif t < p.backup_set - p.backup_latch:
        s.memory[3] = 1.0
    if s.memory[3] > 0.0:
        # warm water rises from the heater: what lies above it is warmed by the mixing
        gains[p.backup_node] += p.backup_power * p.step
        sums[BACKUP] += p.backup_power * p.step


@njit(cache=True, error_model="numpy", fastmath=True)
def store_step(t: Array, p: Any, gains: Array, sums: Array) -> None:
    """Coil heat, loss and conduction, all from the old temperatures; `gains` [J] is used up."""
    n = t.size
    room, step, conducts, per_joule = p.room, p.step, p.conduction, 1.0 / p.node_capacity
    lost, above = 0.0, 0.0
    for i in range(n):
        here = t[i]
        loss = p.node_loss[i] * (here - room) * step
        down = conducts * (here - t[i + 1]) * step if i < n - 1 else 0.0
        lost += loss
        gains[i] += above - loss - down
        above = down
    for i in range(n):
        t[i] += gains[i] * per_joule
        gains[i] = 0.0
    sums[STORE_LOSS] += lost


@njit(cache=True, error_model="numpy", fastmath=True)
def draw(t: Array, p: Any, sums: Array, volume: float, cold: float) -> None:
    """A draw at the tap temperature [m³] in equal parts of at most half a node, each tempered with the top as it is then."""
    n = t.size
    sums[DEMAND] += volume * p.rho_c * (p.tap - cold)
    parts = int(np.ceil(volume / (LARGEST_PART * p.node_volume) - 1e-9))
    each = volume / parts
    for _ in range(parts):
        taken = each if t[0] <= p.tap else each * (p.tap - cold) / (t[0] - cold)
        sums[DRAW] += taken * p.rho_c * (t[0] - cold)
        share = taken / p.node_volume
        for i in range(n - 1):
            t[i] += share * (t[i + 1] - t[i])
        t[n - 1] += share * (cold - t[n - 1])


@njit(cache=True, error_model="numpy", fastmath=True)
def mix(t: Array) -> None:
    """Unstable neighbours are mixed till warm lies over cold; nodes are equal, so each block is its plain mean."""
    n = t.size
    stable = True
    for i in range(n - 1):
        if t[i] < t[i + 1]:
            stable = False
            break
    if stable:
        return
    start = 0
    while start < n:
        end, total = start + 1, t[start]
        # a block grows downwards while what lies under it is warmer, then upwards again
        while end < n and t[end] > total / (end - start):
            total += t[end]
            end += 1
        mean = total / (end - start)
        for i in range(start, end):
            t[i] = mean
        if start > 0 and t[start - 1] < mean - 1e-12:
            start -= 1
            while start > 0 and t[start - 1] == t[start]:
                start -= 1
        else:
            start = end


@njit(cache=True, error_model="numpy", fastmath=True)
def sleeps(p: Any, s: Any, sun: float, minute: Array, hour: int) -> bool:
    """Whether nothing can happen in this hour: dark, pump off, field far from starting, nothing drawn."""
    if sun > 0.0 or s.memory[0] > 0.0:
        return False
    if s.field.max() - s.store[p.store_node] > p.start - SURELY_OFF_K:
        return False
    if p.backup_power > 0.0:
        near = s.memory[3] > 0.0 or s.store[p.backup_node] < p.backup_set - p.backup_latch + SURELY_WARM_K
        if near and p.backup_minutes[hour * 60 : hour * 60 + 60].max() > 0.0:
            return False
    return minute[hour * 60 : hour * 60 + 60].max() <= 0.0


@njit(cache=True, error_model="numpy", fastmath=True)
def run(p: Any, long: Any, s: Any, feed: Any, sums: Array, highest: Array) -> None:
    """Hours of a feed from its first day on; sums by day, shape (days, sums), highest temperatures [°C].

    `long` is the plant with a longer step, for hours in which nothing can happen; the plant itself where every step is a short one.
    """
    sun, air, minute = feed.sun, feed.air, feed.minute
    steps = round(3600.0 / p.step)
    long_steps = round(3600.0 / long.step)
    per_step = p.step / 60.0
    gains = np.zeros(s.store.size)
    started = False
    for hour in range(sun.size):
        day = hour // 24
        total = sums[day]
        if hour % 24 == 0:
            started = False
        if long.step > p.step and sleeps(p, s, sun[hour], minute, hour % 24):
            for _ in range(long_steps):
                rest(s, long, total, sun[hour], air[hour])
                store_step(s.store, long, gains, total)
                mix(s.store)
            continue
        for k in range(steps):
            runs = control(p, s)
            if runs and s.memory[0] == 0.0:
                total[STARTS] += 1.0
                if not started:
                    total[DAYS_WITH_START] += 1.0
                    started = True
            s.memory[0] = 1.0 if runs else 0.0
            if runs:
                ring(s, p, gains, total, sun[hour], air[hour])
            else:
                rest(s, p, total, sun[hour], air[hour])
            if p.backup_power > 0.0:
                backup(s, p, gains, total, (hour % 24) * 60 + int(k * per_step))
            store_step(s.store, p, gains, total)
            volume = minute[(hour % 24) * 60 + int(k * per_step)] * feed.days[feed.first_day + day] * per_step
            if volume > 0.0:
                draw(s.store, p, total, volume, feed.cold[feed.first_day + day])
            mix(s.store)
            highest[HIGHEST_COLLECTOR] = max(highest[HIGHEST_COLLECTOR], s.field.max())
            highest[HIGHEST_STORE] = max(highest[HIGHEST_STORE], s.store[0])
