"""Devices that send readings of a plan's loop, the readings, files of loggers, and what was left set at the controller."""

from __future__ import annotations

from dataclasses import fields
from datetime import timedelta

from django.conf import settings
from django.db import models
from django.db.models import Case, F, Q, When, Window
from django.db.models.functions import Lag, Mod, RowNumber

from rowan.core.records.readings import Reading as Read
from rowan.web.plans.models import Plan


class Device(models.Model):
    """Something that sends readings of a plan's loop; its token is shown once and kept only as a digest."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="devices")
    name = models.CharField(max_length=60)
    token_digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    heard = models.DateTimeField(null=True)

    class Meta:
        ordering = ["created", "pk"]

    def __str__(self) -> str:
        return self.name

    def newest_day(self, span: timedelta, most: int) -> list[Read]:
        """The readings of the newest `span`, in order. Of more than `most` an even choice, and each at which the pump started or
        stopped; never more than four times as many."""
        good = self.readings.filter(aside=False)
        newest = good.order_by("-at").values_list("at", flat=True).first()
        if newest is None:
            return []
        rows = good.filter(at__gte=newest - span)
        each = rows.count() // most + 1
        if each > 1:
            runs = Case(When(pump_share__gt=0, then=1), default=0)
            was = Window(Lag(runs), order_by=F("at").asc())
            rows = rows.annotate(runs=runs, was=was, nth=Window(RowNumber(), order_by=F("at").asc()))
            rows = rows.annotate(left=Mod("nth", each)).filter(Q(left=0) | ~Q(runs=F("was")))
        found = rows.order_by("-at").values_list(*(entry.name for entry in fields(Read)))[: 4 * most]
        return [Read(*row) for row in reversed(found)]


class Reading(models.Model):
    """What a device showed at a moment; once a moment, however often it is sent. SI, °C."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="readings")
    at = models.DateTimeField()
    field_c = models.FloatField(null=True)
    low_c = models.FloatField(null=True)
    high_c = models.FloatField(null=True)
    hot_c = models.FloatField(null=True)
    cold_c = models.FloatField(null=True)
    pump_share = models.FloatField(null=True)
    flow_m3_s = models.FloatField(null=True)
    gauge_pa = models.FloatField(null=True)
    air_c = models.FloatField(null=True)
    sun_w_m2 = models.FloatField(null=True)
    level_m = models.FloatField(null=True)
    # dated by a clock that cannot be right: kept, told, and counted nowhere
    aside = models.BooleanField(default=False)

    class Meta:
        ordering = ["device", "at"]
        constraints = [models.UniqueConstraint(fields=["device", "at"], name="reading_once_a_moment")]

    def __str__(self) -> str:
        return f"{self.device} · {self.at:%Y-%m-%d %H:%M:%S}"


class LogFile(models.Model):
    """A logger's file as it came, compressed, and the columns taken from it; without columns until somebody has named them."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="logs")
    name = models.CharField(max_length=120)
    digest = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    raw = models.BinaryField()
    # of its head: a file with the same one is read as the last was
    signature = models.CharField(max_length=64)
    mapping = models.JSONField(default=dict)
    columns = models.BinaryField(default=b"")
    rows = models.PositiveIntegerField(default=0)
    first = models.DateTimeField(null=True)
    last = models.DateTimeField(null=True)
    repairs = models.JSONField(default=list)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["first", "pk"]
        constraints = [models.UniqueConstraint(fields=["plan", "digest"], name="log_file_once_a_plan")]

    def __str__(self) -> str:
        return self.name


class LoopHealth(models.Model):
    """What a plan's log last said of its loop, for pages that show many; by its key it is told whether the log has changed since."""

    plan = models.OneToOneField(Plan, on_delete=models.CASCADE, related_name="health")
    key = models.CharField(max_length=64)
    level = models.CharField(max_length=8)
    words = models.CharField(max_length=300)
    begins = models.DateField(null=True)
    # heat that came and that was due with its band, over the days since then [J]
    came = models.FloatField(default=0)
    due = models.FloatField(default=0)
    low = models.FloatField(default=0)
    high = models.FloatField(default=0)
    # the whole log: its first day, heat that came and that was due [J]
    first = models.DateField(null=True)
    brought = models.FloatField(default=0)
    promised = models.FloatField(default=0)
    last = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["plan"]

    def __str__(self) -> str:
        return f"{self.plan}: {self.words}"


class LeftSetting(models.Model):
    """What was left set at the controller for an input of the plan: a stored number, or the words of a choice."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="left_settings")
    path = models.CharField(max_length=80)
    number = models.FloatField(null=True)
    words = models.CharField(max_length=80, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["plan", "path"]
        constraints = [models.UniqueConstraint(fields=["plan", "path"], name="left_once_a_setting")]

    def __str__(self) -> str:
        return f"{self.plan} · {self.path}"
