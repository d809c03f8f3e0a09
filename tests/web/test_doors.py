"""Doors: who is locked out, what is kept on the way, where a request comes from, a password of one's own."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client, RequestFactory

from rowan.web.accounts.addresses import UNKNOWN, address_of
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from tests.web.test_pages import bench_url
from tests.web.text import one_line

pytestmark = pytest.mark.django_db


def tries(client: Client, person: User, password: str, address: str, times: int = 1) -> Any:
    answer: Any = None
    for _ in range(times):
        answer = client.post("/sign-in/", {"username": person.email, "password": password}, REMOTE_ADDR=address)
    return answer


def test_wrong_tries_lock_out_whoever_made_them_and_nobody_else(person: User, colleague: User, settings: Any) -> None:
    settings.AXES_ENABLED = True
    settings.AUTHENTICATION_BACKENDS = [
        "axes.backends.AxesStandaloneBackend",
        "django.contrib.auth.backends.ModelBackend",
    ]
    stranger = "203.0.113.9"
    locked = tries(Client(), person, "wrong", stranger, times=9)
    assert "Too many tries" in one_line(locked)
    assert "Too many tries" in one_line(tries(Client(), person, "rope-walk-40", stranger)), (
        "not even with the right one"
    )
    # the person themselves, at home, and a colleague at the stranger's own address
    assert tries(Client(), person, "rope-walk-40", "198.51.100.7").status_code == 302
    assert tries(Client(), colleague, "rope-walk-41", stranger).status_code == 302


@pytest.mark.parametrize(
    ("proxies", "forwarded", "wanted"),
    [
        (0, "", "192.0.2.1"),
        (0, "203.0.113.9", "192.0.2.1"),
        (1, "203.0.113.9", "203.0.113.9"),
        (1, "1.2.3.4, 203.0.113.9", "203.0.113.9"),
        (2, "1.2.3.4, 203.0.113.9, 10.0.0.2", "203.0.113.9"),
        (2, "203.0.113.9", "192.0.2.1"),
        (1, "nonsense", UNKNOWN),
        (1, "2001:db8::1", "2001:db8::1"),
    ],
)
def test_a_request_comes_from_where_our_own_proxies_saw_it(
    settings: Any, proxies: int, forwarded: str, wanted: str
) -> None:
    settings.PROXIES = proxies
    given = {"HTTP_X_FORWARDED_FOR": forwarded} if forwarded else {}
    assert address_of(RequestFactory().get("/", REMOTE_ADDR="192.0.2.1", **given)) == wanted  # type: ignore[arg-type]


def test_what_somebody_signed_in_has_seen_is_kept_by_nobody(plan: Plan, page: Client) -> None:
    for address in ("/", bench_url(plan, "charge"), f"/jobs/{plan.job_id}/A/job.json"):
        assert page.get(address)["Cache-Control"] == "private, no-store", address
    assert (
        not Client().get("/sign-in/").has_header("Cache-Control") or "no" in Client().get("/sign-in/")["Cache-Control"]
    )


def test_a_password_is_changed_by_who_knows_it(page: Client, person: User) -> None:
    other = Client()
    other.force_login(person)
    new = "collector-row-77"
    wrong = page.post("/password/", {"old_password": "no", "new_password1": new, "new_password2": new})
    assert wrong.status_code == 200
    assert "refusal" in wrong.content.decode()
    for weak in ("12345678", "eleven-9-lk", "password1234", "mara@hollinwray.example"):
        told = page.post("/password/", {"old_password": "rope-walk-40", "new_password1": weak, "new_password2": weak})
        assert told.status_code == 200, weak
    done = page.post("/password/", {"old_password": "rope-walk-40", "new_password1": new, "new_password2": new})
    assert done.status_code == 302
    person.refresh_from_db()
    assert person.check_password(new)
    assert page.get("/").status_code == 200, "here they stay signed in"
    assert other.get("/").status_code == 302, "elsewhere they do not"
