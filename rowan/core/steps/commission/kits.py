"""What the kit on the van cannot do on this loop: found at the desk, not with the hose in the hand. Source: site, valves."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.steps.charge.ratings import weakest_tested
from rowan.core.steps.charge.result import ChargeResult
from rowan.core.steps.commission.loops import vented_by_hand
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.source import methods

SPRAYER_SHARE = 0.6  # of its limit that the column may take; site, valves 1
STATION = Cure(say("Bring a high-pressure station"), (Change("commission.kit", "station"),))


def kit_findings(design: Design, charge: ChargeResult) -> Iterator[Finding]:
    """What is wrong with the kit that was chosen for a sealed loop."""
    reaches, weakest = design.charge.filling_gauge_pa.value, weakest_tested(design)
    if reaches > weakest * (1 + 1e-9):
        yield _finding(
            "kit_over_rating",
            "stop",
            say("the filling pump comes to more than a part stands"),
            say(
                "Against a shut outlet it gives {p}; the weakest part stands {w}. Burping and raising shut the outlet.",
                p=Quantity(reaches, "pressure"),
                w=Quantity(weakest, "pressure"),
            ),
            (reaches, weakest),
        )
    if design.commission.kit.value != "sprayer":
        return
    if not vented_by_hand(design):
        yield _finding(
            "sprayer_no_vent",
            "fix",
            say("a sprayer fills, and the air has no way out"),
            say(
                "It gives a litre or two a minute, which carries no bubble down a pipe: air leaves on top, by a vent that a valve shuts."
            ),
            None,
            (STATION,),
        )
    if charge.static > SPRAYER_SHARE * reaches:
        yield _finding(
            "sprayer_column",
            "fix",
            say("the column is too high for a sprayer"),
            say(
                "It has to hold {s} of column; {r} of its {p} may go into that.",
                s=Quantity(charge.static, "pressure"),
                r=Quantity(SPRAYER_SHARE * reaches, "pressure"),
                p=Quantity(reaches, "pressure"),
            ),
            (charge.static, SPRAYER_SHARE * reaches),
            (STATION,),
        )


def _finding(
    key: str,
    level: Level,
    title: Statement,
    reason: Statement,
    amounts: tuple[float, float] | None,
    cures: tuple[Cure, ...] = (),
) -> Finding:
    quantity, limit = (Quantity(amount, "pressure") for amount in amounts) if amounts else (None, None)
    return Finding(
        key=key, level=level, stage="commission", part="gauge", title=title, reason=reason, quantity=quantity, limit=limit, cures=cures,
        source=methods(17),
    )  # fmt: skip
