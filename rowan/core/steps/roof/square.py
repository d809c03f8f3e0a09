"""Marks that are taped and angles that are not: diagonals, the central third, a fall, an eave out of level. Source: methods 12."""

from __future__ import annotations

import math

from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.record import record

MARKED_FALL = 1 / 48  # of a field that drains, a quarter of an inch in a foot, practice: the roof
SQUARE_RAD = 2e-3  # rad a rail grid may be out of square, methods 12
# m, what tape, chalk and pilot hole miss by; and finding the rafter: seen from below, probed, both edges probed and halved
TAPE_M, CHALK_M, PILOT_M = 0.002, 0.002, 0.001
FINDING_M = {"seen": 0.0, "probed": 0.005, "edges": 0.001}
THIRD = 6.0  # half of the central third of a timber, as a part of its width


@takes(diagonal_1=POSITIVE, diagonal_2=POSITIVE, width=POSITIVE, height=POSITIVE)
def out_of_square(*, diagonal_1: float, diagonal_2: float, width: float, height: float) -> float:
    """Angle by which a grid leans [rad], from its diagonals, width and height [m]; positive leans to the right.

    Diagonal 1 runs from low left to high right. Source: methods 12.
    """
    return (diagonal_1**2 - diagonal_2**2) / (4 * width * height)


@takes(width=POSITIVE)
def central_third(*, width: float) -> float:
    """How far from its middle a screw may sit in a timber of a width [m]. Source: methods 12."""
    return width / THIRD


def marking_error(found: str) -> float:
    """What tape, chalk, pilot and the finding of the rafter may miss by together [m]. Source: defaults, roof."""
    return TAPE_M + CHALK_M + PILOT_M + FINDING_M[found]


@record
class Square:
    """How a rail grid lies: its angle [rad], whether it is square, which rail moves which way and by how much [m]."""

    angle: float
    square: bool
    move: float


@takes(diagonal_1=POSITIVE, diagonal_2=POSITIVE, width=POSITIVE, height=POSITIVE)
def square_check(*, diagonal_1: float, diagonal_2: float, width: float, height: float) -> Square:
    """What two diagonals say [m]: the upper rail moves to the right by `move` [m], to the left where it is negative."""
    angle = out_of_square(diagonal_1=diagonal_1, diagonal_2=diagonal_2, width=width, height=height)
    return Square(angle, abs(angle) <= SQUARE_RAD, -angle * height)


@takes(width=POSITIVE, height=POSITIVE)
def diagonal(*, width: float, height: float) -> float:
    """The diagonal of a right-angled grid [m]; its sides [m]."""
    return math.hypot(width, height)


@takes(drop=FINITE, eave=POSITIVE, row=NOT_NEGATIVE)
def seen_crooked(*, drop: float, eave: float, row: float) -> float:
    """By how much a level row seems to run off its eave over its own length [m]; drop over the eave [m]."""
    return abs(drop) * row / eave
