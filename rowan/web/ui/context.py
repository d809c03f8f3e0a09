"""What every page knows."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme

from rowan.core.terms.units import System
from rowan.web.ui.templatetags.stays import Parts


def units_of(request: HttpRequest) -> System:
    """The system of units a person sees."""
    return "us" if getattr(request.user, "units", "metric") == "us" else "metric"


def is_piece(request: HttpRequest) -> bool:
    """Whether a script asked, to put a piece into its page; somebody who opened the address wants a whole page."""
    return "X-Requested-With" in request.headers or "X-Alpine-Request" in request.headers


def back_to(request: HttpRequest, address: str) -> HttpResponse:
    """Back to where somebody was: an address of this site, else the list of jobs."""
    safe = url_has_allowed_host_and_scheme(
        address, allowed_hosts={request.get_host()}, require_https=request.is_secure()
    )
    return redirect(address if safe else settings.LOGIN_REDIRECT_URL)


def units(request: HttpRequest) -> dict[str, object]:
    """The system of units and the paper, for templates; whether pages are shown without signal, whether a script asks, and what it has."""
    found = units_of(request) if hasattr(request, "user") else "metric"
    paper = getattr(getattr(request, "user", None), "paper", "light")
    return {
        "units": found,
        "paper": paper,
        "worker": settings.SERVICE_WORKER,
        "piece": is_piece(request),
        "parts": Parts.of(request),
    }
