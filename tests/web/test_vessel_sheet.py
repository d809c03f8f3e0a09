"""A vessel typed from its plate: its rating, what it takes, how it comes; and where each of them counts."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client

from rowan.core.design.changes import changed
from rowan.core.reckon import reckon
from rowan.core.records.vessel_sheet import VesselSheet, sheet_of_vessel, vessel_changes, vessel_doubts
from rowan.core.terms.errors import RowanError
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.charge.vessel_page import vessel_fields
from tests.core.designs import altered, plan_a, proposed
from tests.web.text import one_line


def address(plan: Plan) -> str:
    return f"/jobs/{plan.job_id}/A/vessel-sheet/"


def typed(plan: Plan, **change: str) -> dict[str, Any]:
    fields = {key: field.typed for key, field in vessel_fields(services.design_of(plan.head), "metric").items()}
    return {**fields, "revision": plan.head.number, **change}


@pytest.mark.django_db
def test_a_plate_typed_becomes_the_plan_s_vessel(plan: Plan, page: Client) -> None:
    answer = page.post(
        address(plan), typed(plan, contents_l="25", takes_l="15", works_gauge_pa="2.5 bar", rated_gauge_pa="10 bar")
    )
    assert answer.status_code == 302, one_line(answer)[:400]
    charge = services.design_of(plan.head).charge
    assert (charge.vessel_l.value, charge.vessel_l.origin) == (25.0, "data sheet")
    assert charge.vessel_gas_share.value == pytest.approx(0.4)
    assert charge.vessel_works_gauge_pa.value == pytest.approx(250e3)
    assert charge.vessel_rated_gauge_pa.value == pytest.approx(1e6)
    again = page.get(address(plan)).content.decode()
    assert 'value="15"' in again
    assert "40 % of it must stay gas" in " ".join(again.split())


def test_a_line_that_is_not_printed_stays_what_was_taken() -> None:
    design = proposed("aldersund-5-oil")
    sheet = sheet_of_vessel(design)
    assert sheet.takes_l is None
    kept = changed(design, vessel_changes(design, sheet)).charge
    assert kept.vessel_gas_share.origin == "assumed"
    assert kept.vessel_works_gauge_pa.value is None


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"takes_l": "40"}, "at most"),
        ({"contents_l": "eighteen"}, "holds"),
        ({"rated_gauge_pa": "90 bar"}, "it stands: allowed is 1.00 bar to 25.00 bar"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_is_lost(
    plan: Plan, page: Client, change: dict[str, str], words: str
) -> None:
    before = plan.head.number
    answer = page.post(address(plan), typed(plan, **change))
    assert answer.status_code == 422
    text = one_line(answer)
    assert words in text
    assert f'value="{next(iter(change.values()))}"' in text
    plan.refresh_from_db()
    assert plan.head.number == before


@pytest.mark.django_db
def test_a_change_made_meanwhile_is_not_overwritten(plan: Plan, page: Client) -> None:
    old = typed(plan, contents_l="25")
    assert page.post(address(plan), typed(plan, membrane_c="90")).status_code == 302
    assert page.post(address(plan), old).status_code == 409


def test_a_weak_vessel_is_the_loop_s_weakest_part() -> None:
    weak = altered(plan_a(), charge__vessel_rated_gauge_pa=300e3)
    keys = {f.key: f for f in reckon(weak).findings}
    assert "Vessel" in keys["relief_over_rating"].reason.text()
    assert "relief_over_rating" not in {f.key for f in reckon(plan_a()).findings}


def test_what_must_stay_gas_decides_the_size() -> None:
    usual, much = (reckon(altered(plan_a(), charge__vessel_gas_share=share)).sealed for share in (0.25, 0.5))
    assert usual is not None
    assert usual.need is not None
    assert much is not None
    assert much.need is not None
    # V = taken up / (p_charge/p_fill − s), absolute
    assert usual.setting is not None
    ratio = (usual.setting.precharge + usual.atmosphere) / (usual.setting.fill + usual.atmosphere)
    assert much.need.travel / usual.need.travel == pytest.approx((ratio - 0.25) / (ratio - 0.5))


def test_how_it_comes_is_told_where_it_is_set() -> None:
    for works, do in ((250e3, "let out"), (50e3, "pump up")):
        steps = reckon(altered(plan_a(), charge__vessel_works_gauge_pa=works)).commission.steps
        told = next(step for step in steps if step.key == "vessel").work.text()
        assert do in told
        assert "by its plate" in told


def test_mixed_up_lines_are_noticed() -> None:
    assert vessel_doubts(sheet_of_vessel(plan_a())) == ()
    for sheet, words in (
        (VesselSheet(18.0, None, 300e3, 300e3, 70.0), "swapped"),
        (VesselSheet(18.0, None, 1e6, 500e3, 70.0), "seldom"),
        (VesselSheet(18.0, 17.5, 1e6, None, 70.0), "another size"),
        (VesselSheet(18.0, 4.0, 1e6, None, 70.0), "another size"),
    ):
        assert any(words in doubt.text() for doubt in vessel_doubts(sheet)), words


@pytest.mark.parametrize("takes", [0.0, 18.0, 25.0])
def test_more_than_it_holds_is_refused(takes: float) -> None:
    with pytest.raises(RowanError, match="takes at most"):
        vessel_changes(plan_a(), VesselSheet(18.0, takes, 1e6, None, 70.0))


def test_a_sheet_goes_there_and_back() -> None:
    sheet = VesselSheet(35.0, 21.0, 1e6, 150e3, 99.0)
    assert sheet_of_vessel(changed(plan_a(), vessel_changes(plan_a(), sheet))) == sheet
