"""Files of loggers: taken in, named column by column, read, joined, thrown away."""

from __future__ import annotations

import gzip
import hashlib
import io
import zipfile
from typing import Any, get_args

import numpy as np
from django.db import transaction
from django.utils import timezone

from rowan.core.records.logs.channels import BY_KEY, UNITS
from rowan.core.records.logs.errors import LogError
from rowan.core.records.logs.log import (
    Clock,
    Log,
    LogMapping,
    Opened,
    Repair,
    as_guessed,
    joined,
    opened,
    read_log,
)
from rowan.core.records.logs.sheet import LARGEST_BYTES, MOST_ROWS
from rowan.core.records.logs.stamps import DayOrder, usual_step
from rowan.core.simulation.cache import Kept
from rowan.core.terms.language import tr
from rowan.core.weather.files import LEAST_ZONE, MOST_ZONE
from rowan.core.weather.hours import winter_clock
from rowan.web.accounts.models import User
from rowan.web.care.models import LogFile, LoopHealth
from rowan.web.plans import policy
from rowan.web.plans.models import Plan, WeatherYear
from rowan.web.ui.errors import WebError

MOST_FILES = 40
LEVEL = 6  # of compression: a year of minutes in a third of a second more than at 1, and half as large
# joined logs of the plans that were looked at last, by what they are made of
_kept = Kept(4)


class LogRefusedError(WebError):
    """A logger's file, or how it is to be read, that cannot be taken: why."""


def zone_in(plan: Plan, longitude: float) -> float:
    """The same as somebody has typed it with a log of the plan, else by longitude [h]."""
    named = plan.logs.exclude(columns=b"").order_by("-at").values_list("mapping", flat=True).first()
    return float(named["zone_h"]) if named else winter_clock(longitude)


def take_file(*, plan: Plan, person: User, name: str, data: bytes, zone_h: float) -> LogFile:
    """Keeps a file. Where a file with the same head was named before, it is read at once; else its columns wait to be named.

    Raises LogRefusedError for what is no log, is there already, or is one too many, and NotAllowedError.
    """
    try:
        found = opened(data)
    except LogError as error:
        raise LogRefusedError(str(error)) from error
    digest, signature = hashlib.sha256(data).hexdigest(), _signature(found)
    with transaction.atomic():
        policy.check(person, plan.job.firm)
        if plan.logs.filter(digest=digest).exists():
            raise LogRefusedError("the same file is here already")
        if plan.logs.count() >= MOST_FILES:
            raise LogRefusedError(tr("a plan keeps at most {most} files; throw one away first", most=MOST_FILES))
        file = LogFile.objects.create(
            plan=plan,
            name=name[:120] or "log.csv",
            digest=digest,
            signature=signature,
            size=len(data),
            raw=gzip.compress(data, LEVEL, mtime=0),
            person=person,
        )
        before = plan.logs.filter(signature=signature).exclude(columns=b"").exclude(pk=file.pk).order_by("-at").first()
        if before is not None:
            _read(file, found, mapping_of(before.mapping), float(before.mapping["zone_h"]))
    return file


def _signature(found: Opened) -> str:
    said = repr((found.sheet.delimiter, found.sheet.names, found.sheet.units))
    return hashlib.sha256(said.encode()).hexdigest()


def open_again(file: LogFile, prefers: str = "dmy") -> Opened:
    """A kept file as it opens."""
    with gzip.GzipFile(fileobj=io.BytesIO(bytes(file.raw))) as unpacking:
        data = unpacking.read(LARGEST_BYTES + 1)
    return opened(data, prefers="mdy" if prefers == "mdy" else "dmy")


def name_columns(
    *, file: LogFile, person: User, channels: dict[int, tuple[str, str]], clock: str, prefers: str, zone_h: float
) -> None:
    """Reads a file as somebody has said. Raises LogRefusedError, NotAllowedError."""
    if clock not in get_args(Clock) or prefers not in get_args(DayOrder):
        raise LogRefusedError("choose how its clock is read")
    if not LEAST_ZONE <= zone_h <= MOST_ZONE:
        raise LogRefusedError(tr("no clock is {zone_h} hours from universal time", zone_h=f"{zone_h:g}"))
    for key, unit in channels.values():
        if key not in BY_KEY or unit not in UNITS or UNITS[unit][0] != BY_KEY[key].kind:
            label = BY_KEY[key].label if key in BY_KEY else key
            raise LogRefusedError(tr("the {label} cannot be given in {unit}", label=label, unit=unit or "nothing"))
    with transaction.atomic():
        policy.check(person, file.plan.job.firm)
        found = open_again(file, prefers)
        LoopHealth.objects.filter(plan=file.plan).delete()
        _read(file, found, LogMapping(channels, clock, prefers), zone_h)  # type: ignore[arg-type]


def mapping_of(kept: dict[str, Any]) -> LogMapping:
    """A mapping as it is kept."""
    channels = {int(at): (key, unit) for at, (key, unit) in kept["channels"].items()}
    return LogMapping(channels, kept["clock"], kept["prefers"])


def _read(file: LogFile, found: Opened, mapping: LogMapping, zone_h: float) -> None:
    width = len(found.sheet.names)
    if any(not 0 <= at < width for at in mapping.channels):
        raise LogRefusedError("the file has no such column")
    try:
        log = read_log(found, mapping, zone_h=zone_h, now=timezone.now())
    except LogError as error:
        raise LogRefusedError(str(error)) from error
    sky = {"sky": file.mapping["sky"]} if "sky" in file.mapping else {}
    file.mapping = sky | {
        "channels": {str(at): list(pair) for at, pair in mapping.channels.items()},
        "clock": mapping.clock,
        "prefers": mapping.prefers,
        "zone_h": zone_h,
    }
    file.columns, file.rows, file.first, file.last = packed(log), len(log.at), log.begins, log.ends
    file.repairs = [[repair.key, repair.what, repair.count] for repair in log.repairs]
    file.save()


def packed(log: Log) -> bytes:
    """The columns of a log, compressed: four bytes a number, which is finer than any sensor."""
    into = io.BytesIO()
    arrays: dict[str, Any] = {"at": log.at, **{key: values.astype("<f4") for key, values in log.columns.items()}}
    np.savez_compressed(into, **arrays)
    return into.getvalue()


def unpacked(file: LogFile) -> Log:
    """The log of a file whose columns are named."""
    with np.load(io.BytesIO(bytes(file.columns)), allow_pickle=False) as found:
        columns = {key: found[key].astype(float) for key in found.files if key != "at"}
        at = found["at"]
    repairs = tuple(Repair(*row) for row in file.repairs)
    return Log(at, columns, usual_step(at), repairs)


def checked_columns(data: bytes) -> bytes:
    """Columns that come from elsewhere, looked at before they are kept. Raises LogRefusedError for anything but columns of numbers."""
    if not data:
        return data
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as inside:
            if sum(info.file_size for info in inside.infolist()) > MOST_ROWS * 8 * (len(BY_KEY) + 1):
                raise LogRefusedError("a log in it is longer than any")
        with np.load(io.BytesIO(data), allow_pickle=False) as found:
            at = found["at"]
            good = at.dtype == np.int64 and at.ndim == 1 and len(at) > 0 and bool((np.diff(at) > 0).all())
            others = [key for key in found.files if key != "at"]
            good = good and all(
                key in BY_KEY and found[key].dtype == np.float32 and found[key].shape == at.shape for key in others
            )
    except (ValueError, KeyError, OSError, EOFError, zipfile.BadZipFile) as error:
        raise LogRefusedError("a log in it cannot be read") from error
    if not good:
        raise LogRefusedError("a log in it holds no columns of numbers")
    return data


def log_of(plan: Plan) -> Log | None:
    """All that the files of a plan hold, joined; None where no columns are named yet."""
    files = list(plan.logs.exclude(columns=b"").defer("raw", "columns").order_by("first", "pk"))
    if not files:
        return None
    key = tuple((file.digest, str(file.mapping)) for file in files)
    log = _kept.get(key)
    if log is None:
        rows = plan.logs.filter(pk__in=[file.pk for file in files]).defer("raw").order_by("first", "pk")
        log = _kept.keep(key, joined([unpacked(file) for file in rows]))
    return log  # type: ignore[no-any-return]


def use_sky(*, plan: Plan, person: User, digest: str) -> None:
    """The weather year of the log's days, by its digest; none for an empty one. Raises LogRefusedError, NotAllowedError."""
    if digest and not WeatherYear.objects.filter(firm=plan.job.firm, digest=digest).exists():
        raise LogRefusedError("there is no such weather year")
    with transaction.atomic():
        policy.check(person, plan.job.firm)
        LoopHealth.objects.filter(plan=plan).delete()
        for file in plan.logs.exclude(columns=b"").defer("raw", "columns"):
            file.mapping = {
                **{key: value for key, value in file.mapping.items() if key != "sky"},
                **({"sky": digest} if digest else {}),
            }
            file.save(update_fields=["mapping"])


def delete_file(*, file: LogFile, person: User) -> None:
    """Throws a file away, with what was read from it. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, file.plan.job.firm)
        # what was said of the log with it no longer holds
        LoopHealth.objects.filter(plan=file.plan).delete()
        file.delete()


def offered(found: Opened, kept: dict[str, Any]) -> LogMapping:
    """What the page of a file's columns shows: as it was named, else as it is guessed."""
    return mapping_of(kept) if kept else as_guessed(found)
