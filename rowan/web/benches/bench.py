"""What a bench is: its verdict, its sentence of inputs, its drawings."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from functools import cached_property
from typing import Any

from rowan.core.appraise.appraisal import Appraisal, all_figures, all_findings, appraise
from rowan.core.design.changes import counted
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.year import Year
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Figure, Statement
from rowan.core.terms.finding import Finding
from rowan.core.terms.language import Message, as_messages
from rowan.core.terms.record import record
from rowan.core.terms.units import System
from rowan.core.weather.hours import Sky
from rowan.web.editing.blanks import LinePart
from rowan.web.plans.reckoned import Reckoned
from rowan.web.ui.svg import Drawing


@record
class Look:
    """What somebody looks at: a day of the year from 0; the leg whose own inputs are open, as “hot-h3”; the kind of sky
    under the lens; the pair that races against the plan's [K], what was typed for it and why that cannot be."""

    day: int | None = None
    leg: str = ""
    sky: str = ""
    rival: tuple[float, float] | None = None
    wrong: str = ""
    typed: tuple[str, str] | None = None
    # of which half of the year the planes are compared, “year” for all of it
    season: str = "year"


NO_LOOK = Look()


@record
class Sheet:
    """What a drawing is made from."""

    design: Design
    result: Reckoning
    units: System
    measured: Sky | None = None
    look: Look = NO_LOOK
    # the state before, and the one whose year stands in until this one's has been run; None for whoever waits
    before: Reckoned | None = None
    shown: Reckoned | None = None
    # where design and reckoning are kept with their year; None for a variant that nobody saved
    kept: Reckoned | None = None
    # whether the page offers what would calm its pump, which takes trying
    cures: bool = False

    @cached_property
    def digest(self) -> str:
        """The content of the design."""
        return hashlib.sha256(self.design.model_dump_json().encode()).hexdigest()

    @property
    def counted(self) -> tuple[int, int]:
        """How many inputs are this job's, and how many are assumed; of what is kept they are counted once."""
        return self.kept.counted if self.kept is not None else counted(self.design)

    def year(self, seed: int = 0) -> Year:
        """The plan's year: of the weather it names for seed 0, a made one for the others. Raises RowanError."""
        if seed == 0 and self._stand_in is not None:
            return self._stand_in
        if seed == 0 and self.kept is not None:
            return self.kept.year(self.measured)
        return simulate(self.design, self.result, seed=seed, measured=self.measured)

    @cached_property
    def _stand_in(self) -> Year | None:
        """The year of the state before, where this one's is not there yet."""
        if self.before is None or self.kept is None or self.kept.kept_year(self.measured) is not None:
            return None
        found = self.before.kept_year(self.measured)
        if found is None and self.shown is not None:
            found = self.shown.kept_year(self.measured)
        return found if isinstance(found, Year) else None

    @property
    def year_is_old(self) -> bool:
        """Whether the year shown is that of the state before."""
        return self._stand_in is not None

    @cached_property
    def appraisal(self) -> Appraisal:
        """What the plan's year says of it."""
        if self.kept is not None and self._stand_in is None:
            return self.kept.appraisal(self.measured, cures=self.cures)
        try:
            year = self.year()
        except RowanError:
            year = None
        return appraise(self.design, self.result, year, measured=self.measured)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Every finding of the plan, gravest first."""
        return all_findings(self.result, self.appraisal)

    @cached_property
    def figures(self) -> dict[str, Figure]:
        """Every figure of the plan by its key, those of its year first."""
        return all_figures(self.result, self.appraisal)


def sheet_from(
    found: Reckoned,
    units: System,
    measured: Sky | None,
    look: Look = NO_LOOK,
    *,
    before: Reckoned | None = None,
    shown: Reckoned | None = None,
    cures: bool = False,
) -> Sheet:
    """The sheet of what is kept reckoned."""
    return Sheet(found.design, found.result, units, measured, look, before, shown, found, cures)


@record
class Block:
    """One drawing with its head, or a template in its place; `half` puts two side by side, `yearly` is made from the year."""

    title: str
    note: str
    drawing: Drawing | None = None
    half: bool = False
    kind: str = "drawing"
    template: str = ""
    run: str = ""
    yearly: bool = False

    def __post_init__(self) -> None:
        as_messages(self, "title", "note")


def _nothing(_: Sheet) -> dict[str, Any]:
    return {}


@record
class Bench:
    """One step of the work."""

    key: str
    name: str
    verdict: Callable[[Sheet], Statement]
    line: Callable[[Sheet], tuple[LinePart, ...]]
    blocks: Callable[[Sheet], list[Block]]
    more: tuple[str, ...] = ()
    context: Callable[[Sheet], dict[str, Any]] = _nothing
    # whether the sums of the plan's year stand among its figures
    yearly: bool = False
    # a page beside a bench shows these of its figures and findings
    of: str = ""
    figures: tuple[str, ...] = ()
    findings: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        as_messages(self, "name")


# the twelve steps in working order; a name without a bench is plain text
STEPS = (
    ("survey", Message("Survey")),
    ("sun", Message("Sun")),
    ("collector", Message("Collector")),
    ("store", Message("Store")),
    ("roof", Message("Roof")),
    ("run", Message("Run")),
    ("charge", Message("Charge")),
    ("control", Message("Control")),
    ("parts", Message("Parts")),
    ("commission", Message("Commission")),
    ("handover", Message("Hand over")),
    ("care", Message("Care")),
)
