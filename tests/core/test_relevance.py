"""What a job does not ask for moves nothing in it; what it asks for is counted once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import pytest

from rowan.core.design.changes import Located, asked, assumed, changed, counted, inputs
from rowan.core.design.design import Design
from rowan.core.design.relevance import ASKED, relevant
from rowan.core.reckon import Reckoning, reckon
from rowan.core.studies.choices import with_kind
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from tests.core.designs import altered, plan_a, proposed

KINDS = ("sealed", "direct", "drainback", "thermosiphon")
DUTIES = ("household", "pool", "heating", "process", "slab", "bath")


def _job(kind: str, duty: str) -> Design:
    """A whole plan of a kind for a duty."""
    return altered(with_kind(proposed("aldersund-5-oil"), kind), duty__kind=duty)


def _other(found: Located) -> Any:
    """Another value that the input takes."""
    spec, value = found.spec, found.value
    if spec.kind in ("choice", "flag"):
        return next(key for key, _ in spec.choices if key != value)
    if spec.kind == "whole":
        return value + 1 if value < spec.high else value - 1
    if value is None:
        return (spec.low + spec.high) / 2
    return min(value * 1.1 + 0.01, spec.high) if value < spec.high else value * 0.9


def _moved(design: Design, before: Reckoning, others: Sequence[Located]) -> list[str]:
    """Which of the inputs move something of a plan where they have another value: all at once, and halved where they do."""
    try:
        after = reckon(changed(design, [Change(found.path, _other(found)) for found in others]))
    except RowanError:
        pass  # some of them go with none of the others: each by itself tells
    else:
        if _shown(after) == _shown(before):
            return []
    if len(others) == 1:
        return [others[0].path]
    middle = len(others) // 2
    return _moved(design, before, others[:middle]) + _moved(design, before, others[middle:])


def _shown(result: Reckoning) -> tuple[object, object]:
    """Every figure and every finding with its level."""
    figures = {key: figure.value for key, figure in result.figures.items()}
    return figures, [(finding.key, finding.level) for finding in result.findings]


@pytest.mark.parametrize("duty", DUTIES)
@pytest.mark.parametrize("kind", KINDS)
def test_what_is_not_asked_moves_nothing(kind: str, duty: str) -> None:
    design = _job(kind, duty)
    others = [
        found
        for found in inputs(design)
        if not relevant(design, found.path) and found.spec.kind not in ("text", "item")
    ]
    assert len(others) > 20
    assert _moved(design, reckon(design), others) == []


def test_what_moves_something_is_found_among_what_does_not() -> None:
    design = _job("sealed", "household")
    others = [found for found in inputs(design) if not relevant(design, found.path) and found.spec.kind == "number"]
    asked_for = next(found for found in asked(design) if found.path == "charge.gap_pa")
    assert _moved(design, reckon(design), [*others[:9], asked_for, *others[9:]]) == [asked_for.path]


def test_every_rule_names_an_input() -> None:
    known = {found.path for found in inputs(plan_a())}
    assert set(ASKED) <= known


def test_a_household_is_not_asked_for_its_pool() -> None:
    paths = {found.path for found in asked(plan_a())}
    assert "duty.persons" in paths
    assert not {path for path in paths if path.startswith("duty.pool")}
    pool = {found.path for found in asked(altered(plan_a(), duty__kind="pool"))}
    assert "duty.pool_depth_m" in pool
    assert "duty.persons" not in pool


def test_a_loop_without_pump_has_no_differences_to_guess() -> None:
    paths = {found.path for found in assumed(with_kind(proposed("maravel-8-gas"), "thermosiphon"))}
    assert not {path for path in paths if path.startswith(("control.", "functions."))}


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_counted_is_what_is_asked_and_assumed(kind: str) -> None:
    design = _job(kind, "household")
    assert counted(design) == (len(asked(design)), len(assumed(design)))
    measured = changed(design, [Change("survey.gauge_to_top_m", 8.0)], "measured")
    assert counted(measured) == (counted(design)[0], counted(design)[1] - 1)
