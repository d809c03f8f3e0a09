"""What the commissioning stage hands on."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from rowan.core.terms.figure import Figure, Quantity, Statement
from rowan.core.terms.finding import Finding

Valve = Literal["between", "supply", "outlet", "vessel", "vent", "main"]
VALVE_NAMES: dict[str, str] = {
    "between": "between the ports",
    "supply": "supply port",
    "outlet": "outlet port",
    "vessel": "to the vessel",
    "vent": "under the vent",
    "main": "cold main",
    "tank flow": "tank, to the pump",
    "tank return": "tank, from the field",
}


@dataclass(frozen=True)
class Target:
    """A number to reach at a step, and what it is."""

    name: str
    quantity: Quantity
    figure: str = ""


@dataclass(frozen=True)
class Step:
    """One step: what must hold before, what is done, its targets, how long [s], the state of every valve, what is right.

    `gauge` is the pressure at the station at the end of the step [Pa gauge], None where the loop is open.
    """

    key: str
    name: str
    before: Statement
    work: Statement
    right: Statement
    valves: dict[str, bool] = field(default_factory=dict)
    targets: tuple[Target, ...] = ()
    seconds: float | None = None
    caution: Statement | None = None
    gauge: float | None = None


@dataclass(frozen=True)
class CommissionResult:
    """The steps in order with this job's targets, and the test pressure [Pa gauge]."""

    steps: tuple[Step, ...]
    test_pressure: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]

    @property
    def valves(self) -> tuple[str, ...]:
        """Every valve the steps speak of, in the order of the station."""
        return tuple(name for name in VALVE_NAMES if any(name in step.valves for step in self.steps))
