"""A second factor by time code: set up with a square that an app reads, ended with the password's owner signed in."""

from __future__ import annotations

import io
from base64 import b32encode

import segno
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import mark_safe
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from rowan.web.accounts.views import UNPROCESSABLE, person_of
from rowan.web.ui.methods import forms_only, takes_forms

SPARE_CODES = 8


def _square(address: str) -> str:
    made = io.BytesIO()
    segno.make(address, error="m").save(made, kind="svg", scale=4, border=2, xmldecl=False, svgns=True)
    return made.getvalue().decode()


@takes_forms
def second(request: HttpRequest) -> HttpResponse:
    """Set it up: the square, then a code that proves it was read; spare codes are shown once."""
    person = person_of(request)
    device = TOTPDevice.objects.filter(user=person).filter(confirmed=False).first()
    if device is None:
        device = TOTPDevice.objects.create(user=person, name="time code", confirmed=False)
    wrong = False
    if request.method == "POST":
        if device.verify_token(request.POST.get("code", "").replace(" ", "")):
            TOTPDevice.objects.filter(user=person).filter(confirmed=True).delete()
            device.confirmed = True
            device.save()
            return render(request, "accounts/spare_codes.html", {"codes": _spare_codes(person)})
        wrong = True
    context = {
        "square": mark_safe(_square(device.config_url)),  # noqa: S308  drawn here from our own address
        "secret": b32encode(device.bin_key).decode(),
        "wrong": wrong,
    }
    return render(request, "accounts/second.html", context, status=UNPROCESSABLE if wrong else 200)


def _spare_codes(person: object) -> list[str]:
    """New ones; the old no longer count."""
    StaticDevice.objects.filter(user=person).delete()
    spare = StaticDevice.objects.create(user=person, name="spare codes")
    codes = [StaticToken.random_token() for _ in range(SPARE_CODES)]
    StaticToken.objects.bulk_create(StaticToken(device=spare, token=code) for code in codes)
    return codes


@forms_only
def second_end(request: HttpRequest) -> HttpResponse:
    """Without it from now on."""
    person = person_of(request)
    if person.check_password(request.POST.get("password", "")):
        TOTPDevice.objects.filter(user=person).delete()
        StaticDevice.objects.filter(user=person).delete()
    return redirect("accounts:me")
