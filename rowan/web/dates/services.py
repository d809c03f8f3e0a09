"""What is done with visits: each through the policy, in one transaction; nothing is told to anybody outside."""

from __future__ import annotations

import secrets
import uuid
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from django.db import transaction
from django.utils import timezone

from rowan.core.records.visits import KINDS
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts import policy
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import note
from rowan.web.dates.models import Visit
from rowan.web.plans.models import Job
from rowan.web.ui.errors import NoSuchStepError

LONGEST = timedelta(days=120)  # a scaffold on a large roof; more is a slip of the pen


@record
class Wish:
    """A visit as somebody wants it: times by the clock on the wall."""

    kind: str
    start: datetime
    end: datetime
    people: Sequence[User] = ()
    job: Job | None = None
    words: str = ""


def _checked(firm: Firm, wish: Wish) -> None:
    """Raises NoSuchStepError for what cannot be."""
    if wish.kind not in KINDS:
        raise NoSuchStepError("there is no such kind of visit")
    if wish.end <= wish.start:
        raise NoSuchStepError("it ends before it begins")
    if wish.end - wish.start > LONGEST:
        raise NoSuchStepError(tr("longer than {days} days", days=LONGEST.days))
    if wish.job is not None and wish.job.firm_id != firm.pk:
        raise NoSuchStepError("there is no such job")
    if any(one.firm_id != firm.pk for one in wish.people):
        raise NoSuchStepError("there is no such person")
    if not wish.people and wish.kind != "scaffold":
        raise NoSuchStepError("who comes?")


def save_visit(*, firm: Firm, person: User, wish: Wish, visit: Visit | None = None) -> Visit:
    """A new visit, or another time, place or people for one. Raises NoSuchStepError for what cannot be, NotAllowedError."""
    _checked(firm, wish)
    with transaction.atomic():
        policy.check(person, firm, "work")
        found = visit or Visit(firm=firm, uid=str(uuid.uuid4()))
        if visit is not None:
            found.sequence = Visit.objects.select_for_update().get(pk=visit.pk).sequence + 1
        found.kind, found.job, found.words = wish.kind, wish.job, wish.words.strip()[:200]
        found.start, found.end = wish.start.replace(tzinfo=UTC), wish.end.replace(tzinfo=UTC)
        found.cancelled = None
        found.save()
        found.people.set(wish.people)
    return found


def move_visit(*, visit: Visit, person: User, start: datetime) -> Visit:
    """The same visit at another time. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, visit.firm, "work")
        found = Visit.objects.select_for_update().get(pk=visit.pk)
        length = found.end - found.start
        found.start = start.replace(tzinfo=UTC)
        found.end = found.start + length
        found.sequence += 1
        found.save()
    return found


def cancel_visit(*, visit: Visit, person: User) -> None:
    """It does not take place; calendars are told so. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, visit.firm, "work")
        found = Visit.objects.select_for_update().get(pk=visit.pk)
        found.cancelled, found.sequence = timezone.now(), found.sequence + 1
        found.save()
        note(visit.firm, person, f"called visit {visit.pk} off")


def set_feed(*, person: User, wanted: bool) -> None:
    """A new secret link to one's calendar, the old one opens nothing any more; or none."""
    User.objects.filter(pk=person.pk).update(feed=secrets.token_urlsafe(32) if wanted else "")
    person.refresh_from_db()


def owner_of_feed(token: str) -> User | None:
    """Whose calendar a link opens; None for one that opens none."""
    return User.objects.filter(feed=token, is_active=True).first() if token else None
