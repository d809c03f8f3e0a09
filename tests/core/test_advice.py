"""A small sample of what `bin/rowan bench advice` counts: first designs are clean, and cures cure."""

from __future__ import annotations

import random
from functools import lru_cache

import pytest

from rowan.command.advice import SEED, Tally, fact_sets, mutated, note
from rowan.core.studies.propose import propose

SAMPLE, MUTATED = 12, 56
LEAST_CLEAN, LEAST_CURED = 0.95, 0.95  # shares asked for of the whole count


@lru_cache
def _first() -> Tally:
    tally = Tally()
    for facts in fact_sets(SAMPLE):
        note(tally, propose(facts), cures=False)
    return tally


@lru_cache
def _second() -> Tally:
    tally, dice = Tally(), random.Random(SEED)
    plans = [propose(facts) for facts in fact_sets(4)]
    for number in range(MUTATED):
        note(tally, mutated(plans[number % len(plans)], dice), cures=True)
    return tally


def test_first_designs_are_clean() -> None:
    assert _first().plans == SAMPLE
    assert _first().clean_share >= LEAST_CLEAN


def test_no_finding_is_everybody_s() -> None:
    assert [key for key, count in _first().fired.items() if count > SAMPLE / 2] == []


def test_cures_cure() -> None:
    found = _second()
    assert sum(found.offered.values()) >= 20, "the sample has something to cure"
    assert found.cured_share >= LEAST_CURED, found.failures


@pytest.mark.parametrize("seed", [SEED, SEED + 1])
def test_the_same_seed_gives_the_same_facts(seed: int) -> None:
    assert list(fact_sets(5, seed)) == list(fact_sets(5, seed))
    assert list(fact_sets(5, seed)) != list(fact_sets(5, seed + 7))
