"""What the run stage hands on."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.figures import Figure
from rowan.core.findings import Finding
from rowan.core.run.loop import LoopCurve, Shares
from rowan.core.run.pump import OperatingPoint, PumpCurve
from rowan.core.run.route import Profile


@dataclass(frozen=True)
class LineLoss:
    """Loss per metre indoors and outdoors [W/m·K] and the lengths it applies to [m]."""

    indoors: float
    outdoors: float
    hot_indoors: float
    hot_outdoors: float
    cold_indoors: float
    cold_outdoors: float

    @property
    def conductance_indoors(self) -> float:
        """Both lines indoors [W/K]."""
        return self.indoors * (self.hot_indoors + self.cold_indoors)

    @property
    def conductance_outdoors(self) -> float:
        """Both lines outdoors [W/K]."""
        return self.outdoors * (self.hot_outdoors + self.cold_outdoors)


@dataclass(frozen=True)
class Temperatures:
    """The working loop [°C], the rise over the field [K] and the efficiency there [-]."""

    mean: float
    hot: float
    cold: float
    rise: float
    efficiency: float


@dataclass(frozen=True)
class Run:
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
