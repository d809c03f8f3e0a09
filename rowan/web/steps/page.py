"""Everything a bench page shows, read from one design and one reckoning."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.utils.safestring import SafeString

from rowan.core.design.relevance import relevant
from rowan.core.steps.charge.pressures import school_words
from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.steps.roof.holes import LINES
from rowan.core.studies.cures import HUNTS, Effect
from rowan.core.studies.moved_figures import difference
from rowan.core.terms.finding import LEVELS, Cure, Finding, gravest
from rowan.core.terms.language import spoken, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.web.benches.bench import NO_LOOK, STEPS, Bench, Block, Look, Sheet, sheet_from
from rowan.web.benches.loop import bench_link, loop_drawing, loop_strip
from rowan.web.editing.blanks import Blank, blank, sentence
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.proposals import change_count, plans_and_waiting
from rowan.web.plans.reckoned import Reckoned, content_of, last_shown, note_shown, reckoned
from rowan.web.plans.services import LETTERS
from rowan.web.plans.weather import measured_sky
from rowan.web.steps.registry import BENCHES
from rowan.web.steps.run.legs import leg_rows
from rowan.web.steps.schools import WITH_SCHOOLS
from rowan.web.steps.study_registry import RUNS
from rowan.web.studies.beside import workshop
from rowan.web.studies.kinds import Place, RunView, run_view
from rowan.web.ui.addresses import address
from rowan.web.ui.shelf import Shelf
from rowan.web.ui.window_bar import WindowBar, window_bar

# pages of a plan that are no bench
BESIDE = {
    "schools": "steps:schools",
    "datasheet": "steps:datasheet",
    "store_sheet": "steps:store_sheet",
    "vessel_sheet": "steps:vessel_sheet",
    "climate": "steps:climate",
    "measure": "steps:measure",
    "found": "steps:found",
    "sensors": "steps:sensors",
    "wiring": "steps:wiring",
    "live": "care:live",
    "as_left": "care:as_left",
    "by_hand": "care:by_hand",
    "runs": "commissioning:runs",
    "reading": "steps:reading",
    "pump": "steps:pump",
    "grid": "steps:legs",
    "assumed": "steps:assumed",
    "history": "history:revisions",
    "papers": "papers:papers",
}
CALMS = ("control", "functions")  # pages that offer what would calm a pump
MOST_PLANS = len(LETTERS)
LEAD_ROWS = 7  # figures shown before the rest is folded
DrawnBlock = tuple[Block, SafeString]
DRAWN_BYTES = 8_000_000  # of a process, some eighty benches
DRAWN = Shelf[list[DrawnBlock]](DRAWN_BYTES, lambda blocks: sum(len(svg) for _, svg in blocks))


@record
class CureView:
    """A cure as a button with its price beside it."""

    index: int
    cure: Cure
    effect: Effect | None

    @property
    def offered(self) -> bool:
        """Whether it is shown: one that has been tried and does not cure is not."""
        return self.effect is None or self.effect.cures


@record
class FindingView:
    """A finding with its cures and what each would do."""

    finding: Finding
    cures: list[CureView]


@record
class Step:
    """One span of the tape."""

    key: str
    name: str
    built: bool
    open: bool
    worst: str


@record
class Refusal:
    """An edit that was not taken: the input with what was typed, or a notice above the bench."""

    blank: Blank | None = None
    notice: str = ""
    typed: str = ""
    path: str = ""
    # where what both changed is laid side by side
    merge: str = ""


def finding_views(found: Reckoned, sheet: Sheet, findings: tuple[Finding, ...], *, at_once: bool) -> list[FindingView]:
    """Findings with the effect of each cure; `at_once` those alone that are known already."""

    def effect(finding: Finding, index: int) -> Effect | None:
        if at_once:
            return found.kept_effect(finding, index)
        return found.effect(finding, index, sheet.measured)

    return [
        FindingView(
            finding,
            [view for i, cure in enumerate(finding.cures) if (view := CureView(i, cure, effect(finding, i))).offered],
        )
        for finding in findings
    ]


def tape(findings: tuple[Finding, ...], open_key: str) -> list[Step]:
    """The twelve steps with the worst mark of each."""
    return [
        Step(
            key,
            name,
            key in BENCHES or key in BESIDE_STEPS,
            key == open_key,
            gravest([f for f in findings if f.stage == key]) or "",
        )
        for key, name in STEPS
    ]


# steps of the tape that are pages of their own, by the name of their address
BESIDE_STEPS = {"handover": "handover:bench", "care": "care:bench"}


def counts(findings: tuple[Finding, ...]) -> str:
    """How many findings of each level, in words."""
    parts = [(sum(f.level == level for f in findings), level) for level in LEVELS]
    return " · ".join(f"{n} {tr(level)}" for n, level in parts if n) or tr("nothing found")


def page_address(plan: Plan, key: str) -> str:
    """Where a page of a plan stands: a bench, or one of the pages beside them."""
    if key in BESIDE_STEPS:
        return address(BESIDE_STEPS[key], plan.job_id, plan.letter)
    if key in BESIDE:
        return address(BESIDE[key], plan.job_id, plan.letter)
    return address("steps:bench", plan.job_id, plan.letter, key)


def _gravest_address(plan: Plan, findings: tuple[Finding, ...]) -> str:
    """Where the gravest finding stands; the plan's first bench where there is none."""
    found = next((f for f in findings if f.stage in BENCHES), None)
    if found is None:
        return page_address(plan, next(iter(BENCHES)))
    return f"{page_address(plan, found.stage)}#finding-{found.key}"


def frame(plan: Plan, revision: Revision, sheet: Sheet, bench_key: str) -> dict[str, Any]:
    """What every page of a plan shows around its middle."""
    link = bench_link(plan.job_id, plan.letter)
    plans, waiting = plans_and_waiting(plan)
    input_count, assumed_count = sheet.counted
    return {
        "plan": plan,
        "job": plan.job,
        "revision": revision,
        "plans": plans,
        "bench_key": bench_key,
        "pumped": sheet.design.pumped,
        "same_bench": bench_key if bench_key in BENCHES else "charge",
        "tape": [
            (step, page_address(plan, step.key) if step.built else "") for step in tape(sheet.findings, bench_key)
        ],
        "assumed_count": assumed_count,
        "input_count": input_count,
        "all_counts": counts(sheet.findings),
        "findings_address": _gravest_address(plan, sheet.findings),
        "loop": loop_drawing(sheet, bench_key, link).svg(),
        "strip": loop_strip(sheet, bench_key, link),
        "can_copy": len(plans) < MOST_PLANS,
        **_proposals(plan, waiting),
        "here": page_address(plan, bench_key),
        "set_address": address("steps:set", plan.job_id, plan.letter),
        "slip_address": address("steps:slip", plan.job_id, plan.letter),
        "entries_address": address("steps:entries", plan.job_id, plan.letter),
        "cure_address": address("steps:cure", plan.job_id, plan.letter),
    }


def _proposals(plan: Plan, waiting: list[Plan]) -> dict[str, Any]:
    """Of a proposal what it changes; of a plan what waits to be taken."""
    if plan.proposal_of_id is not None:
        return {"proposal": plan, "proposed_count": change_count(plan)}
    return {"proposals": waiting}


def bench_page(
    plan: Plan,
    bench: Bench,
    units: System,
    refusal: Refusal | None = None,
    look: Look = NO_LOOK,
    *,
    saved: Revision | None = None,
) -> dict[str, Any]:
    """The context of a bench page. Right after a change was `saved` it waits for no year: the one before stands in, and
    the page asks again."""
    revision = saved or plan.head
    found = reckoned(revision)
    design, result = found.design, found.result
    before = _state_before(plan, revision) if saved else None
    measured = measured_sky(design, plan.job.firm_id)
    shown = last_shown(plan.pk) if before else None
    waits = saved is None and bench.key in CALMS
    sheet = sheet_from(found, units, measured, look, before=before, shown=shown, cures=waits)
    if not sheet.year_is_old:
        note_shown(plan.pk, found)
    refused = refusal.blank if refusal else None
    here = tuple(f for f in sheet.findings if f.stage == (bench.of or bench.key))
    findings = tuple(f for f in here if not bench.findings or f.key in bench.findings)
    views = finding_views(found, sheet, findings, at_once=saved is not None)
    return {
        **frame(plan, revision, sheet, bench.key),
        **_inputs(bench, sheet, refused),
        **_figures(bench, sheet),
        "bench": bench,
        "sheet": sheet,
        "verdict": bench.verdict(sheet),
        "blocks": [(block, _run(plan, sheet, block), svg) for block, svg in _blocks(bench, sheet, revision)],
        "findings": views,
        "year_is_old": sheet.year_is_old,
        "cautions": bench_cautions(design, bench.key),
        "unchecked": result.collector.unchecked if bench.key == "collector" else None,
        "later": sheet.year_is_old
        or any(cure.effect is None for view in views for cure in view.cures)
        or (not waits and any(f.key in HUNTS for f in findings)),
        "counts": counts(findings),
        "refusal": refusal,
        "schools": [(view.school, school_words(school=view.school)) for view in result.sealed.schools]
        if design.sealed
        else [],
        "school": design.charge.school.value,
        "legs": leg_rows(sheet, refused) if bench.key == "run" else [],
        "leg_lines": LINES,
        "look": look,
        "with_schools": WITH_SCHOOLS,
        "has_tank": not design.own_store,
        **bench.context(sheet),
    }


def _inputs(bench: Bench, sheet: Sheet, refused: Blank | None) -> dict[str, Any]:
    """The sentence, and the inputs of this job that stand behind it."""
    design, units = sheet.design, sheet.units
    line = sentence(bench.line(sheet), design, units, refused)
    in_line = {part.path for part in line if isinstance(part, Blank)}
    more = [
        refused if refused and refused.path == path else blank(design, path, units)
        for path in bench.more
        if path not in in_line and relevant(design, path)
    ]
    return {"line": line, "more": more, "more_open": any(b.open for b in more)}


def _figures(bench: Bench, sheet: Sheet) -> dict[str, Any]:
    """The reckoning column: what is out of its window comes first."""
    shown = sheet.result.bench_figures(bench.of or bench.key)
    asked = tuple(f for f in shown if not bench.figures or f.key in bench.figures)
    yearly = sheet.appraisal.figures if bench.yearly else ()
    figures = sorted((*yearly, *asked), key=lambda f: f.inside)
    old = {f.key for f in yearly} if sheet.year_is_old else set()
    rows: list[tuple[Any, WindowBar | None, bool]] = [(f, window_bar(f, sheet.units), f.key in old) for f in figures]
    return {
        "rows": rows,
        "lead_rows": LEAD_ROWS + 1,
        "other_rows": max(0, len(rows) - LEAD_ROWS),
    }


def _state_before(plan: Plan, revision: Revision) -> Reckoned | None:
    """The state before; None for the first."""
    before = revision.follows or plan.revisions.filter(number=revision.number - 1).first()
    return None if before is None else reckoned(before)


MOST_TOLD = 2  # figures that are said aloud after a change


def told(sheet: Sheet, bench: Bench) -> str:
    """What the newest change did, in a line for those who hear the page: figures it moved, this bench's first and the most
    telling first, then findings come and gone."""
    if sheet.before is None:
        return ""
    # neither state is made to run its year for a sentence
    older = sheet_from(sheet.before, sheet.units, sheet.measured, before=sheet.before, shown=sheet.shown)
    moved = difference(older, sheet)
    here = {figure.key for figure in sheet.result.bench_figures(bench.of or bench.key)}
    units = sheet.units
    first = sorted((m for m in moved.moved if m.after is not None), key=lambda m: m.key not in here)
    parts = [f"{m.name} {m.after.shown(units)}" for m in first[:MOST_TOLD] if m.after is not None]
    parts += [tr("new {level}: {units}", level=f.level, units=f.title.text(units)) for f in moved.came]
    parts += [f"gone: {f.title.text(units)}" for f in moved.went]
    return "; ".join(parts) or "Saved; no figure moved"


def run_page(plan: Plan, sheet: Sheet, key: str, begin: bool) -> RunView:
    """A run of a plan as a page shows it."""
    kind, _ = RUNS[key]
    return run_view(kind, sheet, _desk(plan), address("steps:run", plan.job_id, plan.letter, key), begin)


def leave_runs(plan: Plan) -> None:
    """After a change: runs that begin by themselves, of the state before, end; they would take the processor from the next change."""
    workshop().leave(tuple(_desk(plan).of(kind) for kind, _ in RUNS.values() if kind.by_itself))


def _desk(plan: Plan) -> Place:
    return Place(f"{plan.pk}", plan.job.firm_id)


def _made_of(sheet: Sheet, revision: Revision) -> tuple[object, ...] | None:
    """Everything a drawing of a plan's state is made of; None where another state's year stands in for its own."""
    if sheet.year_is_old:
        return None
    measured = sheet.measured.digest if sheet.measured else ""
    return content_of(revision), measured, sheet.units, spoken(), sheet.look, sheet.cures


def _blocks(bench: Bench, sheet: Sheet, revision: Revision) -> list[DrawnBlock]:
    """What a bench shows, drawings written out; of a state that was shown before it is kept."""

    def make() -> list[DrawnBlock]:
        return [
            (replace(block, drawing=None), block.drawing.svg() if block.drawing else SafeString())
            for block in bench.blocks(sheet)
        ]

    made_of = _made_of(sheet, revision)
    return make() if made_of is None else DRAWN.get((*made_of, bench.key), make)


def _run(plan: Plan, sheet: Sheet, block: Block) -> RunView | None:
    return run_page(plan, sheet, block.run, begin=False) if block.run else None
