"""The line of each request, without the secrets that stand in an address: invitations, resets, calendars, a house's page."""

from __future__ import annotations

import re
from typing import Any

from gunicorn.glogging import Logger

SECRET = re.compile(r"(/(?:invitation|feed|h)/)[^/\s?]+|(/reset/[^/\s?]+/)[^/\s?]+")


def without_secrets(text: str) -> str:
    """An address, or a request line, with its secret left out."""
    return SECRET.sub(lambda found: f"{found[1] or found[2]}…", text)


class AccessLog(Logger):  # type: ignore[misc]  # gunicorn brings no types
    """gunicorn's own, but for what must not be in a log."""

    def atoms(self, resp: Any, req: Any, environ: Any, request_time: Any) -> dict[str, Any]:
        """What a line is made of."""
        found: dict[str, Any] = super().atoms(resp, req, environ, request_time)
        return {key: without_secrets(value) if isinstance(value, str) else value for key, value in found.items()}
