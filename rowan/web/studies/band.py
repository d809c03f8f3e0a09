"""The band: twenty made years about the mean one, and the estimate by months beside them."""

from __future__ import annotations

from rowan.core.studies.weather_band import BAND_YEARS, band, why_estimate_differs
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Variant
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 236
LEFT, RIGHT = 40.0, 616.0
DOT = 4.4
ROWS = ((74.0, "sun into the store, kWh a year"), (178.0, "solar fraction, %"))
LANE = 10.0


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The mean year first, then the others."""
    return tuple(
        Variant("mean year" if seed == 0 else tr("year {seed}", seed=seed), sheet.design, seed)
        for seed in range(BAND_YEARS + 1)
    )


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """Two strips of dots with their band; the estimate as a mark on the first."""
    drawing = Drawing(WIDTH, HEIGHT, "Twenty years of weather", "band", "band")
    mean = outcomes[0].year if outcomes[0] else None
    years = [o.year for o in outcomes[1:] if o is not None and o.year is not None]
    refused = next((o.refusal for o in outcomes if o is not None and o.refusal is not None), None)
    if refused is not None:
        drawing.words((LEFT, 40), tr("No year can be run: {why}", why=refused.text(sheet.units)), "label-ink")
        return Told(None, drawing)
    heats = [y.solar_heat / KWH for y in years]
    shares = [100 * y.solar_fraction for y in years]
    estimate = sheet.result.collector.year_heat
    marks = [] if estimate is None else [("estimate", estimate / KWH)]
    if mean is not None:
        marks.append(("mean year", mean.solar_heat / KWH))
    _strip(drawing, ROWS[0], heats, marks)
    _strip(drawing, ROWS[1], shares, [] if mean is None else [("mean year", 100 * mean.solar_fraction)])
    if len(years) < 2:
        return Told(None, drawing)
    heat, share = band([h * KWH for h in heats]), band([s / 100 for s in shares])
    verdict = say(
        "Nine years of ten bring at least {low}; the middle one {mid}, one in ten more than {high}. Solar fraction {a} to {b}.",
        low=Quantity(heat.low, "energy"),
        mid=Quantity(heat.middle, "energy"),
        high=Quantity(heat.high, "energy"),
        a=Quantity(share.low, "share"),
        b=Quantity(share.high, "share"),
    )
    notes = () if mean is None else (why_estimate_differs(sheet.design, estimate, mean),)
    return Told(verdict, drawing, notes)


def _strip(drawing: Drawing, row: tuple[float, str], values: list[float], marks: list[tuple[str, float]]) -> None:
    y, title = row
    drawing.words((LEFT, y - 58), title, "label")
    drawing.line((LEFT, y), (RIGHT, y), "rule-ink")
    everything = [*values, *(v for _, v in marks)]
    if not everything:
        return
    low, high = min(everything), max(everything)
    room = max((high - low) * 0.12, abs(high) * 0.01, 1e-9)
    low, high = low - room, high + room

    def x(value: float) -> float:
        return LEFT + (RIGHT - LEFT) * (value - low) / (high - low)

    if len(values) > 1:
        found = band(values)
        drawing.rect(x(found.low), y - 26, x(found.high) - x(found.low), 26, "window-band")
        for value, name in ((found.low, "P10"), (found.middle, "P50"), (found.high, "P90")):
            drawing.line((x(value), y - 32), (x(value), y), "leaf-line")
            drawing.words((x(value), y - 36), number_text(value, 0), "fig halo", "middle")
            drawing.words((x(value), y + 14), name, "axis", "middle")
    lanes: list[float] = []
    for value in sorted(values):
        # dots that would lie on each other are piled
        lane = next((i for i, last in enumerate(lanes) if x(value) - last > 2 * DOT), len(lanes))
        lanes[lane : lane + 1] = [x(value)]
        drawing.circle((x(value), y - 6 - LANE * (lane % 3)), DOT, "sun-dot")
    for i, (name, value) in enumerate(marks):
        at = x(value)
        drawing.path(
            ((at - 5, y + 20), (at + 5, y + 20), (at, y + 2)), "solid" if name == "estimate" else "ring-dot", close=True
        )
        anchor = "end" if at > (LEFT + RIGHT) / 2 else ""
        offset = -9 if anchor else 9
        drawing.words((at + offset, y + 30 + 0 * i), f"{name} {number_text(value, 0)}", "label-ink halo", anchor)


BAND = RunKind("band", "Twenty years of weather", variants, tell, "Run 20 made years, about 3 s")
