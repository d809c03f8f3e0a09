"""Legs changed in the table, the fluid's log, a loop as found, a data-sheet line, a pump by its points."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.test import Client
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.goods.catalogue import PIPES
from rowan.core.reckon import reckon
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.web.accounts.models import Firm, User
from rowan.web.benches.bench import Sheet
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.plans.services import start_job
from rowan.web.steps.questions import found_context
from rowan.web.steps.registry import PAGES
from tests.core.designs import plan_b
from tests.web.test_pages import bench_url, read

pytestmark = pytest.mark.django_db


def address(plan: Plan, name: str) -> str:
    return reverse(f"steps:{name}", args=(plan.job_id, plan.letter))


def post(page: Client, plan: Plan, view: str, /, **data: Any) -> HttpResponse:
    plan.refresh_from_db()
    answer = page.post(address(plan, view), {"revision": plan.head.number, **data})
    plan.refresh_from_db()
    return answer  # type: ignore[return-value]


# the legs


def test_a_leg_is_put_in_cut_typed_and_taken_out_on_the_page(plan: Plan, page: Client) -> None:
    legs = len(services.design_of(plan.head).run.hot)
    assert post(page, plan, "entries", bench="run", add="leg:hot:h3").status_code == 302
    design = services.design_of(plan.head)
    assert len(design.run.hot) == legs + 1
    assert post(page, plan, "set", bench="run", path="run.hot.n1.length_m", value="12 ft 3 in").status_code == 302
    leg = next(leg for leg in services.design_of(plan.head).run.hot if leg.id == "n1")
    assert leg.length_m == pytest.approx(12.25 * 0.3048)
    assert leg.origin == "measured"
    post(page, plan, "set", bench="run", path="run.hot.n1.insulation_m", value="3/4 in")
    post(page, plan, "set", bench="run", path="run.hot.n1.pipe", value="Copper ¾ inch type L")
    leg = next(leg for leg in services.design_of(plan.head).run.hot if leg.id == "n1")
    assert leg.insulation_m == pytest.approx(0.75 * 0.0254)
    assert leg.pipe == PIPES["Copper ¾ inch type L"]
    text = read(page.get(bench_url(plan, "run"))).text
    assert "Copper ¾ inch type L, lagging 19 mm" in text
    post(page, plan, "set", bench="run", path="run.hot.n1.pipe", value="")
    assert next(leg for leg in services.design_of(plan.head).run.hot if leg.id == "n1").pipe is None
    assert post(page, plan, "entries", bench="run", list="run.hot", remove="n1").status_code == 302
    assert len(services.design_of(plan.head).run.hot) == legs
    post(page, plan, "entries", bench="run", add="split:hot:h2")
    assert len(services.design_of(plan.head).run.hot) == legs + 1


def test_what_cannot_be_done_to_a_leg_is_said_on_the_run_bench(plan: Plan, page: Client) -> None:
    answer = post(page, plan, "entries", bench="run", add="split:hot:h8")
    assert answer.status_code == 422
    assert "takes up the height that is left" in read(answer, 422).text
    assert post(page, plan, "entries", bench="run", add="leg:hot:gone").status_code == 422
    refused = post(page, plan, "set", bench="run", path="run.hot.h3.length_m", value="-2 m")
    assert refused.status_code == 422
    assert "outside what can be" in read(refused, 422).text


def test_a_line_that_does_not_reach_is_drawn_and_joined_by_its_cure(plan: Plan, page: Client) -> None:
    post(page, plan, "entries", bench="run", list="run.cold", remove="c4")
    shown = read(page.get(bench_url(plan, "run")))
    assert "The cold line does not join" in shown.text
    assert "Stop: the cold line never reaches the field" in shown.text
    post(page, plan, "cure", bench="run", finding="open_cold", cure="0")
    assert "does not join" not in read(page.get(bench_url(plan, "run"))).text


@pytest.mark.parametrize("units", ["metric", "us"])
def test_rows_and_the_buried_line_are_drawn(firm: Firm, person: User, page: Client, units: str) -> None:
    person.units = units
    person.save()
    plan = start_job(firm=firm, author=person, title="Pipwater pool", design=pipwater())
    text = read(page.get(bench_url(plan, "run"))).text
    assert "How the flow divides" in text
    assert text.count("of its share") == 4
    assert "The buried line in plan" in text
    assert "from A" in text
    if units == "us":
        return  # the paper is drawn once
    made = page.get(reverse("papers:job_sheet", args=(plan.job_id, plan.letter)))
    assert made.content.startswith(b"%PDF")


def test_rows_are_typed_and_refused_in_words(firm: Firm, person: User, page: Client) -> None:
    plan = start_job(firm=firm, author=person, title="Corrim hostel", design=corrim())
    refused = post(page, plan, "set", bench="run", path="collector.rows", value="a few")
    assert refused.status_code == 422
    assert "no list of rows" in read(refused, 422).text
    assert post(page, plan, "set", bench="run", path="collector.rows", value="4, 4, 4").status_code == 302
    assert services.design_of(plan.head).row_counts == (4, 4, 4)


def test_a_pump_with_fewer_speeds_takes_the_speed_along(plan: Plan, page: Client) -> None:
    post(page, plan, "set", bench="run", path="run.speed", value="3")
    post(page, plan, "set", bench="run", path="run.pump", value="Pump for 12 V")
    design = services.design_of(plan.head)
    assert design.run.speed.value == 1
    assert "By hour of sun" in read(page.get(bench_url(plan, "run"))).text


# the fluid


def test_the_mixing_tub_is_played_through_on_the_page(plan: Plan, page: Client) -> None:
    empty = read(page.get(bench_url(plan, "fluid")))
    assert "Nobody has read a refractometer yet" in empty.text
    assert post(page, plan, "entries", bench="fluid", add="reading").status_code == 302
    answer = post(page, plan, "set", bench="fluid", path="charge.log.r1.share", value="36,5 %")
    assert answer.status_code == 302
    assert answer["Location"].endswith("/fluid/")
    post(page, plan, "set", bench="fluid", path="charge.log.r1.date", value="2026-05-04")
    shown = read(page.get(bench_url(plan, "fluid"))).text
    said = re.search(r"Exchange ([\d.]+) L for concentrate", shown)
    assert said is not None
    assert "the loop is thinner than was planned" in shown
    post(page, plan, "set", bench="fluid", path="charge.log.r1.exchanged_l", value=f"{said.group(1)} L")
    shown = read(page.get(bench_url(plan, "fluid"))).text
    assert "The mix is right" in shown
    assert "thinner than was planned" not in shown
    post(page, plan, "entries", bench="fluid", list="charge.log", remove="r1")
    assert services.design_of(plan.head).charge.log == []


def test_a_wrong_reading_is_refused_on_the_fluid_page(plan: Plan, page: Client) -> None:
    post(page, plan, "entries", bench="fluid", add="reading")
    for path, value in (("share", "140 %"), ("date", "last week"), ("ph", "sour")):
        answer = post(page, plan, "set", bench="fluid", path=f"charge.log.r1.{path}", value=value)
        assert answer.status_code == 422, path
        assert "mixing tub" in read(answer, 422).text.lower()


def test_a_loop_of_water_has_nothing_to_mix(direct_plan: Plan, page: Client) -> None:
    text = read(page.get(bench_url(direct_plan, "fluid"))).text
    assert "nothing to mix" in text
    assert 'id="to-fluid"' not in page.get(bench_url(direct_plan, "charge")).content.decode()


def test_another_vessel_is_fitted_from_the_table(plan: Plan, page: Client) -> None:
    html = page.get(bench_url(plan, "charge")).content.decode()
    assert 'id="fit-25"' in html
    post(page, plan, "set", bench="charge", path="charge.vessel_l", value="25 L", origin="agreed")
    assert services.design_of(plan.head).charge.vessel_l.value == 25


# as found


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ({"cold": "1.77 bar", "cold_at": "10"}, "As it should be"),
        ({"cold": "1,2", "cold_at": "18"}, "are missing"),
        ({"cold": "25.7 psi", "cold_at": "50 °F"}, "As it should be"),
        ({"cold": "1.77", "cold_at": "10", "hot": "2.05", "hot_at": "80"}, "The two readings tell"),
        ({"cold": "1.77", "cold_at": "10", "hot": "2.9", "hot_at": "80"}, "No sound vessel gives these two readings"),
        ({"cold": "1.77", "cold_at": "10", "charge": "0.6"}, "Gas is gone"),
        ({"cold": "0.5", "cold_at": "15"}, "under vacuum"),
    ],
)
def test_a_gauge_is_told_in_words(plan: Plan, page: Client, typed: dict[str, str], words: str) -> None:
    assert words in read(page.get(address(plan, "found"), typed)).text


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ({"cold": "plenty"}, "is not a number"),
        ({"cold": "900 bar"}, "outside what can be read"),
        ({"cold": "1.77", "cold_at": "10", "hot": "1.5", "hot_at": "80"}, "must stand higher"),
        ({"cold": "1.77", "hot": "1.9", "hot_at": "12"}, "apart"),
    ],
)
def test_a_gauge_that_cannot_be_is_refused_and_kept(
    plan: Plan, page: Client, typed: dict[str, str], words: str
) -> None:
    answer = page.get(address(plan, "found"), typed)
    assert answer.status_code == 422
    shown = read(answer, 422)
    assert words in shown.text
    assert any(a.get("value") == typed["cold"] for a in shown.with_attribute("value"))


def test_a_loop_without_a_vessel_has_no_gauge_to_tell(direct_plan: Plan, page: Client) -> None:
    assert "no vessel" in read(page.get(address(direct_plan, "found"), {"cold": "2"})).text


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(
    st.dictionaries(
        st.sampled_from(["cold", "cold_at", "hot", "hot_at", "charge"]),
        st.text(max_size=8) | st.floats(-200, 200).map(lambda x: f"{x:.2f}"),
    )
)
def test_any_text_in_any_field_is_a_page(typed: dict[str, str]) -> None:
    sheet = Sheet(plan_b(), reckon(plan_b()), "metric")
    context = found_context(sheet, typed)
    assert len(context["fields"]) == 5
    for line in context["lines"]:
        assert line.what.text()


# a line of a data sheet


def test_a_line_is_read_every_way_and_the_right_one_taken(plan: Plan, page: Client) -> None:
    shown = read(page.get(address(plan, "reading"), {"line": "flow", "text": "2,5"})).text
    assert "2,5 L/min for one collector" in shown
    assert "makes sense" in shown
    rows = re.findall(r"(2,5 (?:L|gal)/(?:h|min) for (?:one collector|all 2))", shown)
    take = rows.index("2,5 L/min for one collector")
    answer = post(page, plan, "reading", line="flow", text="2,5", take=str(take))
    assert answer.status_code == 302
    design = services.design_of(plan.head)
    assert design.collector.item.value.flow_l_h == pytest.approx(150.0)
    assert design.collector.item.origin == "data sheet"


def test_what_is_no_number_stays_in_its_field(plan: Plan, page: Client) -> None:
    answer = page.get(address(plan, "reading"), {"line": "contents", "text": "a bucket"})
    assert answer.status_code == 422
    assert any(a.get("value") == "a bucket" for a in read(answer, 422).with_attribute("value"))
    assert post(page, plan, "reading", line="flow", text="2,5", take="99").status_code == 404
    assert post(page, plan, "reading", line="colour", text="2,5", take="0").status_code == 404


# a pump by its points


def pump_data(**more: str) -> dict[str, str]:
    return {
        "name": "Bench pump",
        "kind": "electronic",
        "volts": "230",
        "npsh": "1.5",
        "variable": "yes",
        "drinking": "no",
        "points-0": "0; 2.5\n5; 1.8\n9; 0",
        "power-0": "22",
    } | more


def test_a_pump_is_typed_by_its_points(plan: Plan, page: Client) -> None:
    assert post(page, plan, "pump", **pump_data()).status_code == 302
    pump = services.design_of(plan.head).run.pump
    assert pump.value.name == "Bench pump"
    assert pump.origin == "data sheet"
    assert pump.value.speeds[0].points_l_h_pa[1] == pytest.approx((300.0, 1.8 * 9806.65))
    assert "Bench pump" in read(page.get(bench_url(plan, "run"))).text


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"points-0": "0; 1\n5; 2"}, "must not rise"),
        ({"points-0": ""}, "1 to 6 speeds"),
        ({"points-0": "some"}, "is no point"),
        ({"power-0": ""}, "power of speed 1 is missing"),
        ({"volts": "many"}, "volts on its plate"),
        ({"npsh": "90 m"}, "0 to 20 m"),
    ],
)
def test_a_pump_that_cannot_be_is_refused_and_kept(plan: Plan, page: Client, more: dict[str, str], words: str) -> None:
    before = plan.head.number
    answer = post(page, plan, "pump", **pump_data(**more))
    assert answer.status_code == 422
    assert words in read(answer, 422).text
    assert "Bench pump" in answer.content.decode()
    assert plan.head.number == before


def test_a_pump_is_dropped_as_a_csv(plan: Plan, page: Client) -> None:
    text = "speed,flow,head,power\nslow,0,1.5,20\nslow,8,0,\nfast,0,3,40\nfast,12,0,\n"
    file = SimpleUploadedFile("Pump from the shelf.csv", text.encode())
    assert post(page, plan, "pump", do="file", file=file).status_code == 302
    pump = services.design_of(plan.head).run.pump.value
    assert pump.name == "Pump from the shelf"
    assert [speed.name for speed in pump.speeds] == ["slow", "fast"]


@pytest.mark.parametrize(
    ("content", "words"), [(b"", "empty"), (b"\xff\xfe\x00", "no text file"), (b"x" * 200_000, "larger than any")]
)
def test_a_file_that_is_no_pump_is_refused(plan: Plan, page: Client, content: bytes, words: str) -> None:
    answer = post(page, plan, "pump", do="file", file=SimpleUploadedFile("pump.csv", content))
    assert answer.status_code == 422
    assert words in read(answer, 422).text


@pytest.mark.parametrize("name", ["pump", "reading"])
def test_somebody_else_was_faster(plan: Plan, page: Client, name: str) -> None:
    before = plan.head.number
    post(page, plan, "set", bench="run", path="run.bends", value="25")
    data = pump_data() if name == "pump" else {"line": "flow", "text": "2,5", "take": "0"}
    answer = page.post(address(plan, name), {"revision": before, **data})
    assert answer.status_code == 409
    assert "meanwhile" in read(answer, 409).text


@pytest.mark.parametrize("key", sorted(PAGES))
def test_pages_draw_extreme_routes(key: str) -> None:
    """Sixty legs, a leg of nothing, both lines torn open: every page is still drawn."""
    design = plan_b()
    legs = [design.run.hot[1 + n % 3].model_copy(update={"id": f"q{n}"}) for n in range(60)]
    torn = [leg for leg in design.run.cold if not leg.fitted]
    for changes in (
        [Change("run.hot", legs)],
        [Change("run.cold", torn), Change("run.hot", [leg for leg in design.run.hot if not leg.fitted])],
        [Change("run.hot.h3.length_m", 0.0), Change("run.hot.h3.rise_m", 0.0)],
        [Change("run.cold.c3.place", "buried"), Change("run.points_apart_m", 0.5), Change("run.cold.c3.from_a_m", 9.0), Change("run.cold.c3.from_b_m", 1.0)],
    ):  # fmt: skip
        sheet = Sheet(changed(design, changes), reckon(changed(design, changes)), "us")
        for block in PAGES[key].blocks(sheet):
            if block.drawing is not None:
                assert "nan" not in block.drawing.svg().lower().replace("nance", "")
