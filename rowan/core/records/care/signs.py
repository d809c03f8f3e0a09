"""What a loop with some change would have shown in a log's own days: channel by channel, in blocks of parts of a day or by whole days.

What was read and what is reckoned go through the same means, so that they are compared like with like.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.faults import Change
from rowan.core.records.care.scene import BINS, LEAST_CLEAR_W_M2, Scene
from rowan.core.records.care.twin import COLD_END, COLUMNS, EXIT, HEAT, HOT_END, LIGHT, Loop, follow
from rowan.core.records.logs.stamps import HOUR_S
from rowan.core.records.readings import NIGHT_HOURS, SLACK_K, Planned
from rowan.core.steps.control.differences import CUT_OUT_LATCH_K
from rowan.core.terms.record import record

Array = NDArray[np.float64]
LATCH_K = 3.0  # K under its limit in which a store that was full may still count as full; as the year has it
FROST_AIR_C = 8.0  # °C, the warmest night in which a frost function set too high is looked for
UNSURE_AIR_K = 6.0  # K that a night may be colder than its month
STILL_H = (1.0, 5.0)  # hours in which the store's cooling is read: nothing is drawn, as a rule
DAWN_H = (3.0, 9.0)  # hours in which a foot that warms with the pump off is warmed by the backup
LEAST_STILL_S = 3600.0  # s of such hours that have to be read
NIGHTLY_H = 0.5  # h that a pump left on by night runs in each night at least
WEEPS_C = 55.0  # °C of the hot line over which a relief valve that is worn weeps; rule of thumb
UNDER_HELD_K = 7.0  # K under its backup's set point that a healthy top still reaches on every day
AIR_DAYS = 3.0  # days in which two thirds of what air there is come out
ROSE_K = 1.5  # K by which a top that rises at night was heated and not only read a little higher
CUT_SHARE = 0.3  # of the hours in which the pump should run, a battery that is worn cuts off at least
USUAL_LIGHT = 0.85  # of a clear sky's light, what a day brings that the pump runs on; rule of thumb
WARMED = 0.75  # of the whole store is warmed by a coil below, by mixing; rule of thumb
FIRST_NIGHTS = 3  # by which the level at rest is known
COLD_C = -1e9  # °C, a top that was not read is under every limit


@record
class Off:
    """By how much the loop and its probes are off the plan, as it is fitted: shares of 1, temperatures [K], gauge [Pa]."""

    share: float = 0.0
    eta0: float = 0.0
    a1: float = 0.0
    capacity: float = 0.0
    lines: float = 0.0
    coil: float = 0.0
    up: float = 0.0
    field_k: float = 0.0
    foot_k: float = 0.0
    air_k: float = 0.0


NOT_OFF = Off()


@record
class Signs:
    """Values by channel: blocks of shape (days, BINS) or daily of shape (days, 1), not a number where nothing is to be said."""

    channels: dict[str, Array]


def changed_loop(loop: Loop, change: Change, off: Off) -> Loop:
    """The loop with a fault and what it is off by."""
    return loop._replace(
        eta0=loop.eta0 * change.glass * (1 + off.eta0),
        a1=loop.a1 * (1 + off.a1),
        a2=loop.a2 * (1 + off.a1),
        capacity=loop.capacity * (1 + off.capacity),
        dry_capacity=loop.dry_capacity * (1 + off.capacity),
        hot_loss=loop.hot_loss * (1 + off.lines),
        cold_loss=loop.cold_loss * (1 + off.lines),
        coil=loop.coil * change.coil * (1 + off.coil),
        up=min(max(loop.up + off.up, 0.0), 1.0),
        share=change.share * (1 + off.share),
        rate=loop.rate * change.thick,
        leak=change.leak,
        welded=change.welded,
        past=change.past,
        dump=change.dump,
        shade=change.shade,
    )


def driven(scene: Scene, change: Change, off: Off) -> Array:
    """What drives the twin under a change: the probes' own errors taken out of what they read."""
    given = scene.given.copy()
    foot, field = given[:, 0], given[:, 6]
    foot = foot - change.foot_add - off.foot_k
    if change.foot_loose > 0:
        foot = scene.loop.room + (foot - scene.loop.room) / (1.0 - change.foot_loose)
        foot = np.clip(foot, 4.0, np.maximum(given[:, 1], 10.0))
    given[:, 0], given[:, 5] = foot, given[:, 5] + off.air_k
    # the light that is looked for follows what the field really was
    field = field - change.field_add - off.field_k - change.field_drift * _drifted(scene, change)
    if change.field_loose > 0:
        field = given[:, 5] + (field - given[:, 5]) / (1.0 - change.field_loose)
    given[:, 6] = field
    return given


def _drifted(scene: Scene, change: Change) -> Array:
    """Days since a probe began to drift."""
    days = (scene.at - scene.at[0]) / (24 * HOUR_S)
    return np.maximum(days - change.drifts_from * days[-1], 0.0)


def reckoned(scene: Scene, change: Change, off: Off) -> Array:
    """The twin under a change, row by row."""
    loop = changed_loop(scene.loop, change, off)
    if change.field_loose > 0:
        loop = loop._replace(field_lag=loop.field_lag * (1 + 60 * change.field_loose))
    out = np.empty((len(scene.at), COLUMNS))
    follow(loop, scene.at, driven(scene, change, off), out)
    return out


def must(scene: Scene, planned: Planned, change: Change) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Rows in which the pump must run, and must rest, by what the probes say; between the two it may do either."""
    field, foot, top = scene.read["field_c"], scene.read["low_c"], scene.read["high_c"]
    start = planned.start if change.start is None else change.start
    stop = planned.stop if change.stop is None else change.stop
    limit = planned.store_c if change.limit is None else change.limit
    over = field - foot
    warm = np.nan_to_num(top, nan=COLD_C)
    with np.errstate(invalid="ignore"):
        run = (over >= start + SLACK_K) & (field >= planned.least_c + 1.0)
        run &= (warm < limit - LATCH_K - 1.0) & (field < planned.cut_out_c - CUT_OUT_LATCH_K)
        rest = (over <= stop - SLACK_K) | (warm >= limit + 1.0) | (field >= planned.cut_out_c + 2.0)
    rest |= ~np.isfinite(field)
    # what the plan itself lets the pump do is no fault
    rest &= ~planned.allowed.may_run(scene.hour, field)
    if planned.allowed.may_rest:
        run = np.zeros_like(run)
    if change.forced == "on":
        return np.ones_like(run), np.zeros_like(rest)
    if change.forced == "off":
        return np.zeros_like(run), np.ones_like(rest)
    if change.forced == "night":
        # in which hours a timer lets it run nobody knows
        return run, rest & ~by_night(scene)
    if change.forced == "frost":
        cold = (scene.given[:, 5] < FROST_AIR_C + (0.0 if scene.has_air else UNSURE_AIR_K)) & (
            (scene.hour < 8.0) | (scene.hour >= 18.0)
        )
        # between frost and this it may run, by a limit nobody knows
        return run, rest & ~cold
    if change.forced == "battery":
        return np.zeros_like(run), rest
    return run, rest


def by_night(scene: Scene) -> NDArray[np.bool_]:
    """Rows in hours in which no sun explains a pump that runs."""
    return np.asarray((scene.hour >= NIGHT_HOURS[0]) | (scene.hour < NIGHT_HOURS[1]), dtype=bool)


def _switch(scene: Scene, rises: bool) -> Array:
    """The difference at which the pump starts, or stops, as a median of each day [K]."""
    runs = np.nan_to_num(scene.read["pump_share"]) > 0.0
    turned = runs[1:] & ~runs[:-1] if rises else ~runs[1:] & runs[:-1]
    near = np.diff(scene.at) <= 2 * scene.step
    over = scene.read["field_c"] - scene.read["low_c"]
    found = np.full(scene.days, np.nan)
    # what it was decided by stands in the row before
    rows = np.flatnonzero(turned & near)
    rows = rows[np.isfinite(over[rows])]
    for day in np.unique(scene.day[rows]):
        found[day] = float(np.median(over[rows[scene.day[rows] == day]]))
    return found


def read_signs(scene: Scene) -> Signs:
    """What the log itself shows in each channel that does not depend on what is supposed."""
    read = scene.read
    runs = np.nan_to_num(read["pump_share"]) > 0.0
    none: dict[str, Array] = {}
    for key in ("field_c", "hot_c", "cold_c", "gauge_pa"):
        none[key] = scene.blocks(read[key])
    # by the speed the pump was told
    share = read["flow_m3_s"] / (scene.flow * np.where(runs, read["pump_share"], 1.0))
    flow = scene.blocks(share, of=runs)
    none["flow"] = flow
    square = scene.blocks(share**2, of=runs)
    with np.errstate(invalid="ignore"):
        none["scatter"] = np.sqrt(np.clip(square - flow**2, 0.0, None))
    still = (scene.hour >= STILL_H[0]) & (scene.hour < STILL_H[1]) & ~runs
    none["top_cools"] = _column(
        np.where(_rises(scene, read["high_c"], still), np.nan, _slope(scene, read["high_c"], still))
    )
    none["foot_cools"] = _column(_slope(scene, read["low_c"], still))
    none["foot_gains"] = _column(_slope(scene, read["low_c"], scene.busy_noon))
    none["light"] = np.full((scene.days, BINS), np.nan if scene.has_sun or scene.by_file else USUAL_LIGHT)
    none["light"][:, [0, 4, 5, 9]] = np.nan
    none["dawn"] = _column(_dawn(scene, runs))
    none["level"] = _column(scene.daily(read["level_m"], still, least_s=LEAST_STILL_S))
    none["top_most"] = _column(_most(scene, read["high_c"]))
    unread = np.isfinite(read["low_c"]) & ~np.isfinite(read["field_c"])
    none["unread"] = _column(scene.daily(unread.astype(float), np.ones(len(runs), dtype=bool)))
    if scene.step <= 120.0:
        none["start_k"], none["stop_k"] = _column(_switch(scene, True)), _column(_switch(scene, False))
    none["sun_time"] = _column(np.zeros(scene.days))
    for key in ("off_h", "on_day_h", "on_night_h"):
        none[key] = _column(np.zeros(scene.days))
    return Signs(none)


def _column(values: NDArray[Any]) -> Array:
    return np.asarray(values, dtype=float).reshape(-1, 1)


def _slope(scene: Scene, values: Array, of: NDArray[np.bool_]) -> Array:
    """How fast something changes over some rows of each day [per h], by least squares."""
    good = of & np.isfinite(values)
    day, hour, value = scene.day[good], scene.hour[good], values[good]
    n = np.bincount(day, minlength=scene.days).astype(float)
    with np.errstate(invalid="ignore", divide="ignore"):
        mean_h = np.bincount(day, weights=hour, minlength=scene.days) / n
        mean_v = np.bincount(day, weights=value, minlength=scene.days) / n
        away = hour - mean_h[day]
        square = np.bincount(day, weights=away**2, minlength=scene.days)
        slope = np.bincount(day, weights=away * (value - mean_v[day]), minlength=scene.days) / square
        enough = n * scene.step >= LEAST_STILL_S
    return np.where(enough & (square > 0), slope, np.nan)


def _rises(scene: Scene, values: Array, of: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Days on which something has risen within some rows: a backup that heats by night says nothing of losses."""
    rows = np.flatnonzero(of & np.isfinite(values))
    starts = np.searchsorted(scene.day[rows], np.arange(scene.days + 1))
    found = np.zeros(scene.days, dtype=bool)
    for day in range(scene.days):
        part = values[rows[starts[day] : starts[day + 1]]]
        found[day] = len(part) > 0 and bool((part - np.minimum.accumulate(part)).max() > ROSE_K)
    return found


def _dawn(scene: Scene, runs: NDArray[np.bool_]) -> Array:
    """How much the store's foot warms between three and nine before the pump first runs [K]."""
    foot = scene.read["low_c"]
    window = (scene.hour >= DAWN_H[0]) & (scene.hour < DAWN_H[1]) & np.isfinite(foot)
    found = np.full(scene.days, np.nan)
    rows = np.flatnonzero(window)
    starts = np.searchsorted(scene.day[rows], np.arange(scene.days + 1))
    for day in range(scene.days):
        part = rows[starts[day] : starts[day + 1]]
        ran = np.flatnonzero(runs[part])
        part = part[: ran[0]] if len(ran) else part
        if len(part) * scene.step >= LEAST_STILL_S:
            found[day] = float(foot[part].max() - foot[part[0]])
    return found


def _most(scene: Scene, values: Array) -> Array:
    found = np.full(scene.days, -np.inf)
    good = np.isfinite(values)
    np.maximum.at(found, scene.day[good], values[good])
    return np.where(np.isfinite(found), found, np.nan)


class Twins:
    """The twin of a scene under changes, reckoned once where a change touches neither loop nor probes."""

    def __init__(self, scene: Scene) -> None:
        """Of one scene."""
        self.scene = scene
        self.healthy: tuple[Array, dict[str, Array]] | None = None

    def __call__(self, change: Change, off: Off) -> tuple[Array, dict[str, Array]]:
        """Rows as `reckoned`, and the blocks of what the loop's probes show."""
        physical = changed_loop(self.scene.loop, change, off) != changed_loop(self.scene.loop, Change(), Off())
        probes = any(
            (
                change.field_add,
                change.field_drift,
                change.field_loose,
                change.foot_add,
                change.foot_loose,
            )
        )
        if physical or probes or off != Off():
            return self._made(change, off)
        if self.healthy is None:
            self.healthy = self._made(change, off)
        out, blocks = self.healthy
        return out, dict(blocks)

    def _made(self, change: Change, off: Off) -> tuple[Array, dict[str, Array]]:
        scene = self.scene
        out = reckoned(scene, change, off)
        found: dict[str, Array] = {}
        field = _field_reads(scene, change, off, out)
        found["field_c"] = scene.blocks(np.where(np.isfinite(scene.read["field_c"]), field, np.nan))
        for key, column in (("hot_c", HOT_END), ("cold_c", COLD_END)):
            if np.isfinite(scene.read[key]).any():
                found[key] = scene.blocks(np.where(np.isfinite(scene.read[key]), out[:, column], np.nan))
            else:
                found[key] = np.full((scene.days, BINS), np.nan)
        clear = scene.given[:, 4]
        bright = clear > LEAST_CLEAR_W_M2 * 5
        share = np.where(bright, out[:, LIGHT] / np.where(bright, clear, 1.0), np.nan)
        known = scene.has_sun or scene.by_file
        found["light"] = np.full((scene.days, BINS), np.nan) if known else scene.blocks(share)
        found["sun_time"] = _column(_sun_late(scene, out) if scene.has_sun else np.full(scene.days, np.nan))
        return out, found


def signs_of(twins: Twins, planned: Planned, change: Change, off: Off = NOT_OFF) -> tuple[Signs, Array]:
    """What a loop with a change would have shown, and the twin's rows it is made of."""
    scene = twins.scene
    out, found = twins(change, off)
    runs = np.nan_to_num(scene.read["pump_share"]) > 0.0
    share = change.share * (1 + off.share)
    found["flow"] = np.full((scene.days, BINS), share)
    found["scatter"] = np.full((scene.days, BINS), change.scatter)
    _gauge_signs(scene, change, out, found)
    _store_signs(scene, change, out, found)
    found["level"] = np.full((scene.days, 1), _level_at_first(scene))
    found["unread"] = np.full((scene.days, 1), change.unread)
    found["start_k"] = np.full((scene.days, 1), planned.start if change.start is None else change.start)
    found["stop_k"] = np.full((scene.days, 1), planned.stop if change.stop is None else change.stop)
    found["sun_time"] = found["sun_time"] - 60.0 * change.clock_h
    _pump_signs(scene, planned, change, runs, found)
    return Signs(found), out


def _field_reads(scene: Scene, change: Change, off: Off, out: Array) -> Array:
    """What the field's column shows of the field that is reckoned."""
    field = out[:, EXIT]
    if change.field_loose > 0:
        air = scene.given[:, 5]
        field = air + (field - air) * (1.0 - change.field_loose)
    return np.asarray(
        field + change.field_add + off.field_k + change.field_drift * _drifted(scene, change), dtype=float
    )


def _pump_signs(
    scene: Scene, planned: Planned, change: Change, runs: NDArray[np.bool_], found: dict[str, Array]
) -> None:
    """Hours of each day in which the pump rests though it must run, or runs though it must rest, as what is read is too much of."""
    run, rest = must(scene, planned, change)
    hours = scene.lasts / HOUR_S
    night = by_night(scene)
    for key, rows in (
        ("off_h", run & ~runs),
        ("on_day_h", rest & runs & ~night),
        ("on_night_h", rest & runs & night),
    ):
        # read is nothing by definition: what is reckoned stands against it with its sign
        found[key] = -_column(np.bincount(scene.day, weights=hours * rows, minlength=scene.days))
    if change.forced == "night":
        ran = np.bincount(scene.day, weights=hours * (night & runs), minlength=scene.days)
        logged = np.bincount(scene.day, weights=hours * night, minlength=scene.days)
        found["on_night_h"] = found["on_night_h"] - _column(
            np.where(logged > 1.0, np.maximum(NIGHTLY_H - ran, 0.0), 0.0)
        )
    if change.forced == "battery":
        # it is cut off while it should run, and not all the time: a part of the hours in which it should
        asked = must(scene, planned, Change())[0]
        cut = np.bincount(scene.day, weights=hours * (asked & ~runs), minlength=scene.days)
        wants = np.bincount(scene.day, weights=hours * asked, minlength=scene.days)
        ran = np.bincount(scene.day, weights=hours * runs, minlength=scene.days)
        missing = np.maximum(CUT_SHARE * wants - cut, 0.0) + np.where(wants > 1.0, np.maximum(0.5 - ran, 0.0), 0.0)
        found["off_h"] = -_column(missing)


def _gauge_signs(scene: Scene, change: Change, out: Array, found: dict[str, Array]) -> None:
    """The gauge by the loop's warmth; what is lost of it depends on when that began, see `gone`."""
    if scene.gauge is None or not np.isfinite(scene.read["gauge_pa"]).any():
        found["gauge_pa"] = np.full((scene.days, BINS), np.nan)
        return
    reads = scene.gauge.fill + scene.gauge.by_k * change.gauge_swing * (_warmth(scene, out) - 20.0)
    reads = np.where(np.isfinite(scene.read["gauge_pa"]), np.maximum(reads, 0.0), np.nan)
    found["gauge_pa"] = scene.blocks(reads)


def _level_at_first(scene: Scene) -> float:
    """The level at rest in the first nights: where a sensor's nothing lies nobody knows [m]."""
    still = (scene.hour >= STILL_H[0]) & (scene.hour < STILL_H[1]) & (scene.given[:, 2] <= 0.0)
    nights = scene.daily(scene.read["level_m"], still, least_s=LEAST_STILL_S)
    nights = nights[np.isfinite(nights)]
    return float(np.median(nights[:FIRST_NIGHTS])) if len(nights) else float("nan")


def hot_hours(scene: Scene, out: Array) -> Array:
    """Hours of each day in which the hot line is so hot that a worn relief valve weeps, shape (days,)."""
    hot = np.where(np.isfinite(scene.read["hot_c"]), scene.read["hot_c"], out[:, HOT_END])
    return np.bincount(scene.day, weights=scene.lasts * (hot > WEEPS_C), minlength=scene.days) / HOUR_S


def gone(change: Change, day: Array, begins: float, hot: Array) -> Array:
    """What the gauge has lost at moments [days] since a day on which it began [Pa]; `hot` are the hot hours up to those moments, from
    that day [h]."""
    since = np.maximum(day - begins, 0.0)
    lost = change.gauge_leak * since + change.gauge_air * (1 - np.exp(-since / AIR_DAYS))
    return np.asarray(lost + change.gauge_weeps * hot, dtype=float)


def _warmth(scene: Scene, out: Array) -> Array:
    """The mean warmth of the loop: of its lines as read, else as reckoned [°C]."""
    hot, cold = scene.read["hot_c"], scene.read["cold_c"]
    return (np.where(np.isfinite(hot), hot, out[:, HOT_END]) + np.where(np.isfinite(cold), cold, out[:, COLD_END])) / 2


def _store_signs(scene: Scene, change: Change, out: Array, found: dict[str, Array]) -> None:
    """How the store cools by night, whether its foot warms at dawn, whether its top becomes warm."""
    store, read = scene.store, scene.read
    still = (scene.hour >= STILL_H[0]) & (scene.hour < STILL_H[1])
    for key, column in (("top_cools", "high_c"), ("foot_cools", "low_c")):
        rate = -store.cools * change.store_loss * (read[column] - store.room)
        if key == "foot_cools":
            rate = rate + np.minimum(out[:, HEAT], 0.0) * HOUR_S / store.half
        found[key] = _column(scene.daily(rate, still, least_s=LEAST_STILL_S))
    found["foot_gains"] = _column(
        scene.daily(out[:, HEAT] * HOUR_S / (WARMED * 2 * store.half), scene.busy_noon, least_s=LEAST_STILL_S)
    )
    if change.foot_loose > 0:
        # a probe in the room sees little of what the foot does
        for key in ("foot_gains", "foot_cools"):
            found[key] = found[key] * (1.0 - change.foot_loose)
    found["dawn"] = np.full((scene.days, 1), change.morning_k)
    most = _most(scene, read["high_c"])
    if store.held is None or change.cold_top:
        found["top_most"] = _column(most)
    else:
        found["top_most"] = _column(np.maximum(most, store.held - UNDER_HELD_K))


def _sun_late(scene: Scene, out: Array) -> Array:
    """How much later than a clear sky's the middle of each day's light lies [min]: a clock that is ahead makes it late."""
    clear = scene.given[:, 4]
    light = out[:, LIGHT]
    # by the place's own day
    weight = scene.lasts
    with np.errstate(invalid="ignore", divide="ignore"):
        middle = np.bincount(scene.day, weights=weight * light * scene.hour, minlength=scene.days) / np.bincount(
            scene.day, weights=weight * light, minlength=scene.days
        )
        due = np.bincount(scene.day, weights=weight * clear * scene.hour, minlength=scene.days) / np.bincount(
            scene.day, weights=weight * clear, minlength=scene.days
        )
        bright = np.bincount(scene.day, weights=weight * light, minlength=scene.days) > 0.4 * np.bincount(
            scene.day, weights=weight * clear, minlength=scene.days
        )
    return np.where(bright, 60.0 * (middle - due), np.nan)
