"""Goods and prices as CSV, in and out: our own columns, SI in their names, lists as JSON; a spreadsheet's formulas are no values.

Columns of goods: `price`, `merchant`, `withdrawn` (a day), then those of the item as in a job file. Of prices: `part`, `price`,
`merchant`. The delimiter is a comma or a semicolon; with a semicolon a price may have a decimal comma.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator, Mapping
from typing import Any, Literal, get_args, get_origin

from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import typed_to_si
from rowan.web.goods.models import ITEMS, Good
from rowan.web.ui.errors import WebError

LARGEST = 2_000_000  # bytes
MOST_ROWS = 5_000
OWN = ("price", "merchant", "withdrawn")
# what a spreadsheet would run
FORMULA = re.compile(r"^[=@+\t\r]|^-(?![\d.,]+$)")


class CsvRefusedError(WebError):
    """A line of a file that cannot be taken: its number and why."""

    def __init__(self, line: int, words: str) -> None:
        super().__init__(tr("line {line}: {words}; nothing of the file was taken", line=line, words=words))


def safe_cell(value: object) -> str:
    """A value that no spreadsheet runs: text that looks like a formula gets a quote before it."""
    text = "" if value is None else str(value)
    return f"'{text}" if isinstance(value, str) and FORMULA.match(text) else text


def goods_csv(kind: str, goods: Iterator[Good] | list[Good]) -> str:
    """The catalogue of a kind."""
    fields = [name for name in ITEMS[kind].model_fields if name not in OWN]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow((*OWN, *fields))
    for good in goods:
        cells = [good.data.get(name) for name in fields]
        plain = [json.dumps(cell) if isinstance(cell, list | dict | bool) else cell for cell in cells]
        writer.writerow([safe_cell(one) for one in (good.price, good.merchant, good.withdrawn, *plain)])
    return out.getvalue()


def prices_csv(rows: Mapping[str, tuple[float, str]]) -> str:
    """A price list."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("part", "price", "merchant"))
    for key, (price, merchant) in rows.items():
        writer.writerow((key, f"{price:g}", safe_cell(merchant)))
    return out.getvalue()


def rows_of(content: bytes) -> list[dict[str, str]]:
    """The lines of a file by its heads. Raises CsvRefusedError for what is no such file."""
    if len(content) > LARGEST:
        raise CsvRefusedError(1, tr("more than {most} MB", most=LARGEST // 1_000_000))
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CsvRefusedError(1, "this is no text in UTF-8") from error
    head = text.split("\n", 1)[0]
    delimiter = ";" if head.count(";") > head.count(",") else ","
    try:
        found = list(csv.DictReader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise CsvRefusedError(1, tr("this is no table: {error}", error=error)) from error
    if len(found) > MOST_ROWS:
        raise CsvRefusedError(MOST_ROWS + 2, tr("at most {most} lines", most=MOST_ROWS))
    for number, row in enumerate(found, 2):
        if None in row or None in row.values():
            raise CsvRefusedError(number, "as many cells as the head has columns are wanted")
        for name, cell in row.items():
            if FORMULA.match(cell.strip()):
                raise CsvRefusedError(
                    number, tr("“{cell}” in {name} is a formula, not a value", cell=cell[:20], name=name)
                )
    return found


def price_of(text: str, line: int) -> float | None:
    """A price as typed; None for none. Raises CsvRefusedError for what may be read two ways, or is no number."""
    if not text.strip():
        return None
    try:
        return typed_to_si(text, "money")
    except RowanError as error:
        raise CsvRefusedError(line, f"{error.text()}") from error


def item_of(kind: str, row: Mapping[str, str], line: int) -> dict[str, Any]:
    """The item of a line: its own columns, empty ones left to their usual value. Raises CsvRefusedError for another column."""
    fields = ITEMS[kind].model_fields
    unknown = [name for name in row if name not in fields and name not in OWN]
    if unknown:
        raise CsvRefusedError(line, tr("there is no column “{unknown}”", unknown=unknown[0]))
    return {
        name: _value(name, fields[name].annotation, row[name].strip(), line)
        for name in row
        if name in fields and name not in OWN and row[name].strip()
    }


def _is_text(annotation: Any) -> bool:
    """Whether a column holds words: a text, or one of some words."""
    options = get_args(annotation)
    if get_origin(annotation) is Literal:
        return all(isinstance(option, str) for option in options)
    return annotation is str or any(_is_text(option) for option in options)


def _value(name: str, annotation: Any, text: str, line: int) -> Any:
    if text[:1] in "[{" or text in ("true", "false"):
        try:
            return json.loads(text)
        except ValueError as error:
            raise CsvRefusedError(line, tr("{name} is no list", name=name)) from error
    if _is_text(annotation):
        return text.removeprefix("'")
    try:
        return float(text)
    except ValueError:
        try:
            return typed_to_si(text, "ratio")
        except RowanError as error:
            raise CsvRefusedError(line, f"{name}: {error.text()}") from error
