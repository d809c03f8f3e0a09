"""A matter on which good installers differ, and the ways they have of settling it.

Every way is reckoned on the plan at hand: what one pays for it here is worth more than who taught it. Source: practice 18.
"""

from __future__ import annotations

from rowan.core.terms.figure import Statement, say
from rowan.core.terms.record import record

# what goes before all of them
DEFERS = say("The maker's instructions and the local code go before every school.")


@record
class Way:
    """A school: what it says, what it comes to on this job, whether the plan follows it and whether Rowan would."""

    name: Statement
    comes_to: Statement
    planned: bool = False
    ours: bool = False


@record
class Matter:
    """What is disagreed on: its step, its ways side by side, why Rowan takes the one it takes; `path` is the input that
    settles it, empty where it is settled by hand on site."""

    key: str
    step: str
    name: str
    ways: tuple[Way, ...]
    why: Statement
    path: str = ""
