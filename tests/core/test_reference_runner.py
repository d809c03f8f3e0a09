"""The runner of the reference cases itself: it takes any folder, skips by name, and fails where a figure is wrong."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[2]


def case(key: str, **changes: Any) -> dict[str, Any]:
    made = {
        "id": key,
        "what": "air pressure at sea level",
        "rule": "atmosphere",
        "given": {"altitude_m": 0},
        "expect": {"atmosphere_pa": 101325.0},
        "tolerance": {"relative": 0.0005},
        "source": "standard atmosphere",
    }
    return made | changes


def run(folder: Path) -> str:
    command = [
        sys.executable,
        "-m",
        "pytest",
        "tests/core/test_reference.py",
        "--cases",
        str(folder),
        "-q",
        "-rsf",
        "-p",
        "no:cacheprovider",
    ]
    environment = {**os.environ, "PYTEST_ADDOPTS": ""}
    return subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False, env=environment).stdout


def test_another_folder_of_cases_runs_without_new_code(tmp_path: Path) -> None:
    cases = [
        case("right"),
        case("wrong", expect={"atmosphere_pa": 99000.0}),
        case("unbuilt", rule="weather_by_tea_leaves"),
        case("refused", rule="strength", given={"margin_k": 5, "design_minimum_c": -80}, expect={"error": "too cold"}),
        case("taken", rule="atmosphere", expect={"error": "should be refused"}),
        case("absent", expect={"humidity": 1.0}),
    ]
    (tmp_path / "more.json").write_text(json.dumps(cases), encoding="utf-8")
    (tmp_path / "normals.json").write_text('{"name": "data, not cases"}', encoding="utf-8")
    output = run(tmp_path)
    assert "3 failed, 2 passed, 1 skipped" in output, output
    assert "rule “weather_by_tea_leaves” is not built yet" in output
    for key in ("wrong", "taken", "absent"):
        assert f"test_reference[{key}]" in output
