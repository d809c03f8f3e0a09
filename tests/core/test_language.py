"""Results in another language: messages are looked up where they are said, numbers take its mark, and English comes back after it."""

from __future__ import annotations

from threading import Thread

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.steps.charge.pressures import SCHOOLS
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError, TypedNumberError
from rowan.core.terms.figure import Quantity, joined, refusal_statement, say, series
from rowan.core.terms.language import ENGLISH, Language, Message, Typed, spoken, spoken_in, tr
from rowan.core.terms.units import DIMENSIONS, fixed, number_text, typed_to_si, worded

GERMAN = {
    "Set the vessel to {p}": "Das Gefäß auf {p} stellen",
    "too small": "zu klein",
    "the vessel is {how}": "das Gefäß ist {how}",
    "{refusal}.": "{refusal}.",
    "{name} must lie between {low} and {high}, not {value}": "{name} muss zwischen {low} und {high} liegen, nicht bei {value}",
    "gauge": "Manometerwert",
    "a rule: {200000|pressure}": "eine Regel: {200000|pressure}",
    "years": "Jahre",
    "“{text}” is not a number{unit_hint}": "„{text}“ ist keine Zahl{unit_hint}",
    "a “{text}” beside {other}": "ein „{text}“ neben {other}",
}
DE = Language("de", lambda message: GERMAN.get(message, message), ",")


def test_what_was_typed_is_quoted_as_it_was_and_other_words_are_looked_up() -> None:
    with spoken_in(DE):
        with pytest.raises(TypedNumberError, match="„gauge“ ist keine Zahl"):
            typed_to_si("gauge", "count")
        error = ImpossibleInputError("a “{text}” beside {other}", text="gauge", other="gauge")
        assert str(error) == "ein „gauge“ neben Manometerwert"
        assert refusal_statement(error).text() == "Ein „gauge“ neben Manometerwert."
        assert tr("a “{text}” beside {other}", text=Typed("gauge"), other="gauge") == str(error)


def test_a_sentence_says_itself_in_the_language_that_is_spoken() -> None:
    found = say("Set the vessel to {p}", p=Quantity(1.47e5, "pressure"))
    with spoken_in(DE):
        assert found.text() == "Das Gefäß auf 1,47\N{NO-BREAK SPACE}bar stellen"
        assert found.text("us") == "Das Gefäß auf 21,3\N{NO-BREAK SPACE}psi stellen"
    assert found.text() == "Set the vessel to 1.47\N{NO-BREAK SPACE}bar"


def test_a_word_and_a_sentence_within_a_sentence_are_looked_up_too() -> None:
    whole = joined(
        say("the vessel is {how}", how="too small"), say("Set the vessel to {p}", p=Quantity(2e5, "pressure"))
    )
    with spoken_in(DE):
        assert whole.text() == "das Gefäß ist zu klein; Das Gefäß auf 2,00\N{NO-BREAK SPACE}bar stellen"
    assert whole.text() == "the vessel is too small; Set the vessel to 2.00\N{NO-BREAK SPACE}bar"


def test_two_sentences_may_name_two_quantities_alike() -> None:
    both = series((say("{q}", q=Quantity(1, "count")), say("{q}", q=Quantity(2, "count"))))
    assert both.text() == "1, 2"


def test_a_refusal_speaks_it_and_begins_with_a_capital() -> None:
    error = OutOfRangeError("gauge", 9e5, 0.0, 6e5, dimension="pressure")
    with spoken_in(DE):
        assert (
            str(error)
            == "Manometerwert muss zwischen 0,00\N{NO-BREAK SPACE}bar und 6,00\N{NO-BREAK SPACE}bar liegen, nicht bei 9,00\N{NO-BREAK SPACE}bar"
        )
    assert refusal_statement(error).text().startswith("Gauge must lie between 0.00")


@pytest.mark.parametrize(
    ("low", "high", "above", "words"),
    [
        (1.0, 2.0, False, "share must lie between 1 and 2 %, not 3 %"),
        (1.0, None, False, "share must be at least 1 %, not 3 %"),
        (1.0, None, True, "share must be above 1 %, not 3 %"),
        (None, 2.0, False, "share must be at most 2 %, not 3 %"),
    ],
)
def test_a_limit_is_said_with_its_unit_once(low: float | None, high: float | None, above: bool, words: str) -> None:
    assert str(OutOfRangeError("share", 3.0, low, high, "%", above=above)) == words


def test_a_message_says_itself_where_it_is_shown_and_is_kept_in_english() -> None:
    word = Message("too small")
    with spoken_in(DE):
        assert f"{word}!" == "zu klein!"
        assert str(word) == "zu klein"
        assert word == "too small"
        assert {word: 1}["too small"] == 1
    assert str(word) == "too small"


def test_what_has_no_name_in_a_message_stays() -> None:
    assert tr("{a} and {b}", a=1) == "1 and {b}"


def test_numbers_in_words_take_the_mark() -> None:
    with spoken_in(DE):
        assert number_text(1234.5, 1) == "1\N{NARROW NO-BREAK SPACE}234,5"
        assert fixed(0.25, 2) == "0,25"
        assert worded("a rule: {200000|pressure}") == "eine Regel: 2,00\N{NO-BREAK SPACE}bar"
    assert fixed(0.25, 2) == "0.25"


@given(st.sampled_from(sorted(DIMENSIONS)), st.floats(0.5, 900))
def test_what_is_printed_with_a_comma_is_read_back_as_it_was(name: str, value: float) -> None:
    unit = DIMENSIONS[name].metric
    si = unit.to_si(value)
    with spoken_in(DE):
        printed = number_text(value, 2)
    assert typed_to_si(printed, name) == pytest.approx(unit.to_si(round(value, 2)), rel=1e-9, abs=abs(si) * 1e-9)


def test_english_comes_back_even_after_an_error_and_other_threads_never_left_it() -> None:
    heard: list[str] = []

    def fails() -> None:
        """Within the language."""
        with spoken_in(DE):
            thread = Thread(target=lambda: heard.append(spoken().key))
            thread.start()
            thread.join()
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fails()
    assert heard == ["en"]
    assert spoken() is ENGLISH


def test_schools_are_words_that_can_be_said() -> None:
    assert all(tr(name) == name for name in SCHOOLS)
