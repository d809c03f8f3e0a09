"""Who is not signed in is asked to sign in, and comes back to a page, never to an address that only takes forms."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from urllib.parse import urlsplit

from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.contrib.auth.views import redirect_to_login
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme

from rowan.web.accounts.models import TakenForm

SIGNED_OUT = 401
BY_SCRIPT = ("X-Alpine-Request", "X-Requested-With", "X-Rowan-Late")  # headers of what a script asks
KEY_LENGTH = 36
REFUSED = 400  # from which status on an answer has taken nothing
KEPT_FOR = timedelta(days=90)  # that a form which was kept in a browser may still come


class SignInMiddleware(LoginRequiredMiddleware):
    """Every view is closed unless it says otherwise.

    A script is told so by a status it can act on: it keeps what was typed and sends it again afterwards.
    """

    def handle_no_permission(  # type: ignore[override]
        self, request: HttpRequest, view_func: Callable[..., Any]
    ) -> HttpResponseBase:
        """The sign-in page, or 401 for a script."""
        if any(request.headers.get(name) for name in BY_SCRIPT):
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


class SentOnceMiddleware:
    """A plain form that a browser kept, and may send again because its answer was lost, is taken once: by its own id.

    The id and what the form does are saved together or not at all; what is refused leaves none.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer."""
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Callable[..., HttpResponseBase], args: tuple[Any, ...], kwargs: dict[str, Any]
    ) -> HttpResponseBase | None:
        """The view's answer, or that it was taken before; None for whatever else is asked."""
        if request.method != "POST" or "X-Rowan-Late" not in request.headers or not request.user.is_authenticated:
            return None
        key = request.POST.get("sent", "")
        if request.POST.get("plain") != "1" or not 0 < len(key) <= KEY_LENGTH or not key.isprintable():
            return None
        with transaction.atomic():
            TakenForm.objects.filter(at__lt=timezone.now() - KEPT_FOR).delete()
            _, is_new = TakenForm.objects.get_or_create(person=request.user, key=key)
            if not is_new:
                return HttpResponse("Taken before.", content_type="text/plain; charset=utf-8")
            answer = view(request, *args, **kwargs)
            if answer.status_code >= REFUSED:
                transaction.set_rollback(True)
        return answer


def _came_from(request: HttpRequest) -> str:
    """The page of ours a form was sent from; the list of jobs where nobody says."""
    referer = request.headers.get("Referer", "")
    if not url_has_allowed_host_and_scheme(referer, {request.get_host()}, require_https=request.is_secure()):
        return "/"
    found = urlsplit(referer)
    return found.path + (f"?{found.query}" if found.query else "")
