"""What was left set at the controller beside what the plan says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from rowan.core.design.changes import Located, locate
from rowan.core.steps.control.settings import ControllerSetting, controller_settings
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Statement
from rowan.core.terms.record import record
from rowan.web.benches.bench import Sheet
from rowan.web.care.models import LeftSetting
from rowan.web.editing.blanks import Blank, RefusedInputError, blank, changes_from_text, shown_value
from rowan.web.plans.models import Plan

SAME_SHARE = 1e-6


@record
class LeftRow:
    """A setting: what the plan says, why, what was left (empty if nobody wrote it down), and whether they differ."""

    path: str
    name: str
    plan: str
    reason: Statement
    left: str
    differs: bool
    by: str
    field: Blank


def left_rows(plan: Plan, sheet: Sheet) -> list[LeftRow]:
    """Every setting of the controller with what was left."""
    kept = {entry.path: entry for entry in plan.left_settings.select_related("author")}
    return [_row(sheet, setting, kept.get(setting.path)) for setting in _settings(sheet)]


def _settings(sheet: Sheet) -> tuple[ControllerSetting, ...]:
    return controller_settings(sheet.design, sheet.result.control)


def _row(sheet: Sheet, setting: ControllerSetting, kept: LeftSetting | None) -> LeftRow:
    found = locate(sheet.design, setting.path)
    field = blank(sheet.design, setting.path, sheet.units, typed="")
    if kept is None:
        return LeftRow(setting.path, setting.name, field.shown, setting.reason, "", False, "", field)
    value = kept.words if kept.number is None else kept.number
    as_left = replace(found, value=_stored(found, value))
    left = shown_value(as_left, sheet.units)
    by = f"{kept.author}, {day_said(kept.at, year=True, short=True).text()}"
    typed = blank(sheet.design, setting.path, sheet.units, typed=_typed(as_left, left))
    return LeftRow(
        setting.path, setting.name, field.shown, setting.reason, left, not _same(found.value, as_left.value), by, typed
    )


def _stored(found: Located, value: float | str) -> object:
    """What is kept as the input's own kind."""
    if found.spec.kind == "flag":
        return value == "yes"
    return int(value) if found.spec.kind == "whole" else value


def _typed(found: Located, shown: str) -> str:
    if found.spec.kind == "flag":
        return "yes" if found.value else "no"
    return str(found.value) if found.spec.kind in ("choice", "text") else shown.replace("\N{NO-BREAK SPACE}", " ")


def _same(plan: object, left: object) -> bool:
    if isinstance(plan, float | int) and isinstance(left, float | int):
        return abs(plan - left) <= SAME_SHARE * max(abs(plan), abs(left), 1.0)
    return plan == left


@record
class Typed:
    """What somebody typed as left: numbers and words by path (nothing: taken away), and refusals by path."""

    numbers: dict[str, float | None]
    words: dict[str, str]
    wrong: dict[str, tuple[str, str]]


def read_typed(sheet: Sheet, posted: Mapping[str, str]) -> Typed:
    """Reads every setting that was posted; an empty one is taken away."""
    numbers: dict[str, float | None] = {}
    words: dict[str, str] = {}
    wrong: dict[str, tuple[str, str]] = {}
    for setting in _settings(sheet):
        if setting.path not in posted:
            continue
        text = posted[setting.path].strip()[:80]
        kind = locate(sheet.design, setting.path).spec.kind
        counted = kind in ("number", "whole")
        if not text and counted:
            numbers[setting.path] = None
            continue
        if not text:
            words[setting.path] = ""
            continue
        try:
            value = changes_from_text(sheet.design, setting.path, text, sheet.units)[0].value
        except RefusedInputError as error:
            wrong[setting.path] = (text, str(error))
            continue
        if counted:
            numbers[setting.path] = None if value is None else float(value)
        else:
            words[setting.path] = text if kind == "flag" else str(value)
    return Typed(numbers, words, wrong)


def with_typed(rows: list[LeftRow], posted: Mapping[str, str]) -> list[LeftRow]:
    """The rows with what was typed in their fields, beside what somebody else has written down meanwhile."""
    return [
        replace(row, field=replace(row.field, typed=posted[row.path]))
        if row.path in posted and not row.field.choices
        else row
        for row in rows
    ]


def with_refusals(rows: list[LeftRow], wrong: Mapping[str, tuple[str, str]]) -> list[LeftRow]:
    """The rows with what was refused in its field, so that nothing typed is lost."""
    return [
        replace(row, field=replace(row.field, typed=wrong[row.path][0], error=wrong[row.path][1]))
        if row.path in wrong
        else row
        for row in rows
    ]
