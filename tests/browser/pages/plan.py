"""Pages as a person meets them: what can be done, what can be read. Selectors live only here."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Self
from uuid import uuid4

from django.conf import settings
from django.test import Client
from selenium.common.exceptions import (
    TimeoutException,
    WebDriverException,
)
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support import expected_conditions as conditions
from selenium.webdriver.support.ui import Select, WebDriverWait

from rowan.core.terms.expression import plain_value
from rowan.demo.person import EMAIL, PASSWORD
from rowan.web.accounts.models import User
from rowan.web.plans.models import Job

SECONDS = 60  # patience, not a goal: a shared machine's host may take nine tenths of the processor for minutes
LOOK_S = 0.04  # between two looks at what is waited for: half a second, the usual, was a third of every walk

# what tells why something is not there: how the page came and when, what has the hand, what is open, what was asked for last
AS_IT_IS = """
const [came] = performance.getEntriesByType("navigation");
return JSON.stringify({
  page: document.title, came: came.type, seconds: performance.now() / 1000, hand: document.activeElement.outerHTML.slice(0, 200),
  open: [...document.querySelectorAll("details[open]")].map((one) => one.outerHTML.slice(0, 300)),
  asked: performance.getEntriesByType("resource").slice(-5).map((one) => [one.name, one.responseStatus, one.startTime, one.responseEnd]),
});
"""
# the plan was swapped, by a script or with the whole page, it waits for nothing and nothing follows it
ANSWERED = """
const plan = document.getElementById("plan");
return !!plan && window.isAnswered !== false && [null, "false"].includes(plan.getAttribute("aria-busy"))
  && !document.querySelector("[data-later]");
"""
# another document than the one that was marked, and whole
ARRIVED = "return window.left !== mark && document.readyState === 'complete' && !!document.querySelector('main')"
# the page looks by itself: each look from outside takes driver and browser a hundredth of a second
LOOKING = """
const [mark, done] = arguments, end = performance.now() + 5000;
const holds = () => { %s };
const look = () => {
  if (holds()) done(true); else if (performance.now() > end) done(false); else setTimeout(look, 15);
};
look();
"""


class Page:
    def __init__(self, driver: WebDriver, base: str) -> None:
        self.driver, self.base = driver, base
        # between two documents the driver may answer with any error, not only that an element is stale; what goes on being wrong
        # ends as what was waited for in vain
        self.wait = WebDriverWait(driver, SECONDS, LOOK_S, ignored_exceptions=(WebDriverException,))

    def one(self, selector: str) -> WebElement:
        try:
            return self.wait.until(conditions.presence_of_element_located((By.CSS_SELECTOR, selector)))
        except TimeoutException as error:
            raise AssertionError(f"no {selector}: {self.driver.execute_script(AS_IT_IS)}") from error

    def until(self, words: str, mark: str = "") -> None:
        """Waits until a function's body of script, which may ask for `mark`, answers yes in whatever document there is."""
        # a document that goes takes the look with it: asked again in the next
        self.wait.until(lambda driver: driver.execute_async_script(LOOKING % words, mark))

    def forget_console(self) -> None:
        self.driver.get_log("browser")

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def press(self, *keys: str) -> None:
        ActionChains(self.driver).send_keys(*keys).perform()

    def chord(self, held: str, key: str) -> None:
        ActionChains(self.driver).key_down(held).send_keys(key).key_up(held).perform()

    def focused(self) -> WebElement:
        return self.driver.switch_to.active_element

    def tab_to(self, selector: str, most: int = 150) -> None:
        """Press Tab until the element has the focus: what cannot be reached so is not there for keyboards."""
        for _ in range(most):
            if self.driver.execute_script("return document.activeElement.matches(arguments[0])", selector):
                return
            self.press(Keys.TAB)
        raise AssertionError(f"Tab never reached {selector}")

    @contextmanager
    def new_page(self) -> Iterator[None]:
        # a page that Back brings again still has the mark of when it was left: each leaving has its own
        mark = uuid4().hex
        self.driver.execute_script("window.left = arguments[0]", mark)
        yield
        self.until(ARRIVED, mark)

    def keys_are_open(self) -> bool:
        return bool(self.driver.execute_script("return document.getElementById('keys').open"))

    def heading(self) -> str:
        return self.one("h1").text.replace("\N{NO-BREAK SPACE}", " ")


class SignInPage(Page):
    def open(self) -> Self:
        self.driver.get(f"{self.base}/sign-in/")
        return self

    def type_in(self) -> JobsPage:
        """Sign in by hand."""
        self.open().type_here()
        return JobsPage(self.driver, self.base)

    def type_here(self) -> None:
        """Sign in by hand on the sign-in page that is open."""
        self.one("[name=username]").send_keys(EMAIL)
        self.one("[name=password]").send_keys(PASSWORD)
        with self.new_page():
            self.one(".act.main").click()

    def _signed_in(self, email: str = EMAIL) -> None:
        client = Client()
        client.force_login(User.objects.get(email=email))
        name = settings.SESSION_COOKIE_NAME
        self.driver.add_cookie({"name": name, "value": client.cookies[name].value})

    def signed_in(self) -> Page:
        """The demo person's session and no page yet: for whoever goes somewhere else than the list."""
        self._signed_in()
        return Page(self.driver, self.base)

    def sign_in(self) -> JobsPage:
        """The list of jobs with the demo person's session: what signing in by hand is like has its own tests."""
        self._signed_in()
        self.driver.get(f"{self.base}/")
        return JobsPage(self.driver, self.base)

    def as_somebody(self, person: User) -> JobsPage:
        """The list of jobs with somebody else's session."""
        self._signed_in(person.email)
        self.driver.get(f"{self.base}/")
        return JobsPage(self.driver, self.base)

    def open_plan(self, title: str, bench: str = "charge") -> BenchPage:
        """A bench of a job's first plan by its address; the way there over the list has its own tests."""
        return self.open_at(title, f"A/{bench}/")

    def open_at(self, title: str, where: str) -> BenchPage:
        """A page of a job by its address under the job's."""
        self._signed_in()
        self.driver.get(self.base + self.address_of(title, where))
        return BenchPage(self.driver, self.base)

    @staticmethod
    def address_of(title: str, where: str) -> str:
        """Where a page of a job stands."""
        return f"/jobs/{Job.objects.get(title=title).pk}/{where}"


class JobsPage(Page):
    def fill(self, **facts: str) -> Self:
        for name, value in facts.items():
            field = self.one(f"#facts [name={name}]")
            if field.tag_name == "select":
                Select(field).select_by_value(value)
            else:
                field.clear()
                field.send_keys(value)
        return self

    def proposal(self) -> str:
        # read in one breath: the section is replaced while facts are typed
        return str(self.driver.execute_script("return document.getElementById('proposal').innerText"))

    def wait_for_proposal(self, words: str) -> str:
        self.wait.until(lambda _: words in self.proposal())
        return self.proposal()

    def start(self) -> BenchPage:
        with self.new_page():
            self.one("#start-plan").click()
        return BenchPage(self.driver, self.base)

    def job_names(self) -> list[str]:
        return [
            str(name)
            for name in self.driver.execute_script(
                "return [...document.querySelectorAll('.job-name')].map(e => e.innerText)"
            )
        ]

    def drop_file(self, name: str, text: str) -> None:
        """Drop a file on the page, as from the desk."""
        self.driver.execute_script(
            """
            const data = new DataTransfer();
            data.items.add(new File([arguments[1]], arguments[0], { type: "application/json" }));
            for (const kind of ["dragover", "drop"])
              document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }));
            """,
            name,
            text,
        )

    def open_job(self, title: str) -> BenchPage:
        with self.new_page():
            self.driver.find_element(By.LINK_TEXT, title).click()
        return BenchPage(self.driver, self.base)


class BenchPage(Page):
    @contextmanager
    def answered(self) -> Iterator[None]:
        """The server's answer has been swapped in, and the year that comes after it."""
        # a new document has no such mark at all
        self.driver.execute_script(
            "window.isAnswered = false; window.addEventListener('ajax:after',"
            " () => requestAnimationFrame(() => { window.isAnswered = true; }), { once: true })"
        )
        yield
        self.until(ANSWERED)

    def open_bench(self, name: str) -> Self:
        with self.new_page():
            self.driver.find_element(By.CSS_SELECTOR, ".tape").find_element(By.PARTIAL_LINK_TEXT, name).click()
        return self

    def figure(self, key: str) -> float:
        text = self.one(f"#figure-{key} .value").get_attribute("textContent") or ""
        return plain_value(text.strip())

    def open_why(self, key: str) -> str:
        self.driver.execute_script(
            "arguments[0].closest('details.more-rows')?.setAttribute('open', '')", self.one(f"#figure-{key}")
        )
        self.one(f"#figure-{key} summary").click()
        return self.one(f"#figure-{key} .why").text

    def why_is_open(self, key: str) -> bool:
        return self.one(f"#figure-{key}").get_attribute("open") is not None

    def findings(self) -> list[str]:
        return [element.text.replace("\N{NO-BREAK SPACE}", " ") for element in self.all(".finding h3")]

    def try_cure(self, words: str) -> Self:
        button = next(b for b in self.all(".finding button") if words in b.text)
        with self.answered():
            button.click()
        return self

    def undo(self) -> Self:
        with self.answered():
            self.one("#undo").click()
        return self

    def redo(self) -> Self:
        with self.answered():
            self.one("#redo").click()
        return self

    def _key(self, path: str) -> str:
        return "#in-" + path.replace(".", "-")

    def shown(self, path: str) -> str:
        return (self.one(self._key(path)).get_attribute("textContent") or "").replace("\N{NO-BREAK SPACE}", " ").strip()

    def is_assumed(self, path: str) -> bool:
        return "assumed" in (self.one(self._key(path)).get_attribute("class") or "")

    def set(self, path: str, text: str) -> Self:
        self.driver.execute_script(
            "arguments[0].closest('details.more')?.setAttribute('open', '')", self.one(self._key(path))
        )
        self.one(self._key(path)).click()
        field = self.one(f"{self._key(path)}-value")
        with self.answered():
            if field.tag_name == "select":
                Select(field).select_by_visible_text(text)
                self.one(f"details[data-blank='{path}'] .act").click()
            else:
                field.clear()
                field.send_keys(text, Keys.ENTER)
        return self

    def type_into(self, path: str, text: str) -> None:
        """Type into an input and send it, whatever becomes of it."""
        self.one(self._key(path)).click()
        field = self.one(f"{self._key(path)}-value")
        field.clear()
        field.send_keys(text, Keys.ENTER)

    def _text_of(self, selector: str) -> str:
        return str(
            self.driver.execute_script("return document.querySelector(arguments[0])?.textContent ?? ''", selector)
        )

    def asked_to_sign_in(self) -> bool:
        """Whether the password is asked for over the page."""
        return bool(self.all("#sign-in-again[open]"))

    def sign_in_here(self, password: str) -> None:
        self.one("#again-password").send_keys(password)
        self.one("#sign-in-again .act.main").click()

    def revision(self) -> int:
        return int(self.one("#plan").get_attribute("data-revision") or "0")

    def open_outbox(self) -> None:
        self.one("#outbox summary").click()

    def kept(self) -> list[str]:
        """What is kept, a line each."""
        return [row.text for row in self.all("#outbox li")]

    def outbox(self) -> str:
        """What is said of changes that are not saved yet."""
        return self._text_of("#outbox:not([hidden])")

    def said_aloud(self) -> str:
        return self._text_of("#told")

    def is_busy(self) -> bool:
        return bool(self.driver.execute_script("return !!document.querySelector('[aria-busy=true]')"))

    def middle_of(self, key: str) -> tuple[float, float]:
        """Where a handle stands on the screen, scrolled into sight."""
        x, y = self.driver.execute_script(
            "const e = document.getElementById(arguments[0]); e.scrollIntoView({block: 'center'});"
            "const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]",
            key,
        )
        return float(x), float(y)

    def hand_value(self) -> str:
        return self._text_of("#hand-bar:not([hidden]) #hand-value")

    def press_hand(self, act: str) -> None:
        self.one(f"[data-hand={act}]").click()

    def sizes_of(self, selector: str) -> list[float]:
        """The smaller side of each element [px]."""
        return [
            float(side)
            for side in self.driver.execute_script(
                "return [...document.querySelectorAll(arguments[0])].map(e => { const r = e.getBoundingClientRect(); return Math.min(r.width, r.height) })",
                selector,
            )
        ]

    def refusal(self) -> str:
        return self.one("details.blank[open] .refusal").text

    def typed(self) -> str:
        return self.one("details.blank[open] [name=value]").get_attribute("value") or ""

    def assumed_count(self) -> int:
        return int(self.one(".assumed-link b").text)

    def handle(self, key: str) -> WebElement:
        return self.one(f"#{key}")

    def value_of(self, key: str) -> float:
        return float(self.handle(key).get_attribute("aria-valuenow") or "nan")

    def drag(self, key: str, dx: float, dy: float) -> Self:
        handle = self.handle(key)
        self.driver.execute_script(
            "(arguments[0].ownerSVGElement || arguments[0]).scrollIntoView({block: 'center'})", handle
        )
        with self.answered():
            ActionChains(self.driver).move_to_element(handle).click_and_hold().move_by_offset(
                dx / 2, dy / 2
            ).move_by_offset(dx / 2, dy / 2).release().perform()
        return self

    def height_of(self, key: str) -> float:
        """How far up something in the sky stands, as its handle has it."""
        return float(self.handle(key).get_attribute("data-second") or "nan")

    def add(self, kind: str) -> Self:
        with self.answered():
            self.one(f"#add-{kind}").click()
        return self

    def take_away(self, key: str) -> Self:
        with self.answered():
            self.one(f"#remove-{key}").click()
        return self

    def race_head(self) -> str:
        """The heads of the race's two columns; read in one breath, the race is replaced while its rival moves."""
        words = "const head = document.querySelector('.race-table thead'); return head ? head.innerText : ''"
        return " ".join(str(self.driver.execute_script(words)).split())

    def legs(self) -> list[str]:
        """The legs of the table, line and id, in order."""
        return [(row.get_attribute("id") or "").removeprefix("leg-row-") for row in self.all("tr[id^=leg-row-]")]

    def turn_leg(self, leg: str) -> Self:
        """Open or close what a leg has of its own; its row is swapped."""
        old = self.one(f"#leg-more-{leg}")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", old)
        self.one(f"#leg-own-{leg}").click()
        self.wait.until(conditions.staleness_of(old))
        self.wait.until(lambda _: self.all(f"#leg-more-{leg}"))
        return self

    def leg_is_open(self, leg: str) -> bool:
        return bool(self.all(f"#leg-more-{leg} .leg-sentence"))

    def change_leg(self, what: str, leg: str) -> Self:
        with self.answered():
            self.driver.execute_script("arguments[0].click()", self.one(f"#leg-{what}-{leg}"))
        return self

    def key_on(self, key: str, pressed: str) -> Self:
        """Press a key on a handle that changes the plan at once."""
        self.driver.execute_script("arguments[0].focus()", self.handle(key))
        with self.answered():
            self.press(pressed)
        return self

    def in_the_sky(self) -> list[str]:
        return [element.get_attribute("id") or "" for element in self.all("svg.horizon .handle")]

    def scrubbed(self) -> tuple[str, str]:
        """The hour the tank is drawn at, and the words at its top."""
        return self.one("#scrub-time").text, self.one("#scrub-words-0").text

    def scrub_by(self, dx: float) -> Self:
        knob = self.one("#scrub-knob")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", knob)
        ActionChains(self.driver).move_to_element(knob).click_and_hold().move_by_offset(dx, 0).release().perform()
        return self

    def start_run(self, key: str) -> Self:
        self.one(f"#start-{key}").click()
        self.wait.until(lambda d: not d.find_elements(By.ID, f"start-{key}"))
        return self

    def run_words(self, key: str) -> str:
        return self.one(f"#run-{key}").text.replace("\N{NO-BREAK SPACE}", " ")

    def finish_run(self, key: str) -> str:
        WebDriverWait(self.driver, 90).until(
            lambda d: not d.find_elements(By.CSS_SELECTOR, f"#run-{key}[data-run], #start-{key}")
        )
        return self.run_words(key)

    def measure_by_phone(self) -> PhonePage:
        """The page that measures with the phone's sensors."""
        with self.new_page():
            self.one("#to-measure").click()
        return PhonePage(self.driver, self.base)

    def open_climate(self) -> Self:
        with self.new_page():
            self.one("#to-climate").click()
        return self

    def drop_weather(self, name: str, text: str) -> Self:
        """Drop a weather file on the page, as from the desk."""
        with self.new_page():
            self.driver.execute_script(
                """
                const data = new DataTransfer();
                data.items.add(new File([arguments[1]], arguments[0]));
                for (const kind of ["dragover", "drop"])
                  document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }));
                """,
                name,
                text,
            )
        return self

    def nudge(self, key: str, arrow: str, times: int = 1) -> Self:
        self.driver.execute_script("arguments[0].focus()", self.handle(key))
        with self.answered():
            self.press(*[arrow] * times)
        return self

    def type_on(self, key: str, text: str) -> Self:
        self.driver.execute_script("arguments[0].focus()", self.handle(key))
        self.press(Keys.ENTER)
        field = self.one("details.blank[open] [name=value]")
        with self.answered():
            field.clear()
            field.send_keys(text, Keys.ENTER)
        return self

    def drawn(self, selector: str, attribute: str = "width") -> float:
        return float(self.one(selector).get_attribute(attribute) or "nan")

    def px_per_m(self, drawing: str, way: str = "data-px-per-m") -> float:
        return float(self.one(f"svg.{drawing}").get_attribute(way) or "nan")

    def card_address(self) -> str:
        return self.one("#print-card").get_attribute("href") or ""


class PhonePage(Page):
    """A phone as an instrument; its sensors are set through the browser's own protocol."""

    def lie(self, *, alpha: float = 0.0, beta: float = 0.0, gamma: float = 0.0) -> None:
        """Lays the phone so; the page shows it, and what it showed before is no longer in the mean of the moment."""
        turned = {"alpha": alpha, "beta": beta, "gamma": gamma}
        self.driver.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["sensors"]})
        self.driver.execute_cdp_cmd("DeviceOrientation.setDeviceOrientationOverride", turned)
        self.wait.until(lambda _: self.live() == f"{beta:.1f}°")
        self.driver.execute_async_script("setTimeout(arguments[0], 450)")

    def live(self) -> str:
        return self.one("#live-angle").text

    def take(self, which: str) -> None:
        self.one(f"#take-{which}").click()

    def readings(self, which: str) -> list[float]:
        return [float(word) for word in (self.one(f"#measure-{which}").get_attribute("value") or "").split()]

    def reckon(self) -> None:
        with self.new_page():
            self.one("#reckon-it").click()

    def words(self) -> str:
        return self.one("main").text if self.all("main") else self.one("body").text

    def use(self) -> BenchPage:
        with self.new_page():
            self.one("#use-it").click()
        return BenchPage(self.driver, self.base)
