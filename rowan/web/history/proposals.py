"""A proposal beside its plan: what it changes, which figures that moves, what both changed."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from rowan.core.reckon import reckon
from rowan.core.studies.moved_figures import difference
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.web.history.compare import input_table
from rowan.web.plans.models import Plan
from rowan.web.plans.proposals import base_of, merge_of
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.services import design_of

MOST_MOVED = 12


@record
class Row:
    """An input of the proposal: its path, what it is called, what it was, is by now, and would be."""

    path: str
    label: str
    was: str
    now: str
    proposed: str
    both: bool


def _said(table: dict[str, tuple[str, str]], path: str) -> tuple[str, str]:
    """An input's name and value; of a list what its entries say together."""
    if path in table:
        return table[path]
    step, _, name = path.partition(".")
    inside = [value for key, (_, value) in table.items() if key.startswith(f"{path}.")]
    return f"{step}: {name.replace('_', ' ')}", tr(
        "{number} entries: {names}", number=len(inside), names=", ".join(inside[:6])
    ) if inside else "none"


def proposal_context(proposal: Plan, units: System, leave: Collection[str] = ()) -> dict[str, Any]:
    """Everything its page shows; `problem` where it does not go together with the plan as it is by now."""
    base, mine, now = design_of(base_of(proposal)), design_of(proposal.head), design_of(proposal.real.head)
    head = proposal.real.head
    context: dict[str, Any] = {"shown": proposal, "head": head, "since": base_of(proposal), "rows": [], "moved": ()}
    try:
        found = merge_of(proposal, leave)
    except RowanError as error:
        return {**context, "problem": error.text(units)}
    tables = [input_table(design, units) for design in (base, now, mine)]
    for path in found.mine:
        (label, was), (_, is_now), (name, proposed) = (_said(table, path) for table in tables)
        context["rows"].append(Row(path, name or label, was, is_now, proposed, path in found.both))
    moved = difference(reckoned(head).result, reckon(found.design))
    return {**context, "moved": moved.moved[:MOST_MOVED], "came": moved.came, "went": moved.went}
