"""Takes the pictures of the main views from the demo data, with a server and a browser of its own."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from rowan.command.server import Demo, demo_server, signed_in

if TYPE_CHECKING:
    from selenium import webdriver

DESK, PHONE = (1280, 800), (390, 844)
RUN_SECONDS = 180


class View(NamedTuple):
    """A picture: its file, size and address; the figure whose why is opened, or the part that is brought into view.

    {job} is the Kvist house, {no} the bungalow, {pool} the pool. Runs of many years on it are finished first.
    """

    name: str
    size: tuple[int, int]
    address: str
    why: str = ""
    part: str = ""


VIEWS = (
    View("jobs", DESK, "/"),
    View("survey", DESK, "/jobs/{job}/A/survey/"),
    View("sun", DESK, "/jobs/{no}/A/sun/"),
    View("collector", DESK, "/jobs/{job}/B/collector/"),
    View("store", DESK, "/jobs/{job}/B/store/"),
    View("roof", DESK, "/jobs/{job}/B/roof/"),
    View("run", DESK, "/jobs/{job}/A/run/"),
    View("charge", DESK, "/jobs/{job}/A/charge/", why="least_vessel"),
    View("control", DESK, "/jobs/{job}/A/control/"),
    View("parts", DESK, "/jobs/{job}/A/parts/"),
    View("commission", DESK, "/jobs/{job}/A/commission/"),
    View("compare", DESK, "/jobs/{job}/compare/"),
    View("site", DESK, "/jobs/{job}/B/runs/{run}/"),
    View("handover", DESK, "/jobs/{job}/B/handover/"),
    View("care", DESK, "/jobs/{job}/B/care/"),
    View("week", DESK, "/week/?visit={visit}"),
    View("practice", DESK, "/practice/{practised}/"),
    View("house", PHONE, "/h/{house}/"),
    View("site-phone", PHONE, "/jobs/{job}/B/rehearsal/#step-fill"),
)
SETTLED = "const done = arguments[0]; document.fonts.ready.then(() => setTimeout(done, 250))"


def take(folder: Path) -> None:
    """Write the pictures as PNG files into a folder; the demo's own data is not touched."""
    folder.mkdir(parents=True, exist_ok=True)
    with demo_server() as demo, signed_in(demo) as driver:
        for view in VIEWS:
            _photograph(driver, demo, folder, view)


def _run_of(demo: Demo) -> int:
    """The day on which the Kvist house was filled."""
    from rowan.web.commissioning.models import Run

    return Run.objects.get(plan__job_id=demo.job, kind="first").pk


def _practised() -> int:
    """The apprentice's filling, which its lead looks at."""
    from rowan.web.practice.models import FILLING, PracticeRun

    return PracticeRun.objects.get(task=FILLING).pk


def _of_the_house(demo: Demo) -> dict[str, object]:
    """The visit to the Kvist house this week, and the link of its own page."""
    from rowan.web.dates.models import Visit
    from rowan.web.house.models import HouseLink
    from rowan.web.house.services import token_of

    link = HouseLink.objects.get(plan__job_id=demo.job, kind="card")
    return {"visit": Visit.objects.get(job_id=demo.job, kind="revisit").pk, "house": token_of(link)}


def _photograph(driver: webdriver.Chrome, demo: Demo, folder: Path, view: View) -> None:
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    from rowan.command.browser import set_size

    width, height = view.size
    set_size(driver, width, height, phone=width < 640)
    jobs = demo.jobs
    places = {
        "job": demo.job,
        "no": jobs["tolliver"],
        "pool": jobs["pipwater"],
        "run": _run_of(demo),
        "practised": _practised(),
        **_of_the_house(demo),
    }
    driver.get(demo.base + view.address.format(**places))
    driver.execute_script("sessionStorage.clear()")
    if view.why:
        driver.execute_script("document.getElementById(arguments[0]).open = true", f"figure-{view.why}")
    if view.part.startswith("run-"):
        driver.execute_script("for (const start of document.querySelectorAll('[data-run-start]')) start.click()")
        WebDriverWait(driver, RUN_SECONDS).until(
            lambda d: not d.find_elements(By.CSS_SELECTOR, "[data-run], [data-run-start]")
        )
    # what is being run when the page opens is waited for
    WebDriverWait(driver, RUN_SECONDS).until(
        lambda d: (
            not d.find_elements(By.CSS_SELECTOR, "[data-run]:not([data-run-start], [data-run-delay]), [data-whole]")
        )
    )
    if view.part:
        driver.execute_script("document.getElementById(arguments[0]).closest('.block').scrollIntoView()", view.part)
    driver.execute_async_script(SETTLED)
    driver.save_screenshot(str(folder / f"{view.name}.png"))
    print(folder / f"{view.name}.png")
