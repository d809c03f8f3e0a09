"""Legs of their own pipe, joined or not, cut and put in; buried lines; pumps by points, by panel, by share."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.legs import MOST_LEGS, insert_leg
from rowan.core.design.lists import add_entry, remove_entry
from rowan.core.fluid import properties
from rowan.core.goods.catalogue import LIFTING_PUMP, PANEL_PUMP, PIPES, PUMPS, SIGNAL_PUMP
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.steps.charge.pressures import static_pressure
from rowan.core.steps.charge.vessel import steam_ends
from rowan.core.steps.run.friction import pipe_drop
from rowan.core.steps.run.own_pump import points_from_text, speeds_from_csv
from rowan.core.steps.run.panel import OPEN_V, PEAK_V, Panel, speed_under
from rowan.core.steps.run.pump_findings import share_for
from rowan.core.steps.run.route import profile
from rowan.core.steps.run.sketch import sketch_of, spot_from
from rowan.core.studies.line_year import line_year
from rowan.core.terms.errors import ImpossibleInputError, JobFileError, RowanError, TypedNumberError
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_a, plan_b, proposed

LITRE_H = 1e-3 / 3600


def keys(design: Design) -> set[str]:
    return {f.key for f in reckon(design).findings}


# sizes


@pytest.mark.parametrize(
    ("name", "outer_in", "wall_in", "bore_mm"),
    [
        ("Copper ½ inch type L", 0.625, 0.040, 13.84),
        ("Copper ½ inch type M", 0.625, 0.028, 14.45),
        ("Copper ¾ inch type L", 0.875, 0.045, 19.94),
        ("Copper ¾ inch type M", 0.875, 0.032, 20.60),
        ("Copper 1 inch type L", 1.125, 0.050, 26.04),
        ("Copper 1¼ inch type M", 1.375, 0.042, 32.79),
        ("Copper 1½ inch type L", 1.625, 0.060, 38.23),
        ("Copper 2 inch type M", 2.125, 0.058, 51.03),
    ],
)
def test_us_tube_is_of_its_standard(name: str, outer_in: float, wall_in: float, bore_mm: float) -> None:
    """ASTM B88: the outer diameter is an eighth of an inch over the nominal size."""
    pipe = PIPES[name]
    assert pipe.outer_diameter_m == pytest.approx(outer_in * 0.0254, abs=1e-7)
    assert pipe.wall_m == pytest.approx(wall_in * 0.0254, abs=1e-7)
    assert pipe.bore_m * 1000 == pytest.approx(bore_mm, abs=0.01)


def test_metric_tube_is_of_its_standard() -> None:
    sizes = {(p.outer_diameter_m * 1000, p.wall_m * 1000) for p in PIPES.values() if p.standard == "EN 1057"}
    assert {(round(o, 1), round(w, 1)) for o, w in sizes} == {
        (12, 1), (15, 1), (18, 1), (22, 1), (28, 1), (35, 1.2), (42, 1.2), (54, 1.5)
    }  # fmt: skip


# legs


def test_the_hot_line_may_be_another_pipe() -> None:
    wide = PIPES["Copper 22 × 1"]
    before, after = reckon(plan_b()), reckon(altered(plan_b(), run__hot_pipe=wide))
    assert {leg.pipe.name for leg in after.run.route.hot} == {wide.name}
    assert {leg.pipe.name for leg in after.run.route.cold} == {"Copper 18 × 1"}
    more = (wide.bore_area_m2 - PIPES["Copper 18 × 1"].bore_area_m2) * after.run.route.hot_length
    assert after.charge.contents.lines - before.charge.contents.lines == pytest.approx(more)
    assert after.run.warm.drop(after.run.flow) < before.run.warm.drop(after.run.flow)
    assert {part.key for part in after.parts.parts} >= {"pipe", "pipe_1"}


def test_one_leg_of_its_own_pipe_and_fittings() -> None:
    narrow = PIPES["Copper 15 × 1"]
    design = altered(plan_b(), run__cold__c3__pipe=narrow, run__cold__c3__bends=2, run__cold__c3__valves=1)
    result = reckon(design)
    assert result.run.warm.bore == pytest.approx(0.013)
    flow = 200 * LITRE_H
    own = next(piece for piece in result.run.warm.pieces if piece.bore == pytest.approx(0.013))
    assert own.k_sum == pytest.approx(2 * 0.9 + 0.1)
    leg = next(leg for leg in result.run.route.cold if leg.id == "c3")
    assert own.length == pytest.approx(leg.length)
    fluid = {"density": result.run.warm.density, "viscosity": result.run.warm.viscosity}
    alone = pipe_drop(length=leg.length, bore=0.013, flow=flow * fluid["density"], material="copper", **fluid)
    others = reckon(plan_b()).run.warm
    scale = sum(leg.length for leg in result.run.route.legs() if leg.id != "c3") / result.run.route.length
    assert result.run.warm.shares(flow).pipe == pytest.approx(
        alone.pressure_drop + others.shares(flow).pipe * scale, rel=1e-9
    )
    assert any(part.key.startswith("reducers") for part in result.parts.parts)


@given(order=st.permutations(["c3", "c5", "c6"]), flow=st.floats(40, 500))
def test_the_order_of_legs_does_not_change_friction(order: list[str], flow: float) -> None:
    """Legs of different pipes, shuffled among themselves."""
    design = altered(plan_b(), run__cold__c3__pipe=PIPES["Copper 15 × 1"], run__cold__c6__pipe=PIPES["Copper 22 × 1"])
    by_id = {leg.id: leg for leg in design.run.cold}
    shuffled = iter(order)
    legs = [by_id[next(shuffled)] if leg.id in order else leg for leg in design.run.cold]
    other = changed(design, [Change("run.cold", legs)])
    one, two = (reckon(d).run.warm.drop(flow * LITRE_H) for d in (design, other))
    assert one == pytest.approx(two, rel=1e-12)


@given(rises=st.lists(st.floats(-1, 1), min_size=3, max_size=3), share=st.sampled_from([0.0, 0.3, 0.5]))
def test_a_loop_that_closes_in_height_closes_in_static_pressure(rises: list[float], share: float) -> None:
    design = altered(
        plan_b(),
        run__hot__h2__rise_m=round(rises[0] * 3.4, 2),
        run__hot__h3__rise_m=round(rises[1] * 2.8, 2),
        run__cold__c3__rise_m=round(rises[2] * 4.5, 2),
    )
    route = profile(design)
    assert route.cold_open == route.hot_open == 0
    field = route.plate_top - route.plate_bottom
    around = [leg.rise for leg in route.cold] + [field] + [leg.rise for leg in route.hot]
    coil = route.cold[0].start_height - route.hot[-1].end_height
    pressures = [static_pressure(volume_share=share, height=rise) for rise in (*around, coil)]
    assert math.fsum(pressures) == pytest.approx(0, abs=1e-6)


@given(share=st.floats(0.10, 0.55), more=st.floats(0.01, 0.05), flow=st.floats(20, 3000))
def test_more_glycol_never_less_friction_while_the_flow_stays_of_one_kind(
    share: float, more: float, flow: float
) -> None:
    """At 10 °C, laminar or above Re 4000. Between, thicker fluid that has not yet gone turbulent may drag less."""
    bore, length = 0.016, 10.0

    def drop(of: float) -> Any:
        fluid = properties(volume_share=of, temperature=10.0)
        return pipe_drop(
            length=length,
            bore=bore,
            flow=flow * LITRE_H * fluid.density,
            density=fluid.density,
            viscosity=fluid.viscosity,
        )

    thin, thick = drop(share), drop(share + more)
    if (thin.reynolds < 2000 and thick.reynolds < 2000) or min(thin.reynolds, thick.reynolds) > 4000:
        assert thick.pressure_drop >= thin.pressure_drop * (1 - 1e-9)


def test_a_leg_is_put_in_cut_and_taken_out() -> None:
    design = plan_b()
    whole = profile(design).length
    change, words = add_entry(design, "leg:hot:h3")
    longer = changed(design, [change])
    assert "hot line" in words
    assert profile(longer).length == pytest.approx(whole + 1.0)
    assert [leg.id for leg in longer.run.hot][3] == "n1"
    change, _ = add_entry(design, "split:hot:h2")
    cut = changed(design, [change])
    assert profile(cut).length == pytest.approx(whole)
    assert len(cut.run.hot) == len(design.run.hot) + 1
    assert reckon(cut).charge.contents.total == pytest.approx(reckon(design).charge.contents.total)
    change, _ = remove_entry(longer, "run.hot", "n1")
    assert changed(longer, [change]).run.hot == design.run.hot


@pytest.mark.parametrize("kind", ["leg:hot:zz", "split:warm:h1", "split:cold:c4", "leg:cold:", "split::"])
def test_legs_that_cannot_be_changed_are_refused(kind: str) -> None:
    with pytest.raises(JobFileError):
        add_entry(plan_b(), kind)


def test_a_line_keeps_one_leg_and_has_sixty_at_most() -> None:
    design = plan_b()
    for leg in design.run.cold[1:]:
        design = changed(design, [remove_entry(design, "run.cold", leg.id)[0]])
    with pytest.raises(JobFileError, match="one leg at least"):
        remove_entry(design, "run.cold", design.run.cold[0].id)
    for _ in range(MOST_LEGS - 1):
        design = changed(design, [insert_leg(design, "cold", design.run.cold[0].id)[0]])
    with pytest.raises(JobFileError, match="60 legs"):
        insert_leg(design, "cold", design.run.cold[0].id)


@pytest.mark.parametrize(("line", "fitted"), [("cold", "c4"), ("hot", "h8")])
def test_a_line_that_does_not_reach_is_stopped_and_joined_by_its_cure(line: str, fitted: str) -> None:
    change, _ = remove_entry(plan_b(), f"run.{line}", fitted)
    design = changed(plan_b(), [change])
    result = reckon(design)
    broken = next(f for f in result.findings if f.key == f"open_{line}")
    assert broken.level == "stop"
    cured = changed(design, broken.cures[0].changes)
    assert f"open_{line}" not in keys(cured)
    assert profile(cured).length == pytest.approx(profile(plan_b()).length)


@given(st.lists(st.sampled_from(["leg:hot:h3", "leg:cold:c2", "split:hot:h2", "-hot", "-cold"]), max_size=14))
def test_whatever_is_done_to_the_legs_the_plan_is_reckoned(done: list[str]) -> None:
    design = plan_a()
    for what in done:
        try:
            if what.startswith("-"):
                line = what[1:]
                legs = design.run.cold if line == "cold" else design.run.hot
                change, _ = remove_entry(design, f"run.{line}", legs[len(legs) // 2].id)
            else:
                change, _ = add_entry(design, what)
            design = changed(design, [change])
        except JobFileError:
            continue
    route = reckon(design).run.route
    assert route.contents == pytest.approx(sum(leg.length * leg.pipe.bore_area_m2 for leg in route.legs()))


# rules of laying: what breaks them, and that the cure ends it

RULES: list[tuple[str, str, dict[str, Any]]] = [
    ("thin_lagging", "mind", {"run__insulation_m": 0.006}),
    ("thin_lagging", "mind", {"run__hot__h3__insulation_m": 0.0}),
    ("lagging_bare", "fix", {"run__jacket": "none"}),
    ("lagging_painted", "mind", {"run__jacket": "paint"}),
    ("boot_hot", "fix", {"run__hot_boot": "ordinary"}),
    ("separator_slow", "mind", {"run__separator": True}),
    ("pump_hot_line", "fix", {"run__pump_line": "hot"}),
    ("pump_upright", "fix", {"run__shaft": "upright"}),
    ("slower_will_do", "mind", {"run__speed": 3}),
    ("filling_impossible", "stop", {"charge__filling_gauge_pa": 80e3}),
    ("two_stages", "mind", {"charge__filling_gauge_pa": 150e3}),
    ("vessel_large", "mind", {"charge__vessel_l": 200.0}),
    ("vessel_large", "mind", {"charge__vessel_l": 1000.0}),
    ("start_for_run", "mind", {"control__start_k": 5.0}),
    ("shallow_cold_c3", "fix", {"run__cold__c3__place": "buried", "run__cold__c3__depth_m": 0.3}),
    ("bare_buried_cold_c3", "fix", {"run__cold__c3__place": "buried", "run__cold__c3__insulation_m": 0.006}),
    ("duct_cold_c3", "mind", {"run__cold__c3__place": "buried", "run__cold__c3__duct": False}),
    ("duct_cold_c3", "fix", {"run__cold__c3__place": "buried", "run__cold__c3__ends_sealed": False}),
]


@pytest.mark.parametrize(("key", "level", "change"), RULES, ids=[f"{k}-{lv}-{n}" for n, (k, lv, _) in enumerate(RULES)])
def test_a_rule_fires_and_stops_after_its_cure(key: str, level: str, change: dict[str, Any]) -> None:
    assert key not in keys(plan_b())
    design = altered(plan_b(), **change)
    finding = next(f for f in reckon(design).findings if f.key == key)
    assert finding.level == level
    assert finding.cures
    for cure in finding.cures:
        assert key not in keys(changed(design, cure.changes)), cure.label.text()


def test_lagging_cured_for_the_narrow_pipe_never_thins_the_wide_one() -> None:
    wide = altered(
        plan_b(), run__pipe=PIPES["Copper 54 × 1.5"], run__insulation_m=0.019, run__hot__h3__insulation_m=0.0
    )
    wide = altered(wide, run__hot__h3__pipe=PIPES["Copper 15 × 1"])
    thin = next(f for f in reckon(wide).findings if f.key == "thin_lagging")
    cured = changed(wide, thin.cures[0].changes)
    before, after = ({leg.id: leg.insulation for leg in profile(d).cold} for d in (wide, cured))
    assert all(after[key] >= before[key] for key in before)
    assert "thin_lagging" not in keys(cured)


def test_a_longer_run_asks_for_a_larger_start() -> None:
    short, long = plan_b(), altered(plan_b(), run__hot__h9__length_m=80.0)
    a, b = (reckon(d).figures["start_for_run"].value for d in (short, long))
    assert b > a
    assert long.control.start_k.value >= a


def test_what_is_placed_on_the_legs_is_bought() -> None:
    design = altered(
        plan_b(),
        run__cold__c3__valves=2,
        run__hot__h3__tees=1,
        run__separator=True,
        run__hot_boot="jacket",
        run__pump=PANEL_PUMP,
        run__speed=1,
    )
    parts = {part.key: part for part in reckon(design).parts.parts}
    assert parts["leg_valves"].quantity.value == 2
    assert parts["leg_tees"].quantity.value == 1
    assert {"separator", "panel"} <= set(parts)
    assert "jacketed" in parts["boot_hot"].name.text()
    assert not {"leg_valves", "leg_tees", "separator", "panel"} & {p.key for p in reckon(plan_b()).parts.parts}


def test_a_panel_lifts_a_drainback_only_once_it_turns_fast_enough() -> None:
    """The first water over the top asks for the whole lift, though running a siphon carries it."""
    pump = PANEL_PUMP.model_copy(
        update={
            "speeds": [LIFTING_PUMP.speeds[-1].model_copy(update={"power_w": 60.0})],
            "name": "Pump for 12 V, strong",
        }
    )
    design = altered(corrim(), run__pump=pump, run__speed=1, run__panel_w=200.0)
    run = reckon(design).run
    assert run.pump.on_sun is not None
    assert run.pump.on_sun.starts_at is not None
    draining = reckon(design).draining
    assert draining is not None
    speed = speed_under(panel=Panel(200.0), pump_w=60.0, pump_v=12.0, sun=run.pump.on_sun.starts_at)
    assert run.pump.curves[-1].head(0.0) * speed**2 >= draining.lift.start_head * 0.99
    sooner = speed_under(panel=Panel(200.0), pump_w=60.0, pump_v=12.0, sun=run.pump.on_sun.starts_at - 10)
    assert run.pump.curves[-1].head(0.0) * sooner**2 < draining.lift.start_head * 1.01


def test_iron_is_found_in_drinking_water() -> None:
    direct = proposed("maravel-8-gas")
    assert direct.run.pump.value.drinking
    iron = altered(direct, run__pump=PUMPS["Circulator, three speeds"])
    found = next(f for f in reckon(iron).findings if f.key == "pump_iron")
    assert "pump_iron" not in keys(changed(iron, found.cures[0].changes))


# buried


@given(apart=st.floats(0.5, 40), x=st.floats(-20, 40), y=st.floats(0.3, 40))
def test_two_tapes_find_the_place_again(apart: float, x: float, y: float) -> None:
    found = spot_from(apart=apart, from_a=math.hypot(x, y), from_b=math.hypot(x - apart, y))
    assert found is not None
    assert found == pytest.approx((x, y), abs=1e-5)


def test_tapes_that_do_not_meet_are_found() -> None:
    assert spot_from(apart=10, from_a=2, from_b=3) is None
    design = altered(pipwater(), run__points_apart_m=30.0)
    assert "tapes_do_not_meet" in keys(design)
    assert "tapes_do_not_meet" not in keys(pipwater())


def test_a_buried_line_is_minded_until_it_is_taped() -> None:
    assert "buried_not_taped" not in keys(pipwater())
    sketch = sketch_of(pipwater())
    assert sketch is not None
    assert set(sketch.lines) == {"cold", "hot"}
    assert "buried_not_taped" in keys(altered(pipwater(), run__points_apart_m=None))
    assert sketch_of(plan_b()) is None
    packed = {part.key for part in reckon(pipwater()).parts.parts}
    assert {"duct", "warning_tape"} <= packed


def test_soil_holds_heat_better_than_air() -> None:
    buried = altered(plan_b(), run__cold__c3__place="buried")
    open_air = altered(plan_b(), run__cold__c3__place="outside")
    one, two = (next(x for x in reckon(d).run.loss.legs if x.leg.id == "c3").per_metre for d in (buried, open_air))
    assert one < two
    deeper = altered(buried, run__cold__c3__depth_m=2.0)
    assert next(x for x in reckon(deeper).run.loss.legs if x.leg.id == "c3").per_metre < one


# what it costs a year


def test_the_year_s_losses_are_divided_over_all_legs() -> None:
    design = plan_b()
    result = reckon(design)
    lines = line_year(result, simulate(design, result))
    assert sum(lost for _, _, lost in lines.legs) == pytest.approx(lines.lost)
    assert len(lines.legs) == len(result.run.route.legs())
    assert 0 < lines.share_lost < 0.5
    assert lines.pump == pytest.approx(lines.running * result.run.pump_power)


@given(reach=st.floats(0, 80), cold=st.floats(0.5, 40), hot=st.floats(0.5, 40))
def test_steam_goes_into_both_lines_and_no_further(reach: float, cold: float, hot: float) -> None:
    into_cold, into_hot = steam_ends(reach=reach, cold=cold, hot=hot)
    assert 0 <= into_cold <= cold
    assert 0 <= into_hot <= hot
    assert into_cold + into_hot == pytest.approx(min(reach, cold + hot))


# pumps


@pytest.mark.parametrize("power", [10.0, 20.0, 60.0])
def test_a_panel_has_its_rated_points(power: float) -> None:
    panel = Panel(power)
    assert panel.current(volts=PEAK_V, sun=1000) * PEAK_V == pytest.approx(power, rel=0.01)
    assert panel.current(volts=OPEN_V, sun=1000) == pytest.approx(0, abs=0.01 * power / PEAK_V)
    assert panel.current(volts=0, sun=500) == pytest.approx(panel.current(volts=0, sun=1000) / 2)


@given(sun=st.floats(0, 1000), more=st.floats(0, 400), power=st.floats(5, 100))
def test_more_sun_turns_the_pump_no_slower(sun: float, more: float, power: float) -> None:
    one, two = (speed_under(panel=Panel(power), pump_w=14, pump_v=12, sun=g) for g in (sun, sun + more))
    assert two >= one - 1e-9
    assert speed_under(panel=Panel(power), pump_w=14, pump_v=12, sun=0) == 0


def test_a_pump_on_a_panel_starts_with_the_sun_and_a_small_panel_is_found() -> None:
    design = altered(plan_b(), run__pump=PANEL_PUMP, run__speed=1, run__panel_w=25.0)
    run = reckon(design).run
    assert run.pump.on_sun is not None
    assert run.pump.on_sun.starts_at is not None
    assert 0 < run.pump.on_sun.starts_at < 500
    flows = [q for _, q in run.pump.on_sun.points]
    assert flows == sorted(flows)
    small = altered(design, run__panel_w=3.0)
    found = next(f for f in reckon(small).findings if f.key == "panel_small")
    cured = small
    for _ in range(4):
        cured = changed(cured, found.cures[0].changes)
        again = [f for f in reckon(cured).findings if f.key == "panel_small"]
        if not again:
            break
        found = again[0]
    assert "panel_small" not in keys(cured)
    assert "panel_late" in keys(altered(design, run__panel_w=6.0))


def test_a_pump_by_signal_is_set_to_the_share_that_gives_the_flow() -> None:
    design = altered(plan_b(), run__pump=SIGNAL_PUMP, run__speed=3)
    result = reckon(design)
    share = share_for(result.run, design.run.flow_l_h.value * LITRE_H)
    assert share is not None
    assert 0.2 < share < 1
    assert result.figures["speed_share"].value == pytest.approx(share)
    weak = replace(result.run, drive=replace(result.run.pump, curves=result.run.pump.curves[:1]))
    assert share_for(weak, 1.0) is None


CSV = "speed,flow,head,power\n1,0 L/h,1.8 m,30\n1,300 L/h,1.4 m,\n1,600,0\n2,0,3,45\n2,10,1,\n"


def test_a_pump_is_read_from_a_csv() -> None:
    speeds = speeds_from_csv(CSV.replace("600", "10"), "metric")
    assert [speed.name for speed in speeds] == ["1", "2"]
    assert speeds[0].power_w == 30
    assert speeds[0].points_l_h_pa[1] == pytest.approx((300.0, 1.4 * 9806.65))
    assert speeds[1].points_l_h_pa[-1] == pytest.approx((600.0, 9806.65))
    semicolons = "Speed;Flow;Head;Power\n1;0;1,8;30\n1;5;1,2;\n"
    assert speeds_from_csv(semicolons, "metric")[0].points_l_h_pa[0][1] == pytest.approx(1.8 * 9806.65)


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("", "empty"),
        ("a,b\n1,2\n", "is missing"),
        ("speed,flow,head,power\n1,0,2,\n1,5,1,\n", "power of speed 1"),
        ("speed,flow,head,power\n1,0,1,20\n1,5,2,\n", "must not rise"),
        ("speed,flow,head,power\n1,0,1,20\n", "2 to 12 points"),
        ("speed,flow,head,power\n1,0\n", "too few cells"),
        ("speed,flow,head,power\n1,x,1,20\n1,5,1,\n", "x"),
        ("speed,flow,head,power\n" + "1,0,1,20\n" * 500, "more than 400"),
        ("speed,flow,head,power\n1,0,0,20\n1,5,0,\n", "has a head"),
        ("speed,flow,head,power\n" + "".join(f"{n},0,1,20\n{n},5,0,\n" for n in range(8)), "1 to 6 speeds"),
    ],
)
def test_what_is_no_pump_is_refused_in_words(text: str, reason: str) -> None:
    with pytest.raises(RowanError, match=reason):
        speeds_from_csv(text, "metric")


@given(st.text(max_size=200))
def test_any_text_is_a_pump_or_a_refusal(text: str) -> None:
    for read in (points_from_text, speeds_from_csv):
        try:
            assert read(text, "metric")
        except RowanError as error:
            assert str(error)


def test_points_are_typed_with_their_units() -> None:
    points = points_from_text("360 L/h; 0.1 bar\n0; 12 ft\n", "metric")
    assert points == [
        pytest.approx((0.0, 12 * 9806.65 * 0.3048), rel=1e-6),
        pytest.approx((360.0, 10e3), rel=1e-6),
    ]
    for text, error in (("1", TypedNumberError), ("0; 1\n0; 0.5", ImpossibleInputError)):
        with pytest.raises(error):
            points_from_text(text, "metric")
