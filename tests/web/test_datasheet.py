"""A collector typed from its data sheet: either rating form, either area, refused in its fields."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.fluid import properties
from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.goods.efficiency import Rating, mean_to_inlet
from rowan.core.reckon import reckon
from rowan.core.records.data_sheet import Sheet, plausibility, rating_on_aperture
from rowan.core.steps.parts.pricing import work_hours
from rowan.core.terms.errors import ImpossibleInputError
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.collector.data_sheet import fields_of
from tests.core.designs import altered, plan_a
from tests.web.test_pages import read

PLATE = COLLECTORS["Plate 2.3 selective"]


def address(plan: Plan) -> str:
    return reverse("steps:datasheet", args=(plan.job_id, plan.letter))


def typed(plan: Plan, **change: str) -> dict[str, Any]:
    item = services.design_of(plan.head).collector.item.value
    fields = {key: field.typed for key, field in fields_of(item, "metric").items()}
    choices = {"name": item.name, "kind": item.kind, "form": "mean", "area": "aperture", "drains": "yes"}
    return {**fields, **choices, "revision": plan.head.number, **change}


@given(eta0=st.floats(0.4, 0.9), a1=st.floats(1, 9), flow=st.floats(60, 300))
def test_both_forms_mean_the_same_collector(eta0: float, a1: float, flow: float) -> None:
    water = properties(volume_share=0.0, temperature=30.0)
    mass_flow = flow * 1e-3 / 3600 * water.density
    printed = mean_to_inlet(rating=Rating(eta0, a1), area=2.3, flow=mass_flow, heat_capacity=water.heat_capacity)
    sheet = Sheet("inlet", "aperture", printed.fr_tau_alpha, printed.fr_ul, 0.0, flow)
    back = rating_on_aperture(sheet=sheet, aperture=2.3, gross=2.4)
    assert back.eta0 == pytest.approx(eta0, rel=1e-9)
    assert back.a1 == pytest.approx(a1, rel=1e-9)


@given(ratio=st.floats(1.0, 1.7))
def test_a_rating_on_the_gross_area_gives_the_same_watts(ratio: float) -> None:
    on_gross = rating_on_aperture(sheet=Sheet("mean", "gross", 0.7, 3.0, 0.01), aperture=2.0, gross=2.0 * ratio)
    assert on_gross.eta0 * 2.0 == pytest.approx(0.7 * 2.0 * ratio)
    assert on_gross.a2 * 2.0 == pytest.approx(0.01 * 2.0 * ratio)


def test_sheets_that_cannot_be_are_refused() -> None:
    with pytest.raises(ImpossibleInputError, match="flow it was measured with"):
        rating_on_aperture(sheet=Sheet("inlet", "aperture", 0.7, 4.0), aperture=2, gross=2.1)
    with pytest.raises(ImpossibleInputError, match="gross area"):
        rating_on_aperture(sheet=Sheet("mean", "aperture", 0.7, 4.0), aperture=2.2, gross=2.1)


def test_mixed_up_lines_are_noticed() -> None:
    assert plausibility(PLATE) == ()
    assert any("per collector, or in all" in w for w in plausibility(PLATE.model_copy(update={"flow_l_h": 1200.0})))
    assert any("gain and loss" in w for w in plausibility(PLATE.model_copy(update={"a1_w_m2k": 0.2, "a2_w_m2k2": 0.0})))
    assert any("gross area" in w for w in plausibility(PLATE.model_copy(update={"width_m": 2.0})))
    assert any("measured dry" in w for w in plausibility(PLATE.model_copy(update={"stagnation_c": 95.0})))
    assert plausibility(PLATE.model_copy(update={"stagnation_c": 195.0})) == ()
    assert any("holds" in w for w in plausibility(PLATE.model_copy(update={"contents_l": 16.0})))


@pytest.mark.django_db
def test_saving_the_sheet_as_it_stands_keeps_the_collector(plan: Plan, page: Client) -> None:
    before = services.design_of(plan.head).collector.item.value
    answer = page.post(address(plan), typed(plan))
    assert answer.status_code == 302, read(answer, 422).text[:900]
    after = services.design_of(plan.head).collector.item.value
    same, other = before.model_dump(), after.model_dump()
    points = zip(same.pop("drop_points_l_h_pa"), other.pop("drop_points_l_h_pa"), strict=True)
    assert all(a == pytest.approx(b) for a, b in points)
    words = {key: value for key, value in same.items() if isinstance(value, str | bool | list)}
    assert {key: other[key] for key in words} == words
    numbers = {key: value for key, value in same.items() if key not in words}
    assert {key: other[key] for key in numbers} == pytest.approx(numbers)


@pytest.mark.django_db
def test_an_inlet_rating_is_typed_in_the_units_it_is_printed_in(plan: Plan, page: Client) -> None:
    data = typed(plan, name="Rooftop 8", form="inlet", gain="0.74", loss="4.83", test_flow="140 L/h")
    answer = page.post(address(plan), data)
    assert answer.status_code == 302
    item = services.design_of(plan.head).collector.item.value
    assert item.name == "Rooftop 8"
    assert item.eta0 > 0.74
    assert item.a1_w_m2k == pytest.approx(4.83 / 0.74 * item.eta0, rel=0.01)
    assert item.a2_w_m2k2 == 0
    assert services.design_of(plan.head).collector.item.origin == "data sheet"
    assert "Rooftop 8" in read(page.get(reverse("steps:bench", args=(plan.job_id, plan.letter, "collector")))).text


@pytest.mark.django_db
def test_a_wrong_line_stays_in_its_field(plan: Plan, page: Client) -> None:
    answer = page.post(address(plan), typed(plan, gain="good", width_m="wide"))
    assert answer.status_code == 422
    html = answer.content.decode()
    assert 'value="good"' in html
    assert html.count('aria-invalid="true"') == 2
    assert plan.head.number == 1
    assert page.post(address(plan), typed(plan, aperture_m2="3")).status_code == 422
    assert page.post(address(plan), typed(plan, gain="7")).status_code == 422
    assert plan.head.number == 1


TABLE = "10 1.02 1.00\n30 1.12 0.98\n50 1.30 0.92"


@pytest.mark.django_db
def test_the_rest_of_a_sheet_is_kept_and_empty_means_nobody_says(plan: Plan, page: Client) -> None:
    more = {
        "stagnation_c": "201",
        "rated_gust_m_s": "140 km/h",
        "rated_snow_pa": "2.4",
        "pieces": "22",
        "assembly_h": "1.5",
    }
    more |= {"kind": "tube", "angles": TABLE, "certificate": "SK 0420", "most_in_series": "3"}
    assert page.post(address(plan), typed(plan, **more)).status_code == 302
    design = services.design_of(plan.head)
    item = design.collector.item.value
    assert (item.stagnation_c, item.rated_snow_pa, item.pieces, item.assembly_h) == (201.0, 2400.0, 22, 1.5)
    assert item.rated_gust_m_s == pytest.approx(140 / 3.6, abs=1e-3)
    assert (item.angles_deg, item.k_across, item.k_along) == ([10, 30, 50], [1.02, 1.12, 1.30], [1.0, 0.98, 0.92])
    assert (item.certificate, item.most_in_series) == ("SK 0420", 3)
    assert (
        page.post(address(plan), typed(plan, stagnation_c="", rated_gust_m_s="", rated_snow_pa="")).status_code == 302
    )
    again = services.design_of(plan.head).collector.item.value
    assert (again.stagnation_c, again.rated_gust_m_s, again.rated_snow_pa) == (None, None, None)


@pytest.mark.django_db
@pytest.mark.parametrize("table", ["10 1.02", "ten 1 1", "10 1 1\n10 1 1", "\n".join(f"{k} 1 1" for k in range(20))])
def test_a_table_that_is_none_is_refused_with_its_line(plan: Plan, page: Client, table: str) -> None:
    answer = page.post(address(plan), typed(plan, kind="tube", angles=table))
    assert answer.status_code == 422
    assert "Not taken" in answer.content.decode()


def test_what_the_maker_measured_goes_before_the_rating() -> None:
    item = PLATE.model_copy(update={"stagnation_c": 201.0})
    design = altered(plan_a(), collector__item=item)
    result = reckon(design)
    assert result.collector.stagnation == 201.0
    assert result.figures["stagnation"].value == 201.0
    assert result.figures["stagnation"].why.expression is None
    assert reckon(plan_a()).figures["stagnation"].why.expression is not None


def test_a_collector_in_pieces_takes_its_hours() -> None:
    whole = altered(plan_a(), collector__item=PLATE)
    pieces = altered(plan_a(), collector__item=PLATE.model_copy(update={"pieces": 22, "assembly_h": 1.5}))
    more = work_hours(pieces, reckon(pieces).run) - work_hours(whole, reckon(whole).run)
    assert more == pytest.approx(1.5 * pieces.collector.count.value)
    note = next(part for part in reckon(pieces).parts.parts if part.key == "collectors").because.text()
    assert "22 pieces" in note
