"""Parts: counted from the plan, cut from stock lengths."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import PIPES
from rowan.core.reckon import reckon
from rowan.core.steps.parts.counting import MERCHANTS, PLACES, Part
from rowan.core.steps.parts.cutting import Piece, cut
from rowan.core.steps.roof.layout import row_count
from rowan.core.terms.errors import OutOfRangeError
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed

LENGTHS = st.lists(st.floats(0.01, 40), min_size=1, max_size=30)


def parts_of(design: Design) -> dict[str, Part]:
    return {part.key: part for part in reckon(design).parts.parts}


@given(lengths=LENGTHS, stock=st.floats(0.5, 25))
def test_cutting_uses_every_leg_once_and_no_bar_twice(lengths: list[float], stock: float) -> None:
    pieces = [Piece(str(i), length) for i, length in enumerate(lengths)]
    cutting = cut(pieces, stock_length=stock)
    assert cutting.used == pytest.approx(sum(lengths), abs=1e-4)
    for bar in cutting.bars:
        assert sum(piece.length for piece in bar.pieces) <= stock + 1e-4
    for i, length in enumerate(lengths):
        cut_of = [piece.length for bar in cutting.bars for piece in bar.pieces if piece.name == str(i)]
        assert sum(cut_of) == pytest.approx(length, abs=1e-5)
    assert len(cutting.bars) >= math.floor(sum(lengths) / stock)


@given(lengths=LENGTHS)
def test_longer_stock_never_needs_more_couplings(lengths: list[float]) -> None:
    pieces = [Piece(str(i), length) for i, length in enumerate(lengths)]
    assert cut(pieces, stock_length=6).couplings <= cut(pieces, stock_length=3).couplings


def test_a_hand_made_cutting() -> None:
    # 4 + 1, 3 + 2 and 7 = 5 + 2: three bars of 5 and one for the last rest
    cutting = cut([Piece(str(n), n) for n in (4, 3, 7, 2, 1)], stock_length=5)
    assert sorted(round(bar.offcut, 6) for bar in cutting.bars) == [0, 0, 0, 3]
    assert cutting.couplings == 1


def test_a_stock_length_of_nothing_is_refused() -> None:
    with pytest.raises(OutOfRangeError, match="stock length"):
        cut([Piece("a", 1)], stock_length=0)
    with pytest.raises(OutOfRangeError):
        row_count(roof_width=6, collector_width=0)


@pytest.mark.parametrize("key", EIGHT_FACTS)
def test_every_line_says_what_how_much_who_and_where(key: str) -> None:
    for part in reckon(proposed(key)).parts.parts:
        assert part.quantity.value > 0, part.key
        assert part.merchant in MERCHANTS
        assert part.place in PLACES
        for units in ("metric", "us"):
            words = part.name.text(units) + part.because.text(units)  # type: ignore[arg-type]
            assert "{" not in words
            assert len(part.because.text()) > 3


def test_a_row_takes_one_starter_and_the_rest_add_on_packs() -> None:
    four = parts_of(altered(plan_b(), collector__count=4, survey__roof_width_m=8.4))
    assert [four[key].quantity.value for key in ("starter_packs", "addon_packs", "links", "plugs")] == [1, 3, 6, 2]
    narrow = parts_of(altered(plan_b(), collector__count=4, collector__rows="2 + 2"))
    assert [narrow[key].quantity.value for key in ("starter_packs", "addon_packs", "links", "plugs")] == [2, 2, 4, 4]


def test_lagging_follows_the_legs_by_place() -> None:
    parts = parts_of(plan_b())
    lagged = sum(part.quantity.value for key, part in parts.items() if key.startswith("lagging_"))
    assert lagged == pytest.approx(1.1 * reckon(plan_b()).run.route.length)
    assert "jacket" in parts["lagging_roof"].name.text()
    assert "jacket" not in parts["lagging_attic"].name.text()
    assert not any(key.startswith("lagging_") for key in parts_of(altered(plan_b(), run__insulation_m=0.0)))


def test_glycol_by_the_can_pure_or_mixed() -> None:
    mixed = parts_of(plan_b())["fluid"].quantity.value
    pure = parts_of(altered(plan_b(), parts__fluid_sold="concentrate"))
    charge = reckon(plan_b()).charge
    assert mixed == math.ceil(charge.prepare / 0.010)
    # mixed on site it is made stronger by the water that stays in the loop
    strong = 0.4 * charge.contents.total / (charge.contents.total - 2e-3)
    assert pure["fluid"].quantity.value == math.ceil(strong * charge.prepare / 0.010)
    assert pure["water"].quantity.value == pytest.approx((1 - strong) * charge.prepare)


def test_what_is_not_planned_is_not_bought() -> None:
    plain = altered(plan_b(), run__non_return=False, store__tempering_valve=False, run__pipe=PIPES["Corrugated DN 16"])
    parts = parts_of(plain)
    assert not {"non_return", "tempering", "bends"} & set(parts)
    direct = parts_of(proposed("maravel-8-gas"))
    assert not {"vessel", "fluid", "filling_station", "station"} & set(direct)


def test_a_longer_route_needs_more() -> None:
    before, after = parts_of(plan_a()), parts_of(altered(plan_a(), run__cold__c3__length_m=14.5))
    for key in ("pipe", "lagging_plant room", "clips_plant room"):
        assert after[key].quantity.value > before[key].quantity.value
