"""Words that come from the core, as a page begins and ends them."""

from __future__ import annotations


def capital(text: str) -> str:
    """The text with a capital first letter, the rest as it is."""
    return text[:1].upper() + text[1:]


def sentence(text: str) -> str:
    """The text as a sentence."""
    return f"{capital(text)}."
