"""A sample of `bin/rowan access`: on the phone nothing is under a thumb's width, under 12 px or wider than the screen, and axe finds nothing."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By

from rowan.command.access import LOOKS, Look, measure
from rowan.web.accounts.models import User
from tests.browser.pages.plan import SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
BY_NAME = {look.name: look for look in LOOKS}
PHONES = ("/", "/week/", "/practice/", "charge", "run", "papers")
FORCED = ("charge", "control")


def _address(where: str) -> str:
    return where if where.startswith("/") else SignInPage.address_of("Kvist house, 4 Ropewalk", f"A/{where}/")


@pytest.mark.parametrize("where", PHONES)
def test_on_the_phone_all_is_in_reach_and_readable(sign_in: SignInPage, axe_source: str, where: str) -> None:
    page = sign_in.signed_in()
    found = measure(page.driver, page.base, (where, _address(where)), BY_NAME["390"], axe_source)
    assert found.broken == []
    assert found.wide <= 1
    assert found.small == []
    assert found.fine == []


@pytest.mark.parametrize(
    "look", [look for look in LOOKS if look.forced and look.language == "en"], ids=lambda look: str(look.name)
)
def test_in_forced_colours_nothing_breaks_a_rule(sign_in: SignInPage, axe_source: str, look: Look) -> None:
    page = sign_in.signed_in()
    for where in FORCED:
        found = measure(page.driver, page.base, (where, _address(where)), look, axe_source)
        assert found.broken == [], where
        assert found.wide <= 1, where


def test_the_ruler_sees_what_is_too_small(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.signed_in()
    # a desk's page is no thumb's: the same ruler there finds many
    found = measure(page.driver, page.base, ("desk", _address("charge")), BY_NAME["1280"], axe_source)
    assert len(found.small) > 20
    assert any("11.5" in one for one in found.fine)


TAP = """
const [by] = arguments, handle = document.querySelector('svg.drawing [data-drag]'), r = handle.getBoundingClientRect();
const drawing = handle.ownerSVGElement, at = { clientX: r.left + r.width / 2, clientY: r.top - by };
drawing.dispatchEvent(new PointerEvent('click', { pointerType: 'touch', bubbles: true, cancelable: true, ...at }));
return [handle.getAttribute('aria-label'), document.getElementById('hand-bar').hidden, document.getElementById('hand-name').textContent];
"""


def test_a_tap_beside_a_mark_takes_it_and_one_far_from_all_takes_none(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "store")
    _, hidden, _ = page.driver.execute_script(TAP, 300)
    assert hidden
    name, hidden, held = page.driver.execute_script(TAP, 15)
    assert not hidden
    assert held == name


@pytest.mark.parametrize(
    "look",
    [
        look
        for look in LOOKS
        if look.language != "en" and look.width in (320, 1280) and not look.forced and look.paper == "light"
    ],
    ids=lambda look: str(look.name),
)
def test_in_other_languages_nothing_breaks_a_rule_and_no_word_leaves_its_drawing(
    sign_in: SignInPage, axe_source: str, look: Look
) -> None:
    page = sign_in.signed_in()
    User.objects.update(language=look.language)
    for where in FORCED:
        found = measure(page.driver, page.base, (where, _address(where)), look, axe_source)
        assert page.driver.find_element(By.TAG_NAME, "html").get_attribute("lang") == look.language
        assert found.broken == [], where
        assert found.wide <= 1, where
        assert found.cut == [], where
