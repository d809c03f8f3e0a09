"""The map of sizes: field by store, sixty years, drawn as they come."""

from __future__ import annotations

import math

import numpy as np

from rowan.core.simulation.year import Year
from rowan.core.studies.choices import with_sizes
from rowan.core.studies.sizes import STANDS_H, VOLUME_STEPS, field_sizes, seldom_hot, stands_hot, store_sizes
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, dimension, number_text, shown
from rowan.web.benches.bench import Sheet
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.charts import contour_lines
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 330
LEFT, RIGHT, TOP, FOOT = 74.0, 560.0, 26.0, 276.0
LEVELS = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9)
TINTS = 6
KEY_X = 576.0


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """Sixty plans, those nearest to this one first; flow for each square metre as it is."""
    counts, volumes = field_sizes(sheet.design), store_sizes(sheet.design)
    here = sheet.design.collector.count.value
    each = sheet.result.run.flow / here
    grid = [(i, j) for i in range(len(counts)) for j in range(len(volumes))]
    grid.sort(key=lambda c: abs(math.log(counts[c[0]] / here)) + abs(math.log(VOLUME_STEPS[c[1]])))
    return tuple(
        Variant(f"{i},{j}", with_sizes(sheet.design, count=counts[i], contents_l=volumes[j]), flow=each * counts[i])
        for i, j in grid
    )


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """The map so far: tints by solar fraction, hatches where a field stands hot or a store is seldom so."""
    drawing = Drawing(WIDTH, HEIGHT, "Solar fraction by field and store", "sizes", "sizes")
    counts, volumes = field_sizes(sheet.design), store_sizes(sheet.design)
    cell_w, cell_h = (RIGHT - LEFT) / len(counts), (FOOT - TOP) / len(volumes)
    values = np.full((len(volumes), len(counts)), np.nan)
    for outcome in outcomes:
        if outcome is None or outcome.year is None:
            continue
        i, j = (int(part) for part in outcome.variant.label.split(","))
        values[j, i] = outcome.year.solar_fraction
        x, y = LEFT + cell_w * i, FOOT - cell_h * (j + 1)
        _cell(drawing, outcome.year, (x, y, cell_w, cell_h), seldom=seldom_hot(outcome.middle_hot))
    xs = np.asarray(LEFT + cell_w * (np.arange(len(counts)) + 0.5), dtype=float)
    ys = np.asarray(FOOT - cell_h * (np.arange(len(volumes)) + 0.5), dtype=float)
    if not np.isnan(values).any():
        contour_lines(drawing, xs, ys, values, LEVELS, [f"{100 * level:.0f} %" for level in LEVELS])
    _axes(drawing, sheet, counts, volumes, cell_w, cell_h)
    _here(drawing, sheet, counts, cell_w, cell_h, values)
    _key(drawing)
    return Told(_verdict(sheet, outcomes), drawing)


def _cell(drawing: Drawing, year: Year, box: tuple[float, float, float, float], *, seldom: bool) -> None:
    """A size: tinted by its solar fraction, hatched where it stands hot or its store is seldom so."""
    x, y, width, height = box
    tint = 1 + min(TINTS - 1, int(max(year.solar_fraction, 0.0) * TINTS))
    drawing.rect(x, y, width, height, f"band-{tint}")
    if stands_hot(year):
        drawing.rect(x, y, width, height, "stands")
    if seldom:
        drawing.rect(x, y, width, height, "seldom")


def _axes(
    drawing: Drawing, sheet: Sheet, counts: list[int], volumes: list[float], cell_w: float, cell_h: float
) -> None:
    units = sheet.units
    area = sheet.design.collector.item.value.aperture_m2
    unit = dimension("area").unit(units)
    drawing.rect(LEFT, TOP, RIGHT - LEFT, FOOT - TOP, "frame")
    for i, count in enumerate(counts):
        x = LEFT + cell_w * (i + 0.5)
        drawing.words((x, FOOT + 16), str(count), "label-ink", "middle")
        drawing.words((x, FOOT + 30), number_text(unit.from_si(count * area), 1), "axis", "middle")
    drawing.words((RIGHT + 8, FOOT + 16), "collectors", "label")
    drawing.words((RIGHT + 8, FOOT + 30), tr("{label} aperture", label=unit.label), "label")
    for j, volume in enumerate(volumes):
        drawing.words(
            (LEFT - 8, FOOT - cell_h * (j + 0.5) + 4), shown(volume * LITRE, "tank", units), "label-ink", "end"
        )
    drawing.words((LEFT - 66, TOP - 10), "store", "label")


def _here(drawing: Drawing, sheet: Sheet, counts: list[int], cell_w: float, cell_h: float, values: np.ndarray) -> None:
    """The plan's own cell."""
    i, j = counts.index(sheet.design.collector.count.value), VOLUME_STEPS.index(1.0)
    x, y = LEFT + cell_w * i, FOOT - cell_h * (j + 1)
    drawing.rect(x + 1.5, y + 1.5, cell_w - 3, cell_h - 3, "chosen-cell")
    drawing.circle((x + 12, y + 13), 5, "leaf-dot")
    if not math.isnan(values[j, i]):
        drawing.words((x + cell_w / 2, y + cell_h - 9), f"{100 * values[j, i]:.0f} %", "fig halo", "middle")


def _key(drawing: Drawing) -> None:
    rows = (
        ("stands", ("stands hot", tr("over {hours} h", hours=f"{STANDS_H:.0f}"))),
        ("seldom", ("its middle", "seldom hot")),
    )
    for n, (cls, lines) in enumerate(rows):
        y = TOP + 30 + 40 * n
        drawing.rect(KEY_X, y, 18, 14, "frame")
        drawing.rect(KEY_X, y, 18, 14, cls)
        for k, line in enumerate(lines):
            drawing.words((KEY_X + 24, y + 9 + 12 * k), line, "label")
    drawing.words((KEY_X, TOP + 14), "solar fraction", "label")


def _verdict(sheet: Sheet, outcomes: Outcomes) -> Statement | None:
    """What one collector more or a bigger store would bring, once those years are there."""
    found = {o.variant.label: o for o in outcomes if o is not None and o.year is not None}
    counts = field_sizes(sheet.design)
    i, j = counts.index(sheet.design.collector.count.value), VOLUME_STEPS.index(1.0)
    here, field, store = found.get(f"{i},{j}"), found.get(f"{i + 1},{j}"), found.get(f"{i},{j + 1}")
    if not (here and field and store):
        return None
    return say(
        "Here {h} solar. {n} collectors would make {f}, a store of {v} {s}.",
        h=_share(here),
        n=Quantity(counts[i + 1], "count"),
        f=_share(field),
        v=Quantity(store_sizes(sheet.design)[j + 1] * LITRE, "tank"),
        s=_share(store),
    )


def _share(outcome: Outcome) -> Quantity:
    assert outcome.year is not None  # noqa: S101  asked for above
    return Quantity(outcome.year.solar_fraction, "share")


SIZES = RunKind("sizes", "Field by store", variants, tell, "Run 60 years of other sizes, about 8 s")
