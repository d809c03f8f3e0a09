"""Every function turned, one at a time, through the plan's year: what it brings, takes and wears."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.simulation.year import Year
from rowan.core.studies.trials import function_trials, most_telling
from rowan.core.terms.figure import Statement
from rowan.core.terms.units import KWH, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.lines import waiting_drawing
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.svg import Drawing

WIDTH, ROW, TOP = 656, 26.0, 40.0
MIDDLE, HALF = 318.0, 80.0
COLUMNS = ((470.0, "pump, kWh"), (560.0, "starts a day"), (648.0, "stands hot, h"))
SAME_KWH = 0.5


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan as it is, then each function turned."""
    trials = function_trials(sheet.design)
    return (
        Variant("the plan", sheet.design),
        *(Variant(trial.name, changed(sheet.design, trial.changes)) for trial in trials),
    )


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A row for each: heat saved against the plan as a bar to either side, then what the pump does."""
    plan = outcomes[0]
    if plan is None or plan.year is None:
        return Told(None, waiting_drawing(sheet, plan, "Functions through a year"))
    drawing = Drawing(WIDTH, TOP + ROW * len(outcomes) + 8, "Functions through a year", "functions", "functions")
    drawing.words((0, 14), "against the plan as it is, in a year", "label")
    drawing.words((MIDDLE, 28), "heat saved, kWh", "label", "middle")
    for x, name in COLUMNS:
        drawing.words((x, 28), name, "label", "end")
    gains = [_gain(plan.year, outcome) for outcome in outcomes]
    most = max([abs(gain) for gain in gains if gain is not None] + [1.0])
    drawing.line((MIDDLE, TOP - 4), (MIDDLE, TOP + ROW * len(outcomes)), "rule-ink")
    for number, outcome in enumerate(outcomes):
        y = TOP + ROW * number
        drawing.line((0, y + ROW - 6), (WIDTH, y + ROW - 6), "rule")
        if outcome is None:
            drawing.words((0, y + 13), "being run", "place")
            continue
        drawing.words((0, y + 13), outcome.variant.label, "fig-key" if number == 0 else "label-ink")
        if outcome.year is None:
            words = outcome.refusal.text(sheet.units) if outcome.refusal else "no year"
            drawing.words((MIDDLE + 8, y + 13), words[:50], "label")
            continue
        _row(drawing, plan.year if number else None, outcome.year, gains[number] or 0.0, (y, most))
    return Told(_verdict(outcomes, gains), drawing)


def _gain(plan: Year, outcome: Outcome | None) -> float | None:
    """What a variant saves more than the plan [kWh]."""
    return None if outcome is None or outcome.year is None else (outcome.year.saved - plan.saved) / KWH


def _row(drawing: Drawing, plan: Year | None, year: Year, gain: float, place: tuple[float, float]) -> None:
    y, most = place
    if plan is None:
        drawing.words((MIDDLE + 8, y + 13), number_text(year.saved / KWH, 0), "fig-key")
    else:
        wide = HALF * abs(gain) / most
        left = MIDDLE if gain >= 0 else MIDDLE - wide
        drawing.rect(left, y + 2, max(wide, 0.5), 13, "bar" if gain >= 0 else "bar-hatch")
        words = "as much" if abs(gain) < SAME_KWH else f"+{number_text(gain, 0)}" if gain > 0 else number_text(gain, 0)
        at = (MIDDLE + wide + 6, y + 13) if gain >= 0 else (MIDDLE - wide - 6, y + 13)
        drawing.words(at, words, "fig-minor halo", "" if gain >= 0 else "end")
    for (x, _), value, decimals in zip(
        COLUMNS,
        (year.total("electric") / KWH, year.starts_per_day, year.total("stagnation_time") / 3600),
        (1, 1, 0),
        strict=True,
    ):
        drawing.words((x, y + 13), number_text(value, decimals), "fig-minor", "end")


def _verdict(outcomes: Outcomes, gains: list[float | None]) -> Statement | None:
    """What the core says of them; nothing until all are there."""
    if any(outcome is None for outcome in outcomes):
        return None
    rows = [
        (gain * KWH, outcome.variant.label)
        for gain, outcome in zip(gains[1:], outcomes[1:], strict=True)
        if gain is not None and outcome is not None
    ]
    return most_telling(rows)


FUNCTIONS_YEAR = RunKind(
    "functions", "Each function through a year", variants, tell, "Run each function through a year, some seconds"
)
