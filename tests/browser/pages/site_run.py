"""A run on site as a phone shows it."""

from __future__ import annotations

from contextlib import contextmanager
from typing import Any, Self

from selenium.webdriver.common.keys import Keys

from rowan.command.browser import set_network
from rowan.web.commissioning.models import Run
from tests.browser.pages.plan import Page

SLOW_S = 12  # s until what was kept has gone, by the pauses between tries


class SiteRunPage(Page):
    """One step is open at a time; everything is written down before it is sent."""

    def open(self, run: Run, step: str = "") -> Self:
        self.address = f"/jobs/{run.plan.job_id}/{run.plan.letter}/runs/{run.pk}/work/"
        self.driver.get("about:blank")  # else the same page with another mark is not loaded anew
        self.driver.get(self.base + self.address + (f"#step-{step}" if step else ""))
        self.ready()
        return self

    def open_again(self) -> Self:
        """After the tab was closed."""
        self.driver.get(self.base + self.address)
        self.ready()
        return self

    def ready(self) -> None:
        self.wait.until(lambda d: d.execute_script("return !!document.querySelector('#on-site.ready')"))

    def turn_to(self, step: str) -> Self:
        self.one(f"[data-tab='{step}']").click()
        return self

    @property
    def step(self) -> str:
        return self.driver.execute_script("return document.querySelector('.work-step:not([hidden])').dataset.step")

    def read(self, field: str, text: str) -> None:
        box = self.one(f"#read-{field}")
        self.driver.execute_script("arguments[0].focus(); arguments[0].select()", box)
        box.send_keys(text, Keys.ENTER)

    def shown(self, field: str) -> str:
        return self.one(f"#read-{field}").get_property("value").replace("\N{NARROW NO-BREAK SPACE}", "")

    def told(self, field: str) -> str:
        return self.one(f"#said-{field}").text.replace("\N{NO-BREAK SPACE}", " ")

    def touch(self, selector: str) -> None:
        """A touch, where the bar at the foot is not over it."""
        found = self.one(selector)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found)
        found.click()

    def tick(self, field: str) -> None:
        """By keyboard, which counts at once."""
        self.one(f"[data-field='{field}']").send_keys(Keys.ENTER)

    def ticked(self, field: str) -> bool:
        return self.one(f"[data-field='{field}']").get_attribute("aria-pressed") == "true"

    @property
    def verdict(self) -> str:
        strip = self.one(".work-step:not([hidden]) .verdict")
        return strip.text.replace("\N{NO-BREAK SPACE}", " ")

    @property
    def level(self) -> str:
        return self.one(".work-step:not([hidden]) .verdict").get_attribute("data-level") or ""

    def pass_it(self) -> None:
        self.one(".work-step:not([hidden]) [data-act=done]").click()

    def passed(self, step: str) -> bool:
        return self.one(f"[data-tab='{step}']").get_attribute("data-state") == "passed"

    @property
    def kept(self) -> str:
        return self.one("#kept-state").text

    def sent(self) -> None:
        """All of it has gone."""
        self.wait.until(lambda _: self.kept == "sent")

    def turn_handle(self, valve: str) -> None:
        self.one(f".work-step:not([hidden]) .handle[data-valve='{valve}']").send_keys(Keys.ENTER)

    def said(self) -> str:
        return self.one(".work-step:not([hidden]) .handle-said").text

    def network(self, *, gone: bool) -> None:
        set_network(self.driver, gone=gone)

    @contextmanager
    def without_network(self) -> Any:
        self.network(gone=True)
        try:
            yield
        finally:
            self.network(gone=False)
            self.driver.execute_script("window.dispatchEvent(new Event('online'))")
