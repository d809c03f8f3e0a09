"""Pages as text to look into."""

from __future__ import annotations

import re
from html import unescape
from typing import Any


def one_line(answer: Any) -> str:
    """A page with every run of white space as one space, as a browser shows it."""
    return " ".join(answer.content.decode().split())


def plain(html: str) -> str:
    """The words of a page without its tags, white space as one space."""
    return " ".join(unescape(re.sub(r"<[^>]+>", "", html)).split())
