"""The pages of docs/methods as HTML. They are Rowan's own text; still no HTML in them is let through."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

from django.utils.safestring import SafeString, mark_safe
from markdown_it import MarkdownIt

from rowan.core.terms.language import spoken
from rowan.core.terms.record import record
from rowan.core.terms.source import METHODS

HERE = Path(__file__).parent
FOLDER = HERE / "texts"  # docs/methods, by a link: what is read on paper is what is shown
# V_warm: a letter with its index, which is a word of the language: V_Füllung
_SUBSCRIPT = re.compile(r"\b([A-Za-zρηΔ])_([A-ZÄÖÜ]?[a-zß-ÿ]+)\b")
JOB_FILE = HERE / "job-file.md"


@record
class Page:
    """A page of documentation: its number (None without), title, body and the published works it rests on."""

    number: int | None
    title: str
    body: SafeString
    works: tuple[str, ...] = ()


@lru_cache(maxsize=96)
def _page(path: Path, number: int | None) -> Page:
    text = path.read_text(encoding="utf-8")
    title, _, body = text.partition("\n")
    renderer = MarkdownIt("commonmark", {"html": False}).enable("table")
    works = METHODS[number].works if number in METHODS else ()
    made = mark_safe(_SUBSCRIPT.sub(r"<i>\1</i><sub>\2</sub>", renderer.render(body)))  # noqa: S308  our own text, and the renderer lets no HTML through
    return Page(number, title.removeprefix("# ").strip(), made, works)


def _spoken(path: Path) -> Path:
    """A text in the language that is spoken, which lies in a folder named by it; the English one where there is none."""
    own = FOLDER / spoken().key / path.name
    return own if own.is_file() else path


def pages() -> dict[int, Page]:
    """Every method page by its number, in the language that is spoken."""
    return {
        int(path.name[:2]): _page(_spoken(path), int(path.name[:2])) for path in sorted(FOLDER.glob("[0-9][0-9]-*.md"))
    }


def job_file_page() -> Page:
    """The page about the job file."""
    return _page(_spoken(JOB_FILE), None)
