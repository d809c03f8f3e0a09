"""Drawings are to scale: what is measured on them is what was reckoned."""

from __future__ import annotations

import json
import math
import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.appraise.hygiene import HYGIENE_EDGES_C
from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.terms.figure import Window
from rowan.core.terms.units import SYSTEMS, System, number_and_unit
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop import loop_drawing, loop_strip, small_loop
from rowan.web.steps.charge.drainback import lift_and_levels
from rowan.web.steps.charge.drawing import STATES, direct_column, ladder, vessels
from rowan.web.steps.collector.drawing import efficiency_lines
from rowan.web.steps.control.drawing import differences, limits
from rowan.web.steps.run.charts import head_shares, pump_chart
from rowan.web.steps.run.drawing import Profile, profile_drawing
from rowan.web.steps.store.day import day_drawing
from rowan.web.steps.store.drawing import cut_away, days
from rowan.web.steps.store.hygiene import hygiene_drawing
from rowan.web.steps.store.year import year_drawing
from rowan.web.steps.sun.horizon import horizon
from rowan.web.steps.sun.shade import contours, shade_table
from rowan.web.steps.survey.drawing import chain, house_plan, months, polar
from rowan.web.ui.svg import Drawing, Node
from rowan.web.ui.window_bar import window_bar
from tests.core.designs import altered, plan_a, plan_b, proposed

SVG = "{http://www.w3.org/2000/svg}"


# a drawing is held against its result at three plans that differ in every size
THREE = pytest.mark.parametrize(
    "design",
    [plan_a(), plan_b(), proposed("aldersund-8-electric")],
    ids=["as surveyed", "as built", "as proposed"],
)


def sheet(design: Design, units: System = "metric") -> Sheet:
    return Sheet(design, reckon(design), units)


def parsed(drawing: Drawing) -> ET.Element:
    return ET.fromstring(drawing.markup())


def by_id(root: ET.Element, key: str) -> ET.Element:
    return next(element for element in root.iter() if element.get("id") == key)


def by_class(root: ET.Element, name: str) -> Iterator[ET.Element]:
    return (element for element in root.iter() if name in (element.get("class") or "").split())


def words(root: ET.Element) -> str:
    return " ".join("".join(element.itertext()) for element in root.iter(f"{SVG}text")).replace(
        "\N{NO-BREAK SPACE}", " "
    )


def number(element: ET.Element, name: str) -> float:
    return float(element.get(name, "nan"))


def test_text_and_attributes_are_escaped() -> None:
    node = Node("text", "<b>&", title='"><script>')
    assert node.markup() == "<text title='\"&gt;&lt;script&gt;'>&lt;b&gt;&amp;</text>"


def test_a_drawing_of_its_own_brings_style_and_hatches() -> None:
    one = sheet(plan_a())
    alone = ET.fromstring(ladder(one).svg_file())
    ids = {element.get("id") for element in alone.iter(f"{SVG}pattern")}
    used = set(re.findall(r"url\(#([\w-]+)\)", "".join(alone.itertext())))
    assert used <= ids
    assert "paint-order" in "".join(alone.itertext())


def test_a_dimension_line_has_slashes_at_both_ends() -> None:
    root = Drawing(100, 100, "a line")
    root.dimension((10, 20), (10, 80), "0.60 m")
    element = parsed(root)
    assert len(list(by_class(element, "dim-slash"))) == 2
    assert next(by_class(element, "dim-text")).get("transform", "").startswith("rotate(-90")


def test_a_quantity_is_split_into_number_and_unit() -> None:
    assert number_and_unit("1.47\N{NO-BREAK SPACE}bar") == ("1.47", "bar")
    assert number_and_unit("31\N{NO-BREAK SPACE}ft\N{NO-BREAK SPACE}2\N{NO-BREAK SPACE}in")[1] == "in"
    assert number_and_unit("40°") == ("40°", "")


@pytest.mark.parametrize(
    "design",
    [plan_a(), plan_b(), proposed("maravel-8-gas"), proposed("aldersund-1-gas")],
    ids=["a", "b", "direct", "small"],
)
@pytest.mark.parametrize("units", SYSTEMS)
def test_every_drawing_names_itself_and_stays_inside(design: Design, units: System) -> None:
    one = sheet(design, units)
    drawings = [
        loop_drawing(one, "charge", str),
        small_loop(one),
        house_plan(one),
        months(one),
        chain(one),
        efficiency_lines(one),
    ]
    drawings += [
        cut_away(one),
        year_drawing(one),
        horizon(one),
        shade_table(one),
        contours(one),
        profile_drawing(one),
        pump_chart(one),
        head_shares(one),
        differences(one),
        limits(one),
    ]
    if design.taps:
        year = one.year()
        drawings += [days(one), day_drawing(one, year, 172), hygiene_drawing(one, year)]
    if design.sealed:
        drawings += [ladder(one), vessels(one)]
    for drawing in drawings:
        root = parsed(drawing)
        title = root.find(f"{SVG}title")
        assert title is not None
        assert title.get("id") == root.get("aria-labelledby")
        for line in root.iter(f"{SVG}line"):
            assert -2 <= number(line, "x1") <= drawing.width + 2, ET.tostring(line)
            assert -20 <= number(line, "y1") <= drawing.height + 20, ET.tostring(line)


# charge


def _rung(root: ET.Element, name: str) -> float:
    return number(next(by_class(root, name)), "y1")


@given(gap=st.floats(3e4, 7e4), height=st.floats(5, 14))
def test_rungs_of_the_ladder_stand_at_their_pressures(gap: float, height: float) -> None:
    one = sheet(altered(plan_b(), charge__gap_pa=gap, survey__gauge_to_top_m=height))
    root = parsed(ladder(one))
    zero, relief = number(next(by_class(root, "rule-ink")), "y1"), _rung(root, "limit")
    per_pa = (zero - relief) / one.design.charge.relief_gauge_pa.value
    assert zero - _rung(root, "static") == pytest.approx(one.result.charge.static * per_pa, abs=0.1)
    assert zero - _rung(root, "planned") == pytest.approx(one.result.charge.end * per_pa, abs=0.1)
    handle = by_id(root, "drag-fill")
    assert one.result.charge.setting is not None
    drawn = zero - number(next(by_class(handle, "rung-fill")), "y1")
    assert drawn == pytest.approx(one.result.charge.setting.fill * per_pa, abs=0.1)
    # a pixel on the handle means what a pixel on the axis means
    assert abs(float(handle.get("data-per-px", "nan"))) == pytest.approx(1 / per_pa, rel=1e-3)


def test_schools_that_fail_say_so_in_words() -> None:
    text = words(parsed(ladder(sheet(plan_a()))))
    for word in ("none", "air in", "opens", "relief opens 6.00 bar", "highest planned 5.40 bar"):
        assert word in text


def test_a_school_that_cannot_be_is_hatched_with_its_reason() -> None:
    one = sheet(altered(plan_a(), charge__relief_gauge_pa=300e3))
    root = parsed(ladder(one))
    assert "cannot be" in words(root)
    assert any("not below the highest planned" in (t.text or "") for t in root.iter(f"{SVG}title"))


def test_only_schools_with_a_free_figure_have_a_handle() -> None:
    for school, handles in (("reserve", 1), ("typed", 1), ("equal", 0), ("atmosphere", 0)):
        root = parsed(ladder(sheet(altered(plan_a(), charge__school=school))))
        assert len(list(by_class(root, "handle"))) == handles, school


@THREE
def test_liquid_in_the_vessel_is_drawn_to_scale(design: Design) -> None:
    """The dimension beside each vessel runs from its top down to the membrane."""
    one = sheet(design)
    root = parsed(vessels(one))
    bars = list(by_class(root, "dim-line"))
    assert len(bars) == len(STATES)
    for (key, _), bar in zip(STATES, bars, strict=True):
        share = one.result.charge.states[key].liquid / one.result.charge.vessel
        drawn = number(bar, "y2") - number(bar, "y1")
        assert drawn == pytest.approx(max(94 * share, 5), abs=0.2)


def test_an_empty_vessel_shows_what_it_lacks() -> None:
    text = words(parsed(vessels(sheet(altered(plan_a(), charge__school="equal")))))
    assert "empty" in text
    assert "lacks 0.1" in text


# run


@THREE
def test_legs_are_drawn_by_length_and_height(design: Design) -> None:
    one = sheet(design)
    root, frame = parsed(profile_drawing(one)), Profile(one)
    for leg in one.result.run.route.legs():
        line = by_id(root, f"leg-{leg.line}-{leg.id}")
        assert number(line, "x2") - number(line, "x1") == pytest.approx(leg.length * frame.per_m, abs=0.05)
        assert number(line, "y1") - number(line, "y2") == pytest.approx(leg.rise * frame.up_per_m, abs=0.05)


def test_the_profile_names_its_exaggeration_and_its_hump() -> None:
    text = words(parsed(profile_drawing(sheet(plan_a()))))
    assert "times the lengths" in text
    assert "holds 0.22 L of air" in text
    assert "high point" not in words(parsed(profile_drawing(sheet(plan_b()))))


def test_each_inner_joint_is_a_handle_with_a_way_to_go() -> None:
    root = parsed(profile_drawing(sheet(plan_a())))
    handles = list(by_class(root, "handle"))
    assert len(handles) == len(plan_a().run.cold) + len(plan_a().run.hot) - 2
    for handle in handles:
        low, high = float(handle.get("data-low", "nan")), float(handle.get("data-high", "nan"))
        assert low <= 0 <= high
        assert high - low > 0


@THREE
def test_the_operating_point_lies_where_the_curves_cross(design: Design) -> None:
    one = sheet(design)
    root = parsed(pump_chart(one))
    dot = next(by_class(root, "leaf-dot"))
    point = one.result.run.point
    assert point is not None
    most_flow = max(curve.most_flow for curve in one.result.run.pump.curves) * 1.02
    assert number(dot, "cx") == pytest.approx(30 + 256 * point.flow / most_flow, abs=0.1)


@THREE
def test_shares_of_the_head_add_up(design: Design) -> None:
    one = sheet(design)
    bars = list(by_class(parsed(head_shares(one)), "bar"))
    shares = one.result.run.shares
    widths = [number(bar, "width") for bar in bars]
    parts = (shares.pipe, shares.fittings, shares.collectors, shares.coil, shares.station)
    assert len(widths) == len(parts)
    assert max(widths) == pytest.approx(130)
    assert sum(widths) == pytest.approx(130 * shares.total / max(parts), rel=0.01)


# store, survey, collector, control


@THREE
def test_coil_and_sensors_stand_at_their_heights(design: Design) -> None:
    one = sheet(design)
    drawing = cut_away(one)
    root = parsed(drawing)
    scale = float(drawing.attributes["data-px-per-m"])
    foot = 368.0
    for path in ("coil_top_m", "coil_bottom_m"):
        knob = next(by_class(by_id(root, f"drag-store-{path}"), "knob"))
        assert (foot - number(knob, "cy")) / scale == pytest.approx(getattr(one.design.store, path).value, abs=0.005)
    for path in ("lower_sensor_m", "upper_sensor_m"):
        knob = next(by_class(by_id(root, f"drag-store-{path}"), "knob"))
        assert (foot - number(knob, "y") - 6) / scale == pytest.approx(getattr(one.design.store, path).value, abs=0.005)


@given(azimuth=st.floats(0, 360), radius=st.floats(1, 200))
def test_the_compass_runs_clockwise_from_north(azimuth: float, radius: float) -> None:
    x, y = polar((0, 0), radius, azimuth)
    assert math.hypot(x, y) == pytest.approx(radius)
    assert (math.degrees(math.atan2(x, -y)) - azimuth + 180) % 360 - 180 == pytest.approx(0, abs=1e-6)


def test_the_chain_shows_assumed_legs_dotted() -> None:
    assumed_legs = list(by_class(parsed(chain(sheet(proposed("aldersund-5-oil")))), "ghost"))
    assert len(assumed_legs) == 12
    assert list(by_class(parsed(chain(sheet(plan_a()))), "ghost")) == []


@THREE
def test_month_bars_add_up_to_the_plane(design: Design) -> None:
    one = sheet(design)
    root = parsed(months(one))
    beams = [number(bar, "height") for bar in by_class(root, "sun")]
    skies = [number(bar, "height") for bar in by_class(root, "bar-open")]
    total = one.result.site.months.total
    drawn = [a + b for a, b in zip(beams, skies, strict=True)]
    for height, value in zip(drawn, total, strict=True):
        assert height / max(drawn) == pytest.approx(float(value / total.max()), abs=0.005)


@THREE
def test_the_chosen_collector_s_line_passes_through_the_working_point(design: Design) -> None:
    one = sheet(design)
    root = parsed(efficiency_lines(one))
    dot = next(by_class(root, "leaf-dot"))
    share = one.result.run.temperatures.efficiency
    assert number(dot, "cy") == pytest.approx(252 - 226 * share / 0.9, abs=0.1)


def test_start_and_stop_rungs_and_their_suns() -> None:
    one = sheet(plan_a())
    text = words(parsed(differences(one)))
    band = one.result.differences.band
    assert f"starts {band.start_irradiance:.0f} W/m²" in text
    assert f"holds {band.hold_irradiance:.0f} W/m²" in text
    assert "here it hunts" in text


def test_the_lines_of_the_field_cross_the_rungs_where_the_pump_starts_and_holds() -> None:
    """Each dot lies on its own line: the standing field at the start rung, the running one at the stop rung."""
    root = parsed(differences(sheet(plan_a())))
    for dot_class, line_class in (("leaf-dot", "curve-chosen"), ("ring-dot", "loop-curve")):
        dot, line = next(by_class(root, dot_class)), next(by_class(root, line_class))
        (x1, y1), (x2, y2) = (
            (float(x), float(y)) for x, y in (point.split() for point in (line.get("d") or "")[1:].split(" L"))
        )
        on_line = y1 + (y2 - y1) * (number(dot, "cx") - x1) / (x2 - x1)
        assert on_line == pytest.approx(number(dot, "cy"), abs=0.5)


def test_the_strip_names_the_parts_with_their_worst_finding() -> None:
    parts = {part.name: part for part in loop_strip(sheet(plan_a()), "charge", lambda bench: f"/{bench}/")}
    assert (parts["top"].worst, parts["lines"].worst, parts["vessel"].worst) == ("fix", "fix", "")
    assert parts["cold fill"].open
    assert parts["pump"].href == "/run/"
    assert "main" in {part.name for part in loop_strip(sheet(proposed("maravel-8-gas")), "run", str)}


def test_a_loop_that_never_hunts_has_no_hatched_band() -> None:
    steady = altered(plan_a(), control__start_k=20.0, control__stop_k=0.5)
    assert "here it hunts" not in words(parsed(differences(sheet(steady))))


# loop and window bars


def test_the_loop_carries_the_worst_mark_of_each_part() -> None:
    root = parsed(loop_drawing(sheet(plan_a()), "charge", lambda bench: f"/{bench}/"))
    vent, pump = (by_id(root, f"part-{key}") for key in ("vent", "pump"))
    assert any("mark-fix" in (g.get("class") or "") for g in vent.iter(f"{SVG}g"))
    assert any("mark-mind" in (g.get("class") or "") for g in pump.iter(f"{SVG}g"))
    assert pump.get("href") == "/run/"


def test_parts_of_the_open_bench_stand_out() -> None:
    root = parsed(loop_drawing(sheet(plan_a()), "store", lambda bench: f"/{bench}/"))
    assert by_id(root, "part-store").get("class") == "part open"
    assert by_id(root, "part-pump").get("class") == "part"


@pytest.mark.parametrize(("height", "count"), [(4.0, 1), (9.5, 2), (20.0, 6)])
def test_heights_in_the_loop_keep_their_scale(height: float, count: int) -> None:
    one = sheet(altered(plan_b(), survey__gauge_to_top_m=height, collector__count=count))
    root = parsed(loop_drawing(one, "", str))
    bar = next(by_class(root, "dim-line"))
    store = by_id(root, "part-store").find(f"{SVG}rect")
    assert store is not None
    per_m = (number(bar, "y2") - number(bar, "y1")) / one.result.run.route.top
    assert number(store, "height") / per_m == pytest.approx(one.result.store.height, rel=0.01)


@given(low=st.floats(-50, 50), span=st.floats(0.1, 100), at=st.floats(-1, 2))
def test_the_needle_stands_in_the_tint_just_when_it_is_inside(low: float, span: float, at: float) -> None:
    figure = reckon(plan_a()).figures["velocity"]
    value = low + at * span
    moved = type(figure)(**{**figure.__dict__, "value": value, "window": Window(low, low + span, "a rule")})
    bar = window_bar(moved, "metric")
    assert bar is not None
    root = ET.fromstring(str(bar.svg).replace("<svg", f'<svg xmlns="{SVG[1:-1]}"', 1))
    assert bool(list(by_class(root, "w-needle-out"))) is not moved.inside
    tint = next(by_class(root, "w-tint"))
    needle = next(iter([*by_class(root, "w-needle"), *by_class(root, "w-needle-out")]))
    tip = float((needle.get("d") or "").split("L")[-1].split()[0])
    left, right = number(tint, "x"), number(tint, "x") + number(tint, "width")
    if 0.02 < at < 0.98:
        assert left - 0.1 <= tip <= right + 0.1
    assert ("inside" in bar.words) is moved.inside


@pytest.mark.parametrize(
    ("value", "limit", "drawn"), [(0.27, 0.3, "11¾"), (0.9, 1.2, "3\N{NO-BREAK SPACE}ft\N{NO-BREAK SPACE}11¼")]
)
def test_a_length_limit_is_read_on_the_rule_of_its_figure(value: float, limit: float, drawn: str) -> None:
    figure = reckon(plan_a()).figures["velocity"]
    length = {"value": value, "dimension": "length", "window": Window(None, limit, "a rule")}
    bar = window_bar(type(figure)(**{**figure.__dict__, **length, "decimals": None}), "us")
    assert bar is not None
    assert f">{drawn}<" in str(bar.svg)
    assert f"at most {drawn}\N{NO-BREAK SPACE}in. " in bar.words


def test_a_figure_without_a_window_has_no_bar() -> None:
    assert window_bar(reckon(plan_a()).figures["static"], "metric") is None


@THREE
def test_the_year_s_bars_are_the_year_s_months(design: Design) -> None:
    one = sheet(design)
    year = one.year()
    root = parsed(year_drawing(one))
    heights = [number(by_id(root, f"year-sun-{month}"), "height") for month in range(1, 13)]
    coil = year.months("coil").clip(0)
    for height, heat in zip(heights, coil, strict=True):
        assert height / max(heights) == pytest.approx(float(heat / coil.max()), abs=0.005)


@THREE
def test_the_bands_of_hygiene_are_hours_of_the_year(design: Design) -> None:
    one = sheet(design)
    year = one.year()
    root = parsed(hygiene_drawing(one, year))
    bars = [r for r in root.iter(f"{SVG}rect") if number(r, "height") == 22]
    for row, node in enumerate((0, year.nodes // 2, year.nodes - 1)):
        wide = [number(r, "width") for r in bars if number(r, "y") == 26 + 34 * row]
        hours = year.hours_between(node, HYGIENE_EDGES_C)
        assert wide == pytest.approx([544 * float(h) / 8760 for h in hours], abs=0.06)


@THREE
def test_the_stores_layers_are_those_of_the_day(design: Design) -> None:
    one = sheet(design)
    year = one.year()
    scrub = json.loads(str(day_drawing(one, year, 150).attributes["data-scrub"]))
    assert scrub["layers"] == [[round(float(c)) for c in hour] for hour in year.layers(150)]


@pytest.mark.parametrize("azimuth", [95.0, 180.0, 251.0])
def test_the_roof_s_arrow_points_where_the_roof_faces(azimuth: float) -> None:
    one = sheet(altered(plan_a(), survey__roof_azimuth_deg=azimuth))
    group = by_id(parsed(house_plan(one)), "drag-survey-roof_azimuth_deg")
    assert float(group.get("aria-valuenow", "nan")) == azimuth
    house = next(iter(group))
    turned = re.match(r"rotate\((-?[\d.]+)", house.get("transform") or "")
    assert turned is not None
    # unturned the arrow points down, to the south
    assert (float(turned[1]) + 180) % 360 == pytest.approx(azimuth, abs=0.01)


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        ({}, "ends over the mark"),
        ({"run__return_under": True}, "no air comes in"),
        ({"run__return_under": True, "run__air_inlet_m": 0.02}, "air inlet"),
    ],
)
def test_a_draining_return_is_drawn_as_it_ends(change: dict[str, object], wanted: str) -> None:
    one = sheet(altered(corrim(), **change))
    drawing = lift_and_levels(one, one.result.draining)  # type: ignore[arg-type]
    root = parsed(drawing)
    end = float((by_id(root, "return-end").get("d") or "").rsplit(" ", 1)[1])
    water = next(number(e, "y1") for e in by_class(root, "vessel-line"))
    assert (end > water) is bool(change)
    assert wanted in words(root)


def test_what_the_weakest_part_stands_is_drawn_where_it_is_and_the_valve_is_what_moves() -> None:
    one = sheet(pipwater())
    root = parsed(direct_column(one))
    line = next(by_class(root, "berry-line"))
    knob = by_id(root, "drag-charge-reducer_gauge_pa")
    per_px = float(knob.get("data-per-px", "nan"))
    assert (number(line, "x1") - number(next(by_class(knob, "knob")), "cx")) * per_px == pytest.approx(0.5e5, rel=0.01)
    assert "collectors: 2.00 bar" in words(root)
    plain = parsed(direct_column(sheet(altered(pipwater(), charge__reducer_gauge_pa=None))))
    assert by_id(plain, "drag-charge-mains_gauge_pa") is not None
