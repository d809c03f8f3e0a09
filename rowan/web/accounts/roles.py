"""What people of a firm are, and what each may do: looks, proposes, works, leads, each with all before it."""

from __future__ import annotations

from typing import Literal

from django.db import models

from rowan.core.terms.language import Message

# from looking alone to everything; "anyone" needs no sign-in, "oneself" any person, of whatever role
Right = Literal["look", "propose", "work", "lead"]
RIGHTS: tuple[Right, ...] = ("look", "propose", "work", "lead")


class Role(models.TextChoices):
    """What somebody is in a firm."""

    LEAD = "lead", Message("lead")
    INSTALLER = "installer", Message("installer")
    APPRENTICE = "apprentice", Message("apprentice")
    VIEWER = "viewer", Message("viewer")


MAY: dict[str, Right] = {"viewer": "look", "apprentice": "propose", "installer": "work", "lead": "lead"}
ABOUT = {
    "lead": Message("people, firm, goods, and everything else"),
    "installer": Message("jobs: plans, runs, customers, dates"),
    "apprentice": Message("works on site and proposes changes; an installer takes them"),
    "viewer": Message("looks, and changes nothing"),
}
WHY_NOT: dict[Right, str] = {
    "look": Message("this belongs to another firm"),
    "propose": Message("a viewer looks and changes nothing; ask the lead of your firm for more"),
    "work": Message("an installer of your firm does this; you can propose changes of a plan"),
    "lead": Message("the lead of your firm does this"),
}


def holds(role: str, right: Right) -> bool:
    """Whether a role has a right; no unknown one has any."""
    return role in MAY and RIGHTS.index(MAY[role]) >= RIGHTS.index(right)
