"""The hair that a limit forgives, in one place; and the fluid tables held to the library they were made from."""

from __future__ import annotations

import math
from importlib import import_module
from types import ModuleType

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.fluid import MOST_SHARE, frost_point, properties, water_vapour_pressure
from rowan.core.reckon import reckon
from rowan.core.terms.constants import KELVIN
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.limits import SLACK, held, within
from tests.core.designs import altered, plan_b


@pytest.fixture(scope="session")
def library() -> ModuleType:
    """CoolProp: five seconds to import, for the worker alone that holds the tables to it."""
    return import_module("CoolProp.CoolProp")


def test_a_share_that_misses_its_limit_by_a_float_s_last_digit_is_the_limit() -> None:
    """Found by a random search: 0.55 + 0.05 was refused as “must lie between 0 and 0.6, not 0.6”."""
    share = 0.55 + 0.05
    assert share > MOST_SHARE
    assert frost_point(volume_share=share) == frost_point(volume_share=0.6)
    design = altered(plan_b(), charge__share=share)
    assert reckon(design).figures["frost_point"].value == pytest.approx(frost_point(volume_share=0.6))


@given(
    low=st.floats(-1e6, 1e6),
    span=st.floats(1e-3, 1e6),
    share=st.floats(-0.5, 1.5),
    hair=st.sampled_from([0.0, 0.5, 2.0, 1e6]),
)
def test_only_a_hair_is_forgiven(low: float, span: float, share: float, hair: float) -> None:
    high = low + span
    value = low + share * span
    found = held(value, low, high)
    assert found == (value if low <= value <= high else None) or found in (low, high)
    over = high + hair * SLACK * max(abs(high), 1.0)
    assert held(over, low, high) == (over if hair == 0 else high if hair < 1 else None)
    under = low - hair * SLACK * max(abs(low), 1.0)
    assert held(under, low, high) == (under if hair == 0 else low if hair < 1 else None)


@pytest.mark.parametrize("value", [math.nan, math.inf, -math.inf, 10**400, -(10**400)])
def test_what_is_no_number_or_endless_is_refused(value: float) -> None:
    assert held(value, 0.0, 1.0) is None
    with pytest.raises(OutOfRangeError):
        within("share", value if abs(value) < 1e308 else 2.0, 0.0, 1.0)


@given(t=st.floats(0.01, 200.0))
def test_water_is_as_in_the_library(library: ModuleType, t: float) -> None:
    water = library.AbstractState("HEOS", "Water")
    if t <= 133.0:
        water.update(library.PT_INPUTS, 3e5, t + KELVIN)
    else:
        water.update(library.QT_INPUTS, 0.0, t + KELVIN)
    found = properties(volume_share=0.0, temperature=t)
    assert found.density == pytest.approx(water.rhomass(), rel=1e-8)
    assert found.heat_capacity == pytest.approx(water.cpmass(), rel=1e-7)
    assert found.viscosity == pytest.approx(water.viscosity(), rel=1e-7)
    # above 133 °C the library's own line is not smooth
    assert found.conductivity == pytest.approx(water.conductivity(), rel=1e-7 if t <= 133 else 3e-4)
    water.update(library.QT_INPUTS, 0.0, t + KELVIN)
    assert water_vapour_pressure(temperature=t) == pytest.approx(water.p(), rel=1e-7)


@given(share=st.floats(0.10, 0.60), over=st.floats(0.0, 1.0))
def test_mixtures_are_as_in_the_library(library: ModuleType, share: float, over: float) -> None:
    mixture = library.AbstractState("INCOMP", "APG")
    frost = library.PropsSI("T_FREEZE", "P", 3e5, "T", 300, f"INCOMP::APG[{share}]") - KELVIN
    assert frost_point(volume_share=share) == pytest.approx(frost, abs=1e-6)
    # the library refuses the very ends of its own range
    coldest = max(frost + 0.01, -34.99)
    t = coldest + over * (99.99 - coldest)
    mixture.set_volu_fractions([share])
    mixture.update(library.PT_INPUTS, 3e5, t + KELVIN)
    found = properties(volume_share=share, temperature=t)
    assert found.density == pytest.approx(mixture.rhomass(), rel=1e-9)
    assert found.heat_capacity == pytest.approx(mixture.cpmass(), rel=1e-9)
    assert found.viscosity == pytest.approx(mixture.viscosity(), rel=1e-8)
    assert found.conductivity == pytest.approx(mixture.conductivity(), rel=1e-9)
