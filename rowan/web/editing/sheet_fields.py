"""Fields of a data sheet as somebody types them: each a number with its unit, some of them often not printed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.expression import significant
from rowan.core.terms.record import record
from rowan.core.terms.units import System, dimension, typed_to_si, unit_label


@record
class Row:
    """A line of a data sheet: the item's field, its label and dimension; stored × `scale` is SI. `optional` may be left empty."""

    key: str
    label: str
    dimension: str
    scale: float = 1.0
    optional: bool = False


@record
class Field:
    """One field of the sheet as it stands, with its unit and what is wrong with it."""

    key: str
    label: str
    typed: str
    unit: str
    wrong: str = ""
    help: str = ""


def shown_in(si: float, dimension_name: str, units: System) -> str:
    """An SI value as it is put into a field, without grouping."""
    text = significant(dimension(dimension_name).unit(units).from_si(si), 5)
    return text.replace("\N{NARROW NO-BREAK SPACE}", "")


def filled(rows: Iterable[Row], values: Mapping[str, float | None], units: System) -> dict[str, Field]:
    """Fields filled from stored values; what nobody knows is empty."""
    found = {}
    for row in rows:
        value = values[row.key]
        text = "" if value is None else shown_in(value * row.scale, row.dimension, units)
        found[row.key] = Field(row.key, row.label, text, unit_label(row.dimension, units))
    return found


def typed(
    rows: Iterable[Row], post: Mapping[str, str], units: System, before: Mapping[str, float | None]
) -> tuple[dict[str, Field], dict[str, float | None]]:
    """Fields as they were typed, and their stored values; a field that cannot be read says why and has no value.

    What nobody touched is the value `before` with all its digits: a field shows five.
    """
    rows = tuple(rows)
    stood = filled((row for row in rows if row.key in before), before, units)
    fields: dict[str, Field] = {}
    values: dict[str, float | None] = {}
    for row in rows:
        text, wrong = post.get(row.key, "").strip(), ""
        if row.key in stood and text == stood[row.key].typed:
            values[row.key] = before[row.key]
        elif row.optional and not text:
            values[row.key] = None
        else:
            try:
                values[row.key] = round(typed_to_si(text, row.dimension, units) / row.scale, 9)
            except TypedNumberError as error:
                wrong = str(error)
        fields[row.key] = Field(row.key, row.label, text, unit_label(row.dimension, units), wrong)
    return fields, values
