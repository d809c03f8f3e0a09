"""`bin/rowan bench book`: a firm with 2,000 jobs and 300 visits a week; the whole book of 200 jobs and 1,000 photographs out and in.

On a database of its own in a scratch folder; nobody's data is touched. Memory is the high-water mark of the command
that does it, in a process of its own.
"""

from __future__ import annotations

import io
import os
import subprocess
import sys
import tempfile
import time
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from rowan.command.bench import MB, measure, row

if TYPE_CHECKING:
    from rowan.web.accounts.models import Firm, User

JOBS, VISITS = 2_000, 300
BOOK_JOBS, PHOTOS = 200, 1_000
PHOTO_PX = (1200, 900)


def run_book_bench() -> None:
    """Print each row beside its goal."""
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client
    from django.test.utils import override_settings

    with tempfile.TemporaryDirectory() as scratch:
        settings.DATABASES["default"]["NAME"] = str(Path(scratch) / "book.sqlite3")
        django.setup()
        call_command("migrate", verbosity=0)
        from rowan.web.accounts.models import Firm, User
        from rowan.web.dates.week import monday_of

        firm = Firm.objects.create(name="Many jobs")
        person = User.objects.create_user("lead@many.example", name="Ada Lind", firm=firm, role="lead")
        monday = monday_of(datetime(2026, 6, 3).date())
        _jobs(firm, person, JOBS)
        _visits(firm, person, VISITS, datetime.combine(monday, datetime.min.time()))
        client = Client()
        client.force_login(person)
        plain = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
        with override_settings(STORAGES={**settings.STORAGES, **plain}, ALLOWED_HOSTS=["testserver"]):
            measure(f"page: the week, {VISITS} visits", lambda: client.get(f"/week/?day={monday}"), "≤ 100 ms", 20)
            measure(f"page: the ledger, {JOBS} jobs", lambda: client.get("/"), "≤ 200 ms", 20)
            measure("page: the ledger, a name sought", lambda: client.get("/?q=house+1999"), "≤ 200 ms", 20)
        _book(firm, person, Path(scratch))


def _jobs(firm: Firm, person: User, count: int) -> None:
    """As many jobs, of a few designs: it counts how many there are."""
    from rowan.core.goods.places import PLACES
    from rowan.core.studies.propose import Facts, propose
    from rowan.web.plans.services import start_job

    kinds = [propose(Facts(PLACES["Aldersund"], 170 + n, 40, "slate", 3 + n % 3, "oil", 2)) for n in range(6)]
    for number in range(count):
        start_job(firm=firm, author=person, title=f"House {number}", design=kinds[number % len(kinds)])


def _visits(firm: Firm, person: User, count: int, monday: datetime) -> None:
    from rowan.web.accounts.models import User
    from rowan.web.dates.services import Wish, save_visit

    people = [
        person,
        *(User.objects.create_user(f"p{n}@many.example", name=f"Person {n}", firm=firm) for n in range(9)),
    ]
    jobs = list(firm.jobs.all()[:count])
    for number, job in enumerate(jobs):
        start = monday + timedelta(days=number % 5, hours=7 + (number // 50) * 1.5)
        save_visit(
            firm=firm,
            person=person,
            wish=Wish("survey", start, start + timedelta(hours=1), [people[number // 5 % 10]], job),
        )


def _book(firm: Firm, person: User, scratch: Path) -> None:
    """Two hundred jobs with five photographs each, out and into another firm."""
    import numpy as np
    from PIL import Image

    from rowan.web.accounts.models import Firm, User
    from rowan.web.archive.reader import opened, take_in
    from rowan.web.archive.writer import write_archive
    from rowan.web.commissioning.services import Told, start_run, write_photo
    from rowan.web.plans.models import Job

    dice = np.random.default_rng(1)
    jobs = list(firm.jobs.order_by("pk")[:BOOK_JOBS])
    for job in jobs:
        run = start_run(plan=job.plans.get(), kind="survey", person=person)
        for _ in range(PHOTOS // BOOK_JOBS):
            coarse = dice.integers(0, 255, (30, 40, 3), dtype=np.uint8)
            made = io.BytesIO()
            Image.fromarray(coarse).resize(PHOTO_PX).save(made, "JPEG", quality=80)
            write_photo(run=run, told=Told(kind="photo", step="outside"), content=made.getvalue(), person=person)
    file, by_command = scratch / "book.zip", scratch / "by-command.zip"
    start = time.perf_counter()
    with file.open("wb") as into:
        write_archive(into, jobs, customers=True)
    out = time.perf_counter() - start
    size = file.stat().st_size / 1e6
    row(f"{BOOK_JOBS} jobs and {PHOTOS} photographs out", f"{out:.1f} s", "", f"{size:.0f} MB")
    other = Firm.objects.create(name="Another")
    lead = User.objects.create_user("lead@another.example", name="Ada Lind", firm=other, role="lead")
    picked = {str(job.uid) for job in jobs}
    start = time.perf_counter()
    with file.open("rb") as found:
        take_in(opened(found), firm=other, person=lead, picked=picked)
    came = Job.objects.filter(firm=other).count()
    row("the same in, into another firm", f"{time.perf_counter() - start:.1f} s", "", f"{came} jobs")
    for way, name in (("out", firm.name), ("in", "A third")):
        if way == "in":
            third = Firm.objects.create(name=name)
            User.objects.create_user("lead@third.example", name="Ada Lind", firm=third, role="lead")
        highest, base = _command_memory(["--firm", name, way, str(by_command)]), _command_memory(["--help"])
        row(
            f"memory of the command, {way}",
            f"{highest:.0f} MB",
            "≤ 300 MB",
            f"{base:.0f} MB of it before anything is read",
        )
    row("jobs that came in by it", str(Job.objects.filter(firm__name="A third").count()), f"{BOOK_JOBS}")


def _command_memory(arguments: list[str]) -> float:
    """The most that `manage archive` holds in a process of its own [MB], on this bench's database."""
    from django.conf import settings

    database = f"sqlite:///{settings.DATABASES['default']['NAME']}"
    script = (
        "import sys; from django.core.management import execute_from_command_line as run\n"
        "try: run(['rowan manage', 'archive', *sys.argv[1:]])\n"
        "except SystemExit as end:\n"
        "    if end.code: raise\n"
        # the system counts what a process held before it became this one into its usage, and not into this
        "print('\\n', next(line for line in open('/proc/self/status') if line.startswith('VmHWM')).split()[1])"
    )
    made = subprocess.run(  # noqa: S603  this product's own command
        [sys.executable, "-c", script, *arguments],
        check=True,
        capture_output=True,
        text=True,
        env={**os.environ, "ROWAN_DATABASE": database},
    )
    return float(made.stdout.split()[-1]) / MB
