"""Pages under odd input: any text in any field is saved or refused beside it, never an error page."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from rowan.core.design.changes import inputs
from rowan.demo.kvist import kvist_plan_a
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.services import start_job
from tests.core.designs import plan_a

PATHS = [found.path for found in inputs(plan_a())]
HOSTILE = [
    "<script>alert(1)</script>",
    "'; DROP TABLE jobs_plan; --",
    "../../etc/passwd",
    "\x00",
    "9" * 400,
    "1e400",
    "∞",
    "٣",
    "½½",
    "1 000 000 000",
]
TEXT = st.text(max_size=30) | st.sampled_from(HOSTILE)


class Hostile(TestCase):
    """One person, one plan, odd posts."""

    @classmethod
    def setUpTestData(cls) -> None:
        firm = Firm.objects.create(name="Odd firm")
        cls.person = User.objects.create_user("odd@odd.example", "odd-pass-123", name="Odd", firm=firm)
        cls.plan: Plan = start_job(firm=firm, author=cls.person, title="Odd house", design=kvist_plan_a())

    def post(self, name: str, **data: object) -> int:
        client = Client(raise_request_exception=True)
        client.force_login(self.person)
        data = {"revision": self.plan.head.number, "bench": "charge", "origin": "measured", **data}
        answer = client.post(reverse(f"steps:{name}", args=(self.plan.job_id, "A")), data)
        if answer.status_code in (200, 409, 422):
            assert "<script>alert" not in answer.content.decode()
        return answer.status_code

    @settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
    @given(path=st.sampled_from(PATHS), value=TEXT)
    def test_any_text_in_any_input(self, path: str, value: str) -> None:
        assert self.post("set", path=path, value=value) in (302, 422)

    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
    @given(path=TEXT | st.sampled_from(PATHS), value=TEXT, revision=TEXT)
    def test_any_text_in_a_drag(self, path: str, value: str, revision: str) -> None:
        assert self.post("drag", path=path, value=value) in (302, 404, 422)
        assert self.post("drag", path="charge.gap_pa", value="40000", revision=revision) in (302, 404, 409)

    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
    @given(finding=TEXT, cure=TEXT, bench=TEXT)
    def test_any_text_in_a_cure(self, finding: str, cure: str, bench: str) -> None:
        assert self.post("cure", finding=finding, cure=cure, bench=bench) in (302, 404, 422)

    @settings(max_examples=30, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        st.fixed_dictionaries(
            dict.fromkeys(("place", "azimuth", "tilt", "covering", "storeys", "persons", "heater", "title"), TEXT)
        )
    )
    def test_any_text_in_the_facts(self, facts: dict[str, str]) -> None:
        client = Client()
        client.force_login(self.person)
        assert client.post(reverse("jobs:start"), facts).status_code in (302, 422)
        assert client.get(reverse("jobs:proposal"), facts, headers={"X-Requested-With": "fetch"}).status_code == 200


@pytest.mark.django_db
@pytest.mark.parametrize("value", ["nan", "inf", "-inf", "1e999"])
def test_numbers_that_are_none_are_not_saved(plan: Plan, page: Client, value: str) -> None:
    address = reverse("steps:drag", args=(plan.job_id, plan.letter))
    answer = page.post(address, {"path": "charge.gap_pa", "value": value, "revision": 1, "bench": "charge"})
    assert answer.status_code in (404, 422)
    assert plan.head.number == 1


@pytest.mark.django_db
def test_a_hostile_title_is_shown_as_text(page: Client, person: User) -> None:
    facts = {
        "place": "Aldersund",
        "azimuth": "180",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
    }
    title = "<img src=x onerror=alert(1)>"
    page.post(reverse("jobs:start"), {**facts, "title": title})
    assert Job.objects.visible(person).get().title == title
    text = page.get(reverse("jobs:list")).content.decode()
    assert title not in text
    assert "&lt;img src=x" in text


@pytest.mark.django_db
@pytest.mark.parametrize(
    "address",
    [
        "/jobs/1/Z/charge/",
        "/jobs/x/A/charge/",
        "/jobs/99999999999/A/charge/",
        "/jobs/1/A/CHARGE/",
        "/jobs/1/A/charge/extra/",
    ],
)
def test_odd_addresses_are_not_found(page: Client, address: str) -> None:
    assert page.get(address).status_code == 404
