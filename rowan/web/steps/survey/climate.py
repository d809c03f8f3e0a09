"""The climate of a plan: one of the places, twelve typed means, or an hourly year from a file."""

from __future__ import annotations

from typing import Any

from rowan.core.design.design import Design
from rowan.core.goods.items import Normals
from rowan.core.terms.calendar import MONTHS
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH, System, dimension, typed_to_si, unit_label
from rowan.core.weather.station import Apart
from rowan.web.benches.bench import Sheet
from rowan.web.plans.models import Plan, WeatherYear
from rowan.web.plans.weather import places_of, station_of
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 198
LEFT, RIGHT, TOP, FOOT = 34.0, 620.0, 20.0, 158.0
MOST_GHI, LEAST_GHI = 12.0, 0.0
LEAST_AIR_C, MOST_AIR_C = -60.0, 50.0
TEN_K = 10.0


@record
class MonthRow:
    """One month's two fields as they stand, and what is wrong with them."""

    name: str
    key: int
    ghi: str
    air: str
    wrong: str = ""


def _typed(value: float) -> str:
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return text or "0"


def month_rows(design: Design, units: System) -> list[MonthRow]:
    """The twelve means as fields."""
    normals = design.survey.normals.value
    ghi, air = dimension("irradiation").unit(units), dimension("temperature").unit(units)
    return [
        MonthRow(name, m, _typed(ghi.from_si(normals.ghi_kwh_m2_day[m] * KWH)), _typed(air.from_si(normals.air_c[m])))
        for m, name in enumerate(MONTHS)
    ]


def normals_from(post: dict[str, str], units: System) -> tuple[list[Change], list[MonthRow]]:
    """The change that twelve typed pairs mean; no change where one is wrong, and the rows say which."""
    rows, ghi, air = [], [], []
    for m, name in enumerate(MONTHS):
        texts = post.get(f"ghi-{m}", "").strip(), post.get(f"air-{m}", "").strip()
        wrong = ""
        try:
            sun = typed_to_si(texts[0], "irradiation", units) / KWH
            warm = typed_to_si(texts[1], "temperature", units)
            if not LEAST_GHI <= sun <= MOST_GHI:
                wrong = "a day's sun on the flat is 0 to 12 kWh/m²"
            elif not LEAST_AIR_C <= warm <= MOST_AIR_C:
                wrong = "a month's mean air is −60 to 50 °C"
            ghi.append(round(sun, 4))
            air.append(round(warm, 3))
        except TypedNumberError as error:
            wrong = str(error)
        rows.append(MonthRow(name, m, texts[0], texts[1], wrong))
    if any(row.wrong for row in rows):
        return [], rows
    normals = Normals(ghi_kwh_m2_day=ghi, air_c=air)
    return [Change("survey.normals", normals, "data sheet"), Change("survey.weather", None, "data sheet")], rows


def climate_context(plan: Plan, sheet: Sheet, rows: list[MonthRow] | None = None) -> dict[str, Any]:
    """What the page shows."""
    item = sheet.design.survey.weather.value
    return {
        "rows": rows or month_rows(sheet.design, sheet.units),
        "ghi_unit": unit_label("irradiation", sheet.units),
        "air_unit": unit_label("temperature", sheet.units),
        "drawing": months_drawing(sheet),
        "places": list(places_of(plan.job.firm)),
        "station": _station(plan, sheet),
        "years": list(WeatherYear.objects.filter(firm_id=plan.job.firm_id).defer("rows")),
        "in_use": item,
        "missing": item is not None and sheet.measured is None,
        "wrong": [row for row in rows or [] if row.wrong],
    }


def _station(plan: Plan, sheet: Sheet) -> Apart | None:
    """How far the plan's place is from where its year was measured; None for a made year."""
    item = sheet.design.survey.weather.value
    year = (
        None
        if item is None
        else WeatherYear.objects.filter(firm_id=plan.job.firm_id, digest=item.digest).defer("rows").first()
    )
    return None if year is None else station_of(year, sheet.design)


def months_drawing(sheet: Sheet) -> Drawing:
    """Sun of each month as bars, the air over them as a line with its own scale at the right."""
    drawing = Drawing(WIDTH, HEIGHT, "Sun and air of the twelve months", "climate", "climate")
    normals, units = sheet.design.survey.normals.value, sheet.units
    unit, air_unit = dimension("irradiation").unit(units), dimension("temperature").unit(units)
    ghi = [unit.from_si(g * KWH) for g in normals.ghi_kwh_m2_day]
    top = max(*ghi, 1e-6) * 1.15
    low = min(TEN_K * ((min(normals.air_c)) // TEN_K), 0.0)
    high = max(TEN_K * (max(normals.air_c) // TEN_K + 1), low + 2 * TEN_K)

    def y_air(c: float) -> float:
        return FOOT - (FOOT - TOP) * (c - low) / (high - low)

    drawing.words((LEFT - 28, 11), tr("sun on the flat, {label} a day", label=unit.label), "label")
    drawing.words((RIGHT + 30, 11), f"air, {air_unit.label}", "label", "end")
    ticks = int((high - low) / TEN_K)
    for k in range(ticks + 1):
        c = low + TEN_K * k
        drawing.line((LEFT, y_air(c)), (RIGHT, y_air(c)), "grid" if k else "rule-ink")
        drawing.words((RIGHT + 6, y_air(c) + 4), f"{air_unit.from_si(c):.0f}", "axis")
    step = (RIGHT - LEFT) / 12
    points = []
    for m in range(12):
        x = LEFT + step * m
        height = (FOOT - TOP) * ghi[m] / top
        drawing.rect(x + 9, FOOT - height, step - 18, height, "sun")
        drawing.words((x + step / 2, FOOT + 15), MONTHS[m][:3], "axis", "middle")
        drawing.words((x + step / 2, FOOT + 31), f"{ghi[m]:.1f}", "fig-cell", "middle")
        points.append((x + step / 2, y_air(normals.air_c[m])))
    drawing.path(points, "cold")
    for point in points:
        drawing.circle(point, 2.6, "ring-dot")
    return drawing
