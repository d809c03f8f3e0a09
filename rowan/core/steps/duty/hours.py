"""When a plan's water is drawn. Source: methods 4."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import day_draws
from rowan.core.steps.duty.demand import draw_pattern


def pattern_of(design: Design) -> tuple[tuple[int, float], ...]:
    """Minutes of the day at which water is drawn with their shares: the house's own hours, or those usual for its kind."""
    duty = design.duty
    if duty.drawn.value == "own":
        return day_draws(duty.own_draws.value)
    return draw_pattern(commercial=duty.kind.value == "commercial", drawn=duty.drawn.value)
