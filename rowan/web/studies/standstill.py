"""The answer to standstill, chosen with its consequence: three ways side by side, each through its year."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.studies.standstill import (
    ANSWERS,
    FAILS,
    NAMES,
    WANTS,
    Standing,
    advice,
    answer_changes,
    chosen_answer,
    standing,
)
from rowan.core.terms.units import KWH, LITRE, number_text, shown
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.charts import broken
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 366
COLUMN, LETTERS, LINE = 219.0, 34, 13.5
ROW = 31.0


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan with each answer."""
    return tuple(Variant(NAMES[key], changed(sheet.design, answer_changes(sheet.design, key))) for key in ANSWERS)


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A column for each answer; the advice when all years are there."""
    drawing = Drawing(WIDTH, HEIGHT, "Answers to standstill", "standstill", "standstill")
    here = chosen_answer(sheet.design)
    found = [standing(sheet.design, key, sheet.result) for key in ANSWERS]
    for i, (answer, outcome) in enumerate(zip(found, outcomes, strict=True)):
        x = COLUMN * i
        if answer.key == here:
            drawing.rect(x, 0, COLUMN - 6, HEIGHT, "wash")
            drawing.line((x, 1.5), (x + COLUMN - 6, 1.5), "head")
        drawing.words((x + 8, 22), NAMES[answer.key], "state-name")
        if answer.key == here:
            drawing.words((x + 8, 36), "this plan", "label")
        _column(drawing, sheet, answer, outcome, x)
        for n, (head, text) in enumerate((("wants", WANTS), ("fails where", FAILS))):
            for k, line in enumerate(broken(f"{head}: {text[answer.key]}", LETTERS)[:3]):
                drawing.words((x + 8, 264 + 50 * n + LINE * k), line, "label")
    years = [o.year if o is not None else None for o in outcomes]
    whole = all(o is not None for o in outcomes)
    told = advice(sheet.result.collector.stagnation, list(zip(found, years, strict=True))) if whole else None
    return Told(told, drawing)


def _column(drawing: Drawing, sheet: Sheet, answer: Standing, outcome: Outcome | None, x: float) -> None:
    """What an answer comes to."""
    units = sheet.units
    if answer.refused is not None:
        for k, line in enumerate(broken(answer.refused.text(units), LETTERS)[:4]):
            drawing.words((x + 8, 60 + LINE * k), line, "label-berry")
        return

    def told(value: float | None, dimension: str, without: str) -> str:
        return without if value is None else shown(value, dimension, units)

    year = outcome.year if outcome is not None else None
    rows = [
        (told(answer.boils, "temperature", "–"), "boils on top, standing hot"),
        (told(answer.margin, "pressure", "opens"), "left to the relief"),
        (told(None if answer.needs_l is None else answer.needs_l * LITRE, "tank", "none fits"), "vessel it wants"),
        (shown(answer.reach, "length", units, 1), "steam reaches into the lines"),
    ]
    if year is not None:
        rows.append((f"{number_text(year.total('stagnation_time') / 3600, 0)} h", "stands hot a year"))
        rows.append((f"{number_text(year.total('dumped') / KWH, 0)} kWh", "dumped a year"))
    for n, (number, name) in enumerate(rows):
        y = 58 + ROW * n
        drawing.words((x + 8, y), number, "fig-key")
        drawing.words((x + 8, y + 12), name, "label")


STANDSTILL = RunKind("standstill", "The answer to standstill", variants, tell)
