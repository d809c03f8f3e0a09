"""Starting a run and writing into it: through the policy, each entry once, numbered as it came, nothing ever changed."""

from __future__ import annotations

import re
import uuid
from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime

from django.db import IntegrityError, transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from rowan.core.records.run import ENTRY_KINDS, RunState, kinds_for, put_right, run_of
from rowan.core.records.run import Entry as Noted
from rowan.core.steps.commission.result import Field, Step
from rowan.core.terms.dates import day_said
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.language import tr
from rowan.core.terms.limits import held
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown, typed_to_si
from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Entry, Photo, Run
from rowan.web.commissioning.photos import photograph
from rowan.web.commissioning.refused import EntryRefusedError, RunClosedError
from rowan.web.plans import policy
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import Reckoned, reckoned

SENT = re.compile(r"[0-9a-f]{8}[0-9a-f-]{0,28}")
BROWSER_LETTERS = 8
# a name, and lines on a sheet of 300 by 120
SIGNED = re.compile(r"[^|<>\n]{1,80}\|(?:M[\d.]{1,6} [\d.]{1,6}(?: L[\d.]{1,6} [\d.]{1,6})*\s?)+")
READ_AGAIN, LONGEST_REASON = "read again", 120  # why there is a further reading, where nobody said more
MOST_ENTRIES = 5000
LONGEST_TEXT = 2000
LONGEST_STROKES = 20_000  # letters of a signature as lines
# what can be read at all, by dimension [SI]: beyond it a finger slipped, and it is asked back
POSSIBLE: dict[str, tuple[float, float]] = {
    "pressure": (-1e5, 16e5),
    "temperature": (-45.0, 250.0),
    "temperature_fine": (-60.0, 250.0),
    "volume": (0.0, 20.0),
    "drops": (0.0, 0.02),
    "level": (-2.0, 3.0),
    "time": (0.0, 200_000.0),
    "minutes": (0.0, 200_000.0),
    "flow": (0.0, 0.01),
    "difference": (0.0, 60.0),
    "share_fine": (0.0, 1.0),
    "ph": (0.0, 14.0),
    "count": (0.0, 100.0),
    "length": (0.0, 50.0),
    "gust": (0.0, 80.0),
}


@record
class Told:
    """An entry as a browser tells it."""

    kind: str
    step: str = ""
    field: str = ""
    typed: str = ""
    text: str = ""
    at: datetime | None = None
    sent: str = ""
    reason: str = ""

    @classmethod
    def of(cls, posted: Mapping[str, str]) -> Told:
        """From a form."""
        kind, step, field, typed, text, sent, reason = (
            posted.get(name, "") for name in ("kind", "step", "field", "typed", "text", "sent", "reason")
        )
        return cls(kind, step, field, typed, text, _moment(posted.get("at", "")), sent, reason)


def _moment(text: str) -> datetime | None:
    try:
        at = parse_datetime(text)
    except ValueError:
        return None
    return at if at is None or at.tzinfo is not None else timezone.make_aware(at)


def start_run(*, plan: Plan, kind: str, person: User, sent: str = "") -> Run:
    """A new run on the plan as it is now. Raises EntryRefusedError for a kind nobody knows, NotAllowedError for a stranger."""
    if kind not in kinds_for(reckoned(plan.head)):
        raise EntryRefusedError("this loop has no such kind of run")
    name = sent if SENT.fullmatch(sent) else str(uuid.uuid4())
    with transaction.atomic():
        policy.check(person, plan.job.firm, "propose")
        found = Run.objects.filter(plan=plan, sent=name).first()
        if found is None:
            found = Run.objects.create(
                plan=plan, revision=plan.head, kind=kind, started_by=person, started=timezone.now(), sent=name
            )
            note_standing(found)
            if kind == "service":
                _note_what_waits(found, person)
        return found


def _note_what_waits(run: Run, person: User) -> None:
    """At the head of a service stands what the last visit left for it, and what the log says."""
    waits = [
        tr("From the visit of {day}: {note}", day=day_said(visit.started, year=True).text(), note=note.text)
        for visit, note in for_next(run.plan)
    ]
    health = getattr(run.plan, "health", None)
    if health is not None and health.level:
        waits.append(tr("The log says: {words}", words=health.words))
    for words in waits:
        write(run=run, told=Told("note", step="found", text=words[:LONGEST_TEXT]), person=person, units="metric")


def for_next(plan: Plan) -> list[tuple[Run, Noted]]:
    """What the newest closed service of a plan left for the next visit."""
    last = plan.runs.filter(kind="service", closed_at__isnull=False).order_by("-closed_at").first()
    return [] if last is None else [(last, note) for note in state_of(last).for_next]


def reckoned_run(run: Run) -> Reckoned:
    """The plan as it was at the run's own revision."""
    return reckoned(run.revision)


def state_of(run: Run) -> RunState:
    """What stands of a run."""
    return run_of(run.run_kind, reckoned_run(run), run.written())


def write(*, run: Run, told: Told, person: User, units: System) -> Entry:
    """Writes an entry; the same one twice is one.

    Raises EntryRefusedError for what cannot be read, RunClosedError after the end, NotAllowedError for a stranger.
    """
    known = Entry.objects.filter(run=run, sent=told.sent).first() if told.sent else None
    if known is not None:
        return known
    if told.kind not in ENTRY_KINDS:
        raise EntryRefusedError("nobody knows what kind of entry this is")
    state = state_of(run)
    steps = {one.step.key: one.step for one in state.steps}
    if told.step and told.step not in steps:
        raise EntryRefusedError("this run has no such step")
    held = state.held_by(told.step) if told.kind in ("read", "tick", "done") else None
    if held is not None:
        raise EntryRefusedError(tr("“{name}” comes first", name=held.name))
    value = _value(told, steps.get(told.step), units)
    name = told.sent if SENT.fullmatch(told.sent) else str(uuid.uuid4())
    try:
        with transaction.atomic():
            return _written(run, told, person, value, name)
    except IntegrityError:
        return Entry.objects.get(run=run, sent=name)  # another tab of the same browser was faster


def _written(run: Run, told: Told, person: User, value: float | None, name: str) -> Entry:
    Run.objects.select_for_update().get(pk=run.pk)
    policy.check(person, run.plan.job.firm, "work" if told.kind == "close" else "propose")
    entries = Entry.objects.filter(run=run)
    count = entries.count()
    if count >= MOST_ENTRIES:
        raise EntryRefusedError(tr("a run holds {most} entries and no more", most=MOST_ENTRIES))
    if told.kind != "due" and entries.filter(kind="close").exists():
        raise RunClosedError("this run is closed: what is still to be done goes into a further one")
    received = timezone.now()
    same = entries.filter(sent__startswith=name[:BROWSER_LETTERS], person=person).order_by("-number").first()
    at, off = put_right(told.at or received, received=received, before=same.at if same else None)
    read_before = told.kind == "read" and entries.filter(step=told.step, field=told.field).exists()
    made = Entry.objects.create(
        run=run, number=count + 1, kind=told.kind, step=told.step, field=told.field, value=value, text=_text(told), person=person,
        at=at, clock_off=off, sent=name, reason=(told.reason.strip()[:LONGEST_REASON] or READ_AGAIN) if read_before else "",
    )  # fmt: skip
    note_standing(run)
    return made


def note_standing(run: Run) -> None:
    """Notes what the ledger of jobs reads of a run, played from its entries."""
    state = state_of(run)
    run.closed_at = state.closed.at if state.closed else None
    run.revisit_on, run.look_on = state.revisit, state.second_look
    run.next_step = "" if state.closed else state.next.step.name if state.next else "sign and close"
    run.save(update_fields=["closed_at", "revisit_on", "look_on", "next_step"])


def _text(told: Told) -> str:
    most = LONGEST_STROKES if told.kind == "sign" else LONGEST_TEXT
    if len(told.text) > most:
        raise EntryRefusedError(tr("that is longer than the {most} letters that fit", most=most))
    return told.text or (told.typed if told.kind == "read" else "")


def _value(told: Told, step: Step | None, units: System) -> float | None:
    """The SI value of a reading or a tick; None of anything else."""
    if told.kind not in ("read", "tick"):
        _check_words(told)
        return None
    field = next((one for one in step.fields if one.key == told.field), None) if step else None
    if field is None or field.tick != (told.kind == "tick"):
        raise EntryRefusedError("this step has nothing of that name to read")
    if field.tick:
        return 0.0 if told.typed in ("0", "no") else 1.0
    return _read(told.typed, field, units)


def _check_words(told: Told) -> None:
    """What an entry without a number has to say."""
    if told.kind == "left" and not told.text.strip():
        raise EntryRefusedError("say why it is left out")
    if told.kind == "tool" and not told.text.strip():
        raise EntryRefusedError("say with what")
    if told.kind == "part" and not told.text.strip():
        raise EntryRefusedError("say what was put in")
    if told.kind == "close" and not told.text.strip():
        raise EntryRefusedError("say who closes the run")
    if told.kind == "due":
        try:
            date.fromisoformat(told.text)
        except ValueError as error:
            raise EntryRefusedError("that is no date") from error
    if told.kind == "sign" and not SIGNED.fullmatch(told.text):
        raise EntryRefusedError("a signature is a name and the lines of a hand")


def _read(typed: str, field: Field, units: System) -> float:
    try:
        value = typed_to_si(typed, field.dimension, units)
    except TypedNumberError as error:
        raise EntryRefusedError(f"{field.name}: {error}") from error
    low, high = POSSIBLE[field.dimension]
    if held(value, low, high) is None:
        read, least, most = (shown(one, field.dimension, units) for one in (value, low, high))
        raise EntryRefusedError(
            tr(
                "{name}: {read} cannot be, it lies between {least} and {most}. Read it again.",
                name=field.name,
                read=read,
                least=least,
                most=most,
            )
        )
    return value


def write_photo(*, run: Run, told: Told, content: bytes, person: User) -> Entry:
    """Keeps a photograph and the entry that names it. Raises as `write`, and EntryRefusedError for what is no photograph."""
    known = Entry.objects.filter(run=run, sent=told.sent).first() if told.sent else None
    if known is not None:
        return known
    taken = photograph(content)
    with transaction.atomic():
        entry = write(run=run, told=replace(told, kind="photo", text=taken.sha256), person=person, units="metric")
        fields = {"width": taken.width, "height": taken.height, "taken": taken.taken, "bearing": taken.bearing}
        contents = {"content": taken.content, "small": taken.small}
        Photo.objects.get_or_create(run=run, sha256=taken.sha256, defaults={**fields, **contents})
    return entry
