"""A store typed from its data sheet: losses as they are printed, ports that come along, refusals in its fields."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.goods.catalogue import STORES
from rowan.core.records.store_sheet import loss_by_area, store_doubts, tank_surface
from rowan.core.terms.errors import RowanError
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.store.data_sheet import store_fields
from tests.web.text import one_line


def address(plan: Plan) -> str:
    return f"/jobs/{plan.job_id}/A/store-sheet/"


def typed(plan: Plan, **change: str) -> dict[str, Any]:
    item = services.design_of(plan.head).store.item.value
    fields = {key: field.typed for key, field in store_fields(item, "metric").items()}
    choices = {"name": item.name, "coil_kind": item.coil_kind, "twin_coil": "yes", "loss_form": "area"}
    return {**fields, **choices, "revision": plan.head.number, **change}


@given(volume=st.floats(0.05, 5), slim=st.floats(0.8, 5), loss=st.floats(0.3, 2))
def test_what_is_printed_by_the_day_or_as_a_power_means_the_same_coat(volume: float, slim: float, loss: float) -> None:
    diameter = (4 * volume / (3.141592653589793 * slim)) ** (1 / 3)
    surface = tank_surface(volume=volume, diameter=diameter)
    power = loss * surface * 45.0
    assert loss_by_area(form="power", loss=power, surface=surface) == pytest.approx(loss)
    assert loss_by_area(form="day", loss=power * 86400, surface=surface) == pytest.approx(loss)
    assert loss_by_area(form="area", loss=loss, surface=surface) == loss


def test_a_surface_by_hand() -> None:
    """0.6 m wide and 1.2 m high: two feet of 0.2827 m² and a coat of 2.2619 m²."""
    assert tank_surface(volume=0.33929, diameter=0.6) == pytest.approx(2.8274, abs=1e-3)


@pytest.mark.parametrize("key", ["volume", "diameter"])
def test_a_tank_of_nothing_is_refused(key: str) -> None:
    with pytest.raises(RowanError):
        tank_surface(**({"volume": 0.3, "diameter": 0.6} | {key: 0.0}))


def test_mixed_up_lines_are_noticed_and_the_catalogue_has_none() -> None:
    assert [store_doubts(item) for item in STORES.values() if store_doubts(item)] == []
    item = STORES["Store 300 twin coil"]
    changed = {
        "coil_top_m": ("its coil ends", 3.0),
        "loss_w_m2k": ("W/m²K", 24.0),
        "diameter_m": ("outer width", 1.2),
        "coil_area_m2": ("of coil for each", 12.0),
    }
    for name, (words, value) in changed.items():
        assert any(words in doubt for doubt in store_doubts(item.model_copy(update={name: value}))), name


@pytest.mark.django_db
def test_saving_the_sheet_as_it_stands_keeps_the_store(plan: Plan, page: Client) -> None:
    before = services.design_of(plan.head)
    assert page.post(address(plan), typed(plan)).status_code == 302
    after = services.design_of(plan.head)
    assert after.store.item.value == before.store.item.value
    assert after.store.item.origin == "data sheet"
    assert after.store.lower_sensor_m.value == before.store.lower_sensor_m.value


@pytest.mark.django_db
def test_ports_come_along_with_a_store_that_has_them_elsewhere(plan: Plan, page: Client) -> None:
    answer = page.post(
        address(plan), typed(plan, coil_bottom_m="20 cm", coil_top_m="0,9", loss="1.8 kWh", loss_form="day")
    )
    assert answer.status_code == 302, one_line(answer)[:500]
    store = services.design_of(plan.head).store
    assert (store.coil_bottom_m.value, store.coil_top_m.value) == (0.2, 0.9)
    assert 0.2 < store.lower_sensor_m.value < 0.9
    item = store.item.value
    surface = tank_surface(volume=item.contents_l / 1000, diameter=item.diameter_m)
    assert item.loss_w_m2k == pytest.approx(1800 / 24 / 45 / surface, abs=1e-4)


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"contents_l": "much"}, "is not a number"),
        ({"contents_l": "0"}, "Not taken"),
        ({"loss": "0"}, "Not taken"),
        ({"coil_area_m2": "-1"}, "Not taken"),
    ],
)
def test_what_cannot_be_stays_typed(plan: Plan, page: Client, change: dict[str, str], words: str) -> None:
    number = plan.head.number
    answer = page.post(address(plan), typed(plan, name="Tank of my own", **change))
    assert answer.status_code == 422
    assert words in one_line(answer)
    assert 'value="Tank of my own"' in one_line(answer)
    assert plan.head.number == number


@pytest.mark.django_db
def test_an_old_revision_overwrites_nothing(plan: Plan, page: Client) -> None:
    first = typed(plan, name="First")
    assert page.post(address(plan), first).status_code == 302
    answer = page.post(address(plan), {**first, "name": "Second"})
    assert answer.status_code == 409
    assert services.design_of(plan.head).store.item.value.name == "First"


@pytest.mark.django_db
def test_the_bench_leads_there_and_us_units_are_taken(plan: Plan, page: Client) -> None:
    assert address(plan) in page.get(f"/jobs/{plan.job_id}/A/store/").content.decode()
    page.post("/units/", {"units": "us", "next": "/"})
    text = one_line(page.get(address(plan)))
    assert "Btu/h·ft²·°F" in text
    assert " W/m²·K </span>" not in text
