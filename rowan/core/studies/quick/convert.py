"""Any unit of the trade to any other: what was typed, in every unit of each quantity that it can be."""

from __future__ import annotations

import re

from rowan.core.terms.errors import ImpossibleInputError, RowanError, TypedNumberError
from rowan.core.terms.expression import significant
from rowan.core.terms.record import record
from rowan.core.terms.units import DIMENSIONS, Dimension, typed_to_si

DIGITS = 5  # significant; a gauge shows three
# dimensions that are one quantity to whoever types a unit, under the name of the first
ALIKE = {
    "length": "length", "pressure": "pressure", "volume": "volume", "flow": "flow", "temperature": "temperature", "difference": "difference of temperature",
    "energy": "heat", "heat_rate": "power", "velocity": "speed", "mass": "mass", "area": "area", "force": "force", "time": "time",
    "specific_flow": "flow per area", "irradiance": "sun", "irradiation": "sun in a year", "loss_per_length": "loss of a pipe",
    "volume_per_area": "store per area", "density": "density", "floor_load": "load on a floor", "head": "head of water",
}  # fmt: skip


# as they are written, where what is typed is in small letters
WRITTEN = {
    "kpa": "kPa", "pa": "Pa", "mpa": "MPa", "k": "K", "l": "L", "ml": "mL", "l/h": "L/h", "l/s": "L/s", "l/min": "L/min", "m3/h": "m³/h",
    "m3": "m³", "kw": "kW", "w": "W", "kwh": "kWh", "wh": "Wh", "mj": "MJ", "btu": "Btu", "btu/h": "Btu/h", "n": "N", "kn": "kN",
}  # fmt: skip
MARKS = {"'", '"'}  # ways to type feet and inches, no names of theirs


@record
class Converted:
    """A quantity that a text can be, and its value in each unit as (number, unit)."""

    name: str
    rows: tuple[tuple[str, str], ...]


def _units(dimension: Dimension) -> dict[str, tuple[float, float]]:
    """Every unit of a dimension by its label: SI = number × factor + offset."""
    found = {one.label: (one.factor, one.offset) for one in (dimension.metric, dimension.us) if one.label}
    known = {label.lower() for label in found}
    for label, factor, offset in dimension.typed:
        if label not in MARKS and label.lower() not in known and (factor, offset) not in found.values():
            found[WRITTEN.get(label, label)] = (factor, offset)
            known.add(label.lower())
    return found


def converted(text: str) -> tuple[Converted, ...]:
    """What a number with its unit is in other units. Raises ImpossibleInputError without a unit that the trade has,
    TypedNumberError for a number that can be read in two ways."""
    unit = re.sub(r"^[\s+\-−\d.,'’/½¼¾]+", "", text.strip()).lower()
    if not unit:
        raise ImpossibleInputError("type a number with its unit, such as 23 psi or 12 ft 3 in")
    found: list[Converted] = []
    for key, name in ALIKE.items():
        dimension = DIMENSIONS[key]
        units = _units(dimension)
        labels = {label.lower() for label in units} | {label.lower() for label, _, _ in dimension.typed}
        if unit not in labels and not any(word in labels for word in re.findall(r"[^\d\s.,]+", unit)):
            continue
        try:
            value = typed_to_si(text, key)
        except TypedNumberError as error:
            if error.readings:  # a number that can be read in two ways is no matter of its unit
                raise
            continue
        except RowanError:
            continue
        shown = {label for one in found for _, label in one.rows}
        rows = tuple(
            (significant((value - offset) / factor, DIGITS), label)
            for label, (factor, offset) in units.items()
            if label not in shown
        )
        found.append(Converted(name, rows))
    if not found:
        raise ImpossibleInputError("no quantity of this trade is measured in that unit")
    return tuple(found)
