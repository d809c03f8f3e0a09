"""Friction of pipes, collectors and coils (Darcy and Weisbach, Colebrook)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from fluids.friction import Clamond

from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, Span, takes
from rowan.core.terms.record import record

Material = Literal["copper", "steel", "galvanised", "corrugated", "plastic"]
ROUGHNESS_M: dict[str, float] = {
    "copper": 1.5e-6,
    "steel": 45e-6,
    "galvanised": 150e-6,
    "corrugated": 0.0,
    "plastic": 7e-6,
}
CORRUGATED_FACTOR = 2.3  # × the smooth pipe in all regimes, rule of thumb
LAMINAR_RE, TURBULENT_RE = 2000.0, 4000.0  # Reynolds numbers between which the factor is blended
K_BEND, K_NON_RETURN, K_TEE, K_VALVE = 0.9, 2.5, 0.4, 0.1  # resistance by fitting, methods 8
COIL_EXPONENT = 1.9  # of flow in a coil's drop
RATED_FLUID_WATER_20 = (998.2, 1.0016e-3)  # density [kg/m³] and viscosity [Pa·s] of water at 20 °C
GROWTH_PER_K: dict[str, float] = {
    "copper": 16.6e-6,
    "corrugated": 16.0e-6,
    "steel": 12.0e-6,
    "galvanised": 12.0e-6,
    "plastic": 150e-6,
}


@takes(reynolds=POSITIVE, relative_roughness=Span(0.0, 0.1))
def friction_factor(*, reynolds: float, relative_roughness: float) -> float:
    """Darcy friction factor [-]: 64/Re, Colebrook, linear in Re between 2000 and 4000. Source: methods 8."""
    if reynolds <= LAMINAR_RE:
        return 64 / reynolds
    if reynolds >= TURBULENT_RE:
        return float(Clamond(reynolds, relative_roughness))
    turbulent = float(Clamond(TURBULENT_RE, relative_roughness))
    weight = (reynolds - LAMINAR_RE) / (TURBULENT_RE - LAMINAR_RE)
    return 64 / LAMINAR_RE + weight * (turbulent - 64 / LAMINAR_RE)


@record
class PipeDrop:
    """Velocity [m/s], Reynolds number [-] and pressure drop [Pa]."""

    velocity: float
    reynolds: float
    pressure_drop: float


def pipe_drop(
    *,
    length: float,
    bore: float,
    flow: float,
    density: float,
    viscosity: float,
    material: str = "copper",
    k_sum: float = 0.0,
) -> PipeDrop:
    """Friction of a pipe with fittings; length, bore [m], flow [kg/s], density [kg/m³], viscosity [Pa·s].

    Source: methods 8. No flow gives no drop. Raises OutOfRangeError for a bore that is not above zero.
    """
    if bore <= 0:
        raise OutOfRangeError("bore", bore, 0, None, "m")
    velocity = flow / density / (math.pi / 4 * bore**2)
    if velocity <= 0:
        return PipeDrop(0.0, 0.0, 0.0)
    reynolds = density * velocity * bore / viscosity
    factor = friction_factor(reynolds=reynolds, relative_roughness=ROUGHNESS_M[material] / bore)
    if material == "corrugated":
        factor *= CORRUGATED_FACTOR
    drop = (factor * length / bore + k_sum) * density * velocity**2 / 2
    return PipeDrop(velocity, reynolds, drop)


@record
class RatedFluid:
    """Fluid a data sheet was measured with: density [kg/m³] and viscosity [Pa·s]."""

    density: float = RATED_FLUID_WATER_20[0]
    viscosity: float = RATED_FLUID_WATER_20[1]


WATER_20 = RatedFluid()


@record
class DropCurve:
    """Δp = k1·q + k2·q²; q in m³/s, Δp in Pa, for the fluid it was rated with."""

    k1: float
    k2: float
    rated: RatedFluid = WATER_20

    def drop(self, *, flow: float, density: float, viscosity: float) -> float:
        """Pressure drop [Pa] at flow [m³/s] of another fluid: k1 by viscosity, k2 by density."""
        return self.k1 * viscosity / self.rated.viscosity * flow + self.k2 * density / self.rated.density * flow**2


def drop_curve(*, points: Sequence[tuple[float, float]], rated: RatedFluid = WATER_20) -> DropCurve:
    """Curve through two data-sheet points (flow [m³/s], drop [Pa]); more points: the first and the last.

    Raises ImpossibleInputError if k1 or k2 comes out negative: then the points are wrong. Source: methods 8.
    """
    (q1, p1), (q2, p2) = points[0], points[-1]
    if q1 <= 0 or q2 <= 0 or q1 == q2:
        raise ImpossibleInputError("two different flows above zero are needed")
    k2 = (p2 / q2 - p1 / q1) / (q2 - q1)
    k1 = p1 / q1 - k2 * q1
    slack = 1e-9 * abs(p2 / q2)
    if k1 < -slack or k2 * q2 < -slack:
        raise ImpossibleInputError(
            "these two points do not belong to one collector: the drop must rise with the flow, and faster than it"
        )
    return DropCurve(max(k1, 0.0), max(k2, 0.0), rated)


@takes(flow=NOT_NEGATIVE, rated_flow=POSITIVE, rated_drop=NOT_NEGATIVE)
def coil_drop(*, flow: float, rated_flow: float, rated_drop: float) -> float:
    """Drop of a coil [Pa] from one data-sheet point, exponent 1.9; flows in one unit. Source: methods 8."""
    return rated_drop * (flow / rated_flow) ** COIL_EXPONENT


def thermal_growth(*, material: str, length: float, temperature_change: float) -> float:
    """Growth of a straight pipe [m]; length [m], temperature_change [K]. Source: methods 8."""
    return GROWTH_PER_K[material] * length * temperature_change


@takes(line_contents=NOT_NEGATIVE, flow=POSITIVE)
def arrival_time(*, line_contents: float, flow: float) -> float:
    """Seconds until heat from the field arrives: line_contents [m³] over flow [m³/s]."""
    return line_contents / flow


@takes(irradiance=NOT_NEGATIVE, efficiency=NOT_NEGATIVE, area=POSITIVE, flow=POSITIVE, heat_capacity=POSITIVE)
def series_rise(*, irradiance: float, efficiency: float, area: float, flow: float, heat_capacity: float) -> float:
    """Temperature rise over the field [K]; irradiance [W/m²], area [m²], flow [kg/s], heat_capacity [J/kg·K]."""
    return irradiance * efficiency * area / (flow * heat_capacity)


@takes(bore=POSITIVE)
def siphon_velocity(*, bore: float) -> float:
    """Least return velocity [m/s] that carries air down a pipe of bore [m], rule of thumb. Source: methods 8."""
    return 0.7 * math.sqrt(GRAVITY * bore)


@record
class DrainbackHead:
    """Heads of a drainback pump [Pa], return velocity [m/s], pressure on top [Pa absolute], siphon or not."""

    start_head: float
    running_head: float
    return_velocity: float
    pressure_on_top_abs: float
    siphon: bool


@takes(
    lift_cold=FINITE,
    lift_running=FINITE,
    friction=NOT_NEGATIVE,
    density=POSITIVE,
    flow=NOT_NEGATIVE,
    return_bore=POSITIVE,
    vapour_pressure=NOT_NEGATIVE,
    atmosphere=POSITIVE,
)
def drainback_head(
    *,
    lift_cold: float,
    lift_running: float,
    friction: float,
    density: float,
    flow: float,
    return_bore: float,
    vapour_pressure: float,
    atmosphere: float,
) -> DrainbackHead:
    """Start and running head of a drainback loop whose return ends under water.

    Lifts [m], friction, vapour_pressure, atmosphere [Pa], density [kg/m³], flow [m³/s], return_bore [m]. Source: methods 8.
    """
    velocity = flow / (math.pi / 4 * return_bore**2)
    recovered = density * GRAVITY * lift_running
    on_top = atmosphere - recovered
    siphon = velocity >= siphon_velocity(bore=return_bore) and on_top >= vapour_pressure + 10e3
    running = friction + recovered - (recovered if siphon else 0.0)
    return DrainbackHead(density * GRAVITY * lift_cold, running, velocity, on_top, siphon)


@record
class Suction:
    """Suction head available and margin over what the pump needs [Pa]; enough with 5 kPa to spare."""

    available: float
    margin: float
    enough: bool


@takes(
    atmosphere=POSITIVE,
    density=POSITIVE,
    rim_height=FINITE,
    suction_drop=NOT_NEGATIVE,
    vapour_pressure=NOT_NEGATIVE,
    npsh_required=NOT_NEGATIVE,
)
def suction_over_rim(
    *,
    atmosphere: float,
    density: float,
    rim_height: float,
    suction_drop: float,
    vapour_pressure: float,
    npsh_required: float,
) -> Suction:
    """Suction over a tank's rim; rim_height [m], the rest [Pa], density [kg/m³]. Source: methods 8."""
    available = atmosphere - density * GRAVITY * rim_height - suction_drop - vapour_pressure
    margin = available - npsh_required - 5e3
    return Suction(available, margin, margin >= 0)
