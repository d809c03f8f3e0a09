"""Reservoir, falls, traps, draining and freezing of a loop that empties when its pump stops. Source: methods 11."""

from __future__ import annotations

import math
from collections.abc import Sequence

from scipy.optimize import brentq

from rowan.core.steps.run.friction import friction_factor
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.record import record

AIR_SHARE = 0.1  # of what drains, that the reservoir holds as air beside it
LEAST_FALL = 0.02  # of the developed length
LEAST_RETURN_BORE_M = 0.0199  # ¾ inch, 22 mm
IN_TIME_SHARE = 1 / 3  # of the time to freeze
FASTEST = 20.0  # m/s, beyond any pipe


@record
class Reservoir:
    """Volume of the reservoir and its marks, pump off and running [m³]."""

    volume: float
    fill_mark: float
    running: float


@takes(contents_above=NOT_NEGATIVE, least_water=NOT_NEGATIVE)
def reservoir(*, contents_above: float, least_water: float) -> Reservoir:
    """Reservoir for what stands above the running level [m³] over the least water at the pump's inlet [m³]."""
    return Reservoir((1 + AIR_SHARE) * contents_above + least_water, contents_above + least_water, least_water)


@record
class Segment:
    """A piece of pipe toward the reservoir: length and drop [m], bore [m], outdoors or not."""

    length: float
    drop: float
    bore: float
    outdoors: bool


@record
class Falls:
    """Fall of each segment [-], which of them are traps (counted from 1), and what those hold at most [m³]."""

    fall: tuple[float, ...]
    traps: tuple[int, ...]
    held: float


def is_trap(*, fall: float, outdoors: bool, least_fall: float = LEAST_FALL) -> bool:
    """Whether a segment holds water: outdoors below the least fall, level or rising anywhere."""
    return fall < least_fall - 1e-9 if outdoors else fall <= 1e-9


def falls(*, segments: Sequence[Segment], least_fall: float = LEAST_FALL) -> Falls:
    """Falls and traps of a way to the reservoir. Raises ImpossibleInputError for a drop longer than its pipe."""
    found, traps, held = [], [], 0.0
    for number, segment in enumerate(segments, 1):
        if segment.length <= 0 or abs(segment.drop) > segment.length + 1e-9:
            raise ImpossibleInputError(
                "segment {number} is longer in drop than in length, or without length", number=f"{number}"
            )
        fall = segment.drop / segment.length
        found.append(fall)
        if is_trap(fall=fall, outdoors=segment.outdoors, least_fall=least_fall):
            traps.append(number)
            held += math.pi / 4 * segment.bore**2 * segment.length
    return Falls(tuple(found), tuple(traps), held)


@takes(bore=POSITIVE)
def bore_allowed(*, bore: float) -> bool:
    """Whether a return pipe is wide enough to empty against air coming in [m]."""
    return bore >= LEAST_RETURN_BORE_M - 1e-12


@record
class Drain:
    """How fast a loop empties: velocity in the return [m/s] and time [s]."""

    velocity: float
    time: float


@takes(
    volume=NOT_NEGATIVE,
    driving_height=POSITIVE,
    length=POSITIVE,
    bore=POSITIVE,
    k_sum=NOT_NEGATIVE,
    roughness=NOT_NEGATIVE,
    density=POSITIVE,
    viscosity=POSITIVE,
)
def drain(
    *,
    volume: float,
    driving_height: float,
    length: float,
    bore: float,
    k_sum: float,
    roughness: float,
    density: float,
    viscosity: float,
) -> Drain:
    """Emptying by gravity through the return: g·H = (1 + ΣK + f·L/d)·v²/2.

    volume [m³], driving height and length [m], bore and roughness [m], density [kg/m³], viscosity [Pa·s].
    Raises OutOfRangeError without a driving height or a bore.
    """

    def excess(velocity: float) -> float:
        """What friction and speed take over what drives, at a velocity [m/s], as m²/s²."""
        factor = friction_factor(reynolds=density * velocity * bore / viscosity, relative_roughness=roughness / bore)
        return (1 + k_sum + factor * length / bore) * velocity**2 / 2 - GRAVITY * driving_height

    velocity = float(brentq(excess, 1e-6, FASTEST, xtol=1e-10))
    return Drain(velocity, volume / (velocity * math.pi / 4 * bore**2))


@takes(capacity=POSITIVE, loss=POSITIVE, start=FINITE, air=FINITE)
def freeze_time(*, capacity: float, loss: float, start: float, air: float) -> float | None:
    """Seconds until a wet pipe reaches 0 °C, None where it never does; capacity [J/m·K], loss [W/m·K], start and air [°C].

    Latent heat is not counted: the safe side.
    """
    if air >= 0:
        return None
    if start <= 0:
        return 0.0
    return capacity / loss * math.log((start - air) / (0 - air))


@takes(drain_time=NOT_NEGATIVE, freezes_after=NOT_NEGATIVE)
def drains_in_time(*, drain_time: float, freezes_after: float | None) -> bool:
    """Whether a loop is empty long before it could freeze: within a third of that time [s]."""
    return freezes_after is None or drain_time <= freezes_after * IN_TIME_SHARE
