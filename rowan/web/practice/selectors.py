"""Whose run it is: one's own; a lead looks at those of the firm."""

from __future__ import annotations

from django.db.models import QuerySet
from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404

from rowan.web.accounts.models import User
from rowan.web.accounts.roles import holds
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import actor
from rowan.web.practice.models import PracticeRun


def run_for(request: HttpRequest, number: int) -> PracticeRun:
    """A run of one's own; a lead looks at those of the firm. 404 for another's."""
    person = actor(request)
    found = get_object_or_404(PracticeRun.objects.select_related("person"), pk=number)
    if found.person_id == person.pk:
        return found
    same_firm = bool(person.firm_id) and found.person.firm_id == person.firm_id
    if request.method == "GET" and same_firm and holds(person.role, "lead"):
        return found
    raise Http404


def plans_for(person: User) -> QuerySet[Plan]:
    """Plans that a rig or a task can be made like."""
    return Plan.objects.filter(job__firm=person.firm, job__archived=False).select_related("job")
