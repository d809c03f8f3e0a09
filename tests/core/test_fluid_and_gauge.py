"""The mixing tub, ageing, gauge and litres, a loop as found, a line of a data sheet, other vessels."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.design.lists import add_entry, remove_entry
from rowan.core.goods.catalogue import PIPES
from rowan.core.reckon import reckon
from rowan.core.records.data_sheet_line import LINES, readings, stored
from rowan.core.steps.charge.gauge import AsFound, Vessel, as_found, charge_from_pair
from rowan.core.steps.charge.gauge_findings import GaugeRead, found_lines, found_of, vessel_of
from rowan.core.steps.charge.tub import CLOSE_ENOUGH, Tub, ageing, tub_of, years_of
from rowan.core.steps.charge.vessel import Loop, VesselState, thermal_expansion, vessel_state
from rowan.core.studies.glycol_shares import dearer, strengths
from rowan.core.studies.vessel_sizes import sizes_tried
from rowan.core.terms.errors import ImpossibleInputError, JobFileError, TypedNumberError
from rowan.core.terms.finding import Change
from tests.core.designs import altered, plan_b, proposed

LITRE = 1e-3


def logged(*entries: dict[str, Any], **changes: Any) -> Design:
    rows = [FluidEntry(id=f"r{n}", **entry) for n, entry in enumerate(entries, 1)]
    return changed(altered(plan_b(), **changes), [Change("charge.log", rows)])


def tub(design: Design) -> Tub:
    found = reckon(design).tub
    assert found is not None
    return found


# the tub


@given(
    wanted=st.sampled_from([0.3, 0.4, 0.5]),
    water=st.floats(0, 6),
    truth=st.floats(0, 6),
    strong=st.floats(0.65, 1.0),
)
def test_rounds_of_reading_and_exchanging_end_at_what_was_wanted(
    wanted: float, water: float, truth: float, strong: float
) -> None:
    """Whatever really stayed in the coil: read, exchange what is said, read again; two rounds are enough."""
    start = altered(
        plan_b(),
        charge__share=wanted,
        charge__residual_l=water,
        charge__concentrate=strong,
        parts__fluid_sold="concentrate",
    )
    first = tub(start)
    share = first.fill * (first.loop - truth * LITRE) / first.loop
    entries: list[dict[str, Any]] = []
    for _ in range(2):
        found = tub(logged(*entries, {"share": share}, **_mix(wanted, water, strong)))
        if found.done or found.exchange is None:
            break
        litres = found.exchange / LITRE
        entries.append({"share": share, "exchanged_l": litres})
        share += litres * LITRE / found.loop * (strong - share)
    assert found.done or found.exchange is None
    assert share >= wanted - CLOSE_ENOUGH


def _mix(wanted: float, water: float, strong: float) -> dict[str, Any]:
    return {
        "charge__share": wanted,
        "charge__residual_l": water,
        "charge__concentrate": strong,
        "parts__fluid_sold": "concentrate",
    }


def test_the_first_reading_tells_how_much_water_had_stayed() -> None:
    design = altered(plan_b(), parts__fluid_sold="concentrate", charge__residual_l=2.0)
    first = tub(design)
    assert first.residual is None
    assert first.now == pytest.approx(0.40)
    share = first.fill * (1 - 3.0 * LITRE / first.loop)
    found = tub(logged({"share": share}, parts__fluid_sold="concentrate", charge__residual_l=2.0))
    assert found.residual == pytest.approx(3.0 * LITRE)
    design = logged({"share": share}, parts__fluid_sold="concentrate", charge__residual_l=2.0)
    assert reckon(design).figures["residual"].value == pytest.approx(3.0 * LITRE)


def test_cans_mixed_ready_are_thinned_by_what_stayed() -> None:
    found = tub(altered(plan_b(), parts__fluid_sold="premix", charge__residual_l=2.0))
    assert found.fill == pytest.approx(0.40)
    assert found.now == pytest.approx(0.40 * (1 - 2.0 * LITRE / found.loop))


def test_a_top_up_with_water_is_played_through_the_log() -> None:
    found = tub(logged({"share": 0.40}, {"water_l": 2.0}))
    assert found.now == pytest.approx(0.40 * (1 - 2.0 * LITRE / found.loop))
    assert found.rounds[1].expected == pytest.approx(0.40)
    drowned = tub(logged({"share": 0.40}, {"water_l": 400.0}))
    assert drowned.now == 0


def test_thin_and_sour_fluid_are_found() -> None:
    found = {f.key: f.level for f in reckon(logged({"share": 0.36, "ph": 8.0})).findings}
    assert found["mix_thin"] == "fix"
    assert {f.key: f.level for f in reckon(logged({"share": 0.2})).findings}["mix_thin"] == "stop"
    assert "fluid_spent" in {f.key for f in reckon(logged({"share": 0.41, "ph": 6.5})).findings}
    assert not {"mix_thin", "fluid_spent"} & {f.key for f in reckon(logged({"share": 0.41, "ph": 7.5})).findings}


def test_a_first_mix_beyond_the_concentrate_is_said() -> None:
    design = altered(plan_b(), charge__concentrate=0.45, charge__residual_l=6.0, parts__fluid_sold="concentrate")
    found = next(f for f in reckon(design).findings if f.key == "first_mix_impossible")
    assert found.cures
    assert "first_mix" not in reckon(design).figures


def test_the_log_is_added_to_and_taken_from() -> None:
    change, _ = add_entry(plan_b(), "reading")
    design = changed(plan_b(), [change])
    assert [e.id for e in design.charge.log] == ["r1"]
    assert changed(design, [remove_entry(design, "charge.log", "r1")[0]]).charge.log == []
    with pytest.raises(JobFileError):
        changed(design, [Change("charge.log.r1.date", "yesterday")])


def test_fluid_that_stands_hot_ages_faster() -> None:
    calm, hot = (ageing(plan_b(), hours * 3600.0) for hours in (0, 400))
    assert calm.lasts == pytest.approx((8.3 - 7.0) / 0.07)
    assert hot.lasts is not None
    assert hot.lasts < calm.lasts / 2  # type: ignore[operator]
    assert calm.at(calm.lasts or 0) == pytest.approx(7.0)
    assert ageing(altered(plan_b(), charge__ph_year=0.0), 0.0).lasts is None


def test_years_run_from_the_first_dated_line() -> None:
    rows = [FluidEntry(id="a", date="2024-05-01"), FluidEntry(id="b"), FluidEntry(id="c", date="2023-05-01")]
    assert [(round(years, 2), entry.id) for years, entry in years_of(rows)] == [(0.0, "c"), (1.0, "a")]


def test_a_stronger_mix_costs_heat_and_cold_flow() -> None:
    rows = strengths(plan_b(), reckon(plan_b()))
    assert len(rows) >= 8
    assert [row.frost_point for row in rows] == sorted((row.frost_point for row in rows), reverse=True)
    assert rows[-1].heat < rows[0].heat
    assert rows[-1].flow_cold < rows[0].flow_cold
    assert [row.reynolds for row in rows] == sorted((row.reynolds for row in rows), reverse=True)


def test_ten_more_in_a_hundred_is_priced_and_the_dip_is_told() -> None:
    rows = strengths(plan_b(), reckon(plan_b()))
    cost = dearer(rows, share=0.40, more=0.10)
    assert cost is not None
    here, there = (next(row for row in rows if round(row.share, 2) == share) for share in (0.40, 0.50))
    assert cost.heat == pytest.approx(here.heat - there.heat)
    assert cost.heat > 0
    assert cost.flow_cold > 0
    # between Re 2000 and 4000 thicker fluid drags less: then, and only then, it flows easier
    assert cost.easier == (there.flow > here.flow)
    assert dearer(rows, share=0.40, more=0.33) is None
    turbulent = altered(plan_b(), run__pipe=PIPES["Copper 12 × 1"], run__speed=3, collector__working_c=90.0)
    steep = dearer(strengths(turbulent, reckon(turbulent)), share=0.40, more=0.10)
    assert steep is not None
    assert not steep.easier
    assert steep.pump > 0


# gauge and litres

LOOP = Loop(21e-3, 0.4, 9.5, 600e3, 101e3)


def a_vessel(nominal: float = 18e-3, precharge: float = 147e3) -> Vessel:
    return Vessel(nominal, precharge, LOOP, 5e-10)


@given(p=st.floats(-50e3, 500e3), lost=st.floats(1e-6, 3e-3))
def test_what_is_lost_is_what_the_gauge_tells(p: float, lost: float) -> None:
    vessel = a_vessel()
    after = vessel.gauge_after(p, lost)
    assume(after is not None)
    assert after is not None
    assert after < p
    assert vessel.litres(after, p) == pytest.approx(lost, rel=1e-3, abs=2e-9)


def test_below_its_charge_a_cupful_moves_bars() -> None:
    vessel = a_vessel()
    assert vessel.gauge_after(177e3, 0.2e-3) == pytest.approx(177e3, abs=5e3)
    assert vessel.gauge_after(140e3, 0.2e-3) is None, "the loop would be under vacuum"


@given(
    precharge=st.floats(50e3, 250e3),
    gap=st.floats(5e3, 150e3),
    nominal=st.floats(8e-3, 60e-3),
    cold_c=st.floats(5, 30),
    hot_c=st.floats(55, 95),
)
def test_two_readings_tell_the_charge_again(
    precharge: float, gap: float, nominal: float, cold_c: float, hot_c: float
) -> None:
    cold, hot = (
        vessel_state(vessel=nominal, precharge=precharge, fill=precharge + gap, loop=LOOP, temperature=t)
        for t in (cold_c, hot_c)
    )
    assume(cold.station is not None and hot.station is not None)
    found = charge_from_pair(
        nominal=nominal, loop=LOOP, cold=cold.station or 0, cold_c=cold_c, hot=hot.station or 0, hot_c=hot_c
    )
    assert found.precharge == pytest.approx(precharge, rel=1e-6, abs=10)
    assert found.liquid == pytest.approx(cold.liquid, abs=1e-8)


@pytest.mark.parametrize(
    ("cold", "hot", "hot_c", "words"),
    [(177e3, 170e3, 80, "higher"), (177e3, 194e3, 20, "apart"), (177e3, 177.5e3, 80, "air in the loop")],
)
def test_readings_that_contradict_each_other_are_refused(cold: float, hot: float, hot_c: float, words: str) -> None:
    with pytest.raises(ImpossibleInputError, match=words):
        charge_from_pair(nominal=18e-3, loop=LOOP, cold=cold, cold_c=10, hot=hot, hot_c=hot_c)


def found_at(gauge: float, at: float, precharge: float | None = None) -> AsFound:
    result = reckon(plan_b())
    charge = result.charge
    assert charge.setting is not None
    assert charge.steam is not None
    return as_found(
        vessel=vessel_of(plan_b(), result.run, charge, precharge),
        planned=charge.setting,
        gauge=gauge,
        temperature=at,
        coldest=-14.0,
        hottest=110.0,
        steam=charge.steam.volume,
    )


@given(lost=st.floats(-3e-3, 1.8e-3), at=st.floats(10, 40))
def test_what_is_missing_is_what_was_lost(lost: float, at: float) -> None:
    """Take litres from the plan's loop, read the gauge, and the page says those litres."""
    result = reckon(plan_b())
    charge = result.charge
    assert charge.setting is not None
    planned = found_at(charge.setting.fill, 10.0)
    grown = thermal_expansion(loop_volume=charge.contents.total, volume_share=0.4, hot=at)
    liquid = charge.kept + grown - lost
    assume(0 < liquid < 0.95 * charge.vessel)
    air = charge.atmosphere
    gauge = (charge.setting.precharge + air) * charge.vessel / (charge.vessel - liquid) - air
    assert planned.missing == pytest.approx(0, abs=1e-9)
    assert found_at(gauge, at).missing == pytest.approx(lost, abs=1e-7)


def test_no_gauge_is_under_any_vacuum() -> None:
    result = reckon(plan_b())
    with pytest.raises(ImpossibleInputError, match="no gauge shows less"):
        found_of(plan_b(), result.run, result.charge, GaugeRead(cold=-95e3))


@given(gauge=st.floats(-60e3, 900e3), at=st.floats(-20, 90), precharge=st.none() | st.floats(0, 500e3))
def test_any_gauge_is_told_in_words(gauge: float, at: float, precharge: float | None) -> None:
    found = found_at(gauge, at, precharge)
    lines = found_lines(found, planned_charge=147e3, told_by_pair=precharge is not None)
    assert lines
    assert all(line.what.text("us") and "{" not in line.what.text() for line in lines)
    for state in (found.cold, found.stagnation):
        _consistent(state)


def _consistent(state: VesselState) -> None:
    if state.empty:
        assert state.shortage > 0
        assert state.station is None
    elif state.full:
        assert state.station is None
    else:
        assert state.liquid >= 0


def test_a_wrong_charge_comes_before_the_litres() -> None:
    low = found_lines(found_at(177e3, 10, 60e3), planned_charge=147e3, told_by_pair=True)
    assert low[0].level == "fix"
    assert "Gas is gone" in low[0].what.text()
    assert "With the charge right" in low[1].what.text()
    right = found_lines(found_at(177e3, 10), planned_charge=147e3, told_by_pair=False)
    assert [line.level for line in right] == [None, None, None, None]


def test_a_weak_filling_pump_fills_in_two_stages() -> None:
    result = reckon(altered(plan_b(), charge__filling_gauge_pa=150e3))
    stage = result.charge.two_stage
    assert stage is not None
    assert stage.needed
    vessel, air = result.charge.vessel, result.charge.atmosphere
    # the liquid that goes in under the pump leaves the gas at the pump's pressure
    assert (stage.first_precharge + air) * vessel / (vessel - stage.liquid) - air == pytest.approx(150e3)
    steps = {step.key: step for step in result.commission.steps}
    assert steps["vessel"].targets[0].quantity.value == pytest.approx(stage.first_precharge)
    assert "gas" in steps["open"].name
    assert "gas" not in {step.key: step for step in reckon(plan_b()).commission.steps}["open"].name


def test_other_sizes_stand_beside_the_plan_s() -> None:
    result = reckon(plan_b())
    tried = sizes_tried(plan_b(), result.run, result.charge)
    assert [size.size_l for size in tried] == [8, 12, 18, 25, 35, 50]
    assert [size.does(result.charge.end) for size in tried] == [False, False, True, True, True, True]
    chosen = next(size for size in tried if size.chosen)
    assert chosen.view.states == result.charge.states
    direct = proposed("maravel-8-gas")
    assert sizes_tried(direct, reckon(direct).run, reckon(direct).charge) == ()


# a line of a data sheet


def all_readings(line: str, text: str, units: str = "metric") -> Any:
    return readings(plan_b(), reckon(plan_b()), line=line, text=text, system=units)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("line", "text", "likely"),
    [
        ("contents", "1,6", "1,6 L for one collector"),
        ("contents", "3.2 L", "3.2 L for one collector"),
        ("contents", "3.2 L", "3.2 L for all 2"),
        ("flow", "120", "120 L/h for one collector"),
        ("flow", "4", "4 L/min for all 2"),
        ("flow", "32 gal/h", "32 gal/h for one collector"),
        ("most", "180 L/h", "180 L/h for one collector"),
        ("least", "1", "1 L/min for one collector"),
    ],
)
def test_the_likely_reading_is_offered(line: str, text: str, likely: str) -> None:
    assert likely in [r.words for r in all_readings(line, text) if r.likely]


def test_mixed_up_lines_are_doubted() -> None:
    assert not [r for r in all_readings("contents", "120 L") if r.likely]
    assert not [r for r in all_readings("flow", "1.6 L/h") if r.likely]
    assert any("recommended" in doubt.text() for r in all_readings("least", "180 L/h") for doubt in r.doubts)


def test_an_ambiguous_number_is_read_both_ways() -> None:
    words = [reading.words for reading in all_readings("flow", "1,500")]
    assert any(w.startswith("1.500") or w.startswith("1,500") or w.startswith("1.5") for w in words)
    assert any(w.startswith("1500") for w in words)


@given(line=st.sampled_from(sorted(LINES)), text=st.text(max_size=12), units=st.sampled_from(["metric", "us"]))
def test_any_text_is_read_or_refused(line: str, text: str, units: str) -> None:
    try:
        found = all_readings(line, text, units)
    except TypedNumberError as error:
        assert str(error)
        return
    for reading in found:
        assert reading.total == pytest.approx(reading.each * 2)
        assert stored(line, reading.each) == pytest.approx(  # type: ignore[arg-type]
            reading.each / (1e-3 if line == "contents" else 1e-3 / 3600)
        )


def test_a_tub_of_another_loop_is_reckoned_for_itself() -> None:
    assert tub_of(plan_b(), 50e-3).loop == pytest.approx(50e-3)


def test_readings_that_no_sound_vessel_gives_name_the_burst_one() -> None:
    design, run, charge = plan_b(), reckon(plan_b()).run, reckon(plan_b()).sealed
    assert charge.setting is not None
    # warming lifts the gauge by bars: next to no gas is left to take the liquid
    found, told = found_of(design, run, charge, GaugeRead(cold=20e3, hot=450e3))
    assert told
    assert found.vessel.precharge < 30e3
    lines = found_lines(found, planned_charge=charge.setting.precharge, told_by_pair=told)
    assert [line.level for line in lines] == ["stop"]
    assert "burst" in lines[0].what.text()
    measured, told = found_of(design, run, charge, GaugeRead(cold=150e3, charge=-50e3))
    assert not told
    assert "burst" in found_lines(measured, planned_charge=charge.setting.precharge, told_by_pair=told)[0].what.text()
    sound, told = found_of(design, run, charge, GaugeRead(cold=150e3, charge=40e3))
    assert all("burst" not in line.what.text() for line in found_lines(sound, planned_charge=1e5, told_by_pair=told))
