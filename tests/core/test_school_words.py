"""Each school is said in a sentence, with the numbers that its own rule reckons with."""

from __future__ import annotations

import pytest

from rowan.core.steps.charge.pressures import SCHOOLS, school_setting, school_words
from rowan.core.terms.constants import ATMOSPHERE_PA
from rowan.core.terms.errors import ImpossibleInputError

STATIC, HEIGHT = 90e3, 9.0


@pytest.mark.parametrize("school", SCHOOLS)
def test_a_school_is_said_by_its_name_in_both_units(school: str) -> None:
    said = school_words(school=school)  # type: ignore[arg-type]
    assert said.text("metric").startswith(f"{school.capitalize()}: ")
    assert "psi" in said.text("us")
    assert said.text("metric") != said.text("us")


def _numbers(school: str) -> list[float]:
    return [quantity.value for quantity in school_words(school=school).quantities.values()]  # type: ignore[arg-type, union-attr]


def test_the_numbers_said_are_those_it_sets() -> None:
    reserve = school_setting(school="reserve", static=STATIC, height=HEIGHT)
    assert _numbers("reserve") == [pytest.approx(reserve.precharge - STATIC)]
    equal = school_setting(school="equal", static=STATIC, height=HEIGHT)
    assert _numbers("equal") == [pytest.approx(equal.fill - STATIC)]
    assert equal.fill == equal.precharge
    above = school_setting(school="above", static=STATIC, height=HEIGHT)
    assert _numbers("above") == [pytest.approx(above.precharge - above.fill)]
    air = school_setting(school="atmosphere", static=STATIC, height=HEIGHT)
    assert _numbers("atmosphere") == [pytest.approx(air.fill - air.precharge)]
    assert air.precharge - STATIC == pytest.approx(ATMOSPHERE_PA)
    raised = school_setting(school="raised", static=STATIC, height=HEIGHT)
    assert _numbers("raised")[:2] == [raised.precharge, raised.fill]
    typed = school_setting(school="typed", static=STATIC, height=HEIGHT, typed_fill=200e3)
    assert _numbers("typed") == [pytest.approx(typed.fill - typed.precharge)]


def test_a_school_that_there_is_not_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="there is no school"):
        school_words(school="best")  # type: ignore[arg-type]
