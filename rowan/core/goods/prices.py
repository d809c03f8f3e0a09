"""Saved energy in money and carbon, and small site arithmetic."""

from __future__ import annotations

import math

from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, Span, takes
from rowan.core.terms.record import record


@takes(rate=Span(0.0, 10.0), years=Span(0.0, 200.0, above=True))
def annuity_factor(*, rate: float, years: float) -> float:
    """Yearly share of a price that repays it over years at a rate [1/a]."""
    # what growth takes off in the last digit of 1 is nothing: a rate so small is none
    grown = math.expm1(years * math.log1p(rate))
    return rate / grown + rate if grown > 0 else 1 / years


@takes(fuel_price=NOT_NEGATIVE, efficiency=POSITIVE)
def heat_price(*, fuel_price: float, efficiency: float) -> float:
    """Price of useful heat [money/kWh] from a fuel's price and the heater's efficiency [-]. Source: methods 14."""
    return fuel_price / efficiency


@record
class Filling:
    """Fall of the tub [m], seconds till the colour changes, and turns of the loop."""

    tub_falls: float
    colour_changes: float
    turns: float


@takes(loop_volume=POSITIVE, tub_area=POSITIVE, flow=POSITIVE, duration=NOT_NEGATIVE)
def filling(*, loop_volume: float, tub_area: float, flow: float, duration: float) -> Filling:
    """What filling a loop [m³] from a tub [m²] with flow [m³/s] over a duration [s] does. Source: methods 14."""
    return Filling(loop_volume / tub_area, loop_volume / flow, flow * duration / loop_volume)


@takes(fixed_difference=FINITE, per_metre_difference=FINITE)
def break_even_length(*, fixed_difference: float, per_metre_difference: float) -> float:
    """Length [m] at which a dearer fixed cost and a lower cost a metre break even. Source: methods 14."""
    if per_metre_difference <= 0:
        raise OutOfRangeError("cost per metre difference", per_metre_difference, 0, None)
    return fixed_difference / per_metre_difference
