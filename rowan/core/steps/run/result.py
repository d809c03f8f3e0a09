"""What the run stage hands on."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rowan.core.steps.run.array import FieldFlow
from rowan.core.steps.run.loop import LoopCurve, Shares
from rowan.core.steps.run.panel import SunPump
from rowan.core.steps.run.pump import OperatingPoint, PumpCurve
from rowan.core.steps.run.route import Profile, ProfileLeg
from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding


@dataclass(frozen=True)
class LegLoss:
    """A leg's loss per metre [W/m·K], its heat lost while the loop works [W] and its growth [m].

    What is around it is the room, the air, or soil at the year's mean; a line colder than that loses nothing.
    """

    leg: ProfileLeg
    per_metre: float
    heat: float
    growth: float

    @property
    def conductance(self) -> float:
        """The whole leg [W/K]."""
        return self.per_metre * self.leg.length


@dataclass(frozen=True)
class LineLoss:
    """What both lines lose: per metre of the hot line's own pipe, indoors and outdoors [W/m·K], and leg by leg."""

    indoors: float
    outdoors: float
    legs: tuple[LegLoss, ...]

    def conductance(self, *, line: str = "", outdoors: bool) -> float:
        """Of one line or both, in the house or outside [W/K]."""
        return math.fsum(
            found.conductance for found in self.legs if found.leg.outdoors == outdoors and line in ("", found.leg.line)
        )

    @property
    def conductance_indoors(self) -> float:
        """Both lines indoors [W/K]."""
        return self.conductance(outdoors=False)

    @property
    def conductance_outdoors(self) -> float:
        """Both lines outdoors [W/K]."""
        return self.conductance(outdoors=True)


@dataclass(frozen=True)
class Temperatures:
    """The working loop [°C], the rise over the field [K] and the efficiency there [-]."""

    mean: float
    hot: float
    cold: float
    rise: float
    efficiency: float


@dataclass(frozen=True)
class RunResult:
    """Route, friction and pump of a design; flow [m³/s], mass_flow [kg/s], heat_capacity [J/kg·K]."""

    route: Profile
    warm: LoopCurve
    cold: LoopCurve
    curves: tuple[PumpCurve, ...]
    points: tuple[OperatingPoint | None, ...]
    cold_points: tuple[OperatingPoint | None, ...]
    speed: int
    flow: float
    mass_flow: float
    heat_capacity: float
    shares: Shares
    velocity: float
    loss: LineLoss
    temperatures: Temperatures
    pump_power: float
    divided: FieldFlow
    # head that is lifted while it runs [Pa], the sun from which the field gains [W/m²], and a pump on a panel
    lift_head: float
    least_sun: float
    on_sun: SunPump | None
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]

    @property
    def capacity_rate(self) -> float:
        """ṁ·c_p [W/K]."""
        return self.mass_flow * self.heat_capacity

    @property
    def point(self) -> OperatingPoint | None:
        """The operating point of the chosen speed."""
        return self.points[self.speed - 1]
