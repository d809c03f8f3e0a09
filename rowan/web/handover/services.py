"""When a plan is handed over, without which papers, and where its hidden pipes lie."""

from __future__ import annotations

from collections.abc import Mapping
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


LONGEST_OFFSET = 160  # letters of a place in words: they fit a line of the paper


def set_offsets(*, plan: Plan, person: User, offsets: Mapping[str, str]) -> Handover:
    """Where the legs that nobody sees lie, by their id; no words take one away. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, plan.job.firm, "work")
        found, _ = Handover.objects.select_for_update().get_or_create(plan=plan)
        clean = {key: words.strip()[:LONGEST_OFFSET] for key, words in offsets.items()}
        found.offsets = {key: words for key, words in {**found.offsets, **clean}.items() if words}
        found.save()
    return found
