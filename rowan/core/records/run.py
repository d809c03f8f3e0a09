"""Work on site as a record: entries that are never rewritten, and what follows from them, step by step.

A run belongs to a plan at a named revision. An entry says who did what, when; a correction is a further entry with its reason. What
stands of a step is always judged anew from all that was read. Source: methods 13, 16; practice 14.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Literal, Protocol

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.roof_run import delivery_steps, roof_steps
from rowan.core.records.survey_run import survey_steps
from rowan.core.steps.commission.judge import Judgement, judged, with_derived
from rowan.core.steps.commission.result import CommissionResult, Step
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Statement
from rowan.core.terms.language import Message
from rowan.core.terms.record import record

RunKind = Literal["survey", "delivery", "roof", "first", "bench", "test", "rebleed", "service", "repair"]
RUN_KINDS: dict[RunKind, str] = {
    "survey": Message("Survey with pictures"),
    "delivery": Message("Delivery check"),
    "roof": Message("Work on the roof"),
    "first": Message("First commissioning"),
    "bench": Message("Bench test of a buried run"),
    "test": Message("Pressure test alone"),
    "rebleed": Message("Re-bleed after some weeks"),
    "service": Message("Yearly service"),
    "repair": Message("After a repair"),
}
# what each is for, in a line
RUN_WORDS: dict[RunKind, str] = {
    "survey": "The walk before anything is drawn: what is seen, measured and photographed once.",
    "delivery": "What was bought, ticked off by the place it goes to.",
    "roof": "From the go or no-go to the scaffold coming down, gate by gate.",
    "first": "Vessel, flush, test, fill, purge, run, settings, record.",
    "bench": "What will be buried: on the bench, and again in the open trench.",
    "test": "A leak looked for without filling.",
    "rebleed": "Air that came out since: bled, gauge at dawn, fluid read.",
    "service": "Once a year: as found, what this kind of loop wants looked at, as left, what comes next.",
    "repair": "Tested, filled and proved anew.",
}
# steps that a kind of run has, those of them that the loop has; None for all
STEPS_OF: dict[str, tuple[str, ...] | None] = {
    "first": None,
    "test": ("inspect", "falls", "flush", "test", "release", "close"),
    "rebleed": ("inspect", "weeks", "fluid", "close"),
    "repair": ("inspect", "test", "release", "prepare", "fill", "purge", "raise", "open", "run", "start", "stop", "fluid", "close"),
}  # fmt: skip
EntryKind = Literal[
    "read", "tick", "done", "left", "note", "timer", "pause", "resume", "photo", "sign", "close", "due", "tool", "part"
]
ENTRY_KINDS: tuple[EntryKind, ...] = (
    "read", "tick", "done", "left", "note", "timer", "pause", "resume", "photo", "sign", "close", "due", "tool", "part",
)  # fmt: skip
NEXT = "next"  # the step of a service whose notes stand at the head of the next one
SERVICE_AFTER = timedelta(days=365)
REVISIT_AFTER = timedelta(weeks=3)  # two to four weeks; practice 14
CLOCK_AHEAD = timedelta(minutes=5)  # a phone's clock may be ahead of the server's
LONGEST_KEPT = timedelta(days=60)  # an entry may lie in a phone


@record
class Entry:
    """One thing that was done or read: `value` [SI] of a reading, 1 or 0 of a tick; `at` by the phone's clock, put right where it cannot be."""

    number: int
    kind: EntryKind
    at: datetime
    person: str
    step: str = ""
    field: str = ""
    value: float | None = None
    text: str = ""
    clock_off: bool = False
    reason: str = ""

    def record(self) -> dict[str, object]:
        """The entry as the record prints and hashes it."""
        return {
            "number": self.number,
            "kind": self.kind,
            "at": self.at.isoformat(timespec="seconds"),
            "person": self.person,
            "step": self.step,
            "field": self.field,
            "value": self.value,
            "text": self.text,
            "reason": self.reason,
        }


@record
class Deviation:
    """Something that was wrong once: what was said, when, and whether it has been cured since."""

    step: str
    key: str
    words: Statement
    at: datetime
    cured: bool


@record
class StepState:
    """Where a step stands: its judgement, who closed it and when, why it was left out."""

    step: Step
    judgement: Judgement
    done: Entry | None = None
    left: Entry | None = None
    started: datetime | None = None
    ended: datetime | None = None
    notes: tuple[Entry, ...] = ()
    photos: tuple[Entry, ...] = ()

    @property
    def state(self) -> Literal["passed", "left", "wrong", "open", "untouched"]:
        """In one word: passed, left out, wrong, begun or untouched."""
        if self.done is not None and self.judgement.level not in ("stop", "fix"):
            return "passed"
        if self.left is not None:
            return "left"
        if self.judgement.level in ("stop", "fix"):
            return "wrong"
        return "open" if self.started is not None else "untouched"


@record
class RunState:
    """What follows from all entries: steps in order, every symbol [SI], deviations, signatures, who closed the run."""

    steps: tuple[StepState, ...]
    symbols: Mapping[str, float]
    deviations: tuple[Deviation, ...]
    signatures: tuple[Entry, ...] = ()
    # what was measured with, and when that was checked last
    tools: tuple[Entry, ...] = ()
    # what was put in
    parts: tuple[Entry, ...] = ()
    closed: Entry | None = None
    due: Entry | None = None
    paused: bool = False
    entries: tuple[Entry, ...] = field(default=(), repr=False)

    def held_by(self, key: str) -> Step | None:
        """The gate that is still open before a step; None where nothing holds it."""
        for one in self.steps:
            if one.step.key == key:
                return None
            if one.step.gate and one.state != "passed":
                return one.step
        return None

    @property
    def next(self) -> StepState | None:
        """The first step that is neither passed nor left out; None when all are."""
        return next((one for one in self.steps if one.state not in ("passed", "left")), None)

    @property
    def revisit(self) -> date | None:
        """The day somebody comes back: as it was set last, else some weeks after it was closed, a year after that or a
        service; None for a run after which nobody does."""
        if not self.then_service and all(one.step.key != "weeks" for one in self.steps):
            return None
        if self.due is not None:
            return date.fromisoformat(self.due.text)
        if self.closed is None:
            return None
        return self.closed.at.date() + (SERVICE_AFTER if self.then_service else REVISIT_AFTER)

    @property
    def then_service(self) -> bool:
        """Whether what comes after it is a yearly service: after a service, and once somebody has come back after some weeks."""
        return any(one.step.key == NEXT or (one.step.key == "weeks" and one.state == "passed") for one in self.steps)

    @property
    def for_next(self) -> tuple[Entry, ...]:
        """What was noted for the next visit."""
        return next((one.notes for one in self.steps if one.step.key == NEXT), ())

    @property
    def second_look(self) -> date | None:
        """The day a joint that wept is looked at again; None where none did, or it was."""
        if "wept" not in self.symbols or "looked_again" in self.symbols:
            return None
        wept = next(entry for entry in reversed(self.entries) if entry.field == "wept")
        return wept.at.date() + timedelta(days=1)

    @property
    def open_steps(self) -> tuple[StepState, ...]:
        """Steps still to be done; what comes weeks later is not one of them."""
        return tuple(one for one in self.steps if one.state not in ("passed", "left") and one.step.key != "weeks")


class Planned(Protocol):
    """A plan as it is reckoned."""

    @property
    def design(self) -> Design:
        """What was typed."""

    @property
    def result(self) -> Reckoning:
        """What follows."""


def run_steps(kind: RunKind, plan: Planned) -> tuple[Step, ...]:
    """The steps of a kind of run for this plan; none where it has none. Raises ImpossibleInputError for a kind nobody knows."""
    commission = plan.result.commission
    match kind:
        case "survey":
            return survey_steps(plan.design)
        case "delivery":
            return delivery_steps(plan.result)
        case "roof":
            return roof_steps(plan.design, plan.result)
        case "bench":
            return commission.buried
        case "service":
            return commission.service
    if kind not in STEPS_OF:
        raise ImpossibleInputError("there is no run of the kind “{kind}”", kind=kind)
    wanted = STEPS_OF[kind]
    return commission.steps if wanted is None else tuple(step for step in commission.steps if step.key in wanted)


def kinds_for(plan: Planned) -> dict[RunKind, str]:
    """The kinds of run that this plan has steps for, with their names."""
    return {kind: name for kind, name in RUN_KINDS.items() if run_steps(kind, plan)}


def put_right(at: datetime, *, received: datetime, before: datetime | None) -> tuple[datetime, bool]:
    """A phone's time, and whether it had to be put right: never after it came, never older than a phone keeps things, never before
    what the same phone wrote before it."""
    if not received - LONGEST_KEPT <= at <= received + CLOCK_AHEAD:
        return received, True
    if before is not None and at < before:
        return before, True
    return min(at, received), False


def in_order(entries: Iterable[Entry]) -> list[Entry]:
    """Entries by the time they were made, then as they came."""
    return sorted(entries, key=lambda entry: (entry.at, entry.number))


@dataclass
class _Played:
    """What has been read so far while entries are played through."""

    read: dict[str, float] = field(default_factory=dict)
    by_step: dict[str, list[Entry]] = field(default_factory=dict)
    wrong: dict[tuple[str, str], Deviation] = field(default_factory=dict)

    def take(self, entry: Entry) -> None:
        """One more entry."""
        self.by_step.setdefault(entry.step, []).append(entry)
        if entry.kind == "tick" and not entry.value:
            self.read.pop(entry.field, None)
        elif entry.kind in ("read", "tick") and entry.value is not None:
            self.read[entry.field] = entry.value

    def newest(self, step: str, kind: str) -> Entry | None:
        """The last entry of a kind at a step."""
        return next((entry for entry in reversed(self.by_step.get(step, ())) if entry.kind == kind), None)


def replayed(steps: Sequence[Step], commission: CommissionResult, entries: Iterable[Entry]) -> RunState:
    """What follows from entries, in whatever order they came."""
    by_key, ordered, played = {step.key: step for step in steps}, in_order(entries), _Played()
    for entry in ordered:
        played.take(entry)
        if entry.kind == "read" and entry.step in by_key:
            _note_wrong(by_key[entry.step], commission, played, entry)
    symbols = with_derived({**commission.constants, **played.read}, commission.derived)
    states = tuple(_state(step, symbols, played) for step in steps)
    still = {(one.step.key, said.key) for one in states for said in one.judgement.said if said.level in ("stop", "fix")}
    deviations = tuple(
        Deviation(was.step, was.key, was.words, was.at, key not in still) for key, was in played.wrong.items()
    )
    last = next((entry for entry in reversed(ordered) if entry.kind in ("pause", "resume", "close")), None)
    return RunState(
        states,
        symbols,
        deviations,
        tuple(entry for entry in ordered if entry.kind == "sign"),
        tuple(entry for entry in ordered if entry.kind == "tool"),
        tuple(entry for entry in ordered if entry.kind == "part"),
        last if last is not None and last.kind == "close" else None,
        next((entry for entry in reversed(ordered) if entry.kind == "due"), None),
        last is not None and last.kind == "pause",
        tuple(ordered),
    )


def _note_wrong(step: Step, commission: CommissionResult, played: _Played, entry: Entry) -> None:
    """Writes down what a reading shows to be wrong, the first time it does."""
    symbols = with_derived({**commission.constants, **played.read}, commission.derived)
    for said in judged(step, symbols).said:
        key = step.key, said.key
        if said.level in ("stop", "fix") and key not in played.wrong:
            played.wrong[key] = Deviation(step.key, said.key, said.words, entry.at, cured=False)


def _state(step: Step, symbols: Mapping[str, float], played: _Played) -> StepState:
    own = played.by_step.get(step.key, [])
    done, left = played.newest(step.key, "done"), played.newest(step.key, "left")
    if done is not None and left is not None:
        done, left = (done, None) if (done.at, done.number) > (left.at, left.number) else (None, left)
    return StepState(
        step,
        judged(step, symbols),
        done,
        left,
        own[0].at if own else None,
        (done or left or own[-1]).at if own else None,
        tuple(entry for entry in own if entry.kind == "note"),
        tuple(entry for entry in own if entry.kind == "photo"),
    )


def run_of(kind: RunKind, plan: Planned, entries: Iterable[Entry]) -> RunState:
    """A run of a kind on a plan."""
    return replayed(run_steps(kind, plan), plan.result.commission, entries)


def hung_dry(roof: RunState) -> date | None:
    """The day on which the last collector was hung in a run on the roof; None before."""
    hung = [one.done.at.date() for one in roof.steps if one.step.key.startswith("collector-") and one.done is not None]
    return max(hung) if hung else None


def digest(head: Mapping[str, object], entries: Sequence[Entry]) -> str:
    """The record's hash as it is printed, in groups: any changed letter of any entry makes another."""
    body = json.dumps([dict(head), *(entry.record() for entry in entries)], sort_keys=True, ensure_ascii=False)
    found = hashlib.sha256(body.encode()).hexdigest()[:16]
    return " ".join(found[at : at + 4] for at in range(0, 16, 4))
