"""Visits as iCalendar (RFC 5545): the same UID always, a higher sequence for each change, floating times by the clock on the wall."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.utils import timezone
from icalendar import Calendar, Event

from rowan.core.terms.language import tr
from rowan.web.accounts.models import User
from rowan.web.dates.models import Visit

BACK, AHEAD = timedelta(days=60), timedelta(days=365)


def visits_of(person: User) -> Iterable[Visit]:
    """A person's visits of late and to come."""
    now = timezone.now()
    rows = Visit.objects.filter(firm=person.firm, people=person, end__gt=now - BACK, start__lt=now + AHEAD)
    return rows.select_related("job__card__site", "job__card__customer")


def calendar_of(visits: Iterable[Visit]) -> bytes:
    """A calendar of visits; who is a customer is not in it but by the site's address, which one needs to get there."""
    made = Calendar()
    made.add("prodid", "-//Rowan//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", "Rowan")
    for visit in visits:
        made.add_component(_event(visit))
    return bytes(made.to_ical())


def _event(visit: Visit) -> Event:
    event = Event()
    event.add("uid", f"visit-{visit.uid}@rowan")
    event.add("sequence", visit.sequence)
    event.add("dtstamp", visit.changed)
    event.add("dtstart", visit.start.replace(tzinfo=None))
    event.add("dtend", visit.end.replace(tzinfo=None))
    event.add("summary", f"{tr(visit.get_kind_display()).capitalize()}: {visit.title}")
    event.add("status", "CANCELLED" if visit.cancelled else "CONFIRMED")
    if visit.words:
        event.add("description", visit.words)
    card = getattr(visit.job, "card", None) if visit.job is not None else None
    if card is not None and card.site is not None:
        event.add("location", str(card.site))
    return event
