"""In whose language results are said: the words of a message and the decimal mark.

The core looks nothing up. Whoever shows results names a language for as long as they are shown, as `decimal.localcontext` names a
context for sums; where nobody does, messages are their own words: English.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from rowan.core.terms.record import record


@record
class Language:
    """A language: its key as in a page's `lang`, what a message is called in it, its decimal mark."""

    key: str
    words: Callable[[str], str]
    decimal: str = "."


ENGLISH = Language("en", lambda message: message)
_SPOKEN: ContextVar[Language] = ContextVar("spoken", default=ENGLISH)


def spoken() -> Language:
    """The language in which results are said now."""
    return _SPOKEN.get()


@contextmanager
def spoken_in(language: Language) -> Iterator[None]:
    """Results are said in that language until the block ends."""
    before = _SPOKEN.set(language)
    try:
        yield
    finally:
        _SPOKEN.reset(before)


class Typed(str):
    """What somebody typed: said as it is in every language, no word of it looked up, no mark of a number changed."""

    __slots__ = ()


def tr(message: str, **parts: object) -> str:
    """A message in the language that is spoken, its {names} filled with the parts; a part that is a word is looked up too, unless
    somebody typed it.

    What has no such name stays as it is.
    """
    look_up = _SPOKEN.get().words
    words = look_up(message)
    for name, part in parts.items():
        said = look_up(part) if isinstance(part, str) and not isinstance(part, Typed) else str(part)
        words = words.replace("{" + name + "}", said)
    return words


class Message(str):
    """A message that says itself in the language that is spoken, wherever it is shown; it is kept and compared as its English words."""

    __slots__ = ()

    def __str__(self) -> str:
        return _SPOKEN.get().words(str.__str__(self))

    def __format__(self, spec: str) -> str:
        return format(str(self), spec)


def as_messages(record: object, *names: str) -> None:
    """Fields of a frozen record that hold words become messages; called from its `__post_init__`."""
    for name in names:
        object.__setattr__(record, name, Message(str.__str__(getattr(record, name))))
