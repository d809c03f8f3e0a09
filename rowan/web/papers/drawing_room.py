"""Papers drawn in the process beside the server, one after the other: a page never waits for one, nor shares its processor with it."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import TimeoutError as NotYetError

from rowan.web.papers.sheets import draw
from rowan.web.studies.room import Room

KEPT = 16  # papers, half a megabyte each at most
PATIENCE_S = 0.1  # what is as good as there is waited for; no request waits longer


class DrawingRoom:
    """Papers by their content."""

    def __init__(self) -> None:
        self._room = Room(_drawn, kept=KEPT, name="papers")

    def paper(self, *, key: str, html: str) -> bytes | None:
        """A paper, None while it is being drawn. Raises what drawing it raised."""
        making = self._room.begin(key=key, html=html)
        try:
            return bytes(making.future.result(PATIENCE_S))
        except NotYetError:
            return None
        except Exception:
            self._room.drop(key)
            raise


def _drawn(html: str, told: Callable[[float], None]) -> bytes:
    return draw(html)
