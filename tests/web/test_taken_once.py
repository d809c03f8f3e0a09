"""A plain form that a browser kept and sends late: it is taken once, and what is refused leaves nothing."""

from __future__ import annotations

import uuid
from datetime import timedelta

import pytest
from django.http import HttpResponse
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from rowan.web.accounts.middleware import KEPT_FOR, SIGNED_OUT
from rowan.web.accounts.models import TakenForm, User
from rowan.web.customers.models import Customer

pytestmark = pytest.mark.django_db
ADD = {"name": "Ola Berg", "telephone": "0555 010 199", "mail": "", "address": "", "notes": ""}


def late(page: Client, key: str, **form: str) -> HttpResponse:
    data = {"plain": "1", "late": "1", "sent": key, **(ADD | form)}
    return page.post(reverse("customers:customers"), data, headers={"X-Rowan-Late": "1"})


@pytest.fixture
def key() -> str:
    return str(uuid.uuid4())


def test_a_form_that_comes_twice_is_taken_once(page: Client, person: User, key: str) -> None:
    assert late(page, key).status_code in (200, 302)
    second = late(page, key)
    assert second.status_code == 200
    assert second.content == b"Taken before."
    assert Customer.objects.filter(firm=person.firm, name="Ola Berg").count() == 1


def test_what_was_refused_may_come_again_put_right(page: Client, person: User, key: str) -> None:
    assert late(page, key, name="").status_code == 422
    assert not TakenForm.objects.exists()
    assert late(page, key).status_code in (200, 302)
    assert Customer.objects.filter(firm=person.firm, name="Ola Berg").exists()


def test_another_id_is_another_form_and_another_person_has_ids_of_his_own(
    page: Client, person: User, apprentice: User, key: str
) -> None:
    late(page, key)
    late(page, str(uuid.uuid4()))
    assert Customer.objects.filter(firm=person.firm, name="Ola Berg").count() == 2
    TakenForm.objects.create(person=apprentice, key="same")
    late(page, "same")
    assert Customer.objects.filter(firm=person.firm, name="Ola Berg").count() == 3


@pytest.mark.parametrize("key", ["", "x" * 37, "a\x00b"])
def test_an_id_that_is_none_is_no_id(page: Client, key: str) -> None:
    late(page, key)
    assert not TakenForm.objects.exists()


def test_a_form_sent_as_usual_leaves_no_id(page: Client, key: str) -> None:
    page.post(reverse("customers:customers"), ADD | {"plain": "1", "sent": key})
    assert not TakenForm.objects.exists()


def test_whoever_is_signed_out_is_told_so_by_a_status_and_nothing_is_taken(key: str) -> None:
    assert late(Client(), key).status_code == SIGNED_OUT
    assert not TakenForm.objects.exists()


def test_a_role_that_may_not_is_refused_late_as_well(apprentice: User, key: str) -> None:
    other = Client()
    other.force_login(apprentice)
    data = {"plain": "1", "late": "1", "sent": key, "name": "Other name"}
    assert other.post(reverse("accounts:firm"), data, headers={"X-Rowan-Late": "1"}).status_code == 403
    assert not TakenForm.objects.exists()


def test_an_error_of_the_server_takes_nothing(
    page: Client, person: User, key: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def breaks(*_: object, **__: object) -> None:
        raise OSError("full")

    page.raise_request_exception = False
    with monkeypatch.context() as patch:
        patch.setattr("rowan.web.customers.views.services.save_customer", breaks)
        assert late(page, key).status_code >= 500
    assert not TakenForm.objects.exists()
    assert late(page, key).status_code in (200, 302)


def test_ids_are_forgotten_after_a_season(page: Client, person: User, key: str) -> None:
    TakenForm.objects.create(person=person, key="old")
    TakenForm.objects.update(at=timezone.now() - KEPT_FOR - timedelta(days=1))
    late(page, key)
    assert list(TakenForm.objects.values_list("key", flat=True)) == [key]
