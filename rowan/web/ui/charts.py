"""What several drawings share: bands between contour lines."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np
from contourpy import FillType, LineType, contour_generator
from numpy.typing import NDArray

from rowan.web.ui.svg import Drawing

Array = NDArray[np.float64]
MOST_BANDS = 6
NAME_APART = 26.0  # px between the names of lines


def _d(points: Array, offsets: Array) -> str:
    """Path data of closed rings that lie one after another in an array."""
    parts = []
    for start, end in pairwise(offsets):
        ring = points[start:end]
        parts.append("M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in ring) + "Z")
    return "".join(parts)


def contour_bands(
    drawing: Drawing, xs: Array, ys: Array, values: Array, levels: Sequence[float], names: Sequence[str]
) -> None:
    """Tinted bands above each level and their lines with names; values by row (y) and column (x), NaN left blank."""
    made: Any = contour_generator(xs, ys, np.ma.masked_invalid(values), fill_type=FillType.OuterOffset)
    edges = [*levels, float(np.nanmax(values)) + 1.0]
    for i, (low, high) in enumerate(pairwise(edges)):
        points, offsets = made.filled(low, high)
        for ring, offset in zip(points, offsets, strict=True):
            drawing.add("path", d=_d(ring, offset), cls=f"band-{min(i + 1, MOST_BANDS)}", fill_rule="evenodd")
    contour_lines(drawing, xs, ys, values, levels, names)


def contour_lines(
    drawing: Drawing, xs: Array, ys: Array, values: Array, levels: Sequence[float], names: Sequence[str]
) -> None:
    """Lines of equal value with their names."""
    made: Any = contour_generator(xs, ys, np.ma.masked_invalid(values), line_type=LineType.Separate)
    taken: list[tuple[float, float]] = []
    for level, name in zip(levels, names, strict=True):
        for line in made.lines(level):
            if len(line) < 2:
                continue
            drawing.path([(float(x), float(y)) for x, y in line], "contour")
            at = _free(line, taken)
            if at is not None:
                taken.append(at)
                drawing.words((at[0], at[1] + 4), name, "axis halo", "middle")


def _free(line: Array, taken: list[tuple[float, float]]) -> tuple[float, float] | None:
    """A place on a line for its name, away from the others; None where there is none or the line is short."""
    if len(line) < 8:
        return None
    for share in (0.5, 0.35, 0.65, 0.2, 0.8):
        x, y = line[int(share * (len(line) - 1))]
        if all(abs(x - a) + abs(y - b) > NAME_APART for a, b in taken):
            return float(x), float(y)
    return None
