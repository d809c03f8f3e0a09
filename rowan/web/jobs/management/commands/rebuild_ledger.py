"""Reckon what the ledger lists anew for revisions of an older engine."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from rowan.core.reckon import ENGINE_VERSION
from rowan.web.plans.models import Plan
from rowan.web.plans.services import refresh_ledger


class Command(BaseCommand):
    help = "Reckon the ledger's columns anew where the engine has changed"

    def handle(self, *args: Any, **options: Any) -> None:
        stale = [plan.head for plan in Plan.objects.all() if plan.head.engine_version != ENGINE_VERSION]
        for revision in stale:
            refresh_ledger(revision)
        self.stdout.write(f"{len(stale)} plans reckoned anew")
