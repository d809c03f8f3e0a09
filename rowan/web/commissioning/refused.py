"""What cannot be written into a run, in words for whoever wrote it."""

from __future__ import annotations

from rowan.web.ui.errors import WebError


class EntryRefusedError(WebError):
    """An entry that cannot be taken as it is."""


class RunClosedError(WebError):
    """A run that was closed takes no further entry."""
