"""The product as it is served, in processes of their own with the demo world in a folder of its own, and somebody who uses it over
loopback: for proofs, for crowds and for measuring. Nothing of anybody's own data is touched.
"""

from __future__ import annotations

import contextlib
import http.client
import os
import random
import re
import signal
import socket
import sqlite3
import subprocess
import sys
import time
from pathlib import Path
from urllib.parse import urlencode

from rowan.command.serve import HEAPS, server
from rowan.demo.person import EMAIL, PASSWORD

READY_S, ANSWER_S, AGAIN_S = 120.0, 60.0, 0.05
WORKERS, THREADS = 2, 4
OK = (200, 302)


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


class Server:
    """The product as it is served, in processes of its own that can be killed."""

    def __init__(self, var: Path, workers: int = WORKERS, threads: int = THREADS) -> None:
        self.var, self.port, self._size = var, _free_port(), (workers, threads)
        self._process: subprocess.Popen[bytes] | None = None

    def _environment(self) -> dict[str, str]:
        own = {"ROWAN_VAR": str(self.var), "DJANGO_SETTINGS_MODULE": "rowan.web.config.settings.demo"}
        # nobody reads the demo house's year of minutes here, which is two thirds of what it takes to prepare
        return {**os.environ, **HEAPS, **own, "ROWAN_STUDIES_BESIDE": "1", "ROWAN_DEMO_YEAR": "0"}

    def prepare(self) -> None:
        """Database and demo world."""
        command = [sys.executable, "-m", "rowan.command", "manage", "prepare_demo"]
        subprocess.run(command, env=self._environment(), check=True, stdout=subprocess.DEVNULL)

    def start(self) -> None:
        """The master with its workers; comes back when a page is answered."""
        command = server(f"127.0.0.1:{self.port}", *self._size, "--log-level", "critical")
        self._process = subprocess.Popen(command, env=self._environment(), start_new_session=True)
        ends = time.monotonic() + READY_S
        while time.monotonic() < ends:
            with contextlib.suppress(OSError, http.client.HTTPException):
                if Person(self).get("/sign-in/")[0] == 200:
                    return
            time.sleep(0.1)
        raise TimeoutError("the server did not answer")

    def workers(self) -> list[int]:
        """The processes that answer: forked from the master, where the process beside has a command of its own."""
        master = self._master()
        own = _command(master)
        return [process for process in _under(master) if _command(process) == own]

    def _master(self) -> int:
        assert self._process is not None  # noqa: S101  asked of one that runs
        return self._process.pid

    def memory_mb(self) -> list[tuple[int, int]]:
        """What each process under the master holds, its workers first: all it touches, and its share of what several touch [MB]."""
        found, workers = [], self.workers()
        under = _under(self._master())
        below = [child for process in under for child in _under(process)]
        for process in (*workers, *(process for process in under + below if process not in workers)):
            with contextlib.suppress(OSError):
                lines = Path(f"/proc/{process}/smaps_rollup").read_text(encoding="utf-8").splitlines()
                sizes = {line.split(":")[0]: int(line.split()[1]) // 1000 for line in lines[1:]}
                found.append((sizes["Rss"], sizes["Pss"]))
        return found

    def plans(self) -> list[str]:
        """The addresses of every job's first plan, the oldest first."""
        with contextlib.closing(sqlite3.connect(self.var / "rowan.sqlite3")) as base:
            jobs = base.execute("SELECT job_id FROM jobs_plan WHERE letter = 'A' ORDER BY job_id").fetchall()
        return [f"/jobs/{job}/A/" for (job,) in jobs]

    def job_called(self, title: str) -> int:
        """The number of the demo's job of that name."""
        with contextlib.closing(sqlite3.connect(self.var / "rowan.sqlite3")) as base:
            return int(base.execute("SELECT id FROM jobs_job WHERE title = ?", (title,)).fetchone()[0])

    def first_job(self) -> int:
        """The number of the demo's first job."""
        return int(self.plans()[0].split("/")[2])

    def kill_worker(self, dice: random.Random) -> None:
        """One worker, without a word; the master starts another."""
        running = self.workers()
        if running:
            with contextlib.suppress(ProcessLookupError):
                os.kill(dice.choice(running), signal.SIGKILL)

    def stop(self) -> None:
        """All of it, without a word."""
        if self._process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait()
            self._process = None


def _under(process: int) -> list[int]:
    found = subprocess.run(["pgrep", "-P", str(process)], capture_output=True, text=True, check=False)
    return [int(line) for line in found.stdout.split()]


def _command(process: int) -> bytes:
    try:
        return Path(f"/proc/{process}/cmdline").read_bytes()
    except OSError:
        return b""


class Person:
    """Somebody who is signed in and saves, over loopback."""

    def __init__(self, server: Server) -> None:
        self.server, self.cookies = server, dict[str, str]()

    def _ask(self, method: str, address: str, body: str | None = None, *, script: bool = False) -> tuple[int, str]:
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=ANSWER_S)
        headers = {"Cookie": "; ".join(f"{key}={value}" for key, value in self.cookies.items())}
        if body is not None:
            headers |= {"Content-Type": "application/x-www-form-urlencoded"}
        if script:
            headers |= {"X-Alpine-Request": "true", "X-Alpine-Target": "plan"}
        try:
            connection.request(method, address, body, headers)
            answer = connection.getresponse()
            text = answer.read().decode(errors="replace")
            for cookie in answer.headers.get_all("Set-Cookie", []):
                key, _, value = cookie.split(";")[0].partition("=")
                self.cookies[key] = value
            return answer.status, text
        finally:
            connection.close()

    def get(self, address: str) -> tuple[int, str]:
        """A page: status and text. Raises OSError where nobody answers."""
        return self._ask("GET", address)

    def piece(self, address: str) -> tuple[int, str]:
        """A piece of a page as its script asks for it: status and text. Raises OSError where nobody answers."""
        return self._ask("GET", address, script=True)

    def post(self, address: str, **data: str) -> tuple[int, str]:
        """A form, with the token that its cookie stands for. Raises OSError where nobody answers."""
        return self._ask("POST", address, urlencode({**data, "csrfmiddlewaretoken": self.cookies.get("csrftoken", "")}))

    def edit(self, address: str, **data: str) -> tuple[int, str]:
        """A change as the page's own script sends it: answered with the page anew."""
        return self._ask(
            "POST", address, urlencode({**data, "csrfmiddlewaretoken": self.cookies.get("csrftoken", "")}), script=True
        )

    def sign_in(self) -> None:
        """As the demo's own person."""
        self.get("/sign-in/")
        status, _ = self.post("/sign-in/", username=EMAIL, password=PASSWORD)
        if status not in OK:
            raise RuntimeError(f"signing in was answered with {status}")


def revision_of(me: Person, plan: str) -> int:
    """The number of a plan's newest state, asked until somebody answers."""
    while True:
        with contextlib.suppress(OSError, http.client.HTTPException):
            status, text = me.get(f"{plan}survey/")
            found = re.search(r'data-revision="(\d+)"', text)
            if status == 200 and found:
                return int(found[1])
        time.sleep(AGAIN_S)
