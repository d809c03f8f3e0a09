"""What the charge stage hands on."""

from __future__ import annotations

from rowan.core.design.inputs.charge import School
from rowan.core.steps.charge.pressures import Setting, TwoStage
from rowan.core.steps.charge.tub import Tub
from rowan.core.steps.charge.vessel import Steam, VesselNeed, VesselState
from rowan.core.steps.run.drainback import Draining
from rowan.core.terms.figure import Figure, Statement
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record, record_by_names

STATES = ("cold", "fill", "hot", "stagnation")


@record
class Contents:
    """What the loop holds [m³], by part; the vessel excluded."""

    collectors: float
    lines: float
    coil: float
    station: float
    # what was found on site over what was drawn
    found: float = 0.0

    @property
    def total(self) -> float:
        """The whole loop [m³]."""
        return self.collectors + self.lines + self.coil + self.station + self.found


@record
class SchoolView:
    """One school in this vessel: setting [Pa gauge], states by name, or why it cannot be."""

    school: School
    setting: Setting | None
    states: dict[str, VesselState]
    refused: Statement | None = None


@record_by_names
class LoopCharge:
    """What every loop has: contents, static, end and air pressure [Pa], frost point of what is in it [°C]."""

    contents: Contents
    static: float
    end: float
    atmosphere: float
    frost_point: float
    figures: tuple[Figure, ...] = ()
    findings: tuple[Finding, ...] = ()


@record_by_names
class SealedCharge(LoopCharge):
    """A loop with a vessel of its own: pressures [Pa gauge], volumes [m³], the schools side by side, the mixing tub.

    `setting`, `need` and `two_stage` are None where the chosen school cannot be in this vessel.
    """

    setting: Setting | None
    expansion: float
    steam: Steam
    reserve: float
    vessel: float
    kept: float
    need: VesselNeed | None
    states: dict[str, VesselState]
    schools: tuple[SchoolView, ...]
    prepare: float
    tub: Tub
    stiffness: float
    two_stage: TwoStage | None = None


@record_by_names
class DirectCharge(LoopCharge):
    """The main's own water in the collectors, at the main's pressure."""


@record_by_names
class ThermosiphonCharge(LoopCharge):
    """The tank's own water over the field, at the main's pressure: what it weighs full [kg] and what warming pushes out [m³]."""

    mass: float
    pushed_out: float


@record_by_names
class DrainbackCharge(LoopCharge):
    """A loop open to the air that empties when the pump stops."""

    draining: Draining


ChargeResult = SealedCharge | DirectCharge | DrainbackCharge | ThermosiphonCharge


def sealed_charge(charge: ChargeResult) -> SealedCharge:
    """The charge of a sealed loop. Raises TypeError for another kind: whoever asks has asked `design.sealed` before."""
    if isinstance(charge, SealedCharge):
        return charge
    raise TypeError("this loop has no vessel of its own")


def setting_of(charge: ChargeResult) -> Setting | None:
    """Charge and fill of a loop with a vessel; None without one, or where the school cannot be."""
    return charge.setting if isinstance(charge, SealedCharge) else None


def states_of(charge: ChargeResult) -> dict[str, VesselState]:
    """The vessel's states by name; none without a vessel."""
    return charge.states if isinstance(charge, SealedCharge) else {}
