"""A made-up language of wide letters: what stands on a page in narrow ones is somebody's data, or words that nobody can translate.

And the languages that ship: none leaves an English sentence on a page."""

from __future__ import annotations

import io
import re
from html.parser import HTMLParser
from typing import Any

import pytest
from django.core import mail
from django.http import HttpRequest
from django.test import Client
from django.urls import reverse
from django.utils import translation
from django.utils.translation import _trans
from pypdf import PdfReader

from rowan.command.words_pages import stored, wide
from rowan.core.goods.places import PLACES
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.language import tr
from rowan.core.terms.source import METHODS
from rowan.core.terms.units import typed_to_si
from rowan.web.accounts.models import Firm, User
from rowan.web.jobs.forms import FactsForm
from rowan.web.jobs.views import Proposal
from rowan.web.methods.pages import FOLDER, JOB_FILE
from rowan.web.plans.models import Plan
from rowan.web.plans.services import design_of, start_job
from rowan.web.ui import languages
from rowan.web.ui.languages import language, shown_in
from tests.core.designs import altered, plan_a, proposed
from tests.web.heard import known
from tests.web.test_pages import bench_url

pytestmark = pytest.mark.django_db
MADE_UP = "eo"  # Django knows it, Rowan does not offer it
# what is written alike in every language: units, the product, marks of a plan; days of the week are Django's own words; keys with a line
# in them are for machines
ALIKE = {
    "Mon",
    "Tue",
    "Wed",
    "Thu",
    "Fri",
    "Sat",
    "Sun",
    "kWh",
    "bar",
    "min",
    "kPa",
    "Rowan",
    "GPa",
    "cos",
    "max",
    "exp",
    "ceil",
    "mmol",
    "ppm",
}
SPOKEN = ("title", "aria-label", "placeholder", "alt")
BENCHES = (
    "survey",
    "sun",
    "collector",
    "store",
    "roof",
    "run",
    "charge",
    "control",
    "parts",
    "commission",
    "fluid",
    "functions",
)
PAGES = (
    "steps:assumed",
    "steps:wiring",
    "steps:sensors",
    "steps:schools",
    "papers:papers",
    "care:live",
    "commissioning:runs",
)
FIRM = (
    "dates:week",
    "practice:book",
    "quick:quick",
    "accounts:people",
    "accounts:me",
    "methods:glossary",
    "care:fleet",
)


@pytest.fixture
def made_up(monkeypatch: pytest.MonkeyPatch, settings: Any) -> None:
    """Readers of a language that is not offered read the made-up one: what is kept in German for others stays German."""
    settings.LANGUAGES = [("en", "English"), (MADE_UP, wide("made up"))]
    monkeypatch.setattr(languages, "COMMA", (*languages.COMMA, MADE_UP))

    def gettext(message: Any) -> Any:
        # what no catalogue has words for stays narrow
        return type(message)(wide(message)) if translation.get_language() == MADE_UP and message in known() else message

    monkeypatch.setattr(_trans, "gettext", gettext)
    monkeypatch.setattr(_trans, "ngettext", lambda one, many, number: gettext(one if number == 1 else many))
    monkeypatch.setattr(translation, "gettext", gettext)


class _Words(HTMLParser):
    """What a page says, between its tags and in what is read out."""

    def __init__(self) -> None:
        super().__init__()
        self.silent, self.said = 0, list[str]()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.silent += tag in ("script", "style")
        self.said += [value or "" for name, value in attrs if name in SPOKEN]

    def handle_endtag(self, tag: str) -> None:
        self.silent -= tag in ("script", "style")

    def handle_data(self, data: str) -> None:
        if not self.silent:
            self.said.append(data)


def narrow(html: str, data: set[str]) -> list[str]:
    """Words of a page that are in no wide letters and nobody's data."""
    page = _Words()
    page.feed(html)
    words = {word for text in page.said for word in re.findall(r"(?<!\w)[A-Za-z]{3,}(?!\w)", text)}
    return sorted(words - ALIKE - data)


def data_of(plan: Plan) -> set[str]:
    """Words that somebody typed: names, the plan's legs, the job, its people and places."""
    run = design_of(plan.head).run
    legs = (leg.name for leg in (*run.cold, *run.hot))
    names = [
        plan.job.title,
        plan.job.firm.name,
        *(p.name for p in plan.job.firm.people.all()),
        *legs,
        *PLACES,
        "crowns",
    ]
    names += [p.email for p in plan.job.firm.people.all()]
    return {word for name in names for word in re.findall(r"[A-Za-z]{3,}", name)}


def abroad(page: Client, key: str = MADE_UP) -> Client:
    """The same person, whose browser asks for another language."""
    page.defaults["HTTP_ACCEPT_LANGUAGE"] = key
    return page


@pytest.mark.usefixtures("made_up")
@pytest.mark.parametrize("key", BENCHES)
def test_a_bench_says_everything_in_the_reader_s_language(plan: Plan, page: Client, key: str) -> None:
    answer = abroad(page).get(bench_url(plan, key))
    assert answer.status_code == 200
    assert narrow(answer.content.decode(), data_of(plan)) == []


@pytest.mark.usefixtures("made_up")
@pytest.mark.parametrize("key", BENCHES)
@pytest.mark.parametrize("other", ["direct_plan", "roof_tank_plan"])
def test_a_bench_of_a_plan_unlike_the_demo_s_does(
    other: str, page: Client, key: str, request: pytest.FixtureRequest
) -> None:
    plan = request.getfixturevalue(other)
    answer = abroad(page).get(bench_url(plan, key))
    assert narrow(answer.content.decode(), data_of(plan)) == []


@pytest.mark.usefixtures("made_up")
@pytest.mark.parametrize("change", [{"charge__kind": "drainback"}, {"duty__kind": "slab"}, {"duty__kind": "process"}])
def test_so_do_all_benches_of_what_drains_and_of_other_duties(
    change: dict[str, str], firm: Firm, person: User, page: Client
) -> None:
    plan = start_job(firm=firm, author=person, title="Kvist", design=altered(proposed("aldersund-5-oil"), **change))
    for key in BENCHES:
        assert narrow(abroad(page).get(bench_url(plan, key)).content.decode(), data_of(plan)) == [], key


@pytest.mark.usefixtures("made_up")
@pytest.mark.parametrize("name", PAGES)
def test_a_page_of_a_plan_says_everything_in_the_reader_s_language(plan: Plan, page: Client, name: str) -> None:
    answer = abroad(page).get(reverse(name, args=(plan.job_id, plan.letter)))
    assert narrow(answer.content.decode(), data_of(plan)) == []


@pytest.mark.usefixtures("made_up")
@pytest.mark.parametrize("name", FIRM)
def test_a_page_of_the_firm_says_everything_in_the_reader_s_language(plan: Plan, page: Client, name: str) -> None:
    answer = abroad(page).get(reverse(name))
    assert narrow(answer.content.decode(), data_of(plan)) == []


def test_narrow_words_are_found() -> None:
    assert narrow('<p title="shut it">ｏｐｅｎ Kvist <b>valve</b> bar</p><script>never()</script>', {"Kvist"}) == [
        "shut",
        "valve",
    ]


def test_a_language_that_is_not_offered_is_english(plan: Plan, page: Client, settings: Any) -> None:
    settings.LANGUAGES = [("en", "English")]
    assert language("xx").key == "en"
    answer = abroad(page).get(bench_url(plan, "charge"))
    assert '<html lang="en"' in answer.content.decode()


@pytest.mark.usefixtures("made_up")
def test_a_page_says_which_language_it_is_in_and_parts_decimals_with_its_mark(plan: Plan, page: Client) -> None:
    html = abroad(page).get(bench_url(plan, "charge")).content.decode()
    assert f'<html lang="{MADE_UP}"' in html
    assert "9,50" in html
    assert "9.50" not in html


# words of an English sentence that neither German nor Spanish has
ENGLISH_WORDS = {
    *("the", "and", "of", "with", "is", "are", "that", "this", "which", "from", "where", "when", "into", "than"),
    *("for", "not", "by", "its", "has", "have", "it", "be", "as", "on", "over", "up"),
}


def english_of(html: str, data: set[str]) -> list[str]:
    """Texts of a page with a word in them that only English has, without what somebody typed and names in a file."""
    page = _Words()
    page.feed(re.sub(r"<code>[^<]*</code>", "", html))
    typed = sorted((text for text in data if " " in text), key=len, reverse=True)
    found = set()
    for text in (" ".join(text.split()) for text in page.said):
        own = text
        for one in typed:
            own = own.replace(one, "")
        if ENGLISH_WORDS & set(re.findall(r"[^\W\d_]+", own.lower())):
            found.add(text)
    return sorted(found)


@pytest.mark.parametrize("key", ["de", "es"])
@pytest.mark.parametrize("name", [*BENCHES, *PAGES, *FIRM, "methods:index", "methods:job_file", "jobs:list"])
def test_no_page_has_an_english_sentence(plan: Plan, page: Client, name: str, key: str) -> None:
    if name in BENCHES:
        address = bench_url(plan, name)
    else:
        address = reverse(name, args=(plan.job_id, plan.letter) if name in PAGES else ())
    plan.job.firm.people.update(language=key)
    html = page.get(address).content.decode()
    assert f'<html lang="{key}"' in html
    design = plan_a()
    assert english_of(html, stored() | {leg.name for leg in (*design.run.cold, *design.run.hot)}) == []


@pytest.mark.parametrize("key", ["de", "es"])
def test_no_page_of_the_methods_has_an_english_sentence(plan: Plan, page: Client, key: str) -> None:
    plan.job.firm.people.update(language=key)
    for number, method in METHODS.items():
        html = page.get(reverse("methods:page", args=(number,))).content.decode()
        assert english_of(html, set(method.works)) == [], "a work is cited as it is printed"


def test_english_sentences_are_found() -> None:
    assert english_of("<p>El grifo <b>where it stands</b></p><p>das Ventil</p>", set()) == ["where it stands"]


def _facts(text: str) -> tuple[list[str], list[str], int, int]:
    """What every language's text of a page has alike: its figures, the names in code, its paragraphs and its rows."""
    figures = [re.sub(r"[.,]", "", number) for number in re.findall(r"\d(?:[\d.,]*\d)?", text)]
    return sorted(figures), sorted(re.findall(r"`[^`]+`", text)), text.count("\n\n"), text.count("\n|")


@pytest.mark.parametrize("key", ["de", "es"])
def test_the_methods_say_the_same_in_every_language(key: str) -> None:
    pages = [*FOLDER.glob("[0-9][0-9]-*.md"), JOB_FILE]
    assert len(pages) > 20
    for path in pages:
        other = (FOLDER / key / path.name).read_text(encoding="utf-8")
        assert _facts(other) == _facts(path.read_text(encoding="utf-8")), path.name


def test_a_letter_is_in_the_language_of_who_asks(person: User) -> None:
    asks = Client(HTTP_ACCEPT_LANGUAGE="de")
    asks.post(reverse("accounts:reset"), {"email": person.email})
    assert mail.outbox[0].subject == "Ein neues Passwort"
    assert "Er gilt einmal, sechs Stunden lang." in str(mail.outbox[0].body)
    assert ENGLISH_WORDS & set(re.findall(r"\w+", str(mail.outbox[0].body))) == set()


def test_an_invitation_names_a_firm_as_it_is_written(person: User, page: Client) -> None:
    assert person.firm is not None
    person.firm.name = "Hollin & Wray"
    person.firm.save()
    form = {"email": "orla@hollinwray.example", "role": "apprentice", "mail": "yes"}
    abroad(page, "de").post(reverse("accounts:people"), form)
    assert "Mara Hollin von Hollin & Wray lädt Sie ein: Lehrling." in str(mail.outbox[0].body)


@pytest.mark.parametrize(
    ("key", "words"),
    [
        ("en", "A roof is pitched 0 to 90 degrees."),
        ("de", "Ein Dach ist 0 bis 90 Grad geneigt."),
        ("es", "Un tejado tiene de 0 a 90 grados de inclinación."),
    ],
)
def test_a_form_refuses_in_the_reader_s_language(key: str, words: str) -> None:
    with shown_in(key):
        assert FactsForm({"tilt": "99"}).errors["tilt"][0] == words


@pytest.mark.parametrize("key", ["de", "es"])
def test_a_paper_is_marked_with_the_language_it_is_in(plan: Plan, page: Client, key: str) -> None:
    plan.job.firm.people.update(language=key)
    paper = page.get(reverse("papers:chalk_sheet", args=(plan.job_id, "A")))
    assert PdfReader(io.BytesIO(paper.content)).trailer["/Root"]["/Lang"] == key


@pytest.mark.parametrize("key", ["en", "de", "es"])
def test_what_is_not_filled_in_is_no_refusal_in_any_language(key: str) -> None:
    with shown_in(key):
        proposal = Proposal.of(FactsForm({"tilt": ""}), HttpRequest())
        assert str(proposal.context["problem"]) == tr("Fill the blanks and the proposal appears here.")
        wrong = Proposal.of(FactsForm({"tilt": "99"}), HttpRequest())
        assert "90" in str(wrong.context["problem"])


def test_a_number_that_was_typed_keeps_its_mark_where_it_is_quoted() -> None:
    with shown_in("de"):
        with pytest.raises(TypedNumberError) as refused:
            typed_to_si("1.234", "length")
        assert str(refused.value) == "„1.234“ lässt sich auf zwei Arten lesen: 1,234 oder 1234"
    assert refused.value.readings == ("1.2340", "1234")


@pytest.mark.parametrize(
    ("message", "said"),
    [
        ("0.5", "0,5"),
        ("−0.4", "−0,4"),
        ("Copper 54 × 1.5", "Kupfer 54 × 1,5"),
        ("1.4.2", "1.4.2"),
        ("House 1.5 of nobody's words", "House 1.5 of nobody's words"),
    ],
)
def test_a_number_has_the_reader_s_mark_and_a_name_keeps_its_own(message: str, said: str) -> None:
    with shown_in("de"):
        assert tr(message) == said
    with shown_in("en"):
        assert tr(message) == message
