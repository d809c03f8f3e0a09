"""Legionella: how long each part of the store stands in which band of temperature, and what the backup does about it."""

from __future__ import annotations

from rowan.core.appraise.hygiene import HYGIENE_EDGES_C
from rowan.core.simulation.year import Year
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, number_text
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import USUAL_PX, width_of
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT = 656, 158
LEFT, RIGHT = 96.0, 640.0
CLASSES = ("bar-slate", "lukewarm", "bar-open", "bar", "bar-hatch")
NARROW = 34.0


def hygiene_drawing(sheet: Sheet, year: Year) -> Drawing:
    """Hours a year of top, middle and foot in each band."""
    drawing = Drawing(WIDTH, HEIGHT, "Hours a year in each band of temperature", "hygiene", "hygiene")
    nodes = year.nodes
    unit = dimension("temperature").unit(sheet.units)
    for row, (name, node) in enumerate((("top", 0), ("middle", nodes // 2), ("foot", nodes - 1))):
        y = 26.0 + 34 * row
        drawing.words((LEFT - 10, y + 16), name, "label-ink", "end")
        x = LEFT
        for k, hours in enumerate(year.hours_between(node, HYGIENE_EDGES_C)):
            width = (RIGHT - LEFT) * float(hours) / HOURS
            drawing.rect(x, y, width, 22, CLASSES[k])
            if width > NARROW:
                drawing.words((x + width / 2, y + 15), f"{number_text(float(hours), 0)} h", "fig-cell halo", "middle")
            x += width
    edges = [f"{unit.from_si(edge):.0f}" for edge in HYGIENE_EDGES_C]
    names = (
        tr("below {edges}", edges=edges[0]),
        tr("{low} to {high}: germs grow", low=edges[0], high=edges[1]),
        tr("to {edges}", edges=edges[2]),
        tr("to {edges}", edges=edges[3]),
        tr("{edges} and more", edges=edges[3]),
    )
    x = LEFT
    for i, (name, cls) in enumerate(zip(names, CLASSES, strict=True)):
        first = i == 0  # the first says the unit for all
        drawing.rect(x, 134, 13, 11, cls)
        drawing.words((x + 18, 144), f"{name} {unit.label}" if first else name, "label")
        x += 34 + width_of(name, USUAL_PX) + (14 if first else 0)
    drawing.words((LEFT, 14), "hours of the year in each band", "label")
    return drawing


def hygiene_words(sheet: Sheet, year: Year) -> Statement:
    """What the backup does about it."""
    store = sheet.design.store
    nodes = year.nodes
    foot = Quantity(float(year.hours_between(nodes - 1, HYGIENE_EDGES_C)[1]) * 3600, "hours")
    held = Quantity(store.backup_c.value, "temperature")
    kind, way = store.backup.value, store.hygiene.value
    if kind in ("coil", "element"):
        words = "The backup holds the upper part at {b}; the foot lies lukewarm for {h} a year and is drawn off daily"
        words += (
            ", and the whole store is heated through at its interval."
            if way == "weekly"
            else "; only a pass of the whole store through {b} covers it."
        )
        return say(words, b=held, h=foot)
    if kind in ("second", "instant"):
        return say(
            "Everything from this store passes the {case} at {b}; the store itself lies lukewarm for {h} a year.",
            case="second tank" if kind == "second" else "instant heater",
            b=held,
            h=foot,
        )
    return say(
        "Nothing heats what the sun leaves lukewarm for {h} a year: a backup or a pass through the whole store is needed.",
        h=foot,
    )
