"""What heat from elsewhere costs, where not one heater at one price gives all of it.

In summer an element may take over from the boiler, and electricity may be cheaper at some hours. How much of the backup falls
into those months and hours is the simulated year's own count; what the sun saves in a month is saved of the heater that month
has, at the mean price its backup pays. Source: methods 14.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import months_between
from rowan.core.simulation.draws import hour_shares
from rowan.core.simulation.year import Year
from rowan.core.terms.expression import Symbol
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH

Array = NDArray[np.float64]


@record
class Paid:
    """A year's heat by who gives it [J]: saved and backup of the element's months; `cheap` is the share of what is heated by
    electricity that falls into cheap hours [-], None where there is one price."""

    saved_element: float
    backup_element: float
    cheap: float | None


def cheap_hours(text: str) -> Array:
    """How much of each hour of the day lies in the cheap hours, shape (24,) [-]."""
    return np.asarray(hour_shares(text).reshape(24, 60).mean(axis=1), dtype=float)


def element_months(design: Design) -> Array:
    """1 in the months in which the element heats and the boiler rests, shape (12,)."""
    if not design.two_heaters:
        return np.zeros(12)
    store = design.store
    return np.array(months_between(store.summer_from.value, store.summer_to.value), dtype=float)


def heaters_of(design: Design, year: Year) -> Paid:
    """Who gives a year's heat, and how much of the electric part falls into cheap hours."""
    months = element_months(design)
    electric = np.ones(12) if design.duty.heater.value == "electric" else months
    cheap = None
    if design.money.cheap_price.value is not None and electric.any():
        clock = year.backup_clock * electric[:, None]
        whole = float(clock.sum())
        cheap = float((clock * cheap_hours(design.money.cheap_hours.value)).sum()) / whole if whole > 0 else 0.0
    return Paid(float((year.saved_months * months).sum()), float((year.backup_months * months).sum()), cheap)


def worth(design: Design, found: Paid, heat: str, element: str) -> str:
    """The formula of what heat costs: `heat` and `element` name the symbols of all of it and of the element's."""
    main = "price"
    other = "el"
    if found.cheap is not None:
        other = "(c * pc + (1 - c) * el)"
        if design.duty.heater.value == "electric":
            main = "(c * pc + (1 - c) * price)"
    if not design.two_heaters:
        return f"{heat} * {main} / eta"
    return f"(({heat} - {element}) * {main} / eta + {element} * {other})"


def heater_symbols(design: Design, found: Paid) -> dict[str, Symbol]:
    """The letters that only a house with two heaters or two tariffs has."""
    symbols: dict[str, Symbol] = {}
    if design.two_heaters:
        symbols["Qe"] = Symbol(found.saved_element / KWH, "Q", "element", "kWh")
        symbols["Be"] = Symbol(found.backup_element / KWH, "Q", "element", "kWh")
        symbols["co2e"] = Symbol(design.money.electricity_kg_co2_kwh.value, "k", "el", "kg/kWh")
    if found.cheap is not None:
        symbols["c"] = Symbol(found.cheap, "c", "cheap")
        symbols["pc"] = Symbol(design.money.cheap_price.value or 0.0, "p", "cheap")
    return symbols
