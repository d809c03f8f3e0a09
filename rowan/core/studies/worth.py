"""What a plan's year is worth: heat saved, and the money for each kWh of it."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.design import Design
from rowan.core.goods.prices import annuity_factor, cost_of_heat, heat_price
from rowan.core.simulation.year import Year
from rowan.core.terms.units import KWH


@dataclass(frozen=True)
class Worth:
    """Heat saved a year [J], money for each kWh of it, None where nothing is saved, and the money saved a year."""

    saved: float
    per_kwh: float | None
    a_year: float


RATED_CELL_C = 25.0  # °C at which a hybrid's electricity is rated


def electricity(design: Design, year: Year) -> float:
    """What a hybrid field gives beside its heat in a year [J]; nothing of any other. Source: methods 3."""
    item = design.collector.item.value
    kept = 1 + item.electric_change_per_k * (design.collector.working_c.value - RATED_CELL_C)
    return design.collector.count.value * item.electric_w / 1000 * year.plane_kwh_m2 * kept * KWH


def worth(design: Design, year: Year) -> Worth:
    """The year in money: price over the life, upkeep of system and collectors, electricity of the pump."""
    money, collector = design.money, design.collector
    kwh = year.saved / KWH
    electric = year.total("electric") / KWH * money.electricity_price.value
    upkeep = collector.count.value * collector.item.value.upkeep_a_year
    price = money.system_price.value
    per_kwh = None
    if kwh > 0:
        per_kwh = cost_of_heat(
            price=price,
            annuity=annuity_factor(rate=money.discount.value, years=money.life_years.value),
            upkeep_share=money.upkeep_share.value,
            upkeep=upkeep,
            power=electric,
            heat=kwh,
        )
    fuel = heat_price(fuel_price=money.fuel_price.value, efficiency=money.heater_efficiency.value)
    saved = kwh * fuel - electric - upkeep - price * money.upkeep_share.value
    return Worth(year.saved, per_kwh, saved)
