"""What needs the plan and its year: money, hygiene, the one truth about heat."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.appraisal import all_figures, all_findings, appraise, appraised, by_day
from rowan.core.appraise.hygiene import MOST_DAYS, days_without, hygiene
from rowan.core.appraise.money import electricity, money_of
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.simulation.kernel import SUMS
from rowan.core.simulation.simulate import kept_year, simulate
from rowan.core.simulation.year import Year
from rowan.core.terms.calendar import DAYS, HOURS
from rowan.core.terms.finding import Finding
from rowan.core.terms.units import KWH
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered, plan_a, plan_b, proposed

PRICE = 5000.0


def year_with(saved_kwh: float, *, electric_kwh: float = 0.0, backup_kwh: float = 0.0) -> Year:
    """A year in which a house draws what the sun saves and the backup gives, and nothing else happens."""
    daily = np.zeros((DAYS, len(SUMS)))
    daily[0, SUMS.index("demand")] = (saved_kwh + backup_kwh) * KWH
    daily[0, SUMS.index("draw")] = daily[0, SUMS.index("demand")]
    daily[0, SUMS.index("backup")] = backup_kwh * KWH
    daily[0, SUMS.index("electric")] = electric_kwh * KWH
    return Year(daily, 100.0, 60.0, 0.0, 1200.0, traced=np.full((HOURS, 8), 60.0, np.float32))


def priced(**more: float) -> Design:
    """Plan B at round prices: 5,000 over 20 years without interest, 1 % upkeep, fuel at 0.2 and a heater of a half."""
    item = plan_b().collector.item.value.model_copy(update={"upkeep_a_year": 0.0})
    prices = {"system_price": PRICE, "life_years": 20.0, "discount": 0.0, "upkeep_share": 0.01, "fuel_price": 0.2}
    prices |= {"heater_efficiency": 0.5, "electricity_price": 0.5, "fuel_kg_co2_kwh": 0.3} | more
    return altered(plan_b(), collector__item=item, **{f"money__{key}": value for key, value in prices.items()})


def test_money_by_hand() -> None:
    """1,000 kWh at 0.2/0.5 are 400; 20 kWh of the pump at 0.5 and 50 of upkeep leave 340; (250 + 50 + 10)/1,000 a kWh."""
    money = money_of(priced(), year_with(1000.0, electric_kwh=20.0), price=PRICE)
    assert money.a_year == pytest.approx(340.0)
    assert money.per_kwh == pytest.approx(0.31)
    assert money.payback_years == pytest.approx(5000 / 340)
    figures = {figure.key: figure for figure in money.figures}
    assert figures["carbon"].value == pytest.approx(600.0)
    assert {key: figures[key].value for key in ("saved", "heat_price", "payback")} == {
        "saved": money.a_year,
        "heat_price": money.per_kwh,
        "payback": money.payback_years,
    }


def test_the_backup_is_paid_for() -> None:
    money = money_of(priced(), year_with(1000.0, backup_kwh=300.0), price=PRICE)
    assert next(f for f in money.figures if f.key == "year_backup_cost").value == pytest.approx(300 / 0.5 * 0.2)


@given(saved=st.floats(100, 5000), dearer=st.floats(1.01, 5))
def test_dearer_fuel_saves_more_and_pays_back_sooner(saved: float, dearer: float) -> None:
    cheap, dear = (money_of(priced(fuel_price=p), year_with(saved), price=PRICE) for p in (0.2, 0.2 * dearer))
    assert dear.a_year > cheap.a_year
    assert dear.per_kwh == pytest.approx(cheap.per_kwh), "what heat costs has nothing to do with what fuel costs"
    if cheap.payback_years is not None:
        assert dear.payback_years is not None
        assert dear.payback_years < cheap.payback_years


def test_a_hybrid_s_electricity_is_credited() -> None:
    item = priced().collector.item.value.model_copy(update={"electric_w": 300.0, "electric_change_per_k": -0.004})
    hybrid = altered(priced(), collector__item=item)
    year = year_with(1000.0)
    made = electricity(hybrid, year) / KWH
    # 300 W each by 1,200 h of full sun, less 0.4 % for each kelvin over 25 °C
    kelvins = hybrid.collector.working_c.value - 25.0
    assert made == pytest.approx(hybrid.collector.count.value * 0.3 * 1200 * (1 - 0.004 * kelvins))
    assert money_of(hybrid, year, price=PRICE).a_year == pytest.approx(
        money_of(priced(), year, price=PRICE).a_year + made * 0.5
    )


def keys(findings: tuple[Finding, ...]) -> set[str]:
    """The keys of findings."""
    return {finding.key for finding in findings}


@pytest.mark.parametrize(
    ("saved", "wanted"),
    [
        (100.0, "as money it is a no: it costs more than it saves"),
        (500.0, "as money it is a no: it pays back in 33 years and lasts 20 years"),
        (3000.0, None),
    ],
)
def test_saying_no_is_a_result(saved: float, wanted: str | None) -> None:
    """500 kWh at 0.4 less 50 of upkeep are 150 a year: 5,000 take 33 years."""
    money = money_of(priced(), year_with(saved), price=PRICE)
    said = None if money.no is None else money.no.text().replace("\N{NO-BREAK SPACE}", " ")
    assert said == wanted
    assert all(f.inside for f in money.figures if f.key in ("saved", "payback")) is (wanted is None)


def test_hunting_is_in_the_account_of_a_day() -> None:
    restless = altered(plan_a(), control__stop_k=5.0)
    account = by_day(restless, reckon(restless))
    assert "hunting" in keys(account.findings)
    assert account.figures == reckon(restless).figures


def test_what_never_pays_back_shows_no_years() -> None:
    figures = {f.key: f for f in money_of(priced(), year_with(100.0), price=PRICE).figures}
    assert figures["saved"].value < 0
    assert "payback" not in figures


@pytest.mark.parametrize("design", [plan_a(), plan_b(), sandreef(), proposed("aldersund-1-gas")])
def test_the_year_s_figures_are_the_year_s(design: Design) -> None:
    year = simulate(design, reckon(design))
    figures = {figure.key: figure for figure in appraise(design, reckon(design), year).figures}
    assert figures["year_fraction"].value == pytest.approx(year.solar_fraction, rel=1e-6)
    assert figures["year_solar"].value == year.solar_heat
    assert figures["year_stands"].value == year.total("stagnation_time")


def test_without_a_year_there_is_no_heat_and_no_money() -> None:
    crossed = altered(plan_b(), control__start_k=4.0, control__stop_k=6.0)
    found = appraised(crossed, reckon(crossed))
    assert (found.year, found.money, found.figures) == (None, None, ())
    assert set(all_figures(reckon(crossed), found)) == set(reckon(crossed).figures)


def test_a_year_is_kept_by_what_it_depends_on() -> None:
    design = altered(plan_b(), store__maximum_c=71.25)
    assert kept_year(design, reckon(design)) is None
    year = simulate(design, reckon(design))
    assert kept_year(design, reckon(design)) is year
    dearer = altered(design, money__fuel_price=0.33)
    assert kept_year(dearer, reckon(dearer)) is year, "a price moves no heat"


# hygiene


def traced(hot_days: set[int], drawn: bool = True) -> Year:
    """A year whose store's top is at 60 °C for an hour on some days, else at 50."""
    year = year_with(1000.0)
    top = np.full(HOURS, 50.0, np.float32)
    for day in hot_days:
        top[24 * day + 12] = 60.0
    daily = year.daily.copy()
    daily[:, SUMS.index("demand")] = KWH if drawn else 0.0
    return replace(year, daily=daily, traced=np.stack([top] * 8, axis=1))


@given(gap=st.integers(1, 40), first=st.integers(0, 300))
def test_days_without_heat_are_the_longest_stretch(gap: int, first: int) -> None:
    hot = set(range(DAYS)) - set(range(first, first + gap))
    assert days_without(traced(hot), 0, 60.0) == gap
    assert days_without(traced(hot, drawn=False), 0, 60.0) == 0, "nobody drinks what nobody draws"


def test_a_backup_that_never_heats_through_is_found() -> None:
    weekly = traced(set(range(0, DAYS, MOST_DAYS + 1)))
    seldom = traced(set(range(0, DAYS, MOST_DAYS + 2)))
    design = altered(plan_b(), store__hygiene="backup", store__backup="coil")
    assert hygiene(design, weekly) == ()
    found = hygiene(design, seldom)
    assert [f.level for f in found] == ["fix"]
    assert hygiene(altered(design, store__hygiene="weekly"), seldom) == ()


@pytest.mark.parametrize("low", [{"store__backup_c": 50.0}, {"store__backup_hours": "11:00-11:10"}])
def test_a_low_or_shut_backup_is_found_and_each_cure_ends_it(low: dict[str, object]) -> None:
    design = altered(plan_b(), store__hygiene="backup", store__backup="coil", **low)
    found = next(f for f in appraised(design, reckon(design)).findings if f.key == "hygiene_not_reached")
    assert found.cures
    for cure in found.cures:
        tried = changed(design, cure.changes)
        assert "hygiene_not_reached" not in keys(appraised(tried, reckon(tried)).findings), cure.label.text()


def test_the_usual_house_is_clean() -> None:
    for design in (plan_a(), plan_b(), proposed("aldersund-1-gas")):
        assert "hygiene_not_reached" not in keys(appraised(design, reckon(design)).findings)


def test_findings_of_plan_and_year_stand_in_one_order() -> None:
    design = altered(plan_a(), store__backup_c=45.0)
    found = all_findings(reckon(design), appraised(design, reckon(design)))
    levels = [("stop", "fix", "mind").index(f.level) for f in found]
    assert levels == sorted(levels)
    assert "hygiene_not_reached" in keys(found)


def test_what_calms_a_pump_is_tried_only_for_whoever_asks() -> None:
    restless = altered(plan_a(), control__stop_k=5.0)
    result = reckon(restless)
    asked, quick = (
        next(f for f in appraise(restless, result, None, cures=cures).findings if f.key == "hunting")
        for cures in (True, False)
    )
    assert asked.cures
    assert quick.cures == ()
    assert (asked.level, asked.reason) == (quick.level, quick.reason)
