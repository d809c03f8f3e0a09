"""The job sheet: the whole plan on paper, drawings first, for the van, the file and the inspector."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.utils.safestring import SafeString

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.steps.commission.cautions import loop_cautions, site_cautions
from rowan.core.steps.parts.counting import MERCHANTS, by_place
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Figure
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown
from rowan.web.benches.bench import Block, Sheet
from rowan.web.benches.loop import bench_link, loop_drawing
from rowan.web.benches.sheet import sheet_of
from rowan.web.papers.sheets import Size, cited, guesses, on_paper, paper_context, pdf, usual_size
from rowan.web.plans.models import Plan
from rowan.web.steps.commission.bench import timer
from rowan.web.steps.registry import BENCHES
from rowan.web.steps.run.legs import leg_summary

KEY_FIGURES = (
    "aperture", "year_solar", "year_fraction", "litres_per_m2", "contents", "precharge", "fill", "stagnation_pressure",
    "flow", "frost_point", "start", "stop",
)  # fmt: skip
DRAWN = ("survey", "collector", "store", "roof", "run", "charge", "control")
MOST_PART_FIGURES = 8


@record
class Section:
    """One bench on paper: its verdict, drawings and figures."""

    name: str
    verdict: str
    drawings: list[tuple[str, SafeString, bool]]
    figures: list[Figure]

    @property
    def halves(self) -> list[list[tuple[str, SafeString]]]:
        """The drawings that stand side by side, in rows of two."""
        small = [(title, svg) for title, svg, half in self.drawings if half]
        return [small[at : at + 2] for at in range(0, len(small), 2)]


def _section(sheet: Sheet, key: str) -> Section:
    bench = BENCHES[key]
    blocks: list[Block] = [block for block in bench.blocks(sheet) if block.drawing is not None]
    return Section(
        bench.name,
        bench.verdict(sheet).text(sheet.units),
        [(block.title, on_paper(block.drawing), block.half) for block in blocks if block.drawing is not None],
        list(sheet.result.bench_figures(key))[:MOST_PART_FIGURES],
    )


def _legs(sheet: Sheet) -> list[dict[str, str]]:
    return [
        {
            "line": leg.line,
            "name": leg.name,
            "length": shown(leg.length, "length", sheet.units),
            "rise": tr("upright, fitted") if leg.fitted else shown(leg.rise, "length", sheet.units),
            "slope": shown(leg.slope, "share", sheet.units),
            "place": leg.place,
            "vent": leg_summary(sheet, leg.line, leg.id),
        }
        for leg in sheet.result.run.route.legs()
    ]


def _columns(items: Sequence[Any], count: int) -> list[Sequence[Any]]:
    """Items in columns, read down each: laid out once, where columns of the style are laid out again until they balance."""
    height = -(-len(items) // count)
    return [items[at : at + height] for at in range(0, len(items), height)]


def _chosen(design: Design, path: str) -> str:
    """The words of a choice as it stands."""
    found = locate(design, path)
    return found.spec.choice_label(found.value)


def sheet_context(plan: Plan, units: System, size: Size | None = None) -> dict[str, Any]:
    """Everything the job sheet prints."""
    sheet = sheet_of(plan, units)
    figures, parts, design = sheet.figures, sheet.result.parts.parts, sheet.design
    steps = [
        {"number": number, "step": step, "timer": timer(step.seconds)}
        for number, step in enumerate(sheet.result.commission.steps, 1)
    ]
    gauge, cutting = (BENCHES[key].blocks(sheet)[0].drawing for key in ("commission", "parts"))
    assert gauge is not None  # noqa: S101  both benches begin with a drawing
    assert cutting is not None  # noqa: S101
    return {
        **paper_context(plan, sheet, size or usual_size(units)),
        "loop": on_paper(loop_drawing(sheet, "", bench_link(plan.job_id, plan.letter))),
        "key_figures": [figures[key] for key in KEY_FIGURES if key in figures],
        "findings": sheet.findings,
        "sections": [_section(sheet, key) for key in DRAWN],
        "legs": _legs(sheet),
        "cutting": on_paper(cutting),
        "packing": [
            (place, [(part, MERCHANTS[part.merchant]) for part in found]) for place, found in by_place(parts).items()
        ],
        "loop_kind": _chosen(design, "charge.kind").split(":")[0],
        "duty": tr("{persons} people", persons=design.duty.persons.value)
        if design.taps
        else _chosen(design, "duty.kind"),
        "gauge": on_paper(gauge),
        "steps": steps,
        "guesses": guesses(sheet),
        "site_cautions": _columns(site_cautions(design), 2),
        "loop_cautions": _columns(loop_cautions(design), 2),
        "deference": caution("deference"),
        "sources": _columns(cited(sheet), 3),
    }


def job_sheet_pdf(plan: Plan, units: System, size: Size | None = None) -> bytes:
    """The job sheet as PDF. Raises PaperToolsMissingError where Pango is not installed."""
    return pdf("papers/job_sheet.html", sheet_context(plan, units, size))
