"""Quick sums on the page: two taps from the first one, kept in their address, carried on as a job."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.studies.quick import SUMS
from rowan.web.accounts.models import User
from rowan.web.plans.models import Job
from rowan.web.plans.services import design_of
from tests.web.text import plain


def test_a_sum_is_two_taps_from_the_first_page(page: Client) -> None:
    assert f'href="{reverse("quick:quick")}"' in page.get(reverse("jobs:list")).content.decode()
    html = page.get(reverse("quick:quick")).content.decode()
    assert all(f'href="{reverse("quick:sum", args=(key,))}"' in html for key in SUMS)


@pytest.mark.parametrize("key", SUMS)
def test_every_sum_has_its_page_with_a_why(key: str, page: Client) -> None:
    answer = page.get(reverse("quick:sum", args=(key,)))
    assert answer.status_code == 200
    assert len(answer.context["figures"]) == len(SUMS[key].figures(SUMS[key].usual()))
    assert "Methods" in plain(answer.content.decode()) or "methods" in plain(answer.content.decode())


def test_what_is_typed_is_reckoned_in_any_unit(page: Client, person: User) -> None:
    address = reverse("quick:sum", args=("charge",))
    assert "set the vessel to 1.47 bar" in plain(
        page.get(address, {"height": "9.5", "volume": "21.1"}).content.decode()
    )
    assert "set the vessel to 1.47 bar" in plain(page.get(address, {"height": "31 ft 2 in"}).content.decode())
    person.units = "us"
    person.save()
    assert "set the vessel to 21.3 psi" in plain(page.get(address, {"height": "9.5 m"}).content.decode())


@pytest.mark.parametrize(("key", "form", "words"), [
    ("charge", {"height": "high"}, "high"), ("charge", {"height": "900 m"}, "Gauge to the top of the loop must lie between"),
    ("mix", {"concentrate": "35"}, "stronger than the strength wanted"), ("ohms", {"ohm": "9999999"}, "wire is broken"),
])  # fmt: skip
def test_what_cannot_be_says_why_and_keeps_what_was_typed(
    page: Client, key: str, form: dict[str, str], words: str
) -> None:
    answer = page.get(reverse("quick:sum", args=(key,)), form)
    assert answer.status_code == 422
    text = answer.content.decode()
    assert words.lower() in plain(text).lower()
    assert all(f'value="{value}"' in text for value in form.values())


def test_a_sum_goes_on_as_a_job(page: Client) -> None:
    form = {"length": "21", "pipe": "3", "share": "35"}
    answer = page.post(reverse("quick:keep", args=("friction",)), form)
    assert answer.status_code == 302
    design = design_of(Job.objects.get().plans.get().head)
    assert design.run.pipe.value.name == SUMS["friction"].asks[1].choices[3]
    assert (design.charge.share.value, design.charge.share.origin) == (pytest.approx(0.35), "agreed")
    assert page.post(reverse("quick:keep", args=("nonsense",)), {}).status_code == 404


def test_any_unit_on_the_page(page: Client) -> None:
    assert "1.5858 bar" in plain(page.get(reverse("quick:quick"), {"from": "23 psi"}).content.decode())
    refused = page.get(reverse("quick:quick"), {"from": "3 parsec"})
    assert refused.status_code == 422
    assert "No quantity of this trade" in plain(refused.content.decode())
