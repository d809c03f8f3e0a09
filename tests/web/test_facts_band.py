"""The proposal answers with its year, its price and a band of made years."""

from __future__ import annotations

import re
import time

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.studies.weather_band import band
from rowan.core.terms.units import KWH
from rowan.web.benches.bench import Sheet
from rowan.web.jobs.facts_band import COARSE_KWH, YEARS, tell, variants
from rowan.web.jobs.forms import FactsForm
from rowan.web.studies.work import Outcome, run_one
from tests.core.designs import proposed

FACTS = FactsForm.START


@pytest.fixture(scope="module")
def outcomes() -> list[Outcome]:
    design = proposed("aldersund-5-oil")
    return [run_one(variant, None) for variant in variants(Sheet(design, reckon(design), "metric"))]


def sheet() -> Sheet:
    design = proposed("aldersund-5-oil")
    return Sheet(design, reckon(design), "metric")


def test_nine_years_make_a_band_about_the_mean_one(outcomes: list[Outcome]) -> None:
    heats = [o.year.solar_heat for o in outcomes if o.year]
    assert len(set(heats)) == YEARS
    mean = simulate(sheet().design, sheet().result).solar_heat
    found = band(heats)
    assert found.low < mean < found.high
    told = tell(sheet(), outcomes).verdict
    assert told is not None
    numbers = [int(n.replace("\N{NARROW NO-BREAK SPACE}", "")) for n in re.findall(r"[\d\u202f]{3,}", told.text())]
    assert numbers == [round(value / KWH / COARSE_KWH) * COARSE_KWH for value in (found.low, found.high)]


def test_some_years_are_dots_and_no_band_yet(outcomes: list[Outcome]) -> None:
    part = tell(sheet(), [*outcomes[:4], *[None] * 5])
    assert part.verdict is None
    assert part.drawing.svg().count("<circle") == 4
    assert "window-band" not in part.drawing.svg()
    assert tell(sheet(), [None] * YEARS).drawing.svg().count("<circle") == 0


@pytest.mark.django_db
def test_the_proposal_names_price_and_payback_and_asks_for_its_band(page: Client) -> None:
    answer = page.get(reverse("jobs:proposal"), FACTS, headers={"X-Requested-With": "fetch"})
    text = answer.content.decode()
    design = proposed("aldersund-5-oil")
    assert "about, of sun a year" in text
    assert "till it has paid for itself" in text or "as money it is a no" in text.lower()
    address = re.search(r'data-run="([^"]+)"', text)
    assert address is not None
    piece = page.get(address[1].replace("&amp;", "&"), headers={"X-Requested-With": "fetch"})
    assert piece.status_code == 200
    assert 'id="run-facts"' in piece.content.decode()
    ends = time.monotonic() + 60
    while "data-run" in piece.content.decode():
        assert time.monotonic() < ends, "asked for, its years begin and come to an end"
        time.sleep(0.1)
        piece = page.get(address[1].replace("&amp;", "&"), headers={"X-Requested-With": "fetch"})
    assert "Nine years of ten" in piece.content.decode()
    assert page.get(address[1].replace("&amp;", "&")).status_code == 302, "opened by itself it leads to its page"
    assert reckon(design).parts.price > 0


@pytest.mark.django_db
def test_facts_that_lead_nowhere_have_no_band(page: Client) -> None:
    answer = page.get(reverse("jobs:facts_band"), {"persons": "x"}, headers={"X-Requested-With": "fetch"})
    assert answer.status_code == 302
