"""Kinds of system side by side: what stops each, and what its year brings."""

from __future__ import annotations

from rowan.core.appraise.money import money_of
from rowan.core.studies.choices import with_kind
from rowan.core.studies.loop_kinds import KINDS, NAMES, PARTS, UPKEEP, Judgement, objections, recommendation
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, LITRE_H, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Offer, Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.charts import broken
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 452
COLUMN = 164.0
LETTERS = 25
LINE = 13.5
MAKE = {
    "sealed": "a sealed glycol loop",
    "drainback": "a drainback",
    "direct": "a direct loop",
    "thermosiphon": "a thermosiphon",
}
BAR_Y, WANTS_Y, UPKEEP_Y = 176.0, 364, 414


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan as each kind of loop, with the flow it has."""
    flow = sheet.result.run.flow if sheet.design.pumped else sheet.design.run.flow_l_h.value * LITRE_H
    return tuple(Variant(kind, with_kind(sheet.design, kind), flow=flow) for kind in KINDS)


def judged(sheet: Sheet, outcomes: Outcomes) -> list[Judgement]:
    """What is known of each kind so far."""
    found = []
    for kind, outcome in zip(KINDS, outcomes, strict=True):
        if outcome is not None:
            against = objections(sheet.design, sheet.result, kind)
            found.append(Judgement(kind, against, outcome.year, outcome.refusal))
    return found


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A column for each kind; the recommendation when all four years are there."""
    drawing = Drawing(WIDTH, HEIGHT, "Kinds of system for this job", "systems", "systems")
    found = judged(sheet, outcomes)
    by_kind = {j.kind: j for j in found}
    most = max([j.year.saved for j in found if j.year] + [1.0])
    here = sheet.design.charge.kind.value
    for i, kind in enumerate(KINDS):
        x = COLUMN * i
        if kind == here:
            drawing.rect(x, 0, COLUMN - 6, HEIGHT, "wash")
            drawing.line((x, 1.5), (x + COLUMN - 6, 1.5), "head")
        drawing.words((x + 8, 22), NAMES[kind], "state-name")
        if kind == here:
            drawing.words((x + 8, 36), "this plan", "label")
        judgement = by_kind.get(kind)
        if judgement is None:
            drawing.words((x + 8, 60), "its year is being run", "place")
        else:
            _against(drawing, sheet, judgement, x)
            if judgement.year is not None and outcomes[i] is not None:
                _year(drawing, sheet, outcomes[i], x, most)
        _lines(drawing, x, WANTS_Y, "wants", PARTS[kind])
        _lines(drawing, x, UPKEEP_Y, "looked after", UPKEEP[kind])
    whole = len(found) == len(KINDS)
    # what something stops is not offered: it can still be chosen in the sentence above, and says why
    fit = [j.kind for j in found if j.kind != here and all(o.level != "stop" for o in j.objections)]
    offers = tuple(Offer(tr("Make it {kind}", kind=MAKE[kind]), "charge.kind", kind) for kind in fit)
    return Told(recommendation(sheet.design, found) if whole else None, drawing, offers=offers)


def _against(drawing: Drawing, sheet: Sheet, judgement: Judgement, x: float) -> None:
    if judgement.refusal is not None:
        for k, line in enumerate(broken(judgement.refusal.text(sheet.units), LETTERS)):
            drawing.words((x + 8, 60 + LINE * k), line, "label-ink")
        return
    y = 58.0
    if not judgement.objections:
        drawing.words((x + 8, y), "nothing speaks against it", "label-leaf")
    for objection in judgement.objections[:2]:
        drawing.mark((x + 14, y - 4), objection.level, 12)
        for line in broken(objection.words.text(sheet.units), LETTERS)[:5]:
            drawing.words((x + 25, y), line, "label-ink")
            y += LINE
        y += 3


def _year(drawing: Drawing, sheet: Sheet, outcome: Outcome | None, x: float, most: float) -> None:
    """A kind's year: its heat as a bar, how long it stands hot, what it takes, what it costs."""
    if outcome is None or outcome.year is None:
        return
    year = outcome.year
    money = money_of(outcome.variant.design, year, price=outcome.price)
    currency = sheet.design.money.currency.value
    taken = (
        (year.total("frost"), "frost protection takes")
        if year.total("frost") > 0
        else (year.total("electric"), "pump takes")
    )
    rows = (
        (number_text(year.saved / KWH, 0), "kWh a year", "heat saved"),
        (number_text(year.total("stagnation_time") / 3600, 0), "h a year", "stands hot"),
        (number_text(taken[0] / KWH, 0), "kWh a year", taken[1]),
        (number_text(outcome.price, 0), currency, "costs"),
        (
            "–" if money.per_kwh is None else number_text(money.per_kwh, 2),
            f"{currency} a kWh",
            "its heat, over the life",
        ),
    )
    top = BAR_Y
    drawing.rect(x + 8, top, (COLUMN - 24) * max(year.saved, 0.0) / most, 10, "bar")
    for n, (value, unit, name) in enumerate(rows):
        y = top + 28 + 31 * n
        drawing.figure((x + 8, y), value, unit, "fig-key")
        drawing.words((x + 8, y + 12), name, "label")


def _lines(drawing: Drawing, x: float, y: float, head: str, text: str) -> None:
    lines = broken(f"{head}: {text}", LETTERS + 3)
    for k, line in enumerate(lines[:3]):
        drawing.words((x + 8, y + LINE * k), line, "label")


SYSTEMS = RunKind("systems", "Kinds of system", variants, tell)
