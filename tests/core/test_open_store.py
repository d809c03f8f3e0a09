"""A store open to the air: taps through a coil of their own, and marks by its own shape."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import STORES
from rowan.core.reckon import reckon
from rowan.core.simulation import layers
from rowan.core.simulation.simulate import simulate
from rowan.core.steps.store.taps_coil import comes_out, largest_draw
from rowan.core.studies.choices import with_kind
from rowan.demo.corrim import corrim
from tests.core.designs import altered, proposed

LITRE = 1e-3


class Store:
    """The part of the plant that a draw looks at: twelve nodes of 125 L."""

    def __init__(self, ua: float, tap: float = 45.0) -> None:
        self.store0, self.end, self.last = np.uint64(1), np.uint64(13), np.uint64(12)
        self.tap, self.tap_ua, self.rho_c, self.store_step = tap, ua, 4.18e6, 60.0
        self.node_volume = 0.125
        self.node_capacity = self.node_volume * self.rho_c


def drawn(temperatures: list[float], ua: float, litres: float, cold: float = 10.0) -> tuple[float, float, np.ndarray]:
    """Heat drawn and heat wanted [J], and what is left in the store, of a minute's draw through the coil."""
    # something lies before the store in the row
    store, t, total = Store(ua), np.array([0.0, *temperatures]), np.zeros(30)
    plain: Any = getattr(layers.coil_draw, "py_func", layers.coil_draw)
    plain(store, t, total, litres * LITRE, cold, store.tap)
    return float(total[layers.DRAW]), float(total[layers.DEMAND]), t[1:]


def test_a_coil_by_hand() -> None:
    """2,400 W/K against 9 L/min (627 W/K) of a store at 40 °C: exp(−3.828) = 0.02175 of 30 K is left, 39.35 °C come out."""
    assert comes_out(conductance=2400.0, flow=9e-3 / 60, store=40.0, cold=10.0) == pytest.approx(39.347, abs=1e-3)
    heat, wanted, _ = drawn([40.0] * 12, 2400.0, 9.0)
    assert heat == pytest.approx(9e-3 * 4.18e6 * 29.347, rel=2e-3)
    assert wanted == pytest.approx(9e-3 * 4.18e6 * 35.0)


@given(
    temperatures=st.lists(st.floats(12, 90), min_size=12, max_size=12),
    ua=st.floats(50, 5000),
    litres=st.floats(0.1, 60),
)
def test_what_the_taps_get_the_store_loses(temperatures: list[float], ua: float, litres: float) -> None:
    ordered = sorted(temperatures, reverse=True)
    heat, wanted, left = drawn(ordered, ua, litres)
    assert heat == pytest.approx((sum(ordered) - float(left.sum())) * 0.125 * 4.18e6, rel=1e-9, abs=1e-3)
    # never more than asked, but for what six rounds of tempering leave
    assert 0 < heat <= wanted * 1.01
    assert (left >= 10.0).all()


@given(ua=st.floats(100, 3000))
def test_a_longer_coil_gives_more_and_a_hot_store_is_tempered(ua: float) -> None:
    lukewarm = [drawn([40.0] * 12, size, 9.0)[0] for size in (ua, 2 * ua)]
    assert lukewarm[0] < lukewarm[1]
    heat, wanted, _ = drawn([85.0] * 12, 3000.0, 9.0)
    assert heat == pytest.approx(wanted, rel=0.01)


def with_coil(area: float) -> Design:
    design = corrim()
    return altered(design, store__item=design.store.item.value.model_copy(update={"tap_coil_m2": area}))


def test_the_year_pays_for_a_small_coil() -> None:
    shares = []
    for area in (1.0, 4.0, 16.0):
        design = with_coil(area)
        shares.append(simulate(design, reckon(design)).total("draw"))
    assert shares[0] < shares[1] < shares[2]
    free = with_coil(0.0)
    assert reckon(free).store.taps_conductance == 0
    year = simulate(with_coil(8.0), reckon(with_coil(8.0)))
    assert abs(year.residual) < 1e-3


def test_the_taps_coil_is_told_listed_and_judged() -> None:
    design = corrim()
    result = reckon(design)
    figure = result.figures["taps_coil"]
    cold = min(result.site.monthly_cold_main)
    by_hand = 60 + (cold - 60) * math.exp(-300 * 8.0 / (largest_draw(design) * 4.18e6))
    assert figure.value == pytest.approx(by_hand)
    assert "taps_coil" in {part.key for part in result.parts.parts}
    assert "store_relief" not in {part.key for part in result.parts.parts}, "nothing presses in an open tank"
    small = with_coil(0.5)
    finding = next(f for f in reckon(small).findings if f.key == "taps_coil_small")
    assert finding.level == "fix"
    mended = changed(small, list(finding.cures[0].changes))
    assert "taps_coil_small" not in {f.key for f in reckon(mended).findings}


def test_an_open_store_on_a_sealed_loop_leaves_the_taps_without_a_coil() -> None:
    sealed = altered(with_kind(proposed("aldersund-5-oil"), "sealed"), store__item=STORES["Open store 800"])
    keys = {f.key: f.level for f in reckon(sealed).findings}
    assert keys["taps_coil_missing"] == "stop"
    both = altered(sealed, store__item=STORES["Open store 800"].model_copy(update={"tap_coil_m2": 5.0}))
    assert "taps_coil_missing" not in {f.key for f in reckon(both).findings}
    plain = altered(sealed, store__item=STORES["Store 750 single coil"])
    assert "taps_coil_missing" not in {f.key for f in reckon(plain).findings}


@given(limit=st.floats(40, 90), count=st.integers(2, 30))
def test_cold_at_its_mark_a_store_never_runs_over_hot(limit: float, count: int) -> None:
    design = altered(corrim(), store__maximum_c=limit, collector__count=count, collector__rows=str(1))
    found = reckon(design).draining
    assert found is not None
    levels = found.levels
    assert levels is not None
    across = design.store.item.value.contents_l * LITRE / levels.height
    # at rest and hot: what was cold at the mark has swollen, and the lid is still 30 mm away
    assert levels.rest + levels.swells / across == pytest.approx(levels.height - 0.03)
    # and what comes back is just what the running level lacks
    assert (levels.rest - levels.running) * across == pytest.approx(found.above, rel=5e-3)
    assert found.level == pytest.approx(levels.running - design.store.foot_below_gauge_m.value)


def test_the_mark_is_a_height_under_the_rim() -> None:
    result = reckon(corrim())
    levels = result.draining.levels if result.draining else None
    assert levels is not None
    # 1,500 L at 60 °C swell by 999.7/983.2 − 1 = 1.68 %: of 1.880 m that is 31 mm, and 30 mm stay free
    assert levels.under_rim == pytest.approx(0.061, abs=0.001)
    assert result.figures["rest_mark"].value == pytest.approx(levels.under_rim)
    assert result.figures["running_fall"].value == pytest.approx(levels.rest - levels.running, rel=5e-3)
    steps = {step.key: step for step in result.commission.steps}
    assert "under the rim" in steps["fill"].targets[0].name
