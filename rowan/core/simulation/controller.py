"""What a controller can do beside comparing two temperatures, compiled: sensors as they read, speed, minimum run,
cooling, night cooling, frost in levels, exercise, heat dump, hygiene, battery and ring. Source: methods 7.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]
# what a state remembers
(
    PUMP, STORE_FULL, CUT_OUT_ON, BACKUP_ON, FROST_ON, SIPHON_FLOW, SPEED, WHY, READ_FIELD, READ_STORE, RAN_FOR,
    FROST_CLOCK, HARD_FROST_ON, COOLING_ON, NIGHT_ON, DUMP_ON, HYGIENE_ON, CHARGE, BATTERY_LOW, RING_C, RING_ON,
) = range(21)  # fmt: skip
REMEMBERED = 21
# why a pump runs
REST, SUN, COOLS, NIGHT, FROST_RUN, DUMPS, EXERCISES = range(7)
NOT_READ = -300.0  # a sensor that has not read yet
OFF_C, ABSOLUTE_ZERO_C = 1e6, -273.0
FROST_BAND_K = 3.0  # frost protection stops so far above its start
COOLING_LATCH_K = 10.0
NIGHT_START_K, NIGHT_STOP_K, NIGHT_LATCH_K = 8.0, 3.0, 2.0
DARK_W_M2 = 1.0
WEEK = 7
KNOWN_SUN_W_M2 = 1000.0
# functions that may act in a dark hour
AT_NIGHT = ("night_c", "exercise", "frost_run", "hard_frost", "hygiene_c", "ring_flow", "battery_wh")
RING_LATCH_K, RING_COOLS_S, LARGEST_RING_PART = 5.0, 3600.0, 0.5


# inlined throughout: a call that passes the plant would copy it at every step


class Functions(NamedTuple):
    """Everything a controller does beside the two differences; `functions()` gives one that does nothing. SI, °C, s.

    `used` says whether any is on, `wakes` whether one of them can act at night. Sensors read
    strap·around + (1 − strap)·true + offset, delayed by lag. Flow goes with the speed, power with its cube.
    """

    used: bool
    wakes: bool
    field_offset: float
    store_offset: float
    field_lag: float
    store_lag: float
    field_strap: float
    floor: float
    slope: float
    least_run: float
    cooling: float
    cooling_store: float
    night_c: float
    hard_frost: float
    frost_run: float
    frost_pause: float
    hard_run: float
    hard_pause: float
    exercise: float
    exercise_minute: int
    dump: float
    dump_w_k: float
    hygiene_c: float
    hygiene_minute: int
    battery_wh: float
    panel_w: float
    pump_v: float
    resistance: float
    empty_v: float
    full_v: float
    cut_v: float
    resume_v: float
    ring_flow: float
    ring_w_k: float
    ring_return: float
    ring_node: int


def functions(**those: Any) -> Functions:
    """No function but those named."""
    nothing: dict[str, Any] = {
        "used": bool(those),
        "wakes": any(name in those for name in AT_NIGHT),
        "field_offset": 0.0,
        "store_offset": 0.0,
        "field_lag": 0.0,
        "store_lag": 0.0,
        "field_strap": 0.0,
        "floor": 1.0,
        "slope": 0.0,
        "least_run": 0.0,
        "cooling": OFF_C,
        "cooling_store": 95.0,
        "night_c": OFF_C,
        "hard_frost": -OFF_C,
        "frost_run": 0.0,
        "frost_pause": 0.0,
        "hard_run": 0.0,
        "hard_pause": 0.0,
        "exercise": 0.0,
        "exercise_minute": 660,
        "dump": OFF_C,
        "dump_w_k": 0.0,
        "hygiene_c": 0.0,
        "hygiene_minute": 0,
        "battery_wh": 0.0,
        "panel_w": 0.0,
        "pump_v": 12.0,
        "resistance": 0.0,
        "empty_v": 11.4,
        "full_v": 12.8,
        "cut_v": 0.0,
        "resume_v": 0.0,
        "ring_flow": 0.0,
        "ring_w_k": 0.0,
        "ring_return": OFF_C,
        "ring_node": 0,
    }
    return Functions(**(nothing | those))


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def read_sensors(p: Any, s: Any, air: float) -> None:
    """What the two sensors show at the end of a step, into memory."""
    m = p.more
    field = s.field[-1] + m.field_strap * (air - s.field[-1]) + m.field_offset
    store = s.store[p.store_node] + m.store_offset
    if s.memory[READ_FIELD] > NOT_READ:
        field = s.memory[READ_FIELD] + (field - s.memory[READ_FIELD]) * p.step / (m.field_lag + p.step)
        store = s.memory[READ_STORE] + (store - s.memory[READ_STORE]) * p.step / (m.store_lag + p.step)
    s.memory[READ_FIELD], s.memory[READ_STORE] = field, store


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def frost_latch(p: Any, s: Any) -> float:
    """Whether the field is as cold as frost protection begins at, into memory; gives its coldest node [°C]."""
    coldest = s.field.min()
    if coldest <= p.frost_start:
        s.memory[FROST_ON] = 1.0
    elif coldest >= p.frost_stop:
        s.memory[FROST_ON] = 0.0
    return float(coldest)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def frost_wants(p: Any, s: Any) -> bool:
    """Frost protection in up to two levels, each with its run and pause; the colder level goes first."""
    m = p.more
    coldest = frost_latch(p, s)
    if coldest <= m.hard_frost:
        s.memory[HARD_FROST_ON] = 1.0
    elif coldest >= m.hard_frost + FROST_BAND_K:
        s.memory[HARD_FROST_ON] = 0.0
    if s.memory[FROST_ON] == 0.0 and s.memory[HARD_FROST_ON] == 0.0:
        s.memory[FROST_CLOCK] = 0.0
        return False
    run, pause = m.frost_run, m.frost_pause
    if s.memory[HARD_FROST_ON] > 0.0:
        run, pause = m.hard_run, m.hard_pause
    if pause <= 0.0 or run <= 0.0:
        return True
    clock = s.memory[FROST_CLOCK]
    s.memory[FROST_CLOCK] = 0.0 if clock + p.step >= run + pause else clock + p.step
    return clock < run


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def night_wants(p: Any, s: Any, sun: float, may: float) -> bool:
    """Night cooling of a store that is warmer than wanted, through a field far colder than it."""
    m = p.more
    if sun > DARK_W_M2 or may == 0.0:
        s.memory[NIGHT_ON] = 0.0
        return False
    over = s.memory[READ_STORE] - s.memory[READ_FIELD]
    top = s.store[p.limit_node]
    if s.memory[NIGHT_ON] > 0.0:
        wants = top > m.night_c and over > NIGHT_STOP_K
    else:
        wants = top > m.night_c + NIGHT_LATCH_K and over >= NIGHT_START_K
    s.memory[NIGHT_ON] = 1.0 if wants else 0.0
    return wants


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def pair_wants(p: Any, s: Any, exit_c: float, foot: float, running: bool) -> bool:
    """The two differences with the store limit and the cut-out, which are latched into memory."""
    top = s.store[p.limit_node]
    if top >= p.store_maximum:
        s.memory[STORE_FULL] = 1.0
    elif top <= p.store_maximum - p.store_latch:
        s.memory[STORE_FULL] = 0.0
    if exit_c >= p.cut_out:
        s.memory[CUT_OUT_ON] = 1.0
    elif exit_c <= p.cut_out - p.cut_out_latch:
        s.memory[CUT_OUT_ON] = 0.0
    if s.memory[STORE_FULL] > 0.0 or s.memory[CUT_OUT_ON] > 0.0:
        return False
    if running:
        return exit_c - foot > p.stop
    return exit_c - foot >= p.start and exit_c >= p.least and exit_c < p.refill


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def sun_wants(p: Any, s: Any) -> bool:
    """The two differences on what the sensors read; a pump that runs does so for its least time, unless a limit stops it."""
    running = s.memory[PUMP] > 0.0 and s.memory[WHY] == SUN
    wants = pair_wants(p, s, s.memory[READ_FIELD], s.memory[READ_STORE], running)
    limited = s.memory[STORE_FULL] > 0.0 or s.memory[CUT_OUT_ON] > 0.0
    return wants or (running and not limited and s.memory[RAN_FOR] < p.more.least_run)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def heat_wants(p: Any, s: Any) -> int:
    """What is done with a field that is hot while the store is full: a dump, or cooling it into the store."""
    m = p.more
    hot = s.memory[READ_FIELD]
    if s.memory[STORE_FULL] == 0.0:
        s.memory[DUMP_ON], s.memory[COOLING_ON] = 0.0, 0.0
        return REST
    if hot >= m.dump:
        s.memory[DUMP_ON] = 1.0
    elif hot <= m.dump - COOLING_LATCH_K:
        s.memory[DUMP_ON] = 0.0
    if s.memory[DUMP_ON] > 0.0:
        return DUMPS
    if hot >= m.cooling and s.store[p.limit_node] < m.cooling_store:
        s.memory[COOLING_ON] = 1.0
    elif hot <= m.cooling - COOLING_LATCH_K or s.store[p.limit_node] >= m.cooling_store:
        s.memory[COOLING_ON] = 0.0
    return COOLS if s.memory[COOLING_ON] > 0.0 and s.memory[CUT_OUT_ON] == 0.0 else REST


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def battery_low(volts: float, low: float, cut: float, resume: float) -> float:
    """Whether a pump is cut off (1 or 0), after a voltage under load or at rest: below `cut` it is, from `resume` on not."""
    if volts < cut:
        return 1.0
    return 0.0 if volts >= resume else low


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def speed_share(over: float, floor: float, slope: float) -> float:
    """Speed as a share of the full one: the floor at the start difference, more by `slope` for each kelvin over it."""
    return min(max(floor + slope * over, floor), 1.0)


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def battery_allows(p: Any, s: Any, sun: float) -> bool:
    """Whether the battery lets a pump run: V = V_open − I·R, cut off below one voltage, resumed at another."""
    m = p.more
    drawn = p.pump_power * s.memory[SPEED] ** 3 if s.memory[PUMP] > 0.0 else 0.0
    brought = m.panel_w * max(sun, 0.0) / KNOWN_SUN_W_M2
    charge = s.memory[CHARGE] + (brought - drawn) * p.step / 3600.0 / m.battery_wh
    s.memory[CHARGE] = min(max(charge, 0.0), 1.0)
    volts = m.empty_v + (m.full_v - m.empty_v) * s.memory[CHARGE] - drawn / m.pump_v * m.resistance
    s.memory[BATTERY_LOW] = battery_low(volts, s.memory[BATTERY_LOW], m.cut_v, m.resume_v)
    return s.memory[BATTERY_LOW] == 0.0


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def why_runs(p: Any, s: Any, sun: float, air: float, minute: int, day: int, may_cool: float) -> int:
    """Why the pump runs in this step, REST if it does not; sets its speed. What protects goes before what earns."""
    m = p.more
    read_sensors(p, s, air)
    earns = sun_wants(p, s)
    hot = heat_wants(p, s) if m.dump < OFF_C or m.cooling < OFF_C else REST
    why = REST
    if (p.frost_start > ABSOLUTE_ZERO_C or m.hard_frost > -OFF_C) and frost_wants(p, s):
        why = FROST_RUN
    elif earns:
        why = SUN
    elif hot != REST:
        why = hot
    elif m.night_c < OFF_C and night_wants(p, s, sun, may_cool):
        why = NIGHT
    elif m.exercise > 0.0 and day % WEEK == 0 and m.exercise_minute <= minute < m.exercise_minute + m.exercise / 60.0:
        why = EXERCISES
    # a dry field that is too hot is not filled for whatever reason
    locked = s.memory[PUMP] == 0.0 and s.memory[READ_FIELD] >= p.refill
    if locked or (m.battery_wh > 0.0 and not battery_allows(p, s, sun)):
        why = REST
    s.memory[RAN_FOR] = s.memory[RAN_FOR] + p.step if why != REST and s.memory[PUMP] > 0.0 else 0.0
    speed = 1.0
    if why == SUN:
        speed = speed_share(s.memory[READ_FIELD] - s.memory[READ_STORE] - p.start, m.floor, m.slope)
    s.memory[SPEED], s.memory[WHY] = speed, float(why)
    return why


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def hygiene_heat(p: Any, s: Any, minute: int, day: int) -> float:
    """Power into the store's foot that heats it through [W]: begun once a week, ended when the coldest layer is there."""
    m = p.more
    if m.hygiene_c <= 0.0:
        return 0.0
    if day % WEEK == 0 and minute == m.hygiene_minute:
        s.memory[HYGIENE_ON] = 1.0
    if s.store.min() >= m.hygiene_c:
        s.memory[HYGIENE_ON] = 0.0
    return p.backup_power if s.memory[HYGIENE_ON] > 0.0 else 0.0


@njit(cache=True, error_model="numpy", fastmath=True, inline="always")
def ring_step(p: Any, s: Any, may: float, room: float) -> float:
    """A ring main for a step: water from the top comes back colder lower down; gives the heat it loses [J]."""
    m = p.more
    if s.memory[RING_C] >= m.ring_return:
        s.memory[RING_ON] = 0.0
    elif s.memory[RING_C] < m.ring_return - RING_LATCH_K:
        s.memory[RING_ON] = 1.0
    if may == 0.0 or s.memory[RING_ON] == 0.0:
        s.memory[RING_C] += (room - s.memory[RING_C]) * min(p.step / RING_COOLS_S, 1.0)
        return 0.0
    share = min(m.ring_flow * p.step / p.node_volume, LARGEST_RING_PART)
    back = room + (s.store[0] - room) * np.exp(-m.ring_w_k / (m.ring_flow * p.rho_c))
    lost = share * (s.store[0] - back) * p.node_capacity
    for i in range(m.ring_node):
        s.store[i] += share * (s.store[i + 1] - s.store[i])
    s.store[m.ring_node] += share * (back - s.store[m.ring_node])
    s.memory[RING_C] = back
    return lost
