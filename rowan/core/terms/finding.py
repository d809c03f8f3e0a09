"""Findings: what will not work or works badly, why, and the changes that would cure it."""

from __future__ import annotations

from typing import Any, Literal

from rowan.core.terms.figure import Quantity, Statement
from rowan.core.terms.record import record, record_by_names

Level = Literal["stop", "fix", "mind"]
LEVELS: tuple[Level, ...] = ("stop", "fix", "mind")


@record
class Change:
    """One input of the design set to a value; `path` as in `core.design.changes`.

    `origin` is written with it; None keeps the origin the input has. `note` likewise.
    """

    path: str
    value: Any
    origin: str | None = None
    note: str | None = None


@record
class Cure:
    """Changes that cure a finding, worded as a button, and the figure that shows by how much."""

    label: Statement
    changes: tuple[Change, ...]
    measure: str = ""
    note: Statement | None = None


@record_by_names
class Finding:
    """A rule that is broken: where (`stage`, `part`), how gravely, what, why, and what cures it."""

    key: str
    level: Level
    stage: str
    part: str
    title: Statement
    reason: Statement
    quantity: Quantity | None = None
    limit: Quantity | None = None
    cures: tuple[Cure, ...] = ()
    source: str = ""
    place: str = ""


def gravest(findings: tuple[Finding, ...] | list[Finding]) -> Level | None:
    """The gravest level among findings, None if there are none."""
    present = {f.level for f in findings}
    return next((level for level in LEVELS if level in present), None)


def rank(level: Level | None) -> int:
    """The place of a level when the gravest comes first; None, as it should be, comes last."""
    return len(LEVELS) if level is None else LEVELS.index(level)


def in_order(findings: list[Finding]) -> tuple[Finding, ...]:
    """Findings in the order they are shown: stop, fix, mind; as found within a level."""
    return tuple(sorted(findings, key=lambda f: rank(f.level)))
