"""Plans of a job side by side: differences first."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import inputs
from rowan.core.figures import Figure
from rowan.core.reckon import reckon
from rowan.core.units import System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.blanks import shown_value
from rowan.web.benches.loop import bench_link, loop_drawing
from rowan.web.benches.page import counts
from rowan.web.jobs.models import Job
from rowan.web.jobs.services import design_of


def _same(texts: list[str]) -> bool:
    return len(set(texts)) == 1


def comparison(job: Job, units: System) -> dict[str, Any]:
    """The context of the comparison page."""
    plans = list(job.plans.all())
    designs = [design_of(plan.head) for plan in plans]
    results = [reckon(design) for design in designs]
    columns = [
        {
            "plan": plan, "counts": counts(result.findings), "findings": result.findings,
            "loop": loop_drawing(Sheet(design, result, units), "", bench_link(job.pk, plan.letter)).svg(),
        }
        for plan, design, result in zip(plans, designs, results, strict=True)
    ]  # fmt: skip
    tables = [{found.path: (found.spec.label, shown_value(found, units)) for found in inputs(design)} for design in designs]
    paths = list(dict.fromkeys(path for table in tables for path in table))
    differences = []
    for path in paths:
        texts = [table[path][1] if path in table else "none" for table in tables]
        if not _same(texts):
            label = next(table[path][0] for table in tables if path in table)
            where = path.split(".")
            name = f"{label}, {where[1]} line" if len(where) == 4 else label
            differences.append({"label": name, "bench": where[0], "texts": texts})
    keys = list(dict.fromkeys(key for result in results for key in result.figures))
    figures, alike = [], []
    for key in keys:
        row: list[Figure | None] = [result.figures.get(key) for result in results]
        named = next(f for f in row if f is not None)
        texts = [f.quantity.shown(units) if f else "–" for f in row]
        entry = {"name": named.name, "cells": [{"text": t, "inside": f.inside if f else True} for t, f in zip(texts, row, strict=True)]}
        (alike if _same(texts) else figures).append(entry)
    return {"job": job, "columns": columns, "differences": differences, "figures": figures, "alike": alike}
