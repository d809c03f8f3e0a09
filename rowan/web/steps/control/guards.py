"""A loop without a controller: the temperatures it passes through, and what guards people and tank in its place."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.store.heat import HOT_STORE_C, SCALD_C
from rowan.core.terms.figure import Quantity
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH = 656
LEFT, RIGHT, BAND_Y, BAND = 20.0, 636.0, 84.0, 18.0
LOWEST_C = 0.0
APART = 52.0  # px that names keep from each other on one side


def _marks(sheet: Sheet) -> list[tuple[float, str]]:
    design, figures = sheet.design, sheet.result.figures
    marks = [
        (design.duty.tap_c.value, "drawn at"),
        (SCALD_C, "scalds"),
        (HOT_STORE_C, "germs die"),
        (figures["hottest_store"].value, "hottest store"),
        (figures["boils_at"].value, "boils"),
    ]
    if design.store.backup.value in ("coil", "element"):
        marks.append((design.store.backup_c.value, "backup to"))
    together: dict[float, list[str]] = {}
    for temperature, name in marks:
        together.setdefault(temperature, []).append(name)
    return [(temperature, ", ".join(names)) for temperature, names in sorted(together.items())]


def heat_ladder(sheet: Sheet) -> Drawing:
    """From cold to boiling: where people are hurt, where germs die, how far the sun may bring the store."""
    drawing = Drawing(WIDTH, 168, "How hot the store may come, and what that does", "heat", "heat")
    figures, units = sheet.result.figures, sheet.units
    most = figures["boils_at"].value * 1.05

    def x(temperature: float) -> float:
        return LEFT + (RIGHT - LEFT) * (temperature - LOWEST_C) / (most - LOWEST_C)

    hottest = figures["hottest_store"].value
    drawing.rect(x(LOWEST_C), BAND_Y, x(SCALD_C) - x(LOWEST_C), BAND, "window-band")
    drawing.rect(x(SCALD_C), BAND_Y, x(hottest) - x(SCALD_C), BAND, "outside")
    drawing.line((LEFT, BAND_Y + BAND), (RIGHT, BAND_Y + BAND), "rule-ink")
    unit = dimension("temperature").unit(units)
    step, tick = (20, 0) if units == "metric" else (50, 50)
    while unit.to_si(tick) <= most:
        drawing.line((x(unit.to_si(tick)), BAND_Y + BAND - 3), (x(unit.to_si(tick)), BAND_Y + BAND + 3), "thin")
        tick += step
    last = {True: -1e9, False: -1e9}
    for temperature, name in _marks(sheet):
        at = x(temperature)
        above = at - last[True] >= at - last[False]
        if at - last[above] < APART:
            above = not above
        last[above] = at
        y = BAND_Y - 16 if above else BAND_Y + BAND + 34
        drawing.line((at, BAND_Y), (at, BAND_Y - 8) if above else (at, BAND_Y + BAND + 8), "stroke")
        drawing.words((at, y), shown(temperature, "temperature", units), "fig-key halo", "middle")
        drawing.words((at, y - 18 if above else y + 16), name, "label halo", "middle")
    return drawing


def guards_context(sheet: Sheet) -> dict[str, Any]:
    """What guards against each danger, whether it is there, and what it is set to."""
    design, units = sheet.design, sheet.units
    heats = design.store.backup.value in ("coil", "element")
    night = sheet.result.figures["night_hold"]
    rows = [
        (
            "a tap that scalds",
            "tempering valve",
            "fitted" if design.store.tempering_valve.value else "missing",
            design.store.tempering_valve.value,
        ),
        (
            "a tank that boils",
            "relief by temperature and pressure, piped to where it is seen",
            Quantity(design.charge.relief_gauge_pa.value, "pressure", 1).shown(units),
            design.store.relief_free.value,
        ),
        (
            "heat lost to the sky at night",
            "the height of the tank over the field",
            night.quantity.shown(units),
            night.value > 0,
        ),
        (
            "frost",
            "nothing: it is drained by hand",
            tr("coldest night {least}", least=shown(design.survey.design_minimum_c.value, "temperature", units)),
            not any(f.key in ("direct_frost", "sky_frost") for f in sheet.findings),
        ),
    ]
    if heats:
        rows.append(
            (
                "the heater working before the sun",
                "time switch and thermostat of its own",
                tr(
                    "{hours}, to {temperature}",
                    hours=design.store.backup_hours.value,
                    temperature=shown(design.store.backup_c.value, "temperature", units),
                ),
                not any(f.key == "backup_before_sun" for f in sheet.findings),
            )
        )
    return {"guards": [{"danger": d, "guard": g, "state": s, "holds": h} for d, g, s, h in rows]}
