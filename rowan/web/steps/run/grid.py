"""The legs as a grid that is typed with Tab, line after line as a tape is read, and saved in one step."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.editing.blanks import RefusedInputError, changes_from_text, typed_number

COLUMNS = ("length_m", "rise_m", "place", "bends", "tees", "valves")


@record
class Cell:
    """One field of the grid with what stands in it."""

    path: str
    label: str
    typed: str
    choices: tuple[tuple[str, str], ...]
    wrong: str = ""
    numeric: bool = True


def _typed(design: Design, path: str, system: System) -> str:
    found = locate(design, path)
    return str(found.value) if found.spec.kind == "choice" else typed_number(found, system)


def grid_changes(design: Design, posted: Mapping[str, str], system: System) -> tuple[list[Change], dict[str, str]]:
    """The changes of every field that was typed otherwise than it stands, and by path why one cannot be."""
    changes: list[Change] = []
    wrong: dict[str, str] = {}
    for path in _paths(design):
        text = posted.get(path, "").strip()
        if path not in posted or text == _typed(design, path, system):
            continue
        try:
            changes += [Change(c.path, c.value, "measured") for c in changes_from_text(design, path, text, system)]
        except RefusedInputError as error:
            wrong[path] = str(error)
    return changes, wrong


def _paths(design: Design) -> list[str]:
    """Every field of the grid in the order Tab goes; a fitted leg takes up what is left and is not typed."""
    return [
        f"run.{line}.{leg.id}.{name}"
        for line in ("cold", "hot")
        for leg in getattr(design.run, line)
        if not leg.fitted
        for name in COLUMNS
    ]


def grid_context(sheet: Sheet, posted: Mapping[str, str], wrong: Mapping[str, str]) -> dict[str, Any]:
    """The grid, with what was typed and what is wrong with it."""
    design, units = sheet.design, sheet.units

    def cell(line: str, leg: Any, name: str) -> Cell:
        path = f"run.{line}.{leg.id}.{name}"
        spec = locate(design, path).spec
        label = tr("{label} of {leg}, {line} line", label=spec.label, leg=leg.name or "the new leg", line=line)
        typed = posted.get(path, _typed(design, path, units))
        return Cell(path, label, typed, spec.choices, wrong.get(path, ""), spec.kind != "choice")

    rows = [
        {"line": line, "leg": leg, "cells": [] if leg.fitted else [cell(line, leg, name) for name in COLUMNS]}
        for line in ("cold", "hot")
        for leg in getattr(design.run, line)
    ]
    return {"grid": rows, "length_unit": unit_label("length", units), "columns": len(COLUMNS)}
