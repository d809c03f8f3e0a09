"""A template's text is its messages: what is found, what is left alone, and that the page says the same words as before."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from django.template import Context, Engine
from django.template.loader import get_template
from django.utils import translation

import rowan.web as web
from rowan.web.ui.languages import numberless, words_of
from rowan.web.ui.marking import Message, marked

TEMPLATES = sorted(Path(web.__file__).parent.rglob("templates/**/*.html"))
ENGINE = Engine(builtins=["django.templatetags.i18n", "rowan.web.ui.templatetags.rowan"])


def said(source: str, **context: object) -> str:
    """What a template says, white space as one space."""
    return " ".join(ENGINE.from_string(source).render(Context(context)).split())


@pytest.mark.parametrize(
    ("source", "messages"),
    [
        ("<h1>Set the vessel</h1>", [Message("Set the vessel")]),
        ("<p>one\n  two</p>", [Message("one two")]),
        ("<p>{{ n }} of {{ m.all }} inputs</p>", [Message("%(n)s of %(all)s inputs")]),
        ("<p>{{ a.name }} and {{ b.name }}</p>", [Message("%(name)s and %(name_2)s")]),
        (
            "<p>{{ n }} step{{ n|pluralize }} passed</p>",
            [Message("%(counter)s step passed", "%(counter)s steps passed")],
        ),
        ('<p>{{ n }} entr{{ n|pluralize:"y,ies" }}</p>', [Message("%(counter)s entry", "%(counter)s entries")]),
        (
            "<p>{{ a }} visit{{ a|pluralize }}, {{ b }} day{{ b|pluralize }}</p>",
            [Message("%(counter)s visit,", "%(counter)s visits,"), Message("%(counter)s day", "%(counter)s days")],
        ),
        ("<p>40 % glycol</p>", [Message("40 %% glycol")]),
        ('<p title="as left">{{ x }}</p>', [Message("as left")]),
        ('<p class="as left" data-word="as left">{{ x }}</p>', []),
        ("<p>{{ x }} · {{ y }} m²</p>", []),
        ("<script>const words = 'never';</script><style>p { color: red }</style>", []),
        ("{% comment %}never said{% endcomment %}", []),
        ("{% blocktranslate %}by hand{% endblocktranslate %}", []),
        ("{% block more_style %}.first { color: red }{% endblock %}<p>open</p>", [Message("open")]),
        ("<p>shut · <b>open</b></p>", [Message("shut"), Message("open")]),
        ("<p>{% if x %}cold{% else %}hot{% endif %} line</p>", [Message("cold"), Message("hot"), Message("line")]),
        ("<p>{{ forloop.counter }} tags</p>", [Message("%(counter)s tags")]),
    ],
)
def test_messages_of_a_template(source: str, messages: list[Message]) -> None:
    assert marked(source)[1] == messages


@pytest.mark.parametrize(
    ("source", "context", "words"),
    [
        ("<p>{{ n }} step{{ n|pluralize }} passed</p>", {"n": 1}, "<p>1 step passed</p>"),
        ("<p>{{ n }} step{{ n|pluralize }} passed</p>", {"n": 3}, "<p>3 steps passed</p>"),
        ("<p>{{ rows|length }} row{{ rows|length|pluralize }}</p>", {"rows": [1, 2]}, "<p>2 rows</p>"),
        ("<p>{{ a.b }} or {{ c }}</p>", {"a": {"b": "<i>"}, "c": "&"}, "<p>&lt;i&gt; or &amp;</p>"),
        ("<p>40 % of {{ n }} %</p>", {"n": 2}, "<p>40 % of 2 %</p>"),
        ('<p>a "word" said</p>', {}, '<p>a "word" said</p>'),
        ('<p>it\'s a "word"</p>', {}, '<p>it\'s a "word"</p>'),
        ("<p>shut&nbsp;off (both)</p>", {}, "<p>shut&nbsp;off (both)</p>"),
        ('<p title="{{ n }} of {{ m }}">x</p>', {"n": 1, "m": 2}, '<p title="1 of 2">x</p>'),
    ],
)
def test_a_marked_template_says_the_same(source: str, context: dict[str, object], words: str) -> None:
    assert said(marked(source)[0], **context) == words == said(source, **context)


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda path: str(path).split("/templates/", 1)[1])
def test_every_template_is_marked_and_can_be_read(path: Path) -> None:
    source = path.read_text(encoding="utf-8")
    again, messages = marked(source)
    get_template(str(path).split("/templates/", 1)[1])
    # nothing is lost: the letters of a template are those of what is left and of its messages
    for message in messages:
        assert message.singular.count("%(") == len(re.findall(r"%\(\w+\)s", message.singular)), message
        assert "{%" not in message.singular + message.plural
        assert "<" not in message.singular
    # what is between tags and has words is within a mark now
    bare = re.sub(r"{%\s*(?:blocktranslate|comment).*?{%\s*end(?:blocktranslate|comment)\s*%}", " ", again, flags=re.S)
    bare = re.sub(r"{%\s*block\s+\w*style\s*%}.*?{%\s*endblock", " {%", bare, flags=re.S)
    bare = re.sub(r"{%.*?%}|{{.*?}}|{#.*?#}", "\0", bare, flags=re.S)
    bare = re.sub(r"<(script|style)\b.*?</\1>", " ", bare, flags=re.S)
    bare = re.sub(r"<!--.*?-->|<[^>]*>", " ", bare, flags=re.S)
    assert re.findall(r"[A-Za-z]{2,}", re.sub(r"&#?\w+;", " ", bare)) == [], path.name


def test_a_number_is_no_word(monkeypatch: pytest.MonkeyPatch) -> None:
    catalogue = {"tub #": "Wanne #", "copper # × #": "Kupfer # × #", "{n_2} of #": "{n_2} von #"}
    monkeypatch.setattr(translation, "gettext", lambda message: catalogue.get(message, message))
    assert words_of("tub 2") == "Wanne 2"
    assert words_of("copper 54 × 1.5") == "Kupfer 54 × 1.5"
    assert words_of("{n_2} of 7") == "{n_2} von 7"
    assert words_of("tun 2") == "tun 2"
    assert numberless("speed 3 at 1.5, {l2}") == ("speed # at #, {l2}", ["3", "1.5"])


def unmarked(template: str) -> str:
    """A marked template with its messages in place of their marks; it has no counted ones."""
    template = re.sub(r"""{% translate (?:"([^"]*)"|'([^']*)') %}""", lambda m: m[1] or m[2], template)

    def filled(block: re.Match[str]) -> str:
        names = dict(pair.split("=", 1) for pair in re.findall(r"""(\w+=(?:"[^"]*"|'[^']*'|\S)+)""", block[1] or ""))
        return re.sub(r"{{ (\w+) }}", lambda name: f"{{{{ {names[name[1]]} }}}}", block[2])

    return re.sub(r"{% blocktranslate(?: with ([^%]*))? %}(.*?){% endblocktranslate %}", filled, template)


# those with plurals are held by the words they say
UNCOUNTED = [path for path in TEMPLATES if "pluralize" not in path.read_text(encoding="utf-8")]


@pytest.mark.parametrize("path", UNCOUNTED, ids=lambda path: str(path.name))
def test_a_marked_template_has_the_same_letters_and_spaces(path: Path) -> None:
    source = path.read_text(encoding="utf-8")
    assert unmarked(marked(source)[0]).split() == source.split()


def test_a_space_after_a_variable_at_the_end_of_a_message_stays() -> None:
    source = (
        "<p>Like {{ a }}. {% if a %}Then.{% endif %} {{ n }} day{{ n|pluralize }}, {{ m }} night{{ m|pluralize }}</p>"
    )
    assert said(source, a="b", n=2, m=1) == "<p>Like b. Then. 2 days, 1 night</p>"
