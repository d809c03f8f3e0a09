"""Trying a cure: what it changes, and by how much."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.appraise.appraisal import Appraisal, all_figures, all_findings, appraised
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, refusal_statement
from rowan.core.terms.finding import Cure, Finding
from rowan.core.weather.hours import Sky

HUNTS = ("hunting", "many_starts")  # what they help is told by the starts


@dataclass(frozen=True)
class Effect:
    """What a cure does: a sentence, and whether the finding is gone after it."""

    sentence: Statement
    cures: bool


def cure_effect(
    *,
    design: Design,
    before: Reckoning,
    finding: Finding,
    cure: Cure,
    judged: Appraisal | None = None,
    measured: Sky | None = None,
) -> Effect:
    """The difference of two plans, each with its year: the measured figure before and after the cure's changes.

    `judged` is the plan's own appraisal where it is at hand; without it the plan's year is run.
    """
    if judged is None:
        judged = appraised(design, before, measured=measured)
    try:
        tried = changed(design, cure.changes)
        after = reckon(tried, Known(design, before))
    except RowanError as error:
        return Effect(refusal_statement(error, "cannot be taken: "), cures=False)
    after_judged = appraised(tried, after, measured=measured)
    found = {f.key for f in all_findings(after, after_judged)}
    gone = finding.key not in found
    new = found - {f.key for f in all_findings(before, judged)}
    parts: list[str] = []
    quantities: dict[str, Quantity | str] = {}
    old_figure = all_figures(before, judged).get(cure.measure)
    new_figure = all_figures(after, after_judged).get(cure.measure)
    if old_figure and new_figure and old_figure.number() != new_figure.number():
        parts.append(old_figure.name.lower() + " {old} to {new}")
        quantities |= {"old": old_figure.quantity, "new": new_figure.quantity}
    elif new_figure and not old_figure:
        parts.append(new_figure.name.lower() + " becomes {new}")
        quantities |= {"new": new_figure.quantity}
    if finding.key in HUNTS:
        often, seldom = judged.starts, after_judged.starts
        if often is not None and seldom is not None:
            parts.append("{often} starts on a broken day become {seldom}")
            quantities |= {"often": f"{often:.0f}", "seldom": f"{seldom:.0f}"}
    if cure.note is not None:
        parts.append(cure.note.template)
        quantities |= cure.note.quantities
    if not gone and finding.key not in HUNTS:
        parts.append("helps, does not cure alone")
    if new:
        parts.append("brings " + ("a finding" if len(new) == 1 else f"{len(new)} findings"))
    return Effect(Statement(", ".join(parts) or "nothing else moves", quantities), gone)
