"""The Sandreef guesthouse, Port Maravel: no frost, a direct loop, the sun in the north. As proposed, nothing measured yet."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.places import PLACES
from rowan.core.propose import Facts, propose

TITLE = "Sandreef guesthouse"


def sandreef() -> Design:
    """The first proposal for sixteen guests under a roof that faces north."""
    return propose(Facts(PLACES["Port Maravel"], 8, 28, "tile", 16, "electric", 2), title=TITLE)
