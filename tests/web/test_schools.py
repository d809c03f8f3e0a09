"""The page of schools: reached from the benches, with what settles each matter, in both systems of units."""

from __future__ import annotations

import re

import pytest
from django.test import Client

from rowan.web.plans.models import Plan
from rowan.web.steps.schools import WITH_SCHOOLS
from tests.web.text import one_line

pytestmark = pytest.mark.django_db


def address(plan: Plan, page: str) -> str:
    return f"/jobs/{plan.job_id}/A/{page}/"


@pytest.mark.parametrize("bench", WITH_SCHOOLS)
def test_a_bench_leads_to_its_part_of_the_page(page: Client, plan: Plan, bench: str) -> None:
    text = page.get(address(plan, bench)).content.decode()
    assert f'href="/jobs/{plan.job_id}/A/schools/#{bench}"' in text
    assert f'id="{bench}"' in page.get(address(plan, "schools")).content.decode()


def test_the_ways_stand_side_by_side_with_the_plan_s_marked(page: Client, plan: Plan) -> None:
    answer = page.get(address(plan, "schools"))
    text, body = answer.content.decode(), one_line(answer)
    assert "below the fill" in body
    assert "equal to it" in body
    row = text.split("below the fill")[0].rsplit("<tr", 1)[1]
    assert "planned" in row
    assert "Rowan" in row


def test_a_matter_is_settled_in_place_and_its_ring_moves(page: Client, plan: Plan) -> None:
    data = {
        "path": "commission.test",
        "value": "air",
        "origin": "agreed",
        "revision": plan.head.number,
        "bench": "schools",
    }
    answer = page.post(f"/jobs/{plan.job_id}/A/set/", data)
    assert answer["Location"] == address(plan, "schools")
    text = page.get(address(plan, "schools")).content.decode()
    row = text.split("air, in frost")[0].rsplit("<tr", 1)[1]
    assert "planned" in row


def test_us_units_stand_in_every_way(page: Client, plan: Plan) -> None:
    page.post("/units/", {"units": "us", "next": "/"})
    body = one_line(page.get(address(plan, "schools")))
    assert re.search(r"\d psi\b", body)
    assert not re.search(r"\d (bar|K|L/min|mm)\b", body)
