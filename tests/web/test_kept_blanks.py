"""Inputs as pages show them: kept, they are what they would be if they were made anew."""

from __future__ import annotations

from dataclasses import replace

import pytest

from rowan.core.design.changes import Located, changed, inputs, locate
from rowan.core.terms.finding import Change
from rowan.core.terms.language import ENGLISH, Language, spoken_in
from rowan.core.terms.units import SYSTEMS, System
from rowan.web.editing import blanks
from rowan.web.editing.blanks import Blank, blank
from tests.core.designs import plan_a

GERMAN = Language("de", lambda message: f"[{message}]", ",")


@pytest.mark.parametrize("units", SYSTEMS)
@pytest.mark.parametrize("language", [ENGLISH, GERMAN], ids=lambda one: one.key)
def test_every_input_of_a_plan(language: Language, units: System) -> None:
    design = plan_a()
    with spoken_in(language):
        for found in inputs(design):
            # asked for twice: as it is made, and as it was kept
            shown = [blank(design, found.path, units) for _ in range(2)]
            assert shown == [blanks._usual(locate(design, found.path), shown[0].label, units)] * 2


def test_a_kept_one_is_of_its_units_and_its_language() -> None:
    seen = set()
    for units in SYSTEMS:
        for language in (ENGLISH, GERMAN):
            with spoken_in(language):
                for _ in range(2):
                    one = blank(plan_a(), "store.lower_sensor_m", units)
                    seen.add((one.shown, one.limits))
    assert len(seen) == 4


def test_a_change_shows_at_once_with_its_origin() -> None:
    design, path = plan_a(), "store.lower_sensor_m"
    before = blank(design, path, "metric")
    other = 0.35 if before.typed != "0.35" else 0.4
    after = blank(changed(design, [Change(path, other)]), path, "metric")
    assert (after.shown, after.typed, after.origin) == (f"{other:.2f}\N{NO-BREAK SPACE}m", str(other), "measured")
    guessed = blank(changed(design, [Change(path, other, "assumed")]), path, "metric")
    assert (guessed.shown, guessed.origin) == (after.shown, "assumed"), "the same number, and nobody measured it"
    assert blank(design, path, "metric") == before


@pytest.mark.parametrize(("one", "other"), [(0.0, -0.0), (1, True), (1, 1.0)])
def test_what_is_alike_and_typed_in_two_ways_is_told_apart(one: float, other: float) -> None:
    found = locate(plan_a(), "store.lower_sensor_m")

    def kept(value: float) -> Blank:
        where = replace(found, value=value)
        return blanks._kept(where, repr(value), "height", "metric", ENGLISH)

    for value in (one, other, one):
        assert kept(value).typed == blanks.typed_number(Located(found.path, found.spec, value, "agreed"), "metric")
    before = blanks._kept.cache_info().misses
    kept(one)
    kept(other)
    assert blanks._kept.cache_info().misses == before
    assert kept(one) is not kept(other)


def test_what_was_refused_stands_in_it_and_does_not_stay() -> None:
    design, path = plan_a(), "charge.vessel_l"
    usual = blank(design, path, "metric")
    refused = blank(
        design, path, "metric", typed="35,500", error="Two ways", readings=("35.5", "35500"), chosen="agreed"
    )
    assert (refused.typed, refused.error, refused.open, refused.chosen) == ("35,500", "Two ways", True, "agreed")
    assert [text for text, _ in refused.readings] == ["35.5", "35500"]
    assert refused.readings[0][1] != refused.readings[1][1]
    assert blank(design, path, "metric") == usual
    assert not usual.open
