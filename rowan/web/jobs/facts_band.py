"""What nine made years about the mean one bring the house of four facts: a band, where a single figure would promise too much."""

from __future__ import annotations

from rowan.core.studies.weather_band import band
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, shown
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Variant
from rowan.web.ui.svg import Drawing

YEARS = 9  # made years after the mean one
WIDTH, HEIGHT = 316, 44
LEFT, RIGHT, LINE_Y = 6.0, 310.0, 14.0
MARGIN = 0.04  # of the span, kept free on both sides
COARSE_KWH = 50.0  # a band is told to so much: it is no measurement


def rounded(energy: float) -> Quantity:
    """An energy [J] as a proposal tells it: to fifty kilowatt-hours."""
    return Quantity(round(energy / KWH / COARSE_KWH) * COARSE_KWH * KWH, "energy")


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The made years; the mean one stands in the figures already."""
    return tuple(Variant(tr("year {seed}", seed=seed), sheet.design, seed) for seed in range(1, YEARS + 1))


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """Dots as they come, the band when all are there."""
    drawing = Drawing(WIDTH, HEIGHT, "Sun into the store in nine made years", "facts-band", "facts-band")
    heats = sorted(o.year.solar_heat for o in outcomes if o is not None and o.year is not None)
    if not heats:
        return Told(None, drawing)
    low, high = heats[0], max(heats[-1], heats[0] + KWH)
    span = (high - low) * (1 + 2 * MARGIN)

    def x(heat: float) -> float:
        return LEFT + (RIGHT - LEFT) * ((heat - low) / span + MARGIN / (1 + 2 * MARGIN))

    drawing.line((LEFT, LINE_Y), (RIGHT, LINE_Y), "rule-ink")
    whole = len(heats) == YEARS
    if whole:
        found = band(heats)
        drawing.rect(x(found.low), LINE_Y - 7, x(found.high) - x(found.low), 14, "window-band")
    for heat in heats:
        drawing.circle((x(heat), LINE_Y), 3.5, "ring-dot")
    drawing.words((LEFT, HEIGHT - 6), shown(low, "energy", sheet.units), "label")
    drawing.words((RIGHT, HEIGHT - 6), shown(high, "energy", sheet.units), "label", "end")
    if not whole:
        return Told(None, drawing)
    verdict = say(
        "Nine years of ten bring {low} or more, one in ten over {high}.",
        low=rounded(found.low),
        high=rounded(found.high),
    )
    return Told(verdict, drawing)


FACTS_BAND = RunKind("facts", "Nine made years", variants, tell, count=lambda _: YEARS)
