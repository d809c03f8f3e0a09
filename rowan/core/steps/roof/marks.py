"""What is chalked: every place once, from one corner along the eave and up the slope. One list for sheet, drawing and files."""

from __future__ import annotations

from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.roof.square import diagonal
from rowan.core.terms.record import record


@record
class Mark:
    """A foot's mark [m] from the corner, by its number, rail and foot on it; `rise` [m] that its stand is higher than the lowest's."""

    number: int
    rail: int
    foot: int
    x: float
    y: float
    rise: float


def across_marks(roof: RoofResult) -> tuple[float, ...]:
    """Places along the eave at which a rafter or seam carries feet [m], each once, from the left."""
    return tuple(sorted({round(foot.x, 4) for foot in roof.feet}))


def up_marks(roof: RoofResult) -> tuple[float, ...]:
    """Heights of the rails up the slope [m], from the eave."""
    return tuple(sorted({round(rail.y, 4) for rail in roof.rails}))


def marks_of(roof: RoofResult, *, fall: float = 0.0) -> tuple[Mark, ...]:
    """Every foot's mark, lower rails first, each from the left; `fall` [-] is what the field falls by toward its left end."""
    left = min((foot.x for foot in roof.feet), default=0.0)
    found: list[Mark] = []
    for number, rail in enumerate(roof.rails, 1):
        for k, foot in enumerate(rail.feet, 1):
            found.append(Mark(len(found) + 1, number, k, foot.x, foot.y, fall * (foot.x - left)))
    return tuple(found)


def grid_diagonal(roof: RoofResult) -> float | None:
    """The diagonal of the rails' ends [m], the same both ways where the grid is square; None without two rails."""
    width, height = roof.grid
    return diagonal(width=width, height=height) if width > 0 and height > 0 else None
