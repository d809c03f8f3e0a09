"""What an apprentice proposes: a plan beside a plan, with revisions of its own, until an installer takes or declines it."""

from __future__ import annotations

from collections.abc import Collection

from django.db import transaction
from django.db.models import Q, QuerySet, prefetch_related_objects
from django.utils import timezone

from rowan.core.design.merge import Merge, changed_paths, merged
from rowan.core.terms.language import tr
from rowan.web.accounts.models import User
from rowan.web.plans import policy
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.services import Edit, begin_proposal, design_of, put_in
from rowan.web.ui.errors import NoSuchStepError

OPEN = (Plan.Answer.DRAFT, Plan.Answer.HANDED)
MOST_SAID = 400


def own_proposal(plan: Plan, person: User) -> Plan | None:
    """A person's open proposal for a plan; None without one."""
    return _of(plan).filter(proposed_by=person, answer__in=OPEN).first()


def open_proposal(plan: Plan, person: User) -> Plan:
    """A person's open proposal, begun from the plan's newest revision where there is none. Raises NotAllowedError."""
    return own_proposal(plan, person) or begin_proposal(plan=plan, person=person)


def plans_and_waiting(plan: Plan) -> tuple[list[Plan], list[Plan]]:
    """The plans of a plan's job, and the proposals for this one that are handed in: every page of a plan asks for both, in one."""
    handed = Q(proposal_of=plan.real, answer=Plan.Answer.HANDED)
    plans, waiting = list[Plan](), list[Plan]()
    for one in Plan.everything.filter(Q(proposal_of=None) | handed, job=plan.job):
        (plans if one.proposal_of_id is None else waiting).append(one)
    # who proposes is asked for where somebody does, which is seldom
    prefetch_related_objects(waiting, "proposed_by")
    return plans, waiting


def proposals_of(plan: Plan) -> list[Plan]:
    """Every proposal that a plan ever had, the newest first."""
    return list(_of(plan).order_by("-pk"))


def _of(plan: Plan) -> QuerySet[Plan]:
    return Plan.everything.filter(proposal_of=plan.real).select_related("proposed_by", "proposed_on", "job__firm")


def base_of(proposal: Plan) -> Revision:
    """The revision that a proposal began from. Raises NoSuchStepError for a plan that is none."""
    if proposal.proposed_on is None:
        raise NoSuchStepError("this plan is no proposal")
    return proposal.proposed_on


def merge_of(proposal: Plan, leave: Collection[str] = ()) -> Merge:
    """The plan as it is now with what the proposal changes, but for what is left. Raises JobFileError."""
    return merged(design_of(base_of(proposal)), design_of(proposal.head), design_of(proposal.real.head), leave)


def change_count(proposal: Plan) -> int:
    """How many inputs it changes."""
    return len(changed_paths(design_of(base_of(proposal)), design_of(proposal.head)))


def hand_in(*, proposal: Plan, person: User, said: str) -> None:
    """Tell that it is ready. Raises NoSuchStepError for one that changes nothing, NotAllowedError."""
    policy.check_change(person, proposal)
    if not change_count(proposal):
        raise NoSuchStepError("nothing is changed yet")
    _answer(proposal, OPEN, Plan.Answer.HANDED, said)


def take_back(*, proposal: Plan, person: User) -> None:
    """Drop one's own proposal. Raises NoSuchStepError where it was answered, NotAllowedError."""
    policy.check_change(person, proposal)
    _answer(proposal, OPEN, Plan.Answer.DECLINED, "taken back")


def decline(*, proposal: Plan, person: User, said: str) -> None:
    """Answer that it is not taken, and why. Raises NoSuchStepError without a reason, NotAllowedError."""
    policy.check(person, proposal.job.firm, "work")
    if not said.strip():
        raise NoSuchStepError("say why, so that something is learned from it")
    _answer(proposal, OPEN, Plan.Answer.DECLINED, said)


def take(*, proposal: Plan, person: User, based_on: int, leave: Collection[str] = (), said: str = "") -> Revision:
    """Make it the plan's newest revision, but for what is left.

    Raises StaleRevisionError where the plan moved on since it was shown, NoSuchStepError where nothing is taken, NotAllowedError,
    JobFileError.
    """
    found = merge_of(proposal, leave)
    if not set(found.mine) - set(leave):
        raise NoSuchStepError("nothing of it is picked")
    summary = tr("proposed by {proposed_by}", proposed_by=proposal.proposed_by)
    with transaction.atomic():
        policy.check(person, proposal.job.firm, "work")
        _answer(proposal, OPEN, Plan.Answer.TAKEN, said)
        edit = Edit((), "", summary, None, Revision.Kind.PROPOSED)
        return put_in(plan=proposal.real, author=person, based_on=based_on, design=found.design, edit=edit)


def _answer(proposal: Plan, was: Collection[str], answer: str, said: str) -> None:
    """In one statement: of two who answer at once the second is told."""
    rows = Plan.everything.filter(pk=proposal.pk, answer__in=was)
    if not rows.update(answer=answer, said=said.strip()[:MOST_SAID], answered=timezone.now()):
        raise NoSuchStepError("somebody has answered this proposal already")
    proposal.refresh_from_db()
