"""The process beside the server: runs and papers come from it, firms take turns, a killed one is followed by another."""

from __future__ import annotations

import math
import os
import pickle
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from threading import Event
from typing import Any

import pytest
from django.conf import LazySettings
from django.test import Client
from django.urls import reverse

from rowan.core.reckon import reckon
from rowan.core.terms.errors import ImpossibleInputError, JobFileError, OutOfRangeError, RowanError
from rowan.web.benches.bench import Sheet
from rowan.web.config import hooks
from rowan.web.papers import sheets
from rowan.web.papers.drawing_room import DrawingRoom
from rowan.web.plans.models import Plan
from rowan.web.steps.study_registry import RUNS
from rowan.web.studies import beside, work
from rowan.web.studies.kinds import Place, content_key, run_view
from rowan.web.studies.work import Outcome, Variant, Workshop
from tests.core.designs import plan_b

PATIENCE_S = 60.0


def until(found: Callable[[], Any]) -> Any:
    """What is found, once it is."""
    ends = time.monotonic() + PATIENCE_S
    while not (answer := found()):
        assert time.monotonic() < ends, "it never came"
        time.sleep(0.05)
    return answer


def test_a_design_is_carried_to_another_process_as_it_is() -> None:
    assert pickle.loads(pickle.dumps(plan_b())) == plan_b()


@pytest.mark.parametrize(
    "error",
    [
        OutOfRangeError("tilt", 91.0, 0.0, 90.0, dimension="angle"),
        ImpossibleInputError("{high} is more than {low}", high=(2e5, "pressure"), low=(1e5, "pressure")),
        JobFileError("survey.place", "is no place"),
    ],
)
@pytest.mark.parametrize("units", ["metric", "us"])
def test_a_refusal_is_carried_with_its_words(error: RowanError, units: Any) -> None:
    again = pickle.loads(pickle.dumps(error))
    assert type(again) is type(error)
    assert again.text(units) == error.text(units)


def test_firms_take_turns(monkeypatch: pytest.MonkeyPatch) -> None:
    """Sixty years of one firm do not hold up seven of another: they come one for one."""
    order, go = list[str](), Event()

    def run_one(variant: Variant, measured: object) -> Outcome:
        go.wait(PATIENCE_S)
        order.append(variant.label)
        return Outcome(variant)

    monkeypatch.setattr(work, "run_one", run_one)
    monkeypatch.setattr(work, "AT_ONCE", 1)
    shop = Workshop()
    design = plan_b()
    shop.begin(key="a", place="a", variants=[Variant(f"a{n}", design) for n in range(12)], measured=None, firm=1)
    other = shop.begin(key="b", place="b", variants=[Variant(f"b{n}", design) for n in range(3)], measured=None, firm=2)
    go.set()
    assert other.whole.wait(PATIENCE_S)
    assert order.index("b2") <= 7, order


# the process itself, owned by this one


@pytest.fixture
def process(tmp_path: Path, settings: LazySettings, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """Asked as a worker asks it; this test stands for the server's master."""
    folder = tmp_path
    settings.VAR, settings.STUDIES_BESIDE, settings.SHORT_RUNS_BEGIN = folder, True, True
    monkeypatch.setenv("ROWAN_VAR", str(folder))
    monkeypatch.setattr(os, "getppid", os.getpid)
    monkeypatch.setattr(beside, "_beside", beside.Beside())
    monkeypatch.setattr(beside, "_tried", [-math.inf])
    sheets.DRAWN.forget()
    yield folder
    for started in beside._started:
        started.kill()
        started.wait()
    beside._started.clear()


def test_runs_and_papers_come_from_beside_and_after_it_was_killed_too(process: Path, plan: Plan, page: Client) -> None:
    one = Sheet(plan_b(), reckon(plan_b()), "metric")
    kind, _ = RUNS["candidates"]

    def view() -> Any:
        return run_view(kind, one, Place("test", 1), "/", begin=True)

    # the master starts it, whoever asks meanwhile starts no other
    hooks.when_ready(None)
    (loading,) = beside._started
    first = view()
    assert first.waiting, "who asks does not wait for the process to start"
    assert first.total > 4
    assert beside._started == [loading]
    own = os.getpriority(os.PRIO_PROCESS, 0)
    until(lambda: os.getpriority(os.PRIO_PROCESS, loading.pid) == own + beside.NICE)
    assert not list(process.glob("beside-*.sock")), "pages go first while it is still loading too"
    whole = until(lambda: None if (now := view()).waiting else now)
    assert [outcome.variant.design for outcome in whole.outcomes] == [made.design for made in kind.variants(one)]
    inside = [work.run_one(variant, None) for variant in kind.variants(one)[:2]]
    for here, there in zip(inside, whole.outcomes, strict=False):
        assert there.year.solar_heat == here.year.solar_heat
        assert there.findings == here.findings
    # what is left ends there too, told without waiting
    long = RUNS["sizes"][0]
    assert run_view(long, one, Place("test", 1), "/", begin=True).waiting
    key = content_key(long, one)
    assert beside.ask("find", key=key, have=set()) is not None
    beside.workshop().leave((Place("test", 1).of(long),))
    until(lambda: beside.ask("find", key=key, have=set()) is None)
    card = reverse("papers:settings_card", args=(plan.job_id, "A"))
    answer = until(lambda: None if (now := page.get(card)).status_code == 202 else now)
    assert answer.content.startswith(b"%PDF")
    (running,) = beside._started
    running.send_signal(signal.SIGKILL)
    running.wait()
    sheets.DRAWN.forget()
    coming = page.get(card)
    assert coming.status_code == 202
    assert coming["Refresh"] == "1"
    assert "is being drawn" in coming.content.decode()
    assert until(lambda: None if (now := page.get(card)).status_code == 202 else now).content.startswith(b"%PDF")
    assert (process / f"beside-{os.getpid()}.sock").stat().st_mode & 0o077 == 0, "nobody else on the machine may ask"


def test_it_ends_with_its_server(tmp_path: Path) -> None:
    owner = subprocess.Popen([sys.executable, "-c", "input()"], stdin=subprocess.PIPE)
    environment = {**os.environ, "ROWAN_VAR": str(tmp_path)}
    command = [sys.executable, "-m", "rowan.command", "beside", "--owner", str(owner.pid)]
    running = subprocess.Popen(command, env=environment)
    until((tmp_path / f"beside-{owner.pid}.sock").exists)
    owner.communicate(b"\n")
    assert running.wait(PATIENCE_S) == 0
    assert not list(tmp_path.glob("beside-*"))


def test_a_paper_that_fails_is_told_and_tried_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    tries = list[str]()

    def draw(html: str) -> bytes:
        tries.append(html)
        if len(tries) == 1:
            raise sheets.PaperToolsMissingError("Pango")
        return b"%PDF"

    monkeypatch.setattr("rowan.web.papers.drawing_room.draw", draw)
    room = DrawingRoom()
    with pytest.raises(sheets.PaperToolsMissingError):
        room.paper(key="one", html="<p>")
    assert room.paper(key="one", html="<p>") == b"%PDF"
    assert room.paper(key="one", html="<p>") == b"%PDF"
    assert len(tries) == 2


@pytest.mark.parametrize(
    ("counts", "looked"), [((4_999, 30, 30), []), ((5_000, 3, 3), [0]), ((9_000, 20, 3), [1]), ((5_000, 20, 20), [2])]
)
def test_what_holds_itself_is_let_go_after_the_answer(
    counts: tuple[int, int, int], looked: list[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    asked = list[int]()
    monkeypatch.setattr(hooks.gc, "get_count", lambda: counts)
    monkeypatch.setattr(hooks.gc, "collect", asked.append)
    hooks.post_request(None, None, None, None)
    assert asked == looked
