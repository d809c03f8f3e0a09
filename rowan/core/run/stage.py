"""The run: route, friction, pump, operating point and heat lost on the way."""

from __future__ import annotations

from dataclasses import replace

from rowan.core.collector.efficiency import WIND_M_S, Rating, efficiency
from rowan.core.design.design import Design
from rowan.core.design.items import CollectorItem
from rowan.core.drainback.loop import lift_of, lifted_crossings
from rowan.core.media import Fluid, properties
from rowan.core.run.figures import run_figures
from rowan.core.run.findings import run_findings
from rowan.core.run.friction import series_rise
from rowan.core.run.insulation import FILM_INDOORS, FILM_OUTDOORS, OUTDOORS, loss_per_metre
from rowan.core.run.loop import COLD_START_C, LITRE_H, crossings, loop_curve, pump_curves
from rowan.core.run.results import LineLoss, Run, Temperatures
from rowan.core.run.route import Profile, profile
from rowan.core.site.stage import Site

REFERENCE_IRRADIANCE = 800.0


def rating_of(item: CollectorItem) -> Rating:
    """The efficiency rating of a collector item; an unglazed one in a light wind."""
    return Rating(item.eta0 * (1 - item.b_u_s_m * WIND_M_S), item.a1_w_m2k + item.b2_j_m3k * WIND_M_S, item.a2_w_m2k2)


def _line_loss(design: Design, route: Profile) -> LineLoss:
    run, pipe = design.run, design.run.pipe.value
    radius = pipe.outer_diameter_m / 2

    def loss(film: float) -> float:
        return loss_per_metre(
            outer_radius=radius,
            insulated_radius=radius + run.insulation_m.value,
            conductivity=run.insulation_w_mk.value,
            film=film,
        )

    def lengths(line: str, outdoors: bool) -> float:
        return sum(leg.length for leg in route.legs() if leg.line == line and (leg.place in OUTDOORS) == outdoors)

    return LineLoss(
        loss(FILM_INDOORS),
        loss(FILM_OUTDOORS),
        lengths("hot", False),
        lengths("hot", True),
        lengths("cold", False),
        lengths("cold", True),
    )


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


def reckon_run(design: Design, site: Site) -> Run:
    """Route, friction, pump and line losses of a design."""
    route = profile(design)
    warm = loop_curve(design, route, temperature=design.collector.working_c.value)
    cold = loop_curve(design, route, temperature=COLD_START_C)
    curves = pump_curves(design.run.pump.value)
    speed = min(design.run.speed.value, len(curves))
    if design.drains:
        points, cold_points = (
            lifted_crossings(curves, loop, lift_of(design, route, loop.density)) for loop in (warm, cold)
        )
    else:
        points, cold_points = crossings(curves, warm), crossings(curves, cold)
    point = points[speed - 1]
    flow = point.flow if point else design.run.flow_l_h.value * LITRE_H
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    loss = _line_loss(design, route)
    at = _temperatures(design, flow, fluid, site.annual_air)
    run = Run(
        route=route,
        warm=warm,
        cold=cold,
        curves=curves,
        points=points,
        cold_points=cold_points,
        speed=speed,
        flow=flow,
        mass_flow=flow * fluid.density,
        heat_capacity=fluid.heat_capacity,
        shares=warm.shares(flow),
        velocity=warm.velocity(flow),
        loss=loss,
        temperatures=at,
        pump_power=design.run.pump.value.speeds[speed - 1].power_w,
        figures=(),
        findings=(),
    )
    return replace(run, figures=run_figures(design, site, run), findings=run_findings(design, run))
