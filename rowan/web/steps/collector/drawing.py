"""Efficiency lines over the working points of this duty, and the year of each candidate."""

from __future__ import annotations

from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.goods.collector_rating import rating_of
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE, efficiency
from rowan.core.goods.items import CollectorItem
from rowan.core.simulation.simulate import working_points
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, shown, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.benches.handles import handle
from rowan.web.ui.svg import Drawing

WIDTH = 656
LEFT, RIGHT, TOP, FOOT = 40.0, 534.0, 26.0, 252.0
MOST_K, MOST_SHARE = 110.0, 0.9
STEP_K = 5.0
BINS_FOOT = 296.0


def _x(over: float) -> float:
    return LEFT + (RIGHT - LEFT) * min(max(over, 0), MOST_K) / MOST_K


def _y(share: float) -> float:
    return FOOT - (FOOT - TOP) * min(max(share, 0), MOST_SHARE) / MOST_SHARE


def _items(sheet: Sheet) -> list[CollectorItem]:
    chosen = sheet.design.collector.item.value
    return [chosen, *(item for name, item in COLLECTORS.items() if name != chosen.name)]


def efficiency_lines(sheet: Sheet) -> Drawing:
    """Candidates' lines at 800 W/m²; under them how often this duty works where; the working point is moved by hand."""
    drawing = Drawing(
        WIDTH, 330, "Efficiency of the candidates over the working points of this duty", "efficiency", "efficiency"
    )
    units = sheet.units
    for percent in range(0, 91, 10):
        drawing.line((LEFT, _y(percent / 100)), (RIGHT, _y(percent / 100)), "grid" if percent else "rule-ink")
        if percent % 20 == 0:
            drawing.words(
                (LEFT - 7, _y(percent / 100) + 4), f"{percent}" if percent < 80 else f"{percent} %", "axis", "end"
            )
    unit = dimension("difference").unit(units)
    for tick in range(0, round(unit.from_si(MOST_K)) + 1, 10 if units == "metric" else 25):
        x = _x(unit.to_si(tick))
        drawing.line((x, TOP), (x, FOOT), "grid" if tick else "rule-ink")
    _bins(drawing, sheet)
    ends: list[tuple[float, str, str]] = []
    feet: list[tuple[float, str, str]] = []
    for i, item in enumerate(_items(sheet)):
        points = []
        for step in range(56):
            beyond = step * 2.0
            share = efficiency(rating=rating_of(item), over_temperature=beyond, irradiance=REFERENCE_IRRADIANCE)
            points.append((_x(beyond), _y(share)))
            if share <= 0:
                break
        drawing.path(points, "curve-chosen" if i == 0 else "curve")
        if points[-1][0] >= RIGHT - 8:
            ends.append((points[-1][1], item.name, "fig" if i == 0 else "label-ink"))
        else:
            feet.append((points[-1][0], item.name, "fig halo" if i == 0 else "label-ink halo"))
    _names(drawing, ends)
    for n, (x, name, cls) in enumerate(sorted(feet)):
        # those that end close together stand one over the other
        drawing.words((x + 5, FOOT - 7 - 15 * (n % 2)), name, cls)
    _working_point(drawing, sheet)
    drawing.words(
        (LEFT, TOP - 10),
        tr(
            "share of the light that becomes heat, {sun}",
            sun=shown(REFERENCE_IRRADIANCE, "irradiance", units),
        ),
        "label",
    )
    return drawing


def _names(drawing: Drawing, ends: list[tuple[float, str, str]]) -> None:
    last = TOP - 20
    for y, name, cls in sorted(ends):
        at = max(y + 4, last + 16)
        drawing.words((RIGHT + 7, at), name, cls)
        last = at


def _bins(drawing: Drawing, sheet: Sheet) -> None:
    """How much of the sun falls while the field works so far over the air: the year's own hours, or months without one."""
    weights: dict[int, float] = {}
    for beyond, sun in _hours(sheet):
        over = int(max(beyond, 0.0) // STEP_K)
        weights[over] = weights.get(over, 0.0) + sun
    top = max([*weights.values(), 1e-9])
    for over, weight in weights.items():
        height = 34 * weight / top
        drawing.rect(_x(over * 5) + 1, BINS_FOOT, _x(5) - _x(0) - 2, -height, "sun")
    drawing.line((LEFT, BINS_FOOT), (RIGHT, BINS_FOOT), "rule-ink")
    units = sheet.units
    unit = dimension("difference").unit(units)
    for tick in range(0, round(unit.from_si(MOST_K)) + 1, 20 if units == "metric" else 50):
        drawing.words((_x(unit.to_si(tick)), BINS_FOOT + 15), str(tick), "axis", "middle")
    drawing.words(
        (RIGHT + 7, BINS_FOOT + 15),
        tr("{unit_label} over the air", unit_label=unit_label("difference", units)),
        "label",
    )
    drawing.words((RIGHT + 7, BINS_FOOT - 17), "sun while it runs", "label")
    drawing.words((RIGHT + 7, BINS_FOOT - 4), "by working point", "label")


def _hours(sheet: Sheet) -> list[tuple[float, float]]:
    """Working points with their sun."""
    try:
        over, sun = working_points(sheet.design, sheet.result, sheet.year(), measured=sheet.measured)
        return list(zip(over.tolist(), sun.tolist(), strict=True))
    except RowanError:
        site, mean = sheet.result.site, sheet.design.collector.working_c.value
        return [(mean - site.monthly_air[i], float(site.months.total[i])) for i in range(12)]


def _working_point(drawing: Drawing, sheet: Sheet) -> None:
    mean, air = sheet.design.collector.working_c.value, sheet.result.site.annual_air
    over = mean - air
    x, share = _x(over), sheet.result.run.temperatures.efficiency
    per_px = MOST_K / (RIGHT - LEFT)
    group = drawing.add(
        "g",
        **handle(
            sheet,
            "collector.working_c",
            axis="x",
            per_px=per_px,
            low=max(10.0, round(air)),
            high=min(120.0, round(air + MOST_K)),
        ),
    )
    group.rect(x - 13, TOP, 26, FOOT - TOP + 4, "grip")
    group.line((x, TOP), (x, FOOT + 4), "stroke")
    group.circle((x, _y(share)), 6, "leaf-dot")
    label = shown(mean, "temperature", sheet.units)
    group.rect(x - 25, TOP - 4, 50, 18, "solid")
    group.words((x, TOP + 9), label, "tab", "middle")
    drawing.words((x + 12, _y(share) - 22), shown(share, "share", sheet.units), "fig-big halo")
    drawing.words((x + 12, _y(share) - 8), "of the light, here", "label halo")
