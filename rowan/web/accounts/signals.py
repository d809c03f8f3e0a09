"""A browser is noted when somebody signs in, so that they can see it and sign it out."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.dispatch import receiver
from django.http import HttpRequest
from django.utils import timezone

from rowan.web.accounts.models import SignedIn, User


@receiver(user_logged_in)
def note_browser(request: HttpRequest, user: User, **_: Any) -> None:
    """One row for each session."""
    if request.session.session_key is None:
        request.session.save()
    agent = request.headers.get("User-Agent", "")[:200]
    SignedIn.objects.update_or_create(
        session=request.session.session_key, defaults={"person": user, "agent": agent, "seen": timezone.localdate()}
    )


@receiver(user_logged_out)
def forget_browser(request: HttpRequest, **_: Any) -> None:
    """Its row goes with the session."""
    SignedIn.objects.filter(session=request.session.session_key or "").delete()
