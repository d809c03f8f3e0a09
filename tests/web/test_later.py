"""An edit is answered without its year: the one before stands in, marked, and the page asks again."""

from __future__ import annotations

import re

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.simulation import simulate as simulation
from rowan.web.plans.models import Plan
from tests.web.test_pages import bench_url

pytestmark = pytest.mark.django_db
SWAPPED = {"X-Alpine-Request": "true"}


def edited(page: Client, plan: Plan, path: str, value: float, bench: str) -> str:
    """The answer to a drag."""
    post = {"path": path, "value": value, "revision": plan.head.number, "bench": bench}
    return page.post(reverse("steps:drag", args=(plan.job_id, plan.letter)), post, headers=SWAPPED).content.decode()


def solar(text: str) -> str:
    """The year's sun as the reckoning column shows it."""
    row = re.search(r'id="figure-year_solar".*?class="value">(.*?)</span>', text, re.S)
    assert row is not None
    return re.sub(r"<[^>]*>", "", row[1])


def test_an_edit_runs_no_year_and_shows_the_one_before_marked(
    plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = solar(page.get(bench_url(plan, "collector")).content.decode())
    runs: list[object] = []
    real = simulation.run_year
    monkeypatch.setattr(simulation, "run_year", lambda **given: (runs.append(given), real(**given))[1])
    answer = edited(page, plan, "survey.roof_tilt_deg", 21.0, "collector")
    assert runs == []
    assert "data-later=" in answer
    assert 'class="row old" name="why" id="figure-year_solar"' in " ".join(answer.split())
    assert "the year before the change" in answer
    assert solar(answer) == before
    whole = page.get(bench_url(plan, "collector")).content.decode()
    assert len(runs) >= 1
    assert "data-later=" not in whole
    assert solar(whole) != before


def test_many_edits_in_a_row_run_no_year_either(plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    page.get(bench_url(plan, "collector"))
    monkeypatch.setattr(simulation, "run_year", lambda **given: pytest.fail("an edit waited for a year"))
    for tilt in (22.0, 23.0, 24.0, 26.0):
        assert "data-later=" in edited(page, plan, "survey.roof_tilt_deg", tilt, "collector")


def test_a_price_moves_no_year_and_is_shown_at_once(plan: Plan, page: Client) -> None:
    page.get(bench_url(plan, "collector"))
    answer = edited(page, plan, "money.fuel_price", 0.31, "collector")
    assert 'class="row old"' not in answer


def test_what_each_cure_would_do_follows(plan: Plan, page: Client) -> None:
    page.get(bench_url(plan, "charge"))
    answer = edited(page, plan, "charge.vessel_l", 9.0, "charge")
    assert '<span class="price">…</span>' in answer
    assert '<span class="price">…</span>' not in page.get(bench_url(plan, "charge")).content.decode()


def test_what_calms_a_pump_is_tried_after_the_paint(plan: Plan, page: Client) -> None:
    answer = edited(page, plan, "control.stop_k", 5.0, "control")
    assert "finding-hunting" in answer
    assert "cure-hunting-" not in answer
    assert "data-later=" in answer
    again = page.get(bench_url(plan, "control")).content.decode()
    assert "cure-hunting-" in again
    assert "needless starts a day become" in again


def test_how_a_figure_came_about_follows_with_the_year_and_is_there_at_once_where_nothing_follows(
    plan: Plan, page: Client
) -> None:
    whole = page.get(bench_url(plan, "charge")).content.decode()
    assert whole.count("<math>") > 20
    answer = edited(page, plan, "survey.roof_tilt_deg", 21.0, "charge")
    assert "data-later=" in answer
    assert "<math>" not in answer
    assert answer.count("data-anew") == answer.count('name="why"') > 10
    again = page.get(bench_url(plan, "charge")).content.decode()
    assert again.count("<math>") == whole.count("<math>")
    assert "data-anew" not in again
    # a price moves no year: nothing follows, so all of it is there
    priced = edited(page, plan, "money.fuel_price", 0.31, "parts")
    assert "data-later=" not in priced
    assert "data-anew" not in priced
