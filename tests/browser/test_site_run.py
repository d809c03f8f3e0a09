"""A run on a phone in a cellar: judged without signal, kept through reload and closed tab, sent once and in order."""

from __future__ import annotations

import random
from datetime import timedelta
from threading import Thread
from typing import Any
from wsgiref.simple_server import WSGIRequestHandler, WSGIServer, make_server

import pytest
from django.core.handlers.wsgi import WSGIHandler
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from rowan.command.browser import set_size
from rowan.core.steps.commission.judge import judged, with_derived
from rowan.demo.person import EMAIL
from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.services import Told, reckoned_run, start_run, state_of, write
from rowan.web.plans.models import Plan
from tests.browser.pages.plan import SignInPage
from tests.browser.pages.site_run import SiteRunPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
KVIST = "Kvist house, 4 Ropewalk"
PHONE = (390, 844)


def started(kind: str = "first", letter: str = "B") -> Run:
    plan = Plan.objects.get(job__title=KVIST, letter=letter)
    return start_run(plan=plan, kind=kind, person=User.objects.get(email=EMAIL))


def phone(sign_in: SignInPage, run: Run, step: str = "") -> SiteRunPage:
    page = sign_in.sign_in()
    set_size(page.driver, *PHONE)
    return SiteRunPage(page.driver, page.base).open(run, step)


class _Quiet(WSGIRequestHandler):
    def log_message(self, *said: object) -> None:
        """Nothing is told on the console."""


def served(port: int = 0) -> WSGIServer:
    """A server of one's own, to be stopped."""
    server = make_server("localhost", port, WSGIHandler(), handler_class=_Quiet)
    Thread(target=server.serve_forever, daemon=True).start()
    return server


def stopped(server: WSGIServer) -> None:
    server.shutdown()
    server.server_close()


FORGET_WORKER = (
    "const done = arguments[0];"
    "Promise.all([navigator.serviceWorker.getRegistrations().then((all) => Promise.all(all.map((one) => one.unregister()))),"
    "caches.keys().then((all) => Promise.all(all.map((name) => caches.delete(name))))]).then(() => done(), () => done())"
)


def values(run: Run) -> list[tuple[str, str, float | None]]:
    return list(run.entries.values_list("kind", "field", "value"))


def test_a_step_is_read_judged_and_passed(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run)
    assert page.step == "inspect"
    page.read("field_c", "61")
    page.wait.until(lambda _: page.level == "stop")
    assert "stands at 61 °C" in page.verdict
    Select(page.one("[data-field='field_c'] .why-again")).select_by_visible_text("mistyped")
    page.read("field_c", "57 °F")
    page.wait.until(lambda _: page.level == "")
    assert "Still to read" in page.verdict
    page.tick("store_full")
    page.tick("looked_over")
    page.wait.until(lambda _: page.level == "pass")
    page.pass_it()
    page.wait.until(lambda _: page.step == "vessel")
    assert page.passed("inspect")
    page.sent()
    found = state_of(run)
    assert found.steps[0].state == "passed"
    assert found.symbols["field_c"] == pytest.approx((57 - 32) / 1.8)
    assert [was.cured for was in found.deviations] == [True]
    assert [entry.reason for entry in found.entries if entry.field == "field_c"] == ["", "mistyped"]


def test_a_typing_error_is_asked_back_and_not_written(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run, "vessel")
    page.read("vessel_set", "45")
    page.wait.until(lambda _: "45.00 bar cannot be" in page.told("vessel_set"))
    page.read("vessel_set", "a lot")
    page.wait.until(lambda _: "is no number" in page.told("vessel_set"))
    page.read("vessel_set", "21.3 psi")
    page.sent()
    page.wait.until(lambda _: page.shown("vessel_set") == "1.47")
    assert [value for _, _, value in values(run)] == [pytest.approx(146_858, rel=1e-4)]


def test_without_signal_it_judges_keeps_and_shows_what_it_keeps(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run, "fill")
    with page.without_network():
        page.read("colour_s", "4 s")
        page.wait.until(lambda _: page.level == "fix")
        assert "a short way through the valve between the ports" in page.verdict
        page.read("colour_s", "1:24")
        page.read("tub_fell", "160")
        page.wait.until(lambda _: page.level == "pass")
        page.wait.until(lambda _: page.kept == "3 kept here")
        assert run.entries.count() == 0
    page.sent()
    assert values(run) == [("read", "colour_s", 4.0), ("read", "colour_s", 84.0), ("read", "tub_fell", 0.16)]
    page.forget_console()


def test_what_is_kept_outlives_reload_and_a_killed_tab(sign_in: SignInPage, settings: Any) -> None:
    settings.SERVICE_WORKER = True
    run, server = started(), served()
    driver = sign_in.driver
    try:
        base = f"http://localhost:{server.server_port}"
        SignInPage(driver, base).sign_in()
        set_size(driver, *PHONE)
        page = SiteRunPage(driver, base).open(run, "vessel")
        driver.execute_async_script("navigator.serviceWorker.ready.then(() => arguments[0]())")
        driver.refresh()  # now by the worker, which keeps it
        page.ready()
        stopped(server)
        page.read("vessel_set", "1.48")
        page.wait.until(lambda _: page.kept == "1 kept here")
        driver.refresh()
        page.ready()
        assert (page.shown("vessel_set"), page.kept) == ("1.48", "1 kept here")
        page.read("vessel_after", "1.48")
        page.wait.until(lambda _: page.kept == "2 kept here")
        driver.get("about:blank")
        server = served(server.server_port)
        page.open_again()
        page.sent()
    finally:
        stopped(server)
        driver.execute_async_script(FORGET_WORKER)
        driver.get_log("browser")
    assert [field for _, field, _ in values(run)] == ["vessel_set", "vessel_after"]


def test_entries_are_sent_once_and_in_order_whatever_the_network_does(sign_in: SignInPage) -> None:
    """The short form of `bin/rowan prove site`."""
    run, dice = started(), random.Random(7)
    page = phone(sign_in, run, "inspect")
    typed = [10 + number * 0.5 for number in range(24)]
    gone = False
    for number in typed:
        if dice.random() < 0.3:
            gone = not gone
            page.network(gone=gone)
        page.read("field_c", f"{number}")
        page.wait.until(
            lambda _, n=number: (
                page.driver.execute_script("return Number(document.querySelector('#read-field_c').value)")
                in (n, round(n))
            )
        )
    page.network(gone=False)
    page.driver.execute_script("window.dispatchEvent(new Event('online'))")
    page.sent()
    assert [value for _, _, value in values(run)] == typed
    page.forget_console()


def test_of_two_readings_within_a_second_the_later_counts(sign_in: SignInPage) -> None:
    """A moment on the full second is written without its fraction: by its letters it would come after all of that second."""
    run, second = started(), timezone.now().replace(microsecond=0) - timedelta(minutes=1)
    for number, (value, at) in enumerate((("50", second), ("51", second + timedelta(milliseconds=400)))):
        told = Told("read", "inspect", "field_c", value, at=at, sent=f"of one second {number}")
        write(run=run, told=told, person=User.objects.get(email=EMAIL), units="metric")
    assert phone(sign_in, run, "inspect").shown("field_c") == "51"


def test_two_phones_on_one_run_keep_each_other_s_entries(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run, "fill")
    other = Told("read", "vessel", "vessel_set", "1.46", at=timezone.now() - timedelta(minutes=1))
    write(run=run, told=other, person=User.objects.get(email=EMAIL), units="metric")
    page.read("colour_s", "88 s")
    page.sent()
    assert {field for _, field, _ in values(run)} == {"vessel_set", "colour_s"}
    page.driver.refresh()
    page.ready()
    page.turn_to("vessel")
    assert page.shown("vessel_set") == "1.46"


def test_two_tabs_show_what_either_writes(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run, "fill")
    first = page.driver.current_window_handle
    page.driver.switch_to.new_window("tab")
    try:
        other = SiteRunPage(page.driver, page.base).open(run, "fill")
        other.read("tub_fell", "160")
        other.sent()
        page.driver.switch_to.window(first)
        page.wait.until(lambda _: page.shown("tub_fell") == "160")
        page.driver.switch_to.window(page.driver.window_handles[-1])
    finally:
        page.driver.close()
        page.driver.switch_to.window(first)
    assert values(run) == [("read", "tub_fell", 0.16)]


def test_a_handle_that_is_turned_says_what_would_happen(sign_in: SignInPage) -> None:
    page = phone(sign_in, started(), "fill")
    page.turn_handle("between")
    page.wait.until(lambda _: "straight to the drain" in page.said())
    page.turn_handle("between")  # half open: thirty seconds of it are part of the work
    page.turn_handle("between")
    page.wait.until(lambda _: page.said() == "" or "Nothing happens" in page.said())
    page.turn_handle("outlet")  # half
    page.turn_handle("outlet")  # shut
    page.wait.until(
        lambda _: (
            page.one(".work-step:not([hidden]) .handle[data-valve=outlet]").get_attribute("data-position") == "shut"
        )
    )
    page.turn_handle("vent")
    page.wait.until(lambda _: "pressure rises" in page.said())


def test_a_rehearsal_goes_all_the_way_and_writes_nothing(sign_in: SignInPage) -> None:
    page = sign_in.open_plan(KVIST, "commission")
    with page.new_page():
        page.one("#to-rehearsal").click()
    site = SiteRunPage(page.driver, page.base)
    site.ready()
    before = Run.objects.count()
    site.turn_to("fill")
    site.read("colour_s", "4 s")
    site.wait.until(lambda _: site.level == "fix")
    assert Run.objects.count() == before
    assert site.driver.execute_script("return window.Rowan.unsent.all().then((all) => all.length)") == 0


def test_a_wet_glove_must_hold_and_a_clock_counts_down(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run, "inspect")
    page.touch("[data-field='store_full']")  # a touch and away: a ghost
    assert not page.ticked("store_full")
    assert run.entries.count() == 0
    page.turn_to("vessel")
    page.touch("#step-vessel [data-act=timer]")
    page.wait.until(lambda _: page.one("#step-vessel .clock").text.startswith("09:"))
    page.driver.refresh()
    page.ready()
    page.turn_to("vessel")
    page.wait.until(lambda _: page.one("#step-vessel .clock").text.startswith("09:"))


def test_it_is_signed_and_closed_and_then_takes_nothing_more(sign_in: SignInPage) -> None:
    run = started("test")
    page = phone(sign_in, run, "finish")
    assert "Still open" in page.one("#still-open").text
    page.one("[data-act=sign]").click()
    page.wait.until(lambda _: "signed" in page.one("#signed-log").text)
    page.one("[data-act=close]").click()
    page.one("[data-act=close]").click()
    page.sent()
    page.wait.until(lambda _: run.entries.filter(kind="close").exists())
    assert state_of(run).signatures[0].text.startswith("Mara Hollin|M")
    page.open(run, "inspect")
    page.read("field_c", "14")
    page.sent()
    assert not run.entries.filter(field="field_c").exists()


def test_a_photograph_is_shrunk_kept_and_sent(sign_in: SignInPage, tmp_path: Any) -> None:
    from PIL import Image

    run = started()
    page = phone(sign_in, run, "vessel")
    picture = tmp_path / "gauge.jpg"
    Image.effect_noise((2400, 1800), 60).convert("RGB").save(picture)
    page.driver.execute_script("document.querySelector('#step-vessel details').open = true")
    with page.without_network():
        page.one("#photo-vessel").send_keys(str(picture))
        page.wait.until(lambda _: page.kept == "1 kept here")
    page.sent()
    photo = run.photos.get()
    assert max(photo.width, photo.height) == 1600
    assert len(bytes(photo.content)) < picture.stat().st_size
    page.forget_console()


# --- one answer: the phone's tables are the core's

AMOUNTS = {
    "inspect": {"field_c": (0, 80), "gauge_zero": (-2e4, 4e4)},
    "vessel": {"vessel_set": (1.2e5, 1.7e5), "vessel_after": (1.2e5, 1.7e5)},
    "fill": {"colour_s": (1, 200), "tub_fell": (0.05, 0.3), "bucket_s": (10, 60)},
    "test": {"test_p1": (5.2e5, 5.4e5), "test_t1": (10, 20), "test_p2": (4.8e5, 5.6e5), "test_t2": (10, 20), "test_ml10": (0, 1e-5),
             "test_ml20": (0, 1e-5), "test_ml50": (0, 2e-5)},
    "raise": {"raise_before": (0, 2e5), "raise_litres": (0, 1e-3), "raise_peak": (2.5e5, 4e5), "raise_after": (2e5, 4e5)},
    "open": {"vessel_set": (1.3e5, 1.6e5), "open_litres": (0, 5e-3), "open_fill": (1.5e5, 2e5)},
    "run": {"run_flow": (2e-5, 1e-4), "arrival_s": (20, 300), "run_loud": (0, 1)},
}  # fmt: skip


def test_the_phone_says_what_the_server_says(sign_in: SignInPage) -> None:
    run = started()
    page = phone(sign_in, run)
    commission = reckoned_run(run).result.commission
    steps = {step.key: step for step in commission.steps}

    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        key=st.sampled_from(sorted(AMOUNTS)),
        parts=st.lists(st.floats(0, 1), min_size=7, max_size=7),
        left_out=st.integers(0, 7),
    )
    def same(key: str, parts: list[float], left_out: int) -> None:
        ranges = list(AMOUNTS[key].items())
        read = {
            name: low + part * (high - low)
            for number, ((name, (low, high)), part) in enumerate(zip(ranges, parts, strict=False))
            if number != left_out
        }
        expected = judged(steps[key], with_derived({**commission.constants, **read}, commission.derived))
        got = page.driver.execute_script(
            JUDGE, key, [{"kind": "read", "field": name, "value": value} for name, value in read.items()]
        )
        assert got["level"] == expected.level
        assert got["missing"] == list(expected.missing)
        assert [(one["level"], one["words"]) for one in got["said"]] == [
            (said.level, said.words.text()) for said in expected.said
        ]

    same()


JUDGE = """
const data = JSON.parse(document.getElementById("run-data").textContent);
const { judged, symbolsOf } = window.Rowan.judge;
return judged(data.steps.find((step) => step.key === arguments[0]), symbolsOf(data, arguments[1]), data.dimensions);
"""


def test_every_target_is_as_large_as_a_thumb(sign_in: SignInPage) -> None:
    page = phone(sign_in, started(), "test")
    small = page.driver.execute_script(
        "return [...document.querySelectorAll('#on-site a, #on-site button, #on-site input, #on-site summary')]"
        ".filter((e) => e.offsetParent && e.type !== 'file')"
        ".map((e) => [e.outerHTML.slice(0, 80), e.getBoundingClientRect()])"
        ".filter(([, box]) => box.height < 44 || box.width < 44).map(([what, box]) => `${what} ${box.width}x${box.height}`)"
    )
    assert small == []
    assert page.driver.execute_script("return document.documentElement.scrollWidth") <= PHONE[0]
    assert page.driver.find_elements(By.CSS_SELECTOR, "#step-test .handle")
