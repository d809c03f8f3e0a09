"""What the signed-in person may do, for every template."""

from __future__ import annotations

from django.http import HttpRequest

from rowan.web.accounts.roles import RIGHTS, holds


def may(request: HttpRequest) -> dict[str, object]:
    """`may.work` and its like: whether the person's role has a right."""
    role = getattr(getattr(request, "user", None), "role", "")
    return {"may": {right: holds(role, right) for right in RIGHTS}}
