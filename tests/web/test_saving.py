"""What cannot be saved is never lost and never silent: conflicts, ended sessions, a script that is signed out."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.terms.finding import Change
from rowan.web.plans.models import Plan
from rowan.web.plans.services import Edit, change_plan, design_of
from tests.web.test_pages import Reader

pytestmark = pytest.mark.django_db
NO_BREAK = "\N{NO-BREAK SPACE}"


def post(client: Client, plan: Plan, name: str, **data: object) -> object:
    return client.post(reverse(f"steps:{name}", args=(plan.job_id, plan.letter)), {"bench": "control", **data})


def moved_on(plan: Plan, colleague: object) -> int:
    """Somebody else changes the plan; gives the revision that a page opened before still has."""
    old = plan.head.number
    edit = Edit([Change("survey.room_c", 17.0)], "survey.room_c", "room measured")
    change_plan(plan=plan, author=colleague, based_on=old, edit=edit)  # type: ignore[arg-type]
    return old


def field_of(html: str, path: str) -> dict[str, str]:
    """The open field of an input and what stands in it."""
    key = "in-" + path.replace(".", "-") + "-value"
    return next(a for t, a in Reader(html).elements if a.get("id") == key)


@pytest.mark.parametrize(("units", "typed"), [("metric", "8.0"), ("us", "14.4")])
def test_a_drag_caught_in_a_conflict_is_typed_in_the_reader_s_unit(
    plan: Plan, page: Client, person: object, colleague: object, units: str, typed: str
) -> None:
    person.units = units  # type: ignore[attr-defined]
    person.save()  # type: ignore[attr-defined]
    old = moved_on(plan, colleague)
    answer = post(page, plan, "drag", path="control.start_k", value="8.0", revision=old)
    assert answer.status_code == 409  # type: ignore[attr-defined]
    shown = field_of(answer.content.decode(), "control.start_k")["value"]  # type: ignore[attr-defined]
    assert float(shown) == pytest.approx(float(typed))
    # saved again as it stands there, it is what was dragged
    again = post(page, plan, "set", path="control.start_k", value=shown, revision=plan.head.number)
    assert again.status_code in (200, 302)  # type: ignore[attr-defined]
    assert design_of(plan.head).control.start_k.value == pytest.approx(8.0)


def test_a_conflict_keeps_the_chosen_option_and_its_origin(plan: Plan, page: Client, colleague: object) -> None:
    old = moved_on(plan, colleague)
    assert design_of(plan.head).store.hygiene.value != "none"
    answer = post(page, plan, "set", path="store.hygiene", value="none", origin="agreed", revision=old, bench="store")
    html = answer.content.decode()  # type: ignore[attr-defined]
    start = html.index('id="in-store-hygiene-value"')
    options = Reader(html[start : html.index("</form>", start)]).elements
    chosen = [a["value"] for t, a in options if t == "option" and "selected" in a]
    assert chosen == ["none", "agreed"]


def test_a_form_sent_after_the_session_ended_comes_back_to_its_page(plan: Plan) -> None:
    address = reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))
    answer = Client().post(
        reverse("steps:set", args=(plan.job_id, plan.letter)),
        {"path": "charge.gap_pa", "value": "0.4 bar"},
        headers={"Referer": f"http://testserver{address}?day=3"},
    )
    assert answer.status_code == 302
    assert answer["Location"] == f"{reverse('accounts:sign_in')}?next={address}%3Fday%3D3"


@pytest.mark.parametrize("referer", ["", "http://elsewhere.example/jobs/", "javascript:alert(1)"])
def test_nobody_is_led_elsewhere_by_signing_in(plan: Plan, referer: str) -> None:
    headers = {"Referer": referer} if referer else {}
    answer = Client().post(reverse("steps:set", args=(plan.job_id, plan.letter)), headers=headers)
    assert answer["Location"].endswith("?next=/")


@pytest.mark.parametrize("header", ["X-Alpine-Request", "X-Requested-With"])
def test_a_script_is_told_that_nobody_is_signed_in(plan: Plan, header: str) -> None:
    answer = Client().post(reverse("steps:set", args=(plan.job_id, plan.letter)), headers={header: "true"})
    assert answer.status_code == 401
    assert b"<form" not in answer.content
