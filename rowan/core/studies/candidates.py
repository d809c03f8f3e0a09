"""Which collector: the chosen one against those of the catalogue that do nearly as much. Source: methods 3 and 14."""

from __future__ import annotations

from collections.abc import Sequence

from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.record import record

GOOD_SHARE = 0.9  # of the chosen one's heat; what brings so much is worth a sentence
CHEAPER = 0.97  # of its money a kWh; under that the difference is more than the sums can be wrong


@record
class Candidate:
    """A collector in this plan: heat saved a year [J], money for a kWh, the system's price, the gravest thing against it."""

    name: str
    saved: float
    per_kwh: float | None
    price: float
    against: Level | None = None


def advice(chosen: Candidate, others: Sequence[Candidate]) -> Statement | None:
    """The chosen one against the cheapest that does nearly as much; None where its heat has no price."""
    if not chosen.per_kwh:
        return None
    fit = [c for c in others if c.per_kwh and c.against not in ("stop", "fix")]
    near = [c for c in fit if c.saved >= GOOD_SHARE * chosen.saved and (c.per_kwh or 0.0) < CHEAPER * chosen.per_kwh]
    if near:
        best = min(near, key=lambda c: c.per_kwh or 0.0)
        # a hybrid's electricity may be worth more than all it costs: its heat then has no price
        words = "each kWh at {c} of the price" if (best.per_kwh or 0.0) > 0 else "its electricity pays for its heat"
        return say(
            "{best} does {h} of it, {words}, and costs {p} of the money to buy.",
            best=best.name,
            words=words,
            h=Quantity(best.saved / chosen.saved, "share"),
            c=Quantity((best.per_kwh or 0.0) / chosen.per_kwh, "share"),
            p=Quantity(best.price / chosen.price if chosen.price else 1.0, "share"),
        )
    more = [c for c in fit if c.saved > chosen.saved]
    if more:
        most = max(more, key=lambda c: c.saved)
        return say(
            "{most} would bring {m} more, each kWh at {c} of the price; what is chosen has the cheapest heat of those that do the work.",
            most=most.name,
            m=Quantity(most.saved - chosen.saved, "energy"),
            c=Quantity((most.per_kwh or 0.0) / chosen.per_kwh, "share"),
        )
    return say("Of those that can be built as it stands none brings more, and none as good is cheaper.")
