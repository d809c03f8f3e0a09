"""Commissioning: targets are the reckoning's, valves never cut off what must stay open."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.prices import filling
from rowan.core.reckon import reckon
from rowan.core.steps.commission import pressure_test
from rowan.core.steps.commission.order import raised_pressure
from rowan.core.steps.commission.result import Step
from rowan.core.terms.errors import OutOfRangeError
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed

PRESSURE = st.floats(0, 2e6)


def steps_of(design: Design) -> dict[str, Step]:
    return {step.key: step for step in reckon(design).commission.steps}


def test_the_order_of_a_sealed_loop() -> None:
    assert list(steps_of(plan_b())) == [
        "inspect", "vessel", "flush", "test", "release", "prepare", "fill", "purge", "raise", "open", "run", "settings", "fluid",
        "taps", "provoked", "close", "weeks",
    ]  # fmt: skip


def test_the_order_of_a_direct_loop_knows_neither_vessel_nor_glycol() -> None:
    steps = steps_of(proposed("maravel-8-gas"))
    assert list(steps) == [
        "inspect", "flush", "test", "fill", "run", "settings", "taps", "provoked", "close", "weeks",
    ]  # fmt: skip
    assert all("vessel" not in step.valves for step in steps.values())


@pytest.mark.parametrize("key", EIGHT_FACTS)
def test_every_step_says_before_work_right_and_every_valve(key: str) -> None:
    commission = reckon(proposed(key)).commission
    for step in commission.steps:
        assert set(step.valves) == {*commission.valves, "source", "pump"}, step.key
        assert step.fields, step.key
        for words in (step.before, step.work, step.right):
            assert len(words.text()) > 15
            assert "{" not in words.text("us")


def test_targets_are_the_figures() -> None:
    result = reckon(plan_b())
    for step in result.commission.steps:
        for target in step.targets:
            if target.figure:
                same = pytest.approx(result.figures[target.figure].value, rel=1e-12)
                assert target.quantity.value == same, (step.key, target.name)


def test_the_outlet_is_open_whenever_the_supply_is() -> None:
    for design in (plan_a(), plan_b(), proposed("aldersund-8-electric")):
        for step in steps_of(design).values():
            if step.valves.get("source") == "on" and step.valves["supply"] == "open":
                assert step.valves["outlet"] == "open", f"{step.key} would burst the loop"
                assert step.valves["between"] == "shut", f"{step.key} runs a short circuit"


def test_the_vessel_is_shut_off_in_the_pressure_test() -> None:
    test = steps_of(plan_b())["test"]
    assert test.valves["vessel"] == "shut"
    assert test.valves["check"] == "half", "else it hides a section from the gauge"
    assert test.gauge == reckon(plan_b()).commission.test_pressure == pytest.approx(5.4e5)  # 0.9 × 6 bar


def test_a_sprayer_fills_both_legs_and_an_open_vent_lets_the_air_out() -> None:
    fill = steps_of(altered(plan_b(), commission__kit="sprayer"))["fill"].valves
    assert (fill["between"], fill["outlet"], fill["vent"]) == ("open", "shut", "open")


def test_the_medium_of_the_test_decides_the_order() -> None:
    orders = {m: list(steps_of(altered(plan_b(), commission__test=m))) for m in ("water", "air", "mix")}
    assert "flush" not in orders["air"], "in frost nothing is left that freezes"
    assert orders["mix"].index("test") > orders["mix"].index("purge")
    assert orders["water"].index("test") < orders["water"].index("fill")
    by_air = steps_of(altered(plan_b(), commission__test="air"))["test"]
    assert {"test_soap", "test_t1", "test_t2"} <= {field.key for field in by_air.fields}


def test_no_test_is_higher_than_what_is_on_the_van_reaches() -> None:
    without = altered(plan_b(), commission__test_pump=False)
    result = reckon(without)
    assert result.commission.test_pressure == without.charge.filling_gauge_pa.value == 4e5
    assert result.figures["test_pressure"].value == pytest.approx(4e5)
    assert "hand test pump" not in result.commission.step("test").hand
    assert "hand test pump" in steps_of(plan_b())["test"].hand


def test_a_vent_without_a_valve_is_not_in_the_valves() -> None:
    assert "vent" in reckon(plan_b()).commission.valves
    assert "vent" not in reckon(altered(plan_b(), run__vent_shut_off=False)).commission.valves


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        ({"commission__relief_stays": False}, 1.0e6),
        ({"commission__relief_stays": False, "commission__weakest_gauge_pa": 8e5}, 8.0e5),
        ({"commission__test": "air"}, 5.0e5),
        ({"charge__relief_gauge_pa": 3e5}, 2.7e5),
    ],
)
def test_the_test_pressure_spares_the_weakest(change: dict[str, object], expected: float) -> None:
    assert reckon(altered(plan_b(), **change)).commission.test_pressure == pytest.approx(expected)


@given(relief=st.floats(2e5, 1.6e6), fill=st.floats(5e4, 1.5e5))
def test_raising_stays_a_bar_below_the_relief(relief: float, fill: float) -> None:
    raised = raised_pressure(altered(plan_b(), charge__relief_gauge_pa=relief), fill)
    assert fill <= raised <= max(relief - 1e5, fill)


@given(p1=PRESSURE, t1=st.floats(-20, 60), change=st.floats(-5, 5))
def test_air_that_follows_its_temperature_passes(p1: float, t1: float, change: float) -> None:
    expected = pressure_test.air_expected(p1=p1, t1=t1, t2=t1 + change, atmosphere_pa=101325)
    if expected < 0:
        return
    outcome = pressure_test.air_verdict(p1=p1, p2=expected, t1=t1, t2=t1 + change, atmosphere_pa=101325)
    assert outcome.verdict == "pass"
    lower = max(expected - 6e3, 0.0)
    if lower < expected - 5e3:
        fallen = pressure_test.air_verdict(p1=p1, p2=lower, t1=t1, t2=t1 + change, atmosphere_pa=101325)
        assert fallen.verdict == "leak"


def test_water_that_warms_is_judged_again() -> None:
    per_kelvin = pressure_test.water_per_kelvin(stiffness=pressure_test.water_stiffness(bore=0.02, wall=0.001))
    assert per_kelvin > 1e5, "shut-in water moves by bars for each kelvin"
    outcome = pressure_test.water_verdict(p1=9e5, p2=9e5, t1=15, t2=16, per_kelvin=per_kelvin)
    assert outcome.verdict == "repeat"
    passed = pressure_test.water_verdict(p1=9e5, p2=8.9e5, t1=15, t2=15, per_kelvin=per_kelvin)
    assert passed.verdict == "pass"


@given(p1=PRESSURE, fall=st.floats(0, 1), pocket=st.floats(0, 1e-3))
def test_air_in_the_loop_hides_a_leak(p1: float, fall: float, pocket: float) -> None:
    def lost(air: float) -> float:
        return pressure_test.water_lost(
            p1=p1, p2=p1 * (1 - fall), loop_volume=0.02, stiffness=6e-10, air_pocket=air, atmosphere_pa=101325
        )

    assert lost(pocket) >= lost(0.0) >= 0


def test_a_negative_pressure_is_refused_in_either_unit() -> None:
    with pytest.raises(OutOfRangeError) as caught:
        pressure_test.air_per_kelvin(p1=-7e4, t1=20, atmosphere_pa=101325)
    assert "−0.70\N{NO-BREAK SPACE}bar" in caught.value.text()
    assert "psi" in caught.value.text("us")


@pytest.mark.parametrize(
    "change",
    [{}, {"commission__station_flow_l_h": 400.0}, {"commission__tub_area_m2": 0.3}, {"commission__test": "air"}],
)
def test_figures_are_the_rules_own_results(change: dict[str, object]) -> None:
    design = altered(plan_b(), **change)
    result = reckon(design)
    figures, volume = result.figures, result.charge.contents.total
    flow = design.commission.station_flow_l_h.value / 3.6e6
    filled = filling(
        loop_volume=volume,
        tub_area=design.commission.tub_area_m2.value,
        flow=flow,
        duration=figures["purge_time"].value,
    )
    assert figures["tub_falls"].value == pytest.approx(filled.tub_falls)
    assert figures["colour_time"].value == pytest.approx(filled.colour_changes)
    assert filled.turns == pytest.approx(design.commission.turns.value)
    assert figures["test_pressure"].value == pytest.approx(result.commission.test_pressure)
    if "air_energy" in figures:
        pressure = result.commission.test_pressure + result.charge.atmosphere
        energy = pressure_test.air_energy(pressure_abs=pressure, volume=volume, atmosphere_pa=result.charge.atmosphere)
        assert figures["air_energy"].value == pytest.approx(energy)


# --- what a kit cannot do


@pytest.mark.parametrize(("key", "level", "inputs"), [
    ("sprayer_no_vent", "fix", {"commission__kit": "sprayer", "run__vent_shut_off": False}),
    ("sprayer_column", "fix", {"commission__kit": "sprayer", "charge__filling_gauge_pa": 1.2e5}),
    ("kit_over_rating", "stop", {"charge__filling_gauge_pa": 9e5, "commission__weakest_gauge_pa": 6e5}),
])  # fmt: skip
def test_what_a_kit_cannot_do_is_found_and_its_cure_cures(key: str, level: str, inputs: dict[str, object]) -> None:
    design = altered(plan_b(), **inputs)
    found = {f.key: f for f in reckon(design).commission.findings}
    assert found[key].level == level
    for cure in found[key].cures:
        assert key not in {f.key for f in reckon(changed(design, list(cure.changes))).commission.findings}


@pytest.mark.parametrize("key", EIGHT_FACTS)
@pytest.mark.parametrize("kit", ["station", "drill"])
def test_no_ordinary_plan_is_told_off_for_its_kit(key: str, kit: str) -> None:
    found = {f.key for f in reckon(altered(proposed(key), commission__kit=kit)).commission.findings}
    assert not {"sprayer_no_vent", "sprayer_column", "kit_over_rating"} & found


def test_a_separator_is_opened_where_there_is_one() -> None:
    without, fitted = (steps_of(altered(plan_b(), run__separator=has))["run"] for has in (False, True))
    assert "separator_drips" in {field.key for field in fitted.fields}
    assert "separator_drips" not in {field.key for field in without.fields}
    assert "drips steadily" in fitted.work.text()
