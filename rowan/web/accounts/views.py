"""Signing in and out, and the system of units a person sees."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth.views import LoginView, LogoutView
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True


class SignOut(LogoutView):
    pass


@require_POST
def set_units(request: HttpRequest) -> HttpResponse:
    """Keep the person's choice of units and go back to where they were."""
    user = request.user
    wanted = request.POST.get("units", "")
    if user.is_authenticated and wanted in ("metric", "us"):
        user.units = wanted
        user.save(update_fields=["units"])
    back = request.POST.get("next", "")
    safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}, require_https=request.is_secure())
    return redirect(back if safe else settings.LOGIN_REDIRECT_URL)
