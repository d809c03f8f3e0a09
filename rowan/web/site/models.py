"""Ticks of the work on site. Nothing is rewritten: a tick that was wrong is answered by a later entry."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.web.plans.models import Plan


class Tick(models.Model):
    """A step of a plan's list, done or taken back: who said so, when, at which revision. The latest entry counts."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=60)
    done = models.BooleanField()
    revision = models.PositiveIntegerField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    # made by the browser: the same tick sent twice is one
    sent = models.CharField(max_length=36, unique=True)

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.plan} · {self.key}: {'done' if self.done else 'taken back'}"
