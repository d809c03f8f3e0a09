"""Options and profiles shared by all tests."""

from __future__ import annotations

import gc
import os
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.db import connection
from hypothesis import settings
from xdist.scheduler import LoadScopeScheduling

from rowan.memory import keep_loaded
from tests.worlds import READY, kept_copy, made_once, take_over

# what is loaded stays: looked through while it grows it takes an eighth of the time to collect the tests
gc.disable()
# the same examples at every run, here and in CI: whoever lands next is not stopped by another's luck
settings.register_profile("same", max_examples=60, deadline=None, derandomize=True)
# `bin/test search` looks for more at random; what it finds becomes a case of its own
settings.register_profile("search", max_examples=600, deadline=None, print_blob=True)
settings.load_profile("search" if os.environ.get("ROWAN_SEARCH") else "same")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption(
        "--cases",
        default=str(Path(__file__).parent / "core" / "reference"),
        help="folder of reference cases (JSON lists) for tests/core/test_reference.py",
    )


def pytest_collection_finish() -> None:
    """As where it is served; without it a tenth of all the time goes there."""
    keep_loaded()


# what is read or reckoned for one of them serves the others: the longest lots go first
TOGETHER = (
    "tests/rules/",
    "tests/core/test_care.py",
    "tests/core/test_known.py",
    "tests/core/test_limits_and_tables.py",
    "tests/web/test_extremes.py",
)


class _Lots(LoadScopeScheduling):
    """Tests go to whoever is free; those that share what takes its time stay together."""

    def _split_scope(self, nodeid: str) -> str:
        return next((lot for lot in TOGETHER if nodeid.startswith(lot)), nodeid)

    def mark_test_complete(self, node: Any, item_index: int, duration: float = 0) -> None:
        """A lot that is done is forgotten: all a worker ever had would be counted again after each of seven thousand tests."""
        super().mark_test_complete(node, item_index, duration)
        lot = self._split_scope(self.registered_collections[node][item_index])
        if all(self.assigned_work[node][lot].values()):
            del self.assigned_work[node][lot]


def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> LoadScopeScheduling:
    return _Lots(config, log)


@pytest.fixture(scope="session")
def django_db_setup(
    request: pytest.FixtureRequest, django_db_modify_db_settings: None, django_db_blocker: Any
) -> Iterator[None]:
    """The tables: ready, or made by every migration there is, which takes six seconds."""
    if READY is None or connection.vendor != "sqlite":
        request.getfixturevalue("django_db_setup")
        yield
        return
    with django_db_blocker.unblock():
        before = take_over()
    yield
    with django_db_blocker.unblock():
        connection.creation.destroy_test_db(before, verbosity=0)


@pytest.fixture(scope="session")
def empty(django_db_setup: None, django_db_blocker: Any) -> sqlite3.Connection:
    """The database before anybody wrote to it."""
    with django_db_blocker.unblock():
        connection.ensure_connection()
        return kept_copy(connection.connection)


@pytest.fixture(scope="session")
def world(
    empty: sqlite3.Connection, tmp_path_factory: pytest.TempPathFactory, django_db_blocker: Any
) -> sqlite3.Connection:
    """The demo world, loaded once and kept."""
    return made_once(tmp_path_factory.getbasetemp(), empty, django_db_blocker)
