"""What a list costs: every line has a price, and the system follows what is on it until somebody offers it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.appraisal import appraised
from rowan.core.goods.catalogue import COLLECTORS, PIPES, STORES
from rowan.core.reckon import reckon
from rowan.core.steps.parts.pricing import PIECE, UNPRICED, goods_price, piece_price, work_hours
from rowan.core.studies.choices import with_collector, with_kind
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_b
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, proposed
from tests.core.thermosiphons import roof_tank

PLANS = {
    "sealed": lambda: proposed("aldersund-5-oil"),
    "direct": lambda: proposed("maravel-8-gas"),
    "drainback": corrim,
    "pool": pipwater,
    "slab": lambda: altered(proposed("aldersund-5-oil"), duty__kind="slab"),
    "bath": lambda: altered(proposed("aldersund-5-oil"), duty__kind="bath"),
    "roof tank": roof_tank,
}


@pytest.mark.parametrize("name", PLANS)
def test_the_system_costs_its_list_and_its_hours(name: str) -> None:
    design = altered(PLANS[name](), money__system_price=None)
    result = reckon(design)
    parts = result.parts.parts
    by_hand = sum(piece_price(design, part) * part.quantity.value for part in parts)
    assert result.figures["goods_price"].value == pytest.approx(by_hand)
    work = work_hours(design, result.run) * design.money.hour_price.value
    assert result.parts.price == result.figures["system_price"].value == pytest.approx(by_hand + work)


@pytest.mark.parametrize("name", PLANS)
def test_no_line_is_priced_by_the_way(name: str) -> None:
    design = PLANS[name]()
    assert [p.key for p in reckon(design).parts.parts if piece_price(design, p) == UNPRICED] == []
    assert all(price > 0 for price in PIECE.values())


def test_some_prices_by_hand() -> None:
    design = proposed("aldersund-5-oil")
    parts = {part.key: part for part in reckon(design).parts.parts}
    # a tank of 300 L: 300 + 3.2 × 300; five metres of 18 mm copper at 0.3 a mm and metre; a vessel of 18 L: 40 + 2.2 × 18
    assert piece_price(design, parts["store"]) == pytest.approx(1260.0)
    assert piece_price(design, parts["pipe"]) == pytest.approx(0.3 * 18 * 5)
    vessel = 40 + 2.2 * design.charge.vessel_l.value
    assert piece_price(design, parts["vessel"]) == pytest.approx(vessel)
    glazed = goods_price(design, [parts["starter_packs"]])
    mats = altered(design, collector__item=COLLECTORS["Mat unglazed"])
    assert goods_price(mats, [parts["starter_packs"]]) == pytest.approx(glazed / 4)


@pytest.mark.parametrize(
    "change",
    [
        {"store__item": STORES["Store 500 twin coil"]},
        {"run__pipe": PIPES["Copper 28 × 1"]},
        {"money__hour_price": 80.0},
    ],
    ids=["a larger tank", "a wider pipe", "a dearer hour"],
)
def test_what_is_dearer_makes_the_system_dearer(change: dict[str, object]) -> None:
    design = proposed("aldersund-5-oil")
    assert reckon(altered(design, **change)).parts.price > reckon(design).parts.price + 100


def test_an_offer_takes_the_place_of_the_list() -> None:
    offered = altered(proposed("aldersund-5-oil"), money__system_price=7777.0)
    result = reckon(offered)
    assert result.parts.price == 7777.0
    assert result.figures["system_price"].value == 7777.0
    assert reckon(kvist_plan_b()).parts.price == kvist_plan_b().money.system_price.value


@given(more=st.integers(1, 6))
def test_a_field_that_is_no_use_does_not_pay_back_sooner(more: int) -> None:
    """Every further collector costs goods and hours."""
    design = proposed("aldersund-5-oil")
    count = design.collector.count.value
    prices = [reckon(altered(design, collector__count=n)).parts.price for n in (count, count + more)]
    assert prices[1] - prices[0] > more * design.collector.item.value.price


def test_money_is_reckoned_with_the_price_that_is_shown() -> None:
    design = proposed("aldersund-5-oil")
    result = reckon(design)
    money = appraised(design, result).money
    assert money is not None
    assert money.payback_years == pytest.approx(result.figures["system_price"].value / money.a_year)


def test_kinds_and_candidates_differ_by_what_is_on_their_lists() -> None:
    design = proposed("maravel-8-gas")
    prices = {kind: reckon(with_kind(design, kind)).parts.price for kind in ("sealed", "direct", "thermosiphon")}
    assert prices["sealed"] > prices["direct"], "station, vessel and glycol"
    tubes = with_collector(design, COLLECTORS["Tube 20 heat pipe"])
    assert reckon(tubes).parts.price > reckon(design).parts.price
