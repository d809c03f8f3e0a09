"""Overturning: what wind from behind a standing row does to its rear feet beyond lifting it. Source: statics; methods 12."""

from __future__ import annotations

import math
from collections.abc import Sequence

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.limits import NOT_NEGATIVE, POSITIVE, Span, takes

UPRIGHT_DEG = 89.0  # ° over which a row has no depth to stand on and is a wall's


@takes(tilt=Span(0.0, UPRIGHT_DEG), length=POSITIVE, edge=NOT_NEGATIVE)
def pulls(*, tilt: float, length: float, edge: float, rails: Sequence[float]) -> tuple[float, ...]:
    """Upward pull of each rail's feet by the wind's force normal to the collector [-], negative where they are pressed.

    `tilt` [°], `length` up the collector and its lower edge over the feet [m], `rails` up the collector from its lower edge [m],
    lowest first. The frame is stiff: pull falls in a straight line from the rear to the front.
    """
    if len(rails) < 2 or max(rails) - min(rails) <= 0:
        raise ImpossibleInputError("a row stands on two rails or more, one behind the other")
    beta = math.radians(tilt)
    middle = sum(rails) / len(rails)
    depths = [(r - middle) * math.cos(beta) for r in rails]
    # the force acts at the collector's middle: up by cos, forward by sin at its height over the feet
    height = edge + length / 2 * math.sin(beta)
    turning = math.sin(beta) * height + math.cos(beta) * (length / 2 - middle) * math.cos(beta)
    spread = sum(d * d for d in depths)
    return tuple(math.cos(beta) / len(rails) + turning * d / spread for d in depths)
