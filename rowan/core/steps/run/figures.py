"""Figures of the run: the pump on its loop, and what both lines lose."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.run.friction import GROWTH_PER_K
from rowan.core.steps.run.loop import COLD_START_C, maker_window
from rowan.core.steps.run.result import RunResult
from rowan.core.steps.site.stage import SiteResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE, LITRE_H

GROWTH_FROM_C, GROWTH_TO_C = 10.0, 120.0  # °C, laid on a cool day and hot
VELOCITY_WINDOW = (0.3, 1.0)  # m/s: air is carried, pipes are not worn, methods 8
LIFTS_TOO = 1.02  # head over friction from which a drainback pump carries lift as well


def _carried(design: Design, run: RunResult) -> str:
    """What the pump overcomes while it runs."""
    if not design.drains or run.point is None:
        return "friction only, height cancels"
    lifts = run.point.head > run.warm.drop(run.point.flow) * LIFTS_TOO
    return "friction and lift: the return pulls nothing" if lifts else "friction; the return carries the lift"


def run_figures(design: Design, site: SiteResult, run: RunResult) -> tuple[Figure, ...]:
    """All figures of the run; without an operating point those of the pump are left out."""
    return (
        *_pump_figures(design, run),
        *_specific_figure(design, run),
        _velocity_figure(run),
        *_cold_start_figure(design, run),
        *_loss_figures(design, site, run),
        *_power_figure(run),
        _growth_figure(run),
        _arrival_figure(run),
    )


def _pump_figures(design: Design, run: RunResult) -> tuple[Figure, ...]:
    if run.point is None:
        return ()
    shares = run.shares
    symbols = {
        "pipe": Symbol(shares.pipe, "p", "pipe", "Pa"),
        "fittings": Symbol(shares.fittings, "p", "bends", "Pa"),
        "station": Symbol(shares.station, "p", "station", "Pa"),
        "collectors": Symbol(shares.collectors, "p", "field", "Pa"),
        "coil": Symbol(shares.coil, "p", "coil", "Pa"),
    }
    return (
        by_method(
            key="flow",
            name="Flow",
            basis=say(
                "speed {speed}, {t}", speed=f"{run.pump.speed}", t=Quantity(run.temperatures.mean, "temperature")
            ),
            value=run.point.flow,
            dimension_name="flow",
            window=Window(*maker_window(design), "data sheet of the collector"),
            part="pump",
            sentence=say("Where the pump's curve crosses the loop's: what it pushes equals what the loop takes."),
            method=say(
                "Pump curve (monotone cubic) against the loop's friction, solved to {r}.",
                r=Quantity(abs(run.point.residual), "pressure", 6),
            ),
            source=methods(8),
        ),
        closed_form(
            key="head",
            name="Head",
            basis=say(_carried(design, run)),
            dimension_name="head",
            part="pump",
            sentence=say("In a sealed loop what goes up comes down; the pump only overcomes friction."),
            expression=Expression("pipe + fittings + station + collectors + coil", symbols),
            letter="p",
            result_unit="Pa",
            source=methods(8),
        ),
    )


# L/h·m² that are usual where no maker says otherwise: of water, of glycol; rules of thumb, practice 8
USUAL_L_H_M2 = {True: (30.0, 50.0), False: (50.0, 75.0)}


def _specific_figure(design: Design, run: RunResult) -> tuple[Figure, ...]:
    """Flow by aperture beside what is usual; the maker's window is the one that counts."""
    if run.buoyancy is not None or design.is_pool:
        return ()
    low, high = USUAL_L_H_M2[design.sealed]
    symbols = {
        "q": Symbol(run.flow / LITRE_H, "q", "", "L/h"),
        "A": Symbol(design.area_m2, "A", "", "m²"),
    }
    return (
        closed_form(
            key="specific_flow",
            name="Flow by aperture",
            basis=say(
                "usual for {case} {a} to {b}",
                case="glycol" if design.sealed else "water",
                a=Quantity(low * LITRE_H, "specific_flow"),
                b=Quantity(high * LITRE_H, "specific_flow"),
            ),
            dimension_name="specific_flow",
            part="pump",
            sentence=say(
                "Less leaves heat on the roof, more only spends electricity. The maker's window comes before the usual one."
            ),
            expression=Expression("q / A", symbols),
            letter="q",
            letter_index="A",
            result_unit="L/h·m²",
            scale=LITRE_H,
            source=methods(8),
        ),
    )


def _velocity_figure(run: RunResult) -> Figure:
    pumped = run.buoyancy is None
    bore = run.warm.bore
    symbols = {
        "q": Symbol(run.flow, "q", "", "m³/s"),
        "pi": Symbol(math.pi, "π"),
        "d": Symbol(bore, "d", "", "m"),
    }
    return closed_form(
        key="velocity",
        name="Speed in the pipe",
        basis=say(
            "bore {b}{case}", case=", the narrowest" if run.warm.widest > bore else "", b=Quantity(bore, "pipe_size")
        ),
        dimension_name="velocity",
        window=Window(*VELOCITY_WINDOW, "methods 8, rule of thumb") if pumped else None,
        part="cold_line",
        sentence=say(
            "Slow enough to be quiet, fast enough to carry small bubbles along."
            if pumped
            else "Too slow to carry bubbles: every leg must rise to where its air can leave."
        ),
        expression=Expression("4 * q / (pi * d ** 2)", symbols),
        letter="v",
        source=methods(8),
    )


def _cold_start_figure(design: Design, run: RunResult) -> tuple[Figure, ...]:
    if run.buoyancy is not None:
        return ()
    point, temperature = run.pump.cold_points[run.pump.speed - 1], Quantity(COLD_START_C, "temperature")
    if point is None:
        return ()
    return (
        by_method(
            key="flow_cold",
            name="Flow, cold start",
            basis=say("{t}", t=temperature),
            value=point.flow,
            dimension_name="flow",
            window=Window(maker_window(design)[0], None, "data sheet, least flow"),
            part="pump",
            sentence=say("Cold fluid is thicker, so the morning starts with less flow."),
            method=say("The same crossing with the fluid at {t}.", t=temperature),
            source=methods(8),
        ),
    )


def _loss_figures(design: Design, site: SiteResult, run: RunResult) -> tuple[Figure, ...]:
    room, loss, at = design.survey.room_c.value, run.loss, run.temperatures

    def line(key: str, name: str, temperature: float) -> Figure:
        """What a line loses at a temperature [°C]."""
        which = "hot" if key == "loss_hot" else "cold"
        inside, outside = (loss.conductance(line=which, outdoors=out) for out in (False, True))
        symbols = {
            "k_in": Symbol(inside, "K", "in", "W/K"),
            "k_out": Symbol(outside, "K", "out", "W/K"),
            "t": Symbol(temperature, "T", "line", "°C"),
            "t_room": Symbol(room, "T", "room", "°C"),
            "t_air": Symbol(site.annual_air, "T", "air", "°C"),
        }
        return closed_form(
            key=key,
            name=name,
            dimension_name="heat_rate",
            part="hot_line" if key == "loss_hot" else "cold_line",
            basis=say("at {t}, {a} around", t=Quantity(temperature, "temperature"), a=Quantity(room, "temperature")),
            sentence=say(
                "Lagged pipe lets {u} through; summed over the legs, and times how much warmer the line is than what is around it.",
                u=Quantity(loss.indoors, "loss_per_length"),
            ),
            expression=Expression("k_in * (t - t_room) + k_out * (t - t_air)", symbols),
            letter="Q",
            result_unit="W",
            source=methods(6),
        )

    return (line("loss_hot", "Heat lost, hot line", at.hot), line("loss_cold", "Heat lost, cold line", at.cold))


def _power_figure(run: RunResult) -> tuple[Figure, ...]:
    if run.buoyancy is not None:
        return ()
    return (
        by_method(
            key="pump_power",
            name="Pump takes",
            basis=say("speed {speed}", speed=f"{run.pump.speed}"),
            value=run.pump_power,
            dimension_name="electric_power",
            part="pump",
            sentence=say("A speed lower on the same loop saves more than any setting of the controller."),
            method=say("Data sheet of the pump at this speed."),
            source=methods(8),
        ),
    )


def _growth_figure(run: RunResult) -> Figure:
    longest = max(run.loss.legs, key=lambda found: found.growth).leg
    straight = longest.length
    symbols = {
        "alpha": Symbol(GROWTH_PER_K[longest.pipe.material] * 1e6, "α", "", "µm/m·K"),
        "l": Symbol(straight, "L", "", "m"),
        "t2": Symbol(GROWTH_TO_C, "T", "2", "°C"),
        "t1": Symbol(GROWTH_FROM_C, "T", "1", "°C"),
    }
    return closed_form(
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
        sentence=say("A straight between two fixed points pushes by this much; leave it a bend or a loop to move in."),
        expression=Expression("alpha * l * (t2 - t1)", symbols),
        letter="ΔL",
        result_unit="µm",
        scale=1e-6,
        source=methods(8),
    )


def _arrival_figure(run: RunResult) -> Figure:
    symbols = {
        "v": Symbol(run.route.contents_of("hot") / LITRE, "V", "hot", "L"),
        "q": Symbol(run.flow * 1000, "q", "", "L/s"),
    }
    return closed_form(
        key="arrival",
        name="Heat arrives after",
        basis=say("hot line {l}", l=Quantity(run.route.hot_length, "length", 1)),
        dimension_name="time",
        part="hot_line",
        sentence=say("What stood in the hot line is pushed into the store first; it is cold when the pump starts."),
        expression=Expression("v / q", symbols),
        letter="t",
        source=methods(8),
    )
