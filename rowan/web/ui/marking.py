"""A template's text is its messages: what stands between tags, and in attributes that are read out, is marked for translation when the
template is loaded. Nobody can forget to mark a sentence, and templates stay readable.

A message is the longest run of text and {{ variables }} between two tags, of HTML or of the template; Django's own `translate` and
`blocktranslate` do the rest. A run whose words depend on a number, by `pluralize`, becomes a message with a plural. What needs more is
marked by hand: whatever lies in a `blocktranslate` is left as it is.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from rowan.core.terms.record import record

TOKEN = re.compile(r"(\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\})", re.S)
LETTERS = re.compile(r"[A-Za-z\u00c0-\u024f]{2,}")  # a raised 2 counts as a letter for others
# attributes that are seen or read out
SPOKEN = frozenset({"title", "aria-label", "placeholder", "alt", "content"})
# what is no text though it stands between tags
SILENT = frozenset({"script", "style"})
# template tags whose content is somebody else's; a block whose name ends in "style" holds rules, not words
BY_HAND = {"comment": "endcomment", "blocktranslate": "endblocktranslate", "verbatim": "endverbatim"}
RULES = re.compile(r"{%\s*block\s+\w*style\s*%}")
START = re.compile(r"[\s.,;:·/()–—=+×°→\N{NO-BREAK SPACE}-]*")
# from the end of a run alone: of “. ” after a variable the point is the message's, the space is not
END = re.compile(r"[\s·/(–—=+×→\N{NO-BREAK SPACE}-]*$")
PLURALIZE = re.compile(r"^(.*?)\|pluralize(?::\s*[\"']([^\"']*)[\"'])?$", re.S)
ENTITY = re.compile(r"&#?\w+;")


@record
class Message:
    """What is looked up: the message as gettext has it, and its plural."""

    singular: str
    plural: str = ""


@dataclass
class _Run:
    """Text and variables between two tags."""

    parts: list[tuple[str, str]] = field(default_factory=list)  # ("text" | "variable", what was written)

    def add(self, kind: str, written: str) -> None:
        if kind == "text" and self.parts and self.parts[-1][0] == "text":
            self.parts[-1] = ("text", self.parts[-1][1] + written)
        else:
            self.parts.append((kind, written))

    @property
    def source(self) -> str:
        return "".join(written for _, written in self.parts)

    @property
    def speaks(self) -> bool:
        """Whether there are words in it."""
        return any(
            _counted(written) if kind == "variable" else LETTERS.search(ENTITY.sub(" ", written))
            for kind, written in self.parts
        )


def _counted(written: str) -> str:
    """The number on which the words depend, of a variable that ends a word; else nothing."""
    found = PLURALIZE.match(written[2:-2].strip()) if written.startswith("{{") else None
    return found.group(1).strip() if found else ""


def _split(run: _Run) -> list[_Run]:
    """The run in pieces of one counted number each."""
    first = ""
    for at, (_, written) in enumerate(run.parts):
        number = _counted(written)
        if number and first and number != first:
            # from the number itself, where it stands before its word
            begins = next((back for back in range(at, 0, -1) if run.parts[back][1][2:-2].strip() == number), at - 1)
            return [_Run(run.parts[:begins]), *_split(_Run(run.parts[begins:]))]
        first = first or number
    return [run]


def _name(expression: str, taken: dict[str, str]) -> str:
    """A name for a variable in a message: the last of its words; with a number where two differ."""
    base = re.sub(r"\W+", "_", expression.split("|")[0].strip().split(".")[-1]).strip("_") or "value"
    base = base if base.isidentifier() and not base[0].isdigit() else f"value_{base}"
    name, number = base, 2
    while taken.get(name, expression) != expression:
        name, number = f"{base}_{number}", number + 1
    taken[name] = expression
    return name


def _worded(run: _Run, form: int | None) -> tuple[str, dict[str, str], str]:
    """The run as a message's text with names, those names, and the expression it is counted by; `form` 0 singular, 1 plural."""
    counted = next((number for _, written in run.parts if (number := _counted(written))), "")
    # the number is read after the names are given: none of them may hide what it is read from
    names: dict[str, str] = {"counter": counted, counted.split("|")[0].split(".")[0]: ""} if counted else {}
    text = ""
    for kind, written in run.parts:
        if kind == "text":
            text += written
            continue
        expression = written[2:-2].strip()
        plural = PLURALIZE.match(expression)
        if plural:
            endings = (plural.group(2) or "s").split(",")
            endings = endings if len(endings) == 2 else ["", *endings]
            text += endings[form or 0]
        else:
            text += "{{ counter }}" if expression == counted else "{{ " + _name(expression, names) + " }}"
    given = {
        name: expression for name, expression in names.items() if expression and (name != "counter" or not counted)
    }
    return " ".join(text.split()), given, counted


def _marked(run: _Run) -> tuple[str, Message | None]:
    """The run with its mark, and its message; as it was where it says nothing."""
    if not run.speaks:
        return run.source, None
    before, after = "", ""
    if run.parts[0][0] == "text":
        found = START.match(run.parts[0][1])
        before = found.group() if found else ""
        run.parts[0] = ("text", run.parts[0][1][len(before) :])
    if run.parts[-1][0] == "text":
        whole = run.parts[-1][1]
        found = END.search(whole)
        after = found.group() if found else ""
        run.parts[-1] = ("text", whole[: len(whole) - len(after)])
    # a variable at either end needs no words of the message
    text, names, counted = _worded(run, 0)
    if counted:
        plural, more, _ = _worded(run, 1)
        given = "".join(f" {name}={expression}" for name, expression in (names | more).items())
        given = f" with{given}" if given else ""
        body = f"{text}{{% plural %}}{plural}"
        return (
            f"{before}{{% blocktranslate count counter={counted}{given} %}}{body}{{% endblocktranslate %}}{after}",
            Message(_percent(text), _percent(plural)),
        )
    if not names:
        quote = "'" if '"' in text else '"'
        if quote in text:
            return f"{before}{{% blocktranslate %}}{text}{{% endblocktranslate %}}{after}", Message(_percent(text))
        return f"{before}{{% translate {quote}{text}{quote} %}}{after}", Message(text.replace("%", "%%"))
    given = "".join(f" {name}={expression}" for name, expression in names.items())
    opened = f"{{% blocktranslate with{given} %}}"
    return f"{before}{opened}{text}{{% endblocktranslate %}}{after}", Message(_percent(text))


def _percent(text: str) -> str:
    """A message as `blocktranslate` looks it up."""
    return re.sub(r"\{\{ (\w+) \}\}", r"%(\1)s", text.replace("%", "%%"))


class _Marker:
    """Goes through a template once: within a tag of HTML, within an attribute, or between tags."""

    def __init__(self) -> None:
        self.out: list[str] = []
        self.messages: list[Message] = []
        self.run: _Run | None = _Run()
        self.tag = ""  # what of an HTML tag has been read; empty between tags
        self.quote = ""
        self.silent = ""
        self.until = ""

    def end_run(self) -> None:
        """The run that was gathered is written with its mark."""
        run = self.run
        self.run = _Run()
        if run is None or not run.parts:
            return
        for piece in _split(run):
            marked, message = _marked(piece)
            self.out.append(marked)
            if message is not None:
                self.messages.append(message)

    def template_tag(self, token: str) -> None:
        """A token of the template."""
        if token.startswith("{{") and self.run is not None and not self.silent:
            self.run.add("variable", token)
            return
        if self.run is not None:
            self.end_run()
        self.out.append(token)
        name = token[2:-2].split()[0] if token.startswith("{%") and token[2:-2].split() else ""
        self.until = "endblock" if RULES.match(token) else BY_HAND.get(name, "")

    def text(self, written: str) -> None:
        """Raw text: HTML tags and what stands between them."""
        for piece in re.split(r"(<!--.*?-->|<[!/a-zA-Z]|>|[\"'])", written, flags=re.S):
            if piece:
                self._piece(piece)

    def _piece(self, piece: str) -> None:
        if self.tag:
            self._in_tag(piece)
        elif piece.startswith("<") and len(piece) == 2:
            self.end_run()
            self.run = None
            self.tag = piece
            self.out.append(piece)
        elif self.silent:
            self.out.append(piece)
        elif piece.startswith("<!--"):
            self.end_run()
            self.out.append(piece)
        else:
            if self.run is None:
                self.run = _Run()
            self.run.add("text", piece)

    def _in_tag(self, piece: str) -> None:
        if self.quote:
            self._in_attribute(piece)
            return
        self.out.append(piece)
        self.tag += piece
        if piece in ('"', "'"):
            self.quote = piece
            name = re.search(r"([\w:-]+)=[\"']$", self.tag)
            content = "content" in (name.group(1) if name else "") and 'name="description"' not in self.tag
            if name and name.group(1) in SPOKEN and not content:
                self.run = _Run()
        elif piece == ">":
            opened = re.match(r"</?(\w*)", self.tag)
            word = (opened.group(1) if opened else "").lower()
            self.silent = word if word in SILENT and not self.tag.startswith("</") else ""
            self.tag, self.run = "", _Run()

    def _in_attribute(self, piece: str) -> None:
        if piece == self.quote:
            if self.run is not None:
                self.end_run()
                self.run = None
            self.out.append(piece)
            self.tag, self.quote = self.tag + piece, ""
        elif self.run is not None:
            self.run.add("text", piece)
        else:
            self.out.append(piece)


def marked(source: str) -> tuple[str, list[Message]]:
    """A template with its text marked, and the messages that were found in it, in their order."""
    marker = _Marker()
    for token in TOKEN.split(source):
        if marker.until:
            marker.out.append(token)
            if token.startswith("{%") and token[2:-2].split()[:1] == [marker.until]:
                marker.until = ""
        elif TOKEN.fullmatch(token):
            marker.template_tag(token)
        else:
            marker.text(token)
    marker.end_run()
    return "".join(marker.out), marker.messages
