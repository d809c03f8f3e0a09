"""What the run stage hands on."""

from __future__ import annotations

import math

from rowan.core.steps.run.array import FieldFlow
from rowan.core.steps.run.loop import LoopCurve, Shares
from rowan.core.steps.run.panel import SunPump
from rowan.core.steps.run.pump import OperatingPoint, PumpCurve
from rowan.core.steps.run.route import Profile, ProfileLeg
from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record


@record
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


@record
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


@record
class Temperatures:
    """The working loop [°C], the rise over the field [K] and the efficiency there [-]."""

    mean: float
    hot: float
    cold: float
    rise: float
    efficiency: float


@record
class PumpOnLoop:
    """A pump against the loop: its curves, where each crosses it warm and cold, the speed that is set and what it takes [W].

    `lift_head` is lifted while it runs [Pa]; `on_sun` is there for a pump on a panel.
    """

    curves: tuple[PumpCurve, ...]
    points: tuple[OperatingPoint | None, ...]
    cold_points: tuple[OperatingPoint | None, ...]
    speed: int
    power: float
    lift_head: float
    on_sun: SunPump | None

    @property
    def point(self) -> OperatingPoint | None:
        """The operating point of the chosen speed."""
        return self.points[self.speed - 1]


@record
class Rises:
    """Heights of a loop without a pump [m]: up the field and the hot line, down the store between its ports and the cold line."""

    field: float
    hot: float
    store: float
    cold: float


@record
class Buoyancy:
    """Warm water in the pump's place: what drives the loop in steady sun [Pa], whether it flows at all, what holds it at night [Pa]
    against water of a density [kg/m³] that cooled in the field.

    Friction is k1·ṁ + k2·ṁ² [Pa] with ṁ in kg/s, exact at that flow and at half of it. `pulls` has flows [m³/s] with what would drive
    each in that sun [Pa].
    """

    rises: Rises
    pulls: tuple[tuple[float, float], ...]
    drive: float
    flows: bool
    night: float
    out_density: float
    k1: float
    k2: float


@record
class RunResult:
    """Route, friction and drive of a design; flow [m³/s], mass_flow [kg/s], heat_capacity [J/kg·K]."""

    route: Profile
    warm: LoopCurve
    cold: LoopCurve
    drive: PumpOnLoop | Buoyancy
    flow: float
    mass_flow: float
    heat_capacity: float
    shares: Shares
    velocity: float
    loss: LineLoss
    temperatures: Temperatures
    divided: FieldFlow
    # the sun from which the field gains [W/m²]
    least_sun: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]

    @property
    def capacity_rate(self) -> float:
        """ṁ·c_p [W/K]."""
        return self.mass_flow * self.heat_capacity

    @property
    def pump(self) -> PumpOnLoop:
        """The pump. Raises TypeError for a loop without one: whoever asks has asked `design.pumped` before."""
        if isinstance(self.drive, PumpOnLoop):
            return self.drive
        raise TypeError("no pump drives this loop")

    @property
    def buoyancy(self) -> Buoyancy | None:
        """What drives a loop without a pump."""
        return self.drive if isinstance(self.drive, Buoyancy) else None

    @property
    def point(self) -> OperatingPoint | None:
        """The pump's operating point at the speed that is set; None without a pump, or where it moves nothing."""
        return self.drive.point if isinstance(self.drive, PumpOnLoop) else None

    @property
    def pump_power(self) -> float:
        """What the pump takes [W]; nothing without one."""
        return self.drive.power if isinstance(self.drive, PumpOnLoop) else 0.0
