"""Who is not signed in is asked to sign in, and comes back to a page, never to an address that only takes forms."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from urllib.parse import urlsplit

from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.contrib.auth.views import redirect_to_login
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.utils.http import url_has_allowed_host_and_scheme

SIGNED_OUT = 401


class SignInMiddleware(LoginRequiredMiddleware):
    """Every view is closed unless it says otherwise.

    A script is told so by a status it can act on: it keeps what was typed and sends it again afterwards.
    """

    def handle_no_permission(  # type: ignore[override]
        self, request: HttpRequest, view_func: Callable[..., Any]
    ) -> HttpResponseBase:
        """The sign-in page, or 401 for a script."""
        if request.headers.get("X-Alpine-Request") or request.headers.get("X-Requested-With"):
            return HttpResponse("Signed out.", status=SIGNED_OUT, content_type="text/plain; charset=utf-8")
        if request.method in ("GET", "HEAD"):
            return super().handle_no_permission(request, view_func)
        return redirect_to_login(
            _came_from(request), self.get_login_url(view_func), self.get_redirect_field_name(view_func)
        )


class PrivateMiddleware:
    """Answers to somebody who is signed in are theirs alone: no cache on the way keeps them, nor does the browser's."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, marked where it says nothing of its own."""
        answer = self.get_response(request)
        if request.user.is_authenticated and not answer.has_header("Cache-Control"):
            answer["Cache-Control"] = "private, no-store"
        return answer


def _came_from(request: HttpRequest) -> str:
    """The page of ours a form was sent from; the list of jobs where nobody says."""
    referer = request.headers.get("Referer", "")
    if not url_has_allowed_host_and_scheme(referer, {request.get_host()}, require_https=request.is_secure()):
        return "/"
    found = urlsplit(referer)
    return found.path + (f"?{found.query}" if found.query else "")
