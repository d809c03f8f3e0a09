"""Of a plan's new state what the browser has already is not sent again, and what is put together there is the whole page."""

from __future__ import annotations

import re

import pytest
from django.template import Context, Engine
from django.test import Client, RequestFactory

from rowan.web.plans.models import Plan
from rowan.web.steps.registry import BENCHES
from rowan.web.ui.templatetags.stays import Parts, digest_of

TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="[^"]+"')
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


def rendered(source: str, has: str = "") -> str:
    request = RequestFactory().get("/", headers={"Rowan-Has": has})
    engine = Engine(builtins=["rowan.web.ui.templatetags.stays"])
    revision = type("Revision", (), {"number": 7})
    return engine.from_string(source).render(
        Context({"request": request, "revision": revision, "parts": Parts.of(request)})
    )


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
