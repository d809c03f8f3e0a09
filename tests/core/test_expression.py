from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.expression import Expression, Symbol, evaluated, plain_value, significant
from rowan.core.terms.units import number_text

POSITIVE = st.floats(1e-3, 1e5)


def vessel(expansion: float, steam: float, pre: float, fill: float, end: float) -> Expression:
    return Expression(
        "(a + b) * fill * end / (pre * (end - fill))",
        {
            "a": Symbol(expansion, "V", "warm", "L"),
            "b": Symbol(steam, "V", "steam", "L"),
            "pre": Symbol(pre, "p", "charge", "kPa"),
            "fill": Symbol(fill, "p", "fill", "kPa"),
            "end": Symbol(end, "p", "end", "kPa"),
        },
    )


@given(a=POSITIVE, b=POSITIVE, pre=POSITIVE, gap=POSITIVE, rest=POSITIVE)
def test_the_value_is_plain_arithmetic(a: float, b: float, pre: float, gap: float, rest: float) -> None:
    fill, end = pre + gap, pre + gap + rest
    assert vessel(a, b, pre, fill, end).value() == pytest.approx((a + b) * fill * end / (pre * (end - fill)))


@given(
    a=st.floats(0.1, 30), b=st.floats(0.1, 30), pre=st.floats(150, 300), gap=st.floats(10, 60), rest=st.floats(100, 400)
)
def test_printed_inputs_give_the_printed_result(a: float, b: float, pre: float, gap: float, rest: float) -> None:
    expression = vessel(a, b, pre, pre + gap, pre + gap + rest)
    digits = expression.printed_digits(lambda value: number_text(value, 1))
    again = vessel(*(plain_value(digits[name]) for name in ("a", "b", "pre", "fill", "end")))
    assert number_text(again.value(), 1) == number_text(expression.value(), 1)


@given(value=st.floats(-1e9, 1e9), digits=st.integers(3, 10))
def test_significant_digits_round_and_read_back(value: float, digits: int) -> None:
    assume(abs(value) > 1e-6)
    assert plain_value(significant(value, digits)) == pytest.approx(value, rel=10.0 ** (1 - digits))


@pytest.mark.parametrize("text", ["__import__('os')", "a if a else a", "a.b", "f(a)", "[a]", "a < a", "'x'"])
def test_only_arithmetic_is_allowed(text: str) -> None:
    with pytest.raises(ImpossibleInputError):
        Expression(text, {"a": Symbol(1.0, "a")})


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("a - b - 2", 1.0),
        ("a - (b - 2)", 5.0),
        ("-a ** 2", -25.0),
        ("2 ** -1", 0.5),
        ("a / b / 2", 1.25),
        ("max(a, b, 7) - min(a, b)", 5.0),
        ("ceil(a / 2)", 3.0),
        ("sqrt(a + 4) * ln(exp(b))", 6.0),
        ("cos(60) + sin(30)", 1.0),  # of degrees
    ],
)
def test_a_formula_says_what_arithmetic_says(text: str, value: float) -> None:
    found = evaluated(text, {"a": 5.0, "b": 2.0})
    assert type(found) is float
    assert found == pytest.approx(value, rel=1e-12)


def test_a_formula_finds_its_own_names_and_nothing_else() -> None:
    with pytest.raises(KeyError, match="b"):
        evaluated("a * b", {"a": 5.0})
    # what Python has of itself is no name a formula may ask
    with pytest.raises(KeyError, match="open"):
        evaluated("a * open", {"a": 5.0})
    with pytest.raises(ZeroDivisionError):
        evaluated("a / b", {"a": 5.0, "b": 0.0})


def test_whole_digits_are_never_rounded_away() -> None:
    expression = Expression("a / b", {"a": Symbol(1178.31, "a"), "b": Symbol(1204.6, "b")})
    assert expression.printed_digits(lambda value: number_text(value, 2)) == {
        "a": "1\N{NARROW NO-BREAK SPACE}178",
        "b": "1\N{NARROW NO-BREAK SPACE}205",
    }


def test_a_name_without_value_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="which has no value"):
        Expression("a + b", {"a": Symbol(1.0, "a")})


def test_letters_and_numbers_come_from_one_text() -> None:
    expression = Expression(
        "(a - b) / c ** 2", {"a": Symbol(9, "a"), "b": Symbol(1, "b", "x"), "c": Symbol(2, "c", "", "m")}
    )
    assert expression.letters_text() == "(a − b(x)) / c^2"
    assert expression.numbers_text({"a": "9", "b": "1", "c": "2"}) == "(9 − 1) / (2 m)^2"
    assert "<mfrac>" in expression.letters_mathml()
    assert "<msub><mi>b</mi><mtext>x</mtext></msub>" in expression.letters_mathml()


def test_markup_in_a_symbol_is_escaped() -> None:
    hostile = Expression("a", {"a": Symbol(1, "<script>", "&", "<b>")})
    assert "<script>" not in hostile.letters_mathml()
    assert "<b>" not in hostile.numbers_mathml({"a": "1"})


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("a - (b - a)", 1.0),
        ("a / (b / a)", 4 / 3),
        ("-a ** 2", -4.0),
        ("max(a, b) - min(a, b)", 1.0),
        ("sqrt(a * 8)", 4.0),
        ("a * (b + a)", 10.0),
    ],
)
def test_brackets_are_kept_where_they_matter(text: str, value: float) -> None:
    symbols = {"a": Symbol(2.0, "a"), "b": Symbol(3.0, "b")}
    expression = Expression(text, symbols)
    assert expression.value() == pytest.approx(value)
    plain = expression.letters_text().replace("−", "-").replace("×", "*").replace("^", "**")
    assert Expression(plain, symbols).value() == pytest.approx(value)
