"""A change without network or session is kept and sent again; a finger scrolls, and moves a handle from its bar."""

from __future__ import annotations

from threading import Thread
from typing import Any
from wsgiref.simple_server import WSGIRequestHandler, make_server

import pytest
from django.core.handlers.wsgi import WSGIHandler
from django.http import HttpRequest, HttpResponseBase
from selenium.webdriver.common.actions import interaction
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput
from selenium.webdriver.common.keys import Keys

from rowan.command.browser import set_network, set_size
from rowan.core.terms.finding import Change
from rowan.demo.person import EMAIL, PASSWORD
from rowan.web.accounts.middleware import PrivateMiddleware
from rowan.web.accounts.models import User
from rowan.web.accounts.roles import WHY_NOT
from rowan.web.customers.models import Customer
from rowan.web.plans.models import Plan
from rowan.web.plans.services import Edit, change_plan
from rowan.web.steps import views
from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
KVIST = "Kvist house, 4 Ropewalk"
PATH = "survey.gauge_to_top_m"


def test_without_network_a_change_is_kept_told_and_sent_again(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    before = page.figure("static")
    set_network(page.driver, gone=True)
    try:
        page.type_into(PATH, "7.9 m")
        page.wait.until(lambda _: "1 change is not saved yet" in page.outbox())
        assert not page.is_busy()
        assert page.figure("static") == before
    finally:
        set_network(page.driver, gone=False)
    page.wait.until(lambda _: page.outbox() == "")
    page.wait.until(lambda _: page.figure("static") != before)
    assert page.shown(PATH) == "7.90 m"
    page.forget_console()  # the browser logs that it had no network


def test_a_change_after_the_session_ended_is_saved_once_somebody_signs_in_where_they_are(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    address = page.driver.current_url
    page.driver.delete_cookie("sessionid")
    page.type_into(PATH, "7.9 m")
    page.wait.until(lambda _: page.asked_to_sign_in())
    assert "1 change is not saved yet" in page.outbox()
    page.sign_in_here("not the password")
    page.wait.until(lambda _: "do not belong together" in page.one("#sign-in-again .refusal").text)
    page.sign_in_here(PASSWORD)
    page.wait.until(lambda _: page.shown(PATH) == "7.90 m")
    page.wait.until(lambda _: page.outbox() == "")
    assert not page.asked_to_sign_in()
    assert page.driver.current_url == address, "nobody was led elsewhere"
    # forms of the page that was never loaded anew count again
    page.set(PATH, "8.1 m")
    assert page.shown(PATH) == "8.10 m"
    page.forget_console()


def test_a_plain_form_keeps_what_was_typed_without_session_and_with_an_old_token(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    driver = page.driver
    driver.get(driver.current_url.replace("/charge/", "/as-left/").split("?")[0])
    field = page.one("[name='control.start_k']")
    field.clear()
    field.send_keys("9.5")
    driver.delete_cookie("sessionid")
    driver.execute_script("document.querySelector('.left-form [name=csrfmiddlewaretoken]').value = 'old'")
    page.one("#leave").click()
    page.wait.until(lambda _: page.asked_to_sign_in())
    page.sign_in_here(PASSWORD)
    page.wait.until(lambda _: "left otherwise than" in page.one("main h1").text)
    assert page.one("[name='control.start_k']").get_property("value") == "9.5 K"
    page.forget_console()


def test_a_plain_form_without_network_is_kept_outlives_its_tab_and_is_taken_once(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    driver = page.driver
    driver.get(f"{page.base}/customers/")
    page.one("#id_name").send_keys("Ola Berg")
    set_network(page.driver, gone=True)
    try:
        page.one(".plain-form .act.main").click()
        page.wait.until(lambda _: "kept here, and sent by itself" in page.one(".not-sent").text)
        # put right before it is sent: it stays one form, also where it was tried and nobody was there
        driver.execute_async_script("window.Rowan.outbox.sendAll().then(arguments[0])")
        page.one("#id_telephone").send_keys("0555 010 199", Keys.ENTER)
        page.wait.until(lambda _: "1 change is not saved yet" in page.one("#outbox p").text)
        driver.get("about:blank")
    finally:
        set_network(page.driver, gone=False)
    driver.get(f"{page.base}/customers/")
    page.wait.until(lambda _: page.outbox() == "")
    page.wait.until(lambda _: list(Customer.objects.filter(name="Ola Berg").values_list("telephone", flat=True)))
    assert list(Customer.objects.filter(name="Ola Berg").values_list("telephone", flat=True)) == ["0555 010 199"]
    page.forget_console()


def test_a_plain_form_whose_answer_was_lost_is_taken_once_and_a_later_word_is_not_lost_with_it(
    sign_in: SignInPage, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = sign_in.open_plan(KVIST)
    driver, answers, answered = page.driver, list[int](), PrivateMiddleware.__call__

    def loses_the_first(self: PrivateMiddleware, request: HttpRequest) -> HttpResponseBase:
        """The server has taken it, and breaks before it says so."""
        found = answered(self, request)
        if "X-Rowan-Late" in request.headers and request.method == "POST":
            answers.append(found.status_code)
            if len(answers) == 1:
                raise RuntimeError
        return found

    monkeypatch.setattr(PrivateMiddleware, "__call__", loses_the_first)
    driver.get(f"{page.base}/customers/")
    page.one("#id_name").send_keys("Ola Berg")
    set_network(page.driver, gone=True)
    try:
        page.one(".plain-form .act.main").click()
        page.wait.until(lambda _: "kept here" in page.one(".not-sent").text)
    finally:
        set_network(page.driver, gone=False)
    page.wait.until(lambda _: len(answers) == 1)
    # in the meantime somebody goes on typing and sends it once more
    page.one("#id_name").send_keys(" and Kari", Keys.ENTER)
    page.wait.until(lambda _: page.outbox() == "" and len(answers) >= 3)
    names = list(Customer.objects.filter(name__startswith="Ola Berg").order_by("pk").values_list("name", flat=True))
    assert names == ["Ola Berg", "Ola Berg and Kari"]
    page.forget_console()


def test_a_plain_form_that_is_refused_late_is_filled_in_again(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    driver = page.driver
    driver.get(driver.current_url.replace("/charge/", "/as-left/").split("?")[0])
    field = page.one("[name='control.start_k']")
    field.clear()
    field.send_keys("warm")
    set_network(page.driver, gone=True)
    try:
        page.one("#leave").click()
        page.wait.until(lambda _: "kept here" in page.one(".not-sent").text)
    finally:
        set_network(page.driver, gone=False)
    page.wait.until(lambda _: "refused" in page.outbox())
    page.open_outbox()
    with page.new_page():
        driver.get(page.base)
    page.open_outbox()
    with page.new_page():
        page.one("#outbox a.link").click()
    page.wait.until(lambda _: page.one("[name='control.start_k']").get_property("value") == "warm")
    field = page.one("[name='control.start_k']")
    field.clear()
    field.send_keys("9.5")
    with page.new_page():
        page.one("#leave").click()
    page.wait.until(lambda _: "left otherwise than" in page.one("main h1").text)
    assert page.outbox() == ""
    page.forget_console()


def test_what_is_kept_outlives_its_tab_and_is_saved_once_in_order(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST)
    before = page.revision()
    set_network(page.driver, gone=True)
    try:
        for metres in ("7.9 m", "8.3 m", "8.6 m"):
            page.type_into(PATH, metres)
            page.wait.until(lambda _: not page.is_busy())
        page.wait.until(lambda _: "3 changes are not saved yet" in page.outbox())
        page.open_outbox()
        assert [row.split(": ")[1] for row in page.kept()] == ["7.9 m", "8.3 m", "8.6 m"]
        address = page.driver.current_url
        page.driver.get("about:blank")
    finally:
        set_network(page.driver, gone=False)
    page.driver.get(address)
    page.wait.until(lambda _: page.shown(PATH) == "8.60 m")
    page.wait.until(lambda _: page.outbox() == "")
    assert page.revision() == before + 3
    page.forget_console()


def test_an_answer_that_was_lost_is_no_second_change(sign_in: SignInPage, monkeypatch: pytest.MonkeyPatch) -> None:
    page = sign_in.open_plan(KVIST)
    before, answers = page.revision(), [views._back]

    def breaks_once(*asked: object) -> object:
        """The server has saved, and breaks before it says so."""
        if len(answers) == 1:
            answers.append(views._back)
            raise RuntimeError
        return answers[0](*asked)  # type: ignore[arg-type]

    monkeypatch.setattr(views, "_back", breaks_once)
    page.type_into(PATH, "7.9 m")
    page.wait.until(lambda _: "stumbled" in page.outbox())
    page.wait.until(lambda _: page.outbox() == "")
    assert page.shown(PATH) == "7.90 m"
    assert page.revision() == before + 1
    page.forget_console()


def test_a_kept_change_that_is_overtaken_is_refused_by_name_and_decided_side_by_side(
    sign_in: SignInPage,
) -> None:
    page = sign_in.open_plan(KVIST)
    set_network(page.driver, gone=True)
    try:
        page.type_into(PATH, "7.9 m")
        page.wait.until(lambda _: "1 change is not saved yet" in page.outbox())
        changed_elsewhere(PATH, 8.8)
    finally:
        set_network(page.driver, gone=False)
    page.wait.until(lambda _: "1 change was refused" in page.outbox())
    assert page.one("#to-merge").text == "See what each changed"
    page.open_outbox()
    assert "7.9 m" in page.kept()[0]
    with page.new_page():
        page.one("#outbox li a").click()
    assert page.heading() == "Both changed this plan"
    with page.new_page():
        page.one("main form .act.main").click()
    assert page.shown(PATH) == "7.90 m"
    page.wait.until(lambda _: page.outbox() == "")
    page.forget_console()


def test_what_a_role_may_no_longer_do_is_refused_with_its_reason_and_asks_nobody_to_sign_in(
    sign_in: SignInPage,
) -> None:
    page = sign_in.open_plan(KVIST)
    before = page.revision()
    User.objects.filter(email=EMAIL).update(role="viewer")
    page.type_into(PATH, "7.9 m")
    page.wait.until(lambda _: "1 change was refused" in page.outbox())
    page.open_outbox()
    assert "7.9 m" in page.kept()[0]
    assert WHY_NOT["propose"] in page.kept()[0].lower()
    # the one that waited without network is answered the same
    set_network(page.driver, gone=True)
    try:
        page.type_into(PATH, "8.3 m")
        page.wait.until(lambda _: "1 change is not saved yet" in page.outbox())
    finally:
        set_network(page.driver, gone=False)
    page.wait.until(lambda _: "2 changes were refused" in page.outbox())
    assert not page.asked_to_sign_in()
    assert page.revision() == before
    page.forget_console()


def changed_elsewhere(path: str, value: float) -> None:
    """Somebody else saves something meanwhile."""
    plan = Plan.objects.get(job__title=KVIST, letter="A")
    edit = Edit([Change(path, value)], path, "measured anew")
    other = User.objects.exclude(email=EMAIL).filter(firm=plan.job.firm).first() or User.objects.get(email=EMAIL)
    change_plan(plan=plan, author=other, based_on=plan.head.number, edit=edit)


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


class _Quiet(WSGIRequestHandler):
    def log_message(self, format: str, *args: object) -> None:
        pass


def test_a_page_that_was_opened_is_shown_and_changed_without_the_server(sign_in: SignInPage, settings: Any) -> None:
    settings.SERVICE_WORKER = True
    server = make_server("localhost", 0, WSGIHandler(), handler_class=_Quiet)
    Thread(target=server.serve_forever, daemon=True).start()
    base, driver = f"http://localhost:{server.server_port}", sign_in.driver
    try:
        page = SignInPage(driver, base).open_plan(KVIST)
        driver.execute_async_script("navigator.serviceWorker.ready.then(() => arguments[0]())")
        address = driver.current_url
        driver.get(address)  # now by the worker, which keeps it
        page.one("#plan")
        assert driver.execute_script("return !!navigator.serviceWorker.controller")
        with page.answered():
            page.type_into(PATH, "7.8 m")
        sent = driver.execute_script(
            "return performance.getEntriesByType('resource').filter((one) => one.name.endsWith('/set/'))"
            ".map((one) => one.workerFinalSourceType)"
        )
        assert sent == ["network"], "a change does not wake the worker, which does nothing with it"
        driver.get(address)
        page.one("#plan")
        server.shutdown()
        server.server_close()
        driver.get(address)
        assert "this page is as it was" in page.one("#kept-at:not([hidden])").text
        page.type_into(PATH, "7.9 m")
        page.wait.until(lambda _: "1 change is not saved yet" in page.outbox())
        assert page.shown(PATH) == "7.9 m, not saved yet"
        driver.get(f"{base}/jobs/1/C/charge/")
        assert page.heading() == "No connection"
        assert address in [link.get_attribute("href") for link in page.all("main a")]
    finally:
        server.shutdown()
        driver.execute_async_script(
            "const done = arguments[0];"
            "Promise.all([navigator.serviceWorker.getRegistrations().then((all) => Promise.all(all.map((one) => one.unregister()))),"
            "caches.keys().then((all) => Promise.all(all.map((name) => caches.delete(name))))]).then(() => done(), () => done())"
        )
        driver.get_log("browser")
