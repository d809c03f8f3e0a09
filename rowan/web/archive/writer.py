"""Jobs into a file: a zip with a list of what is inside, each job as JSON, photographs and files as they are.

The same jobs give the same bytes: entries in order, times of the zip fixed. Written piece by piece, so that a thousand photographs
take no more memory than one.
"""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Callable, Iterable
from typing import IO, Any

from rowan.web.accounts.models import Firm
from rowan.web.archive.readings import packed_readings
from rowan.web.archive.rows import row_of
from rowan.web.customers.services import card_of
from rowan.web.handover.models import Handover
from rowan.web.plans.models import Job, Plan

FORMAT, VERSION = "rowan-archive", 1
INDEX = "rowan-archive.json"
EPOCH = (1980, 1, 1, 0, 0, 0)  # the zip format's first day
Told = Callable[[int, int], None]


def no_progress(done: int, of: int) -> None:
    """Tells nobody."""


def write_archive(
    into: IO[bytes], jobs: Iterable[Job], *, customers: bool, firm: Firm | None = None, told: Told = no_progress
) -> None:
    """Jobs into an open file, with their customers if wanted, and the firm's own goods and places if it is given."""
    listed, found = [], list(jobs)
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
        for number, job in enumerate(found, 1):
            listed.append(_write_job(archive, job, customers=customers))
            told(number, len(found))
        if firm is not None:
            _write_firm(archive, firm)
        head = {"format": FORMAT, "version": VERSION, "customers": customers, "firm": firm is not None, "jobs": listed}
        _put(archive, INDEX, _json(head))


def _json(data: Any) -> bytes:
    return json.dumps(data, ensure_ascii=False, indent=1, sort_keys=True).encode()


def _put(archive: zipfile.ZipFile, name: str, content: bytes, *, packed: bool = False) -> None:
    """An entry at the same moment always; what is packed already is stored as it is."""
    info = zipfile.ZipInfo(name, EPOCH)
    info.compress_type = zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED
    info.external_attr = 0o600 << 16
    archive.writestr(info, content)


def _write_job(archive: zipfile.ZipFile, job: Job, *, customers: bool) -> dict[str, Any]:
    folder = f"jobs/{job.uid}/"
    data = {**row_of("job", job), "uid": str(job.uid), **_card(job, customers=customers)}
    photos = 0
    data["plans"] = []
    for plan in job.plans.all():
        row, shots = _plan(archive, folder, plan)
        data["plans"].append(row)
        photos += shots
    data["visits"] = [
        {**row_of("visit", one), "people": sorted(map(str, one.people.all()))}
        for one in job.visits.prefetch_related("people")
    ]
    data["diary"] = [row_of("diary", one) for one in job.diary.select_related("person").order_by("at", "pk")]
    data["files"] = []
    for number, file in enumerate(job.files.order_by("at", "pk").iterator(chunk_size=1)):
        name = f"{folder}files/{number}"
        _put(archive, name, bytes(file.content))
        data["files"].append({**row_of("file", file), "in": name})
    content = _json(data)
    _put(archive, f"{folder}job.json", content)
    runs = sum(len(plan["runs"]) for plan in data["plans"])
    return {
        "uid": str(job.uid), "title": job.title, "plans": [plan["letter"] for plan in data["plans"]], "runs": runs, "photos": photos,
        "files": len(data["files"]), "sha256": hashlib.sha256(content).hexdigest(),
    }  # fmt: skip


def _card(job: Job, *, customers: bool) -> dict[str, Any]:
    """State and notes; who it is for only where that is wanted: it is nobody else's business."""
    card = card_of(job)
    data: dict[str, Any] = {
        "card": row_of("card", card),
        "stood": [row_of("stood", one) for one in job.stood.select_related("person")],
    }
    if customers:
        data["notes"] = [row_of("note", one) for one in job.notes.select_related("person").order_by("at", "pk")]
        data["customer"] = row_of("customer", card.customer) if card.customer else None
        data["site"] = row_of("site", card.site) if card.site else None
    return data


def _plan(archive: zipfile.ZipFile, folder: str, plan: Plan) -> tuple[dict[str, Any], int]:
    """A plan with its whole history, its runs and what was left; how many photographs were written."""
    numbers = dict(plan.revisions.values_list("pk", "number"))
    revisions = []
    for one in plan.revisions.select_related("author", "base").order_by("number").iterator(chunk_size=50):
        ways = {"undo_to": numbers.get(one.undo_to_id or 0), "redo_to": numbers.get(one.redo_to_id or 0)}
        revisions.append({**row_of("revision", one), **ways, "design": one.design})
    runs, photos = [], 0
    for run in plan.runs.select_related("started_by", "revision").order_by("started", "pk"):
        shots = []
        for photo in run.photos.order_by("pk").iterator(chunk_size=1):
            for kind, content in (("", photo.content), (".small", photo.small)):
                _put(archive, f"{folder}photos/{plan.letter}-{photo.sha256}{kind}.jpg", bytes(content), packed=True)
            shots.append(row_of("photo", photo))
        photos += len(shots)
        entries = [row_of("entry", one) for one in run.entries.select_related("person").order_by("number")]
        runs.append({**row_of("run", run), "revision": run.revision.number, "entries": entries, "photos": shots})
    left = [row_of("left", one) for one in plan.left_settings.select_related("author").order_by("path")]
    quotes = [
        {**row_of("quote", one), "revision": one.revision.number}
        for one in plan.quotes.select_related("by", "revision").order_by("made", "pk")
    ]
    logs = []
    for file in plan.logs.select_related("person").order_by("at", "pk").iterator(chunk_size=1):
        name = f"{folder}logs/{plan.letter}-{file.digest}"
        _put(archive, f"{name}.csv.gz", bytes(file.raw), packed=True)
        _put(archive, f"{name}.npz", bytes(file.columns), packed=True)
        logs.append(row_of("log", file))
    devices = []
    for number, device in enumerate(plan.devices.select_related("made_by").order_by("created", "pk")):
        _put(archive, f"{folder}readings/{plan.letter}-{number}.csv.gz", packed_readings(device), packed=True)
        devices.append(row_of("device", device))
    handed = Handover.objects.filter(plan=plan).first()
    rows: dict[str, Any] = {"revisions": revisions, "runs": runs, "left": left, "quotes": quotes, "logs": logs}
    rows["devices"] = devices
    rows["handover"] = row_of("handover", handed) if handed is not None else None
    return {**row_of("plan", plan), **rows}, photos


def _write_firm(archive: zipfile.ZipFile, firm: Firm) -> None:
    """The firm's goods, prices, places and weather."""
    for number, year in enumerate(firm.weather_years.order_by("digest").iterator(chunk_size=1)):
        _put(archive, f"firm/weather/{number}.json", _json(row_of("weather", year)))
        _put(archive, f"firm/weather/{number}.rows", bytes(year.rows), packed=True)
    places = [
        {**row_of("place", one), "year": one.year.digest if one.year else None}
        for one in firm.places.select_related("year")
    ]
    data = {
        "goods": [row_of("good", one) for one in firm.goods.all()],
        "prices": [row_of("price", one) for one in firm.prices.all()],
        "places": places,
    }
    _put(archive, "firm/firm.json", _json(data))
