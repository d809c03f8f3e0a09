"""The return of a loop that drains: whether it fills, up to which temperature it stays full, and where its air comes in.

Source: methods 8 and 11.
"""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.run.drainback import Draining
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

SIPHON_MARGIN_K = 3.0  # K under the end of the siphon that keep it from letting go on a hot day
LEAST_STORE_LIMIT_C = 50.0  # °C; a store limited lower is of no use to a house
LEAST_INLET_M, USUAL_INLET_M = 0.006, 0.02  # m over the cold mark; methods 11 and practice


def siphon_findings(design: Design, found: Draining) -> list[Finding]:
    """Whether the return fills, and up to which temperature it stays full."""
    ends, hottest = found.lift.siphon_ends_c, design.store.maximum_c.value
    if found.head.return_velocity <= 0:
        return []
    if not found.head.siphon:
        return [_no_siphon(found, ends)]
    if ends is None or ends >= hottest:
        return []
    limit = float(math.floor(ends - SIPHON_MARGIN_K))
    cures: tuple[Cure, ...] = ()
    if limit >= LEAST_STORE_LIMIT_C:
        words = say("Limit the store to {t}", t=Quantity(limit, "temperature"))
        cures = (Cure(words, (Change("store.maximum_c", limit),)),)
    return [
        Finding(
            key="siphon_ends",
            level="mind",
            stage="charge",
            part="hot_line",
            title=say("the siphon holds up to {t}", t=Quantity(ends, "temperature")),
            reason=say(
                "Full, the return draws the top down to {p} absolute; hotter water boils there, the siphon lets go with a rumble and "
                "the pump lifts again. The store may come to {m}.",
                p=Quantity(found.head.pressure_on_top_abs, "pressure"),
                m=Quantity(hottest, "temperature"),
            ),
            quantity=Quantity(hottest, "temperature"),
            limit=Quantity(ends, "temperature"),
            cures=cures,
            source=methods(8),
        )
    ]


def _no_siphon(found: Draining, ends: float | None) -> Finding:
    """The return does not fill: too slow, or too high for the water there is."""
    slow = found.head.return_velocity < found.siphon_velocity
    reason = say(
        "It runs at {v}; from {s} it would carry its air down. The pump keeps lifting, and the return gurgles in the wall.",
        v=Quantity(found.head.return_velocity, "velocity", 3),
        s=Quantity(found.siphon_velocity, "velocity", 3),
    )
    if not slow and ends is None:
        reason = say("Over this height no return stays full: its top would boil. The pump keeps lifting.")
    elif not slow:
        reason = say(
            "Over this height a return stays full only up to {t}; this loop works at {w}. The pump keeps lifting.",
            t=Quantity(ends or 0.0, "temperature"),
            w=Quantity(found.lift.water_c, "temperature"),
        )
    return Finding(
        key="no_siphon",
        level="mind",
        stage="charge",
        part="hot_line",
        title=say("the return does not fill"),
        reason=reason,
        quantity=Quantity(found.head.return_velocity, "velocity"),
        limit=Quantity(found.siphon_velocity, "velocity"),
        source=methods(8),
    )


def air_inlet_findings(design: Design, found: Draining) -> list[Finding]:
    """A return that ends under water holds its own column: without air from above the mark the field never empties."""
    inlet = design.run.air_inlet_m.value
    if not design.run.return_under.value or (inlet is not None and inlet >= LEAST_INLET_M):
        return []
    return [
        Finding(
            key="no_air_inlet",
            level="stop",
            stage="charge",
            part="hot_line",
            title=say("the field never drains: no air comes in"),
            reason=say(
                "The return ends under water. An inlet at least {l} over the cold mark lets air in when the pump stops; "
                "without it the water stays up and freezes.",
                l=Quantity(LEAST_INLET_M, "pipe_size"),
            ),
            quantity=Quantity(inlet or 0.0, "pipe_size"),
            limit=Quantity(LEAST_INLET_M, "pipe_size"),
            cures=(
                Cure(
                    say("An air inlet {h} over the mark", h=Quantity(USUAL_INLET_M, "pipe_size")),
                    (Change("run.air_inlet_m", USUAL_INLET_M),),
                ),
                Cure(say("End the return over the mark at rest"), (Change("run.return_under", False),)),
            ),
            source=methods(11),
        )
    ]
