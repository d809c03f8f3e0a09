"""A plan's hand over: when, and which papers."""

from __future__ import annotations

from django.db import models

from rowan.web.plans.models import Plan


class Handover(models.Model):
    """When a plan is handed over, and which papers go with it."""

    plan = models.OneToOneField(Plan, on_delete=models.CASCADE, related_name="handover")
    on = models.DateField(null=True)
    # keys of papers left out of the pack
    left_out = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"{self.plan} · hand over"
