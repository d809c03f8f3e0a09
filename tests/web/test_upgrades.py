"""Databases of every earlier version, made by the program of its day, are brought over whole."""

from __future__ import annotations

import gzip
import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.db import connections

from rowan.core.design.job_file import read
from rowan.core.reckon import reckon
from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Run
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.packing import unpacked

SAMPLES = sorted((Path(__file__).parent / "samples").glob("database-*.sqlite3.gz"))


@pytest.fixture
def old(request: pytest.FixtureRequest, tmp_path: Path, django_db_blocker: Any) -> Iterator[Path]:
    """A sample in a file of its own, known as the database `old`."""
    path = tmp_path / "rowan.sqlite3"
    path.write_bytes(gzip.decompress(request.param.read_bytes()))
    # whatever the tests themselves run on
    settings = {"ENGINE": "django.db.backends.sqlite3", "NAME": path}
    connections.databases["old"] = connections.configure_settings({"default": {}, "old": settings})["old"]
    with django_db_blocker.unblock():
        yield path
        connections["old"].close()
    del connections["old"], connections.databases["old"]


def _kept(base: sqlite3.Connection) -> dict[tuple[int, int], Any]:
    """Every design by plan and number: in whole as it once was, or over its base."""
    columns = {row[1] for row in base.execute("PRAGMA table_info(jobs_revision)")}
    if "design" in columns:
        rows = base.execute("SELECT plan_id, number, design FROM jobs_revision")
        return {(plan, number): json.loads(text) for plan, number, text in rows}
    packed = {row[0]: row[1:] for row in base.execute("SELECT id, plan_id, number, base_id, packed FROM jobs_revision")}

    def text(key: int) -> bytes:
        _, _, over, content = packed[key]
        return unpacked(content, text(over) if over else None)

    return {(plan, number): json.loads(text(key)) for key, (plan, number, _, _) in packed.items()}


@pytest.mark.sqlite
@pytest.mark.parametrize("old", SAMPLES, ids=lambda path: path.name.split(".")[0], indirect=True)
def test_a_database_of_an_earlier_version_is_brought_over_whole(old: Path) -> None:
    with sqlite3.connect(old) as base:
        kept = _kept(base)
        people = {mail for (mail,) in base.execute("SELECT email FROM accounts_user")}
    assert kept
    call_command("migrate", database="old", verbosity=0)
    assert {person.email for person in User.objects.using("old")} == people
    assert {person.role for person in User.objects.using("old")} <= {"lead"}  # who could do everything still can
    revisions = Revision.objects.using("old").select_related("base")
    assert {(one.plan_id, one.number): one.design for one in revisions} == kept
    for plan in Plan.objects.using("old"):
        design = read(plan.head.design)
        assert design.survey.place.value == plan.place
        assert reckon(design).figures["aperture"].value > 0


@pytest.mark.sqlite
@pytest.mark.parametrize("old", SAMPLES[5:6], ids=["with ticks"], indirect=True)
def test_what_was_ticked_on_a_roof_becomes_runs_with_who_and_when(old: Path) -> None:
    call_command("migrate", "site", "0001", database="old", verbosity=0)
    call_command("migrate", "jobs", database="old", verbosity=0)
    with sqlite3.connect(old) as base:
        (plan,) = base.execute("SELECT id FROM jobs_plan ORDER BY id").fetchone()
        (person,) = base.execute("SELECT id FROM accounts_user ORDER BY id").fetchone()
        rows = [("delivered-feet", 1), ("weather", 1), ("weather", 0), ("weather", 1)]
        base.executemany(
            "INSERT INTO site_tick (key, done, revision, at, sent, person_id, plan_id) VALUES (?, ?, 1, ?, ?, ?, ?)",
            [(key, done, f"2026-11-2{n} 08:00:00", f"sent-{n}", person, plan) for n, (key, done) in enumerate(rows)],
        )
    call_command("migrate", database="old", verbosity=0)
    roof, delivery = (Run.objects.using("old").get(plan_id=plan, kind=kind) for kind in ("roof", "delivery"))
    assert [(entry.kind, entry.field, entry.value) for entry in roof.entries.all()] == [
        ("tick", "done_weather", 1.0), ("done", "", None), ("tick", "done_weather", 0.0), ("tick", "done_weather", 1.0), ("done", "", None),
    ]  # fmt: skip
    assert [(entry.field, entry.at.day, entry.person_id) for entry in delivery.entries.all()] == [
        ("came_feet", 20, person)
    ]


@pytest.mark.sqlite
@pytest.mark.parametrize("old", SAMPLES[5:6], ids=["kept whole"], indirect=True)
def test_designs_that_were_kept_whole_come_over_as_differences_and_go_back_to_the_letter(old: Path) -> None:
    with sqlite3.connect(old) as base:
        kept = _kept(base)
        plans = {plan for plan, _ in kept}
    call_command("migrate", database="old", verbosity=0)
    with sqlite3.connect(old) as base:
        assert _kept(base) == kept
        whole = base.execute("SELECT plan_id FROM jobs_revision WHERE base_id IS NULL").fetchall()
    assert len(kept) > len(plans)
    assert sorted(plan for (plan,) in whole) == sorted(plans), "one of each plan"
    # back through all that came since: it takes every app with it that builds on plans
    call_command("migrate", "jobs", "0007", database="old", verbosity=0)
    with sqlite3.connect(old) as base:
        assert "packed" not in {row[1] for row in base.execute("PRAGMA table_info(jobs_revision)")}
        assert _kept(base) == kept


def test_there_is_a_sample_of_each_change_to_what_is_kept() -> None:
    """Whoever changes the tables adds a database of the version before."""
    last = set()
    for sample in SAMPLES:
        base = sqlite3.connect(":memory:")
        base.deserialize(gzip.decompress(sample.read_bytes()))
        last |= {name for (name,) in base.execute("SELECT name FROM django_migrations WHERE app = 'jobs'")}
        base.close()
    here = {path.stem for path in (Path(__file__).parents[2] / "rowan/web/plans/migrations").glob("0*.py")}
    newest = {"0010_proposals", "0011_places", "0012_job_uid"}  # of this version; a later one adds a sample with them
    assert here - last == newest
