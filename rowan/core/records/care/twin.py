"""The loop driven by its own log: field and lines reckoned from the store, the pump and the sun as they were read, compiled.

The year lets a plan run free; here what the store did is known, and only what lies between it and the sky is reckoned, so that draws
and the backup need not be. A fault is a change of these numbers. Without a sensor for the sun it is found from the field itself,
between almost nothing and a clear sky: what the field then does that no sky explains is left over. Source: methods 3, 6, 17.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]
FIELD, HOT, COLD = 3, 2, 2  # nodes of the field and of each line
END = FIELD + HOT + COLD
LONGEST_STEP_S = 60.0
RESET_S = 3600.0  # s of a gap after which the loop is begun anew from what was read
FOLLOWS_S, LEARNS_S = 150.0, 300.0  # s in which the sun that is looked for follows the field, and keeps to it
DARKEST, BRIGHTEST = 0.03, 1.3  # of a clear sky, between which a sky can be
LINE_SHARE_UP = 0.5  # of the coil's area lies in the warmer half of its height
EXIT, HOT_END, COLD_END, HEAT, LIGHT = range(5)  # columns of what is reckoned
COLUMNS = 5


class Loop(NamedTuple):
    """A loop's numbers: area [m²], η0, a1 [W/m²K], a2 [W/m²K²], capacities [J/K], losses [W/K], coil [W/K], full rate [W/K].

    `up` is how far up from its foot to its top the store's warmer half of the coil stands [-]; `leak` the share of the full rate that
    creeps round at rest, `welded` what flows while the pump is told to rest, `past` what goes past the coil, `dump` what a heat dump
    takes of the hot line's warmth, `shade` what is cut of the sun after `shade_from` [h of the sun's day]. A field that drains holds
    `dry_capacity` at rest [J/K], 0 where it stays full.
    """

    area: float
    eta0: float
    a1: float
    a2: float
    capacity: float
    hot_capacity: float
    hot_loss: float
    hot_outdoors: float
    cold_capacity: float
    cold_loss: float
    cold_outdoors: float
    coil: float
    rate: float
    room: float
    up: float
    field_lag: float = 35.0
    share: float = 1.0
    leak: float = 0.0
    welded: float = 0.0
    past: float = 0.0
    dump: float = 0.0
    shade: float = 0.0
    shade_from: float = 12.0
    dry_capacity: float = 0.0


@njit(cache=True, nogil=True, error_model="numpy")
def coil_heat(p: Any, rate: float, arriving: float, foot: float, top: float) -> float:
    """What leaves the coil [°C]: through its warmer half, then its cooler one."""
    if rate <= 0.0:
        return foot
    warm = foot + p.up * (top - foot)
    part = math.exp(-p.coil * LINE_SHARE_UP / rate)
    middle = warm + (arriving - warm) * part
    return foot + (middle - foot) * math.exp(-p.coil * (1.0 - LINE_SHARE_UP) / rate)


@njit(cache=True, nogil=True, error_model="numpy")
def passes(
    t: Array, first: int, last: int, inlet: float, rate: float, held: float, loss: float, around: float
) -> float:
    """A line's nodes from `first` to `last` in flow order, implicit; gives what leaves [°C]."""
    step = 1 if last >= first else -1
    n = first
    while True:
        t[n] = (held * t[n] + rate * inlet + loss * around) / (held + rate + loss)
        inlet = t[n]
        if n == last:
            return inlet
        n += step


@njit(cache=True, nogil=True, error_model="numpy")
def absorbs(p: Any, t: Array, step: int, inlet: float, rate: float, dt: float, light: float, air: float) -> float:
    """The field's nodes, forwards (1) or backwards (-1), implicit in their own temperature; gives what leaves [°C]."""
    first, last = (0, FIELD - 1) if step > 0 else (FIELD - 1, 0)
    full = p.dry_capacity if rate <= 0.0 and p.dry_capacity > 0.0 else p.capacity
    held, area = full / FIELD / dt, p.area / FIELD
    n = first
    while True:
        loss = area * (p.a1 + p.a2 * abs(t[n] - air))
        t[n] = (held * t[n] + rate * inlet + loss * air + area * p.eta0 * light) / (held + rate + loss)
        inlet = t[n]
        if n == last:
            return inlet
        n += step


@njit(cache=True, nogil=True, error_model="numpy")
def step(p: Any, t: Array, dt: float, told: float, foot: float, top: float, light: float, air: float) -> float:
    """A step of all nodes: field 0…, hot line, cold line, each in flow order. Gives the heat that reaches the coil [W]."""
    hot0, cold0 = FIELD, FIELD + HOT
    hot_around = p.hot_outdoors * air + (1.0 - p.hot_outdoors) * p.room
    cold_around = p.cold_outdoors * air + (1.0 - p.cold_outdoors) * p.room
    hot_held, cold_held = p.hot_capacity / HOT / dt, p.cold_capacity / COLD / dt
    hot_loss, cold_loss = p.hot_loss / HOT, p.cold_loss / COLD
    rate = p.rate * p.share * max(told, p.welded)
    if rate > 0.0:
        arriving = t[hot0 + HOT - 1]
        dumped = p.room + (arriving - p.room) * (1.0 - p.dump)
        cooled = coil_heat(p, rate * (1.0 - p.past), dumped, foot, top)
        leaves = dumped * p.past + cooled * (1.0 - p.past)
        out = passes(t, cold0, END - 1, leaves, rate, cold_held, cold_loss, cold_around)
        out = absorbs(p, t, 1, out, rate, dt, light, air)
        passes(t, hot0, cold0 - 1, out, rate, hot_held, hot_loss, hot_around)
        return rate * (dumped - leaves)
    warm = foot + p.up * (top - foot)
    rate = p.rate * p.leak if warm > t[0] and p.dry_capacity <= 0.0 else 0.0
    if rate > 0.0:
        # warm fluid rises by the hot line and comes back by the cold one
        out = passes(t, cold0 - 1, hot0, warm, rate, hot_held, hot_loss, hot_around)
        out = absorbs(p, t, -1, out, rate, dt, light, air)
        back = passes(t, END - 1, cold0, out, rate, cold_held, cold_loss, cold_around)
        return rate * (back - warm)
    passes(t, hot0, cold0 - 1, 0.0, 0.0, hot_held, hot_loss, hot_around)
    passes(t, cold0, END - 1, 0.0, 0.0, cold_held, cold_loss, cold_around)
    absorbs(p, t, 1, 0.0, 0.0, dt, light, air)
    return 0.0


@njit(cache=True, nogil=True, error_model="numpy")
def follow(p: Any, at: Array, given: Array, out: Array) -> None:
    """Reckons each row of a log.

    Args:
        p: the loop.
        at: moments of the rows [s], in order.
        given: for each row foot, top [°C], pump [-], light that counts [W/m²] (not a number where no sensor says it), the same of a
            clear sky, air [°C], the field as read [°C], and the hour of the sun's day [h].
        out: what is reckoned: the field's end, the hot line's at the store, the cold line's at the store [°C], heat to the coil [W],
            and the light it took [W/m²].
    """
    t = np.zeros(END)
    shown, kept = 0.0, 0.0
    for row in range(at.shape[0]):
        foot, top, told, light, clear, air, field, hour = given[row]
        ahead = at[row] - at[row - 1] if row > 0 else RESET_S + 1.0
        if ahead > RESET_S:
            begins = field if not math.isnan(field) else air
            t[:FIELD] = begins
            t[FIELD:] = p.room if told <= 0.0 else foot
            shown, kept = begins, 0.0
            out[row] = begins, t[FIELD + HOT - 1], t[FIELD + HOT], 0.0, 0.0
            continue
        parts = max(1, math.ceil(ahead / LONGEST_STEP_S))
        dt = ahead / parts
        before = given[row - 1]
        heat, taken = 0.0, 0.0
        for n in range(parts):
            share = (n + 0.5) / parts
            sun = light
            if math.isnan(sun):
                error = field - shown if not math.isnan(field) else 0.0
                resting = p.dry_capacity > 0.0 and max(told, p.welded) <= 0.0
                gain = (p.dry_capacity if resting else p.capacity) / (p.area * p.eta0)
                kept = min(max(kept + gain * error * dt / (FOLLOWS_S * LEARNS_S), DARKEST * clear), BRIGHTEST * clear)
                sun = min(max(kept + gain * error / FOLLOWS_S, DARKEST * clear), BRIGHTEST * clear)
            elif not math.isnan(before[3]):
                sun = before[3] + (light - before[3]) * share
            if hour >= p.shade_from:
                sun *= 1.0 - p.shade
            running = before[2] if share < 0.5 else told
            foot_now, top_now = before[0] + (foot - before[0]) * share, before[1] + (top - before[1]) * share
            heat += step(p, t, dt, running, foot_now, top_now, sun, air) / parts
            taken += sun / parts
            shown += (t[FIELD - 1] - shown) * dt / (p.field_lag + dt)
        out[row] = shown, t[FIELD + HOT - 1], t[FIELD + HOT], heat, taken


def warm() -> None:
    """Compiles the twin, where it is not kept on disk."""
    loop = Loop(1.0, 0.8, 3.0, 0.01, 1e4, 1e4, 1.0, 0.5, 1e4, 1.0, 0.5, 100.0, 50.0, 15.0, 0.1)
    follow(loop, np.array([0.0, LONGEST_STEP_S]), np.full((2, 8), 20.0), np.empty((2, COLUMNS)))
