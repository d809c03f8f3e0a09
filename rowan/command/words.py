"""`bin/rowan words`: the messages of the product, and the catalogues brought up to them and compiled. A developer's command.

Where they are: in templates, whose text they are; in the core and the pages as what `say`, `tr` and `Message` are given, with the
pieces of a sentence that depend on the case; in the labels of inputs, figures, blocks and benches, and in whatever else reads like
words there, as tables do; in refusals; in scripts as what their `tr` is given, which goes to the browser as a script of its own for
each language. A catalogue keeps what has been translated, gains what is new without words, and loses what nobody says any more.
"""

from __future__ import annotations

import ast
import builtins
import json
import re
from collections.abc import Iterator, Mapping
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from babel.messages.catalog import Catalog

ROOT = Path(__file__).parents[2]
SOURCES = ("rowan/core", "rowan/web")
# whose arguments are messages, and of others those fields that hold one
SAYS = frozenset({"say", "tr", "tr_later", "Message", "Statement"})
# a refusal is a message too, and which of its arguments is; Python's own errors and those of tools speak to nobody
REFUSAL = re.compile(r"\w+Error")
REFUSAL_AT = {"JobFileError": 1, "LineRefusedError": 1, "CsvRefusedError": 1}
NO_REFUSALS = frozenset({"CommandError", "PydanticCustomError", "PydanticKnownError"})
FIELDS = {
    "InputSpec": ("label", "help", "empty"),
    "Block": ("title", "note"),
    "closed_form": ("name",),
    "by_method": ("name",),
    "Bench": ("name",),
    "Window": ("source",),
}
FIRST = {"InputSpec": 1, "Block": 2}  # so many arguments before the named ones are such fields
LETTERS = re.compile(r"[A-Za-z]{2,}")
BLANK = re.compile(r"\{\w+\.\w+\}")
NAMES = re.compile(r"\{\w+(?:\.\w+)*\}|%\(\w+\)s|\{[^{}|]+\|\w+(?:\|\d)?\}")
CATALOGUES = ROOT / "rowan" / "locale"
# what pages look up beside what can be read from the sources (see words_pages)
LOOKED_UP = CATALOGUES / "looked_up.txt"
WIDTH = 140
SCRIPTS = ROOT / "rowan" / "web" / "ui" / "static" / "rowan"
IN_LETTER = re.compile(r'\{% filled "([^"]*)"')
IN_SCRIPT = re.compile(r'\b(?:tr|said)\("((?:[^"\\]|\\.)*)"')


def _called(node: ast.Call) -> str:
    return node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")


def _strings(node: ast.AST) -> Iterator[str]:
    """The words in an expression that are said, whichever case holds; not what it asks by."""
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        yield node.value
    elif isinstance(node, ast.IfExp):
        yield from _strings(node.body)
        yield from _strings(node.orelse)
    elif isinstance(node, ast.BoolOp):
        for value in node.values:
            yield from _strings(value)


# two words beside each other: what reads so in the core or the pages is said to somebody
READS = re.compile(r"[a-z]{2,} [a-z]{2,}")
# but for names of files and addresses, markup, texts of several lines; classes of the drawings; valves by their states, as the orders
# of work name them; and what tools ask for or say themselves
NO_WORDS = re.compile(r"[<>=_/\\\n]|http")
DRAWN = re.compile(r"[a-z-]+(?: [a-z-]+)? (?:halo|screen|inverse|tag-long|wide-hose|thin-line)(?: [a-z-]+)?")
VALVES = re.compile(r"(?:(?:[a-z]+ ){1,2}(?:open|shut|half|working|on|off)(?:, |$))+")
MACHINES = frozenset(
    {
        *(
            "en de es",
            "fl oz",
            "tank flow",
            "tank return",
            "Input should be ",
            "Value error, ",
            "irradiance time offset",
        ),
        *("dim big", "part open", "window drawing", "mark-svg drawing", "drawing hatches"),
    }
)
# parts of a path where texts are for machines or printed as they are: works that are cited, the scheme of the job file
SILENT = frozenset({"migrations", "management", "source.py", "schema.py", "key_units.py"})
SLOTS = frozenset({"Slot", "Word", "_slot"})


def _silent(module: ast.Module) -> Iterator[ast.AST]:
    """What speaks to nobody who uses the product: docstrings, Python's own errors, pieces of a sentence with blanks or of an f-string."""
    for node in ast.walk(module):
        if isinstance(node, ast.Expr | ast.JoinedStr):
            yield from ast.walk(node) if isinstance(node, ast.JoinedStr) else [node.value]
        elif isinstance(node, ast.Raise) and isinstance(node.exc, ast.Call) and hasattr(builtins, _called(node.exc)):
            yield from ast.walk(node)
        elif isinstance(node, ast.Tuple):
            # a line with blanks is one message, put together where it is shown
            parts = [part for one in node.elts for part in ast.walk(one)]
            if any(isinstance(part, ast.Call) and _called(part) in SLOTS for part in parts):
                yield from parts


def of_tables(source: str) -> Iterator[str]:
    """The texts of a module that read like words, wherever they stand: tables are said by what goes by the plan."""
    module = ast.parse(source)
    silent = set(map(id, _silent(module)))
    for node in ast.walk(module):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in silent:
            text = node.value
            # a line with blanks is looked up sentence by sentence
            if BLANK.search(text):
                continue
            spoken = READS.search(text) and not NO_WORDS.search(NAMES.sub("", text)) and text not in MACHINES
            if spoken and not DRAWN.fullmatch(text) and not VALVES.fullmatch(text):
                yield text


def of_code(source: str) -> Iterator[str]:
    """The messages of a module."""
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call):
            continue
        name = _called(node)
        fields = FIELDS.get(name, ())
        if REFUSAL.fullmatch(name) and not hasattr(builtins, name) and name not in NO_REFUSALS:
            at = REFUSAL_AT.get(name, 0)
            for argument in node.args[at : at + 1]:
                yield from _strings(argument)
        if name in SAYS or name in FIRST:
            for argument in node.args[: FIRST.get(name, 2)]:
                yield from _strings(argument)
        for keyword in node.keywords:
            if name in SAYS or keyword.arg in fields:
                yield from _strings(keyword.value)
            if name == "InputSpec" and keyword.arg == "choices" and isinstance(keyword.value, ast.Tuple):
                for pair in keyword.value.elts:
                    if isinstance(pair, ast.Tuple) and len(pair.elts) == 2:
                        yield from _strings(pair.elts[1])


def messages() -> dict[tuple[str, str], str]:
    """Every message with its plural (or nothing), and the first file that says it: of the sources, then what pages look up beside."""
    found = said_in_sources()
    for text in LOOKED_UP.read_text(encoding="utf-8").splitlines():
        found.setdefault((text, ""), LOOKED_UP.name)
    return found


def said_in_scripts() -> dict[str, str]:
    """The messages of the scripts, and the first script that says each."""
    found: dict[str, str] = {}
    for path in sorted(SCRIPTS.glob("*.js")):
        for text in IN_SCRIPT.findall(path.read_text(encoding="utf-8")):
            found.setdefault(text, str(path.relative_to(ROOT)))
    return found


def words_script(language: str) -> str:
    """The script that gives the other scripts their words in a language."""
    catalogue = read(language)
    said = {text: catalogue.get(text) for text in sorted(said_in_scripts())}
    words = {text: message.string for text, message in said.items() if message is not None and message.string}
    return f"self.rowanWords = {json.dumps(words, ensure_ascii=False, indent=1)};\n"


def said_in_sources() -> dict[tuple[str, str], str]:
    """Messages that can be read from templates, code and scripts."""
    from rowan.web.ui.languages import numberless
    from rowan.web.ui.marking import marked

    found: dict[tuple[str, str], str] = {}
    looked_up = set(LOOKED_UP.read_text(encoding="utf-8").splitlines())
    for base in SOURCES:
        for path in sorted((ROOT / base).rglob("*.py")):
            if "migrations" in path.parts:
                continue
            source, where = path.read_text(encoding="utf-8"), str(path.relative_to(ROOT))
            for text in of_code(source):
                if LETTERS.search(text):
                    found.setdefault((text, ""), where)
            for text in of_tables(source) if SILENT.isdisjoint(path.parts) else ():
                # said with a sign for its numbers
                if numberless(text)[0] not in looked_up:
                    found.setdefault((text, ""), where)
    for path in sorted((ROOT / "rowan/web").rglob("templates/**/*.html")):
        for message in marked(path.read_text(encoding="utf-8"))[1]:
            found.setdefault((message.singular, message.plural), str(path.relative_to(ROOT)))
    for path in sorted((ROOT / "rowan/web").rglob("templates/**/*.txt")):
        for text in IN_LETTER.findall(path.read_text(encoding="utf-8")):
            found.setdefault((text, ""), str(path.relative_to(ROOT)))
    for text, where in said_in_scripts().items():
        found.setdefault((text, ""), where)
    return found


def catalogue_of(language: str) -> Path:
    """Where a language's catalogue lies."""
    return CATALOGUES / language / "LC_MESSAGES" / "django.po"


def read(language: str) -> Catalog:
    """A language's catalogue; an empty one where there is none yet."""
    from babel.messages.catalog import Catalog
    from babel.messages.pofile import read_po

    path = catalogue_of(language)
    return read_po(BytesIO(path.read_bytes()), locale=language) if path.is_file() else Catalog(locale=language)


def compiled(catalogue: Catalog) -> bytes:
    """The catalogue as gettext reads it."""
    from babel.messages.mofile import write_mo

    made = BytesIO()
    write_mo(made, catalogue)
    return made.getvalue()


def merged(old: Catalog, found: Mapping[tuple[str, str], str], language: str) -> Catalog:
    """A catalogue of the messages that are said, with the words that were there for them; those of other messages go."""
    from babel.messages.catalog import Catalog

    made = Catalog(
        locale=language, project="Rowan", version="1", copyright_holder="", msgid_bugs_address="", fuzzy=False
    )
    made.header_comment = "# The words of Rowan. Made by `bin/rowan words`; the translations are kept here."
    made.creation_date = made.revision_date = old.creation_date if len(old) else made.creation_date
    for (singular, plural), where in found.items():
        id_: Any = (singular, plural) if plural else singular
        before = old.get(id_)
        made.add(id_, before.string if before is not None else None, locations=[(where, 0)])
    return made


def untranslated(catalogue: Catalog) -> list[str]:
    """Messages without words."""
    lacking = []
    for message in catalogue:
        words = message.string if isinstance(message.string, tuple | list) else (message.string,)
        if message.id and not all(words):
            lacking.append(message.id if isinstance(message.id, str) else message.id[0])
    return lacking


def ill_named(catalogue: Catalog) -> list[str]:
    """Translations that name something the message does not, or leave one of its names out; a singular may leave out its number."""
    wrong = []
    for message in catalogue:
        ids = message.id if isinstance(message.id, tuple | list) else (message.id,)
        strings = message.string if isinstance(message.string, tuple | list) else (message.string,)
        for at, words in enumerate(strings):
            if words and message.id:
                asked = set(NAMES.findall(ids[min(at, len(ids) - 1)]))
                given = set(NAMES.findall(words))
                if asked - {"%(counter)s"} != given - {"%(counter)s"}:
                    wrong.append(f"{ids[0]} → {words}")
    return wrong


def run_words() -> int:
    """Brings every catalogue up to what is said now, compiles it, and prints what has no words yet."""
    from babel.messages.pofile import write_po

    found = messages()
    print(f"{len(found)} messages")
    for folder in sorted(path for path in CATALOGUES.iterdir() if path.is_dir()):
        made = merged(read(folder.name), found, folder.name)
        path = catalogue_of(folder.name)
        with path.open("wb") as file:
            write_po(file, made, width=WIDTH, include_lineno=False)
        path.with_suffix(".mo").write_bytes(compiled(made))
        (SCRIPTS / "words" / f"{folder.name}.js").write_text(words_script(folder.name), encoding="utf-8")
        lacking, wrong = untranslated(made), ill_named(made)
        print(f"{folder.name}: {len(lacking)} without words, {len(wrong)} that name something else")
        for one in wrong:
            print(f"    {one}")
    return 0
