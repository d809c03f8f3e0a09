"""The loop of a design that drains: levels, what stands above them, the lift, and how it empties. Source: methods 8, 11."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, boiling_point, properties, water_vapour_pressure
from rowan.core.steps.run.draining import (
    Drain,
    Falls,
    Reservoir,
    Segment,
    drain,
    falls,
    freeze_time,
    is_trap,
    reservoir,
)
from rowan.core.steps.run.friction import K_BEND, ROUGHNESS_M, DrainbackHead, drainback_head, siphon_velocity
from rowan.core.steps.run.loop import LoopCurve
from rowan.core.steps.run.pump import OperatingPoint, PumpCurve, operating_point
from rowan.core.steps.run.route import Profile, ProfileLeg
from rowan.core.steps.store.sizing import cylinder_height
from rowan.core.terms.constants import COPPER_J_KGK, COPPER_KG_M3, GRAVITY
from rowan.core.terms.errors import NoOperatingPointError
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE
from rowan.core.weather.air import atmosphere

FREE_UNDER_LID_M = 0.03  # m, kept free under the lid of an open store when it is hottest, rule of thumb
CLOSE_M, LEVEL_ROUNDS = 1e-4, 10  # m, to which the running level is found, in so many rounds at most
LEAST_HEIGHT_M = 0.05  # m, under which a lift is level
OVER_BOILING_PA = 10e3  # Pa the top of a siphon stays over boiling; methods 8
LEAST_SIPHON_PA = 1.3e3  # Pa, what water of 10 °C boils at: under it no siphon ever stands


@record
class OpenLevels:
    """Levels of an open store that takes what comes back, over its foot [m]: at rest cold, running; what it swells [m³]."""

    height: float
    rest: float
    running: float
    swells: float

    @property
    def under_rim(self) -> float:
        """How far under the rim the mark at rest stands [m]."""
        return self.height - self.rest


def open_levels(design: Design, route: Profile) -> OpenLevels | None:
    """Levels of an open store from its own shape: under the lid room for its water at its hottest; None for a reservoir beside it.

    The mark is for cold water at rest, when everything has come back; running, what field and pipes hold is taken off.
    """
    item = design.store.item.value
    if not item.unpressurised or design.own_store:
        return None
    height = cylinder_height(volume=item.contents_l * LITRE, diameter=item.diameter_m)
    across = item.contents_l * LITRE / height
    cold, hot = (
        properties(volume_share=0.0, temperature=t).density for t in (FILL_C, max(design.store.maximum_c.value, FILL_C))
    )
    # what is filled at rest swells into the room over it
    free = height - FREE_UNDER_LID_M
    rest = free * hot / cold
    running = rest
    for _ in range(LEVEL_ROUNDS):
        before, running = (
            running,
            rest - _held_above(design, route, running - design.store.foot_below_gauge_m.value) / across,
        )
        if abs(running - before) < CLOSE_M:
            break
    return OpenLevels(height, rest, max(running, 0.0), (free - rest) * across)


def water_level(design: Design, route: Profile) -> float:
    """Height of the running water over the gauge [m]: of an open store its own, else the reservoir's as typed."""
    levels = open_levels(design, route)
    if levels is not None:
        return levels.running - design.store.foot_below_gauge_m.value
    return design.charge.reservoir_at_m.value


def _held_above(design: Design, route: Profile, level: float) -> float:
    """What field and lines hold above a level over the gauge [m³]."""
    in_pipes = math.fsum(_above(leg, level) * leg.pipe.bore_area_m2 for leg in route.legs())
    return in_pipes + design.collector.count.value * design.collector.item.value.contents_l * LITRE


@record
class Lift:
    """What a drainback pump lifts: height from the running level to the top [m], density [kg/m³], bore of the return [m],
    air pressure [Pa] and what the water is like while the loop works [°C]."""

    height: float
    density: float
    bore: float
    atmosphere: float
    water_c: float

    @property
    def start_head(self) -> float:
        """Head that brings the first water over the top [Pa]."""
        return self.density * GRAVITY * max(self.height, 0.0)

    @property
    def siphon_ends_c(self) -> float | None:
        """The temperature of the water up to which a siphon stands over this height [°C]; None where none ever does."""
        spare = self.atmosphere - self.start_head - OVER_BOILING_PA
        return boiling_point(volume_share=0.0, pressure_abs=spare) if spare > LEAST_SIPHON_PA else None

    @property
    def boils_c(self) -> float:
        """What the water boils at where the loop stands open to the air [°C]."""
        return boiling_point(volume_share=0.0, pressure_abs=self.atmosphere)

    def head(self, *, flow: float, friction: float) -> DrainbackHead:
        """Heads at a flow [m³/s] with the loop's friction [Pa]."""
        return drainback_head(
            lift_cold=max(self.height, 0.0),
            lift_running=max(self.height, 0.0),
            friction=friction,
            density=self.density,
            flow=flow,
            return_bore=self.bore,
            vapour_pressure=water_vapour_pressure(temperature=self.water_c),
            atmosphere=self.atmosphere,
        )


def lift_of(design: Design, route: Profile, density: float) -> Lift:
    """The lift of a design."""
    return Lift(
        route.top - water_level(design, route),
        density,
        min(leg.pipe.bore_m for leg in route.hot),
        atmosphere(altitude=design.survey.altitude_m.value),
        design.collector.working_c.value,
    )


def lifted_crossings(curves: Sequence[PumpCurve], loop: LoopCurve, lift: Lift) -> tuple[OperatingPoint | None, ...]:
    """Operating point of each speed of a pump that lifts first: None where it never brings the water over the top.

    With a siphon only friction is left; without one the lift stays.
    """
    found: list[OperatingPoint | None] = []
    for curve in curves:
        if curve.head(0.0) <= lift.start_head:
            found.append(None)
            continue
        found.append(_running(curve, loop.drop, lift))
    return tuple(found)


def _running(curve: PumpCurve, friction: Callable[[float], float], lift: Lift) -> OperatingPoint | None:
    def lifted(flow: float) -> float:
        """Drop at a flow [m³/s] with the first water still to be lifted over the top [Pa]."""
        return friction(flow) + lift.start_head

    try:
        first = operating_point(pump=curve, loop=lifted)
    except NoOperatingPointError:
        return None
    if not lift.head(flow=first.flow, friction=friction(first.flow)).siphon:
        return first
    return operating_point(pump=curve, loop=friction)


@record
class LegFall:
    """A leg above the water as it drains: its fall toward the reservoir [-], and whether it is a trap."""

    leg: ProfileLeg
    fall: float
    trap: bool


@record
class Draining:
    """How a design empties: level and lift [m], water above the level [m³], marks, falls, time [s] against frost [s]."""

    level: float
    lift: Lift
    above: float
    marks: Reservoir
    legs: tuple[LegFall, ...]
    falls: Falls
    drain: Drain | None
    freezes_after: float | None
    head: DrainbackHead
    siphon_velocity: float
    flow: float
    # of an open store that is the reservoir itself
    levels: OpenLevels | None


def _above(leg: ProfileLeg, level: float) -> float:
    """Length of a leg above a level [m]."""
    low, high = sorted((leg.start_height, leg.end_height))
    if high <= level:
        return 0.0
    if low >= level:
        return leg.length
    return leg.length * (high - level) / (high - low)


def _toward(leg: ProfileLeg) -> float:
    """Drop of a leg toward the reservoir [m]: the cold line drains against its flow."""
    return leg.rise if leg.line == "cold" else -leg.rise


def draining(design: Design, route: Profile, *, flow: float, friction: float, outdoor_loss: float) -> Draining:
    """Everything about the emptying of a design. `flow` [m³/s] and `friction` [Pa] running; `outdoor_loss` [W/m·K]."""
    pipe = design.run.laid("hot")
    water = properties(volume_share=0.0, temperature=design.collector.working_c.value)
    level = water_level(design, route)
    lift = lift_of(design, route, water.density)
    wet = [(leg, _above(leg, level)) for leg in route.legs()]
    above = _held_above(design, route, level)
    legs = tuple(
        LegFall(leg, _toward(leg) / leg.length, is_trap(fall=_toward(leg) / leg.length, outdoors=leg.outdoors))
        for leg, length in wet
        if length > 0 and leg.length > 0 and leg.possible
    )
    segments = [Segment(f.leg.length, _toward(f.leg), f.leg.pipe.bore_m, f.leg.outdoors) for f in legs]
    hot = sum(length for leg, length in wet if leg.line == "hot")
    mean = (route.top - level) / 2
    emptied: Drain | None = None
    if mean > LEAST_HEIGHT_M:
        emptied = drain(
            volume=above,
            driving_height=mean,
            length=max(hot, LEAST_HEIGHT_M),
            bore=lift.bore,
            k_sum=design.run.bends.value / 2 * K_BEND + sum(leg.k_sum for leg in route.hot),
            roughness=ROUGHNESS_M[pipe.material],
            density=water.density,
            viscosity=water.viscosity,
        )
    metal = 3.141592653589793 / 4 * (pipe.outer_diameter_m**2 - pipe.bore_m**2) * COPPER_KG_M3 * COPPER_J_KGK
    capacity = pipe.bore_area_m2 * water.density * water.heat_capacity + metal
    return Draining(
        level,
        lift,
        above,
        reservoir(contents_above=above, least_water=design.charge.least_water_l.value * LITRE),
        legs,
        falls(segments=segments),
        emptied,
        freeze_time(
            capacity=capacity,
            loss=outdoor_loss,
            start=design.collector.working_c.value,
            air=design.survey.design_minimum_c.value,
        ),
        lift.head(flow=flow, friction=friction),
        siphon_velocity(bore=lift.bore),
        flow,
        open_levels(design, route),
    )
