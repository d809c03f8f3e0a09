"""What every page knows."""

from __future__ import annotations

from django.http import HttpRequest

from rowan.core.units import System


def units_of(request: HttpRequest) -> System:
    """The system of units a person sees."""
    return "us" if getattr(request.user, "units", "metric") == "us" else "metric"


def units(request: HttpRequest) -> dict[str, str]:
    """The system of units, for templates."""
    return {"units": units_of(request)} if hasattr(request, "user") else {"units": "metric"}
