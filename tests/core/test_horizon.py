"""The horizon: blocks and lines, what comes through, and what shade takes in the mean days and in the year."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed, inputs, locate
from rowan.core.design.design import Design
from rowan.core.design.inputs.sun import HorizonPoint, Obstacle
from rowan.core.design.lists import add_entry, remove_entry
from rowan.core.design.moves import handle_changes
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import plane_of, simulate, sky_of, sun_of
from rowan.core.terms.errors import JobFileError, OutOfRangeError
from rowan.core.terms.finding import Change
from rowan.core.weather.horizon import (
    OPEN_SKY,
    Horizon,
    Screen,
    hidden_sky,
    horizon_elevation,
    in_leaf,
    obstacle_block,
    passes,
    window_verdict,
)
from rowan.core.weather.hours import plane_year
from rowan.core.weather.sun import plane_grid, sun_path
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from rowan.demo.tolliver import tolliver
from tests.core.designs import plan_b

PROFILE = ((90.0, 4.0), (150.0, 12.0), (270.0, 22.0))


def bare(design: Design) -> Design:
    return changed(design, [Change("sun.horizon", []), Change("sun.obstacles", [])])


@given(bearing=st.floats(0, 360))
def test_the_horizon_is_a_closed_round_between_its_points(bearing: float) -> None:
    here = horizon_elevation(profile=PROFILE, azimuth=bearing)
    assert 4 <= here <= 22
    assert here == pytest.approx(horizon_elevation(profile=PROFILE, azimuth=bearing + 360), abs=1e-9)
    assert here == pytest.approx(horizon_elevation(profile=PROFILE[::-1], azimuth=bearing))


def test_the_horizon_goes_straight_through_north() -> None:
    # from 270° at 22 to 90° at 4: north lies in the middle of that way
    assert horizon_elevation(profile=PROFILE, azimuth=0) == pytest.approx(13.0)
    assert horizon_elevation(profile=(), azimuth=77) == 0
    assert horizon_elevation(profile=((200, 9),), azimuth=20) == 9


@given(
    bearing=st.floats(0, 360),
    distance=st.floats(0.5, 500),
    width=st.floats(0.1, 100),
    height=st.floats(0.1, 80),
)
def test_an_obstacle_hides_its_own_middle_and_nothing_behind_the_observer(
    bearing: float, distance: float, width: float, height: float
) -> None:
    block = obstacle_block(bearing=bearing, distance=distance, width=width, height=height)
    line = Horizon(screens=(Screen(block, 0.25, 0.75),))
    middle = np.array([bearing % 360])
    under, over = np.array([block.elevation * 0.5]), np.array([block.elevation + 0.5])
    for leaf, share in ((True, 0.25), (False, 0.75)):
        leaves = np.array([leaf])
        assert passes(line, bearing=middle, elevation=under, leaves=leaves)[0] == share
        assert passes(line, bearing=middle, elevation=over, leaves=leaves)[0] == 1
        assert passes(line, bearing=(middle + 180) % 360, elevation=under, leaves=leaves)[0] == 1
    assert (block.end - block.start) % 360 == pytest.approx(2 * math.degrees(math.atan(width / 2 / distance)), abs=1e-6)


@pytest.mark.parametrize(("distance", "width"), [(0.0, 1.0), (1.0, 0.0), (-2.0, 1.0)])
def test_an_obstacle_without_distance_or_width_is_refused(distance: float, width: float) -> None:
    with pytest.raises(OutOfRangeError):
        obstacle_block(bearing=0, distance=distance, width=width, height=1)


def test_two_trees_in_a_row_let_through_what_both_do() -> None:
    block = obstacle_block(bearing=180, distance=10, width=4, height=5)
    line = Horizon(screens=(Screen(block, 0.5, 0.8), Screen(block, 0.4, 0.5)))
    at = {"bearing": np.array([180.0]), "elevation": np.array([10.0])}
    assert passes(line, **at, leaves=np.array([True]))[0] == pytest.approx(0.2)
    assert passes(line, **at, leaves=np.array([False]))[0] == pytest.approx(0.4)


def test_leaves_follow_the_summer_of_their_side_of_the_equator() -> None:
    assert [m for m in range(12) if in_leaf(m, southern=False)] == [4, 5, 6, 7, 8, 9]
    assert [m for m in range(12) if in_leaf(m, southern=True)] == [0, 1, 2, 3, 10, 11]


@pytest.mark.parametrize(
    ("loss", "verdict"),
    [(0.0, "clean"), (0.0299, "clean"), (0.03, "acceptable"), (0.1, "poor"), (0.2, "no"), (1.0, "no")],
)
def test_the_verdict_turns_at_its_limits(loss: float, verdict: str) -> None:
    assert window_verdict(loss_share=loss) == verdict


@given(height=st.floats(0, 60))
def test_a_level_ring_hides_the_sky_a_flat_plane_sees_by_the_square_of_its_sine(height: float) -> None:
    ring = Horizon(profile=((0.0, height),))
    flat = hidden_sky(ring, tilt=np.array([0.0]), azimuth=np.array([180.0]))[0, 0]
    # patches of five degrees: the ring takes whole ones
    assert flat == pytest.approx(math.sin(math.radians(height)) ** 2, abs=0.05)
    wall = hidden_sky(ring, tilt=np.array([90.0]), azimuth=np.array([180.0]))[0, 0]
    assert wall >= flat - 1e-9


def test_a_higher_horizon_never_lets_more_through() -> None:
    losses = []
    for height in (0, 3, 6, 12, 20, 35):
        point = HorizonPoint(id="p1", bearing_deg=180, elevation_deg=height)
        result = reckon(changed(bare(plan_b()), [Change("sun.horizon", [point])]))
        losses.append(result.site.shading.year)
    assert losses == sorted(losses)
    assert losses[0] == 0
    assert losses[-1] > 0.3


def test_shade_lowers_what_the_roof_gets_and_what_the_year_brings() -> None:
    open_sky, dark = bare(tolliver()), tolliver()
    free, shaded = reckon(open_sky), reckon(dark)
    lost = 1 - shaded.site.plane_year / free.site.plane_year
    assert lost == pytest.approx(shaded.site.shading.year, rel=1e-9)
    assert shaded.site.shading.verdict == "no"
    years = simulate(open_sky, free), simulate(dark, shaded)
    assert years[1].solar_heat < 0.75 * years[0].solar_heat
    assert 1 - years[1].plane_kwh_m2 / years[0].plane_kwh_m2 == pytest.approx(lost, abs=0.05), (
        "mean days and hours of the year see the same trees"
    )


def test_without_a_horizon_nothing_changes() -> None:
    design = bare(plan_b())
    shade = reckon(design).site.shading
    assert shade.year == shade.window == 0
    assert (shade.window_months == 0).all()
    assert np.nanmax(shade.table) == 0
    assert reckon(design).site.horizon.open
    level = changed(design, [Change("sun.horizon", [HorizonPoint(id="p1", bearing_deg=10, elevation_deg=0)])])
    assert reckon(level).site.plane_year == reckon(design).site.plane_year


def test_the_verdict_is_a_finding_and_felling_the_trees_cures_it() -> None:
    result = reckon(tolliver())
    finding = next(f for f in result.findings if f.key == "shaded")
    assert finding.level == "stop"
    felled = reckon(changed(tolliver(), finding.cures[0].changes))
    assert all(f.key != "shaded" for f in felled.findings)
    hill = Obstacle(id="o9", kind="house", bearing_deg=180, distance_m=10, width_m=60, height_m=9)
    built = reckon(changed(plan_b(), [Change("sun.obstacles", [hill])]))
    assert not next(f for f in built.findings if f.key == "shaded").cures, "a house cannot be felled"


def test_a_winter_month_alone_is_worth_knowing() -> None:
    chimney = Obstacle(id="o1", kind="house", bearing_deg=180, distance_m=30, width_m=60, height_m=6.5)
    result = reckon(changed(bare(plan_b()), [Change("sun.obstacles", [chimney])]))
    assert result.site.shading.verdict in ("clean", "acceptable")
    assert result.site.shading.worst_month == 11
    assert any(f.key == "shaded_month" for f in result.findings)
    assert all(f.key != "shaded_month" for f in reckon(bare(plan_b())).findings)


def test_south_of_the_equator_the_north_counts() -> None:
    def loss(design: Design, bearing: float) -> float:
        wall = Obstacle(id="o1", kind="house", bearing_deg=bearing, distance_m=10, width_m=12, height_m=8)
        return reckon(changed(bare(design), [Change("sun.obstacles", [wall])])).site.shading.window

    assert loss(sandreef(), 0) > 5 * loss(sandreef(), 180)
    assert loss(pipwater(), 180) > 5 * loss(pipwater(), 0)


@given(latitude=st.floats(-65, 65), declination=st.floats(-23.45, 23.45))
def test_the_sun_stands_highest_at_noon_toward_the_equator(latitude: float, declination: float) -> None:
    path = sun_path(latitude=latitude, declination=declination)
    noon = path.hours.size // 2
    # compared by the sine: near the zenith the arc sine itself loses half its digits
    height = np.sin(np.radians(path.elevation[noon]))
    assert height == pytest.approx(np.cos(np.radians(latitude - declination)), abs=1e-12)
    assert path.elevation.max() == pytest.approx(path.elevation[noon], abs=1e-9)
    if abs(latitude - declination) > 1:
        assert path.bearing[noon] == pytest.approx(180.0 if latitude > declination else 0.0, abs=1e-4) or path.bearing[
            noon
        ] == pytest.approx(360.0, abs=1e-4)
    assert path.elevation[noon - 10] == pytest.approx(path.elevation[noon + 10], abs=1e-9)


def test_the_best_plane_leans_away_from_a_hill_to_the_west() -> None:
    ghi = tuple(3.6e6 * g for g in plan_b().survey.normals.value.ghi_kwh_m2_day)
    hill = Horizon(profile=((180, 0), (230, 30), (300, 30), (350, 0), (90, 0)))
    free, shaded = (plane_grid(latitude=57.2, ghi=ghi, horizon=s) for s in (OPEN_SKY, hill))
    assert (shaded.year <= free.year + 1e-6).all()
    best = [g.azimuths[np.unravel_index(g.year.argmax(), g.year.shape)[1]] for g in (free, shaded)]
    assert best[0] == 180
    assert best[1] < 180


# the list of what stands there


def test_entries_are_added_toward_the_roof_apart_from_each_other() -> None:
    design = bare(plan_b())
    for kind in ("tree", "tree", "chimney", "house", "horizon", "horizon"):
        change, words = add_entry(design, kind)
        assert "added" in words
        design = changed(design, [change])
    assert [o.id for o in design.sun.obstacles] == ["o1", "o2", "o3", "o4"]
    assert design.sun.obstacles[0].bearing_deg == plan_b().survey.roof_azimuth_deg.value
    bearings = [o.bearing_deg for o in design.sun.obstacles]
    assert all(abs((a - b + 180) % 360 - 180) >= 20 for i, a in enumerate(bearings) for b in bearings[:i])
    assert {o.origin for o in design.sun.obstacles} == {"assumed"}
    counted = [found.path for found in inputs(design) if found.path.startswith("sun.")]
    assert counted == [
        *(f"sun.horizon.{p}.elevation_deg" for p in ("p1", "p2")),
        *(f"sun.obstacles.{o}.height_m" for o in ("o1", "o2", "o3", "o4")),
    ]
    change, words = remove_entry(design, "sun.obstacles", "o2")
    assert words == "tree taken away"
    design = changed(design, [change])
    assert [o.id for o in design.sun.obstacles] == ["o1", "o3", "o4"]
    assert changed(design, [add_entry(design, "tree")[0]]).sun.obstacles[-1].id == "o2"


@pytest.mark.parametrize("kind", ["", "hill", "__class__"])
def test_only_what_there_is_can_be_added(kind: str) -> None:
    with pytest.raises(JobFileError):
        add_entry(plan_b(), kind)


@pytest.mark.parametrize(
    ("rows", "key"), [("sun.obstacles", "zz"), ("run.cold", "zz"), ("run.warm", "c1"), ("", ""), ("sun.horizon", "o1")]
)
def test_only_what_is_there_can_be_taken(rows: str, key: str) -> None:
    with pytest.raises(JobFileError):
        remove_entry(plan_b(), rows, key)


def test_an_id_stands_once_in_a_list() -> None:
    tree = Obstacle(id="o1", kind="tree", bearing_deg=1, distance_m=5, width_m=1, height_m=1)
    with pytest.raises(JobFileError, match="stands twice"):
        changed(plan_b(), [Change("sun.obstacles", [tree, tree])])


def test_what_is_dragged_in_the_sky_keeps_its_distance() -> None:
    design = plan_b()
    chimney = design.sun.obstacles[0]
    moved = changed(design, handle_changes(design, f"obstacle:{chimney.id}", 560.0, 20.0)).sun.obstacles[0]
    assert moved.bearing_deg == 200
    assert moved.distance_m == chimney.distance_m
    assert moved.height_m == pytest.approx(chimney.distance_m * math.tan(math.radians(20)), abs=0.01)
    point = changed(design, handle_changes(design, "horizon:p2", 95.0, 7.26)).sun.horizon[1]
    assert (point.bearing_deg, point.elevation_deg) == (95.0, 7.3)
    turned = changed(design, handle_changes(design, "plane:roof", 190.0, 35.0)).survey
    assert (turned.roof_azimuth_deg.value, turned.roof_tilt_deg.value) == (190.0, 35.0)
    assert locate(design, f"sun.obstacles.{chimney.id}.height_m").value == 1.3


@pytest.mark.parametrize("path", ["obstacle:zz", "horizon:o1", "obstacle:o1"])
def test_a_drag_to_nowhere_is_refused(path: str) -> None:
    with pytest.raises(JobFileError):
        handle_changes(plan_b(), path, float("nan") if path == "obstacle:o1" else 10.0, 5.0)
    with pytest.raises(JobFileError):
        handle_changes(plan_b(), path, 10.0)


def test_what_comes_through_the_horizon_is_the_same_asked_once_or_with_each_plane() -> None:
    design = corrim()
    sky, horizon = sky_of(design), reckon(design).site.horizon
    assert not horizon.open
    sun = sun_of(sky.place)
    alone = plane_year(weather=sky.weather, sun=sun, tilt=33.0, azimuth=171.0, horizon=horizon)
    kept = plane_of(sky, 33.0, 171.0, horizon)
    assert kept.beam == pytest.approx(alone.beam)
    assert kept.diffuse == pytest.approx(alone.diffuse)
