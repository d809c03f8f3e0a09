"""Tables and the demo world, made once for all workers and put into a test's database as a whole: row by row it takes ten seconds."""

from __future__ import annotations

import fcntl
import os
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection

from rowan.core.simulation.year import warm
from rowan.demo.load import load_world
from rowan.standin.controller import warm as warm_standin

# where `bin/test` puts both, made beside what is checked before the tests: else each worker makes its own tables, and one the world
READY = Path(os.environ["ROWAN_TEST_WORLDS"]) if os.environ.get("ROWAN_TEST_WORLDS") else None
EMPTY, WORLD = "empty.sqlite3", "world.sqlite3"


def prepare(folder: Path) -> None:
    """Writes a database without a row, and one with the demo world, into a folder; compiles the loops they need, and all their
    callers may want of them."""
    warm()
    warm_standin()
    connection.creation.create_test_db(verbosity=0, autoclobber=True, serialize=False)
    _write(folder / EMPTY)
    load_world()
    _write(folder / WORLD)
    connection.creation.destroy_test_db(settings.DATABASES["default"]["NAME"], verbosity=0)


def take_over() -> str:
    """The tables that are ready become the database of these tests; the name of the one before, to end it with."""
    assert READY is not None
    before, name = str(connection.settings_dict["NAME"]), connection.settings_dict["TEST"]["NAME"]
    connection.close()
    shutil.copy(READY / EMPTY, name)
    settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = name
    return before


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
    shared = READY or (base.parent if "PYTEST_XDIST_WORKER" in os.environ else base)
    file = shared / WORLD
    with (shared / "world.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not file.exists():
            with blocker.unblock():
                load_world()
                _write(file)
                put_back(empty)
    with closing(sqlite3.connect(file)) as made:
        return kept_copy(made)


def _write(file: Path) -> None:
    """The database as it stands, into a file that is there once it is whole."""
    half = file.with_suffix(".part")
    with closing(sqlite3.connect(half)) as made:
        connection.connection.backup(made)
    half.replace(file)
