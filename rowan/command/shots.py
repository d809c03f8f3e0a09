"""Takes the pictures of the main views from the demo data, with a server and a browser of its own."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from threading import Thread
from wsgiref.simple_server import WSGIRequestHandler, make_server

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
    ("compare", DESK, "/jobs/{job}/compare/", ""),
    ("survey-phone", PHONE, "/jobs/{job}/A/survey/", ""),
)


class _Quiet(WSGIRequestHandler):
    def log_message(self, format: str, *args: object) -> None:
        """Nothing: the pictures are the output."""


def take(folder: Path) -> None:
    """Write the pictures as PNG files into a folder; the demo's own data is not touched."""
    with tempfile.TemporaryDirectory() as scratch:
        os.environ["ROWAN_VAR"] = scratch
        import django

        django.setup()
        from django.core.management import call_command
        from django.core.wsgi import get_wsgi_application

        from rowan.demo.kvist import TITLE
        from rowan.demo.load import EMAIL, PASSWORD
        from rowan.web.jobs.models import Job

        call_command("prepare_demo")
        server = make_server("127.0.0.1", 0, get_wsgi_application(), handler_class=_Quiet)
        Thread(target=server.serve_forever, daemon=True).start()
        base = f"http://127.0.0.1:{server.server_port}"
        job = Job.objects.get(title=TITLE).pk
        folder.mkdir(parents=True, exist_ok=True)
        _photograph(base, job, (EMAIL, PASSWORD), folder, Path(scratch) / "profile")
        server.shutdown()


def _photograph(base: str, job: int, person: tuple[str, str], folder: Path, profile: Path) -> None:
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    from rowan.command.browser import new_driver, set_size

    driver = new_driver(profile)
    try:
        driver.get(f"{base}/sign-in/")
        driver.find_element(By.NAME, "username").send_keys(person[0])
        driver.find_element(By.NAME, "password").send_keys(person[1])
        driver.find_element(By.CSS_SELECTOR, ".act.main").click()
        WebDriverWait(driver, 15).until(lambda d: d.find_elements(By.ID, "facts"))
        for name, (width, height), address, why in VIEWS:
            set_size(driver, width, height, phone=width < 640)
            driver.get(base + address.format(job=job))
            driver.execute_script("sessionStorage.clear()")
            if why:
                driver.execute_script("document.getElementById(arguments[0]).open = true", f"figure-{why}")
            driver.execute_async_script(
                "const done = arguments[0]; document.fonts.ready.then(() => setTimeout(done, 250))"
            )
            driver.save_screenshot(str(folder / f"{name}.png"))
            print(folder / f"{name}.png")
    finally:
        driver.quit()
