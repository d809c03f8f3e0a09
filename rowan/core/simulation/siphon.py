"""A loop that warm water drives: what its columns weigh, and the flow they make. Source: methods 6."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.compiling import called, inlined
from rowan.core.simulation.controller import SIPHON_FLOW
from rowan.core.terms.constants import GRAVITY

Array = NDArray[np.float64]
SURELY_STILL_PA = 1.0  # a loop without a pump that lacks so much stands still; 1 K over 2 m weighs about 8 Pa


@inlined
def water_density(t: float) -> float:
    """Density of water [kg/m³] at t [°C], 0 to 100 °C (Kell's form)."""
    return 1000.0 * (1.0 - (t + 288.9414) * (t - 3.9863) ** 2 / (508929.2 * (t + 68.12963)))


@inlined
def column(t: Array, first: int, end: int, height: float) -> float:
    """Pressure of a column of water by its nodes from `first` to before `end` [Pa]."""
    weight = 0.0
    for i in range(first, end):
        weight += water_density(t[i])
    return weight / float(end - first) * GRAVITY * height


@inlined
def siphon_drive(p: Any, t: Array) -> float:
    """What the cold side of a loop without a pump weighs more than its warm one [Pa]."""
    cold = column(t, p.cold0, p.field0, p.fall_cold) + column(t, p.into, p.end, p.fall_store)
    return cold - column(t, p.field0, p.hot0, p.rise_field) - column(t, p.hot0, p.store0, p.rise_hot)


@called
def siphon_stands(p: Any, t: Array, m: Array, air: float) -> bool:
    """Whether a loop without a pump surely stands through a dark hour: it does now, and would with all of it but the store as
    cold as the air."""
    if m[SIPHON_FLOW] > 0.0 or siphon_drive(p, t) > -SURELY_STILL_PA:
        return False
    return column(t, p.into, p.end, p.fall_store) - water_density(air) * GRAVITY * p.fall_store < -SURELY_STILL_PA


@inlined
def siphon_flow(p: Any, t: Array, m: Array) -> float:
    """Flow of a loop without a pump [kg/s]: what the cold side weighs more than the warm one, against friction.

    The mean of this and the last step's flow, which keeps it from swinging.
    """
    drive = siphon_drive(p, t)
    flow = 0.0
    if drive > 0.0:
        flow = (-p.k1 + np.sqrt(p.k1**2 + 4.0 * p.k2 * drive)) / (2.0 * p.k2)
    flow = (flow + m[SIPHON_FLOW]) / 2.0
    if flow < 1e-5:
        flow = 0.0
    m[SIPHON_FLOW] = flow
    return flow
