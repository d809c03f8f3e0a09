from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import assumed, inputs
from rowan.core.design.design import Design
from rowan.core.reckon import BENCH_STAGES, Reckoning, reckon
from rowan.core.steps.charge.inlet import inlet_head
from rowan.core.studies.propose import collectors_wanted
from rowan.core.terms.expression import Expression, Symbol, plain_value
from rowan.core.terms.figure import Figure
from rowan.core.terms.source import METHODS
from rowan.core.terms.units import DIMENSIONS, number_text
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed

DESIGNS = {"kvist-a": plan_a, "kvist-b": plan_b} | {key: (lambda key=key: proposed(key)) for key in EIGHT_FACTS}
EACH_DESIGN = pytest.mark.parametrize("make", DESIGNS.values(), ids=DESIGNS.keys())


def _check_why(figure: Figure) -> None:
    expression = figure.why.expression
    if expression is None:
        assert figure.why.method is not None, figure.key
        return
    assert figure.value == pytest.approx(expression.value() * figure.why.scale)
    digits = figure.printed_digits()
    symbols = {
        n: Symbol(plain_value(digits[n]), s.letter, s.index, s.unit)
        for n, s in expression.symbols.items()
        if n in digits
    }
    unit = DIMENSIONS[figure.dimension].metric
    decimals = unit.decimals if figure.decimals is None else figure.decimals
    again = Expression(expression.text, symbols).value() * figure.why.scale
    assert number_text(unit.from_si(again), decimals) == figure.number(), figure.key


@EACH_DESIGN
def test_what_a_why_prints_gives_the_figure(make: object) -> None:
    result = reckon(make())  # type: ignore[operator]
    assert len(result.figures) > 30
    for figure in result.figures.values():
        _check_why(figure)


@given(height=st.floats(3.5, 16), count=st.integers(1, 5), gap=st.floats(3e4, 7e4), minimum=st.floats(-30, 0))
def test_every_why_holds_over_many_designs(height: float, count: int, gap: float, minimum: float) -> None:
    design = altered(
        plan_a(),
        survey__gauge_to_top_m=height,
        collector__count=count,
        charge__gap_pa=gap,
        survey__design_minimum_c=minimum,
    )
    for figure in reckon(design).figures.values():
        _check_why(figure)


@EACH_DESIGN
def test_sources_name_a_method_or_the_trade(make: object) -> None:
    pages = {f"Methods {n}" for n in METHODS}
    for figure in reckon(make()).figures.values():  # type: ignore[operator]
        assert figure.why.source.split(",")[0] in pages, figure.key
        assert figure.why.sentence.text().endswith("."), figure.key
        if figure.window is not None:
            assert figure.window.source, figure.key


def _outside_without_finding(design: Design) -> list[str]:
    """Figures out of their window on a bench that has no finding, on it or at the figure's own part."""
    result = reckon(design)
    places = {finding.stage for finding in result.findings} | {finding.part for finding in result.findings}
    return [
        figure.key
        for bench in BENCH_STAGES
        for figure in result.bench_figures(bench)
        if not figure.inside and not places & {bench, figure.part}
    ]


WINDOW_BREAKERS = [
    {"charge__vessel_l": 8.0},
    {"charge__share": 0.25},
    {"collector__count": 6},
    {"survey__roof_azimuth_deg": 10.0},
    {"run__speed": 3},
    {"control__stop_k": 1.0},
    {"store__maximum_c": 50.0},
    {"survey__floor_limit_kg_m2": 500.0},
    {"run__joint_rating_c": 120.0},
]


@pytest.mark.parametrize("change", WINDOW_BREAKERS, ids=lambda c: next(iter(c)))
def test_a_figure_out_of_its_window_has_a_finding(change: dict[str, object]) -> None:
    design = altered(plan_b(), **change)
    assert any(not f.inside for f in reckon(design).figures.values())
    assert _outside_without_finding(design) == []


@given(
    height=st.floats(3, 30),
    count=st.integers(1, 12),
    school=st.sampled_from(["reserve", "equal", "above", "atmosphere", "raised", "typed"]),
    vessel=st.sampled_from([8.0, 18.0, 35.0, 80.0, 200.0]),
    share=st.sampled_from([0.25, 0.4, 0.6]),
    speed=st.integers(1, 3),
    pair=st.tuples(st.floats(1, 20), st.floats(0, 20)),
)
def test_nothing_is_out_of_its_window_in_silence(
    height: float, count: int, school: str, vessel: float, share: float, speed: int, pair: tuple[float, float]
) -> None:
    changes = {
        "survey__gauge_to_top_m": height,
        "collector__count": count,
        "charge__school": school,
        "charge__vessel_l": vessel,
    }
    changes |= {"charge__share": share, "run__speed": speed, "control__start_k": pair[0], "control__stop_k": pair[1]}
    assert _outside_without_finding(altered(plan_b(), **changes)) == []


def test_eight_sets_of_facts_give_eight_plans_for_stated_reasons() -> None:
    results = {key: (proposed(key), reckon(proposed(key))) for key in EIGHT_FACTS}
    summaries = {
        key: (
            d.collector.count.value,
            d.store.item.value.name,
            d.run.pipe.value.name,
            d.charge.share.value,
            d.charge.vessel_l.value,
            d.money.fuel_price.value,
            round(r.charge.static),
            d.control.stop_k.value,
            round(r.site.plane_year),
        )
        for key, (d, r) in results.items()
    }
    assert len(set(summaries.values())) == 8
    # more people, more of everything
    assert summaries["aldersund-8-electric"][0] > summaries["aldersund-1-gas"][0]
    # a west roof needs more collectors than one to the south for the same people
    assert summaries["aldersund-8-west"][0] > summaries["aldersund-8-electric"][0]
    # no frost, soft water: direct; frost: glycol for the coldest night
    assert results["maravel-8-gas"][0].charge.kind.value == "direct"
    assert results["aldersund-8-west"][0].charge.share.value == 0.4
    # an element needs no second coil
    assert "single" in summaries["aldersund-8-electric"][1]
    assert "twin" in summaries["aldersund-8-west"][1]


@pytest.mark.parametrize("key", EIGHT_FACTS)
def test_a_proposal_can_be_built(key: str) -> None:
    result = reckon(proposed(key))
    assert [f.key for f in result.findings if f.level == "stop"] == []
    assert result.collector.year_heat is None or result.collector.year_heat > 0


def test_everything_proposed_is_assumed_and_the_facts_are_not() -> None:
    design = proposed("aldersund-5-oil")
    origins = {found.path: found.origin for found in inputs(design)}
    assert origins["duty.persons"] == origins["survey.roof_tilt_deg"] == origins["survey.place"] == "agreed"
    assert origins["charge.vessel_l"] == origins["run.bends"] == origins["survey.gauge_to_top_m"] == "assumed"
    assert len(assumed(design)) > 40


@given(persons=st.integers(1, 20))
def test_more_people_never_mean_fewer_collectors(persons: int) -> None:
    facts = EIGHT_FACTS["aldersund-5-oil"]
    item = proposed("aldersund-5-oil").collector.item.value
    fewer, more = (
        collectors_wanted(facts=type(facts)(**{**facts.__dict__, "persons": n}), item=item)
        for n in (persons, persons + 1)
    )
    assert more >= fewer


def test_the_kvist_plans_are_whole() -> None:
    assert len(assumed(plan_a())) == 11
    assert len(assumed(plan_b())) == 2
    assert {f.key for f in reckon(plan_a()).findings if f.level == "fix"} == {"high_point_hot_h4", "vent_steam"}
    assert [f.key for f in reckon(plan_b()).findings if f.level in ("stop", "fix")] == []


def test_months_beyond_the_correlation_are_a_lower_bound_and_say_so() -> None:
    result = reckon(proposed("maravel-1-oil"))
    assert result.collector.bounded_months
    assert "months at least" in result.figures["solar_heat"].basis.text()
    assert result.collector.share is not None
    assert result.collector.share <= 1.0 + 1e-9


SAME: dict[str, Callable[[Reckoning], float | None]] = {
    "static": lambda r: r.charge.static,
    "precharge": lambda r: r.charge.setting.precharge if r.charge.setting else None,
    "fill": lambda r: r.charge.setting.fill if r.charge.setting else None,
    "kept": lambda r: r.charge.kept,
    "contents": lambda r: r.charge.contents.total,
    "expansion": lambda r: r.charge.expansion,
    "steam": lambda r: r.charge.steam.volume if r.charge.steam else None,
    "prepare": lambda r: r.charge.prepare,
    "least_vessel": lambda r: r.charge.need.needed if r.charge.need else None,
    "top_cold": lambda r: r.charge.states["cold"].top,
    "stagnation_pressure": lambda r: r.charge.states["stagnation"].station,
    "inlet": lambda r: r.charge.setting.fill - inlet_head(r.run) if r.charge.setting else None,
    "velocity": lambda r: r.run.velocity,
    "head": lambda r: r.run.point.head if r.run.point else None,
    "rise": lambda r: r.run.temperatures.rise,
    "working_efficiency": lambda r: r.run.temperatures.efficiency,
    "stagnation": lambda r: r.collector.stagnation,
    "solar_share": lambda r: r.collector.share,
    "store_height": lambda r: r.store.height,
    "floor_load": lambda r: r.store.floor_load,
    "coil_ua": lambda r: r.store.coil_conductance,
    "litres_per_m2": lambda r: r.store.litres_per_m2 / 1000,
    "floor": lambda r: r.differences.floor,
    "start_sun": lambda r: r.differences.band.start_irradiance,
    "hold_sun": lambda r: r.differences.band.hold_irradiance,
    "steady_stop": lambda r: r.differences.largest_stop,
    "orientation": lambda r: r.site.relative_yield,
    "demand": lambda r: r.duty.year_heat,
}


def _explains(result: Reckoning) -> set[str]:
    """Each formula gives the result that drawings, states and findings use; returns the figures compared."""
    compared = set()
    for key, of in SAME.items():
        if key in result.figures:
            expected = of(result)
            assert expected is not None, key
            assert result.figures[key].value == pytest.approx(expected, rel=1e-6), key
            compared.add(key)
    return compared


@EACH_DESIGN
def test_a_figure_and_the_result_it_explains_are_one(make: object) -> None:
    assert len(_explains(reckon(make()))) > 15  # type: ignore[operator]


@pytest.mark.parametrize("school", ["reserve", "equal", "above", "atmosphere", "raised", "typed"])
@pytest.mark.parametrize("vessel", [12.0, 18.0, 80.0])
def test_every_school_s_formula_is_the_rule_that_is_used(school: str, vessel: float) -> None:
    design = altered(plan_b(), charge__school=school, charge__vessel_l=vessel, survey__altitude_m=1100.0)
    assert {"precharge", "fill", "kept"} <= _explains(reckon(design))


@given(
    height=st.floats(4, 14), relief=st.sampled_from([3e5, 6e5, 1e6]), gap=st.floats(3e4, 7e4), steam=st.floats(30, 200)
)
def test_formulas_and_results_stay_one_over_many_designs(
    height: float, relief: float, gap: float, steam: float
) -> None:
    changes = {"survey__gauge_to_top_m": height, "charge__relief_gauge_pa": relief, "charge__gap_pa": gap}
    _explains(reckon(altered(plan_b(), **changes, charge__steaming_w_m2=steam)))
