"""The languages pages are shown in: Django's catalogue for templates, the same words and the decimal mark for what the core says.

A number in a message is no word, nor is its unit: “tub 2” is looked up as it stands and then as “tub #”, “12.5 m deep” as “# deep”, so
that a catalogue holds it once for all numbers and both systems of units.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import translation
from django.utils.functional import lazy

from rowan.core.terms.language import ENGLISH, Language, spoken_in, tr
from rowan.core.terms.units import DIMENSIONS, MINUS, NO_BREAK, THIN_SPACE

COMMA = ("de", "es")  # languages that part the decimals with a comma


# a number as it is printed, and units as they follow one after a space that does not break; a unit that is a word stays
_NUMBER = rf"{MINUS}?(?:\d+(?:[.,{THIN_SPACE}]\d+)*[¼½¾]?|[¼½¾])"
_UNITS = "|".join(
    sorted(
        {re.escape(unit.label) for one in DIMENSIONS.values() for unit in (one.metric, one.us)} - {"", "years"}, key=len
    )[::-1]
)
# outside of {names} and %(names)s
NUMBERS = re.compile(
    r"(\{[^{}]*\}|%\(\w+\)[sd])"
    rf"|(?<![\w{{])(?:{_NUMBER}{NO_BREAK}ft{NO_BREAK})?{_NUMBER}(?:°|{NO_BREAK}(?:{_UNITS})(?![\w/²³·°]))?"
)
PLACE = "#"


DECIMAL = re.compile(r"(?<![\d.])(\d+)\.(\d+)(?![\d.])")  # of a number; 1.4.2 is none
LETTER = re.compile(r"[^\W\d_]")


def numberless(message: str) -> tuple[str, list[str]]:
    """A message with a sign for each of its numbers and quantities, and these."""
    found: list[str] = []

    def put(match: re.Match[str]) -> str:
        """The sign; a name stays."""
        if match.group(1):
            return match.group(0)
        found.append(match.group(0))
        return PLACE

    return NUMBERS.sub(put, message), found


def words_of(message: str) -> str:
    """What the active catalogue calls a message; the message itself where it has no word for it."""
    plain = str.__str__(message)
    if not plain:
        return plain
    said = translation.gettext(plain)
    if said != plain:
        return said
    general, numbers = numberless(plain)
    if not numbers:
        return plain
    said = translation.gettext(general)
    if said.count(PLACE) != len(numbers):
        return plain
    # words that have none here, and so are a name, keep their numbers as they are; a number alone is no name
    if said == general and LETTER.search(general):
        return plain
    mark = "," if (translation.get_language() or "") in COMMA else "."
    return re.sub(PLACE, lambda _: DECIMAL.sub(rf"\1{mark}\2", numbers.pop(0)), said)


# a message said in the language that is spoken when it is shown: what a form may refuse is written down when it is made
tr_later = lazy(tr, str)


def language(key: str) -> Language:
    """The language of that key; English where it is not offered."""
    if key not in dict(settings.LANGUAGES) or key == ENGLISH.key:
        return ENGLISH
    return Language(key, words_of, "," if key in COMMA else ".")


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
