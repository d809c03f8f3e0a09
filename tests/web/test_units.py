"""Units everywhere: what a reader of US units sees holds no metric unit, and the other way round; switching twice changes nothing."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from functools import cache

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import Located, inputs, locate
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.steps.commission.cautions import loop_cautions, site_cautions
from rowan.core.studies.cures import Effect, cure_effect
from rowan.core.terms.caution import CAUTIONS
from rowan.core.terms.errors import RowanError
from rowan.core.terms.units import SYSTEMS, System, dimension
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import loop_drawing, loop_strip
from rowan.web.editing.blanks import RefusedInputError, blank, changes_from_text, limits_text
from rowan.web.papers.settings_card import control_settings, pressure_settings
from rowan.web.plans.models import Plan
from rowan.web.steps.questions import found_context, reading_context
from rowan.web.steps.registry import PAGES
from rowan.web.ui.svg import Node
from rowan.web.ui.window_bar import window_bar
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed
from tests.core.test_findings import RULES

NUMBER = r"(?<![\w.])[−-]?\d[\d.,\u202f]*[\s\u00a0]?"
FOREIGN: dict[System, re.Pattern[str]] = {
    # electricity is watts and energy kWh in both systems, carbon is weighed in kg
    "us": re.compile(
        NUMBER
        + r"(mm|cm|m|km|m²|m³|L|L/min|L/h|L/m²|L/h·m²|bar|mbar|kPa|Pa|°C|K|W/K|W/m²|W/m·K|W/m²·K|W/m²·K²|kWh/m²|m/s|kg(?! CO|/kWh)|kg/m²|kN|kJ)(?![\w/·²°])"
    ),
    "metric": re.compile(
        NUMBER
        + r"(ft|in(?=[ ,.;:)]|$)(?! (?:the|a|all|lengths|cans|series)\b)|ft²|gal|gal/min|gal/ft²|psi|°F|F°|Btu/h|Btu/h·ft²|ft/s|lb|lb/ft²|ft·lb)(?![\w/·²°])"
    ),
}
SPLIT_UNIT: dict[System, set[str]] = {
    "us": {"mm", "m", "m²", "L", "L/min", "L/m²", "bar", "°C", "K", "W/m²", "m/s", "kg", "kg/m²", "kJ", "kWh/m²"},
    "metric": {"ft", "in", "ft²", "gal", "gal/min", "gal/ft²", "psi", "°F", "F°", "Btu/h", "ft/s", "lb", "ft·lb"},
}


def broken() -> list[tuple[str, Design]]:
    """The demo's plans, the eight proposals, and a plan for each rule that can be broken."""
    found = [("plan A", plan_a()), ("plan B", plan_b()), *((key, proposed(key)) for key in EIGHT_FACTS)]
    return found + [(f"{key}-{level}", altered(plan_b(), **change)) for key, level, change in RULES]


DESIGNS = broken()
BROKEN = {f"{key}-{level}" for key, level, _ in RULES}


def texts_of(node: Node) -> Iterator[str]:
    """The texts of a drawing, each with its unit behind it as it is read."""
    for part in node.walk():
        if part.tag == "text":
            yield part.text + "".join(f" {child.text}" for child in part.children)
        for key in ("aria-valuetext", "aria-label"):
            if key in part.attributes:
                yield str(part.attributes[key])
        if part.tag == "title":
            yield part.text


@cache
def usual() -> frozenset[str]:
    """What plan B says unbroken: its cures are tried with it, and not with every rule that is broken on it."""
    return frozenset(finding.key for finding in reckon(plan_b()).findings)


def effects_of(design: Design, result: Reckoning, known: Collection[str]) -> dict[str, list[Effect]]:
    """What each cure of each finding would do that is not `known`."""
    return {
        finding.key: [cure_effect(design=design, before=result, finding=finding, cure=cure) for cure in finding.cures]
        for finding in result.findings
        if finding.key not in known
    }


def words_of(sheet: Sheet, effects: dict[str, list[Effect]]) -> Iterator[tuple[str, str]]:
    """Everything that is worded about a design, with where it stands. Formulas are worked in SI and are left out."""
    design, result, units = sheet.design, sheet.result, sheet.units
    for figure in result.figures.values():
        yield figure.key, f"{figure.number(units)} {figure.unit(units)}"
        yield figure.key, figure.basis.text(units)
        yield figure.key, figure.why.sentence.text(units)
        yield figure.key, figure.why.method.text(units) if figure.why.method else ""
        yield figure.key, f"{figure.why.source} {figure.window.source_text(units) if figure.window else ''}"
        bar = window_bar(figure, units)
        yield figure.key, bar.words if bar else ""
    for finding in result.findings:
        yield finding.key, finding.title.text(units)
        yield finding.key, finding.reason.text(units)
        for cure in finding.cures:
            yield finding.key, cure.label.text(units)
        for effect in effects.get(finding.key, ()):
            yield finding.key, effect.sentence.text(units)
    for found in inputs(design):
        item = blank(design, found.path, units)
        if found.spec.kind != "item":
            for words in (item.shown, item.limits, item.help, f"{item.typed} {item.unit}"):
                yield found.path, words
    for key, bench in PAGES.items():
        yield key, bench.verdict(sheet).text(units)
        for block in bench.blocks(sheet):
            yield key, f"{block.title} {block.note}"
            for words in texts_of(block.drawing) if block.drawing else ():
                yield f"{key} {block.title}", words
    for words in texts_of(loop_drawing(sheet, "", lambda bench: bench)):
        yield "loop", words
    for part in loop_strip(sheet, "", lambda bench: bench):
        yield "strip", part.value
    for line in result.parts.parts:
        yield line.key, f"{line.name.text(units)}; {line.because.text(units)}; {line.quantity.shown(units)}"
    for step in result.commission.steps:
        yield step.key, " ".join(s.text(units) for s in (step.before, step.work, step.right, step.caution) if s)
        yield step.key, " ".join(target.quantity.shown(units) for target in step.targets)
    for row in (*pressure_settings(sheet), *control_settings(sheet)):
        yield row.name, f"{row.value}; {row.reason}"
    for words in (*loop_cautions(design), *site_cautions(design), *CAUTIONS.values()):
        yield "caution", words.text(units)


@pytest.mark.parametrize(("name", "design"), DESIGNS, ids=[name for name, _ in DESIGNS])
def test_no_foreign_unit_is_shown(name: str, design: Design) -> None:
    result = reckon(design)
    effects = effects_of(design, result, usual() if name in BROKEN else ())
    for units in SYSTEMS:
        _no_foreign_unit(Sheet(design, result, units), effects)


def _no_foreign_unit(sheet: Sheet, effects: dict[str, list[Effect]]) -> None:
    design, units = sheet.design, sheet.units
    items = {
        item.name
        for item in (design.collector.item.value, design.store.item.value, design.run.pipe.value, design.run.pump.value)
    }
    for where, words in words_of(sheet, effects):
        plain = words
        for item in items:
            plain = plain.replace(item, "")
        found = FOREIGN[units].search(plain)
        assert not found, f"{where}: {words!r} holds {found.group(0)!r}"
        alone = (
            set(re.split(r"[\s,]+", plain)) & SPLIT_UNIT[units]
            if len(plain.split()) < 5 and "CO₂" not in plain
            else set()
        )
        assert not alone or (units == "metric" and alone == {"in"}), f"{where}: {words!r} names {alone}"


def test_the_scanner_finds_what_it_looks_for() -> None:
    for words in ("fill to 1.47 bar", "at 173 °C", "5.00 m each", "65 L/m²", "8.0 K", "2 000 kg/m²"):
        assert FOREIGN["us"].search(words), words
        assert not FOREIGN["metric"].search(words), words
    for words in ("fill to 21.3 psi", "at 343 °F", "16 ft 5 in", "14.4 F°", "1.59 gal/ft²"):
        assert FOREIGN["metric"].search(words), words
        assert not FOREIGN["us"].search(words), words
    for words in ("28 W", "1 854 kWh", "0.27 kg CO₂", "Methods 10"):
        assert not FOREIGN["us"].search(words), words


# switching, typing back, refusing


@pytest.mark.django_db
@pytest.mark.parametrize("key", PAGES)
def test_switching_twice_changes_no_figure_and_saves_nothing(plan: Plan, page: Client, person: User, key: str) -> None:
    address = reverse("steps:bench", args=(plan.job_id, plan.letter, key))
    first = page.get(address).content.decode()
    for units in ("us", "metric"):
        answer = page.post(reverse("accounts:units"), {"units": units, "next": address})
        assert answer["Location"] == address
        page.get(address)
    assert strip_tokens(page.get(address).content.decode()) == strip_tokens(first)
    assert plan.head.number == 1


def strip_tokens(html: str) -> str:
    return re.sub(r'name="csrfmiddlewaretoken" value="[^"]*"', "", html)


@pytest.mark.django_db
def test_a_page_that_was_refused_switches_back_to_its_bench(plan: Plan, page: Client) -> None:
    refused = page.post(
        reverse("steps:set", args=(plan.job_id, plan.letter)),
        {"path": "charge.vessel_l", "value": "big", "revision": 1, "bench": "charge"},
    )
    assert refused.status_code == 422
    back = re.search(r'name="next" value="([^"]*)"', refused.content.decode())
    assert back
    assert back.group(1) == reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))


NUMBERS = [found for found in inputs(plan_a()) if found.spec.kind == "number" and found.value is not None]


@given(found=st.sampled_from(NUMBERS), share=st.floats(0, 1), units=st.sampled_from(SYSTEMS))
def test_what_a_field_holds_can_be_saved_untouched(found: Located, share: float, units: System) -> None:
    spec = found.spec
    assert spec.low is not None
    assert spec.high is not None
    value = spec.low + share * (spec.high - spec.low)
    try:
        design = altered(plan_a(), **{found.path.replace(".", "__"): value})
    except RowanError:
        return
    shown = blank(design, found.path, units)
    assert changes_from_text(design, found.path, shown.typed, units)[0].value == value


OTHER_UNIT = {"length": "5 bar", "pressure": "5 m", "tank": "5 °C", "volume": "5 psi", "temperature": "5 L"}


@pytest.mark.parametrize("units", SYSTEMS)
@pytest.mark.parametrize(
    "found", [f for f in inputs(plan_a()) if f.spec.kind in ("number", "whole")], ids=lambda f: f.path
)
def test_every_number_refuses_nonsense_with_its_range_in_the_reader_s_units(found: Located, units: System) -> None:
    design, spec = plan_a(), found.spec
    assert spec.low is not None
    assert spec.high is not None
    allowed = limits_text(spec, units)
    assert allowed
    beyond = dimension(spec.dimension).unit(units).from_si(spec.si(spec.high) * 2 + abs(spec.si(spec.high)) + 1e6)
    below = dimension(spec.dimension).unit(units).from_si(spec.si(spec.low) - 1e7 - 3 * abs(spec.si(spec.low)))
    tries = [
        f"{beyond:.0f}",
        f"{below:.0f}",
        "many",
        "12 bananas",
        OTHER_UNIT.get(spec.dimension, "5 furlongs"),
        "1.2.3",
    ]
    if not spec.empty:
        tries.append("")
    for text in tries:
        with pytest.raises(RefusedInputError) as caught:
            changes_from_text(design, found.path, text, units)
        assert allowed in str(caught.value), text


@pytest.mark.django_db
@pytest.mark.parametrize("units", SYSTEMS)
@pytest.mark.parametrize(
    ("path", "typed"),
    [
        ("duty.persons", "-5"),
        ("run.cold.c3.length_m", "10 km"),
        ("charge.share", "120 %"),
        ("charge.vessel_l", "18 bar"),
        ("charge.gap_pa", ""),
    ],
)
def test_a_refusal_stands_beside_the_field_with_what_was_typed(
    plan: Plan, page: Client, person: User, path: str, typed: str, units: System
) -> None:
    person.units = units
    person.save()
    bench = "run" if path.startswith("run") else "survey" if path.startswith("duty") else "charge"
    answer = page.post(
        reverse("steps:set", args=(plan.job_id, plan.letter)),
        {"path": path, "value": typed, "revision": 1, "bench": bench, "origin": "measured"},
    )
    assert answer.status_code == 422
    html = answer.content.decode()
    slip = html[html.index(f'data-blank="{path}"') :]
    slip = slip[: slip.index("</form>")]
    assert f'value="{typed}"' in slip
    assert 'aria-invalid="true"' in slip
    allowed = limits_text(locate(plan_a(), path).spec, units)
    assert allowed in slip
    assert plan.head.number == 1


def test_an_ambiguous_number_is_asked_back_with_both_readings() -> None:
    with pytest.raises(RefusedInputError) as caught:
        changes_from_text(plan_a(), "charge.vessel_l", "1,500 gal", "metric")
    assert caught.value.readings == ("1.5000 gal", "1500 gal")
    asked = blank(plan_a(), "charge.vessel_l", "metric", typed="1,500", error="?", readings=("1.5000", "1500"))
    assert [words.replace("\N{NO-BREAK SPACE}", " ") for _, words in asked.readings] == [
        "1.5 L",
        "1\N{NARROW NO-BREAK SPACE}500 L",
    ]


@pytest.mark.parametrize("units", SYSTEMS)
@pytest.mark.parametrize(
    "typed", [{"cold": "1.2 bar", "cold_at": "18 °C"}, {"cold": "1.77 bar", "charge": "0.5 bar"}, {"cold": "4 bar"}]
)
def test_a_loop_as_found_and_a_line_read_are_told_in_the_reader_s_units(typed: dict[str, str], units: System) -> None:
    sheet = Sheet(plan_b(), reckon(plan_b()), units)
    found = found_context(sheet, typed)
    doubts = [
        doubt
        for row in reading_context(sheet, {"line": "flow", "text": "9"})["rows"]
        for doubt in row["reading"].doubts
    ]
    assert found["lines"]
    assert doubts
    for words in (*(line.what for line in found["lines"]), *doubts):
        assert not FOREIGN[units].search(words.text(units)), words.text(units)
