"""Stretches of a row in which something holds."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def stretches(of: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """First and last place of each stretch that holds."""
    padded = np.concatenate(([False], of, [False])).astype(int)
    firsts, ends = np.flatnonzero(np.diff(padded) == 1), np.flatnonzero(np.diff(padded) == -1)
    return [(int(a), int(b) - 1) for a, b in zip(firsts, ends, strict=True)]
