"""No unsafe silence: frost under a clear sky and scalding water, whoever heats it."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.reckon import reckon
from rowan.core.steps.commission.cautions import bench_cautions, loop_cautions, site_cautions
from rowan.core.steps.store.heat import SCALD_C, hottest_tap
from rowan.core.studies.loop_kinds import objections
from rowan.core.terms.figure import Statement
from rowan.core.terms.finding import Finding
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered, plan_b


def found(design: Design, key: str) -> Finding | None:
    """A finding of a plan."""
    return next((f for f in reckon(design).findings if f.key == key), None)


def warm_place(**more: object) -> Design:
    """The guesthouse's direct loop with its frost protection off."""
    return altered(sandreef(), control__frost=False, **more)


@pytest.mark.parametrize(
    ("collector", "coldest", "wanted"),
    [
        ("Plate 2.3 selective", 3.9, "sky_frost"),
        ("Plate 2.3 selective", 4.0, ""),
        ("Tube 15 direct", 3.0, ""),
        ("Tube 15 direct", 2.0, ""),
        ("Plate 2.3 selective", 1.9, "direct_frost"),
        ("Tube 15 direct", 1.9, "direct_frost"),
    ],
)
def test_plates_freeze_under_a_clear_sky_before_the_air_does(collector: str, coldest: float, wanted: str) -> None:
    design = warm_place(collector__item=COLLECTORS[collector], survey__design_minimum_c=coldest)
    stops = [key for key in ("sky_frost", "direct_frost") if found(design, key)]
    assert stops == ([wanted] if wanted else [])


def test_frost_protection_answers_a_clear_sky_if_it_begins_in_time() -> None:
    late = altered(warm_place(survey__design_minimum_c=3.0), control__frost=True, control__frost_c=2.5)
    finding = found(late, "sky_frost")
    assert finding is not None
    assert finding.level == "stop"
    for cure in finding.cures:
        assert found(changed(late, cure.changes), "sky_frost") is None, cure.label.text()


def test_nothing_guards_a_thermosiphon() -> None:
    siphon = altered(sandreef(), charge__kind="thermosiphon", survey__design_minimum_c=3.0, control__frost=True)
    finding = found(siphon, "sky_frost")
    assert finding is not None
    assert "Frost protection" not in " ".join(cure.label.text() for cure in finding.cures)
    assert "stop" in [o.level for o in objections(siphon, reckon(siphon), "thermosiphon")]


@given(
    maximum=st.floats(40, 90),
    backup=st.floats(30, 90),
    kind=st.sampled_from(["coil", "element", "second", "instant", "none"]),
    weekly=st.booleans(),
)
def test_whoever_heats_the_water_no_tap_scalds_unseen(maximum: float, backup: float, kind: str, weekly: bool) -> None:
    """Without a tempering valve a stop stands just where sun, backup or a weekly pass make the water scald."""
    design = altered(
        plan_b(),
        store__tempering_valve=False,
        store__maximum_c=maximum,
        store__backup_c=backup,
        store__backup=kind,
        store__hygiene="weekly" if weekly else "backup",
    )
    hot = [maximum] + ([backup] + ([60.0] if weekly else []) if kind != "none" else [])
    assert hottest_tap(design) == max(hot)
    finding = found(design, "no_tempering")
    assert (finding is not None) is (max(hot) > SCALD_C)
    for cure in finding.cures if finding else ():
        assert found(changed(design, cure.changes), "no_tempering") is None, cure.label.text()


def test_a_thermosiphon_needs_its_tempering_valve_whatever_its_limit() -> None:
    cool = altered(plan_b(), store__tempering_valve=False, store__maximum_c=45.0, store__backup="none")
    assert found(cool, "no_tempering") is None
    assert found(altered(cool, charge__kind="thermosiphon"), "no_tempering") is not None


def _words(statements: tuple[Statement, ...]) -> str:
    return " ".join(statement.text() for statement in statements)


@pytest.mark.parametrize(
    ("bench", "word"),
    [
        ("survey", "fibre-cement"),
        ("collector", "dry field"),
        ("store", "legionella"),
        ("run", "Soldering"),
        ("charge", "steam"),
        ("control", "licensed"),
        ("parts", "two people"),
        ("commission", "spring"),
    ],
)
def test_a_danger_is_said_where_it_occurs(bench: str, word: str) -> None:
    assert word in _words(bench_cautions(plan_b(), bench))
    assert word in _words((*site_cautions(plan_b()), *loop_cautions(plan_b()))), "and on the job sheet"


def test_a_danger_that_is_not_this_job_s_is_not_said() -> None:
    assert "buried" not in _words(bench_cautions(plan_b(), "run"))
    assert "buried" in _words(bench_cautions(pipwater(), "run"))
    assert "Glycol" not in _words(bench_cautions(sandreef(), "charge"))
    assert "riser" not in _words(bench_cautions(plan_b(), "store"))
    assert "riser" in _words(bench_cautions(altered(plan_b(), store__vacuum_breaker=True), "store"))
    assert "float valve" in _words(bench_cautions(corrim(), "store"))
    assert "float valve" not in _words(bench_cautions(plan_b(), "store"))
    assert bench_cautions(plan_b(), "sun") == ()


def test_a_fire_on_the_tank_heats_it_past_every_limit() -> None:
    cool = altered(plan_b(), store__maximum_c=48.0, store__tempering_valve=False, store__backup="none")
    assert hottest_tap(cool) <= SCALD_C
    fire = altered(cool, store__solid_fuel="vented")
    assert "no_tempering" in {finding.key for finding in reckon(fire).findings}


def test_a_section_with_its_own_relief_may_be_shut_off() -> None:
    shut = altered(plan_b(), run__shut_off_to_relief=True)
    assert "shut_off_to_relief" in {finding.key for finding in reckon(shut).findings}
    assert "shut_off_to_relief" not in {
        finding.key for finding in reckon(altered(shut, run__field_relief=True)).findings
    }


@pytest.mark.parametrize(
    ("change", "key"),
    [
        ({"store__vacuum_breaker": True}, "vacuum_breaker"),
        ({"store__base_m2": 1.2}, "base"),
        ({"store__solid_fuel": "dump"}, "fire_dump"),
        ({"run__field_relief": True}, "field_relief"),
    ],
)
def test_what_makes_it_safe_is_on_the_list(change: dict[str, Any], key: str) -> None:
    assert key not in {part.key for part in reckon(plan_b()).parts.parts}
    assert key in {part.key for part in reckon(altered(plan_b(), **change)).parts.parts}


def test_an_open_store_has_no_relief_and_a_pool_no_tank_to_buy() -> None:
    open_store = {part.key for part in reckon(corrim()).parts.parts}
    assert "store_relief" not in open_store
    assert "store" in open_store
    pool = {part.key for part in reckon(pipwater()).parts.parts}
    assert not {"store", "store_relief", "store_drain", "tempering"} & pool


@pytest.mark.parametrize(("hardness", "found"), [(2.5, False), (2.6, True)])
def test_hard_water_scales_where_it_passes_sixty(hardness: float, found: bool) -> None:
    keys = {f.key: f for f in reckon(altered(plan_b(), survey__hardness_mol_m3=hardness)).findings}
    assert ("hard_water" in keys) is found
    held = altered(plan_b(), survey__hardness_mol_m3=hardness, store__maximum_c=60.0, store__backup_c=60.0)
    assert "hard_water" not in {f.key for f in reckon(held).findings}
    through = altered(sandreef(), survey__hardness_mol_m3=hardness, store__maximum_c=60.0)
    assert ("hard_water" in {f.key for f in reckon(through).findings}) is found, "in the collectors it is always hot"


def test_a_pool_s_field_may_have_a_relief_of_its_own() -> None:
    assert "field_relief" in {part.key for part in reckon(altered(pipwater(), run__field_relief=True)).parts.parts}
    assert "relief" not in _words(bench_cautions(corrim(), "store")), "an open tank has none to be cut off from"
