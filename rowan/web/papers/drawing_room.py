"""Papers drawn in the process beside the server, one after the other: a page never waits for one, nor shares its processor with it."""

from __future__ import annotations

from collections import OrderedDict
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotYetError
from threading import Lock

from rowan.web.papers.sheets import draw

KEPT = 16  # papers, half a megabyte each at most
PATIENCE_S = 0.1  # what is as good as there is waited for; no request waits longer


class DrawingRoom:
    """Papers by their content."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="papers")
        self._kept: OrderedDict[str, Future[bytes]] = OrderedDict()

    def paper(self, *, key: str, html: str) -> bytes | None:
        """A paper, None while it is being drawn. Raises what drawing it raised."""
        with self._lock:
            found = self._kept.get(key)
            if found is None or found.cancelled():
                found = self._kept[key] = self._pool.submit(draw, html)
            self._kept.move_to_end(key)
            while len(self._kept) > KEPT:
                _, old = self._kept.popitem(last=False)
                old.cancel()
        try:
            return found.result(PATIENCE_S)
        except NotYetError:
            return None
        except Exception:
            with self._lock:
                self._kept.pop(key, None)  # what failed is tried anew when it is asked for again
            raise
