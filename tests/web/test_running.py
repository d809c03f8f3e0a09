"""In service: what is missing is said first, an upgrade is backed up, health and readiness tell the truth."""

from __future__ import annotations

import os
import runpy
import sqlite3
import subprocess
from pathlib import Path
from typing import Any

import pytest
from django.db import OperationalError
from django.test import Client

from rowan.command import serve
from rowan.web.ui import views

GOOD = {"ROWAN_SECRET_KEY": "s" * 40, "ROWAN_HOSTS": "heat.example.org"}


def test_what_is_missing_is_said_with_what_it_is_for() -> None:
    assert serve.missing(GOOD) == []
    told = serve.missing({"ROWAN_HOSTS": " "})
    assert [line.split()[0] for line in told] == ["ROWAN_SECRET_KEY", "ROWAN_HOSTS"]
    assert "32 are the least" in serve.missing({**GOOD, "ROWAN_SECRET_KEY": "short"})[0]


def test_nothing_starts_without_its_settings(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.delenv("ROWAN_SECRET_KEY", raising=False)
    monkeypatch.setattr(os, "execv", lambda *_: pytest.fail("started"))
    assert serve.run_serve("127.0.0.1:8000", 2) == 2
    assert "cannot be served yet" in capsys.readouterr().err


class Managed:
    """Django's commands as they are asked for, answered without being run; `behind` where the database is of an older version."""

    def __init__(self, behind: bool = False, fails: str = "") -> None:
        self.behind, self.fails, self.asked = behind, fails, list[str]()

    def __call__(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        self.asked.append(" ".join(arguments[:2]))
        failed = (arguments == ("migrate", "--check") and self.behind) or arguments[0] == self.fails
        return subprocess.CompletedProcess(
            arguments, int(failed), "", "Traceback\nno such table: jobs" if failed else ""
        )


def _served(monkeypatch: pytest.MonkeyPatch, var: Path, managed: Managed) -> list[str]:
    """The command that would take over; none where it does not come so far."""
    started: list[str] = []
    for name, value in {**GOOD, "ROWAN_VAR": str(var), "DJANGO_SETTINGS_MODULE": serve.SETTINGS}.items():
        monkeypatch.setenv(name, value)
    monkeypatch.setattr(serve, "_manage", managed)
    monkeypatch.setattr(os, "execv", lambda _, command: started.extend(command))
    serve.run_serve("127.0.0.1:8123", 3)
    return started


def test_it_is_prepared_and_then_served(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    managed = Managed()
    command = _served(monkeypatch, tmp_path, managed)
    assert command[command.index("--bind") + 1] == "127.0.0.1:8123"
    assert command[command.index("--workers") + 1] == "3"
    assert "--preload" in command
    assert managed.asked == ["migrate --noinput", "collectstatic --noinput"]
    assert not (tmp_path / "backups").exists(), "nothing was there to lose"


@pytest.mark.parametrize("behind", [True, False])
def test_an_old_database_is_backed_up_before_it_is_changed(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, behind: bool
) -> None:
    with sqlite3.connect(tmp_path / "rowan.sqlite3") as base:
        for table in "abcde":
            base.execute(f"CREATE TABLE {table} (n INTEGER)")
    assert _served(monkeypatch, tmp_path, Managed(behind=behind))
    assert len(list(tmp_path.glob("backups/before-upgrade-*.zip"))) == behind


@pytest.mark.parametrize("fails", ["migrate", "collectstatic"])
def test_what_cannot_be_made_ready_is_not_served(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, capsys: pytest.CaptureFixture[str], fails: str
) -> None:
    assert _served(monkeypatch, tmp_path, Managed(fails=fails)) == []
    assert f"{fails} failed: no such table: jobs" in capsys.readouterr().err


def test_an_upgrade_that_cannot_be_backed_up_is_not_made(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "rowan.sqlite3").write_bytes(b"no database")
    assert _served(monkeypatch, tmp_path, Managed(behind=True)) == []
    assert "could not be backed up first" in capsys.readouterr().err


@pytest.mark.django_db
def test_health_and_readiness(monkeypatch: pytest.MonkeyPatch) -> None:
    client = Client()
    assert client.get("/health/").json()["answers"] is True
    assert client.get("/ready/").json() == {"ready": True, "wrong": []}
    assert client.post("/health/").status_code == 405
    monkeypatch.setattr(views.shutil, "disk_usage", lambda _: type("Usage", (), {"free": 2_000_000})())
    full = client.get("/ready/")
    assert (full.status_code, full.json()["wrong"]) == (503, ["2 MB of disk are left"])

    def broken() -> Any:
        raise OperationalError("unable to open database file")

    monkeypatch.setattr(views.connection, "cursor", broken)
    assert "cannot reach its data" in client.get("/ready/").json()["wrong"][0]


@pytest.mark.django_db
def test_the_first_person_is_made_by_command(monkeypatch: pytest.MonkeyPatch) -> None:
    from django.core.management import CommandError, call_command

    from rowan.web.accounts.management.commands import add_person
    from rowan.web.accounts.models import User

    given = {"firm": "Brackwater Heating", "name": "Odd Lund", "mail": "odd@brackwater.example"}
    answers = iter(["collector-row-77"] * 2)
    monkeypatch.setattr(add_person, "getpass", lambda _: next(answers))
    call_command("add_person", **given)
    person = User.objects.get(email=given["mail"])
    assert (person.firm is not None, person.check_password("collector-row-77")) == (True, True)
    for wrong, words in (({"mail": "nobody"}, "no mail address"), ({}, "signs in already")):
        with pytest.raises(CommandError, match=words):
            call_command("add_person", **{**given, **wrong})
    for typed, words in ((["collector-row-77", "other"], "not the same"), (["12345678"] * 2, "common")):
        answers = iter(typed)
        with pytest.raises(CommandError, match=words):
            call_command("add_person", **{**given, "mail": "ann@brackwater.example"})
    assert User.objects.count() == 1


def test_cookies_of_the_service_are_its_own_host_s_over_https_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    for name, value in GOOD.items():
        monkeypatch.setenv(name, value)
    before = os.umask(0o022)
    try:
        found = runpy.run_module("rowan.web.config.settings.production")
    finally:
        os.umask(before)
    for cookie in ("SESSION", "CSRF"):
        assert found[f"{cookie}_COOKIE_NAME"].startswith("__Host-")
        assert found[f"{cookie}_COOKIE_SECURE"] is True
    assert found["SECURE_HSTS_SECONDS"] > 1e7
    assert found["DEBUG"] is False
