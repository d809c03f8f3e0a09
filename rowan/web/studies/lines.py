"""The run's year: what the lines lose on the way to the store, leg by leg, and what the pump takes."""

from __future__ import annotations

from rowan.core.studies.line_year import LineYear, line_year
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.svg import Drawing

WIDTH, ROW, TOP = 656, 24, 8
NAME, LEFT, RIGHT = 0.0, 210.0, 560.0
MOST_LEGS = 8


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan's own year."""
    return (Variant("this plan", sheet.design, 0),)


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A bar for each leg's loss, longest first."""
    found = outcomes[0]
    if found is None or found.year is None:
        return Told(None, waiting_drawing(sheet, found, "The run's year"))
    lines = line_year(sheet.result, found.year)
    runs = "The pump runs {h} and takes {p}." if sheet.design.pumped else "It flows by itself {h} a year."
    verdict = say(
        "Of what leaves the field {s} are lost on the way, {l} a year. {runs}",
        runs=runs,
        s=Quantity(lines.share_lost, "share"),
        l=Quantity(lines.lost, "energy"),
        h=Quantity(lines.running, "hours"),
        p=Quantity(lines.pump, "energy"),
    )
    note = say(
        "Line losses of the simulated year, cooling after each stop counted in; divided over the legs by what each lets through."
    )
    return Told(verdict, _legs_drawing(sheet, lines), (note,))


def waiting_drawing(sheet: Sheet, found: Outcome | None, title: str) -> Drawing:
    """The place of a drawing while its year is run, or why there is none."""
    drawing = Drawing(WIDTH, 40, title, "waiting", "waiting")
    refusal = found.refusal if found is not None else None
    words = "The year is being run." if refusal is None else refusal.text(sheet.units)
    drawing.words((NAME, 24), words, "label-ink")
    return drawing


def _legs_drawing(sheet: Sheet, lines: LineYear) -> Drawing:
    names = {(leg.line, leg.id): leg.name or leg.id for leg in sheet.result.run.route.legs()}
    ranked = sorted(lines.legs, key=lambda row: -row[2])
    rows = [
        (tr("{line} line, {names}", line=line, names=names[line, key]), lost, line)
        for line, key, lost in ranked[:MOST_LEGS]
    ]
    rest = sum(lost for _, _, lost in ranked[MOST_LEGS:])
    if rest > 0:
        rows.append((tr("{number} other legs", number=len(ranked) - MOST_LEGS), rest, "cold"))
    drawing = Drawing(WIDTH, TOP + ROW * len(rows) + 8, "Heat lost by leg in a year", "run-year", "run-year")
    most = max(lost for _, lost, _ in rows) or 1.0
    for number, (name, lost, line) in enumerate(rows):
        y = TOP + ROW * number + 12
        drawing.words((NAME, y + 4), name, "label-ink")
        drawing.rect(LEFT, y - 6, (RIGHT - LEFT) * lost / most, 12, "bar" if line == "hot" else "bar-slate")
        drawing.words((WIDTH - 4, y + 4), shown(lost, "energy", sheet.units), "fig", "end")
        drawing.line((0, y + 12), (WIDTH - 4, y + 12), "rule")
    return drawing


LINES = RunKind("lines", "What the run costs a year", variants, tell, count=lambda _: 1)
