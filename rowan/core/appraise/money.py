"""Money and carbon of a plan's year: what the heat saved is worth, and what it costs over the system's life.

The heat is that of the year run through, never an estimate: fuel not burnt, less the pump's electricity, the upkeep of
system and collectors, and with what a hybrid's electricity brings. Source: methods 14.
"""

from __future__ import annotations

from rowan.core.appraise.heaters import Paid, heater_symbols, heaters_of, worth
from rowan.core.design.design import Design
from rowan.core.goods.prices import annuity_factor
from rowan.core.simulation.year import Year
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, Window, by_method, closed_form, say
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH

RATED_CELL_C = 25.0  # °C at which a hybrid's electricity is rated


@record
class Money:
    """Money saved a year, for each kWh of heat saved, the years till it is paid back; None where nothing is saved.

    `no` says in words that it does not pay; None where it does.
    """

    a_year: float
    per_kwh: float | None
    payback_years: float | None
    no: Statement | None
    figures: tuple[Figure, ...]


def electricity(design: Design, year: Year) -> float:
    """What a hybrid field gives beside its heat in a year [J]; nothing of any other. Source: methods 3."""
    item = design.collector.item.value
    kept = 1 + item.electric_change_per_k * (design.collector.working_c.value - RATED_CELL_C)
    return design.collector.count.value * item.electric_w / 1000 * year.plane_kwh_m2 * kept * KWH


def money_of(design: Design, year: Year, *, price: float) -> Money:
    """The year in money, of a system at a price: each figure is its formula, and what pages compare is that figure."""
    found = heaters_of(design, year)
    symbols = _symbols(design, year, price) | heater_symbols(design, found)
    saved = _saved_figure(design, symbols, found)
    figures, per_kwh, payback = [saved], None, None
    if saved.value > 0:
        paid = _payback_figure(design, symbols | {"S": Symbol(saved.value, "S")})
        payback = paid.value
        figures.append(paid)
    if year.saved > 0:
        kwh = _price_figure(design, symbols)
        per_kwh = kwh.value
        figures += [kwh, _carbon_figure(design, symbols)]
    no = _no(design, saved.value, payback)
    figures.append(_backup_figure(design, year, symbols, found))
    if found.cheap is not None:
        figures.append(_cheap_figure(design, found.cheap))
    return Money(saved.value, per_kwh, payback, no, tuple(figures))


def _symbols(design: Design, year: Year, price: float) -> dict[str, Symbol]:
    """The letters of the money formulas."""
    money, collector = design.money, design.collector
    return {
        "Q": Symbol(year.saved / KWH, "Q", "saved", "kWh"),
        "price": Symbol(money.fuel_price.value, "p", "fuel"),
        "eta": Symbol(money.heater_efficiency.value, "η", "heater"),
        "E": Symbol(year.total("electric") / KWH, "E", "pump", "kWh"),
        "H": Symbol(electricity(design, year) / KWH, "E", "field", "kWh"),
        "el": Symbol(money.electricity_price.value, "p", "el"),
        "I": Symbol(price, "I"),
        "u": Symbol(money.upkeep_share.value, "u", "upkeep"),
        "U": Symbol(collector.count.value * collector.item.value.upkeep_a_year, "U", "field"),
        "a": Symbol(annuity_factor(rate=money.discount.value, years=money.life_years.value), "a", "annuity"),
        "co2": Symbol(money.fuel_kg_co2_kwh.value, "k", "fuel", "kg/kWh"),
    }


def _saved_figure(design: Design, symbols: dict[str, Symbol], found: Paid) -> Figure:
    return closed_form(
        key="saved",
        better=1,
        name="Saved a year",
        basis=say("{currency}, pump and upkeep taken off", currency=design.money.currency.value),
        dimension_name="money",
        sentence=say(
            "Fuel not burnt, less the pump's electricity and the upkeep; a hybrid's own electricity added.{case}",
            case=" In its months the element's electricity is what is saved." if design.two_heaters else "",
        ),
        expression=Expression(worth(design, found, "Q", "Qe") + " + (H - E) * el - I * u - U", symbols),
        letter="S",
        window=Window(0.0, None, "below nothing it costs more than it saves"),
        source=methods(14),
        part="backup",
    )


def _payback_figure(design: Design, symbols: dict[str, Symbol]) -> Figure:
    return closed_form(
        key="payback",
        better=-1,
        name="Pays back in",
        basis=say("without interest"),
        dimension_name="years",
        sentence=say("Price over what it saves a year."),
        expression=Expression("I / S", symbols),
        letter="t",
        window=Window(None, design.money.life_years.value, "how long the system lives, as typed"),
        source=methods(14),
    )


def _price_figure(design: Design, symbols: dict[str, Symbol]) -> Figure:
    money = design.money
    return closed_form(
        key="heat_price",
        better=-1,
        name="Heat saved costs",
        basis=say(
            "{currency} a kWh, {y}", currency=money.currency.value, y=Quantity(money.life_years.value, "years", 0)
        ),
        dimension_name="ratio",
        sentence=say("Price spread over the life, with upkeep and the pump's electricity, over the heat a year saves."),
        expression=Expression("(I * (a + u) + U + (E - H) * el) / Q", symbols),
        letter="p",
        letter_index="solar",
        source=methods(14),
    )


def _carbon_figure(design: Design, symbols: dict[str, Symbol]) -> Figure:
    text = "(Q - Qe) / eta * co2 + Qe * co2e" if design.two_heaters else "Q / eta * co2"
    return closed_form(
        key="carbon",
        better=1,
        name="Carbon not given off",
        basis=say("a year"),
        dimension_name="carbon",
        sentence=say("The fuel the heater would have burnt for the same heat."),
        expression=Expression(text, symbols),
        letter="m",
        source=methods(14),
    )


def _backup_figure(design: Design, year: Year, symbols: dict[str, Symbol], found: Paid) -> Figure:
    backup = {"Q": Symbol(year.backup / KWH, "Q", "backup", "kWh")}
    return closed_form(
        key="year_backup_cost",
        better=-1,
        name="The backup costs",
        basis=say("{currency} a year", currency=design.money.currency.value),
        dimension_name="money",
        part="backup",
        sentence=say("Fuel for the heat that the sun did not bring."),
        expression=Expression(worth(design, found, "Q", "Be"), symbols | backup),
        letter="K",
        source=methods(14),
    )


def _cheap_figure(design: Design, share: float) -> Figure:
    return by_method(
        key="cheap_share",
        better=1,
        name="Heated in cheap hours",
        basis=say("of what electricity heats, by the year"),
        dimension_name="share",
        value=share,
        sentence=say(
            "Electricity costs {c} in the cheap hours and {p} in the others; what it heats, and what the sun saves of it, is paid at "
            "the mean of the two by this share.",
            c=Quantity(design.money.cheap_price.value or 0.0, "price"),
            p=Quantity(_dear(design), "price"),
        ),
        method=say(
            "What the heater gave, hour by hour through the year, {h} of it counted.", h=design.money.cheap_hours.value
        ),
        source=methods(14),
        part="backup",
    )


def _dear(design: Design) -> float:
    money = design.money
    return money.fuel_price.value if design.duty.heater.value == "electric" else money.electricity_price.value


def _no(design: Design, a_year: float, payback: float | None) -> Statement | None:
    """Saying no is a result: what costs more than it saves, or outlives its use. None where it pays."""
    life = design.money.life_years.value
    if a_year <= 0:
        return say("as money it is a no: it costs more than it saves")
    if payback is not None and payback > life:
        return say(
            "as money it is a no: it pays back in {t} and lasts {l}",
            t=Quantity(payback, "years", 0),
            l=Quantity(life, "years", 0),
        )
    return None
