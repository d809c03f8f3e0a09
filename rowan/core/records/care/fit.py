"""What is left over of a log under a supposition, after the loop's own numbers have been fitted within their priors. Source: methods 17."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.blocks import Blocks
from rowan.core.records.care.faults import Change
from rowan.core.records.care.scene import PARTS_H
from rowan.core.records.care.signs import Off, Twins, gone, signs_of
from rowan.core.records.readings import Planned

Array = NDArray[np.float64]
NU = 4.0  # of Student's t: a day that does not fit counts, but not without end
ENOUGH_DAYS = 60  # to fit a loop's numbers by
ROUNDS, SETTLED = 30, 1e-3  # of weighting anew at most, until no number moves by more than this [priors]
COARSE, FEW_ROUNDS = 20, 6  # days on which a leak is first supposed to begin, and rounds of weighting in each
# days are not independent of each other, nor are parts of a day: what they say together counts for less
ALIKE = 0.35
# what the loop may be off: shares of 1, [K]; methods 17
PRIORS: dict[str, float] = {
    "share": 0.07,
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
SIZE_OFF = 0.25  # of a supposition's size: between two that are tried it is interpolated
GAUGE_FILL_PA, GAUGE_SWING = 30e3, 0.25
METER_OFF = 0.03  # of a flow meter, as makers say of simple ones
# of each number, by how much it is moved to see what it does
NUDGES = {name: 0.5 * prior for name, prior in PRIORS.items()}


def likelihood(residual: Array) -> Array:
    """Student's t of what is left over, in spreads: the logarithm, without its constant."""
    return -0.5 * (NU + 1.0) * np.log1p(residual**2 / NU)


class Fit:
    """Residuals under a supposition, with what the loop is off fitted within its priors."""

    def __init__(self, blocks: Blocks, levers: Array) -> None:
        """Levers are what each number moves in each block by its prior; lasting biases of channel and part of the day come beside them."""
        self.blocks = blocks
        groups, place = np.unique(blocks.group, return_inverse=True)
        biases = np.zeros((len(blocks.value), len(groups)))
        biases[np.arange(len(place)), place] = blocks.bias
        self.levers = np.concatenate((levers, biases), axis=1) / blocks.spread[:, None]
        # of a long log every so many days are enough to fit by; what is left over is told of all
        self.every = max(1, int(blocks.day.max()) // ENOUGH_DAYS) if len(blocks.day) else 1
        self.some = blocks.day % self.every == 0

    def fitted(self, numbers: Array) -> Array:
        """What fitted numbers move in each block [spreads]."""
        return np.asarray(self.levers @ numbers, dtype=float)

    def __call__(
        self, residual: Array, begin: Array | None = None, size: Array | None = None
    ) -> tuple[Array, Array, float]:
        """What is left over of a residual [spreads], the fitted numbers [priors], and what they cost.

        Args:
            residual: what is left over by the plan's own numbers, in the units of each block.
            begin: numbers from which they are looked for; the plan's own without.
            size: what a supposition's size moves in each block by its prior; its number comes last among those fitted.
        """
        scaled = residual / self.blocks.spread
        levers = self.levers if size is None else np.column_stack((self.levers, size / self.blocks.spread))
        count = levers.shape[1]
        found = np.zeros(count) if begin is None else np.resize(np.append(begin, 0.0), count)
        unit, some, some_scaled = np.eye(count), levers[self.some], scaled[self.some]
        for _ in range(ROUNDS):
            left = some_scaled - some @ found
            # a matrix times itself turned takes half the time of one times another
            root = np.sqrt(ALIKE * self.every * (NU + 1.0) / (NU + left**2))
            rooted = some * root[:, None]
            before = found
            found = np.asarray(np.linalg.solve(rooted.T @ rooted + unit, rooted.T @ (some_scaled * root)), dtype=float)
            if np.abs(found - before).max() < SETTLED:
                break
        return scaled - levers @ found, found, 0.5 * float(found @ found)


def levers_of(twins: Twins, planned: Planned, blocks: Blocks, healthy: Array) -> tuple[Array, dict[str, float]]:
    """What each number that may be off moves in each block, by its prior; and the priors, in order."""
    priors: dict[str, float] = {}
    found, scene = [], twins.scene
    for name, prior in PRIORS.items():
        if name == "air_k" and not scene.has_air:
            prior = NO_AIR_K
        nudge = NUDGES[name]
        signs, _ = signs_of(twins, planned, Change(), replace(Off(), **{name: nudge}))
        moved = np.nan_to_num(blocks.of(signs) - healthy) * (prior / nudge)
        priors[name] = prior
        found.append(moved)
    gauge = np.array(blocks.names)
    if scene.gauge is not None and "gauge_pa" in gauge:
        at = blocks.only("gauge_pa")
        priors |= {"gauge_fill": GAUGE_FILL_PA, "gauge_swing": GAUGE_SWING}
        found += [at * GAUGE_FILL_PA, at * (healthy - scene.gauge.fill) * GAUGE_SWING]
    if "flow" in gauge:
        priors["meter"] = METER_OFF
        found.append(blocks.only("flow") * METER_OFF)
    return np.stack(found, axis=1), priors


class Leaks:
    """What a gauge or a level loses from a day on, at the blocks in which it was read."""

    def __init__(self, blocks: Blocks, hot: Array) -> None:
        """`hot` are the hot hours of each day [h]."""
        self.blocks, self.days = blocks, len(hot)
        self.at = blocks.only("gauge_pa") > 0
        parts = blocks.group[self.at] - blocks.first.get("gauge_pa", 0)
        middle = (np.array(PARTS_H) + np.array((*PARTS_H[1:], 24.0))) / 48.0
        self.time = blocks.day[self.at] + middle[parts % len(PARTS_H)]
        self.level = blocks.only("level") > 0
        self.hot = np.concatenate(([0.0], np.cumsum(hot)))

    def is_of(self, change: Change) -> bool:
        """Whether a change lets the gauge or the level fall."""
        of_gauge = change.gauge_leak or change.gauge_air or change.gauge_weeps
        return bool((of_gauge and self.at.any()) or (change.level_fall and self.level.any()))

    def lost(self, change: Change, begins: int) -> Array:
        """What is missing in each block of all channels when it began on a day [Pa in those of the gauge, m in those of the level]."""
        found = np.zeros(len(self.at))
        if self.is_of(change):
            since = np.interp(self.time, np.arange(len(self.hot)), self.hot) - self.hot[begins]
            found[self.at] = gone(change, self.time, float(begins), np.maximum(since, 0.0))
            found[self.level] = change.level_fall * np.maximum(self.blocks.day[self.level] - begins, 0)
        return found

    def left(self, supposed: Array, change: Change, begins: int) -> Array:
        """What is left over of all channels when it began on a day; no gauge falls under nothing."""
        due = self.blocks.value - supposed - self.lost(change, begins)
        return np.where(self.at | self.level, self.blocks.value - np.maximum(due, 0.0), supposed)

    def best(self, fit: Fit, supposed: Array, base: Array, change: Change) -> tuple[int, float]:
        """The day from which it fits best, and by how much better than a healthy loop, by gauge and level alone."""
        at = self.at | self.level
        levers = fit.levers[at]
        levers = levers[:, np.abs(levers).max(axis=0) > 0.0]
        spread = self.blocks.spread[at]
        healthy = _scored(base[at] / spread, levers)
        day = self.blocks.day[at]

        def gain(begins: int) -> float:
            """How much better it is from a day on."""
            left = np.where(day >= begins, self.left(supposed, change, begins)[at], base[at])
            size = SIZE_OFF * (base[at] - left)
            return _scored(left / spread, np.column_stack((levers, size / spread))) - healthy

        every = max(1, self.days // COARSE)
        begins = max(range(0, max(self.days - 2, 1), every), key=gain)
        near = range(max(begins - every + 1, 0), min(begins + every, max(self.days - 2, 1)))
        begins = max(near, key=gain)
        return begins, gain(begins)


def _scored(scaled: Array, levers: Array) -> float:
    """Score of what is left over after a few numbers have been fitted within their priors."""
    found, unit = np.zeros(levers.shape[1], dtype=float), np.eye(levers.shape[1])
    for _ in range(FEW_ROUNDS):
        weight = ALIKE * (NU + 1.0) / (NU + (scaled - levers @ found) ** 2)
        weighted = levers * weight[:, None]
        found = np.asarray(np.linalg.solve(weighted.T @ levers + unit, weighted.T @ scaled), dtype=float)
    return ALIKE * float(likelihood(scaled - levers @ found).sum()) - 0.5 * float(found @ found)
