"""Valves of one tank or two: drawn with the numbers of the table and the tags, open and shut as in the mode."""

from __future__ import annotations

import re

import pytest

from rowan.core.reckon import reckon
from rowan.core.steps.store.modes import VALVES, Arrangement, modes_of, tanks_of
from rowan.web.benches.bench import Sheet
from rowan.web.steps.store.drawing import cut_away
from rowan.web.steps.store.valves import BEFORE_INLET, VALVE_AT, valves_drawing
from tests.core.designs import altered, plan_b


@pytest.mark.parametrize("arrangement", ["one", "two"])
def test_every_valve_of_the_table_is_drawn_as_it_stands(arrangement: Arrangement) -> None:
    assert set(VALVE_AT[arrangement]) == set(VALVES[arrangement])
    for mode in modes_of(arrangement, heater="boiler"):
        svg = str(valves_drawing(arrangement, mode, relief_free=True).svg())
        told = dict(re.findall(r"<title>valve (\d): (open|shut)</title>", svg))
        assert told == {number: "open" if is_open else "shut" for number, is_open in mode.valves.items()}
        assert svg.count("valve-open") == sum(mode.valves.values())


@pytest.mark.parametrize("arrangement", ["one", "two"])
def test_each_tank_has_its_relief_where_it_sits(arrangement: Arrangement) -> None:
    mode = modes_of(arrangement, heater="boiler")[0]
    free, pipe = (str(valves_drawing(arrangement, mode, relief_free=on).svg()) for on in (True, False))
    assert free.count("<title>relief</title>") == pipe.count("<title>relief</title>") == len(tanks_of(arrangement))
    for tank in tanks_of(arrangement):
        x, y = BEFORE_INLET[tank]
        assert f"M{x:.1f} {y - 4:.1f}" in pipe
        assert f"M{x:.1f} {y - 4:.1f}" not in free


def test_what_lay_lukewarm_is_heated_through_in_the_readers_degrees() -> None:
    after = [mode.after for mode in modes_of("two", heater="boiler") if mode.after]
    told = [words.text("us") for words in after]
    assert any("140" in words for words in told)
    assert not any(re.search(r"\b60\b", words) for words in told)


@pytest.mark.parametrize(
    ("backup", "says", "never"),
    [
        ("coil", "kept warm by the boiler", "not connected"),
        ("second", "to the second tank", "kept warm by the boiler"),
        ("instant", "to the instant heater", "kept warm by the boiler"),
        ("none", "not connected", "kept warm by the boiler"),
    ],
)
def test_the_store_is_drawn_with_what_heats_it(backup: str, says: str, never: str) -> None:
    design = altered(plan_b(), store__backup=backup)
    assert design.store.item.value.twin_coil
    svg = str(cut_away(Sheet(design, reckon(design), "metric")).svg())
    assert says in svg
    assert never not in svg
