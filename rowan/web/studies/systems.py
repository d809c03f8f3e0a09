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
from rowan.web.ui.fit import lines_of
from rowan.web.ui.svg import Drawing

WIDTH = 656
COLUMN = 164.0
INNER = COLUMN - 18  # what a line has beside the edges of its column
LINE, GAP = 13.5, 9.0
MARKED, INK_PX = 17.0, 12.0  # what a finding's mark takes of a line; size of its letters
MAKE = {
    "sealed": "a sealed glycol loop",
    "drainback": "a drainback",
    "direct": "a direct loop",
    "thermosiphon": "a thermosiphon",
}
AGAINST_Y, YEAR, NAME_PX = 58.0, 183.0, 14.5  # where objections begin; how high a year's figures stand


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
    found = judged(sheet, outcomes)
    by_kind = {j.kind: j for j in found}
    most = max([j.year.saved for j in found if j.year] + [1.0])
    here = sheet.design.charge.kind.value
    # as high as the longest words of this language want it
    against = {j.kind: _against(sheet, j) for j in found}
    bar = max([AGAINST_Y + 118, *(AGAINST_Y + LINE * len(lines) + GAP for lines in against.values())])
    wants = {kind: lines_of(tr("wants: {parts}", parts=PARTS[kind]), INNER) for kind in KINDS}
    upkeep = {kind: lines_of(tr("looked after: {upkeep}", upkeep=UPKEEP[kind]), INNER) for kind in KINDS}
    wants_y = bar + YEAR + GAP
    upkeep_y = wants_y + LINE * max(map(len, wants.values())) + GAP
    height = upkeep_y + LINE * max(map(len, upkeep.values()))
    drawing = Drawing(WIDTH, height, "Kinds of system for this job", "systems", "systems")
    for i, kind in enumerate(KINDS):
        x = COLUMN * i
        if kind == here:
            drawing.rect(x, 0, COLUMN - 6, height, "wash")
            drawing.line((x, 1.5), (x + COLUMN - 6, 1.5), "head")
        for n, line in enumerate(lines_of(NAMES[kind], INNER, NAME_PX)):
            drawing.words((x + 8, 22 + 14 * n), line, "state-name")
        if kind == here:
            drawing.words((x + 8, 36 + 14 * (len(lines_of(NAMES[kind], INNER, NAME_PX)) - 1)), "this plan", "label")
        judgement = by_kind.get(kind)
        if judgement is None:
            drawing.words((x + 8, 60), "its year is being run", "place")
        else:
            _say(drawing, x, AGAINST_Y, against[kind])
            if judgement.year is not None and outcomes[i] is not None:
                _year(drawing, sheet, outcomes[i], (x, bar), most)
        for y, lines in ((wants_y, wants[kind]), (upkeep_y, upkeep[kind])):
            _say(drawing, x, y, [("label", "", line) for line in lines])
    whole = len(found) == len(KINDS)
    # what something stops is not offered: it can still be chosen in the sentence above, and says why
    fit = [j.kind for j in found if j.kind != here and all(o.level != "stop" for o in j.objections)]
    offers = tuple(Offer(tr("Make it {kind}", kind=MAKE[kind]), "charge.kind", kind) for kind in fit)
    return Told(recommendation(sheet.design, found) if whole else None, drawing, offers=offers)


def _against(sheet: Sheet, judgement: Judgement) -> list[tuple[str, str, str]]:
    """What speaks against a kind, in lines: their class, the level that begins with one, their words."""
    if judgement.refusal is not None:
        return [("label-ink", "", line) for line in lines_of(judgement.refusal.text(sheet.units), INNER, INK_PX)]
    if not judgement.objections:
        return [("label-leaf", "", line) for line in lines_of("nothing speaks against it", INNER, INK_PX)]
    return [
        ("label-ink", "" if n else objection.level, line)
        for objection in judgement.objections[:2]
        for n, line in enumerate(lines_of(objection.words.text(sheet.units), INNER - MARKED, INK_PX))
    ]


def _say(drawing: Drawing, x: float, y: float, lines: list[tuple[str, str, str]]) -> None:
    """Lines of a column, those of a finding beside its mark."""
    marked = any(level for _, level, _ in lines)
    for n, (cls, level, line) in enumerate(lines):
        if level:
            drawing.mark((x + 14, y + LINE * n - 4), level, 12)
        drawing.words((x + 8 + MARKED * marked, y + LINE * n), line, cls)


def _year(drawing: Drawing, sheet: Sheet, outcome: Outcome | None, at: tuple[float, float], most: float) -> None:
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
    x, top = at
    drawing.rect(x + 8, top, (COLUMN - 24) * max(year.saved, 0.0) / most, 10, "bar")
    for n, (value, unit, name) in enumerate(rows):
        y = top + 28 + 31 * n
        drawing.figure((x + 8, y), value, unit, "fig-key")
        drawing.words((x + 8, y + 12), name, "label")


SYSTEMS = RunKind("systems", "Kinds of system", variants, tell, count=lambda _: len(KINDS))
