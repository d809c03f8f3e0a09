"""Names that a job's states carry, taken out of them: the one change that is ever made to a state, because the law asks for it."""

from __future__ import annotations

from rowan.web.plans.models import Job, Revision


def retitle_states(job: Job, title: str) -> None:
    """Puts a title in place of every one that the states of a job's plans carry; what was built and measured stays as it was."""
    for plan in job.plans.all():
        states = list(plan.revisions.select_related("base").order_by("number"))
        designs = [state.design for state in states]
        if not any(design.get("title") for design in designs):
            continue
        made: dict[int, Revision] = {}
        # each is a difference to one before it: that one is packed anew first
        for state, design in zip(states, designs, strict=True):
            state.base = made.get(state.base_id or 0)
            state.design = {**design, "title": title if design.get("title") else ""}
            state.save(update_fields=["packed", "base"])
            made[state.pk] = state
