"""The run: route, friction, pump, operating point and heat lost on the way."""

from __future__ import annotations

from rowan.core.collector.efficiency import Rating, efficiency
from rowan.core.design.design import Design
from rowan.core.design.items import CollectorItem
from rowan.core.expression import Expression, Symbol
from rowan.core.figures import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.media import Fluid, properties
from rowan.core.run.findings import run_findings
from rowan.core.run.friction import GROWTH_PER_K
from rowan.core.run.insulation import FILM_INDOORS, FILM_OUTDOORS, OUTDOORS, loss_per_metre
from rowan.core.run.loop import LITRE_H, LoopCurve, Shares, crossings, loop_curve, pump_curves
from rowan.core.run.pump import OperatingPoint, PumpCurve
from rowan.core.run.results import LineLoss, Run, Temperatures
from rowan.core.run.route import Profile, profile
from rowan.core.site.stage import Site
from rowan.core.sources import methods

COLD_START_C = 20.0
REFERENCE_IRRADIANCE = 800.0
GROWTH_FROM_C, GROWTH_TO_C = 10.0, 120.0
VELOCITY_WINDOW = (0.3, 1.0)


def rating_of(item: CollectorItem) -> Rating:
    """The efficiency rating of a collector item."""
    return Rating(item.eta0, item.a1_w_m2k, item.a2_w_m2k2)


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
    rise = REFERENCE_IRRADIANCE * share * design.area_m2 / (flow * fluid.density * fluid.heat_capacity)
    return Temperatures(mean, mean + rise / 2, mean - rise / 2, rise, share)


def reckon_run(design: Design, site: Site) -> Run:
    """Route, friction, pump and line losses of a design."""
    route = profile(design)
    warm = loop_curve(design, route, temperature=design.collector.working_c.value)
    cold = loop_curve(design, route, temperature=COLD_START_C)
    curves = pump_curves(design.run.pump.value)
    speed = min(design.run.speed.value, len(curves))
    points, cold_points = crossings(curves, warm), crossings(curves, cold)
    point = points[speed - 1]
    flow = point.flow if point else design.run.flow_l_h.value * LITRE_H
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    loss = _line_loss(design, route)
    at = _temperatures(design, flow, fluid, site.annual_air)
    figures = _figures(design, site, route, warm, curves, point, cold_points[speed - 1], flow, loss, at)
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
        figures=figures,
        findings=(),
    )
    return run.with_findings(run_findings(design, run))


def maker_window(design: Design) -> tuple[float, float]:
    """The maker's flow window for the whole field [m³/s]."""
    item, count = design.collector.item.value, design.collector.count.value
    return item.least_flow_l_h * count * LITRE_H, item.most_flow_l_h * count * LITRE_H


def _figures(
    design: Design,
    site: Site,
    route: Profile,
    warm: LoopCurve,
    curves: tuple[PumpCurve, ...],
    point: OperatingPoint | None,
    cold_point: OperatingPoint | None,
    flow: float,
    loss: LineLoss,
    at: Temperatures,
) -> tuple[Figure, ...]:
    figures: list[Figure] = []
    residual = Quantity(abs(point.residual) if point else 0.0, "pressure", 6)
    low, high = maker_window(design)
    shares: Shares = warm.shares(flow)
    velocity = warm.velocity(flow)
    speed = f"speed {min(design.run.speed.value, len(curves))}"
    crossing = say("Pump curve (monotone cubic) against the loop's friction, solved to {r}.", r=residual)
    if point:
        figures += [
            by_method(
                key="flow",
                name="Flow",
                basis=say(speed + ", {t}", t=Quantity(at.mean, "temperature")),
                value=point.flow,
                dimension_name="flow",
                window=Window(low, high, "data sheet of the collector"),
                part="pump",
                sentence=say("Where the pump's curve crosses the loop's: what it pushes equals what the loop takes."),
                method=crossing,
                source=methods(8),
            ),
            closed_form(
                key="head",
                name="Head",
                basis=say("friction only, height cancels"),
                dimension_name="head",
                part="pump",
                sentence=say("In a sealed loop what goes up comes down; the pump only overcomes friction."),
                expression=Expression(
                    "pipe + fittings + station + collectors + coil",
                    {
                        "pipe": Symbol(shares.pipe, "p", "pipe", "Pa"),
                        "fittings": Symbol(shares.fittings, "p", "bends", "Pa"),
                        "station": Symbol(shares.station, "p", "station", "Pa"),
                        "collectors": Symbol(shares.collectors, "p", "field", "Pa"),
                        "coil": Symbol(shares.coil, "p", "coil", "Pa"),
                    },
                ),
                letter="p",
                result_unit="Pa",
                source=methods(8),
            ),
        ]
    pipe = design.run.pipe.value
    figures.append(
        closed_form(
            key="velocity",
            name="Speed in the pipe",
            basis=say("bore {b}", b=Quantity(pipe.bore_m, "pipe_size")),
            dimension_name="velocity",
            window=Window(*VELOCITY_WINDOW, "methods 8, rule of thumb"),
            part="cold_line",
            sentence=say("Slow enough to be quiet, fast enough to carry small bubbles along."),
            expression=Expression(
                "4 * q / (pi * d ** 2)",
                {
                    "q": Symbol(flow, "q", "", "m³/s"),
                    "pi": Symbol(3.141592653589793, "π"),
                    "d": Symbol(pipe.bore_m, "d", "", "m"),
                },
            ),
            letter="v",
            source=methods(8),
        )
    )
    if cold_point:
        figures.append(
            by_method(
                key="flow_cold",
                name="Flow, cold start",
                basis=say("{t}", t=Quantity(COLD_START_C, "temperature")),
                value=cold_point.flow,
                dimension_name="flow",
                window=Window(low, None, "data sheet, least flow"),
                part="pump",
                sentence=say("Cold fluid is thicker, so the morning starts with less flow."),
                method=say("The same crossing with the fluid at {t}.", t=Quantity(COLD_START_C, "temperature")),
                source=methods(8),
            )
        )
    figures += _loss_figures(design, site, route, loss, at)
    figures.append(
        closed_form(
            key="arrival",
            name="Heat arrives after",
            basis=say("hot line {l}", l=Quantity(route.hot_length, "length", 1)),
            dimension_name="time",
            part="hot_line",
            sentence=say("What stood in the hot line is pushed into the store first; it is cold when the pump starts."),
            expression=Expression(
                "l * a / q",
                {
                    "l": Symbol(route.hot_length, "L", "hot", "m"),
                    "a": Symbol(pipe.contents_l_m, "v", "", "L/m"),
                    "q": Symbol(flow * 1000, "q", "", "L/s"),
                },
            ),
            letter="t",
            source=methods(8),
        )
    )
    return tuple(figures)


def _loss_figures(design: Design, site: Site, route: Profile, loss: LineLoss, at: Temperatures) -> list[Figure]:
    room, air = design.survey.room_c.value, site.annual_air
    straight = max((leg.length for leg in route.legs()), default=0.0)
    material = design.run.pipe.value.material

    def line(key: str, name: str, temperature: float, inside: float, outside: float, part: str) -> Figure:
        return closed_form(
            key=key,
            name=name,
            dimension_name="heat_rate",
            part=part,
            basis=say("at {t}, {a} around", t=Quantity(temperature, "temperature"), a=Quantity(room, "temperature")),
            sentence=say(
                "Each metre of lagged pipe lets {u} through for every kelvin it is warmer than what is around it.",
                u=Quantity(loss.indoors, "loss_per_length"),
            ),
            expression=Expression(
                "u_in * l_in * (t - t_room) + u_out * l_out * (t - t_air)",
                {
                    "u_in": Symbol(loss.indoors, "U′", "in", "W/m·K"),
                    "l_in": Symbol(inside, "L", "in", "m"),
                    "u_out": Symbol(loss.outdoors, "U′", "out", "W/m·K"),
                    "l_out": Symbol(outside, "L", "out", "m"),
                    "t": Symbol(temperature, "T", "line", "°C"),
                    "t_room": Symbol(room, "T", "room", "°C"),
                    "t_air": Symbol(air, "T", "air", "°C"),
                },
            ),
            letter="Q",
            result_unit="W",
            source=methods(6),
        )

    return [
        line("loss_hot", "Heat lost, hot line", at.hot, loss.hot_indoors, loss.hot_outdoors, "hot_line"),
        line("loss_cold", "Heat lost, cold line", at.cold, loss.cold_indoors, loss.cold_outdoors, "cold_line"),
        closed_form(
            key="growth",
            name="Growth, longest straight",
            basis=say(
                "{l}, from {a} to {b}",
                l=Quantity(straight, "length", 1),
                a=Quantity(GROWTH_FROM_C, "temperature"),
                b=Quantity(GROWTH_TO_C, "temperature"),
            ),
            dimension_name="growth",
            part="hot_line",
            sentence=say(
                "A straight between two fixed points pushes by this much; leave it a bend or a loop to move in."
            ),
            expression=Expression(
                "alpha * l * (t2 - t1)",
                {
                    "alpha": Symbol(GROWTH_PER_K[material] * 1e6, "α", "", "µm/m·K"),
                    "l": Symbol(straight, "L", "", "m"),
                    "t2": Symbol(GROWTH_TO_C, "T", "2", "°C"),
                    "t1": Symbol(GROWTH_FROM_C, "T", "1", "°C"),
                },
            ),
            letter="ΔL",
            result_unit="µm",
            scale=1e-6,
            source=methods(8),
        ),
    ]
