"""Signing in and out, and the system of units a person sees."""

from __future__ import annotations

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView, PasswordChangeView
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.urls import reverse_lazy

from rowan.web.ui.context import back_to
from rowan.web.ui.methods import forms_only


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True


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
    """Keep the person's choice of units and go back to where they were."""
    user = request.user
    wanted = request.POST.get("units", "")
    if user.is_authenticated and wanted in ("metric", "us"):
        user.units = wanted
        user.save(update_fields=["units"])
    return back_to(request, request.POST.get("next", ""))
