"""Short forms of the attacks on saving, with a seed: the full ones are commands, their results in docs/proofs.md."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest
from django.contrib.auth.hashers import Argon2PasswordHasher

from rowan.command import prove
from rowan.demo.kvist import kvist_plan_a
from rowan.demo.person import PASSWORD
from rowan.web.plans.packing import packed, text_of
from tests.core.designs import altered

BASE = text_of(kvist_plan_a().model_dump(mode="json"))
pytestmark = pytest.mark.sqlite  # its servers keep their data in a file of their own


def test_nothing_acknowledged_is_lost_while_processes_are_killed(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], world: sqlite3.Connection
) -> None:
    prepare = prove.Server.prepare

    def prepared(server: prove.Server) -> None:
        """With the demo world in it already, its person known by the hash that is served."""
        word = Argon2PasswordHasher().encode(PASSWORD, "only-for-tests")
        with sqlite3.connect(server.var / "rowan.sqlite3") as base:
            world.backup(base)
            base.execute("UPDATE accounts_user SET password = ?", (word,))
        prepare(server)

    monkeypatch.setattr(prove.Server, "prepare", prepared)
    monkeypatch.setattr(prove, "BETWEEN_KILLS_S", (0.5, 1.0))
    assert prove.prove_kill(16, seed=3)
    told = capsys.readouterr().out
    assert "16 saves acknowledged" in told
    assert "0 workers and 0 masters" not in told, "something was killed"


def kept(folder: Path, rows: list[tuple[str, bytes]]) -> Path:
    with sqlite3.connect(folder / "rowan.sqlite3") as base:
        base.execute("CREATE TABLE jobs_plan (id INTEGER)")
        base.execute("INSERT INTO jobs_plan VALUES (1)")
        base.execute(
            "CREATE TABLE jobs_revision (id INTEGER PRIMARY KEY, plan_id, number, base_id, sent TEXT, packed BLOB)"
        )
        base.execute("INSERT INTO jobs_revision VALUES (1, 1, 1, NULL, NULL, ?)", (packed(BASE),))
        numbered = [(1, number, 1, sent, text) for number, (sent, text) in enumerate(rows, 2)]
        base.executemany(
            "INSERT INTO jobs_revision (plan_id, number, base_id, sent, packed) VALUES (?, ?, ?, ?, ?)", numbered
        )
    return folder


def design(room: float) -> bytes:
    """A state as it is kept, over the first one."""
    return packed(text_of(altered(kvist_plan_a(), survey__room_c=room).model_dump(mode="json")), BASE)


def test_the_judge_sees_what_is_lost_doubled_and_half(tmp_path: Path) -> None:
    ledger = prove.Ledger("/jobs/1/A/", {"a": 11.0, "b": 12.0, "c": 13.0, "d": 14.0})
    rows = [
        ("a", design(11.0)),
        ("b", design(12.5)),
        ("c", design(13.0)),
        ("c", design(13.0)),
        ("e", design(15.0)[:-20]),
    ]
    verdict = prove.judged(kept(tmp_path, rows), [ledger])
    # b has another value, d is not there; c is there twice; e is cut off
    assert (verdict.acknowledged, verdict.lost, verdict.doubled, verdict.half) == (4, 2, 1, 1)
    assert not verdict.holds


def test_the_judge_is_content_with_what_is_whole(tmp_path: Path) -> None:
    ledger = prove.Ledger("/jobs/1/A/", {"a": 11.0})
    assert prove.judged(kept(tmp_path, [("a", design(11.0)), ("z", design(12.0))]), [ledger]).holds
    assert not prove.Verdict(0, 0, 0, 0).holds, "nothing acknowledged proves nothing"
