"""The year's sums as figures with their why: heat into the store, share, backup, how field and pump fare. Source: methods 5, 18."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.design.own_store import NAMES, own_store_of
from rowan.core.simulation.year import Year
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH

METHOD = "Minute by minute through {w}; the balance of energy closes to {r}."


def heat_figures(design: Design, year: Year) -> tuple[Figure, ...]:
    """Heat, solar fraction, backup, how the field and the pump fare."""
    return (*_heat(design, year), *_field(year))


def _how(year: Year) -> tuple[str, dict[str, Quantity | str]]:
    return METHOD, {"w": year.weather or "its weather", "r": Quantity(max(year.residual, 1e-12), "share_fine", 6)}


def _heat(design: Design, year: Year) -> tuple[Figure, ...]:
    words, put_in = _how(year)
    own = year.own_need
    body = own_store_of(design)
    need = year.total("demand") + year.kept_warm_loss + year.after.standing if own is None else float(own.sum())
    return (
        by_method(
            key="year_solar",
            better=1,
            name="Sun into the store",
            basis=say("a year, run through"),
            value=year.solar_heat,
            dimension_name="energy",
            part="store",
            sentence=say(
                "All heat that came into the store from the field, over the year, losses of the store not taken off."
            ),
            method=say(words, **put_in),
            source=methods(18),
        ),
        closed_form(
            key="year_fraction",
            better=1,
            name="Solar fraction",
            basis=say("with the store's losses")
            if body is None
            else say("of the {store}'s need", store=NAMES[body.kind]),
            dimension_name="share",
            part="store",
            sentence=say(
                "What the house saves against itself without the sun, which would also have to keep its store warm."
            )
            if body is None
            else say("The part of the {store}'s need that the sun brings, month by month.", store=NAMES[body.kind]),
            expression=Expression(
                "S / N",
                {
                    "S": Symbol(year.saved / KWH, "Q", "saved", "kWh"),
                    "N": Symbol(max(need, 1.0) / KWH, "Q", "without sun", "kWh"),
                },
            ),
            letter="f",
            source=methods(5),
        ),
        by_method(
            key="year_backup",
            better=-1,
            name="From the backup",
            basis=say("a year" if design.store.backup.value != "none" else "there is none"),
            value=year.backup,
            dimension_name="energy",
            part="backup",
            sentence=say("Heat that something else than the sun had to bring, keeping its own store warm counted in."),
            method=say(words, **put_in),
            source=methods(18),
        ),
    )


def _field(year: Year) -> tuple[Figure, ...]:
    words, put_in = _how(year)
    return (
        by_method(
            key="year_stands",
            better=-1,
            name="Field stands hot",
            basis=say("a year, pump off; up to {t}", t=Quantity(year.highest_collector, "temperature")),
            value=year.total("stagnation_time"),
            dimension_name="hours",
            part="collector",
            sentence=say(
                "Hours with the pump off and the hottest part of the field at {t} or more.",
                t=Quantity(120.0, "temperature"),
            ),
            method=say(words, **put_in),
            source=methods(6),
        ),
        by_method(
            key="year_pump",
            name="Pump runs",
            basis=say("a year; {n} starts on a day with any", n=Quantity(year.starts_per_day, "count", 0)),
            value=year.total("pump_time"),
            dimension_name="hours",
            part="pump",
            sentence=say("How long something flows through the field, and how often it begins to."),
            method=say(words, **put_in),
            source=methods(7),
        ),
    )
