"""Years run beside the pages: two at a time, with progress, given up when somebody asks for something newer.

Firms take turns, year by year: who asks for sixty does not hold up who asks for seven.
"""

from __future__ import annotations

from collections import OrderedDict, deque
from collections.abc import Collection, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from threading import Event, Lock

from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.year import Year
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

AT_ONCE = 2
HOT_C = 50.0
KEPT_YEARS = 600  # of all works together, some sixty kilobytes each


@record
class Variant:
    """A design to run in a year of weather, with what it is called; `flow` [m³/s] in place of the pump's."""

    label: str
    design: Design
    seed: int = 0
    flow: float | None = None


@record
class Outcome:
    """A variant's findings and year without its hours, or why it has none; `middle_hot` are the hours in which the middle
    of its store is hot [h], `price` what the system costs."""

    variant: Variant
    findings: tuple[Finding, ...] = ()
    year: Year | None = None
    middle_hot: float = 0.0
    price: float = 0.0
    refusal: RowanError | None = None


@dataclass
class Work:
    """Variants under way; outcomes come in any order, None where one is still awaited."""

    variants: tuple[Variant, ...]
    outcomes: list[Outcome | None]
    stop: Event = field(default_factory=Event)
    whole: Event = field(default_factory=Event)

    @property
    def done(self) -> int:
        """How many outcomes there are."""
        return sum(outcome is not None for outcome in self.outcomes)

    @property
    def finished(self) -> bool:
        """Whether all are there."""
        return self.done == len(self.variants)


def run_one(variant: Variant, measured: Sky | None) -> Outcome:
    """One variant through its year."""
    try:
        result = reckon(variant.design)
        if variant.flow is not None:
            density = result.run.mass_flow / result.run.flow
            run = replace(result.run, flow=variant.flow, mass_flow=variant.flow * density)
            result = replace(result, run=run)
        year = simulate(variant.design, result, seed=variant.seed, measured=measured, keep=False)
        nodes = year.nodes
        hot = float(year.hours_between(nodes // 2, (HOT_C,))[1])
        # the hours of sixty years are not kept: they fill the memory and nobody looks at them
        bare = replace(year, traced=year.traced[:0].copy())
        return Outcome(variant, result.findings, bare, hot, result.parts.price)
    except RowanError as error:
        return Outcome(variant, refusal=error)


class Workshop:
    """Work by its content; newer work in the same place (a plan's bench) ends the older.

    A `lean` one keeps outcomes without the designs they are of: a quarter of a megabyte each, and who asks has them.
    """

    def __init__(self, *, lean: bool = False) -> None:
        self._lean, self._lock = lean, Lock()
        self._pool: ThreadPoolExecutor | None = None
        self._kept: OrderedDict[str, Work] = OrderedDict()
        self._places: dict[str, str] = {}
        self._waiting: OrderedDict[int, deque[Step]] = OrderedDict()  # by firm, whose turn comes first in front

    def find(self, key: str) -> Work | None:
        """Work begun or finished under a key, None if nobody asked for it."""
        with self._lock:
            found = self._kept.get(key)
            return None if found is None or (found.stop.is_set() and not found.finished) else found

    def begin(
        self,
        *,
        key: str,
        place: str,
        variants: Sequence[Variant],
        measured: Sky | None,
        firm: int = 0,
    ) -> Work:
        """The work of a key, begun unless it is there."""
        found = self.find(key)
        if found is not None:
            return found
        work = Work(tuple(bare(v) if self._lean else v for v in variants), [None] * len(variants))
        with self._lock:
            before = self._kept.get(self._places.get(place, ""))
            if before is not None and not before.finished:
                before.stop.set()
            self._places[place] = key
            self._kept[key] = work
            while len(self._kept) > 1 and sum(len(one.variants) for one in self._kept.values()) > KEPT_YEARS:
                _, old = self._kept.popitem(last=False)
                old.stop.set()
            if self._pool is None:
                self._pool = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="years")
        self._submit(firm, work, tuple(variants), measured)
        return work

    def leave(self, places: Collection[str]) -> None:
        """Ends what is under way in those places: the plan has gone on, and nobody waits for what it was."""
        with self._lock:
            for place in places:
                work = self._kept.get(self._places.get(place, ""))
                if work is not None and not work.finished:
                    work.stop.set()

    def give_up(self) -> None:
        """Ends everything that is not finished."""
        with self._lock:
            for work in self._kept.values():
                if not work.finished:
                    work.stop.set()

    def _submit(self, firm: int, work: Work, variants: tuple[Variant, ...], measured: Sky | None) -> None:
        assert self._pool is not None  # noqa: S101  made before anything is begun
        steps = [Step(work, i, variant, measured) for i, variant in enumerate(variants)]
        with self._lock:
            self._waiting.setdefault(firm, deque()).extend(steps)
        for _ in steps:
            self._pool.submit(self._take_turn).add_done_callback(_raised)

    def _take_turn(self) -> None:
        """One year of the firm whose turn it is; it stands last in line again."""
        with self._lock:
            if not self._waiting:
                return
            firm, steps = self._waiting.popitem(last=False)
            step = steps.popleft()
            if steps:
                self._waiting[firm] = steps
        step.run()


@record
class Step:
    """One year of a work."""

    work: Work
    index: int
    variant: Variant
    measured: Sky | None

    def run(self) -> None:
        """The year, unless nobody waits for it any more."""
        if not self.work.stop.is_set():
            # of the variant what the work keeps of it
            found = replace(run_one(self.variant, self.measured), variant=self.work.variants[self.index])
            self.work.outcomes[self.index] = found
        if self.work.finished or self.work.stop.is_set():
            self.work.whole.set()


def bare(variant: Variant) -> Variant:
    """A variant without its design: whoever has the plan makes it again."""
    return replace(variant, design=None)  # type: ignore[arg-type]


def _raised(future: Future[None]) -> None:
    """A fault in a thread is not swallowed."""
    error = future.exception()
    if error is not None:
        raise error


WORKSHOP = Workshop()
