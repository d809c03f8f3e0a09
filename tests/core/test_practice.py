"""What the whole practice of a bench knows beside its sums: fluids, hoses, valves, draws, trees that grow."""

from __future__ import annotations

from typing import Any

import pytest

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import day_draws
from rowan.core.design.inputs.sun import Obstacle
from rowan.core.goods.catalogue import STORES
from rowan.core.reckon import reckon
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import settings_of, tank_of
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.simulation.switching import more_of
from rowan.core.steps.commission.cautions import bench_cautions
from rowan.core.steps.duty.demand import COMMERCIAL, EVENING, HOUSEHOLD, MORNING
from rowan.core.steps.store.modes import VALVES
from rowan.core.steps.store.taps_coil import largest_draw
from rowan.core.studies.choices import with_kind, with_what_belongs
from rowan.core.studies.trials import function_trials
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_b, proposed
from tests.core.thermosiphons import roof_tank


def levels(design: Design) -> dict[str, str]:
    return {finding.key: finding.level for finding in reckon(design).findings}


def tree(grown: float | None) -> Obstacle:
    return Obstacle(
        id="o1",
        kind="tree",
        bearing_deg=180,
        distance_m=12,
        width_m=9,
        height_m=3,
        grown_m=grown,
        summer=0.1,
        winter=0.5,
    )


WRONG: dict[str, tuple[str, Any, str]] = {
    "food grade": ("fluid_food", lambda: altered(plan_b(), charge__fluid="food"), "mind"),
    "for plumbing": ("fluid_plumbing", lambda: altered(plan_b(), charge__fluid="plumbing"), "fix"),
    "far too strong": ("too_strong", lambda: altered(plan_b(), charge__share=0.55), "mind"),
    "a garden hose": ("hose_over_rating", lambda: altered(plan_b(), commission__hose="garden"), "stop"),
    "a garden hose on a strong main": (
        "hose_over_rating",
        lambda: altered(proposed("maravel-8-gas"), commission__hose="garden", charge__mains_gauge_pa=4.5e5),
        "stop",
    ),
    "screw-down valves": ("screw_down", lambda: altered(corrim(), run__shut_offs="screw"), "fix"),
    "under the deck": ("under_deck", lambda: altered(plan_b(), run__under_deck_m=0.1), "fix"),
    "push-fit in a hot loop": ("push_fit_hot", lambda: altered(plan_b(), run__joints="push"), "stop"),
    "on the bare floor": ("no_pan", lambda: altered(plan_b(), store__pan=False), "mind"),
    "a bare hot pipe": ("hot_pipe_bare", lambda: altered(plan_b(), store__hot_pipe_lagged=False), "fix"),
    "a plain timer": ("timer_blind", lambda: altered(plan_b(), functions__timer=True), "fix"),
    "a timer that never runs": (
        "timer_never",
        lambda: altered(plan_b(), functions__timer=True, functions__timer_from_h=16, functions__timer_to_h=9),
        "stop",
    ),
    "a tree that grows": ("trees_grow", lambda: altered(plan_b(), sun__obstacles=[tree(11.0)]), "mind"),
}


@pytest.mark.parametrize("case", WRONG)
def test_it_is_told_and_its_cure_cures(case: str) -> None:
    key, make, level = WRONG[case]
    design = make()
    assert levels(design)[key] == level
    finding = next(f for f in reckon(design).findings if f.key == key)
    assert finding.cures
    after = changed(design, with_what_belongs(design, finding.cures[0].changes))
    assert key not in levels(after)


def test_it_keeps_silent_where_nothing_is_wrong() -> None:
    quiet = [
        plan_b(),
        altered(plan_b(), run__under_deck_m=0.3),
        altered(plan_b(), run__shut_offs="screw"),
        altered(plan_b(), sun__obstacles=[tree(None)]),
        altered(proposed("maravel-8-gas"), commission__hose="garden"),
        altered(corrim(), commission__hose="garden"),
    ]
    for design in quiet:
        assert not {key for key, _, _ in WRONG.values()} & set(levels(design))


def test_a_garden_hose_is_enough_where_air_is_used_and_little_is_raised() -> None:
    low = altered(plan_b(), commission__hose="garden", commission__test="air", charge__relief_gauge_pa=4e5)
    assert "hose_over_rating" not in levels(low)


def test_what_grows_is_reckoned_by_its_height_then() -> None:
    young, then = altered(plan_b(), sun__obstacles=[tree(11.0)]), tree(None).model_copy(update={"height_m": 11.0})
    old = altered(plan_b(), sun__obstacles=[then])
    figures = reckon(young).figures
    assert figures["window_loss_grown"].value == pytest.approx(reckon(old).figures["window_loss"].value)
    assert figures["window_loss_grown"].value > figures["window_loss"].value
    assert "window_loss_grown" not in reckon(old).figures


@pytest.mark.parametrize("pattern", [HOUSEHOLD, COMMERCIAL, MORNING, EVENING])
def test_a_day_s_shares_sum_to_one(pattern: tuple[tuple[int, float], ...]) -> None:
    assert sum(share for _, share in pattern) == pytest.approx(1.0)


def test_who_washes_in_the_morning_leaves_a_hot_store_idle_at_night() -> None:
    design = plan_b()
    weather = sky_of(design).weather
    noon, found = 12 * 60, {}
    for drawn in ("morning", "usual", "evening"):
        minutes = draws_of(altered(design, duty__drawn=drawn), weather).minute
        assert minutes.sum() == pytest.approx(draws_of(design, weather).minute.sum())
        found[drawn] = float(minutes[:noon].sum() / minutes.sum())
    assert found["morning"] > found["usual"] > found["evening"]
    years = {}
    for drawn in ("morning", "evening"):
        house = altered(design, duty__drawn=drawn)
        years[drawn] = simulate(house, reckon(house)).total("store_loss")
    assert years["morning"] > years["evening"], "what is drawn in the evening is not lost overnight"


def test_a_draining_loop_restarts_as_far_below_its_limit_as_is_set() -> None:
    for kelvins in (3.0, 8.0):
        design = altered(corrim(), control__restart_k=kelvins)
        assert settings_of(design, tank_of(design, reckon(design))).store_latch == kelvins
    sealed = altered(plan_b(), control__restart_k=8.0)
    assert settings_of(sealed, tank_of(sealed, reckon(sealed))).store_latch == 3.0


def test_hygiene_comes_at_its_interval() -> None:
    house = altered(proposed("aldersund-5-oil"), store__hygiene="weekly", store__item=STORES["Store 500 twin coil"])
    heat = {}
    for days in (2, 7, 14):
        design = altered(house, functions__hygiene_days=days)
        more = more_of(design, tank_of(design, reckon(design)))
        assert more is not None
        assert more.hygiene_days == days
        heat[days] = simulate(design, reckon(design)).total("backup")
    assert heat[2] > heat[7] > heat[14]


def test_flow_by_aperture_stands_beside_what_is_usual() -> None:
    for design, window in ((plan_b(), (30, 50)), (proposed("maravel-8-gas"), (50, 75))):
        result = reckon(design)
        figure = result.figures["specific_flow"]
        assert figure.value * 3.6e6 == pytest.approx(result.run.flow * 3.6e6 / design.area_m2)
        assert figure.window is None, "the maker's window is the one that binds"
        said = figure.basis.text()
        assert all(str(limit) in said for limit in window)
    assert "specific_flow" not in reckon(roof_tank()).figures


def test_pipe_under_a_roof_is_warned_of_where_it_is_laid() -> None:
    assert any("roofer" in words.text() for words in bench_cautions(plan_b(), "run"))
    assert not any("roofer" in words.text() for words in bench_cautions(roof_tank(), "run"))
    assert "restart_k" not in str(with_kind(plan_b(), "direct").control.frost)


def test_push_fit_where_it_may_be_has_its_routine() -> None:
    pool = altered(pipwater(), run__joints="push")
    assert "push_fit_hot" not in levels(pool), "mats come to less than its rings stand"
    look = next(step for step in reckon(pool).commission.steps if step.key == "inspect")
    assert "pushed past its click" in look.work.text()
    look = next(step for step in reckon(pipwater()).commission.steps if step.key == "inspect")
    assert "click" not in look.work.text()


def test_a_station_in_one_box_costs_more_and_saves_hours() -> None:
    single, box = (
        reckon(proposed("aldersund-5-oil")),
        reckon(altered(proposed("aldersund-5-oil"), parts__station="box")),
    )
    goods = [r.figures["goods_price"].value for r in (single, box)]
    assert goods[1] - goods[0] == pytest.approx(0.4 * 280)
    assert box.parts.price - single.parts.price == pytest.approx(0.4 * 280 - 2.5 * 40)
    assert "one box" in next(p for p in box.parts.parts if p.key == "station").name.text()


def test_glycol_in_the_reservoir_is_an_option_with_its_price() -> None:
    beside = altered(corrim(), store__item=STORES["Store 1000 single coil"], charge__reservoir_at_m=0.9)
    plain, braced = reckon(beside), reckon(altered(beside, charge__reservoir_share=0.3))
    assert "glycol_penalty" not in plain.figures
    # 30 %: 1,012 kg/m³ by 3,900 J/kg·K against 990 by 4,180
    assert braced.figures["glycol_penalty"].value == pytest.approx(0.047, abs=0.01)
    assert braced.charge.frost_point < -10
    assert braced.run.heat_capacity < plain.run.heat_capacity
    assert "concentrate" in {part.key for part in braced.parts.parts} - {part.key for part in plain.parts.parts}
    open_store = reckon(altered(corrim(), charge__reservoir_share=0.3))
    assert open_store.charge.frost_point == pytest.approx(0.0, abs=0.1), "none where the loop's water is the store's"


def test_an_element_that_is_not_connected_heats_nothing() -> None:
    one, other = plan_b(), altered(plan_b(), store__spare_element=True)
    assert reckon(one).figures.keys() == reckon(other).figures.keys()
    assert levels(one) == levels(other)


def test_a_timer_runs_by_the_clock_alone_and_its_cost_is_a_figure() -> None:
    fair, blind = plan_b(), altered(plan_b(), functions__timer=True)
    years = [simulate(design, reckon(design)) for design in (fair, blind)]
    # seven hours a day, sun or not
    assert years[1].total("pump_time") == pytest.approx(7 * 3600 * 365, rel=0.01)
    # on dull days it carries heat up: less comes into the store, and the pump takes several times as much
    assert years[1].solar_heat < 0.97 * years[0].solar_heat
    assert years[1].total("electric") > 1.5 * years[0].total("electric")
    assert years[1].saved < years[0].saved
    assert "timer" in {trial.key for trial in function_trials(fair)}


def test_every_valve_of_the_mode_table_is_bought_and_tagged() -> None:
    one, two = plan_b(), altered(plan_b(), store__backup="second", store__second_l=150.0)
    for design, valves in ((one, 3), (two, len(VALVES["two"]))):
        parts = {part.key: part.quantity.value for part in reckon(design).parts.parts}
        assert parts["mode_valves"] == parts["valve_tags"] == valves
    assert "mode_valves" not in {part.key for part in reckon(pipwater()).parts.parts}
    assert "mode_valves" not in {part.key for part in reckon(corrim()).parts.parts}, "an open store's taps have a coil"


@pytest.mark.parametrize(
    ("text", "draws"),
    [
        ("6:30 2, 12:30 1, 19:00 3", ((390, 1 / 3), (750, 1 / 6), (1140, 1 / 2))),
        ("19 3, 7 1", ((420, 0.25), (1140, 0.75))),
        ("7:00 1.5, 7:00 0.5", ((420, 1.0),)),
        ("24:00 1", ((0, 1.0),)),
    ],
)
def test_draws_of_a_day_are_read_in_order_as_shares(text: str, draws: tuple[tuple[int, float], ...]) -> None:
    assert day_draws(text) == tuple((minute, pytest.approx(share)) for minute, share in draws)


@pytest.mark.parametrize("text", ["", "7:00", "7:00 -1", "25:00 1", "7:70 1", "7:00 0", "soon 2", "7:00 1;8:00 2"])
def test_what_is_no_draw_is_refused_in_words(text: str) -> None:
    with pytest.raises(TypedNumberError):
        day_draws(text)
    with pytest.raises(RowanError):
        altered(plan_b(), duty__own_draws=text)


def test_a_house_s_own_hours_are_drawn_at_those_hours() -> None:
    own = altered(plan_b(), duty__drawn="own", duty__own_draws="6:00 1, 22:00 1")
    day = draws_of(own, sky_of(own).weather).minute
    volume = own.duty.persons.value * own.duty.litres_per_person_l.value / 1000
    assert day.sum() == pytest.approx(volume)
    assert day[: 12 * 60].sum() == pytest.approx(volume / 2)
    assert day[7 * 60 : 21 * 60].sum() == 0
    # the same hours typed as a house that is usual are the usual house's year
    same = altered(plan_b(), duty__drawn="own", duty__own_draws="7:00 36, 12:30 15, 18:00 24, 20:30 25")
    usual = plan_b()
    assert simulate(same, reckon(same)).backup == pytest.approx(simulate(usual, reckon(usual)).backup)


def test_one_great_draw_wants_more_of_a_coil_than_many_small_ones() -> None:
    one, many = (
        largest_draw(altered(plan_b(), duty__drawn="own", duty__own_draws=text))
        for text in ("7:00 1", "6:00 1, 7:00 1, 8:00 1, 9:00 1")
    )
    assert one >= many > 0
