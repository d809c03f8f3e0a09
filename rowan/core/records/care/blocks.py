"""All that a log and its twin are compared in: blocks of every channel that was read, with how far each may be off from day to day and
for good."""

from __future__ import annotations

import warnings
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.scene import PARTS_H, Scene
from rowan.core.records.care.signs import Signs
from rowan.core.terms.record import record

Array = NDArray[np.float64]


@record
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
    "level": (0.004, 0.002),
    "unread": (0.05, 0.01),
    "start_k": (1.5, 0.7),
    "stop_k": (1.5, 0.7),
    "sun_time": (12.0, 5.0),
    "off_h": (0.4, 0.1),
    "on_day_h": (0.4, 0.1),
    "on_night_h": (0.3, 0.05),
}
# what is nothing in every healthy log: that it comes and goes from day to day is the fault's own
COUNTED = ("off_h", "on_day_h", "on_night_h", "top_most", "unread")
UNREAD_AIR_K = 3.5  # K from day to day of an air that is only known by its month
UNREAD_SUN_K = 3.0  # K more by day where the light is looked for
# what the loop may be off: shares of 1, [K]; methods 17


@record
class Blocks:
    """All blocks of all channels in one row of numbers, those that were read."""

    names: list[str]
    group: NDArray[np.int64]
    day: NDArray[np.int64]
    value: Array
    spread: Array
    bias: Array
    mask: dict[str, NDArray[np.bool_]]
    first: dict[str, int]

    def only(self, name: str) -> Array:
        """1 in the blocks of a channel, 0 in others."""
        found, first = np.zeros(len(self.value)), 0
        for other in self.names:
            size = int(self.mask[other].sum())
            if other == name:
                found[first : first + size] = 1.0
            first += size
        return found

    def by_channel(self, values: Array) -> dict[str, float]:
        """Sums of values over the blocks of each channel."""
        found, first = {}, 0
        for name in self.names:
            size = int(self.mask[name].sum())
            found[name] = float(values[first : first + size].sum())
            first += size
        return found

    def by_day(self, values: Array, days: int) -> Array:
        """Sums of values over the blocks of each day."""
        return np.asarray(np.bincount(self.day, weights=values, minlength=days), dtype=float)

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


def blocks_of(scene: Scene, read: Signs, healthy: Signs) -> Blocks:
    """The blocks in which both something was read and a healthy loop is reckoned."""
    parts: dict[str, list[NDArray[Any]]] = {name: [] for name in ("group", "day", "value", "spread", "bias")}
    mask: dict[str, NDArray[np.bool_]] = {}
    first: dict[str, int] = {}
    group = 0
    for name, values in read.channels.items():
        good = np.isfinite(values) & np.isfinite(healthy.channels[name])
        if not good.any():
            continue
        mask[name], first[name] = good, group
        spread, bias = _spread(scene, name, values.shape)
        if name not in COUNTED:
            spread = np.maximum(spread, _own_spread(values - healthy.channels[name], spread))
        if name == "light":
            spread = np.hypot(spread, _duller(values - healthy.channels[name]))
        day, column = np.nonzero(good)
        for key, found in zip(parts, (group + column, day, values[good], spread[good], bias[good]), strict=True):
            parts[key].append(found)
        group += values.shape[1]
    joined = {key: np.concatenate(found) for key, found in parts.items()}
    return Blocks(
        names=list(mask),
        group=joined["group"].astype(np.int64),
        day=joined["day"].astype(np.int64),
        value=joined["value"],
        spread=joined["spread"],
        bias=joined["bias"],
        mask=mask,
        first=first,
    )


def _duller(residual: Array) -> Array:
    """By how much of a clear sky a block is duller than its part of the day mostly is: weather, which says nothing of the loop."""
    if not np.isfinite(residual).any():
        return np.zeros(residual.shape)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)  # a part of the day that was never read
        usual = np.nanmedian(residual, axis=0)
    return np.clip(np.nan_to_num(residual - usual), 0.0, None)


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
