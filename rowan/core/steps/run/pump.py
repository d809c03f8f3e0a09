"""Pump curves and where they cross the loop's."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence
from functools import cache, lru_cache
from itertools import pairwise

from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from rowan.core.terms.errors import ImpossibleInputError, NoOperatingPointError
from rowan.core.terms.record import record


class PumpCurve:
    """Head [Pa] over flow [m³/s] through points, monotone cubic; zero beyond the last flow."""

    def __init__(self, points: Sequence[tuple[float, float]]) -> None:
        """Points (flow [m³/s], head [Pa]) with rising flow; raises ImpossibleInputError if the head rises."""
        flows, heads = [p[0] for p in points], [p[1] for p in points]
        if any(b <= a for a, b in pairwise(flows)):
            raise ImpossibleInputError("the flows of a pump curve must rise from point to point")
        if any(b > a for a, b in pairwise(heads)):
            raise ImpossibleInputError("the head of a pump must not rise with its flow")
        self.points = list(points)
        self.most_flow = flows[-1]
        self._starts, self._cubics = _pchip(tuple(flows), tuple(heads))

    def head(self, flow: float) -> float:
        """Head [Pa] at a flow [m³/s]."""
        held = min(max(flow, 0.0), self.most_flow)
        at = max(min(bisect_right(self._starts, held) - 1, len(self._cubics) - 1), 0)
        a, b, c, d = self._cubics[at]
        x = held - self._starts[at]
        return ((a * x + b) * x + c) * x + d


@lru_cache(maxsize=256)
def _pchip(
    flows: tuple[float, ...], heads: tuple[float, ...]
) -> tuple[tuple[float, ...], tuple[tuple[float, float, float, float], ...]]:
    """Where each piece starts and its cubic, highest power first: evaluated a thousand times a reckoning, made once."""
    curve = PchipInterpolator(flows, heads)
    pieces = tuple((float(a), float(b), float(c), float(d)) for a, b, c, d in curve.c.T)
    return tuple(float(x) for x in curve.x), pieces


@record
class OperatingPoint:
    """Where pump and loop cross: flow [m³/s], head [Pa], and the residual of the search [Pa]."""

    flow: float
    head: float
    residual: float


def operating_point(*, pump: PumpCurve, loop: Callable[[float], float]) -> OperatingPoint:
    """Crossing of a pump and a loop (Pa over m³/s, not falling).

    Raises NoOperatingPointError if the pump cannot overcome the loop at zero flow. If even the curve's
    last point lies above the loop, that point is the answer. Source: methods 8.
    """

    @cache
    def excess(flow: float) -> float:
        """Head of the pump over the loop's drop at a flow [Pa]."""
        return pump.head(flow) - loop(flow)

    at_rest = excess(0.0)
    if at_rest <= 0:
        raise NoOperatingPointError(-at_rest)
    if excess(pump.most_flow) >= 0:
        return OperatingPoint(pump.most_flow, pump.head(pump.most_flow), 0.0)
    flow = float(brentq(excess, 0.0, pump.most_flow, xtol=1e-12, rtol=1e-10))
    return OperatingPoint(flow, pump.head(flow), excess(flow))
