"""What heat is worth that came off the roof: the fuel not burnt for it, in money and carbon. Source: methods 14."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.terms.limits import NOT_NEGATIVE, takes
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH


@record
class Worth:
    """Heat [J], the fuel's money that it saved [currency of the plan] and the carbon not given off [kg]."""

    heat: float
    money: float
    carbon: float


@takes(heat=NOT_NEGATIVE)
def worth_of(design: Design, *, heat: float) -> Worth:
    """Worth of heat [J] that the plan's heater would have made. Pump and upkeep are not taken off: they are paid by the year.

    Raises OutOfRangeError for heat under nothing.
    """
    money = design.money
    burnt = heat / KWH / money.heater_efficiency.value
    return Worth(heat, burnt * money.fuel_price.value, burnt * money.fuel_kg_co2_kwh.value)
