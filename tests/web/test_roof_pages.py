"""The roof's pages: bench, chalk sheet, files, measuring with the phone, and the work as a run."""

from __future__ import annotations

import csv
from datetime import timedelta
from io import StringIO
from typing import Any

import ezdxf
import pytest
from django.test import Client
from django.utils import timezone

from rowan.core.reckon import reckon
from rowan.core.steps.roof.order import order_of_work
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.commissioning.dates import dry_field
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.refused import EntryRefusedError
from rowan.web.commissioning.services import Told, start_run, write
from rowan.web.papers.chalk_sheet import chalk_context, chalk_pdf
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.roof.plane import roof_plane
from rowan.web.steps.roof.planes import plane_rows
from rowan.web.steps.roof.tape import mark_text
from tests.web.test_pages import bench_url
from tests.web.text import one_line, printed

pytestmark = pytest.mark.django_db


def address(plan: Plan, rest: str) -> str:
    return f"/jobs/{plan.job_id}/A/{rest}"


def test_the_bench_counts_feet_and_draws_them(plan: Plan, page: Client) -> None:
    text = one_line(page.get(bench_url(plan, "roof")))
    assert "Eight flashed plates, two rails, eight slates to cut" in text
    assert 'id="drag-field-roof"' in text
    assert "the eave is not level" in text
    assert text.count('class="solid"') >= 8


def test_dragging_the_field_moves_it_and_is_told(plan: Plan, page: Client) -> None:
    post = {"path": "field:roof", "value": "3.05", "second": "1.9", "revision": plan.head.number, "bench": "roof"}
    assert page.post(address(plan, "drag/"), post).status_code == 302
    roof = services.design_of(plan.head).roof
    assert (roof.field_x_m.value, roof.field_y_m.value) == (3.05, 1.9)


@pytest.mark.parametrize(
    ("metres", "metric", "us"),
    [
        (2.85, "2\N{NARROW NO-BREAK SPACE}850\N{NO-BREAK SPACE}mm", "9\N{PRIME} 4 3/16\N{DOUBLE PRIME}"),
        (0.0, "0\N{NO-BREAK SPACE}mm", "0\N{DOUBLE PRIME}"),
        (0.0048, "5\N{NO-BREAK SPACE}mm", "3/16\N{DOUBLE PRIME}"),
        (0.3048, "305\N{NO-BREAK SPACE}mm", "1\N{PRIME} 0\N{DOUBLE PRIME}"),
        (-0.0127, "\N{MINUS SIGN}13\N{NO-BREAK SPACE}mm", "\N{MINUS SIGN}1/2\N{DOUBLE PRIME}"),
    ],
)
def test_marks_are_read_off_a_tape(metres: float, metric: str, us: str) -> None:
    assert mark_text(metres, "metric") == metric
    assert mark_text(metres, "us") == us


def test_sheet_table_and_drawing_have_the_same_marks(plan: Plan, page: Client) -> None:
    told = chalk_context(plan, "metric")
    marks = [mark for column in told["columns"] for mark in column]
    rows = list(csv.DictReader(StringIO(page.get(address(plan, "roof.csv")).content.decode())))
    assert [mark_text(float(row["along_the_eave_m"]), "metric") for row in rows] == [m["x"] for m in marks]
    assert [mark_text(float(row["up_the_slope_m"]), "metric") for row in rows] == [m["y"] for m in marks]
    drawn = ezdxf.read(StringIO(page.get(address(plan, "roof.dxf")).content.decode()))  # type: ignore[attr-defined]
    points = [(p.dxf.location.x, p.dxf.location.y) for p in drawn.modelspace().query("POINT")]
    assert points == [(float(row["along_the_eave_m"]), float(row["up_the_slope_m"])) for row in rows]


@pytest.mark.parametrize(("units", "size"), [("metric", "a4"), ("us", "letter")])
def test_the_chalk_sheet_is_a_paper(plan: Plan, units: Any, size: Any) -> None:
    pages = printed(chalk_pdf(plan, units, size))
    assert len(pages) <= 2
    for words in ("Chalk sheet", "the eave's left end", "Every foot", "an engineer decide"):
        assert words in " ".join(pages), words


def test_a_roof_that_may_not_be_drilled_says_so_on_its_sheet(plan: Plan, person: User) -> None:
    from rowan.core.terms.finding import Change

    edit = services.Edit([Change("roof.state", "doubtful")], "roof.state", "in doubt")
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    plan.refresh_from_db()
    assert [stop.key for stop in chalk_context(plan, "metric")["stops"]] == ["roof_in_doubt"]


def test_parts_are_not_ordered_for_a_roof_in_doubt(plan: Plan, page: Client, person: User) -> None:
    from rowan.core.terms.finding import Change

    assert "Order nothing" not in one_line(page.get(bench_url(plan, "parts")))
    edit = services.Edit([Change("roof.access", False)], "roof.access", "nobody can stand on it")
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    assert "Order nothing: this roof wants its roofer first" in one_line(page.get(bench_url(plan, "parts")))


# the work: a run of its own


def steps_of(plan: Plan) -> list[str]:
    sheet = sheet_of(plan, "metric")
    return [task.key for task in order_of_work(sheet.design, sheet.result.roof)]


@pytest.fixture
def roof_run(plan: Plan, person: User) -> Run:
    return start_run(plan=plan, kind="roof", person=person)


def do(run: Run, person: User, key: str) -> None:
    """A step ticked and passed, in a light wind."""
    if key == "weather":
        write(run=run, told=Told("read", key, "gust", "3 m/s"), person=person, units="metric")
    if key == "diagonals":
        for field in ("diagonal_1a", "diagonal_1b"):
            write(run=run, told=Told("read", key, field, "2.5 m"), person=person, units="metric")
    write(run=run, told=Told("tick", key, f"done_{key}", "1"), person=person, units="metric")
    write(run=run, told=Told("done", key), person=person, units="metric")


def test_a_gate_holds_what_comes_after_it(roof_run: Run, person: User) -> None:
    with pytest.raises(EntryRefusedError, match="“Go or no-go” comes first"):
        do(roof_run, person, "marks")
    assert roof_run.entries.count() == 0
    for key in ("weather", "edge", "battens"):
        do(roof_run, person, key)
    do(roof_run, person, "marks")
    assert roof_run.entries.filter(step="marks").count() == 2


def test_the_scaffold_waits_for_the_pressure_test_and_a_dry_field_is_counted(
    roof_run: Run, plan: Plan, person: User, page: Client
) -> None:
    runs = address(plan, "runs/")
    keys = steps_of(plan)
    assert "hangs dry" not in one_line(page.get(runs))
    for key in keys[: keys.index("pressure")]:
        do(roof_run, person, key)
    assert "hangs dry since" in one_line(page.get(runs))
    with pytest.raises(EntryRefusedError, match="comes first"):
        do(roof_run, person, "scaffold")
    for key in ("pressure", "bleed", "scaffold"):
        do(roof_run, person, key)
    assert "every step done, not closed" in one_line(page.get(runs))
    first = start_run(plan=plan, kind="first", person=person)
    assert "hangs dry since" in one_line(page.get(address(plan, f"runs/{first.pk}/work/")))
    write(run=first, told=Told("read", "fill", "colour_s", "84"), person=person, units="metric")
    assert "hangs dry" not in one_line(page.get(runs))


def test_a_field_that_hung_dry_for_a_month_is_looked_at_before_it_is_filled(
    roof_run: Run, plan: Plan, person: User
) -> None:
    for key in steps_of(plan)[: steps_of(plan).index("pressure")]:
        do(roof_run, person, key)
    roof_run.entries.update(at=timezone.now() - timedelta(days=31))
    found = dry_field(plan)
    assert found is not None
    assert found.level == "stop"
    assert "31 days: before it is filled" in found.words.text()


def test_goods_are_ticked_off_before_the_roof_is_opened(plan: Plan, person: User, page: Client) -> None:
    run = start_run(plan=plan, kind="delivery", person=person)
    text = one_line(page.get(address(plan, f"runs/{run.pk}/work/")))
    assert "8 flashed plate" in text
    write(run=run, told=Told("tick", "came-roof", "came_feet", "1"), person=person, units="metric")
    with pytest.raises(EntryRefusedError, match="nothing of that name"):
        write(run=run, told=Told("tick", "came-roof", "came_gold", "1"), person=person, units="metric")


def test_a_field_on_the_ground_has_no_scaffold(plan: Plan, person: User) -> None:
    from rowan.core.terms.finding import Change

    edit = services.Edit([Change("roof.way", "ground")], "roof.way", "on the ground")
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    plan.refresh_from_db()
    keys = steps_of(plan)
    assert "services" in keys
    assert not {"scaffold", "weather", "battens", "street"} & set(keys)


# measured


def measure(page: Client, plan: Plan, **data: Any) -> Any:
    return page.post(address(plan, "measure/"), {"revision": plan.head.number, "do": "reckon", **data})


def test_readings_say_the_pitch_and_go_into_the_plan_with_their_origin(plan: Plan, page: Client) -> None:
    readings = {"what": "pitch", "first": "41.2 41,0 41.1", "turned": "-38.9 -39 \N{MINUS SIGN}39.1"}
    assert "<h1>40.0° ± 0.1°</h1>" in one_line(measure(page, plan, **readings)) or "40.1° ±" in one_line(
        measure(page, plan, **readings)
    )
    assert services.design_of(plan.head).survey.roof_tilt_deg.origin != "phone"
    assert measure(page, plan, **readings, do="use").status_code == 302
    tilt = services.design_of(Plan.objects.get(pk=plan.pk).head).survey.roof_tilt_deg
    assert tilt.value == pytest.approx(40.05, abs=0.06)
    assert tilt.origin == "phone"
    assert "±0.1°" in tilt.note


def test_an_eave_s_bearing_is_the_roof_s_turned_toward_what_is_known(plan: Plan, page: Client) -> None:
    data = {"what": "bearing", "edge": "eave", "first": "70 70", "turned": "70 70", "do": "use"}
    assert measure(page, plan, **data).status_code == 302
    found = services.design_of(Plan.objects.get(pk=plan.pk).head).survey.roof_azimuth_deg
    assert found.value == pytest.approx(160, abs=1.0), "70 and 250 along the eave look at 160, not at 340"


def test_a_hilltop_becomes_a_point_of_the_horizon(plan: Plan, page: Client) -> None:
    before = len(services.design_of(plan.head).sun.horizon)
    data = {"what": "horizon", "first": "9 9", "turned": "-7 -7", "compass": "200 201", "do": "use"}
    assert measure(page, plan, **data).status_code == 302
    points = services.design_of(Plan.objects.get(pk=plan.pk).head).sun.horizon
    assert len(points) == before + 1
    assert points[-1].elevation_deg == pytest.approx(8.0)
    assert points[-1].origin == "phone"


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ({"what": "pitch", "first": "40 50", "turned": "-40 -40"}, "differ by 10.0°"),
        ({"what": "pitch", "first": "forty", "turned": "-40"}, "is no number"),
        ({"what": "fall", "first": "1 2", "turned": "-1 -1"}, "600 mm level"),
        ({"what": "bearing", "by": "shadow", "angle": "20", "at": "yesterday"}, "date and time"),
        ({"what": "bearing", "by": "shadow", "angle": "20", "at": "2026-12-21T23:00"}, "no shadow to read"),
        ({"what": "horizon", "first": "9 9", "turned": "-7 -7", "do": "reckon"}, "compass was not read"),
    ],
)
def test_what_tells_nothing_is_said(plan: Plan, page: Client, data: dict[str, str], words: str) -> None:
    answer = measure(page, plan, **data)
    assert answer.status_code == 422
    assert words in one_line(answer)


def test_a_fall_is_told_in_mm_and_changes_nothing(plan: Plan, page: Client) -> None:
    text = one_line(measure(page, plan, what="fall", first="1.3 1.3", turned="-1.1 -1.1"))
    assert "21 mm in each metre, 1.2°" in text
    assert 'value="use"' not in text


def test_the_hot_end_is_mirrored_on_request(plan: Plan) -> None:
    from tests.core.designs import altered, plan_a

    def ends(side: str) -> tuple[float, float]:
        """Where the sensor and the middle of the field lie."""
        design = altered(plan_a(), roof__hot_at=side)
        drawing = roof_plane(Sheet(design, reckon(design), "metric"))
        sensor = next(n for n in drawing.walk() if n.attributes.get("class") == "sensor")
        plates = [n for n in drawing.walk() if n.attributes.get("class") == "plate"]
        middle = sum(float(n.attributes["x"]) + float(n.attributes["width"]) / 2 for n in plates) / len(plates)
        return float(sensor.attributes["x"]), middle

    right, left = ends("right"), ends("left")
    assert right[0] > right[1]
    assert left[0] < left[1]


# several planes, holes


def on_two_planes(plan: Plan, person: User) -> Plan:
    """The plan with four collectors, two of them over the ridge."""
    from rowan.core.design.inputs.roof import RoofPlane
    from rowan.core.terms.finding import Change

    there = RoofPlane(id="p1", azimuth_deg=270, pitch_deg=38, width_m=7.0, slope_m=5.0, count=2)
    free = [Change("roof.field_x_m", None), Change("roof.field_y_m", None)]
    changes = [Change("collector.count", 4), Change("roof.planes", [there]), *free]
    edit = services.Edit(changes, "roof.planes", "two planes")
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    plan.refresh_from_db()
    return plan


def test_both_planes_are_drawn_measured_and_moved(plan: Plan, page: Client, person: User) -> None:
    two = on_two_planes(plan, person)
    text = one_line(page.get(bench_url(two, "roof")))
    for words in ('id="drag-field-roof"', 'id="drag-field-p1"', "The plane to W, from in front", "other plane"):
        assert words in text, words
    for bench in ("survey", "roof"):
        shown = one_line(page.get(bench_url(two, bench)))
        assert "Planes of this roof" in shown
        assert 'id="in-roof-planes-p1-azimuth_deg"' in shown
    assert "Planes to the" in one_line(page.get(bench_url(two, "survey")))
    design = services.design_of(two.head)
    first, other = plane_rows(Sheet(design, reckon(design), "metric"))
    assert (first["held"], other["held"].shown) == ("1", "1"), "one row on each, told alike"
    assert 'id="drag-plane-p1"' in one_line(page.get(bench_url(two, "sun")))
    post = {"path": "field:p1", "value": "1.5", "second": "1.2", "revision": two.head.number, "bench": "roof"}
    assert page.post(address(plan, "drag/"), post).status_code == 302
    plan.refresh_from_db()
    plane = services.design_of(plan.head).roof.planes[0]
    assert (plane.field_x_m, plane.field_y_m) == (1.5, 1.2)


def test_the_chalk_sheet_has_a_page_for_each_plane(plan: Plan, page: Client, person: User) -> None:
    two = on_two_planes(plan, person)
    told = chalk_context(two, "metric")
    assert [entry["title"] for entry in told["planes"]] == [
        "The plane to SSE, from in front",
        "The plane to W, from in front",
    ]
    assert " ".join(printed(chalk_pdf(two, "metric", "a4"))).count("Every foot") == 2
    rows = list(csv.DictReader(StringIO(page.get(address(plan, "roof.csv")).content.decode())))
    assert {row["plane"] for row in rows} == {"1", "2"}


def test_a_plane_is_added_filled_and_taken_away_on_the_page(plan: Plan, page: Client) -> None:
    def send(rest: str, **data: Any) -> int:
        plan.refresh_from_db()
        return page.post(address(plan, rest), {"revision": plan.head.number, "bench": "roof", **data}).status_code

    assert send("entries/", add="plane") == 302
    assert send("roof.planes.p1.count/", **{"roof.planes.p1.count": "1"}) in (302, 404, 405)
    plan.refresh_from_db()
    assert [plane.id for plane in services.design_of(plan.head).roof.planes] == ["p1"]
    assert send("entries/", add="roof-hip:p1") == 302
    assert send("entries/", list="roof.planes", remove="p1") != 302, "a hip stands on it"
    plan.refresh_from_db()
    hip = services.design_of(plan.head).roof.objects[-1]
    assert send("entries/", list="roof.objects", remove=hip.id) == 302
    assert send("entries/", list="roof.planes", remove="p1") == 302
    plan.refresh_from_db()
    assert services.design_of(plan.head).roof.planes == []


def test_moving_the_field_moves_the_route_and_typing_a_leg_lets_it_go(plan: Plan, page: Client) -> None:
    before = services.design_of(plan.head)
    assert "by the field&#x27;s place" in one_line(page.get(bench_url(plan, "run")))
    post = {"path": "field:roof", "value": "2.0", "second": "2.3", "revision": plan.head.number, "bench": "roof"}
    assert page.post(address(plan, "drag/"), post).status_code == 302
    plan.refresh_from_db()
    moved = services.design_of(plan.head)
    assert moved.run.hot[0].length_m > before.run.hot[0].length_m + 0.5
    assert moved.roof.hot_hole_x_m.value == before.roof.hot_hole_x_m.value
    post = {"path": "hole:hot", "value": "5.0", "second": "4.5", "revision": plan.head.number, "bench": "roof"}
    assert page.post(address(plan, "drag/"), post).status_code == 302
    plan.refresh_from_db()
    nearer = services.design_of(plan.head)
    assert nearer.roof.hot_hole_x_m.value == 5.0
    assert nearer.run.hot[0].length_m < moved.run.hot[0].length_m
    services.undo(plan=plan, author=plan.head.author, based_on=plan.head.number)  # type: ignore[arg-type]
    plan.refresh_from_db()
    assert services.design_of(plan.head).run.hot[0].length_m == moved.run.hot[0].length_m


@pytest.mark.parametrize("way", ["integrated", "sawtooth", "rack", "ground", "wall", "awning"])
def test_every_way_to_stand_has_its_page_and_sheet(plan: Plan, page: Client, person: User, way: str) -> None:
    from rowan.core.terms.finding import Change

    changes = [Change("roof.way", way), Change("roof.fixing", "usual"), Change("roof.tilt_deg", 60.0)]
    edit = services.Edit([*changes, Change("roof.field_x_m", None), Change("roof.field_y_m", None)], "roof.way", way)
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    plan.refresh_from_db()
    text = one_line(page.get(bench_url(plan, "roof")))
    named = {"integrated": "built into the roof", "sawtooth": "in sawtooth rows", "rack": "on a rack"}
    assert named.get(way, "") in text
    assert ("From the side" in text) == (way != "integrated")
    assert chalk_context(plan, "us")["planes"]


def test_a_plan_that_is_taken_in_is_kept_as_it_is_reckoned(plan: Plan, person: User) -> None:
    from rowan.core.design.changes import changed
    from rowan.core.terms.finding import Change

    design = services.design_of(plan.head)
    loose = changed(design, [Change("roof.hot_hole_x_m", 7.0)])
    assert loose.run.hot[0].length_m == design.run.hot[0].length_m
    taken = services.take_in(firm=plan.job.firm, author=person, designs=[("moved", loose)])[0]
    kept = services.design_of(taken.head)
    assert kept.run.hot[0].length_m == pytest.approx(reckon(loose).run.route.hot[0].length)
    assert kept.run.hot[0].length_m > design.run.hot[0].length_m
