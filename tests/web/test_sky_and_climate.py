"""The Sun bench and the climate page over HTTP: adding, dragging, typing, dropping a file."""

from __future__ import annotations

import csv
import datetime
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from rowan.core.goods.places import PLACES
from rowan.demo.tolliver import tolliver
from rowan.web.accounts.models import Firm, User
from rowan.web.plans import services
from rowan.web.plans.models import Plan, WeatherYear
from rowan.web.steps.sun.horizon import View
from tests.web.test_pages import bench_url, post, read

pytestmark = pytest.mark.django_db
ROWS = Path("tests/core/reference/year/weather.csv")


def climate_url(plan: Plan) -> str:
    return reverse("steps:climate", args=(plan.job_id, plan.letter))


def send(page: Client, plan: Plan, **data: object) -> object:
    return page.post(climate_url(plan), {"revision": plan.head.number, **data})


def weather_file(zone: float = 0.0, name: str = "made.epw") -> SimpleUploadedFile:
    lines = [f"LOCATION,Aldersund,-,-,made,000000,57.2,-3.1,{zone},85", *["-"] * 7]
    start = datetime.datetime(2021, 1, 1)
    with ROWS.open(encoding="utf-8", newline="") as file:
        for i, row in enumerate(csv.DictReader(file)):
            at = start + datetime.timedelta(hours=i)
            head = f"{at.year},{at.month},{at.day},{at.hour + 1},0,?,{row['air_c']},0,50,100000,0,0,300"
            lines.append(f"{head},{row['ghi_w_m2']},{row['dni_w_m2']},{row['dhi_w_m2']}" + ",0" * 19)
    return SimpleUploadedFile(name, "\n".join(lines).encode())


def test_a_tree_is_added_moved_and_taken_away(plan: Plan, page: Client) -> None:
    before = len(services.design_of(plan.head).sun.obstacles)
    assert post(page, plan, "entries", add="tree", bench="sun").status_code == 302
    tree = services.design_of(plan.head).sun.obstacles[-1]
    assert tree.kind == "tree"
    assert f'id="drag-obstacle-{tree.id}"' in page.get(bench_url(plan, "sun")).content.decode()
    moved = post(page, plan, "drag", path=f"obstacle:{tree.id}", value="200", second="15", bench="sun")
    assert moved.status_code == 302
    assert services.design_of(plan.head).sun.obstacles[-1].bearing_deg == 200
    typed = post(page, plan, "set", path=f"sun.obstacles.{tree.id}.distance_m", value="60 ft", bench="sun")
    assert typed.status_code == 302
    assert services.design_of(plan.head).sun.obstacles[-1].distance_m == pytest.approx(18.288)
    gone = post(page, plan, "entries", remove=tree.id, list="sun.obstacles", bench="sun")
    assert gone.status_code == 302
    assert len(services.design_of(plan.head).sun.obstacles) == before
    undo = reverse("steps:step", args=(plan.job_id, plan.letter, "undo"))
    page.post(undo, {"revision": plan.head.number, "bench": "sun"})
    assert services.design_of(plan.head).sun.obstacles[-1].id == tree.id


def test_a_refused_entry_keeps_what_was_typed(plan: Plan, page: Client) -> None:
    answer = post(page, plan, "set", path="sun.obstacles.o1.distance_m", value="0", bench="sun")
    assert answer.status_code == 422
    assert 'aria-invalid="true"' in answer.content.decode()
    assert post(page, plan, "entries", add="volcano", bench="sun").status_code == 422
    assert post(page, plan, "entries", remove="zz", list="run.cold", bench="sun").status_code == 422
    assert post(page, plan, "set", path="sun.obstacles.zz.distance_m", value="3", bench="sun").status_code == 404
    assert post(page, plan, "drag", path="obstacle:o1", value="10", bench="sun").status_code == 422
    assert post(page, plan, "drag", path="obstacle:o1", value="10", second="x", bench="sun").status_code == 404


def test_too_much_shade_says_no_and_has_a_page_for_it(person: User, page: Client) -> None:
    plan = services.start_job(firm=person.firm, author=person, title="Tolliver", design=tolliver())  # type: ignore[arg-type]
    shown = read(page.get(bench_url(plan, "sun")))
    assert "Say no: shade takes 40" in shown.text
    assert "too much shade to build here" in shown.text
    letter = page.get(reverse("papers:shade_letter", args=(plan.job_id, plan.letter)))
    assert letter.status_code == 200
    assert letter["Content-Type"] == "application/pdf"
    assert letter.content[:5] == b"%PDF-"


@pytest.mark.parametrize(
    ("latitude", "middle", "half"), [(57, 180, 140), (-29, 0, 140), (10, 180, 180), (-10, 180, 180)]
)
def test_the_view_looks_toward_the_sun(latitude: float, middle: float, half: float) -> None:
    view = View(latitude)
    assert (view.middle, view.half) == (middle, half)
    assert view.x(middle - 90) < view.x(middle) < view.x(middle + 90)
    assert view.y(30) < view.y(0)


@pytest.mark.parametrize("latitude", ["-29.4", "10", "-3", "0", "23.45", "64"])
def test_the_sky_is_drawn_everywhere(plan: Plan, page: Client, latitude: str) -> None:
    assert post(page, plan, "set", path="survey.latitude_deg", value=latitude, bench="sun").status_code == 302
    html = page.get(bench_url(plan, "sun")).content.decode()
    assert html.count('class="sun-way"') >= 3
    assert "December" in html


# climate


def test_a_file_becomes_the_year_of_the_plan(plan: Plan, page: Client) -> None:
    answer = send(page, plan, do="file", file=weather_file())
    assert answer.status_code == 200  # type: ignore[attr-defined]
    text = read(answer).text  # type: ignore[arg-type]
    assert "Nothing had to be mended" in text
    design = services.design_of(plan.head)
    assert design.survey.weather.value is not None
    assert WeatherYear.objects.get().digest == design.survey.weather.value.digest
    store = read(page.get(bench_url(plan, "store"))).text
    assert "Aldersund, made.epw, in steps of a minute" in store
    send(page, plan, do="file", file=weather_file())
    assert WeatherYear.objects.count() == 1, "the same year is kept once"
    post(page, plan, "set", path="survey.weather", value="")
    assert "the made mean year, in steps" in read(page.get(bench_url(plan, "store"))).text
    year = WeatherYear.objects.get()
    assert send(page, plan, do="year", year=year.pk).status_code == 302  # type: ignore[attr-defined]
    assert services.design_of(plan.head).survey.weather.value is not None


def test_a_bad_file_is_refused_and_nothing_changes(plan: Plan, page: Client) -> None:
    for file, words in (
        (SimpleUploadedFile("x.csv", b"a,b\n1,2\n"), "none of the weather files"),
        (weather_file(zone=9), "shines at night"),
        (None, "choose a file first"),
    ):
        answer = send(page, plan, do="file", **({"file": file} if file else {}))
        assert answer.status_code == 422  # type: ignore[attr-defined]
        assert words in read(answer, 422).text  # type: ignore[arg-type]
    assert plan.head.number == 1
    assert not WeatherYear.objects.exists()


def test_twelve_means_are_typed_and_wrong_ones_stay_in_their_fields(plan: Plan, page: Client) -> None:
    means = {f"ghi-{m}": str(1 + m / 4) for m in range(12)} | {f"air-{m}": str(m) for m in range(12)}
    assert send(page, plan, do="normals", **means).status_code == 302  # type: ignore[attr-defined]
    assert services.design_of(plan.head).survey.normals.value.ghi_kwh_m2_day[4] == 2.0
    number = plan.head.number
    answer = send(page, plan, do="normals", **{**means, "ghi-3": "sunny", "air-5": "99"})
    assert answer.status_code == 422  # type: ignore[attr-defined]
    html = answer.content.decode()  # type: ignore[attr-defined]
    assert 'value="sunny"' in html
    assert html.count('aria-invalid="true"') == 4
    assert plan.head.number == number


def test_us_means_are_read_in_their_units(plan: Plan, page: Client, person: User) -> None:
    person.units = "us"
    person.save()
    means = {f"ghi-{m}": "0.4" for m in range(12)} | {f"air-{m}": "50" for m in range(12)}
    assert send(page, plan, do="normals", **means).status_code == 302  # type: ignore[attr-defined]
    normals = services.design_of(plan.head).survey.normals.value
    assert normals.air_c[0] == pytest.approx(10.0)
    assert normals.ghi_kwh_m2_day[0] == pytest.approx(0.4 / 0.3048**2, rel=1e-3)


def test_a_place_brings_its_climate_and_its_coldest_night(plan: Plan, page: Client) -> None:
    assert send(page, plan, do="place", place="Corrim").status_code == 302  # type: ignore[attr-defined]
    survey = services.design_of(plan.head).survey
    assert survey.design_minimum_c.value == PLACES["Corrim"].design_minimum_c
    for data in ({"do": "place", "place": "Atlantis"}, {"do": "nothing"}, {"do": "year", "year": "x"}):
        assert send(page, plan, **data).status_code == 404  # type: ignore[attr-defined]


def test_another_firm_s_weather_is_not_there(plan: Plan, page: Client) -> None:
    send(page, plan, do="file", file=weather_file())
    year = WeatherYear.objects.get()
    year.firm = Firm.objects.create(name="Other")
    year.save()
    assert send(page, plan, do="year", year=year.pk).status_code == 404  # type: ignore[attr-defined]
    text = read(page.get(climate_url(plan))).text
    assert "is not here: the year is made from its twelve means" in text


def test_a_stale_climate_page_does_not_overwrite(plan: Plan, page: Client) -> None:
    post(page, plan, "set", path="charge.relief_gauge_pa", value="4 bar")
    answer = page.post(climate_url(plan), {"revision": 1, "do": "place", "place": "Corrim"})
    assert answer.status_code == 409
    assert services.design_of(plan.head).survey.place.value == "Aldersund"
