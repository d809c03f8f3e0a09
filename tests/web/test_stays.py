"""Of a plan's new state what the browser has already is not sent again, and what is put together there is the whole page."""

from __future__ import annotations

import re
from types import SimpleNamespace

import pytest
from django.template import Context, Engine, Template
from django.test import Client, RequestFactory
from django.utils.safestring import SafeString

from rowan.core.terms.language import Language, spoken_in
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.steps import page as steps_page
from rowan.web.steps.registry import BENCHES, PAGES
from rowan.web.ui.shelf import Shelf
from rowan.web.ui.templatetags.stays import Parts, StayNode, digest_of

TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="[^"]+"')
PART = re.compile(r' data-part="\w+"')
PLACE = re.compile(r'<(\w+) data-stays="(\w+)"></\1>')
FORM = '<form><input type="hidden" name="csrfmiddlewaretoken" value="{}"><input type="hidden" name="revision" value="{}">{}</form>'


def told(token: str = "masked", secret: str = "one", revision: int = 7, words: str = "2.1 bar") -> str:
    return digest_of(FORM.format(token, revision, words), token=token, secret=secret, revision=revision)


def test_a_part_is_known_by_what_it_says_not_by_its_request() -> None:
    assert told() == told(token="masked anew") == told(revision=8)
    assert told() != told(words="2.2 bar")
    # the number of another revision is something it says
    assert digest_of(FORM.format("m", 6, ""), token="m", secret="one", revision=7) != told(token="m", words="")


def test_who_signed_in_anew_gets_forms_with_the_token_of_now() -> None:
    assert told() != told(secret="another")
    without = [digest_of("<p>2.1 bar</p>", token="masked", secret=secret, revision=7) for secret in ("one", "another")]
    assert without[0] == without[1], "nothing in it is of the session"


ENGINE = Engine(builtins=["rowan.web.ui.templatetags.stays", "rowan.web.ui.templatetags.rowan"])


def rendered(source: str | Template, has: str = "", number: int = 7, secret: str = "", **values: object) -> str:
    request = RequestFactory().get("/", headers={"Rowan-Has": has})
    request.META["CSRF_COOKIE"] = secret
    template = ENGINE.from_string(source) if isinstance(source, str) else source
    page = {"request": request, "revision": SimpleNamespace(number=number), "parts": Parts.of(request)}
    return str(template.render(Context(page | values)))


def test_a_part_that_is_there_comes_as_its_place() -> None:
    first = rendered("{% stay %}<tr id=a><td>1</td></tr>{% endstay %}")
    digest = first.split('"')[1]
    assert first == f'<tr data-part="{digest}" id=a><td>1</td></tr>'
    assert (
        rendered("{% stay %}<tr id=a><td>1</td></tr>{% endstay %}", f"0 {digest}") == f'<tr data-stays="{digest}"></tr>'
    )
    assert rendered("{% stay %}<tr id=a><td>2</td></tr>{% endstay %}", digest).startswith('<tr data-part="')


def test_of_two_alike_only_one_is_known() -> None:
    twice = rendered("{% stay %}<p>1</p>{% endstay %}{% stay %}<p>1</p>{% endstay %}")
    assert twice.count("data-part") == 1
    assert twice.endswith("<p>1</p>")


def test_nothing_stays_nothing_and_words_alone_are_no_part() -> None:
    assert rendered("{% stay %}  {% endstay %}") == ""
    with pytest.raises(ValueError, match="one element"):
        rendered("{% stay %}words{% endstay %}")


KEPT = "{% stay name=leg.name size %}<p>{{ name }} {{ size }}{{ other }}</p>{% endstay %}"


def test_a_part_with_values_is_made_of_them_alone_and_once(monkeypatch: pytest.MonkeyPatch) -> None:
    one, made = ENGINE.from_string(KEPT), list[str]()
    node = one.nodelist[0]
    monkeypatch.setattr(
        node, "nodelist", SimpleNamespace(render=lambda c, inside=node.nodelist: made.append("") or inside.render(c))
    )
    for _ in range(2):
        said = rendered(one, leg={"name": "<flow>"}, size=1.5, other="not given")
        assert said.endswith(">&lt;flow&gt; 1.5</p>")
    assert len(made) == 1
    # what is alike by its worth alone, and not as it is shown
    for value, shown in ((SafeString("<flow>"), "<flow>"), ("<flow>", "&lt;flow&gt;")):
        assert rendered(one, leg={"name": value}, size=1.5).endswith(f">{shown} 1.5</p>")
    for size in (1, 1.0, True, -0.0, 0.0):
        assert rendered(one, leg={"name": "a"}, size=size).endswith(f">a {size}</p>")


def test_templates_that_come_and_go_do_not_take_each_other_s_parts() -> None:
    for number in range(50):
        said = rendered(f"{{% stay size %}}<p>{{{{ size }}}} of {number}</p>{{% endstay %}}", size=1)
        assert said.endswith(f">1 of {number}</p>")


def test_a_kept_part_is_of_its_units_and_its_language() -> None:
    one = ENGINE.from_string("{% stay words %}<p>{{ words|tr }} {{ units }}</p>{% endstay %}")
    german = Language("de", lambda message: {"store": "Speicher"}.get(message, message))
    for _ in range(2):
        assert rendered(one, words="store", units="metric").endswith(">store metric</p>")
        assert rendered(one, words="store", units="us").endswith(">store us</p>")
        with spoken_in(german):
            assert rendered(one, words="store", units="us").endswith(">Speicher us</p>")


def test_token_and_revision_of_a_kept_part_are_those_of_its_request() -> None:
    one = ENGINE.from_string(
        "{% stay step %}" + FORM.format("{{ csrf_token }}", "{{ revision.number }}", "{{ step }}") + "{% endstay %}"
    )
    first, second = (rendered(one, number=n, csrf_token=token, step="a") for n, token in ((7, "one"), (12, "two")))
    assert FORM.format("one", 7, "a").removeprefix("<form") in first
    assert FORM.format("two", 12, "a").removeprefix("<form") in second
    digest = first.split('"')[1]
    assert second.split('"')[1] == digest, "the same session's: what is there serves on"
    assert rendered(one, digest, csrf_token="three", step="a") == f'<form data-stays="{digest}"></form>'


def test_a_kept_part_says_its_revision_in_forms_alone() -> None:
    with pytest.raises(ValueError, match="in its forms alone"):
        rendered("{% stay step %}<p>{{ step }} of state {{ revision.number }}</p>{% endstay %}", step="a")


def test_a_kept_form_is_sent_again_to_who_signed_in_anew() -> None:
    form = "{% stay step %}<form>{{ csrf_token }} {{ step }}</form>{% endstay %}"
    words = "{% stay step %}<p>{{ step }}</p>{% endstay %}"
    for source, is_of_session in ((form, True), (words, False)):
        one = ENGINE.from_string(source)
        digests = {
            rendered(one, secret=secret, csrf_token="masked", step="a").split('"')[1] for secret in ("one", "other")
        }
        assert len(digests) == 1 + is_of_session


@pytest.mark.parametrize(("units", "language"), [("metric", "en"), ("us", "de")])
@pytest.mark.parametrize("bench", PAGES)
def test_a_page_of_what_is_kept_is_the_page_made_anew(
    page: Client, plan: Plan, bench: str, units: str, language: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nothing that a part or a drawing shows is missing among what it is kept by."""
    User.objects.update(units=units, language=language)

    def asked(headers: dict[str, str]) -> str:
        answer = page.get(f"/jobs/{plan.job_id}/A/{bench}/", headers=headers)
        return PART.sub("", TOKEN.sub("", answer.content.decode()))

    for gap in ("", "40000"):
        if gap:
            form = {"path": "charge.gap_pa", "value": gap, "second": "", "revision": plan.head.number, "bench": bench}
            assert page.post(f"/jobs/{plan.job_id}/A/drag/", form).status_code == 302
        for headers in ({}, {"X-Alpine-Request": "true"}):
            kept = [asked(headers) for _ in range(2)]
            with monkeypatch.context() as anew:
                anew.setattr(StayNode, "_kept", StayNode._made)
                anew.setattr(steps_page, "DRAWN", Shelf(0, len))
                assert kept == [asked(headers)] * 2


@pytest.mark.parametrize(
    ("bench", "looks"),
    [
        ("sun", ("?season=summer", "?season=winter", "?season=year")),
        ("control", ("?day=20&sky=clear", "?day=200&sky=clear", "?day=200&sky=dull")),
        ("run", ("?leg=hot-h9", "?leg=")),
    ],
)
def test_what_is_looked_at_otherwise_is_drawn_otherwise(
    page: Client, plan: Plan, bench: str, looks: tuple[str, ...], monkeypatch: pytest.MonkeyPatch
) -> None:
    def asked() -> list[str]:
        found = []
        for look in looks:
            content = page.get(f"/jobs/{plan.job_id}/A/{bench}/{look}").content.decode()
            found.append(PART.sub("", TOKEN.sub("", content)))
        return found

    kept = [asked(), asked()]
    assert len(set(kept[0])) == len(looks)
    monkeypatch.setattr(StayNode, "_kept", StayNode._made)
    monkeypatch.setattr(steps_page, "DRAWN", Shelf(0, len))
    assert kept == [asked()] * 2


def parts_of(page: str) -> dict[str, str]:
    """Each part of a page by its digest: to the end of its element."""
    found = {}
    for begins in re.finditer(r'<(\w+) data-part="(\w+)"', page):
        name, digest = begins.groups()
        depth, at = 0, begins.start()
        for tag in re.finditer(rf"<(/?){name}\b[^>]*>", page[begins.start() :]):
            depth += -1 if tag[1] else 1
            if depth == 0:
                at = begins.start() + tag.end()
                break
        found[digest] = page[begins.start() : at]
    return found


@pytest.mark.parametrize("path", ["charge.gap_pa", "store.lower_sensor_m"])
@pytest.mark.parametrize("bench", BENCHES)
def test_what_is_put_together_is_the_whole_page(page: Client, plan: Plan, bench: str, path: str) -> None:
    def asked(has: str = "") -> str:
        headers = {"X-Alpine-Request": "true", "Rowan-Has": has}
        answer = page.get(f"/jobs/{plan.job_id}/A/{bench}/", headers=headers)
        return TOKEN.sub("", answer.content.decode())

    before, number = parts_of(asked()), plan.head.number
    assert len(before) > 5
    form = {"path": path, "value": "40000" if path == "charge.gap_pa" else "0.4", "second": "", "revision": number}
    assert page.post(f"/jobs/{plan.job_id}/A/drag/", form | {"bench": bench}).status_code == 302
    sent, whole = asked(" ".join(before)), asked()
    stayed = [digest for _, digest in PLACE.findall(sent)]
    assert stayed, "something is as it was"
    assert set(stayed) <= set(before)
    assert len(sent) < len(whole)
    # what a script writes anew in what stays: the revision its forms are made from
    was, now = (f'name="revision" value="{at}"' for at in (number, plan.head.number))
    assert PLACE.sub(lambda place: before[place[2]].replace(was, now), sent) == whole
