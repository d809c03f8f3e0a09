"""The run: route, friction, pump, operating point and heat lost on the way."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.fluid import Fluid, properties
from rowan.core.goods.collector_rating import rating_of
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE, efficiency
from rowan.core.steps.run.array_findings import array_figures, array_findings
from rowan.core.steps.run.buoyancy import buoyancy_of
from rowan.core.steps.run.buoyancy_findings import buoyancy_figures, buoyancy_findings
from rowan.core.steps.run.drainback import lift_of, lifted_crossings
from rowan.core.steps.run.figures import GROWTH_FROM_C, GROWTH_TO_C, run_figures
from rowan.core.steps.run.findings import run_findings
from rowan.core.steps.run.friction import series_rise, thermal_growth
from rowan.core.steps.run.insulation import FILM_INDOORS, FILM_OUTDOORS, OUTDOORS, loss_per_metre
from rowan.core.steps.run.laying import laying_findings
from rowan.core.steps.run.loop import COLD_START_C, LoopCurve, crossings, loop_curve, pump_curves
from rowan.core.steps.run.panel import sun_pump
from rowan.core.steps.run.pump import OperatingPoint, PumpCurve
from rowan.core.steps.run.pump_findings import pump_figures, pump_findings
from rowan.core.steps.run.result import Buoyancy, LegLoss, LineLoss, PumpOnLoop, RunResult, Temperatures
from rowan.core.steps.run.route import Profile, ProfileLeg, profile
from rowan.core.steps.site.stage import SiteResult
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE_H

LEAST_SUN = 20.0  # W/m², below which nobody's pump starts


def leg_loss(leg: ProfileLeg, *, conductivity: float) -> float:
    """Loss of a leg per metre [W/m·K] in the place it runs through."""
    radius = leg.pipe.outer_diameter_m / 2
    return loss_per_metre(
        outer_radius=radius,
        insulated_radius=radius + leg.insulation,
        conductivity=conductivity,
        film=FILM_OUTDOORS if leg.place in OUTDOORS else FILM_INDOORS,
        buried_depth=leg.depth,
    )


def _leg_loss(design: Design, leg: ProfileLeg, at: Temperatures, air: float) -> LegLoss:
    per_metre = leg_loss(leg, conductivity=design.run.insulation_w_mk.value)
    inside = at.hot if leg.line == "hot" else at.cold
    around = air if leg.outdoors else design.survey.room_c.value
    growth = thermal_growth(
        material=leg.pipe.material, length=leg.length, temperature_change=GROWTH_TO_C - GROWTH_FROM_C
    )
    return LegLoss(leg, per_metre, max(per_metre * leg.length * (inside - around), 0.0), growth)


def _line_loss(design: Design, route: Profile, at: Temperatures, air: float) -> LineLoss:
    run = design.run
    radius, conductivity = run.laid("hot").outer_diameter_m / 2, run.insulation_w_mk.value

    def loss(film: float) -> float:
        """Loss by length with a film coefficient [W/m·K]."""
        return loss_per_metre(
            outer_radius=radius,
            insulated_radius=radius + run.insulation_m.value,
            conductivity=conductivity,
            film=film,
        )

    legs = tuple(_leg_loss(design, leg, at, air) for leg in route.legs())
    return LineLoss(loss(FILM_INDOORS), loss(FILM_OUTDOORS), legs)


def _temperatures(design: Design, flow: float, fluid: Fluid, air: float) -> Temperatures:
    mean = design.collector.working_c.value
    rating = rating_of(design.collector.item.value)
    share = max(0.0, efficiency(rating=rating, over_temperature=mean - air, irradiance=REFERENCE_IRRADIANCE))
    rise = series_rise(
        irradiance=REFERENCE_IRRADIANCE,
        efficiency=share,
        area=design.area_m2,
        flow=flow * fluid.density,
        heat_capacity=fluid.heat_capacity,
    )
    return Temperatures(mean, mean + rise / 2, mean - rise / 2, rise, share)


def least_sun(design: Design, air: float) -> float:
    """Sun [W/m²] from which the field at the loop's mean temperature gains anything in air [°C]."""
    rating, mean = rating_of(design.collector.item.value), design.collector.working_c.value
    over = max(mean - air, 0.0)
    return max((rating.a1 * over + rating.a2 * over**2) / rating.eta0, LEAST_SUN)


def reckon_run(design: Design, site: SiteResult) -> RunResult:
    """Route, friction, pump and line losses of a design, with its figures and findings."""
    run = solved_run(design, site)
    figures = (
        *run_figures(design, site, run),
        *array_figures(design, run),
        *pump_figures(design, run),
        *buoyancy_figures(design, run),
    )
    findings = (
        *laying_findings(design, run),
        *run_findings(design, run),
        *array_findings(design, run),
        *pump_findings(design, run),
        *buoyancy_findings(design, run),
    )
    return replace(run, figures=figures, findings=findings)


def wanted_flow(design: Design) -> float:
    """The flow that is aimed at [m³/s]: it stands in where the pump moves nothing."""
    return design.run.flow_l_h.value * LITRE_H


def warm_curve(design: Design, route: Profile) -> LoopCurve:
    """Friction of a design's loop at its working temperature."""
    return loop_curve(design, route, temperature=design.collector.working_c.value)


def cold_curve(design: Design, route: Profile) -> LoopCurve:
    """Friction of a design's loop on a cold morning."""
    return loop_curve(design, route, temperature=COLD_START_C)


def solved_run(design: Design, site: SiteResult) -> RunResult:
    """The run alone, without a word about it: for what asks many of them."""
    route = profile(design)
    warm, cold = warm_curve(design, route), cold_curve(design, route)
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)

    def temperatures(flow: float) -> Temperatures:
        """The working loop at a flow [m³/s]."""
        return _temperatures(design, flow, fluid, site.annual_air)

    drive: PumpOnLoop | Buoyancy
    if design.pumped:
        drive, flow = _pump_on(design, route, warm, cold)
    else:
        drive, flow = buoyancy_of(design, route, warm, temperatures)
    at = temperatures(flow)
    return RunResult(
        route=route,
        warm=warm,
        cold=cold,
        drive=drive,
        flow=flow,
        mass_flow=flow * fluid.density,
        heat_capacity=fluid.heat_capacity,
        shares=warm.shares(flow),
        velocity=warm.velocity(flow),
        loss=_line_loss(design, route, at, site.annual_air),
        temperatures=at,
        divided=warm.field.at(flow),
        least_sun=least_sun(design, site.annual_air),
        figures=(),
        findings=(),
    )


def _pump_on(design: Design, route: Profile, warm: LoopCurve, cold: LoopCurve) -> tuple[PumpOnLoop, float]:
    """The pump against its loop, and the flow [m³/s]: the one wanted where the pump moves nothing."""
    pump = design.run.pump.value
    curves = pump_curves(pump)
    speed = min(design.run.speed.value, len(curves))
    points, cold_points = _crossings(design, route, curves, warm), _crossings(design, route, curves, cold)
    point = points[speed - 1]
    start = lifted = 0.0
    if design.drains:
        start = lift_of(design, route, warm.density).start_head
        lifted = max(point.head - warm.drop(point.flow), 0.0) if point else 0.0
    found = PumpOnLoop(
        curves=curves,
        points=points,
        cold_points=cold_points,
        speed=speed,
        power=pump.speeds[speed - 1].power_w,
        lift_head=lifted,
        on_sun=sun_pump(design, curves[-1], warm.drop, start=start, lift=lifted) if pump.on_panel else None,
    )
    return found, point.flow if point else wanted_flow(design)


def _crossings(
    design: Design, route: Profile, curves: tuple[PumpCurve, ...], loop: LoopCurve
) -> tuple[OperatingPoint | None, ...]:
    """Where curves of a pump cross a design's loop: over its top where it drains."""
    if design.drains:
        return lifted_crossings(curves, loop, lift_of(design, route, loop.density))
    return crossings(curves, loop)


@record
class SetSpeed:
    """A pumped loop at the speed that is set: its flow [m³/s], the one wanted where the pump moves nothing; that on a cold
    morning, 0 where nothing moves then; and the warm loop's friction."""

    flow: float
    flow_cold: float
    warm: LoopCurve


def at_set_speed(design: Design) -> SetSpeed:
    """The one speed of a pumped design that is set, without the others: for what asks many of them."""
    route = profile(design)
    warm, cold = warm_curve(design, route), cold_curve(design, route)
    curves = pump_curves(design.run.pump.value)
    curve = curves[min(design.run.speed.value, len(curves)) - 1]
    point, cold_point = (_crossings(design, route, (curve,), loop)[0] for loop in (warm, cold))
    return SetSpeed(point.flow if point else wanted_flow(design), cold_point.flow if cold_point else 0.0, warm)
