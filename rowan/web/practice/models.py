"""Runs on the training rig: what was turned when, and what it was worth. A run is played from its turns; nothing else is kept of it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.practice.rig import Turn

TASKS = {"filling": "Fill and purge with a drill pump"}


class PracticeRun(models.Model):
    """A learner at a task, on the rig of some plan's loop as it was then."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice_runs")
    task = models.CharField(max_length=12, choices=list(TASKS.items()))
    # whose loop it is made like, and the numbers of it: a plan that changes leaves what was practised as it was
    title = models.CharField(max_length=120)
    rig = models.JSONField()
    turns = models.JSONField(default=list)
    # what was said before the rig showed it [SI], by what was asked
    said = models.JSONField(default=dict)
    until = models.PositiveIntegerField(default=0)
    begun = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)
    marks = models.JSONField(default=dict)
    total = models.FloatField(null=True)

    class Meta:
        ordering = ["-begun", "-pk"]

    def __str__(self) -> str:
        return f"{self.get_task_display()} · {self.title} · {self.begun:%Y-%m-%d}"

    @property
    def played(self) -> list[Turn]:
        """Its turns as the core plays them."""
        return [Turn(float(at), handle, position) for at, handle, position in self.turns]
