"""Pairs of differences tried on three days: scores, the map of them, and the pair with the smallest regret. Source: methods 7."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from numpy.typing import NDArray

from rowan.core.appraise.hunting import DAYS_COUNTED, Starts, starts_of
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.cache import Kept
from rowan.core.simulation.day import Day, Kind, Ready, run_day
from rowan.core.simulation.plan_day import Lens, made_ready
from rowan.core.steps.control.stage import price_ratio
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

Array = NDArray[np.float64]
# K, the span in which controllers are set
STARTS_K = tuple(float(k) for k in range(3, 21))
STOPS_K = (1.0, 1.5, 2.0, 2.5, *(float(k) for k in range(3, 11)))
LEAST_APART_K = 1.0  # K between start and stop, or the pump stops as it starts
AT_ONCE = 2  # threads: the loop lets go of the interpreter
DAY_KINDS: tuple[Kind, ...] = ("clear", "broken", "dull")
_maps = Kept(16)


@record
class Weights:
    """What a kilowatt-hour of pump electricity is worth in heat [-], and what a start is worth [J]."""

    electricity: float
    start: float

    def score(self, *, heat: float, electric: float, starts: float) -> float:
        """Net heat less electricity and wear [J]."""
        return heat - self.electricity * electric - self.start * starts


@record
class Tried:
    """What a pair came to on a day: heat into the store, electricity, heat wasted [J], starts [-] and running time [s]."""

    heat: float
    electric: float
    wasted: float
    starts: float
    running: float

    @classmethod
    def of(cls, day: Day) -> Tried:
        """The sums of a day."""
        return cls(*(day.total(name) for name in ("coil", "electric", "wasted", "starts", "pump_time")))

    def score(self, weights: Weights) -> float:
        """Its score [J]."""
        return weights.score(heat=self.heat, electric=self.electric, starts=self.starts)


def grid(starts: Iterable[float] = STARTS_K, stops: Iterable[float] = STOPS_K) -> tuple[tuple[float, float], ...]:
    """Pairs (start, stop) [K] whose stop lies at least a kelvin below their start, small ones first."""
    return tuple((start, stop) for start in starts for stop in stops if start - stop >= LEAST_APART_K)


def try_pairs(
    made: Ready, pairs: Sequence[tuple[float, float]], *, stop_asked: Callable[[], bool] = lambda: False
) -> tuple[Tried, ...]:
    """Every pair through the same day, on two threads; empty if it was asked to stop.

    Raises ImpossibleInputError for a pair whose stop is not below its start.
    """

    def one(pair: tuple[float, float]) -> Tried | None:
        """One pair's day; nothing once it is asked to stop."""
        if stop_asked():
            return None
        return Tried.of(run_day(made, start=pair[0], stop=pair[1], watch=False))

    with ThreadPoolExecutor(AT_ONCE, thread_name_prefix="pairs") as pool:
        found = list(pool.map(one, pairs))
    return tuple(entry for entry in found if entry is not None) if None not in found else ()


@record
class Advice:
    """The recommended pair [K], how much it lacks on its worst day [J], and every pair's regret, in the order of `pairs`."""

    start: float
    stop: float
    regret: float
    pairs: tuple[tuple[float, float], ...]
    regrets: tuple[float, ...]

    def regret_of(self, start: float, stop: float) -> float | None:
        """What a pair lacks on its worst day [J], None if it was not tried."""
        pair = (start, stop)
        return self.regrets[self.pairs.index(pair)] if pair in self.pairs else None


def scores(tried: Sequence[Tried], weights: Weights) -> Array:
    """Scores of pairs on a day [J]."""
    return np.array([entry.score(weights) for entry in tried])


def advise(
    pairs: Sequence[tuple[float, float]], days: Sequence[Sequence[Tried]], weights: Weights, *, floor: float
) -> Advice:
    """The pair whose worst shortfall behind the best of each day is smallest, among those that do not stop under the loss floor [K].

    Where no pair reaches the floor all are taken. Of equal ones the narrower start. Raises ImpossibleInputError without
    pairs or days.
    """
    if not pairs or not days:
        raise ImpossibleInputError("nothing was tried")
    table = np.stack([scores(tried, weights) for tried in days])
    regrets = (table.max(axis=1, keepdims=True) - table).max(axis=0)
    allowed = np.array([stop >= floor - 1e-9 for _, stop in pairs])
    if not allowed.any():
        allowed[:] = True
    ranked = sorted(np.flatnonzero(allowed).tolist(), key=lambda i: (round(float(regrets[i]), 3), pairs[i]))
    best = ranked[0]
    return Advice(*pairs[best], float(regrets[best]), tuple(pairs), tuple(float(r) for r in regrets))


def weights_of(design: Design) -> Weights:
    """What electricity is worth, by its price unless it is typed, and what a start is."""
    held = design.functions
    typed = held.electricity_weight.value
    return Weights(price_ratio(design) if typed is None else typed, held.start_worth_j.value)


@record
class PairMap:
    """Every pair on a clear, a broken and a dull day, with the pair advised."""

    pairs: tuple[tuple[float, float], ...]
    tried: dict[Kind, tuple[Tried, ...]]
    weights: Weights
    advice: Advice
    # how often the sun comes back on the broken day while the plan's pump is at work
    returns: int

    def needless(self, number: int) -> int:
        """Starts of a pair, by its place in `pairs`, that no sky asks for [-]."""
        clear, broken = (round(self.tried[kind][number].starts) for kind in DAYS_COUNTED)
        return Starts(clear, broken, self.returns).needless

    def lacks(self, kind: Kind | None) -> tuple[float, ...]:
        """What each pair lacks behind the best [J]: on a day of a kind, or on its worst of the three."""
        if kind is None:
            return self.advice.regrets
        values = scores(self.tried[kind], self.weights)
        return tuple(float(v) for v in values.max() - values)

    def starts(self, start: float, stop: float) -> float | None:
        """How often a pair starts under broken cloud [-], None if it was not tried."""
        pair = (start, stop)
        return self.tried["broken"][self.pairs.index(pair)].starts if pair in self.pairs else None


def pair_map(
    design: Design, result: Reckoning, *, day: int, measured: Sky | None = None, run: bool = True
) -> PairMap | None:
    """Every pair on a clear, a broken and a dull day; the runs are kept, weights are put on them each time.

    Without `run` None where they are not kept yet. Raises ImpossibleInputError for a plan without flow.
    """
    pairs = grid()
    tried: dict[Kind, tuple[Tried, ...]] = {}
    for kind in DAY_KINDS:
        made = made_ready(design, result, Lens(kind, day), measured=measured)
        found = _maps.get(id(made))
        if found is None or found[0] is not made:
            if not run:
                return None
            found = _maps.keep(id(made), (made, try_pairs(made, pairs)))
        tried[kind] = found[1]
    weights = weights_of(design)
    advice = advise(pairs, list(tried.values()), weights, floor=result.differences.floor)
    starts = starts_of(design, result, measured)
    return PairMap(pairs, tried, weights, advice, starts.returns if starts else 0)
