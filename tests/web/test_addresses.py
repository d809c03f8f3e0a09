"""Addresses that were made once are those that Django makes, in Python and in a template."""

from __future__ import annotations

import pytest
from django.template import Context, Template
from django.urls import NoReverseMatch, reverse, set_script_prefix

from rowan.web.ui.addresses import address


def rendered(text: str, **context: object) -> str:
    return Template(text).render(Context(context))


@pytest.mark.parametrize(
    ("name", "args"),
    [
        ("jobs:list", ()),
        ("steps:bench", (7, "A", "charge")),
        ("methods:page", (3,)),
        ("history:proposal", (7, "B", 12)),
    ],
)
def test_an_address_is_what_django_makes_of_it_twice_over(name: str, args: tuple[object, ...]) -> None:
    wanted = reverse(name, args=args)
    assert address(name, *args) == wanted
    assert address(name, *args) == wanted
    places = " ".join(f"a{n}" for n in range(len(args)))
    assert rendered(f"{{% url '{name}' {places} %}}", **{f"a{n}": arg for n, arg in enumerate(args)}) == wanted


def test_arguments_by_name_and_an_address_for_later_go_django_s_way() -> None:
    wanted = reverse("steps:bench", args=(7, "A", "charge"))
    assert rendered("{% url 'steps:bench' job=7 letter='A' key='charge' %}") == wanted
    assert rendered("{% url 'steps:bench' 7 'A' 'charge' as here %}<{{ here }}>") == f"<{wanted}>"
    assert rendered("{% url 'nobody:nowhere' as here %}<{{ here }}>") == "<>"


def test_a_name_that_is_none_is_refused_each_time() -> None:
    for _ in range(2):
        with pytest.raises(NoReverseMatch):
            address("nobody:nowhere")
        with pytest.raises(NoReverseMatch):
            rendered("{% url 'steps:bench' nothing 'A' 'charge' %}")


def test_under_another_prefix_an_address_is_another_one() -> None:
    plain = address("jobs:list")
    set_script_prefix("/firm/")
    try:
        assert address("jobs:list") == "/firm" + plain
    finally:
        set_script_prefix("/")
    assert address("jobs:list") == plain
