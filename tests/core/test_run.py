from __future__ import annotations

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed, validated
from rowan.core.design.moves import handle_changes, joint_changes
from rowan.core.reckon import reckon
from rowan.core.steps.run.friction import drop_curve, friction_factor, pipe_drop
from rowan.core.steps.run.insulation import loss_per_metre
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.pump import PumpCurve, operating_point
from rowan.core.steps.run.route import profile
from rowan.core.steps.run.stage import at_set_speed
from rowan.core.studies.choices import with_kind
from rowan.core.terms.errors import ImpossibleInputError, JobFileError, NoOperatingPointError
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_a, plan_b, proposed


@given(head=st.floats(1e3, 1e5), most=st.floats(1e-5, 1e-2), k=st.floats(1e9, 1e12))
def test_parabola_pump_on_a_parabola_loop(head: float, most: float, k: float) -> None:
    """H0·(1 − (q/qm)²) against k·q²: q = √(H0/(k + H0/qm²)), to the fineness of 60 points."""
    points = [(most * i / 60, head * (1 - (i / 60) ** 2)) for i in range(61)]
    point = operating_point(pump=PumpCurve(points), loop=lambda q: k * q * q)
    assert point.flow == pytest.approx(math.sqrt(head / (k + head / most**2)), rel=2e-3)


@given(k=st.floats(1e9, 1e11), more=st.floats(1.05, 5))
def test_more_resistance_less_flow(k: float, more: float) -> None:
    pump = PumpCurve([(0, 3e4), (1e-4, 2.4e4), (2e-4, 1e4), (3e-4, 0)])
    flows = [operating_point(pump=pump, loop=lambda q, f=f: f * k * q * q).flow for f in (1, more)]
    assert flows[1] < flows[0]


def test_a_pump_too_weak_says_by_how_much() -> None:
    with pytest.raises(NoOperatingPointError, match=r"lacks 1\.02.m of head"):
        operating_point(pump=PumpCurve([(0, 1e4), (1e-4, 0)]), loop=lambda q: 2e4)


@pytest.mark.parametrize("points", [[(0, 1e4), (1e-4, 2e4)], [(0, 1e4), (0, 5e3)]])
def test_a_pump_curve_that_cannot_be_is_refused(points: list[tuple[float, float]]) -> None:
    with pytest.raises(ImpossibleInputError):
        PumpCurve(points)


def test_two_points_of_different_collectors_are_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="do not belong"):
        drop_curve(points=[(1e-5, 1000), (2e-5, 1500)])


@given(re=st.floats(1, 1e6), rough=st.floats(0, 0.02))
def test_the_friction_factor_is_continuous(re: float, rough: float) -> None:
    here, near = (friction_factor(reynolds=r, relative_roughness=rough) for r in (re, re * 1.0001))
    assert abs(here - near) < 0.01 * here


@given(flow=st.floats(1e-3, 0.5), a=st.floats(0.1, 40), b=st.floats(0.1, 40))
def test_the_order_of_legs_does_not_change_friction(flow: float, a: float, b: float) -> None:
    fluid = {"bore": 0.016, "flow": flow, "density": 1020.0, "viscosity": 1.5e-3}
    parts = pipe_drop(length=a, **fluid).pressure_drop + pipe_drop(length=b, **fluid).pressure_drop
    assert pipe_drop(length=a + b, **fluid).pressure_drop == pytest.approx(parts, rel=1e-9)


@given(thick=st.floats(0.005, 0.05), more=st.floats(0.001, 0.03))
def test_more_lagging_loses_less(thick: float, more: float) -> None:
    losses = [
        loss_per_metre(outer_radius=0.02, insulated_radius=0.02 + t, conductivity=0.042) for t in (thick, thick + more)
    ]
    assert losses[1] < losses[0]


@given(height=st.floats(4.0, 20.0), low=st.floats(0.05, 0.3), high=st.floats(0.5, 1.1))
def test_the_route_closes_in_height(height: float, low: float, high: float) -> None:
    design = altered(plan_a(), survey__gauge_to_top_m=height, store__coil_bottom_m=low, store__coil_top_m=high)
    route = profile(design)
    assert route.top == pytest.approx(height)
    foot = -design.store.foot_below_gauge_m.value
    assert route.cold[-1].end_height == pytest.approx(route.plate_bottom)
    assert route.hot[-1].end_height == pytest.approx(foot + high)
    assert route.cold[0].start_height == pytest.approx(foot + low)


def test_the_kvist_route_is_as_drawn() -> None:
    route = profile(plan_a())
    assert route.cold_length == pytest.approx(21.0, abs=1e-3)
    assert route.hot_length == pytest.approx(22.0, abs=1e-3)
    assert [point.peak_leg for point in route.high_points] == ["h4"]
    assert route.high_points[0].stands_up == pytest.approx(0.30)
    assert profile(plan_b()).high_points == ()


def test_a_vented_hump_holds_no_air() -> None:
    assert profile(altered(plan_a(), run__hot__h4__vented=True)).high_points == ()


def test_a_joint_lifted_takes_from_the_next_leg() -> None:
    lifted = changed(plan_a(), joint_changes(plan_a(), "hot", "h2", 0.1))
    before, after = profile(plan_a()).hot, profile(lifted).hot
    assert after[1].end_height == pytest.approx(before[1].end_height + 0.1)
    assert after[2].end_height == pytest.approx(before[2].end_height)
    assert [leg.end_height for leg in after[3:]] == pytest.approx([leg.end_height for leg in before[3:]])


def test_a_joint_beside_the_shaft_leaves_the_shaft_upright() -> None:
    lifted = changed(plan_a(), joint_changes(plan_a(), "cold", "c3", 0.05))
    shaft = next(leg for leg in profile(lifted).cold if leg.fitted)
    assert shaft.length == pytest.approx(abs(shaft.rise))


def test_a_leg_cannot_rise_more_than_it_is_long() -> None:
    with pytest.raises(JobFileError, match="cannot rise"):
        joint_changes(plan_a(), "hot", "h4", 0.4)


@pytest.mark.parametrize("path", ["joint:hot.nope", "survey.covering", "charge.nothing"])
def test_handles_that_are_not_there_are_refused(path: str) -> None:
    with pytest.raises(JobFileError):
        handle_changes(plan_a(), path, 1.0)


def test_a_doubled_leg_moves_everything_downstream() -> None:
    before, after = reckon(plan_a()), reckon(altered(plan_a(), run__hot__h9__length_m=9.0))
    for key in ("contents", "loss_hot", "arrival", "floor", "flow", "prepare"):
        assert before.figures[key].value != after.figures[key].value, key


def test_shuffled_names_do_not_matter() -> None:
    data = plan_a().model_dump()
    names = [leg["name"] for leg in data["run"]["hot"]]
    random.Random(3).shuffle(names)
    for leg, name in zip(data["run"]["hot"], names, strict=True):
        leg["name"] = name
    assert reckon(validated(data)).figures["flow"].value == reckon(plan_a()).figures["flow"].value


@pytest.mark.parametrize("key", ["maravel-8-gas", "aldersund-5-oil", "drainback"])
def test_the_set_speed_alone_is_the_one_among_all(key: str) -> None:
    design = with_kind(proposed("aldersund-5-oil"), "drainback") if key == "drainback" else proposed(key)
    alone, whole = at_set_speed(design), reckon(design).run
    cold = whole.pump.cold_points[whole.pump.speed - 1]
    assert alone.flow == pytest.approx(whole.flow)
    assert alone.flow_cold == pytest.approx(cold.flow if cold else 0.0)
    assert alone.warm == whole.warm


def test_the_winter_s_flow_is_a_little_less_and_never_under_the_maker_s() -> None:
    result = reckon(proposed("aldersund-5-oil"))
    figure, least = result.figures["winter_flow"], maker_window(proposed("aldersund-5-oil"))[0]
    assert figure.value == pytest.approx(max(0.85 * result.run.flow, min(least, result.run.flow)))
    assert "winter_flow" not in reckon(pipwater()).figures
