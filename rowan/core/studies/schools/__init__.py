"""Where the trade disagrees: each matter that this job has, its schools with what they come to here, and Rowan's choice."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import BENCH_STAGES, Reckoning
from rowan.core.studies.schools.filling import filling_matters
from rowan.core.studies.schools.layout import layout_matters
from rowan.core.studies.schools.matter import DEFERS, Matter, Way
from rowan.core.studies.schools.mounting import mounting_matters
from rowan.core.studies.schools.pressure import pressure_matters
from rowan.core.studies.schools.settings import setting_matters
from rowan.core.weather.hours import Sky

__all__ = ["DEFERS", "Matter", "Way", "matters"]


def matters(design: Design, result: Reckoning, *, measured: Sky | None = None) -> tuple[Matter, ...]:
    """Every matter that a plan has, in the order of the work; those of another kind of loop are left out."""
    found = (
        *mounting_matters(design),
        *layout_matters(design, result),
        *pressure_matters(design, result),
        *setting_matters(design, result, measured),
        *filling_matters(design, result),
    )
    order = list(BENCH_STAGES)
    return tuple(sorted(found, key=lambda matter: order.index(matter.step)))
