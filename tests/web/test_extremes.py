"""Every input at both its ends, and facts at random: each bench draws it, or the core refuses it in words."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from functools import lru_cache

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import changed, inputs
from rowan.core.design.design import Design
from rowan.core.design.relevance import relevant
from rowan.core.goods.catalogue import COLLECTORS, PIPES, PUMPS, STORES
from rowan.core.goods.places import PLACES
from rowan.core.reckon import reckon
from rowan.core.studies.cures import cure_effect
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.units import SYSTEMS, System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import loop_drawing, small_loop
from rowan.web.editing.blanks import sentence
from rowan.web.steps.registry import PAGES
from rowan.web.ui.window_bar import window_bar
from tests.core.designs import altered, plan_a, proposed

NUMBERS = [f.path for f in inputs(plan_a()) if f.spec.kind in ("number", "whole") and f.spec.low is not None]
CHOICES = [(f.path, key) for f in inputs(plan_a()) if f.spec.kind in ("choice", "flag") for key, _ in f.spec.choices]
ITEMS = [("collector.item", i) for i in COLLECTORS.values()] + [("store.item", i) for i in STORES.values()]
ITEMS += [("run.pipe", i) for i in PIPES.values()] + [("run.pump", i) for i in PUMPS.values()]
BAD_NUMBER = re.compile(r"\b(nan|inf)\b")


@lru_cache
def usual_findings(key: str) -> frozenset[str]:
    """What the unchanged plan says anyway: its cures are tried once, not with each of its inputs."""
    return frozenset(finding.key for finding in reckon(PLANS[key]()).findings)


PLANS = {
    "kvist": plan_a,
    "maravel": lambda: proposed("maravel-8-gas"),
    "slab": lambda: altered(proposed("aldersund-5-oil"), duty__kind="slab"),
    "bath": lambda: altered(proposed("aldersund-5-oil"), duty__kind="bath"),
}


def draw_everything(design: Design, systems: tuple[System, ...] = SYSTEMS, plan: str = "") -> None:
    """All drawings, sentences, window bars and cure effects of a design; the core may refuse it.

    Of a change to a `plan` the cures of what the change brings are tried.
    """
    try:
        result = reckon(design)
    except RowanError as error:
        assert len(str(error)) > 10
        return
    for finding in result.findings:
        assert "{" not in finding.title.text() + finding.reason.text()
        for cure in finding.cures if not plan or finding.key not in usual_findings(plan) else ():
            cure_effect(design=design, before=result, finding=finding, cure=cure)
    for units in systems:
        sheet = Sheet(design, result, units)
        drawings = [loop_drawing(sheet, "run", lambda bench: f"/{bench}/").svg(), small_loop(sheet).svg()]
        for bench in PAGES.values():
            assert "{" not in bench.verdict(sheet).text(units)
            sentence(bench.line(sheet), design, units)
            drawings += [block.drawing.svg() for block in bench.blocks(sheet) if block.drawing]
            bench.context(sheet)
        for figure in result.figures.values():
            figure.printed_digits()
            bar = window_bar(figure, units)
            drawings += [bar.svg] if bar else []
        for drawing in drawings:
            ET.fromstring(drawing)  # our own markup must be well formed
            if "nan" in drawing or "inf" in drawing:
                assert not BAD_NUMBER.search(drawing), BAD_NUMBER.search(drawing)


@pytest.mark.parametrize("end", ["low", "high"])
@pytest.mark.parametrize("path", NUMBERS)
def test_an_input_at_its_end(path: str, end: str) -> None:
    spec = next(f.spec for f in inputs(plan_a()) if f.path == path)
    value = getattr(spec, end)
    try:
        design = changed(plan_a(), [Change(path, int(value) if spec.kind == "whole" else float(value))])
    except RowanError as error:
        assert len(str(error)) > 10
        return
    if not relevant(plan_a(), path):
        # not this plan's: it moves nothing, which tests of its own hold; it is reckoned, and not drawn a second time
        assert reckon(design).figures.keys() == reckon(plan_a()).figures.keys()
        return
    draw_everything(design, ("metric",) if end == "low" else ("us",), "kvist")


@pytest.mark.parametrize(("path", "value"), CHOICES, ids=[f"{p}-{v}" for p, v in CHOICES])
def test_a_choice(path: str, value: object) -> None:
    # every other choice in the other units
    system = SYSTEMS[CHOICES.index((path, value)) % 2]
    draw_everything(changed(plan_a(), [Change(path, value)]), (system,), "kvist")


@pytest.mark.parametrize(("path", "item"), ITEMS, ids=[f"{p}-{i.name}" for p, i in ITEMS])
def test_an_item_of_the_catalogue(path: str, item: object) -> None:
    draw_everything(changed(plan_a(), [Change(path, item)]), ("metric",), "kvist")
    draw_everything(changed(proposed("maravel-8-gas"), [Change(path, item)]), ("us",), "maravel")


@pytest.mark.parametrize("plan", PLANS)
def test_the_plans_themselves_with_all_their_cures(plan: str) -> None:
    draw_everything(PLANS[plan]())


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    place=st.sampled_from(list(PLACES.values())),
    azimuth=st.floats(0, 360),
    tilt=st.floats(0, 90),
    persons=st.integers(1, 40),
    heater=st.sampled_from(["oil", "gas", "electric"]),
    storeys=st.integers(1, 8),
)
def test_facts_at_random(place: object, azimuth: float, tilt: float, persons: int, heater: str, storeys: int) -> None:
    facts = Facts(place, azimuth, tilt, "tile", persons, heater, storeys)
    try:
        design = propose(facts)
    except RowanError as error:
        assert len(str(error)) > 10
        return
    draw_everything(design)
