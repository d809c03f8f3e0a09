"""People and the firm they work for."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager, PermissionsMixin
from django.db import models

from rowan.core.terms.language import Message
from rowan.web.accounts.roles import Role

UNITS = [("metric", Message("metric")), ("us", Message("US"))]
PAPERS = [("light", Message("light")), ("dark", Message("dark"))]


class Firm(models.Model):
    """A firm of installers; every job belongs to one. What its papers are headed with, and what it usually does."""

    name = models.CharField(max_length=120, unique=True)
    currency = models.CharField(max_length=24, default="crowns")
    address = models.TextField(max_length=400, blank=True)
    telephone = models.CharField(max_length=40, blank=True)
    mail = models.EmailField(blank=True)
    # whom to ring when it cannot wait
    emergency = models.CharField(max_length=40, blank=True)
    licences = models.TextField(max_length=400, blank=True)
    # drawn anew from what was given, so that nothing but a picture is in it (see logo)
    logo = models.BinaryField(blank=True, default=b"")
    logo_kind = models.CharField(max_length=20, blank=True)
    units = models.CharField(max_length=6, choices=UNITS, default="metric")
    # of new plans: the fluid's strength by the place or as typed, and the school of charging a vessel
    fluid_share = models.FloatField(null=True, blank=True)
    school = models.CharField(max_length=12, blank=True)
    # per hour, in its currency
    hourly_rate = models.FloatField(null=True, blank=True)

    def __str__(self) -> str:
        return self.name


class UserManager(BaseUserManager["User"]):
    """Makes people by their mail address."""

    def create_user(self, email: str, password: str | None = None, **fields: Any) -> User:
        """A person who signs in by mail address and password."""
        user = self.model(email=self.normalize_email(email), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user

    def create_superuser(self, email: str, password: str | None = None, **fields: Any) -> User:
        """A person with every permission."""
        return self.create_user(email, password, is_superuser=True, **fields)


class User(AbstractBaseUser, PermissionsMixin):
    """A person. `units` is the system of units pages are shown in, `paper` what they are drawn on, `language` the one they speak, `role`
    what they may do in their firm."""

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=80)
    firm = models.ForeignKey(Firm, on_delete=models.PROTECT, related_name="people", null=True, blank=True)
    units = models.CharField(max_length=6, choices=UNITS, default="metric")
    paper = models.CharField(max_length=5, choices=PAPERS, default="light")
    # a key of settings.LANGUAGES; empty where it is the browser's
    language = models.CharField(max_length=8, blank=True, default="")
    is_active = models.BooleanField(default=True)
    role = models.CharField(max_length=10, choices=Role, default=Role.INSTALLER)
    telephone = models.CharField(max_length=40, blank=True)
    # hours a week, by which the week says what is free
    week_hours = models.PositiveSmallIntegerField(default=40)
    # of their calendar's secret link; empty where there is none
    feed = models.CharField(max_length=43, blank=True, db_index=True)

    objects = UserManager()

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = ["name"]

    def __str__(self) -> str:
        return self.name or self.email

    @property
    def initials(self) -> str:
        """What records keep of a person who is forgotten."""
        return "".join(word[0] for word in self.name.split()[:3]).upper()


class Invitation(models.Model):
    """A place in a firm, offered by a link that works once and ends."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="invitations")
    email = models.EmailField()
    role = models.CharField(max_length=10, choices=Role, default=Role.INSTALLER)
    # of the secret in its link: what is kept does not open it
    digest = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    taken = models.DateTimeField(null=True)
    withdrawn = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made"]

    def __str__(self) -> str:
        return f"{self.email} to {self.firm}"


class Deed(models.Model):
    """Who did what of that which no plan's history tells; never changed."""

    firm = models.ForeignKey(Firm, on_delete=models.CASCADE, related_name="deeds")
    person = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    words = models.CharField(max_length=300)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.words


class SignedIn(models.Model):
    """A browser in which somebody is signed in."""

    person = models.ForeignKey(User, on_delete=models.CASCADE, related_name="signed_in")
    session = models.CharField(max_length=40, unique=True)
    agent = models.CharField(max_length=200, blank=True)
    since = models.DateTimeField(auto_now_add=True)
    seen = models.DateField()

    class Meta:
        ordering = ["-seen", "-since"]

    def __str__(self) -> str:
        return f"{self.person}, {self.agent}"


class TakenForm(models.Model):
    """A plain form that a browser had kept and that was taken: it is not taken once more."""

    person = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=36)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "key"], name="form_taken_once")]

    def __str__(self) -> str:
        return f"{self.person}, {self.key}"
