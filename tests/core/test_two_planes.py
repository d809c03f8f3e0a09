"""A field on two planes: a string of its own on each, by hand, by symmetry and against the one field it may also be."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from io import StringIO
from typing import Any

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.appraisal import appraised
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.roof import RoofObject, RoofPlane
from rowan.core.design.lists import add_entry, remove_entry
from rowan.core.design.moves import handle_changes
from rowan.core.design.planes import beside_part, first_part, in_whole, parts
from rowan.core.design.relevance import relevant
from rowan.core.reckon import Known, reckon
from rowan.core.records.roof_files import mark_rows, roof_dxf
from rowan.core.simulation import kernel
from rowan.core.simulation.from_design import beside_of
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_pair
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.system import Beside, System
from rowan.core.simulation.year import UNWATCHED, Year, feed_of, fresh_state, plant_of, run_year
from rowan.core.steps.parts.mounting import mounting_parts
from rowan.core.steps.roof.order import order_of_work
from rowan.core.steps.roof.stage import reckon_plane, reckon_roof
from rowan.core.terms.errors import ImpossibleInputError, JobFileError
from rowan.core.terms.finding import Change
from rowan.core.weather.sun import PlaneMonths, mean_months
from rowan.demo.kvist import kvist_plan_b
from tests.core.designs import altered
from tests.core.test_year import parts as reference

FREE = {"roof__field_x_m": None, "roof__field_y_m": None}


def two_planes(*, count: int = 4, first: float = 90.0, **plane: Any) -> Design:
    """The Kvist house with four collectors, some of them on a plane over the ridge."""
    there = {"azimuth_deg": 270.0, "pitch_deg": 40.0, "width_m": 8.4, "slope_m": 5.6, "count": 2} | plane
    design = altered(kvist_plan_b(), collector__count=count, survey__roof_azimuth_deg=first, **FREE)
    return changed(design, [Change("roof.planes", [RoofPlane(id="p1", **there)])])


def levels(design: Design) -> dict[str, str]:
    return {finding.key: finding.level for finding in reckon(design).findings}


# the string in the year


def in_halves(system: System, share: float = 0.5) -> System:
    area = system.field.area
    return replace(
        system,
        field=replace(system.field, area=area * (1 - share)),
        beside=Beside(area * share, share),
    )


@lru_cache
def whole_year() -> Year:
    system, weather, plane, draws = reference()
    return run_year(system=system, weather=weather, plane=plane, draws=draws)


@pytest.mark.parametrize("share", [0.5, 0.25])
def test_two_strings_on_one_plane_are_the_field_they_make_together(share: float) -> None:
    system, weather, plane, draws = reference()
    split = run_year(system=in_halves(system, share), weather=weather, plane=plane, beside=plane, draws=draws)
    for name in kernel.SUMS:
        assert split.total(name) == pytest.approx(whole_year().total(name), rel=1e-6, abs=1.0), name
    assert split.highest_collector == pytest.approx(whole_year().highest_collector, rel=1e-9)
    assert split.plane_kwh_m2 == pytest.approx(plane.total_kwh_m2)


@pytest.mark.parametrize("kind", ["sealed", "drainback", "direct"])
def test_which_string_is_named_first_does_not_matter(kind: str) -> None:
    system, weather, plane, draws = reference()
    if kind == "drainback":
        system = replace(system, drains=True, field_liquid=9000.0, refill=95.0)
    if kind == "direct":
        system = replace(system, return_node=3)
    dull = replace(plane, beam=plane.beam * 0.3)
    here = in_halves(system, 0.25)
    assert here.beside is not None
    there = replace(
        here, field=replace(here.field, area=here.beside.area), beside=Beside(here.field.area, 1 - here.beside.share)
    )
    a = run_year(system=here, weather=weather, plane=plane, beside=dull, draws=draws)
    b = run_year(system=there, weather=weather, plane=dull, beside=plane, draws=draws)
    assert a.residual < 1e-9
    for name in ("coil", "pump_time", "starts", "line_loss", "stagnation_time"):
        assert a.total(name) == pytest.approx(b.total(name), rel=2e-3, abs=2.0), name


def test_each_string_warms_by_its_own_sun_over_its_own_flow() -> None:
    """Without losses: area × sun over the string's part of the flow; what arrives is the mean by flow."""
    system, _, _, draws = reference()
    lossless = replace(system.field, area=3.0, a1=0.0, a2=0.0)
    lines = replace(system.cold, loss=np.zeros(system.cold.loss.size))
    loop = replace(
        system,
        field=lossless,
        beside=Beside(1.0, 0.4),
        cold=lines,
        hot=lines,
        pump_power=0.0,
        tank=replace(system.tank, volume=500.0, diameter=8.0),
        settings=replace(system.settings, start=0.2, stop=0.1, least_collector=-50.0, cut_out=1e6),
    )
    plant, state = plant_of(loop, draws.tap), fresh_state(loop)
    hours = np.ones(24)
    feed = feed_of(loop, draws, 400.0 * hours, 10.0 * hours, range(1), 700.0 * hours)
    watched = np.zeros((1440, len(kernel.WATCHED)), dtype=np.float32)
    kept = kernel.Kept(np.zeros((1, len(kernel.SUMS))), np.zeros(2), UNWATCHED, watched)
    kernel.run(plant, kernel.Paces(60.0, 60.0, 60.0, 60.0), state, feed, kept)
    rate = loop.flow * loop.heat_capacity
    first, beside = 3.0 * 400.0 / (0.6 * rate), 1.0 * 700.0 / (0.4 * rate)
    end = dict(zip(kernel.WATCHED, watched[-1], strict=True))
    inlet = float(state.cold[-1])
    assert end["exit"] - inlet == pytest.approx(max(first, beside), rel=2e-3), "the hotter exit is read"
    assert [state.field[4] - inlet, state.field[9] - inlet] == pytest.approx([first, beside], rel=2e-3)
    assert end["arrives"] - inlet == pytest.approx(0.6 * first + 0.4 * beside, rel=2e-3)


def test_the_pump_starts_by_the_string_that_has_the_sun() -> None:
    east = simulate(whole := two_planes(), reckon(whole))
    south_only = two_planes(count=4, first=90.0)
    one = changed(south_only, [Change("roof.planes.p1.count", 0)])
    east_only = simulate(one, reckon(one))
    hours = east.hourly("flow").reshape(365, 24)[120:240].sum(axis=0)
    alone = east_only.hourly("flow").reshape(365, 24)[120:240].sum(axis=0)
    assert hours[6:9].sum() > 0.5 * alone[6:9].sum(), "the east string starts it in the morning"
    assert hours[15:19].sum() > alone[15:19].sum(), "and the west one keeps it on in the evening"
    assert east.residual < 1e-9


def test_a_string_without_a_plane_is_refused_and_so_is_one_without_a_pump() -> None:
    system, weather, plane, draws = reference()
    with pytest.raises(ImpossibleInputError, match="two planes"):
        run_year(system=in_halves(system), weather=weather, plane=plane, draws=draws)
    with pytest.raises(ImpossibleInputError, match="two planes"):
        run_year(system=system, weather=weather, plane=plane, beside=plane, draws=draws)
    for area, share in ((0.0, 0.5), (1.0, 0.0), (1.0, 1.0)):
        with pytest.raises(ImpossibleInputError):
            Beside(area, share)


def test_the_flow_divides_by_equal_drop() -> None:
    def share(**values: Any) -> float:
        design = altered(two_planes(), **values)
        found = beside_of(design, reckon(design).run)
        assert found is not None
        return found.share

    assert share() == pytest.approx(0.5, abs=0.02)
    # one after the other: a string of one takes far more than its part, for the other has three to pass
    short = altered(two_planes(), collector__within="series")
    short = changed(short, [Change("roof.planes.p1.count", 1)])
    found = beside_of(short, reckon(short).run)
    assert found is not None
    assert found.share > 0.4
    assert found.area == pytest.approx(short.area_m2 / 4)


def test_a_day_under_the_lens_has_both_suns() -> None:
    design = two_planes()
    result = reckon(design)
    made = made_ready(design, result, Lens("clear", 171))
    assert made.feed.beside is not None
    morning, evening = made.feed.sun[: 12 * 60].sum(), made.feed.sun[12 * 60 :].sum()
    assert morning > 2 * evening
    assert made.feed.beside[12 * 60 :].sum() > 2 * made.feed.beside[: 12 * 60].sum()
    start, stop = usual_pair(result)
    assert race_day(made, start=start, stop=stop).total("coil") > 0


# the sun on both


def test_months_of_two_planes_are_their_mean_by_collectors() -> None:
    def months(beam: float, factor: float) -> PlaneMonths:
        twelve = np.ones(12)
        return PlaneMonths(beam * twelve, 0.5 * beam * twelve, factor * twelve, beam * np.ones((12, 4)))

    found = mean_months(planes=[months(10.0, 0.9), months(2.0, 0.6)], counts=[3, 1])
    assert found.beam[0] == pytest.approx(8.0)
    assert found.diffuse[0] == pytest.approx(4.0)
    # by what falls: (3/4·15·0.9 + 1/4·3·0.6) / 12
    assert found.incidence_factor[0] == pytest.approx((0.75 * 15 * 0.9 + 0.25 * 3 * 0.6) / 12)
    with pytest.raises(ImpossibleInputError):
        mean_months(planes=[months(1.0, 1.0)], counts=[])


@given(bearing=st.floats(0, 360), pitch=st.floats(5, 80))
def test_a_second_plane_like_the_first_moves_no_sun(bearing: float, pitch: float) -> None:
    design = two_planes(first=bearing, azimuth_deg=bearing, pitch_deg=pitch)
    design = altered(design, survey__roof_tilt_deg=pitch)
    alone = changed(design, [Change("roof.planes.p1.count", 0)])
    assert reckon(design).site.months.year == pytest.approx(reckon(alone).site.months.year, rel=1e-9)


def test_a_plane_that_faces_away_is_told_and_cured() -> None:
    design = two_planes(first=170.0, azimuth_deg=350.0)
    found = next(f for f in reckon(design).findings if f.key == "other_faces_away")
    assert found.level == "fix"
    for cure in found.cures:
        assert "other_faces_away" not in levels(changed(design, cure.changes))
    assert "other_faces_away" not in levels(two_planes())
    both = two_planes(first=350.0, azimuth_deg=340.0)
    assert {"faces_away", "other_faces_away"} <= set(levels(both))


# what lies where


def test_the_parts_are_the_whole() -> None:
    design = two_planes(count=5, rows="1")
    first, beside = parts(design)
    assert (first.collector.count.value, beside.collector.count.value) == (3, 2)
    assert design.row_counts == (3, 2)
    assert (beside.tilt_deg, beside.survey.roof_azimuth_deg.value) == (40.0, 270.0)
    assert beside.survey.roof_azimuth_deg.origin == design.survey.roof_azimuth_deg.origin
    roof = reckon_roof(design)
    assert roof.beside is not None
    assert [len(plane.collectors) for plane in roof.planes] == [3, 2]
    # the same rules: a part reckoned for itself has the same feet
    assert roof.feet == reckon_plane(first).feet
    assert roof.beside.feet == reckon_plane(beside).feet
    assert beside_part(kvist_plan_b()) is None
    assert first_part(kvist_plan_b()) == kvist_plan_b()


@given(count=st.integers(1, 20), there=st.integers(0, 30))
def test_no_collector_is_lost_between_planes(count: int, there: int) -> None:
    design = two_planes(count=count)
    design = changed(design, [Change("roof.planes.p1.count", there)])
    assert sum(design.row_counts) == count
    assert sum(part.collector.count.value for part in parts(design)) == count
    assert design.count_first >= 1


def test_things_stand_on_their_own_plane() -> None:
    design = two_planes()
    window = RoofObject(id="w", kind="window", x_m=3.0, y_m=1.0, width_m=2.5, height_m=3.0, plane="p1")
    design = changed(design, [Change("roof.objects", [*design.roof.objects, window])])
    roof = reckon_roof(design)
    assert roof.beside is not None
    assert len(roof.objects) == len(design.roof.objects) - 1
    assert len(roof.beside.objects) == 1
    moved = changed(design, [Change("roof.planes.p1.field_x_m", 3.2), Change("roof.planes.p1.field_y_m", 1.5)])
    assert levels(moved)["on_object_w_beside"] == "stop"
    found = next(f for f in reckon(moved).findings if f.key == "on_object_w_beside")
    assert found.title.text().startswith("other plane: ")
    for cure in found.cures:
        assert "on_object_w_beside" not in levels(changed(moved, cure.changes))
    with pytest.raises(JobFileError, match="take that away first"):
        remove_entry(design, "roof.planes", "p1")


def test_a_field_too_wide_goes_to_two_planes_where_another_is_known() -> None:
    design = two_planes(count=12, slope_m=3.0)
    design = altered(changed(design, [Change("roof.planes.p1.count", 0)]), survey__roof_slope_m=3.0)
    found = next(f for f in reckon(design).findings if f.key == "field_off_roof")
    laid = [cure for cure in found.cures if cure.changes[0].path == "roof.planes.p1.count"]
    assert len(laid) == 1
    after = changed(design, laid[0].changes)
    assert "field_off_roof" not in levels(after)
    assert sum(after.row_counts) == 12


def test_what_a_part_says_is_a_change_of_the_whole() -> None:
    design = two_planes()
    plane = design.plane_beside
    changes = [Change("roof.field_x_m", 1.0), Change("collector.count", 1), Change("roof.rails", 3)]
    assert [c.path for c in in_whole(design, changes, plane)] == [
        "roof.planes.p1.field_x_m", "roof.planes.p1.count", "roof.rails",
    ]  # fmt: skip
    assert in_whole(design, [Change("collector.count", 1)], None)[0].value == 3, "the other plane's two stay"


def test_marks_of_both_planes_are_in_every_file() -> None:
    roof = reckon_roof(two_planes(count=5))
    assert roof.beside is not None
    rows = list(mark_rows(roof))
    assert [row[0] for row in rows].count("2") == len(roof.beside.feet)
    read = ezdxf.read(StringIO(roof_dxf(roof)))  # type: ignore[attr-defined]
    xs = sorted(p.dxf.location.x for p in read.modelspace().query("POINT"))
    assert len(xs) == len(roof.feet) + len(roof.beside.feet)
    assert xs[-1] > roof.plane.width, "the other plane stands beside the first"
    other = sorted(x for x in xs if x > roof.plane.width)
    apart = other[0] - min(foot.x for foot in roof.beside.feet)
    assert other == pytest.approx(sorted(foot.x + apart for foot in roof.beside.feet), abs=1e-3)


def test_parts_and_work_count_both_planes() -> None:
    design = two_planes(count=5)
    roof = reckon_roof(design)
    feet = next(part for part in mounting_parts(design, roof) if part.key == "feet")
    assert feet.quantity.value == sum(len(plane.feet) for plane in roof.planes)
    tasks = [task.key for task in order_of_work(design, roof)]
    assert [key for key in tasks if key.startswith("collector-")] == [f"collector-{n}" for n in range(1, 6)]
    assert {"diagonals", "diagonals-2"} <= set(tasks)
    boots = next(part for part in reckon(design).parts.parts if part.key == "boot_hot")
    assert boots.quantity.value == 2


def test_figures_of_either_plane_are_its_own() -> None:
    design = two_planes(count=5)
    figures, roof = reckon(design).figures, reckon_roof(design)
    assert roof.beside is not None
    assert roof.hardest is not None
    assert roof.beside.hardest is not None
    assert figures["roof_feet"].value == len(roof.feet)
    assert figures["roof_feet_beside"].value == len(roof.beside.feet)
    assert figures["foot_pull_beside"].value == pytest.approx(roof.beside.hardest.up)
    assert figures["foot_pull"].name == "Hardest pulled foot, first plane"
    assert figures["foot_pull_beside"].name == "Hardest pulled foot, other plane"


@pytest.mark.parametrize(
    ("count", "there", "told"), [(4, 4, True), (4, 9, True), (4, 3, False), (1, 1, True), (4, 0, False)]
)
def test_more_than_the_field_can_give_the_other_plane_is_told_and_cured(count: int, there: int, told: bool) -> None:
    """What is reckoned is not what was typed: silence would leave two answers."""
    design = changed(two_planes(count=count), [Change("roof.planes.p1.count", there)])
    found = [finding for finding in reckon(design).findings if finding.key == "more_beside_than_there_are"]
    assert bool(found) is told
    for finding in found:
        assert f"with {count - 1} there" in finding.reason.text()
        cured = reckon(changed(design, finding.cures[0].changes))
        assert "more_beside_than_there_are" not in {one.key for one in cured.findings}


def test_rows_that_do_not_add_up_are_told_on_their_plane() -> None:
    design = two_planes(count=5, rows="1 + 2")
    found = next(f for f in reckon(design).findings if f.key == "rows_beside_do_not_add_up")
    assert found.cures[0].changes[0].path == "roof.planes.p1.rows"
    assert "rows_beside_do_not_add_up" not in levels(changed(design, found.cures[0].changes))


@pytest.mark.parametrize(
    "change",
    [
        Change("roof.planes.p1.azimuth_deg", 200.0),
        Change("roof.planes.p1.count", 1),
        Change("roof.planes.p1.width_m", 3.0),
        Change("roof.way", "ground"),
        Change("collector.count", 7),
    ],
)
def test_what_is_taken_over_is_what_a_fresh_reckoning_gives(change: Change) -> None:
    before = two_planes(count=6)
    after = changed(before, [change])
    kept, fresh = reckon(after, Known(before, reckon(before))), reckon(after)
    assert kept.figures == fresh.figures
    assert [f.key for f in kept.findings] == [f.key for f in fresh.findings]


def test_planes_are_added_turned_and_taken_away() -> None:
    design = kvist_plan_b()
    change, words = add_entry(design, "plane")
    assert words == "a plane of the roof added"
    more = changed(design, [change])
    plane = more.roof.planes[0]
    assert plane.azimuth_deg == pytest.approx((design.survey.roof_azimuth_deg.value + 180) % 360)
    assert plane.count == 0
    assert reckon(more).figures == reckon(design).figures, "a plane without collectors moves nothing"
    turned = changed(more, handle_changes(more, f"plane:{plane.id}", 255.0, 33.0))
    assert (turned.roof.planes[0].azimuth_deg, turned.roof.planes[0].pitch_deg) == (255.0, 33.0)
    moved = changed(more, handle_changes(more, f"field:{plane.id}", 1.0, 0.5))
    assert (moved.roof.planes[0].field_x_m, moved.roof.planes[0].field_y_m) == (1.0, 0.5)
    hip = changed(more, [add_entry(more, f"roof-hip:{plane.id}")[0]])
    assert hip.roof.objects[-1].plane == plane.id
    assert remove_entry(more, "roof.planes", plane.id)[1] == "a plane taken away"
    for path in ("plane:zz", "field:zz"):
        with pytest.raises(JobFileError, match="no longer there"):
            handle_changes(more, path, 1.0, 1.0)
    with pytest.raises(JobFileError, match="no longer there"):
        add_entry(more, "roof-hip:zz")


def test_a_job_file_that_cannot_be_is_refused_in_words() -> None:
    planes = [RoofPlane(id=key, azimuth_deg=90, pitch_deg=30, width_m=5, slope_m=5, count=1) for key in ("a", "b")]
    with pytest.raises(JobFileError, match="two planes at most"):
        changed(kvist_plan_b(), [Change("roof.planes", planes)])
    with pytest.raises(JobFileError, match="twice"):
        changed(kvist_plan_b(), [Change("roof.planes", [planes[0], planes[0]])])
    lost = RoofObject(id="x", kind="vent", x_m=1, y_m=1, width_m=0.1, height_m=0.1, plane="q")
    with pytest.raises(JobFileError, match="no longer there"):
        changed(kvist_plan_b(), [Change("roof.objects", [lost])])
    with pytest.raises(JobFileError, match="list of rows"):
        changed(two_planes(), [Change("roof.planes.p1.rows", "many")])


def test_a_loop_without_a_pump_says_that_it_has_one_string() -> None:
    design = altered(two_planes(), charge__kind="thermosiphon")
    judged = appraised(design, reckon(design))
    assert judged is not None
    assert levels(design)["two_strings_unpumped"] == "stop"


def test_rows_are_asked_about_where_a_plane_has_more_than_one() -> None:
    one_each = two_planes(count=4, first=90.0, rows="1")
    two_beside = changed(one_each, [Change("roof.planes.p1.rows", "2")])
    assert not relevant(one_each, "roof.row_gap_m")
    assert relevant(two_beside, "roof.row_gap_m")
