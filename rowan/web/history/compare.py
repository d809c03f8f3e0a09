"""Plans of a job side by side: differences first."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import inputs
from rowan.core.design.design import Design
from rowan.core.terms.figure import Figure
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.benches.loop import bench_link, loop_drawing
from rowan.web.benches.sheet import sheet_of
from rowan.web.editing.blanks import entry_name, shown_value
from rowan.web.plans.models import Job
from rowan.web.steps.page import counts


def _same(texts: list[str]) -> bool:
    return len(set(texts)) == 1


def _in_the_sky(design: Design, path: str, units: System) -> str:
    """An obstacle or a point of the horizon with all that makes it."""
    _, rows, key, _ = path.split(".")
    if rows == "horizon":
        point = next(p for p in design.sun.horizon if p.id == key)
        return tr(
            "at {bearing_deg}° up to {elevation_deg}°",
            bearing_deg=f"{point.bearing_deg:g}",
            elevation_deg=f"{point.elevation_deg:g}",
        )
    o = next(o for o in design.sun.obstacles if o.id == key)
    sizes = [shown(value, "length", units) for value in (o.distance_m, o.width_m, o.height_m)]
    through = (
        tr(
            ", lets {leaf} % through in leaf, {bare} % bare",
            leaf=f"{100 * o.summer:.0f}",
            bare=f"{100 * o.winter:.0f}",
        )
        if o.kind == "tree"
        else ""
    )
    return tr(
        "at {bearing}°, {away} away, {wide} wide, {over} over the collectors{through}",
        bearing=f"{o.bearing_deg:g}",
        away=sizes[0],
        wide=sizes[1],
        over=sizes[2],
        through=through,
    )


def input_table(design: Design, units: System) -> dict[str, tuple[str, str]]:
    """Every input with its label and its value in words; a leg with all that makes it."""
    table = {}
    for found in inputs(design):
        if found.path.count(".") == 1:
            table[found.path] = (found.spec.label, shown_value(found, units))
    for found in inputs(design):
        if found.path.startswith("sun."):
            table[found.path] = (entry_name(design, found.path), _in_the_sky(design, found.path, units))
    for line in ("cold", "hot"):
        for leg in getattr(design.run, line):
            length, rise = shown(leg.length_m, "length", units), shown(leg.rise_m, "length", units)
            words = (
                "upright, fitted"
                if leg.fitted
                else tr(
                    "{length}, rises {rise}, {place}{vented}",
                    length=length,
                    rise=rise,
                    place=leg.place,
                    vented=", vented" if leg.vented else "",
                )
            )
            table[f"run.{line}.{leg.id}"] = (tr("{line} line, {leg}", line=line, leg=leg.name or leg.id), words)
    return table


def winner(row: list[Figure | None], texts: list[str]) -> int | None:
    """The column that is best in a row; None where there is no better, or two print alike."""
    values = [(figure.better * figure.value, i) for i, figure in enumerate(row) if figure is not None and figure.better]
    if len(values) < 2:
        return None
    best = max(values)[1]
    return best if texts.count(texts[best]) == 1 else None


def comparison(job: Job, units: System) -> dict[str, Any]:
    """The context of the comparison page."""
    plans = list(job.plans.all())
    sheets = [sheet_of(plan, units) for plan in plans]
    columns = [
        {
            "plan": plan,
            "counts": counts(sheet.findings),
            "findings": sheet.findings,
            "loop": loop_drawing(sheet, "", bench_link(job.pk, plan.letter)).svg(),
        }
        for plan, sheet in zip(plans, sheets, strict=True)
    ]
    tables = [input_table(sheet.design, units) for sheet in sheets]
    paths = list(dict.fromkeys(path for table in tables for path in table))
    differences = []
    for path in paths:
        texts = [table[path][1] if path in table else "none" for table in tables]
        if not _same(texts):
            differences.append({"label": next(table[path][0] for table in tables if path in table), "texts": texts})
    tables_of_figures = [sheet.figures for sheet in sheets]
    keys = list(dict.fromkeys(key for table in tables_of_figures for key in table))
    figures: list[dict[str, Any]] = []
    alike: list[dict[str, Any]] = []
    for key in keys:
        row: list[Figure | None] = [table.get(key) for table in tables_of_figures]
        named = next(f for f in row if f is not None)
        texts = [f.quantity.shown(units) if f else "–" for f in row]
        best = winner(row, texts)
        entry = {
            "name": named.name,
            "cells": [
                {"text": t, "inside": f.inside if f else True, "better": i == best}
                for i, (t, f) in enumerate(zip(texts, row, strict=True))
            ],
        }
        (alike if _same(texts) else figures).append(entry)
    return {"job": job, "columns": columns, "differences": differences, "figures": figures, "alike": alike}
