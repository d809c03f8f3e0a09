"""Who may do what to a job and its plans: one answer, yes or why not.

Services ask here once the plan is locked, so that a right that ended meanwhile counts. Roles are decided here when they
come; today everybody of the firm may change its jobs, and nobody else.
"""

from __future__ import annotations

from rowan.web.accounts.models import Firm, User
from rowan.web.ui.errors import NotAllowedError


def why_not(person: User | None, firm: Firm) -> str:
    """Why a person may not change a job of a firm; empty if they may. None is the house itself: commands and demo data."""
    if person is None or (person.is_active and person.firm_id == firm.pk):
        return ""
    return "this job belongs to another firm"


def check(person: User | None, firm: Firm) -> None:
    """Raises NotAllowedError unless the person may change the firm's jobs."""
    reason = why_not(person, firm)
    if reason:
        raise NotAllowedError(reason)
