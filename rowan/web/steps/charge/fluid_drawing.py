"""The mixing tub, what the loop holds part by part, what a stronger mix costs, how the fluid ages."""

from __future__ import annotations

import math
from collections.abc import Callable

from rowan.core.fluid import frost_point
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.charge.tub import Tub, ageing, years_of
from rowan.core.studies.glycol_shares import Strength
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, dimension, fixed, number_and_unit, shown, shown_number
from rowan.web.benches.bench import Sheet
from rowan.web.steps.run.charts import nice_step
from rowan.web.ui.fit import lines_of, measured_at, width_of
from rowan.web.ui.svg import Drawing

WIDTH = 656
TUB_X, TUB_W, TUB_TOP, TUB_FOOT = 30.0, 210.0, 30.0, 196.0
SCALE_X = 300.0
MOST_SHARE = 0.6
# of the words under the bar of contents: the first line, from one to the next, and what stays free between two on one line
FIRST_LINE, LINE_PX, APART_PX = 56.0, 30.0, 8.0
# the middle of a part of the bar [px], its name and what it holds, in words
BarPart = tuple[float, str, str]


def tub_drawing(sheet: Sheet, tub: Tub) -> Drawing:
    """The loop's contents poured into one tub, to scale: glycol and water in it, and the slice to exchange."""
    drawing = Drawing(WIDTH, 226, "The mixing tub: what is in the loop and what to exchange", "tub", "tub")
    units = sheet.units
    height = TUB_FOOT - TUB_TOP
    drawing.rect(TUB_X, TUB_TOP, TUB_W, height, "paper")
    out = (tub.exchange or 0.0) if tub.read and not tub.done else 0.0
    slice_h = height * min(out / tub.loop, 1.0)
    glycol_h = (height - slice_h) * min(max(tub.now, 0.0), 1.0)
    drawing.rect(TUB_X, TUB_FOOT - glycol_h, TUB_W, glycol_h, "bar-hatch")
    drawing.rect(TUB_X, TUB_TOP + slice_h, TUB_W, height - slice_h - glycol_h, "liquid")
    if slice_h > 0:
        drawing.rect(TUB_X, TUB_TOP, TUB_W, slice_h, "outside")
        drawing.line((TUB_X - 10, TUB_TOP + slice_h), (TUB_X + TUB_W + 10, TUB_TOP + slice_h), "berry-line")
        number, unit = number_and_unit(shown(out, "volume", units, 2))
        drawing.figure((TUB_X + TUB_W + 12, TUB_TOP + max(slice_h / 2, 8) + 4), number, unit, "fig-key halo")
        drawing.words((TUB_X + TUB_W + 12, TUB_TOP + max(slice_h / 2, 8) + 19), "out, concentrate in", "label")
    drawing.path(
        ((TUB_X, TUB_TOP - 8), (TUB_X, TUB_FOOT), (TUB_X + TUB_W, TUB_FOOT), (TUB_X + TUB_W, TUB_TOP - 8)), "stroke"
    )
    middle = TUB_X + TUB_W / 2
    if glycol_h > 18:
        drawing.words((middle, TUB_FOOT - glycol_h / 2 + 5), "glycol", "label-ink halo", "middle")
    if height - slice_h - glycol_h > 18:
        drawing.words(
            (middle, TUB_TOP + slice_h + (height - slice_h - glycol_h) / 2 + 5), "water", "label-slate halo", "middle"
        )
    drawing.words((TUB_X, 16), tr("the loop, {loop}", loop=shown(tub.loop, "volume", units)), "label")
    drawing.words((TUB_X, 214), "to scale; drawn unmixed", "place")
    _reader(drawing, sheet, tub)
    return drawing


def _reader(drawing: Drawing, sheet: Sheet, tub: Tub) -> None:
    """A refractometer's field: share at the left, the frost point it means at the right; every reading a line in it."""
    units = sheet.units
    left, right, top, foot = 440.0, 560.0, 24.0, 200.0
    most = max(MOST_SHARE, tub.wanted + 0.05)

    def y(share: float) -> float:
        return foot - (foot - top) * min(max(share, 0.0), most) / most

    drawing.rect(left, top, right - left, foot - top, "frame")
    drawing.words((left, 14), "refractometer", "label")
    for tenth in range(int(most * 10) + 1):
        at = y(tenth / 10)
        drawing.line((left, at), (left + 10, at), "stroke")
        drawing.words((left - 6, at + 4), f"{tenth * 10}", "axis", "end")
    drawing.words((left - 26, 14), "%", "axis", "end")
    for share, freezes in _frost_marks():
        drawing.line((right - 10, y(share)), (right, y(share)), "stroke")
        drawing.words((right + 6, y(share) + 4), shown_number(freezes, "temperature", units, 0), "axis")
    drawing.words((right + 4, 14), "freezes, " + dimension("temperature").unit(units).label, "axis")
    drawing.line((left, y(tub.wanted)), (right, y(tub.wanted)), "leaf-line")
    drawing.words(
        (left + 14, y(tub.wanted) - 4),
        tr("wanted {wanted}", wanted=shown(tub.wanted, "share", units)),
        "label-leaf halo",
    )
    reads = [found for found in tub.rounds if found.entry.share is not None]
    for number, found in enumerate(reads, 1):
        share = found.entry.share or 0.0
        last = number == len(reads)
        drawing.line((left, y(share)), (right, y(share)), "rung-fill" if last else "ghost-line")
        if last:
            drawing.words(
                (left + 14, y(share) + 16), tr("read {share}", share=shown(share, "share_fine", units)), "fig halo"
            )
    if not reads:
        drawing.words((left + 14, y(tub.wanted) + 16), "not read yet", "place")


def _frost_marks() -> list[tuple[float, float]]:
    """Shares and what they freeze at, for the scale of a refractometer."""
    return [(tenth / 10, frost_point(volume_share=tenth / 10)) for tenth in range(1, 7)]


def contents_drawing(sheet: Sheet) -> Drawing:
    """Contents by part as one bar to scale, with the vessel's share and the surplus that drives out foam."""
    charge, units, route = sheet.result.charge, sheet.units, sheet.result.run.route
    rows = (
        ("collectors", charge.contents.collectors, "bar"),
        ("cold line", route.contents_of("cold"), "bar-slate"),
        ("hot line", route.contents_of("hot"), "bar-hatch"),
        ("coil", charge.contents.coil, "bar"),
        ("station", charge.contents.station, "bar-open"),
        ("vessel's share", charge.kept if isinstance(charge, SealedCharge) else 0.0, "bar-slate"),
        ("surplus", sheet.design.charge.surplus_l.value * LITRE, "bar-open"),
    )
    total = sum(volume for _, volume, _ in rows) or 1.0
    x, parts = 0.0, list[BarPart]()
    bars = list[tuple[float, float, str]]()
    for name, volume, cls in rows:
        wide = (WIDTH - 8) * volume / total
        bars.append((x, wide, cls))
        if volume > 0:
            parts.append((x + wide / 2, name, shown(volume, "volume", units)))
        x += wide
    stands, lines = _beside_each_other(parts)
    height = FIRST_LINE + LINE_PX * max(lines, default=0) + 32
    drawing = Drawing(WIDTH, height, "What to prepare, part by part", "contents", "contents")
    for x, wide, cls in bars:
        drawing.rect(x, 8, wide, 30, cls)
    for (middle, name, held), at, line in zip(parts, stands, lines, strict=True):
        y = FIRST_LINE + LINE_PX * line
        drawing.line((middle, 38), (middle, y - 11), "ghost-line")
        drawing.words((at, y), name, "label", "middle")
        drawing.words((at, y + 14), held, "fig-minor", "middle")
    return drawing


def _beside_each_other(parts: list[BarPart]) -> tuple[list[float], list[int]]:
    """Where the words of each part stand [px], under its middle and inside the drawing, and on which line under the bar: the first on
    which those before leave them room. A part that holds little stands close to the next."""
    ends, stands, lines = list[float](), list[float](), list[int]()
    for middle, name, held in parts:
        half = max(width_of(tr(name), measured_at("label")), width_of(held, measured_at("fig-minor"))) / 2
        at = max(min(middle, WIDTH - 4 - half), half)
        line = next((line for line, end in enumerate(ends) if end < at - half), len(ends))
        ends[line : line + 1] = [at + half + APART_PX]
        stands.append(at)
        lines.append(line)
    return stands, lines


def strengths_drawing(sheet: Sheet, rows: tuple[Strength, ...]) -> Drawing:
    """Frost point and flow by share: what a bit more costs. Laminar fluid drags by its thickness, turbulent by its speed."""
    drawing = Drawing(WIDTH, 196, "Frost point, flow and heat by strength", "strengths", "strengths")
    if len(rows) < 2:
        drawing.words((0, 30), "No other strength can be reckoned.", "label-ink")
        return drawing
    units, chosen = sheet.units, sheet.design.charge.share.value
    coldest = sheet.design.survey.design_minimum_c.value
    temperature, flow = dimension("temperature").unit(units), dimension("flow").unit(units)
    frost = [(row.share, temperature.from_si(row.frost_point)) for row in rows]
    _panel(drawing, (34.0, 300.0), rows, chosen, temperature.label, ((frost, "hot", "freezes at"),))
    low, high = min(v for _, v in frost), max(v for _, v in frost)
    y = _scale(low, high)(temperature.from_si(coldest))
    if 20 < y < 156:
        drawing.line((34.0, y), (300.0, y), "leaf-line")
        drawing.words(
            (40.0, y - 4),
            tr("coldest night {coldest}", coldest=shown(coldest, "temperature", units)),
            "label-leaf halo",
        )
    warm = [(row.share, flow.from_si(row.flow)) for row in rows]
    cold = [(row.share, flow.from_si(row.flow_cold)) for row in rows]
    _panel(drawing, (372.0, 632.0), rows, chosen, flow.label, ((warm, "hot", "warm"), (cold, "cold", "cold start")))
    return drawing


def _scale(low: float, high: float) -> Callable[[float], float]:
    room = (high - low) * 0.12 or 1.0
    return lambda value: 156 - 136 * (value - low + room) / (high - low + 2 * room)


def _panel(
    drawing: Drawing,
    sides: tuple[float, float],
    rows: tuple[Strength, ...],
    chosen: float,
    unit: str,
    lines: tuple[tuple[list[tuple[float, float]], str, str], ...],
) -> None:
    left, right = sides
    values = [value for points, _, _ in lines for _, value in points]
    low, high = min(values), max(values)
    y = _scale(low, high)
    first, last = rows[0].share, rows[-1].share

    def x(share: float) -> float:
        return left + (right - left) * (share - first) / (last - first)

    step = nice_step((high - low) / 3 or 1.0)
    level = math.ceil(low / step) * step
    while level <= high:
        drawing.line((left, y(level)), (right, y(level)), "grid")
        drawing.words((left - 5, y(level) + 4), f"{level:g}".replace("-", "\N{MINUS SIGN}"), "axis", "end")
        level += step
    drawing.words((left - 5, 12), unit, "axis", "end")
    drawing.line((left, 164), (right, 164), "rule-ink")
    for row in rows:
        drawing.words((x(row.share), 179), f"{100 * row.share:.0f}", "axis", "middle")
    drawing.words((right, 193), "% glycol", "axis", "end")
    drawing.line((x(chosen), 14), (x(chosen), 164), "pointing")
    for points, cls, name in lines:
        drawing.path([(x(share), y(value)) for share, value in points], cls)
        # a name over the end of a curve that stays up, under a curve that falls
        falls = points[-1][1] < points[0][1] - 0.3 * (high - low)
        share, value = points[-3] if falls else points[-1]
        drawing.words((x(share) - (8 if falls else 0), y(value) + (18 if falls else -8)), name, "label-ink halo", "end")
        here = next((v for s, v in points if abs(s - chosen) < 1e-9), None)
        if here is not None:
            drawing.circle((x(chosen), y(here)), 4.5, "leaf-dot")


TOLD_Y, TOLD_LINE = 182.0, 14.0  # where it is told what the line means


def ageing_drawing(sheet: Sheet, standing: float) -> Drawing:
    """pH over the years as it should fall with what this loop stands hot [s a year]; readings of the log as dots."""
    hours = shown(standing, "hours", sheet.units)
    told = tr(
        "This loop stands hot {hours} in its simulated year. The rates are rules of thumb; a strip read every spring is the truth.",
        hours=hours,
    )
    lines = lines_of(told, WIDTH, measured_at("place"))
    drawing = Drawing(WIDTH, TOLD_Y + TOLD_LINE * len(lines) - 10, "How the fluid ages", "ageing", "ageing")
    found = ageing(sheet.design, standing)
    readings = [(years, entry) for years, entry in years_of(sheet.design.charge.log) if entry.ph is not None]
    lasts = found.lasts
    values = [entry.ph for _, entry in readings if entry.ph is not None]
    span = max([10.0, min(lasts or 25.0, 30.0) * 1.2, *(years + 1 for years, _ in readings)])
    low, high = min([found.least - 0.6, *values]), max([found.new + 0.4, found.least + 0.6, *values])
    left, right, top, foot = 34.0, 600.0, 14.0, 150.0

    def at(years: float, ph: float) -> tuple[float, float]:
        return left + (right - left) * years / span, foot - (foot - top) * (ph - low) / (high - low)

    for tenth in range(math.ceil(low * 2), math.floor(high * 2) + 1):
        y = at(0, tenth / 2)[1]
        drawing.line((left, y), (right, y), "grid")
        drawing.words((left - 6, y + 4), f"{tenth / 2:.1f}", "axis", "end")
    drawing.words((left - 6, top - 4), "pH", "axis", "end")
    drawing.line((left, foot), (right, foot), "rule-ink")
    step = nice_step(span / 8)
    for n in range(int(span / step) + 1):
        drawing.words((at(n * step, low)[0], foot + 15), f"{n * step:g}", "axis", "middle")
    drawing.words((right + 8, foot + 15), "years", "axis")
    end = span if lasts is None else min(span, max(found.new - low, 0.0) / found.falls)
    drawing.path((at(0, found.new), at(end, found.at(end))), "hot")
    limit = at(0, found.least)[1]
    drawing.line((left, limit), (right, limit), "planned")
    drawing.words((left + 6, limit - 5), tr("change it at {least}", least=fixed(found.least, 1)), "label-ink halo")
    if lasts is not None and lasts <= span:
        x, y = at(max(lasts, 0.0), found.least)
        drawing.circle((x, y), 5.5, "leaf-dot")
        drawing.figure((x + 9, y - 8), f"{max(lasts, 0):.0f}", "years", "fig-big halo")
    for years, entry in readings:
        drawing.circle(at(years, entry.ph or 0.0), 4.5, "ring-dot")
    for number, line in enumerate(lines):
        drawing.words((0, TOLD_Y + TOLD_LINE * number), line, "place")
    return drawing
