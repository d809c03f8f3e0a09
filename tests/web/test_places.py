"""Places of a firm: kept with their climate, offered in the four facts, copied into plans; how far their weather was measured."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.goods.places import PLACES
from rowan.core.weather.station import apart
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import FirmPlace, Job, WeatherYear
from rowan.web.plans.services import design_of

FORM = {
    "name": "Brackwater", "latitude": "57,05", "longitude": "-3.2", "altitude": "210 m", "coldest": "-16",
    "ghi": "0.5 1.2 2.3 3.8 4.9 5.0 4.7 3.8 2.6 1.3 0.6 0.3", "air": "2 3 4 6 9 12 14 14 11 8 5 3",
}  # fmt: skip


def test_a_place_of_one_s_own_is_kept_and_stands_among_the_four_facts(page: Client, firm: Firm) -> None:
    assert page.post(reverse("jobs:places"), FORM).status_code == 302
    found = FirmPlace.objects.get()
    assert (found.latitude, found.altitude, found.coldest, found.ghi[4], found.air[6]) == (57.05, 210, -16, 4.9, 14)
    assert "Brackwater, 57.05° N" in page.get(reverse("jobs:list")).content.decode()
    facts = {
        "place": "Brackwater",
        "azimuth": "180",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
    }
    assert page.post(reverse("jobs:start"), facts).status_code == 302
    survey = design_of(Job.objects.get().plans.get().head).survey
    assert (survey.place.value, survey.altitude_m.value, survey.design_minimum_c.value) == ("Brackwater", 210, -16)
    assert survey.normals.value.air_c[0] == 2
    page.post(reverse("jobs:remove_place", args=(found.pk,)))
    assert design_of(Job.objects.get().plans.get().head).survey.place.value == "Brackwater"  # what it took it keeps


@pytest.mark.parametrize(("wrong", "words"), [
    ({"name": " "}, "a place needs a name"), ({"latitude": "97"}, "a latitude lies between"), ({"ghi": "1 2 3"}, "twelve means"),
    ({"altitude": "high"}, "high"), ({"air": "2 3 4 6 9 12 14 99 11 8 5 3"}, "twelve means"), ({"coldest": "-90"}, "coldest night between"),
])  # fmt: skip
def test_a_place_that_cannot_be_is_asked_back_with_what_was_typed(
    page: Client, wrong: dict[str, str], words: str
) -> None:
    answer = page.post(reverse("jobs:places"), {**FORM, **wrong})
    assert answer.status_code == 422
    html = answer.content.decode()
    assert words in html
    assert f'value="{FORM["longitude"]}"' in html
    assert not FirmPlace.objects.exists()


def test_a_place_by_a_weather_year_brings_the_year_and_says_how_far_it_was_measured(
    page: Client, firm: Firm, person: User
) -> None:
    place = PLACES["Aldersund"]
    year = WeatherYear.objects.create(
        firm=firm, name="Aldersund airfield", digest="a" * 64, kind="epw", latitude=57.6, longitude=-3.1, altitude=30, utc_offset=0,
        rows=b"", means={"ghi": list(place.ghi_kwh_m2_day), "air": list(place.air_c), "coldest": -12},
    )  # fmt: skip
    assert page.post(reverse("jobs:places"), {**FORM, "ghi": "", "air": "", "year": year.pk}).status_code == 302
    html = page.get(reverse("jobs:places")).content.decode()
    assert "its weather was measured" in html
    found = FirmPlace.objects.get()
    assert found.air == list(place.air_c)
    facts = {
        "place": "Brackwater",
        "azimuth": "180",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
    }
    assert page.post(reverse("jobs:start"), facts).status_code == 302
    assert design_of(Job.objects.get().plans.get().head).survey.weather.value.digest == "a" * 64


def test_another_firm_s_place_is_not_offered(page: Client, stranger: User, client: Client) -> None:
    page.post(reverse("jobs:places"), FORM)
    client.force_login(stranger)
    assert "Brackwater, 57" not in client.get(reverse("jobs:list")).content.decode()
    assert client.post(reverse("jobs:remove_place", args=(FirmPlace.objects.get().pk,))).status_code == 404


def test_the_distance_is_the_great_circle_s() -> None:
    """A degree of latitude is 111.2 km on a sphere of 6,371 km; half way round is half its girth."""
    found = apart(latitude=50, longitude=8, altitude=300, to_latitude=51, to_longitude=8, to_altitude=100)
    assert found.distance == pytest.approx(111_195, rel=1e-4)
    assert (found.higher, found.colder) == (200, pytest.approx(1.3))
    assert found.level == "mind"
    round_ = apart(latitude=0, longitude=0, altitude=0, to_latitude=0, to_longitude=180, to_altitude=0)
    assert round_.distance == pytest.approx(20_015_087, rel=1e-4)
    assert (
        apart(latitude=50, longitude=8, altitude=300, to_latitude=50.1, to_longitude=8, to_altitude=250).level is None
    )


@given(*(st.floats(-89, 89),) * 2, *(st.floats(-180, 180),) * 2)
def test_the_way_there_is_as_far_as_back(one: float, other: float, east: float, west: float) -> None:
    there = apart(
        latitude=one, longitude=east, altitude=0, to_latitude=other, to_longitude=west, to_altitude=0
    ).distance
    back = apart(latitude=other, longitude=west, altitude=0, to_latitude=one, to_longitude=east, to_altitude=0).distance
    assert there == pytest.approx(back, abs=1e-3)
    assert 0 <= there <= 20_015_088
