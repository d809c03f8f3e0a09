"""Plans of a job side by side: differences first."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import inputs
from rowan.core.design.design import Design
from rowan.core.figures import Figure
from rowan.core.units import System, shown
from rowan.web.benches.bench import Sheet
from rowan.web.benches.blanks import shown_value
from rowan.web.benches.loop import bench_link, loop_drawing
from rowan.web.benches.page import counts
from rowan.web.jobs.models import Job
from rowan.web.jobs.reckoned import reckoned


def _same(texts: list[str]) -> bool:
    return len(set(texts)) == 1


def input_table(design: Design, units: System) -> dict[str, tuple[str, str]]:
    """Every input with its label and its value in words; a leg with all that makes it."""
    table = {}
    for found in inputs(design):
        if found.path.count(".") == 1:
            table[found.path] = (found.spec.label, shown_value(found, units))
    for line in ("cold", "hot"):
        for leg in getattr(design.run, line):
            length, rise = shown(leg.length_m, "length", units), shown(leg.rise_m, "length", units)
            words = (
                "upright, fitted"
                if leg.fitted
                else f"{length}, rises {rise}, {leg.place}{', vented' if leg.vented else ''}"
            )
            table[f"run.{line}.{leg.id}"] = (f"{line} line, {leg.name or leg.id}", words)
    return table


def comparison(job: Job, units: System) -> dict[str, Any]:
    """The context of the comparison page."""
    plans = list(job.plans.all())
    found = [reckoned(plan.head) for plan in plans]
    designs, results = [f.design for f in found], [f.result for f in found]
    columns = [
        {
            "plan": plan,
            "counts": counts(result.findings),
            "findings": result.findings,
            "loop": loop_drawing(Sheet(design, result, units), "", bench_link(job.pk, plan.letter)).svg(),
        }
        for plan, design, result in zip(plans, designs, results, strict=True)
    ]
    tables = [input_table(design, units) for design in designs]
    paths = list(dict.fromkeys(path for table in tables for path in table))
    differences = []
    for path in paths:
        texts = [table[path][1] if path in table else "none" for table in tables]
        if not _same(texts):
            differences.append({"label": next(table[path][0] for table in tables if path in table), "texts": texts})
    keys = list(dict.fromkeys(key for result in results for key in result.figures))
    figures: list[dict[str, Any]] = []
    alike: list[dict[str, Any]] = []
    for key in keys:
        row: list[Figure | None] = [result.figures.get(key) for result in results]
        named = next(f for f in row if f is not None)
        texts = [f.quantity.shown(units) if f else "–" for f in row]
        entry = {
            "name": named.name,
            "cells": [{"text": t, "inside": f.inside if f else True} for t, f in zip(texts, row, strict=True)],
        }
        (alike if _same(texts) else figures).append(entry)
    return {"job": job, "columns": columns, "differences": differences, "figures": figures, "alike": alike}
