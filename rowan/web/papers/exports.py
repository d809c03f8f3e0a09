"""Open formats out: the parts as CSV, the drawings of a bench as SVG files."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from io import StringIO

from rowan.core.records.roof_files import COLUMNS as COLUMNS_OF_MARKS
from rowan.core.records.roof_files import mark_rows
from rowan.core.steps.parts.counting import MERCHANTS, by_place
from rowan.core.steps.parts.pricing import piece_price
from rowan.core.terms.units import dimension
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import loop_drawing
from rowan.web.steps.registry import BENCHES
from rowan.web.ui.svg import Drawing

COLUMNS = ("place", "merchant", "quantity", "unit", "goods", "why", "about")
# a spreadsheet takes a text that begins so for a formula
FORMULA_SIGNS = ("=", "+", "-", "@", "\t", "\r")
DECIMALS = 3


def _cell(text: str) -> str:
    plain = text.replace("\N{NO-BREAK SPACE}", " ").replace("\N{NARROW NO-BREAK SPACE}", "")
    return f"'{plain}" if plain.startswith(FORMULA_SIGNS) else plain


def parts_csv(sheet: Sheet) -> str:
    """The packing list: one line for each part, numbers with a point, in the sheet's units."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for place, parts in by_place(sheet.result.parts.parts).items():
        for part in parts:
            unit = dimension(part.quantity.dimension).unit(sheet.units)
            amount = round(unit.from_si(part.quantity.value), DECIMALS)
            writer.writerow(
                [
                    place,
                    MERCHANTS[part.merchant],
                    f"{amount:g}",
                    unit.label or "piece",
                    _cell(part.name.text(sheet.units)),
                    _cell(part.because.text(sheet.units)),
                    f"{piece_price(sheet.design, part) * part.quantity.value:.2f}",
                ]
            )
    return out.getvalue()


def marks_csv(sheet: Sheet) -> str:
    """Every foot's mark: one line for each, in metres with a point."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS_OF_MARKS)
    writer.writerows(mark_rows(sheet.result.roof))
    return out.getvalue()


def drawings(sheet: Sheet, only: str = "") -> Iterator[tuple[str, str, Drawing]]:
    """Every drawing of a plan: key, what it shows, the drawing. Where `only` one key is wanted, no other bench is drawn."""
    yield "loop", "The loop, heights to scale", loop_drawing(sheet, "", lambda bench: f"#{bench}")
    for bench in BENCHES.values():
        if only and not only.startswith(f"{bench.key}-"):
            continue
        for block in bench.blocks(sheet):
            if block.drawing is not None:
                yield f"{bench.key}-{block.drawing.key}", block.title, block.drawing
