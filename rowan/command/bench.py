"""Measures and prints speeds; asserts nothing, because machines differ."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

REPEATS = 60


def _measure(name: str, act: Callable[[], object], repeats: int = REPEATS) -> None:
    act()
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        act()
        times.append((time.perf_counter() - start) * 1000)
    times.sort()
    p95 = times[min(len(times) - 1, round(0.95 * len(times)))]
    print(f"{name:<44} median {statistics.median(times):8.1f} ms   p95 {p95:8.1f} ms   ({repeats} runs)")


def run_bench() -> None:
    """Print medians of reckoning, proposal, pages and the settings card, on a database in memory."""
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client
    from django.test.utils import override_settings

    settings.DATABASES["default"]["NAME"] = ":memory:"
    django.setup()
    from rowan.core.design.changes import changed
    from rowan.core.findings import Change
    from rowan.core.propose import propose
    from rowan.core.reckon import reckon
    from rowan.demo.kvist import FACTS, kvist_plan_a
    from rowan.demo.load import load_world
    from rowan.web.jobs.models import Job

    design = kvist_plan_a()
    _measure("reckon the Kvist plan, without the year", lambda: reckon(design))
    heights = iter(9.0 + i / 1000 for i in range(10_000))
    _measure(
        "change an input and reckon", lambda: reckon(changed(design, [Change("survey.gauge_to_top_m", next(heights))]))
    )
    _measure("four facts to a whole design", lambda: propose(FACTS))
    call_command("migrate", verbosity=0)
    person = load_world()
    plan = Job.objects.visible(person).get(title=design.title).plans.get(letter="A")
    client = Client()
    client.force_login(person)
    plain = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
    with override_settings(STORAGES={**settings.STORAGES, **plain}, ALLOWED_HOSTS=["testserver"]):
        _measure("page: jobs", lambda: client.get("/"), 20)
        for bench in ("survey", "collector", "store", "run", "charge", "control"):
            address = f"/jobs/{plan.job_id}/A/{bench}/"
            _measure(f"page: {bench}", lambda address=address: client.get(address), 20)  # type: ignore[misc]
        gaps = iter(range(30_000, 70_000, 100))

        def edit() -> None:
            data = {"path": "charge.gap_pa", "value": next(gaps), "revision": plan.head.number, "bench": "charge"}
            client.post(f"/jobs/{plan.job_id}/A/drag/", data, follow=True)

        _measure("edit on Charge: save and new page", edit, 20)
        _measure("settings card as PDF", lambda: client.get(f"/jobs/{plan.job_id}/A/settings-card.pdf"), 5)
