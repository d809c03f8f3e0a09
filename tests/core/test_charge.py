from __future__ import annotations

from functools import lru_cache

import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import LIFTING_PUMP
from rowan.core.goods.places import PLACES
from rowan.core.reckon import reckon
from rowan.core.steps.charge.pressures import SCHOOLS, school_setting
from rowan.core.steps.charge.vessel import (
    Loop,
    VesselTooSmallError,
    liquid_when_filled,
    litres_between,
    thermal_expansion,
    vessel_size,
    vessel_state,
)
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.weather.air import atmosphere
from tests.core.designs import altered, plan_a

AIR = 101325.0
PRE, GAP = st.floats(5e4, 3e5), st.floats(1e4, 8e4)


@given(volume=st.floats(5e-3, 0.06), vessel=st.floats(8e-3, 0.1), pre=PRE, gap=GAP, warm=st.floats(20, 110))
def test_litres_in_are_litres_out(volume: float, vessel: float, pre: float, gap: float, warm: float) -> None:
    loop = Loop(volume, 0.4, 8.0, 6e5, AIR)
    state = vessel_state(vessel=vessel, precharge=pre, fill=pre + gap, loop=loop, temperature=warm)
    held = liquid_when_filled(vessel=vessel, precharge=pre, fill=pre + gap, atmosphere_pa=AIR)
    grown = thermal_expansion(loop_volume=volume, volume_share=0.4, hot=warm)
    assert state.liquid == pytest.approx(held + grown)
    if state.station is not None:
        # what the gauge says must give the same liquid back
        assert vessel * (1 - (pre + AIR) / (state.station + AIR)) == pytest.approx(state.liquid, rel=1e-6, abs=1e-9)


@given(expansion=st.floats(5e-4, 3e-3), steam=st.floats(1e-3, 8e-3), pre=PRE, gap=GAP)
def test_the_least_vessel_lands_on_the_highest_planned_pressure(
    expansion: float, steam: float, pre: float, gap: float
) -> None:
    end, fill = 5.4e5, pre + gap
    assume(fill < 4.5e5)
    need = vessel_size(
        expansion=expansion, steam=steam, reserve_volume=0, precharge=pre, fill=fill, end=end, atmosphere_pa=AIR
    )
    held = liquid_when_filled(vessel=need.pressure, precharge=pre, fill=fill, atmosphere_pa=AIR)
    reached = (pre + AIR) * need.pressure / (need.pressure - held - expansion - steam) - AIR
    assert reached == pytest.approx(end, rel=1e-6)
    assert need.standard_l * need.vessels >= need.needed * 1000 - 1e-6


def test_no_vessel_for_a_lake() -> None:
    with pytest.raises(VesselTooSmallError, match="two vessels"):
        vessel_size(expansion=0.3, steam=0.3, reserve_volume=0, precharge=1e5, fill=1.3e5, end=5.4e5, atmosphere_pa=AIR)


@given(static=st.floats(2e4, 2.5e5), height=st.floats(2, 25), gap=st.floats(5e3, 1.5e5))
def test_every_school_keeps_the_top_above_the_air(static: float, height: float, gap: float) -> None:
    for school in SCHOOLS:
        if school in ("typed", "raised"):
            continue
        found = school_setting(school=school, static=static, height=height, gap=gap)
        if school != "above" or static < 1.1e4 * height:
            assert found.fill > static


def test_a_typed_fill_below_the_column_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match=r"at least 1\.20.bar"):
        school_setting(school="typed", static=1e5, height=10, typed_fill=1.1e5)


def test_an_unknown_school_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="no school"):
        school_setting(school="hearsay", static=1e5, height=10)  # type: ignore[arg-type]


@given(p1=st.floats(0, 4e5), p2=st.floats(0, 4e5))
def test_the_gauge_reads_litres_both_ways(p1: float, p2: float) -> None:
    args = {"vessel": 0.018, "precharge": 1.3e5, "loop_volume": 0.014, "atmosphere_pa": AIR, "stiffness": 6e-10}
    there, back = litres_between(p1=p1, p2=p2, **args), litres_between(p1=p2, p2=p1, **args)
    assert there == pytest.approx(-back, abs=1e-12)
    assert there * (p2 - p1) >= 0


@given(altitude=st.floats(0, 3000), more=st.floats(10, 500))
def test_air_is_thinner_higher_up(altitude: float, more: float) -> None:
    assert atmosphere(altitude=altitude + more) < atmosphere(altitude=altitude)


def test_the_kvist_house_is_charged_as_reckoned_by_hand() -> None:
    """ρ(10 °C) = 1041 kg/m³ × 9.807 × 9.50 m = 97.0 kPa; + 50 = 147.0; + 30 = 177.0 kPa."""
    figures = reckon(plan_a()).figures
    assert figures["static"].number() == "0.97"
    assert figures["precharge"].number() == "1.47"
    assert figures["fill"].number() == "1.77"
    assert figures["contents"].number() == "21.1"
    assert figures["least_vessel"].number() == "14.2"
    assert figures["expansion"].number() == "1.51"


@given(gap=st.floats(3e4, 7e4), height=st.floats(4, 14))
def test_no_state_of_any_school_shows_negative_liquid_as_a_figure(gap: float, height: float) -> None:
    result = reckon(altered(plan_a(), charge__gap_pa=gap, survey__gauge_to_top_m=height))
    for view in result.charge.schools:
        for state in view.states.values():
            assert state.empty == (state.liquid < 0)
            if state.empty:
                assert state.station is None
                assert state.shortage > 0


@lru_cache
def low_house() -> Design:
    """One storey, and a pump made to lift water up a tower."""
    facts = Facts(PLACES["Aldersund"], 180, 40, "tile", 4, "gas", 1)
    design = propose(facts, title="low")
    return altered(design, run__pump=LIFTING_PUMP.model_dump(), run__speed=2, charge__school="typed")


def test_a_strong_pump_on_a_low_fill_pulls_air_in_before_it() -> None:
    low = altered(low_house(), charge__typed_fill_gauge_pa=7e4)
    found = next(f for f in reckon(low).findings if f.key == "inlet_low")
    assert found.level == "fix"
    assert found.quantity is not None
    assert found.quantity.value == pytest.approx(reckon(low).figures["inlet"].value)
    mended = reckon(changed(low, found.cures[0].changes))
    assert "inlet_low" not in [f.key for f in mended.findings]
    assert mended.figures["inlet"].value >= 0


@given(fill=st.floats(6.2e4, 3e5))
@example(fill=7e4)
@example(fill=9e4)
def test_what_the_pump_lifts_is_missing_at_its_inlet(fill: float) -> None:
    result = reckon(altered(low_house(), charge__typed_fill_gauge_pa=fill))
    assert result.figures["inlet"].value < result.figures["fill"].value
    assert ("inlet_low" in [f.key for f in result.findings]) == (result.figures["inlet"].value < 0)


def test_a_night_colder_than_the_fluid_s_data_is_reckoned_all_the_same() -> None:
    design = altered(plan_a(), survey__design_minimum_c=-42.0, charge__share=0.6)
    assert reckon(design).sealed.states["cold"].station is not None
