"""Visits of a firm's people. Times are the clock on the wall where the work is, kept as if that clock were UTC: "half past six at
the hostel" stays so wherever the server or the reader is."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.records.visits import KINDS, Planned
from rowan.web.accounts.models import Firm
from rowan.web.plans.models import Job


class Visit(models.Model):
    """Somebody comes, or a scaffold stands, or somebody is away."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="visits")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, null=True, blank=True, related_name="visits")
    kind = models.CharField(max_length=14, choices=list(KINDS.items()))
    people = models.ManyToManyField(settings.AUTH_USER_MODEL, blank=True, related_name="visits")
    start = models.DateTimeField(db_index=True)
    end = models.DateTimeField()
    # what to bring, who was told
    words = models.CharField(max_length=200, blank=True)
    cancelled = models.DateTimeField(null=True)
    # of its line in calendars: the same name always, a higher number for each change
    uid = models.CharField(max_length=36, unique=True)
    sequence = models.PositiveIntegerField(default=0)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["start", "pk"]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} {self.start:%Y-%m-%d %H:%M}"

    @property
    def planned(self) -> Planned:
        """The visit as the core knows it; its people are read from what was fetched before."""
        kind = next(key for key in KINDS if key == self.kind)
        people = tuple(sorted(one.pk for one in self.people.all()))
        start, end = self.start.replace(tzinfo=None), self.end.replace(tzinfo=None)
        return Planned(self.pk, kind, people, start, end, self.job_id, self.title)

    @property
    def title(self) -> str:
        """What it is called on the week: its job, else what it is."""
        return self.job.title if self.job is not None else (self.words or self.get_kind_display())
