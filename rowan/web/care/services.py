"""Taking readings in, making and ending devices, keeping what was left set."""

from __future__ import annotations

import hashlib
import json
import secrets
from collections import Counter
from dataclasses import asdict
from datetime import UTC, datetime, timedelta

from django.db import transaction
from django.utils import timezone

from rowan.core.records.readings import Reading as Read
from rowan.core.records.readings import clock_is_off, once_each, reading_of
from rowan.core.terms.errors import ReadingError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import User
from rowan.web.care.models import Device, LeftSetting, Reading
from rowan.web.plans import policy
from rowan.web.plans.models import Plan
from rowan.web.ui.errors import WebError

MOST_LINES, LONGEST_LINE = 2000, 1000
MOST_DEVICES = 5
MOST_A_DAY = 100_000  # readings of a device: one a second is 86,400
TOKEN_BYTES = 24


class LineRefusedError(WebError):
    """A line of readings that cannot be taken: its number from 1 and why. Nothing of the lot is stored."""

    def __init__(self, number: int, reason: str) -> None:
        self.number = number
        super().__init__(reason)


class TooManyDevicesError(WebError):
    """A plan has as many devices as it can have."""


class TooManyReadingsError(WebError):
    """A device has sent more readings of one day than any controller takes."""


@record
class Taken:
    """How many readings were new, how many were known already, and how many of the new are kept aside for their clock."""

    stored: int
    known: int
    aside: int


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def make_device(*, plan: Plan, name: str, person: User) -> tuple[Device, str]:
    """A device and its token, which is not kept. Raises TooManyDevicesError, NotAllowedError."""
    with transaction.atomic():
        policy.check(person, plan.job.firm)
        if plan.devices.count() >= MOST_DEVICES:
            raise TooManyDevicesError
        token = secrets.token_urlsafe(TOKEN_BYTES)
        device = Device.objects.create(plan=plan, name=name, token_digest=_digest(token), made_by=person)
    return device, token


def device_of_token(token: str) -> Device | None:
    """The device of a token, None for an unknown one."""
    return Device.objects.filter(token_digest=_digest(token)).first() if token else None


def lines_of(text: str) -> list[Read]:
    """Readings from JSON lines; empty lines are passed over. Raises LineRefusedError."""
    lines = text.splitlines()
    if len(lines) > MOST_LINES:
        raise LineRefusedError(MOST_LINES + 1, tr("at most {most} lines at once", most=MOST_LINES))
    found = []
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        if len(line) > LONGEST_LINE:
            raise LineRefusedError(number, tr("longer than {most} letters", most=LONGEST_LINE))
        try:
            found.append(reading_of(json.loads(line, object_pairs_hook=once_each)))
        except ReadingError as error:
            raise LineRefusedError(number, error.text("metric")) from error
        except (ValueError, RecursionError) as error:
            raise LineRefusedError(number, "this is no JSON") from error
    if not found:
        raise LineRefusedError(1, "there is no reading in it")
    return found


def take_in(device: Device, found: list[Read]) -> Taken:
    """Stores what is new: a moment counts once, in whatever order it comes, and the first of two readings of it stays. What a wrong
    clock has dated is kept aside. Raises TooManyReadingsError."""
    by_moment: dict[datetime, Read] = {}
    for reading in found:
        by_moment.setdefault(reading.at, reading)
    now = timezone.now()
    with transaction.atomic():
        known = set(device.readings.filter(at__in=list(by_moment)).values_list("at", flat=True))
        new = [
            Reading(device=device, **asdict(r), aside=clock_is_off(r, now))
            for at, r in by_moment.items()
            if at not in known
        ]
        _refuse_too_many(device, new)
        Reading.objects.bulk_create(new, ignore_conflicts=True)
        device.heard = now
        device.save(update_fields=["heard"])
    return Taken(len(new), len(found) - len(new), sum(reading.aside for reading in new))


def _refuse_too_many(device: Device, new: list[Reading]) -> None:
    """Counts each day that is sent. Raises TooManyReadingsError."""
    days = Counter(reading.at.astimezone(UTC).replace(hour=0, minute=0, second=0, microsecond=0) for reading in new)
    for day, more in days.items():
        there = device.readings.filter(at__gte=day, at__lt=day + timedelta(days=1)).count()
        if there + more > MOST_A_DAY:
            raise TooManyReadingsError(
                tr(
                    "more than {most} readings of {day}; send fewer, one a minute is enough",
                    most=MOST_A_DAY,
                    day=f"{day:%Y-%m-%d}",
                )
            )


class LeftMeanwhileError(WebError):
    """Somebody else wrote down what was left since this page was read."""


def left_state(plan: Plan) -> str:
    """What is written down for a plan, as a short digest: a page brings back the one it was made from."""
    rows = plan.left_settings.order_by("path").values_list("path", "number", "words", "at")
    return hashlib.sha256(repr(list(rows)).encode()).hexdigest()[:16]


def leave_settings(
    *, plan: Plan, person: User, numbers: dict[str, float | None], words: dict[str, str], seen: str | None = None
) -> None:
    """Keeps what was left set; None or no words takes an entry away.

    `seen` is the state the page was made from, None for who has seen none. Raises LeftMeanwhileError if it is another by
    now, and NotAllowedError.
    """
    with transaction.atomic():
        Plan.everything.select_for_update().get(pk=plan.pk)
        policy.check(person, plan.job.firm)
        if seen is not None and seen != left_state(plan):
            raise LeftMeanwhileError("somebody wrote down what was left meanwhile")
        for path, number in numbers.items():
            if number is None:
                plan.left_settings.filter(path=path).delete()
            else:
                LeftSetting.objects.update_or_create(
                    plan=plan, path=path, defaults={"number": number, "words": "", "author": person}
                )
        for path, text in words.items():
            if not text:
                plan.left_settings.filter(path=path).delete()
            else:
                LeftSetting.objects.update_or_create(
                    plan=plan, path=path, defaults={"number": None, "words": text, "author": person}
                )
