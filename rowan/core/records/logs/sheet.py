"""A logger's file as rows of cells: which letters, which delimiter, which decimal mark, where its head ends.

Nothing is known of makers. What a file is shows in its lines: the delimiter is the mark that parts most lines into equally many
cells, a head is what stands above the first line of numbers.
"""

from __future__ import annotations

import re
from collections import Counter
from typing import Literal

from rowan.core.records.logs.errors import LogError
from rowan.core.terms.record import record

LARGEST_BYTES = 150_000_000  # bytes; a year of minutes with ten columns has 40 million
MOST_ROWS = 2_200_000  # rows: four years of minutes; more is read in parts
LOOKED_AT = 400  # lines from which the form of a file is told
LEAST_ROWS = 3  # rows of numbers, fewer are no log
MOST_COLUMNS = 80  # columns; a controller's log has thirty at most
MOST_HEAD = 60  # lines above the numbers
DELIMITERS = (";", "\t", "|", ",")
# the first bytes of files that are no text: an archive (spreadsheets of today), a compound document (older ones), compressed, PDF
NOT_TEXT = {
    b"PK\x03\x04": "a spreadsheet",
    b"\xd0\xcf\x11\xe0": "a spreadsheet",
    b"\x1f\x8b": "compressed",
    b"%PDF": "a PDF",
}
CURES = {"a spreadsheet": "save it as CSV there", "compressed": "unpack it first", "a PDF": "ask the logger for CSV"}
COMMA_NUMBER, POINT_NUMBER = re.compile(r"^[-+]?\d+,\d+$"), re.compile(r"^[-+]?\d*\.\d+$")
NUMBER = re.compile(r"^[-+]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?$")
UNIT_IN_NAME = re.compile(r"[\[(]\s*([^\])]{1,12})\s*[\])]\s*$")
Decimal = Literal[".", ","]


@record
class Sheet:
    """How a file is to be read: its text, delimiter, decimal mark, lines above the numbers, names and units of its columns."""

    text: str
    delimiter: str
    decimal: Decimal
    skipped: int
    names: tuple[str, ...]
    units: tuple[str, ...]
    first_rows: tuple[tuple[str, ...], ...]
    is_cut: bool
    notes: tuple[str, ...]


def text_of(data: bytes) -> str:
    """The text of a file's bytes: UTF-8, UTF-16 with its mark, or Western European. Raises LogError for what is no text."""
    if not data.strip():
        raise LogError("the file is empty")
    if len(data) > LARGEST_BYTES:
        raise LogError(
            "the file has more than {largest_bytes} million bytes; send it in parts, a year each",
            largest_bytes=f"{LARGEST_BYTES // 1_000_000}",
        )
    for begins, what in NOT_TEXT.items():
        if data.startswith(begins):
            raise LogError("this is {what}, whatever its name says: {cures}", what=what, cures=CURES[what])
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16")
        except UnicodeDecodeError as error:
            raise LogError("the file begins as text and goes on as none") from error
    if b"\0" in data[:100_000]:
        raise LogError("this is no text; Rowan reads CSV as loggers write it")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace")


def sheet_of(data: bytes) -> Sheet:
    """How a file is to be read, by its first lines. Raises LogError where they are no table of numbers."""
    text = text_of(data).replace("\r\n", "\n").replace("\r", "\n")
    if not text.strip():
        raise LogError("the file is empty")
    rows = text.count("\n")
    if rows > MOST_ROWS:
        raise LogError(
            "the file has {rows} lines; send at most {most_rows} at once, a year each",
            rows=f"{rows:,}",
            most_rows=f"{MOST_ROWS:,}",
        )
    first = text.split("\n", LOOKED_AT + MOST_HEAD)
    lines = first[: LOOKED_AT + MOST_HEAD]
    is_whole = len(first) <= LOOKED_AT + MOST_HEAD
    delimiter, width = _delimiter(lines)
    cells = [cells_of(line, delimiter) for line in lines]
    begins = _first_of_numbers(cells, width)
    body = [row for row in cells[begins:] if len(row) == width]
    if is_whole and len(body) < LEAST_ROWS:
        raise LogError("there are no rows of numbers with a time in it")
    names, units = _head(cells[:begins], width)
    decimal = _decimal(body, delimiter)
    last = text.rstrip("\n").rsplit("\n", 1)[-1]
    is_cut = len(cells_of(last, delimiter)) < width
    return Sheet(
        text=text,
        delimiter=delimiter,
        decimal=decimal,
        skipped=begins,
        names=names,
        units=units,
        first_rows=tuple(tuple(row) for row in body[:8]),
        is_cut=is_cut,
        notes=_notes(delimiter, decimal, begins),
    )


def cells_of(line: str, delimiter: str) -> list[str]:
    """The cells of a line, without the quotes around them."""
    if '"' not in line:
        found = line.split(delimiter)
    else:
        found, inside, cell = [], False, ""
        for letter in line:
            if letter == '"':
                inside = not inside
            elif letter == delimiter and not inside:
                found.append(cell)
                cell = ""
                continue
            cell += letter
        found.append(cell)
    return [cell.strip().strip('"').strip() for cell in found]


def _delimiter(lines: list[str]) -> tuple[str, int]:
    """The mark that parts most lines into equally many cells, and how many; the comma last, as it is a decimal mark too."""
    full = [line for line in lines if line.strip()]
    best = (0.0, "", 0)
    for mark in DELIMITERS:
        widths = Counter(len(cells_of(line, mark)) for line in full)
        width, count = max(widths.items(), key=lambda item: (item[1], item[0]))
        share = count / len(full)
        if width >= 2 and share > best[0] + 0.05:
            best = (share, mark, width)
    if not best[1] or best[0] < 0.5:
        raise LogError("its lines are not parted alike by semicolon, tab, bar or comma: this is no table")
    if best[2] > MOST_COLUMNS:
        raise LogError(
            "it has {best} columns; Rowan reads at most {most_columns}",
            best=f"{best[2]}",
            most_columns=f"{MOST_COLUMNS}",
        )
    return best[1], best[2]


def _first_of_numbers(cells: list[list[str]], width: int) -> int:
    """The first line from which on more than a third of the cells are numbers, in this and the next line that is full."""
    for number, row in enumerate(cells[:MOST_HEAD]):
        if len(row) == width and sum(bool(NUMBER.match(cell)) for cell in row) * 3 >= width and _has_time(row):
            return number
    raise LogError("no row with a time and numbers stands in its first {most_head} lines", most_head=f"{MOST_HEAD}")


def _has_time(row: list[str]) -> bool:
    return any(sum(letter.isdigit() for letter in cell) >= 4 for cell in row)


def _head(above: list[list[str]], width: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names and units of the columns: the last full lines above the numbers; numbered where there are none."""
    full = [row for row in above if len(row) == width and any(row)]
    units = [""] * width
    if len(full) >= 2 and all(len(cell) <= 12 for cell in full[-1]) and _is_units(full[-1]):
        units = [cell.strip("[]()") for cell in full.pop()]
    names = [cell.lstrip("#").strip() for cell in full[-1]] if full else [""] * width
    for at, name in enumerate(names):
        match = UNIT_IN_NAME.search(name)
        if match and not units[at]:
            units[at] = match.group(1).strip()
    return tuple(name or f"column {at}" for at, name in enumerate(names, 1)), tuple(units)


def _is_units(row: list[str]) -> bool:
    known = {
        "c",
        "°c",
        "k",
        "f",
        "°f",
        "%",
        "bar",
        "kpa",
        "psi",
        "l/min",
        "l/h",
        "w/m2",
        "w/m²",
        "kwh",
        "h",
        "m3/h",
        "m³/h",
    }
    return any(cell.strip("[]()").lower() in known for cell in row)


def _decimal(body: list[list[str]], delimiter: str) -> Decimal:
    cells = [cell for row in body for cell in row]
    commas = sum(bool(COMMA_NUMBER.match(cell)) for cell in cells)
    points = sum(bool(POINT_NUMBER.match(cell)) for cell in cells)
    return "," if commas > points else "."


def _notes(delimiter: str, decimal: str, skipped: int) -> tuple[str, ...]:
    names = {
        ";": "cells parted by semicolons",
        "\t": "cells parted by tabs",
        "|": "cells parted by bars",
        ",": "cells parted by commas",
    }
    marks = {".": "decimal point", ",": "decimal comma"}
    head = "no head: the columns are numbered" if not skipped else f"the numbers begin in line {skipped + 1}"
    return (names[delimiter], marks[decimal], head)
