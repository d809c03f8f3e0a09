"""One store for the taps and for the house: two draws, each with its own warm and its own way back."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import asked
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import STORES
from rowan.core.reckon import reckon
from rowan.core.simulation.draws import PER_M3_K, draws_of, heating_power
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.simulation.year import Year
from rowan.demo.corrim import corrim
from tests.core.designs import altered, proposed

KWH = 3.6e6


def house(**changes: Any) -> Design:
    """Five people and their house on 750 L under six collectors."""
    plan = altered(proposed("aldersund-5-oil"), collector__count=6, store__item=STORES["Store 750 twin coil"])
    heated: dict[str, Any] = {"duty__also_heats": True, "duty__supply_c": 40.0, "duty__supply_return_c": 32.0}
    return altered(plan, **heated | changes)


def year_of(design: Design) -> Year:
    return simulate(design, reckon(design))


def test_both_are_wanted_and_both_are_given() -> None:
    taps, both = year_of(house(duty__also_heats=False)), year_of(house())
    weather = sky_of(house()).weather
    asked_for = float(heating_power(house(), weather).sum()) * 86400
    assert both.total("demand") - taps.total("demand") == pytest.approx(asked_for, rel=1e-6)
    # the boiler's coil keeps the top warm enough for a floor at 40 °C: nothing worth naming is missing
    assert both.total("draw") == pytest.approx(both.total("demand"), rel=2e-3)
    assert both.solar_heat > taps.solar_heat, "colder water comes back to the foot"
    assert both.solar_fraction < taps.solar_fraction
    assert abs(both.residual) < 1e-3


def test_without_it_nothing_is_changed() -> None:
    plain = proposed("aldersund-5-oil")
    assert draws_of(plain, sky_of(plain).weather).zone is None
    idle = year_of(altered(plain, duty__house_loss_w_k=900.0))
    assert np.array_equal(idle.daily, year_of(plain).daily)


def test_the_house_takes_the_water_that_carries_its_loss() -> None:
    design = house()
    draws, weather = draws_of(design, sky_of(design).weather), sky_of(design).weather
    assert draws.zone is not None
    assert (draws.zone_c, draws.zone_back) == (40.0, 32.0)
    assert np.allclose(draws.zone * PER_M3_K * 8.0, heating_power(design, weather) * 86400)
    summer = draws.zone[170:230]
    assert summer.sum() < 0.1 * draws.zone[:60].sum()


@settings(max_examples=6)
@given(loss=st.floats(20, 600), spread=st.floats(4, 15))
def test_a_house_that_loses_more_gets_a_smaller_share_from_the_sun(loss: float, spread: float) -> None:
    low, high = (
        year_of(house(duty__house_loss_w_k=watts, duty__supply_return_c=40.0 - spread)) for watts in (loss, 2 * loss)
    )
    assert high.solar_fraction < low.solar_fraction + 1e-9
    assert high.total("demand") > low.total("demand")
    assert abs(high.residual) < 1e-3


def test_an_open_store_warms_both_in_its_coil() -> None:
    hostel = altered(
        corrim(), duty__also_heats=True, duty__house_loss_w_k=120.0, duty__supply_c=35.0, duty__supply_return_c=28.0
    )
    taps, both = year_of(corrim()), year_of(hostel)
    assert both.total("draw") > taps.total("draw")
    assert abs(both.residual) < 1e-3


def test_it_is_told_asked_and_not_estimated() -> None:
    result = reckon(house())
    assert result.figures["house_heat"].value == pytest.approx(
        150
        * 86400
        * sum(
            max(15.0 - air, 0.0) * days
            for air, days in zip(result.site.monthly_air, (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31), strict=True)
        ),
        rel=0.35,
    )
    assert result.collector.year_heat is None, "the correlation is made for hot water"
    assert result.collector.unchecked is not None
    paths = {found.path for found in asked(house())}
    assert "duty.house_loss_w_k" in paths
    assert "duty.house_loss_w_k" not in {found.path for found in asked(proposed("aldersund-5-oil"))}
