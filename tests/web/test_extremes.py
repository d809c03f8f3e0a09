"""Every input at both its ends, and facts at random: each bench draws it, or the core refuses it in words."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from collections.abc import Sequence
from functools import cache, lru_cache

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import asked, changed, inputs
from rowan.core.design.design import Design
from rowan.core.design.relevance import relevant
from rowan.core.goods.catalogue import COLLECTORS, PIPES, PUMPS, STORES
from rowan.core.goods.places import PLACES
from rowan.core.reckon import Reckoning, reckon
from rowan.core.studies.cures import cure_effect
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import SYSTEMS, System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import loop_drawing, small_loop
from rowan.web.editing.blanks import sentence
from rowan.web.steps.registry import PAGES
from rowan.web.ui.window_bar import window_bar
from tests.core.designs import altered, plan_a, proposed
from tests.core.together import AT_ONCE, lots
from tests.web.heard import heard

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
    """All of a design drawn; the core may refuse it."""
    try:
        result = reckon(design)
    except RowanError as error:
        assert len(str(error)) > 10
        return
    draw_reckoned(design, result, systems, plan)


def draw_reckoned(design: Design, result: Reckoning, systems: tuple[System, ...], plan: str = "") -> None:
    """All drawings, sentences, window bars and cure effects of a design, in words that every catalogue has.

    Of a change to a `plan` the cures of what the change brings are tried.
    """
    with heard(design):
        _draw(design, result, systems, plan)


def _draw(design: Design, result: Reckoning, systems: tuple[System, ...], plan: str) -> None:
    for finding in result.findings:
        labels = "".join(cure.label.text() + (cure.note.text() if cure.note else "") for cure in finding.cures)
        assert "{" not in finding.title.text() + finding.reason.text() + labels
        for cure in finding.cures if not plan or finding.key not in usual_findings(plan) else ():
            cure_effect(design=design, before=result, finding=finding, cure=cure)
    for units in systems:
        sheet = Sheet(design, result, units)
        drawings = [loop_drawing(sheet, "run", lambda bench: f"/{bench}/").svg(), small_loop(sheet).svg()]
        for bench in PAGES.values():
            assert "{" not in bench.verdict(sheet).text(units)
            sentence(bench.line(sheet), design, units)
            for block in bench.blocks(sheet):
                assert tr(block.title)
                tr(block.note)
                drawings += [block.drawing.svg()] if block.drawing else []
            bench.context(sheet)
        for figure in result.figures.values():
            figure.printed_digits()
            assert "{" not in str(figure.name) + figure.basis.text(units) + figure.why.sentence.text(units)
            assert figure.window is None or figure.window.source_text(units)
            bar = window_bar(figure, units)
            drawings += [bar.svg] if bar else []
        for drawing in drawings:
            ET.fromstring(drawing)  # our own markup must be well formed
            if "nan" in drawing or "inf" in drawing:
                assert not BAD_NUMBER.search(drawing), BAD_NUMBER.search(drawing)


def draw_together(changes: Sequence[Change], systems: tuple[System, ...], plan: str) -> None:
    """A plan with all these changes, drawn; what the core refuses together is drawn by halves, down to each by itself."""
    try:
        design = changed(PLANS[plan](), changes)
        result = reckon(design)
    except RowanError as error:
        assert len(str(error)) > 10
        if len(changes) > 1:
            middle = len(changes) // 2
            draw_together(changes[:middle], systems, plan)
            draw_together(changes[middle:], systems, plan)
        return
    draw_reckoned(design, result, systems, plan)


def _ends(end: str, *, asked: bool) -> list[Change]:
    """Every input that a plan asks for, or those that are not its own, at one of its ends."""
    found = []
    for one in inputs(plan_a()):
        if one.path in NUMBERS and relevant(plan_a(), one.path) is asked:
            value = getattr(one.spec, end)
            found.append(Change(one.path, int(value) if one.spec.kind == "whole" else float(value)))
    return found


# inputs far from each other in a plan are drawn at their ends together
GROUPS = -(-len(_ends("low", asked=True)) // AT_ONCE)


@pytest.mark.parametrize("end", ["low", "high"])
@pytest.mark.parametrize("group", range(GROUPS))
def test_inputs_at_their_ends(group: int, end: str) -> None:
    draw_together(_ends(end, asked=True)[group::GROUPS], ("metric",) if end == "low" else ("us",), "kvist")


def test_every_input_is_in_a_group() -> None:
    grouped = {change.path for group in range(GROUPS) for change in _ends("low", asked=True)[group::GROUPS]}
    assert grouped | {change.path for change in _ends("low", asked=False)} == set(NUMBERS)


@pytest.mark.parametrize("end", ["low", "high"])
def test_what_is_not_this_plan_s_is_reckoned_at_its_ends(end: str) -> None:
    # it moves nothing, which tests of its own hold: it is not drawn a second time
    usual = reckon(plan_a()).figures.keys()
    for change in _ends(end, asked=False):
        try:
            design = changed(plan_a(), [change])
        except RowanError as error:
            assert len(str(error)) > 10
            continue
        assert reckon(design).figures.keys() == usual, change.path


@cache
def _asked_by(path: str, value: object) -> frozenset[str] | None:
    """The inputs that the plan asks for with a choice; None for one that is its own already, or none of its own at all."""
    design = changed(plan_a(), [Change(path, value)])
    if design == plan_a() or not relevant(plan_a(), path):
        return None
    return frozenset(found.path for found in asked(design))


@cache
def _choices(*, turning: bool) -> list[Change]:
    """Choices that make the plan ask for other inputs, or those that do not."""
    usual = frozenset(found.path for found in asked(plan_a()))
    return [
        Change(path, value)
        for path, value in CHOICES
        if (paths := _asked_by(path, value)) is not None and (paths != usual) is turning
    ]


SLICES = 16


@pytest.mark.parametrize("part", range(SLICES))
def test_choices(part: int) -> None:
    """What turns the plan into another is drawn by itself; the others some at a time, every second lot in the other units."""
    for change in _choices(turning=True)[part::SLICES]:
        draw_together([change], ("metric",), "kvist")
    for number, few in enumerate(lots(_choices(turning=False)[part::SLICES])):
        draw_together(few, (SYSTEMS[(part + number) % 2],), "kvist")


def test_every_choice_is_drawn_or_is_not_this_plan_s() -> None:
    drawn = {(change.path, change.value) for turning in (True, False) for change in _choices(turning=turning)}
    assert len(_choices(turning=True)) > 10
    usual = reckon(plan_a()).figures.keys()
    for path, value in CHOICES:
        if (path, value) in drawn:
            continue
        design = changed(plan_a(), [Change(path, value)])
        # its own choice is drawn with the plan itself
        assert design == plan_a() or reckon(design).figures.keys() == usual, path


# one of each kind at a time: the longest list says how many plans it takes
SHELVES = [[change for change in ITEMS if change[0] == path] for path in dict.fromkeys(path for path, _ in ITEMS)]


@pytest.mark.parametrize("number", range(max(map(len, SHELVES))))
def test_items_of_the_catalogue(number: int) -> None:
    taken = [Change(*shelf[number % len(shelf)]) for shelf in SHELVES]
    draw_together(taken, ("metric",), "kvist")
    draw_together(taken, ("us",), "maravel")


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
    units=st.sampled_from(SYSTEMS),
)
def test_facts_at_random(
    place: object, azimuth: float, tilt: float, persons: int, heater: str, storeys: int, units: System
) -> None:
    facts = Facts(place, azimuth, tilt, "tile", persons, heater, storeys)
    try:
        design = propose(facts)
    except RowanError as error:
        assert len(str(error)) > 10
        return
    draw_everything(design, (units,))
