"""Two hands on one plan: what each changed since a state, which figures that moves, and a pick for each value."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import changed, locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import ORIGINS, Origin
from rowan.core.reckon import reckon
from rowan.core.studies.moved_figures import Moved, difference
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.web.editing.blanks import RefusedInputError, blank, changes_from_text, shown_value
from rowan.web.history.revisions import changed_inputs
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.reckoned import reckoned
from rowan.web.ui.errors import words_of

MOST_MOVED, MOST_VALUES = 8, 24


@record
class Mine:
    """A value of mine that was not saved: its input, what was typed and where from."""

    path: str
    typed: str
    origin: Origin


@record
class Clash:
    """One value of mine beside the plan's: what it was, what it is now, and what keeps mine from being taken."""

    mine: Mine
    label: str
    was: str
    now: str
    problem: str
    changes: tuple[Change, ...]

    @property
    def both(self) -> bool:
        """Whether somebody else changed the same input."""
        return self.was != self.now


def mine_from(data: Any) -> list[Mine]:
    """Values of mine as an address or a form brings them: paths, texts and origins, one after the other."""
    paths, texts, origins = (data.getlist(name)[:MOST_VALUES] for name in ("path", "value", "origin"))
    found = []
    for at, (path, text) in enumerate(zip(paths, texts, strict=False)):
        given = origins[at] if at < len(origins) else ""
        found.append(Mine(path[:120], text[:120], given if given in ORIGINS else "measured"))
    return found


def clashes(then: Design, now: Design, mine: list[Mine], units: System) -> list[Clash]:
    """Each value of mine beside the plan's two states; what is no input of the plan any more is left out."""
    found = []
    for value in mine:
        try:
            here = locate(now, value.path)
        except RowanError:
            continue
        try:
            was = shown_value(locate(then, value.path), units)
        except RowanError:
            was = "none"
        problem: str = ""
        changes: tuple[Change, ...] = ()
        try:
            changes = tuple(
                Change(c.path, c.value, c.origin or value.origin, c.note)
                for c in changes_from_text(now, value.path, value.typed, units)
            )
            changed(now, changes)
        except (RefusedInputError, RowanError) as error:
            problem, changes = words_of(error, units), ()
        label = blank(now, value.path, units).label
        found.append(Clash(value, label, was, shown_value(here, units), problem, changes))
    return found


def merge_context(plan: Plan, then: Revision, mine: list[Mine], units: System) -> dict[str, Any]:
    """Everything the page shows."""
    head = plan.head
    old, new = reckoned(then), reckoned(head)
    rows = clashes(old.design, new.design, mine, units)
    changes = [change for row in rows for change in row.changes]
    moved: tuple[Moved, ...] = ()
    if changes:
        moved = difference(new.result, reckon(changed(new.design, changes))).moved
    people = plan.revisions.filter(number__gt=then.number).select_related("author")
    return {
        "since": then,
        "theirs": changed_inputs(then, head, units),
        "people": sorted({revision.author.name for revision in people if revision.author is not None}),
        "clashes": rows,
        "moved": moved[:MOST_MOVED],
    }
