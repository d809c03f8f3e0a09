"""Money: what the heat saves, what it costs, and the carbon."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.design import Design
from rowan.core.goods.prices import annuity_factor
from rowan.core.steps.collector.stage import CollectorResult
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH

RUNNING_IRRADIANCE = 500.0  # W/m², mean while the pump runs, rule of thumb


@dataclass(frozen=True)
class MoneyResult:
    """Saved a year and price of solar heat a kWh [money]; None without an estimate of the year."""

    saved: float | None
    figures: tuple[Figure, ...]


def reckon_money(design: Design, run: RunResult, collector: CollectorResult) -> MoneyResult:
    """Simple money of a design; nothing without an estimate of the year."""
    if collector.year_heat is None or collector.year_heat <= 0:
        return MoneyResult(None, ())
    symbols = _symbols(design, run, collector.year_heat / KWH)
    saved = _saved_figure(design, symbols)
    figures = [saved, *_price_figures(design, symbols)]
    if saved.value > 0:
        figures.insert(1, _payback_figure(symbols | {"S": Symbol(saved.value, "S")}))
    return MoneyResult(saved.value, tuple(figures))


def _symbols(design: Design, run: RunResult, heat: float) -> dict[str, Symbol]:
    """The letters of the money formulas; heat of the year [kWh]."""
    money = design.money
    hours = heat * 1000 / max(RUNNING_IRRADIANCE * run.temperatures.efficiency * design.area_m2, 1.0)
    return {
        "Q": Symbol(heat, "Q", "solar", "kWh"),
        "price": Symbol(money.fuel_price.value, "p", "fuel"),
        "eta": Symbol(money.heater_efficiency.value, "η", "heater"),
        "P": Symbol(run.pump_power / 1000, "P", "pump", "kW"),
        "t": Symbol(hours, "t", "runs", "h"),
        "el": Symbol(money.electricity_price.value, "p", "el"),
        "I": Symbol(money.system_price.value, "I"),
        "u": Symbol(money.upkeep_share.value, "u", "upkeep"),
        "a": Symbol(annuity_factor(rate=money.discount.value, years=money.life_years.value), "a", "annuity"),
        "co2": Symbol(money.fuel_kg_co2_kwh.value, "k", "fuel", "kg/kWh"),
    }


def _saved_figure(design: Design, symbols: dict[str, Symbol]) -> Figure:
    return closed_form(
        key="saved",
        name="Saved a year",
        basis=say(design.money.currency.value + ", pump and upkeep taken off"),
        dimension_name="money",
        sentence=say("Fuel not burnt, less the pump's electricity and the upkeep."),
        expression=Expression("Q * price / eta - P * t * el - I * u", symbols),
        letter="S",
        source=methods(14),
        part="backup",
    )


def _price_figures(design: Design, symbols: dict[str, Symbol]) -> tuple[Figure, ...]:
    money = design.money
    return (
        closed_form(
            key="heat_price",
            name="Price of solar heat",
            basis=say(money.currency.value + " a kWh, {y}", y=Quantity(money.life_years.value, "years", 0)),
            dimension_name="ratio",
            sentence=say("Price of the system spread over its life, with upkeep and pump, over the heat of a year."),
            expression=Expression("(I * a + I * u + P * t * el) / Q", symbols),
            letter="p",
            letter_index="solar",
            source=methods(14),
        ),
        closed_form(
            key="carbon",
            name="Carbon not given off",
            basis=say("a year"),
            dimension_name="carbon",
            sentence=say("The fuel the heater would have burnt for the same heat."),
            expression=Expression("Q / eta * co2", symbols),
            letter="m",
            source=methods(14),
        ),
    )


def _payback_figure(symbols: dict[str, Symbol]) -> Figure:
    return closed_form(
        key="payback",
        name="Pays back in",
        basis=say("without interest"),
        dimension_name="years",
        sentence=say("Price over what it saves a year."),
        expression=Expression("I / S", symbols),
        letter="t",
        source=methods(14),
    )
