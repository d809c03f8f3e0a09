"""What was done on site in the invented world: the Kvist house filled in a day, with one short way round and its cure; Corrim half
way; a run under Pipwater's lawn tested before it was covered."""

from __future__ import annotations

import io
import math
import uuid
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from django.utils import timezone
from PIL import Image, ImageDraw

from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Entry, Photo, Run
from rowan.web.commissioning.photos import photograph
from rowan.web.commissioning.services import note_standing
from rowan.web.plans.models import Plan

# minutes after the start, step, then what was read [SI], ticked, said
Row = tuple[int, str, dict[str, float], str]
KVIST_BEGAN = datetime(2025, 5, 12, 5, 5, tzinfo=UTC)
KVIST: tuple[Row, ...] = (
    (20, "inspect", {"field_c": 14.0, "gauge_zero": 0.0, "gauge_division": 1e4, "store_full": 1, "looked_over": 1}, ""),
    (40, "vessel", {"vessel_found": 3.0e5, "vessel_set": 1.48e5, "vessel_after": 1.48e5, "pin_dry": 1}, ""),
    (65, "flush", {"flush_out": 0.066, "flush_clear": 1}, ""),
    (125, "test", {"test_p1": 5.4e5, "test_t1": 12.0, "test_ml10": 0.35e-6, "test_ml20": 0.18e-6, "test_ml50": 0.08e-6,
                   "test_p2": 5.39e5, "test_t2": 12.0, "test_dry": 1}, ""),
    (150, "release", {"release_out": 0.0191}, ""),
    (170, "prepare", {"mix_ready": 0.0281, "tub_share": 0.405, "bucket_s": 21.0}, ""),
    (180, "fill", {"colour_s": 4.0}, ""),
    (190, "fill", {"colour_s": 88.0, "tub_fell": 0.160}, "Valve 2 stood half open. Shut, filled again."),
    (230, "purge", {"purge_s": 840.0, "purge_rounds": 4, "no_bubble": 1}, ""),
    (250, "raise", {"raise_before": 1.2e5, "raise_litres": 0.06e-3, "raise_peak": 3.5e5, "raise_after": 3.5e5}, ""),
    (275, "open", {"hose_bled": 1, "open_litres": 1.9e-3, "open_fill": 1.78e5, "open_c": 12.0}, ""),
    (310, "run", {"between_open": 1, "run_flow": 4.2 / 60000, "run_speed": 1, "arrival_s": 66.0, "run_fill": 1.78e5}, ""),
    (325, "settings", {"set_start": 8.0, "set_stop": 3.0, "set_limit": 80.0, "sensors": 1, "automatic": 1}, ""),
    (340, "fluid", {"frost_c": -21.8, "fluid_ph": 8.3}, ""),
    (350, "taps", {"tap_c": 47.0, "cold_shut": 1, "main_takes": 1}, ""),
    (365, "provoked", {"power_cut": 1, "sensor_pulled": 1, "limit_lowered": 1}, ""),
    (372, "close", {"left_p": 1.78e5, "left_c": 13.0, "handles": 1, "caps": 1}, ""),
)  # fmt: skip
CORRIM: tuple[Row, ...] = (
    (10, "inspect", {"field_c": 9.0, "store_full": 1, "looked_over": 1}, ""),
    (55, "falls", {"fall_least": 0.024, "falls_written": 1}, "Leg h4 shimmed from 1.4 to 2.4 %."),
    (80, "flush", {"flush_clear": 1}, ""),
    (140, "test", {"test_p1": 5.4e5, "test_t1": 9.0}, "Goes on tomorrow before sunrise."),
)
LAWN: tuple[Row, ...] = (
    (60, "bench", {"test_p1": 1.8e5, "test_t1": 15.0, "test_ml10": 4e-6, "test_ml20": 1.8e-6, "test_ml50": 1.2e-6, "test_p2": 1.8e5,
                   "test_t2": 15.0, "test_dry": 1}, ""),
)  # fmt: skip
CURED = "cured, done again"  # why a reading was taken twice
NOT_DONE = {"test"}  # of the runs that are still open, the step they stopped in
TICKS = frozenset({
    "store_full", "looked_over", "pin_dry", "flush_clear", "test_dry", "no_bubble", "hose_bled", "between_open", "sensors", "automatic",
    "cold_shut", "main_takes", "power_cut", "sensor_pulled", "limit_lowered", "handles", "caps", "falls_written",
})  # fmt: skip
HAND = "M20 88 L40 30 L60 84 L80 40 L96 80 L120 52 L140 80 L170 40 L190 82 L230 60 L280 58"


def kvist_run(plan: Plan, person: User) -> Run:
    """The house filled on a cool morning in May."""
    run = _run(plan, person, "first", KVIST_BEGAN)
    entries = list(_entries(run, person, KVIST))
    for minute, kind, text in (
        (22, "tool", "gauge 0 to 6 bar, marks of 0.1, checked in March; refractometer zeroed in water"),
        (374, "sign", f"{person.name}|{HAND}"),
        (375, "close", person.name),
    ):
        entries.append(_entry(run, person, KVIST_BEGAN + timedelta(minutes=minute), kind, text=text))
    for step, pressure in (("vessel", 1.48), ("close", 1.78)):
        taken = photograph(_gauge(pressure))
        Photo.objects.create(
            run=run, sha256=taken.sha256, width=taken.width, height=taken.height, content=taken.content, small=taken.small
        )  # fmt: skip
        at = next(entry.at for entry in reversed(entries) if entry.step == step)
        entries.append(_entry(run, person, at, "photo", step, text=taken.sha256))
    return _keep(run, entries)


def corrim_run(plan: Plan, person: User) -> Run:
    """The hostel, stopped in its pressure test."""
    began = timezone.now().replace(hour=6, minute=0, second=0, microsecond=0) - timedelta(days=1)
    run = _run(plan, person, "first", began)
    entries = list(_entries(run, person, CORRIM))
    return _keep(run, [*entries, _entry(run, person, began + timedelta(minutes=141), "pause")])


def lawn_run(plan: Plan, person: User) -> Run:
    """The run under the lawn, on the bench; the trench is still to come."""
    began = timezone.now().replace(hour=8, minute=0, second=0, microsecond=0) - timedelta(days=3)
    run = _run(plan, person, "bench", began)
    return _keep(run, list(_entries(run, person, LAWN)))


def _run(plan: Plan, person: User, kind: str, began: datetime) -> Run:
    return Run.objects.create(
        plan=plan, revision=plan.head, kind=kind, started_by=person, started=began, sent=str(uuid.uuid4())
    )


def _entries(run: Run, person: User, rows: Iterable[Row]) -> Iterable[Entry]:
    rows = list(rows)
    for number, (minute, step, read, note) in enumerate(rows):
        at, before = run.started + timedelta(minutes=minute), rows[number - 1][0] if number else 0
        each = (minute - before) * 0.9 / len(read)
        for back, (name, value) in enumerate(reversed(read.items())):
            kind = "tick" if name in TICKS else "read"
            yield _entry(run, person, at - timedelta(minutes=each * (back + 0.2)), kind, step, name, float(value))
        if note:
            yield _entry(run, person, at, "note", step, text=note)
        goes_on = number + 1 < len(rows) and rows[number + 1][1] == step
        unfinished = step in NOT_DONE and "test_p2" not in read
        if not goes_on and not unfinished:
            yield _entry(run, person, at + timedelta(seconds=5), "done", step)


def _entry(
    run: Run,
    person: User,
    at: datetime,
    kind: str,
    step: str = "",
    name: str = "",
    value: float | None = None,
    text: str = "",
) -> Entry:
    return Entry(
        run=run, kind=kind, step=step, field=name, value=value, text=text, person=person, at=at, sent=str(uuid.uuid4())
    )


def _keep(run: Run, entries: list[Entry]) -> Run:
    entries.sort(key=lambda entry: entry.at)
    read: set[str] = set()
    for number, entry in enumerate(entries, 1):
        entry.number, entry.received = number, entry.at
        entry.reason = CURED if entry.field in read else ""
        read |= {entry.field} if entry.kind == "read" else set()
    Entry.objects.bulk_create(entries)
    note_standing(run)
    return run


def _gauge(bar: float) -> bytes:
    """A gauge as a telephone sees it, drawn: nobody's boiler room is shown."""
    picture = Image.new("RGB", (640, 480), "#8f8a80")
    pen = ImageDraw.Draw(picture)
    pen.ellipse((170, 90, 470, 390), fill="#f4f1ea", outline="#3a3a3a", width=10)
    for tick in range(0, 61):
        angle = math.radians(225 - tick * 4.5)
        inner = 108 if tick % 10 else 96
        ends = [(320 + r * math.cos(angle), 240 - r * math.sin(angle)) for r in (inner, 122)]
        pen.line(ends, fill="#27231f", width=2 if tick % 10 else 4)
    angle = math.radians(225 - bar * 45)
    pen.line([(320, 240), (320 + 100 * math.cos(angle), 240 - 100 * math.sin(angle))], fill="#a3163a", width=6)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=80)
    return out.getvalue()
