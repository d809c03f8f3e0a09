"""Runs on the training rig: what was turned when, and what it was worth. A run is played from its turns; nothing else is kept of it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.practice.rig import Turn
from rowan.core.practice.sheets import BY_KEY as SHEETS
from rowan.core.terms.language import Message

FILLING, RAISING, DRAINING, CABINET, HUNT = "filling", "raising", "draining", "cabinet", "hunt"
ON_RIG = {
    FILLING: "Fill and purge with a drill pump",
    RAISING: "Raise it, hold it, open the vessel, set the pressure",
    DRAINING: "Fill a loop that drains, start it, stop it, three times",
    CABINET: "Hang station and controller, wire them, set them, leave them",
}
TASKS = {**ON_RIG, HUNT: "A house with a hidden fault", **{key: task.name for key, task in SHEETS.items()}}


class PracticeRun(models.Model):
    """A learner at a task, on the rig of some plan's loop as it was then, or on paper about that plan."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice_runs")
    # by its key; no choices of the database's, or every further task would alter a table
    task = models.CharField(max_length=12)
    # whose loop it is made like, and the numbers of it: a plan that changes leaves what was practised as it was
    title = models.CharField(max_length=120)
    rig = models.JSONField()
    # the plan as it was, packed as revisions are; none for a rig that needs it no more
    design = models.BinaryField(null=True)
    turns = models.JSONField(default=list)
    # what was said before it was shown [SI], by what was asked; what was asked a hint for
    said = models.JSONField(default=dict)
    hinted = models.JSONField(default=list)
    until = models.PositiveIntegerField(default=0)
    begun = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)
    marks = models.JSONField(default=dict)
    total = models.FloatField(null=True)

    class Meta:
        ordering = ["-begun", "-pk"]

    def __str__(self) -> str:
        return f"{self.get_task_display()} · {self.title} · {self.begun:%Y-%m-%d}"

    def get_task_display(self) -> str:
        """What the task is called; one that is no more keeps its key."""
        return TASKS.get(self.task, self.task)

    @property
    def played(self) -> list[Turn]:
        """Its turns as the core plays them."""
        return [Turn(float(at), handle, position) for at, handle, position in self.turns]


SKILLS = {
    "brazing": Message("A brazed joint, cut open"),
    "compression": Message("A compression joint, taken apart"),
    "clamp": Message("A clamp, closed and looked at"),
    "flashing": Message("A flashing, watered"),
    "lagging": Message("Lagging and its jacket"),
    "anchor": Message("Tied on, ladder and anchor"),
    "charge": Message("A vessel's charge, set and read"),
    "meter": Message("Ohms read at a probe"),
}


class HandSkill(models.Model):
    """A skill of the hand that a named master has seen; nothing on a screen can show it."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="hand_skills")
    skill = models.CharField(max_length=12, choices=list(SKILLS.items()))
    seen_on = models.DateField()
    # the name as it was then: a witness may leave the firm
    witness = models.CharField(max_length=120)
    seen_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="witnessed"
    )
    words = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-seen_on", "-pk"]

    def __str__(self) -> str:
        return f"{self.get_skill_display()} · {self.person} · {self.seen_on:%Y-%m-%d}"
