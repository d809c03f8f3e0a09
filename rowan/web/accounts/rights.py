"""Each address asks a right, for looking and for sending: a table, and the door that reads it. An address without a row is shut.

Services ask the policy again where they lock what they change; this is the first of the two doors.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any, Literal

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.template.loader import render_to_string
from django.utils.module_loading import import_string

from rowan.web.accounts.models import User
from rowan.web.accounts.roles import WHY_NOT, Right, holds
from rowan.web.ui.sentences import sentence

# open to anyone; of a person whatever their role; of somebody of a firm with a right
Ask = Literal["anyone", "oneself"] | Right
Rules = dict[str, tuple[Ask, Ask]]
FORBIDDEN = 403


@cache
def rules() -> Rules:
    """The table of the whole application, by the name of the address: right to look, right to send."""
    found: Rules = import_string(settings.RIGHTS_TABLE)
    return found


def why_not(person: Any, ask: Ask) -> str:
    """Why somebody may not go through; empty if they may."""
    if ask == "anyone" or ask == "oneself":
        return ""
    if not isinstance(person, User) or person.firm_id is None:
        return "you are in no firm"
    return "" if holds(person.role, ask) else WHY_NOT[ask]


class RightsMiddleware:
    """Refuses what a role may not before its view is called. Who is not signed in was sent to sign in already."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer."""
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Callable[..., Any], args: tuple[Any, ...], kwargs: dict[str, Any]
    ) -> HttpResponseBase | None:
        """403 and why, or on to the view."""
        match = request.resolver_match
        name = match.view_name if match else ""
        if name not in rules():
            raise Http404("an address without a rule")
        look, send = rules()[name]
        reason = why_not(request.user, look if request.method in ("GET", "HEAD") else send)
        if not reason:
            return None
        words = {"title": "Not yours to do", "text": sentence(reason)}
        return HttpResponse(render_to_string("ui/problem.html", words, request), status=FORBIDDEN)
