"""Prepare the demo: tables, static files, the invented world. Kept between starts unless --fresh."""

from __future__ import annotations

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
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        load_world()
        warm()  # compiles the year once, so that nobody waits for it on a page
