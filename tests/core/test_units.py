from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.units import DIMENSIONS, SYSTEMS, number_and_unit, number_text, shown, typed_to_si, worded

NUMBERS = st.floats(-1e6, 1e6).filter(lambda x: x == 0 or abs(x) > 1e-3)


@pytest.mark.parametrize("name", DIMENSIONS)
@given(value=NUMBERS)
def test_every_dimension_goes_there_and_back(name: str, value: float) -> None:
    for system in SYSTEMS:
        unit = DIMENSIONS[name].unit(system)
        assert unit.to_si(unit.from_si(value)) == pytest.approx(value, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "dimension", "si"),
    [
        ("23 psi", "pressure", 158579.42),
        ("1,6 bar", "pressure", 160000),
        ("1.6", "pressure", 160000),
        ("12 ft 3 in", "length", 3.7338),
        ("12' 3\"", "length", 3.7338),
        ("¾ in", "pipe_size", 0.01905),
        ("1 1/2 in", "pipe_size", 0.0381),
        ("19", "pipe_size", 0.019),
        ("4 l/min", "flow", 6.6667e-5),
        ("240 l/h", "flow", 6.6667e-5),
        ("14 °F", "temperature", -10),
        ("−14", "temperature", -14),
        ("9 F°", "difference", 5),
        ("1 690", "tank", 1.69),
        ("40 %", "share", 0.4),
        ("-2 ft 6 in", "length", -0.762),
        ("12ft3in", "length", 3.7338),
        ("12'3\"", "length", 3.7338),
        ("12' 3½\"", "length", 3.7465),
        ("1,234.5 mm", "length", 1.2345),
        ("1.234,5 mm", "length", 1.2345),
        ("0.025 m3", "tank", 0.025),
        ("2 m2", "area", 2),
        ("1800 kg/m2", "floor_load", 1800),
        ("0.3 m3/h", "flow", 8.3333e-5),
    ],
)
def test_typed_text_is_understood(text: str, dimension: str, si: float) -> None:
    assert typed_to_si(text, dimension) == pytest.approx(si, rel=1e-4)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("1,500", "two ways"),
        ("12 bananas", "not a unit"),
        ("", "type a number"),
        ("tall", "not a number"),
        ("1/0", "divides by zero"),
        ("9" * 90, "more letters than any number"),
        ("3 4 5", "more than one"),
        ("1.2.3", "marks stand where none can be"),
        ("1,2.3", "marks stand where none can be"),
    ],
)
def test_typed_text_is_refused_with_its_reason(text: str, message: str) -> None:
    with pytest.raises(TypedNumberError, match=message):
        typed_to_si(text, "pressure" if "3 4" in text else "length" if text != "12 bananas" else "pressure")


def test_ambiguous_text_offers_both_readings() -> None:
    with pytest.raises(TypedNumberError) as caught:
        typed_to_si("1,500", "length")
    assert caught.value.readings == ("1.5000", "1500")


def test_the_typed_unit_wins_over_the_shown_system() -> None:
    assert typed_to_si("2 m", "length", "us") == 2
    assert typed_to_si("2", "length", "us") == pytest.approx(0.6096)
    assert typed_to_si("−½ in", "length", "us") == pytest.approx(-0.0127)
    assert typed_to_si("-1½ in", "length", "us") == pytest.approx(-0.0381)


def test_differences_are_not_temperatures() -> None:
    assert shown(10, "temperature", "us") == "50\N{NO-BREAK SPACE}°F"
    assert shown(10, "difference", "us") == "18.0\N{NO-BREAK SPACE}F°"


@given(value=st.floats(-1e7, 1e7), decimals=st.integers(0, 4))
def test_printed_numbers_never_say_minus_zero(value: float, decimals: int) -> None:
    text = number_text(value, decimals)
    if text.startswith("\N{MINUS SIGN}"):
        assert any(ch in "123456789" for ch in text)


@given(
    value=st.floats(0.01, 9e5),
    system=st.sampled_from(SYSTEMS),
    name=st.sampled_from(["length", "pressure", "tank", "flow", "temperature"]),
)
def test_what_is_printed_can_be_typed_again(value: float, system: str, name: str) -> None:
    text = shown(value, name, system)  # type: ignore[arg-type]
    try:
        again = typed_to_si(text, name, system)  # type: ignore[arg-type]
    except TypedNumberError as error:
        assert error.readings  # three digits after the point are asked back, never misread
        return
    unit = DIMENSIONS[name].unit(system)  # type: ignore[arg-type]
    assert abs(unit.from_si(again) - unit.from_si(value)) <= 0.5 * 10**-unit.decimals + 1e-6


@pytest.mark.parametrize(
    ("metres", "text"),
    [
        (0, "0 in"),
        (0.0254, "1 in"),
        (0.2, "7¾ in"),
        (0.3048, "1 ft 0 in"),
        (9.5, "31 ft 2 in"),
        (-0.4, "−1 ft 3¾ in"),
        (3.0479, "10 ft 0 in"),
        (-0.001, "0 in"),
    ],
)
def test_lengths_are_feet_and_inches_as_a_rule_reads(metres: float, text: str) -> None:
    assert shown(metres, "length", "us").replace("\N{NO-BREAK SPACE}", " ") == text


@given(metres=st.floats(-300, 300))
def test_feet_and_inches_read_back_within_half_of_what_they_show(metres: float) -> None:
    printed = shown(metres, "length", "us")
    again = typed_to_si(printed, "length", "us")
    finest = 0.25 if abs(metres) < 10 * 0.3048 - 0.0032 else 1.0
    assert abs(again - metres) <= finest / 2 * 0.0254 + 1e-9
    assert number_and_unit(printed)[1] == "in"


def test_a_text_with_quantities_is_worded_in_either_system() -> None:
    text = "at least {30000|pressure} and {0.001|volume|0}, {5|difference|0} below {nothing} it"
    assert worded(text).replace("\N{NO-BREAK SPACE}", " ") == "at least 0.30 bar and 1 L, 5 K below {nothing} it"
    assert (
        worded(text, "us").replace("\N{NO-BREAK SPACE}", " ")
        == "at least 4.4 psi and 0.26 gal, 9.0 F° below {nothing} it"
    )


def test_a_tab_copied_from_a_table_is_a_space() -> None:
    """Found by the search for text that is neither taken nor refused."""
    assert typed_to_si("2\t1/2 in", "length") == pytest.approx(0.0635)
    assert typed_to_si("11\r1/4 in", "length") == pytest.approx(11.25 * 0.0254)
