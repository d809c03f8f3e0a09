"""Hunts: what a master looks at tells each fault from every other; time, parts for nothing and danger cost what they should."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import pytest

from rowan.core.practice.hunt import (
    BY_INSTRUMENT,
    CURED,
    CURES,
    DANGER_MARKS,
    HUNTED,
    IN_TIME,
    INSTRUMENTS,
    NAMED,
    PART_MARKS,
    READINGS,
    House,
    house_of,
    judge,
    minutes_of,
    reads,
)
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import reckon
from rowan.core.records.care.faults import BY_KEY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.units import SYSTEMS
from rowan.demo.corrim import corrim
from tests.core.designs import plan_a


@lru_cache
def house(seed: int = 1) -> House:
    design = plan_a()
    return house_of(Ground(design, reckon(design), seed))


def houses(fault: str) -> list[House]:
    """A house for each size of a fault."""
    return [replace(house(), fault=fault, change=change) for change in BY_KEY[fault].sizes]


def seen(one: House, way: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(reads(one, key).text() for key in way)


@pytest.mark.parametrize("fault", HUNTED)
def test_a_master_s_way_tells_a_fault_from_every_other(fault: str) -> None:
    _, way = HUNTED[fault]
    for mine in houses(fault):
        for other in HUNTED:
            for theirs in houses(other) if other != fault else ():
                assert seen(mine, way) != seen(theirs, way), other


@pytest.mark.parametrize("fault", HUNTED)
def test_a_master_has_all_marks(fault: str) -> None:
    cure, way = HUNTED[fault]
    for mine in houses(fault):
        found = judge(mine, way, named=fault, cures=(cure,))
        assert (found.named, found.cured, found.in_time, found.off) == (NAMED, CURED, IN_TIME, 0)
        assert found.words == ()
        assert found.minutes == found.masters


@pytest.mark.parametrize("fault", HUNTED)
def test_a_part_for_nothing_and_a_wrong_name_lose_marks_in_words(fault: str) -> None:
    cure, way = HUNTED[fault]
    mine = houses(fault)[0]
    spare = next(one for one in CURES if one.part and one.key != cure)
    found = judge(mine, way, named=fault, cures=(cure, spare.key))
    assert found.cured == CURED - PART_MARKS
    assert found.words[0].text() == f"{spare.name}: changed for nothing"
    other = next(key for key in HUNTED if key != fault)
    lost = judge(mine, way, named=other, cures=(spare.key,))
    assert lost.total == max(IN_TIME * 0 - PART_MARKS, 0)
    assert lost.words[0].text().startswith("It was: ")


def test_time_is_worth_less_the_longer_it_takes() -> None:
    mine = houses("lost_pressure")[0]
    cure, way = HUNTED["lost_pressure"]
    worth = [
        judge(mine, (*way, *more), named="lost_pressure", cures=(cure,)).in_time
        for more in ((), ("can",), ("can", "hand"), ("clamp", "settings"))
    ]
    assert worth[0] == worth[1] == IN_TIME
    assert worth[1] > worth[2] > worth[3]


def test_a_guess_and_a_danger_are_not_rewarded() -> None:
    mine = houses("air")[0]
    cure, way = HUNTED["air"]
    guessed = judge(mine, (), named="air", cures=(cure,))
    assert (guessed.named, guessed.in_time) == (0, 0)
    assert "guessed" in guessed.words[-1].text()
    opened = judge(mine, (*way, "open"), named="air", cures=(cure,))
    assert opened.off == DANGER_MARKS
    assert any("cold, with the pump off" in words.text() for words in opened.words)


def test_an_instrument_is_paid_for_once() -> None:
    assert minutes_of(("gauge", "gauge", "clamp")) == minutes_of(("gauge", "clamp")) == 6


@pytest.mark.parametrize("instrument", READINGS)
def test_every_instrument_shows_something_in_every_house(instrument: str) -> None:
    for fault in HUNTED:
        for one in houses(fault):
            for units in SYSTEMS:
                text = reads(one, instrument).text(units)
                assert text
                assert "{" not in text


def test_seeds_hide_every_fault_and_repeat_exactly() -> None:
    assert {house(seed).fault for seed in range(120)} == set(HUNTED)
    assert house(7) == house_of(house(7).ground)


def test_tables_belong_together() -> None:
    assert set(BY_INSTRUMENT) == set(READINGS)
    assert len(INSTRUMENTS) == len(BY_INSTRUMENT)
    cures = {one.key for one in CURES}
    for fault, (cure, way) in HUNTED.items():
        assert fault in BY_KEY
        assert cure in cures
        assert set(way) <= set(BY_INSTRUMENT)
        assert not any(BY_INSTRUMENT[key].hurts for key in way)


def test_what_there_is_not_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="no instrument"):
        reads(house(), "crystal ball")
    design = corrim()
    with pytest.raises(ImpossibleInputError, match="sealed loop"):
        house_of(Ground(design, reckon(design), 1))
