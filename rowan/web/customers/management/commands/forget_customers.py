"""Forgets customers whose days of grace are over. Meant for once a day; pages do it too when the list is opened."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from rowan.web.customers.services import forget_due


class Command(BaseCommand):
    """`bin/rowan manage forget_customers`."""

    help = "Forget deleted customers whose days of grace are over."

    def handle(self, *args: Any, **options: Any) -> None:
        """Says how many."""
        self.stdout.write(f"{forget_due()} forgotten")
