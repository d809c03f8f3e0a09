"""The record of work on site as an inspector reads it: who, when, with what, every reading with target and verdict, handles as left,
what went otherwise and what was done, photographs, signatures, and the hash that any changed letter would change."""

from __future__ import annotations

import base64
from functools import partial
from typing import Any

from rowan.core.records.run import RunState
from rowan.core.steps.commission.valves import TAGS
from rowan.core.terms.units import System
from rowan.web.benches.bench import Sheet, sheet_from
from rowan.web.commissioning.desk import signatures, title_of, without_photo
from rowan.web.commissioning.handles import handles_drawing
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.record import hash_of, lines_of
from rowan.web.commissioning.services import reckoned_run, state_of
from rowan.web.papers.sheets import Size, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.plans.weather import measured_sky


def record_context(run: Run, units: System, size: Size | None) -> dict[str, Any]:
    """Everything the record prints."""
    plan, found, state = run.plan, reckoned_run(run), state_of(run)
    sheet: Sheet = sheet_from(found, units, measured_sky(found.design, plan.job.firm_id))
    left = state.steps[-1].step.valves
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "revision": run.revision,
        "run": run,
        "state": state,
        "title": title_of(state),
        "rows": [{"number": n, "one": one, "lines": lines_of(one, state, units)} for n, one in enumerate(state.steps, 1)],
        "handles": on_paper(handles_drawing(sheet, left, "Handles as left")) if left else "",
        "left": [(TAGS[valve], sheet.result.commission.graph.name(valve), left[valve]) for valve in sheet.result.commission.valves if valve in left],
        "signatures": signatures(state),
        "photos": _photos(run, state),
        "missing": without_photo(state),
        "hash": hash_of(run, state),
    }  # fmt: skip


def _photos(run: Run, state: RunState) -> list[dict[str, Any]]:
    """Each photograph, small, with its step; steps by their entries."""
    small = {photo.sha256: photo for photo in run.photos.defer("content")}
    return [
        {"step": one.step.name, "data": base64.b64encode(bytes(small[entry.text].small)).decode(), "at": entry.at}
        for one in state.steps
        for entry in one.photos
        if entry.text in small
    ]


def record_pdf(plan: Plan, units: System, size: Size | None = None, *, run: Run) -> bytes:
    """The record as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/run_record.html", record_context(run, units, size))


def record_of(run: Run) -> partial[bytes]:
    """The way to the record of one run."""
    return partial(record_pdf, run=run)
