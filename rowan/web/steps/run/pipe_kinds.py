"""What the run costs by kind of pipe, over its length: where one becomes cheaper than the other, and where this plan stands."""

from __future__ import annotations

from rowan.core.studies.pipe_kinds import PipeKind
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, number_text, shown
from rowan.web.benches.bench import Sheet
from rowan.web.steps.run.charts import nice_step
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 232
LEFT, RIGHT, TOP, FOOT = 52.0, 420.0, 22.0, 196.0
LEAST_M = 20.0  # m that the drawing shows at least
LINES = {"straight": "pump-chosen", "coil": "pump-other", "corrugated": "loop-curve"}


def pipe_kinds_drawing(sheet: Sheet, kinds: tuple[PipeKind, ...]) -> Drawing:
    """Money over metres of both lines, a line for each kind of pipe; this plan's length stands upright."""
    drawing = Drawing(WIDTH, HEIGHT, "What the run costs by kind of pipe and length", "pipe-kinds", "pipe-kinds")
    units, length = sheet.units, sheet.result.run.route.length
    most_m = max(1.6 * length, LEAST_M)
    most = max(kind.cost(most_m) for kind in kinds)
    unit = dimension("length").unit(units)

    def at(metres: float, money: float) -> tuple[float, float]:
        return LEFT + (RIGHT - LEFT) * metres / most_m, FOOT - (FOOT - TOP) * money / most

    step = nice_step(most / 4)
    for i in range(int(most / step) + 1):
        drawing.line(at(0, i * step), at(most_m, i * step), "grid" if i else "rule-ink")
        drawing.words((LEFT - 7, at(0, i * step)[1] + 4), number_text(i * step, 0), "axis", "end")
    across = nice_step(most_m / unit.factor / 5)
    for i in range(int(most_m / unit.factor / across) + 1):
        x = at(i * across * unit.factor, 0)[0]
        drawing.words((x, FOOT + 15), f"{i * across:g}", "axis", "middle")
    drawing.words((RIGHT + 6, FOOT + 15), unit.label, "axis")
    drawing.words((0, TOP - 8), sheet.design.money.currency.value, "axis")
    for kind in kinds:
        drawing.path([at(0, kind.fixed), at(most_m, kind.cost(most_m))], LINES[kind.key])
    x = at(length, 0)[0]
    drawing.line((x, TOP), (x, FOOT), "pointing")
    drawing.words(
        (x, TOP - 8), tr("this run {length}", length=shown(length, "length", units, 1)), "label-ink halo", "middle"
    )
    rows = sorted(kinds, key=lambda kind: kind.cost(length))
    for n, kind in enumerate(rows):
        y = TOP + 22 + 56 * n
        drawing.circle(at(length, kind.cost(length)), 4.5, "leaf-dot" if n == 0 else "ring-dot")
        drawing.line((RIGHT + 34, y - 5), (RIGHT + 54, y - 5), LINES[kind.key])
        drawing.words((RIGHT + 60, y), kind.name, "label-ink")
        drawing.figure(
            (RIGHT + 60, y + 19), number_text(kind.cost(length), 0), sheet.design.money.currency.value, "fig-key"
        )
        drop = shown(kind.drop, "head", units)
        drawing.words((RIGHT + 60, y + 33), tr("{name}, head {drop}", name=kind.pipe.name, drop=drop), "label")
    return drawing
