"""The compiled loop: held to a plain C loop of the same rules, its fast path to its general one, and its one signature."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

from rowan.core.simulation import kernel
from rowan.core.simulation.plant import record_of
from rowan.core.simulation.year import UNWATCHED
from rowan.core.terms.calendar import DAYS
from tests.core import plain_c
from tests.core.plain_c.loops import LOOPS, MINUTE, SKIPPING, compiled_year, given_of


@pytest.mark.skipif(not plain_c.available(), reason="no C compiler")
@pytest.mark.parametrize("name", LOOPS)
def test_every_minute_is_as_in_a_plain_loop_of_the_same_rules(name: str) -> None:
    plain = plain_c.year_of(*given_of(name))()
    found = compiled_year(name, MINUTE)
    assert plain["coil"] > 100 * 3.6e6
    for key, value in plain.items():
        assert found[key] == pytest.approx(value, rel=1e-9, abs=1e-3), key


@pytest.mark.parametrize("name", LOOPS)
def test_long_steps_change_next_to_nothing(name: str) -> None:
    whole, skipping = compiled_year(name, MINUTE), compiled_year(name, SKIPPING)
    assert skipping["coil"] == pytest.approx(whole["coil"], rel=2.5e-4)
    assert skipping["starts"] == pytest.approx(whole["starts"], rel=2.5e-3)
    assert skipping["demand"] == pytest.approx(whole["demand"], rel=1e-12)


@pytest.mark.parametrize("name", ["sealed", "drainback", "direct", "direct where it freezes"])
def test_the_general_path_with_nothing_on_is_the_fast_one(name: str) -> None:
    fast, general = compiled_year(name, MINUTE), compiled_year(name, MINUTE, used=True)
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
