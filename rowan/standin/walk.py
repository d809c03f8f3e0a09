"""The stand-in's own loop, second by second, compiled: a warm lump of field, two lagging lines, a store in four layers, probes
that lag and flicker, a controller, under its own sky.

It is simpler than what Rowan plans with and knows nothing of it.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from rowan.standin.faults import NUMBER

Array = NDArray[np.float64]
STEP_S = 5.0
DAY_S = 86_400.0
WATER_J_M3K = 4.15e6
LAYERS = 4
NOISE_K, RESOLUTION_K = 0.15, 0.1
SUN_NOISE = 0.01
# field, foot, top, hot line, cold line, air outside
LAGS_S = (35.0, 60.0, 60.0, 30.0, 30.0, 300.0)
PROBES = len(LAGS_S)
LATCH_K, CUT_OUT_LATCH_K = 3.0, 10.0
AIR_SHARE, LOST_SHARE, LEAK_SHARE = 0.15, 0.2, 0.06
LOSES_PA_H, NEEDS_PA = 12e3, 20e3
RESET_START, RESET_STOP = 3.0, 0.5
SOLAR_W_M2, HAZE, DIFFUSE, THROUGH_CLOUD, OVERCAST = 1361.0, 0.74, 0.13, 0.25, 0.12
CLEAR_S, CLOUD_S = 1500.0, 900.0
CLEAR_DAYS, DULL_DAYS = 0.3, 0.25  # of all days; the rest change
WARMEST_H = 15.0
SKY_COLDER_K = 2.0  # what a plate under the open sky feels of it
GLASS_B0, DIFFUSE_K = 0.1, 0.9
DRAW_S = 600.0
GAUGE_OF = 20.0  # °C at which the gauge stands as it was filled

# places in the state
FIELD, HOT, COLD, LAYER0 = 0, 1, 2, 3
PROBE0 = LAYER0 + LAYERS
(PUMP, FULL, TOO_HOT, HEATING, CLOUDY, TURNS, DAY, KIND, WARMER, LOST, RAN, PAUSED, MOVED, SUN, AIR, SECOND) = range(
    PROBE0 + PROBES, PROBE0 + PROBES + 16
)
# the field from its inlet on; what leaves it is `FIELD`
UPSTREAM = PROBE0 + PROBES + 16
LUMPS = 4
STATE = UPSTREAM + LUMPS - 1
CLEAR_DAY, BROKEN_DAY, DULL_DAY = 0.0, 1.0, 2.0
# columns of a row that is written
(O_SECOND, O_FIELD, O_LOW, O_HIGH, O_HOT, O_COLD, O_AIR, O_SUN, O_PUMP, O_FLOW, O_GAUGE, O_LEVEL) = range(12)
COLUMNS = 12

STUCK, AIRY, SWAPPED, OPEN = (NUMBER[k] for k in ("stuck_pump", "air", "swapped_sensors", "open_sensor"))
CHECK, LOST_P, NIGHT, RESET = (
    NUMBER[k] for k in ("leaking_check", "lost_pressure", "night_circulation", "wrong_differences")
)
LOW_FLOW, HAND_ON, WELDED, HAND_OFF = (NUMBER[k] for k in ("low_flow", "hand_on", "welded_relay", "hand_off"))
FIELD_OFF, FOOT_OFF, LOOSE_FIELD, LOOSE_FOOT, DRIFT = (
    NUMBER[k] for k in ("field_offset", "foot_offset", "loose_field", "loose_foot", "drifting_field")
)
SHADE, DIRTY, SCALED, THICK = (NUMBER[k] for k in ("afternoon_shade", "dirty_glass", "scaled_coil", "thick_mix"))
LOW_LIMIT, FIRST, BYPASS = (NUMBER[k] for k in ("low_limit", "backup_first", "open_bypass"))
LEAK, AIR_OUT, VESSEL, RELIEF = (NUMBER[k] for k in ("slow_leak", "air_leaves", "dead_vessel", "weeping_relief"))
FROST, NO_BACKUP, DUMP, BATTERY, JACKET, LEVEL = (
    NUMBER[k] for k in ("frost_run", "cold_backup", "open_dump", "weak_battery", "wet_jacket", "falling_level")
)
FALLS_M_DAY, LEVEL_NOISE_M = 0.005, 0.001
LOW_LIMIT_C, FIRST_C = 62.0, 60.0
LEAK_PA_DAY, AIR_PA, RELIEF_PA_H = 4e3, 60e3, 0.8e3
DEAD_TIMES = 5.0  # what a vessel without gas makes of the gauge's swing


class Walk(NamedTuple):
    """What does not change on the way: the plant's numbers, the pair, the clock of the first second, the field's faults."""

    plant: Any
    start: float
    stop: float
    least_c: float
    store_c: float
    cut_out_c: float
    floor: float
    full_k: float
    day_of_year: float
    clock: float
    meter: float
    sun_meter: float
    # of its faults, what differs from house to house
    night_from_h: float
    night_to_h: float
    frost_below_c: float
    air_days: float
    weeps_c: float
    cut_after_s: float
    cut_for_s: float
    shade_from_h: float
    loose_share: float


compiled = njit(cache=True, nogil=True, error_model="numpy")


@compiled
def dice(d: Any, which: int) -> float:
    """A number from 0 to 1; xorshift of Marsaglia (2003), a stream of its own for sky and for probes."""
    x = d[which]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    d[which] = x
    return float((x * np.uint64(2685821657736338717)) >> np.uint64(11)) / 9007199254740992.0


@compiled
def gauss(d: Any, which: int) -> float:
    """A normal number, by Box and Muller."""
    return math.sqrt(-2.0 * math.log(1.0 - dice(d, which))) * math.cos(2.0 * math.pi * dice(d, which))


@compiled
def size_of(faults: Array, which: int, second: float) -> float:
    """How much of a fault there is at a second."""
    return faults[which, 1] if second >= faults[which, 0] else 0.0


@compiled
def weather(w: Any, s: Array, d: Any, faults: Array, hours: Array) -> None:
    """Sun on the field and air of this moment, with clouds that come and go by dice, or as the file's hours have them."""
    p = w.plant
    clock = w.clock + s[SECOND]
    number = math.floor(clock / DAY_S)
    of_year = (w.day_of_year + number - 1.0) % 365.0 + 1.0
    hour = clock % DAY_S / 3600.0
    if number != s[DAY]:
        first = s[DAY] < -1e6
        s[DAY] = number
        thrown = dice(d, 0)
        # the first day has sun and cloud, so that an hour of it shows something
        kind = CLEAR_DAY if thrown < CLEAR_DAYS else DULL_DAY if thrown > 1.0 - DULL_DAYS else BROKEN_DAY
        s[KIND] = BROKEN_DAY if first else kind
        s[WARMER] = 0.0 if first else 0.7 * s[WARMER] + 1.8 * gauss(d, 0)
    b = 2.0 * math.pi * (of_year - 81.0) / 364.0
    equation_h = (9.87 * math.sin(2.0 * b) - 7.53 * math.cos(b) - 1.5 * math.sin(b)) / 60.0
    solar = hour - p.zone_h + p.longitude / 15.0 + equation_h
    declination = math.radians(23.45) * math.sin(2.0 * math.pi * (of_year - 81.0) / 365.0)
    angle = math.radians((solar - 12.0) * 15.0)
    lat = math.radians(p.latitude)
    up = math.sin(lat) * math.sin(declination) + math.cos(lat) * math.cos(declination) * math.cos(angle)
    if s[SECOND] >= s[TURNS]:
        s[CLOUDY] = 1.0 - s[CLOUDY]
        s[TURNS] = s[SECOND] - math.log(1.0 - dice(d, 0)) * (CLOUD_S if s[CLOUDY] > 0.0 else CLEAR_S)
    at = int(((of_year - 1.0) * 24.0 + hour) % 8760.0)
    if hours.shape[0] == 0:
        season = 1.0 if p.latitude >= 0.0 else -1.0
        swing = p.air_swing_k * season * math.cos(2.0 * math.pi * (of_year - 200.0) / 365.0)
        daily = (3.0 if s[KIND] == DULL_DAY else 5.0) * math.cos(2.0 * math.pi * (hour - WARMEST_H) / 24.0)
        s[AIR] = p.air_c + swing + s[WARMER] + daily
    else:
        part = hour - math.floor(hour)
        s[AIR] = hours[at, 2] * (1.0 - part) + hours[(at + 1) % 8760, 2] * part
    s[SUN] = 0.0
    s[MOVED] = 0.0  # what the glass takes in, kept here until the loop has used it
    if up <= 0.0:
        return
    north = math.cos(lat) * math.sin(declination) - math.sin(lat) * math.cos(declination) * math.cos(angle)
    east = -math.cos(declination) * math.sin(angle)
    tilt, faces = math.radians(p.tilt), math.radians(p.azimuth)
    normal = max(up * math.cos(tilt) + math.sin(tilt) * (north * math.cos(faces) + east * math.sin(faces)), 0.0)
    if hours.shape[0] == 0:
        beam = SOLAR_W_M2 * HAZE ** (1.0 / max(up, 0.05) ** 0.68)
        diffuse = DIFFUSE * beam * up
        if s[KIND] == BROKEN_DAY and s[CLOUDY] > 0.0:
            beam *= THROUGH_CLOUD
        elif s[KIND] == DULL_DAY:
            diffuse = OVERCAST * beam * up + 0.1 * beam * up
            beam = 0.0
    else:
        beam, diffuse = hours[at, 0], hours[at, 1]
    # the sensor for the sun stands clear of what shades the field
    s[SUN] = beam * normal + diffuse
    shade = size_of(faults, SHADE, s[SECOND]) if solar >= w.shade_from_h else 0.0
    beam *= 1.0 - min(shade, 1.0)
    glass = max(1.0 - GLASS_B0 * (1.0 / max(normal, 0.05) - 1.0), 0.0)
    s[MOVED] = beam * normal * glass + DIFFUSE_K * diffuse


@compiled
def probes(s: Array, w: Any, faults: Array) -> None:
    """A step of the temperatures the probes stand in."""
    p = w.plant
    for n in range(PROBES):
        true = s[FIELD]
        lag = LAGS_S[n]
        if n == 1:
            true = s[LAYER0 + LAYERS - 1]
            loose = min(size_of(faults, LOOSE_FOOT, s[SECOND]), 1.0)
            true = p.room_c + (true - p.room_c) * (1.0 - w.loose_share * loose)
        elif n == 2:
            true = s[LAYER0]
        elif n == 3:
            true = s[HOT]
        elif n == 4:
            true = s[COLD]
        elif n == 5:
            true = s[AIR]
        else:
            loose = min(size_of(faults, LOOSE_FIELD, s[SECOND]), 1.0)
            true = s[AIR] + (true - s[AIR]) * (1.0 - 0.3 * loose)
            lag *= 1.0 + 20.0 * loose
        if math.isnan(s[PROBE0 + n]):
            s[PROBE0 + n] = true
        s[PROBE0 + n] += (true - s[PROBE0 + n]) * STEP_S / (lag + STEP_S)


@compiled
def shows(s: Array, offsets: Array, d: Any, told: Array, faults: Array) -> None:
    """What arrives at the terminals; not a number where a wire is broken."""
    for n in range(PROBES):
        shown = s[PROBE0 + n] + offsets[n] + NOISE_K * gauss(d, 1)
        if n == 0:
            shown -= 10.0 * size_of(faults, FIELD_OFF, s[SECOND])
            drift = size_of(faults, DRIFT, s[SECOND])
            if drift > 0.0:
                shown -= 0.5 * drift * (s[SECOND] - faults[DRIFT, 0]) / DAY_S
        elif n == 1:
            shown += 8.0 * size_of(faults, FOOT_OFF, s[SECOND])
        told[n] = round(shown / RESOLUTION_K) * RESOLUTION_K
    if size_of(faults, OPEN, s[SECOND]) > 0.0:
        told[0] = math.nan
    if size_of(faults, SWAPPED, s[SECOND]) > 0.0:
        told[0], told[1] = told[1], told[0]


@compiled
def decides(w: Any, s: Array, told: Array, faults: Array, hour: float) -> None:
    """Start and stop by the difference, with limits; fails safe without a sensor."""
    second = s[SECOND]
    if size_of(faults, NIGHT, second) > 0.0 and w.night_from_h <= hour < w.night_to_h:
        s[PUMP] = 1.0
        return
    field, low, high = told[0], told[1], told[2]
    if math.isnan(field) or math.isnan(low) or math.isnan(high) or size_of(faults, HAND_OFF, second) > 0.0:
        s[PUMP] = 0.0
        return
    reset = size_of(faults, RESET, second) > 0.0
    start, stop = (RESET_START, RESET_STOP) if reset else (w.start, w.stop)
    limit = LOW_LIMIT_C if size_of(faults, LOW_LIMIT, second) > 0.0 else w.store_c
    s[FULL] = 1.0 if high >= limit or (s[FULL] > 0.0 and high > limit - LATCH_K) else 0.0
    hot = field >= w.cut_out_c or (s[TOO_HOT] > 0.0 and field > w.cut_out_c - CUT_OUT_LATCH_K)
    s[TOO_HOT] = 1.0 if hot else 0.0
    if s[FULL] > 0.0 or hot:
        s[PUMP] = 0.0
    elif s[PUMP] > 0.0:
        s[PUMP] = 1.0 if field - low > stop else 0.0
    else:
        s[PUMP] = 1.0 if field - low >= start and field >= w.least_c else 0.0
    if s[PUMP] > 0.0 and w.floor < 1.0:
        s[PUMP] = min(w.floor + (1.0 - w.floor) * max(field - low - start, 0.0) / w.full_k, 1.0)
    if size_of(faults, FROST, second) > 0.0 and told[5] < w.frost_below_c and not 8.0 <= hour < 18.0:
        s[PUMP] = 1.0
    if size_of(faults, HAND_ON, second) > 0.0:
        s[PUMP] = 1.0
    if size_of(faults, BATTERY, second) > 0.0:
        s[PAUSED] = max(s[PAUSED] - STEP_S, 0.0)
        if s[PAUSED] > 0.0:
            s[PUMP] = 0.0
        s[RAN] = s[RAN] + STEP_S if s[PUMP] > 0.0 else 0.0
        if s[RAN] >= w.cut_after_s:
            s[PAUSED], s[RAN], s[PUMP] = w.cut_for_s, 0.0, 0.0


@compiled
def gauge(w: Any, s: Array, faults: Array) -> float:
    """The gauge at the station [Pa over the air]: warmer is more, and what is lost is gone."""
    p, second = w.plant, s[SECOND]
    warm = (s[HOT] + s[COLD]) / 2.0 - GAUGE_OF
    swing = p.gauge_per_k * (1.0 + (DEAD_TIMES - 1.0) * size_of(faults, VESSEL, second))
    lost = s[LOST]
    rate = size_of(faults, LOST_P, second)
    if rate > 0.0:
        lost += rate * LOSES_PA_H * (second - faults[LOST_P, 0]) / 3600.0
    rate = size_of(faults, LEAK, second)
    if rate > 0.0:
        lost += rate * LEAK_PA_DAY * (second - faults[LEAK, 0]) / DAY_S
    rate = size_of(faults, AIR_OUT, second)
    if rate > 0.0:
        lost += rate * AIR_PA * (1.0 - math.exp(-(second - faults[AIR_OUT, 0]) / (w.air_days * DAY_S)))
    return float(max(p.gauge_pa + swing * warm - lost, 0.0))


@compiled
def flowing(w: Any, s: Array, d: Any, faults: Array) -> float:
    """The share of the full flow that really moves."""
    second = s[SECOND]
    share = max(s[PUMP], min(size_of(faults, WELDED, second), 1.0))
    if share <= 0.0 or size_of(faults, STUCK, second) > 0.0:
        return 0.0
    if size_of(faults, AIRY, second) > 0.0:
        share *= AIR_SHARE * dice(d, 1) * 2.0
    if gauge(w, s, faults) < NEEDS_PA:
        share *= LOST_SHARE
    share *= 1.0 - 0.65 * min(size_of(faults, LOW_FLOW, second), 1.5)
    return float(share * (1.0 - 0.35 * min(size_of(faults, THICK, second), 2.0)))


@compiled
def lump(n: int) -> int:
    """Where the field's part stands in the state, counted from its inlet."""
    return UPSTREAM + n if n < LUMPS - 1 else FIELD


@compiled
def loop(w: Any, s: Array, share: float, hour: float, faults: Array) -> None:
    """A step of field, lines and store."""
    p, second = w.plant, s[SECOND]
    taken = s[MOVED] * p.eta0 * (1.0 - 0.33 * min(size_of(faults, DIRTY, second), 3.0))
    held = p.dry_capacity if share <= 0.0 and p.dry_capacity > 0.0 else p.field_capacity
    for n in range(LUMPS):
        place = lump(n)
        over = s[place] - (s[AIR] - SKY_COLDER_K)
        s[place] += p.area * (taken - p.a1 * over - p.a2 * over * abs(over)) * STEP_S / held
    layer_j = p.store * WATER_J_M3K / LAYERS
    if share > 0.0:
        rate = p.rate * share
        arriving = s[HOT]
        if size_of(faults, DUMP, second) > 0.0:
            arriving = p.room_c + (arriving - p.room_c) * 0.35
        past = 0.8 * min(size_of(faults, BYPASS, second), 1.2)
        coil = p.coil * (1.0 - 0.75 * min(size_of(faults, SCALED, second), 1.3))
        through, cooled = rate * (1.0 - past), arriving
        for n in range(LAYERS - 2, LAYERS):
            part = (cooled - s[LAYER0 + n]) * (1.0 - math.exp(-coil / 2.0 / through))
            s[LAYER0 + n] += through * part * STEP_S / layer_j
            cooled -= part
        leaves = arriving * past + cooled * (1.0 - past)
        line = 1.0 - math.exp(-rate * STEP_S / p.line_capacity)
        returning = s[COLD]
        s[COLD] += line * (leaves - s[COLD])
        moved = 1.0 - math.exp(-rate * STEP_S / (p.field_capacity / LUMPS))
        leaving = returning
        for n in range(LUMPS):
            place, comes = lump(n), leaving
            leaving = s[place]
            s[place] += moved * (comes - leaving)
        s[HOT] += line * (leaving - s[HOT])
    else:
        back = LEAK_SHARE * size_of(faults, CHECK, second)
        warm = s[LAYER0 + LAYERS - 2]
        if back > 0.0 and warm > s[FIELD] and p.dry_capacity <= 0.0:
            heat = p.rate * back * (warm - s[FIELD]) * STEP_S
            s[LAYER0 + LAYERS - 2] -= heat / layer_j
            for n in range(LUMPS):
                s[lump(n)] += heat * 0.8 / p.field_capacity
            s[HOT] += heat * 0.2 / p.line_capacity
    around = (s[AIR] + p.room_c) / 2.0
    s[HOT] += p.hot_loss * (around - s[HOT]) * STEP_S / p.line_capacity
    s[COLD] += p.cold_loss * (around - s[COLD]) * STEP_S / p.line_capacity
    store(w, s, hour, layer_j, faults)
    weeps = size_of(faults, RELIEF, second)
    if weeps > 0.0 and s[HOT] > w.weeps_c:
        s[LOST] += weeps * RELIEF_PA_H * STEP_S / 3600.0


@compiled
def store(w: Any, s: Array, hour: float, layer_j: float, faults: Array) -> None:
    """Loss, backup, draws, mixing of the store's layers."""
    p, second = w.plant, s[SECOND]
    loss = p.store_loss / LAYERS * (1.0 + 2.0 * size_of(faults, JACKET, second))
    for n in range(LAYERS):
        s[LAYER0 + n] -= loss * (s[LAYER0 + n] - p.room_c) * STEP_S / layer_j
    held = p.backup_c if size_of(faults, NO_BACKUP, second) <= 0.0 else 0.0
    top = s[LAYER0]
    if top < held - 5.0 or (top < held and s[HEATING] > 0.0):
        s[LAYER0] += p.backup_power * STEP_S / layer_j
        s[HEATING] = 1.0 if s[LAYER0] < held else 0.0
    if size_of(faults, FIRST, second) > 0.0 and 4.0 <= hour < 8.0:
        for n in range(LAYERS):
            if s[LAYER0 + n] < FIRST_C:
                s[LAYER0 + n] += p.backup_power / LAYERS * STEP_S / layer_j
    drawn = 0.0
    for at, share in ((7.0, 0.35), (12.5, 0.15), (18.5, 0.25), (21.0, 0.25)):
        if at <= hour < at + DRAW_S / 3600.0:
            drawn = p.daily_draw * share * STEP_S / DRAW_S
    if drawn > 0.0:
        hot = max(s[LAYER0], p.tap_c)
        taken = drawn * (p.tap_c - p.cold_main_c) / (hot - p.cold_main_c)
        moved = min(taken / (p.store / LAYERS), 1.0)
        for n in range(LAYERS - 1):
            s[LAYER0 + n] += moved * (s[LAYER0 + n + 1] - s[LAYER0 + n])
        s[LAYER0 + LAYERS - 1] += moved * (p.cold_main_c - s[LAYER0 + LAYERS - 1])
    for _ in range(LAYERS):
        for n in range(LAYERS - 1):
            if s[LAYER0 + n] < s[LAYER0 + n + 1]:
                mean = (s[LAYER0 + n] + s[LAYER0 + n + 1]) / 2.0
                s[LAYER0 + n] = mean
                s[LAYER0 + n + 1] = mean


@compiled
def walk(w: Any, s: Array, d: Any, offsets: Array, faults: Array, hours: Array, steps: int, out: Array) -> None:
    """Walks on for as many rows as `out` has, each after so many steps; `s` and `d` are where it stands."""
    told = np.zeros(PROBES)
    for row in range(out.shape[0]):
        share = 0.0
        for _ in range(steps):
            hour = (w.clock + s[SECOND]) % DAY_S / 3600.0
            weather(w, s, d, faults, hours)
            probes(s, w, faults)
            shows(s, offsets, d, told, faults)
            decides(w, s, told, faults, hour)
            share = flowing(w, s, d, faults)
            loop(w, s, share, hour, faults)
            s[SECOND] += STEP_S
        out[row, O_SECOND] = s[SECOND]
        for n in range(PROBES):
            out[row, O_FIELD + n] = told[n]
        out[row, O_SUN] = max(s[SUN] * w.sun_meter * (1.0 + SUN_NOISE * gauss(d, 1)), 0.0)
        out[row, O_PUMP] = s[PUMP]
        out[row, O_FLOW] = share * w.plant.flow * w.meter
        out[row, O_GAUGE] = gauge(w, s, faults)
        out[row, O_LEVEL] = math.nan
        if w.plant.level > 0.0:
            fallen = size_of(faults, LEVEL, s[SECOND]) * FALLS_M_DAY * (s[SECOND] - faults[LEVEL, 0]) / DAY_S
            if not fallen > 0.0:
                fallen = 0.0
            stands = w.plant.level - fallen - (w.plant.level_drop if share > 0.0 else 0.0)
            out[row, O_LEVEL] = max(stands + LEVEL_NOISE_M * gauss(d, 1), 0.0)
