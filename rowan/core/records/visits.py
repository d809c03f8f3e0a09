"""Visits of a firm's people: who stands in two places, who goes up alone, what is free, and where a clashing visit would fit.

Times are the clock on the wall where the work is. A roof wants two people (site, gates: nobody works up there alone) and what they
stand on. Source: practice 6 and 17; site, the days.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from datetime import date, datetime, time, timedelta
from itertools import combinations
from typing import Literal

from rowan.core.terms.finding import Level, rank
from rowan.core.terms.language import Message
from rowan.core.terms.record import record

VisitKind = Literal["survey", "roof", "commissioning", "revisit", "service", "repair", "scaffold", "away"]
KINDS: dict[VisitKind, str] = {
    "survey": Message("survey"),
    "roof": Message("roof"),
    "commissioning": Message("commissioning"),
    "revisit": Message("revisit"),
    "service": Message("service"),
    "repair": Message("repair"),
    "scaffold": Message("scaffold"),
    "away": Message("away"),
}
# how long one usually takes [h], to begin with
USUAL_H: dict[VisitKind, float] = {
    "survey": 2.0, "roof": 8.0, "commissioning": 6.0, "revisit": 2.0, "service": 2.0, "repair": 2.0, "scaffold": 24.0, "away": 8.0,
}  # fmt: skip
DAY_FROM, NOON, DAY_TO = time(7), time(12), time(17)  # a working day's halves
ON_A_ROOF = 2  # people, at least
STEP = timedelta(minutes=30)
SEARCHED_DAYS = 14  # ahead, for a place to move a visit to


@record
class Planned:
    """A visit: its key, kind and job, who comes, from when to when."""

    key: int
    kind: VisitKind
    people: tuple[int, ...]
    start: datetime
    end: datetime
    job: int | None = None
    name: str = ""

    def overlaps(self, other: Planned) -> bool:
        """Whether both are at one time; one may begin when the other ends."""
        return self.start < other.end and other.start < self.end


@record
class Trouble:
    """Something wrong with a visit: how grave, what kind, the visits at fault, the person who stands in both."""

    level: Level
    key: Literal["clash", "alone", "no_scaffold"]
    visits: tuple[int, ...]
    person: int | None = None


def troubles(visits: Sequence[Planned]) -> tuple[Trouble, ...]:
    """What is wrong, the gravest first and each in the order of the days."""
    found = [*_clashes(visits), *_alone(visits), *_without_scaffold(visits)]
    starts = {visit.key: visit.start for visit in visits}
    return tuple(sorted(found, key=lambda one: (rank(one.level), starts[one.visits[0]])))


def _clashes(visits: Sequence[Planned]) -> Iterator[Trouble]:
    """Whoever stands in two places; a scaffold stands by itself."""
    by_person: dict[int, list[Planned]] = {}
    for visit in sorted(visits, key=lambda one: one.start):
        for person in visit.people:
            by_person.setdefault(person, []).append(visit)
    for person, theirs in by_person.items():
        for one, other in combinations(theirs, 2):
            if one.overlaps(other):
                yield Trouble("fix", "clash", (one.key, other.key), person)


def _alone(visits: Iterable[Planned]) -> Iterator[Trouble]:
    for visit in visits:
        if visit.kind == "roof" and len(visit.people) < ON_A_ROOF:
            yield Trouble("fix", "alone", (visit.key,))


def _without_scaffold(visits: Sequence[Planned]) -> Iterator[Trouble]:
    """A roof day without a scaffold planned for it: another way up may be there, so it is only asked."""
    for visit in visits:
        if visit.kind != "roof" or visit.job is None:
            continue
        stands = [one for one in visits if one.kind == "scaffold" and one.job == visit.job]
        if not any(one.start <= visit.start and visit.end <= one.end for one in stands):
            yield Trouble("mind", "no_scaffold", (visit.key,))


def free_half_days(person: int, visits: Iterable[Planned], monday: date, hours: float) -> int:
    """Half days of a week of `hours` [h] in which somebody has no visit; none below zero."""
    mine = [visit for visit in visits if person in visit.people]
    taken = sum(
        any(visit.start < end and start < visit.end for visit in mine)
        for day in range(5)
        for start, end in _halves(monday + timedelta(days=day))
    )
    return max(0, round(hours / 4) - taken)


def _halves(day: date) -> tuple[tuple[datetime, datetime], tuple[datetime, datetime]]:
    noon = datetime.combine(day, NOON)
    return (datetime.combine(day, DAY_FROM), noon), (noon, datetime.combine(day, DAY_TO))


def next_free(visit: Planned, visits: Iterable[Planned]) -> datetime | None:
    """When all who come to a visit are next free for it at its own hour of the day, on a working day within two weeks; else at any
    half hour of the day. None where there is no such time."""
    others = [one for one in visits if one.key != visit.key and set(one.people) & set(visit.people)]
    length = visit.end - visit.start
    days = [visit.start.date() + timedelta(days=ahead) for ahead in range(SEARCHED_DAYS)]
    working = [day for day in days if day.weekday() < 5]
    own_hour = [datetime.combine(day, visit.start.time()) for day in working]
    for start in (*own_hour, *(moment for day in working for moment in _half_hours(day, length))):
        if start <= visit.start:
            continue
        if not any(start < one.end and one.start < start + length for one in others):
            return start
    return None


def _half_hours(day: date, length: timedelta) -> Iterator[datetime]:
    moment, last = datetime.combine(day, DAY_FROM), datetime.combine(day, DAY_TO) - length
    while moment <= last:
        yield moment
        moment += STEP
