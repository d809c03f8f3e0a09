"""Jobs, their plans, and the append-only revisions of each plan's design."""

from __future__ import annotations

import json
import uuid
from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.db import models

from rowan.core.terms.language import Message
from rowan.web.accounts.models import Firm
from rowan.web.plans.packing import packed, smaller, text_of, unpacked

if TYPE_CHECKING:
    from rowan.web.accounts.models import User


class JobQuerySet(models.QuerySet["Job"]):
    """Jobs, always from what somebody may see."""

    def visible(self, user: User) -> JobQuerySet:
        """The jobs of the person's own firm; none without a firm."""
        return self.filter(firm_id=user.firm_id) if user.firm_id else self.none()


class Job(models.Model):
    """One house or site of a firm."""

    firm = models.ForeignKey(Firm, on_delete=models.PROTECT, related_name="jobs")
    # by which it is known again when it comes back in a file
    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    title = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)
    archived = models.BooleanField(default=False)
    # the units its papers are printed in, whoever prints: those of the gauge in the cellar; blank for the reader's own
    paper_units = models.CharField(
        max_length=6, blank=True, choices=[("metric", Message("bar, °C, litres")), ("us", Message("psi, °F, gallons"))]
    )

    objects = JobQuerySet.as_manager()

    class Meta:
        ordering = ["-created", "-pk"]

    def __str__(self) -> str:
        return self.title


class PlanManager(models.Manager["Plan"]):
    """Plans alone: a proposal stands beside the plans of a job until it is taken."""

    def get_queryset(self) -> models.QuerySet[Plan]:
        """Without proposals."""
        return super().get_queryset().filter(proposal_of=None)


class Plan(models.Model):
    """One plan of a job; its living design is the design of its newest revision.

    A proposal is a plan beside a plan: what an apprentice changes, from a named revision on, in revisions of its own that are not
    the plan's history until an installer takes them.
    """

    class Answer(models.TextChoices):
        DRAFT = "draft", Message("being made")
        HANDED = "handed", Message("handed in")
        TAKEN = "taken", Message("taken")
        DECLINED = "declined", Message("not taken")

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="plans")
    letter = models.CharField(max_length=1)
    # where its newest state stands: searched without opening a design
    place = models.CharField(max_length=120, blank=True)
    proposal_of = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="+")
    proposed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    # the revision it began from
    proposed_on = models.ForeignKey("Revision", on_delete=models.PROTECT, null=True, related_name="+")
    answer = models.CharField(max_length=8, choices=Answer, blank=True)
    # what was said with it, and with its answer
    said = models.CharField(max_length=400, blank=True)
    answered = models.DateTimeField(null=True)
    # the id that the browser gave to the change being saved now; of this object alone, never kept with it
    sending: str | None = None

    objects = PlanManager()
    everything = models.Manager["Plan"]()

    class Meta:
        ordering = ["letter"]
        constraints = [
            models.UniqueConstraint(
                fields=["job", "letter"], condition=models.Q(proposal_of=None), name="plan_letter_once_a_job"
            ),
            models.UniqueConstraint(
                fields=["proposal_of", "proposed_by"],
                condition=models.Q(answer__in=("draft", "handed")),
                name="open_proposal_once_a_person",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.job} · plan {self.letter}"

    @property
    def real(self) -> Plan:
        """The plan itself, of a proposal the one that it proposes to change: runs, devices and papers are that one's."""
        return self.proposal_of or self

    @property
    def newest_number(self) -> int:
        """The number of the newest revision, read without its design; 0 without one."""
        return self.revisions.order_by("-number").values_list("number", flat=True).first() or 0

    @property
    def head(self) -> Revision:
        """The newest revision."""
        revision = self.revisions.order_by("-number").first()
        if revision is None:
            raise Revision.DoesNotExist(f"{self} has no revision")
        return revision


class Revision(models.Model):
    """One state of a plan's design; never changed, never removed.

    `undo_to` is the revision Undo goes back to, `redo_to` the one Redo brings again.
    """

    class Kind(models.TextChoices):
        START = "start", Message("started")
        EDIT = "edit", Message("changed")
        # one input, typed or dragged where it stands: what it was and is says it all
        TYPED = "typed", Message("changed")
        CURE = "cure", Message("tried")
        UNDO = "undo", Message("undone")
        REDO = "redo", Message("redone")
        RESTORE = "restore", Message("gone back")
        IMPORT = "import", Message("taken in")
        PROPOSED = "proposed", Message("taken")

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=8, choices=Kind)
    path = models.CharField(max_length=120, blank=True)
    summary = models.CharField(max_length=240, blank=True)
    # the design as what it has that its base has not; a base has none (see packing)
    packed = models.BinaryField()
    base = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    undo_to = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    redo_to = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    # what lists count without opening the design, reckoned when the revision was saved
    engine_version = models.CharField(max_length=12)
    assumed_count = models.PositiveSmallIntegerField(default=0)
    # the id a browser gave to the change: one that is sent again, for its answer was lost, is not saved twice
    sent = models.CharField(max_length=36, null=True, default=None)  # noqa: DJ001  null: those without one are not alike
    # the state before, at hand where this one was just saved; of this object alone, never kept with it
    follows: Revision | None = None

    class Meta:
        ordering = ["plan", "number"]
        constraints = [
            models.UniqueConstraint(fields=["plan", "number"], name="revision_number_once_a_plan"),
            models.UniqueConstraint(fields=["plan", "sent"], name="revision_sent_once"),
        ]

    def __str__(self) -> str:
        return f"{self.plan} · {self.number}"

    @property
    def text(self) -> bytes:
        """The design's JSON as it was packed."""
        return unpacked(bytes(self.packed), self.base.text if self.base is not None else None)

    @text.setter
    def text(self, text: bytes) -> None:
        """Packs a design over the base, or by itself where that is not worth it."""
        over = smaller(text, self.base.text) if self.base is not None else None
        if over is None:
            self.base = None
        self.packed = over if over is not None else packed(text)

    @property
    def design(self) -> dict[str, Any]:
        """The design as it was saved."""
        found: dict[str, Any] = json.loads(self.text)
        return found

    @design.setter
    def design(self, data: dict[str, Any]) -> None:
        """Packs a design that is not at hand as text."""
        self.text = text_of(data)


class WeatherYear(models.Model):
    """An hourly year that a firm has taken from a file; plans name it by its digest."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="weather_years")
    name = models.CharField(max_length=80)
    digest = models.CharField(max_length=64)
    kind = models.CharField(max_length=8)
    latitude = models.FloatField()
    longitude = models.FloatField()
    altitude = models.FloatField()
    utc_offset = models.FloatField()
    rows = models.BinaryField()
    means = models.JSONField()
    mended = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created", "-pk"]
        constraints = [models.UniqueConstraint(fields=["firm", "digest"], name="weather_once_a_firm")]

    def __str__(self) -> str:
        return self.name


class FirmPlace(models.Model):
    """A place that a firm works at: its position and climate, by twelve means or by a weather year, offered in the four facts."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="places")
    name = models.CharField(max_length=80)
    latitude = models.FloatField()
    longitude = models.FloatField()
    altitude = models.FloatField()
    # coldest night [°C]; hardness of the main [mol/m³]
    coldest = models.FloatField()
    hardness = models.FloatField(default=1.2)
    ghi = models.JSONField()
    air = models.JSONField()
    # the year its means are of, measured at a station of its own
    year = models.ForeignKey(WeatherYear, on_delete=models.PROTECT, null=True, blank=True, related_name="+")

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["firm", "name"], name="place_once_a_firm")]

    def __str__(self) -> str:
        return self.name
