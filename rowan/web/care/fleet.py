"""All loops of a firm that are listened to, gravest first: what each log said, whether it still speaks."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db.models import Max, Q, QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from rowan.core.terms.finding import LEVELS, Level, rank
from rowan.core.terms.record import record
from rowan.web.accounts.models import User
from rowan.web.care.models import LoopHealth
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.selectors import actor

SILENT = timedelta(days=2)  # a device sends by the minute or the hour; two days are no bad signal
MOST_ILL = 6  # named on the page of jobs
BAR = 90.0  # px of the bar that is the heat that was due


@record
class Loop:
    """A loop of the fleet: its plan, what its log said, when it last spoke, where its log ends, for how many days a device of it has been
    silent."""

    plan: Plan
    health: LoopHealth | None
    last: datetime | None
    logged: datetime | None
    silent: int

    @property
    def level(self) -> Level | None:
        """The gravest of what is known: of the log, and of the silence."""
        said = self.health.level if self.health is not None else ""
        level: Level | None = next((one for one in LEVELS if one == said), None)
        return "mind" if level is None and self.silent else level

    @property
    def is_fresh(self) -> bool:
        """Whether what is kept was said of the log as it is."""
        return self.logged is None or (self.health is not None and self.health.last == self.logged)

    @property
    def share(self) -> float | None:
        """Heat that came of what was due [-]; None where nothing was compared."""
        return self.health.came / self.health.due if self.health is not None and self.health.due > 0 else None

    @property
    def bar(self) -> tuple[float, float, float] | None:
        """Widths of the bar: what came, and where the band of what was due begins and ends [px]."""
        if self.share is None or self.health is None:
            return None
        return tuple(  # type: ignore[return-value]
            round(min(value / self.health.due, 1.4) * BAR, 1)
            for value in (self.health.came, self.health.low, self.health.high)
        )

    @property
    def band_wide(self) -> float:
        """How wide the band of what was due is [px]."""
        return round(self.bar[2] - self.bar[1], 1) if self.bar is not None else 0.0

    @property
    def percent(self) -> int:
        """Heat that came of what was due [%]."""
        return round(100 * (self.share or 0.0))


def loops_of(jobs: QuerySet[Job], now: datetime) -> list[Loop]:
    """The loops of some jobs that have a log or a device, gravest first, then by name."""
    plans = (
        Plan.objects.filter(job__in=jobs, job__archived=False, proposal_of=None)
        .annotate(logged=Max("logs__last"), heard=Max("devices__heard"))
        .filter(Q(logged__isnull=False) | Q(heard__isnull=False))
        .select_related("job", "health")
    )
    found = [_loop(plan, now) for plan in plans]
    return sorted(found, key=lambda one: (rank(one.level), one.is_fresh, one.plan.job.title, one.plan.letter))


def _loop(plan: Plan, now: datetime) -> Loop:
    heard, logged = plan.heard, plan.logged  # type: ignore[attr-defined]
    silent = (now - heard).days if heard is not None and now - heard > SILENT else 0
    last = max((at for at in (heard, logged) if at is not None), default=None)
    return Loop(plan, getattr(plan, "health", None) if logged is not None else None, last, logged, silent)


def ill_loops(person: User) -> list[Loop]:
    """The loops whose log shows something to be mended, for the page of jobs."""
    ill = LoopHealth.objects.filter(level__in=("stop", "fix")).values("plan__job")
    jobs = Job.objects.visible(person).filter(pk__in=ill)
    return [one for one in loops_of(jobs, timezone.now()) if one.level in ("stop", "fix")][:MOST_ILL]


def fleet(request: HttpRequest) -> HttpResponse:
    """The page of them."""
    loops = loops_of(Job.objects.visible(actor(request)), timezone.now())
    ill = sum(one.level in ("stop", "fix") for one in loops)
    context = {"loops": loops, "ill": ill, "silent": sum(bool(one.silent) for one in loops)}
    return render(request, "care/fleet.html", context)
