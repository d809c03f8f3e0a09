"""The line of hills, houses and trees as seen from the collectors, and what of the sky it leaves. Source: methods 2."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.limits import ANY_ANGLE, FINITE, POSITIVE, takes
from rowan.core.terms.record import record

Array = NDArray[np.float64]
Verdict = Literal["clean", "acceptable", "poor", "no"]
# the year's loss between 9 and 15 h solar time up to which each verdict holds, rules of thumb
VERDICTS: tuple[tuple[float, Verdict], ...] = ((0.03, "clean"), (0.10, "acceptable"), (0.20, "poor"))
MONTH_LIMIT = 0.20  # of a month's sun: beyond it that month decides, methods 2
LEAVES = np.array([4, 5, 6, 7, 8, 9])  # months with leaves north of the equator, 0 is January
PATCH_BEARING, PATCH_HEIGHT = 5.0, 5.0  # of the sky, when its hidden share is summed [°]


@record
class Block:
    """What an obstacle hides: up to an elevation, between two bearings clockwise [°]."""

    elevation: float
    start: float
    end: float


@record
class Screen:
    """A block with the share of beam sun it lets through with leaves and without [-]."""

    block: Block
    summer: float = 0.0
    winter: float = 0.0


@record
class Horizon:
    """Horizon points (bearing, elevation) [°] in any order, and what stands before it; `southern` turns the seasons."""

    profile: tuple[tuple[float, float], ...] = ()
    screens: tuple[Screen, ...] = ()
    southern: bool = False

    @property
    def open(self) -> bool:
        """Whether nothing stands above the level."""
        return not self.screens and all(elevation <= 0 for _, elevation in self.profile)


OPEN_SKY = Horizon()


def horizon_elevation(*, profile: Sequence[Sequence[float]], azimuth: float) -> float:
    """Elevation of the horizon at a bearing [°], linear between its points round the compass; 0 without points."""
    return float(_line(tuple((float(b), float(e)) for b, e in profile), np.array([azimuth]))[0])


def _line(profile: tuple[tuple[float, float], ...], bearings: Array) -> Array:
    if not profile:
        return np.zeros_like(bearings)
    points = sorted((bearing % 360, elevation) for bearing, elevation in profile)
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    # the round is closed by the last point before north and the first after it
    line = np.interp(bearings % 360, [xs[-1] - 360, *xs, xs[0] + 360], [ys[-1], *ys, ys[0]])
    return np.asarray(line, dtype=float)


@takes(bearing=ANY_ANGLE, distance=POSITIVE, width=POSITIVE, height=FINITE)
def obstacle_block(*, bearing: float, distance: float, width: float, height: float) -> Block:
    """The block of an obstacle: bearing [°] of its middle; distance, width and height over the collector [m].

    Raises ImpossibleInputError for a distance or a width that is not above zero. Source: methods 2.
    """
    half = math.degrees(math.atan(width / 2 / distance))
    return Block(math.degrees(math.atan(height / distance)), (bearing - half) % 360, (bearing + half) % 360)


def in_leaf(month: int, *, southern: bool) -> bool:
    """Whether trees carry leaves in a month, 0 is January."""
    return bool((month + 6 * southern) % 12 in LEAVES)


def passes(horizon: Horizon, *, bearing: Array, elevation: Array, leaves: Array) -> Array:
    """Share of the beam that comes through at bearings and elevations [°]; `leaves` says where trees are in leaf."""
    share = np.where(elevation > _line(horizon.profile, bearing), 1.0, 0.0)
    for screen in horizon.screens:
        block = screen.block
        span = (block.end - block.start) % 360
        behind = ((bearing - block.start) % 360 <= span) & (elevation <= block.elevation)
        share = np.where(behind, share * np.where(leaves, screen.summer, screen.winter), share)
    return share


@lru_cache(maxsize=8)
def _patches() -> tuple[Array, Array, Array, Array, Array]:
    """Bearing and elevation of the sky's patches [°], and their unit vectors times their size: east, north, up."""
    bearing, elevation = np.meshgrid(
        np.arange(PATCH_BEARING / 2, 360, PATCH_BEARING), np.arange(PATCH_HEIGHT / 2, 90, PATCH_HEIGHT)
    )
    b, e = np.radians(bearing.ravel()), np.radians(elevation.ravel())
    size = np.cos(e)
    return (
        bearing.ravel(),
        elevation.ravel(),
        np.cos(e) * np.sin(b) * size,
        np.cos(e) * np.cos(b) * size,
        np.sin(e) * size,
    )


def hidden_sky(horizon: Horizon, *, tilt: Array, azimuth: Array) -> Array:
    """Share of the even sky's light on planes that the horizon takes [-], bare and in leaf; tilt and azimuth [°], shape (n,); (n, 2).

    Weighted with cos θ: low sky counts little on a flat plane and much on a wall. Source: methods 2.
    """
    if horizon.open:
        return np.zeros((*np.shape(tilt), 2))
    _, _, east, north, up = _patches()
    t, a = np.radians(np.atleast_1d(tilt))[:, None], np.radians(np.atleast_1d(azimuth))[:, None]
    weight = np.clip(np.cos(t) * up + np.sin(t) * (east * np.sin(a) + north * np.cos(a)), 0, None)
    return np.asarray(weight @ _hidden_patches(horizon) / weight.sum(axis=1)[:, None], dtype=float)


@lru_cache(maxsize=32)
def _hidden_patches(horizon: Horizon) -> Array:
    """What the horizon takes of each of the sky's patches [-], bare and in leaf, shape (patches, 2)."""
    bearing, elevation, *_ = _patches()
    found = [
        1 - passes(horizon, bearing=bearing, elevation=elevation, leaves=np.full(bearing.shape, leaves))
        for leaves in (False, True)
    ]
    return np.stack(found, axis=1)


@takes(loss_share=FINITE)
def window_verdict(*, loss_share: float) -> Verdict:
    """What a loss between 9 and 15 h solar time over the year means. Source: methods 2, rule of thumb."""
    return next((verdict for limit, verdict in VERDICTS if loss_share < limit), "no")
