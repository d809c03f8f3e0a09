"""Choosing by the year: kinds of loop, other collectors and sizes, modes of the tanks, the band, and what it is worth."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.steps.store.modes import MAIN, SECOND, SOLAR, TAP, VALVES, Arrangement, mode_table, pipes_of, way
from rowan.core.studies.choices import with_collector, with_kind, with_sizes
from rowan.core.studies.loop_kinds import KINDS, Judgement, objections, recommendation
from rowan.core.studies.weather_band import band, why_estimate_differs
from rowan.core.terms.dates import day_of_year_said
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from rowan.demo.sandreef import sandreef
from tests.core.designs import altered, plan_b


def keys(design: object, kind: str) -> list[tuple[str, str]]:
    return [(o.level, o.words.template.split()[0]) for o in objections(design, reckon(design), kind)]  # type: ignore[arg-type]


def test_water_outside_is_stopped_by_frost_and_hard_water_is_to_be_mended() -> None:
    assert keys(plan_b(), "direct") == [("stop", "Water")]
    assert keys(sandreef(), "direct") == []
    assert keys(altered(sandreef(), survey__hardness_mol_m3=3.6), "direct") == [("fix", "Hard")]
    assert keys(plan_b(), "sealed") == []
    assert ("fix", "The") in keys(plan_b(), "thermosiphon")


def test_a_drainback_wants_fall_a_lifting_pump_and_a_field_that_empties() -> None:
    assert keys(plan_b(), "drainback") != []
    tubes = altered(plan_b(), collector__item=COLLECTORS["Tube 15 direct"])
    assert ("stop", "this") in keys(tubes, "drainback")
    stopped = reckon(with_kind(tubes, "drainback"))
    assert any(f.key == "does_not_drain" and f.level == "stop" for f in stopped.findings)


def judged(design: object) -> list[Judgement]:
    found = []
    for kind in KINDS:
        one = with_kind(design, kind)  # type: ignore[arg-type]
        against = objections(design, reckon(design), kind)  # type: ignore[arg-type]
        found.append(Judgement(kind, against, simulate(one, reckon(one))))
    return found


def test_the_recommendation_follows_frost_and_heat() -> None:
    assert "sealed glycol" in recommendation(plan_b(), judged(plan_b())).text()
    assert "direct loop" in recommendation(sandreef(), judged(sandreef())).text()
    large = altered(corrim(), collector__count=30)
    found = judged(large)
    assert {j.kind: j for j in found}["sealed"].stands_hours > 50
    assert "drainback" in recommendation(large, found).text()
    assert "No kind" in recommendation(plan_b(), [Judgement("sealed", (), None)]).text()


def test_a_kind_brings_what_it_needs() -> None:
    drained, sealed = with_kind(plan_b(), "drainback"), with_kind(sandreef(), "sealed")
    assert not drained.run.non_return.value
    assert sealed.charge.share.value >= 0.25
    assert with_kind(plan_b(), "direct").control.frost.value
    fitted = altered(drained, run__non_return=True)
    assert any(f.key == "non_return_drainback" and f.level == "stop" for f in reckon(fitted).findings)
    assert all(f.key != "non_return_drainback" for f in reckon(drained).findings)


@pytest.mark.parametrize("name", COLLECTORS)
def test_a_candidate_keeps_about_the_aperture_and_its_price_goes_with_it(name: str) -> None:
    item = COLLECTORS[name]
    other = with_collector(plan_b(), item)
    assert other.area_m2 == pytest.approx(plan_b().area_m2, abs=item.aperture_m2 / 2 + 1e-9)
    extra = other.money.system_price.value - plan_b().money.system_price.value
    assert extra == pytest.approx(
        other.collector.count.value * item.price - 2 * COLLECTORS["Plate 2.3 selective"].price
    )
    assert other.run.flow_l_h.value == other.collector.count.value * item.flow_l_h


@given(count=st.integers(1, 20), litres=st.floats(80, 3000))
def test_other_sizes_keep_the_build(count: int, litres: float) -> None:
    other = with_sizes(plan_b(), count=count, contents_l=litres)
    here, there = plan_b().store.item.value, other.store.item.value
    assert there.coil_area_m2 / there.contents_l == pytest.approx(here.coil_area_m2 / here.contents_l, rel=0.06)
    assert other.run.flow_l_h.value / count == pytest.approx(plan_b().run.flow_l_h.value / 2)
    assert reckon(other).store.height == pytest.approx(reckon(plan_b()).store.height, rel=0.02)


FLAGS = {
    "unglazed_winter": {"collector__item": COLLECTORS["Mat unglazed"]},
    "seller_alone": {"collector__advice": "seller"},
    "no_support": {"collector__support": False},
}


@pytest.mark.parametrize("key", FLAGS)
def test_each_flag_is_raised_and_not_without_its_cause(key: str) -> None:
    assert any(f.key == key for f in reckon(altered(plan_b(), **FLAGS[key])).findings)
    assert all(f.key != key for f in reckon(plan_b()).findings)


def test_mirrors_want_beam_sun() -> None:
    trough = altered(plan_b(), collector__item=COLLECTORS["Trough 3"])
    normals = plan_b().survey.normals.value
    dull = normals.model_copy(update={"ghi_kwh_m2_day": [0.6 * g for g in normals.ghi_kwh_m2_day]})
    cloudy = reckon(altered(trough, survey__normals=dull))
    assert any(f.key == "little_beam" for f in cloudy.findings)
    assert all(
        f.key != "little_beam" for f in reckon(altered(sandreef(), collector__item=COLLECTORS["Trough 3"])).findings
    )


def test_tubes_are_flagged_in_a_hot_place_only_and_mats_over_a_hot_duty() -> None:
    tube = {"collector__item": COLLECTORS["Tube 15 direct"]}
    hot = altered(sandreef(), survey__roof_tilt_deg=28.0, **tube)
    warm = changed(hot, [Change("survey.normals", hot.survey.normals.value.model_copy(update={"air_c": [24.0] * 12}))])
    assert any(f.key == "tubes_hot_climate" for f in reckon(warm).findings)
    assert all(f.key != "tubes_hot_climate" for f in reckon(altered(plan_b(), **tube)).findings)
    # 37 °C of mean air and half of 7 K pass 40 in the afternoon: five such months, and a plate that is painted instead
    desert = altered(
        sandreef(), survey__normals=warm.survey.normals.value.model_copy(update={"air_c": [25.0] * 7 + [37.0] * 5})
    )
    told = next(f for f in reckon(desert).findings if f.key == "selective_hot_climate")
    assert "5 months" in told.reason.text()
    painted = altered(desert, collector__item=COLLECTORS["Plate 2.0 painted"])
    assert all(f.key != "selective_hot_climate" for f in (*reckon(painted).findings, *reckon(warm).findings))
    process = altered(plan_b(), duty__kind="process", collector__item=COLLECTORS["Mat unglazed"])
    assert any(f.key == "too_hot_for_kind" for f in reckon(process).findings)


def test_hygiene_by_a_backup_that_is_not_there_is_no_hygiene() -> None:
    bare = altered(plan_b(), store__backup="none")
    finding = next(f for f in reckon(bare).findings if f.key == "no_hygiene")
    assert all(f.key != "no_hygiene" for f in reckon(changed(bare, finding.cures[0].changes)).findings)
    assert all(f.key != "no_hygiene" for f in reckon(plan_b()).findings)


# modes


@pytest.mark.parametrize("arrangement", ["one", "two"])
@pytest.mark.parametrize("heater", ["boiler", ""])
def test_every_mode_but_maintenance_brings_water_and_no_heated_tank_loses_its_relief(
    arrangement: Arrangement, heater: str
) -> None:
    rows = mode_table(arrangement, heater=heater, relief_free=True)
    for row in rows:
        assert set(row.mode.valves) == set(VALVES[arrangement])
        assert row.unsafe == ()
        if row.mode.name != "maintenance":
            assert row.path[0] == MAIN
            assert row.path[-1] == TAP
    assert rows[-1].mode.heaters == {}


def test_a_relief_behind_a_valve_is_found_in_the_modes_that_shut_it() -> None:
    rows = {row.mode.name: row for row in mode_table("two", heater="boiler", relief_free=False)}
    assert rows["solar and heater"].unsafe == ()
    assert rows["heater alone"].unsafe == ()
    assert SOLAR not in rows["heater alone"].mode.heaters
    maintenance = mode_table("one", heater="boiler", relief_free=False)[-1]
    assert maintenance.relief[SOLAR] is False
    assert maintenance.unsafe == (), "nothing heats it meanwhile"
    assert rows["summer, second tank by-passed"].relief[SECOND] is False


def test_the_way_of_the_water_is_followed_not_stored() -> None:
    pipes = pipes_of("two")
    usual = {"1": True, "2": True, "3": False, "4": False, "5": True}
    assert way(pipes, usual, MAIN, TAP) == (MAIN, SOLAR, "between", SECOND, TAP)
    assert way(pipes, {**usual, "5": False}, MAIN, TAP) == ()
    assert way(pipes, {**usual, "4": True}, MAIN, TAP) == (MAIN, SOLAR, "between", TAP)
    assert way(pipes, {**usual, "1": False, "3": True}, MAIN, TAP) == (MAIN, SECOND, TAP)


# the band and the money


@given(values=st.lists(st.floats(1, 1e6), min_size=1, max_size=40))
def test_a_band_lies_inside_its_years(values: list[float]) -> None:
    found = band(values)
    assert min(values) <= found.low <= found.middle <= found.high <= max(values)


def test_a_band_of_twenty_is_linear_between_its_years() -> None:
    found = band([float(n) for n in range(1, 21)])
    assert (found.low, found.middle, found.high) == pytest.approx((2.9, 10.5, 18.1))
    with pytest.raises(ImpossibleInputError):
        band([])


def test_why_the_estimate_differs_names_what_the_plan_has() -> None:
    design = plan_b()
    result = reckon(design)
    year = simulate(design, result)
    words = why_estimate_differs(design, result.collector.year_heat, year).text()
    assert "backup keeps the upper store at 60" in words
    assert "lines lose" in words
    assert "agree" in why_estimate_differs(design, year.solar_heat, year).text()
    assert "no estimate" in why_estimate_differs(design, None, year).text()
    more = why_estimate_differs(design, 0.5 * year.solar_heat, year).text()
    assert "counts what is drawn" in more


@given(day=st.integers(0, 364))
def test_days_are_named_as_spoken(day: int) -> None:
    number, month = day_of_year_said(day).text().split()
    assert 1 <= int(number) <= 31
    assert month in [
        "January",
        "February",
        "March",
        "April",
        "May",
        "June",
        "July",
        "August",
        "September",
        "October",
        "November",
        "December",
    ]
    assert day_of_year_said(0).text() == "1 January"
    assert day_of_year_said(364).text() == "31 December"
    assert day_of_year_said(59).text() == "1 March"
