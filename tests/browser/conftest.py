"""A real browser on the real server. Any console error fails the test that caused it."""

from __future__ import annotations

import shutil
import sqlite3
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.contrib.staticfiles.handlers import StaticFilesHandlerMixin
from django.core.signals import request_finished, request_started
from django.templatetags.static import static
from django.test import TransactionTestCase
from selenium import webdriver
from selenium.webdriver.chrome.webdriver import WebDriver
from whitenoise.middleware import WhiteNoiseMiddleware

from rowan.command.browser import new_driver, set_network, set_size
from rowan.web.studies.work import WORKSHOP
from tests.browser.pages.plan import SignInPage
from tests.worlds import put_back


@pytest.fixture(scope="session")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[WebDriver]:
    if not shutil.which("chromedriver"):
        pytest.fail("ChromeDriver is missing: bin/test installs it")
    driver = new_driver(tmp_path_factory.mktemp("profile"))
    yield driver
    driver.quit()


class _Open:
    """Requests that are being answered."""

    count = 0
    lock = threading.Lock()

    @classmethod
    def forget(cls) -> None:
        """Begins anew: a test without a browser may leave an answer unread, which never counts as finished."""
        with cls.lock:
            cls.count = 0

    @classmethod
    def change(cls, by: int) -> None:
        with cls.lock:
            cls.count += by


def _started(**_: object) -> None:
    _Open.change(1)


def _finished(**_: object) -> None:
    _Open.change(-1)


request_started.connect(_started)
request_finished.connect(_finished)


def _answers_are_done(seconds: float = 5.0) -> None:
    """What the page still asked for is answered before its database goes."""
    end = time.monotonic() + seconds
    while _Open.count > 0 and time.monotonic() < end:
        time.sleep(0.02)


@pytest.fixture(autouse=True, scope="session")
def _shipped_files_as_in_service() -> Iterator[None]:
    """They come from the product's own middleware, which lets the browser keep them: not from the test server's handler,
    which looks for each of them anew with every page."""
    find = WhiteNoiseMiddleware.add_files_from_finders

    def with_axe(self: WhiteNoiseMiddleware) -> None:
        find(self)
        self.add_file_to_dictionary(f"/static/{AXE.name}", str(AXE))

    patch = pytest.MonkeyPatch()
    patch.setattr(StaticFilesHandlerMixin, "_should_handle", lambda self, path: False)
    patch.setattr(WhiteNoiseMiddleware, "add_files_from_finders", with_axe)
    yield
    patch.undo()


@pytest.fixture(autouse=True, scope="session")
def _emptied_at_once(empty: sqlite3.Connection) -> Iterator[None]:
    """After a test the database is put back empty as a whole, where Django would empty it table by table and make every right
    anew. Of the whole session: what a test itself patches is gone before its database is emptied."""
    patch = pytest.MonkeyPatch()
    patch.setattr(TransactionTestCase, "_fixture_teardown", lambda self: put_back(empty))
    yield
    patch.undo()


@pytest.fixture
def driver(browser: webdriver.Chrome, live_server: Any) -> Iterator[webdriver.Chrome]:
    _Open.forget()
    set_size(browser, 1280, 800)
    # the smallest thing of the same origin: cookies and what a tab keeps belong to it
    bare = f"{live_server.url}{static('rowan/rowan.svg')}"
    if browser.current_url != bare:
        browser.get(bare)
    browser.delete_all_cookies()
    browser.execute_script("sessionStorage.clear(); localStorage.clear(); indexedDB.deleteDatabase('rowan')")
    browser.get_log("browser")
    yield browser
    log = browser.get_log("browser")
    # a test that failed without network leaves none for those after it
    set_network(browser, gone=False)
    browser.get(bare)
    # years that nobody waits for any more would take the processor from the next test
    WORKSHOP.give_up()
    _answers_are_done()
    errors = [entry["message"] for entry in log if entry["level"] in ("SEVERE", "ERROR")]
    # a refused input answers 422 and a stale one 409: the browser logs these answers, they are not errors of the page
    errors = [message for message in errors if "status of 422" not in message and "status of 409" not in message]
    # the bare file between two tests has no page to name its icon
    errors = [message for message in errors if "/favicon.ico" not in message]
    assert errors == []


@pytest.fixture
def sign_in(driver: webdriver.Chrome, live_server: Any, world: sqlite3.Connection) -> SignInPage:
    put_back(world)
    return SignInPage(driver, live_server.url)


# what could find nothing that counts is not looked for, a third of what axe takes: a rule says what all its finds weigh, and of letters in
# a drawing, which have a fill and no colour, axe never tells whether they stand out (test_palettes does)
GRAVE_ALONE = """
axe.configure({ rules: [
  ...axe._audit.rules.filter(({ impact }) => ["minor", "moderate"].includes(impact)).map(({ id }) => ({ id, enabled: false })),
  { id: "color-contrast", selector: "*:not(svg *)" },
] });
"""


AXE = Path(__file__).parent / "vendor" / "axe.min.js"
# asked for by the page, which keeps it, where half a megabyte by the driver's line would take a tenth of a second each time
LOADED = f"""
const asked = new XMLHttpRequest();
asked.open("GET", "/static/{AXE.name}", false);
asked.send();
(0, eval)(asked.responseText);
"""


@pytest.fixture(scope="session")
def axe_source() -> str:
    return LOADED + GRAVE_ALONE


@pytest.fixture(autouse=True)
def _short_runs_begin(settings: Any) -> None:
    """As in the product: a page begins its short runs by itself."""
    settings.SHORT_RUNS_BEGIN = True
