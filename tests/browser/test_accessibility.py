"""axe on every page: nothing serious or critical, also in US units and on the phone."""

from __future__ import annotations

from typing import Any

import pytest

from rowan.command.browser import set_size
from rowan.web.commissioning.models import Run
from rowan.web.steps.registry import BENCHES
from tests.browser.pages.plan import Page, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def grave(page: Page, axe_source: str) -> list[str]:
    page.driver.execute_script(axe_source)
    return run_axe(page)


def run_axe(page: Page) -> list[str]:
    """What axe, which the page has already, finds serious or critical in it once its colours have come to rest."""
    result: dict[str, Any] = page.driver.execute_async_script(
        # a button just pressed takes some 0.3 s from one colour to the other, and what lies between is read by nobody
        "const done = arguments[0], moving = document.getAnimations().map(({finished}) => finished);"
        # the style sheets are the page's own and there already: no rule that is asked needs them read again
        "Promise.allSettled(moving).then(() =>"
        " axe.run(document, {resultTypes: ['violations'], preload: false})).then(done)"
    )
    return [
        f"{v['id']}: {v['help']}: {[n['target'] for n in v['nodes'][:4]]}"
        for v in result["violations"]
        if v["impact"] in ("serious", "critical")
    ]


def test_sign_in(sign_in: SignInPage, axe_source: str) -> None:
    assert grave(sign_in.open(), axe_source) == []


def test_jobs(sign_in: SignInPage, axe_source: str) -> None:
    assert grave(sign_in.sign_in(), axe_source) == []


@pytest.mark.parametrize("bench", [bench.name for bench in BENCHES.values()])
def test_benches(sign_in: SignInPage, axe_source: str, bench: str) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", bench.lower())
    assert grave(page, axe_source) == []


@pytest.mark.parametrize(
    "where",
    [
        "assumed/",
        "../compare/",
        "history/",
        "papers/",
        "../../../methods/10/",
        "../../../job-file/",
        "fluid/",
        "as-found/",
        "reading/?line=flow&text=2,5",
        "pump/",
        "functions/",
        "sensors/",
        "wiring/",
        "../B/live/",
        "../B/as-left/",
    ],
)
def test_lists(sign_in: SignInPage, axe_source: str, where: str) -> None:
    page = sign_in.open_at("Kvist house, 4 Ropewalk", f"A/{where}")
    assert grave(page, axe_source) == []


@pytest.mark.parametrize("where", ["runs/", "rehearsal/", "run", "work"])
def test_work_on_site(sign_in: SignInPage, axe_source: str, where: str) -> None:
    number = Run.objects.get(plan__job__title="Kvist house, 4 Ropewalk").pk
    rest = {"run": f"runs/{number}/", "work": f"runs/{number}/work/#step-test"}.get(where, where)
    if where in ("rehearsal/", "work"):
        set_size(sign_in.driver, 390, 844)  # type: ignore[arg-type]
    page = sign_in.open_at("Kvist house, 4 Ropewalk", f"B/{rest}")
    page.one("main h1")
    assert grave(page, axe_source) == []


def test_the_sheet_of_keys(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.sign_in()
    page.press("?")
    assert page.keys_are_open()
    assert grave(page, axe_source) == []


def test_an_open_slip_with_its_refusal(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk")
    page.set("charge.relief_gauge_pa", "heavy")
    assert grave(page, axe_source) == []


MOST_ABOVE_PX = 140  # header, tape and strip, each a thumb high
PAGES = ("survey", "sun", "run", "charge", "control", "functions", "sensors", "wiring", "data-sheet", "live", "as-left")
NARROW = (320, 360, 390)
# how wide the page stands, where the work begins, and the sides of the open step on the tape
STANDS = """
const step = document.querySelector('.tape [aria-current]')?.getBoundingClientRect();
return [document.documentElement.scrollWidth, document.querySelector('main').getBoundingClientRect().top, step?.left ?? 0, step?.right ?? 1];
"""


@pytest.mark.parametrize("where", ["", *PAGES])
def test_nothing_is_wider_than_a_small_screen_and_the_work_begins_near_its_top(sign_in: SignInPage, where: str) -> None:
    """Loaded at one of the widths and then seen at the others, as when a phone is turned."""
    widths = (*NARROW, 800) if where in ("", "control", "wiring") else NARROW
    first = PAGES.index(where) % len(widths) if where else 0
    widths = widths[first:] + widths[:first]
    set_size(sign_in.driver, widths[0], 844, phone=True)  # type: ignore[arg-type]
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", where) if where else sign_in.sign_in()
    for width in widths:
        set_size(page.driver, width, 844, phone=True)
        wide, top, left, right = page.driver.execute_script(STANDS)
        assert wide <= width
        assert not where or width > 640 or top <= MOST_ABOVE_PX, width
        # the open step is in sight on the tape
        assert 0 <= left < right <= width + 1, width


WRONG = """
document.querySelector("p.reason").style.color = "#ddd";
document.querySelector("main form").insertAdjacentHTML("beforeend", "<button></button><svg><text fill='#fff'>never told</text></svg>");
"""


def test_what_is_wrong_is_found(sign_in: SignInPage, axe_source: str) -> None:
    page = sign_in.open()
    page.driver.execute_script(WRONG)
    assert sorted(found.split(":")[0] for found in grave(page, axe_source)) == ["button-name", "color-contrast"]
