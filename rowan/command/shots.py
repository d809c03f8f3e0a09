"""Takes the pictures of the main views from the demo data, with a server and a browser of its own."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from rowan.command.server import Demo, demo_server, signed_in

if TYPE_CHECKING:
    from selenium import webdriver

View = tuple[str, tuple[int, int], str, str]
DESK, PHONE = (1280, 800), (390, 844)
# file, size, address after the job's own ({job}), figure whose why is opened
VIEWS = (
    ("jobs", DESK, "/", ""),
    ("survey", DESK, "/jobs/{job}/A/survey/", ""),
    ("collector", DESK, "/jobs/{job}/A/collector/", ""),
    ("store", DESK, "/jobs/{job}/A/store/", ""),
    ("run", DESK, "/jobs/{job}/A/run/", ""),
    ("charge", DESK, "/jobs/{job}/A/charge/", ""),
    ("charge-why", DESK, "/jobs/{job}/A/charge/", "least_vessel"),
    ("control", DESK, "/jobs/{job}/A/control/", ""),
    ("parts", DESK, "/jobs/{job}/A/parts/", ""),
    ("commission", DESK, "/jobs/{job}/A/commission/", ""),
    ("compare", DESK, "/jobs/{job}/compare/", ""),
    ("history", DESK, "/jobs/{job}/B/history/", ""),
    ("papers", DESK, "/jobs/{job}/A/papers/", ""),
    ("methods", DESK, "/methods/10/", ""),
    ("survey-phone", PHONE, "/jobs/{job}/A/survey/", ""),
    ("commission-phone", PHONE, "/jobs/{job}/A/commission/", ""),
)
# in US units, last: the choice is kept with the person
US_VIEWS = (("charge-us", DESK, "/jobs/{job}/A/charge/", ""),)
SETTLED = "const done = arguments[0]; document.fonts.ready.then(() => setTimeout(done, 250))"


def take(folder: Path) -> None:
    """Write the pictures as PNG files into a folder; the demo's own data is not touched."""
    from rowan.command.browser import set_size

    folder.mkdir(parents=True, exist_ok=True)
    with demo_server() as demo, signed_in(demo) as driver:
        for view in VIEWS:
            _photograph(driver, demo, folder, view)
        set_size(driver, *DESK)
        driver.find_element("id", "units-us").click()
        for view in US_VIEWS:
            _photograph(driver, demo, folder, view)


def _photograph(driver: webdriver.Chrome, demo: Demo, folder: Path, view: View) -> None:
    from rowan.command.browser import set_size

    name, (width, height), address, why = view
    set_size(driver, width, height, phone=width < 640)
    driver.get(demo.base + address.format(job=demo.job))
    driver.execute_script("sessionStorage.clear()")
    if why:
        driver.execute_script("document.getElementById(arguments[0]).open = true", f"figure-{why}")
    driver.execute_async_script(SETTLED)
    driver.save_screenshot(str(folder / f"{name}.png"))
    print(folder / f"{name}.png")
