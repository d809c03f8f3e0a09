"""What people do with plans: one function per action, each one transaction and one new revision."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from rowan.core.design.changes import assumed, changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.reckon import ENGINE_VERSION
from rowan.core.simulation.simulate import simulate
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change, gravest
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import Job, Plan, Revision
from rowan.web.plans.reckoned import Reckoned, reckoned, reckoned_now

COALESCE = timedelta(seconds=10)
LETTERS = "ABCD"


class StaleRevisionError(Exception):
    """A save was based on a revision that is no longer the newest one."""

    def __init__(self, head: Revision) -> None:
        self.head = head
        super().__init__(f"the plan has moved on to revision {head.number}")


class NoSuchStepError(Exception):
    """There is nothing to undo, redo or try."""


@dataclass(frozen=True)
class Edit:
    """What a person changes: the changes, the input they belong to, and how the history words it."""

    changes: Sequence[Change]
    path: str
    summary: str
    origin: Origin | None = None
    kind: Revision.Kind = Revision.Kind.EDIT


def design_of(revision: Revision) -> Design:
    """The design of a revision."""
    return reckoned(revision).design


@dataclass(frozen=True)
class _Step:
    """How a revision came about and where undo and redo lead from it."""

    kind: Revision.Kind
    summary: str = ""
    path: str = ""
    undo_to: Revision | None = None
    redo_to: Revision | None = None


def _save(
    plan: Plan, design: Design, number: int, author: User | None, step: _Step, before: Reckoned | None = None
) -> Revision:
    data = design.model_dump(mode="json")
    return Revision.objects.create(
        plan=plan,
        number=number,
        kind=step.kind,
        path=step.path[:120],
        summary=step.summary[:240],
        design=data,
        author=author,
        undo_to=step.undo_to,
        redo_to=step.redo_to,
        **_ledger_columns(reckoned_now(design, data, before)),
    )


def _ledger_columns(found: Reckoned) -> dict[str, Any]:
    """What the ledger lists of a design, and the engine that reckoned it."""
    result = found.result
    return {
        "engine_version": ENGINE_VERSION,
        "year_heat_j": _year_heat(found),
        "worst": gravest(result.findings) or "",
        "assumed_count": len(assumed(found.design)),
    }


def _year_heat(found: Reckoned) -> float | None:
    """The heat of a year: the estimate by months where there is one, else the year run through; None without either [J]."""
    estimate = found.result.collector.year_heat
    if estimate is not None:
        return estimate
    try:
        return simulate(found.design, found.result).solar_heat
    except RowanError:
        return None


def refresh_ledger(revision: Revision) -> None:
    """Reckon a revision's ledger columns anew; its design stays untouched."""
    Revision.objects.filter(pk=revision.pk).update(**_ledger_columns(reckoned(revision)))


def _checked_head(plan: Plan, based_on: int) -> Revision:
    Plan.objects.select_for_update().get(pk=plan.pk)
    head = plan.head
    if head.number != based_on:
        raise StaleRevisionError(head)
    return head


@transaction.atomic
def start_job(
    *,
    firm: Firm,
    author: User | None,
    title: str,
    design: Design,
    letter: str = "A",
    kind: Revision.Kind = Revision.Kind.START,
) -> Plan:
    """A new job with one plan."""
    job = Job.objects.create(firm=firm, title=title)
    return add_plan(job=job, author=author, design=design, letter=letter, kind=kind)


@transaction.atomic
def add_plan(
    *, job: Job, author: User | None, design: Design, letter: str, kind: Revision.Kind = Revision.Kind.START
) -> Plan:
    """A further plan of a job."""
    plan = Plan.objects.create(job=job, letter=letter)
    _save(plan, design, 1, author, _Step(kind, "taken in" if kind == Revision.Kind.IMPORT else "started"))
    return plan


def start_from_facts(*, firm: Firm, author: User, title: str, facts: Facts) -> Plan:
    """A new job proposed from four facts. Raises RowanError for facts no rule covers."""
    return start_job(firm=firm, author=author, title=title, design=propose(facts, title=title))


@transaction.atomic
def copy_plan(*, plan: Plan, author: User) -> Plan:
    """The next plan of the job, with this plan's design. Raises NoSuchStepError when four exist."""
    return add_plan(job=plan.job, author=author, design=design_of(plan.head), letter=_free_letter(plan.job))


def _free_letter(job: Job) -> str:
    taken = set(job.plans.values_list("letter", flat=True))
    letter = next((letter for letter in LETTERS if letter not in taken), None)
    if letter is None:
        raise NoSuchStepError("a job has up to four plans")
    return letter


@transaction.atomic
def change_plan(*, plan: Plan, author: User, based_on: int, edit: Edit) -> Revision:
    """Save changes as a new revision.

    Raises StaleRevisionError if `based_on` is not the newest, JobFileError or RowanError for changes
    that cannot be taken. The same person changing the same input within ten seconds makes one undo step.
    """
    head = _checked_head(plan, based_on)
    before = design_of(head)
    design = changed(before, edit.changes, edit.origin)
    if design == before:
        return head
    same = (
        edit.kind == head.kind == Revision.Kind.EDIT
        and head.path == edit.path != ""
        and head.author_id == author.pk
        and timezone.now() - head.created < COALESCE
        and head.undo_to is not None
    )
    return _save(
        plan,
        design,
        head.number + 1,
        author,
        _Step(edit.kind, edit.summary, edit.path, undo_to=head.undo_to if same else head),
        reckoned(head),
    )


@transaction.atomic
def undo(*, plan: Plan, author: User, based_on: int) -> Revision:
    """Go back one step: a new revision with the older design. Raises NoSuchStepError at the start."""
    head = _checked_head(plan, based_on)
    target = head.undo_to
    if target is None:
        raise NoSuchStepError("there is nothing to undo")
    return _save(
        plan,
        design_of(target),
        head.number + 1,
        author,
        _Step(Revision.Kind.UNDO, head.summary, head.path, undo_to=target.undo_to, redo_to=head),
    )


@transaction.atomic
def redo(*, plan: Plan, author: User, based_on: int) -> Revision:
    """Bring back what was undone. Raises NoSuchStepError if nothing was."""
    head = _checked_head(plan, based_on)
    target = head.redo_to
    if target is None:
        raise NoSuchStepError("there is nothing to redo")
    return _save(
        plan,
        design_of(target),
        head.number + 1,
        author,
        _Step(Revision.Kind.REDO, target.summary, target.path, undo_to=target.undo_to, redo_to=target.redo_to),
    )


@transaction.atomic
def restore(*, plan: Plan, author: User, based_on: int, number: int) -> Revision:
    """Go back to an older state: a new revision with its design, undone like any other. Raises NoSuchStepError."""
    head = _checked_head(plan, based_on)
    target = plan.revisions.filter(number=number).first()
    if target is None or target.number == head.number:
        raise NoSuchStepError("there is no such older state")
    design = design_of(target)
    if design == design_of(head):
        raise NoSuchStepError(f"state {number} is just as the plan stands")
    step = _Step(Revision.Kind.RESTORE, f"to state {number}", f"restore:{number}", undo_to=head)
    return _save(plan, design, head.number + 1, author, step)


@transaction.atomic
def take_in(*, firm: Firm, author: User, designs: Sequence[tuple[str, Design]]) -> list[Plan]:
    """New jobs from job files, all of them or none: (name, design) each. Raises RowanError."""
    return [
        start_job(
            firm=firm,
            author=author,
            title=(design.title.replace("\x00", "").strip() or name)[:120],
            design=design,
            kind=Revision.Kind.IMPORT,
        )
        for name, design in designs
    ]


def rename_job(*, job: Job, title: str) -> None:
    """Give a job another name. Raises NoSuchStepError for an empty one."""
    if not title.strip():
        raise NoSuchStepError("a job needs a name")
    job.title = title.strip()[:120]
    job.save(update_fields=["title"])


@transaction.atomic
def duplicate_job(*, job: Job, author: User) -> Job:
    """A new job with all the plans of this one, as they stand."""
    copy = Job.objects.create(firm=job.firm, title=f"{job.title[:108]}, copy")
    for plan in job.plans.all():
        add_plan(job=copy, author=author, design=design_of(plan.head), letter=plan.letter)
    return copy


def archive_job(*, job: Job, archived: bool) -> None:
    """Take a job off the list of open ones, or bring it back."""
    job.archived = archived
    job.save(update_fields=["archived"])


def apply_cure(*, plan: Plan, author: User, based_on: int, finding_key: str, cure_index: int) -> Revision:
    """Try a finding's cure. Raises NoSuchStepError if the finding or the cure is no longer there."""
    finding = next((f for f in reckoned(plan.head).result.findings if f.key == finding_key), None)
    if finding is None or not 0 <= cure_index < len(finding.cures):
        raise NoSuchStepError("this finding is no longer there")
    cure = finding.cures[cure_index]
    edit = Edit(cure.changes, f"cure:{finding_key}", cure.label.text(), None, Revision.Kind.CURE)
    return change_plan(plan=plan, author=author, based_on=based_on, edit=edit)
