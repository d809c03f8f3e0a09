"""What the reading of a log refuses."""

from __future__ import annotations

from rowan.core.terms.errors import RowanError


class LogError(RowanError):
    """A logger's file that cannot be taken, with the reason."""
