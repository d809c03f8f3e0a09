"""Many people at once: each on a plan of their own, reading benches and saving a change every ten seconds, over loopback.

Two more ask for long studies one after the other, and now and then for a job sheet. What is asked of it: p95 of all answers within
400 ms, no error, memory flat; with many seconds it is a soak, and says ten times on the way what it holds.
"""

from __future__ import annotations

import http.client
import random
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from threading import Thread

from rowan.command.own_server import Person, Server, revision_of
from rowan.command.prove import BASE, KINDS, PATH, STEP

EVERY_S, READS = 10.0, 2  # a change, and pages read between two of them
STUDIES, POLL_S = ("sizes", "band"), 1.0  # what the two ask for, and how often their pages look how far it is
SOUNDINGS = 10  # of the memory
BENCHES = ("survey", "sun", "collector", "store", "roof", "run", "charge", "control", "parts", "commission")
GOAL_MS = 400.0


@dataclass
class Told:
    """What one person waited for: seconds of each answer, and what went wrong."""

    edits: list[float] = field(default_factory=list)
    reads: list[float] = field(default_factory=list)
    errors: list[str] = field(default_factory=list)
    studies: int = 0
    papers: int = 0


def _timed(told: Told, kept: list[float], ask: object, *arguments: str, **data: str) -> str:
    began = time.perf_counter()
    try:
        status, text = ask(*arguments, **data)  # type: ignore[operator]
    except (OSError, http.client.HTTPException) as error:
        told.errors.append(type(error).__name__)
        return ""
    kept.append(time.perf_counter() - began)
    if status not in (200, 202, 302):
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


def _study(me: Person, plan: str, until: float, told: Told, key: str) -> None:
    """A long study after the other, each of a plan changed meanwhile, followed as its page follows it; then a job sheet."""
    number = revision_of(me, plan)
    while time.monotonic() < until:
        form = {
            "path": PATH,
            "value": f"{BASE + STEP * (number % KINDS):.2f}",
            "revision": str(number),
            "bench": "survey",
        }
        _timed(told, told.edits, me.edit, f"{plan}set/", **form)
        number += 1
        _followed(told, until, lambda: 'data-run="' not in _timed(told, told.reads, me.piece, f"{plan}run/{key}/"))
        told.studies += 1
        _followed(told, until, lambda: "%PDF" in _timed(told, told.reads, me.get, f"{plan}job-sheet.pdf"))
        told.papers += 1


def _followed(told: Told, until: float, there: Callable[[], bool]) -> None:
    while not there() and time.monotonic() < until:
        time.sleep(POLL_S)


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


def _percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(int(share * len(values)), len(values) - 1)] * 1e3 if values else float("nan")


def run_load(people: int, seconds: float, seed: int) -> int:
    """Prints what everybody waited for. Nothing is asserted: the goal stands beside it."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        server.prepare()
        server.start()
        try:
            told = _day(server, people, seconds, seed)
        finally:
            server.stop()
    edits, reads = ([value for one in told for value in getattr(one, kind)] for kind in ("edits", "reads"))
    errors = [error for one in told for error in one.errors]
    studies, papers = sum(one.studies for one in told), sum(one.papers for one in told)
    print(
        f"{people} people for {seconds:.0f} s: {len(edits)} changes, {len(reads)} pages, {studies} long studies and {papers} job sheets "
        f"beside, {len(errors)} errors {sorted(set(errors))}"
    )
    for name, values in (("a change with its new state", edits), ("a page", reads)):
        middle = statistics.median(values) * 1e3 if values else float("nan")
        print(f"{name}: median {middle:.0f} ms, p95 {_percentile(values, 0.95):.0f} ms (goal {GOAL_MS:.0f} ms)")
    return 0


def _day(server: Server, people: int, seconds: float, seed: int) -> list[Told]:
    """Everybody at work until the time is over; what memory is held is printed on the way."""
    found = _people(server, people + len(STUDIES))
    until = time.monotonic() + seconds
    told = [Told() for _ in found]
    threads = [
        Thread(target=_work, args=(person, plan, until, one, random.Random(seed + k)))
        for k, ((person, plan), one) in enumerate(zip(found[:people], told, strict=False))
    ]
    threads += [
        Thread(target=_study, args=(*found[people + k], until, told[people + k], key)) for k, key in enumerate(STUDIES)
    ]
    for thread in threads:
        thread.start()
    for sounding in range(SOUNDINGS):
        held = ", ".join(f"{whole} ({share})" for whole, share in server.memory_mb())
        print(
            f"memory of each process after {sounding * seconds / SOUNDINGS:.0f} s, MB (its share of it): {held}",
            flush=True,
        )
        time.sleep(seconds / SOUNDINGS)
    for thread in threads:
        thread.join()
    return told
