"""The loop minute by minute, compiled. Order in a step: control, ring, store, draw, mixing. Source: methods 5 to 7.

The ring of cold line, field, hot line and coil is linear in its inlet temperature, so the inlet is solved exactly:
every part maps an entering temperature a + b·x to a leaving one, and x closes the ring.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from rowan.core.simulation.controller import (
    BACKUP_ON,
    DUMPS,
    FROST_ON,
    FROST_RUN,
    PUMP,
    REMEMBERED,
    REST,
    SIPHON_FLOW,
    SPEED,
    SUN,
    WHY,
    frost_latch,
    hygiene_heat,
    pair_wants,
    ring_step,
    why_runs,
)
from rowan.core.simulation.plant import (
    BACKUP,
    COIL,
    COLLECTOR,
    DAYS_WITH_START,
    DEMAND,
    DRAW,
    DUMPED,
    ELECTRIC,
    FROST,
    HELD,
    LINE_LOSS,
    PUMP_HEAT,
    PUMP_TIME,
    RING,
    STAGNATION_TIME,
    STARTS,
    STORE_LOSS,
    SUMS,
    WASTED,
    WATCHED,
    Feed,
    Plant,
    State,
)
from rowan.core.terms.constants import GRAVITY

__all__ = ["REMEMBERED", "SUMS", "WATCHED", "Feed", "Plant", "State", "run"]

Array = NDArray[np.float64]

HIGHEST_COLLECTOR, HIGHEST_STORE = 0, 1
PAUSE_STEPS = 5  # minutes taken at once while the field is surely too cold to start
SURELY_WARM_K = 1.0  # a store this far above its backup's start stays there through an hour without a draw
SURELY_OFF_K = 2.0  # a field this far below its start stays off through a dark hour
LARGEST_PART = 0.5  # of a node, that a draw may move at once
ABSOLUTE_ZERO_C = -273.0


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def control(p: Any, s: Any) -> bool:
    """Whether the pump runs in this step, by the temperatures at the end of the last one."""
    if p.frost_start > ABSOLUTE_ZERO_C:
        frost_latch(p, s)
        if s.memory[FROST_ON] > 0.0:
            return True
    return pair_wants(p, s, s.field[-1], s.store[p.store_node], s.memory[PUMP] > 0.0)


@njit(cache=True, error_model="numpy", fastmath=True)
def water_density(t: float) -> float:
    """Density of water [kg/m³] at t [°C], 0 to 100 °C (Kell's form)."""
    return 1000.0 * (1.0 - (t + 288.9414) * (t - 3.9863) ** 2 / (508929.2 * (t + 68.12963)))


@njit(cache=True, error_model="numpy", fastmath=True)
def column(t: Array, height: float) -> float:
    """Pressure of a column of water by its nodes [Pa]."""
    weight = 0.0
    for i in range(t.size):
        weight += water_density(t[i])
    return weight / t.size * GRAVITY * height


@njit(cache=True, error_model="numpy", fastmath=True)
def siphon_flow(p: Any, s: Any) -> float:
    """Flow of a loop without a pump [kg/s]: what the cold side weighs more than the warm one, against friction.

    The mean of this and the last step's flow, which keeps it from swinging.
    """
    first = p.return_node if p.return_node >= 0 else 0
    cold = column(s.cold, p.fall_cold) + column(s.store[first:], p.fall_store)
    warm = column(s.field, p.rise_field) + column(s.hot, p.rise_hot)
    drive = cold - warm
    flow = 0.0
    if drive > 0.0:
        flow = (-p.k1 + np.sqrt(p.k1**2 + 4.0 * p.k2 * drive)) / (2.0 * p.k2)
    flow = (flow + s.memory[SIPHON_FLOW]) / 2.0
    if flow < 1e-5:
        flow = 0.0
    s.memory[SIPHON_FLOW] = flow
    return flow


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def line_map(t: Array, line: Array, p: Any, air: float, mcp: float, a: float, b: float) -> tuple[float, float]:
    """What a line makes of an entering temperature a + b·x."""
    for i in range(t.size):
        around = air if line[2, i] > 0.0 else p.room
        held = line[0, i] / p.step
        whole = held + mcp + line[1, i]
        a = (held * t[i] + line[1, i] * around + mcp * a) / whole
        b = mcp * b / whole
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def line_run(t: Array, line: Array, p: Any, air: float, mcp: float, entering: float) -> tuple[float, float]:
    """Moves a line on with the pump running; gives the leaving temperature and the heat lost [J]."""
    lost = 0.0
    for i in range(t.size):
        around = air if line[2, i] > 0.0 else p.room
        held = line[0, i] / p.step
        t[i] = (held * t[i] + line[1, i] * around + mcp * entering) / (held + mcp + line[1, i])
        lost += line[1, i] * (t[i] - around) * p.step
        entering = t[i]
    return entering, lost


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def line_rest(t: Array, line: Array, p: Any, air: float) -> float:
    """Lets a line cool with the pump off; gives the heat lost [J]. What has drained stands in the reservoir."""
    lost = 0.0
    for i in range(t.size):
        if p.drains and line[2, i] > 0.0:
            continue
        around = air if line[2, i] > 0.0 else p.room
        held = line[0, i] / p.step
        t[i] = (held * t[i] + line[1, i] * around) / (held + line[1, i])
        lost += line[1, i] * (t[i] - around) * p.step
    return lost


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def field_map(t: Array, p: Any, sun: float, air: float, mcp: float, a: float, b: float) -> tuple[float, float]:
    """What the field makes of an entering temperature; a2 linearised with each node's old temperature."""
    part = p.field_gain / t.size
    held = p.field_capacity / t.size / p.step
    for i in range(t.size):
        loss = part * (p.a1 + p.a2 * abs(t[i] - air))
        whole = held + mcp + loss
        a = (held * t[i] + part * sun + loss * air + mcp * a) / whole
        b = mcp * b / whole
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def field_move(t: Array, p: Any, sun: float, air: float, mcp: float, entering: float) -> float:
    """Moves the field on, with the pump running (mcp) or standing (mcp 0); gives the leaving temperature."""
    part = p.field_gain / t.size
    capacity = p.field_capacity
    if p.drains and mcp == 0.0:
        capacity -= p.field_liquid
    held = capacity / t.size / p.step
    for i in range(t.size):
        loss = part * (p.a1 + p.a2 * abs(t[i] - air))
        t[i] = (held * t[i] + part * sun + loss * air + mcp * entering) / (held + mcp + loss)
        entering = t[i]
    return entering


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def coil_map(store: Array, p: Any, keep: Array, mcp: float, a: float, b: float) -> tuple[float, float]:
    """What coil or store makes of an entering temperature: from the coil's top port down, or through the water itself."""
    if p.return_node >= 0:
        held = p.node_capacity / p.step
        for i in range(p.return_node, store.size):
            a = (held * store[i] + mcp * a) / (held + mcp)
            b = mcp * b / (held + mcp)
        return a, b
    for i in range(store.size):
        if keep[i] < 1.0:
            a = store[i] * (1.0 - keep[i]) + keep[i] * a
            b = keep[i] * b
    return a, b


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def coil_run(store: Array, gains: Array, p: Any, keep: Array, mcp: float, entering: float) -> float:
    """Heat that coil or flow leaves in each node [J], added to `gains`; gives the leaving temperature."""
    if p.return_node >= 0:
        held = p.node_capacity / p.step
        for i in range(p.return_node, store.size):
            leaving = (held * store[i] + mcp * entering) / (held + mcp)
            gains[i] += mcp * (entering - leaving) * p.step
            entering = leaving
        return entering
    for i in range(store.size):
        if keep[i] < 1.0:
            leaving = store[i] + (entering - store[i]) * keep[i]
            gains[i] += mcp * (entering - leaving) * p.step
            entering = leaving
    return entering


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def ring(s: Any, p: Any, keep: Array, mcp: float, gains: Array, sums: Array, sun: float, air: float) -> None:
    """One step with flow: the inlet is solved, then every part is moved on. `keep` is what passes each node's coil."""
    a, b = line_map(s.cold, p.cold, p, air, mcp, 0.0, 1.0)
    a, b = field_map(s.field, p, sun, air, mcp, a, b)
    a, b = line_map(s.hot, p.hot, p, air, mcp, a, b)
    a, b = coil_map(s.store, p, keep, mcp, a, b)
    power = s.memory[SPEED] ** 3  # affinity
    inlet = (a + p.pump_heat * power / mcp) / (1.0 - b)
    before, lost = line_run(s.cold, p.cold, p, air, mcp, inlet)
    after = field_move(s.field, p, sun, air, mcp, before)
    sums[COLLECTOR] += mcp * (after - before) * p.step
    entering, lost_hot = line_run(s.hot, p.hot, p, air, mcp, after)
    leaving = coil_run(s.store, gains, p, keep, mcp, entering)
    heat = mcp * (entering - leaving) * p.step
    sums[COIL] += heat
    if heat < 0.0:
        sums[WASTED] -= heat
        if s.memory[FROST_ON] > 0.0:
            sums[FROST] -= heat
    sums[LINE_LOSS] += lost + lost_hot
    sums[PUMP_HEAT] += p.pump_heat * power * p.step
    sums[ELECTRIC] += p.pump_power * power * p.step
    sums[PUMP_TIME] += p.step


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def dump_ring(s: Any, p: Any, mcp: float, sums: Array, sun: float, air: float) -> None:
    """One step with flow through a dump to the open air in place of the store."""
    passes = np.exp(-p.more.dump_w_k / mcp)
    a, b = line_map(s.cold, p.cold, p, air, mcp, 0.0, 1.0)
    a, b = field_map(s.field, p, sun, air, mcp, a, b)
    a, b = line_map(s.hot, p.hot, p, air, mcp, a, b)
    inlet = (air + (a - air) * passes + p.pump_heat / mcp) / (1.0 - b * passes)
    before, lost = line_run(s.cold, p.cold, p, air, mcp, inlet)
    after = field_move(s.field, p, sun, air, mcp, before)
    entering, lost_hot = line_run(s.hot, p.hot, p, air, mcp, after)
    sums[COLLECTOR] += mcp * (after - before) * p.step
    sums[DUMPED] += mcp * (entering - air) * (1.0 - passes) * p.step
    sums[LINE_LOSS] += lost + lost_hot
    sums[PUMP_HEAT] += p.pump_heat * p.step
    sums[ELECTRIC] += p.pump_power * p.step
    sums[PUMP_TIME] += p.step


@njit(cache=True, error_model="numpy", fastmath=True)
def fill(s: Any, p: Any) -> None:
    """A dry field is filled from the reservoir, the cold line's first node: liquid and absorber share their heat."""
    dry = p.field_capacity - p.field_liquid
    for i in range(s.field.size):
        s.field[i] = (dry * s.field[i] + p.field_liquid * s.cold[0]) / p.field_capacity


@njit(cache=True, error_model="numpy", fastmath=True)
def drain_line(t: Array, line: Array, reservoir: float) -> float:
    """The heat that the liquid of a line's outdoor nodes brings back over the reservoir's temperature [J]."""
    back = 0.0
    for i in range(t.size):
        if line[2, i] > 0.0:
            back += line[0, i] * (t[i] - reservoir)
            t[i] = reservoir
    return back


@njit(cache=True, error_model="numpy", fastmath=True)
def drain(s: Any, p: Any, sums: Array) -> None:
    """Field and outdoor lines empty into the reservoir, which takes up their heat."""
    reservoir = s.cold[0]
    of_field = p.field_liquid * (s.field.mean() - reservoir)
    back = drain_line(s.cold, p.cold, reservoir)
    back += drain_line(s.hot, p.hot, reservoir)
    sums[COLLECTOR] += of_field
    s.cold[0] = reservoir + (of_field + back) / p.cold[0, 0]


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def rest(s: Any, p: Any, sums: Array, sun: float, air: float) -> None:
    """One step with the pump off."""
    field_move(s.field, p, sun, air, 0.0, 0.0)
    sums[LINE_LOSS] += line_rest(s.cold, p.cold, p, air)
    sums[LINE_LOSS] += line_rest(s.hot, p.hot, p, air)
    if s.field.max() >= p.stagnation:
        sums[STAGNATION_TIME] += p.step


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def backup(s: Any, p: Any, gains: Array, sums: Array, below: float, until: float) -> None:
    """A heater in the upper part, which warms from its node to the top: on below one temperature, off at another."""
    t = s.store[p.backup_node]
    if t >= until:
        s.memory[BACKUP_ON] = 0.0
    elif t < below:
        s.memory[BACKUP_ON] = 1.0
    if s.memory[BACKUP_ON] > 0.0:
        # warm water rises from the heater: what lies above it is warmed by the mixing
        gains[p.backup_node] += p.backup_power * p.step
        sums[BACKUP] += p.backup_power * p.step


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def store_step(t: Array, p: Any, gains: Array, sums: Array, room: float, exposed: float) -> None:
    """Coil heat, loss and conduction, all from the old temperatures; `gains` [J] is used up."""
    n = t.size
    step, conducts, per_joule = p.step, p.conduction, 1.0 / p.node_capacity
    lost, above = 0.0, 0.0
    for i in range(n):
        here = t[i]
        loss = p.nodes[1, i] * exposed * (here - room) * step
        down = conducts * (here - t[i + 1]) * step if i < n - 1 else 0.0
        lost += loss
        gains[i] += above - loss - down
        above = down
    for i in range(n):
        t[i] += gains[i] * per_joule
        gains[i] = 0.0
    sums[STORE_LOSS] += lost


@njit(cache=True, error_model="numpy", fastmath=True)
def draw(t: Array, sums: Array, volume: float, cold: float, tap: float, node_volume: float, rho_c: float) -> None:
    """A draw at the tap temperature [m³] in equal parts of at most half a node, each tempered with the top as it is then."""
    n = t.size
    sums[DEMAND] += volume * rho_c * (tap - cold)
    parts = int(np.ceil(volume / (LARGEST_PART * node_volume) - 1e-9))
    each = volume / parts
    for _ in range(parts):
        taken = each if t[0] <= tap else each * (tap - cold) / (t[0] - cold)
        sums[DRAW] += taken * rho_c * (t[0] - cold)
        share = taken / node_volume
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


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def sleeps(p: Any, s: Any, sun: float, air: float, minute: Array, below: Array, hour: int) -> bool:
    """Whether nothing can happen in this hour: dark, pump off, field far from starting and from frost, nothing drawn."""
    if p.frost_start > ABSOLUTE_ZERO_C and min(air, s.field.min()) < p.frost_stop:
        return False
    if sun > 0.0 or s.memory[PUMP] > 0.0 or p.more.wakes:
        return False
    if s.field.max() - s.store[p.store_node] > p.start - SURELY_OFF_K:
        return False
    if p.backup_power > 0.0:
        starts = below[hour * 60 : hour * 60 + 60].max()
        may = starts > ABSOLUTE_ZERO_C
        if may and (s.memory[BACKUP_ON] > 0.0 or s.store[p.backup_node] < starts + SURELY_WARM_K):
            return False
    return minute[hour * 60 : hour * 60 + 60].max() <= 0.0


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def coil_keep(p: Any, keep: Array, mcp: float) -> None:
    """What passes each node's coil at a flow, written to `keep`."""
    for i in range(keep.size):
        keep[i] = np.exp(-p.nodes[2, i] / mcp)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def flow_of(p: Any, s: Any, keep: Array) -> float:
    """Heat capacity rate of this step [W/K], 0 at rest; what passes the coil's nodes is written to `keep`.

    With functions at work `why_runs` has decided before.
    """
    if p.k2 <= 0.0 and p.more.used:
        if s.memory[WHY] == REST:
            return 0.0
        mcp = p.mcp * s.memory[SPEED]
        if p.more.floor < 1.0 and p.return_node < 0:
            coil_keep(p, keep, mcp)
        return mcp
    if p.k2 <= 0.0:
        return p.mcp if control(p, s) else 0.0
    mcp = siphon_flow(p, s) * p.heat_capacity
    if mcp > 0.0 and p.return_node < 0:
        coil_keep(p, keep, mcp)
    return mcp


@njit(cache=True, error_model="numpy", fastmath=True)
def held_need(p: Any, room: float, exposed: float) -> float:
    """What a pool loses at the temperature it is held at [W], none where it would gain."""
    need = 0.0
    for i in range(p.nodes.shape[1]):
        need += p.nodes[1, i] * exposed * (p.held - room)
    return max(need, 0.0)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def loop_step(p: Any, s: Any, keep: Array, gains: Array, total: Array, sun: float, air: float) -> bool:
    """Control and loop of one step; gives whether the loop started in it."""
    mcp = flow_of(p, s, keep)
    ran, runs = s.memory[PUMP] > 0.0, mcp > 0.0
    if p.drains and ran != runs:
        if runs:
            fill(s, p)
        else:
            drain(s, p, total)
    s.memory[PUMP] = 1.0 if runs else 0.0
    if runs and p.more.used and s.memory[WHY] == DUMPS:
        dump_ring(s, p, mcp, total, sun, air)
    elif runs:
        ring(s, p, keep, mcp, gains, total, sun, air)
    else:
        rest(s, p, total, sun, air)
    return runs and not ran


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def pauses(p: Any, s: Any, sun: float, minute: Array, below: Array, at: int, lasts: float) -> bool:
    """Whether nothing can happen for some minutes of a bright hour: the field cannot reach its start, nothing is drawn."""
    if s.memory[PUMP] > 0.0 or p.frost_start > ABSOLUTE_ZERO_C:
        return False
    reaches = s.field.max() + max(sun, 0.0) * p.field_gain / (p.field_capacity - p.field_liquid) * lasts
    if reaches - s.store[p.store_node] > p.start - SURELY_OFF_K or reaches > p.refill or reaches > p.stagnation:
        return False
    minutes = round(lasts / 60.0)
    if p.backup_power > 0.0:
        starts = below[at : at + minutes].max()
        may = starts > ABSOLUTE_ZERO_C
        if may and (s.memory[BACKUP_ON] > 0.0 or s.store[p.backup_node] < starts + SURELY_WARM_K):
            return False
    return minute[at : at + minutes].max() <= 0.0


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def store_part(p: Any, s: Any, feed: Any, gains: Array, total: Array, at: int, hour: int) -> None:
    """What happens to the store in a short step: backup, hygiene, losses, ring, draw, mixing."""
    of_year = feed.first_day + hour // 24
    if p.backup_power > 0.0 and feed.heats[of_year] > 0.0:
        backup(s, p, gains, total, feed.backup_on[at], feed.backup_off[at])
    if p.more.used:
        through = hygiene_heat(p, s, at, of_year) * p.step
        gains[gains.size - 1] += through
        total[BACKUP] += through
    store_step(s.store, p, gains, total, feed.room[hour], feed.exposed[hour])
    if p.more.ring_flow > 0.0:
        total[RING] += ring_step(p, s, feed.ring_minutes[at], feed.room[hour])
    volume = feed.minute[at] * feed.days[of_year] * p.step / 60.0
    if volume > 0.0:
        draw(s.store, total, volume, feed.cold[of_year], p.tap, p.node_volume, p.rho_c)
    mix(s.store)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def doze(p: Any, s: Any, feed: Any, gains: Array, total: Array, hour: int, parts: int) -> None:
    """An hour in which nothing can happen, in the long steps of its plant."""
    for _ in range(round(3600.0 / p.step)):
        rest(s, p, total, feed.sun[hour * parts], feed.air[hour * parts])
        store_step(s.store, p, gains, total, feed.room[hour], feed.exposed[hour])
        mix(s.store)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def watch(row: Array, p: Any, s: Any, sun: float) -> None:
    """Keeps a step to be looked at."""
    runs = s.memory[PUMP] > 0.0
    row[0], row[1], row[2] = s.field[-1], s.store[p.store_node], s.store[p.limit_node]
    row[3], row[4] = s.hot[-1], s.cold[0]
    row[5] = s.memory[SPEED] if runs else 0.0
    row[6] = (s.memory[WHY] if p.more.used else float(SUN)) if runs else 0.0
    if runs and s.memory[FROST_ON] > 0.0:
        row[6] = float(FROST_RUN)
    row[7] = sun


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def watch_all(watched: Any, first: int, count: int, p: Any, s: Any, sun: float) -> None:
    """Keeps what a step or several in one look like, where steps are kept at all."""
    if watched.shape[0] > 0:
        for i in range(count):
            watch(watched[first + i], p, s, sun)


@njit(cache=True, error_model="numpy", fastmath=True, nogil=True)
def run(paces: Any, s: Any, feed: Any, sums: Array, highest: Array, traced: Any, watched: Any) -> None:
    """Hours of a feed from its first day on; sums by day, shape (days, sums), highest temperatures [°C].

    `paces` are four times the plant: with its own step; with one of some minutes for bright hours in which nothing can
    happen; with a long one for dark hours; with the store's own, a minute, in which what the loop brought in shorter
    steps is taken up. The plant itself again where every step is a short one. `traced` takes the store's layers, the field's
    exit [°C] and the share of the hour with flow at the end of each hour, shape (hours, nodes + 2); `watched` takes
    `WATCHED` of every step, shape (steps, 8). None where they have no rows.
    """
    p, pause, long, slow = paces
    hours = feed.room.size
    parts = feed.sun.size // hours  # of an hour that sun and air are given for
    steps = round(3600.0 / p.step)
    per_part = steps // parts
    per_step = p.step / 60.0
    per_store = max(1, round(slow.step / p.step))
    span = round(pause.step / p.step)
    brief = span > 1 and p.k2 <= 0.0 and not p.more.used
    sleepy = long.step > p.step and p.k2 <= 0.0
    n = s.store.size
    gains = np.zeros(n)
    keep = p.nodes[0].copy()
    started = False
    for hour in range(hours):
        total = sums[hour // 24]
        if hour % 24 == 0:
            started = False
        ran_before = total[PUMP_TIME]
        if p.held > 0.0 and feed.heats[feed.first_day + hour // 24] > 0.0:
            total[HELD] += held_need(p, feed.room[hour], feed.exposed[hour]) * 3600.0
        first = hour * parts
        if sleepy and sleeps(p, s, feed.sun[first], feed.air[first], feed.minute, feed.backup_on, hour % 24):
            doze(long, s, feed, gains, total, hour, parts)
            watch_all(watched, hour * steps, steps, p, s, feed.sun[first])
        else:
            k = 0
            sun, air = feed.sun[first], feed.air[first]
            while k < steps:
                at = (hour % 24) * 60 + int(k * per_step)
                if k % per_part == 0:
                    sun, air = feed.sun[first + k // per_part], feed.air[first + k // per_part]
                if brief and k % span == 0 and pauses(p, s, sun, feed.minute, feed.backup_on, at, pause.step):
                    rest(s, pause, total, sun, air)
                    store_step(s.store, pause, gains, total, feed.room[hour], feed.exposed[hour])
                    mix(s.store)
                    watch_all(watched, hour * steps + k, span, p, s, sun)
                    k += span
                    continue
                if p.more.used:
                    day = feed.first_day + hour // 24
                    why_runs(p, s, sun, air, at, day, feed.cool_days[day])
                if loop_step(p, s, keep, gains, total, sun, air):
                    total[STARTS] += 1.0
                    if not started:
                        total[DAYS_WITH_START] += 1.0
                        started = True
                if (k + 1) % per_store == 0:
                    store_part(slow, s, feed, gains, total, at, hour)
                highest[HIGHEST_COLLECTOR] = max(highest[HIGHEST_COLLECTOR], s.field.max())
                highest[HIGHEST_STORE] = max(highest[HIGHEST_STORE], s.store[0])
                watch_all(watched, hour * steps + k, 1, p, s, sun)
                k += 1
        if traced.shape[0] > 0:
            for i in range(n):
                traced[hour, i] = s.store[i]
            traced[hour, n] = s.field[-1]
            traced[hour, n + 1] = (total[PUMP_TIME] - ran_before) / 3600.0
