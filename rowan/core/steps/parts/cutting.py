"""Cutting legs from stock lengths: first fit, longest piece first."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.record import record

LEAST_CUT_M = 1e-6  # m, a float's dust


@record
class Piece:
    """A piece to cut: what it is for and its length [m]."""

    name: str
    length: float


@record
class Bar:
    """One stock length and the pieces cut from it, in order [m]."""

    length: float
    pieces: tuple[Piece, ...]

    @property
    def offcut(self) -> float:
        """What is left [m]."""
        return self.length - sum(piece.length for piece in self.pieces)


@record
class Cutting:
    """Bars to buy, and couplings where a leg is longer than a bar."""

    bars: tuple[Bar, ...]
    couplings: int

    @property
    def used(self) -> float:
        """Length that is used [m]."""
        return sum(piece.length for bar in self.bars for piece in bar.pieces)

    @property
    def bought(self) -> float:
        """Length that is bought [m]."""
        return sum(bar.length for bar in self.bars)


def cut(pieces: Sequence[Piece], *, stock_length: float) -> Cutting:
    """Pieces laid into stock lengths [m]: longer ones are joined from whole bars and a rest.

    First fit with the longest piece first, which never needs more than 11/9 of the best number of bars and one.
    Raises OutOfRangeError for a stock length that is not above zero.
    """
    if stock_length <= 0:
        raise OutOfRangeError("stock length", stock_length, 0, None, "m", dimension="length")
    whole: list[Bar] = []
    rests: list[Piece] = []
    couplings = 0
    for piece in pieces:
        full = math.floor(piece.length / stock_length + LEAST_CUT_M)
        rest = max(piece.length - full * stock_length, 0.0)
        parts = full + (1 if rest > LEAST_CUT_M else 0)
        couplings += max(parts - 1, 0)
        whole += [Bar(stock_length, (Piece(piece.name, stock_length),))] * full
        if rest > LEAST_CUT_M:
            rests.append(Piece(piece.name, rest))
    open_bars: list[list[Piece]] = []
    left: list[float] = []
    for piece in sorted(rests, key=lambda p: -p.length):
        at = next((i for i, room in enumerate(left) if piece.length <= room + LEAST_CUT_M), None)
        if at is None:
            open_bars.append([piece])
            left.append(stock_length - piece.length)
        else:
            open_bars[at].append(piece)
            left[at] -= piece.length
    return Cutting((*whole, *(Bar(stock_length, tuple(bar)) for bar in open_bars)), couplings)
