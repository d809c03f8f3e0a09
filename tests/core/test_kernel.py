"""The compiled loop: held to a plain C loop of the same rules, its fast path to its general one, and its one signature."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest

from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.simulation import kernel
from rowan.core.simulation.controller import functions
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.plant import record_of
from rowan.core.simulation.simulate import plane_of, sky_of
from rowan.core.simulation.year import UNWATCHED, feed_of, fresh_state, plant_of
from rowan.core.studies.choices import with_kind
from rowan.core.terms.calendar import DAYS, HOURS
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_a
from rowan.demo.sandreef import sandreef
from tests.core import plain_c

MINUTE = kernel.Paces(60.0, 60.0, 60.0, 60.0)
SKIPPING = kernel.Paces(60.0, 300.0, 900.0, 60.0)
LOOPS = {
    "sealed": kvist_plan_a,
    "drainback": corrim,
    "direct": sandreef,
    "thermosiphon": lambda: with_kind(sandreef(), "thermosiphon"),
    "direct where it freezes": lambda: with_kind(kvist_plan_a(), "direct"),
}


@lru_cache
def given_of(name: str) -> tuple[kernel.Plant, kernel.State, kernel.Feed]:
    """A loop of a kind with nothing beside the two differences, its store in one room and its backup free every day."""
    design: Design = LOOPS[name]()
    found, sky, survey = reckon(design), sky_of(design), design.survey
    system, draws = system_of(design, found, sky.weather), draws_of(design, sky.weather)
    plane = plane_of(sky, survey.roof_tilt_deg.value, survey.roof_azimuth_deg.value, found.site.skyline)
    plant = plant_of(system, draws.tap)._replace(more=functions())
    feed = feed_of(system, draws, system.field.absorbed(plane, sky.weather.air), sky.weather.air, range(DAYS))
    room, one = np.full(HOURS, plant.room), np.ones(HOURS)
    return plant, fresh_state(system), feed._replace(room=room, exposed=one, heats=np.ones(DAYS))


def sums_of(name: str, paces: kernel.Paces, **more: bool) -> dict[str, float]:
    """The sums of a year [J, s] and the highest temperatures [°C]."""
    plant, state, feed = given_of(name)
    if more:
        plant = plant._replace(more=plant.more._replace(**more))
    kept = kernel.Kept(np.zeros((DAYS, len(kernel.SUMS))), np.full(2, -273.0), UNWATCHED, UNWATCHED)
    kernel.run(plant, paces, kernel.State(*(part.copy() for part in state)), feed, kept)
    found = dict(zip(kernel.SUMS, kept.sums.sum(axis=0).tolist(), strict=True))
    return found | {"highest_field": kept.highest[0], "highest_store": kept.highest[1]}


@pytest.mark.skipif(not plain_c.available(), reason="no C compiler")
@pytest.mark.parametrize("name", LOOPS)
def test_every_minute_is_as_in_a_plain_loop_of_the_same_rules(name: str) -> None:
    plain = plain_c.year_of(*given_of(name))()
    found = sums_of(name, MINUTE)
    assert plain["coil"] > 100 * 3.6e6
    for key, value in plain.items():
        assert found[key] == pytest.approx(value, rel=1e-9, abs=1e-3), key


@pytest.mark.parametrize("name", LOOPS)
def test_long_steps_change_next_to_nothing(name: str) -> None:
    whole, skipping = sums_of(name, MINUTE), sums_of(name, SKIPPING)
    assert skipping["coil"] == pytest.approx(whole["coil"], rel=2.5e-4)
    assert skipping["starts"] == pytest.approx(whole["starts"], rel=2.5e-3)
    assert skipping["demand"] == pytest.approx(whole["demand"], rel=1e-12)


@pytest.mark.parametrize("name", ["sealed", "drainback", "direct", "direct where it freezes"])
def test_the_general_path_with_nothing_on_is_the_fast_one(name: str) -> None:
    fast, general = sums_of(name, MINUTE), sums_of(name, MINUTE, used=True)
    for key, value in fast.items():
        assert general[key] == pytest.approx(value, rel=1e-9, abs=1e-3), key


def test_anything_but_its_one_signature_fails_at_once() -> None:
    plant, state, feed = given_of("sealed")
    kept = kernel.Kept(np.zeros((DAYS, len(kernel.SUMS))), np.full(2, -273.0), UNWATCHED, UNWATCHED)
    t = np.concatenate(state[:4])
    record, out = record_of(plant, MINUTE), kernel.tables_of(feed, 1)
    whole = np.zeros(t.size, dtype=np.int64)
    with pytest.raises(TypeError, match="No matching definition"):
        kernel.compiled()(record, (whole, kernel.table_of(plant), state.memory), out, kept)


def test_whole_numbers_run_as_their_floats() -> None:
    plant, state, feed = given_of("sealed")
    found = []
    for start in (8, 8.0):
        kept = kernel.Kept(np.zeros((DAYS, len(kernel.SUMS))), np.full(2, -273.0), UNWATCHED, UNWATCHED)
        moved = kernel.State(*(part.copy() for part in state))
        kernel.run(plant._replace(start=start, stop=3), MINUTE, moved, feed, kept)
        found.append(kept.sums)
    assert (found[0] == found[1]).all()
    assert len(kernel.compiled().overloads) == 1  # type: ignore[attr-defined]


def test_an_edit_of_any_compiled_module_is_compiled_anew() -> None:
    """What is kept on disk is found by the sources of these modules; one that is left out would be answered with old code."""
    folder = Path(kernel.__file__).parent
    with_loops = {
        path.stem
        for path in folder.glob("*.py")
        if re.search(r"^@(called|inlined)$", path.read_text(encoding="utf-8"), re.M)
    }
    named = {Path(str(part.__file__)).stem for part in kernel.PARTS}
    assert len(with_loops) > 4
    assert with_loops <= named
    assert {"plant", "table", "compiling"} <= named, "constants are compiled in as well"
