"""Everything in one file and back: the database as it is at one moment, copied while it is used, with what it is made of.

A backup is a ZIP: `rowan.sqlite3` by SQLite's own online backup, `secret` where the demo keeps one, and `contents.json` with the
day, the version and a checksum of each. It is checked when it is made and before it is put back.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import sqlite3
import sys
import tempfile
import zipfile
from datetime import UTC, datetime
from pathlib import Path

from rowan.core.reckon import ENGINE_VERSION
from rowan.folders import data_folder

BASE, SECRET, CONTENTS = "rowan.sqlite3", "secret", "contents.json"
OWNER_ONLY = 0o600
KEPT_DAYS = 14  # of nightly backups, unless asked otherwise
LEAST_TABLES = 5  # a database with fewer is none of ours


class KeepingError(Exception):
    """A backup that cannot be made or put back; its words are for whoever asked."""


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _sound(base: Path) -> str:
    """What SQLite says is wrong with a database; empty where it is whole and ours."""
    try:
        with contextlib.closing(sqlite3.connect(f"file:{base}?mode=ro", uri=True)) as found:
            told = found.execute("PRAGMA integrity_check").fetchone()[0]
            tables = found.execute("SELECT count(*) FROM sqlite_master WHERE type = 'table'").fetchone()[0]
    except sqlite3.Error as error:
        return str(error)
    if told != "ok":
        return str(told)
    return "" if tables >= LEAST_TABLES else "it holds no jobs"


def _copied(base: Path, into: Path) -> None:
    """A database as it is at one moment, though somebody writes to it meanwhile. Raises KeepingError."""
    try:
        with contextlib.closing(sqlite3.connect(base)) as here, contextlib.closing(sqlite3.connect(into)) as there:
            here.backup(there)
    except sqlite3.Error as error:
        raise KeepingError(f"{base.name} cannot be copied: {error}") from error


def back_up(var: Path, file: Path) -> int:
    """Writes a backup of a folder; gives its size [bytes]. The server may go on. Raises KeepingError."""
    base = var / BASE
    if not base.exists():
        raise KeepingError(f"there is no {BASE} in {var}: nothing to keep")
    with tempfile.TemporaryDirectory(dir=file.parent) as scratch:
        copy, made = Path(scratch) / BASE, Path(scratch) / "made.zip"
        _copied(base, copy)
        wrong = _sound(copy)
        if wrong:
            raise KeepingError(f"the database is damaged: {wrong}")
        parts = {BASE: copy.read_bytes()}
        if (var / SECRET).exists():
            parts[SECRET] = (var / SECRET).read_bytes()
        told = {
            "made": datetime.now(UTC).isoformat(timespec="seconds"),
            "engine_version": ENGINE_VERSION,
            "sha256": {name: _digest(data) for name, data in parts.items()},
        }
        with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as out:
            out.writestr(CONTENTS, json.dumps(told, indent=1))
            for name, data in parts.items():
                out.writestr(name, data)
        _read(made)  # what cannot be read back is no backup
        made.chmod(OWNER_ONLY)
        made.replace(file)
    return file.stat().st_size


def _read(file: Path) -> tuple[dict[str, object], dict[str, bytes]]:
    """What a backup says of itself, and its parts. Raises KeepingError for a file that is none, or is damaged."""
    try:
        with zipfile.ZipFile(file) as found:
            told = json.loads(found.read(CONTENTS))
            parts = {name: found.read(name) for name in told["sha256"] if name in (BASE, SECRET)}
    except (OSError, KeyError, TypeError, ValueError, zipfile.BadZipFile) as error:
        raise KeepingError(f"{file.name} is no backup, or is damaged: {error}") from error
    if BASE not in parts:
        raise KeepingError(f"{file.name} holds no database")
    for name, data in parts.items():
        if _digest(data) != told["sha256"][name]:
            raise KeepingError(f"{file.name} is damaged: {name} is not what was written")
    return told, parts


def restore(var: Path, file: Path, *, over: bool) -> dict[str, object]:
    """Puts a backup into a folder; gives what it says of itself. What was there is kept beside it as `before-…`.

    Raises KeepingError for a damaged backup, and where something is there already unless `over` says so.
    """
    told, parts = _read(file)
    base = var / BASE
    if base.exists() and not over:
        raise KeepingError(f"{var} holds a database already")
    var.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=var) as scratch:
        fresh = Path(scratch) / BASE
        fresh.write_bytes(parts[BASE])
        wrong = _sound(fresh)
        if wrong:
            raise KeepingError(f"the database in {file.name} is damaged: {wrong}")
        fresh.chmod(OWNER_ONLY)
        if base.exists():
            before = var / f"before-{datetime.now(UTC):%Y%m%d-%H%M%S}.sqlite3"
            _copied(base, before)
            before.chmod(OWNER_ONLY)
            for rest in ("-wal", "-shm"):
                (var / f"{BASE}{rest}").unlink(missing_ok=True)
        fresh.replace(base)
    if SECRET in parts and not (var / SECRET).exists():
        (var / SECRET).write_bytes(parts[SECRET])
        (var / SECRET).chmod(OWNER_ONLY)
    return told


def nightly(var: Path, into: Path, *, keep: int = KEPT_DAYS) -> Path:
    """Today's backup in a folder, and the oldest beyond `keep` taken away; gives the file. Raises KeepingError."""
    into.mkdir(parents=True, exist_ok=True)
    file = into / f"rowan-{datetime.now(UTC):%Y-%m-%d}.zip"
    back_up(var, file)
    for old in sorted(into.glob("rowan-????-??-??.zip"))[: -max(keep, 1)]:
        old.unlink()
    return file


def run_backup(target: str, *, is_nightly: bool, keep: int) -> int:
    """`bin/rowan backup`; 0 where it was made."""
    try:
        if is_nightly:
            file = nightly(data_folder(), Path(target), keep=keep)
        else:
            file = Path(target)
            back_up(data_folder(), file)
    except (KeepingError, OSError) as error:
        print(f"rowan: {error}", file=sys.stderr)
        return 2
    print(f"{file}, {file.stat().st_size / 1e3:.0f} kB, read back and whole")
    return 0


def run_restore(source: str, *, yes: bool) -> int:
    """`bin/rowan restore`; asks before it puts anything over what is there. 0 where it was put back."""
    var = data_folder()
    over = (var / BASE).exists()
    if over and not yes:
        answer = input(
            f"{var} holds a database already. Put the backup over it? What is there is kept beside it. [yes/no] "
        )
        if answer.strip().lower() not in ("y", "yes"):
            print("Nothing was changed.")
            return 1
    try:
        told = restore(var, Path(source), over=over)
    except (KeepingError, OSError) as error:
        print(f"rowan: {error}", file=sys.stderr)
        return 2
    print(f"Back as of {told['made']}. Run the migrations and start the server: bin/rowan manage migrate")
    return 0
