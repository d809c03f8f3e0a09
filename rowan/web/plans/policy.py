"""Who may do what to a job and its plans: one answer, yes or why not, for a list as for a change.

Services ask here once the plan is locked, so that a right that ended meanwhile counts. What a role may is `accounts.policy`'s; here
is what is of jobs: that an apprentice changes a proposal of their own and no plan.
"""

from __future__ import annotations

from rowan.web.accounts import policy
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import Right
from rowan.web.plans.models import Plan
from rowan.web.ui.errors import NotAllowedError


def check(person: User | None, firm: Firm, right: Right = "work") -> None:
    """Raises NotAllowedError unless the person may do it to the firm's jobs."""
    policy.check(person, firm, right)


def check_change(person: User | None, plan: Plan) -> None:
    """Raises NotAllowedError unless the person may change the plan: a proposal is its maker's alone."""
    if plan.proposal_of_id is None:
        policy.check(person, plan.job.firm, "work")
        return
    policy.check(person, plan.job.firm, "propose")
    if person is not None and plan.proposed_by_id != person.pk:
        raise NotAllowedError("this is somebody else's proposal")
