"""Backup and restore: whole while somebody writes, checked, refused where damaged, nothing overwritten unasked."""

from __future__ import annotations

import sqlite3
import stat
import zipfile
from pathlib import Path
from threading import Event, Thread

import pytest

from rowan.command import keeping
from rowan.command.__main__ import main
from rowan.command.keeping import BASE, KeepingError, back_up, nightly, restore


def made(var: Path, rows: int = 20) -> Path:
    """A folder with a database of five tables, one with rows whose number is also kept beside them."""
    var.mkdir(parents=True, exist_ok=True)
    with sqlite3.connect(var / BASE) as base:
        base.execute("PRAGMA journal_mode=WAL")
        for table in ("jobs", "firms", "people", "states"):
            base.execute(f"CREATE TABLE {table} (n INTEGER)")
        base.execute("CREATE TABLE counted (n INTEGER)")
        base.execute("INSERT INTO counted VALUES (?)", (rows,))
        base.executemany("INSERT INTO jobs VALUES (?)", [(n,) for n in range(rows)])
    return var


def rows_of(base: Path) -> tuple[int, int]:
    with sqlite3.connect(base) as found:
        rows = found.execute("SELECT count(*) FROM jobs").fetchone()[0]
        return rows, found.execute("SELECT n FROM counted").fetchone()[0]


def test_what_is_backed_up_comes_back(tmp_path: Path) -> None:
    var, file = made(tmp_path / "var"), tmp_path / "b.zip"
    (var / "secret").write_text("kept")
    assert back_up(var, file) == file.stat().st_size
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    told = restore(tmp_path / "there", file, over=False)
    assert rows_of(tmp_path / "there" / BASE) == (20, 20)
    assert (tmp_path / "there" / "secret").read_text() == "kept"
    assert stat.S_IMODE((tmp_path / "there" / BASE).stat().st_mode) == 0o600
    assert set(told) == {"made", "engine_version", "sha256"}


def test_a_backup_is_one_moment_though_somebody_writes(tmp_path: Path) -> None:
    var, over = made(tmp_path / "var"), Event()

    def write() -> None:
        """A row and its count, always both."""
        with sqlite3.connect(var / BASE, timeout=30) as base:
            while not over.is_set():
                base.execute("INSERT INTO jobs VALUES (1)")
                base.execute("UPDATE counted SET n = n + 1")
                base.commit()

    writer = Thread(target=write)
    writer.start()
    try:
        for n in range(5):
            back_up(var, tmp_path / f"{n}.zip")
    finally:
        over.set()
        writer.join()
    for n in range(5):
        restore(tmp_path / f"there{n}", tmp_path / f"{n}.zip", over=False)
        rows, counted = rows_of(tmp_path / f"there{n}" / BASE)
        assert rows == counted


@pytest.mark.parametrize("harm", ["cut", "other", "changed", "empty"])
def test_a_damaged_backup_is_refused_and_changes_nothing(tmp_path: Path, harm: str) -> None:
    var, file = made(tmp_path / "var"), tmp_path / "b.zip"
    back_up(var, file)
    if harm == "cut":
        file.write_bytes(file.read_bytes()[:-200])
    elif harm == "other":
        file.write_bytes(b"no zip at all")
    elif harm == "empty":
        with zipfile.ZipFile(file, "w") as out:
            out.writestr("contents.json", '{"sha256": {}}')
    else:
        with zipfile.ZipFile(file) as found:
            contents, base = found.read("contents.json"), bytearray(found.read(BASE))
        base[5000] ^= 1
        with zipfile.ZipFile(file, "w") as out:
            out.writestr("contents.json", contents)
            out.writestr(BASE, bytes(base))
    with pytest.raises(KeepingError):
        restore(var, file, over=True)
    assert rows_of(var / BASE) == (20, 20)


def test_what_is_there_is_not_overwritten_unasked_and_is_kept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    var, file = made(tmp_path / "var"), tmp_path / "b.zip"
    back_up(var, file)
    with sqlite3.connect(var / BASE) as base:
        base.execute("INSERT INTO jobs VALUES (99)")
    with pytest.raises(KeepingError, match="already"):
        restore(var, file, over=False)
    monkeypatch.setenv("ROWAN_VAR", str(var))
    monkeypatch.setattr("builtins.input", lambda _: "no")
    assert main(["restore", str(file)]) == 1
    assert rows_of(var / BASE)[0] == 21
    monkeypatch.setattr("builtins.input", lambda _: "yes")
    assert main(["restore", str(file)]) == 0
    assert rows_of(var / BASE)[0] == 20
    before = next(var.glob("before-*.sqlite3"))
    assert rows_of(before)[0] == 21


def test_nightly_ones_take_turns(tmp_path: Path) -> None:
    var, into = made(tmp_path / "var"), tmp_path / "nights"
    into.mkdir()
    for day in range(1, 6):
        (into / f"rowan-2026-01-0{day}.zip").write_bytes(b"old")
    (into / "mine.zip").write_bytes(b"not ours")
    newest = nightly(var, into, keep=3)
    assert sorted(p.name for p in into.iterdir()) == [
        "mine.zip",
        "rowan-2026-01-04.zip",
        "rowan-2026-01-05.zip",
        newest.name,
    ]


def test_nothing_to_keep_is_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("ROWAN_VAR", str(tmp_path))
    assert main(["backup", str(tmp_path / "b.zip")]) == 2
    assert "nothing to keep" in capsys.readouterr().err
    (tmp_path / BASE).write_bytes(b"SQLite format 3\x00" + b"x" * 500)
    with pytest.raises(KeepingError):
        back_up(tmp_path, tmp_path / "b.zip")
    assert keeping.data_folder() == tmp_path
