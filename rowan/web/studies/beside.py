"""A process beside the server for what takes long: many years, and papers. No request waits in it, and no page for its processor.

It is started with the server, asked by all of its workers over a local socket, niced, and ends with the server that owns it. If it
was killed, or not started yet, who asks starts another; a run that was under way begins again.
"""

from __future__ import annotations

import fcntl
import math
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections import OrderedDict
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import replace
from functools import cache
from multiprocessing import AuthenticationError
from multiprocessing.connection import Client, Connection
from pathlib import Path
from threading import Lock, local
from typing import Any

from django.conf import settings
from django.utils.crypto import salted_hmac

from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky
from rowan.web.studies.work import WORKSHOP, Outcome, Variant, Work

KEPT = 4  # works a server's worker remembers the outcomes of, some megabytes each
NICE = 10  # pages go first, also while it is still loading what it needs: two seconds of a processor
AGAIN_S = 2.0  # until one that ended is started again: where it cannot start it is not tried at every page
LONGEST_PATH = 100  # bytes in the address of a local socket: 108 with its end


class NobodyThereError(Exception):
    """The process cannot be asked: it is being started."""


def secret() -> bytes:
    """What both sides must know: nobody else on the machine is listened to."""
    return salted_hmac("rowan.studies", "beside").digest()


def socket_of(owner: int) -> Path:
    """Where the process of a server listens; its number keeps an older server's process apart."""
    found = Path(settings.VAR) / f"beside-{owner}.sock"
    return found if len(os.fsencode(found)) <= LONGEST_PATH else Path(tempfile.gettempdir()) / f"rowan-{owner}.sock"


class _Lines(local):
    """The line of each thread to the process, kept open: to make one takes longer than most answers."""

    line: Connection | None = None

    def open(self, path: Path) -> Connection:
        """The thread's line."""
        if self.line is None:
            self.line = Client(str(path), family="AF_UNIX", authkey=secret())
        return self.line

    def drop(self) -> bool:
        """Closes the line; whether there was one."""
        was, self.line = self.line, None
        if was is not None:
            was.close()
        return was is not None


_lines = _Lines()


def ask(what: str, **data: Any) -> Any:
    """An answer of the process. Raises NobodyThereError while there is none; it is started then."""
    owner = os.getppid()
    path = socket_of(owner)
    while True:
        try:
            line = _lines.open(path)
            line.send((what, data))
            answer = line.recv()
            break
        except (OSError, EOFError, AuthenticationError) as error:
            if _lines.drop():
                continue  # its process has ended since it was asked last: another may be there
            start(owner)
            raise NobodyThereError from error
    if isinstance(answer, BaseException):
        raise answer
    return answer


_started: list[subprocess.Popen[bytes]] = []
_tried = [-math.inf]  # when, by the clock that only goes on


def start(owner: int) -> None:
    """Starts the process of the server with that process number unless somebody else is about to. Nobody waits for it."""
    path = socket_of(owner)
    for process in [*_started]:
        if process.poll() is not None:
            _started.remove(process)
    if _started or time.monotonic() - _tried[0] < AGAIN_S:
        return
    _tried[0] = time.monotonic()
    with path.with_suffix(".lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return  # another worker starts it just now, or it is being started
        # the process inherits the lock and holds it as long as it lives: there is one
        own = [sys.executable, "-m", "rowan.command", "beside", "--owner", str(owner)]
        command = ["nice", "-n", str(NICE), *own] if shutil.which("nice") else own
        _started.append(subprocess.Popen(command, pass_fds=(lock.fileno(),)))  # noqa: S603  our own command


@record
class Asked:
    """A run that is asked for: its content's key, where and by whose firm, and how its variants are made when somebody needs them."""

    key: str
    place: str
    firm: int
    variants: Callable[[], Sequence[Variant]]
    measured: Sky | None


class Beside:
    """The workshop as a worker of the server sees it: works of the process, their outcomes fetched as they come."""

    def __init__(self) -> None:
        self._lock, self._kept = Lock(), OrderedDict[str, Work]()

    def find(self, asked: Asked, *, at_once: bool) -> Work | None:
        """Work begun or finished under a key, None if nobody asked for it or the process is not there. `at_once` is what this worker
        knows, without asking."""
        with self._lock:
            work = self._kept.get(asked.key)
        if at_once or (work is not None and work.finished):
            return work
        have = {i for i, outcome in enumerate(work.outcomes) if outcome is not None} if work is not None else set[int]()
        try:
            found = ask("find", key=asked.key, have=have)
        except NobodyThereError:
            found = None
        if found is None:
            with self._lock:
                self._kept.pop(asked.key, None)
            return None
        return self._filled(asked.key, work or _empty(asked.variants()), found)

    def begin(self, asked: Asked) -> Work:
        """The work of a key, begun unless it is there; without any outcome where the process is still being started."""
        made = tuple(asked.variants())
        try:
            found = ask(
                "begin", key=asked.key, place=asked.place, firm=asked.firm, variants=made, measured=asked.measured
            )
        except NobodyThereError:
            return _empty(made)
        return self._filled(asked.key, _empty(made), found)

    def leave(self, places: tuple[str, ...]) -> None:
        """Ends what is under way in those places. Nobody waits for it, and where there is no process there is nothing to end."""
        if socket_of(os.getppid()).exists():
            _errands().submit(_told_to_leave, places)

    def _filled(self, key: str, work: Work, found: dict[int, Outcome]) -> Work:
        for i, outcome in found.items():
            work.outcomes[i] = replace(outcome, variant=work.variants[i])
        with self._lock:
            self._kept[key] = work
            self._kept.move_to_end(key)
            while len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        return work


def _told_to_leave(places: tuple[str, ...]) -> None:
    with suppress(NobodyThereError):
        ask("leave", places=places)


@cache
def _errands() -> ThreadPoolExecutor:
    """One thread for what is told to the process without waiting: its line to it stays open."""
    return ThreadPoolExecutor(1, thread_name_prefix="errands")


class Inside:
    """The workshop in this process: for one person alone, and for tests."""

    def find(self, asked: Asked, *, at_once: bool) -> Work | None:
        """Work begun or finished under a key, None if nobody asked for it."""
        return WORKSHOP.find(asked.key)

    def begin(self, asked: Asked) -> Work:
        """The work of a key, begun unless it is there."""
        return WORKSHOP.begin(
            key=asked.key,
            place=asked.place,
            firm=asked.firm,
            variants=asked.variants(),
            measured=asked.measured,
        )

    def leave(self, places: tuple[str, ...]) -> None:
        """Ends what is under way in those places."""
        WORKSHOP.leave(places)


def _empty(variants: Sequence[Variant]) -> Work:
    return Work(tuple(variants), [None] * len(variants))


_beside, _inside = Beside(), Inside()


def workshop() -> Beside | Inside:
    """Where long runs are done, by the settings."""
    return _beside if settings.STUDIES_BESIDE else _inside
