"""Trying a cure: what it changes, and by how much."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.appraise import broken_starts
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, refusal_statement
from rowan.core.terms.finding import Cure, Finding

HUNTS = ("hunting", "many_starts")  # what they help is told by the starts


@dataclass(frozen=True)
class Effect:
    """What a cure does: a sentence, and whether the finding is gone after it."""

    sentence: Statement
    cures: bool


def cure_effect(*, design: Design, before: Reckoning, finding: Finding, cure: Cure) -> Effect:
    """The difference of two reckonings: the measured figure before and after the cure's changes."""
    try:
        after = reckon(changed(design, cure.changes), Known(design, before))
    except RowanError as error:
        return Effect(refusal_statement(error, "cannot be taken: "), cures=False)
    gone = all(f.key != finding.key for f in after.findings)
    new = {f.key for f in after.findings} - {f.key for f in before.findings}
    parts: list[str] = []
    quantities: dict[str, Quantity | str] = {}
    old_figure, new_figure = before.figures.get(cure.measure), after.figures.get(cure.measure)
    if old_figure and new_figure and old_figure.number() != new_figure.number():
        parts.append(old_figure.name.lower() + " {old} to {new}")
        quantities |= {"old": old_figure.quantity, "new": new_figure.quantity}
    elif new_figure and not old_figure:
        parts.append(new_figure.name.lower() + " becomes {new}")
        quantities |= {"new": new_figure.quantity}
    if finding.key in HUNTS:
        starts = [broken_starts(design, before), broken_starts(changed(design, cure.changes), after)]
        if None not in starts:
            parts.append("{often} starts on a broken day become {seldom}")
            quantities |= {"often": f"{starts[0]:.0f}", "seldom": f"{starts[1]:.0f}"}
    if cure.note is not None:
        parts.append(cure.note.template)
        quantities |= cure.note.quantities
    if not gone and finding.key not in HUNTS:
        parts.append("helps, does not cure alone")
    if new:
        parts.append("brings " + ("a finding" if len(new) == 1 else f"{len(new)} findings"))
    return Effect(Statement(", ".join(parts) or "nothing else moves", quantities), gone)
