"""When a plan is handed over, and without which papers."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from rowan.web.accounts.models import User
from rowan.web.handover.models import Handover
from rowan.web.plans import policy
from rowan.web.plans.models import Plan


def choose(*, plan: Plan, person: User, on: date | None, left_out: list[str]) -> Handover:
    """When it is handed over, and without which papers. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, plan.job.firm, "work")
        found, _ = Handover.objects.select_for_update().get_or_create(plan=plan)
        found.on, found.left_out = on, left_out
        found.save()
    return found
