"""Many people at once: each on a plan of their own, reading benches and saving a change every ten seconds, over loopback.

What is asked of it: p95 of all answers within 400 ms, no error, memory flat.
"""

from __future__ import annotations

import http.client
import random
import statistics
import tempfile
import time
from dataclasses import dataclass, field
from pathlib import Path
from threading import Thread

from rowan.command.prove import BASE, KINDS, PATH, STEP, Person, Server, revision_of

EVERY_S, READS = 10.0, 2  # a change, and pages read between two of them
BENCHES = ("survey", "sun", "collector", "store", "roof", "run", "charge", "control", "parts", "commission")
GOAL_MS = 400.0


@dataclass
class Told:
    """What one person waited for: seconds of each answer, and what went wrong."""

    edits: list[float] = field(default_factory=list)
    reads: list[float] = field(default_factory=list)
    errors: list[str] = field(default_factory=list)


def _timed(told: Told, kept: list[float], ask: object, *arguments: str, **data: str) -> str:
    began = time.perf_counter()
    try:
        status, text = ask(*arguments, **data)  # type: ignore[operator]
    except (OSError, http.client.HTTPException) as error:
        told.errors.append(type(error).__name__)
        return ""
    kept.append(time.perf_counter() - began)
    if status not in (200, 302):
        told.errors.append(str(status))
    return str(text)


def _work(me: Person, plan: str, until: float, told: Told, dice: random.Random) -> None:
    """Reads, changes, reads, with a human's pauses, until the time is over."""
    number, n = revision_of(me, plan), 0
    time.sleep(dice.uniform(0, EVERY_S))
    while time.monotonic() < until:
        for _ in range(READS):
            _timed(told, told.reads, me.get, f"{plan}{dice.choice(BENCHES)}/")
            time.sleep(dice.uniform(0.5, 1.5) * EVERY_S / (READS + 1))
        value = round(BASE + STEP * (n % KINDS), 2)
        form = {"path": PATH, "value": f"{value:g}", "revision": str(number + n), "bench": "survey"}
        _timed(told, told.edits, me.edit, f"{plan}set/", **form)
        n += 1
        time.sleep(dice.uniform(0.5, 1.5) * EVERY_S / (READS + 1))


def _people(server: Server, count: int) -> list[tuple[Person, str]]:
    """So many sessions, each with a plan of its own: copies of one job."""
    first = Person(server)
    first.sign_in()
    job = server.first_job()
    plans = [f"/jobs/{job}/A/"]
    while len(plans) < count:
        first.post(f"/jobs/{job}/duplicate/")
        plans = server.plans()
    found = []
    for plan in plans[:count]:
        person = Person(server)
        person.cookies = dict(first.cookies)  # one sign-in: its slowness is meant, and no part of this
        found.append((person, plan))
    return found


def _memory_mb(server: Server) -> float:
    """What the workers hold together [MB]; shared pages count in each."""
    total = 0.0
    for process in server.workers():
        status = Path(f"/proc/{process}/status").read_text(encoding="utf-8")
        total += next(int(line.split()[1]) for line in status.splitlines() if line.startswith("VmRSS")) / 1e3
    return total


def _percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(int(share * len(values)), len(values) - 1)] * 1e3 if values else float("nan")


def run_load(people: int, seconds: float, seed: int) -> int:
    """Prints what everybody waited for. Nothing is asserted: the goal stands beside it."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        server.prepare()
        server.start()
        try:
            found = _people(server, people)
            before, until = _memory_mb(server), time.monotonic() + seconds
            told = [Told() for _ in found]
            threads = [
                Thread(target=_work, args=(person, plan, until, one, random.Random(seed + k)))
                for k, ((person, plan), one) in enumerate(zip(found, told, strict=True))
            ]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            after = _memory_mb(server)
        finally:
            server.stop()
    edits = [value for one in told for value in one.edits]
    reads = [value for one in told for value in one.reads]
    errors = [error for one in told for error in one.errors]
    print(
        f"{people} people for {seconds:.0f} s: {len(edits)} changes, {len(reads)} pages, {len(errors)} errors {sorted(set(errors))}"
    )
    for name, values in (("a change with its new state", edits), ("a page", reads)):
        middle = statistics.median(values) * 1e3 if values else float("nan")
        print(f"{name}: median {middle:.0f} ms, p95 {_percentile(values, 0.95):.0f} ms (goal {GOAL_MS:.0f} ms)")
    print(f"memory of the workers {before:.0f} MB before, {after:.0f} MB after")
    return 0
