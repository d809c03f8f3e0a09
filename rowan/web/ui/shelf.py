"""What was written once and will be asked for again, kept in the process by what it is made of."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

T = TypeVar("T")


class Shelf(Generic[T]):
    """Things by everything they are made of, bounded by bytes: those that were asked for last are kept."""

    def __init__(self, most: int, size: Callable[[T], int]) -> None:
        self._kept, self._lock = OrderedDict[Hashable, T](), Lock()
        self._most, self._size, self._bytes = most, size, 0

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """The thing of a key, made unless it is kept; two who ask at once may both make it."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        found = make()
        with self._lock:
            if key not in self._kept:
                self._kept[key] = found
                self._bytes += self._size(found)
            while self._bytes > self._most:
                self._bytes -= self._size(self._kept.popitem(last=False)[1])
        return found
