"""What a job does not ask for moves nothing in it; what it asks for is counted once."""

from __future__ import annotations

from typing import Any

import pytest

from rowan.core.design.changes import asked, assumed, changed, inputs
from rowan.core.design.design import Design
from rowan.core.design.relevance import ASKED, relevant
from rowan.core.reckon import reckon
from rowan.core.studies.choices import with_kind
from rowan.core.terms.finding import Change
from tests.core.designs import altered, plan_a, proposed

KINDS = ("sealed", "direct", "drainback", "thermosiphon")
DUTIES = ("household", "pool", "heating", "process", "slab", "bath")


def _job(kind: str, duty: str) -> Design:
    """A whole plan of a kind for a duty."""
    return altered(with_kind(proposed("aldersund-5-oil"), kind), duty__kind=duty)


def _other(found: Any) -> Any:
    """Another value that the input takes."""
    spec, value = found.spec, found.value
    if spec.kind in ("choice", "flag"):
        return next(key for key, _ in spec.choices if key != value)
    if spec.kind == "whole":
        return value + 1 if value < spec.high else value - 1
    if value is None:
        return (spec.low + spec.high) / 2
    return min(value * 1.1 + 0.01, spec.high) if value < spec.high else value * 0.9


@pytest.mark.parametrize("duty", DUTIES)
@pytest.mark.parametrize("kind", KINDS)
def test_what_is_not_asked_moves_nothing(kind: str, duty: str) -> None:
    design = _job(kind, duty)
    before = reckon(design)
    shown = {key: figure.value for key, figure in before.figures.items()}
    levels = [(finding.key, finding.level) for finding in before.findings]
    moved = []
    for found in inputs(design):
        if relevant(design, found.path) or found.spec.kind in ("text", "item"):
            continue
        after = reckon(changed(design, [Change(found.path, _other(found))]))
        if {key: figure.value for key, figure in after.figures.items()} != shown:
            moved.append((found.path, "figures"))
        if [(finding.key, finding.level) for finding in after.findings] != levels:
            moved.append((found.path, "findings"))
    assert moved == []


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
