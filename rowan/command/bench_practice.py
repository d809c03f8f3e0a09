"""`bin/rowan bench practice`: each rig played to its end, and what a hand waits for at a handle, on a database in memory."""

from __future__ import annotations

import statistics
import time
from typing import TYPE_CHECKING

from rowan.command.bench import measure, row

if TYPE_CHECKING:
    from django.test import Client

    from rowan.web.accounts.models import User
    from rowan.web.plans.models import Plan
    from rowan.web.practice.models import PracticeRun

PLAYED = 7
# of real time, by each of two cores for ten people
GOAL_TIMES = 200 * 10
# a handle that stands nowhere in the way, to be turned again and again
IDLE = {"filling": ("check:half", "check:working"), "raising": ("check:half", "check:working"), "draining": ("lid:off", "lid:on"), "cabinet": ("frost:on", "frost:off")}  # fmt: skip


def run_practice_bench() -> None:
    """Print each row beside its goal."""
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client

    settings.DATABASES["default"]["NAME"] = ":memory:"
    settings.ALLOWED_HOSTS = ["testserver"]
    django.setup()
    from rowan.demo.load import load_world
    from rowan.web.plans.models import Job
    from rowan.web.practice.models import ON_RIG

    call_command("migrate", verbosity=0)
    person = load_world()
    client = Client()
    client.force_login(person)
    jobs = Job.objects.visible(person)
    sealed = jobs.get(title="Kvist house, 4 Ropewalk").plans.get(letter="A")
    draining = next(job.plans.first() for job in jobs if "Corrim" in job.title)
    for task, name in ON_RIG.items():
        plan = draining if task == "draining" else sealed
        assert plan is not None  # noqa: S101  the demo has both
        _rig(client, person, plan, task, name)


def _rig(client: Client, person: User, plan: Plan, task: str, name: str) -> None:
    """One rig: how much faster than real it is played, and an answer to a handle where a run of a master ends."""
    from rowan.web.practice import services

    run = services.begin(person=person, plan=plan, task=task)
    turns = services.master_turns(run)
    run.turns = [[turn.at, turn.handle, turn.position] for turn in turns]
    run.until = int(turns[-1].at)
    run.save(update_fields=["turns", "until"])
    row(name, "", more=f"{len(turns)} turns of a master, {run.until / 60:.0f} minutes")
    seconds = statistics.median(_played(run) for _ in range(PLAYED))
    row(
        "  played from its start",
        f"{run.until / seconds:,.0f} times",
        f"≥ {GOAL_TIMES:,}",
        f"{seconds * 1000:.0f} ms, median of {PLAYED}",
    )
    number = iter(range(10_000))

    def turned() -> None:
        """A handle that changes nothing else, at the end of a master's run."""
        answer = client.post(
            f"/practice/{run.pk}/turn/",
            {"turn": IDLE[task][next(number) % 2], "until": str(run.until)},
            headers={"X-Piece": "1"},
        )
        assert answer.status_code == 200  # noqa: S101  or the time says nothing

    measure("  answer to a handle, where the run ends", turned, "≤ 100 ms", 20)


def _played(run: PracticeRun) -> float:
    """How long it takes to play a run and judge it [s]."""
    from rowan.web.practice import services

    start = time.perf_counter()
    services.debrief_of(run)
    return time.perf_counter() - start
