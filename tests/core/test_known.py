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


def told(result: Reckoning) -> dict[str, object]:
    """Everything a page reads of a reckoning."""
    return {
        "figures": {
            key: (f.value, f.window, f.basis.text(), f.why.sentence.text()) for key, f in result.figures.items()
        },
        "findings": [(f.key, f.level, f.title.text(), f.reason.text()) for f in result.findings],
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


@pytest.mark.parametrize("path", [found.path for found in inputs(plan_a())])
@pytest.mark.parametrize("kind", DESIGNS)
def test_taken_over_is_reckoned_anew(kind: str, path: str) -> None:
    known = known_of(kind)
    design = known.design
    found = next((f for f in inputs(design) if f.path == path), None)
    for value in values(found) if found else ():
        try:
            after = changed(design, [Change(path, value)])
            if not known.runs_alike(after):
                continue  # nothing is taken over: it is reckoned anew
            fresh = reckon(after)
        except RowanError:
            continue
        assert told(reckon(after, known)) == told(fresh), (path, value)


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
