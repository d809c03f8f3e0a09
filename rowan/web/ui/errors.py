"""What the web's own services refuse, worded once: the page shows `words`, and keeps what was typed.

The core's refusals are `RowanError`; this is the other floor's tree.
"""

from __future__ import annotations

from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import System


class WebError(Exception):
    """Something that was asked for and cannot be done; its words are for the person who asked, in the language that is spoken."""

    def __str__(self) -> str:
        return tr(super().__str__())


class NoSuchStepError(WebError):
    """There is nothing to undo, redo or try."""


class NotAllowedError(WebError):
    """Somebody without the right to it asked for it."""


def words_of(error: WebError | RowanError, units: System) -> str:
    """A refusal of either floor in the reader's units."""
    return error.text(units) if isinstance(error, RowanError) else str(error)
