"""The record of a run: head, readings with target and verdict, deviations, signatures, and the hash that holds it together."""

from __future__ import annotations

from typing import Any

from rowan.core.records.run import RunState, StepState, digest
from rowan.core.steps.commission.judge import value_of
from rowan.core.steps.commission.result import Field
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown
from rowan.web.commissioning.models import Run

SCHEMA = "rowan-run-1"


@record
class Line:
    """A reading as the record prints it: what, read, reckoned, allowed; what was read before and why it was read again."""

    name: str
    read: str
    expected: str
    allowed: str
    before: str = ""


def head_of(run: Run) -> dict[str, object]:
    """What a record begins with."""
    return {
        "schema": SCHEMA,
        "job": run.plan.job.title,
        "plan": run.plan.letter,
        "revision": run.revision.number,
        "kind": run.kind,
        "started": run.started.isoformat(timespec="seconds"),
        "started_by": str(run.started_by),
    }


def hash_of(run: Run, state: RunState) -> str:
    """The record's hash as printed."""
    return digest(head_of(run), state.entries)


def record_data(run: Run, state: RunState) -> dict[str, Any]:
    """The record as an open file: SI values, every entry, the hash over both."""
    return {
        **head_of(run),
        "entries": [entry.record() for entry in state.entries],
        "steps": [
            {"key": one.step.key, "name": one.step.name, "state": one.state, "said": [said.words.text() for said in one.judgement.said]}
            for one in state.steps
        ],
        "deviations": [
            {"step": was.step, "key": was.key, "words": was.words.text(), "at": was.at.isoformat(timespec="seconds"), "cured": was.cured}
            for was in state.deviations
        ],
        "valves": dict(state.steps[-1].step.valves),
        "hash": hash_of(run, state),
    }  # fmt: skip


def lines_of(one: StepState, state: RunState, units: System) -> list[Line]:
    """The readings of a step."""
    return [_line(field, state, units) for field in one.step.fields if field.key in state.symbols]


def _line(field: Field, state: RunState, units: System) -> Line:
    if field.tick:
        return Line(field.name, "done", "", "")
    low, high, expected = (value_of(formula, state.symbols) for formula in (field.low, field.high, field.expected))

    def told(value: float | None) -> str:
        return "" if value is None else shown(value, field.dimension, units)

    allowed = tr("{low} to {high}", low=told(low), high=told(high)) if low is not None and high is not None else ""
    if not allowed:
        allowed = (
            tr("at least {told}", told=told(low))
            if low is not None
            else tr("at most {told}", told=told(high))
            if high is not None
            else ""
        )
    *earlier, last = [entry for entry in state.entries if entry.kind == "read" and entry.field == field.key]
    before = ", ".join(told(entry.value) for entry in earlier)
    told_before = tr("before: {before}; {reason}", before=before, reason=last.reason) if earlier else ""
    return Line(field.name, told(state.symbols[field.key]), told(expected), allowed, told_before)
