"""Links to one job's page for whoever lives there, and the diary, which nobody rewrites."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from rowan.core.terms.language import Message
from rowan.web.plans.models import Job, Plan


class HouseLink(models.Model):
    """A link to one job's page, without a sign-in: sent with an end, or on the card without one. What is in the link is signed, so that
    nothing kept here opens it."""

    class Kind(models.TextChoices):
        SENT = "sent", Message("sent")
        CARD = "card", Message("on the card")

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="house_links")
    kind = models.CharField(max_length=4, choices=Kind)
    made = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    ends = models.DateField(null=True)
    revoked = models.DateTimeField(null=True)
    opened = models.PositiveIntegerField(default=0)
    last_opened = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made", "-pk"]

    def __str__(self) -> str:
        return f"{self.plan} · link {self.pk}"


class DiaryEntry(models.Model):
    """Something that happened after the hand over, or at it: never changed."""

    class Kind(models.TextChoices):
        LOOK = "look", Message("look")
        DRILL = "drill", Message("settings read again")
        HANDED = "handed", Message("handed over")
        NOTE = "note", Message("note")
        READ = "read", Message("read by hand")

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="diary")
    kind = models.CharField(max_length=6, choices=Kind)
    at = models.DateTimeField(auto_now_add=True)
    # None: whoever lives there, by their link
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    link = models.ForeignKey(HouseLink, on_delete=models.SET_NULL, null=True, related_name="looks")
    # gravest finding's level; empty where all is as it should be
    level = models.CharField(max_length=4, blank=True)
    words = models.TextField(max_length=2000)
    data = models.JSONField(default=dict)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.job} · {self.at:%Y-%m-%d} {self.kind}"
