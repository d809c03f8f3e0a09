"""Readings over HTTP, live values, what was left set, and the card with its code."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from typing import Any

import pytest
from django.http import HttpResponse
from django.template.loader import render_to_string
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowan.web.accounts.models import User
from rowan.web.care import services
from rowan.web.care.models import Device, LeftSetting, Reading
from rowan.web.care.services import left_state
from rowan.web.papers.settings_card import card_context, code_of
from rowan.web.plans.models import Plan
from tests.web.test_pages import read
from tests.web.text import one_line

NOON = datetime(2026, 5, 4, 12, tzinfo=UTC)
URL = "/readings/"


@pytest.fixture
def token(plan: Plan, person: User) -> str:
    _, made = services.make_device(plan=plan, name="controller in the cellar", person=person)
    return made


def line(minute: int, **more: Any) -> dict[str, Any]:
    at = (NOON + timedelta(minutes=minute)).isoformat()
    return {"at": at, "field_c": 45.0, "low_c": 40.0, "high_c": 50.0, "pump_share": 1.0, "gauge_pa": 180e3, **more}


def send(client: Client, token: str, *lines: Any, raw: bytes | None = None, scheme: str = "Bearer") -> HttpResponse:
    body = raw if raw is not None else "".join(json.dumps(entry) + "\n" for entry in lines).encode()
    headers = {"Authorization": f"{scheme} {token}"} if token else {}
    return client.post(URL, body, content_type="application/x-ndjson", headers=headers)  # type: ignore[return-value]


# taking in


def test_readings_are_stored_once_in_whatever_order_they_come(client: Client, token: str) -> None:
    first = send(client, token, line(3), line(1), line(2))
    assert first.status_code == 200
    assert first.json() == {"stored": 3, "known": 0, "aside": 0}  # type: ignore[attr-defined]
    again = send(client, token, line(1), line(2), line(4), line(4))
    assert again.json() == {"stored": 1, "known": 3, "aside": 0}  # type: ignore[attr-defined]
    device = Device.objects.get()
    assert [entry.at.minute for entry in device.readings.order_by("at")] == [1, 2, 3, 4]
    assert device.heard is not None


def test_the_first_of_two_readings_of_a_moment_stays(client: Client, token: str) -> None:
    send(client, token, line(1, field_c=30.0))
    send(client, token, line(1, field_c=90.0))
    assert Device.objects.get().readings.get().field_c == 30.0


@given(order=st.permutations(range(8)), twice=st.lists(st.integers(0, 7), max_size=6))
@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
def test_any_order_sent_any_number_of_times_comes_to_the_same(
    client: Client, token: str, order: list[int], twice: list[int]
) -> None:
    device = Device.objects.get()
    device.readings.all().delete()
    for minute in (*order, *twice):
        assert send(client, token, line(minute, field_c=30.0 + minute)).status_code == 200
    kept = [(entry.at.minute, entry.field_c) for entry in device.readings.order_by("at")]
    assert kept == [(minute, 30.0 + minute) for minute in range(8)]


@pytest.mark.parametrize(("bad", "scheme"), [("", "Bearer"), ("nonsense", "Bearer"), (None, "Basic")])
def test_without_its_token_nothing_is_taken(client: Client, token: str, bad: str | None, scheme: str) -> None:
    answer = send(client, token if bad is None else bad, line(1), scheme=scheme)
    assert answer.status_code == 401
    assert answer["WWW-Authenticate"].startswith("Bearer")
    assert "token" in answer.json()["error"]  # type: ignore[attr-defined]
    assert Device.objects.get().readings.count() == 0


def test_a_key_that_stands_twice_is_refused(client: Client, token: str) -> None:
    """The last of two would count silently."""
    answer = send(client, token, raw=b'{"at": "2026-05-04T12:00:00Z", "field_c": 20, "field_c": 90}')
    assert answer.status_code == 400
    assert "field_c” stands twice" in answer.json()["error"]  # type: ignore[attr-defined]


@pytest.mark.parametrize("years", [-11, 124])
def test_a_wrong_clock_is_kept_aside_and_told(page: Client, client: Client, plan: Plan, token: str, years: int) -> None:
    now = timezone.now()
    wrong = now.replace(year=now.year + years, day=1, hour=1)
    found = send(client, token, line(1), {"at": wrong.isoformat(), "field_c": 300.0, "low_c": 20.0})
    assert found.json() == {"stored": 2, "known": 0, "aside": 1}  # type: ignore[attr-defined]
    live = read(page.get(reverse("care:live", args=(plan.job_id, "A")))).text
    assert f"1 reading kept aside, dated 1 {wrong:%b %Y}" in live
    assert "1 reading , the newest of" in live or "1 reading, the newest of" in live
    assert "300" not in live.split("kept aside")[0].split("newest of")[1], "it is counted nowhere"
    log = page.get(reverse("care:log", args=(plan.job_id, "A")), {"device": Device.objects.get().pk}).content.decode()
    assert str(wrong.year) not in log


def test_a_day_of_seconds_is_drawn_from_an_even_choice_with_every_start(plan: Plan, token: str) -> None:
    device = Device.objects.get()
    Reading.objects.bulk_create(
        Reading(
            device=device, at=NOON + timedelta(seconds=n), field_c=40.0, low_c=30.0, pump_share=float(n % 997 >= 990)
        )
        for n in range(20_000)
    )
    shown = device.newest_day(timedelta(days=1), 1440)
    assert 1300 <= len(shown) <= 1440 + 2 * 21
    assert sum(b.runs and not a.runs for a, b in pairwise(shown)) == 20_000 // 997
    assert [r.at for r in shown] == sorted(r.at for r in shown)
    few = device.newest_day(timedelta(seconds=900), 1440)
    assert len(few) == 901, "what is few is all there"


def test_more_than_any_controller_takes_is_refused(client: Client, token: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(services, "MOST_A_DAY", 5)
    assert send(client, token, *(line(n) for n in range(4))).status_code == 200
    answer = send(client, token, *(line(n) for n in range(2, 7)))
    assert answer.status_code == 429
    assert "more than 5 readings of 2026-05-04" in answer.json()["error"]  # type: ignore[attr-defined]
    assert Device.objects.get().readings.count() == 4
    assert send(client, token, *(line(n) for n in range(5))).status_code == 200, "what is known counts once"


@pytest.mark.parametrize(
    ("second", "says"),
    [
        ({"at": "soon"}, "is no time"),
        ({"field_c": 3}, "at"),
        ({"at": NOON.isoformat(), "field_c": 1e9}, "between"),
        ({"at": NOON.isoformat(), "colour": "red"}, "no key"),
        ([1, 2], "object"),
    ],
)
def test_a_bad_line_is_named_and_nothing_of_the_lot_is_stored(
    client: Client, token: str, second: Any, says: str
) -> None:
    answer = send(client, token, line(1), second, line(3))
    assert answer.status_code == 400
    found = answer.json()  # type: ignore[attr-defined]
    assert found["line"] == 2
    assert says in found["error"]
    assert Device.objects.get().readings.count() == 0


@pytest.mark.parametrize(
    ("raw", "status"),
    [(b"", 400), (b"\n\n", 400), (b"{", 400), (b"\xff\xfe", 400), (b"[" * 3000, 400), (b" " * 1_000_001, 413)],
)
def test_what_is_no_lot_of_readings_is_refused(client: Client, token: str, raw: bytes, status: int) -> None:
    answer = send(client, token, raw=raw)
    assert answer.status_code == status
    assert answer.json()["error"]  # type: ignore[attr-defined]


def test_too_many_lines_are_refused_whole(client: Client, token: str) -> None:
    answer = send(client, token, *(line(n) for n in range(services.MOST_LINES + 1)))
    assert answer.status_code == 400
    assert "at most" in answer.json()["error"]  # type: ignore[attr-defined]
    assert Device.objects.get().readings.count() == 0


def test_readings_are_only_posted(client: Client, token: str) -> None:
    assert client.get(URL).status_code == 405


def test_the_token_is_kept_as_a_digest_alone(plan: Plan, token: str) -> None:
    assert token not in str(Device.objects.values().get())
    assert services.device_of_token(token) == Device.objects.get()
    assert services.device_of_token("") is None


# live


def live(page: Client, plan: Plan, piece: str = "live") -> str:
    asked = {"X-Requested-With": "fetch"} if piece == "live_now" else {}
    return page.get(reverse(f"care:{piece}", args=(plan.job_id, plan.letter)), headers=asked).content.decode()


def test_a_device_is_made_and_its_token_is_shown_once(plan: Plan, page: Client, client: Client) -> None:
    assert "Nothing is connected" in live(page, plan)
    answer = page.post(reverse("care:connect", args=(plan.job_id, plan.letter)), {"name": "cellar"}, follow=True)
    shown = re.search(r'id="token">([^<]+)<', answer.content.decode())
    assert shown is not None
    assert send(client, shown[1], line(1)).status_code == 200
    assert shown[1] not in live(page, plan)


def test_a_device_wants_a_name_and_there_is_a_most(plan: Plan, page: Client, person: User) -> None:
    address = reverse("care:connect", args=(plan.job_id, plan.letter))
    assert page.post(address, {"name": " "}).status_code == 422
    for n in range(services.MOST_DEVICES):
        services.make_device(plan=plan, name=f"device {n}", person=person)
    answer = page.post(address, {"name": "one more"})
    assert answer.status_code == 422
    assert "at most" in answer.content.decode()


def test_live_values_say_what_does_not_fit(plan: Plan, page: Client, client: Client, token: str) -> None:
    send(client, token, *(line(n, flow_m3_s=7e-5) for n in range(5)))
    assert "nothing stands against the plan" in live(page, plan)
    send(client, token, *(line(10 + n, flow_m3_s=0.0) for n in range(3)))
    text = live(page, plan, "live_now")
    assert "told to run" in text
    assert "Stuck shaft" in text
    assert 'data-run-delay="2000"' in text
    send(client, token, *(line(20 + n, field_c=None, pump_share=0.0) for n in range(3)))
    assert "The field sensor reads nothing" in live(page, plan)


def test_live_values_speak_the_reader_s_units(plan: Plan, page: Client, client: Client, token: str) -> None:
    send(client, token, *(line(n) for n in range(3)))
    page.post(reverse("accounts:units"), {"units": "us"})
    text = live(page, plan)
    assert "113.0\N{NO-BREAK SPACE}°F" in text
    assert "psi" in text


def test_a_device_is_ended_with_its_token_and_readings(plan: Plan, page: Client, client: Client, token: str) -> None:
    send(client, token, line(1))
    device = Device.objects.get()
    end = reverse("care:end", args=(plan.job_id, plan.letter))
    assert page.post(end, {"device": "x"}).status_code == 404
    assert page.post(end, {"device": str(device.pk + 1)}).status_code == 404
    assert page.post(end, {"device": str(device.pk)}).status_code == 302
    assert send(client, token, line(2)).status_code == 401


def test_another_plan_s_device_is_not_there(
    plan: Plan, direct_plan: Plan, page: Client, token: str, client: Client
) -> None:
    send(client, token, line(1))
    device = Device.objects.get()
    other = (direct_plan.job_id, direct_plan.letter)
    assert page.post(reverse("care:end", args=other), {"device": str(device.pk)}).status_code == 404
    assert page.get(reverse("care:log", args=other), {"device": str(device.pk)}).status_code == 404
    assert Device.objects.count() == 1


def test_the_log_is_what_was_sent(plan: Plan, page: Client, client: Client, token: str) -> None:
    send(client, token, line(2, field_c=None), line(1))
    address = reverse("care:log", args=(plan.job_id, plan.letter))
    rows = page.get(address, {"device": str(Device.objects.get().pk)}).content.decode().splitlines()
    assert rows[0].startswith("at,field_c,low_c")
    assert [row.split(",")[1] for row in rows[1:]] == ["45.0", ""]


# what was left


def leave(page: Client, plan: Plan, **values: str) -> HttpResponse:
    data = {path.replace("__", "."): value for path, value in values.items()}
    data.setdefault("seen", left_state(plan))
    return page.post(reverse("care:as_left", args=(plan.job_id, plan.letter)), data)  # type: ignore[return-value]


def test_whoever_writes_down_second_is_told_and_keeps_what_was_typed(plan: Plan, page: Client) -> None:
    seen = left_state(plan)
    assert leave(page, plan, control__start_k="6 K", seen=seen).status_code == 302
    second = leave(page, plan, control__start_k="9 K", control__stop_k="3", seen=seen)
    assert second.status_code == 409
    text = second.content.decode()
    assert "somebody wrote down what was left meanwhile" in text
    assert 'value="9 K"' in text
    assert {e.path: e.number for e in LeftSetting.objects.all()} == {"control.start_k": 6.0}
    assert leave(page, plan, control__start_k="9 K").status_code == 302


def test_what_was_left_is_kept_and_what_differs_is_marked(plan: Plan, page: Client) -> None:
    assert leave(page, plan, control__start_k="6 K", control__stop_k="3", store__hygiene="none").status_code == 302
    text = one_line(page.get(reverse("care:as_left", args=(plan.job_id, plan.letter))))
    assert "2 settings left otherwise than planned" in text
    assert text.count("not as planned") == 2
    kept = {entry.path: entry.number for entry in LeftSetting.objects.all()}
    assert kept["control.start_k"] == 6.0
    card = render_to_string("papers/settings_card.html", card_context(plan, "metric"))
    assert re.search(r"≠\s+6\.0", card)
    assert "3.0\N{NO-BREAK SPACE}K</td></tr>" in card


def test_an_emptied_field_takes_its_entry_away(plan: Plan, page: Client) -> None:
    leave(page, plan, control__start_k="6", store__hygiene="none")
    leave(page, plan, control__start_k="", store__hygiene="")
    assert LeftSetting.objects.count() == 0


def test_what_cannot_be_is_refused_and_nothing_typed_is_lost(plan: Plan, page: Client) -> None:
    answer = leave(page, plan, control__start_k="warm", control__stop_k="4")
    assert answer.status_code == 422
    text = answer.content.decode()
    assert 'value="warm"' in text
    assert 'role="alert"' in text
    assert {entry.path for entry in LeftSetting.objects.all()} == {"control.stop_k"}


def test_only_settings_of_the_card_are_kept(plan: Plan, page: Client) -> None:
    leave(page, plan, money__fuel_price="3", survey__place="here")
    assert LeftSetting.objects.count() == 0


def test_left_in_us_units_is_the_same_setting(plan: Plan, page: Client) -> None:
    page.post(reverse("accounts:units"), {"units": "us"})
    leave(page, plan, control__start_k="14.4", store__maximum_c="176")
    kept = {entry.path: entry.number for entry in LeftSetting.objects.all()}
    assert kept["control.start_k"] == pytest.approx(8.0)
    assert kept["store.maximum_c"] == pytest.approx(80.0)
    assert "as planned" in page.get(reverse("care:as_left", args=(plan.job_id, plan.letter))).content.decode()


def test_the_card_s_code_is_a_picture_of_its_address(plan: Plan, page: Client) -> None:
    code = code_of("https://rowan.example/jobs/1/A/control/")
    assert code.startswith("<svg")
    assert code != code_of("https://rowan.example/jobs/2/A/control/")
    context = card_context(plan, "metric", address="https://rowan.example/jobs/1/A/control/")
    assert code in render_to_string("papers/settings_card.html", context)
    assert "qr" not in render_to_string("papers/settings_card.html", card_context(plan, "metric")).split("</style>")[1]
