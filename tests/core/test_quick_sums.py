"""Quick sums say what the benches say, and any unit comes back to itself."""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.reckon import reckon
from rowan.core.studies.quick import SUMS
from rowan.core.studies.quick.convert import converted
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError, RowanError, TypedNumberError
from rowan.core.terms.units import typed_to_si
from tests.core.designs import plan_b


def figures(key: str, **values: float) -> dict[str, float]:
    one = SUMS[key]
    return {figure.key: figure.value for figure in one.figures({**one.usual(), **values})}


def test_vessel_and_fill_are_those_of_the_charge_bench() -> None:
    design = plan_b()
    result = reckon(design)
    assert result.setting is not None
    found = figures(
        "charge", height=result.run.route.top, share=design.glycol_share, volume=result.charge.contents.total
    )
    assert found["static"] == pytest.approx(result.charge.static, rel=1e-12)
    assert found["precharge"] == pytest.approx(result.setting.precharge, rel=1e-12)
    assert found["fill"] == pytest.approx(result.setting.fill, rel=1e-12)


def test_a_mix_is_put_right_by_the_balance_of_its_glycol() -> None:
    """What stays of the old mix and what comes from the can make the strength that is wanted."""
    found = figures("mix", volume=0.0211, read=0.34, wanted=0.4, concentrate=0.96)
    left = (0.0211 - found["exchange"]) * 0.34 + found["exchange"] * 0.96
    assert left / 0.0211 == pytest.approx(0.4, rel=1e-12)
    assert figures("mix", read=0.45, wanted=0.4)["exchange"] == 0


def test_water_boils_at_100_at_sea_level_and_less_up_there() -> None:
    level = figures("boiling", gauge=0.0, height=0.5, share=0.0)["boils"]
    assert 98.5 < level < 100.1  # half a metre of column takes a kelvin and a half
    assert figures("boiling", gauge=1e5, height=0.5, share=0.0)["boils"] == pytest.approx(
        119.0, abs=1.5
    )  # steam tables, 2 bar: 120.2


def test_a_platinum_sensor_is_its_norm() -> None:
    assert figures("ohms", ohm=1097.35)["kind_0"] == pytest.approx(25.0, abs=0.01)  # IEC 60751, 25 °C


@pytest.mark.parametrize(("ohm", "words"), [(1e7, "broken"), (0.5, "touch")])
def test_what_is_no_sensor_is_said(ohm: float, words: str) -> None:
    with pytest.raises(ImpossibleInputError, match=words):
        figures("ohms", ohm=ohm)


def test_a_square_grid_has_equal_diagonals_and_nothing_to_move() -> None:
    d = math.hypot(4.2, 1.6)
    found = figures("square", width=4.2, across=1.6, one=d, other=d)
    assert (found["diagonal"], found["move"]) == (pytest.approx(d), 0)
    lean = figures("square", width=4.2, across=1.6, one=d + 0.01, other=d - 0.01)["move"]
    assert lean == pytest.approx(-((d + 0.01) ** 2 - (d - 0.01) ** 2) / (4 * 4.2), rel=1e-9)


def test_friction_falls_with_a_wider_pipe_and_grows_with_flow() -> None:
    narrow, wide = (figures("friction", pipe=number)["drop"] for number in (1, 3))
    assert narrow > 2 * wide
    assert figures("friction", flow=8.4 / 60000)["drop"] > 2 * figures("friction")["drop"]


def test_litres_for_a_gauge_follow_boyle() -> None:
    found = figures("gauge", **{"from": 1.47e5, "to": 1.77e5})["litres"]
    air = 101325.0
    assert found == pytest.approx(0.018 * (1 - (1.47e5 + air) / (1.77e5 + air)), rel=1e-6)
    assert figures("gauge", **{"from": 1.77e5, "to": 1.2e5})["litres"] > 0  # let out, not less than nothing


@pytest.mark.parametrize("key", SUMS)
def test_every_sum_has_figures_with_a_why_and_refuses_what_cannot_be(key: str) -> None:
    one = SUMS[key]
    for figure in one.figures(one.usual()):
        assert math.isfinite(figure.value)
        assert figure.why.sentence.text("metric")
        assert figure.why.source
    for ask in one.asks:
        if not ask.choices:
            with pytest.raises(OutOfRangeError):
                one.figures({**one.usual(), ask.key: ask.high * 2 + 1})


@given(st.sampled_from(sorted(SUMS)), st.data())
def test_within_its_limits_a_sum_gives_numbers_or_says_why_not(key: str, data: st.DataObject) -> None:
    one = SUMS[key]
    values = {
        ask.key: float(data.draw(st.integers(0, len(ask.choices) - 1)))
        if ask.choices
        else data.draw(st.floats(ask.low, min(ask.high, 1e6), allow_nan=False))
        for ask in one.asks
    }
    try:
        found = one.figures(values)
    except RowanError as error:
        assert error.text("metric")
        return
    assert all(math.isfinite(figure.value) for figure in found)


@pytest.mark.parametrize(("text", "name", "row"), [
    ("23 psi", "pressure", ("1.5858", "bar")), ("50 °F", "temperature", ("10", "°C")), ("12 ft 3 in", "length", ("3.7338", "m")),
    ("1.6 bar", "pressure", ("160", "kPa")), ("4 gal/min", "flow", ("15.142", "L/min")),
])  # fmt: skip
def test_units_of_the_trade_turn_into_each_other(text: str, name: str, row: tuple[str, str]) -> None:
    found = {one.name: one.rows for one in converted(text)}
    assert row in found[name]


@given(st.floats(0.001, 1e5), st.sampled_from(["bar", "psi", "kPa", "m", "ft", "L", "gal", "L/min", "kWh"]))
def test_a_unit_turned_there_and_back_is_itself(number: float, unit: str) -> None:
    text = f"{number:.6g} {unit}"
    try:
        found = converted(text)
    except TypedNumberError as error:
        # three digits after a point may be thousands: it asks which, and takes either as it is then meant
        assert len(error.readings) == 2
        assert re.search(r"[.,]\d{3}\b", text)
        return
    for one in found:
        back = {label: value for value, label in one.rows}
        here = next((value for label, value in back.items() if label.lower() == unit.lower()), None)
        if here is not None:
            assert float(re.sub(r"[^\d.]", "", here)) == pytest.approx(float(f"{number:.6g}"), rel=1e-4)


def test_a_number_that_can_be_read_in_two_ways_says_so_and_not_that_its_unit_is_unknown() -> None:
    with pytest.raises(TypedNumberError, match="two ways") as refused:
        converted("1.125 bar")
    assert refused.value.readings == ("1.1250 bar", "1125 bar")
    assert all(converted(reading) for reading in refused.value.readings)


@pytest.mark.parametrize("text", ["", "100", "3 parsec", "psi"])
def test_what_is_no_quantity_is_refused(text: str) -> None:
    with pytest.raises(RowanError):
        converted(text)


def test_typed_units_are_those_of_every_other_field() -> None:
    assert typed_to_si("23 psi", "pressure") == pytest.approx(158_579.4, rel=1e-6)
