"""A week of a firm: who is where, what is wrong, what is free. Read in a fixed number of queries, however many jobs there are."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date, datetime, time, timedelta
from functools import cached_property

from rowan.core.records.visits import Planned, Trouble, free_half_days, next_free, troubles
from rowan.core.terms.dates import weekday_said
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import Role
from rowan.web.dates.models import Visit

LOOKED_AHEAD = timedelta(days=21)  # of a week, for where a clashing visit may go


@record
class Advice:
    """Something wrong in words, with where a visit would fit instead."""

    trouble: Trouble
    title: str
    words: str
    visit: Visit
    to: datetime | None


@record
class Week:
    """A firm's week from a Monday on."""

    firm: Firm
    monday: date
    people: Sequence[User]
    visits: Sequence[Visit]
    # of the weeks after it, for what is free
    later: Sequence[Visit]

    @cached_property
    def planned(self) -> tuple[Planned, ...]:
        """The week's visits as the core knows them."""
        return tuple(visit.planned for visit in self.visits)

    @cached_property
    def troubles(self) -> tuple[Trouble, ...]:
        """What is wrong in it."""
        return troubles(self.planned)

    def free(self, person: User) -> int:
        """Half days that somebody has free."""
        return free_half_days(person.pk, self.planned, self.monday, person.week_hours)

    @property
    def scaffolds(self) -> list[Visit]:
        """What stands, and where."""
        return [visit for visit in self.visits if visit.kind == "scaffold"]

    @cached_property
    def _by_person(self) -> dict[int, list[Visit]]:
        """Each person's visits: the people of a visit are read once."""
        found: dict[int, list[Visit]] = {}
        for visit, planned in zip(self.visits, self.planned, strict=True):
            for person in planned.people:
                found.setdefault(person, []).append(visit)
        return found

    def of(self, person: User) -> list[Visit]:
        """Somebody's visits."""
        return self._by_person.get(person.pk, [])

    def advice(self) -> list[Advice]:
        """What is wrong, in words, each with what would cure it."""
        by_key = {visit.pk: visit for visit in (*self.visits, *self.later)}
        everything = [*self.planned, *(visit.planned for visit in self.later)]
        names = {person.pk: person.name.split()[0] for person in self.people}
        return [self._said(trouble, by_key, everything, names) for trouble in self.troubles]

    def _said(
        self, trouble: Trouble, by_key: dict[int, Visit], everything: list[Planned], names: dict[int, str]
    ) -> Advice:
        visits = [by_key[key] for key in trouble.visits]
        if trouble.key == "clash":
            one, other = visits
            # the shorter one is easier to move
            moved = min(visits, key=lambda visit: visit.end - visit.start)
            name = names.get(trouble.person or 0, "Somebody")
            words = tr("{one} and {other} want {name} at one time.", one=one.title, other=other.title, name=name)
            day = weekday_said(max(one.start, other.start))
            return Advice(
                trouble,
                tr("{name} stands in two places on {day}", name=name, day=day),
                words,
                moved,
                next_free(moved.planned, everything),
            )
        visit = visits[0]
        if trouble.key == "alone":
            return Advice(
                trouble,
                tr("Nobody goes up alone: {title}", title=visit.title),
                "A roof day wants two people up there.",
                visit,
                None,
            )
        words = "No scaffold stands there that day. Is there another safe way up?"
        return Advice(trouble, tr("No scaffold for {title}", title=visit.title), words, visit, None)


def monday_of(day: date) -> date:
    """The Monday of a day's week."""
    return day - timedelta(days=day.weekday())


def week_of(firm: Firm, day: date) -> Week:
    """The week in which a day is."""
    monday = monday_of(day)
    start = datetime.combine(monday, time(), UTC)
    rows = Visit.objects.filter(firm=firm, cancelled=None, end__gt=start, start__lt=start + LOOKED_AHEAD)
    found = list(rows.select_related("job").prefetch_related("people"))
    end = start + timedelta(days=7)
    people = list(firm.people.filter(is_active=True).exclude(role=Role.VIEWER))
    order = {Role.LEAD: 0, Role.INSTALLER: 1, Role.APPRENTICE: 2}
    people.sort(key=lambda one: (order.get(Role(one.role), 3), one.name))
    return Week(firm, monday, people, [v for v in found if v.start < end], [v for v in found if v.start >= end])
