"""Plans through the year: closed, kept by content, moved by what is relevant and by nothing else."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from rowan.command.__main__ import main
from rowan.core.design.design import Design
from rowan.core.design.job_file import dump
from rowan.core.reckon import reckon
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import line_of, system_of
from rowan.core.simulation.simulate import simulate, sky_of
from rowan.core.simulation.year import Year
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.units import KWH, number_text
from tests.core.designs import EIGHT_FACTS, altered, plan_a, plan_b, proposed


def year_of(design: Design, seed: int = 0) -> Year:
    return simulate(design, reckon(design), seed=seed)


@pytest.mark.parametrize("key", [*EIGHT_FACTS, "kvist"])
def test_every_plan_has_a_year_that_closes(key: str) -> None:
    design = plan_b() if key == "kvist" else proposed(key)
    year = year_of(design)
    assert year.residual < 1e-3
    assert 0.15 < year.solar_fraction < 1
    assert year.total("demand") == pytest.approx(reckon(design).duty.year_heat, rel=0.02)
    assert 60 < year.highest_store <= design.store.maximum_c.value + 4


def test_the_backup_keeps_the_top_warm() -> None:
    year = year_of(plan_b())
    assert year.total("draw") > 0.99 * year.total("demand"), (
        "with the boiler's coil in it the store gives what is drawn"
    )
    cold = year_of(altered(plan_b(), collector__count=1))
    assert cold.total("backup") > year.total("backup")
    assert year.kept_warm_loss > 0
    assert year.kept_warm_loss == pytest.approx(year_of(altered(plan_b(), collector__count=1)).kept_warm_loss), (
        "what is lost without the sun does not depend on the field"
    )


def test_the_year_is_kept_by_content() -> None:
    first = year_of(plan_b())
    assert year_of(plan_b()) is first
    assert year_of(altered(plan_b(), money__fuel_price=0.5)) is first, "a price moves no heat"
    assert year_of(altered(plan_b(), charge__vessel_l=25.0)) is first
    for change in (
        {"collector__count": 3},
        {"control__stop_k": 4.0},
        {"survey__roof_tilt_deg": 60.0},
        {"run__insulation_m": 0.009},
    ):
        assert year_of(altered(plan_b(), **change)) is not first, change
    assert year_of(plan_b(), seed=1) is not first


def test_a_better_plan_has_a_better_year() -> None:
    usual = year_of(plan_b())
    assert year_of(altered(plan_b(), collector__count=3)).solar_heat > 1.05 * usual.solar_heat
    assert year_of(altered(plan_b(), survey__roof_azimuth_deg=270.0)).solar_heat < 0.95 * usual.solar_heat
    assert year_of(altered(plan_b(), run__insulation_m=0.0)).solar_heat < usual.solar_heat
    assert year_of(altered(plan_b(), run__insulation_m=0.0)).total("line_loss") > 1.5 * usual.total("line_loss")


def test_years_of_other_seeds_lie_about_the_mean_year() -> None:
    mean = year_of(plan_b()).solar_heat
    others = np.array([year_of(plan_b(), seed).solar_heat for seed in range(1, 9)])
    assert others.mean() == pytest.approx(mean, rel=0.06)
    assert 0.005 < others.std() / mean < 0.12


def test_lines_hold_and_lose_what_the_run_says() -> None:
    design, result = plan_b(), reckon(plan_b())
    hot = line_of("hot", design, result)
    assert hot.loss.sum() == pytest.approx(result.run.loss.indoors * result.run.route.hot_length, rel=0.05)
    assert hot.capacity.sum() > 4000 * 0.8 * result.run.route.hot_length * design.run.pipe.value.contents_l_m
    assert set(hot.outdoors) <= {0.0, 1.0}


def test_the_day_s_draws_add_up() -> None:
    draws = draws_of(plan_b(), sky_of(plan_b()).weather)
    assert draws.minute.sum() == pytest.approx(5 * 0.040)
    assert draws.minute[7 * 60] > 0
    assert draws.minute.max() <= 0.1e-3 * 60 + 1e-12, "no tap gives more than six litres a minute"


def test_crossed_differences_have_no_year() -> None:
    design = altered(plan_b(), control__stop_k=9.0)
    with pytest.raises(ImpossibleInputError, match="must be below the start difference"):
        system_of(design, reckon(plan_b()), sky_of(design).weather)


def test_the_command_runs_a_year(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "kvist.json"
    file.write_text(dump(plan_a()), encoding="utf-8")
    assert main(["year", str(file)]) == 0
    text = capsys.readouterr().out
    assert "energy balance closes to" in text
    assert "°C" in text
    assert main(["year", str(file), "--units", "us"]) == 0
    assert "°F" in capsys.readouterr().out
    assert main(["year", str(file), "--json", "--seed", "0"]) == 0
    data = json.loads(capsys.readouterr().out)
    year = year_of(plan_a())
    assert data["solar_heat_j"] == year.solar_heat
    assert sum(data["months_j"]["solar"]) == pytest.approx(year.solar_heat)
    assert f"solar heat into the store {number_text(year.solar_heat / KWH, 0)} kWh" in text


def test_the_command_refuses_a_plan_without_a_year(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "crossed.json"
    file.write_text(dump(altered(plan_b(), control__stop_k=9.0)), encoding="utf-8")
    assert main(["year", str(file)]) == 2
    assert "must be below the start difference" in capsys.readouterr().err
