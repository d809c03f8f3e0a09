"""What an address takes: looking alone, unless its view says that forms are sent to it; and no body larger than a form can be."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBase, HttpResponseNotAllowed
from django.template.loader import render_to_string

from rowan.core.terms.language import tr
from rowan.core.weather.files import LARGEST_BYTES

LOOKING, FORMS = ("GET", "HEAD"), ("POST",)
# bytes: the largest file that is taken anywhere, with the form around it; what a proxy in front should allow as well
MOST_BODY = LARGEST_BYTES + 1_000_000
LENGTH_REQUIRED, TOO_LARGE = 411, 413

View = Callable[..., HttpResponseBase]


def takes_forms(view: View) -> View:
    """A page that a form of its own is sent to."""
    view.methods = LOOKING + FORMS  # type: ignore[attr-defined]
    return view


def forms_only(view: View) -> View:
    """An address that only takes forms."""
    view.methods = FORMS  # type: ignore[attr-defined]
    return view


def _refused(status: int, title: str, text: str) -> HttpResponse:
    return HttpResponse(render_to_string("ui/problem.html", {"title": title, "text": text}), status=status)


class MethodsMiddleware:
    """Refuses what an address does not take before anything of it is read."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, unless the body is too large or does not say how large it is."""
        length = request.META.get("CONTENT_LENGTH") or "0"
        if request.headers.get("Transfer-Encoding") or not length.isdecimal():
            return _refused(LENGTH_REQUIRED, "Sent without its length", "Nothing of it was read.")
        most = settings.LARGER_BODIES.get(request.path, MOST_BODY)
        if int(length) > most:
            words = tr(
                "At most {most} MB are taken at once; this has {size} MB. Nothing of it was read.",
                most=most // 1_000_000,
                size=f"{int(length) / 1e6:.0f}",
            )
            return _refused(TOO_LARGE, "Too large", words)
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: View, args: tuple[Any, ...], kwargs: dict[str, Any]
    ) -> HttpResponseBase | None:
        """405 for a method that the view has not."""
        allowed = getattr(view, "methods", LOOKING)
        return None if request.method in allowed else HttpResponseNotAllowed(allowed)
