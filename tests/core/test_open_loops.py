"""A loop open to the air where it is hot: boiling, siphon and air inlet at its own altitude and temperature."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.fluid import boiling_point, water_vapour_pressure
from rowan.core.reckon import reckon
from rowan.core.steps.run.drainback import OVER_BOILING_PA, Lift
from rowan.core.studies.choices import with_kind
from rowan.core.terms.finding import Finding
from rowan.demo.corrim import corrim
from tests.core.designs import altered, plan_b

KEYS = ("cut_out_open_boils", "cut_out_early", "siphon_ends", "no_siphon", "no_air_inlet")


def found(design: Design) -> dict[str, Finding]:
    """What is found of boiling, siphon and air."""
    return {f.key: f for f in reckon(design).findings if f.key in KEYS}


def test_the_hostel_s_loop_by_hand() -> None:
    """At 1,100 m water boils near 96 °C; 6.0 m of full return leave 31 kPa on top: the siphon ends at 61 °C."""
    lift = reckon(corrim()).draining
    assert lift is not None
    assert lift.lift.boils_c == pytest.approx(96.3, abs=0.2)
    assert lift.head.pressure_on_top_abs == pytest.approx(30.5e3, rel=0.02)
    assert lift.lift.siphon_ends_c == pytest.approx(60.6, abs=0.5)


def test_the_hostel_is_quiet_as_it_is_built() -> None:
    assert found(corrim()) == {}


@given(height=st.floats(0.5, 8.5), altitude=st.floats(0, 2500))
def test_a_siphon_ends_where_its_top_is_ten_kilopascals_over_boiling(height: float, altitude: float) -> None:
    air = 101325 * (1 - 2.25577e-5 * altitude) ** 5.2559
    lift = Lift(height, 990.0, 0.02, air, 50.0)
    ends = lift.siphon_ends_c
    if ends is None:
        assert air - lift.start_head - OVER_BOILING_PA <= 1.3e3
    else:
        assert water_vapour_pressure(temperature=ends) == pytest.approx(
            air - lift.start_head - OVER_BOILING_PA, rel=1e-4
        )
        assert ends < lift.boils_c == pytest.approx(boiling_point(volume_share=0.0, pressure_abs=air))


def test_a_store_that_may_get_hotter_than_its_siphon_is_told_so() -> None:
    hot = altered(corrim(), store__maximum_c=75.0)
    finding = found(hot)["siphon_ends"]
    # 61 °C where the water stands at 95 % of the store; filled for 75 °C it stands lower, and lets go sooner
    ends = reckon(hot).draining.lift.siphon_ends_c  # type: ignore[union-attr]
    assert ends == pytest.approx(60.3, abs=0.1)
    assert f"{ends:.0f}" in finding.title.text()
    cooler = changed(hot, finding.cures[0].changes)
    assert "siphon_ends" not in found(cooler)


def test_no_open_loop_is_advised_to_cut_out_over_boiling() -> None:
    hot = altered(corrim(), control__cut_out_c=130.0)
    finding = found(hot)["cut_out_open_boils"]
    assert finding.level == "fix"
    cut = changed(hot, finding.cures[0].changes)
    assert cut.control.cut_out_c.value == 86.0
    assert "cut_out_open_boils" not in found(cut)


@given(limit=st.floats(60, 90), cut_out=st.floats(80, 140), altitude=st.floats(0, 2000))
def test_whatever_is_advised_of_the_cut_out_stays_under_boiling(limit: float, cut_out: float, altitude: float) -> None:
    design = altered(corrim(), store__maximum_c=limit, control__cut_out_c=cut_out, survey__altitude_m=altitude)
    boils = reckon(design).draining.lift.boils_c  # type: ignore[union-attr]
    for key in ("cut_out_open_boils", "cut_out_early"):
        finding = found(design).get(key)
        for cure in finding.cures if finding else ():
            after = changed(design, cure.changes)
            assert after.control.cut_out_c.value < boils
            assert key not in found(after)


def test_a_return_that_ends_under_water_needs_its_air() -> None:
    under = altered(corrim(), run__return_under=True)
    finding = found(under)["no_air_inlet"]
    assert finding.level == "stop"
    for cure in finding.cures:
        assert "no_air_inlet" not in found(changed(under, cure.changes))
    assert "no_air_inlet" in found(altered(under, run__air_inlet_m=0.005)), "six millimetres at least"
    assert "no_air_inlet" not in found(altered(under, run__air_inlet_m=0.006))


def test_water_that_is_too_high_for_a_siphon_is_not_called_slow() -> None:
    hot = altered(corrim(), collector__working_c=70.0)
    reason = found(hot)["no_siphon"].reason.text().replace("\N{NO-BREAK SPACE}", " ")
    assert "stays full only up to 61 °C; this loop works at 70 °C" in reason


def test_a_plan_made_a_drainback_is_limited_below_boiling() -> None:
    made = with_kind(plan_b(), "drainback")
    assert not {"cut_out_open_boils", "cut_out_early"} & set(found(made))
