"""What the commissioning stage hands on: steps with their handles, readings, and the rules a reading is judged by.

A rule is data: a comparison of symbols, so that a phone in a cellar without signal judges by the same table as the server.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from typing import Literal, Protocol

from rowan.core.steps.commission.legality import Supply
from rowan.core.steps.commission.valves import TAGS, Move, Phase, ValveGraph
from rowan.core.terms.figure import Figure, Quantity, Statement
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record

NOTHING_PUSHES = Supply(0.0)
# what a rule says of a reading: as a finding, or that it is as it should be
Verdict = Literal["stop", "fix", "mind", "pass"]


@record
class Target:
    """A number to reach at a step, and what it is."""

    name: str
    quantity: Quantity
    figure: str = ""


@record
class Field:
    """What is read at a step: a number of a dimension, or a tick where it has none.

    `low`, `high` and `expected` are formulas over symbols [SI]; a needed one is asked before the step is passed; a `clock` can be
    taken by a stopwatch; `instead` names another that may be given in its place. `level` is what a number out of its window is, empty where a rule of its own says it better.
    """

    key: str
    name: str
    dimension: str = ""
    low: str = ""
    high: str = ""
    expected: str = ""
    needed: bool = True
    clock: bool = False
    instead: str = ""
    level: Literal["stop", "fix", "mind", ""] = "fix"

    @property
    def tick(self) -> bool:
        """Whether it is ticked, not read."""
        return not self.dimension


@record
class Rule:
    """What a reading says: `when` holds comparisons of formulas joined by “and”; `words` name amounts, formulas with a dimension."""

    key: str
    level: Verdict
    when: str
    words: str
    amounts: Mapping[str, tuple[str, str]] = field(default_factory=dict)


@record
class Stage:
    """Where the front of what is filled in stands: the stretch, and the formula of the seconds at which it has passed it."""

    name: str
    passed: str


@record
class Derived:
    """A symbol reckoned from readings; of several of one name the first that can be reckoned counts."""

    name: str
    formula: str


@record
class Act:
    """Handles turned in order, in a phase of the work."""

    phase: Phase
    moves: tuple[Move, ...] = ()


@record
class Step:
    """One step: what must hold before, what is done, its targets, how long [s], the handles, the readings, what is right.

    `acts` lead to what is drawn in `valves`, `closing` from there to the next step. `gauge` is the pressure at the station at the end
    of the step [Pa gauge], None where the loop is open. `supply` is what pushes liquid in meanwhile.
    """

    key: str
    name: str
    before: Statement
    work: Statement
    right: Statement
    targets: tuple[Target, ...] = ()
    seconds: float | None = None
    caution: Statement | None = None
    gauge: float | None = None
    acts: tuple[Act, ...] = ()
    closing: tuple[Act, ...] = ()
    valves: Mapping[str, str] = field(default_factory=dict)
    supply: Supply = NOTHING_PUSHES
    hand: str = ""
    # the stretches that fill one after another
    stages: tuple[Stage, ...] = ()
    # how long it rests between rounds [s]
    rest: float | None = None
    # from the start of its clock, when it rings [s]
    bells: tuple[float, ...] = ()
    fields: tuple[Field, ...] = ()
    rules: tuple[Rule, ...] = ()
    # holds everything after it until it is passed
    gate: bool = False

    @property
    def phase(self) -> Phase:
        """The phase in which its handles stand as drawn."""
        return self.acts[-1].phase if self.acts else "dry"


class SiteWork(Protocol):
    """What only the work on site needs, worked out when it is asked for: a bench is reckoned on every keystroke without it."""

    @property
    def graph(self) -> ValveGraph:
        """The valve graph of the loop."""

    @property
    def steps(self) -> tuple[Step, ...]:
        """The steps in order."""

    @property
    def buried(self) -> tuple[Step, ...]:
        """The tests of what will be buried."""

    @property
    def service(self) -> tuple[Step, ...]:
        """The steps of the yearly service."""

    @property
    def constants(self) -> Mapping[str, float]:
        """The symbols of the rules [SI]."""


@record
class CommissionResult:
    """The test pressure [Pa gauge] and the work on site: steps with this job's targets, valve graph, symbols of the rules [SI]."""

    work: SiteWork
    test_pressure: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    derived: tuple[Derived, ...] = ()

    @property
    def graph(self) -> ValveGraph:
        """The valve graph of the loop."""
        return self.work.graph

    @property
    def steps(self) -> tuple[Step, ...]:
        """The steps in order, each with its handles."""
        return self.work.steps

    @property
    def buried(self) -> tuple[Step, ...]:
        """The tests of what will be buried; none where nothing is."""
        return self.work.buried

    @property
    def service(self) -> tuple[Step, ...]:
        """The steps of the yearly service, by kind of loop."""
        return self.work.service

    @property
    def constants(self) -> Mapping[str, float]:
        """This job's reckoning as the symbols that begin with `plan_` [SI]."""
        return self.work.constants

    @property
    def valves(self) -> tuple[str, ...]:
        """Every valve of the loop, in the order of their tags."""
        return self.graph.valves

    def step(self, key: str) -> Step:
        """A step by its key. Raises KeyError for one that this loop has not."""
        found = next((step for step in self.steps if step.key == key), None)
        if found is None:
            raise KeyError(key)
        return found


def tag(valve: str) -> int:
    """The number on a valve's tag."""
    return TAGS[valve]
