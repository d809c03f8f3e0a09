"""How often a page or a change may ask the database: a ceiling for each, so that a query in a loop is noticed at once."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.web.plans.models import Plan
from tests.web.test_pages import bench_url

pytestmark = pytest.mark.django_db
# who asks, whose job, which plans, the newest state; runs of many years beside it are asked for by their own requests
BENCH, BESIDE, SAVE = 7, 10, 11
BENCHES = (
    "survey",
    "sun",
    "collector",
    "store",
    "run",
    "charge",
    "fluid",
    "control",
    "functions",
    "parts",
    "commission",
)
PAGES = (
    "steps:assumed",
    "steps:climate",
    "steps:datasheet",
    "steps:legs",
    "steps:pump",
    "care:live",
    "care:as_left",
    "papers:papers",
)
EDITS = {
    "survey": ("survey.roof_tilt_deg", "38"),
    "collector": ("collector.working_c", "47"),
    "store": ("store.maximum_c", "77"),
    "run": ("run.bends", "21"),
    "charge": ("charge.gap_pa", "35000"),
    "control": ("control.start_k", "9"),
}


@pytest.mark.parametrize("key", BENCHES)
def test_a_bench_asks_seldom(plan: Plan, page: Client, key: str, django_assert_max_num_queries: object) -> None:
    page.get(bench_url(plan, key))  # what is kept is kept
    with django_assert_max_num_queries(BENCH):  # type: ignore[operator]
        assert page.get(bench_url(plan, key)).status_code == 200


@pytest.mark.parametrize("name", PAGES)
def test_a_page_beside_asks_seldom(plan: Plan, page: Client, name: str, django_assert_max_num_queries: object) -> None:
    address = reverse(name, args=(plan.job_id, plan.letter))
    page.get(address)
    with django_assert_max_num_queries(BESIDE):  # type: ignore[operator]
        assert page.get(address).status_code == 200


@pytest.mark.parametrize("bench", EDITS)
def test_a_change_and_its_page_ask_seldom(
    plan: Plan, page: Client, bench: str, django_assert_max_num_queries: object
) -> None:
    path, value = EDITS[bench]
    post = {"path": path, "value": value, "revision": plan.head.number, "bench": bench}
    address = reverse("steps:drag", args=(plan.job_id, plan.letter))
    with django_assert_max_num_queries(SAVE):  # type: ignore[operator]
        assert page.post(address, post, headers={"X-Alpine-Request": "true"}).status_code == 200


def test_the_history_asks_once_for_its_states(plan: Plan, page: Client, django_assert_max_num_queries: object) -> None:
    for value in range(36, 44):
        post = {"path": "survey.roof_tilt_deg", "value": value, "revision": plan.head.number, "bench": "survey"}
        page.post(reverse("steps:drag", args=(plan.job_id, plan.letter)), post)
    address = reverse("history:revisions", args=(plan.job_id, plan.letter))
    page.get(address)
    with django_assert_max_num_queries(BESIDE):  # type: ignore[operator]
        page.get(address)
