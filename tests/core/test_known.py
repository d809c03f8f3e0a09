"""What is taken over from a known reckoning is what would be reckoned anew: for every input, at both its ends."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import pytest

from rowan.core.design.changes import Located, changed, inputs
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from tests.core.designs import altered, plan_a, proposed
from tests.core.together import lots


def told(result: Reckoning) -> dict[str, object]:
    """Everything a page reads of a reckoning."""
    return {
        "figures": {key: (f.value, f.window, f.basis, f.why.sentence) for key, f in result.figures.items()},
        "findings": [(f.key, f.level, f.title, f.reason) for f in result.findings],
        "parts": [(p.key, p.quantity.value) for p in result.parts.parts],
        "steps": [(s.key, s.gauge, [t.quantity.value for t in s.targets]) for s in result.commission.steps],
    }


def values(found: Located) -> list[object]:
    spec = found.spec
    if spec.kind in ("choice", "flag"):
        return [key for key, _ in spec.choices]
    if spec.kind in ("number", "whole") and spec.low is not None and spec.high is not None:
        kind = int if spec.kind == "whole" else float
        return [kind(spec.low), kind(spec.high)]
    return []


DESIGNS: dict[str, Callable[[], Design]] = {"sealed": plan_a, "direct": lambda: proposed("maravel-8-gas")}


@cache
def known_of(kind: str) -> Known:
    """A plan with its reckoning, from which changed ones take over."""
    design = DESIGNS[kind]()
    return Known(design, reckon(design))


@cache
def lots_of(kind: str) -> list[list[Change]]:
    """Every value at the end of an input that leaves the run as it is, some at a time."""
    known = known_of(kind)
    found = []
    for one in inputs(known.design):
        for value in values(one):
            try:
                after = changed(known.design, [Change(one.path, value)])
            except RowanError:
                continue
            if known.runs_alike(after):
                found.append(Change(one.path, value))
    return list(lots(found))


def compared(known: Known, changes: list[Change]) -> int:
    """Holds what is taken over to what is reckoned anew; what the core refuses together is held by halves. How many were held."""
    try:
        after = changed(known.design, changes)
        fresh = reckon(after)
    except RowanError:
        if len(changes) == 1:
            return 0
        middle = len(changes) // 2
        return compared(known, changes[:middle]) + compared(known, changes[middle:])
    assert known.runs_alike(after)
    assert told(reckon(after, known)) == told(fresh), changes
    return len(changes)


PARTS = 8


@pytest.mark.parametrize("part", range(PARTS))
@pytest.mark.parametrize("kind", DESIGNS)
def test_taken_over_is_reckoned_anew(kind: str, part: int) -> None:
    mine = lots_of(kind)[part::PARTS]
    held = sum(compared(known_of(kind), lot) for lot in mine)
    assert held > 0.8 * sum(map(len, mine)), "most of them can be reckoned"


def test_what_moves_the_run_is_never_taken_over() -> None:
    known = known_of("sealed")
    for found in inputs(known.design):
        step = found.path.split(".")[0]
        if step not in ("survey", "sun", "duty", "collector", "store", "run"):
            continue
        for value in values(found):
            if value != found.value:
                try:
                    after = changed(known.design, [Change(found.path, value)])
                except RowanError:
                    continue
                assert not known.runs_alike(after), found.path


def test_a_change_of_the_charge_takes_the_run_over() -> None:
    known = Known(plan_a(), reckon(plan_a()))
    gap = changed(plan_a(), [Change("charge.gap_pa", 50e3)])
    assert reckon(gap, known).run is known.result.run
    mix = changed(plan_a(), [Change("charge.share", 0.5)])
    assert reckon(mix, known).run is not known.result.run


def test_how_the_field_stands_is_never_taken_over() -> None:
    rows = {"collector__count": 4, "collector__rows": "2 + 2"}
    flush = altered(plan_a(), **rows)
    ground = altered(flush, roof__way="ground", roof__tilt_deg=55.0)
    for before, after in (
        (flush, ground),
        (ground, altered(ground, roof__tilt_deg=30.0)),
        (ground, altered(ground, roof__row_pitch_m=3.0)),
    ):
        known = Known(before, reckon(before))
        assert told(reckon(after, known)) == told(reckon(after))
        assert not known.runs_alike(after)
