"""Pages as text to look into."""

from __future__ import annotations

import re
from contextlib import closing
from html import unescape
from typing import Any

from pypdfium2 import PdfDocument


def one_line(answer: Any) -> str:
    """A page with every run of white space as one space, as a browser shows it."""
    return " ".join(answer.content.decode().split())


def plain(html: str) -> str:
    """The words of a page without its tags, white space as one space."""
    return " ".join(unescape(re.sub(r"<[^>]+>", "", html)).split())


def printed(pdf: bytes) -> list[str]:
    """The words of each page of a paper, white space as one space."""
    found = []
    with closing(PdfDocument(pdf)) as paper:
        for page in paper:
            with closing(page), closing(page.get_textpage()) as text:
                found.append(" ".join(text.get_text_bounded().split()))
    return found
