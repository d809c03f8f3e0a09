"""`bin/rowan access`: every kind of page at every width, under axe with all its rules and under a ruler; the table of docs/access.md.

A developer's command: axe is not shipped, it lies beside the tests. Nothing is asserted; a sample of it runs in `bin/test`.
"""

from __future__ import annotations

import contextlib
import re
import time
from collections import Counter, deque
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from django.test import Client
    from selenium.webdriver import Chrome

    from rowan.command.server import Demo

AXE = Path(__file__).parents[2] / "tests" / "browser" / "vendor" / "axe.min.js"
LINK = re.compile(r'href="(/[^"#]*)')
# what is drawn anew for each answer or is no page
NO_PAGE = (".pdf", ".zip", ".csv", ".ics", ".json", ".svg", ".kml", "whole=1", "?day=", "/sign-out/", "/static/")
TARGET_PX, TEXT_PX = 44.0, 12.0
MOST_NAMED = 6
LOOKS_EACH = 120  # of one browser: after some three hundred one has stopped answering
FADES_S = 0.5  # what changes its colour slowly has it by then
PHONE_PX = 390  # the looks at which targets and texts are measured are as wide


@dataclass(frozen=True)
class Look:
    """A way of looking: how it is called, width and height [px], on a phone or not, in which forced colours, on which paper, in which
    language.

    320 px are 1280 px enlarged to 400 %.
    """

    name: str
    width: int
    height: int = 844
    phone: bool = False
    forced: str = ""
    paper: str = "light"
    language: str = "en"


LOOKS = (
    Look("1920", 1920, 1080),
    Look("1280", 1280, 800),
    Look("820", 820, 1180),
    Look("390", 390, 844, phone=True),
    Look("320", 320, 640, phone=True),
    Look("lying", 844, 390, phone=True),
    Look("dark", 1280, 800, paper="dark"),
    Look("forced, light", 1280, 800, forced="light"),
    Look("forced, dark", 1280, 800, forced="dark"),
    *(
        Look(f"{name} {width}", width, height, phone=width < 500, language=key)
        for key, name in (("de", "German"), ("es", "Spanish"))
        for width, height in ((1280, 800), (820, 1180), (390, 844), (320, 640))
    ),
    *(
        Look(f"{name} {how}", 1280, 800, forced=forced, paper=paper, language=key)
        for key, name in (("de", "German"), ("es", "Spanish"))
        for how, forced, paper in (
            ("dark", "", "dark"),
            ("forced, light", "light", "light"),
            ("forced, dark", "dark", "light"),
        )
    ),
)
# everything that a finger goes for, with what it hits beside itself: a label's box, a handle's halo
RULER = """
const [least, text] = arguments;
const cut = [...document.querySelectorAll('svg.drawing text')].filter((t) => {
  if (!t.textContent.trim() || !t.checkVisibility() || /rotate/.test(t.getAttribute('transform') || '')) return false;
  const r = t.getBoundingClientRect(), frame = t.closest('svg.drawing').getBoundingClientRect();
  return r.width > 0 && frame.width > 0 && (r.left < frame.left - 2 || r.right > frame.right + 2);
}).map((t) => t.textContent.trim().slice(0, 50));
const seen = (e) => { const s = getComputedStyle(e), r = e.getBoundingClientRect();
  return s.visibility !== 'hidden' && s.display !== 'none' && r.width > 0 && r.height > 0 && e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }); };
const clipped = (e) => { const r = e.getBoundingClientRect(); return r.width <= 1.5 && r.height <= 1.5; };
const named = (e) => (e.getAttribute('aria-label') || e.textContent || e.getAttribute('name') || e.tagName).trim().replace(/\\s+/g, ' ').slice(0, 40);
const inText = (e) => e.tagName === 'A' && getComputedStyle(e).display === 'inline' && [...e.parentElement.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim().length > 1);
const box = (e) => { const all = [e, ...(e.labels || []), e.closest('label')].filter(Boolean).map((x) => x.getBoundingClientRect()).filter((r) => r.height);
  const [left, top] = [Math.min(...all.map((r) => r.left)), Math.min(...all.map((r) => r.top))];
  return { width: Math.max(...all.map((r) => r.right)) - left, height: Math.max(...all.map((r) => r.bottom)) - top }; };
const tag = (e) => e.tagName.toLowerCase() + (typeof e.className === 'string' && e.className ? '.' + e.className.trim().split(' ')[0] : '');
const small = [];
for (const e of document.querySelectorAll('a[href], button, input:not([type=hidden]), select, textarea, summary, [role=slider], [role=button]')) {
  if (!seen(e) || clipped(e) || inText(e) || e.disabled || e.closest('[inert]')) continue;
  let r = box(e);
  // in a drawing a tap beside a mark takes the nearest within reach
  if (e.closest('svg.drawing')) { const reach = Number(document.documentElement.dataset.reach || 0); r = { width: r.width + 2 * reach, height: r.height + 2 * reach }; }
  if (r.height < least - 0.5 || r.width < least - 0.5) small.push(`${[e, e.parentElement, e.parentElement.parentElement].map(tag).reverse().join(" ")} “${named(e)}” ${Math.round(r.width)}×${Math.round(r.height)}`);
}
const fine = [];
const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
for (let n = walk.nextNode(); n; n = walk.nextNode()) {
  const e = n.parentElement;
  if (!n.textContent.trim() || !seen(e) || clipped(e) || ['SCRIPT', 'STYLE', 'TITLE', 'DESC', 'OPTION', 'NOSCRIPT'].includes(e.tagName.toUpperCase()) || e.closest('.sr-only')) continue;
  let px = parseFloat(getComputedStyle(e).fontSize);
  const ctm = e.ownerSVGElement && e.getScreenCTM?.();
  if (ctm) px *= Math.hypot(ctm.a, ctm.b);
  if (px < text - 0.05) fine.push(`${px.toFixed(1)}:${tag(e)} “${n.textContent.trim().slice(0, 30)}”`);
}
return { wide: document.documentElement.scrollWidth - window.innerWidth, small, fine, cut };
"""
# in forced colours the reader's system chooses them, and axe reckons with those of the style sheet: contrast is not asked there
ASK_AXE = """
const [contrast, done] = arguments;
axe.run(document, { resultTypes: ['violations'], preload: false, rules: { 'color-contrast': { enabled: contrast } } })
  .then(done, (e) => done({ violations: [{ id: 'axe', help: String(e), nodes: [] }] }));
"""


@dataclass
class Found:
    """What a page has at one look."""

    page: str
    look: str
    broken: list[str]
    wide: float
    small: list[str]
    fine: list[str]
    cut: list[str]


def kinds(client: Client) -> list[tuple[str, str]]:
    """One address of every kind of page that links lead to from the list of jobs, each bench of each job; by what they are."""
    from django.urls import Resolver404, resolve

    found: dict[str, str] = {}
    queue, seen = deque(["/"]), {"/"}
    while queue:
        address = queue.popleft()
        try:
            match = resolve(address.split("?")[0])
        except Resolver404:
            continue
        # each bench of each job is a page of its own
        own = (match.kwargs["key"], match.kwargs["job"]) if match.view_name == "steps:bench" else ()
        kind = " ".join((match.view_name, *map(str, own)))
        if kind in found:
            continue
        answer = client.get(address)
        if answer.status_code != 200 or not answer["Content-Type"].startswith("text/html"):
            continue
        found[kind] = address
        for link in LINK.findall(answer.content.decode()):
            target = link.replace("&amp;", "&")
            if target not in seen and not any(part in target for part in NO_PAGE):
                seen.add(target)
                queue.append(target)
    return [*found.items(), ("signed out", "/sign-in/")]


def practice_pages() -> Iterator[tuple[str, str]]:
    """A run under way of each kind of task, begun for the demo person."""
    from rowan.demo.person import EMAIL
    from rowan.web.accounts.models import User
    from rowan.web.plans.models import Plan
    from rowan.web.practice import papers, services
    from rowan.web.practice.models import CABINET, DRAINING, FILLING, HUNT

    person = User.objects.get(email=EMAIL)
    plans = {title: Plan.objects.get(job__title__startswith=title, letter="A") for title in ("Kvist", "Corrim")}
    for task, title in ((FILLING, "Kvist"), (CABINET, "Kvist"), (DRAINING, "Corrim")):
        yield f"practice {task}", f"/practice/{services.begin(person=person, plan=plans[title], task=task).pk}/"
    for task in (HUNT, "vessel", "assembly", "dangers"):
        yield f"practice {task}", f"/practice/{papers.begin(person=person, plan=plans['Kvist'], task=task, seed=3).pk}/"


def measure(driver: Chrome, base: str, page: tuple[str, str], look: Look, axe: str) -> Found:
    """A page at one look."""
    from rowan.command.browser import set_size

    kind, address = page
    set_size(driver, look.width, look.height, phone=look.phone)
    features = [{"name": "forced-colors", "value": "active"}, {"name": "prefers-color-scheme", "value": look.forced}]
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features if look.forced else []})
    try:
        driver.get(base + address)
        if look.paper != "light":
            driver.execute_script("document.documentElement.dataset.paper = arguments[0]", look.paper)
            time.sleep(FADES_S)
        driver.execute_script(axe)
        answer: dict[str, Any] = driver.execute_async_script(ASK_AXE, not look.forced)
        ruler: dict[str, Any] = driver.execute_script(RULER, TARGET_PX, TEXT_PX)
    finally:  # whoever has the browser next sees it as it is
        driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    broken = [f"{one['id']} {[node['target'] for node in one['nodes'][:3]]}" for one in answer["violations"]]
    return Found(kind, look.name, broken, float(ruler["wide"]), ruler["small"], ruler["fine"], ruler["cut"])


def run_access(only: str = "", looks: str = "") -> int:
    """Prints what each kind of page has at each look, and the table. `only` keeps pages with any of these words, parted by
    semicolons, in name or address; `looks` those looks."""
    from rowan.command.server import demo_server

    if not AXE.is_file():
        print("axe is not here: this command runs in a checkout of the repository")
        return 1
    axe = AXE.read_text(encoding="utf-8")
    chosen = [look for look in LOOKS if not looks or look.name in looks.split(";")]
    with demo_server() as demo, contextlib.closing(Browsers(demo)) as browsers:
        words = only.split(";")
        pages = [page for page in pages_of() if any(word in page[0] or word in page[1] for word in words)]
        rows = _rows(browsers, demo, pages, chosen, axe)
    _print_table(rows, chosen, len(pages))
    return 0


def pages_of() -> list[tuple[str, str]]:
    """Name and address of every kind of page, and of a run of each practice."""
    from django.test import Client

    from rowan.demo.person import EMAIL
    from rowan.web.accounts.models import User

    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(User.objects.get(email=EMAIL))
    return [*kinds(client), *practice_pages()]


def _speak(language: str) -> None:
    """The demo person reads that language from the next page on."""
    from rowan.demo.person import EMAIL
    from rowan.web.accounts.models import User

    User.objects.filter(email=EMAIL).update(language=language)


class Browsers:
    """One browser after the other: each is let go after some hundred looks, and one that no longer answers is followed by another."""

    def __init__(self, demo: Demo) -> None:
        self._demo, self._open, self._looks = demo, contextlib.ExitStack(), 0
        self._driver: Chrome | None = None

    def driver(self) -> Chrome:
        """The browser of now, signed in."""
        from rowan.command.server import signed_in

        if self._looks >= LOOKS_EACH:
            self.close()
        if self._driver is None:
            self._driver = self._open.enter_context(signed_in(self._demo))
        self._looks += 1
        return self._driver

    def close(self) -> None:
        """Lets the browser of now go, whether it answers or not."""
        from selenium.common.exceptions import WebDriverException
        from urllib3.exceptions import HTTPError

        self._driver, self._looks = None, 0
        with contextlib.suppress(WebDriverException, HTTPError):
            self._open.close()

    def measure(self, page: tuple[str, str], look: Look, axe: str) -> Found:
        """A page at one look, by a second browser where the first does not answer."""
        from selenium.common.exceptions import WebDriverException
        from urllib3.exceptions import HTTPError

        try:
            return measure(self.driver(), self._demo.base, page, look, axe)
        except (WebDriverException, HTTPError):
            self.close()
            return measure(self.driver(), self._demo.base, page, look, axe)


def _rows(browsers: Browsers, demo: Demo, pages: list[tuple[str, str]], looks: list[Look], axe: str) -> list[Found]:
    rows = []
    for page in pages:
        for look in looks:
            _speak(look.language)
            found = browsers.measure(page, look, axe)
            rows.append(found)
            told = [*found.broken, *([f"{found.wide:.0f} px wider than the screen"] if found.wide > 1 else [])]
            print(f"{page[0]} {page[1]} at {look.name}: {len(told) or 'nothing'}", flush=True)
            for one in told:
                print(f"    {one}", flush=True)
    for name, of in (
        ("targets that are too small on the phone", "small"),
        ("texts that are too small on the phone", "fine"),
    ):
        _print_kinds(name, rows, of)
    _print_kinds("words of drawings outside their frame", rows, "cut")
    return rows


def _print_kinds(name: str, rows: list[Found], of: str) -> None:
    """What is too small, each kind once: how often, and a page that has it."""
    phones = {look.name for look in LOOKS if look.width == PHONE_PX}
    counted: Counter[str] = Counter()
    where: dict[str, str] = {}
    for row in rows:
        if of != "cut" and row.look not in phones:
            continue
        for one in getattr(row, of):
            what = re.sub(r" “.*”", "", one) if of == "small" else one if of == "cut" else one.split(" ", 1)[0]
            counted[what] += 1
            where.setdefault(what, f"{row.page}: {one}")
    if counted:
        print(f"\n{name}:")
    for what, number in counted.most_common():
        print(f"    {number:4} {what}   ({where[what]})")


def _print_table(rows: list[Found], looks: list[Look], pages: int) -> None:
    print(
        f"\n| look | pages | axe, all rules | wider than the screen | targets under {TARGET_PX:.0f} px | texts under {TEXT_PX:.0f} px "
        "| words of drawings outside their frame |"
    )
    print("|---|---|---|---|---|---|---|")
    for look in looks:
        mine = [row for row in rows if row.look == look.name]
        rules = Counter(one.split()[0] for row in mine for one in row.broken)
        named = ", ".join(f"{rule} {n}" for rule, n in rules.most_common(MOST_NAMED))
        phone = look.width == PHONE_PX
        print(
            f"| {look.name} | {pages} | {sum(rules.values())}{f' ({named})' if named else ''} | {sum(row.wide > 1 for row in mine)} "
            f"| {sum(len(row.small) for row in mine) if phone else ''} | {sum(len(row.fine) for row in mine) if phone else ''} "
            f"| {sum(len(row.cut) for row in mine)} |"
        )
