"""Customers and sites, each by itself: a landlord has several houses, a house has somebody who lives there.

What is personal is here alone. Plans, revisions and records know a job and the initials of who worked; so a customer can be
forgotten while what was built and measured stays.
"""

from __future__ import annotations

from datetime import timedelta
from urllib.parse import quote

from django.conf import settings
from django.db import models

from rowan.core.records.job_state import DECLINED, STATES
from rowan.core.terms.language import Message
from rowan.web.accounts.models import Firm, User
from rowan.web.plans.models import Job

GRACE = timedelta(days=30)  # between deleting and forgetting, for a slip of the hand


class CustomerQuerySet(models.QuerySet["Customer"]):
    """Customers, always from what somebody may see."""

    def visible(self, person: User) -> CustomerQuerySet:
        """Those of the person's own firm; none without a firm."""
        return self.filter(firm_id=person.firm_id) if person.firm_id else self.none()


class SiteQuerySet(models.QuerySet["Site"]):
    """Sites, likewise."""

    def visible(self, person: User) -> SiteQuerySet:
        """Those of the person's own firm; none without a firm."""
        return self.filter(firm_id=person.firm_id) if person.firm_id else self.none()


class Customer(models.Model):
    """Who asked for the work and pays for it."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="customers")
    name = models.CharField(max_length=120)
    address = models.TextField("address, if not the site's", max_length=300, blank=True)
    telephone = models.CharField(max_length=40, blank=True)
    mail = models.EmailField(blank=True)
    notes = models.TextField(max_length=4000, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    # deleted, and not forgotten yet
    deleted = models.DateTimeField(null=True)

    objects = CustomerQuerySet.as_manager()

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def initials(self) -> str:
        """What a record keeps of a name."""
        return " ".join(f"{word[0]}." for word in self.name.split()[:3])


class Site(models.Model):
    """Where the work is: its address, how to get in, who is there."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="sites")
    address = models.CharField("street and number", max_length=200)
    town = models.CharField(max_length=120, blank=True)
    latitude = models.FloatField(null=True, blank=True)
    longitude = models.FloatField(null=True, blank=True)
    access = models.TextField("to get in", max_length=1000, blank=True)
    contact = models.CharField("who is there", max_length=120, blank=True)
    contact_telephone = models.CharField("their telephone", max_length=40, blank=True)

    objects = SiteQuerySet.as_manager()

    class Meta:
        ordering = ["town", "address", "pk"]

    def __str__(self) -> str:
        return f"{self.address}, {self.town}" if self.town else self.address

    @property
    def map_address(self) -> str:
        """A geo: link that the phone's own map opens (RFC 5870): by position where it is known, else by words."""
        if self.latitude is not None and self.longitude is not None:
            return f"geo:{self.latitude:.6f},{self.longitude:.6f}"
        return f"geo:0,0?q={quote(str(self))}"


class JobCard(models.Model):
    """A job's customer, site and state; its history of states is in `Stood`."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="card")
    customer = models.ForeignKey(Customer, on_delete=models.SET_NULL, null=True, blank=True, related_name="cards")
    site = models.ForeignKey(Site, on_delete=models.SET_NULL, null=True, blank=True, related_name="cards")
    state = models.CharField(
        max_length=12, choices=[*STATES.items(), (DECLINED, Message("declined"))], default="enquiry"
    )
    since = models.DateField(null=True)

    def __str__(self) -> str:
        return f"{self.job}, {self.get_state_display()}"


class Stood(models.Model):
    """That a job came to a state, on what day, by whom; a step back is a row too."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="stood")
    state = models.CharField(max_length=12)
    on = models.DateField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.job}, {self.state} {self.on}"


class Note(models.Model):
    """Something to know about a job."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="notes")
    text = models.TextField(max_length=4000)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.text[:60]


class JobFile(models.Model):
    """A file that belongs to a job: a data sheet, a letter, a drawing."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="files")
    name = models.CharField(max_length=120)
    size = models.PositiveIntegerField()
    content = models.BinaryField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.name
