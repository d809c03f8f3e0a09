"""The routes that a first drawing starts from: down to the cellar, or up to a store that stands over its field.

Source: defaults, proposal from four facts; practice 5. Every leg is assumed until somebody measures it.
"""

from __future__ import annotations

import math

from rowan.core.design.inputs.run import Leg
from rowan.core.terms.limits import NOT_NEGATIVE, Span, takes

STOREY_M = 2.8  # m, a storey, rule of thumb

BEND_EVERY_M = 1.8  # m of pipe between bends, rule of thumb


@takes(height=Span(0.0, 200.0))
def planned_length(*, height: float) -> float:
    """Both lines of a house [m] whose field stands a height [m] over the gauge: each 2 × height + 2 m, rule of thumb."""
    return 2 * (2 * height + 2)


@takes(length=NOT_NEGATIVE)
def usual_bends(*, length: float) -> int:
    """Bends in a length of pipe [m]."""
    return math.ceil(length / BEND_EVERY_M)


@takes(height=Span(0.0, 200.0))
def plain_lines(*, height: float) -> tuple[list[Leg], list[Leg]]:
    """Cold and hot line of a house whose field stands a height [m] over the gauge: cellar, one upright shaft, attic, roof."""
    total = planned_length(height=height) / 2
    upright = max(height - 3.2, 0.4)
    level = max(total - upright - 4.9, 2.0)
    cellar, attic = round(0.55 * level, 1), round(0.45 * level, 1)
    cold = [
        Leg(id="c1", name="from the coil", length_m=0.8, rise_m=0.0, place="cellar"),
        Leg(id="c2", name="up to the station", length_m=1.6, rise_m=1.5, place="cellar"),
        Leg(id="c3", name="along the cellar", length_m=cellar, rise_m=round(cellar * 0.02, 2), place="cellar"),
        Leg(id="c4", name="up the shaft", length_m=upright, place="shaft", fitted=True),
        Leg(id="c5", name="along the attic", length_m=attic, rise_m=round(attic * 0.02, 2), place="attic"),
        Leg(id="c6", name="through the roof", length_m=2.5, rise_m=0.5, place="roof"),
    ]
    hot = [
        Leg(id="h1", name="up to the vent", length_m=0.9, rise_m=0.2, place="roof", vented=True),
        Leg(id="h2", name="through the roof", length_m=1.6, rise_m=-1.2, place="roof"),
        Leg(id="h3", name="along the attic", length_m=attic, rise_m=-round(attic * 0.02, 2), place="attic"),
        Leg(id="h4", name="down the shaft", length_m=upright, place="shaft", fitted=True),
        Leg(id="h5", name="along the cellar", length_m=cellar, rise_m=-round(cellar * 0.02, 2), place="cellar"),
        Leg(id="h6", name="to the coil", length_m=2.4, rise_m=-0.9, place="cellar"),
    ]
    return cold, hot


def siphon_lines() -> tuple[list[Leg], list[Leg]]:
    """Cold and hot line of a store over its field: as short and as steep as they go, rising all the way with the flow when warm."""
    cold = [
        Leg(id="c1", name="from the store's foot", length_m=0.5, rise_m=-0.02, place="roof", bends=1),
        Leg(id="c2", name="down to the field", length_m=1.5, place="roof", bends=1, fitted=True),
    ]
    hot = [
        Leg(id="h1", name="out of the field", length_m=0.5, rise_m=0.05, place="roof", bends=1),
        Leg(id="h2", name="up to the store", length_m=1.5, place="roof", bends=1, fitted=True),
    ]
    return cold, hot
