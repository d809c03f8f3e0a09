"""What is known of a job for its next state, gathered from its plan, its runs, its days and its papers."""

from __future__ import annotations

from typing import Any

from rowan.core.design.changes import asked
from rowan.core.records.job_state import DECLINED, STATES, Facts, State, missing_for, next_state
from rowan.core.terms.errors import RowanError
from rowan.core.terms.units import System
from rowan.web.commissioning.models import Entry, Run
from rowan.web.customers.models import JobCard
from rowan.web.plans.models import Job
from rowan.web.plans.reckoned import reckoned


def facts_of(job: Job, card: JobCard, units: System, *, visit_planned: bool) -> Facts:
    """What is known of a job; of its plan as it is today."""
    plan = job.plans.first()
    stops: list[str] = []
    fixes: list[str] = []
    unmeasured = 0
    if plan is not None:
        try:
            found = reckoned(plan.head)
        except RowanError as error:
            stops.append(error.text(units))
        else:
            unmeasured = sum(
                one.origin == "assumed" for one in asked(found.design) if one.path.startswith(("survey.", "sun."))
            )
            for finding in found.result.findings:
                titles = {"stop": stops, "fix": fixes}.get(finding.level)
                if titles is not None:
                    titles.append(finding.title.text(units))
    runs = Run.objects.filter(plan__job=job)
    closed = set(runs.exclude(closed_at=None).values_list("kind", flat=True))
    read = set(Entry.objects.filter(run__in=runs).exclude(field="").values_list("field", flat=True).distinct())
    glycol = plan is not None and not stops and reckoned(plan.head).design.glycol_share > 0
    return Facts(
        customer=card.customer_id is not None,
        address=card.site_id is not None,
        survey_closed="survey" in closed,
        unmeasured=unmeasured,
        stops=tuple(stops),
        fixes=tuple(fixes),
        offered=job.plans.filter(quotes__isnull=False).exists(),
        visit_planned=visit_planned,
        delivery_closed="delivery" in closed,
        roof_closed="roof" in closed,
        first_closed="first" in closed,
        frost_point_read=not glycol or "frost_c" in read,
        settings_read_again="set_start" in read or job.diary.filter(kind="drill").exists(),
    )


def standing(job: Job, card: JobCard, facts: Facts) -> dict[str, Any]:
    """The tape of a job's states with its days, and what is missing for the next."""
    days = {row.state: row.on for row in job.stood.all()}
    names = list(STATES)
    at = names.index(card.state) if card.state in names else -1
    following: State | None = next_state(card.state) if card.state != DECLINED else None  # type: ignore[arg-type]
    missing = missing_for(following, facts) if following else ()
    rows = [
        {
            "key": key,
            "name": name,
            "on": days.get(key) if number <= at else None,
            "passed": number <= at,
            "next": key == following,
        }
        for number, (key, name) in enumerate(STATES.items())
    ]
    return {"states": rows, "next_state": following, "missing": missing, "declined": card.state == DECLINED}
