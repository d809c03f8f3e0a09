"""A server of the demo world of its own, for pictures and for measuring."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING
from wsgiref.simple_server import WSGIRequestHandler, make_server

from rowan.command.own_server import Server

if TYPE_CHECKING:
    from selenium import webdriver

SECONDS = 15


class _Quiet(WSGIRequestHandler):
    def log_message(self, format: str, *args: object) -> None:
        """Nothing: what is printed is the command's own."""


@dataclass(frozen=True)
class Demo:
    """Where the demo is served, the number of the Kvist job, a folder for scratch, other jobs by name."""

    base: str
    job: int
    scratch: Path
    jobs: dict[str, int] = field(default_factory=dict)


@contextmanager
def demo_server() -> Iterator[Demo]:
    """The demo world in a database of its own, served on a free port; nobody's own data is touched."""
    with tempfile.TemporaryDirectory() as scratch:
        os.environ["ROWAN_VAR"] = scratch
        import django

        django.setup()
        from django.core.management import call_command

        from rowan.demo import pipwater, sandreef, tolliver
        from rowan.demo.kvist import TITLE
        from rowan.web.plans.models import Job

        call_command("prepare_demo")
        # not before the static files are gathered
        from rowan.web.config.wsgi import application

        server = make_server("127.0.0.1", 0, application, handler_class=_Quiet)
        Thread(target=server.serve_forever, daemon=True).start()
        try:
            titles = {"sandreef": sandreef.TITLE, "tolliver": tolliver.TITLE, "pipwater": pipwater.TITLE}
            jobs = {key: Job.objects.get(title=title).pk for key, title in titles.items()}
            base = f"http://127.0.0.1:{server.server_port}"
            yield Demo(base, Job.objects.get(title=TITLE).pk, Path(scratch), jobs)
        finally:
            server.shutdown()


@contextmanager
def served_demo() -> Iterator[tuple[Demo, Server]]:
    """The demo world as `bin/demo` serves it, in processes of its own: for measuring, where nothing may share the server's."""
    from rowan.demo.kvist import TITLE

    with tempfile.TemporaryDirectory() as scratch:
        server = Server(Path(scratch), workers=1, threads=8)
        server.prepare()
        server.start()
        try:
            yield Demo(f"http://127.0.0.1:{server.port}", server.job_called(TITLE), Path(scratch)), server
        finally:
            server.stop()


@contextmanager
def signed_in(demo: Demo) -> Iterator[webdriver.Chrome]:
    """A browser with the demo person signed in."""
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    from rowan.command.browser import new_driver
    from rowan.demo.person import EMAIL, PASSWORD

    driver = new_driver(Path(tempfile.mkdtemp(prefix="profile-", dir=demo.scratch)))
    try:
        driver.get(f"{demo.base}/sign-in/")
        driver.find_element(By.NAME, "username").send_keys(EMAIL)
        driver.find_element(By.NAME, "password").send_keys(PASSWORD)
        driver.find_element(By.CSS_SELECTOR, ".act.main").click()
        WebDriverWait(driver, SECONDS).until(lambda d: d.find_elements(By.ID, "facts"))
        yield driver
    finally:
        driver.quit()
