"""The duty: heat of the hot water drawn, month by month."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.design import Design
from rowan.core.duty.demand import WATER_J_KG_K, WATER_KG_M3, heat_needed
from rowan.core.expression import Expression, Symbol
from rowan.core.figures import Figure, Quantity, closed_form, say
from rowan.core.site.stage import Site
from rowan.core.site.sun import DAYS_IN_MONTH
from rowan.core.sources import methods
from rowan.core.units import KWH, LITRE


@dataclass(frozen=True)
class Duty:
    """Draw [m³/day], heat by month [J] and the year's [J]."""

    daily_volume: float
    monthly_heat: tuple[float, ...]
    year_heat: float
    figures: tuple[Figure, ...]


def reckon_duty(design: Design, site: Site) -> Duty:
    """Demand of a household."""
    duty = design.duty
    volume = duty.persons.value * duty.litres_per_person_l.value * LITRE
    heat = tuple(
        days * heat_needed(volume=volume, tap_temperature=duty.tap_c.value, cold_temperature=cold)
        for days, cold in zip(DAYS_IN_MONTH, site.monthly_cold_main, strict=True)
    )
    mean_cold = sum(c * n for c, n in zip(site.monthly_cold_main, DAYS_IN_MONTH, strict=True)) / 365
    figures = (
        closed_form(
            key="daily_draw",
            name="Hot water a day",
            basis=say(
                "{n} people at {t}",
                n=Quantity(duty.persons.value, "count"),
                t=Quantity(duty.tap_c.value, "temperature"),
            ),
            dimension_name="tank",
            sentence=say("People times what each draws at the tap."),
            expression=Expression(
                "n * v",
                {
                    "n": Symbol(duty.persons.value, "n"),
                    "v": Symbol(duty.litres_per_person_l.value, "v", "each", "L"),
                },
            ),
            letter="V",
            letter_index="day",
            result_unit="L",
            scale=LITRE,
            source=methods(4),
            part="tap",
        ),
        closed_form(
            key="demand",
            name="Heat of the hot water",
            basis=say("a year, without store loss"),
            dimension_name="energy",
            sentence=say("The water of a year, heated from the cold main's mean to the tap."),
            expression=Expression(
                "days * V * rho * c * (T_tap - T_cold) / J",
                {
                    "days": Symbol(365, "n"),
                    "V": Symbol(volume, "V", "day", "m³"),
                    "rho": Symbol(WATER_KG_M3, "ρ", "", "kg/m³"),
                    "c": Symbol(WATER_J_KG_K, "c", "p", "J/kg·K"),
                    "T_tap": Symbol(duty.tap_c.value, "T", "tap", "°C"),
                    "T_cold": Symbol(mean_cold, "T", "cold", "°C"),
                    "J": Symbol(KWH, "J", "kWh", "J/kWh"),
                },
            ),
            letter="Q",
            letter_index="year",
            result_unit="kWh",
            scale=KWH,
            source=methods(4),
            part="tap",
        ),
    )
    return Duty(volume, heat, sum(heat), figures)
