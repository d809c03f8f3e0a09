from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.command.__main__ import main
from rowan.core.design.changes import changed, inputs, locate
from rowan.core.design.jobfile import dump, load
from rowan.core.errors import JobFileError
from rowan.core.findings import Change
from rowan.core.reckon import reckon
from tests.core.designs import plan_a, plan_b


def _bad(change: Any) -> str:
    data = json.loads(dump(plan_a()))
    change(data)
    return json.dumps(data)


BAD = {
    "not json": ("{", "not a JSON job file"),
    "a list": ("[]", "a JSON object is expected"),
    "NaN": ('{"schema_version": NaN}', "NaN is not a number"),
    "newer": ('{"schema_version": 99}', "newer Rowan"),
    "deep": ("[" * 100_000, "not a JSON job file"),
    "unknown key": (_bad(lambda d: d["charge"].update(colour="red")), "charge.colour"),
    "missing": (_bad(lambda d: d["run"].pop("hot")), "run.hot"),
    "out of range": (
        _bad(lambda d: d["charge"]["relief_gauge_pa"].update(value=9e9)),
        "relief_gauge_pa must be at most",
    ),
    "wrong kind": (_bad(lambda d: d["duty"]["persons"].update(value="many")), "duty.persons.value"),
    "bad origin": (_bad(lambda d: d["duty"]["persons"].update(origin="guessed")), "duty.persons.origin"),
}


@pytest.mark.parametrize(("text", "message"), BAD.values(), ids=BAD.keys())
def test_a_bad_file_is_refused_with_the_field(text: str, message: str) -> None:
    with pytest.raises(JobFileError) as caught:
        load(text)
    assert message in str(caught.value)


def test_a_huge_file_is_refused() -> None:
    with pytest.raises(JobFileError, match="longer than"):
        load("x" * 3_000_000)


@pytest.mark.parametrize("make", [plan_a, plan_b])
def test_a_job_file_comes_back_as_it_went(make: Any) -> None:
    assert load(dump(make())) == make()


def test_keys_carry_their_units() -> None:
    data = json.loads(dump(plan_a()))
    assert data["charge"]["relief_gauge_pa"]["value"] == 600000
    assert data["charge"]["vessel_l"]["value"] == 18
    assert data["survey"]["gauge_to_top_m"] == {"value": 9.5, "origin": "assumed", "note": ""}


def test_every_input_can_be_found_by_its_path() -> None:
    for found in inputs(plan_a()):
        assert locate(plan_a(), found.path).value == found.value


@given(gap=st.floats(30e3, 70e3))
def test_a_change_sets_one_input_and_its_origin(gap: float) -> None:
    design = changed(plan_a(), [Change("charge.gap_pa", gap)], "agreed")
    assert (design.charge.gap_pa.value, design.charge.gap_pa.origin) == (gap, "agreed")
    back = changed(design, [Change("charge.gap_pa", plan_a().charge.gap_pa.value, plan_a().charge.gap_pa.origin)])
    assert back == plan_a()


@pytest.mark.parametrize("path", ["charge.nothing", "run.hot.zz.length_m", "title", "run.hot", "charge"])
def test_paths_that_lead_nowhere_are_refused(path: str) -> None:
    with pytest.raises(JobFileError):
        changed(plan_a(), [Change(path, 1)])


def test_the_command_reckons_a_job_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "kvist.json"
    file.write_text(dump(plan_a()), encoding="utf-8")
    assert main(["reckon", str(file), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["figures"]["fill"]["value_si"] == pytest.approx(reckon(plan_a()).figures["fill"].value)
    assert {f["key"] for f in data["findings"]} == {f.key for f in reckon(plan_a()).findings}
    assert main(["reckon", str(file), "--units", "us"]) == 0
    assert "psi" in capsys.readouterr().out
    assert main(["reckon", str(file), "--why"]) == 0
    out = capsys.readouterr().out
    assert "p(static) = ρ × g × h / 1000" in out
    assert "monotone cubic" in out


@pytest.mark.parametrize("text", [BAD["unknown key"][0], BAD["not json"][0]])
def test_the_command_refuses_without_a_traceback(tmp_path: Path, text: str) -> None:
    file = tmp_path / "bad.json"
    file.write_text(text, encoding="utf-8")
    done = subprocess.run(
        [sys.executable, "-m", "rowan.command", "reckon", str(file)], capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert "Traceback" not in done.stderr
    assert str(file) in done.stderr


def test_the_command_refuses_a_file_that_is_not_there(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["reckon", "/nowhere/at/all.json"]) == 2
    assert "cannot be read" in capsys.readouterr().err
