"""What the server does by itself: between loading and its first page, and after each answer."""

from __future__ import annotations

import gc
import os
from contextlib import suppress

from django.conf import settings

from rowan.memory import LOOKS

# objects made since the last look after which there is one: some eight milliseconds, where one at 50,000 took thirty to a hundred
LOOK_AT = 5_000
_, MIDDLE_AT, OLD_AT = LOOKS


def when_ready(arbiter: object) -> None:
    """Called in the server's master: the process beside loads for two seconds of a processor, while nobody has a plan open yet."""
    if settings.STUDIES_BESIDE:
        from rowan.web.studies.beside import start

        # where it cannot be started pages are served all the same, and say so when they need it
        with suppress(OSError):
            start(os.getpid())


def post_request(worker: object, request: object, environ: object, response: object) -> None:
    """Called when an answer has been sent: objects that hold each other are let go while nobody waits, and not in the middle of the
    page that happens to make one too many."""
    young, middle, old = gc.get_count()
    if young >= LOOK_AT:
        gc.collect(2 if old >= OLD_AT else 1 if middle >= MIDDLE_AT else 0)
