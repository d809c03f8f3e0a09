"""People and the firm they work for."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager, PermissionsMixin
from django.db import models


class Firm(models.Model):
    """A firm of installers; every job belongs to one."""

    name = models.CharField(max_length=120, unique=True)
    currency = models.CharField(max_length=24, default="crowns")

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
    """A person. `units` is the system of units pages are shown in."""

    class Units(models.TextChoices):
        METRIC = "metric", "metric"
        US = "us", "US"

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=80)
    firm = models.ForeignKey(Firm, on_delete=models.PROTECT, related_name="people", null=True, blank=True)
    units = models.CharField(max_length=6, choices=Units, default=Units.METRIC)
    is_active = models.BooleanField(default=True)

    objects = UserManager()

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = ["name"]

    def __str__(self) -> str:
        return self.name or self.email
