"""`bin/rowan words --pages`: what pages and papers look up beside what can be read from the sources, kept in `rowan/locale/looked_up.txt`.

Words that the core keeps in tables, and lines that are put together, are found by showing every kind of page of the demo world and
every paper, in both systems of units, and writing down what is asked of a catalogue. What a person typed is asked too, so that a word
of ours is translated wherever it stands; it is told from ours by where it is kept.
"""

from __future__ import annotations

import ast
import os
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

from rowan.command.words import LETTERS, LOOKED_UP, ROOT, SOURCES, said_in_sources

if TYPE_CHECKING:
    from django.test import Client

READ = re.compile(r'(?:href|data-drawing|src)="(/[^"#]+)')
PAPERS = (".pdf", ".svg", "whole=1")
# a stored text this long, that starts like a name, is one wherever it stands in another
NAME = re.compile(r"[A-Z][\w’ -]{3,}")
# what is answered with while listening: the same in wide letters, so that what is asked a second time is known; names stay
WIDE = str.maketrans({chr(a + n): chr(b + n) for a, b in ((65, 0xFF21), (97, 0xFF41)) for n in range(26)})
IS_WIDE = re.compile(r"[\uff21-\uff5a]")
KEEP = re.compile(r"(\{[^{}]*\}|%\(\w+\)[sd]|&#?\w+;)")
# what is written alike everywhere: units that may be typed, symbols of a formula
UNIT = re.compile(r"/?(?:[kM]?W?h|[kMG]?Pa|[kM]?J|[cmk]?m|bar|psi|cos|exp|max|ceil|eta0|CSV|JSON|DXF|SVG)")


def wide(message: str) -> str:
    """A message in wide letters."""
    return "".join(part if at % 2 else part.translate(WIDE) for at, part in enumerate(KEEP.split(str.__str__(message))))


def constants() -> set[str]:
    """Every text in the sources of the core and the pages, and it with a sign for its numbers."""
    from rowan.web.ui.languages import numberless

    found: set[str] = set()
    for base in SOURCES:
        for path in (ROOT / base).rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Constant) and isinstance(node.value, str):
                    found |= {node.value, numberless(node.value)[0]}
    return found


def _leaves(value: Any) -> Iterator[str]:
    """The texts in a stored value."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from _leaves(one)
    elif isinstance(value, list | tuple):
        for one in value:
            yield from _leaves(one)


def stored() -> set[str]:
    """Every text in the database."""
    from django.apps import apps

    found: set[str] = set()
    for model in apps.get_models():
        if model.__module__.startswith("rowan."):
            for row in model._default_manager.values():
                for value in row.values():
                    found.update(_leaves(value))
    return found


def ours(asked: set[str], typed: set[str], known: set[str]) -> Iterator[str]:
    """Of what was asked, the messages: numbers as signs, without what people typed, units, and what holds several sentences' lines.

    `typed` are texts in the database, `known` those in the sources.
    """
    from rowan.core.goods.places import PLACES
    from rowan.core.terms.units import DIMENSIONS
    from rowan.web.ui.languages import numberless

    units = {unit.label for one in DIMENSIONS.values() for unit in (one.metric, one.us)} - {"years"}
    names = {text for text in typed - known if NAME.fullmatch(text) and len(text) < 40} | set(PLACES)
    theirs = {numberless(text)[0].strip(" #") for text in typed - known}
    for text in sorted(asked):
        general = text if text in known else numberless(text)[0]
        if IS_WIDE.search(text) or not LETTERS.search(re.sub(r"\{[^{}]*\}|%\(\w+\)s", "", general)) or "\n" in general:
            continue
        if (text not in known and general.strip(" #") in theirs) or any(name in text for name in names):
            continue
        if UNIT.fullmatch(general) or general in units:
            continue
        yield general


def _addresses(client: Client) -> Iterator[str]:
    """Every kind of page, and the papers and drawings that they lead to."""
    from rowan.command.access import kinds, practice_pages

    papers: dict[str, str] = {}
    for _, address in (*kinds(client), *practice_pages()):
        yield address
        answer = client.get(address)
        for link in READ.findall(answer.content.decode() if not answer.streaming else ""):
            if any(part in link for part in PAPERS) and not link.startswith("/static/"):
                papers.setdefault(re.sub(r"\d+", "#", link.replace("&amp;", "&")), link.replace("&amp;", "&"))
    yield from papers.values()


def _asked() -> set[str]:
    """What is asked of a catalogue while all of the demo world is shown."""
    from django.test import Client
    from django.utils import translation
    from django.utils.translation import _trans  # type: ignore[attr-defined]

    from rowan.demo.person import EMAIL
    from rowan.web.accounts.models import User
    from rowan.web.papers import sheets

    asked: set[str] = set()

    def heard(message: Any) -> Any:
        if translation.get_language() != "de" or not message:
            return message
        asked.add(str.__str__(message))
        return type(message)(wide(message))

    def counted(one: Any, many: Any, number: int) -> Any:
        return type(one)(wide(one if number == 1 else many))

    _trans.gettext, _trans.ngettext = heard, counted
    translation.gettext = heard
    an_empty_page = sheets.draw("<html lang=en><title>empty</title><p>.</p></html>")
    sheets.draw = lambda html: an_empty_page
    client = Client(SERVER_NAME="127.0.0.1", raise_request_exception=False, HTTP_ACCEPT_LANGUAGE="de")
    person = User.objects.get(email=EMAIL)
    client.force_login(person)
    for units in ("metric", "us"):
        User.objects.filter(pk=person.pk).update(units=units)
        for address in list(_addresses(client)):
            client.get(address)
    return asked


def run_pages() -> int:
    """Shows everything, and writes down what was asked that the sources do not say."""
    with tempfile.TemporaryDirectory() as scratch:
        os.environ["ROWAN_VAR"] = scratch
        import django

        django.setup()
        from django.conf import settings
        from django.core.management import call_command

        settings.LANGUAGES = [("en", "English"), ("de", "listening")]
        call_command("prepare_demo")
        said = {text for pair in said_in_sources() for text in pair}
        found = [text for text in dict.fromkeys(ours(_asked(), stored(), constants())) if text not in said]
    before = Path(LOOKED_UP).read_text(encoding="utf-8").splitlines() if LOOKED_UP.is_file() else []
    # what depends on the day or on what the demo world happens to show is not asked every time: it stays until somebody takes it out
    kept = sorted({text for text in before if text not in said} | set(found))
    LOOKED_UP.write_text("".join(f"{text}\n" for text in kept), encoding="utf-8")
    print(f"{len(kept)} messages are looked up beside those of the sources: {len(set(kept) - set(before))} new")
    for text in sorted(set(before) - set(found)):
        print(f"    not asked this time: {text}")
    return 0
