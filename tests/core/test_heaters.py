"""Two heaters and two tariffs: who heats when, by the year's own count, and what that costs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from rowan.core.appraise.heaters import cheap_hours, element_months, heaters_of
from rowan.core.appraise.money import money_of
from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import months_between
from rowan.core.design.relevance import relevant
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.year import Year
from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.steps.store.modes import mode_table
from rowan.core.terms.caution import caution
from rowan.core.terms.units import KWH
from tests.core.designs import altered, plan_b, proposed
from tests.core.thermosiphons import roof_tank

PRICE = 5000.0


def year_of(design: Design) -> Year:
    return simulate(design, reckon(design))


def figures(design: Design, year: Year) -> dict[str, float]:
    return {figure.key: figure.value for figure in money_of(design, year, price=PRICE).figures}


@pytest.mark.parametrize(
    ("first", "last", "count"), [("may", "sep", 5), ("nov", "feb", 4), ("jun", "jun", 1), ("jan", "dec", 12)]
)
def test_months_may_go_over_the_turn_of_the_year(first: str, last: str, count: int) -> None:
    found = months_between(first, last)  # type: ignore[arg-type]
    assert sum(found) == count
    assert len(found) == 12


@pytest.mark.parametrize(
    ("text", "hours"),
    [("22:00-6:00", 8.0), ("22:30-23:15", 0.75), ("always", 24.0), ("0-24", 24.0), ("1-2, 13-15", 3.0)],
)
def test_cheap_hours_are_counted_to_the_minute(text: str, hours: float) -> None:
    assert cheap_hours(text).sum() == pytest.approx(hours)
    assert ((cheap_hours(text) >= 0) & (cheap_hours(text) <= 1)).all()


def test_the_clock_of_the_backup_is_the_backup_of_the_year() -> None:
    for design in (plan_b(), proposed("maravel-5-electric"), altered(plan_b(), store__backup="instant")):
        year = year_of(design)
        assert year.backup_clock.sum() == pytest.approx(year.backup, rel=1e-3)
        assert year.backup_clock.sum(axis=1) == pytest.approx(year.backup_months, rel=1e-2, abs=KWH)
        assert year.saved_months.sum() == pytest.approx(year.saved)


def test_a_heater_that_may_heat_in_its_window_alone_heats_then() -> None:
    clock = year_of(altered(plan_b(), store__backup_hours="4:00-7:00")).clock[0].sum(axis=0)
    assert clock[4:7].sum() == pytest.approx(clock.sum(), rel=1e-6)
    assert clock.sum() > 0


def test_an_element_in_summer_leaves_the_boiler_its_winter() -> None:
    design = altered(plan_b(), store__summer_element=True)
    year = year_of(design)
    months = element_months(design)
    assert list(months) == [0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0]
    found = heaters_of(design, year)
    assert 0 < found.saved_element < year.saved
    assert found.backup_element == pytest.approx(float(year.backup_months[4:9].sum()))
    money = design.money
    fuel, power = money.fuel_price.value / money.heater_efficiency.value, money.electricity_price.value
    by_hand = (year.backup - found.backup_element) / KWH * fuel + found.backup_element / KWH * power
    assert figures(design, year)["year_backup_cost"] == pytest.approx(by_hand)
    difference = found.saved_element / KWH * (power - fuel)
    assert figures(design, year)["saved"] - figures(plan_b(), year)["saved"] == pytest.approx(difference)


def test_an_element_at_the_boiler_s_price_changes_no_money() -> None:
    fuel = plan_b().money.fuel_price.value / plan_b().money.heater_efficiency.value
    same = altered(plan_b(), money__electricity_price=fuel)
    both, one = altered(same, store__summer_element=True), same
    assert figures(both, year_of(both))["saved"] == pytest.approx(figures(one, year_of(one))["saved"])


def test_carbon_follows_who_burns_what() -> None:
    design = altered(plan_b(), store__summer_element=True, money__electricity_kg_co2_kwh=0.0)
    year = year_of(design)
    found = heaters_of(design, year)
    money = design.money
    winter = (year.saved - found.saved_element) / KWH / money.heater_efficiency.value * money.fuel_kg_co2_kwh.value
    assert figures(design, year)["carbon"] == pytest.approx(winter)


def test_a_cheap_tariff_is_paid_in_its_hours_alone() -> None:
    electric = altered(proposed("maravel-5-electric"), money__cheap_price=0.10, money__cheap_hours="0-24")
    year = year_of(electric)
    dear = altered(electric, money__cheap_price=None)
    assert figures(electric, year)["cheap_share"] == pytest.approx(1.0)
    ratio = figures(electric, year)["year_backup_cost"] / figures(dear, year)["year_backup_cost"]
    assert ratio == pytest.approx(0.10 / dear.money.fuel_price.value)
    assert "cheap_share" not in figures(dear, year)
    night = altered(electric, money__cheap_hours="22:00-6:00")
    costs = [figures(one, year)["year_backup_cost"] for one in (electric, night, dear)]
    assert costs[0] < costs[1] < costs[2]


def test_heating_at_night_earns_the_night_s_price() -> None:
    base = altered(proposed("maravel-5-electric"), money__cheap_price=0.10, money__cheap_hours="22:00-6:00")
    night = altered(base, store__backup_hours="22:00-6:00")
    assert figures(night, year_of(night))["cheap_share"] == pytest.approx(1.0, abs=1e-6)
    assert figures(base, year_of(base))["cheap_share"] < 0.9


def test_a_year_without_hours_has_no_cheap_share_to_claim() -> None:
    design = altered(proposed("maravel-5-electric"), money__cheap_price=0.10)
    bare = replace(year_of(design), clock=np.zeros((2, 12, 24)))
    assert heaters_of(design, bare).cheap == 0.0


def test_second_heater_and_tariff_are_asked_where_they_are() -> None:
    boiler, electric = plan_b(), proposed("maravel-5-electric")
    assert relevant(boiler, "store.summer_element")
    assert not relevant(electric, "store.summer_element")
    assert not relevant(boiler, "store.summer_from")
    assert not relevant(boiler, "money.cheap_price")
    assert relevant(electric, "money.cheap_price")
    assert not relevant(electric, "money.cheap_hours")
    both = altered(boiler, store__summer_element=True, money__cheap_price=0.1)
    assert all(relevant(both, path) for path in ("store.summer_from", "money.cheap_price", "money.cheap_hours"))


def test_an_element_in_summer_brings_the_mains_to_a_loop_without_a_pump() -> None:
    roof = altered(roof_tank(), store__backup="coil")
    mains = caution("mains")
    assert mains not in bench_cautions(roof, "control")
    assert mains in bench_cautions(altered(roof, store__summer_element=True), "control")


def test_the_mode_of_summer_says_who_heats_and_the_list_has_the_element() -> None:
    row = next(
        r for r in mode_table("one", heater="boiler", relief_free=True, summer="element") if "summer" in r.mode.name
    )
    assert row.mode.name == "summer, boiler off"
    assert list(row.mode.heaters.values()) == ["sun and element"]
    keys = {part.key for part in reckon(altered(plan_b(), store__summer_element=True)).parts.parts}
    assert "summer_element" in keys
    assert "summer_element" not in {part.key for part in reckon(plan_b()).parts.parts}
