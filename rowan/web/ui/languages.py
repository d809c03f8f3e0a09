"""The languages pages are shown in: Django's catalogue for templates, the same words and the decimal mark for what the core says."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import translation

from rowan.core.terms.language import ENGLISH, Language, spoken_in

COMMA = ("de", "es")  # languages that part the decimals with a comma


def language(key: str) -> Language:
    """The language of that key; English where it is not offered."""
    if key not in dict(settings.LANGUAGES) or key == ENGLISH.key:
        return ENGLISH
    return Language(key, translation.gettext, "," if key in COMMA else ".")


@contextmanager
def shown_in(key: str) -> Iterator[Language]:
    """Templates and results speak that language until the block ends."""
    found = language(key)
    with translation.override(found.key), spoken_in(found):
        yield found


def language_of(request: HttpRequest) -> str:
    """The key of the person's language; of their browser's where nobody is signed in."""
    own = getattr(getattr(request, "user", None), "language", "")
    return str(own) or translation.get_language_from_request(request)


class LanguageMiddleware:
    """Each answer in its reader's language."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with shown_in(language_of(request)):
            return self.get_response(request)
