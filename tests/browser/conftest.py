"""A real browser on the real server. Any console error fails the test that caused it."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.webdriver import WebDriver

from rowan.command.browser import new_driver, set_size
from rowan.demo.load import load_world
from tests.browser.pages.plan import SignInPage


@pytest.fixture(scope="session")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[WebDriver]:
    if not shutil.which("chromedriver"):
        pytest.fail("ChromeDriver is missing: bin/test installs it")
    driver = new_driver(tmp_path_factory.mktemp("profile"))
    yield driver
    driver.quit()


@pytest.fixture
def driver(browser: webdriver.Chrome, live_server: Any) -> Iterator[webdriver.Chrome]:
    set_size(browser, 1280, 800)
    browser.get(f"{live_server.url}/sign-in/")
    browser.delete_all_cookies()
    browser.execute_script("sessionStorage.clear()")
    browser.get_log("browser")
    yield browser
    errors = [entry["message"] for entry in browser.get_log("browser") if entry["level"] in ("SEVERE", "ERROR")]
    # a refused input answers 422 and a stale one 409: the browser logs these answers, they are not errors of the page
    errors = [message for message in errors if "status of 422" not in message and "status of 409" not in message]
    assert errors == []


@pytest.fixture
def sign_in(driver: webdriver.Chrome, live_server: Any) -> SignInPage:
    load_world()
    return SignInPage(driver, live_server.url).open()


@pytest.fixture(scope="session")
def axe_source() -> str:
    return (Path(__file__).parent / "vendor" / "axe.min.js").read_text(encoding="utf-8")
