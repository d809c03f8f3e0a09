"""What the roof's bearing and pitch cost, checked by the year: as it lies, on the best plane, and with the area that buys it back."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.terms.compass import compass_name
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Variant
from rowan.web.ui.svg import Drawing

WIDTH, ROW = 656, 30.0
BAR_X, BAR = 230.0, 185.0
LARGEST_M2 = 20.0
NAMES = ("as the roof lies", "on the best plane", "as it lies, area bought back")


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """Three years: flow for each square metre stays."""
    design, site = sheet.design, sheet.result.site
    flow, item = sheet.result.run.flow, design.collector.item.value
    factor = min(1 / max(site.relative_yield, 0.05), LARGEST_M2 / item.aperture_m2)
    larger = item.model_copy(update={"aperture_m2": item.aperture_m2 * factor})
    best = [
        Change("survey.roof_tilt_deg", site.best.tilt),
        Change("survey.roof_azimuth_deg", site.best.azimuth),
    ]
    return (
        Variant(NAMES[0], design, flow=flow),
        Variant(NAMES[1], changed(design, best), flow=flow),
        Variant(NAMES[2], changed(design, [Change("collector.item", larger)]), flow=flow * factor),
    )


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """Three bars of heat saved, and whether the bought area really buys it back."""
    drawing = Drawing(WIDTH, ROW * 3 + 6, "Bearing and pitch by the year", "planes", "planes")
    saved = [o.year.saved if o is not None and o.year is not None else None for o in outcomes]
    most = max([s for s in saved if s is not None] + [1.0])
    site = sheet.result.site
    notes = (
        "",
        tr("{tilt}° to {azimuth}", tilt=f"{site.best.tilt:.0f}", azimuth=compass_name(site.best.azimuth)),
        tr("{number_text} × the aperture", number_text=number_text(1 / max(site.relative_yield, 0.05), 2)),
    )
    for i, heat in enumerate(saved):
        y = 4 + ROW * i
        drawing.words((BAR_X - 10, y + 16), NAMES[i], "fig" if i == 0 else "label-ink", "end")
        if heat is None:
            drawing.words((BAR_X, y + 16), "its year is being run" if outcomes[i] is None else "no year", "place")
            continue
        width = BAR * max(heat, 0.0) / most
        drawing.rect(BAR_X, y + 3, width, 17, "bar" if i == 0 else "bar-open")
        drawing.figure((BAR_X + width + 7, y + 17), number_text(heat / KWH, 0), "kWh saved a year", "fig-minor")
        drawing.words((WIDTH, y + 17), notes[i], "label", "end")
    if any(s is None for s in saved):
        return Told(None, drawing)
    here, best, bought = (s or 0.0 for s in saved)
    if best <= 0:
        return Told(None, drawing)
    verdict = say(
        "By the year this roof keeps {h} of what the best plane would save; the bought area brings it to {b}.",
        h=Quantity(here / best, "share"),
        b=Quantity(bought / best, "share"),
    )
    return Told(verdict, drawing)


PLANES = RunKind("planes", "Bearing and pitch by the year", variants, tell, count=lambda _: len(NAMES))
