"""Prepare the demo: tables, static files, the invented world. Kept between starts unless --fresh."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from rowan.core.simulation.year import warm
from rowan.demo.load import load_world


class Command(BaseCommand):
    help = "Prepare the demo data"

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--fresh", action="store_true", help="start the demo data anew")

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        if options["fresh"]:
            for ending in ("", "-wal", "-shm"):
                database.with_name(database.name + ending).unlink(missing_ok=True)
        self._step("Making the tables", lambda: call_command("migrate", verbosity=0))
        self._step("Gathering static files", lambda: call_command("collectstatic", interactive=False, verbosity=0))
        # compiled once and kept on disk, so that nobody waits for it on a page
        self._step("Loading the loop of the year (the first time it is compiled: twenty to fifty seconds)", warm)
        self._step("Loading the demo world (the first time about half a minute: a year of minutes is made)", load_world)

    def _step(self, words: str, act: Callable[[], object]) -> None:
        """Says what is done before it is done, and how long it took."""
        self.stderr.write(f"- {words}")
        began = time.monotonic()
        act()
        self.stderr.write(f"  done in {time.monotonic() - began:.0f} s")
