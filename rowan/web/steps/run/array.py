"""The field as its pipes see it: rows, what flows through each, what it drops and what its throttle takes."""

from __future__ import annotations

from rowan.core.steps.run.array import EVEN_WITHIN, RowFlow
from rowan.core.terms.language import tr
from rowan.core.terms.units import number_and_unit, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing

WIDTH = 656
LEFT, RIGHT = 66.0, 470.0
ROW, TOP = 62.0, 20.0
THICKEST = 9.0
PLATE_MOST = 30.0


def array_drawing(sheet: Sheet) -> Drawing:
    """Rows with their headers; the pipes as thick as what flows in them, each row with its flow against its share."""
    design, field, units = sheet.design, sheet.result.run.divided, sheet.units
    rows = field.rows
    drawing = Drawing(WIDTH, TOP + ROW * len(rows) + 34, "How the flow divides over the rows", "array", "array")
    most = max(row.collectors for row in rows)
    pitch = min((RIGHT - LEFT - 40) / most, PLATE_MOST + 8)
    reverse, series = design.collector.feed.value == "reverse", design.collector.within.value == "series"
    total = sum(row.flow for row in rows) or 1.0
    end = LEFT + 24 + pitch * most + 16

    def thick(flow: float) -> float:
        return 1.2 + THICKEST * flow / total

    foot = TOP + ROW * len(rows) - 18
    supply_x, back_x = LEFT, end
    so_far = 0.0
    for number, row in enumerate(rows):
        y = foot - ROW * number
        if number:
            wide = thick(total - so_far)
            drawing.rect(supply_x - wide / 2, y, wide, ROW, "flow-cold")
            wide = thick(so_far if reverse else total - so_far)
            drawing.rect(back_x - wide / 2, y - 26, wide, ROW, "flow-hot")
        so_far += row.flow
        _row(drawing, row, (supply_x, back_x, y), (pitch, series))
        bad = abs(row.share - 1) > EVEN_WITHIN
        number_text, unit = number_and_unit(shown(row.flow, "flow", units))
        drawing.figure((back_x + 18, y - 12), number_text, unit, "fig-key")
        words = (
            tr("{share} of its share", share=shown(row.share, "share", units)) if len(rows) > 1 else "the whole flow"
        )
        drawing.words((back_x + 18, y + 2), words, "label-berry" if bad else "label")
        throttle = (
            tr(", throttle takes {throttle}", throttle=shown(row.throttle, "head", units)) if row.throttle > 1 else ""
        )
        drawing.words(
            (back_x + 18, y + 16),
            tr("drops {drop}{throttle}", drop=shown(row.drop, "head", units), throttle=throttle),
            "label",
        )
    drawing.words((supply_x - 8, foot + 4), "cold", "label-slate", "end")
    drawing.words((supply_x - 8, foot + 17), "in", "label-slate", "end")
    out = TOP + ROW * 1 - 18 - 26 if reverse else foot - 26
    drawing.words((back_x + 6, out - 10), "hot out", "label-ink")
    how = {"reverse": "reverse return", "direct": "direct return", "throttled": "throttled"}
    words = (
        tr("{rows} rows, {how}", rows=len(rows), how=how[design.collector.feed.value]) if len(rows) > 1 else "one row"
    )
    drawing.words(
        (LEFT, TOP + ROW * len(rows) + 24),
        tr(
            "{words}; collectors {order}. The field takes {drop}.",
            words=words,
            order="one after the other" if series else "side by side",
            drop=shown(field.drop, "head", units),
        ),
        "place",
    )
    return drawing


def _row(drawing: Drawing, row: RowFlow, where: tuple[float, float, float], plates: tuple[float, bool]) -> None:
    left, right, y = where
    pitch, series = plates
    wide = pitch - 6
    first = left + 24
    last = first + pitch * row.collectors - 6
    if not series:
        drawing.line((left, y), (last, y), "cold")
        drawing.line((first, y - 26), (right, y - 26), "hot")
    else:
        drawing.line((left, y - 13), (first, y - 13), "cold")
        drawing.line((last, y - 13), (right, y - 13), "hot")
        drawing.line((right, y - 13), (right, y - 26), "hot")
    for n in range(row.collectors):
        drawing.rect(first + pitch * n, y - 26, wide, 26, "body")
        if series and n:
            drawing.line((first + pitch * n - 6, y - 13), (first + pitch * n, y - 13), "hot")
