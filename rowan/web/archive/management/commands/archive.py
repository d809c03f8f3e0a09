"""A firm's whole book into a file, or out of one: for books too large for a browser, with what is done said."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from rowan.web.accounts.models import Firm
from rowan.web.accounts.roles import Role
from rowan.web.archive.reader import inside, opened, take_in
from rowan.web.archive.writer import write_archive
from rowan.web.ui.errors import WebError


class Command(BaseCommand):
    """`bin/rowan manage archive --firm … out FILE` and `… in FILE`."""

    help = "Write a firm's whole book into a file, or take one in: jobs that are here already are left."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Firm, way, file."""
        parser.add_argument("--firm", required=True)
        parser.add_argument("way", choices=("out", "in"))
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        """Says how far it is. Raises CommandError for what cannot be."""
        firm = Firm.objects.filter(name=options["firm"]).first()
        if firm is None:
            raise CommandError("there is no firm of this name")

        def told(done: int, of: int) -> None:
            self.stdout.write(f"{done} of {of} jobs")

        try:
            if options["way"] == "out":
                with open(options["file"], "wb") as into:
                    write_archive(into, firm.jobs.order_by("pk"), customers=True, firm=firm, told=told)
                return
            lead = firm.people.filter(role=Role.LEAD, is_active=True).first()
            if lead is None:
                raise CommandError("the firm has no lead, in whose name it is taken in")
            with open(options["file"], "rb") as found:
                archive = opened(found)
                new = {row.uid for row in inside(archive, firm) if row.here == "new"}
                take_in(archive, firm=firm, person=lead, picked=new, told=told)
        except (WebError, OSError) as error:
            raise CommandError(str(error)) from error
