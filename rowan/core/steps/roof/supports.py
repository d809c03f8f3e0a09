"""Where a rail's feet stand: the fewest lines that keep span and overhang, and what each foot carries.

A rail is a beam of one section over its feet. Source: methods 12; elastic beam by stiffness.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise

import numpy as np

from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes

HAIR = 1e-6  # m, lengths that differ by no more are one
MOST_LINES = 5000  # of rafters, seams or ribs; no roof has more
LEAST_FEET = 2  # a rail on one foot turns


@takes(first=FINITE, spacing=POSITIVE, start=FINITE, end=FINITE)
def lines_between(*, first: float, spacing: float, start: float, end: float) -> tuple[float, ...]:
    """Rafters or seams from start to end [m] along the eave; the first one's middle [m] and their spacing [m]."""
    low, high = math.ceil((start - first) / spacing - HAIR), math.floor((end - first) / spacing + HAIR)
    low = max(low, 0)
    if high - low > MOST_LINES:
        raise OutOfRangeError("lines on a roof", high - low, 0, MOST_LINES)
    return tuple(first + spacing * k for k in range(low, high + 1))


@takes(start=FINITE, end=FINITE, span=POSITIVE, overhang=NOT_NEGATIVE)
def feet_by_count(
    *, lines: Sequence[float], start: float, end: float, span: float, overhang: float
) -> tuple[tuple[float, ...], ...]:
    """The lines a rail from start to end may stand on [m]: for each number of feet the evenest choice, fewest first.

    Empty where span and overhang allow none. Source: methods 12.
    """
    if end <= start:
        raise ImpossibleInputError("a rail must end beyond where it begins")
    within = tuple(round(x, 6) for x in lines if start - HAIR <= x <= end + HAIR)
    return _by_count(within, round(start, 6), round(end, 6), span, overhang)


@lru_cache(512)
def _by_count(
    within: tuple[float, ...], start: float, end: float, span: float, overhang: float
) -> tuple[tuple[float, ...], ...]:
    # a way by its last line and the one before: the largest length that a foot has to itself so far, and its lines
    ways: dict[tuple[int, int], tuple[float, tuple[int, ...]]] = {
        (i, -1): (0.0, (i,)) for i, x in enumerate(within) if x - start <= overhang + HAIR
    }
    found = []
    for count in range(1, len(within) + 1):
        ended = [
            (round(max(worst, end - within[i] + _before(within, i, at, start)), 9), way)
            for (i, at), (worst, way) in ways.items()
            if end - within[i] <= overhang + HAIR
        ]
        if ended and count >= LEAST_FEET:
            found.append(tuple(within[k] for k in min(ended)[1]))
        ways = _one_more(within, ways, start, span)
    return tuple(found)


def _one_more(
    within: tuple[float, ...], ways: dict[tuple[int, int], tuple[float, tuple[int, ...]]], start: float, span: float
) -> dict[tuple[int, int], tuple[float, tuple[int, ...]]]:
    """Every way with one foot more, the evenest to each pair of last lines."""
    further: dict[tuple[int, int], tuple[float, tuple[int, ...]]] = {}
    for (i, at), (worst, way) in ways.items():
        before = _before(within, i, at, start)
        for j in range(i + 1, len(within)):
            gap = within[j] - within[i]
            if gap > span + HAIR:
                break
            # rounded: even ways are even, whatever the last digits of their sums
            one = (round(max(worst, before + gap / 2), 9), (*way, j))
            if (j, i) not in further or one < further[j, i]:
                further[j, i] = one
    return further


def _before(within: Sequence[float], i: int, at: int, start: float) -> float:
    """What a foot carries of the rail before it [m]: half the span, or the whole overhang."""
    return within[i] - start if at < 0 else (within[i] - within[at]) / 2


@takes(start=FINITE, end=FINITE)
def shares(*, feet: Sequence[float], start: float, end: float) -> tuple[float, ...]:
    """Length of the evenly loaded part from start to end [m] that each foot carries [m]; negative ones are lifted by the others.

    Source: elastic beam over its feet, each span one element.
    """
    if len(feet) < 2 or any(b - a <= HAIR for a, b in pairwise(feet)):
        raise ImpossibleInputError("a rail stands on two feet or more, one after the other")
    if end <= start:
        raise ImpossibleInputError("the loaded part must end beyond where it begins")
    return _shares(tuple(round(x, 6) for x in feet), round(start, 6), round(end, 6))


@lru_cache(4096)
def _shares(feet: tuple[float, ...], start: float, end: float) -> tuple[float, ...]:
    nodes = sorted({*feet, start, end})
    # two unknowns a node: deflection and turn; EI is 1, a unit load on the loaded part
    size = 2 * len(nodes)
    stiff, load = np.zeros((size, size)), np.zeros(size)
    for i, (a, b) in enumerate(pairwise(nodes)):
        length = b - a
        part = np.array(
            [
                [12, 6 * length, -12, 6 * length],
                [6 * length, 4 * length**2, -6 * length, 2 * length**2],
                [-12, -6 * length, 12, -6 * length],
                [6 * length, 2 * length**2, -6 * length, 4 * length**2],
            ]
        )
        at = slice(2 * i, 2 * i + 4)
        stiff[at, at] += part / length**3
        if a >= start - HAIR and b <= end + HAIR:
            load[at] += np.array([length / 2, length**2 / 12, length / 2, -(length**2) / 12])
    held = [2 * nodes.index(x) for x in feet]
    free = [k for k in range(size) if k not in held]
    moved = np.zeros(size)
    moved[free] = np.linalg.solve(stiff[np.ix_(free, free)], load[free])
    reactions = load - stiff @ moved
    return tuple(float(reactions[k]) for k in held)
