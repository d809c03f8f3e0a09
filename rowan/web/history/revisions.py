"""The history of a plan: who changed what, and which figures it moved."""

from __future__ import annotations

from typing import Any

from rowan.core.appraise.appraisal import Account
from rowan.core.studies.moved_figures import Difference, Moved, difference
from rowan.core.terms.figure import Quantity
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.web.history.compare import input_table
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.weather import measured_sky

A_PAGE = 15
MOST_MOVED = 4


@record
class Entry:
    """One revision as the history shows it."""

    revision: Revision
    inputs: list[tuple[str, str, str]]
    difference: Difference | None
    proved: int = 0
    units: System = "metric"

    @property
    def words(self) -> str:
        """How the step was worded, where its inputs do not say it already."""
        told = (Revision.Kind.CURE, Revision.Kind.RESTORE, Revision.Kind.EDIT)
        return self.revision.summary if self.revision.kind in told else ""

    @property
    def moved(self) -> list[Moved]:
        """The figures that tell most."""
        return self._visible[:MOST_MOVED]

    @property
    def more(self) -> int:
        """How many figures moved besides."""
        return max(0, len(self._visible) - MOST_MOVED)

    @property
    def _visible(self) -> list[Moved]:
        """What moved as far as this reader's units show it."""
        moved = self.difference.moved if self.difference else ()

        def said(quantity: Quantity | None) -> str:
            return quantity.shown(self.units) if quantity else ""

        return [m for m in moved if said(m.before) != said(m.after)]


def changed_inputs(before: Revision, after: Revision, units: System) -> list[tuple[str, str, str]]:
    """Every input that differs: label, before, after; a leg that is not in one of them says so."""
    old, new = (input_table(reckoned(revision).design, units) for revision in (before, after))
    rows = []
    for path in dict.fromkeys((*old, *new)):
        one, other = old.get(path), new.get(path)
        if one != other:
            label = (other or one or ("", ""))[0]
            rows.append((label, one[1] if one else "none", other[1] if other else "none"))
    return rows


def _account(plan: Plan, revision: Revision) -> Account:
    """What a state is compared by."""
    found = reckoned(revision)
    return found.account(measured_sky(found.design, plan.job.firm_id))


def history(plan: Plan, units: System, before: int | None = None) -> dict[str, Any]:
    """A page of the history, newest first; `before` is the number of the revision that the page goes on under."""
    revisions = plan.revisions.select_related("author").order_by("-number")
    if before is not None:
        revisions = revisions.filter(number__lt=before)
    found = list(revisions[: A_PAGE + 1])
    entries = []
    for at, revision in enumerate(found[:A_PAGE]):
        older = found[at + 1] if at + 1 < len(found) else None
        if older is None:
            entries.append(Entry(revision, [], None))
        else:
            moved = difference(_account(plan, older), _account(plan, revision))
            proved = max(0, older.assumed_count - revision.assumed_count)
            entries.append(Entry(revision, changed_inputs(older, revision, units), moved, proved, units))
    older_from = found[A_PAGE - 1].number if len(found) > A_PAGE else None
    return {"entries": entries, "older_from": older_from, "first": before is None}
