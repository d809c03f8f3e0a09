"""What a run leaves to be done: the day somebody comes back, a joint to be looked at again; for the ledger and for a calendar."""

from __future__ import annotations

from datetime import date, timedelta

from django.db.models import Exists, OuterRef, Q, QuerySet
from django.utils import timezone
from icalendar import Calendar, Event

from rowan.core.records.run import RunState, hung_dry
from rowan.core.steps.commission.order import DRY_DAYS_STOP
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import User
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.services import state_of
from rowan.web.plans.models import Plan

MOST_WEEKS_DAYS = 120  # after a run beyond which what is due is a service, not a second bleeding
MOST_REMINDED = 40  # runs, the newest first
CAME_BACK = ("rebleed", "service")  # kinds of run by which somebody came back


@record
class Reminder:
    """Something that is due: what, at which run, on what day."""

    run: Run
    what: str
    on: date

    def late(self, today: date) -> bool:
        """Whether its day has passed."""
        return self.on < today


def reminders(person: User) -> list[Reminder]:
    """What is due at the jobs a person may see, the first due first; read from what each run noted with its last entry."""
    if person.firm_id is None:
        return []
    return _due(Run.objects.filter(plan__job__firm_id=person.firm_id, plan__job__archived=False))


def due_at(plan: Plan) -> list[Reminder]:
    """What is due at one plan's loop, the first due first."""
    return _due(Run.objects.filter(plan=plan))


def _due(runs: QuerySet[Run]) -> list[Reminder]:
    later = Run.objects.filter(plan=OuterRef("plan"), started__gt=OuterRef("started"))
    came_back, serviced = Exists(later.filter(kind__in=CAME_BACK)), Exists(later.filter(kind="service"))
    waits = Q(closed_at=None) | Q(look_on__isnull=False) | Q(revisit_on__isnull=False)
    newest = runs.filter(waits).annotate(came_back=came_back, serviced=serviced).select_related("plan__job")
    found = (one for run in newest[:MOST_REMINDED] for one in _of(run, came_back=run.came_back, serviced=run.serviced))
    return sorted(found, key=lambda one: one.on)


def _of(run: Run, *, came_back: bool, serviced: bool) -> list[Reminder]:
    found = []
    if run.revisit_on is not None and run.closed_at is not None:
        yearly = run.kind == "service" or (run.revisit_on - run.closed_at.date()).days > MOST_WEEKS_DAYS
        if yearly and not serviced:
            found.append(Reminder(run, "yearly service", run.revisit_on))
        elif not yearly and not came_back:
            found.append(Reminder(run, "bleed again, read the gauge at dawn", run.revisit_on))
    if run.look_on is not None:
        found.append(Reminder(run, "second look at a joint that wept", run.look_on))
    if run.closed_at is None and run.next_step:
        found.append(
            Reminder(run, tr("goes on with “{next_step}”", next_step=run.next_step), timezone.localdate(run.started))
        )
    return found


@record
class DryField:
    """A field that hangs dry in the sun: since when, and what that means by now."""

    since: date
    level: Level
    words: Statement


def dry_field(plan: Plan) -> DryField | None:
    """How long a plan's field hangs dry and unfilled; None before it hangs, once it was filled, and in its first days."""
    hung = [day for run in plan.runs.filter(kind="roof").select_related("revision") if (day := hung_dry(state_of(run)))]
    filled = any(
        entry.field in ("colour_s", "filled_in", "fill_clear", "fill_mark_at")
        for run in plan.runs.filter(kind="first")
        for entry in run.entries.filter(step="fill")
    )
    if not hung or filled:
        return None
    since = max(hung)
    days = (timezone.localdate() - since).days
    level: Level = "stop" if days >= DRY_DAYS_STOP else "mind"
    said = "The field hangs dry since {day}, {n} days. In sun it stands hot: cover it until it is filled."
    if level == "stop":
        said = "The field hangs dry since {day}, {n} days: before it is filled, seals and absorbers are looked at."
    return DryField(since, level, say(said, day=day_said(since, short=True), n=str(days)))


def revisit_calendar(run: Run, state: RunState, day: date) -> bytes:
    """The revisit as an iCalendar file: the same name each time, a higher number for each changed day."""
    event = Event()
    event.add("uid", f"revisit-{run.sent}@rowan")
    event.add("sequence", sum(entry.kind == "due" for entry in state.entries))
    event.add("dtstamp", (state.due or state.closed or state.entries[-1]).at)
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    if state.then_service:
        event.add("summary", tr("Yearly service: {title}", title=run.plan.job.title))
        event.add("description", "\n".join(["As found first.", *(note.text for note in state.for_next)]))
    else:
        event.add("summary", tr("Bleed again: {title}", title=run.plan.job.title))
        event.add(
            "description", "Cool, before sunrise, pump off: read the gauge, bleed at the top, top up with the mix."
        )
    made = Calendar()
    made.add("prodid", "-//Rowan//EN")
    made.add("version", "2.0")
    made.add_component(event)
    return bytes(made.to_ical())
