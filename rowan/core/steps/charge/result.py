"""What the charge stage hands on."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.inputs.charge import School
from rowan.core.steps.charge.pressures import Setting, TwoStage
from rowan.core.steps.charge.tub import Tub
from rowan.core.steps.charge.vessel import Steam, VesselNeed, VesselState
from rowan.core.steps.run.drainback import Draining
from rowan.core.terms.figure import Figure, Statement
from rowan.core.terms.finding import Finding

STATES = ("cold", "fill", "hot", "stagnation")


@dataclass(frozen=True)
class Contents:
    """What the loop holds [m³], by part; the vessel excluded."""

    collectors: float
    lines: float
    coil: float
    station: float

    @property
    def total(self) -> float:
        """The whole loop [m³]."""
        return self.collectors + self.lines + self.coil + self.station


@dataclass(frozen=True)
class SchoolView:
    """One school in this vessel: setting [Pa gauge], states by name, or why it cannot be."""

    school: School
    setting: Setting | None
    states: dict[str, VesselState]
    refused: Statement | None = None


@dataclass(frozen=True)
class ChargeResult:
    """Contents, pressures [Pa gauge] and vessel of a design. A direct loop has no vessel of its own."""

    contents: Contents
    static: float
    end: float
    atmosphere: float
    frost_point: float
    setting: Setting | None
    expansion: float
    steam: Steam | None
    reserve: float
    vessel: float
    kept: float
    need: VesselNeed | None
    states: dict[str, VesselState]
    schools: tuple[SchoolView, ...]
    prepare: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    draining: Draining | None = None
    tub: Tub | None = None
    stiffness: float = 0.0
    two_stage: TwoStage | None = None
