"""What the desk shows of a run: its title, its readings in their windows, signatures and photographs."""

from __future__ import annotations

from typing import Any

from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from rowan.core.records.run import Entry, RunState, StepState
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown_parts
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.timeline import lead_of
from rowan.web.ui.window_bar import bar

COUNTED = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
SHEET = "0 0 300 120"  # that a finger signs on


def _counted(number: int) -> str:
    return COUNTED[number] if number < len(COUNTED) else str(number)


def title_of(state: RunState) -> str:
    """What it came to, in a line."""
    passed = sum(one.state == "passed" for one in state.steps)
    count = tr(_counted(passed)).capitalize()
    words = tr("{count} step passed", count=count) if passed == 1 else tr("{count} steps passed", count=count)
    left = [one.step.name.lower() for one in state.steps if one.state == "left"]
    wrong = [one.step.name.lower() for one in state.steps if one.state == "wrong"]
    if wrong:
        words += tr(", not right: {wrong}", wrong=", ".join(wrong))
    if left:
        words += tr(", left out: {left}", left=", ".join(left))
    if not wrong and not left and state.closed is None and state.next is not None:
        words += f", next: {state.next.step.name.lower()}"
    return words


@record
class ReadingRow:
    """A reading beside its window."""

    name: str
    step: str
    number: str
    unit: str
    bar: SafeString
    inside: bool


def reading_rows(state: RunState, units: System) -> list[ReadingRow]:
    """The telling reading of each step that has one with a window."""
    rows = []
    for one in state.steps:
        lead = lead_of(one, dict(state.symbols))
        if lead is None or lead.held is None or (lead.held.low is None and lead.held.high is None):
            continue
        number, unit = shown_parts(lead.held.value, lead.field.dimension, units)
        node, words = bar(lead.held, units)
        markup = format_html('{}<span class="sr-only">{}</span>', mark_safe(node.markup()), words)  # noqa: S308  escaped in Node.markup
        rows.append(ReadingRow(lead.field.name, one.step.name, number, unit, markup, lead.held.inside))
    return rows


@record
class Signature:
    """A name and the lines of a hand."""

    name: str
    drawing: SafeString
    entry: Entry


def signatures(state: RunState) -> list[Signature]:
    """Who signed."""
    found = []
    for entry in state.signatures:
        name, _, lines = entry.text.partition("|")
        drawing = format_html(
            '<svg viewBox="{}" class="signature" role="img" aria-label="{}"><path d="{}" fill="none" stroke="#27231f" stroke-width="2"/></svg>',
            SHEET,
            tr("signature of {name}", name=name),
            lines,
        )
        found.append(Signature(name, drawing, entry))
    return found


def photo_rows(run: Run, state: RunState) -> list[dict[str, Any]]:
    """Every photograph, with its step; steps that were passed without one are named."""
    known = {photo.sha256: photo for photo in run.photos.defer("content", "small")}
    return [
        {"step": one.step.name, "photo": known[entry.text], "at": entry.at, "person": entry.person}
        for one in state.steps
        for entry in one.photos
        if entry.text in known
    ]


# steps of which a picture is worth more than a number
PICTURED = ("vessel", "test", "open", "close", "falls", "fill")


def without_photo(state: RunState) -> list[StepState]:
    """Steps done without the picture that is usually taken."""
    return [one for one in state.steps if one.step.key in PICTURED and one.state == "passed" and not one.photos]
