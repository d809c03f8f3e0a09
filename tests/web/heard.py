"""A made-up language in which every message of the catalogues is said in wide letters, and what they have no words for is noted.

What is put together from messages is wide already when it is looked up as a whole, and no message of its own.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from rowan.command.words import LETTERS, read
from rowan.command.words_pages import IS_WIDE, wide
from rowan.core.design.design import Design
from rowan.core.goods.places import PLACES
from rowan.core.terms.language import Language, spoken_in
from rowan.core.terms.units import DIMENSIONS
from rowan.web.ui.languages import numberless

NAMES = re.compile(r"\{[^{}]*\}")
# what is written alike in every language: units, and names that the reader knows by their letters
ALIKE = {unit.label for one in DIMENSIONS.values() for unit in (one.metric, one.us)} - {"years"}


@cache
def known() -> frozenset[str]:
    """The messages that are translated; every catalogue has the same, which a test of its own holds."""
    ids = (message.id if isinstance(message.id, tuple) else (message.id,) for message in read("de") if message.string)
    return frozenset(one for every in ids for one in every)


@cache
def _said(message: str) -> str | None:
    """A message in wide letters; None where the catalogues have no words for it."""
    general = numberless(message)[0]
    if message in known() or general in known():
        return wide(message)
    bare = NAMES.sub("", general)
    return None if LETTERS.search(bare) and not IS_WIDE.search(bare) and general.strip(" #,") not in ALIKE else message


def names_of(design: Design) -> tuple[str, ...]:
    """What somebody named: places, the currency, the legs of the lines."""
    return (
        *PLACES,
        design.survey.place.value,
        design.money.currency.value,
        *(leg.name for leg in (*design.run.cold, *design.run.hot)),
    )


@contextmanager
def heard(design: Design) -> Iterator[None]:
    """Everything that is said of a design until the block ends has words in the catalogues."""
    lacking: set[str] = set()

    def words(message: str) -> str:
        """The message, wide; as it is where nobody can translate it."""
        said = _said(str.__str__(message))
        if said is None:
            lacking.add(str.__str__(message))
            return str.__str__(message)
        return said

    with spoken_in(Language("made up", words)):
        yield
    named = names_of(design)
    assert sorted(text for text in lacking if not any(name in text for name in named)) == []
