"""Store, duty, control, money and site, by hand and by property."""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.goods import prices as saving
from rowan.core.reckon import reckon
from rowan.core.steps.control import differences
from rowan.core.steps.duty import demand
from rowan.core.steps.site.stage import from_equator
from rowan.core.steps.store import sizing
from rowan.core.steps.store.tank import scaled_store
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Quantity, Window, closed_form, say
from rowan.core.terms.source import methods
from tests.core.designs import altered, plan_a, plan_b, proposed

# duty


def test_a_day_s_heat_by_hand() -> None:
    """200 L × 4.18 kJ/L·K × 35 K = 29.26 MJ."""
    assert demand.heat_needed(volume=0.2, tap_temperature=45, cold_temperature=10) == pytest.approx(29.26e6)


@given(store=st.floats(20, 95), tap=st.floats(40, 60), cold=st.floats(2, 20))
def test_usable_volume_and_draw_are_two_sides(store: float, tap: float, cold: float) -> None:
    usable = demand.usable_volume(volume=0.3, store_temperature=store, tap_temperature=tap, cold_temperature=cold)
    drawn = demand.drawn_from_store(
        tap_volume=usable, top_temperature=store, tap_temperature=tap, cold_temperature=cold
    )
    assert drawn == pytest.approx(0.3 if store >= tap else 0.0)


@pytest.mark.parametrize(("pre", "share"), [(5, 0.0), (16, 0.0), (32.5, 0.5), (49, 1.0), (70, 1.0)])
def test_a_preheat_saves_between_nothing_and_all(pre: float, share: float) -> None:
    found = demand.preheat_share(preheat_temperature=pre, cold_temperature=16, set_temperature=49)
    assert found == pytest.approx(share)


def test_demand_grows_with_people_and_litres() -> None:
    base = reckon(plan_b()).duty.year_heat
    assert reckon(altered(plan_b(), duty__persons=10)).duty.year_heat == pytest.approx(2 * base)
    assert reckon(altered(plan_b(), duty__litres_per_person_l=20.0)).duty.year_heat == pytest.approx(base / 2)


def test_powerless_boost_and_impossible_taps_are_refused() -> None:
    with pytest.raises(OutOfRangeError, match="power"):
        demand.boost_time(volume=0.1, from_temperature=20, to_temperature=60, power=0)
    with pytest.raises(OutOfRangeError, match="tap temperature"):
        demand.usable_volume(volume=0.1, store_temperature=60, tap_temperature=10, cold_temperature=12)


# store


def test_the_kvist_store_by_hand() -> None:
    """0.3 m³ / (π/4 × 0.55²) = 1.263 m; 300 L / 4.6 m² = 65.2; (110 + 300)/0.2376 = 1726 kg/m²; 300 × 1.4 = 420."""
    store = reckon(plan_b()).store
    assert store.height == pytest.approx(1.263, abs=5e-4)
    assert store.litres_per_m2 == pytest.approx(65.2, abs=0.05)
    assert store.floor_load == pytest.approx(1726, abs=0.5)
    assert store.coil_conductance == pytest.approx(420)


@given(contents=st.floats(80, 2000))
def test_a_store_of_another_size_keeps_its_height(contents: float) -> None:
    item = plan_b().store.item.value
    scaled = scaled_store(item, contents_l=contents)

    def height(of: object) -> float:
        return sizing.cylinder_height(volume=of.contents_l / 1000, diameter=of.diameter_m)  # type: ignore[attr-defined]

    assert height(scaled) == pytest.approx(height(item), rel=0.01)


@pytest.mark.parametrize(
    ("kind", "ratio", "enough"),
    [("plain", 0.2, True), ("plain", 0.19, False), ("finned", 0.34, False), ("wrapped", 0.4, True)],
)
def test_coils_are_held_to_their_kind(kind: str, ratio: float, enough: bool) -> None:
    assert sizing.coil_check(kind=kind, coil_area=ratio * 4.6, collector_area=4.6).enough is enough  # type: ignore[arg-type]


def test_no_footprint_is_refused() -> None:
    with pytest.raises(OutOfRangeError, match="footprint"):
        sizing.floor_load(dry_mass=100, contents_mass=300, footprint=0)


# control


def test_the_loss_floor_by_hand() -> None:
    """1 K + (60 W + 35 W × 2)/(0.05 × 3700 W/K) = 1 + 130/185 = 1.703 K."""
    floor = differences.loss_floor(
        sensor_error=1, pipe_loss=60, pump_power=35, price_ratio=2, flow=0.05, heat_capacity=3700
    )
    assert floor == pytest.approx(1 + 130 / 185)


LOOPS = st.builds(
    differences.LoopAtStart,
    st.floats(2, 20),
    st.floats(0.5, 0.8),
    st.floats(2, 8),
    st.floats(60, 500),
    st.floats(15, 60),
    st.floats(-10, 30),
)


@given(loop=LOOPS, start=st.floats(3, 15), stop=st.floats(0.1, 2.9))
def test_it_hunts_just_where_the_rule_says(loop: differences.LoopAtStart, start: float, stop: float) -> None:
    band = differences.cycling_band(start=start, stop=stop, loop=loop)
    rule = differences.stability(
        start=start, stop=stop, area=loop.area, fr_ul=loop.fr_ul, flow=loop.capacity_rate / 3700, heat_capacity=3700
    )
    if abs(stop - rule.largest_stop) > 1e-6:
        assert band.cycles is not rule.stable


@given(loop=LOOPS, start=st.floats(3, 15), stop=st.floats(0.1, 2.9), slower=st.floats(0.3, 0.9))
def test_less_flow_narrows_the_band(loop: differences.LoopAtStart, start: float, stop: float, slower: float) -> None:
    slow = differences.LoopAtStart(
        loop.area, loop.fr_tau_alpha, loop.fr_ul, loop.capacity_rate * slower, loop.store_bottom, loop.air_temperature
    )
    fast_band, slow_band = (differences.cycling_band(start=start, stop=stop, loop=one) for one in (loop, slow))
    assert slow_band.hold_irradiance < fast_band.hold_irradiance
    assert slow_band.start_irradiance == fast_band.start_irradiance


@given(floor=st.floats(0.1, 20))
def test_the_proposed_stop_is_a_whole_kelvin_at_or_above_the_floor(floor: float) -> None:
    stop = differences.proposed_stop(floor=floor)
    assert stop == int(stop)
    assert 0 <= stop - floor + 1e-9 < 1 + 1e-9


def test_stop_above_start_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="stop difference must be below start"):
        differences.stability(start=5, stop=5, area=4, fr_ul=4, flow=0.05, heat_capacity=3700)


@pytest.mark.parametrize(
    ("stable", "starts", "level"),
    [(True, 3, "none"), (True, 30, "mind"), (False, 3, "mind"), (False, 21, "fix"), (False, None, "mind")],
)
def test_hunting_is_graver_the_more_it_starts(stable: bool, starts: float | None, level: str) -> None:
    assert differences.cycling_level(stable=stable, starts_per_day=starts) == level


def test_longer_lines_raise_the_floor() -> None:
    longer = altered(plan_b(), run__hot__h9__length_m=40.0)
    assert reckon(longer).differences.floor > reckon(plan_b()).differences.floor


# money


def test_money_by_hand() -> None:
    """At no interest a price is repaid in equal shares; 0.11/0.85 = 0.1294 a kWh of useful heat."""
    assert saving.annuity_factor(rate=0.0, years=25) == pytest.approx(0.04)
    assert saving.heat_price(fuel_price=0.11, efficiency=0.85) == pytest.approx(0.1294, abs=5e-5)


@given(rate=st.floats(0.001, 0.2), years=st.floats(5, 50))
def test_interest_makes_it_dearer(rate: float, years: float) -> None:
    assert saving.annuity_factor(rate=rate, years=years) > 1 / years


@pytest.mark.parametrize("call", [
    lambda: saving.heat_price(fuel_price=0.1, efficiency=0),
    lambda: saving.break_even_length(fixed_difference=100, per_metre_difference=0),
    lambda: saving.filling(loop_volume=0, tub_area=0.1, flow=1e-4, duration=60),
])  # fmt: skip
def test_impossible_money_and_filling_are_refused(call: object) -> None:
    with pytest.raises((OutOfRangeError, ImpossibleInputError)):
        call()  # type: ignore[operator]


# site


@pytest.mark.parametrize(
    ("azimuth", "latitude", "away"),
    [(180, 57, 0), (0, 57, 180), (270, 57, 90), (0, -29, 0), (350, -29, 10), (10, -29, 10), (180, -29, 180)],
)
def test_turned_from_the_equator(azimuth: float, latitude: float, away: float) -> None:
    assert from_equator(azimuth=azimuth, latitude=latitude) == pytest.approx(away)


def test_a_roof_turned_away_gets_less_and_needs_more() -> None:
    figures = reckon(altered(plan_b(), survey__roof_azimuth_deg=270.0)).figures
    assert figures["orientation"].value < reckon(plan_b()).figures["orientation"].value
    assert figures["area_factor"].value == pytest.approx(1 / figures["orientation"].value)


def test_a_direct_loop_has_no_vessel_and_no_glycol() -> None:
    result = reckon(proposed("maravel-8-gas"))
    assert result.setting is None
    assert not {"precharge", "least_vessel", "kept", "frost_point"} & set(result.figures)
    assert {"static", "top_direct", "contents"} <= set(result.figures)


# figures and sentences


@pytest.mark.parametrize(
    ("low", "high", "value", "inside"),
    [
        (1, 2, 1.5, True),
        (1, 2, 1, True),
        (1, 2, 2.1, False),
        (None, 2, -9, True),
        (1, None, 0.9, False),
        (None, None, 5, True),
    ],
)
def test_windows_hold_their_ends(low: float | None, high: float | None, value: float, inside: bool) -> None:
    assert Window(low, high, "a rule").holds(value) is inside


def test_a_sentence_is_worded_once_and_printed_twice() -> None:
    sentence = say(
        "{h} up, {d} warmer, {name}", h=Quantity(9.5, "length"), d=Quantity(10, "difference", 0), name="the shaft"
    )
    assert sentence.text().replace("\N{NO-BREAK SPACE}", " ") == "9.50 m up, 10 K warmer, the shaft"
    us = re.sub("[\N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}]", " ", sentence.text("us"))
    assert us == "31 ft 2 in up, 18.0 F° warmer, the shaft"


def test_a_figure_that_is_not_finite_is_refused() -> None:
    with pytest.raises(ArithmeticError, match="odd is not finite"):
        closed_form(
            key="odd", name="Odd", basis=say("x"), dimension_name="ratio", sentence=say("x."), source=methods(4), letter="x",
            expression=Expression("a * b", {"a": Symbol(math.inf, "a"), "b": Symbol(1.0, "b")}),
        )  # fmt: skip


def test_reckoning_is_pure() -> None:
    first, second = reckon(plan_a()), reckon(plan_a())
    assert {k: f.value for k, f in first.figures.items()} == {k: f.value for k, f in second.figures.items()}
    assert [f.key for f in first.findings] == [f.key for f in second.findings]
