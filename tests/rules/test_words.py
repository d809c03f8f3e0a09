"""The catalogues: no message lost on the way, names kept, what is shipped compiled is what is written; an offered language is whole."""

from __future__ import annotations

import re
from functools import cache

import pytest
from babel.messages.catalog import Catalog
from django.conf import settings

from rowan.command import words

# read from all sources once
messages = cache(words.messages)
LANGUAGES = sorted(path.name for path in words.CATALOGUES.iterdir() if path.is_dir())


def test_messages_of_a_module() -> None:
    source = """
say("open {v}", v=1)
say("one" if x == "two" else "three {case}", case="four" if y else "", key=f"five {z}")
tr("six")
Message("seven")
InputSpec("eight", "whole", help="nine", choices=(("k", "ten"),))
Block("eleven", "twelve", kind="no")
other("never")
"""
    found = list(words.of_code(source))
    assert found == [
        "open {v}",
        "one",
        "three {case}",
        "four",
        "",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
    ]


def test_refusals_of_a_module() -> None:
    source = """
raise ImpossibleInputError("one of {k}", k=f"{n}")
raise JobFileError("path.of.it", "two of it")
raise OutOfRangeError("three", 1.0, low, 2.0)
raise ValueError("no four")
raise CommandError("no five")
raise TypedNumberError(said)
"""
    assert list(words.of_code(source)) == ["one of {k}", "two of it", "three"]


def test_words_in_tables_and_under_names_are_messages_and_what_speaks_to_nobody_is_none() -> None:
    source = '''
"""Words of a docstring."""
TABLE = {"key": ("a title here", Change("a.path", 3)), "other": None}
def told(case, n):
    """More of them."""
    words = "one of two" if case else "the other way"
    line = ("at the ", Slot("a.path"), " over it", *((", with a tail",) if case else ()))
    drawn(f"figure of {n}", "label-ink halo", "dim big")
    valves = "supply open, source off", "check half"
    if n < 0:
        raise ValueError("not for a reader")
    return say(words), "file name.html/part of it", "two\\nlines of words", "single"
'''
    assert sorted(words.of_tables(source)) == ["a title here", "one of two", "the other way"]


def test_what_is_said_is_found() -> None:
    found = messages()
    assert ("Set the {v} vessel to {c}, fill cold to {f}", "") in found
    assert ("%(counter)s more figure", "%(counter)s more figures") in found
    assert len(found) > 4000


def test_a_catalogue_keeps_its_words_gains_and_loses_messages() -> None:
    old = Catalog(locale="de")
    old.add("open", "offen")
    old.add("gone", "weg")
    old.add(("%(counter)s day", "%(counter)s days"), ("%(counter)s Tag", "%(counter)s Tage"))
    found = {("open", ""): "a.py", ("new", ""): "b.py", ("%(counter)s day", "%(counter)s days"): "c.html"}
    made = words.merged(old, found, "de")
    assert made.get("open").string == "offen"
    assert made.get("gone") is None
    assert words.untranslated(made) == ["new"]
    assert words.compiled(made).count(b"%(counter)s Tage") == 1


@pytest.mark.parametrize(
    ("message", "said", "wrong"),
    [
        ("open {v}", "{v} auf", 0),
        ("open {v}", "auf", 1),
        ("open {v}", "{w} auf", 1),
        ("at {duty.tap_c}", "bei {duty.tap_c}", 0),
        ("%(n)s of %(m)s", "%(n)s von %(n)s", 1),
        ("a rule: {2e5|pressure}", "eine Regel: {2e5|pressure}", 0),
    ],
)
def test_names_in_a_translation_are_those_of_its_message(message: str, said: str, wrong: int) -> None:
    catalogue = Catalog(locale="de")
    catalogue.add(message, said)
    assert len(words.ill_named(catalogue)) == wrong


def test_scripts_say_no_sentence_past_their_words() -> None:
    said = re.compile(r"""(?<!tr\()(?<!said\()(?:"|`)((?:[A-Z][a-z]+|[a-z]+) [a-z]+ [a-z]+[^"`<>=\[\]]*)(?:"|`)""")
    for path in words.SCRIPTS.glob("*.js"):
        lines = (re.sub(r"(^|\s)//.*", "", line) for line in path.read_text(encoding="utf-8").splitlines())
        assert said.findall("\n".join(lines)) == [], path.name
    assert "Being sent" in words.said_in_scripts()
    assert said.findall('told("This is no word"); tr("This is one")') == ["This is no word"]


@pytest.mark.parametrize("language", LANGUAGES)
def test_a_catalogue_that_is_shipped(language: str) -> None:
    catalogue = words.read(language)
    assert words.ill_named(catalogue) == []
    assert {message.id for message in catalogue if message.id} == {(a, b) if b else a for a, b in messages()}
    assert words.catalogue_of(language).with_suffix(".mo").read_bytes() == words.compiled(catalogue)
    assert (words.SCRIPTS / "words" / f"{language}.js").read_text(encoding="utf-8") == words.words_script(language)
    if language in dict(settings.LANGUAGES):
        assert words.untranslated(catalogue) == []
