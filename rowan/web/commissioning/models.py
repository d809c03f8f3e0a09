"""Runs and their entries. Nothing is rewritten: what was wrong is answered by a later entry with its reason."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.records.run import ENTRY_KINDS, RUN_KINDS, EntryKind, RunKind
from rowan.core.records.run import Entry as Written
from rowan.web.plans.models import Plan, Revision


class Run(models.Model):
    """Work on site of one kind, on a plan at a named revision."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="runs")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="+")
    kind = models.CharField(max_length=10, choices=list(RUN_KINDS.items()))
    started_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    started = models.DateTimeField()
    # the id that the browser gave to the wish to start it: the same form sent twice starts one run
    sent = models.CharField(max_length=36, unique=True)

    # what the ledger of jobs reads of it without playing its entries; noted anew with each of them
    closed_at = models.DateTimeField(null=True)
    revisit_on = models.DateField(null=True)
    look_on = models.DateField(null=True)
    next_step = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["-started", "-pk"]

    def __str__(self) -> str:
        return f"{self.plan} · {self.get_kind_display()}"

    @property
    def run_kind(self) -> RunKind:
        """Its kind as the core knows it."""
        return next(kind for kind in RUN_KINDS if kind == self.kind)

    def written(self) -> list[Written]:
        """Its entries as the core plays them."""
        return [entry.written for entry in self.entries.select_related("person")]


class Entry(models.Model):
    """One entry of a run: never changed, never removed. `value` is SI."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="entries")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=8)
    step = models.CharField(max_length=20, blank=True)
    field = models.CharField(max_length=30, blank=True)
    value = models.FloatField(null=True)
    # why something is read again
    reason = models.CharField(max_length=120, blank=True)
    # what was typed, said or signed; of a photo its content's name
    text = models.TextField(max_length=20_000, blank=True)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    # its phone's clock could not be right, and was put right
    clock_off = models.BooleanField(default=False)
    received = models.DateTimeField(auto_now_add=True)
    # made by the browser: the same entry sent twice is one; its first letters are those of the browser
    sent = models.CharField(max_length=36)

    class Meta:
        ordering = ["run", "number"]
        constraints = [
            models.UniqueConstraint(fields=["run", "number"], name="entry_number_once_a_run"),
            models.UniqueConstraint(fields=["run", "sent"], name="entry_sent_once"),
        ]

    def __str__(self) -> str:
        return f"{self.run} · {self.number} {self.kind}"

    @property
    def entry_kind(self) -> EntryKind:
        """Its kind as the core knows it."""
        return next(kind for kind in ENTRY_KINDS if kind == self.kind)

    @property
    def written(self) -> Written:
        """The entry as the core plays it."""
        return Written(
            self.number,
            self.entry_kind,
            self.at,
            str(self.person),
            self.step,
            self.field,
            self.value,
            self.text,
            self.clock_off,
            self.reason,
        )


class Photo(models.Model):
    """A photograph of a run's step, kept once by its content: what a camera writes about a place was left out of it."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="photos")
    sha256 = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    taken = models.DateTimeField(null=True)
    # where the camera looked [°], if it knew
    bearing = models.FloatField(null=True)
    content = models.BinaryField()
    small = models.BinaryField()

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["run", "sha256"], name="photo_once_a_run")]

    def __str__(self) -> str:
        return f"{self.run} · {self.sha256[:8]}"
