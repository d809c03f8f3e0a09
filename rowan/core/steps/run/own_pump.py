"""A pump by its points: typed by hand, or read from a CSV of speed, flow, head and power."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from itertools import pairwise

from rowan.core.goods.items import PumpSpeed
from rowan.core.terms.errors import ImpossibleInputError, TypedNumberError
from rowan.core.terms.units import LITRE_H, System, typed_to_si

MOST_POINTS, MOST_SPEEDS, MOST_ROWS = 12, 6, 400  # of a file of points; as the item allows
COLUMNS = ("speed", "flow", "head", "power")
DIGITS = 4  # that a read point keeps


def points_from_text(text: str, system: System) -> list[tuple[float, float]]:
    """Points (flow [L/h], head [Pa]) from lines “flow, head”, each with its unit or in those shown.

    Raises TypedNumberError for a line that is none, ImpossibleInputError for a curve that no pump has.
    """
    points = []
    for line in text.replace("\r", "").split("\n"):
        if not line.strip():
            continue
        parts = [part for part in line.replace("\t", ";").split(";") if part.strip()]
        if len(parts) != 2:
            raise TypedNumberError("“{line}” is no point: type flow; head, one to a line", line=line.strip()[:40])
        points.append((typed_to_si(parts[0], "flow", system) / LITRE_H, typed_to_si(parts[1], "head", system)))
    return checked(points)


def checked(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Points in order of flow; raises ImpossibleInputError unless the head never rises and there are two to twelve."""
    ordered = sorted((round(q, DIGITS), round(p, DIGITS)) for q, p in points)
    if not 2 <= len(ordered) <= MOST_POINTS:
        raise ImpossibleInputError(
            "a curve has 2 to {most_points} points, not {ordered}",
            most_points=f"{MOST_POINTS}",
            ordered=f"{len(ordered)}",
        )
    if any(b[0] <= a[0] for a, b in pairwise(ordered)):
        raise ImpossibleInputError("each point needs a flow of its own")
    if any(b[1] > a[1] for a, b in pairwise(ordered)):
        raise ImpossibleInputError("the head of a pump must not rise with its flow")
    if ordered[0][0] < 0 or ordered[-1][1] < 0:
        raise ImpossibleInputError("flow and head are nought or more")
    if ordered[0][1] <= 0:
        raise ImpossibleInputError("at its first point a pump has a head")
    return ordered


def speeds_from_csv(text: str, system: System) -> list[PumpSpeed]:
    """Speeds from a CSV with the columns speed, flow, head and power (the last may be missing after its first row).

    A cell may bring its unit; one without is in the units shown. Raises TypedNumberError or ImpossibleInputError.
    """
    sample = text[:2000]
    mark = ";" if sample.count(";") > sample.count(",") else ","
    try:
        rows = list(csv.reader(io.StringIO(text.replace("\r\n", "\n").replace("\r", "\n")), delimiter=mark))
    except csv.Error as error:
        raise TypedNumberError("this is no table of values divided by commas") from error
    if not rows:
        raise TypedNumberError("the file is empty")
    head = [cell.strip().lower().split(" ")[0] for cell in rows[0]]
    missing = [name for name in COLUMNS if name not in head]
    if missing:
        raise TypedNumberError(
            "the first line names the columns {columns}; {missing} is missing",
            columns=", ".join(COLUMNS),
            missing=missing[0],
        )
    if len(rows) > MOST_ROWS:
        raise TypedNumberError("more than {most_rows} lines are no pump", most_rows=f"{MOST_ROWS}")
    places = {name: head.index(name) for name in COLUMNS}
    curves: dict[str, list[tuple[float, float]]] = {}
    powers: dict[str, float] = {}
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        if len(row) <= max(places[name] for name in COLUMNS[:3]):
            raise TypedNumberError("line {number} has too few cells", number=f"{number}")
        name = row[places["speed"]].strip()[:20] or "1"
        flow, lift = (row[places[key]].strip() for key in ("flow", "head"))
        curves.setdefault(name, []).append(
            (typed_to_si(flow, "flow", system) / LITRE_H, typed_to_si(lift, "head", system))
        )
        power = row[places["power"]].strip() if places["power"] < len(row) else ""
        if power:
            powers[name] = typed_to_si(power, "electric_power", system)
    return made({name: (points, powers.get(name, 0.0)) for name, points in curves.items()})


def made(curves: dict[str, tuple[list[tuple[float, float]], float]]) -> list[PumpSpeed]:
    """Speeds of a pump, the slowest first. Raises ImpossibleInputError."""
    if not 1 <= len(curves) <= MOST_SPEEDS:
        raise ImpossibleInputError("a pump has 1 to {most_speeds} speeds", most_speeds=f"{MOST_SPEEDS}")
    found = []
    for name, (points, power) in curves.items():
        if power <= 0:
            raise ImpossibleInputError("the power of speed {name} is missing", name=name)
        found.append(PumpSpeed(name=name, points_l_h_pa=checked(points), power_w=power))
    return sorted(found, key=lambda speed: speed.points_l_h_pa[0][1])
