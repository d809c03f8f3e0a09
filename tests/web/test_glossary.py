"""The words: in order, each once, each used in the application, each method page there."""

from __future__ import annotations

from pathlib import Path

from django.test import Client
from django.urls import reverse

from rowan.core.terms import glossary
from rowan.core.terms.glossary import GLOSSARY
from rowan.web.methods.pages import pages
from tests.web.text import one_line

ROWAN = Path(glossary.__file__).parents[2]


def test_every_word_is_said_somewhere_in_the_application() -> None:
    own = Path(glossary.__file__)
    said = " ".join(
        path.read_text(encoding="utf-8").lower()
        for kind in ("*.py", "*.html")
        for path in ROWAN.rglob(kind)
        if path != own
    )
    assert [term.word for term in GLOSSARY if term.word not in said] == []


def test_words_are_in_order_once_and_said_in_sentences() -> None:
    words = [term.word for term in GLOSSARY]
    assert words == sorted(set(words))
    assert all(term.words.endswith(".") and len(term.words) > 30 for term in GLOSSARY)
    assert {term.method for term in GLOSSARY} - {None} <= set(pages())


def test_the_page_has_each_word_and_is_found_from_the_methods(page: Client) -> None:
    text = one_line(page.get(reverse("methods:glossary")))
    for term in GLOSSARY:
        assert term.word.capitalize()[:6] in text
    assert reverse("methods:glossary") in one_line(page.get(reverse("methods:index")))
