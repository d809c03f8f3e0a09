"""Rows of collectors on one pair of pipes: how the flow divides, what each row takes, what cures a starved one.

Within a row of collectors side by side all take the same share: their own headers are in the data sheet's drop.
Source: methods 8, practice 7 and 8.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from itertools import accumulate

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.inputs.collector import Feed
from rowan.core.steps.run.friction import DropCurve, pipe_drop
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE_H

Array = NDArray[np.float64]
EVEN_WITHIN = 0.10  # a row this far from its share is uneven, rule of thumb
ROUNDS, CLOSE, SHORTEST, NUDGE = 200, 1e-10, 1e-6, 1e-7  # of the solution: rounds, share left over, step and probe
STEP_RATIO = 1.125  # of the flows at which the drop of many rows is solved


@record
class RowFlow:
    """One row: its collectors, flow [m³/s], its drop and what its throttle takes [Pa], flow over its even share [-]."""

    collectors: int
    flow: float
    drop: float
    throttle: float
    share: float


@record
class FieldFlow:
    """The field at one flow: its rows and the drop from first tee to last [Pa]."""

    rows: tuple[RowFlow, ...]
    drop: float

    @property
    def uneven(self) -> float:
        """How far the worst row is from its even share [-]."""
        return max(abs(row.share - 1) for row in self.rows)


@record
class Header:
    """The pipe between the tees of two rows."""

    length: float
    bore: float
    material: str


@record
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

    def _pipe(self, header: Header, flow: float) -> float:
        """Drop of the pipe between two tees [Pa], negative against the stream."""
        found = pipe_drop(
            length=header.length,
            bore=header.bore,
            flow=abs(flow) * self.density,
            density=self.density,
            viscosity=self.viscosity,
            material=header.material,
        )
        return math.copysign(found.pressure_drop, flow)

    def headers(self, flows: Sequence[float]) -> list[float]:
        """Drop of the pipes to and from each row's tees [Pa] at the rows' flows [m³/s]."""
        total = math.fsum(flows)
        passed = list(accumulate(flows))[:-1]
        reverse = self.feed == "reverse"
        there = [self._pipe(self.supply, total - so_far) for so_far in passed]
        home = [self._pipe(self.back, so_far if reverse else total - so_far) for so_far in passed]
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
        flows = self._divided(even)
        headers = self.headers(flows)
        drops = [self.row_drop(n, q) for n, q in zip(self.rows, flows, strict=True)]
        rows = tuple(
            RowFlow(n, q, drop, 0.0, q / share) for n, q, drop, share in zip(self.rows, flows, drops, even, strict=True)
        )
        return FieldFlow(rows, max(h + d for h, d in zip(headers, drops, strict=True)))

    def _throttled(self, even: list[float]) -> FieldFlow:
        """Throttles take from every row what the hardest one needs more."""
        headers = self.headers(even)
        drops = [self.row_drop(n, q) for n, q in zip(self.rows, even, strict=True)]
        most = max(h + d for h, d in zip(headers, drops, strict=True))
        rows = tuple(
            RowFlow(n, q, d, most - h - d, 1.0) for n, q, d, h in zip(self.rows, even, drops, headers, strict=True)
        )
        return FieldFlow(rows, most)

    def _divided(self, even: list[float]) -> list[float]:
        """Flows that leave the same drop over every way, from even ones.

        What passes each tee is sought: the differences between neighbouring ways are the slope of one convex function of
        it, so that Newton's steps, shortened where they overshoot, end at the one answer.
        """
        flow = math.fsum(even)
        passed = np.cumsum(even)[:-1]
        apart = self._apart(passed, flow)
        scale = float(np.max(np.abs(apart))) + self.row_drop(self.rows[0], even[0])
        for _ in range(ROUNDS):
            if np.max(np.abs(apart)) <= CLOSE * scale:
                break
            step = np.linalg.solve(self._slopes(passed, flow), -apart)
            pace, size = 1.0, np.linalg.norm(apart)
            after = self._apart(passed + step, flow)
            while np.linalg.norm(after) >= size and pace > SHORTEST:
                pace /= 2
                after = self._apart(passed + pace * step, flow)
            passed, apart = passed + pace * step, after
        return [float(q) for q in np.diff(passed, prepend=0.0, append=flow)]

    def _apart(self, passed: Array, flow: float) -> Array:
        """By how much the way through each row drops more than that through the next one [Pa]."""
        q = np.diff(passed, prepend=0.0, append=flow)
        rows = np.array([self.row_drop(n, abs(x)) * (1 if x > 0 else -1) for n, x in zip(self.rows, q, strict=True)])
        return rows[:-1] - rows[1:] + np.array([self._between(float(x), flow) for x in passed])

    def _between(self, passed: float, flow: float) -> float:
        """What the pipes between two tees take from a way through the nearer row, less from one through the farther [Pa]."""
        beyond = flow - passed
        home = self._pipe(self.back, passed) if self.feed == "reverse" else -self._pipe(self.back, beyond)
        return home - self._pipe(self.supply, beyond)

    def _slopes(self, passed: Array, flow: float) -> Array:
        """How those differences change with what passes each tee [Pa·s/m³]: a band of three."""
        q = np.diff(passed, prepend=0.0, append=flow)
        rows = np.array([a + 2 * b * abs(x) for (a, b), x in zip(map(self._row, self.rows), q, strict=True)])
        nudge = NUDGE * flow
        pipes = [(self._between(x + nudge, flow) - self._between(x - nudge, flow)) / (2 * nudge) for x in passed]
        slopes = np.diag(rows[:-1] + rows[1:] + np.array(pipes))
        inner = rows[1:-1]
        return slopes - np.diag(inner, 1) - np.diag(inner, -1)

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


def field_of(design: Design, collector: DropCurve, *, density: float, viscosity: float) -> Field:
    """The field of a design with a fluid of density [kg/m³] and viscosity [Pa·s]."""
    run, apart = design.run, design.collector.row_apart_m.value
    cold, hot = run.laid("cold"), run.laid("hot")
    feed: Feed = design.collector.feed.value
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
