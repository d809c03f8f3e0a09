"""What the filling station, the tub and the clock will show."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.charge.ratings import MOST_AIR_PA, TEST_RELIEF_SHARE, test_pressure, test_reach, weakest_tested
from rowan.core.steps.charge.result import ChargeResult
from rowan.core.steps.commission.pressure_test import air_energy
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import KPA, LITRE, LITRE_MIN

PURGE_M_S = 0.4  # m/s at which bubbles go down a pipe, methods 8


def station_flow(design: Design) -> float:
    """Flow of the filling station [m³/s]."""
    return design.commission.station_flow_l_h.value * LITRE / 3600


def commission_figures(design: Design, run: RunResult, charge: ChargeResult) -> tuple[Figure, ...]:
    """Test pressure and purging; the energy of an air test where air is used."""
    # a loop that drains is filled to a mark, one without a pump from below by the main: neither is purged
    figures = [_test(design)]
    if not design.drains:
        figures += _turns(design, charge)
        if design.pumped:
            figures.append(_purge_speed(design, run.warm.widest))
    if design.sealed:
        figures.append(_tub(design, charge))
    if design.commission.test.value == "air":
        figures.append(_energy(design, charge))
    return tuple(figures)


def _test(design: Design) -> Figure:
    commission = design.commission
    weakest = weakest_tested(design)
    symbols = {
        "weakest": Symbol(weakest / KPA, "p", "weakest", "kPa"),
        "relief": Symbol(design.charge.relief_gauge_pa.value / KPA, "p", "relief", "kPa"),
    }
    limits = ["weakest"]
    if commission.relief_stays.value:
        limits.append(f"{TEST_RELIEF_SHARE} * relief")
    if commission.test.value == "air":
        limits.append(f"{MOST_AIR_PA / KPA:g}")
    reached = test_reach(design)
    if reached is not None:
        symbols["reached"] = Symbol(reached / KPA, "p", "pump", "kPa")
        limits.append("reached")
    text = f"min({', '.join(limits)})" if len(limits) > 1 else limits[0]
    used = {name: symbol for name, symbol in symbols.items() if name in text}
    return closed_form(
        key="test_pressure",
        name="Pressure test",
        basis=say(
            "with {test}{case}", test=f"{commission.test.value}", case=", vessel shut off" if design.sealed else ""
        ),
        dimension_name="pressure",
        part="gauge",
        sentence=say(
            "As high as the weakest part and the relief allow, because a leak that opens in service should open today."
        ),
        expression=Expression(text, used),
        letter="p",
        letter_index="test",
        result_unit="kPa",
        scale=KPA,
        source=methods(13),
    )


def _turns(design: Design, charge: ChargeResult) -> tuple[Figure, ...]:
    symbols = {
        "V": Symbol(charge.contents.total / LITRE, "V", "loop", "L"),
        "q": Symbol(station_flow(design) / LITRE_MIN, "q", "", "L/min"),
        "n": Symbol(design.commission.turns.value, "n"),
    }
    colour = closed_form(
        key="colour_time",
        name="Colour comes back after",
        basis=say("one turn of the loop"),
        dimension_name="time",
        part="gauge",
        sentence=say(
            "What is pumped in at the station is back after one turn. Sooner, and it takes a short cut through the valve "
            "between the ports; later, and less flows than is thought."
        ),
        expression=Expression("60 * V / q", symbols),
        letter="t",
        letter_index="turn",
        result_unit="s",
        source=methods(14),
    )
    purge = closed_form(
        key="purge_time",
        name="Purge at least",
        basis=say("{n} turns, and no bubble", n=Quantity(design.commission.turns.value, "ratio", 0)),
        dimension_name="minutes",
        part="gauge",
        sentence=say("Air goes out turn by turn. Both must hold: the turns and a return hose without a bubble."),
        expression=Expression("n * V / q", symbols),
        letter="t",
        letter_index="purge",
        result_unit="min",
        scale=60.0,
        source=methods(14),
    )
    return (colour, purge) if design.pumped else (colour,)


def _purge_speed(design: Design, bore: float) -> Figure:
    return closed_form(
        key="purge_speed",
        name="Speed while purging",
        basis=say("in a bore of {d}", d=Quantity(bore, "pipe_size")),
        dimension_name="velocity",
        part="hot_line",
        sentence=say("Slower than the limit, bubbles stay behind in the lines that run downward."),
        expression=Expression(
            "q / (60000 * pi / 4 * d ** 2)",
            {
                "q": Symbol(station_flow(design) / LITRE_MIN, "q", "", "L/min"),
                "pi": Symbol(math.pi, "π"),
                "d": Symbol(bore, "d", "", "m"),
            },
        ),
        letter="v",
        result_unit="m/s",
        source=methods(8),
        window=Window(PURGE_M_S, None, "methods 8, purging"),
    )


def _tub(design: Design, charge: ChargeResult) -> Figure:
    return closed_form(
        key="tub_falls",
        name="The tub falls by",
        basis=say("while the empty loop fills"),
        dimension_name="level",
        part="gauge",
        sentence=say("A tub that falls less leaves a loop half full of air; one that falls on has found a leak."),
        expression=Expression(
            "V / (1000 * A)",
            {
                "V": Symbol(charge.contents.total / LITRE, "V", "loop", "L"),
                "A": Symbol(design.commission.tub_area_m2.value, "A", "tub", "m²"),
            },
        ),
        letter="Δh",
        result_unit="m",
        source=methods(14),
    )


def _energy(design: Design, charge: ChargeResult) -> Figure:
    pressure = test_pressure(design) + charge.atmosphere
    energy = air_energy(pressure_abs=pressure, volume=charge.contents.total, atmosphere_pa=charge.atmosphere)
    figure = closed_form(
        key="air_energy",
        name="Energy shut in",
        basis=say("air in the whole loop"),
        dimension_name="work",
        part="gauge",
        sentence=_energy_words(energy),
        expression=Expression(
            "p * V / 0.4 * (1 - (air / p) ** (0.4 / 1.4)) / 1000",
            {
                "p": Symbol(pressure / KPA, "p", "test", "kPa"),
                "V": Symbol(charge.contents.total / LITRE, "V", "loop", "L"),
                "air": Symbol(charge.atmosphere / KPA, "p", "air", "kPa"),
            },
        ),
        letter="E",
        result_unit="kJ",
        scale=1000.0,
        source=methods(13),
    )
    return figure


def _energy_words(energy: float) -> Statement:
    falls = energy / (GRAVITY * 10.0)  # kilogrammes that fall ten metres with the same energy
    return say(
        "Air gives all of this back at once when a joint lets go: as much as {m} falling {h}. Nobody stands close.",
        m=Quantity(falls, "mass"),
        h=Quantity(10.0, "length", 0),
    )
