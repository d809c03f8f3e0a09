"""A loop that warm water drives: its own run, charge, control and order of work."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.appraisal import all_findings, appraised
from rowan.core.design.job_file import load
from rowan.core.goods.catalogue import PIPES
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.steps.charge.result import ThermosiphonCharge
from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.steps.run.buoyancy import buoyant_pressure, density, friction_terms, held_at_night, pull
from rowan.core.steps.run.buoyancy_findings import MOST_RISE_K, USUAL_ABOVE_M
from rowan.core.studies.choices import with_kind
from rowan.core.studies.cures import graver
from rowan.demo.kvist import kvist_plan_b
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered
from tests.core.test_jobfile import SAMPLES
from tests.core.thermosiphons import roof_tank


def test_drive_and_friction_are_equal_at_its_flow() -> None:
    run = reckon(roof_tank()).run
    found = run.buoyancy
    assert found is not None
    assert found.drive == pytest.approx(run.warm.drop(run.flow), rel=1e-6)
    assert found.drive == pytest.approx(pull(found.rises, run.temperatures), rel=1e-9)
    # by hand: 33 K over 24.7 K of rise at 800 W/m²; water of 32.7, 45 and 57.3 °C is 994.8, 990.2 and 984.6 kg/m³
    by_hand = 9.80665 * ((994.81 - 990.21) * found.rises.field + (994.81 - 984.61) * found.rises.hot)
    assert found.drive == pytest.approx(by_hand, rel=0.01)


def test_the_year_takes_the_friction_of_the_run() -> None:
    run = reckon(roof_tank()).run
    found, mass = run.buoyancy, run.mass_flow
    assert found is not None
    for share in (0.5, 1.0):
        assert found.k1 * share * mass + found.k2 * (share * mass) ** 2 == pytest.approx(
            run.warm.drop(share * run.flow), rel=1e-3
        )


@given(a=st.floats(1.0, 1e4), b=st.floats(10.0, 1e6), flow=st.floats(1e-5, 1e-3))
def test_friction_terms_give_back_what_they_were_made_of(a: float, b: float, flow: float) -> None:
    def drop(q: float) -> float:
        return a * q * 990.0 + b * (q * 990.0) ** 2

    k1, k2 = friction_terms(flow=flow, density_kg_m3=990.0, drop=drop(flow), half_drop=drop(flow / 2))
    # both are small differences of near numbers: held by the drop they give
    assert k1 * flow * 990 + k2 * (flow * 990) ** 2 == pytest.approx(drop(flow), rel=1e-6, abs=2e-6)


@given(field=st.floats(0.1, 3), hot=st.floats(0.1, 3), cold=st.floats(5, 60), rise=st.floats(1, 35))
def test_more_height_and_more_warmth_drive_more(field: float, hot: float, cold: float, rise: float) -> None:
    def drive(height: float, warmer: float) -> float:
        return buoyant_pressure(
            field=field,
            hot=height,
            cold_kg_m3=density(cold),
            mean_kg_m3=density(cold + warmer / 2),
            hot_kg_m3=density(cold + warmer),
        )

    assert 0 < drive(hot, rise) < drive(hot + 0.5, rise)
    assert drive(hot, rise) < drive(hot, rise + 1)


@given(field=st.floats(0, 3), store=st.floats(20, 95), night=st.floats(5, 15))
def test_a_tank_over_the_middle_of_its_field_holds_at_night(field: float, store: float, night: float) -> None:
    held = [
        held_at_night(field=field, above=above, store_kg_m3=density(store), out_kg_m3=density(night))
        for above in (-field / 2 - 0.1, -field / 2 + 0.1)
    ]
    assert held[0] < 0 < held[1]


def test_a_store_that_comes_up_gets_short_lines_and_one_that_comes_down_long_ones() -> None:
    house = sandreef()
    up = with_kind(house, "thermosiphon")
    route = reckon(up).run.route
    assert route.length < 5 < reckon(house).run.route.length
    assert route.hot_open == route.cold_open == 0
    assert not route.high_points
    assert reckon(up).run.temperatures.rise <= MOST_RISE_K
    down = with_kind(up, "direct")
    assert reckon(down).run.route.length == pytest.approx(reckon(house).run.route.length, rel=0.2)
    assert reckon(down).run.point is not None


@pytest.mark.parametrize("above", [-0.1, -1.0, -4.0])
def test_a_store_below_its_field_is_a_stop_and_its_cures_cure(above: float) -> None:
    low = roof_tank(store__above_field_m=above)
    found = {f.key: f for f in reckon(low).findings}
    finding = found["store_below_field"]
    assert finding.level == "stop"
    for cure in finding.cures:
        from rowan.core.design.changes import changed
        from rowan.core.studies.choices import with_what_belongs

        after = reckon(changed(low, with_what_belongs(low, cure.changes)))
        assert "store_below_field" not in {f.key for f in after.findings}
        assert not graver(reckon(low).findings, after.findings, finding)
    assert "store_below_field" not in {f.key for f in reckon(roof_tank(store__above_field_m=USUAL_ABOVE_M)).findings}


def test_far_below_nearly_nothing_comes_down() -> None:
    low = roof_tank(store__above_field_m=-4.0)
    reckoning = reckon(low)
    assert reckoning.run.buoyancy is not None
    assert not reckoning.run.buoyancy.flows
    assert "flow" not in reckoning.figures
    high = roof_tank()
    # now and then a cold night leaves a column that moves
    assert simulate(low, reckoning).solar_heat < 0.02 * simulate(high, reckon(high)).solar_heat


def test_a_thin_pipe_is_told_and_a_wider_one_cures_it() -> None:
    thin = roof_tank(run__pipe=PIPES["Copper 15 × 1"])
    finding = next(f for f in reckon(thin).findings if f.key == "siphon_weak")
    assert finding.cures


def test_nothing_of_a_pump_is_left() -> None:
    design = roof_tank()
    reckoning = reckon(design)
    judged = appraised(design, reckoning)
    words = " ".join(
        text.text()
        for finding in all_findings(reckoning, judged)
        for text in (finding.title, finding.reason, *(cure.label for cure in finding.cures))
    )
    words += " ".join(
        text.text() for step in reckoning.commission.steps for text in (step.before, step.work, step.right)
    )
    words = words.lower().replace("hand pump", "").replace("re-pump", "")  # it tests, and is no part of the loop
    for word in ("pump", "station", "controller", "speed"):
        assert word not in words, word
    assert not {"pump_power", "start", "stop", "floor", "purge_speed", "head"} & set(reckoning.figures)
    with pytest.raises(TypeError, match="no pump"):
        _ = reckoning.run.pump
    with pytest.raises(TypeError, match="no controller"):
        _ = reckoning.differences


def test_a_first_design_of_it_is_clean() -> None:
    design = roof_tank()
    reckoning = reckon(design)
    found = all_findings(reckoning, appraised(design, reckoning))
    assert [f.key for f in found if f.level != "mind"] == []


def test_what_the_roof_carries_is_said_where_it_is_decided() -> None:
    design = roof_tank()
    charge = reckon(design).charge
    assert isinstance(charge, ThermosiphonCharge)
    item, field = design.store.item.value, design.collector
    dry = item.dry_mass_kg + field.count.value * field.item.value.dry_mass_kg
    assert charge.mass == pytest.approx(dry + item.contents_l + charge.contents.total * 1000, rel=1e-3)
    assert charge.pushed_out == pytest.approx(item.contents_l / 1000 * 0.039, rel=0.02)  # 999.7 over 961.9 kg/m³
    figures = reckon(design).figures
    assert figures["roof_mass"].value == pytest.approx(charge.mass, rel=1e-6)
    assert figures["pushed_out"].value == pytest.approx(charge.pushed_out, rel=1e-6)
    for bench in ("survey", "store"):
        assert any("engineer" in said.text() for said in bench_cautions(design, bench))


def test_the_order_proves_slopes_flow_and_a_still_night() -> None:
    steps = [step.key for step in reckon(roof_tank()).commission.steps]
    assert steps == ["inspect", "slopes", "flush", "test", "fill", "proof", "settings", "close", "night", "weeks"]


def test_an_old_file_is_drawn_with_the_short_lines_it_was_reckoned_by() -> None:
    text = (SAMPLES / "job-file-7-thermosiphon.json").read_text(encoding="utf-8")
    old = json.loads(text)
    design = load(text)
    assert len(old["run"]["cold"]) > len(design.run.cold) == 2
    heat = simulate(design, reckon(design)).solar_heat / 3.6e6
    assert heat == pytest.approx(7201.1, rel=0.01)  # kWh that version 7 gave for it


def test_a_house_with_frost_is_told_whatever_it_holds() -> None:
    cold = with_kind(kvist_plan_b(), "thermosiphon")
    assert {f.key for f in reckon(cold).findings if f.level == "stop"} >= {"direct_frost"}
    assert "no_tempering" in {f.key for f in reckon(altered(roof_tank(), store__tempering_valve=False)).findings}
