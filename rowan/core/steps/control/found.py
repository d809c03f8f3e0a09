"""A finding of the controller and a cure of one input, said shortly."""

from __future__ import annotations

from typing import Any

from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.source import methods


def found_here(
    key: str,
    level: Level,
    part: str,
    title: str,
    reason: Statement,
    cures: tuple[Cure, ...] = (),
    amounts: tuple[Quantity | None, Quantity | None] = (None, None),
) -> Finding:
    """A finding on the Control bench; `amounts` are what is and its limit."""
    return Finding(
        key=key,
        level=level,
        stage="control",
        part=part,
        title=say(title),
        reason=reason,
        quantity=amounts[0],
        limit=amounts[1],
        cures=cures,
        source=methods(7),
    )


def cure_of(words: str, path: str, value: Any, **quantities: Quantity) -> Cure:
    """A cure that sets one input."""
    return Cure(say(words, **quantities), (Change(path, value),))
