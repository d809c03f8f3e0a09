"""The loop minute by minute, compiled. Order in a step: control, ring, store, draw, mixing. Source: methods 5 to 7.

All temperatures stand in one row `t`: cold line, field, hot line, store, each in flow order or top first. A table `w` of the
same width holds what belongs to each place (its rows below); what does not change within a run, or with an unchanged flow,
is worked out once, so that a step of a loop that rests divides by nothing but the field's own losses. Functions of the
controller are calls behind one flag, and steps are kept only where there are rows for them: what is off costs nothing.
"""

from __future__ import annotations

import hashlib
import inspect
import sys
from collections.abc import Callable
from functools import cache
from typing import Any

import numpy as np
from numba import from_dtype, njit, types
from numpy.typing import NDArray

from rowan.core.simulation import compiling, controller, layers, plant, siphon, table
from rowan.core.simulation import ring as ring_part
from rowan.core.simulation.compiling import COMPILED, called, inlined
from rowan.core.simulation.controller import (
    ABSOLUTE_ZERO_C,
    BACKUP_ON,
    FROST_ON,
    FROST_RUN,
    PUMP,
    REMEMBERED,
    REST,
    SPEED,
    SUN,
    WHY,
    coldest_of,
    exit_of,
    frost_latch,
    hygiene_heat,
    pair_wants,
    ring_step,
    why_runs,
)
from rowan.core.simulation.layers import backup, coil_draw, draw, mix, store_step
from rowan.core.simulation.plant import (
    BACKUP,
    DAYS_WITH_START,
    DEMAND,
    DRAW,
    HELD,
    HOURLY,
    PLANT,
    PUMP_TIME,
    RING,
    STARTS,
    STORE_LOSS,
    SUMS,
    WATCHED,
    Feed,
    Kept,
    Outside,
    Paces,
    Plant,
    Reads,
    State,
    record_of,
)
from rowan.core.simulation.ring import drain, fill, hottest_of, rest, ring, set_flow, set_rest
from rowan.core.simulation.siphon import siphon_flow, siphon_stands
from rowan.core.simulation.table import CAPACITY, COIL_UA, GAIN, LEAK, LONG, ONE, OUTDOORS, OWN, PAUSE, ROWS, STORE
from rowan.core.terms.calendar import DAY_S

__all__ = ["HOURLY", "REMEMBERED", "SUMS", "WATCHED", "Feed", "Kept", "Paces", "Plant", "Reads", "State", "run"]

Array = NDArray[np.float64]

# rows of a feed's tables
SKY_SUN, SKY_AIR, SKY_BESIDE = range(3)
ROOM, EXPOSED = range(2)
MINUTE, BACKUP_BELOW, BACKUP_UNTIL, RING_MAY = range(4)
DAY_FACTOR, DAY_COLD, DAY_HEATS, DAY_COOLS, DAY_ZONE = range(5)
# what a span of some minutes and an hour bring: the largest draw, and the highest start of the backup
SPAN_DRAWS, HOUR_DRAWS, SPAN_STARTS, HOUR_STARTS = range(4)
HIGHEST_COLLECTOR, HIGHEST_STORE = range(2)

PAUSE_STEPS = 5  # minutes taken at once while the field is surely too cold to start
SURELY_WARM_K = 1.0  # a store this far above its backup's start stays there through an hour without a draw
SURELY_OFF_K = 2.0  # a field this far below its start stays off through a dark hour
NEVER_STARTS_C = -273.0  # what a backup that may not heat starts below


@inlined
def backup_may_start(p: Any, t: Array, m: Array, starts: float) -> bool:
    """Whether the backup heats or may begin to while nothing is drawn, by the highest temperature it starts below."""
    if p.backup_power <= 0.0 or starts <= NEVER_STARTS_C:
        return False
    return m[BACKUP_ON] > 0.0 or t[p.heater] < starts + SURELY_WARM_K


@called
def sleeps(p: Any, t: Array, m: Array, ahead: Array, minute: int, sky: Any) -> bool:
    """Whether nothing can happen in this hour: dark, pump off, field far from starting and from frost, nothing drawn."""
    sun, air, other = sky
    if sun > 0.0 or other > 0.0 or m[PUMP] > 0.0 or p.wakes > 0 or ahead[HOUR_DRAWS, minute] > 0.0:
        return False
    if p.k2 > 0.0:
        return siphon_stands(p, t, m, air) and not backup_may_start(p, t, m, ahead[HOUR_STARTS, minute])
    if p.frost_start > ABSOLUTE_ZERO_C and min(air, coldest_of(p, t)) < p.frost_stop:
        return False
    if hottest_of(p, t) - t[p.foot] > p.start - SURELY_OFF_K:
        return False
    return not backup_may_start(p, t, m, ahead[HOUR_STARTS, minute])


@inlined
def pauses(p: Any, t: Array, m: Array, ahead: Array, minute: int, sky: Any) -> bool:
    """Whether nothing can happen for some minutes of a bright hour: the field cannot reach its start, nothing is drawn."""
    sun, air, other = sky
    if m[PUMP] > 0.0 or ahead[SPAN_DRAWS, minute] > 0.0:
        return False
    if p.k2 > 0.0:
        return sun <= 0.0 and siphon_stands(p, t, m, air) and not backup_may_start(p, t, m, ahead[SPAN_STARTS, minute])
    # a field that loses to the sky as well may fall below the air
    if p.frost_start > ABSOLUTE_ZERO_C and (sun < 0.0 or min(air, coldest_of(p, t)) < p.frost_stop):
        return False
    reaches = hottest_of(p, t)
    # an absorber takes in as much by its area on either plane
    reaches += max(sun, other, 0.0) * p.field_gain / (p.field_capacity - p.field_liquid) * p.pause_step
    if reaches - t[p.foot] > p.start - SURELY_OFF_K or reaches > p.refill or reaches > p.stagnation:
        return False
    return not backup_may_start(p, t, m, ahead[SPAN_STARTS, minute])


@inlined
def flow_of(p: Any, t: Array, m: Array) -> float:
    """Heat capacity rate of this step [W/K], 0 at rest. With functions at work `why_runs` has decided before."""
    if p.k2 > 0.0:
        return siphon_flow(p, t, m) * p.heat_capacity
    if p.used > 0:
        return 0.0 if m[WHY] == REST else p.mcp * m[SPEED]
    return p.mcp if control(p, t, m) else 0.0


@inlined
def control(p: Any, t: Array, m: Array) -> bool:
    """Whether the pump runs in this step, by the temperatures at the end of the last one."""
    if p.frost_start > ABSOLUTE_ZERO_C:
        frost_latch(p, t, m)
        if m[FROST_ON] > 0.0:
            return True
    return pair_wants(p, t, m, exit_of(p, t), t[p.foot], m[PUMP] > 0.0)


@called
def held_need(p: Any, w: Array, room: float, exposed: float) -> float:
    """What a pool loses at the temperature it is held at [W], none where it would gain."""
    need = 0.0
    for i in range(p.store0, p.end):
        need += w[LEAK, i] * exposed * (p.held - room)
    return max(need, 0.0)


@inlined
def store_part(p: Any, t: Array, w: Array, m: Array, total: Array, out: Outside, at: int, hour: int) -> None:
    """What happens to the store in a step of its own: backup, hygiene, losses, ring main, draw, mixing."""
    day = p.first_day + hour // 24
    room = out.around[ROOM, hour]
    if p.backup_power > 0.0 and out.days[DAY_HEATS, day] > 0.0:
        backup(p, t, w, m, total, out.clock[BACKUP_BELOW, at], out.clock[BACKUP_UNTIL, at])
    if p.used > 0:
        through = hygiene_heat(p, t, m, at, day) * p.store_step
        w[GAIN, p.last] += through
        total[BACKUP] += through
    lost, stable = store_step(p, t, w, STORE, p.store_step, room, out.around[EXPOSED, hour])
    total[STORE_LOSS] += lost
    if p.ring_flow > 0.0:
        total[RING] += ring_step(p, t, m, out.clock[RING_MAY, at], room)
        stable = False
    volume = out.clock[MINUTE, at] * out.days[DAY_FACTOR, day] * p.store_step / 60.0
    zone = out.days[DAY_ZONE, day] * p.store_step / DAY_S
    if zone > 0.0:
        # a house that is heated as well takes its share all day long
        if p.tap_ua > 0.0:
            coil_draw(p, t, total, zone, p.zone_back, p.zone_c)
        else:
            draw(p, t, total, zone, p.zone_back, p.zone_c)
        stable = False
    if volume > 0.0:
        if p.tap_ua > 0.0:
            coil_draw(p, t, total, volume, out.days[DAY_COLD, day], p.tap)
            stable = False
        else:
            draw(p, t, total, volume, out.days[DAY_COLD, day], p.tap)
            # a draw from a store that lies right leaves it so, but for a foot colder than the main
            stable = stable and t[p.last] <= t[p.last - ONE]
    if not stable:
        mix(t, w, p.store0, p.end)


@inlined
def idle(p: Any, t: Array, w: Array, total: Array, pace: int, step: float, sky: Any, around: Any) -> None:
    """A long step in which nothing can happen: everything but the sun's warmth and losses rests."""
    room, exposed = around
    rest(p, t, w, total, pace, step, sky)
    lost, stable = store_step(p, t, w, pace, step, room, exposed)
    total[STORE_LOSS] += lost
    if not stable:
        mix(t, w, p.store0, p.end)


@called
def watch(watched: Any, first: int, count: int, p: Any, t: Array, m: Array, sun: float) -> None:
    """Keeps what a step, or several in one, look like at their end."""
    runs = m[PUMP] > 0.0
    for k in range(first, first + count):
        row = watched[k]
        row[0], row[1], row[2] = exit_of(p, t), t[p.foot], t[p.limit]
        row[3], row[4] = t[p.arrives], t[0]
        row[5] = m[SPEED] if runs else 0.0
        row[6] = (m[WHY] if p.used > 0 else float(SUN)) if runs else 0.0
        if runs and m[FROST_ON] > 0.0:
            row[6] = float(FROST_RUN)
        row[7] = sun


@called
def switch(p: Any, t: Array, w: Array, m: Array, total: Array, runs: bool) -> None:
    """The pump begins or ends; a loop that drains is filled or empties."""
    m[PUMP] = 1.0 if runs else 0.0
    if p.drains and runs:
        fill(p, t)
    elif p.drains:
        drain(p, t, w, total)


@called
def minutes_of(p: Any, s: Any, out: Outside, kept: Kept, hour: int, started: bool) -> bool:
    """An hour in steps of the loop's own, some of them taken together; gives whether the pump has started this day."""
    t, w, m = s
    total, highest, watched = kept.sums[hour // 24], kept.highest, kept.watched
    steps = round(p.hour_step / p.step)
    per_part = steps // (out.sky.shape[1] // out.around.shape[1])  # steps for which one sun and air are given
    per_minute = max(1, round(60.0 / p.step))
    per_store = max(1, round(p.store_step / p.step))
    span = round(p.pause_step / p.step)
    brief = span > 1 and p.used == 0 and out.days[DAY_ZONE, p.first_day + hour // 24] <= 0.0
    day, around = p.first_day + hour // 24, (out.around[ROOM, hour], out.around[EXPOSED, hour])
    first = hour * (out.sky.shape[1] // out.around.shape[1])
    minutes = max(1, round(p.step / 60.0))  # of a step, where it is one or more
    known = 0.0  # the heat capacity rate that the table is made for
    passes = (1.0, 1.0, 1.0)
    sky = (0.0, 0.0, 0.0)
    # counted down instead of divided: of the part, the span, the minute and the store's step
    of_part, of_span, of_minute, of_store = 0, 0, per_minute, per_store
    at, k = hour % 24 * 60, 0
    while k < steps:
        if of_part == 0:
            sky = (out.sky[SKY_SUN, first], out.sky[SKY_AIR, first], out.sky[SKY_BESIDE, first])
            first, of_part = first + 1, per_part
        if of_span == 0:
            of_span = span
            if brief and of_part >= span and pauses(p, t, m, out.ahead, at, sky):
                idle(p, t, w, total, PAUSE, p.pause_step, sky, around)
                if watched.shape[0] > 0:
                    watch(watched, hour * steps + k, span, p, t, m, sky[0])
                k, of_part, of_span = k + span, of_part - span, 0
                at += span // per_minute * minutes
                continue
        if p.used > 0:
            why_runs(p, t, m, sky[0], sky[1], at, day, out.days[DAY_COOLS, day])
        mcp = flow_of(p, t, m)
        ran, runs = m[PUMP] > 0.0, mcp > 0.0
        if ran != runs:
            switch(p, t, w, m, total, runs)
            if runs:
                total[STARTS] += 1.0
                if not started:
                    total[DAYS_WITH_START] += 1.0
                    started = True
        if runs:
            if mcp != known:
                passes, known = set_flow(p, w, mcp), mcp
            hottest = ring(p, t, w, m, total, mcp, passes, sky)
        else:
            hottest = rest(p, t, w, total, OWN, p.step, sky)
        of_store -= 1
        if of_store == 0:
            of_store = per_store
            store_part(p, t, w, m, total, out, at, hour)
        highest[HIGHEST_COLLECTOR] = max(highest[HIGHEST_COLLECTOR], hottest)
        highest[HIGHEST_STORE] = max(highest[HIGHEST_STORE], t[p.store0])
        if watched.shape[0] > 0:
            watch(watched, hour * steps + k, 1, p, t, m, sky[0])
        k, of_part, of_span, of_minute = k + 1, of_part - 1, of_span - 1, of_minute - 1
        if of_minute == 0:
            at, of_minute = at + minutes, per_minute
    return started


def _run_of(made_from: str) -> Callable[..., None]:
    """The loop over hours, still to be compiled. `made_from` is the digest of all that is compiled with it: what is kept on disk
    is found by it, so that an edit of any of these modules is never answered with old code."""

    def run_hours(p: Any, s: Any, out: Outside, kept: Kept) -> None:
        """Hours of a feed from its first day on; temperatures `t`, table `w` and memory `m` come in `s` and are left as they end."""
        made_from  # noqa: B018  held in the closure
        t, w, m = s
        hours = out.around.shape[1]
        parts = out.sky.shape[1] // hours
        steps = round(p.hour_step / p.step)
        dozes = round(p.hour_step / p.long_step)
        sleepy = p.long_step > p.step
        for pace, step in ((OWN, p.step), (PAUSE, p.pause_step), (LONG, p.long_step), (STORE, p.store_step)):
            set_rest(p, w, pace, step)
        started = hours < 0  # a flag that changes, not a constant the hour's function would be compiled for twice
        for hour in range(hours):
            total = kept.sums[hour // 24]
            if hour % 24 == 0:
                started = False
            ran_before, heated_before = total[PUMP_TIME], total[BACKUP]
            short_before = total[DEMAND] - total[DRAW]
            room, exposed = out.around[ROOM, hour], out.around[EXPOSED, hour]
            if p.held > 0.0 and out.days[DAY_HEATS, p.first_day + hour // 24] > 0.0:
                total[HELD] += held_need(p, w, room, exposed) * p.hour_step
            at = hour * parts
            sky = (out.sky[SKY_SUN, at], out.sky[SKY_AIR, at], out.sky[SKY_BESIDE, at])
            zone = out.days[DAY_ZONE, p.first_day + hour // 24]
            if sleepy and zone <= 0.0 and sleeps(p, t, m, out.ahead, hour % 24 * 60, sky):
                for _ in range(dozes):
                    idle(p, t, w, total, LONG, p.long_step, sky, (room, exposed))
                if kept.watched.shape[0] > 0:
                    watch(kept.watched, hour * steps, steps, p, t, m, sky[0])
            else:
                started = minutes_of(p, (t, w, m), out, kept, hour, started)
            if kept.traced.shape[0] > 0:
                n = p.end - p.store0
                for i in range(n):
                    kept.traced[hour, i] = t[p.store0 + i]
                kept.traced[hour, n] = exit_of(p, t)
                kept.traced[hour, n + 1] = (total[PUMP_TIME] - ran_before) / p.hour_step
                kept.traced[hour, n + 2] = total[BACKUP] - heated_before
                kept.traced[hour, n + 3] = total[DEMAND] - total[DRAW] - short_before

    return run_hours


# every module that is compiled into the loop
PARTS = (compiling, controller, layers, plant, ring_part, siphon, table, sys.modules[__name__])


def _digest() -> str:
    """The digest of all that is compiled."""
    return hashlib.sha256("".join(map(inspect.getsource, PARTS)).encode()).hexdigest()


@cache
def compiled() -> Callable[[np.void, tuple[Array, Array, Array], Outside, Kept], None]:
    """The loop, compiled once for the one signature it has: anything else fails at once, instead of being compiled anew."""
    row, rows, small = types.float64[::1], types.float64[:, ::1], types.float32[:, ::1]
    signature = types.void(
        from_dtype(PLANT),
        types.Tuple((row, rows, row)),  # type: ignore[no-untyped-call]
        types.NamedUniTuple(rows, len(Outside._fields), Outside),  # type: ignore[no-untyped-call]
        types.NamedTuple((rows, row, small, small), Kept),  # type: ignore[no-untyped-call]
    )
    made: Callable[[np.void, tuple[Array, Array, Array], Outside, Kept], None] = njit(
        signature, cache=True, **COMPILED
    )(_run_of(_digest()))
    return made


def table_of(plant: Plant) -> Array:
    """The table of a plant with the rows that do not depend on steps or flow, shape (rows, nodes)."""
    cold, own, hot = plant.cold.shape[1], plant.field_nodes, plant.hot.shape[1]
    field = own + plant.beside_nodes
    table = np.zeros((ROWS, cold + field + hot + plant.nodes.shape[1]))
    store = cold + field + hot
    for first, line in ((0, plant.cold), (cold + field, plant.hot)):
        table[CAPACITY : OUTDOORS + 1, first : first + line.shape[1]] = line
    # a field's nodes lose by their own temperature; the capacity alone keeps the row from being divided by nothing
    table[CAPACITY, cold : cold + own] = plant.field_capacity / own
    if plant.beside_nodes:
        table[CAPACITY, cold + own : cold + field] = plant.beside_capacity / plant.beside_nodes
    table[CAPACITY, store:] = plant.node_capacity
    table[COIL_UA, store:], table[LEAK, store:] = plant.nodes
    return table


def tables_of(feed: Feed, span: int) -> Outside:
    """A feed in its tables; `span` is how many minutes of a bright hour may be taken at once."""
    below = feed.backup_on

    def most(values: Array, minutes: int) -> Array:
        """The largest value of each so many minutes, at all of them."""
        return np.repeat(values.reshape(-1, minutes).max(axis=1), minutes)

    return Outside(
        np.stack((feed.sun, feed.air, np.zeros(len(feed.sun)) if feed.beside is None else feed.beside)).astype(float),
        np.stack((feed.room, feed.exposed)).astype(float),
        np.stack((feed.minute, below, feed.backup_off, feed.ring_minutes)).astype(float),
        np.stack((feed.days, feed.cold, feed.heats, feed.cool_days, feed.zone)).astype(float),
        np.stack((most(feed.minute, span), most(feed.minute, 60), most(below, span), most(below, 60))).astype(float),
    )


def run(plant: Plant, paces: Paces, state: State, feed: Feed, kept: Kept, reads: Reads | None = None) -> None:
    """Hours of a feed from its first day on, probes wired as planned or otherwise; the state is left as the run ends. Source: methods 5 to 7."""
    parts = (state.cold, state.field, state.hot, state.store)
    t = np.concatenate(parts).astype(float)
    compiled()(
        record_of(plant, paces, feed.first_day, reads),
        (t, table_of(plant), state.memory),
        tables_of(feed, max(1, round(paces.pause / 60.0))),
        kept,
    )
    ends = np.cumsum([part.size for part in parts])[:-1]
    for part, now in zip(parts, np.split(t, ends), strict=True):
        part[:] = now
