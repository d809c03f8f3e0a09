"""Points of the compass: their names both ways, in every language; an O is the east in one and the west in another."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.compass import LETTERS, NAMES, POINTS, compass_name, compass_point
from rowan.core.terms.language import Language, spoken_in
from rowan.core.terms.units import typed_to_si

GERMAN_WORDS = {LETTERS: "N O S W", NAMES: "norden/nord osten/ost süden/süd/sued westen/west"}
SPANISH_WORDS = {LETTERS: "N E S O", NAMES: "norte/nord/nor este sur/sud oeste"}
GERMAN = Language("de", lambda message: GERMAN_WORDS.get(message, message), ",")
SPANISH = Language("es", lambda message: SPANISH_WORDS.get(message, message), ",")
ENGLISH = Language("en", lambda message: message)


@pytest.mark.parametrize(
    ("azimuth", "name"), [(0, "N"), (157, "SSE"), (180, "S"), (270, "W"), (359, "N"), (11.3, "NNE")]
)
def test_bearings_have_names(azimuth: float, name: str) -> None:
    assert compass_name(azimuth) == name


@pytest.mark.parametrize(
    ("language", "text", "degrees"),
    [
        (ENGLISH, "south-west", 225),
        (ENGLISH, "wsw", 247.5),
        (ENGLISH, "north north east", 22.5),
        (ENGLISH, "SO", None),
        (ENGLISH, "", None),
        (ENGLISH, "westward", None),
        (GERMAN, "SO", 135),
        (GERMAN, "no", 45),
        (GERMAN, "Südwesten", 225),
        (GERMAN, "Süd-Südost", 157.5),
        (GERMAN, "SE", 135),
        (GERMAN, "SEO", None),
        (SPANISH, "SO", 225),
        (SPANISH, "NO", 315),
        (SPANISH, "oeste", 270),
        (SPANISH, "sureste", 135),
        (SPANISH, "sudoeste", 225),
        (SPANISH, "noroeste", 315),
        (SPANISH, "nordeste", 45),
        (SPANISH, "SW", 225),
    ],
)
def test_a_point_is_read_in_the_language_that_is_spoken(language: Language, text: str, degrees: float | None) -> None:
    with spoken_in(language):
        assert compass_point(text) == degrees
        if degrees is not None:
            assert typed_to_si(text, "bearing") == degrees


@given(st.sampled_from([ENGLISH, GERMAN, SPANISH]), st.integers(0, len(POINTS) - 1))
def test_what_is_shown_is_read_as_the_same_point(language: Language, point: int) -> None:
    bearing = 22.5 * point
    with spoken_in(language):
        assert compass_point(compass_name(bearing)) == bearing
