"""A change without network or session is kept and sent again; a finger scrolls, and moves a handle from its bar."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.actions import interaction
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput

from rowan.command.browser import set_size
from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
KVIST = "Kvist house, 4 Ropewalk"
PATH = "survey.gauge_to_top_m"


def offline(page: BenchPage, is_off: bool) -> None:
    page.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": is_off, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
    )


def test_without_network_a_change_is_kept_told_and_sent_again(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    before = page.figure("static")
    page.driver.execute_cdp_cmd("Network.enable", {})
    offline(page, True)
    try:
        page.type_into(PATH, "7.9 m")
        page.wait.until(lambda _: "1 change is not saved yet" in page.outbox())
        assert not page.is_busy()
        assert page.figure("static") == before
    finally:
        offline(page, False)
    page.wait.until(lambda _: page.outbox() == "")
    page.wait.until(lambda _: page.figure("static") != before)
    assert page.shown(PATH) == "7.90 m"
    page.forget_console()  # the browser logs that it had no network


def test_a_change_after_the_session_ended_is_saved_once_somebody_signs_in(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    page.driver.delete_cookie("sessionid")
    page.type_into(PATH, "7.9 m")
    page.wait.until(lambda driver: "/sign-in/" in driver.current_url)
    SignInPage(page.driver, page.base).type_here()
    page.wait.until(lambda driver: driver.current_url.endswith("/charge/"))
    page.wait.until(lambda _: page.shown(PATH) == "7.90 m")
    assert page.outbox() == ""
    page.forget_console()


def test_what_changed_is_said_aloud_and_the_focus_stays_in_the_page(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    page.set(PATH, "7.9 m")
    page.wait.until(lambda _: "bar" in page.said_aloud())
    page.undo()
    page.wait.until(lambda _: page.focused().tag_name != "body")


def finger(page: BenchPage, points: list[tuple[float, float]]) -> None:
    """A finger put down, drawn along and lifted."""
    touch = PointerInput(interaction.POINTER_TOUCH, "finger")
    actions = ActionBuilder(page.driver, mouse=touch, duration=60)
    first, *rest = points
    actions.pointer_action.move_to_location(round(first[0]), round(first[1]))
    actions.pointer_action.pointer_down()
    for x, y in rest:
        actions.pointer_action.move_to_location(round(x), round(y))
    actions.pointer_action.pointer_up()
    actions.perform()


def test_a_swipe_that_starts_on_a_handle_changes_nothing_and_a_tap_brings_its_bar(sign_in: SignInPage) -> None:
    set_size(sign_in.driver, 390, 844, phone=True)  # type: ignore[arg-type]
    page = sign_in.open_plan(KVIST, "control")
    start = page.value_of("drag-control-start_k")
    x, y = page.middle_of("drag-control-start_k")
    finger(page, [(x, y), (x, y - 60), (x, y - 160)])
    assert page.value_of("drag-control-start_k") == start
    x, y = page.middle_of("drag-control-start_k")
    finger(page, [(x, y)])
    page.wait.until(lambda _: page.hand_value() != "")
    assert page.hand_value() == f"{start:.1f} K"
    assert min(page.sizes_of("#hand-bar button:not([hidden]), #hand-knob")) >= 44
    with page.answered():
        page.press_hand("more")
    more = page.value_of("drag-control-start_k")
    assert more > start
    assert page.hand_value() == f"{more:.1f} K"
    with page.answered():
        page.press_hand("undo")
    assert page.value_of("drag-control-start_k") == start
