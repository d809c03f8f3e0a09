"""The store's nodes through a step: backup, loss and conduction, draws, mixing. Source: methods 5."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.compiling import called, inlined
from rowan.core.simulation.controller import BACKUP_ON
from rowan.core.simulation.plant import BACKUP, DEMAND, DRAW
from rowan.core.simulation.table import BASE, BLOCK_COUNT, BLOCK_SUM, GAIN, LOSES, ONE

Array = NDArray[np.float64]
LARGEST_PART = 0.5  # of a node, that a draw may move at once
TEMPERED = 6  # times how much goes through a taps' coil is worked out; each brings it nearer


@inlined
def backup(p: Any, t: Array, w: Array, m: Array, total: Array, below: float, until: float) -> None:
    """A heater in the upper part, which warms from its node to the top: on below one temperature, off at another."""
    at = p.heater
    if t[at] >= until:
        m[BACKUP_ON] = 0.0
    elif t[at] < below:
        m[BACKUP_ON] = 1.0
    if m[BACKUP_ON] > 0.0:
        # warm water rises from the heater: what lies above it is warmed by the mixing
        w[GAIN, at] += p.backup_power * p.store_step
        total[BACKUP] += p.backup_power * p.store_step


@inlined
def store_step(p: Any, t: Array, w: Array, pace: int, step: float, room: float, exposed: float) -> tuple[float, bool]:
    """Coil heat, loss and conduction, all from the old temperatures; gains are used up.

    Gives the heat lost [J], and whether warm still lies over cold everywhere.
    """
    conducts, per_joule = p.conduction * step / p.node_capacity, 1.0 / p.node_capacity
    loses, lost = LOSES + pace, 0.0
    for i in range(p.store0, p.end):
        loss = w[loses, i] * exposed * (t[i] - room)
        lost += loss
        w[BASE, i] = (w[GAIN, i] - loss) * per_joule
        w[GAIN, i] = 0.0
    above, over, stable = 0.0, 1e9, True
    for i in range(p.store0, p.last):
        here = t[i]
        down = conducts * (here - t[i + ONE])
        here += w[BASE, i] + above - down
        above = down
        t[i] = here
        stable &= here <= over
        over = here
    t[p.last] += w[BASE, p.last] + above
    stable &= t[p.last] <= over
    return lost, stable


@called
def draw(p: Any, t: Array, total: Array, volume: float, cold: float, tap: float) -> None:
    """A draw at a tap temperature [m³, °C] in equal parts of at most half a node, each tempered with the top as it is then."""
    top, last = p.store0, p.last
    total[DEMAND] += volume * p.rho_c * (tap - cold)
    parts = max(1, int(np.ceil(volume / (LARGEST_PART * p.node_volume) - 1e-9)))
    each = volume / parts
    for _ in range(parts):
        taken = each if t[top] <= tap else each * (tap - cold) / (t[top] - cold)
        total[DRAW] += taken * p.rho_c * (t[top] - cold)
        share = taken / p.node_volume
        for i in range(top, last):
            t[i] += share * (t[i + ONE] - t[i])
        t[last] += share * (cold - t[last])


@called
def coil_draw(p: Any, t: Array, total: Array, volume: float, cold: float, tap: float) -> None:
    """A draw at a tap temperature [m³ in a step of the store's, °C] through a coil that passes every node from the foot up, tempered with cold.

    In parts as a plain draw. How much goes through the coil follows from how hot it comes out, and the other way round: the less,
    the hotter.
    """
    total[DEMAND] += volume * p.rho_c * (tap - cold)
    parts = max(1, int(np.ceil(volume / (LARGEST_PART * p.node_volume) - 1e-9)))
    nodes = int(p.end - p.store0)
    each, passes = volume / parts, p.tap_ua / nodes * p.store_step / parts
    for _ in range(parts):
        taken = each
        for _ in range(TEMPERED):
            left, out, i = np.exp(-passes / (taken * p.rho_c)), cold, p.last
            for _ in range(nodes):
                out = t[i] + (out - t[i]) * left
                i -= ONE
            if out <= tap:
                taken = each
                break
            taken = each * (tap - cold) / (out - cold)
        left, out, i = np.exp(-passes / (taken * p.rho_c)), cold, p.last
        for _ in range(nodes):
            before = out
            out = t[i] + (out - t[i]) * left
            t[i] -= taken * p.rho_c * (out - before) / p.node_capacity
            i -= ONE
        total[DRAW] += taken * p.rho_c * (out - cold)


@inlined
def mix(t: Array, w: Array, first: Any, end: Any) -> None:
    """Unstable neighbours from `first` to before `end` are mixed till warm lies over cold; each block is its plain mean.

    One pass with a stack of blocks, each with its sum and its number of equal nodes: a new node is joined to the block above
    it as long as that is colder (pool adjacent violators, Ayer and others 1955).
    """
    blocks = first
    for i in range(first, end):
        total, count = t[i], 1.0
        while blocks > first and w[BLOCK_SUM, blocks - ONE] * count < total * w[BLOCK_COUNT, blocks - ONE]:
            blocks -= ONE
            total += w[BLOCK_SUM, blocks]
            count += w[BLOCK_COUNT, blocks]
        w[BLOCK_SUM, blocks], w[BLOCK_COUNT, blocks] = total, count
        blocks += ONE
    at = first
    for block in range(first, blocks):
        count = w[BLOCK_COUNT, block]
        if count == 1.0:
            at += ONE
            continue
        mean = w[BLOCK_SUM, block] / count
        for _ in range(int(count)):
            t[at] = mean
            at += ONE
