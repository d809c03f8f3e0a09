"""What a controller can do beside comparing two temperatures, compiled: sensors as they read, speed, minimum run,
cooling, night cooling, frost in levels, exercise, heat dump, hygiene, battery and ring. Source: methods 7.

Each function takes the plant `p` (a record, passed by its address), all temperatures `t` and what is remembered `m`; where
field and store begin in `t` stands in the record. None is called unless some function is on.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.compiling import called, inlined

Array = NDArray[np.float64]
# what a state remembers
(
    PUMP, STORE_FULL, CUT_OUT_ON, BACKUP_ON, FROST_ON, SIPHON_FLOW, SPEED, WHY, READ_FIELD, READ_STORE, RAN_FOR,
    FROST_CLOCK, HARD_FROST_ON, COOLING_ON, NIGHT_ON, DUMP_ON, HYGIENE_ON, CHARGE, BATTERY_LOW, RING_C, RING_ON,
) = range(21)  # fmt: skip
# numbers the controller keeps from minute to minute
REMEMBERED = 21
# why a pump runs
REST, SUN, COOLS, NIGHT, FROST_RUN, DUMPS, EXERCISES = range(7)
NOT_READ = -300.0  # a sensor that has not read yet
OFF_C, ABSOLUTE_ZERO_C = 1e6, -273.0  # °C that nothing reaches: a function that is off
FROST_BAND_K = 3.0  # frost protection stops so far above its start
COOLING_LATCH_K = 10.0  # K below its start at which cooling ends
NIGHT_START_K, NIGHT_STOP_K, NIGHT_LATCH_K = 8.0, 3.0, 2.0  # K, night cooling, methods 7
DARK_W_M2 = 1.0  # W/m², night
# d, how often a weekly pass or exercise comes round
WEEK = 7
KNOWN_SUN_W_M2 = 1000.0  # W/m² at which a panel is rated
# functions that may act in a dark hour
AT_NIGHT = ("night_c", "exercise", "frost_run", "hard_frost", "hygiene_c", "ring_flow", "battery_wh")
RING_LATCH_K, RING_COOLS_S, LARGEST_RING_PART = (
    5.0,
    3600.0,
    0.5,
)  # K of its thermostat, s in which a ring cools, and of a node in a step


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
    # minutes of the day between which a plain timer runs the pump; both 0 for a controller that looks at the difference
    timer_from: int
    timer_to: int
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
    hygiene_days: int
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
        "timer_from": 0,
        "timer_to": 0,
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
        "hygiene_days": WEEK,
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


@inlined
def coldest_of(p: Any, t: Array) -> float:
    """The field's coldest node [°C]."""
    coldest = t[p.field0]
    for i in range(p.field0, p.hot0):
        coldest = min(coldest, t[i])
    return coldest


@inlined
def exit_of(p: Any, t: Array) -> float:
    """The field's exit [°C]; of two strings the hotter one's, as a controller with a sensor on each takes it."""
    return max(t[p.exit], t[p.exit_beside])


@called
def read_sensors(p: Any, t: Array, m: Array, air: float) -> None:
    """What the two sensors show at the end of a step, into memory."""
    shown = exit_of(p, t)
    field = shown + p.field_strap * (air - shown) + p.field_offset
    store = t[p.foot] + p.store_offset
    if m[READ_FIELD] > NOT_READ:
        field = m[READ_FIELD] + (field - m[READ_FIELD]) * p.step / (p.field_lag + p.step)
        store = m[READ_STORE] + (store - m[READ_STORE]) * p.step / (p.store_lag + p.step)
    m[READ_FIELD], m[READ_STORE] = field, store


@inlined
def frost_latch(p: Any, t: Array, m: Array) -> float:
    """Whether the field is as cold as frost protection begins at, into memory; gives its coldest node [°C]."""
    coldest = coldest_of(p, t)
    if coldest <= p.frost_start:
        m[FROST_ON] = 1.0
    elif coldest >= p.frost_stop:
        m[FROST_ON] = 0.0
    return coldest


@called
def frost_wants(p: Any, t: Array, m: Array) -> bool:
    """Frost protection in up to two levels, each with its run and pause; the colder level goes first."""
    coldest = frost_latch(p, t, m)
    if coldest <= p.hard_frost:
        m[HARD_FROST_ON] = 1.0
    elif coldest >= p.hard_frost + FROST_BAND_K:
        m[HARD_FROST_ON] = 0.0
    if m[FROST_ON] == 0.0 and m[HARD_FROST_ON] == 0.0:
        m[FROST_CLOCK] = 0.0
        return False
    run, pause = p.frost_run, p.frost_pause
    if m[HARD_FROST_ON] > 0.0:
        run, pause = p.hard_run, p.hard_pause
    if pause <= 0.0 or run <= 0.0:
        return True
    clock = m[FROST_CLOCK]
    m[FROST_CLOCK] = 0.0 if clock + p.step >= run + pause else clock + p.step
    return clock < run


@called
def night_wants(p: Any, t: Array, m: Array, sun: float, may: float) -> bool:
    """Night cooling of a store that is warmer than wanted, through a field far colder than it."""
    if sun > DARK_W_M2 or may == 0.0:
        m[NIGHT_ON] = 0.0
        return False
    over = m[READ_STORE] - m[READ_FIELD]
    top = t[p.limit]
    if m[NIGHT_ON] > 0.0:
        wants = top > p.night_c and over > NIGHT_STOP_K
    else:
        wants = top > p.night_c + NIGHT_LATCH_K and over >= NIGHT_START_K
    m[NIGHT_ON] = 1.0 if wants else 0.0
    return wants


@inlined
def pair_wants(p: Any, t: Array, m: Array, exit_c: float, foot: float, running: bool) -> bool:
    """The two differences with the store limit and the cut-out, which are latched into memory."""
    top = t[p.limit]
    if top >= p.store_maximum:
        m[STORE_FULL] = 1.0
    elif top <= p.store_maximum - p.store_latch:
        m[STORE_FULL] = 0.0
    if exit_c >= p.cut_out:
        m[CUT_OUT_ON] = 1.0
    elif exit_c <= p.cut_out - p.cut_out_latch:
        m[CUT_OUT_ON] = 0.0
    if m[STORE_FULL] > 0.0 or m[CUT_OUT_ON] > 0.0:
        return False
    if running:
        return exit_c - foot > p.stop
    return exit_c - foot >= p.start and exit_c >= p.least and exit_c < p.refill


@called
def sun_wants(p: Any, t: Array, m: Array) -> bool:
    """The two differences on what the sensors read; a pump that runs does so for its least time, unless a limit stops it."""
    running = m[PUMP] > 0.0 and m[WHY] == SUN
    wants = pair_wants(p, t, m, m[READ_FIELD], m[READ_STORE], running)
    limited = m[STORE_FULL] > 0.0 or m[CUT_OUT_ON] > 0.0
    return wants or (running and not limited and m[RAN_FOR] < p.least_run)


@called
def heat_wants(p: Any, t: Array, m: Array) -> int:
    """What is done with a field that is hot while the store is full: a dump, or cooling it into the store."""
    hot = m[READ_FIELD]
    if m[STORE_FULL] == 0.0:
        m[DUMP_ON], m[COOLING_ON] = 0.0, 0.0
        return REST
    if hot >= p.dump:
        m[DUMP_ON] = 1.0
    elif hot <= p.dump - COOLING_LATCH_K:
        m[DUMP_ON] = 0.0
    if m[DUMP_ON] > 0.0:
        return DUMPS
    if hot >= p.cooling and t[p.limit] < p.cooling_store:
        m[COOLING_ON] = 1.0
    elif hot <= p.cooling - COOLING_LATCH_K or t[p.limit] >= p.cooling_store:
        m[COOLING_ON] = 0.0
    return COOLS if m[COOLING_ON] > 0.0 and m[CUT_OUT_ON] == 0.0 else REST


@called
def battery_low(volts: float, low: float, cut: float, resume: float) -> float:
    """Whether a pump is cut off (1 or 0), after a voltage under load or at rest: below `cut` it is, from `resume` on not."""
    if volts < cut:
        return 1.0
    return 0.0 if volts >= resume else low


@called
def speed_share(over: float, floor: float, slope: float) -> float:
    """Speed as a share of the full one: the floor at the start difference, more by `slope` for each kelvin over it."""
    return min(max(floor + slope * over, floor), 1.0)


@called
def battery_allows(p: Any, t: Array, m: Array, sun: float) -> bool:
    """Whether the battery lets a pump run: V = V_open − I·R, cut off below one voltage, resumed at another."""
    drawn = p.pump_power * m[SPEED] ** 3 if m[PUMP] > 0.0 else 0.0
    brought = p.panel_w * max(sun, 0.0) / KNOWN_SUN_W_M2
    charge = m[CHARGE] + (brought - drawn) * p.step / 3600.0 / p.battery_wh
    m[CHARGE] = min(max(charge, 0.0), 1.0)
    volts = p.empty_v + (p.full_v - p.empty_v) * m[CHARGE] - drawn / p.pump_v * p.resistance
    m[BATTERY_LOW] = battery_low(volts, m[BATTERY_LOW], p.cut_v, p.resume_v)
    return m[BATTERY_LOW] == 0.0


@called
def why_runs(p: Any, t: Array, m: Array, sun: float, air: float, minute: int, day: int, may_cool: float) -> int:
    """Why the pump runs in this step, REST if it does not; sets its speed. What protects goes before what earns."""
    read_sensors(p, t, m, air)
    earns = sun_wants(p, t, m)
    if p.timer_to > 0:
        earns = p.timer_from <= minute < p.timer_to
    hot = heat_wants(p, t, m) if p.dump < OFF_C or p.cooling < OFF_C else REST
    why = REST
    if (p.frost_start > ABSOLUTE_ZERO_C or p.hard_frost > -OFF_C) and frost_wants(p, t, m):
        why = FROST_RUN
    elif earns:
        why = SUN
    elif hot != REST:
        why = hot
    elif p.night_c < OFF_C and night_wants(p, t, m, sun, may_cool):
        why = NIGHT
    elif p.exercise > 0.0 and day % WEEK == 0 and p.exercise_minute <= minute < p.exercise_minute + p.exercise / 60.0:
        why = EXERCISES
    # a dry field that is too hot is not filled for whatever reason
    locked = m[PUMP] == 0.0 and m[READ_FIELD] >= p.refill
    if locked or (p.battery_wh > 0.0 and not battery_allows(p, t, m, sun)):
        why = REST
    m[RAN_FOR] = m[RAN_FOR] + p.step if why != REST and m[PUMP] > 0.0 else 0.0
    speed = 1.0
    if why == SUN:
        speed = speed_share(m[READ_FIELD] - m[READ_STORE] - p.start, p.floor, p.slope)
    m[SPEED], m[WHY] = speed, float(why)
    return why


@called
def hygiene_heat(p: Any, t: Array, m: Array, minute: int, day: int) -> float:
    """Power into the store's foot that heats it through [W]: begun every so many days, ended when the coldest layer is there."""
    if p.hygiene_c <= 0.0:
        return 0.0
    if day % p.hygiene_days == 0 and minute == p.hygiene_minute:
        m[HYGIENE_ON] = 1.0
    coldest = t[p.store0]
    for i in range(p.store0, p.end):
        coldest = min(coldest, t[i])
    if coldest >= p.hygiene_c:
        m[HYGIENE_ON] = 0.0
    return p.backup_power if m[HYGIENE_ON] > 0.0 else 0.0


@called
def ring_step(p: Any, t: Array, m: Array, may: float, room: float) -> float:
    """A ring main for a step: water from the top comes back colder lower down; gives the heat it loses [J]."""
    if m[RING_C] >= p.ring_return:
        m[RING_ON] = 0.0
    elif m[RING_C] < p.ring_return - RING_LATCH_K:
        m[RING_ON] = 1.0
    if may == 0.0 or m[RING_ON] == 0.0:
        m[RING_C] += (room - m[RING_C]) * min(p.store_step / RING_COOLS_S, 1.0)
        return 0.0
    share = min(p.ring_flow * p.store_step / p.node_volume, LARGEST_RING_PART)
    back = room + (t[p.store0] - room) * np.exp(-p.ring_w_k / (p.ring_flow * p.rho_c))
    lost = share * (t[p.store0] - back) * p.node_capacity
    first = int(p.store0)
    for i in range(first, first + p.ring_node):
        t[i] += share * (t[i + 1] - t[i])
    t[first + p.ring_node] += share * (back - t[first + p.ring_node])
    m[RING_C] = back
    return lost
