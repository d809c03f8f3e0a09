"""One question, one answer: a figure and the result of its name, a choice from the sentence and from the table."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from typing import Any

import pytest

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Inputs, specs
from rowan.core.goods.catalogue import COLLECTORS, PUMPS, STORES
from rowan.core.goods.items import WeatherItem
from rowan.core.goods.places import PLACES
from rowan.core.reckon import reckon
from rowan.core.studies.choices import chosen, with_collector, with_kind
from rowan.core.studies.propose import propose
from rowan.core.terms.finding import Change
from rowan.core.terms.units import LITRE
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from rowan.demo.tolliver import tolliver
from rowan.web.editing.blanks import changes_from_text
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed

DESIGNS = {
    "kvist a": plan_a,
    "kvist b": plan_b,
    "corrim": corrim,
    "pipwater": pipwater,
    "sandreef": sandreef,
    "tolliver": tolliver,
    **{key: (lambda key=key: proposed(key)) for key in EIGHT_FACTS},
}


def numbers_of(result: Any) -> dict[str, float]:
    """Numbers of a result and of what it holds, by the name of their field; a name that stands twice is left out."""
    found: dict[str, float] = {}
    twice: set[str] = set()

    def walk(node: Any, depth: int) -> None:
        for entry in fields(node):
            value = getattr(node, entry.name)
            if isinstance(value, float):
                if entry.name in found:
                    twice.add(entry.name)
                found[entry.name] = value
            elif is_dataclass(value) and depth < 2 and entry.name not in ("figures", "findings"):
                walk(value, depth + 1)

    walk(result, 0)
    return {name: value for name, value in found.items() if name not in twice}


@pytest.mark.parametrize("name", DESIGNS)
def test_a_figure_and_the_result_of_its_name_are_one(name: str) -> None:
    found = reckon(DESIGNS[name]())
    held = 0
    for step in fields(found):
        result = getattr(found, step.name)
        numbers = numbers_of(result)
        for figure in result.figures:
            if figure.key in numbers:
                number = numbers[figure.key] * (LITRE if figure.key.startswith("litres") else 1.0)
                assert figure.value == pytest.approx(number, rel=1e-9, abs=1e-12), (step.name, figure.key)
                held += 1
    assert held >= 5


@pytest.mark.parametrize("name", COLLECTORS)
def test_a_collector_is_the_same_choice_from_the_sentence_and_from_the_table(name: str) -> None:
    design = plan_b()
    table = with_collector(design, COLLECTORS[name])
    assert changed(design, changes_from_text(design, "collector.item", name, "metric")) == table
    assert table.run.flow_l_h.value == pytest.approx(table.collector.count.value * COLLECTORS[name].flow_l_h)
    area = table.area_m2 / design.area_m2
    assert abs(area - 1) <= 0.5 * COLLECTORS[name].aperture_m2 / design.area_m2 + 1e-9


@pytest.mark.parametrize("kind", ["sealed", "direct", "drainback", "thermosiphon"])
def test_a_kind_of_loop_is_the_same_choice_from_the_sentence_and_from_the_comparison(kind: str) -> None:
    design = plan_a()
    assert changed(design, changes_from_text(design, "charge.kind", kind, "metric")) == with_kind(design, kind)


@pytest.mark.parametrize("name", STORES)
def test_ports_come_with_the_store_whoever_chooses_it(name: str) -> None:
    design = plan_a()
    found = changed(design, changes_from_text(design, "store.item", name, "metric"))
    assert found.store.coil_top_m.value == (
        STORES[name].coil_top_m if name != design.store.item.value.name else design.store.coil_top_m.value
    )
    proposal = propose(EIGHT_FACTS["aldersund-5-oil"])
    item = proposal.store.item.value
    assert proposal.store.coil_top_m.value == item.coil_top_m
    assert proposal.store.coil_bottom_m.value < proposal.store.lower_sensor_m.value < item.coil_top_m


@pytest.mark.parametrize("name", PUMPS)
def test_a_speed_that_the_new_pump_has_not_is_its_fastest(name: str) -> None:
    design = changed(plan_a(), chosen(plan_a(), "run.speed", 3))
    found = changed(design, chosen(design, "run.pump", PUMPS[name]))
    if name != design.run.pump.value.name:
        assert found.run.speed.value == min(3, len(PUMPS[name].speeds))


def test_choosing_what_the_plan_has_changes_nothing() -> None:
    design = plan_b()
    for path in ("collector.item", "store.item", "run.pump", "charge.kind"):
        step, name = path.split(".")
        now = getattr(getattr(design, step), name).value
        assert changed(design, chosen(design, path, now)) == design


def test_every_limit_of_an_input_is_one_the_rules_can_take() -> None:
    """Form limits are input limits: both are the one definition, and a proposal lies inside them all."""
    for key in EIGHT_FACTS:
        design: Design = proposed(key)
        for step in Design.model_fields:
            model = getattr(design, step)
            for name, spec in specs(type(model)) if isinstance(model, Inputs) else ():
                held = getattr(model, name)
                assert spec.refuse(getattr(held, "value", held)) == "", (step, name)


def test_a_further_collector_takes_its_flow_and_costs_what_it_costs() -> None:
    design = proposed("aldersund-5-oil")
    more = changed(design, chosen(design, "collector.count", design.collector.count.value + 1))
    each = design.run.flow_l_h.value / design.collector.count.value
    assert more.run.flow_l_h.value == pytest.approx(design.run.flow_l_h.value + each)
    price = design.collector.item.value.price
    assert price > 0
    # plate, what mounts and links it, a longer piece of work
    assert reckon(more).parts.price > reckon(design).parts.price + price
    offered = altered(design, money__system_price=6000.0)
    more = changed(offered, chosen(offered, "collector.count", design.collector.count.value + 1))
    assert more.money.system_price.value == pytest.approx(6000.0 + price)
    assert more.run.flow_l_h.origin == design.run.flow_l_h.origin


def test_what_was_assumed_from_a_place_follows_it_and_what_was_agreed_stays() -> None:
    cold = proposed("aldersund-5-oil")
    milder = changed(cold, chosen(cold, "survey.design_minimum_c", -4.0))
    assert milder.charge.share.value < cold.charge.share.value
    assert milder.charge.share.origin == "assumed"
    agreed = changed(cold, [Change("charge.share", 0.5, "agreed")])
    assert changed(agreed, chosen(agreed, "survey.design_minimum_c", -4.0)).charge.share.value == 0.5


def test_a_known_place_brings_its_climate_and_another_name_makes_it_a_guess() -> None:
    design = proposed("aldersund-5-oil")
    there = changed(design, chosen(design, "survey.place", "Corrim"))
    place = PLACES["Corrim"]
    assert there.survey.design_minimum_c.value == place.design_minimum_c
    assert there.survey.normals.value.air_c == list(place.air_c)
    assert there.charge.share.value > design.charge.share.value
    renamed = changed(design, chosen(design, "survey.place", "Brackwater"))
    assert renamed.survey.normals.value == design.survey.normals.value
    assert design.survey.normals.origin == "data sheet"
    assert renamed.survey.normals.origin == "assumed"


@pytest.mark.parametrize("name", ["Corrim", "Brackwater"])
def test_means_that_somebody_typed_and_a_file_stay_whatever_the_place_is_called(name: str) -> None:
    design = proposed("aldersund-5-oil")
    typed = changed(design, [Change("survey.normals", design.survey.normals.value, "measured")])
    weather = changed(design, [Change("survey.weather", WeatherItem(name="a year", digest="0" * 64), "data sheet")])
    for own in (typed, weather):
        renamed = changed(own, chosen(own, "survey.place", name))
        assert renamed.survey.place.value == name
        assert renamed.survey.normals == own.survey.normals
        assert renamed.survey.weather == own.survey.weather
