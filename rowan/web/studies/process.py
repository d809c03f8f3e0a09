"""The process beside the server: what it answers, and how long it lives."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from multiprocessing import AuthenticationError
from multiprocessing.connection import Connection, Listener
from pathlib import Path
from typing import Any

from rowan.web.studies.beside import secret, socket_of
from rowan.web.studies.work import Outcome, Work, Workshop

OWNER_LOOK_S = 2.0  # how often it is looked whether the server is still there
Answer = Callable[..., Any]


SHOP = Workshop(lean=True)


def _new(work: Work, have: set[int]) -> dict[int, Outcome]:
    """The outcomes that the asker has not; their designs it makes itself."""
    return {i: outcome for i, outcome in enumerate(list(work.outcomes)) if outcome is not None and i not in have}


def find(*, key: str, have: set[int]) -> dict[int, Outcome] | None:
    """What is there of a work, None if it was never begun or given up."""
    work = SHOP.find(key)
    return None if work is None else _new(work, have)


def begin(**data: Any) -> dict[int, Outcome]:
    """A work begun, or what is there of it."""
    return _new(SHOP.begin(**data), set())


def leave(*, places: tuple[str, ...]) -> None:
    """Ends what is under way in those places."""
    SHOP.leave(places)


class Desk:
    """Answers one question after the other on each line, as many lines as there are askers."""

    def __init__(self, answers: dict[str, Answer]) -> None:
        self.answers = answers

    def serve(self, listener: Listener) -> None:
        """Until the process ends."""
        while True:
            # somebody without the secret, or who hung up: the next one is listened to
            with suppress(AuthenticationError, EOFError, ConnectionError):
                line = listener.accept()
                threading.Thread(target=self._answer, args=(line,), daemon=True).start()

    def _answer(self, line: Connection) -> None:
        with line, suppress(EOFError, OSError):
            while True:
                what, data = line.recv()
                try:
                    answer = self.answers[what](**data)
                except Exception as error:  # told to who asked, who raises it
                    answer = error
                line.send(answer)


def _end_with(owner: int, path: Path) -> None:
    """Ends this process when the server that owns it has gone."""
    while True:
        try:
            os.kill(owner, 0)
        except OSError:
            path.unlink(missing_ok=True)
            path.with_suffix(".lock").unlink(missing_ok=True)
            os._exit(0)
        time.sleep(OWNER_LOOK_S)


def run(owner: int, answers: dict[str, Answer]) -> None:
    """Serves the server with the process number `owner` until that is gone."""
    path = socket_of(owner)
    path.unlink(missing_ok=True)
    threading.Thread(target=_end_with, args=(owner, path), daemon=True).start()
    with Listener(str(path), family="AF_UNIX", backlog=64, authkey=secret()) as listener:
        path.chmod(0o600)
        Desk({"find": find, "begin": begin, "leave": leave, **answers}).serve(listener)
