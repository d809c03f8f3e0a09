"""Jobs back out of a file: what is inside is shown first; a job that is here already is never taken in twice without being asked for.

All that is picked comes in, or nothing does. Sizes are looked at before anything is unpacked.
"""

from __future__ import annotations

import hashlib
import json
import secrets
import uuid
import zipfile
from collections.abc import Collection, Mapping
from datetime import datetime
from typing import IO, Any

from django.db import transaction

from rowan.core.design.job_file import read
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import note
from rowan.web.archive.readings import take_readings
from rowan.web.archive.rows import Reader
from rowan.web.archive.writer import FORMAT, INDEX, VERSION, Told, no_progress
from rowan.web.care.log_services import LogRefusedError, checked_columns
from rowan.web.care.models import Device, LeftSetting, LogFile
from rowan.web.commissioning.models import Entry, Photo, Run
from rowan.web.customers.models import Customer, JobCard, JobFile, Note, Site, Stood
from rowan.web.dates.models import Visit
from rowan.web.goods.models import Good, Price, Quote
from rowan.web.handover.models import Handover
from rowan.web.house.models import DiaryEntry
from rowan.web.plans import policy
from rowan.web.plans.models import FirmPlace, Job, Plan, Revision, WeatherYear
from rowan.web.ui.errors import WebError

MOST_ENTRIES, MOST_UNPACKED, MOST_JSON = (
    200_000,
    4_000_000_000,
    80_000_000,
)  # entries; bytes of all, and of one job's JSON
MOST_RATIO = 200  # of unpacked to packed: more is a bomb


class ArchiveRefusedError(WebError):
    """A file that cannot be taken in; its words say why."""


@record
class Inside:
    """A job in a file: what it holds, and how it stands to what is here: new, the same, or another state of one that is here."""

    uid: str
    title: str
    plans: tuple[str, ...]
    runs: int
    photos: int
    here: str


def opened(file: IO[bytes]) -> zipfile.ZipFile:
    """The zip, once it was looked at. Raises ArchiveRefusedError for what is none of ours, or would unpack to too much."""
    try:
        archive = zipfile.ZipFile(file)
        infos = archive.infolist()
    except (zipfile.BadZipFile, OSError, ValueError) as error:
        raise ArchiveRefusedError("this is no archive of jobs") from error
    unpacked = sum(info.file_size for info in infos)
    if len(infos) > MOST_ENTRIES or unpacked > MOST_UNPACKED:
        raise ArchiveRefusedError("this archive unpacks to more than is ever taken in")
    if unpacked > MOST_RATIO * max(sum(info.compress_size for info in infos), 1):
        raise ArchiveRefusedError("this archive unpacks to far more than jobs are packed")
    return archive


def _json(archive: zipfile.ZipFile, name: str) -> Any:
    try:
        info = archive.getinfo(name)
        if info.file_size > MOST_JSON:
            raise ArchiveRefusedError(tr("{name} is larger than any job", name=name))
        return json.loads(archive.read(info))
    except (KeyError, ValueError, RecursionError, zipfile.BadZipFile) as error:
        raise ArchiveRefusedError(tr("{name} is missing in it, or cannot be read", name=name)) from error


def index_of(archive: zipfile.ZipFile) -> dict[str, Any]:
    """The list of what is inside. Raises ArchiveRefusedError."""
    head = _json(archive, INDEX)
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise ArchiveRefusedError("this is no archive of jobs")
    if head.get("version") != VERSION:
        raise ArchiveRefusedError(
            tr(
                "this archive is of version {version}; version {ours} is read here",
                version=head.get("version"),
                ours=VERSION,
            )
        )
    return head


def inside(archive: zipfile.ZipFile, firm: Firm) -> list[Inside]:
    """What a file holds, each job beside what is here. Raises ArchiveRefusedError."""
    head = index_of(archive)
    found = []
    for row in head["jobs"]:
        try:
            uid = str(uuid.UUID(row["uid"]))
            job = firm.jobs.filter(uid=uid).first()
            here = "new" if job is None else _state(archive, uid, job)
            found.append(
                Inside(uid, str(row["title"])[:120], tuple(row["plans"]), int(row["runs"]), int(row["photos"]), here)
            )
        except (KeyError, TypeError, ValueError) as error:
            raise ArchiveRefusedError("its list of jobs cannot be read") from error
    return found


def _state(archive: zipfile.ZipFile, uid: str, job: Job) -> str:
    """Whether a job that is here stands as in the file, by the newest revision of each plan and the entries of its runs."""
    data = _json(archive, f"jobs/{uid}/job.json")
    there = {
        plan["letter"]: (len(plan["revisions"]), sum(len(run["entries"]) for run in plan["runs"]))
        for plan in data["plans"]
    }
    now = {
        plan.letter: (plan.revisions.count(), Entry.objects.filter(run__plan=plan).count()) for plan in job.plans.all()
    }
    return "same" if there == now else "differs"


def take_in(
    archive: zipfile.ZipFile, *, firm: Firm, person: User, picked: Collection[str], told: Told = no_progress
) -> list[Job]:
    """Take picked jobs in, and the firm's goods and places where the file has them: all or nothing.

    A job whose uid is here already comes in as a copy with a uid of its own. Raises ArchiveRefusedError, NotAllowedError.
    """
    head = index_of(archive)
    made = []
    with transaction.atomic():
        policy.check(person, firm)
        reader = Reader(firm, person)
        try:
            wanted = [row["uid"] for row in head["jobs"] if row["uid"] in picked]
            for number, uid in enumerate(wanted, 1):
                made.append(_take_job(archive, reader, str(uuid.UUID(uid))))
                told(number, len(wanted))
            if head.get("firm") and picked:
                policy.check(person, firm, "lead")
                _take_firm(archive, reader)
        except (KeyError, TypeError, ValueError, AttributeError, RowanError, LogRefusedError) as error:
            raise ArchiveRefusedError(
                tr("something in it cannot be read ({error}); nothing was taken in", error=error)
            ) from error
        note(firm, person, tr("took in {made} jobs from an archive", made=len(made)))
    return made


def _take_job(archive: zipfile.ZipFile, reader: Reader, uid: str) -> Job:
    data = _json(archive, f"jobs/{uid}/job.json")
    twin = Job.objects.filter(uid=uid).exists()
    values = reader.values("job", data, Job)
    if twin:
        values["title"] = tr("{title}, taken in", title=values["title"][:106])
    job = Job.objects.create(firm=reader.firm, uid=uuid.uuid4() if twin else uid, **values)
    Job.objects.filter(pk=job.pk).update(created=values["created"])
    _take_card(reader, job, data)
    for row in data["plans"]:
        _take_plan(archive, reader, job, row, f"jobs/{uid}/")
    for row in data["visits"]:
        values = reader.values("visit", row, Visit)
        if Visit.objects.filter(uid=values["uid"]).exists():
            values["uid"] = str(uuid.uuid4())
        visit = Visit.objects.create(firm=reader.firm, job=job, **values)
        visit.people.set([reader.somebody(name) for name in row["people"]])
    for row in data["diary"]:
        _dated(DiaryEntry, reader.values("diary", row, DiaryEntry), "at", job=job)
    for row in data["files"]:
        content = archive.read(row["in"])
        _dated(JobFile, reader.values("file", row, JobFile), "at", job=job, content=content)
    job.refresh_from_db()
    return job


def _dated(model: Any, values: dict[str, Any], column: str, **more: Any) -> Any:
    """A row whose moment is set by the table: it is given its own afterwards."""
    moment: datetime = values.pop(column)
    made = model.objects.create(**values, **more)
    model.objects.filter(pk=made.pk).update(**{column: moment})
    return made


def _take_card(reader: Reader, job: Job, data: Mapping[str, Any]) -> None:
    customer = site = None
    if data.get("customer"):
        values = reader.values("customer", data["customer"], Customer)
        same = Customer.objects.filter(
            firm=reader.firm, name=values["name"], mail=values["mail"], telephone=values["telephone"], deleted=None
        )
        customer = same.first() or _dated(Customer, values, "created", firm=reader.firm)
    if data.get("site"):
        values = reader.values("site", data["site"], Site)
        site = Site.objects.filter(firm=reader.firm, **values).first() or Site.objects.create(
            firm=reader.firm, **values
        )
    JobCard.objects.create(job=job, customer=customer, site=site, **reader.values("card", data["card"], JobCard))
    for row in data["stood"]:
        Stood.objects.create(job=job, **reader.values("stood", row, Stood))
    for row in data.get("notes", ()):
        _dated(Note, reader.values("note", row, Note), "at", job=job)


def _take_plan(archive: zipfile.ZipFile, reader: Reader, job: Job, row: Mapping[str, Any], folder: str) -> None:
    plan = Plan.objects.create(job=job, **reader.values("plan", row, Plan))
    by_number = _take_history(reader, plan, row["revisions"])
    for one in row["runs"]:
        values = reader.values("run", one, Run)
        if Run.objects.filter(sent=values["sent"]).exists():
            values["sent"] = str(uuid.uuid4())
        run = Run.objects.create(plan=plan, revision=by_number[one["revision"]], **values)
        entries = [Entry(run=run, **reader.values("entry", entry, Entry)) for entry in one["entries"]]
        Entry.objects.bulk_create(entries)
        for entry, made in zip(one["entries"], run.entries.order_by("number"), strict=True):
            Entry.objects.filter(pk=made.pk).update(received=datetime.fromisoformat(entry["received"]))
        for shot in one["photos"]:
            name = f"{folder}photos/{plan.letter}-{shot['sha256']}"
            Photo.objects.create(
                run=run, content=archive.read(f"{name}.jpg"), small=archive.read(f"{name}.small.jpg"), **reader.values("photo", shot, Photo)
            )  # fmt: skip
    for left in row["left"]:
        _dated(LeftSetting, reader.values("left", left, LeftSetting), "at", plan=plan)
    for log in row.get("logs", []):
        name = f"{folder}logs/{plan.letter}-{log['digest']}"
        columns = checked_columns(archive.read(f"{name}.npz"))
        _dated(
            LogFile,
            reader.values("log", log, LogFile),
            "at",
            plan=plan,
            raw=archive.read(f"{name}.csv.gz"),
            columns=columns,
        )
    for number, one in enumerate(row.get("devices", [])):
        # what it signs in with stays where it was: it is connected anew
        nobody = hashlib.sha256(secrets.token_bytes(32)).hexdigest()
        values = reader.values("device", one, Device)
        device = _dated(Device, values, "created", plan=plan, token_digest=nobody)
        take_readings(device, archive.read(f"{folder}readings/{plan.letter}-{number}.csv.gz"))
    if row.get("handover"):
        Handover.objects.create(plan=plan, **reader.values("handover", row["handover"], Handover))
    for quote in row["quotes"]:
        _dated(Quote, reader.values("quote", quote, Quote), "made", plan=plan, revision=by_number[quote["revision"]])


def _take_history(reader: Reader, plan: Plan, rows: list[dict[str, Any]]) -> dict[int, Revision]:
    """Every state of a plan in its order, packed as if it had been made here. Raises RowanError for a newest one that is no design."""
    if not rows:
        raise ValueError("a plan without a state")
    read(rows[-1]["design"])
    made: dict[int, Revision] = {}
    last: Revision | None = None
    for row in rows:
        values = reader.values("revision", row, Revision)
        created = values.pop("created")
        revision = Revision(
            plan=plan, base=None if last is None else last.base or last, undo_to=made.get(row["undo_to"]),
            redo_to=made.get(row["redo_to"]), **values,
        )  # fmt: skip
        revision.design = row["design"]
        revision.save(force_insert=True)
        Revision.objects.filter(pk=revision.pk).update(created=created)
        made[revision.number] = last = revision
    return made


def _take_firm(archive: zipfile.ZipFile, reader: Reader) -> None:
    """Goods, prices, places and weather; what is here under the same name stays as it is here."""
    firm = reader.firm
    for number in range(sum(name.endswith(".rows") for name in archive.namelist())):
        values = reader.values("weather", _json(archive, f"firm/weather/{number}.json"), WeatherYear)
        rows = archive.read(f"firm/weather/{number}.rows")
        WeatherYear.objects.get_or_create(firm=firm, digest=values.pop("digest"), defaults={**values, "rows": rows})
    data = _json(archive, "firm/firm.json")
    for row in data["goods"]:
        values = reader.values("good", row, Good)
        Good.objects.get_or_create(firm=firm, kind=values.pop("kind"), name=values.pop("name"), defaults=values)
    for row in data["prices"]:
        values = reader.values("price", row, Price)
        Price.objects.get_or_create(firm=firm, key=values.pop("key"), defaults=values)
    for row in data["places"]:
        values = reader.values("place", row, FirmPlace)
        year = WeatherYear.objects.filter(firm=firm, digest=row["year"]).first() if row["year"] else None
        FirmPlace.objects.get_or_create(firm=firm, name=values.pop("name"), defaults={**values, "year": year})
