"""Where a request comes from, behind as many proxies of ours as there are."""

from __future__ import annotations

from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest

UNKNOWN = "0.0.0.0"  # noqa: S104  an address nobody has, for one that is no address


def address_of(request: HttpRequest) -> str:
    """The address that our outermost proxy saw; the sender's own where there is none. Never what a sender claims."""
    seen = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
    trusted = settings.PROXIES
    given = seen[-trusted] if trusted and len(seen) >= trusted else request.META.get("REMOTE_ADDR", "")
    try:
        return str(ip_address(given))
    except ValueError:
        return UNKNOWN
