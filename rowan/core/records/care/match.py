"""Which fault a log looks like: each is put into the loop's twin, and what it would have shown is held against what was read.

Score of a supposition: Student-t log-likelihood (ν = 4) of the blocks by the spread of each channel and part of the day, after the loop's
own numbers have been fitted within their priors, less ½·k·ln(days) for its free sizes. A fault may begin on any day. Source: methods 17.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.faults import FAULTS, Change, Fault
from rowan.core.records.care.scene import PARTS_H, Scene, filled
from rowan.core.records.care.signs import Off, Signs, Twins, gone, hot_hours, read_signs, signs_of
from rowan.core.records.readings import Planned

Array = NDArray[np.float64]
NU = 4.0  # of Student's t: a day that does not fit counts, but not without end
ROUNDS = 4  # of weighting anew
# days are not independent of each other, nor are parts of a day: what they say together counts for less
ALIKE = 0.35
# what a fault must be better than healthy by before it is named; by the trial logs of `bin/rowan bench care`
LEAST_GAIN = 7.0
NAMED_SHARE = 0.5
REFINED = 10  # suppositions whose first day is looked for
TEMPERATURE = 3.0  # by which scores are softened before they become shares: the twin is no loop
SAYS = 2.0  # by how much a channel has to speak to be said to speak


@dataclass(frozen=True)
class Spread:
    """Of a channel: spread of a block from day to day at rest and running, and how far the twin may be off all the time."""

    rest: float
    runs: float
    bias_rest: float
    bias_runs: float


# by channel, with sun and air read: day to day, and lasting. The twin against the stand-in's healthy loops and against the year's own
SPREADS: dict[str, Spread] = {
    "field_c": Spread(2.0, 2.0, 1.2, 2.0),
    "hot_c": Spread(2.5, 2.0, 2.0, 2.0),
    "cold_c": Spread(2.5, 2.0, 2.0, 2.5),
    "flow": Spread(0.05, 0.05, 0.02, 0.02),
    "scatter": Spread(0.03, 0.03, 0.01, 0.01),
    "gauge_pa": Spread(4e3, 4e3, 2e3, 2e3),
    # share of a clear sky that a field without a sensor for the sun would have had to see
    "light": Spread(0.3, 0.25, 0.2, 0.1),
}
DAILY: dict[str, tuple[float, float]] = {
    "top_cools": (0.08, 0.06),
    "foot_gains": (2.0, 1.0),
    "foot_cools": (0.12, 0.05),
    "dawn": (2.5, 0.5),
    "top_most": (1.5, 0.3),
    "unread": (0.05, 0.01),
    "start_k": (1.5, 0.7),
    "stop_k": (1.5, 0.7),
    "sun_time": (15.0, 8.0),
    "off_h": (0.4, 0.1),
    "on_day_h": (0.4, 0.1),
    "on_night_h": (0.3, 0.05),
}
# what is nothing in every healthy log: that it comes and goes from day to day is the fault's own
COUNTED = ("off_h", "on_day_h", "on_night_h", "top_most", "unread")
UNREAD_AIR_K = 3.5  # K from day to day of an air that is only known by its month
UNREAD_SUN_K = 3.0  # K more by day where the light is looked for
# what the loop may be off: shares of 1, [K]; methods 17
PRIORS: dict[str, float] = {
    "share": 0.09,
    "eta0": 0.07,
    "a1": 0.12,
    "capacity": 0.12,
    "lines": 0.2,
    "coil": 0.2,
    "up": 0.15,
    "field_k": 0.7,
    "foot_k": 0.7,
    "air_k": 0.7,
}
NO_AIR_K = 2.0
GAUGE_FILL_PA, GAUGE_SWING = 30e3, 0.25
# of each number, by how much it is moved to see what it does
NUDGES = {name: 0.5 * prior for name, prior in PRIORS.items()}


@dataclass(frozen=True)
class Supposed:
    """A fault in one of its sizes, with its score over healthy, the day from which it holds, and what each channel says of it."""

    fault: Fault
    change: Change
    gain: float
    begins: int
    speaks: dict[str, float]


# what a channel is of, as somebody would look for it
PLACES: dict[str, tuple[str, ...]] = {
    "field": ("field_c", "unread", "sun_time", "light"),
    "lines": ("hot_c", "cold_c"),
    "store": ("top_cools", "foot_cools", "foot_gains", "dawn", "top_most"),
    "pump": ("off_h", "on_day_h", "on_night_h", "start_k", "stop_k"),
    "flow": ("flow", "scatter"),
    "gauge": ("gauge_pa",),
}


@dataclass(frozen=True)
class Evidence:
    """What parts a supposition from a healthy loop: a channel, the part of the day (of `PARTS_H`, None for whole days) and whether the
    pump ran; means as read, as healthy would have been, and as supposed; on how many of how many days it is nearer to what is supposed."""

    channel: str
    part: int | None
    runs: bool
    read: float
    healthy: float
    supposed: float
    nearer: int
    days: int


@dataclass(frozen=True)
class Match:
    """The answer: suppositions by share of weight, the best of each fault; healthy's own share; what the loop is off; days compared."""

    ranked: tuple[tuple[Supposed, float], ...]
    healthy: float
    off: dict[str, float]
    days: int
    unseen: tuple[Fault, ...]
    evidence: tuple[Evidence, ...] = ()

    @property
    def named(self) -> Supposed | None:
        """The fault to name: one that is clearly likelier than healthy; None for nothing found."""
        if not self.ranked or self.ranked[0][0].gain < LEAST_GAIN:
            return None
        return self.ranked[0][0]


@dataclass(frozen=True)
class Class:
    """Faults that a log cannot tell apart, the likeliest first, with what they weigh together."""

    members: tuple[Supposed, ...]
    share: float

    @property
    def first(self) -> Supposed:
        """The likeliest of them."""
        return self.members[0]


def classes_of(found: Match, channels: frozenset[str]) -> list[Class]:
    """The suppositions of a match in classes, the likeliest class first."""
    members: dict[str, list[tuple[Supposed, float]]] = {}
    for supposed, share in found.ranked:
        members.setdefault(supposed.fault.class_in(channels), []).append((supposed, share))
    made = [Class(tuple(s for s, _ in rows), sum(share for _, share in rows)) for rows in members.values()]
    return sorted(made, key=lambda one: -one.first.gain)


@dataclass
class _Rows:
    """All blocks of all channels in one row of numbers, those that were read."""

    names: list[str]
    channel: NDArray[np.int64]
    group: NDArray[np.int64]
    day: NDArray[np.int64]
    value: Array
    spread: Array
    bias: Array
    mask: dict[str, NDArray[np.bool_]]
    first: dict[str, int]

    def of(self, signs: Signs) -> Array:
        """The same blocks of what is reckoned."""
        return np.concatenate([signs.channels[name][self.mask[name]] for name in self.names])


def _spread(scene: Scene, name: str, shape: tuple[int, ...]) -> tuple[Array, Array]:
    """Day-to-day spread and lasting bias of a channel's blocks."""
    if name in DAILY:
        day, lasting = DAILY[name]
        if scene.step > 120.0 and name.endswith("_h"):
            day *= 2.5
        return np.full(shape, day), np.full(shape, lasting)
    given, parts = SPREADS[name], len(PARTS_H)
    rest, runs = np.full(parts, given.rest), np.full(parts, given.runs)
    if name == "field_c":
        if not scene.has_air:
            rest = np.hypot(rest, UNREAD_AIR_K)
        if not scene.has_sun:
            rest[1:4] += UNREAD_SUN_K
            runs += 1.0
        # a field that stands in the sun moves by tens of kelvin within the hour
        rest[1:4] += 2.0
    if scene.step > 120.0 and name in ("field_c", "hot_c", "cold_c"):
        rest, runs = rest * 1.3, runs * 1.5
    biases = np.concatenate((np.full(parts, given.bias_rest), np.full(parts, given.bias_runs)))
    return np.broadcast_to(np.concatenate((rest, runs)), shape).copy(), np.broadcast_to(biases, shape).copy()


def _rows(scene: Scene, read: Signs, healthy: Signs) -> _Rows:
    names, parts = [], []
    group = 0
    mask, firsts = {}, {}
    for at, (name, values) in enumerate(read.channels.items()):
        good = np.isfinite(values) & np.isfinite(healthy.channels[name])
        if not good.any():
            continue
        names.append(name)
        mask[name], firsts[name] = good, group
        spread, bias = _spread(scene, name, values.shape)
        residual = values - healthy.channels[name]
        if name not in COUNTED:
            spread = np.maximum(spread, _own_spread(residual, spread))
        day, column = np.nonzero(good)
        parts.append((np.full(len(day), at), group + column, day, values[good], spread[good], bias[good]))
        group += values.shape[1]
    joined = [np.concatenate(column) for column in zip(*parts, strict=True)]
    channel, rows_of, day, value, spreads, biases = joined
    return _Rows(names, channel, rows_of, day, value, spreads, biases, mask, firsts)


def _own_spread(residual: Array, spread: Array) -> Array:
    """What a log's own blocks spread from one day to the next, robustly; a lasting change is none of it. At most three times the usual."""
    with np.errstate(invalid="ignore"):
        steps = np.abs(np.diff(residual, axis=0))
        found = np.zeros(residual.shape[1])
        for column in range(residual.shape[1]):
            good = steps[:, column][np.isfinite(steps[:, column])]
            if len(good) >= 5:
                found[column] = 1.48 * float(np.median(good)) / np.sqrt(2.0)
    return np.minimum(np.broadcast_to(found, residual.shape), 3.0 * spread)


def _likelihood(residual: Array) -> Array:
    return -0.5 * (NU + 1.0) * np.log1p(residual**2 / NU)


class _Fit:
    """Residuals under a supposition, with what the loop is off fitted within its priors."""

    def __init__(self, rows: _Rows, levers: Array, priors: Array) -> None:
        """Levers are what each number moves in each block by its prior; lasting biases of channel and part of the day come beside them."""
        self.rows = rows
        groups, place = np.unique(rows.group, return_inverse=True)
        biases = np.zeros((len(rows.value), len(groups)))
        biases[np.arange(len(place)), place] = rows.bias
        self.levers = np.concatenate((levers, biases), axis=1) / rows.spread[:, None]
        self.count = levers.shape[1]
        self.priors = priors

    def fitted(self, numbers: Array) -> Array:
        """What fitted numbers move in each block [spreads]."""
        return np.asarray(self.levers @ numbers, dtype=float)

    def __call__(self, residual: Array, begin: Array | None = None) -> tuple[Array, Array, float]:
        """What is left over of a residual [spreads], the fitted numbers [priors], and what they cost."""
        scaled = residual / self.rows.spread
        found = np.zeros(self.levers.shape[1]) if begin is None else begin
        unit = np.eye(self.levers.shape[1])
        for _ in range(ROUNDS):
            left = scaled - self.levers @ found
            weight = ALIKE * (NU + 1.0) / (NU + left**2)
            weighted = self.levers * weight[:, None]
            found = np.linalg.solve(weighted.T @ self.levers + unit, weighted.T @ scaled)
        return scaled - self.levers @ found, found, 0.5 * float(found @ found)


def _levers(twins: Twins, planned: Planned, rows: _Rows, healthy: Array) -> tuple[Array, list[str]]:
    """What each number that may be off moves in each block, by its prior."""
    names, found, scene = [], [], twins.scene
    for name, prior in PRIORS.items():
        if name == "air_k" and not scene.has_air:
            prior = NO_AIR_K
        nudge = NUDGES[name]
        signs, _ = signs_of(twins, planned, Change(), replace(Off(), **{name: nudge}))
        moved = np.nan_to_num(rows.of(signs) - healthy) * (prior / nudge)
        names.append(name)
        found.append(moved)
    gauge = np.array(rows.names)
    if scene.gauge is not None and "gauge_pa" in gauge:
        at = _channel_rows(rows, "gauge_pa")
        names += ["gauge_fill", "gauge_swing"]
        found += [at * GAUGE_FILL_PA, at * (healthy - scene.gauge.fill) * GAUGE_SWING]
    if "flow" in gauge:
        names.append("meter")
        found.append(_channel_rows(rows, "flow") * 0.03)
    return np.stack(found, axis=1), names


def _channel_rows(rows: _Rows, name: str) -> Array:
    """1 in the blocks of a channel, 0 in others."""
    found, first = np.zeros(len(rows.value)), 0
    for other in rows.names:
        size = int(rows.mask[other].sum())
        if other == name:
            found[first : first + size] = 1.0
        first += size
    return found


def suppositions(scene: Scene) -> Iterator[tuple[Fault, Change]]:
    """Every fault that this log could show, in every size."""
    for fault in FAULTS:
        if can_be_seen(fault, scene):
            for change in fault.sizes:
                yield fault, change


def can_be_seen(fault: Fault, scene: Scene) -> bool:
    """Whether a log has the channels a fault shows in."""
    for key in fault.needs:
        if key == "sun_w_m2":
            if not scene.has_sun:
                return False
        elif not np.isfinite(scene.read[key]).any():
            return False
    return scene.gauge is not None or fault.needs != ("gauge_pa",)


def match(scene: Scene, planned: Planned, *, told: Callable[[float], None] = lambda _: None) -> Match:
    """Holds every supposition against a log; `told` hears how far it is, 0 to 1."""
    read, twins = read_signs(scene), Twins(scene)
    signs, out = signs_of(twins, planned, Change())
    rows = _rows(scene, read, signs)
    healthy = rows.of(signs)
    levers, names = _levers(twins, planned, rows, healthy)
    fit = _Fit(rows, levers, np.ones(levers.shape[1]))
    base = rows.value - healthy
    left, numbers, cost = fit(base)
    zero = ALIKE * float(_likelihood(left).sum()) - cost
    by_day = np.bincount(rows.day, weights=_likelihood(left), minlength=scene.days)
    tried = []
    every = list(suppositions(scene))
    leaks = _Leaks(rows, hot_hours(scene, out))
    for count, (fault, change) in enumerate(every):
        supposed = _residual(twins, planned, rows, base, change)
        if leaks.is_of(change):
            begins, gain = leaks.best(supposed, fit.fitted(numbers), change)
            tried.append((gain * ALIKE, begins, fault, change, supposed))
            continue
        there, *_ = fit(supposed, numbers)
        gain = np.bincount(rows.day, weights=_likelihood(there), minlength=scene.days) - by_day
        later = np.cumsum(gain[::-1])[::-1]
        tried.append((float(later.max()) * ALIKE, int(np.argmax(later)), fault, change, supposed))
        told((count + 1) / (len(every) + REFINED))
    tried.sort(key=lambda entry: -entry[0])
    best: dict[str, Supposed] = {}
    refined = 0
    for _, begins, fault, change, supposed in tried:
        if refined >= 3 * REFINED or (len(best) >= REFINED and fault.key not in best):
            continue
        refined += 1
        found = _from_its_day(
            rows, fit, base, _Supposal(change, supposed, begins, leaks), scene.days, (zero, left, numbers)
        )
        entry = Supposed(fault, change, found[0], found[1], found[2])
        if fault.key not in best or entry.gain > best[fault.key].gain:
            best[fault.key] = entry
    told(1.0)
    ordered = sorted(best.values(), key=lambda entry: -entry.gain)
    weights = np.exp(
        np.array([0.0, *(entry.gain for entry in ordered)]) / TEMPERATURE
        - max(0.0, *(e.gain for e in ordered), 0.0) / TEMPERATURE
    )
    shares = weights / weights.sum()
    off = {name: float(value) for name, value in zip(names, numbers, strict=False)}
    evidence = (
        _evidence(twins, planned, rows, base, healthy, ordered[0], leaks)
        if ordered and ordered[0].gain >= LEAST_GAIN
        else ()
    )
    unseen = tuple(fault for fault in FAULTS if not can_be_seen(fault, scene))
    return Match(
        tuple(zip(ordered, (float(s) for s in shares[1:]), strict=True)),
        float(shares[0]),
        off,
        scene.days,
        unseen,
        evidence,
    )


def _residual(twins: Twins, planned: Planned, rows: _Rows, base: Array, change: Change) -> Array:
    """What is left of what was read under a change; where it claims nothing, as healthy has it."""
    if change.swapped:
        return _swapped(twins.scene, planned, rows, base)
    signs, _ = signs_of(twins, planned, change)
    found = rows.value - rows.of(signs)
    return np.where(np.isfinite(found), found, base)


def _swapped(scene: Scene, planned: Planned, rows: _Rows, base: Array) -> Array:
    """What is left with field and foot in each other's place; what the controller did, it did by what it was told."""
    field, foot = scene.read["field_c"], scene.read["low_c"]
    given = scene.given.copy()
    given[:, 0], given[:, 6] = filled(field), foot
    turned = replace(scene, read={**scene.read, "field_c": foot, "low_c": field}, given=given)
    signs, _ = signs_of(Twins(turned), planned, Change())
    found = rows.of(read_signs(turned)) - rows.of(signs)
    told = sum((_channel_rows(rows, name) for name in PLACES["pump"]), np.zeros(len(base)))
    return np.where(np.isfinite(found) & (told == 0), found, base)


class _Leaks:
    """What a gauge loses from a day on, at the blocks in which it was read."""

    def __init__(self, rows: _Rows, hot: Array) -> None:
        """`hot` are the hot hours of each day [h]."""
        self.rows, self.days = rows, len(hot)
        self.at = _channel_rows(rows, "gauge_pa") > 0
        parts = rows.group[self.at] - rows.first.get("gauge_pa", 0)
        middle = (np.array(PARTS_H) + np.array((*PARTS_H[1:], 24.0))) / 48.0
        self.time = rows.day[self.at] + middle[parts % len(PARTS_H)]
        self.hot = np.concatenate(([0.0], np.cumsum(hot)))

    def is_of(self, change: Change) -> bool:
        """Whether a change lets the gauge fall."""
        return bool((change.gauge_leak or change.gauge_air or change.gauge_weeps) and self.at.any())

    def lost(self, change: Change, begins: int) -> Array:
        """What is missing in each block of all channels when it began on a day [Pa in those of the gauge]."""
        found = np.zeros(len(self.at))
        if self.is_of(change):
            since = np.interp(self.time, np.arange(len(self.hot)), self.hot) - self.hot[begins]
            found[self.at] = gone(change, self.time, float(begins), np.maximum(since, 0.0))
        return found

    def left(self, supposed: Array, change: Change, begins: int) -> Array:
        """What is left over of all channels when it began on a day; no gauge falls under nothing."""
        due = self.rows.value - supposed - self.lost(change, begins)
        return np.where(self.at, self.rows.value - np.maximum(due, 0.0), supposed)

    def best(self, supposed: Array, fitted: Array, change: Change) -> tuple[int, float]:
        """The day from which it fits best, and by how much better than nothing [log-likelihood, all channels]."""
        spread, day = self.rows.spread, self.rows.day
        plain = _likelihood(supposed / spread - fitted)
        gains = []
        every = max(1, self.days // 60)
        for begins in range(0, max(self.days - 2, 1), every):
            later = self.at & (day >= begins)
            there = _likelihood(self.left(supposed, change, begins)[later] / spread[later] - fitted[later])
            gains.append((float((there - plain[later]).sum()), begins))
        gain, begins = max(gains)
        return begins, gain


@dataclass(frozen=True)
class _Supposal:
    """A change on trial: what it leaves over if it held from the first day, and the day it is first tried from."""

    change: Change
    left: Array
    begins: int
    leaks: _Leaks

    def mixed(self, base: Array, day: NDArray[np.int64], begins: int) -> Array:
        """What is left over where it holds from a day on."""
        return np.where(day >= begins, self.leaks.left(self.left, self.change, begins), base)


def _from_its_day(
    rows: _Rows, fit: _Fit, base: Array, supposal: _Supposal, days: int, healthy: tuple[float, Array, Array]
) -> tuple[float, int, dict[str, float]]:
    """Gain over healthy of a supposition that holds from its best day on, that day, and what each channel says."""
    zero, left, numbers = healthy
    begins = supposal.begins
    best = (-np.inf, begins, left)
    for _ in range(3):
        supposed = supposal.mixed(base, rows.day, begins)
        there, found, cost = fit(supposed, numbers)
        free = 1.0 + (begins > 0)
        score = ALIKE * float(_likelihood(there).sum()) - cost - 0.5 * free * np.log(days) - supposal.change.price
        if score > best[0]:
            best = (score, begins, there)
        # the same fit, with the day moved to where the days turn
        fitted = fit.fitted(found)
        if supposal.leaks.is_of(supposal.change):
            moved, _ = supposal.leaks.best(supposal.left, fitted, supposal.change)
            if moved == begins:
                break
            begins = moved
            continue
        supposed = supposal.left
        gain = np.bincount(
            rows.day,
            weights=_likelihood(supposed / rows.spread - fitted) - _likelihood(base / rows.spread - fitted),
            minlength=days,
        )
        later = np.cumsum(gain[::-1])[::-1]
        moved = int(np.argmax(later))
        if moved == begins:
            break
        begins = moved
    score, begins, there = best
    each = ALIKE * (_likelihood(there) - _likelihood(left))
    first, speaks = 0, {}
    for name in rows.names:
        size = int(rows.mask[name].sum())
        speaks[name] = float(each[first : first + size].sum())
        first += size
    return score - zero, begins, speaks


MOST_EVIDENCE = 3


def _evidence(
    twins: Twins, planned: Planned, rows: _Rows, base: Array, healthy: Array, named: Supposed, leaks: _Leaks
) -> tuple[Evidence, ...]:
    """Where a supposition is clearly nearer to what was read than a healthy loop: the channels and parts of the day that speak most."""
    supposed = _residual(twins, planned, rows, base, named.change)
    supposed = leaks.left(supposed, named.change, named.begins)
    since = rows.day >= named.begins
    better = np.where(since, _likelihood(supposed / rows.spread) - _likelihood(base / rows.spread), 0.0)
    channel_of = np.concatenate([np.full(int(rows.mask[name].sum()), at) for at, name in enumerate(rows.names)])
    found = []
    for group in np.unique(rows.group):
        here = (rows.group == group) & since
        if not here.any():
            continue
        name = rows.names[int(channel_of[here][0])]
        column = int(group) - rows.first[name]
        wide = name not in DAILY
        nearer = np.abs(supposed[here]) < np.abs(base[here])
        found.append(
            (
                float(better[here].sum()),
                Evidence(
                    name,
                    column % len(PARTS_H) if wide else None,
                    wide and column >= len(PARTS_H),
                    float(np.mean(rows.value[here])),
                    float(np.mean(healthy[here])),
                    float(np.mean(rows.value[here] - supposed[here])),
                    int(nearer.sum()),
                    int(here.sum()),
                ),
            )
        )
    found.sort(key=lambda entry: -entry[0])
    return tuple(one for gain, one in found[:MOST_EVIDENCE] if gain > SAYS)


def speech(supposed: Supposed, best: Supposed) -> dict[str, str]:
    """What each place of the loop says of a supposition: `fits`, `against` where the best fits it better, or nothing."""
    found = {}
    for place, channels in PLACES.items():
        here = [name for name in channels if name in supposed.speaks]
        if not here:
            continue
        says, said = sum(supposed.speaks[name] for name in here), sum(best.speaks.get(name, 0.0) for name in here)
        found[place] = "against" if says < said - SAYS or says < -SAYS else "fits" if says > SAYS else ""
    return found
