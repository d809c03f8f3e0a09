"""The product in service: what is missing is said before anything starts, an upgrade is backed up first, then the server takes over."""

from __future__ import annotations

import os
import subprocess
import sys
from datetime import UTC, datetime
from pathlib import Path

from rowan.command.keeping import BASE, KeepingError, back_up
from rowan.folders import data_folder

SETTINGS = "rowan.web.config.settings.production"
LEAST_SECRET = 32  # letters of the secret by which sessions are signed
# what has to be set, and what for
WANTED = {
    "ROWAN_SECRET_KEY": f"the secret that sessions are signed with: {LEAST_SECRET} random letters or more, kept to yourself",
    "ROWAN_HOSTS": "the names people reach it by, with commas between: heat.example.org",
}
HOOKS = "python:rowan.web.config.hooks"
TIMEOUT_S, GRACE_S, KEEPALIVE_S = 120, 30, 5
THREADS = 4
# glibc keeps a heap for each thread: with two of them what was freed is used again. The process beside inherits it
HEAPS = {"MALLOC_ARENA_MAX": "2"}
MOST_REQUESTS, JITTER = 5000, 500  # of a worker, before another takes its place: memory stays bounded


def missing(environment: dict[str, str]) -> list[str]:
    """What is not set, or cannot be right, each with what it is for."""
    told = [f"{name} is not set: {what}" for name, what in WANTED.items() if not environment.get(name, "").strip()]
    secret = environment.get("ROWAN_SECRET_KEY", "")
    if secret and len(secret) < LEAST_SECRET:
        told.append(f"ROWAN_SECRET_KEY has {len(secret)} letters; {LEAST_SECRET} are the least")
    return told


def _manage(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "rowan.command", "manage", *arguments]
    return subprocess.run(command, capture_output=True, text=True, check=False)  # noqa: S603  our own interpreter


def prepared(var: Path) -> str:
    """Database and shipped files made ready, an old database backed up before it is changed. Empty, or what went wrong."""
    if (var / BASE).exists() and _manage("migrate", "--check").returncode != 0:
        kept = var / "backups" / f"before-upgrade-{datetime.now(UTC):%Y%m%d-%H%M%S}.zip"
        kept.parent.mkdir(parents=True, exist_ok=True)
        try:
            back_up(var, kept)
        except KeepingError as error:
            return f"not upgraded, for it could not be backed up first: {error}"
        print(f"- backed up to {kept} before the upgrade")
    for arguments in (("migrate", "--noinput"), ("collectstatic", "--noinput", "--verbosity", "0")):
        done = _manage(*arguments)
        if done.returncode != 0:
            return f"{arguments[0]} failed: {done.stderr.strip().splitlines()[-1] if done.stderr.strip() else 'no reason given'}"
    return ""


def server(bind: str, workers: int, threads: int, *more: str) -> list[str]:
    """How it is served wherever it is: loaded before it forks, so that no worker is ended for the time that takes, and with a
    time-out that a slow machine's longest page keeps."""
    return [
        sys.executable, "-m", "gunicorn", "--config", HOOKS, "--preload", "--timeout", str(TIMEOUT_S), "--bind", bind,
        "--workers", str(workers), "--threads", str(threads), *more, "rowan.web.config.wsgi:application",
    ]  # fmt: skip


def command_of(bind: str, workers: int) -> list[str]:
    """The server in service: each worker renewed in time, a line for each request."""
    return server(
        bind, workers, THREADS, "--graceful-timeout", str(GRACE_S), "--keep-alive", str(KEEPALIVE_S),
        "--max-requests", str(MOST_REQUESTS), "--max-requests-jitter", str(JITTER),
        "--logger-class", "rowan.command.access_log.AccessLog",
        "--access-logfile", "-", "--access-logformat", '{"at":"%(t)s","from":"%(h)s","asked":"%(r)s","status":%(s)s,"took_us":%(D)s}',
    )  # fmt: skip


def run_serve(bind: str, workers: int) -> int:
    """`bin/rowan serve`; comes back only where it cannot start."""
    told = missing(dict(os.environ))
    if told:
        print("rowan: it cannot be served yet:", *told, sep="\n  ", file=sys.stderr)
        return 2
    var = data_folder()
    os.environ["DJANGO_SETTINGS_MODULE"], os.environ["ROWAN_VAR"] = SETTINGS, str(var)
    var.mkdir(parents=True, exist_ok=True)
    wrong = prepared(var)
    if wrong:
        print(f"rowan: {wrong}", file=sys.stderr)
        return 2
    os.environ.update(HEAPS)
    command = command_of(bind, workers or max(2, os.cpu_count() or 2))
    os.execv(command[0], command)  # noqa: S606  the server takes this process's place
    return 0
