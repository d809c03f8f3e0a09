"""Formulas of the core refuse what cannot be, by name and limit; none divides by nothing or goes on with no number."""

from __future__ import annotations

import importlib
import inspect
import math
import pkgutil
from collections.abc import Callable, Iterator
from typing import Any, get_type_hints

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import rowan.core
from rowan.core.terms.errors import OutOfRangeError, RowanError
from rowan.core.terms.limits import Span

EXAMPLES = 25  # of each of some eighty formulas
NUMBERS = (float, int, float | None, int | None)
# numbers to words, or of the house itself: any number has an answer
FREE = {
    "boost_words", "day_of_year_said", "day_said", "month_said", "weekday_said", "feet_and_inches", "held", "methods", "number_text", "shown_number", "significant", "too_large",
    "whole_digits", "within", "written",
}  # fmt: skip


def _functions() -> Iterator[tuple[str, Callable[..., Any]]]:
    for found in pkgutil.walk_packages(rowan.core.__path__, "rowan.core."):
        module = importlib.import_module(found.name)
        for name, held in vars(module).items():
            if inspect.isfunction(held) and held.__module__ == found.name and not name.startswith("_"):
                yield f"{found.name.removeprefix('rowan.core.')}.{name}", held


FUNCTIONS = dict(_functions())
CHECKED = {name: held for name, held in FUNCTIONS.items() if hasattr(held, "takes")}
CASES = [(name, argument) for name, held in CHECKED.items() for argument in held.takes]  # type: ignore[attr-defined]


def _of_numbers(held: Callable[..., Any]) -> list[str] | None:
    """The names of a function's arguments, if each is a number and is given by name."""
    hints = get_type_hints(held)
    given_by_name = inspect.signature(held).parameters.values()
    if not given_by_name or any(p.kind is not p.KEYWORD_ONLY for p in given_by_name):
        return None
    return [p.name for p in given_by_name] if all(hints[p.name] in NUMBERS for p in given_by_name) else None


FORMULAS = {name: found for name, held in FUNCTIONS.items() if (found := _of_numbers(held))}


def test_many_formulas_say_what_they_take() -> None:
    assert len(CHECKED) >= 40
    assert len(FORMULAS) >= 60


@pytest.mark.parametrize(("name", "argument"), CASES, ids=[f"{name}-{argument}" for name, argument in CASES])
def test_what_lies_outside_is_refused_by_name_and_limit(name: str, argument: str) -> None:
    span: Span = CHECKED[name].takes[argument]  # type: ignore[attr-defined]
    outside = [math.nan, math.inf, -math.inf] if span.high is not None else [math.nan]
    if span.low is not None:
        outside += [span.low - max(1.0, abs(span.low)), *([span.low] if span.above else [])]
    if span.high is not None:
        outside.append(span.high + max(1.0, abs(span.high)))
    for value in outside:
        with pytest.raises(OutOfRangeError) as caught:
            CHECKED[name](**{argument: value})
        assert argument.replace("_", " ") in str(caught.value)
        assert "must" in str(caught.value)


@pytest.mark.parametrize("name", sorted(set(FORMULAS) - {n for n in FORMULAS if n.rpartition(".")[2] in FREE}))
def test_no_formula_goes_on_with_no_number(name: str) -> None:
    with pytest.raises(RowanError):
        FUNCTIONS[name](**dict.fromkeys(FORMULAS[name], math.nan))


@pytest.mark.parametrize("name", sorted(FORMULAS))
@settings(max_examples=EXAMPLES)
@given(data=st.data())
def test_whatever_is_put_in_answers_or_is_refused(name: str, data: st.DataObject) -> None:
    """Nothing, extremes and negatives: an answer or the core's own refusal, never another error."""
    hints = get_type_hints(FUNCTIONS[name])
    numbers, counts = (
        st.sampled_from((0.0, -1.0, 1.0, 1e-12, 1e9, -1e9, 0.5, 20.0, 1e5)),
        st.sampled_from((0, -1, 1, 20)),
    )
    given_now = {
        argument: data.draw(counts if hints[argument] is int else numbers, label=argument)
        for argument in FORMULAS[name]
    }
    try:
        answer = FUNCTIONS[name](**given_now)
    except RowanError:
        return
    if isinstance(answer, float):
        assert not math.isnan(answer)
