"""Rows of a field as somebody types them: a number of even rows, or each row's collectors."""

from __future__ import annotations

import re
from functools import lru_cache

from pydantic import field_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Input
from rowan.core.terms.errors import TypedNumberError

# more than any roof of this trade holds; a typing error beyond
MOST_ROWS, MOST_IN_ROW = 12, 60
_BETWEEN = re.compile(r"\s*[+,;]\s*|\s+and\s+|\s+")


@lru_cache(maxsize=512)  # the counts of a plan are asked twenty times a reckoning
def row_counts(text: str, count: int) -> tuple[int, ...]:
    """Collectors in each row: “2” divides `count` as evenly as can be, “6 + 6” or “5, 3” are taken as typed.

    Raises TypedNumberError.
    """
    parts = [part for part in _BETWEEN.split(text.strip()) if part not in ("row", "rows")]
    if not parts or any(not re.fullmatch(r"[0-9]{1,2}", part) for part in parts):
        raise TypedNumberError("“{text}” is no list of rows: type 2, or 6 + 6", text=text.strip()[:30])
    numbers = [int(part) for part in parts]
    if len(numbers) == 1:
        rows = numbers[0]
        if not 1 <= rows <= MOST_ROWS:
            raise TypedNumberError("1 to {most_rows} rows can be", most_rows=f"{MOST_ROWS}")
        rows = min(rows, count)
        return tuple(count // rows + (1 if row < count % rows else 0) for row in range(rows))
    if len(numbers) > MOST_ROWS or any(not 1 <= number <= MOST_IN_ROW for number in numbers):
        raise TypedNumberError(
            "each row has 1 to {most_in_row} collectors, and there are {most_rows} rows at most",
            most_in_row=f"{MOST_IN_ROW}",
            most_rows=f"{MOST_ROWS}",
        )
    return tuple(numbers)


def typed_rows(value: str) -> str:
    """The text itself where it is a list of rows; for pydantic, refuses any other with its reason."""
    try:
        row_counts(value, MOST_IN_ROW)
    except TypedNumberError as error:
        raise PydanticCustomError("rows", "{reason}", {"reason": str(error)}) from error
    return value


class RowsText(Input[str]):
    """An input of rows."""

    @field_validator("value")
    @classmethod
    def _is_rows(cls, value: str) -> str:
        return typed_rows(value)
