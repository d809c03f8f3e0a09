"""What is read of a loop by hand: gauge, level, heat meter; kept in the job's diary, struck out by a further entry, and put together from
the diary, the householder's looks, the runs on site and the log."""

from __future__ import annotations

import uuid
from collections.abc import Iterator, Mapping
from datetime import date, timedelta

import numpy as np
from django.db import transaction
from django.utils import timezone

from rowan.core.design.design import Design
from rowan.core.records.care.counters import Counter
from rowan.core.records.care.gauge_series import GaugeRead, LevelRead
from rowan.core.records.logs.days import Days
from rowan.core.terms.dates import day_said
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown, typed_to_si
from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Entry
from rowan.web.house.models import DiaryEntry
from rowan.web.plans import policy
from rowan.web.plans.models import Plan
from rowan.web.ui.errors import WebError

EPOCH = date(1970, 1, 1)
# what is typed: its dimension, its name, and between what it can be [SI]
READABLE: dict[str, tuple[str, str, float, float]] = {
    "gauge": ("pressure", "gauge", -1e5, 2e6),
    "at_c": ("temperature", "warmth at the gauge", -45.0, 150.0),
    "level": ("level", "level", -2.0, 2.0),
    "heat": ("energy", "heat meter", 0.0, 1e15),
    "ran": ("hours", "pump hours", 0.0, 1e10),
}
# readings of the gauge in a run on site, each with its field of the warmth; None: cold, before sunrise
RUN_READS: dict[str, str | None] = {"left_p": "left_c", "weeks_fill": None, "found_p": "found_c", "open_fill": "open_c"}
MARK_NIGHTS = 7  # nights at first, whose level is taken for the mark
MOST_NIGHTS = 80  # nights of a log that are shown: an even choice


class NotReadError(WebError):
    """A reading that cannot be kept, and why: by field."""

    def __init__(self, wrong: Mapping[str, str]) -> None:
        super().__init__("; ".join(wrong.values()))
        self.wrong = dict(wrong)


def asked_by_hand(design: Design) -> tuple[str, ...]:
    """What can be read by hand of a kind of loop."""
    first = ("gauge", "at_c") if design.sealed else ("level",) if design.drains else ()
    return (*first, "heat", *(("ran",) if design.pumped else ()))


def keep_reading(
    *, plan: Plan, person: User, typed: Mapping[str, str], asked: tuple[str, ...], units: System
) -> DiaryEntry:
    """Keeps what somebody has typed. Raises NotReadError by field, NotAllowedError."""
    wrong: dict[str, str] = {}
    values = {key: value for key in asked if (value := _value(key, typed.get(key, ""), units, wrong)) is not None}
    day = _day(typed.get("day", ""), wrong)
    if not wrong and not values.keys() - {"at_c"}:
        wrong[asked[0]] = "type at least one reading"
    if wrong:
        raise NotReadError(wrong)
    said = ", ".join(f"{tr(READABLE[key][1])} {shown(value, READABLE[key][0], units)}" for key, value in values.items())
    with transaction.atomic():
        policy.check(person, plan.job.firm, "propose")
        return DiaryEntry.objects.create(
            job=plan.job,
            kind=DiaryEntry.Kind.READ,
            person=person,
            words=tr("Read on {day}: {said}.", day=day_said(day, year=True).text(), said=said),
            data={"plan": plan.letter, "id": uuid.uuid4().hex, "day": day.isoformat(), **values},
        )


def _value(key: str, text: str, units: System, wrong: dict[str, str]) -> float | None:
    text = text.replace("\x00", "").strip()[:40]
    if not text:
        return None
    dimension, name, low, high = READABLE[key]
    try:
        value = typed_to_si(text, dimension, units)
    except TypedNumberError as error:
        wrong[key] = f"{name}: {error.text(units)}"
        return None
    if not low <= value <= high:
        wrong[key] = tr("{name}: {read} cannot be", name=name, read=shown(value, dimension, units))
    return value


def _day(text: str, wrong: dict[str, str]) -> date:
    today = timezone.localdate()
    try:
        day = date.fromisoformat(text.strip()) if text.strip() else today
    except ValueError:
        wrong["day"] = "day: that is no date"
        return today
    if day > today:
        wrong["day"] = "day: it is still to come"
    elif day < today - timedelta(days=30 * 365):
        wrong["day"] = "day: that is too long ago"
    return day


def strike_out(*, entry: DiaryEntry, person: User) -> None:
    """A reading that was wrong counts no more; it stays in the diary, with a further entry that says so. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, entry.job.firm, "propose")
        DiaryEntry.objects.create(
            job=entry.job,
            kind=DiaryEntry.Kind.READ,
            person=person,
            words=tr("Struck out: {words}", words=entry.words),
            data={"plan": entry.data.get("plan"), "strikes": entry.data["id"]},
        )


@record
class ByHand:
    """All that was read of a plan's loop besides its log: entries of the diary that count, and what they are for."""

    entries: tuple[DiaryEntry, ...]
    gauges: tuple[GaugeRead, ...]
    levels: tuple[LevelRead, ...]
    heats: tuple[Counter, ...]
    ran: tuple[Counter, ...]


def readings_of(plan: Plan) -> ByHand:
    """What the diary and the runs of a plan say, in the order of their days."""
    rows = [
        one
        for one in plan.job.diary.filter(kind=DiaryEntry.Kind.READ).select_related("person")
        if one.data.get("plan") == plan.letter
    ]
    struck = {one.data["strikes"] for one in rows if "strikes" in one.data}
    entries = tuple(one for one in rows if "strikes" not in one.data and one.data["id"] not in struck)
    gauges = [*_looked(plan), *_on_runs(plan)]
    levels: list[LevelRead] = []
    counted: dict[str, list[Counter]] = {"heat": [], "ran": []}
    for one in entries:
        day, who = date.fromisoformat(one.data["day"]), str(one.person or "")
        if "gauge" in one.data:
            gauges.append(GaugeRead(day, one.data["gauge"], one.data.get("at_c"), who=who))
        if "level" in one.data:
            levels.append(LevelRead(day, one.data["level"], who))
        for key, found in counted.items():
            if key in one.data:
                found.append(Counter(day, one.data[key]))
    return ByHand(
        tuple(sorted(entries, key=lambda one: one.data["day"], reverse=True)),
        tuple(sorted(gauges, key=lambda one: one.day)),
        tuple(sorted(levels, key=lambda one: one.day)),
        tuple(counted["heat"]),
        tuple(counted["ran"]),
    )


def _looked(plan: Plan) -> Iterator[GaugeRead]:
    """Looks of whoever lives there, by the link to this plan."""
    for look in plan.job.diary.filter(kind=DiaryEntry.Kind.LOOK).select_related("link"):
        if "gauge" in look.data and (look.link is None or look.link.plan_id == plan.pk):
            yield GaugeRead(timezone.localdate(look.at), look.data["gauge"], who="the house")


def _on_runs(plan: Plan) -> Iterator[GaugeRead]:
    """Gauges read in runs on site, the last of each."""
    wanted = [*RUN_READS, *(field for field in RUN_READS.values() if field)]
    rows = Entry.objects.filter(run__plan=plan, kind="read", field__in=wanted).order_by("run", "number")
    by_run: dict[int, dict[str, Entry]] = {}
    for row in rows.select_related("person"):
        by_run.setdefault(row.run_id, {})[row.field] = row
    for found in by_run.values():
        for field, warm in RUN_READS.items():
            read = found.get(field)
            if read is None or read.value is None:
                continue
            at = found[warm].value if warm is not None and warm in found else None
            if warm is None or at is not None:
                yield GaugeRead(timezone.localdate(read.at), read.value, at, who=str(read.person))


def levels_of_nights(days: Days) -> list[LevelRead]:
    """The level of a log's nights over what it was in the first of them; their number is an even choice."""
    nights = np.flatnonzero(np.isfinite(days.level_night))
    if not len(nights):
        return []
    mark = float(np.median(days.level_night[nights[:MARK_NIGHTS]]))
    chosen = nights[:: max(1, -(-len(nights) // MOST_NIGHTS))]
    return [
        LevelRead(EPOCH + timedelta(days=int(days.day[n])), float(days.level_night[n]) - mark, "the log")
        for n in chosen
    ]


def of_nights(days: Days) -> list[GaugeRead]:
    """The gauge of a log's nights, with its field as cold as it was then: an even choice of them."""
    nights = np.flatnonzero(np.isfinite(days.gauge_night) & np.isfinite(days.field_night))
    chosen = nights[:: max(1, -(-len(nights) // MOST_NIGHTS))]
    return [
        GaugeRead(
            EPOCH + timedelta(days=int(days.day[n])),
            float(days.gauge_night[n]),
            outdoors=float(days.field_night[n]),
            who="the log",
        )
        for n in chosen
    ]
