"""Rows of collectors on one pair of pipes: how the flow divides, what each row takes, what cures a starved one.

Within a row of collectors side by side all take the same share: their own headers are in the data sheet's drop.
Source: methods 8, practice 7 and 8.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate
from typing import Literal

from scipy.optimize import root

from rowan.core.design.design import Design
from rowan.core.run.friction import DropCurve, pipe_drop
from rowan.core.units import LITRE_H

Feed = Literal["reverse", "direct", "throttled"]
EVEN_WITHIN = 0.10  # a row this far from its share is uneven, rule of thumb
ROUNDS, CLOSE, EVEN_DROPS = 400, 1e-9, 1e-5
STEP_RATIO = 1.125  # of the flows at which the drop of many rows is solved


@dataclass(frozen=True)
class RowFlow:
    """One row: its collectors, flow [m³/s], its drop and what its throttle takes [Pa], flow over its even share [-]."""

    collectors: int
    flow: float
    drop: float
    throttle: float
    share: float


@dataclass(frozen=True)
class FieldFlow:
    """The field at one flow: its rows and the drop from first tee to last [Pa]."""

    rows: tuple[RowFlow, ...]
    drop: float

    @property
    def uneven(self) -> float:
        """How far the worst row is from its even share [-]."""
        return max(abs(row.share - 1) for row in self.rows)


@dataclass(frozen=True)
class Header:
    """The pipe between the tees of two rows."""

    length: float
    bore: float
    material: str


@dataclass(frozen=True)
class Field:
    """A field with its fluid: `series` rows carry the row's flow through every collector."""

    rows: tuple[int, ...]
    series: bool
    feed: Feed
    collector: DropCurve
    supply: Header
    back: Header
    density: float
    viscosity: float
    nominal: float

    def _row(self, collectors: int) -> tuple[float, float]:
        """A row's drop as a·q + b·q²."""
        k1 = self.collector.k1 * self.viscosity / self.collector.rated.viscosity
        k2 = self.collector.k2 * self.density / self.collector.rated.density
        return (collectors * k1, collectors * k2) if self.series else (k1 / collectors, k2 / collectors**2)

    def row_drop(self, collectors: int, flow: float) -> float:
        """Drop of a row [Pa] at its flow [m³/s]."""
        a, b = self._row(collectors)
        return a * flow + b * flow**2

    def _headers(self, flows: Sequence[float]) -> list[float]:
        """Drop of the pipes to and from each row's tees [Pa]."""

        def drop(header: Header, flow: float) -> float:
            return pipe_drop(
                length=header.length,
                bore=header.bore,
                flow=flow * self.density,
                density=self.density,
                viscosity=self.viscosity,
                material=header.material,
            ).pressure_drop

        total = math.fsum(flows)
        passed = list(accumulate(flows))[:-1]
        there = [drop(self.supply, total - so_far) for so_far in passed]
        reverse = self.feed == "reverse"
        home = [drop(self.back, so_far if reverse else total - so_far) for so_far in passed]
        return [
            math.fsum(there[:i]) + (math.fsum(home[i:]) if reverse else math.fsum(home[:i])) for i in range(len(flows))
        ]

    def at(self, flow: float) -> FieldFlow:
        """How a flow [m³/s] divides over the rows."""
        count = sum(self.rows)
        even = [flow * row / count for row in self.rows]
        if flow <= 0 or len(self.rows) == 1:
            drop = self.row_drop(self.rows[0], flow) if flow > 0 else 0.0
            return FieldFlow((RowFlow(count, flow, drop, 0.0, 1.0),), drop)
        if self.feed == "throttled":
            return self._throttled(even)
        flows = self._divided(flow, even)
        headers = self._headers(flows)
        drops = [self.row_drop(n, q) for n, q in zip(self.rows, flows, strict=True)]
        rows = tuple(
            RowFlow(n, q, drop, 0.0, q / share) for n, q, drop, share in zip(self.rows, flows, drops, even, strict=True)
        )
        return FieldFlow(rows, max(h + d for h, d in zip(headers, drops, strict=True)))

    def _throttled(self, even: list[float]) -> FieldFlow:
        """Throttles take from every row what the hardest one needs more."""
        headers = self._headers(even)
        drops = [self.row_drop(n, q) for n, q in zip(self.rows, even, strict=True)]
        most = max(h + d for h, d in zip(headers, drops, strict=True))
        rows = tuple(
            RowFlow(n, q, d, most - h - d, 1.0) for n, q, d, h in zip(self.rows, even, drops, headers, strict=True)
        )
        return FieldFlow(rows, most)

    def _divided(self, flow: float, even: list[float]) -> list[float]:
        """Flows that leave the same drop over every way. What the rows store of energy is convex: there is one answer."""
        curves = [self._row(n) for n in self.rows]
        scale = max(self.row_drop(n, q) for n, q in zip(self.rows, even, strict=True)) + max(self._headers(even))

        def flows_of(shares: Sequence[float]) -> list[float]:
            first = [share * flow for share in shares]
            return [*first, flow - math.fsum(first)]

        def differences(shares: Sequence[float]) -> list[float]:
            flows = flows_of(shares)
            headers = self._headers([max(q, 0.0) for q in flows])
            # a flow against the stream is drawn back by a drop of its own sign
            ways = [h + a * q + b * q * abs(q) for h, (a, b), q in zip(headers, curves, flows, strict=True)]
            return [(way - ways[-1]) / scale for way in ways[:-1]]

        solved = root(differences, [q / flow for q in even[:-1]], method="hybr", options={"xtol": CLOSE})
        flows = flows_of([float(share) for share in solved.x])
        if max(abs(x) for x in differences(solved.x)) < EVEN_DROPS and min(flows) > 0:
            return flows
        return self._relaxed(flow, even, curves)

    def _relaxed(self, flow: float, even: list[float], curves: Sequence[tuple[float, float]]) -> list[float]:
        """The same, step by step with the pipes' drop of the step before: slow and sure."""
        flows, pace, last = even, 0.5, math.inf
        for _ in range(ROUNDS):
            found = _sharing(curves, self._headers(flows), flow)
            moved = max(abs(a - b) for a, b in zip(found, flows, strict=True))
            pace *= 1.0 if moved < last else 0.6
            last = moved
            flows = [pace * a + (1 - pace) * b for a, b in zip(found, flows, strict=True)]
            if moved < CLOSE * flow:
                break
        return flows

    def drop(self, flow: float) -> float:
        """Drop of the whole field [Pa]; that of many rows between steps of an eighth of the flow, within 0.5 %."""
        if flow <= 0:
            return 0.0
        if len(self.rows) == 1:
            return self.row_drop(self.rows[0], flow)
        place = math.log(flow / self.nominal) / math.log(STEP_RATIO)
        step = math.floor(place)
        low, high = _log_drop(self, step), _log_drop(self, step + 1)
        return math.exp(low + (high - low) * (place - step))


@lru_cache(maxsize=4096)
def _log_drop(field: Field, step: int) -> float:
    """Logarithm of a field's drop at a step of its table, solved once: most changes of a plan leave the field as it is."""
    return math.log(max(field.at(field.nominal * STEP_RATIO**step).drop, 1e-12))


def _sharing(curves: Sequence[tuple[float, float]], headers: Sequence[float], flow: float) -> list[float]:
    """Flows through a·q + b·q² + header that are under one pressure and add up to `flow`."""

    def flows(pressure: float) -> list[float]:
        found = []
        for (a, b), header in zip(curves, headers, strict=True):
            left = max(pressure - header, 0.0)
            found.append(left / a if b * left < 1e-12 * a * a else (math.sqrt(a * a + 4 * b * left) - a) / (2 * b))
        return found

    low, high = min(headers), max(headers) + max(a * flow + b * flow**2 for a, b in curves)
    for _ in range(60):
        middle = (low + high) / 2
        if sum(flows(middle)) < flow:
            low = middle
        else:
            high = middle
    found = flows(high)
    total = sum(found)
    return [q * flow / total for q in found]


def field_of(design: Design, collector: DropCurve, *, density: float, viscosity: float) -> Field:
    """The field of a design with a fluid of density [kg/m³] and viscosity [Pa·s]."""
    run, apart = design.run, design.collector.row_apart_m.value
    cold, hot = run.laid("cold"), run.laid("hot")
    feed: Feed = design.collector.feed.value  # type: ignore[assignment]
    return Field(
        design.row_counts,
        design.collector.within.value == "series",
        feed,
        collector,
        Header(apart, cold.bore_m, cold.material),
        Header(apart, hot.bore_m, hot.material),
        density,
        viscosity,
        design.run.flow_l_h.value * LITRE_H,
    )
