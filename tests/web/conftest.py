"""People, firms and plans for the page tests."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator

import pytest
from django.db import connection
from django.test import Client
from whitenoise.middleware import WhiteNoiseMiddleware

from rowan.demo.load import load_world
from rowan.demo.person import EMAIL
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import Plan
from rowan.web.plans.services import start_job
from tests.core.designs import plan_a, proposed
from tests.core.thermosiphons import roof_tank
from tests.worlds import copy_in


@pytest.fixture(autouse=True, scope="session")
def _shipped_files_are_found_once() -> Iterator[None]:
    """Every client of a test makes the middleware anew, which looks for all shipped files: a tenth of the pages' tests."""
    find, kept = WhiteNoiseMiddleware.add_files_from_finders, dict[str, object]()

    def once(self: WhiteNoiseMiddleware) -> None:
        if not kept:
            find(self)
            kept.update(self.files)
        self.files.update(kept)

    patch = pytest.MonkeyPatch()
    patch.setattr(WhiteNoiseMiddleware, "add_files_from_finders", once)
    yield
    patch.undo()


@pytest.fixture
def firm(db: None) -> Firm:
    return Firm.objects.create(name="Hollin & Wray Solar Heat")


@pytest.fixture
def person(firm: Firm) -> User:
    return User.objects.create_user(
        "mara@hollinwray.example", "rope-walk-40", name="Mara Hollin", firm=firm, role="lead"
    )


@pytest.fixture
def colleague(firm: Firm) -> User:
    return User.objects.create_user("ives@hollinwray.example", "rope-walk-41", name="Ives Wray", firm=firm)


@pytest.fixture
def apprentice(firm: Firm) -> User:
    return User.objects.create_user(
        "isa@hollinwray.example", "rope-walk-42", name="Isa Brand", firm=firm, role="apprentice"
    )


@pytest.fixture
def viewer(firm: Firm) -> User:
    return User.objects.create_user(
        "orla@hollinwray.example", "rope-walk-43", name="Orla Pike", firm=firm, role="viewer"
    )


@pytest.fixture
def stranger(db: None) -> User:
    other = Firm.objects.create(name="Brackwater Heating")
    return User.objects.create_user("odd@brackwater.example", "other-firm-9", name="Odd Lund", firm=other, role="lead")


@pytest.fixture
def plan(firm: Firm, person: User) -> Plan:
    return start_job(firm=firm, author=person, title="Kvist house, 4 Ropewalk", design=plan_a())


@pytest.fixture
def direct_plan(firm: Firm, person: User) -> Plan:
    return start_job(firm=firm, author=person, title="Sandreef guesthouse", design=proposed("maravel-8-gas"))


@pytest.fixture
def roof_tank_plan(firm: Firm, person: User) -> Plan:
    return start_job(firm=firm, author=person, title="Chapel Lane", design=roof_tank())


@pytest.fixture
def page(person: User) -> Client:
    client = Client()
    client.force_login(person)
    return client


@pytest.fixture(scope="session")
def kept_world(request: pytest.FixtureRequest) -> sqlite3.Connection | None:
    """The demo world, made before a test's transaction begins; None where the tests run on another database."""
    if connection.vendor != "sqlite":
        return None
    found: sqlite3.Connection = request.getfixturevalue("world")
    return found


@pytest.fixture
def demo_person(kept_world: sqlite3.Connection | None, db: None) -> User:
    """The demo's person with the whole demo world."""
    if kept_world is None:
        return load_world()
    copy_in(kept_world)
    return User.objects.get(email=EMAIL)
