from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.command.__main__ import main
from rowan.core.appraise.appraisal import all_findings, appraised
from rowan.core.design.changes import changed, inputs, locate
from rowan.core.design.design import SCHEMA_VERSION, Design
from rowan.core.design.job_file import dump, load
from rowan.core.design.schema import job_file_schema, schema_text
from rowan.core.design.upgrades import UPGRADES
from rowan.core.reckon import reckon
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change
from tests.core.designs import plan_a, plan_b, proposed


def _bad(change: Any) -> str:
    data = json.loads(dump(plan_a()))
    change(data)
    return json.dumps(data)


BAD = {
    "not json": ("{", "not a JSON job file"),
    "nothing": ("", "not a JSON job file"),
    "truncated": (dump(plan_a())[:4000], "not a JSON job file: "),
    "a list": ("[]", "a JSON object is expected"),
    "NaN": ('{"schema_version": NaN}', "NaN is not a number"),
    "newer": ('{"schema_version": 99}', "newer Rowan"),
    "no version": (_bad(lambda d: d.pop("schema_version")), "schema_version: must be a whole number from 1 to 9"),
    "version as text": (_bad(lambda d: d.update(schema_version="2")), "schema_version: must be a whole number"),
    "version nought": ('{"schema_version": 0}', "there is no version 0"),
    "deep": ("[" * 100_000, "nested too deeply"),
    "less deep": ('{"schema_version": 2, "survey": ' + "[" * 700 + "]" * 700 + "}", "nested too deeply"),
    "a key twice": ('{"schema_version": 2, "schema_version": 2}', "schema_version: stands twice"),
    "not text": (b"\xff\xfe\x00", "not a text file in UTF-8"),
    "unknown key": (_bad(lambda d: d["charge"].update(colour="red")), "charge.colour: is not a key"),
    "another unit": (
        _bad(lambda d: d["charge"].update(relief_gauge_bar=d["charge"].pop("relief_gauge_pa"))),
        "charge.relief_gauge_bar: is not a key of a job file; perhaps relief_gauge_pa is meant",
    ),
    "unit in the value": (
        _bad(lambda d: d["charge"]["relief_gauge_pa"].update(value="6 bar")),
        "charge.relief_gauge_pa.value: must be a number in Pa over the local atmosphere, not the text “6 bar”",
    ),
    "missing": (_bad(lambda d: d["run"].pop("hot")), "run.hot: is missing"),
    "out of range": (
        _bad(lambda d: d["charge"]["relief_gauge_pa"].update(value=9e9)),
        "charge.relief_gauge_pa: 9 000 000 000 is above the most that can be, 1 600 000 Pa over the local atmosphere (16.00 bar)",
    ),
    "−5 persons": (
        _bad(lambda d: d["duty"]["persons"].update(value=-5)),
        "duty.persons: −5 is below the least that can be, 1",
    ),
    "120 % glycol": (
        _bad(lambda d: d["charge"]["share"].update(value=1.2)),
        "1.2 is above the most that can be, 0.6 (60 %)",
    ),
    "10 km of pipe": (
        _bad(lambda d: d["run"]["hot"][0].update(length_m=10_000)),
        "run.hot.0.length_m: 10 000 is above",
    ),
    "half a person": (_bad(lambda d: d["duty"]["persons"].update(value=2.5)), "must be a whole number, not 2.5"),
    "true for a number": (_bad(lambda d: d["charge"]["share"].update(value=True)), "must be a number, not true"),
    "wrong kind": (
        _bad(lambda d: d["duty"]["persons"].update(value="many")),
        "duty.persons.value: must be a whole number",
    ),
    "no such choice": (
        _bad(lambda d: d["duty"]["heater"].update(value="wood")),
        "must be one of oil, gas, electric, not the text “wood”",
    ),
    "bad origin": (_bad(lambda d: d["duty"]["persons"].update(origin="guessed")), "duty.persons.origin: must be"),
    "no legs": (_bad(lambda d: d["run"].update(hot=[])), "run.hot: must hold at least 1 entries, not 0"),
    "a stage that is a number": (_bad(lambda d: d.update(survey=5)), "survey: must be an object, not 5"),
    "a number of 401 digits": (
        _bad(lambda d: d["duty"]["persons"].update(value=10**400)),
        "a number of 401 digits is above the most that can be, 200",
    ),
    "a version of 401 digits": (
        _bad(lambda d: d.update(schema_version=10**400)),
        "newer Rowan (a number of 401 digits)",
    ),
    "a leg twice": (
        _bad(lambda d: d["run"]["hot"].append(d["run"]["hot"][0])),
        "run: the leg “h1” stands twice in one line",
    ),
    "too many legs": (
        _bad(lambda d: d["run"].update(hot=d["run"]["hot"] * 20)),
        "run.hot: must hold at most 60 entries",
    ),
    "two faults": (_bad(lambda d: (d["run"].pop("hot"), d["run"].pop("cold"))), "and 1 more"),
}


@pytest.mark.parametrize(("text", "message"), BAD.values(), ids=BAD.keys())
def test_a_bad_file_is_refused_with_field_value_and_limit(text: str | bytes, message: str) -> None:
    with pytest.raises(JobFileError) as caught:
        load(text)
    words = re.sub("[\N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}]", " ", str(caught.value))
    assert message in words
    assert len(words) < 260, "a refusal is read, not scrolled"


def test_a_limit_is_said_in_the_reader_s_units_too() -> None:
    with pytest.raises(JobFileError) as caught:
        load(BAD["out of range"][0])
    assert "232.1\N{NO-BREAK SPACE}psi" in caught.value.text("us")


def test_a_huge_file_is_refused() -> None:
    with pytest.raises(JobFileError, match="no job file has more than 2 MB"):
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


def test_a_change_opens_only_its_own_way() -> None:
    before, said = plan_a(), dump(plan_a())
    after = changed(
        before, [Change("run.hot.h9.rise_m", 0.02), Change("run.hot.h9.length_m", 2.5), Change("run.bends", 7)]
    )
    legs = {leg.id: leg for leg in after.run.hot}
    assert (legs["h9"].rise_m, legs["h9"].length_m, after.run.bends.value) == (0.02, 2.5, 7)
    assert dump(before) == said, "the old one stays as it is"
    assert all(legs[leg.id] is leg for leg in before.run.hot if leg.id != "h9")
    assert after.run.pipe is before.run.pipe
    assert after.charge is before.charge


def test_what_is_put_as_it_was_changes_nothing() -> None:
    design = plan_a()
    for found in inputs(design):
        assert changed(design, [Change(found.path, found.value, found.origin)]) == design, found.path


def test_a_change_goes_into_entries_that_were_put_in_with_it() -> None:
    design = plan_a()
    rows = [leg.model_copy(update={"bends": 3}) for leg in design.run.cold]
    after = changed(design, [Change("run.cold", rows), Change("run.cold.c2.length_m", 3.25)])
    assert {leg.bends for leg in after.run.cold} == {3}
    assert [leg.length_m for leg in after.run.cold if leg.id == "c2"] == [3.25]
    assert [leg.length_m for leg in rows] == [leg.length_m for leg in design.run.cold], (
        "what was handed in stays as it is"
    )


@pytest.mark.parametrize("path", ["charge.nothing", "run.hot.zz.length_m", "title", "sun", "charge"])
def test_paths_that_lead_nowhere_are_refused(path: str) -> None:
    with pytest.raises(JobFileError):
        changed(plan_a(), [Change(path, 1)])


def test_the_command_reckons_a_job_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "kvist.json"
    file.write_text(dump(plan_a()), encoding="utf-8")
    assert main(["reckon", str(file), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["figures"]["fill"]["value_si"] == pytest.approx(reckon(plan_a()).figures["fill"].value)
    assert {f["key"] for f in data["findings"]} == {
        f.key for f in all_findings(reckon(plan_a()), appraised(plan_a(), reckon(plan_a())))
    }
    assert main(["reckon", str(file), "--units", "us"]) == 0
    assert "psi" in capsys.readouterr().out
    assert main(["reckon", str(file), "--why"]) == 0
    out = capsys.readouterr().out
    assert "p(static) = ρ × g × h / 1000" in out
    assert "monotone cubic" in out


@pytest.mark.parametrize(("text", "message"), BAD.values(), ids=BAD.keys())
def test_the_command_refuses_with_the_same_message_and_exit_code_two(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], text: str | bytes, message: str
) -> None:
    file = tmp_path / "bad.json"
    file.write_bytes(text.encode() if isinstance(text, str) else text)
    assert main(["reckon", str(file)]) == 2
    err = re.sub("[\N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}]", " ", capsys.readouterr().err)
    assert message in err
    assert str(file) in err


def test_the_command_refuses_fifty_megabytes_unread(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "huge.json"
    with file.open("wb") as out:
        out.truncate(50_000_000)
    assert main(["reckon", str(file)]) == 2
    assert "the file has 50.0 MB; no job file has more than 2 MB" in capsys.readouterr().err


def test_the_command_speaks_us_units_in_its_refusals(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "bad.json"
    file.write_text(BAD["out of range"][0], encoding="utf-8")  # type: ignore[arg-type]
    assert main(["reckon", str(file), "--units", "us"]) == 2
    assert "232.1\N{NO-BREAK SPACE}psi" in capsys.readouterr().err


def test_a_process_of_its_own_ends_with_two_and_no_traceback(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "rowan.command", "reckon", "-"]
    done = subprocess.run(command, input="{", capture_output=True, text=True, check=False)
    assert done.returncode == 2
    assert "Traceback" not in done.stderr


def test_the_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema"]) == 0
    assert capsys.readouterr().out == schema_text()


def test_the_command_refuses_a_file_that_is_not_there(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["reckon", "/nowhere/at/all.json"]) == 2
    assert "cannot be read" in capsys.readouterr().err


SAMPLES = Path(__file__).parent / "samples"


@pytest.mark.parametrize("sample", sorted(SAMPLES.glob("job-file-*.json")), ids=lambda path: path.name)
def test_kept_samples_of_every_version_are_read(sample: Path) -> None:
    design = load(sample.read_text(encoding="utf-8"))
    assert design.schema_version == SCHEMA_VERSION
    assert len(reckon(design).figures) > 40
    assert load(dump(design)) == design


def test_every_version_has_a_sample_and_a_way_up() -> None:
    versions = {
        json.loads(path.read_text(encoding="utf-8"))["schema_version"] for path in SAMPLES.glob("job-file-*.json")
    }
    assert versions == set(range(1, SCHEMA_VERSION + 1))
    assert set(UPGRADES) == set(range(1, SCHEMA_VERSION))


def test_an_upgrade_keeps_what_was_typed_and_assumes_what_is_new() -> None:
    old = json.loads((SAMPLES / "job-file-1.json").read_text(encoding="utf-8"))
    new = json.loads(dump(load(json.dumps(old))))
    kept, added = [], []

    def compare(before: Any, after: Any, path: str) -> None:
        if path == ".money":
            # assumed of the old file: the list of parts says it now
            before = {key: value for key, value in before.items() if key != "system_price"}
            after = {key: value for key, value in after.items() if key != "system_price"}
        if path == ".survey":
            before = {key: value for key, value in before.items() if key != "water"}
        if isinstance(before, dict) and isinstance(after, dict):
            assert set(before) <= set(after), path
            for key in before:
                compare(before[key], after[key], f"{path}.{key}")
            if "value" not in before:
                added.extend(entry for key, entry in after.items() if key not in (*before, "hardness_mol_m3"))
        elif isinstance(before, list) and before and isinstance(before[0], dict):
            assert len(before) == len(after), path
            for one, other in zip(before, after, strict=True):
                compare(one, other, path)
        else:
            kept.append(path)
            assert before == after, path

    compare({key: value for key, value in old.items() if key != "schema_version"}, new, "")
    assert len(kept) > 150
    origins = {entry["origin"] for entry in added if isinstance(entry, dict) and "origin" in entry}
    assert origins == {"assumed"}
    assert new["store"]["backup"]["value"] == "coil", "the boiler's coil that version 1 and 2 took for granted"
    assert new["run"]["pipe"]["value"]["standard"] == "EN 1057", "the one standard that versions 1 to 3 knew"
    assert new["survey"]["hardness_mol_m3"] == {**old["survey"]["water"], "value": 1.2}, "water that was called soft"


@pytest.mark.parametrize("held", [{"value": "brackish"}, "soft", None, []])
def test_water_that_no_version_knew_is_refused(held: Any) -> None:
    old = json.loads((SAMPLES / "job-file-6.json").read_text(encoding="utf-8"))
    old["survey"]["water"] = held
    with pytest.raises(JobFileError, match="survey"):
        load(json.dumps(old))


# the published schema


def test_the_published_schema_is_the_models() -> None:
    published = Path("docs/job-file.schema.json").read_text(encoding="utf-8")
    assert published == schema_text(), "write it anew: bin/rowan schema > docs/job-file.schema.json"


def test_the_schema_takes_what_rowan_writes_and_refuses_what_it_refuses() -> None:
    validator = jsonschema.Draft202012Validator(job_file_schema())
    validator.check_schema(job_file_schema())
    for design in (plan_a(), plan_b(), proposed("maravel-8-gas")):
        assert list(validator.iter_errors(json.loads(dump(design)))) == []
    for name in (
        "another unit",
        "out of range",
        "−5 persons",
        "120 % glycol",
        "10 km of pipe",
        "no such choice",
        "missing",
    ):
        assert list(validator.iter_errors(json.loads(BAD[name][0]))), name


def _definition(stage: str) -> str:
    return Design.model_fields[stage].annotation.__name__


def test_every_input_of_the_schema_says_its_unit_and_limits() -> None:
    definitions = job_file_schema()["$defs"]
    for found in inputs(plan_a()):
        if found.spec.kind != "number" or found.path.count(".") > 1:
            continue
        stage, key = found.path.split(".")
        entry = definitions[_definition(stage)]["properties"][key]
        assert entry["description"].startswith(found.spec.label)
        assert entry["properties"]["value"] == {"minimum": found.spec.low, "maximum": found.spec.high}, key
        if found.spec.dimension not in ("share", "share_fine", "ratio", "ph", "count", "price", "money", "years"):
            assert "[" in entry["description"], key
