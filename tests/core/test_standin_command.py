"""`bin/rowan standin` as somebody types it."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest

from rowan.command import standin
from rowan.command.__main__ import main
from rowan.command.standin import pair_of, plant_of
from rowan.core.design.job_file import dump
from rowan.core.studies.choices import with_kind
from rowan.standin import send
from rowan.standin.send import RefusedError, Sender
from tests.core.designs import altered, plan_b, proposed


@pytest.fixture
def job(tmp_path: Path) -> str:
    file = tmp_path / "job.json"
    file.write_text(dump(plan_b()), encoding="utf-8")
    return str(file)


def test_it_logs_a_file(job: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    log = tmp_path / "log.csv"
    assert main(["standin", job, "--csv", str(log), "--hours", "2", "--every", "300"]) == 0
    rows = list(csv.DictReader(log.read_text(encoding="utf-8").splitlines()))
    assert len(rows) == 24
    assert rows[0]["at"] == "2026-05-04T00:05:00Z"
    assert "24 readings" in capsys.readouterr().out


def test_it_prints_where_nothing_is_asked_for(job: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["standin", job, "--hours", "0.1", "--begin", "2026-01-10T23:55:00"]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert lines[0].startswith("at,field_c")
    assert lines[-1].startswith("2026-01-11T00:01:00Z"), "it goes on over midnight"


@pytest.mark.parametrize(
    "options",
    [
        ["--fault", "rust"],
        ["--fault", "air@soon"],
        ["--begin", "tomorrow"],
        ["--hours", "0"],
        ["--every", "1"],
        ["--speed", "-1"],
    ],
)
def test_what_cannot_be_is_refused_in_words(job: str, options: list[str], capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["standin", job, *options]) == 2
    assert capsys.readouterr().err.startswith("rowan: ")


def test_a_file_that_is_no_plan_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bad = tmp_path / "bad.json"
    bad.write_text("{}", encoding="utf-8")
    assert main(["standin", str(bad)]) == 2
    assert main(["standin", str(tmp_path / "none.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_it_sends_what_each_second_brings(
    job: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    got: list[bytes] = []

    def take(url: str, body: bytes, headers: dict[str, str]) -> bytes:
        got.append(body)
        return b"{}"

    monkeypatch.setattr(standin, "Sender", lambda url, token: Sender(url, token, take))
    log = tmp_path / "log.csv"
    asked = ["standin", job, "--url", "http://cellar.example/", "--token", "t", "--hours", "1", "--speed", "0"]
    assert main([*asked, "--csv", str(log)]) == 0
    assert sum(body.count(b"\n") for body in got) == 60
    assert "60 sent" in capsys.readouterr().out
    assert len(log.read_text(encoding="utf-8").splitlines()) == 61


def test_a_refusal_and_silence_end_with_a_code(
    job: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def refuse(url: str, body: bytes, headers: dict[str, str]) -> bytes:
        raise RefusedError("401: this token is not known")

    def silent(url: str, body: bytes, headers: dict[str, str]) -> bytes:
        raise OSError("no route")

    asked = ["standin", job, "--url", "http://cellar.example/", "--hours", "0.1", "--speed", "0"]
    for post, says in ((refuse, "refused: 401"), (silent, "met no answer")):
        monkeypatch.setattr(standin, "Sender", lambda url, token, post=post: Sender(url, token, post))
        assert main(asked) == 3
        assert says in capsys.readouterr().err


def test_nobody_listening_is_silence_and_not_a_refusal() -> None:
    with pytest.raises(OSError, match=r"."):
        send.post("http://127.0.0.1:9/", b"{}\n", {})


@pytest.mark.parametrize("kind", ["sealed", "direct", "drainback"])
def test_every_kind_of_pumped_loop_can_be_imitated(kind: str) -> None:
    design = with_kind(plan_b(), kind)
    plant = plant_of(design)
    assert plant.rate > 0
    assert plant.gauge_pa > 0
    assert plant.coil > 0


def test_it_takes_the_plan_s_own_settings_and_place() -> None:
    south = proposed("maravel-8-gas")
    plant = plant_of(south)
    assert plant.latitude < 0
    assert plant.azimuth == south.survey.roof_azimuth_deg.value
    pair = pair_of(altered(south, control__start_k=11.0))
    assert pair.start == 11.0
    assert pair.store_c == south.store.maximum_c.value
