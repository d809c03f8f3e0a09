"""What people do with plans: one function per action, each one transaction and one new revision."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from itertools import count
from typing import Any

from django.db import connection, transaction
from django.utils import timezone

from rowan.core.design.changes import changed, locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.reckon import ENGINE_VERSION
from rowan.core.steps.run.route import follow_field, with_ends
from rowan.core.studies.choices import with_what_belongs
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import Firm, User
from rowan.web.plans import policy
from rowan.web.plans.models import Job, Plan, Revision
from rowan.web.plans.packing import text_of
from rowan.web.plans.reckoned import Reckoned, content_key, note_content, reckoned, reckoned_now
from rowan.web.plans.weather import measured_sky, weather_of_place
from rowan.web.ui.errors import NoSuchStepError, WebError

COALESCE = timedelta(seconds=10)
LETTERS = "ABCD"


class StaleRevisionError(WebError):
    """A save was based on a revision that is no longer the newest one."""

    def __init__(self, head: Revision) -> None:
        self.head = head
        super().__init__(f"the plan has moved on to revision {head.number}")


@record
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


@record
class _Step:
    """How a revision came about and where undo and redo lead from it."""

    kind: Revision.Kind
    summary: str = ""
    path: str = ""
    undo_to_id: int | None = None
    redo_to_id: int | None = None


@record
class _Ready:
    """A design that was reckoned before anything was locked, as it will be kept."""

    text: bytes
    found: Reckoned
    key: str


def _ready(design: Design, before: Reckoned | None = None) -> _Ready:
    """Reckoning takes its time here, so that nobody else waits for it at the lock. What is kept is what is reckoned: the legs at
    the field are as its place makes them."""
    design = with_ends(design)
    text = text_of(design.model_dump(mode="json"))
    key = content_key(text)
    return _Ready(text, reckoned_now(design, key, before), key)


def _insert(
    plan: Plan, made: _Ready, number: int, author: User | None, step: _Step, last: Revision | None = None
) -> Revision:
    """The new revision; inside a transaction, with nothing to reckon. It is kept as what it changes of the base of the `last` one."""
    revision = Revision(
        base=None if last is None else last.base or last,
        plan=plan,
        number=number,
        kind=step.kind,
        path=step.path[:120],
        summary=step.summary[:240],
        author=author,
        undo_to_id=step.undo_to_id,
        redo_to_id=step.redo_to_id,
        sent=plan.sending,
        **_ledger_columns(made.found),
    )
    revision.text = made.text
    revision.save(force_insert=True)
    revision.follows = last
    note_content(revision, made.key)
    place = made.found.design.survey.place.value[:120]
    if plan.place != place:
        plan.place = place
        plan.save(update_fields=["place"])
    return revision


BROWSER_LETTERS = 8  # of an id: those of one browser begin alike


def overtakes_nobody(plan: Plan, number: int, path: str) -> bool:
    """Whether a change that comes late overtakes nobody: all since that revision came from the same browser, which keeps its own
    order, or the input is as it was. False for what is no input, and for an unknown revision."""
    since = plan.revisions.filter(number__gt=number)
    if plan.sending and not since.exclude(sent__startswith=plan.sending[:BROWSER_LETTERS]).exists():
        return True
    then = plan.revisions.filter(number=number).first()
    if then is None or not path or ":" in path:
        return False
    try:
        old, new = locate(design_of(then), path), locate(design_of(plan.head), path)
    except JobFileError:
        return False
    return (old.value, old.origin) == (new.value, new.origin)


def sent_before(plan: Plan) -> Revision | None:
    """The revision that a change with this id made already; None for a new one, and for one without an id."""
    return None if plan.sending is None else plan.revisions.filter(sent=plan.sending).first()


def _append(plan: Plan, made: _Ready, based_on: int, author: User | None, step: _Step) -> Revision:
    """Under the lock: the right and the revision are checked, then the new one is put in. Raises WebError."""
    with transaction.atomic():
        # where a transaction does not hold the whole database as it begins
        if connection.features.has_select_for_update:
            Plan.everything.select_for_update().values_list("pk").get(pk=plan.pk)
        # the same change on its way twice: whoever comes second is given what the first one saved
        before = sent_before(plan)
        if before is not None:
            return before
        policy.check_change(author, plan)
        last = plan.revisions.select_related("base").order_by("-number").first()
        if last is None or last.number != based_on:
            raise StaleRevisionError(last or plan.head)
        return _insert(plan, made, based_on + 1, author, step, last)


def _checked(head: Revision, based_on: int) -> Revision:
    if head.number != based_on:
        raise StaleRevisionError(head)
    return head


def _ledger_columns(found: Reckoned) -> dict[str, Any]:
    """What lists count of a design without opening it, and the engine that reckoned it."""
    return {
        "engine_version": ENGINE_VERSION,
        "assumed_count": found.counted[1],
    }


def refresh_ledger(revision: Revision) -> None:
    """Reckon a revision's ledger columns anew; its design stays untouched."""
    Revision.objects.filter(pk=revision.pk).update(**_ledger_columns(reckoned(revision)))


def start_job(
    *,
    firm: Firm,
    author: User | None,
    title: str,
    design: Design,
    letter: str = "A",
    kind: Revision.Kind = Revision.Kind.START,
) -> Plan:
    """A new job with one plan. Raises NotAllowedError."""
    made = _ready(design)
    with transaction.atomic():
        policy.check(author, firm)
        return _add(Job.objects.create(firm=firm, title=title), made, author, letter, kind)


def add_plan(
    *, job: Job, author: User | None, design: Design, letter: str, kind: Revision.Kind = Revision.Kind.START
) -> Plan:
    """A further plan of a job. Raises NotAllowedError."""
    made = _ready(design)
    with transaction.atomic():
        policy.check(author, job.firm)
        return _add(job, made, author, letter, kind)


def _add(job: Job, made: _Ready, author: User | None, letter: str, kind: Revision.Kind) -> Plan:
    plan = Plan.objects.create(job=job, letter=letter)
    _insert(plan, made, 1, author, _Step(kind, "taken in" if kind == Revision.Kind.IMPORT else "started"))
    return plan


def start_from_facts(*, firm: Firm, author: User, title: str, facts: Facts) -> Plan:
    """A new job proposed from four facts. Raises RowanError for facts no rule covers."""
    return start_job(firm=firm, author=author, title=title, design=proposed_for(firm, facts, title))


def proposed_for(firm: Firm | None, facts: Facts, title: str = "") -> Design:
    """A first design by the trade's rules, with what is usual in a firm. Raises RowanError for facts no rule covers."""
    design = propose(facts, title=title)
    weather = weather_of_place(firm, facts.place.name)
    if weather:
        design = changed(design, weather)
    if firm is None:
        return design
    currency = firm.currency if firm.currency != design.money.currency.value else None
    usual: tuple[tuple[str, Any], ...] = (("money.currency", currency), ("money.hour_price", firm.hourly_rate))
    if design.sealed:
        usual += (("charge.school", firm.school or None), ("charge.share", firm.fluid_share))
    return changed(design, [Change(path, value) for path, value in usual if value is not None], "agreed")


def proposal_for(firm: Firm | None, facts: Facts) -> Reckoned:
    """A first design with its reckoning, which is kept: the same facts are asked for with every page of the ledger. Raises RowanError
    for facts no rule covers."""
    return _ready(proposed_for(firm, facts)).found


def copy_plan(*, plan: Plan, author: User) -> Plan:
    """The next plan of the job, with this plan's design. Raises NoSuchStepError when four exist, NotAllowedError."""
    made = _ready(design_of(plan.head))
    with transaction.atomic():
        policy.check(author, plan.job.firm)
        return _add(plan.job, made, author, _free_letter(plan.job), Revision.Kind.START)


def _free_letter(job: Job) -> str:
    taken = set(job.plans.values_list("letter", flat=True))
    letter = next((letter for letter in LETTERS if letter not in taken), None)
    if letter is None:
        raise NoSuchStepError("a job has up to four plans")
    return letter


def change_plan(*, plan: Plan, author: User, based_on: int, edit: Edit, head: Revision | None = None) -> Revision:
    """Save changes as a new revision; `head` is the plan's newest one where it was just read.

    Raises StaleRevisionError if `based_on` is not the newest, NotAllowedError, JobFileError or RowanError for changes
    that cannot be taken. The same person changing the same input within ten seconds makes one undo step.
    """
    head = _checked(head if head is not None and head.number == based_on else plan.head, based_on)
    before = reckoned(head)
    design = follow_field(before.design, changed(before.design, edit.changes, edit.origin))
    if design == before.design:
        policy.check_change(author, plan)
        return head
    same = (
        edit.kind == head.kind
        and edit.kind in (Revision.Kind.EDIT, Revision.Kind.TYPED)
        and head.path == edit.path != ""
        and head.author_id == author.pk
        and timezone.now() - head.created < COALESCE
        and head.undo_to_id is not None
    )
    step = _Step(edit.kind, edit.summary, edit.path, undo_to_id=head.undo_to_id if same else head.pk)
    return _append(plan, _ready(design, before), based_on, author, step)


def put_in(*, plan: Plan, author: User, based_on: int, design: Design, edit: Edit) -> Revision:
    """Save a whole design as a new revision, undone like any other. Raises StaleRevisionError, NotAllowedError."""
    head = _checked(plan.head, based_on)
    step = _Step(edit.kind, edit.summary, edit.path, undo_to_id=head.pk)
    return _append(plan, _ready(follow_field(design_of(head), design), reckoned(head)), based_on, author, step)


def begin_proposal(*, plan: Plan, person: User) -> Plan:
    """A proposal for a plan, begun from its newest revision and counted on from there. Raises NotAllowedError."""
    head = plan.head
    made = _ready(design_of(head))
    with transaction.atomic():
        policy.check(person, plan.job.firm, "propose")
        found, new = Plan.everything.get_or_create(
            proposal_of=plan, proposed_by=person, answer=Plan.Answer.DRAFT,
            defaults={"job": plan.job, "letter": plan.letter, "place": plan.place, "proposed_on": head},
        )  # fmt: skip
        if new:
            _insert(found, made, head.number, person, _Step(Revision.Kind.START, "proposal begun"))
        return found


def undo(*, plan: Plan, author: User, based_on: int) -> Revision:
    """Go back one step: a new revision with the older design. Raises NoSuchStepError at the start."""
    head = _checked(plan.head, based_on)
    target = head.undo_to
    if target is None:
        raise NoSuchStepError("there is nothing to undo")
    step = _Step(Revision.Kind.UNDO, head.summary, head.path, undo_to_id=target.undo_to_id, redo_to_id=head.pk)
    return _append(plan, _ready(design_of(target)), based_on, author, step)


def redo(*, plan: Plan, author: User, based_on: int) -> Revision:
    """Bring back what was undone. Raises NoSuchStepError if nothing was."""
    head = _checked(plan.head, based_on)
    target = head.redo_to
    if target is None:
        raise NoSuchStepError("there is nothing to redo")
    step = _Step(
        Revision.Kind.REDO, target.summary, target.path, undo_to_id=target.undo_to_id, redo_to_id=target.redo_to_id
    )
    return _append(plan, _ready(design_of(target)), based_on, author, step)


def restore(*, plan: Plan, author: User, based_on: int, number: int) -> Revision:
    """Go back to an older state: a new revision with its design, undone like any other. Raises NoSuchStepError."""
    head = _checked(plan.head, based_on)
    target = plan.revisions.filter(number=number).first()
    if target is None or target.number == head.number:
        raise NoSuchStepError("there is no such older state")
    design = design_of(target)
    if design == design_of(head):
        raise NoSuchStepError(tr("state {number} is just as the plan stands", number=number))
    step = _Step(Revision.Kind.RESTORE, f"to state {number}", f"restore:{number}", undo_to_id=head.pk)
    return _append(plan, _ready(design), based_on, author, step)


def take_in(*, firm: Firm, author: User, designs: Sequence[tuple[str, Design]]) -> list[Plan]:
    """New jobs from job files, all of them or none: (name, design) each. Raises RowanError and NotAllowedError."""
    ready = [((design.title.replace("\x00", "").strip() or name)[:120], _ready(design)) for name, design in designs]
    with transaction.atomic():
        policy.check(author, firm)
        return [
            _add(Job.objects.create(firm=firm, title=_own_title(firm, title)), made, author, "A", Revision.Kind.IMPORT)
            for title, made in ready
        ]


def _own_title(firm: Firm, title: str) -> str:
    """A name that no job of the firm has yet: a file that is taken in twice is two jobs, and they are told apart."""
    taken = set(firm.jobs.filter(title__startswith=title[:110]).values_list("title", flat=True))
    if title not in taken:
        return title
    return next(name for n in count(2) if (name := f"{title[:110]} ({n})") not in taken)


class JobRenamedError(WebError):
    """A job was given another name meanwhile."""


def rename_job(*, job: Job, author: User, title: str, was: str) -> None:
    """Give a job that is called `was` another name.

    Raises NoSuchStepError for an empty one, JobRenamedError if it is called otherwise by now, NotAllowedError.
    """
    if not title.strip():
        raise NoSuchStepError("a job needs a name")
    policy.check(author, job.firm)
    # one statement: whoever comes second is told, not written over
    if not Job.objects.filter(pk=job.pk, title=was).update(title=title.strip()[:120]):
        job.refresh_from_db()
        raise JobRenamedError(tr("somebody has called this job “{title}” meanwhile", title=job.title))
    job.refresh_from_db()


def set_paper_units(*, job: Job, author: User, units: str) -> None:
    """The units a job's papers are printed in; none for those of whoever prints. Raises NotAllowedError."""
    policy.check(author, job.firm)
    job.paper_units = units if units in ("metric", "us") else ""
    job.save(update_fields=["paper_units"])


def duplicate_job(*, job: Job, author: User) -> Job:
    """A new job with all the plans of this one, as they stand. Raises NotAllowedError."""
    ready = [(plan.letter, _ready(design_of(plan.head))) for plan in job.plans.all()]
    with transaction.atomic():
        policy.check(author, job.firm)
        copy = Job.objects.create(firm=job.firm, title=f"{job.title[:108]}, copy", paper_units=job.paper_units)
        for letter, made in ready:
            _add(copy, made, author, letter, Revision.Kind.START)
    return copy


def archive_job(*, job: Job, author: User, archived: bool) -> None:
    """Take a job off the list of open ones, or bring it back. Raises NotAllowedError."""
    policy.check(author, job.firm)
    job.archived = archived
    job.save(update_fields=["archived"])


def apply_cure(*, plan: Plan, author: User, based_on: int, finding_key: str, cure_index: int) -> Revision:
    """Try a finding's cure. Raises NoSuchStepError if the finding or the cure is no longer there."""
    found = reckoned(_checked(plan.head, based_on))
    finding = next((f for f in found.result.findings if f.key == finding_key), None)
    if finding is None:
        # one that only the plan's year tells
        judged = found.appraisal(measured_sky(found.design, plan.job.firm_id), cures=True)
        finding = next((f for f in judged.findings if f.key == finding_key), None)
    if finding is None or not 0 <= cure_index < len(finding.cures):
        raise NoSuchStepError("this finding is no longer there")
    cure = finding.cures[cure_index]
    changes = tuple(with_what_belongs(found.design, cure.changes))
    edit = Edit(changes, f"cure:{finding_key}", cure.label.text(), None, Revision.Kind.CURE)
    return change_plan(plan=plan, author=author, based_on=based_on, edit=edit)
