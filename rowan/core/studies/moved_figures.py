"""What a change did: the figures it moved, the most telling first, and the findings that came and went."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

from rowan.core.terms.figure import Figure, Quantity
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record

ALIKE = 1e-9  # share under which two figures are one


@record
class Moved:
    """A figure before and after; None where there was none. `weight` is the move by its window, else by itself [-]."""

    key: str
    name: str
    before: Quantity | None
    after: Quantity | None
    weight: float


@record
class Difference:
    """Figures moved, most telling first; findings that came and that went, gravest first."""

    moved: tuple[Moved, ...]
    came: tuple[Finding, ...]
    went: tuple[Finding, ...]


def _weight(before: Figure, after: Figure) -> float:
    change = abs(after.value - before.value)
    window = after.window
    if window is not None and window.low is not None and window.high is not None and window.high > window.low:
        return change / (window.high - window.low)
    return change / max(abs(before.value), abs(after.value), ALIKE)


class Compared(Protocol):
    """What is compared: a reckoning, or one with its year."""

    @property
    def figures(self) -> Mapping[str, Figure]:
        """Every figure by its key."""

    @property
    def findings(self) -> tuple[Finding, ...]:
        """Every finding, gravest first."""


def difference(before: Compared, after: Compared) -> Difference:
    """The difference of two reckonings. A figure counts as moved if it prints differently, in either system."""
    moved = []
    for key in dict.fromkeys((*before.figures, *after.figures)):
        old, new = before.figures.get(key), after.figures.get(key)
        if old and new:
            if old.value == new.value and old.decimals == new.decimals:
                continue
            if old.number() != new.number() or old.number("us") != new.number("us"):
                moved.append(Moved(key, new.name, old.quantity, new.quantity, _weight(old, new)))
        elif old or new:
            named = new or old
            assert named is not None  # noqa: S101  one of both is there
            moved.append(Moved(key, named.name, old.quantity if old else None, new.quantity if new else None, 1.0))
    old_keys, new_keys = ({finding.key for finding in r.findings} for r in (before, after))
    return Difference(
        tuple(sorted(moved, key=lambda m: -m.weight)),
        tuple(f for f in after.findings if f.key not in old_keys),
        tuple(f for f in before.findings if f.key not in new_keys),
    )
