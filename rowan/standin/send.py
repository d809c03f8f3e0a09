"""Sending readings: JSON lines over HTTP with a token, and a logger's CSV file."""

from __future__ import annotations

import csv
import json
from collections import deque
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, TextIO
from urllib.error import HTTPError, URLError
from urllib.parse import urlsplit
from urllib.request import Request, urlopen

LINES_AT_ONCE = 500
MOST_KEPT = 100_000
TIMEOUT_S = 20.0
COLUMNS = (
    "at",
    "field_c",
    "low_c",
    "high_c",
    "hot_c",
    "cold_c",
    "pump_share",
    "flow_m3_s",
    "gauge_pa",
    "air_c",
    "sun_w_m2",
    "level_m",
)

Post = Callable[[str, bytes, dict[str, str]], bytes]


class RefusedError(Exception):
    """The server does not take the readings; sending them again would not help."""


def post(url: str, body: bytes, headers: dict[str, str]) -> bytes:
    """One POST. Raises RefusedError for a refusal, OSError where nobody answers."""
    if urlsplit(url).scheme not in ("http", "https"):
        raise RefusedError(f"{url} is no address to send to")
    request = Request(url, data=body, headers=headers, method="POST")  # noqa: S310  its scheme is checked above
    try:
        with urlopen(request, timeout=TIMEOUT_S) as answer:  # noqa: S310
            return bytes(answer.read())
    except HTTPError as error:
        text = error.read().decode("utf-8", "replace")[:300]
        if error.code in (429, 500, 502, 503, 504):
            raise OSError(f"{error.code}: {text}") from error
        raise RefusedError(f"{error.code}: {text}") from error
    except URLError as error:
        raise OSError(str(error.reason)) from error


@dataclass
class Sender:
    """Keeps readings until they are taken: what could not be sent goes with the next."""

    url: str
    token: str
    send: Post = post
    waiting: deque[dict[str, Any]] = field(default_factory=lambda: deque(maxlen=MOST_KEPT))

    def add(self, readings: Iterable[dict[str, Any]]) -> None:
        """Readings to be sent."""
        self.waiting.extend(readings)

    def flush(self) -> int:
        """Sends what waits; gives how many readings went. Raises RefusedError; what meets no answer goes on waiting."""
        sent = 0
        while self.waiting:
            batch = [self.waiting[i] for i in range(min(LINES_AT_ONCE, len(self.waiting)))]
            body = "".join(json.dumps(reading) + "\n" for reading in batch).encode()
            headers = {"Authorization": f"Bearer {self.token}", "Content-Type": "application/x-ndjson"}
            try:
                self.send(self.url, body, headers)
            except OSError:
                return sent
            for _ in batch:
                self.waiting.popleft()
            sent += len(batch)
        return sent


def write_csv(readings: Iterable[dict[str, Any]], into: TextIO) -> int:
    """A logger's file: a head with units in its names, a line for each reading; an empty cell is a broken wire. Gives the lines."""
    writer = csv.writer(into, lineterminator="\n")
    writer.writerow(COLUMNS)
    count = 0
    for reading in readings:
        writer.writerow(["" if reading.get(name) is None else reading[name] for name in COLUMNS])
        count += 1
    return count
