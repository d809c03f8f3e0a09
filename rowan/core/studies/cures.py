"""Trying a cure: what it changes, and by how much."""

from __future__ import annotations

from rowan.core.appraise.appraisal import Appraisal, all_figures, all_findings, appraise, appraised
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.studies.choices import with_what_belongs
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Statement, refusal_statement, say, series
from rowan.core.terms.finding import LEVELS, Cure, Finding
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

HUNTS = ("hunting", "many_starts")  # what they help is told by the starts


@record
class Effect:
    """What a cure does: a sentence, and whether it cures: the finding is gone and none as grave has come."""

    sentence: Statement
    cures: bool


def graver(before: tuple[Finding, ...], after: tuple[Finding, ...], cured: Finding) -> list[str]:
    """Findings that came with a cure and are graver than what it cures; for a `stop`, other stops too: one in place of another
    is no cure."""
    known = {(f.key, f.part): LEVELS.index(f.level) for f in before}
    least = max(LEVELS.index(cured.level), 1)
    return sorted(
        {
            f.key
            for f in after
            if LEVELS.index(f.level) < least and LEVELS.index(f.level) < known.get((f.key, f.part), len(LEVELS))
        }
    )


def uncured(before: tuple[Finding, ...], after: tuple[Finding, ...], finding: Finding) -> str:
    """Why changes do not cure a finding: it stands still, or one as grave has come; empty where they cure it."""
    if any((f.key, f.part) == (finding.key, finding.part) for f in after):
        return "still there"
    worse = graver(before, after, finding)
    return f"brings {', '.join(worse)}" if worse else ""


def cure_effect(
    *,
    design: Design,
    before: Reckoning,
    finding: Finding,
    cure: Cure,
    measured: Sky | None = None,
) -> Effect:
    """The difference of two plans: the measured figure before and after the cure's changes, and findings come and gone.

    Years are run where the finding or what measures its cure is a year's; else the broken day alone is.
    """
    try:
        tried = changed(design, with_what_belongs(design, cure.changes))
        after = reckon(tried, Known(design, before))
    except RowanError as error:
        return Effect(refusal_statement(error, "cannot be taken: {refusal}"), cures=False)
    known = before.figures.keys() | after.figures.keys()
    of_the_year = finding not in before.findings and finding.key not in HUNTS
    yearly = of_the_year or (cure.measure != "" and cure.measure not in known)

    def judge(one: Design, reckoning: Reckoning) -> Appraisal:
        """With the year where it is needed."""
        if yearly:
            return appraised(one, reckoning, measured=measured)
        return appraise(one, reckoning, None, measured=measured)

    judged, after_judged = judge(design, before), judge(tried, after)
    now = all_findings(after, after_judged)
    found = {f.key for f in now}
    gone = finding.key not in found
    new = found - {f.key for f in all_findings(before, judged)}
    parts: list[Statement] = []
    old_figure = all_figures(before, judged).get(cure.measure)
    new_figure = all_figures(after, after_judged).get(cure.measure)
    if old_figure and new_figure and old_figure.number() != new_figure.number():
        moved = say(
            "{figure} {old} to {new}", figure=old_figure.name.lower(), old=old_figure.quantity, new=new_figure.quantity
        )
        parts.append(moved)
    elif new_figure and not old_figure:
        parts.append(say("{figure} becomes {new}", figure=new_figure.name.lower(), new=new_figure.quantity))
    if finding.key in HUNTS:
        often, seldom = judged.starts, after_judged.starts
        if often is not None and seldom is not None:
            counts = {"often": f"{often.needless}", "seldom": f"{seldom.needless}"}
            parts.append(say("{often} needless starts a day become {seldom}", **counts))
    if cure.note is not None:
        parts.append(cure.note)
    if not gone and finding.key not in HUNTS:
        parts.append(say("helps, does not cure alone"))
    if new:
        parts.append(say("brings a finding") if len(new) == 1 else say("brings {n} findings", n=f"{len(new)}"))
    return Effect(
        series(parts) if parts else say("nothing else moves"),
        not uncured(all_findings(before, judged), now, finding),
    )
