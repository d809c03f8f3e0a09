"""Hips, shade on the roof, built-in and sawtooth fields, holes that the route follows: by geometry, by property and by cure."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.roof import RoofObject
from rowan.core.design.lists import add_entry
from rowan.core.design.moves import handle_changes
from rowan.core.goods.fixings import BUILT_IN_FROM_DEG, FIXINGS, fixings_for, usual_fixing
from rowan.core.reckon import Known, reckon
from rowan.core.steps.parts.counting import scaffold_days
from rowan.core.steps.parts.mounting import pack_words
from rowan.core.steps.roof.findings import LIFE_A
from rowan.core.steps.roof.holes import connections, line_ends, usual_hole
from rowan.core.steps.roof.loads import LIFT
from rowan.core.steps.roof.order import order_of_work
from rowan.core.steps.roof.place import fixing_of, placed
from rowan.core.steps.roof.result import Box, Cut
from rowan.core.steps.roof.rocking import pulls
from rowan.core.steps.roof.shade import HOURS, shade_below, shade_strip, sun_on_plane
from rowan.core.steps.roof.stage import reckon_roof, zone_of
from rowan.core.steps.run.route import follow_field, linked_leg, profile
from rowan.core.steps.site.rows import row_pitch, rows_behind
from rowan.core.terms.errors import JobFileError, RowanError
from rowan.core.terms.finding import Change
from rowan.core.weather.rows import Rows
from rowan.core.weather.sun import noon_heights
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_b
from tests.core.designs import altered

FREE = {"roof__field_x_m": None, "roof__field_y_m": None}


def kvist(**values: Any) -> Design:
    return altered(kvist_plan_b(), **values)


def with_thing(**values: Any) -> Design:
    thing = {"id": "t", "kind": "chimney", "x_m": 4.0, "y_m": 2.0, "width_m": 0.7, "height_m": 0.7} | values
    return changed(kvist(**FREE), [Change("roof.objects", [RoofObject(**thing)])])


def levels(design: Design) -> dict[str, str]:
    return {finding.key: finding.level for finding in reckon_roof(design).findings}


def assert_cured(design: Design, key: str) -> None:
    found = next(f for f in reckon_roof(design).findings if f.key == key)
    assert found.cures, key
    for cure in found.cures:
        assert key not in levels(changed(design, cure.changes)), cure.label.text()


# hips and valleys


def test_a_hip_cuts_the_corner_beyond_its_line() -> None:
    hip = Cut(0.0, 0.0, 2.0, 4.0, left=True, upper=True)
    assert hip.edge == ((0.0, 0.0), (2.0, 4.0))
    assert hip.meets(Box(0.2, 3.0, 0.5, 0.5)), "well beyond the hip"
    assert not hip.meets(Box(1.2, 0.0, 2.0, 2.0)), "under its line"
    assert not hip.meets(Box(1.0, 0.0, 1.0, 2.0)), "touching it"
    assert hip.meets(Box(0.99, 0.0, 1.0, 2.1))
    valley = Cut(6.0, 0.0, 2.0, 4.0, left=False, upper=False)
    assert valley.edge == ((6.0, 0.0), (8.0, 4.0))
    assert valley.meets(Box(7.5, 0.0, 1.0, 0.5))
    assert not valley.meets(Box(6.0, 2.5, 1.0, 1.0))


@given(
    x=st.floats(0, 6), y=st.floats(0, 4), w=st.floats(0.1, 3), h=st.floats(0.1, 3), left=st.booleans(), up=st.booleans()
)
def test_a_corner_is_cut_as_points_say(x: float, y: float, w: float, h: float, left: bool, up: bool) -> None:
    cut, row = Cut(1.0, 0.5, 3.0, 2.0, left=left, upper=up), Box(x, y, w, h)
    (ax, ay), (bx, by) = cut.edge
    cx, cy = cut.corners[2]

    def beyond(px: float, py: float) -> float:
        """On which side of the edge a place lies, positive toward the corner cut off."""
        side = (bx - ax) * (py - ay) - (by - ay) * (px - ax)
        return side * math.copysign(1.0, (bx - ax) * (cy - ay) - (by - ay) * (cx - ax))

    shared = row.shared(Box(cut.x, cut.y, cut.width, cut.height))
    deepest = -1.0 if shared is None else max(beyond(px, py) for px, py in shared.corners)
    assume(abs(deepest) > 1e-6)
    assert cut.meets(row) == (deepest > 0)


def test_a_field_keeps_clear_of_a_hip_and_its_feet_are_in_its_edge_zone() -> None:
    hip = {"kind": "hip", "x_m": 0.0, "y_m": 0.0, "width_m": 4.0, "height_m": 5.6}
    free = with_thing(**hip)
    thing = reckon_roof(free).objects[0]
    assert not any(thing.meets(row) for row in reckon_roof(free).rows)
    over = altered(free, roof__field_x_m=1.0, roof__field_y_m=2.5)
    assert levels(over)["on_object_t"] == "stop"
    assert_cured(over, "on_object_t")
    plane, cut = Box(0, 0, 8.4, 5.6), Cut(0, 0, 4.0, 5.6)
    assert zone_of(plane, 0.9, 3.0, 3.0, (cut,)) == "edge"
    assert zone_of(plane, 0.9, 6.0, 3.0, (cut,)) == "field"
    assert zone_of(plane, 0.9, 3.0, 3.0, (Cut(0, 0, 4.0, 5.6, upper=False),)) == "field", "a valley is sheltered"
    assert zone_of(plane, 0.9, 0.4, 0.5, (cut,)) == "corner"


def test_a_mirrored_roof_with_a_hip_has_its_field_mirrored() -> None:
    design = with_thing(kind="hip", x_m=0.0, y_m=0.0, width_m=3.0, height_m=5.6)
    # mirrored, rafters too: 8.4 m less their last one's place
    other = with_thing(kind="hip", x_m=5.4, y_m=0.0, width_m=3.0, height_m=5.6)
    a, b = reckon_roof(design).objects[0], reckon_roof(other).objects[0]
    assert isinstance(a, Cut)
    assert isinstance(b, Cut)
    assert (a.left, b.left) == (True, False)
    assert [round(8.4 - x, 6) for x, _ in a.corners] == [round(x, 6) for x, _ in b.corners]


# shade on the roof


@given(latitude=st.floats(-60, 60), pitch=st.floats(0, 90), azimuth=st.floats(0, 360), hour=st.floats(6, 18))
def test_the_sun_in_a_roof_s_axes_is_a_direction(latitude: float, pitch: float, azimuth: float, hour: float) -> None:
    along, up, out = sun_on_plane(latitude=latitude, pitch=pitch, azimuth=azimuth, hour=hour)
    assert math.hypot(along, up, out) == pytest.approx(1.0)


def test_the_shade_falls_where_somebody_before_the_roof_sees_it() -> None:
    # a flat roof in the north: at noon the shade points north, up the plane of one who looks north
    along, up, out = sun_on_plane(latitude=50, pitch=0, azimuth=180, hour=12)
    assert along == pytest.approx(0.0, abs=1e-9)
    assert (up < 0, out) == (True, pytest.approx(math.cos(math.radians(50))))
    # in the morning the sun stands in the east: on the right of one who looks north
    assert sun_on_plane(latitude=50, pitch=30, azimuth=180, hour=9)[0] > 0
    # south of the equator the roof looks north, and its viewer south: the morning sun stands on the left
    assert sun_on_plane(latitude=-30, pitch=30, azimuth=0, hour=9)[0] < 0
    # a roof pitched as the latitude meets the noon sun squarely
    assert sun_on_plane(latitude=40, pitch=40, azimuth=180, hour=12)[2] == pytest.approx(1.0)


def test_a_strip_by_hand() -> None:
    thing = Box(3.0, 3.0, 0.5, 0.5)
    found = shade_strip(thing, stands=1.0, latitude=45.0, pitch=0.0, azimuth=180.0)
    assert found is not None
    # at nine the sun is 30° high by sin = cos 45 · cos 45: 1.41 m east or west, 1.0 m north all day
    assert (found.x, found.right) == (pytest.approx(3.0 - math.sqrt(2)), pytest.approx(3.5 + math.sqrt(2)))
    assert (found.y, found.top) == (pytest.approx(3.0), pytest.approx(4.5))
    assert shade_strip(thing, stands=1.0, latitude=60.0, pitch=89.0, azimuth=0.0) is None, "the sun is behind it"


def test_a_collector_hung_out_shades_the_wall_as_far_down_as_the_sun_is_high() -> None:
    # it stands 1.0 m off; at 45° the shade falls as far, at 60° √3 as far
    assert shade_below(length=2.0, tilt=60.0, noon=45.0) == pytest.approx(1.0)
    assert shade_below(length=2.0, tilt=60.0, noon=60.0) == pytest.approx(math.sqrt(3))
    assert shade_below(length=2.0, tilt=90.0, noon=60.0) == pytest.approx(0.0, abs=1e-9), "flat on the wall"
    with pytest.raises(RowanError):
        shade_below(length=-1.0, tilt=60.0, noon=45.0)


@given(pitch=st.floats(0, 60), turned=st.floats(0, 60), stands=st.floats(0.3, 3))
def test_strips_are_mirrored_with_the_roof_and_grow_with_height(pitch: float, turned: float, stands: float) -> None:
    thing, middle = Box(4.0, 2.0, 0.4, 0.4), 4.2

    def strip(azimuth: float, tall: float) -> Box:
        found = shade_strip(thing, stands=tall, latitude=50.0, pitch=pitch, azimuth=azimuth)
        assert found is not None
        return found

    here, there = strip(180 + turned, stands), strip(180 - turned, stands)
    assert middle - here.x == pytest.approx(there.right - middle)
    taller = strip(180 + turned, 2 * stands)
    assert thing.within(here)
    assert here.within(taller)
    assert len(HOURS) == 5


def test_the_field_is_put_in_the_sun_and_told_where_it_is_not() -> None:
    design = with_thing(x_m=5.4, y_m=1.0, width_m=0.8, height_m=0.8, stands_m=2.5)
    roof = reckon_roof(design)
    strip = roof.strips[0]
    assert strip is not None
    assert not any(strip.meets(row) for row in roof.rows), "it keeps clear by itself"
    shaded = altered(design, roof__field_x_m=round(strip.x + 0.1, 2) - 2.37, roof__field_y_m=2.6)
    assert levels(shaded) == levels(shaded) | {"in_shade_t": "mind"}
    found = next(f for f in reckon_roof(shaded).findings if f.key == "in_shade_t")
    assert "collector 2 lies in the chimney's shade" in found.title.text()
    assert_cured(shaded, "in_shade_t")
    low = changed(shaded, [Change("roof.objects.t.stands_m", 0.2)])
    assert "in_shade_t" not in levels(low)
    assert reckon_roof(low).strips == (None,)


# rows up a slope


@given(
    tilt=st.floats(20, 85),
    ground=st.floats(0, 40),
    latitude=st.floats(-60, 60),
    azimuth=st.floats(0, 360),
)
def test_rows_by_the_rule_touch_the_next_one_s_foot_with_their_shadow(
    tilt: float, ground: float, latitude: float, azimuth: float
) -> None:
    assume(tilt > ground + 2)
    rule = row_pitch(slope_length=2.0, tilt=tilt, latitude=latitude, azimuth=azimuth, ground=ground)
    toward = math.cos(math.radians(rule.sun_bearing - azimuth))
    assume(toward > 0.05)
    height = math.radians(max(rule.sun_height, 8.0))
    # level and up, in the plane across the rows: the top of the first, and the foot of the next up the slope
    top = (2 * math.cos(math.radians(tilt)), 2 * math.sin(math.radians(tilt)))
    foot = (rule.pitch * math.cos(math.radians(ground)), rule.pitch * math.sin(math.radians(ground)))
    falls = top[1] - (foot[0] - top[0]) * math.tan(height) / toward
    assume(math.degrees(math.atan2(math.tan(height), toward)) + ground < 89)
    assert falls == pytest.approx(foot[1], abs=1e-6)


def test_rows_on_level_ground_are_the_rule_s_own_case() -> None:
    level = row_pitch(slope_length=2.0, tilt=50, latitude=45, azimuth=180)
    up = row_pitch(slope_length=2.0, tilt=50, latitude=45, azimuth=180, ground=20)
    assert up.pitch < level.pitch, "on a slope toward the sun rows may stand closer"
    assert row_pitch(slope_length=2.0, tilt=20, latitude=45, azimuth=180, ground=20).pitch == pytest.approx(2.0)


@given(tilt=st.floats(25, 80), ground=st.floats(0, 35), apart=st.floats(1.2, 4), high=st.floats(5, 80))
def test_shade_of_rows_up_a_slope_is_that_of_lines_on_paper(
    tilt: float, ground: float, apart: float, high: float
) -> None:
    assume(tilt > ground + 3)
    rows = Rows(2, 1.0, apart, tilt, 180.0, ground)
    lit = float(rows.lit(zenith=np.array([90 - high]), bearing=np.array([180.0]))[0])
    b, g, a = math.radians(tilt), math.radians(ground), math.radians(high)
    # across the sun's rays: how high the first row's top and the second one's ends lie
    rise = math.tan(a)

    def over(x: float, y: float) -> float:
        """How far a place lies over the ray through the first row's foot."""
        return y + x * rise

    top = over(math.cos(b), math.sin(b))
    foot = over(apart * math.cos(g), apart * math.sin(g))
    end = over(apart * math.cos(g) + math.cos(b), apart * math.sin(g) + math.sin(b))
    covered = min(max((top - foot) / (end - foot), 0.0), 1.0)
    assert lit == pytest.approx(1 - covered / 2, abs=1e-6)


def test_a_row_up_a_slope_leans_only_by_what_it_is_steeper() -> None:
    design = altered(corrim(), roof__way="sawtooth", roof__tilt_deg=55.0, survey__roof_tilt_deg=20.0, **FREE)
    roof, rails = reckon_roof(design), reckon_roof(design).rails
    apart = (rails[1].y - rails[0].y) / math.cos(math.radians(35))
    length = design.collector.item.value.slope_length_m
    places = [(length - apart) / 2, (length + apart) / 2]
    wanted = pulls(tilt=35.0, length=length, edge=0.15, rails=places)
    assert [rail.wind for rail in rails[:2]] == pytest.approx(list(wanted))
    assert rows_behind(design) is not None
    assert roof.rows[0].height == pytest.approx(length * math.cos(math.radians(35)))
    assert LIFT["sawtooth"] == LIFT["rack"]
    # the same field on a level roof stands farther apart
    flat = altered(design, survey__roof_tilt_deg=0.0)
    assert roof.rows[1].y - roof.rows[0].y < reckon_roof(flat).rows[1].y - reckon_roof(flat).rows[0].y


# built in


@pytest.mark.parametrize("covering", list(BUILT_IN_FROM_DEG))
def test_nothing_is_built_into_a_roof_too_flat_for_its_covering(covering: str) -> None:
    least = BUILT_IN_FROM_DEG[covering]  # type: ignore[index]
    flat = kvist(survey__covering=covering, roof__way="integrated", survey__roof_tilt_deg=(least or 30.0) - 1.0)
    assert levels(flat)["built_in_flat"] == "stop"
    assert_cured(flat, "built_in_flat")
    steep = altered(flat, survey__roof_tilt_deg=least or 60.0)
    assert ("built_in_flat" in levels(steep)) == (least is None)


def test_a_built_in_field_has_the_roof_s_pitch_its_own_brackets_and_saves_covering() -> None:
    design = kvist(roof__way="integrated", roof__tilt_deg=70.0)
    assert design.tilt_deg == 40.0
    assert usual_fixing("slate", way="integrated") == "frame"
    roof, figures = reckon_roof(design), reckon(design).figures
    assert roof.fixing is FIXINGS["frame"]
    assert roof.verdict == "usual"
    assert figures["covering_saved"].value == 0.0
    anew = reckon(altered(design, roof__new_covering=True)).figures
    assert anew["covering_saved"].value == pytest.approx(roof.rows[0].width * roof.rows[0].height)
    assert "covering_saved" not in reckon(kvist()).figures
    assert "boards" in pack_words(design, roof).text()
    hooked = altered(design, roof__fixing="plate")
    assert levels(hooked)["fixing_dropped"] == "stop"
    assert_cured(hooked, "fixing_dropped")
    flush = kvist(roof__fixing="frame")
    assert levels(flush)["fixing_dropped"] == "stop"


def test_a_covering_that_is_laid_anew_under_the_field_is_told() -> None:
    stays = 20.0
    young = kvist(survey__covering="shingle", roof__age_a=LIFE_A["shingle"] - stays, money__life_years=stays)
    assert "roof_outlived" not in levels(young)
    old = altered(young, roof__age_a=LIFE_A["shingle"] - stays + 1)
    assert levels(old)["roof_outlived"] == "mind"
    assert_cured(old, "roof_outlived")
    assert "roof_outlived" not in levels(altered(old, roof__way="ground", roof__fixing="usual"))
    slack = [task for task in order_of_work(old, reckon_roof(old)) if task.key == "slack"]
    assert len(slack) == 1
    unions = next(part for part in reckon(old).parts.parts if part.key == "unions")
    assert "slack" in unions.because.text()


# holes and the route


def test_the_legs_on_the_kvist_roof_follow_from_their_holes() -> None:
    ends = line_ends(kvist_plan_b())
    assert (ends["cold"].length, ends["cold"].rise) == (1.0, 0.06)
    assert (ends["hot"].length, ends["hot"].rise) == (0.9, 0.2)
    route = profile(kvist_plan_b())
    assert [leg.id for leg in route.legs() if leg.by_roof] == ["c8", "h1"]


@given(x=st.floats(0, 5), y=st.floats(0, 3.4))
def test_moving_the_field_moves_the_route(x: float, y: float) -> None:
    before = kvist()
    moved = changed(before, handle_changes(before, "field:roof", x, y))
    after = follow_field(before, moved)
    joined = connections(after, placed(after, fixing_of(after)))
    hole = (after.roof.hot_hole_x_m.value, after.roof.hot_hole_y_m.value)
    assert hole == (before.roof.hot_hole_x_m.value, before.roof.hot_hole_y_m.value), "the hole stays"
    assert after.run.hot[0].length_m == pytest.approx(math.dist(joined["hot"], hole), abs=1e-3)  # type: ignore[arg-type]
    up = (hole[1] - joined["hot"][1]) * math.sin(math.radians(40))  # type: ignore[operator]
    assert after.run.hot[0].rise_m == pytest.approx(up, abs=1e-3)
    # what is reckoned is what stands in the plan, whether the plan was settled or not
    assert profile(moved) == profile(after)


def test_a_leg_that_is_typed_no_longer_follows() -> None:
    before = kvist()
    typed = follow_field(before, changed(before, [Change("run.hot.h1.length_m", 1.4)]))
    assert typed.roof.hot_hole_x_m.value is None
    assert typed.roof.cold_hole_x_m.value == before.roof.cold_hole_x_m.value
    assert typed.run.hot[0].length_m == 1.4
    assert linked_leg(typed, "hot") is None
    lifted = follow_field(before, changed(before, handle_changes(before, "joint:hot.h1", 0.1)))
    assert lifted.roof.hot_hole_x_m.value is None
    assert lifted.run.hot[0].rise_m == pytest.approx(0.3)


def test_marking_a_hole_ties_the_leg_to_it() -> None:
    loose = kvist(roof__hot_hole_x_m=None, roof__hot_hole_y_m=None)
    assert "hot" not in line_ends(loose)
    tied = follow_field(loose, changed(loose, handle_changes(loose, "hole:hot", 6.0, 4.6)))
    assert tied.run.hot[0].length_m != loose.run.hot[0].length_m
    assert profile(tied).hot[0].by_roof
    with pytest.raises(JobFileError):
        handle_changes(loose, "hole:warm", 1.0, 1.0)
    beside = connections(loose, placed(loose, fixing_of(loose)))["hot"]
    assert usual_hole(loose, "hot", beside) == (beside[0] + 0.25, beside[1] + 0.35)


def test_a_field_on_the_ground_comes_down_to_its_trench() -> None:
    design = altered(
        corrim(), roof__way="ground", roof__fixing="usual", roof__tilt_deg=60.0, roof__lower_edge_m=0.9,
        roof__hot_hole_x_m=1.0, roof__hot_hole_y_m=0.5, **FREE,
    )  # fmt: skip
    end = line_ends(design)["hot"]
    at = connections(design, placed(design, fixing_of(design)))["hot"]
    tall = 0.9 + 0.88 * design.collector.item.value.slope_length_m * math.sin(math.radians(60))
    assert end.rise == pytest.approx(-tall, abs=1e-3)
    assert end.length == pytest.approx(math.dist(at, (1.0, 0.5)) + tall, abs=1e-3)
    assert line_ends(altered(design, roof__way="wall")) == {}


@pytest.mark.parametrize(
    "change", [Change("roof.field_x_m", 2.0), Change("roof.hot_hole_y_m", 5.0), Change("roof.way", "integrated")]
)
def test_what_is_taken_over_follows_the_field(change: Change) -> None:
    before = kvist()
    after = changed(before, [change])
    assert reckon(after, Known(before, reckon(before))).figures == reckon(after).figures


@given(kind=st.sampled_from(["roof-hip", "roof-valley", "roof-window", "roof-chimney", "roof-vent"]))
def test_what_is_added_lies_on_the_roof(kind: str) -> None:
    design = changed(kvist(), [add_entry(kvist(), kind)[0]])
    thing = reckon_roof(design).objects[-1]
    assert Box(thing.x, thing.y, thing.width, thing.height).within(Box(0, 0, 8.4, 5.6))


@given(
    x=st.floats(-20, 100),
    y=st.floats(-20, 40),
    width=st.floats(1, 100),
    slope=st.floats(1, 40),
    count=st.integers(1, 12),
)
def test_no_place_of_field_or_hole_breaks_the_reckoning(
    x: float, y: float, width: float, slope: float, count: int
) -> None:
    try:
        design = kvist(
            collector__count=count,
            survey__roof_width_m=width,
            survey__roof_slope_m=slope,
            roof__field_x_m=x,
            roof__field_y_m=y,
        )
        result = reckon(follow_field(kvist(), design))
    except RowanError:
        return
    assert result.run.route.length > 0


# everything of the roof by count


def counts(design: Design) -> dict[str, float]:
    return {part.key: part.quantity.value for part in reckon(design).parts.parts}


def test_what_keeps_a_roof_tight_is_on_the_list() -> None:
    slate = counts(kvist())
    # two holes, a metre of bead and one and a half of tape for each; slate sheds without sealant under its feet
    assert (slate["sealant"], slate["membrane_tape"]) == (2.0, 3.0)
    assert (slate["adapters"], slate["washers"]) == (2, 7), "six unions and one in ten spare"
    shingle = counts(kvist(survey__covering="shingle", roof__fixing="usual"))
    feet = shingle["feet"]
    assert shingle["sealant"] == pytest.approx(2.0 + 0.4 * feet)
    assert "membrane_tape" not in shingle
    block = counts(kvist(roof__fixing="block"))
    assert block["nails"] == 8 * block["feet"]
    assert "sealant" not in counts(kvist(roof__way="ground", roof__fixing="usual"))
    painted = reckon(kvist(run__jacket="paint"))
    outdoors = sum(leg.length for leg in painted.run.route.legs() if leg.place == "roof")
    paint = next(part for part in painted.parts.parts if part.key == "lagging_paint")
    assert paint.quantity.value == pytest.approx(outdoors * 1e-4)


def test_what_is_hired_is_hired_for_days_and_for_walls() -> None:
    two, twelve = kvist(), altered(kvist(), collector__count=12, **FREE)
    # eight hours and two and a half a collector, two people seven hours a day, a day for the test
    assert (scaffold_days(two), scaffold_days(twelve)) == (2, 4)
    scaffold = next(part for part in reckon(twelve).parts.parts if part.key == "scaffold")
    assert scaffold.because.text().startswith("some 4 days")
    assert "core_drill" not in counts(two)
    assert counts(kvist(roof__carrier="slab"))["core_drill"] == 1
    buried = changed(two, [Change("run.hot.h9.place", "buried")])
    assert counts(buried)["core_drill"] == 1


def test_rails_are_cut_as_pipe_is() -> None:
    design = corrim()
    found, roof = reckon(design), reckon_roof(design)
    rails = found.parts.rails
    assert rails.used == pytest.approx(sum(rail.end - rail.start for rail in roof.rails))
    assert found.figures["rail_offcut"].value == pytest.approx(1 - rails.used / rails.bought)
    assert str(len(rails.bars)) in found.figures["rail_offcut"].basis.text()


# walls and awnings


def test_a_wall_is_as_high_as_its_eaves_and_has_nothing_of_the_roof() -> None:
    design = kvist(roof__way="wall", roof__fixing="usual", roof__tilt_deg=75.0)
    roof = reckon_roof(design)
    assert (roof.plane.width, roof.plane.height) == (8.4, pytest.approx(3 * 2.8))
    assert reckon_roof(altered(design, roof__eaves_m=6.0)).plane.height == 6.0
    assert roof.objects == ()
    over = altered(design, roof__field_x_m=0.9, roof__field_y_m=2.8)
    assert "on_object_o1" not in levels(over), "the roof's window is not in the wall"


def test_the_noon_sun_of_both_solstices() -> None:
    assert noon_heights(latitude=57.2) == (pytest.approx(56.25), pytest.approx(9.35))
    assert noon_heights(latitude=-29.4) == (pytest.approx(84.05), pytest.approx(37.15))
    assert noon_heights(latitude=10.0)[0] == pytest.approx(76.55), (
        "within the tropics the sun passes overhead and beyond"
    )
    assert noon_heights(latitude=65.0)[1] == pytest.approx(1.55)
    assert noon_heights(latitude=70.0)[1] == 0.0


@pytest.mark.parametrize("way", ["ground", "wall", "awning"])
def test_off_the_roof_only_what_is_made_for_it_holds_the_field(way: str) -> None:
    design = kvist(roof__way=way, roof__fixing="usual", roof__tilt_deg=60.0, **FREE)
    assert reckon_roof(design).verdict == "usual"
    hooked = altered(design, roof__fixing="hook")
    assert levels(hooked)["fixing_dropped"] == "stop"
    assert_cured(hooked, "fixing_dropped")
    for key, (verdict, _) in fixings_for("slate", way=way).items():
        assert (levels(altered(design, roof__fixing=key)).get("fixing_dropped") is None) == (verdict != "dropped")


def test_long_rows_get_room_to_grow_and_series_their_elbows() -> None:
    # two rows of six: an expansion piece in each of their headers
    assert counts(corrim())["expansion_pieces"] == 4
    assert "expansion_pieces" not in counts(kvist())
    series = altered(kvist(), collector__within="series")
    assert counts(series)["series_elbows"] == 2
    assert "series" in [task.key for task in order_of_work(series, reckon_roof(series))]
    assert "series" not in [task.key for task in order_of_work(kvist(), reckon_roof(kvist()))]
    weighed = altered(kvist(), roof__way="ground", roof__fixing="ballast", roof__ballast_kg=120.0)
    piles = next(task for task in order_of_work(weighed, reckon_roof(weighed)) if task.key == "piles")
    assert "120\N{NO-BREAK SPACE}kg" in piles.words.text()
