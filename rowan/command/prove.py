"""Attacks on saving: workers and master killed, the disk full, the database held. What was acknowledged is there, once and whole.

A server of its own serves the demo world from a folder of its own; people save over loopback, each change with an id as a browser
gives it, and send it again until it is acknowledged. Nothing of anybody's own data is touched.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import random
import sqlite3
import subprocess
import tempfile
import time
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from threading import Event, Thread
from typing import TYPE_CHECKING

from rowan.command.own_server import AGAIN_S, ANSWER_S, OK, READY_S, Person, Server, revision_of
from rowan.web.plans.packing import unpacked

if TYPE_CHECKING:
    from rowan.web.commissioning.models import Run

EACH_S = 0.5
BETWEEN_KILLS_S = (1.0, 4.0)  # least and most seconds from one kill to the next
MASTER_OF = 6  # one kill in so many is the master's
LOCK_S, FULL_S = 30.0, 30.0
TMPFS = "48m"  # of the small disk that is filled
PATH, BASE, STEP, KINDS = "survey.room_c", 10.0, 0.01, 900
CONFLICT = 409
CUT_PATH, CUT_OF = "survey.gauge_to_top_m", 0.2  # what is typed in a browser, and how often its network comes or goes


@dataclass
class Ledger:
    """What one person was told: ids that were acknowledged with their values, answers by status, and how often nobody answered."""

    plan: str
    acknowledged: dict[str, float] = field(default_factory=dict)
    answers: dict[int, int] = field(default_factory=dict)
    unanswered: int = 0
    looked: int = 0
    blind: int = 0


def _save_all(me: Person, ledger: Ledger, saves: range, *, look: bool) -> None:
    """Saves one change after the other, each again until it is acknowledged; `look` looks at a page after each refusal."""
    number = revision_of(me, ledger.plan)
    for n in saves:
        sent, value = str(uuid.uuid4()), round(BASE + STEP * (n % KINDS), 2)
        while True:
            form = {"path": PATH, "value": f"{value:g}", "revision": str(number), "bench": "survey", "sent": sent}
            try:
                status, _ = me.post(f"{ledger.plan}set/", **form)
            except (OSError, http.client.HTTPException):
                ledger.unanswered += 1
                time.sleep(AGAIN_S)
                continue
            ledger.answers[status] = ledger.answers.get(status, 0) + 1
            if status in OK:
                ledger.acknowledged[sent] = value
                number += 1
                break
            if status == CONFLICT:
                number = revision_of(me, ledger.plan)
            elif look:
                _look(me, ledger)
            time.sleep(AGAIN_S)


def _look(me: Person, ledger: Ledger) -> None:
    """Whether pages are still shown while nothing can be saved."""
    ledger.looked += 1
    try:
        ledger.blind += me.get(f"{ledger.plan}survey/")[0] != 200
    except (OSError, http.client.HTTPException):
        ledger.blind += 1


@dataclass(frozen=True)
class Verdict:
    """What is in the database against what was acknowledged."""

    acknowledged: int
    lost: int
    doubled: int
    half: int

    @property
    def holds(self) -> bool:
        """Whether nothing is missing, twice or broken."""
        return self.acknowledged > 0 and not (self.lost or self.doubled or self.half)


def judged(var: Path, ledgers: list[Ledger]) -> Verdict:
    """Every acknowledged change looked for in the database, with its value, once; and every state read whole."""
    from rowan.core.design.job_file import load

    told = {sent: value for ledger in ledgers for sent, value in ledger.acknowledged.items()}
    found: dict[str, list[float]] = {}
    half = 0
    for sent, kept, under in _kept(var, "r.sent IS NOT NULL"):
        try:
            text = unpacked(kept, unpacked(under) if under else None)
            found.setdefault(sent, []).append(load(text).survey.room_c.value)
        except Exception:
            half += 1
    lost = sum(sent not in found or found[sent][0] != value for sent, value in told.items())
    return Verdict(len(told), lost, sum(len(values) > 1 for values in found.values()), half)


def _kept(var: Path, which: str, *values: object) -> list[tuple[str, bytes, bytes | None]]:
    """Revisions as they stand in the file, in order: the id they were sent with, their design packed, and that of their base."""
    asked = (
        "SELECT r.sent, r.packed, b.packed FROM jobs_revision r JOIN jobs_plan p ON p.id = r.plan_id "  # noqa: S608
        f"LEFT JOIN jobs_revision b ON b.id = r.base_id WHERE {which} ORDER BY r.plan_id, r.number"
    )
    with contextlib.closing(sqlite3.connect(var / "rowan.sqlite3")) as base:
        return base.execute(asked, values).fetchall()


@contextlib.contextmanager
def _served(var: Path) -> Iterator[Server]:
    server = Server(var)
    server.prepare()
    server.start()
    try:
        yield server
    finally:
        server.stop()


def prove_kill(saves: int, seed: int) -> bool:
    """Saves while workers and the master are killed at random. Prints what was told and what is there."""
    dice, over = random.Random(seed), Event()
    killed = {"workers": 0, "masters": 0}
    with tempfile.TemporaryDirectory() as folder, _served(Path(folder)) as server:
        ledgers = [Ledger(plan) for plan in server.plans()[:2]]

        people = _people(server, ledgers)

        def kill() -> None:
            """Now and then a worker, more seldom all of it."""
            seen = -1
            while not over.wait(dice.uniform(*BETWEEN_KILLS_S)):
                # nobody is attacked anew before anything was saved again: else a slow machine would never come to an end
                saved = sum(len(ledger.acknowledged) for ledger in ledgers)
                if saved == seen:
                    continue
                seen = saved
                if dice.randrange(MASTER_OF):
                    server.kill_worker(dice)
                    killed["workers"] += 1
                else:
                    server.stop()
                    killed["masters"] += 1
                    server.start()

        _at_once(people, ledgers, range(saves // len(ledgers)), kill, over, look=False)
        server.stop()
        verdict = judged(Path(folder), ledgers)
    print(
        f"{verdict.acknowledged} saves acknowledged, {killed['workers']} workers and {killed['masters']} masters killed"
    )
    return _told(verdict, ledgers)


def _people(server: Server, ledgers: list[Ledger]) -> list[Person]:
    """One for each plan, signed in."""
    people = [Person(server) for _ in ledgers]
    for person in people:
        person.sign_in()
    return people


def _at_once(
    people: list[Person],
    ledgers: list[Ledger],
    saves: range,
    attack: Callable[[], None],
    over: Event,
    *,
    look: bool,
) -> None:
    """People save while something attacks; `over` tells the attack that they are done."""
    threads = [
        Thread(target=_save_all, args=(person, ledger, saves), kwargs={"look": look})
        for person, ledger in zip(people, ledgers, strict=True)
    ]
    attacker = Thread(target=attack)
    for thread in (*threads, attacker):
        thread.start()
    for thread in threads:
        thread.join()
    over.set()
    attacker.join()


def _told(verdict: Verdict, ledgers: list[Ledger]) -> bool:
    answers: dict[int, int] = {}
    for ledger in ledgers:
        for status, count in ledger.answers.items():
            answers[status] = answers.get(status, 0) + count
    print(f"answers by status {dict(sorted(answers.items()))}, unanswered {sum(one.unanswered for one in ledgers)}")
    print(f"acknowledged and lost {verdict.lost}, saved twice {verdict.doubled}, half {verdict.half}")
    return verdict.holds


def prove_disk(saves: int) -> bool:
    """Saves while the disk is full for half a minute, and then while somebody holds the database for as long.

    The small disk is mounted, which takes root; without it that half is left out and said so.
    """
    with tempfile.TemporaryDirectory() as folder:
        var = Path(folder)
        mount = ["mount", "-t", "tmpfs", "-o", f"size={TMPFS}", "tmpfs", str(var)]
        small = os.geteuid() == 0 and subprocess.run(mount, check=False, capture_output=True).returncode == 0
        try:
            with _served(var) as server:
                ledgers = [Ledger(plan) for plan in server.plans()[:2]]
                people, half = _people(server, ledgers), saves // 2 // len(ledgers)
                if small:
                    _fill(var)
                    _at_once(people, ledgers, range(half), lambda: _make_room(var), Event(), look=True)
                held = sqlite3.connect(var / "rowan.sqlite3", timeout=ANSWER_S, check_same_thread=False)
                held.execute("BEGIN EXCLUSIVE")
                _at_once(people, ledgers, range(half, 2 * half), lambda: _let_go(held), Event(), look=True)
                server.stop()
                verdict = judged(var, ledgers)
        finally:
            if small:
                subprocess.run(["umount", str(var)], check=False)
    print(
        f"{verdict.acknowledged} saves acknowledged; the disk was {'full' if small else 'not filled: that takes root'}"
    )
    print(
        f"looked {sum(one.looked for one in ledgers)} times meanwhile, {sum(one.blind for one in ledgers)} without a page"
    )
    return _told(verdict, ledgers)


def _fill(var: Path) -> None:
    """Takes all room there is."""
    with (var / "junk").open("wb", buffering=0) as out:
        for size in (1 << 20, 1 << 12):
            with contextlib.suppress(OSError):
                while True:
                    out.write(b"x" * size)


def _make_room(var: Path) -> None:
    time.sleep(FULL_S)
    (var / "junk").unlink()


def _let_go(held: sqlite3.Connection) -> None:
    time.sleep(LOCK_S)
    held.rollback()
    held.close()


# types into an input and sends it; false while the input is still to open, which it is then asked for
TYPE = """
const blank = document.querySelector(`details.blank[data-blank="${arguments[0]}"]`);
const field = blank?.querySelector(".slip [name=value]");
if (!field) { if (blank && !blank.open) blank.open = true; return false; }
field.value = arguments[1];
field.form.requestSubmit();
return true;
"""
# a reading of each entry, no two alike [°C]
READ_FROM, READ_STEP = 5.0, 0.01
SETTLED = "return !document.querySelector('[aria-busy=true]')"
SAVED = "return document.getElementById('outbox').hidden"


def prove_cut(edits: int, seed: int) -> bool:
    """Changes typed in a browser whose network comes and goes at random. Every one is there at the end, once and in order."""
    from selenium.common.exceptions import TimeoutException
    from selenium.webdriver.support.ui import WebDriverWait

    from rowan.command.browser import set_network
    from rowan.command.server import demo_server, signed_in

    dice, cuts, off = random.Random(seed), 0, False
    with demo_server() as demo, signed_in(demo) as driver:
        wait = WebDriverWait(driver, ANSWER_S, AGAIN_S)

        driver.get(f"{demo.base}/jobs/{demo.job}/A/charge/")
        wait.until(
            lambda d: d.execute_script("return !!window.Rowan?.unsent && !document.querySelector('[data-later]')")
        )
        typed = [f"{BASE + STEP * (n % KINDS):.2f}" for n in range(edits)]
        for text in typed:
            if dice.random() < CUT_OF:
                off = not off
                cuts += off
                set_network(driver, gone=off)
            wait.until(lambda d, text=text: d.execute_script(TYPE, CUT_PATH, f"{text} m"))  # type: ignore[misc]
            wait.until(lambda d: d.execute_script(SETTLED))
        set_network(driver, gone=False)
        driver.execute_script("window.dispatchEvent(new Event('online'))")
        try:
            WebDriverWait(driver, READY_S + EACH_S * edits, 0.5).until(lambda d: d.execute_script(SAVED))
        except TimeoutException:
            told = str(driver.execute_script("return document.querySelector('#outbox p').textContent"))
            print(f"still kept: {told}")
        rows = _sent(Path(os.environ["ROWAN_VAR"]), demo.job)
    found = [f"{value:.2f}" for _, value in rows]
    doubled = len(rows) - len({sent for sent, _ in rows})
    lost = sum(text not in set(found) for text in typed)
    print(f"{edits} edits, the network cut {cuts} times: {lost} lost, {doubled} doubled, in order: {found == typed}")
    return not lost and not doubled and found == typed


# types a reading as a thumb does and says whether it is written down: false while the field still shows what was before
READ = """
const field = document.querySelector("#read-field_c");
field.focus();
field.value = arguments[0];
field.dispatchEvent(new Event("change", { bubbles: true }));
field.blur();
return true;
"""
WRITTEN = (
    "return window.Rowan.unsent.all().then((all) => all.some((one) => one.entry && one.entry.text === arguments[0]))"
)
ALL_SENT = "return document.getElementById('kept-state').textContent === 'sent'"


def prove_site(entries: int, seed: int) -> bool:
    """A run on a phone whose network comes and goes at random. Every entry is there at the end, once and in order."""
    from selenium.webdriver.support.ui import WebDriverWait

    from rowan.command.browser import set_network
    from rowan.command.server import demo_server, signed_in

    dice, cuts, off = random.Random(seed), 0, False
    with demo_server() as demo, signed_in(demo) as driver:
        run = _begun(demo.job)
        driver.get(f"{demo.base}/jobs/{demo.job}/B/runs/{run.pk}/work/#step-inspect")
        wait = WebDriverWait(driver, ANSWER_S, AGAIN_S)
        wait.until(lambda d: d.execute_script("return !!document.querySelector('#on-site.ready')"))
        typed = [f"{READ_FROM + n * READ_STEP:.2f}" for n in range(entries)]
        for text in typed:
            if dice.random() < CUT_OF:
                off = not off
                cuts += off
                set_network(driver, gone=off)
            driver.execute_script(READ, text)
            wait.until(lambda d, text=text: d.execute_script(WRITTEN, text))  # type: ignore[misc]
        set_network(driver, gone=False)
        driver.execute_script("window.dispatchEvent(new Event('online'))")
        WebDriverWait(driver, READY_S + EACH_S * entries, 0.5).until(lambda d: d.execute_script(ALL_SENT))
        rows = list(run.entries.order_by("number").values_list("sent", "text", "number"))
    found = [text for _, text, _ in rows]
    lost, doubled = len(set(typed) - set(found)), len(rows) - len({sent for sent, _, _ in rows})
    print(
        f"{entries} entries, the network cut {cuts} times: {lost} lost, {doubled} doubled, in order: {found == typed}"
    )
    return not lost and not doubled and found == typed


def _begun(job: int) -> Run:
    """A run of the demo's house as built."""
    from rowan.web.commissioning.services import start_run
    from rowan.web.plans.models import Plan

    plan = Plan.objects.get(job_id=job, letter="B")
    assert plan.head.author is not None  # noqa: S101  the demo's own person
    return start_run(plan=plan, kind="first", person=plan.head.author)


def _sent(var: Path, job: int) -> list[tuple[str, float]]:
    """Every change of a job's plan A that a browser sent, in order, with its value."""
    found = []
    for sent, kept, under in _kept(var, "p.job_id = ? AND p.letter = 'A' AND r.sent IS NOT NULL", job):
        design = json.loads(unpacked(kept, unpacked(under) if under else None))
        found.append((sent, float(design["survey"]["gauge_to_top_m"]["value"])))
    return found


def run_proof(what: str, saves: int, seed: int) -> int:
    """One proof; 0 where it holds."""
    proofs = {
        "kill": lambda: prove_kill(saves, seed),
        "disk": lambda: prove_disk(saves),
        "cut": lambda: prove_cut(saves, seed),
        "site": lambda: prove_site(saves, seed),
    }
    holds = proofs[what]()
    print("holds" if holds else "DOES NOT HOLD")
    return 0 if holds else 1
