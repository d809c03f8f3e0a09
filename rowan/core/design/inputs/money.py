"""Prices and what is reckoned with them.

Price of the fuel that is saved, not of the heat: efficiency turns one into the other (methods 10).
"""

from __future__ import annotations

from typing import Annotated

from rowan.core.design.inputs.base import Input, Inputs, InputSpec
from rowan.core.design.inputs.fields import Number, Text, number
from rowan.core.design.inputs.hours import HoursText


class MoneyInputs(Inputs):
    """Prices and what is reckoned with them."""

    currency: Annotated[Text, InputSpec("currency", "text")] = Text(value="crowns")
    fuel_price: Annotated[Number, number("fuel price", "price", 0.01, 100)]
    heater_efficiency: Annotated[Number, number("heater turns to heat", "share", 0.2, 6)]
    fuel_kg_co2_kwh: Annotated[Number, number("fuel gives off", "carbon_per_energy", 0, 3)]
    electricity_price: Annotated[Number, number("electricity price", "price", 0, 100)] = Number(value=0.28)
    cheap_price: Annotated[
        Input[float | None],
        number(
            "cheap tariff",
            "price",
            0,
            100,
            help="What a kilowatt-hour costs in the cheap hours, where electricity heats",
            empty="one price all day",
        ),
    ] = Input[float | None](value=None)
    cheap_hours: Annotated[
        HoursText, InputSpec("cheap hours", "text", help="Hours of the day, such as “22:00-6:00, 13:00-15:00”")
    ] = HoursText(value="22:00-6:00")
    electricity_kg_co2_kwh: Annotated[Number, number("electricity gives off", "carbon_per_energy", 0, 3)] = Number(
        value=0.20
    )
    system_price: Annotated[
        Input[float | None],
        number(
            "system costs",
            "money",
            0,
            1e8,
            help="As offered; empty: the list of parts and the hours",
            empty="by its list",
        ),
    ] = Input[float | None](value=None)
    hour_price: Annotated[Number, number("an hour of work costs", "money", 0, 1e4)] = Number(value=40.0)
    upkeep_share: Annotated[Number, number("upkeep a year", "share_fine", 0, 0.2)] = Number(value=0.01)
    life_years: Annotated[Number, number("life", "years", 5, 50)] = Number(value=25.0)
    discount: Annotated[Number, number("discount", "share_fine", 0, 0.2)] = Number(value=0.03)
