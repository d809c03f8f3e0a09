"""Reference cases: every folder of the format runs, a rule that is not built yet is skipped by name."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from rowan.core.terms.errors import RowanError
from tests.core.reference_rules import RULES


def _cases(folder: Path) -> list[Any]:
    found = []
    for file in (*sorted(folder.glob("*.json")), *sorted((folder / "year").glob("*.json"))):
        content = json.loads(file.read_text(encoding="utf-8"))
        if isinstance(content, list):
            found += [pytest.param(_with_files(case, file.parent), id=case["id"]) for case in content]
    return found


def _with_files(case: dict[str, Any], folder: Path) -> dict[str, Any]:
    """A file a case names is sought beside it, then in `year/` beside it."""
    name = case["given"].get("weather_file")
    if name is None:
        return case
    path = next((p for p in (folder / name, folder / "year" / name) if p.is_file()), folder / name)
    return {**case, "given": {**case["given"], "weather_path": str(path)}}


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    if "case" in metafunc.fixturenames:
        metafunc.parametrize("case", _cases(Path(metafunc.config.getoption("--cases"))))


def _assert_close(got: Any, expected: Any, tolerance: dict[str, float], key: str) -> None:
    if isinstance(expected, list):
        assert len(got) == len(expected), key
        for one, other in zip(got, expected, strict=True):
            _assert_close(one, other, tolerance, key)
    elif isinstance(expected, bool | str) or (isinstance(expected, int) and not tolerance.get("relative")):
        assert got == expected, key
    else:
        near = abs(got - expected) <= tolerance.get("relative", 0.0) * abs(expected)
        assert near or abs(got - expected) <= tolerance.get("absolute", 0.0), f"{key}: {got} is not {expected}"


def _run(case: dict[str, Any]) -> dict[str, Any]:
    return RULES[case["rule"]](case["given"])


def test_reference(case: dict[str, Any]) -> None:
    if case["rule"] not in RULES:
        pytest.skip(f"rule “{case['rule']}” is not built yet")
    expected = case["expect"]
    if "error" in expected or expected == {"finding": "stop"}:
        try:
            result = _run(case)
        except RowanError as error:
            assert len(str(error)) > 12, "the refusal must say something"
            return
        assert result.get("finding") == "stop", f"{case['what']} was taken: {result}"
        return
    result = _run(case)
    for key, value in expected.items():
        assert key in result, f"{case['rule']} gives no {key}"
        tolerance = case.get("tolerance_by_key", {}).get(key, case["tolerance"])
        if isinstance(value, int) and not isinstance(value, bool) and key in ("standard_l", "vessels", "collectors"):
            tolerance = {}
        _assert_close(result[key], value, tolerance, key)
