"""Who may do what in a firm: one answer, yes or why not. The policies of jobs, customers and dates ask here what a role may.

Services ask once what they change is locked, so that a right that ended meanwhile counts.
"""

from __future__ import annotations

from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import WHY_NOT, Right, holds
from rowan.web.ui.errors import NotAllowedError


def why_not(person: User | None, firm: Firm, right: Right) -> str:
    """Why a person may not do something in a firm; empty if they may. None is the house itself: commands and demo data."""
    if person is None:
        return ""
    if not person.is_active or person.firm_id != firm.pk:
        return WHY_NOT["look"]
    return "" if holds(person.role, right) else WHY_NOT[right]


def check(person: User | None, firm: Firm, right: Right) -> None:
    """Raises NotAllowedError unless the person may do it. A role that was changed meanwhile counts as it is now."""
    if person is not None:
        person = User.objects.filter(pk=person.pk).only("is_active", "firm", "role").first() or person
    reason = why_not(person, firm, right)
    if reason:
        raise NotAllowedError(reason)
