"""What the runner of the reference cases understands beside the cases that are here."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.core import reference_year
from tests.core.reference_control import pump_sequence
from tests.core.reference_rules import RULES
from tests.core.test_weather_files import TMY

FOLDER = Path(__file__).parent / "reference"


def given(file: str, rule: str) -> dict[str, Any]:
    cases = json.loads((FOLDER / file).read_text(encoding="utf-8"))
    found: dict[str, Any] = next(case["given"] for case in cases if case["rule"] == rule)
    return found


def plain() -> str:
    return str(FOLDER / "year" / "weather.csv")


def test_a_year_runs_by_its_own_clock() -> None:
    east = {"latitude_deg": 44.6, "longitude_deg": 22.0}
    at = reference_year.sun_of(plain(), east)
    said = reference_year.sun_of(plain(), east | {"utc_offset_h": 1})
    other = reference_year.sun_of(plain(), east | {"utc_offset_h": 0})
    assert at is said, "22° east is 1.47 h: the first hour"
    assert at is not other


def test_a_weather_file_is_read_by_the_products_reader() -> None:
    file = str(TMY / "703165TY.csv")
    assert reference_year.weather_of(file).ghi.shape == (8760,)
    place = {"latitude_deg": 55.317, "longitude_deg": -160.517}
    assert reference_year.sun_of(file, place) is reference_year.sun_of(file, place | {"utc_offset_h": -9})


def test_a_pipe_is_named_as_people_name_it() -> None:
    case = given("hydraulics.json", "pipe")
    assert RULES["pipe"](case | {"material": "stainless"}) == RULES["pipe"](case | {"material": "corrugated"})
    growth = given("hydraulics.json", "pipe_expansion") | {"length_m": 10.0, "temperature_change_k": 100.0}
    # 16.0 µm/m·K by 10 m by 100 K
    assert RULES["pipe_expansion"](growth | {"material": "stainless"})["expansion_m"] == pytest.approx(0.0160)


def test_an_edge_zone_takes_its_width_and_may_be_left_out() -> None:
    case = given("mounting.json", "row_count")
    without = {key: value for key, value in case.items() if key != "edge_zone_m"}
    assert RULES["row_count"](without) == RULES["row_count"](case | {"edge_zone_m": 0.0})
    # 6.2 m less 0.9 m each side are 4.4 m: three of 1.17 m with 30 mm between
    assert RULES["row_count"](case | {"edge_zone_m": 0.9}) == {"collectors": 3}


def test_a_strong_pump_has_no_first_stage() -> None:
    case = given("pressure.json", "two_stage")
    strong = RULES["two_stage"](case | {"pump_gauge_pa": case["fill_gauge_pa"]})
    assert strong["two_stage"] is False
    assert "first_precharge_gauge_pa" not in strong


def test_without_an_upper_sensor_the_lower_one_holds_the_limit() -> None:
    case = given("controls.json", "pump_sequence")
    limit = case["store_maximum_c"]
    hot = [[limit + 30, limit - 20], [limit + 30, limit + 1], [limit + 30, limit + 1]]
    assert pump_sequence(case | {"steps_c": hot}) == [True, False, False]
    assert pump_sequence(case | {"steps_c": [[*row, limit - 20] for row in hot]}) == [True, True, True]


def test_angle_tables_stand_for_themselves() -> None:
    case = given("collector.json", "duty_heat")
    field = {key: value for key, value in case["collector"].items() if key != "b0"}
    tables = {"iam_angles_deg": [0, 30, 60, 90], "k_t": [1, 1.02, 1.1, 0.9], "k_l": [1, 0.98, 0.85, 0.0]}
    heat = RULES["duty_heat"](case | {"weather_path": plain(), "collector": field | tables})
    flat = RULES["duty_heat"](case | {"weather_path": plain(), "collector": field | {"b0": 0.0}})
    assert 0.7 * flat["useful_heat_kwh_m2"] < heat["useful_heat_kwh_m2"] != flat["useful_heat_kwh_m2"]
