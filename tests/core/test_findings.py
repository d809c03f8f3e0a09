"""Each rule is tried: it fires for a change of the built house, and stops after its cure."""

from __future__ import annotations

import re
from typing import Any

import pytest

from rowan.core.appraise.appraisal import appraised
from rowan.core.design.changes import assumed, changed, inputs
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import COLLECTORS, LARGE_PUMP, PIPES, STORES
from rowan.core.reckon import reckon
from rowan.core.studies.choices import with_what_belongs
from rowan.core.studies.cures import Effect, cure_effect
from rowan.core.terms.finding import Change, Cure, Finding, gravest
from tests.core.designs import altered, plan_a, plan_b, proposed

SMALL_COIL = STORES["Store 300 twin coil"].model_copy(update={"coil_area_m2": 0.6})
THICK_PIPE = PIPES["Copper 35 × 1.2"]

# (finding, level, changes to the built Kvist house that break the rule)
RULES: list[tuple[str, str, dict[str, Any]]] = [
    ("plastic_on_loop", "stop", {"run__pipe": PIPES["Plastic 20 × 2"]}),
    ("ethylene", "stop", {"charge__fluid": "ethylene"}),
    ("shut_off_to_relief", "stop", {"run__shut_off_to_relief": True}),
    ("no_tempering", "stop", {"store__tempering_valve": False}),
    ("part_rating", "stop", {"run__joint_rating_c": 150.0}),
    ("freezes", "stop", {"charge__share": 0.25}),
    ("vessel_small", "stop", {"charge__vessel_l": 8.0}),
    ("setting_impossible", "stop", {"charge__school": "typed", "charge__typed_fill_gauge_pa": 50e3}),
    ("vessel_empty", "stop", {"charge__school": "equal"}),
    ("top_negative", "stop", {"charge__school": "raised", "survey__gauge_to_top_m": 34.5}),
    (
        "tilt_outside",
        "stop",
        {
            "collector__item": COLLECTORS["Tube 20 heat pipe"],
            "survey__roof_tilt_deg": 10.0,
            "run__joint_rating_c": 320.0,
        },
    ),
    ("stop_over_start", "stop", {"control__stop_k": 9.0}),
    ("floor_overloaded", "stop", {"survey__floor_limit_kg_m2": 900.0}),
    ("store_relief", "stop", {"store__relief_free": False}),
    ("frost_margin", "fix", {"charge__share": 0.35}),
    ("top_low", "fix", {"charge__school": "typed", "charge__typed_fill_gauge_pa": 125e3}),
    ("galvanised", "fix", {"run__pipe": PIPES["Galvanised ¾"]}),
    ("no_non_return", "fix", {"run__non_return": False}),
    ("high_point_hot_h4", "fix", {"run__hot__h4__rise_m": 0.30, "run__hot__h6__rise_m": -0.40}),
    ("top_unvented", "fix", {"run__hot__h1__vented": False}),
    ("leg_too_short_hot_h2", "fix", {"run__hot__h2__length_m": 1.0}),
    ("vent_steam", "fix", {"run__vent_shut_off": False}),
    ("coil_small", "fix", {"store__item": SMALL_COIL}),
    (
        "too_fast",
        "fix",
        {
            "run__pipe": PIPES["Copper 15 × 1"],
            "run__pump": LARGE_PUMP,
            "run__speed": 3,
            "run__bends": 0,
            "collector__count": 6,
            "roof__hot_hole_x_m": None,
            "roof__cold_hole_x_m": None,
        },
    ),
    ("narrow_band", "fix", {"control__start_k": 4.5}),
    ("stop_below_floor", "fix", {"control__stop_k": 1.5}),
    ("faces_away", "fix", {"survey__roof_azimuth_deg": 30.0}),
    ("no_hygiene", "fix", {"store__hygiene": "none"}),
    ("sensor_off_coil", "fix", {"store__lower_sensor_m": 0.95}),
    ("coil_ports", "fix", {"store__coil_top_m": 0.10}),
    ("cut_out_high", "fix", {"control__cut_out_c": 200.0, "run__joint_rating_c": 180.0}),
    ("store_size", "mind", {"store__item": STORES["Store 400 twin coil"]}),
    ("store_size", "fix", {"store__item": STORES["Store 150 twin coil"]}),
    ("too_slow", "mind", {"run__pipe": THICK_PIPE}),
    ("floor_overloaded", "stop", {"survey__floor_limit_kg_m2": 900.0}),
    ("hard_water", "fix", {"survey__hardness_mol_m3": 3.6}),
    ("chloride", "fix", {"survey__chloride_kg_m3": 0.08, "store__material": "stainless"}),
    ("chloride", "fix", {"survey__chloride_kg_m3": 0.3, "store__material": "molybdenum"}),
    ("fire_unvented", "stop", {"store__solid_fuel": "bare"}),
    ("kept_little", "mind", {"charge__vessel_l": 8.0}),
    (
        "membrane_hot",
        "mind",
        {
            "charge__steaming_w_m2": 120.0,
            "run__pipe": PIPES["Copper 12 × 1"],
            "collector__count": 3,
            "charge__vessel_l": 80.0,
        },
    ),
    ("flow_outside", "mind", {"run__speed": 3}),
    (
        "cold_start_slow",
        "mind",
        {"charge__share": 0.6, "run__bends": 45, "run__pipe": PIPES["Copper 15 × 1"], "collector__working_c": 90.0},
    ),
    ("start_unusual", "mind", {"control__start_k": 15.0}),
    ("stop_high", "mind", {"control__stop_k": 7.0, "control__start_k": 12.0}),
    ("store_limit", "mind", {"store__maximum_c": 92.0}),
    ("bends_few", "mind", {"run__bends": 9}),
    ("purge_slow", "fix", {"commission__station_flow_l_h": 200.0}),
    ("air_test", "mind", {"commission__test": "air"}),
]


def _keys(design: Design) -> dict[str, str]:
    return {finding.key: finding.level for finding in reckon(design).findings}


def _effect(design: Design, finding: Finding, cure: Cure) -> Effect:
    return cure_effect(design=design, before=reckon(design), finding=finding, cure=cure)


@pytest.mark.parametrize(("key", "level", "change"), RULES, ids=[f"{key}-{level}" for key, level, _ in RULES])
def test_a_rule_fires_and_stops_after_its_cure(key: str, level: str, change: dict[str, Any]) -> None:
    assert key not in _keys(plan_b()), "the built house keeps this rule"
    broken = altered(plan_b(), **change)
    result = reckon(broken)
    finding = next((f for f in result.findings if f.key == key), None)
    assert finding is not None, f"{key} did not fire; found {[f.key for f in result.findings]}"
    assert finding.level == level
    assert finding.reason.text().endswith(".")
    assert finding.source
    assert finding.cures, "a finding offers a cure"
    healed = [key not in _keys(changed(broken, with_what_belongs(broken, cure.changes))) for cure in finding.cures]
    assert any(healed), f"no cure of {key} cures it"
    effects = [_effect(broken, finding, cure) for cure in finding.cures]
    # what is offered cures, or brings something as grave and says so
    assert all(healed[number] for number, effect in enumerate(effects) if effect.cures)
    assert any(effect.cures for effect in effects)


def test_there_are_twenty_rules_and_more() -> None:
    assert len({key for key, _, _ in RULES}) >= 20


def test_what_nobody_measured_is_a_guess_and_no_finding() -> None:
    guessed = changed(plan_b(), [Change(found.path, found.value, "assumed") for found in inputs(plan_b())])
    assert _keys(guessed) == _keys(plan_b())
    assert len(assumed(guessed)) > 60
    assert not [key for key in _keys(guessed) if key.endswith(("_assumed", "_unknown"))]


def test_a_direct_loop_where_it_freezes_is_stopped() -> None:
    frozen = altered(proposed("maravel-8-gas"), survey__design_minimum_c=-6.0)
    finding = next(f for f in reckon(frozen).findings if f.key == "direct_frost")
    assert finding.level == "stop"
    assert "direct_frost" not in _keys(changed(frozen, finding.cures[0].changes))


def test_a_weak_main_is_found_on_a_direct_loop() -> None:
    assert _keys(altered(proposed("maravel-8-gas"), charge__mains_gauge_pa=60e3))["mains_weak"] == "fix"


def test_hunting_s_cures_calm_it_and_say_by_how_many_starts() -> None:
    restless = altered(plan_a(), control__stop_k=5.0)
    judged = appraised(restless, reckon(restless), cures=True)
    finding = next(f for f in judged.findings if f.key == "hunting")
    assert finding.level == "fix"
    assert finding.cures
    for cure in finding.cures:
        effect = _effect(restless, finding, cure)
        assert effect.cures
        often, seldom = re.search(r"(\d+) needless starts a day become (\d+)", effect.sentence.text()).groups()  # type: ignore[union-attr]
        assert int(often) > 20
        assert int(seldom) <= 10


def test_findings_come_gravest_first() -> None:
    broken = altered(plan_a(), charge__vessel_l=8.0, run__non_return=False)
    levels = [f.level for f in reckon(broken).findings]
    assert levels == sorted(levels, key=["stop", "fix", "mind"].index)
    assert gravest(reckon(broken).findings) == "stop"


def test_by_how_much_is_the_difference_of_two_reckonings() -> None:
    broken = altered(plan_b(), charge__vessel_l=12.0)
    before = reckon(broken)
    finding = next(f for f in before.findings if f.key == "vessel_small")
    effect = _effect(broken, finding, finding.cures[0])
    after = reckon(changed(broken, finding.cures[0].changes))
    new = after.figures["stagnation_pressure"].quantity.shown()
    assert new in effect.sentence.text()
