"""What the signed-in person may see; a stranger's job is simply not there."""

from __future__ import annotations

from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404

from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import Role
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.proposals import open_proposal, own_proposal


def actor(request: HttpRequest) -> User:
    """The signed-in person; 404 for anybody else."""
    if not isinstance(request.user, User):
        raise Http404
    return request.user


def firm_of(request: HttpRequest) -> Firm:
    """The firm of the signed-in person; 404 for somebody in none."""
    found = actor(request).firm
    if found is None:
        raise Http404
    return found


def job_of(request: HttpRequest, job: int) -> Job:
    """A job the person may see; 404 for a stranger's."""
    return get_object_or_404(Job.objects.visible(actor(request)), pk=job)


def plan_of(request: HttpRequest, job: int, letter: str) -> Plan:
    """A plan of a job the person may see; 404 for a stranger's."""
    person = actor(request)
    found = Plan.objects.select_related("job__firm").filter(job__in=Job.objects.visible(person), letter=letter)
    plan: Plan = get_object_or_404(found, job_id=job)
    person.firm = plan.job.firm  # the one that stands there: whoever shows its name need not ask again
    return plan


def worked_plan_of(request: HttpRequest, job: int, letter: str) -> Plan:
    """A plan as the person works on it: of an apprentice their proposal, made where they send the first change; 404 as above."""
    plan, person = plan_of(request, job, letter), actor(request)
    if person.role != Role.APPRENTICE:
        return plan
    if request.method == "POST":
        return open_proposal(plan, person)
    return own_proposal(plan, person) or plan
