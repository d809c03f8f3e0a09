"""A room in which things that take seconds are made by content, one after the other, beside the pages that ask for them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from rowan.core.terms.record import record


@dataclass
class Making:
    """Something under way: how far it is, 0 to 1, and what it will be."""

    future: Future[Any]
    share: list[float] = field(default_factory=lambda: [0.0])


@record
class Progress:
    """What is to be seen of it from outside: how far it is, and the thing itself once it is made."""

    share: float
    made: Any = None
    done: bool = False


class Room:
    """Makes things by their content; `make` is told what it is made of, and a `told` that hears how far it is."""

    def __init__(self, make: Callable[..., Any], *, kept: int, name: str) -> None:
        self._make, self._kept_most, self._name = make, kept, name
        self._lock = Lock()
        self._pool: ThreadPoolExecutor | None = None
        self._kept: OrderedDict[str, Making] = OrderedDict()

    def begin(self, *, key: str, **of: Any) -> Making:
        """The thing of a key, begun unless it is there or under way; what failed is tried anew."""
        with self._lock:
            found = self._kept.get(key)
            if found is None or found.future.cancelled():
                if self._pool is None:
                    self._pool = ThreadPoolExecutor(1, thread_name_prefix=self._name)
                share = [0.0]
                found = Making(self._pool.submit(self._make, told=_into(share), **of), share)
                self._kept[key] = found
            self._kept.move_to_end(key)
            while len(self._kept) > self._kept_most:
                _, old = self._kept.popitem(last=False)
                old.future.cancel()
            return found

    def drop(self, key: str) -> None:
        """Forgets what failed, so that it is tried anew when it is asked for again."""
        with self._lock:
            self._kept.pop(key, None)

    def look(self, *, key: str) -> Progress | None:
        """How far the thing of a key is, None where nobody began it. Raises what making it raised."""
        with self._lock:
            found = self._kept.get(key)
        return None if found is None else self.seen(key, found)

    def seen(self, key: str, making: Making) -> Progress:
        """The same of something in hand."""
        if not making.future.done():
            return Progress(making.share[0])
        try:
            return Progress(1.0, making.future.result(), done=True)
        except Exception:
            self.drop(key)
            raise

    def start(self, *, key: str, **of: Any) -> Progress:
        """Begins it, and how far it is."""
        return self.seen(key, self.begin(key=key, **of))


def _into(share: list[float]) -> Callable[[float], None]:
    def told(found: float) -> None:
        """Notes how far it is."""
        share[0] = found

    return told
