"""Pages as text to look into."""

from __future__ import annotations

from typing import Any


def one_line(answer: Any) -> str:
    """A page with every run of white space as one space, as a browser shows it."""
    return " ".join(answer.content.decode().split())
