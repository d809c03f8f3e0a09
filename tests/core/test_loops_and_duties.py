"""Other loops and other duties through the year: each keeps its energy and behaves as its kind does."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import away_days, day_minutes
from rowan.core.goods.catalogue import COLLECTORS, STORES
from rowan.core.reckon import reckon
from rowan.core.simulation import kernel, siphon
from rowan.core.simulation.draws import draws_of, hour_shares, season_days, working_days
from rowan.core.simulation.from_design import absorber_of, siphon_of, system_of
from rowan.core.simulation.plant import record_of
from rowan.core.simulation.pool import surface_loss, surroundings
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.simulation.system import Around, Siphon
from rowan.core.simulation.year import Year, fresh_memory, run_year
from rowan.core.studies.choices import with_kind
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.constants import STEFAN_BOLTZMANN
from rowan.core.terms.errors import ImpossibleInputError, JobFileError, OutOfRangeError, TypedNumberError
from rowan.core.terms.units import KWH
from rowan.core.weather.hours import SunYear, Weather, plane_year
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_b
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from rowan.demo.tolliver import tolliver
from tests.core import reference_year
from tests.core.designs import altered, plan_b, proposed
from tests.core.test_year import case, parts

HOUSE = "maravel-8-gas"
KINDS = ("sealed", "drainback", "direct", "thermosiphon")


def year_of(design: Design) -> Year:
    return simulate(design, reckon(design))


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("backup", ["coil", "second", "none"])
def test_every_kind_of_loop_keeps_its_energy(kind: str, backup: str) -> None:
    year = year_of(altered(with_kind(plan_b(), kind), store__backup=backup))
    assert year.residual < 1e-9
    assert np.isfinite(year.daily).all()
    assert 0 < year.solar_fraction < 1
    assert year.solar_heat > 800 * KWH
    without_sun = year.total("demand") + year.kept_warm_loss + year.after.standing
    assert year.saved == pytest.approx(year.solar_fraction * without_sun)


@pytest.mark.parametrize(
    "design", [kvist_plan_b(), sandreef(), tolliver(), corrim(), pipwater()], ids=lambda design: design.title
)
def test_every_demo_job_has_a_year(design: Design) -> None:
    year = year_of(design)
    assert year.residual < 1e-3
    assert year.solar_heat > 100 * KWH
    assert 0.05 < year.solar_fraction < 1


def test_a_drained_field_loses_nothing_outdoors_and_stands_dry() -> None:
    sealed, drained = year_of(with_kind(plan_b(), "sealed")), year_of(with_kind(plan_b(), "drainback"))
    assert drained.solar_heat == pytest.approx(sealed.solar_heat, rel=0.12)
    system = system_of(
        with_kind(plan_b(), "drainback"), reckon(with_kind(plan_b(), "drainback")), sky_of(plan_b()).weather
    )
    assert system.drains
    assert 0 < system.field_liquid < system.field.area * system.field.capacity
    assert system.cold.outdoors[0] == 0, "the reservoir stands indoors"


def test_a_hot_dry_field_is_not_filled() -> None:
    # a store that is full on a bright day lets the field go dry and hot; it fills again only when it has cooled
    design = altered(with_kind(plan_b(), "drainback"), collector__count=8, control__cut_out_c=200.0)
    free = year_of(design)
    assert free.highest_collector > 120
    system = system_of(design, reckon(design), sky_of(design).weather)
    assert system.refill == 95.0


def test_frost_protection_costs_heat_and_keeps_the_field_from_freezing() -> None:
    bare = year_of(altered(plan_b(), charge__kind="direct", control__frost=False))
    kept = year_of(altered(plan_b(), charge__kind="direct", control__frost=True))
    assert bare.total("frost") == 0
    assert kept.total("frost") > 20 * KWH
    assert kept.solar_heat < bare.solar_heat
    south = year_of(altered(sandreef(), control__frost=True))
    assert south.total("frost") < kept.total("frost")


def test_a_thermosiphon_flows_by_itself_in_sun_and_rests_at_night() -> None:
    design = altered(sandreef(), charge__kind="thermosiphon")
    year = year_of(design)
    assert year.total("electric") == 0
    flows = year.hourly("flow").reshape(365, 24)
    assert flows[:, 11:14].mean() > 0.8, "it flows about noon"
    assert flows[:, 0:4].mean() < 0.1, "and hardly before dawn"
    assert year.highest_store > sandreef().store.maximum_c.value, "nothing limits it: a tempering valve is a must"


def test_a_higher_store_drives_a_stronger_flow() -> None:
    flows = []
    for above in (0.1, 0.6, 1.5):
        design = altered(with_kind(sandreef(), "thermosiphon"), store__above_field_m=above)
        found = reckon(design).run.buoyancy
        assert found is not None
        parts_of = siphon_of(found)
        assert parts_of.rises[0] + parts_of.rises[1] == pytest.approx(parts_of.rises[2] + parts_of.rises[3])
        plant = _plant(design)
        t = np.concatenate((np.full(5, 25.0), np.full(5, 55.0), np.full(5, 60.0), np.full(12, 25.0)))
        record = record_of(plant, kernel.Paces(60.0, 60.0, 60.0, 60.0))
        flows.append(siphon.siphon_flow(record, t, fresh_memory(15.0)))
    assert flows == sorted(flows)
    assert 0.005 < flows[0] < flows[2] < 1.0


def _plant(design: Design) -> kernel.Plant:
    from rowan.core.simulation.year import plant_of

    return plant_of(system_of(design, reckon(design), sky_of(design).weather), 45.0)


@given(t=st.floats(4, 95))
def test_water_expands_as_published(t: float) -> None:
    # Kell: 20 °C 998.20, 50 °C 988.04, 80 °C 971.79 kg/m³
    assert siphon.water_density(t + 1) < siphon.water_density(t)
    for temperature, density in ((20.0, 998.20), (50.0, 988.04), (80.0, 971.79)):
        assert siphon.water_density(temperature) == pytest.approx(density, abs=0.35)


def test_a_ring_that_does_not_close_is_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="where it began"):
        Siphon((1.0, 0.5, 0.2, 0.2), 10.0, 10.0)
    with pytest.raises(ImpossibleInputError, match="friction above zero"):
        Siphon((1.0, 0.5, 0.5, 1.0), 10.0, 0.0)


# what comes after the store


def test_a_second_tank_makes_up_what_lacks_and_loses_its_own() -> None:
    instant = year_of(altered(plan_b(), store__backup="instant"))
    second = year_of(altered(plan_b(), store__backup="second"))
    none = year_of(altered(plan_b(), store__backup="none"))
    assert instant.solar_heat == second.solar_heat == none.solar_heat, "what comes after does not touch the store"
    assert second.backup == pytest.approx(instant.backup + second.after.standing)
    assert none.backup == 0
    assert none.unmet_months.sum() == pytest.approx(instant.backup)
    assert instant.unmet_months.sum() == 0
    large = year_of(altered(plan_b(), store__backup="second", store__second_l=400.0))
    assert large.after.standing > second.after.standing


def test_backup_hours_after_the_sun_bring_more_sun() -> None:
    always = year_of(plan_b())
    evening = year_of(altered(plan_b(), store__backup_hours="16:30-22:00"))
    assert evening.solar_heat > always.solar_heat
    assert evening.total("backup") < always.total("backup")


# duties


def test_a_process_draws_in_its_hours_and_on_its_days() -> None:
    design = altered(
        proposed(HOUSE),
        duty__kind="process",
        duty__process_c=70.0,
        duty__process_return_c=50.0,
        duty__process_hours="6:00-12:00, 13-15",
        duty__days_a_week=5,
        store__backup="instant",
    )
    year = year_of(design)
    draws = draws_of(design, sky_of(design).weather)
    assert (draws.minute > 0).sum() == 8 * 60
    assert year.total("demand") == pytest.approx(10_000 * 8 * 3600 * working_days(design).sum(), rel=1e-6)
    assert working_days(design).sum() in (260, 261, 262)
    assert reckon(design).duty.year_heat == pytest.approx(year.total("demand"), rel=0.01)
    assert reckon(design).collector.year_heat is None


def test_heating_follows_the_cold() -> None:
    design = altered(corrim(), duty__kind="heating", charge__kind="sealed")
    year = year_of(design)
    need = year.months("demand") / KWH
    assert need[0] > 10 * max(need[6], 1.0)
    assert reckon(design).duty.year_heat == pytest.approx(year.total("demand"), rel=0.08)
    warmer = year_of(altered(design, duty__heat_below_c=10.0))
    assert warmer.total("demand") < year.total("demand")


def test_days_away_are_not_drawn_on() -> None:
    design = altered(plan_b(), duty__away="1-31 Jul, 24 Dec-2 Jan")
    days = working_days(design)
    assert days.sum() == 365 - 31 - 10
    year = year_of(design)
    assert year.months("demand")[6] == 0
    assert year.total("stagnation_time") >= year_of(plan_b()).total("stagnation_time")
    assert reckon(design).duty.year_heat == pytest.approx(year.total("demand"), rel=0.02)


@pytest.mark.parametrize(
    ("text", "spans"),
    [
        ("always", [(0, 1440)]),
        ("4:30-6:30", [(270, 390)]),
        ("22-2", [(1320, 1440), (0, 120)]),
        ("7:00-12:00, 13.30-24", [(420, 720), (810, 1440)]),
    ],
)
def test_hours_are_read_as_typed(text: str, spans: list[tuple[int, int]]) -> None:
    assert day_minutes(text) == spans
    assert hour_shares(text).sum() == sum(b - a for a, b in spans)


@pytest.mark.parametrize("text", ["", "morning", "25-26", "7:80-9", "6-6", "6:00", "4-5;6-7"])
def test_hours_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(TypedNumberError):
        day_minutes(text)
    with pytest.raises(JobFileError):
        altered(plan_b(), store__backup_hours=text)


@pytest.mark.parametrize(
    ("text", "days"),
    [("never", 0), ("14-27 Jul", 14), ("1 Jan-31 Dec", 365), ("24 Dec-2 Jan", 10), ("1-2 jan, 5-6 March", 4)],
)
def test_days_away_are_read_as_typed(text: str, days: int) -> None:
    assert sum(end - start for start, end in away_days(text)) == days


@pytest.mark.parametrize("text", ["", "July", "30-31 Feb", "1-2 Foo", "0-3 May", "5 May"])
def test_days_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(TypedNumberError):
        away_days(text)
    with pytest.raises(JobFileError):
        altered(plan_b(), duty__away=text)


def test_a_return_warmer_than_the_flow_is_refused() -> None:
    with pytest.raises(JobFileError, match="colder than the flow"):
        altered(plan_b(), duty__supply_return_c=50.0)


# pools


def test_a_pool_is_warmed_in_its_season_only() -> None:
    year = year_of(pipwater())
    heat, need = year.months("coil") / KWH, year.months("held") / KWH
    assert (heat[[0, 1, 2, 3, 9, 10, 11]] == 0).all()
    assert (need[[0, 1, 2, 3, 9, 10, 11]] == 0).all()
    assert (heat[4:9] > 0).all()
    alone = year_of(altered(pipwater(), collector__count=1))
    assert year.highest_store < alone.highest_store + 2, "its own sun overheats it, the pump stops before"
    assert year.total("demand") == 0
    uncovered = year_of(altered(pipwater(), duty__pool_cover=False))
    assert uncovered.total("held") > 1.5 * year.total("held"), "a cover is worth more than collectors"
    more = year_of(altered(pipwater(), collector__count=50))
    assert more.saved > year.saved


def test_a_season_may_go_over_the_turn_of_the_year() -> None:
    days = season_days(altered(pipwater(), duty__season_from="nov", duty__season_to="feb"))
    assert days.sum() == 30 + 31 + 31 + 28
    assert days[0] == days[364] == 1
    assert days[180] == 0


def test_open_water_loses_more_the_warmer_and_the_colder_the_air() -> None:
    air = np.array([5.0, 15.0, 25.0])
    loss, slope = surface_loss(water=26.0, air=air)
    assert (np.diff(loss) < 0).all()
    assert (slope > 10).all()
    assert (surface_loss(water=28.0, air=air)[0] > loss).all()
    # a plain garden pool at 26 °C in 18 °C air loses some 250 to 400 W/m², most of it by evaporation
    assert 200 < surface_loss(water=26.0, air=np.array([18.0]))[0][0] < 450


def test_a_pool_without_water_is_refused() -> None:
    weather = sky_of(pipwater()).weather
    with pytest.raises(OutOfRangeError):
        surroundings(area=0.0, held=26.0, cover=True, weather=weather, days=np.ones(365), whole_loss=1.0)


def test_a_pool_settles_where_its_losses_meet_its_sun() -> None:
    system, weather, plane, draws = parts()
    still = replace(draws, minute=np.zeros(1440))
    around = Around(np.full(HOURS, 30.0), np.full(HOURS, 4.0), np.ones(365))
    dark = replace(plane, beam=np.zeros(HOURS), diffuse=np.zeros(HOURS))
    year = run_year(
        system=replace(system, around=around, store_start=10.0), weather=weather, plane=dark, draws=still, trace=True
    )
    assert year.traced[-1, :12].mean() == pytest.approx(30.0, abs=0.2)


# collectors


def test_an_unglazed_absorber_loses_to_the_sky_by_day_and_night() -> None:
    _, weather, plane, _ = parts()
    mat = absorber_of(COLLECTORS["Mat unglazed"], area=2.0)
    got = mat.absorbed(plane, weather.air)
    night = plane.beam + plane.diffuse <= 0
    lost = mat.eta0 * mat.sky_loss * STEFAN_BOLTZMANN * (weather.air[night] + 273.15) ** 4
    assert got[night] == pytest.approx(-lost)
    assert 30 < lost.mean() < 90


def test_a_trough_follows_the_sun_and_sees_no_cloud() -> None:
    _, weather, plane, _ = parts()
    trough = absorber_of(COLLECTORS["Trough 3"], area=3.0)
    got = trough.absorbed(plane, weather.air)
    flat = trough.eta0 * plane.beam
    assert (got >= flat - 1e-9)[plane.normal > 0.06].all(), "turned, it never sees less beam than standing"
    assert got[plane.beam <= 0].max() == 0
    assert got.sum() > 1.1 * flat.sum()


def test_tubes_bring_their_tables() -> None:
    tube = absorber_of(COLLECTORS["Tube 20 heat pipe"], area=2.0)
    assert tube.angles[0] == 0
    assert tube.k_t[0] == tube.k_l[0] == 1.0
    assert max(tube.k_t) > 1.2


def test_an_open_store_has_no_coil_between() -> None:
    design = altered(corrim(), store__item=STORES["Open store 1500"])
    weather = sky_of(design).weather
    assert system_of(design, reckon(design), weather).return_node is not None
    closed = altered(design, store__item=STORES["Store 1000 single coil"])
    assert system_of(closed, reckon(closed), weather).return_node is None


# the other hemisphere


HALF = 182 * 24


@lru_cache
def mirrored(exact: bool) -> Year:
    """The reference place on the other side of the equator, its weather shifted by half a year."""
    g = case()
    system, weather, _, draws = parts()
    sun = reference_year.sun_at(57.2, -3.1, 85, 0.0)

    def roll(values: np.ndarray) -> np.ndarray:
        return np.roll(values, HALF)

    moved = Weather(*(roll(getattr(weather, name)) for name in ("ghi", "dni", "dhi", "air")))
    if exact:
        there = SunYear(roll(sun.elevation), (180 - roll(sun.azimuth)) % 360)
    else:
        there = reference_year.sun_at(-57.2, -3.1, 85, 0.0)
    field = g["collector"]
    plane = plane_year(
        weather=moved, sun=there, tilt=field["tilt_deg"], azimuth=(180 - field["azimuth_deg"]) % 360, sky="haydavies"
    )
    cold = replace(draws, cold=np.roll(draws.cold, HALF // 24))
    return run_year(system=system, weather=moved, plane=plane, draws=cold)


def by_day(year: Year) -> np.ndarray:
    return np.asarray(np.roll(year.daily[:, kernel.SUMS.index("coil")], -HALF // 24))


def test_the_mirrored_place_has_the_same_year_half_a_year_later() -> None:
    system, weather, _, draws = parts()
    here = run_year(system=system, weather=weather, plane=reference_year.plane_of(case()), draws=draws)
    there = mirrored(exact=False)
    assert there.solar_heat == pytest.approx(here.solar_heat, rel=0.005)
    days = here.daily[:, kernel.SUMS.index("coil")]
    for start in range(0, 360, 30):
        assert by_day(there)[start : start + 30].sum() == pytest.approx(
            days[start : start + 30].sum(), rel=0.03, abs=3 * KWH
        )


def test_with_an_exactly_mirrored_sun_the_years_are_equal() -> None:
    system, weather, _, draws = parts()
    here = run_year(system=system, weather=weather, plane=reference_year.plane_of(case()), draws=draws)
    there = mirrored(exact=True)
    # the day of the year moves the sun's distance, hence the sky about the sun, by a little; the turn of the year cuts elsewhere
    assert there.solar_heat == pytest.approx(here.solar_heat, rel=0.002)


@settings(max_examples=8, deadline=None)
@given(count=st.integers(1, 12), kind=st.sampled_from(KINDS))
def test_more_collectors_never_bring_less_heat_in_any_loop(count: int, kind: str) -> None:
    few = with_kind(altered(plan_b(), collector__count=count), kind)
    many = with_kind(altered(plan_b(), collector__count=count + 2), kind)
    years = []
    for design in (few, many):
        result = reckon(design)
        flow = 0.9e-5 * design.area_m2
        run = replace(result.run, flow=flow, mass_flow=flow * result.run.mass_flow / result.run.flow)
        years.append(simulate(design, replace(result, run=run)))
    assert years[1].solar_heat >= 0.995 * years[0].solar_heat
