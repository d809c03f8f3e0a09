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
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, LITRE, number_text, shown
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.fit import lines_of
from rowan.web.ui.svg import Drawing

WIDTH = 656
COLUMN, LINE = 219.0, 13.5
INNER = COLUMN - 18
WORDS_Y, ROW, GAP = 264.0, 31.0, 9.0


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan with each answer."""
    return tuple(Variant(NAMES[key], changed(sheet.design, answer_changes(sheet.design, key))) for key in ANSWERS)


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A column for each answer; the advice when all years are there. What each comes to is reckoned once its year is there: each
    reckons its charge anew, and a page that only announces the run need not wait for it."""
    here = chosen_answer(sheet.design)
    found = [standing(sheet.design, key, sheet.result) if o else None for key, o in zip(ANSWERS, outcomes, strict=True)]
    # as high as the longest words of this language want it
    wants = {key: lines_of(tr("wants: {wants}", wants=WANTS[key]), INNER) for key in ANSWERS}
    fails = {key: lines_of(tr("fails where: {fails}", fails=FAILS[key]), INNER) for key in ANSWERS}
    fails_y = WORDS_Y + LINE * max(map(len, wants.values())) + GAP
    height = fails_y + LINE * max(map(len, fails.values()))
    drawing = Drawing(WIDTH, height, "Answers to standstill", "standstill", "standstill")
    for i, (key, answer, outcome) in enumerate(zip(ANSWERS, found, outcomes, strict=True)):
        x = COLUMN * i
        if key == here:
            drawing.rect(x, 0, COLUMN - 6, height, "wash")
            drawing.line((x, 1.5), (x + COLUMN - 6, 1.5), "head")
        drawing.words((x + 8, 22), NAMES[key], "state-name")
        if key == here:
            drawing.words((x + 8, 36), "this plan", "label")
        if answer is None:
            drawing.words((x + 8, 60), "its year is being run", "place")
        else:
            _column(drawing, sheet, answer, outcome, x)
        for y, lines in ((WORDS_Y, wants[key]), (fails_y, fails[key])):
            for k, line in enumerate(lines):
                drawing.words((x + 8, y + LINE * k), line, "label")
    stood = [
        (answer, o.year) for answer, o in zip(found, outcomes, strict=True) if answer is not None and o is not None
    ]
    told = advice(sheet.result.collector.stagnation, stood) if len(stood) == len(ANSWERS) else None
    return Told(told, drawing)


def _column(drawing: Drawing, sheet: Sheet, answer: Standing, outcome: Outcome | None, x: float) -> None:
    """What an answer comes to."""
    units = sheet.units
    if answer.refused is not None:
        for k, line in enumerate(lines_of(answer.refused.text(units), INNER)):
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


STANDSTILL = RunKind("standstill", "The answer to standstill", variants, tell, count=lambda _: len(ANSWERS))
