"""The demo world, loaded once for all workers and put into a test's database as a whole: loaded row by row it takes ten seconds."""

from __future__ import annotations

import fcntl
import os
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from django.db import connection

from rowan.demo.load import load_world


def kept_copy(source: sqlite3.Connection) -> sqlite3.Connection:
    """A database as it stands, in memory."""
    kept = sqlite3.connect(":memory:", check_same_thread=False)
    source.backup(kept)
    return kept


def put_back(kept: sqlite3.Connection) -> None:
    """The test's database becomes the one that was kept, page by page. Outside a transaction alone."""
    connection.ensure_connection()
    kept.backup(connection.connection)


def copy_in(kept: sqlite3.Connection) -> None:
    """The rows that were kept, put in inside a test's transaction, which takes them out again."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA defer_foreign_keys = ON")
        tables = [name for (name,) in kept.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        for table in tables:
            if table.startswith("sqlite_"):
                continue
            rows = kept.execute(f'SELECT * FROM "{table}"').fetchall()
            if rows:
                marks = ", ".join("?" * len(rows[0]))
                connection.connection.executemany(f'INSERT OR IGNORE INTO "{table}" VALUES ({marks})', rows)


def made_once(base: Path, empty: sqlite3.Connection, blocker: Any) -> sqlite3.Connection:
    """The demo world of this run of tests: the first worker that needs it loads it, the others take it from its file."""
    shared = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    file = shared / "world.sqlite3"
    with (shared / "world.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not file.exists():
            _make(file, empty, blocker)
    with closing(sqlite3.connect(file)) as made:
        return kept_copy(made)


def _make(file: Path, empty: sqlite3.Connection, blocker: Any) -> None:
    half = file.with_suffix(".part")
    with blocker.unblock():
        load_world()
        with closing(sqlite3.connect(half)) as made:
            connection.connection.backup(made)
        put_back(empty)
    half.replace(file)
