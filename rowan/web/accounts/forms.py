"""Forms about people and their firm. Refusals name the field and say what would do."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django_otp import user_has_device
from django_otp.forms import OTPAuthenticationFormMixin
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from rowan.core.design.inputs.base import spec_of
from rowan.core.design.inputs.charge import ChargeInputs
from rowan.core.terms.language import Message, tr
from rowan.core.terms.units import fixed
from rowan.web.accounts.logo import LogoError, safe_logo
from rowan.web.accounts.models import UNITS, Firm, User
from rowan.web.accounts.roles import ABOUT, Role

MOST_RATE = 100_000  # of any currency, an hour
MOST_LOGO = 1_000_000  # bytes


class SignInForm(OTPAuthenticationFormMixin, AuthenticationForm):  # type: ignore[misc]  # the package brings no types
    """Mail address and password; of who has set a second factor also its code."""

    otp_token = forms.CharField(required=False, max_length=12)
    otp_challenge = forms.CharField(required=False)
    # whether the code is what is missing
    wants_code = False

    def clean(self) -> dict[str, Any]:
        """The password first; the code only of whom has one, so that nobody learns who."""
        data = super().clean()
        person = self.get_user()
        if person is not None and user_has_device(person):
            self.wants_code = True
            self.clean_otp(person)
        return data

    def _chosen_device(self, user: User) -> Any:
        """Six figures are the app's, anything else a spare code: a wrong one of either never locks the other."""
        token = (self.cleaned_data.get("otp_token") or "").replace(" ", "")
        self.cleaned_data["otp_token"] = token
        kind = TOTPDevice if token.isdecimal() else StaticDevice
        return kind.objects.select_for_update().filter(user=user, confirmed=True).first()


class PasswordFields(forms.Form):
    """A new password, typed once and shown on wish; the rule is Django's validators'."""

    password = forms.CharField(label="Password, twelve letters or more", widget=forms.PasswordInput, max_length=200)

    def clean(self) -> dict[str, Any]:
        """The strength rule, with who it is for in mind."""
        data: dict[str, Any] = super().clean() or {}
        who = User(email=data.get("email", ""), name=data.get("name", ""))
        try:
            validate_password(data.get("password", ""), who)
        except ValidationError as error:
            self.add_error("password", error)
        return data


class NewPersonForm(PasswordFields):
    """Who takes an invitation."""

    name = forms.CharField(label="Your name", max_length=80)
    field_order = ("name", "password")


class NewFirmForm(PasswordFields):
    """A firm and its first person."""

    firm = forms.CharField(label="Name of the firm", max_length=120)
    name = forms.CharField(label="Your name", max_length=80)
    email = forms.EmailField(label="Mail address")
    field_order = ("firm", "name", "email", "password")


class InviteForm(forms.Form):
    """Whom, and as what."""

    email = forms.EmailField(label="Mail address")
    role = forms.ChoiceField(
        label="comes in as",
        choices=[(role, Message(f"{role.label}: {ABOUT[role]}")) for role in Role],
        initial=Role.INSTALLER,
    )


def _schools() -> list[tuple[str, str]]:
    found = spec_of(ChargeInputs, "school")
    return [("", "Rowan's own"), *(found.choices if found else ())]


class FirmForm(forms.ModelForm):  # type: ignore[type-arg]  # not subscriptable at run time
    """What stands on papers, and what is usual."""

    logo_file = forms.FileField(label="Head of papers: a PNG or SVG", required=False)
    no_logo = forms.BooleanField(label="Without a picture", required=False)
    units = forms.ChoiceField(label="Usual units", choices=UNITS)
    school = forms.ChoiceField(label="School of charging a vessel", choices=_schools, required=False)
    fluid_share = forms.FloatField(
        label="Usual glycol, % by volume (blank: by the place)", required=False, min_value=0, max_value=60
    )
    hourly_rate = forms.FloatField(label="An hour's work", required=False, min_value=0, max_value=MOST_RATE)

    class Meta:
        model = Firm
        fields = (
            "name", "address", "telephone", "emergency", "mail", "licences", "currency", "hourly_rate", "units", "fluid_share", "school",
        )  # fmt: skip
        labels = {
            "name": "Name", "emergency": "Telephone when it cannot wait", "mail": "Mail address", "licences": "Licence numbers",
        }  # fmt: skip

    def clean_logo_file(self) -> tuple[str, bytes] | None:
        """The picture drawn anew, so that nothing else is in it."""
        file = self.cleaned_data.get("logo_file")
        if not file:
            return None
        if file.size > MOST_LOGO:
            raise ValidationError(
                tr(
                    "At most {most} MB; this has {size} MB.",
                    most=MOST_LOGO // 1_000_000,
                    size=fixed(file.size / 1e6, 1),
                )
            )
        try:
            return safe_logo(file.read())
        except LogoError as error:
            raise ValidationError(str(error)) from error
