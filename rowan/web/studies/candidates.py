"""Candidates: every collector of the catalogue in this plan's place, through this plan's year."""

from __future__ import annotations

from rowan.core.appraise.money import Money, electricity, money_of
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.studies.candidates import Candidate, advice
from rowan.core.studies.choices import with_collector
from rowan.core.terms.figure import Statement
from rowan.core.terms.finding import Finding, in_order
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, LITRE_H, dimension, number_text, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Offer, Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.fit import lines_of
from rowan.web.ui.svg import Drawing

WIDTH, ROW, HEAD = 656, 44.0, 22.0
BAR_X, BAR = 158.0, 150.0
MONEY_X, MONEY = 366.0, 70.0
NOTE_X = 486.0


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan as it is, then the others with about its aperture and their own flow."""
    chosen = sheet.design.collector.item.value
    found = [Variant(chosen.name, sheet.design)]
    for name, item in COLLECTORS.items():
        if name != chosen.name:
            design = with_collector(sheet.design, item)
            found.append(Variant(name, design, flow=design.run.flow_l_h.value * LITRE_H))
    return tuple(found)


def _count(sheet: Sheet) -> int:
    return len({sheet.design.collector.item.value.name, *COLLECTORS})


def _gravest(outcome: Outcome) -> Finding | None:
    found = in_order([f for f in outcome.findings if f.stage == "collector"])
    return found[0] if found else None


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """A row for each: heat by aperture, money for a kWh, what speaks against it."""
    drawing = Drawing(WIDTH, HEAD + ROW * len(outcomes) + 6, "A year of each candidate", "candidates", "candidates")
    units = sheet.units
    drawing.words(
        (BAR_X, 12),
        tr("heat saved a year, {unit_label} of aperture", unit_label=unit_label("irradiation", units)),
        "label",
    )
    drawing.words((MONEY_X, 12), f"{sheet.design.money.currency.value} a kWh", "label")
    worths = [money_of(o.variant.design, o.year, price=o.price) if o and o.year else None for o in outcomes]
    heats = [o.year.saved / o.variant.design.area_m2 if o and o.year else 0.0 for o in outcomes]
    # what its own electricity pays for has no bar
    costs = [w.per_kwh for w in worths if w and w.per_kwh is not None and w.per_kwh > 0]
    tops = (max([*heats, 1.0]), min(max([*costs, 1e-9]), 4 * min([*costs, 1e9])))
    for i, outcome in enumerate(outcomes):
        _row(drawing, sheet, outcome, worths[i], (HEAD + ROW * i, heats[i], *tops), chosen=i == 0)
    offers = tuple(
        Offer(tr("Take {label}", label=o.variant.label), "collector.item", o.variant.label)
        for o in outcomes[1:]
        if o is not None and o.year is not None and not ((g := _gravest(o)) and g.level == "stop")
    )
    return Told(_verdict(outcomes, worths), drawing, offers=offers)


def _row(
    drawing: Drawing,
    sheet: Sheet,
    outcome: Outcome | None,
    money: Money | None,
    at: tuple[float, float, float, float],
    *,
    chosen: bool,
) -> None:
    y, heat, most_heat, most_cost = at
    drawing.line((0, y + ROW - 4), (WIDTH, y + ROW - 4), "rule")
    if outcome is None:
        drawing.words((BAR_X, y + 20), "its year is being run", "place")
        return
    item = outcome.variant.design.collector.item.value
    drawing.words((0, y + 17), item.name, "fig" if chosen else "label-ink")
    drawing.words(
        (0, y + 32),
        tr("{count} of them, {kind}", count=outcome.variant.design.collector.count.value, kind=item.kind),
        "label",
    )
    if outcome.year is None or money is None:
        drawing.words((BAR_X, y + 20), outcome.refusal.text(sheet.units) if outcome.refusal else "no year", "label")
        return
    unit = dimension("irradiation").unit(sheet.units)
    drawing.rect(BAR_X, y + 5, BAR * max(heat, 0.0) / most_heat, 16, "bar" if chosen else "bar-open")
    drawing.words(
        (BAR_X + BAR * max(heat, 0.0) / most_heat + 6, y + 18),
        number_text(unit.from_si(heat), unit.decimals),
        "fig-key" if chosen else "fig-minor",
    )
    if money.per_kwh is not None:
        share = min(max(money.per_kwh / most_cost, 0.0), 1.0)
        drawing.rect(MONEY_X, y + 5, MONEY * share, 16, "bar-hatch")
        drawing.words((MONEY_X + MONEY * share + 6, y + 18), number_text(money.per_kwh, 2), "fig-minor")
    electric = _electric(outcome)
    stands = outcome.year.total("stagnation_time") / 3600
    words = tr("stands hot {stands} h", stands=number_text(stands, 0)) if stands >= 0.5 else tr("never stands hot")
    drawing.words((BAR_X, y + 34), words + electric, "label")
    _note(drawing, sheet, outcome, y)


def _electric(outcome: Outcome) -> str:
    """A hybrid's second yield, in words."""
    made = electricity(outcome.variant.design, outcome.year) if outcome.year else 0.0
    return tr(", and {number_text} kWh electric", number_text=number_text(made / KWH, 0)) if made > 0 else ""


def _note(drawing: Drawing, sheet: Sheet, outcome: Outcome, y: float) -> None:
    """What speaks against it, or what it wants."""
    finding = _gravest(outcome)
    if finding is not None:
        drawing.mark((NOTE_X + 7, y + 13), finding.level, 13)
        lines = lines_of(finding.title.text(sheet.units), WIDTH - NOTE_X - 18, 12)
        for k, line in enumerate(lines[:3]):
            drawing.words((NOTE_X + 18, y + (17 if len(lines) < 3 else 11) + 12.5 * k), line, "label-ink")
        return
    for k, line in enumerate(lines_of(outcome.variant.design.collector.item.value.watch, WIDTH - NOTE_X)[:3]):
        drawing.words((NOTE_X, y + 11 + 12.5 * k), line, "label")


def _verdict(outcomes: Outcomes, worths: list[Money | None]) -> Statement | None:
    """What the core says of them; nothing until all are there."""
    rows: list[Candidate | None] = []
    for outcome, money in zip(outcomes, worths, strict=True):
        if outcome is None:
            return None
        if outcome.year is None or money is None:
            rows.append(None)
            continue
        gravest = _gravest(outcome)
        against = gravest.level if gravest else None
        rows.append(Candidate(outcome.variant.label, outcome.year.saved, money.per_kwh, outcome.price, against))
    chosen, others = rows[0], [row for row in rows[1:] if row is not None]
    return None if chosen is None else advice(chosen, others)


CANDIDATES = RunKind("candidates", "A year of each candidate", variants, tell, count=_count)
