"""The planes compared by the year, by its summer half and by its winter half."""

from __future__ import annotations

import numpy as np
import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.reckon import reckon
from rowan.core.steps.site.stage import ghi_joules
from rowan.core.weather.sun import plane_grid, season_of
from rowan.web.benches.bench import Look, Sheet
from rowan.web.plans.models import Plan
from rowan.web.steps.sun.shade import contours
from tests.core.designs import plan_b, proposed


def test_both_halves_make_the_year_and_winter_wants_it_steeper() -> None:
    for design in (plan_b(), proposed("maravel-8-gas")):
        latitude, ghi = design.survey.latitude_deg.value, ghi_joules(design)
        year, summer, winter = (plane_grid(latitude=latitude, ghi=ghi, season=s) for s in ("year", "summer", "winter"))
        assert np.allclose(year.year, summer.year + winter.year)
        steepest = [grid.tilts[int(np.argmax(grid.year.max(axis=1)))] for grid in (summer, year, winter)]
        assert steepest[0] < steepest[1] < steepest[2]


def test_july_is_summer_in_the_north_and_winter_in_the_south() -> None:
    assert season_of(month=6, latitude=57.0) == season_of(month=0, latitude=-29.0) == "summer"
    assert season_of(month=6, latitude=-29.0) == season_of(month=11, latitude=57.0) == "winter"


def test_the_drawing_follows_the_season() -> None:
    design = plan_b()
    result = reckon(design)
    drawn = {s: contours(Sheet(design, result, "metric", look=Look(season=s))).svg() for s in ("year", "winter")}
    assert "sun of the winter against the best" in drawn["winter"]
    assert drawn["winter"] != drawn["year"]


@pytest.mark.django_db
def test_the_season_is_asked_for_and_kept(plan: Plan, page: Client) -> None:
    address = reverse("steps:bench", args=(plan.job_id, plan.letter, "sun"))
    assert "sun of the year against the best" in page.get(address).content.decode()
    asked = page.get(address, {"season": "winter"}).content.decode()
    assert "sun of the winter against the best" in asked
    assert "sun of the winter against the best" in page.get(address).content.decode()
    assert "sun of the winter" in page.get(address, {"season": "sometimes"}).content.decode()
