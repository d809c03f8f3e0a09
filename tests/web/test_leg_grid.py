"""The legs typed as a grid."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.web.plans import services
from rowan.web.plans.models import Plan

pytestmark = pytest.mark.django_db


def at(plan: Plan) -> str:
    return reverse("steps:legs", args=(plan.job_id, plan.letter))


def test_many_fields_are_one_step_and_count_as_measured(plan: Plan, page: Client) -> None:
    before = plan.head.number
    leg = services.design_of(plan.head).run.hot[0]
    typed = {f"run.hot.{leg.id}.length_m": "11 ft", f"run.hot.{leg.id}.bends": "3", "revision": str(before)}
    assert page.post(at(plan), typed).status_code == 302
    assert plan.head.number == before + 1
    changed = services.design_of(plan.head).run.hot[0]
    assert (changed.length_m, changed.bends, changed.origin) == (pytest.approx(3.3528), 3, "measured")


def test_what_was_not_touched_is_not_written(plan: Plan, page: Client) -> None:
    before = plan.head.number
    leg = services.design_of(plan.head).run.cold[0]
    text = page.get(at(plan)).content.decode()
    assert f'name="run.cold.{leg.id}.length_m"' in text
    assert page.post(at(plan), {"revision": str(before)}).status_code == 302
    assert plan.head.number == before


def test_a_wrong_field_is_shown_where_it_was_typed_and_nothing_is_saved(plan: Plan, page: Client) -> None:
    before = plan.head.number
    leg = services.design_of(plan.head).run.hot[0]
    typed = {f"run.hot.{leg.id}.length_m": "-4 m", f"run.hot.{leg.id}.bends": "2", "revision": str(before)}
    answer = page.post(at(plan), typed)
    assert answer.status_code == 422
    text = answer.content.decode()
    assert 'value="-4 m"' in text
    assert 'aria-invalid="true"' in text
    assert plan.head.number == before


def test_a_grid_typed_on_an_older_state_is_kept_on_the_page(plan: Plan, page: Client) -> None:
    leg = services.design_of(plan.head).run.hot[0]
    page.post(at(plan), {f"run.hot.{leg.id}.bends": "2", "revision": str(plan.head.number)})
    late = page.post(at(plan), {f"run.hot.{leg.id}.length_m": "5.55 m", "revision": "1"})
    assert late.status_code == 409
    assert 'value="5.55 m"' in late.content.decode()


def test_a_fitted_leg_is_not_typed(plan: Plan, page: Client) -> None:
    fitted = [
        leg.id for line in ("cold", "hot") for leg in getattr(services.design_of(plan.head).run, line) if leg.fitted
    ]
    assert fitted, "the demo plan has one"
    text = page.get(at(plan)).content.decode()
    assert all(f".{key}.length_m" not in text for key in fitted)
