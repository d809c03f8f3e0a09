"""A floor slab and a process bath that are their own store: mass, swing and losses in place of a tank's litres."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.own_store import contents_of, exchanger_of, own_store_of
from rowan.core.reckon import reckon
from rowan.core.simulation.draws import heating_power, working_days
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.simulation.year import Year
from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.studies.loop_kinds import objections
from rowan.core.terms.units import KWH
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_a, proposed


def slab(**values: object) -> Design:
    """A house on a slab that the sun warms."""
    return altered(plan_a(), **{"duty__kind": "slab", "duty__house_loss_w_k": 160.0, **values})


def bath(**values: object) -> Design:
    """A workshop's bath at 55 °C."""
    return altered(plan_a(), **{"duty__kind": "bath", "duty__process_w": 1500.0, **values})


def year_of(design: Design) -> Year:
    """The year of a plan."""
    return simulate(design, reckon(design))


def found(design: Design) -> dict[str, str]:
    """Findings of a plan by key, with their level."""
    return {finding.key: finding.level for finding in reckon(design).findings}


def test_a_slab_stands_for_the_water_that_holds_as_much() -> None:
    own = own_store_of(slab())
    assert own is not None
    # 60 m² of 120 mm at 2,300 kg/m³ and 1,000 J/kgK: 16.56 MJ/K
    assert own.volume * 1000 * 4180 == pytest.approx(16.56e6)
    figures = reckon(slab()).figures
    assert figures["own_swing"].value == pytest.approx(16.56e6 * 4)
    assert figures["own_ua"].value == pytest.approx(8.0 * 60)
    assert contents_of(slab()) == own.volume
    assert contents_of(plan_a()) == pytest.approx(plan_a().store.item.value.contents_l / 1000)


def test_the_floor_pipe_and_the_bath_s_coil_belong_to_the_loop() -> None:
    # four circuits of 80 m: 480 L/h at 12 kPa, and 0.57 L in each m²
    through = exchanger_of(slab())
    assert through.drop_l_h_pa == (480.0, 12_000.0)
    assert through.contents_l == pytest.approx(34.2)
    without = reckon(plan_a()).charge.contents.total * 1e3 - plan_a().store.item.value.coil_contents_l
    assert reckon(slab()).charge.contents.total * 1e3 == pytest.approx(without + 34.2)
    assert reckon(bath()).charge.contents.total * 1e3 == pytest.approx(without + 18.0)
    weakest = altered(slab(), charge__relief_gauge_pa=700e3)
    said = [f.reason.text() for f in reckon(weakest).findings if f.key == "relief_over_rating"]
    assert any("slab" in words for words in said)


def test_a_house_takes_heat_below_its_own_limit_alone() -> None:
    design = slab()
    year, weather = year_of(design), sky_of(design).weather
    power = heating_power(design, weather)
    over = np.clip(design.duty.heat_below_c.value - weather.air, 0.0, None).reshape(365, 24)
    by_hand = 160.0 * 3600 * (over * (power > 0)[:, None]).sum()
    assert year.total("held") == pytest.approx(by_hand, rel=1e-6)
    assert year.total("demand") == 0
    assert year.residual < 1e-9
    assert 0 < year.saved <= by_hand
    # held with a backup, the slab neither falls far below nor is driven over its swing
    assert year.highest_store < 23 + 4 + 1.5
    assert float(year.traced[24 * 7 :, : year.nodes].mean(axis=1).min()) > 18.0


@pytest.mark.parametrize(
    ("path", "less", "more"),
    [("slab_swing_k", 1.0, 6.0), ("slab_thickness_m", 0.06, 0.3)],
)
def test_mass_and_swing_are_what_a_slab_stores_by(path: str, less: float, more: float) -> None:
    few = year_of(slab(**{"collector__count": 4, f"duty__{path}": less}))
    much = year_of(slab(**{"collector__count": 4, f"duty__{path}": more}))
    assert much.solar_heat > few.solar_heat
    assert much.total("stagnation_time") <= few.total("stagnation_time")


def test_a_bath_gives_what_its_work_takes_and_loses_on_its_days() -> None:
    design = bath(duty__days_a_week=5)
    year, days = year_of(design), working_days(design)
    # 10 h of 1,500 W on each of its days, and 25 W/K over the room
    assert year.total("demand") == pytest.approx(days.sum() * 10 * 3600 * 1500.0, rel=1e-9)
    over = design.duty.bath_c.value - design.survey.room_c.value
    assert year.total("held") == pytest.approx(days.sum() * 86400 * 25.0 * over, rel=1e-6)
    assert year.own_need is not None
    assert year.own_need.sum() == pytest.approx(year.total("demand") + year.total("held"))
    assert year.solar_fraction == pytest.approx(year.saved / year.own_need.sum())
    told = reckon(design).figures["demand"].value
    assert told == pytest.approx(year.own_need.sum(), rel=0.01)


def test_a_pool_s_swing_is_its_owner_s() -> None:
    usual, wide = year_of(pipwater()), year_of(altered(pipwater(), duty__pool_swing_k=6.0, collector__count=60))
    narrow = year_of(altered(pipwater(), collector__count=60))
    assert wide.solar_heat > narrow.solar_heat
    assert wide.highest_store > narrow.highest_store
    assert usual.own_need is not None


@pytest.mark.parametrize("make", [slab, bath])
@pytest.mark.parametrize("kind", ["direct", "thermosiphon"])
def test_a_loop_of_its_own_is_a_must(make: object, kind: str) -> None:
    design = make()  # type: ignore[operator]
    against = objections(design, reckon(design), kind)
    assert [(o.level, o.key) for o in against] == [("stop", "own_loop")]
    built = altered(design, charge__kind=kind)
    stops = {f.key: f for f in reckon(built).findings if f.level == "stop"}
    cured = changed(built, stops["own_loop"].cures[0].changes)
    assert "own_loop" not in found(cured)


def test_a_floor_too_warm_for_feet_is_said_and_cured() -> None:
    warm = slab(duty__slab_c=27.0)
    finding = next(f for f in reckon(warm).findings if f.key == "slab_warm")
    assert "31\N{NO-BREAK SPACE}°C" in finding.reason.text()
    assert "slab_warm" not in found(changed(warm, finding.cures[0].changes))
    hot = slab(duty__slab_c=30.0, duty__slab_swing_k=2.0)
    finding = next(f for f in reckon(hot).findings if f.key == "slab_warm")
    assert "slab_warm" not in found(changed(hot, finding.cures[0].changes))
    assert "slab_warm" not in found(slab())


@given(area=st.floats(4, 200), swing=st.floats(0.5, 15))
def test_a_swing_that_holds_a_sunny_day_is_not_complained_of(area: float, swing: float) -> None:
    design = slab(duty__slab_area_m2=area, duty__slab_swing_k=swing)
    holds = area * 0.12 * 2300 * 1000 * swing / KWH
    assert ("swing_small" in found(design)) == (round(holds, 1) < round(2.0 * design.area_m2, 1))


def test_a_small_coil_in_a_bath_is_mended() -> None:
    small = bath(duty__bath_coil_m2=0.5)
    finding = next(f for f in reckon(small).findings if f.key == "coil_small")
    assert finding.level == "fix"
    assert "coil_small" not in found(changed(small, finding.cures[0].changes))


def test_no_tank_is_bought_and_no_tap_is_guarded() -> None:
    for design, part in ((slab(), "floor_mixer"), (bath(), "bath_coil")):
        keys = {p.key for p in reckon(design).parts.parts}
        assert part in keys
        assert not {"store", "store_relief", "tempering", "taps_lagging"} & keys
        assert not {"no_tempering", "store_size", "no_pan"} & set(found(design))


def test_what_enters_a_floor_is_limited_where_it_is_met() -> None:
    said = " ".join(words.text() for words in bench_cautions(slab(), "run"))
    assert "nothing over 50\N{NO-BREAK SPACE}°C enters the slab" in said
    said = " ".join(words.text() for words in bench_cautions(bath(), "store"))
    assert "bath of chemicals" in said


def test_a_proposal_s_household_is_not_moved_by_what_it_does_not_have() -> None:
    design = proposed("aldersund-5-oil")
    other = altered(design, duty__slab_area_m2=200.0, duty__bath_l=5000.0)
    assert year_of(other).saved == year_of(design).saved
