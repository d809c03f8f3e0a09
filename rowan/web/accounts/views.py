"""Signing in and out, what is somebody's own, and a new firm or person from a link."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView, PasswordChangeView
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.utils import timezone
from django_otp.plugins.otp_totp.models import TOTPDevice

from rowan.core.terms.language import Message
from rowan.web.accounts import services
from rowan.web.accounts.forms import NewFirmForm, NewPersonForm, SignInForm
from rowan.web.accounts.models import PAPERS, UNITS, User
from rowan.web.ui.context import back_to
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only, takes_forms

UNPROCESSABLE, GONE = 422, 410
BACKEND = "django.contrib.auth.backends.ModelBackend"
BROWSERS = ("", Message("as the browser asks"))


def person_of(request: HttpRequest) -> User:
    """The signed-in person; 404 for anybody else."""
    if not isinstance(request.user, User):
        raise Http404
    return request.user


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True
    extra_context = {"new_firms": settings.NEW_FIRMS}


class SignOut(LogoutView):
    pass


class ChangePassword(PasswordChangeView):
    """The person's own password; other sessions of theirs end with it."""

    template_name = "accounts/password.html"
    success_url = reverse_lazy("accounts:password_changed")


def password_changed(request: HttpRequest) -> HttpResponse:
    """That it is done."""
    words = {"title": "Password changed", "text": "Other devices are signed out; this one stays signed in."}
    return render(request, "ui/problem.html", words)


@login_not_required
def who(request: HttpRequest) -> JsonResponse:
    """Who is signed in, and a token that counts: for a page whose session has ended under it."""
    return JsonResponse({"person": request.user.pk, "token": get_token(request)})


@forms_only
def set_units(request: HttpRequest) -> HttpResponse:
    """Keep the person's choice of units, of light or dark paper, or of a language, and go back to where they were."""
    user = request.user
    if user.is_authenticated:
        for name, choices in (("units", UNITS), ("paper", PAPERS), ("language", [BROWSERS, *settings.LANGUAGES])):
            wanted = request.POST.get(name)
            if wanted in dict(choices):
                setattr(user, name, wanted)
                user.save(update_fields=[name])
    return back_to(request, request.POST.get("next", ""))


@takes_forms
@login_not_required
def invitation(request: HttpRequest, secret: str) -> HttpResponse:
    """A place in a firm: who opens the link gives a name and a password."""
    found = services.invitation_of(secret)
    if found is None:
        words = {
            "title": "This invitation opens nothing",
            "text": "It was used, withdrawn, or its fortnight is over. Ask the lead of the firm for a new one.",
        }
        return render(request, "ui/problem.html", words, status=GONE)
    form = NewPersonForm(request.POST if request.method == "POST" else None, initial={"email": found.email})
    if request.method == "POST" and form.is_valid():
        try:
            person = services.accept(secret=secret, **form.cleaned_data)
        except WebError as error:
            form.add_error(None, f"{error}.")
        else:
            login(request, person, BACKEND)
            return redirect("jobs:list")
    context = {"form": form, "found": found}
    return render(request, "accounts/invitation.html", context, status=UNPROCESSABLE if form.errors else 200)


@takes_forms
@login_not_required
def new_firm(request: HttpRequest) -> HttpResponse:
    """A firm of one's own, where the operator lets anybody make one."""
    if not settings.NEW_FIRMS:
        raise Http404
    form = NewFirmForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        try:
            person = services.found_firm(
                name=data["firm"], person_name=data["name"], email=data["email"], password=data["password"]
            )
        except WebError as error:
            form.add_error(None, f"{error}.")
        else:
            login(request, person, BACKEND)
            return redirect("accounts:firm")
    return render(request, "accounts/new_firm.html", {"form": form}, status=UNPROCESSABLE if form.errors else 200)


def me(request: HttpRequest) -> HttpResponse:
    """What is one's own: units, paper and language, password, second factor, where one is signed in."""
    person = person_of(request)
    here = request.session.session_key
    person.signed_in.filter(session=here).update(seen=timezone.localdate())
    rows = [{"row": row, "here": row.session == here} for row in services.signed_in_at(person)]
    second = TOTPDevice.objects.filter(user=person, confirmed=True).exists()
    choices = {"all_units": UNITS, "all_papers": PAPERS, "all_languages": [BROWSERS, *settings.LANGUAGES]}
    return render(request, "accounts/me.html", {"rows": rows, "second": second} | choices)


@forms_only
def end_session(request: HttpRequest) -> HttpResponse:
    """Sign out one browser, or all the others."""
    person, here = person_of(request), request.session.session_key
    which = request.POST.get("which", "")
    found = person.signed_in.filter(pk=int(which)).first() if which.isdecimal() and len(which) < 10 else None
    if which == "others":
        services.end_sessions(person, but=here)
    elif found is not None:
        services.end_sessions(person, found.session)
    return redirect("accounts:me")
