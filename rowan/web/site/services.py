"""Ticking a step of the work, and what stands ticked."""

from __future__ import annotations

import re
import uuid
from dataclasses import dataclass

from django.db import IntegrityError, transaction

from rowan.web.accounts.models import User
from rowan.web.plans import policy
from rowan.web.plans.models import Plan
from rowan.web.site.models import Tick
from rowan.web.ui.errors import WebError

SENT = re.compile(r"[0-9a-f-]{8,36}")


class UnknownStepError(WebError):
    """A step that this plan's list does not have."""


@dataclass(frozen=True)
class Standing:
    """The latest entry of a step, and how often it was taken back before."""

    tick: Tick
    taken_back: int


def tick_step(*, plan: Plan, key: str, done: bool, person: User, known: frozenset[str], sent: str = "") -> None:
    """Writes that a step is done, or is not after all. The same `sent` twice is one entry.

    Raises UnknownStepError for a key that is not among the `known`, NotAllowedError for a person of another firm.
    """
    if key not in known:
        raise UnknownStepError("there is no such step in this plan's list")
    name = sent if SENT.fullmatch(sent) else str(uuid.uuid4())
    with transaction.atomic():
        policy.check(person, plan.job.firm)
        if Tick.objects.filter(sent=name).exists():
            return
        try:
            with transaction.atomic():
                Tick.objects.create(plan=plan, key=key, done=done, revision=plan.head.number, person=person, sent=name)
        except IntegrityError:
            return  # another thread of the same browser was faster


def standing(plan: Plan) -> dict[str, Standing]:
    """The latest entry of every step that was ever ticked."""
    found: dict[str, Standing] = {}
    for tick in plan.ticks.select_related("person"):
        before = found.get(tick.key)
        undone = (before.taken_back if before else 0) + (0 if tick.done else 1)
        found[tick.key] = Standing(tick, undone)
    return found
