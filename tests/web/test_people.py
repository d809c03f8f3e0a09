"""People of a firm: invited, let in, given a role, parted with; their sessions, their second factor, a forgotten password."""

from __future__ import annotations

import io
import re
from datetime import timedelta
from typing import Any

import pytest
from django.core import mail
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts
from rowan.web.accounts import services
from rowan.web.accounts.logo import LogoError, safe_logo
from rowan.web.accounts.models import Firm, Invitation, User
from rowan.web.plans.services import proposed_for
from rowan.web.ui.errors import NoSuchStepError, NotAllowedError

NEW = {"name": "Orla Pike", "password": "a-long-pass-of-orla"}


def _invited(firm: Firm, person: User, role: str = "installer") -> str:
    return services.invite(firm=firm, person=person, email="orla@hollinwray.example", role=role)[1]


def test_a_link_lets_somebody_in_once(page: Client, firm: Firm) -> None:
    answer = page.post(
        reverse("accounts:people"), {"email": "orla@hollinwray.example", "role": "apprentice", "mail": "yes"}
    )
    link = answer.context["link"]
    assert mail.outbox[0].to == ["orla@hollinwray.example"]
    assert link in mail.outbox[0].body
    orla = Client()
    assert "Mara Hollin invites orla@hollinwray.example as apprentice" in orla.get(link).content.decode()
    assert orla.post(link, NEW)["Location"] == reverse("jobs:list")
    found = User.objects.get(email="orla@hollinwray.example")
    assert (found.firm, found.role, found.name) == (firm, "apprentice", "Orla Pike")
    assert orla.get(reverse("accounts:people")).status_code == 200
    again = Client().post(link, NEW)
    assert again.status_code == 410
    assert "used, withdrawn" in again.content.decode()


@pytest.mark.parametrize("how", ["over", "withdrawn", "tampered"])
def test_a_link_that_is_over_opens_nothing(how: str, firm: Firm, person: User) -> None:
    secret = _invited(firm, person)
    made = Invitation.objects.get()
    if how == "over":
        Invitation.objects.update(ends=timezone.now() - timedelta(seconds=1))
    elif how == "withdrawn":
        services.withdraw(invitation=made, person=person)
    else:
        secret = secret[:-1] + ("A" if secret[-1] != "A" else "B")
    assert Client().get(reverse("accounts:invitation", args=(secret,))).status_code == 410
    with pytest.raises(NoSuchStepError, match="used, withdrawn or over"):
        services.accept(secret=secret, **NEW)
    assert not User.objects.filter(email="orla@hollinwray.example").exists()


def test_what_is_kept_of_a_link_does_not_open_it(firm: Firm, person: User) -> None:
    secret = _invited(firm, person)
    assert secret not in str(Invitation.objects.values())
    assert services.invitation_of(Invitation.objects.get().digest) is None


def test_the_same_mail_twice(firm: Firm, person: User, colleague: User) -> None:
    with pytest.raises(NoSuchStepError, match="signs in already"):
        services.invite(firm=firm, person=person, email=colleague.email.upper(), role="viewer")
    first, second = _invited(firm, person), _invited(firm, person)
    assert services.invitation_of(first) is None
    assert services.invitation_of(second) is not None


def test_a_weak_password_is_refused_and_says_why(firm: Firm, person: User) -> None:
    link = reverse("accounts:invitation", args=(_invited(firm, person),))
    answer = Client().post(link, {"name": "Orla Pike", "password": "orla"})
    assert answer.status_code == 422
    assert "at least 12 characters" in answer.content.decode()


def test_the_last_lead_stays(person: User, colleague: User, page: Client) -> None:
    for act in (
        lambda: services.set_role(who=person, role="viewer", person=person),
        lambda: services.part_with(who=person, person=person),
    ):
        with pytest.raises(NoSuchStepError, match="needs a lead"):
            act()
    answer = page.post(reverse("accounts:role", args=(person.pk,)), {"role": "viewer"})
    assert answer.status_code == 422
    assert "make somebody else lead first" in answer.content.decode()
    services.set_role(who=colleague, role="lead", person=person)
    services.set_role(who=person, role="viewer", person=person)
    person.refresh_from_db()
    assert person.role == "viewer"
    with pytest.raises(NotAllowedError, match="the lead"):
        services.set_role(who=colleague, role="viewer", person=person)


def test_who_leaves_is_signed_out_and_may_come_back(person: User, colleague: User, firm: Firm) -> None:
    theirs = Client()
    assert theirs.login(username=colleague.email, password="rope-walk-41")
    services.part_with(who=colleague, person=person)
    assert theirs.get(reverse("jobs:list")).status_code == 302
    _, secret = services.invite(firm=firm, person=person, email=colleague.email, role="viewer")
    again = services.accept(secret=secret, name="Ives Wray", password=NEW["password"])
    assert (again.pk, again.is_active, again.role) == (colleague.pk, True, "viewer")


def test_sessions_are_listed_and_ended(person: User) -> None:
    here, there = Client(HTTP_USER_AGENT="Phone in the van"), Client(HTTP_USER_AGENT="Desk")
    for client in (here, there):
        assert client.login(username=person.email, password="rope-walk-40")
    # the test client signs in without a request of a browser's; what counts is that both are there
    assert len(services.signed_in_at(person)) == 2
    here.post(reverse("accounts:end_session"), {"which": "others"})
    assert there.get(reverse("accounts:me")).status_code == 302
    assert here.get(reverse("accounts:me")).status_code == 200
    here.post(reverse("accounts:sign_out"))
    assert services.signed_in_at(person) == []


def _code(device: TOTPDevice) -> str:
    made = TOTP(device.bin_key)
    made.time = timezone.now().timestamp()
    return f"{made.token():06d}"


def test_a_second_factor_is_set_up_asked_and_ended(page: Client, person: User) -> None:
    address = reverse("accounts:second")
    assert "<svg" in page.get(address).content.decode()
    device = TOTPDevice.objects.get(user=person)
    assert page.post(address, {"code": "000000" if _code(device) != "000000" else "111111"}).status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0)
    spare = page.post(address, {"code": _code(device)}).context["codes"]
    assert len(spare) == 8
    form = {"username": person.email, "password": "rope-walk-40"}
    at_the_door = Client().post(reverse("accounts:sign_in"), form)
    assert at_the_door.status_code == 200
    assert "six figures" in at_the_door.content.decode()
    assert (
        "six figures" not in Client().post(reverse("accounts:sign_in"), {**form, "password": "wrong"}).content.decode()
    )
    assert Client().post(reverse("accounts:sign_in"), {**form, "otp_token": spare[0]}).status_code == 302
    assert Client().post(reverse("accounts:sign_in"), {**form, "otp_token": spare[0]}).status_code == 200  # once
    page.post(reverse("accounts:second_end"), {"password": "wrong"})
    assert TOTPDevice.objects.filter(user=person).exists()
    page.post(reverse("accounts:second_end"), {"password": "rope-walk-40"})
    assert Client().post(reverse("accounts:sign_in"), form).status_code == 302


def test_a_forgotten_password_is_set_anew_once(person: User) -> None:
    theirs = Client()
    theirs.login(username=person.email, password="rope-walk-40")
    known = Client().post(reverse("accounts:reset"), {"email": person.email})
    unknown = Client().post(reverse("accounts:reset"), {"email": "nobody@nowhere.example"})
    assert known["Location"] == unknown["Location"] == reverse("accounts:reset_sent")
    assert len(mail.outbox) == 1
    link = re.search(r"http://testserver(\S+)", str(mail.outbox[0].body))
    assert link is not None
    client = Client()
    form = client.get(link[1])["Location"]
    new = {"new_password1": "a-quite-new-pass", "new_password2": "a-quite-new-pass"}
    assert client.post(form, new)["Location"] == reverse("accounts:reset_done")
    assert theirs.get(reverse("jobs:list")).status_code == 302
    assert Client().login(username=person.email, password="a-quite-new-pass")
    assert "was used" in Client().get(link[1], follow=True).content.decode()


def test_who_asks_again_and_again_gets_few_mails(person: User) -> None:
    for _ in range(6):
        Client().post(reverse("accounts:reset"), {"email": person.email})
    assert len(mail.outbox) == 3


def test_a_new_firm_from_the_sign_in_page(db: None, settings: Any) -> None:
    form = {
        "firm": "Lind & Daughters",
        "name": "Ada Lind",
        "email": "ada@lind.example",
        "password": "a-long-pass-of-ada",
    }
    client = Client()
    assert client.post(reverse("accounts:new_firm"), form)["Location"] == reverse("accounts:firm")
    assert User.objects.get(email="ada@lind.example").role == "lead"
    again = Client().post(reverse("accounts:new_firm"), {**form, "email": "other@lind.example"})
    assert again.status_code == 422
    assert "firm of this name is here already" in again.content.decode()
    settings.NEW_FIRMS = False
    assert Client().get(reverse("accounts:new_firm")).status_code == 404


def test_what_is_usual_in_a_firm_stands_in_a_new_plan(firm: Firm) -> None:
    facts = Facts(PLACES["Aldersund"], 180, 40, "slate", 4, "oil", 2)
    plain = proposed_for(firm, facts)
    firm.fluid_share, firm.school, firm.currency, firm.hourly_rate = 0.45, "equal", "marks", 52.0
    usual = proposed_for(firm, facts)
    assert (usual.charge.share.value, usual.charge.school.value) == (0.45, "equal")
    assert usual.charge.share.origin == "agreed"
    assert (usual.money.currency.value, usual.money.hour_price.value) == ("marks", 52.0)
    assert plain.charge.school.value != "equal"


# --- the head of papers


def _png(size: tuple[int, int] = (40, 20)) -> bytes:
    made = io.BytesIO()
    Image.new("RGB", size, "red").save(made, "PNG")
    return made.getvalue()


EVIL = b"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" onload="alert(1)" viewBox="0 0 9 9">
<script>alert(2)</script><foreignObject><p>x</p></foreignObject><a href="javascript:alert(3)"><path d="M0 0"/></a>
<use xlink:href="http://evil.example/x.svg#a"/><image href="http://evil.example/x.png"/><style>@import 'http://evil.example';</style>
<rect width="9" height="9" fill="url(http://evil.example/p)" style="background:url(x)"/><circle r="4" fill="url(#mine)"/></svg>"""


def test_a_script_in_a_picture_does_not_come_through() -> None:
    kind, made = safe_logo(EVIL)
    assert kind == "image/svg+xml"
    for word in (b"script", b"onload", b"javascript", b"evil", b"foreignObject", b"href", b"style", b"import"):
        assert word not in made
    assert b'<circle r="4" fill="url(#mine)"' in made


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"<svg",
        b"GIF89a",
        _png()[:40],
        b'<!DOCTYPE x [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg"/>',
        b"<?xml version='1.0'?><p/>",
    ],
)
def test_what_is_no_picture_is_refused(content: bytes) -> None:
    with pytest.raises(LogoError):
        safe_logo(content)


def test_a_png_is_drawn_anew() -> None:
    kind, made = safe_logo(_png((3000, 500)) + b"<script>alert(1)</script>")
    assert kind == "image/png"
    assert b"script" not in made
    assert Image.open(io.BytesIO(made)).size == (1200, 200)


@given(st.binary(max_size=300))
def test_any_bytes_are_a_picture_or_refused(content: bytes) -> None:
    try:
        kind, _ = safe_logo(content)
    except LogoError:
        return
    assert kind in ("image/png", "image/svg+xml")


def test_the_firm_s_page_takes_a_head_and_refuses_another(page: Client, firm: Firm) -> None:
    address, form = (
        reverse("accounts:firm"),
        {"name": firm.name, "currency": "crowns", "units": "us", "fluid_share": "40", "hourly_rate": "52.5"},
    )
    assert page.post(address, {**form, "logo_file": io.BytesIO(EVIL)}).status_code == 302
    firm.refresh_from_db()
    assert (firm.units, firm.fluid_share, firm.hourly_rate, firm.logo_kind) == ("us", 0.4, 52.5, "image/svg+xml")
    head = page.get(reverse("accounts:logo"))
    assert "sandbox" in head["Content-Security-Policy"]
    refused = page.post(address, {**form, "logo_file": io.BytesIO(b"MZ")})
    assert refused.status_code == 422
    assert "no PNG and no SVG" in refused.content.decode()
    page.post(address, {**form, "no_logo": "on"})
    assert page.get(reverse("accounts:logo")).status_code == 404
    assert "changed what stands on the firm" in page.get(reverse("accounts:log")).content.decode()
