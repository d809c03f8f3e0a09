"""Many jobs: in an order, by their state, on a map without tiles, and told apart."""

from __future__ import annotations

import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.job_file import dump
from rowan.demo.kvist import kvist_plan_a
from rowan.web.accounts.models import Firm, User
from rowan.web.customers.models import JobCard, Site
from rowan.web.jobs.ledger import Ask
from rowan.web.jobs.map_drawing import CELL_PX, Spot, groups, map_drawing
from rowan.web.plans.models import Job
from rowan.web.plans.services import start_job

pytestmark = pytest.mark.django_db
NAMES = re.compile(r'class="job-name"\s+href="[^"]*">([^<]*)<')


@pytest.fixture
def jobs(firm: Firm, person: User) -> list[Job]:
    """Three jobs: begun in this order, in three states, two of them with a site on the map."""
    made = [
        start_job(firm=firm, author=person, title=title, design=kvist_plan_a()).job for title in ("Cob", "ash", "Birk")
    ]
    for job, state, at in zip(made, ("service", "enquiry", "quoted"), ((57.3, 10.1), (57.3, 10.9), None), strict=True):
        card, _ = JobCard.objects.get_or_create(job=job)
        card.state = state
        card.site = at and Site.objects.create(firm=firm, address=job.title, latitude=at[0], longitude=at[1])
        card.save()
    return made


@pytest.mark.parametrize(
    ("order", "names"),
    [
        ("newest", ["Birk", "ash", "Cob"]),
        ("oldest", ["Cob", "ash", "Birk"]),
        ("name", ["ash", "Birk", "Cob"]),
        ("state", ["ash", "Birk", "Cob"]),
        ("colour", ["Birk", "ash", "Cob"]),
    ],
)
def test_jobs_stand_in_the_order_asked_for(page: Client, jobs: list[Job], order: str, names: list[str]) -> None:
    html = page.get(reverse("jobs:list"), {"order": order}).content.decode()
    assert NAMES.findall(html) == names


def test_jobs_of_one_state_are_counted_and_found(page: Client, jobs: list[Job]) -> None:
    html = page.get(reverse("jobs:list")).content.decode()
    assert "quoted 1" in html
    assert "handed over" not in re.sub(r"<svg.*?</svg>", "", html, flags=re.DOTALL).split('id="ledger"')[1]
    assert NAMES.findall(page.get(reverse("jobs:list"), {"state": "quoted"}).content.decode()) == ["Birk"]
    sought = page.get(reverse("jobs:list"), {"q": "b", "state": "quoted"}).content.decode()
    assert "quoted 1" in sought
    assert "enquiry 1" not in sought, "ash has no b"


def test_the_map_leads_to_the_jobs_of_a_place_and_a_place_to_its_list(page: Client, jobs: list[Job]) -> None:
    html = page.get(reverse("jobs:map")).content.decode()
    assert "3 jobs on the map" in html
    assert "1 stands where the place of the plan is" in html
    links = re.findall(r'<a href="([^"]*)" aria-label="([^"]*)" class="map-dot">', html)
    assert {name for _, name in links} == {"Cob", "ash", "Birk"}
    assert page.get(links[0][0]).status_code == 200
    assert "2 jobs on the map" in page.get(reverse("jobs:map"), {"q": "b"}).content.decode()


def test_more_jobs_than_a_page_holds_are_looked_at_nearer(page: Client, firm: Firm, person: User) -> None:
    at = start_job(firm=firm, author=person, title="House", design=kvist_plan_a()).job
    far = Site.objects.create(firm=firm, address="far", latitude=20.0, longitude=10.0)
    JobCard.objects.update_or_create(job=at, defaults={"site": far})
    for n in range(24):
        site = Site.objects.create(firm=firm, address=f"{n}", latitude=57.0 + n / 100, longitude=10.0)
        JobCard.objects.create(job=Job.objects.create(firm=firm, title=f"House {n}"), site=site)
    whole = page.get(reverse("jobs:map")).content.decode()
    nearer = re.search(r'<a href="(/map/[^"]*)" aria-label="24 jobs', whole)
    assert nearer is not None
    html = page.get(nearer[1].replace("&amp;", "&")).content.decode()
    assert "24 jobs on the map" in html
    assert "the whole map" in html
    assert len(re.findall('class="map-dot"', html)) > 3


def test_a_part_of_the_map_is_a_list(page: Client, jobs: list[Job]) -> None:
    found = page.get(reverse("jobs:list"), {"in": "57.3,10,57.3,10.5"}).content.decode()
    assert NAMES.findall(found) == ["Cob"]
    assert "Everywhere" in found
    for odd in ("57,10,56,11", "a,b,c,d", "57.3,10,57.3", "1e9,1,1,1"):
        assert len(NAMES.findall(page.get(reverse("jobs:list"), {"in": odd}).content.decode())) == 3


def test_another_firm_s_jobs_are_on_no_map(stranger: User, jobs: list[Job]) -> None:
    theirs = Client()
    theirs.force_login(stranger)
    assert "No job is on the map" in theirs.get(reverse("jobs:map")).content.decode()


def test_a_file_that_is_taken_in_twice_is_two_jobs_with_two_names(page: Client, firm: Firm) -> None:
    text = dump(kvist_plan_a()).encode()
    for _ in range(2):
        files = [SimpleUploadedFile(f"{n}.json", text) for n in range(2)]
        assert page.post(reverse("jobs:take_in"), {"file": files}).status_code == 302
    titles = sorted(firm.jobs.values_list("title", flat=True))
    first = titles[0]
    assert titles == [first, f"{first} (2)", f"{first} (3)", f"{first} (4)"]


SPOTS = st.lists(
    st.builds(
        Spot,
        latitude=st.floats(-80, 80),
        longitude=st.floats(-179, 179),
        job=st.integers(1, 10**6),
        title=st.just("job"),
        place=st.sampled_from(["Aldersund", "Corrim"]),
        own=st.booleans(),
    ),
    min_size=1,
    max_size=30,
)


@given(spots=SPOTS)
def test_every_job_is_in_one_dot_inside_the_map(spots: list[Spot]) -> None:
    found = groups(spots)
    assert sorted(spot.job for group in found for spot in group.spots) == sorted(spot.job for spot in spots)
    drawing = map_drawing(found, ["/"] * len(found), "metric")
    for group in found:
        assert 0 <= group.x <= drawing.width
        assert 0 <= group.y <= drawing.height
        south, west, north, east = group.box
        assert all(south <= s.latitude <= north and west <= s.longitude <= east for s in group.spots)


def test_houses_a_thumb_apart_are_two_dots_and_the_bar_is_true() -> None:
    spots = [Spot(50.0, 10.0, 1, "a", "P", own=True), Spot(50.0, 11.0, 2, "b", "P", own=True)]
    one, other = sorted(groups(spots), key=lambda group: group.x)
    assert other.x - one.x > CELL_PX
    svg = map_drawing(groups(spots), ["/", "/"], "metric").svg()
    # a degree of longitude at 50° north is 71.5 km: published tables of the sphere
    bar = re.search(r'<line x1="([\d.]+)" y1="18" x2="([\d.]+)" y2="18" class="stroke">', svg)
    words = re.search(r">(\d+) km<", svg)
    assert bar is not None
    assert words is not None
    per_km = (float(bar[2]) - float(bar[1])) / float(words[1])
    assert (other.x - one.x) / per_km == pytest.approx(71.5, abs=0.2)
    assert " mi<" in map_drawing(groups(spots), ["/", "/"], "us").svg()


def test_a_question_keeps_its_parts_in_an_address() -> None:
    ask = Ask.of({"q": "kvist", "state": "quoted", "order": "name", "in": "57,10,58,11", "page": "3"})
    assert ask.query() == "?q=kvist&state=quoted&order=name&in=57.00000%2C10.00000%2C58.00000%2C11.00000&page=3"
    assert Ask.of({}).query() == "?"
