"""What devices of a loop have sent, as a compressed table and back."""

from __future__ import annotations

import csv
import gzip
import io
import zlib
from collections.abc import Iterator

from rowan.core.records.readings import LIMITS, reading_of
from rowan.web.care.models import Device, Reading

HEAD = ("at", *LIMITS, "aside")
MOST_BYTES = 400_000_000  # of a table unpacked: some years of minutes
AT_ONCE = 2000


def packed_readings(device: Device) -> bytes:
    """The readings of a device in their order; the same readings give the same bytes."""
    into = io.BytesIO()
    with (
        gzip.GzipFile(fileobj=into, mode="wb", mtime=0) as packing,
        io.TextIOWrapper(packing, encoding="utf-8", newline="") as text,
    ):
        writer = csv.writer(text, lineterminator="\n")
        writer.writerow(HEAD)
        for row in device.readings.order_by("at").values_list(*HEAD).iterator(chunk_size=AT_ONCE):
            writer.writerow(
                [row[0].isoformat(), *("" if value is None else repr(value) for value in row[1:-1]), int(row[-1])]
            )
    return into.getvalue()


def take_readings(device: Device, data: bytes) -> None:
    """Readings of a table into a device. Raises ValueError for what is none, ReadingError for one that cannot be."""
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as packing:
            text = packing.read(MOST_BYTES + 1)
    except (OSError, EOFError, zlib.error) as error:
        raise ValueError("readings that cannot be unpacked") from error
    if len(text) > MOST_BYTES:
        raise ValueError("more readings than a loop can have")
    rows = csv.reader(io.StringIO(text.decode("utf-8"), newline=""))
    if tuple(next(rows, ())) != HEAD:
        raise ValueError("readings with another head")
    Reading.objects.bulk_create(_made(device, rows), batch_size=AT_ONCE)


def _made(device: Device, rows: Iterator[list[str]]) -> Iterator[Reading]:
    for at, *values, aside in rows:
        given = {key: float(text) for key, text in zip(LIMITS, values, strict=True) if text}
        found = reading_of({"at": at, **given})
        yield Reading(device=device, aside=aside == "1", **vars(found))
