"""The one door for what is slow: kept by the content of everything it depends on, so that it is never out of date.

Threads share it; what is unused for longest goes.
"""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from dataclasses import fields, is_dataclass
from threading import Lock
from typing import Any

import numpy as np


class Kept:
    """What was reckoned last, by its content; safe for threads."""

    def __init__(self, most: int) -> None:
        self._most, self._found, self._lock = most, OrderedDict[Any, Any](), Lock()

    def get(self, key: Any) -> Any:
        """What is kept under a key, None if nothing is."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                return self._found[key]
            return None

    def forget(self) -> None:
        """Everything goes, as if nothing had been asked for."""
        with self._lock:
            self._found.clear()

    def keep(self, key: Any, value: Any) -> Any:
        """Keeps a value; the one unused for longest goes."""
        with self._lock:
            self._found[key] = value
            while len(self._found) > self._most:
                self._found.popitem(last=False)
        return value


def _content(part: Any, into: Any) -> None:
    """Feeds a digest with everything a value holds, arrays by their bytes."""
    if isinstance(part, np.ndarray):
        into.update(str(part.shape).encode() + np.ascontiguousarray(part).tobytes())
    elif is_dataclass(part):
        into.update(type(part).__name__.encode())
        for entry in fields(part):
            _content(getattr(part, entry.name), into)
    elif isinstance(part, tuple):
        into.update(b"(")
        for entry in part:
            _content(entry, into)
    else:
        into.update(repr(part).encode() + b";")


def content_key(*parts: Any) -> str:
    """The content of everything that the year depends on."""
    digest = hashlib.sha256()
    _content(parts, digest)
    return digest.hexdigest()
