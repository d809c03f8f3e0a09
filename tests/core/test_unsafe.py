"""No unsafe silence: frost under a clear sky and scalding water, whoever heats it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.reckon import reckon
from rowan.core.steps.store.heat import SCALD_C, hottest_tap
from rowan.core.studies.loop_kinds import objections
from rowan.core.terms.finding import Finding
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
