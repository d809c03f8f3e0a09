"""Messages of templates, kept in each language, are what Django says of the same template."""

from __future__ import annotations

import pytest
from django.template import Context, Engine
from django.utils import translation

BUILT_IN = ["django.templatetags.i18n", "rowan.web.ui.templatetags.rowan"]
OURS = Engine(builtins=[*BUILT_IN, "rowan.web.ui.templatetags.words"])
PLAIN = Engine(builtins=BUILT_IN)
VALUES = {"tank": "<b>300 L</b> & more", "share": 12.5, "n": 1, "none": None, "design": {"name": "Kvist"}}
SOURCES = [
    "{% translate 'Store' %}",
    '{% translate "the plan\'s own" %}',
    "{% translate '100 % & <b>' %}",
    "{% translate design.name %}",
    "{% translate 'Store' as said %}<{{ said }}>",
    "{% translate 'Store'|upper %}",
    "{% translate 'May' context 'month name' %}",
    '{% blocktranslate %}5 % of "all" & <i>more</i>{% endblocktranslate %}',
    "{% blocktranslate with name=design.name %}{{ name }}: {{ tank }}, {{ share }} %, {{ none }}, {{ unknown }}{% endblocktranslate %}",
    "{% blocktranslate count counter=n %}{{ counter }} plan of {{ tank }}{% plural %}{{ counter }} plans{% endblocktranslate %}",
    "{% blocktranslate with tank=share %}{{ tank }}{% endblocktranslate %} {{ tank }}",
    "{% blocktranslate asvar said %}{{ tank }}{% endblocktranslate %}<{{ said }}>",
    "{% blocktranslate trimmed %}\n  a\n  b\n{% endblocktranslate %}",
    "{% autoescape off %}{% blocktranslate %}{{ tank }}{% endblocktranslate %}{% translate '<b>' %}{% endautoescape %}",
]


@pytest.mark.parametrize("source", SOURCES)
def test_a_kept_message_is_what_django_says(source: str) -> None:
    ours, plain = OURS.from_string(source), PLAIN.from_string(source)
    # each language twice: as it is found and as it was kept, and with other values
    for language in ("en", "de", "es", "de", "en"):
        for values in (VALUES, VALUES | {"n": 3, "tank": "none", "share": 0.25}):
            with translation.override(language):
                assert ours.render(Context(values)) == plain.render(Context(values)), language


def test_each_language_has_its_own() -> None:
    said = OURS.from_string(
        "{% translate 'Store' %} {% blocktranslate with a=a %}Sign in {{ a }}{% endblocktranslate %}"
    )
    found = {}
    for language in ("en", "de", "es"):
        with translation.override(language):
            found[language] = said.render(Context({"a": 1})).split()[0]
    assert found["en"] == "Store"
    assert len(set(found.values())) == 3


def test_what_a_message_is_given_does_not_stay() -> None:
    source = "{% blocktranslate with tank='other' %}{{ tank }}{% endblocktranslate %}{{ tank }}"
    assert OURS.from_string(source).render(Context({"tank": "mine"})) == "othermine"


def test_a_translation_that_asks_for_another_value_is_said_in_the_template_s_own_words(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    said = OURS.from_string("{% blocktranslate with a=a %}Set {{ a }}{% endblocktranslate %}")
    monkeypatch.setattr(
        translation, "gettext", lambda message: "%(b)s gesetzt" if translation.get_language() == "de" else message
    )
    with translation.override("de"):
        assert said.render(Context({"a": 4})) == "Set 4"
