"""A plan's hand over: when, which papers, where hidden pipes lie."""

from __future__ import annotations

from django.db import models

from rowan.web.plans.models import Plan


class Handover(models.Model):
    """When a plan is handed over, and which papers go with it."""

    plan = models.OneToOneField(Plan, on_delete=models.CASCADE, related_name="handover")
    on = models.DateField(null=True)
    # keys of papers left out of the pack
    left_out = models.JSONField(default=list)
    # of legs that nobody sees any more, by their id: where they lie, in words
    offsets = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"{self.plan} · hand over"
