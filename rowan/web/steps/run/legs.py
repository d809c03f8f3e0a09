"""The legs of the route as a table: what each is like, what it loses and how far it grows, and the buttons that change the line."""

from __future__ import annotations

from typing import Any

from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.editing.blanks import Blank, blank

FITTINGS = ("bends", "tees", "valves")
ONE = {"bends": "1 bend", "tees": "1 tee", "valves": "1 valve"}


def leg_rows(sheet: Sheet, refused: Blank | None) -> list[dict[str, Any]]:
    """The table of the route, leg by leg in flow order."""
    run, units = sheet.result.run, sheet.units
    rows = []
    for loss in run.loss.legs:
        leg = loss.leg
        base = f"run.{leg.line}.{leg.id}"

        def cell(name: str, base: str = base) -> Blank:
            path = f"{base}.{name}"
            return refused if refused and refused.path == path else blank(sheet.design, path, units)

        main = {name: cell(name) for name in ("length_m", "rise_m", "place")}
        own = _own_names(leg.depth is not None, is_open(sheet, f"{leg.line}-{leg.id}", refused, base))
        more, ground, entry = ({name: cell(name) for name in names} for names in own)
        rows.append(
            {
                # what its row shows of it: where it lies changes with every leg before it
                "leg": {"line": leg.line, "id": leg.id, "name": leg.name, "fitted": leg.fitted},
                "key": f"{leg.line}-{leg.id}",
                "main": main,
                "more": more,
                "ground": ground,
                "entry": entry,
                "cells": [*main.values(), *more.values(), *ground.values(), *entry.values()],
                "slope": "" if leg.fitted else shown(leg.slope, "share_fine", units),
                "loss": shown(loss.heat, "heat_rate", units),
                "growth": shown(loss.growth, "growth", units),
                "summary": leg_summary(sheet, leg.line, leg.id),
                "open": bool(more),
            }
        )
    return rows


TRENCH = ("depth_m", "duct", "ends_sealed", "from_a_m", "from_b_m")


def _own_names(buried: bool, opened: bool) -> tuple[tuple[str, ...], ...]:
    """What a leg has of its own, what it has in the ground, and where it enters it; nothing until somebody looks."""
    if not opened:
        return (), (), ()
    more = ("pipe", "insulation_m", *FITTINGS, "vented")
    return (more, TRENCH, ()) if buried else (more, (), TRENCH[-2:])


def is_open(sheet: Sheet, key: str, refused: Blank | None, base: str) -> bool:
    """Whether a leg's own inputs are shown: it was asked for, or one of them was refused."""
    return sheet.look.leg == key or (refused is not None and refused.path.startswith(f"{base}."))


def leg_summary(sheet: Sheet, line: str, key: str) -> str:
    """What a leg has of its own, in a few words."""
    legs = sheet.design.run.cold if line == "cold" else sheet.design.run.hot
    leg = next(entry for entry in legs if entry.id == key)
    words = []
    if leg.pipe is not None:
        words.append(leg.pipe.name)
    if any(found.by_roof and found.id == key for found in getattr(sheet.result.run.route, line)):
        words.append(tr("by the field's place"))
    if leg.insulation_m is not None:
        words.append(tr("lagging {thick}", thick=shown(leg.insulation_m, "pipe_size", sheet.units)))
    for name in FITTINGS:
        count = getattr(leg, name)
        if count:
            words.append(tr(ONE[name]) if count == 1 else tr("{count} {name}", count=count, name=name))
    if leg.vented:
        words.append(tr("vent"))
    if leg.place == "buried":
        words.append(tr("{deep} deep", deep=shown(leg.depth_m, "length", sheet.units)))
        words.append(tr("in a duct") if leg.duct else tr("in the soil"))
    return ", ".join(words) or tr("as the line")
