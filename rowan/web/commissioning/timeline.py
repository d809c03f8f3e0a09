"""A run on its clock: a vertical tape with the steps hung on it, what was read against what was reckoned, who passed it and when.

A ring on the tape is a deviation that was cured, berry hatch a step left out; where more than half an hour passed without an entry
the tape is cut.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import pairwise

from django.utils import timezone

from rowan.core.records.run import RunState, StepState
from rowan.core.steps.commission.judge import value_of
from rowan.core.steps.commission.result import Field
from rowan.core.terms.dates import day_said
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown, shown_parts
from rowan.web.ui.fit import shortened
from rowan.web.ui.svg import Drawing
from rowan.web.ui.window_bar import Held, bar

WIDTH, HEAD, ROW = 656, 26.0, 38.0
TAPE_X, TAPE_WIDTH = 44.0, 11.0
NUMBER_X, NAME_X, READ_X, BAR_X, MARK_X = 96.0, 128.0, 398.0, 436.0, 528.0
READ_ROOM = 118.0  # px, what was reckoned takes of its line
# the one reading of a step that says most, where it is not the first that has a window
LEADS = {"test": "test_p2", "fill": "colour_s", "run": "run_flow", "purge": "purge_s", "raise": "raise_after"}
CUT = timedelta(minutes=30)
CUT_PX = 10.0
VERDICTS = {"passed": "passed", "left": "left out", "wrong": "not right", "open": "begun", "untouched": "open"}


@record
class Lead:
    """What one row shows of a step: what was read, its window and what was reckoned."""

    field: Field
    held: Held | None
    expected: float | None


def lead_of(one: StepState, symbols: dict[str, float]) -> Lead | None:
    """The reading that says most of a step; None where it is all ticks."""
    fields = [field for field in one.step.fields if field.dimension]
    wanted = LEADS.get(one.step.key)
    field = next((f for f in fields if f.key == wanted), None)
    field = field or next((f for f in fields if f.expected or f.low or f.high), None) or (fields[0] if fields else None)
    if field is None:
        return None
    expected, read = value_of(field.expected, symbols), symbols.get(field.key)
    low, high = value_of(field.low, symbols), value_of(field.high, symbols)
    held = None if read is None else Held(read, low, high, field.dimension, expected=expected)
    return Lead(field, held, expected)


def _places(times: list[datetime], top: float, foot: float) -> dict[datetime, float]:
    """The y of each moment: to scale, but where nothing was done for long the tape is cut short."""
    steps = [min(later - earlier, CUT) for earlier, later in pairwise(times)]
    whole = sum(steps, timedelta()) or timedelta(minutes=1)
    y, found = top, {times[0]: top}
    for moment, step in zip(times[1:], steps, strict=True):
        y += (foot - top) * (step / whole)
        found[moment] = y
    return found


def timeline(state: RunState, units: System) -> Drawing:
    """The steps of a run on its clock."""
    height = HEAD + ROW * len(state.steps) + 8
    drawing = Drawing(WIDTH, height, "The run on its clock", "timeline", "timeline")
    for x, words, anchor in (
        (NAME_X, "step", "start"),
        (READ_X, "read, reckoned", "end"),
        (MARK_X, "verdict", "start"),
    ):
        drawing.words((x, 14), words, "label", anchor)
    _tape(drawing, state, height, units)
    for number, one in enumerate(state.steps, 1):
        _row(drawing, one, number, dict(state.symbols), units)
    return drawing


def _tape(drawing: Drawing, state: RunState, height: float, units: System) -> None:
    times = sorted({moment for one in state.steps for moment in (one.started, one.ended) if moment is not None})
    if not times:
        drawing.words((2, 40), "not begun", "place")
        return
    top, foot = HEAD + 10, height - 16
    at = _places(times, top, foot)
    drawing.words((2, 14), day_said(timezone.localtime(times[0]), short=True).text(), "label")
    drawing.line((TAPE_X, top), (TAPE_X, foot), "rule")
    told = top - 40
    for number, one in enumerate(state.steps):
        if one.started is None or one.ended is None:
            continue
        start, end = at[one.started], max(at[one.ended], at[one.started] + 4)
        cls = "left-out" if one.state == "left" else "solid"
        drawing.rect(TAPE_X - TAPE_WIDTH / 2, start, TAPE_WIDTH, end - start - 1, cls)
        middle, row_y = (start + end) / 2, HEAD + ROW * number + ROW / 2
        drawing.path(
            ((TAPE_X + TAPE_WIDTH / 2, middle), (TAPE_X + 18, middle), (NUMBER_X - 20, row_y), (NUMBER_X - 11, row_y)),
            "leader",
        )
        if start - told > 22:
            told = start
            drawing.words((TAPE_X - 9, start + 8), timezone.localtime(one.started).strftime("%-H:%M"), "axis", "end")
    for was in state.deviations:
        if was.cured:
            near = min(times, key=lambda moment: abs(moment - was.at))
            ring = drawing.circle((TAPE_X, at[near]), 5.5, "part-body")
            ring.add("title", was.words.text(units))


def _row(drawing: Drawing, one: StepState, number: int, symbols: dict[str, float], units: System) -> None:
    y = HEAD + ROW * (number - 1)
    drawing.line((NUMBER_X - 11, y + ROW), (WIDTH, y + ROW), "rule")
    done = one.state == "passed"
    drawing.rect(NUMBER_X - 11, y + 8, 22, 22, "solid" if done else "part-body")
    drawing.words((NUMBER_X, y + 23.5), str(number), "tab" if done else "key-small", "middle")
    drawing.words((NAME_X, y + 18), one.step.name, "state-name")
    lead = lead_of(one, symbols)
    if lead is not None:
        room = READ_X - NAME_X - (READ_ROOM if lead.expected is not None else 0)
        drawing.words((NAME_X, y + 32), shortened(lead.field.name, room), "label")
        _read(drawing, lead, y, units)
    elif one.step.fields:
        ticked = sum(field.key in symbols for field in one.step.fields)
        drawing.words(
            (READ_X, y + 18), tr("{ticked} of {fields}", ticked=ticked, fields=len(one.step.fields)), "fig", "end"
        )
    _verdict(drawing, one, y)


def _read(drawing: Drawing, lead: Lead, y: float, units: System) -> None:
    if lead.held is not None:
        number, unit = shown_parts(lead.held.value, lead.field.dimension, units)
        words = drawing.words((READ_X, y + 18), number, "fig", "end")
        if unit:
            words.add("tspan", f" {unit}", cls="unit")
        if lead.held.low is not None or lead.held.high is not None:
            node, _ = bar(lead.held, units)
            node.attributes |= {"x": BAR_X, "y": y + 3}
            drawing.children.append(node)
    if lead.expected is not None:
        drawing.words(
            (READ_X, y + 32),
            tr("reckoned {value}", value=shown(lead.expected, lead.field.dimension, units)),
            "label",
            "end",
        )


def _verdict(drawing: Drawing, one: StepState, y: float) -> None:
    entry = one.done if one.state == "passed" else one.left if one.state == "left" else None
    if one.state == "passed":
        drawing.path(((MARK_X, y + 14), (MARK_X + 4, y + 18), (MARK_X + 11, y + 8)), "tick-line")
    elif one.state in ("wrong", "left"):
        drawing.mark((MARK_X + 6, y + 13), "fix" if one.judgement.level != "stop" else "stop", 14)
    else:
        drawing.mark((MARK_X + 6, y + 13), "mind", 14)
    drawing.words((MARK_X + 18, y + 18), VERDICTS[one.state], "label-leaf" if one.state == "passed" else "label-ink")
    if entry is not None:
        when = timezone.localtime(entry.at).strftime("%-H:%M")
        drawing.words((MARK_X + 18, y + 32), f"{when} {entry.person}", "label")
