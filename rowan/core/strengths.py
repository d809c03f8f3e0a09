"""What a stronger mix costs: the same plan at other shares of glycol."""

from __future__ import annotations

from dataclasses import dataclass

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.errors import RowanError
from rowan.core.findings import Change
from rowan.core.media import frost_point, properties
from rowan.core.reckon import Reckoning
from rowan.core.run.results import Run
from rowan.core.run.stage import REFERENCE_IRRADIANCE, rating_of, reckon_run

SHARES = (0.25, 0.30, 0.35, 0.40, 0.45, 0.50, 0.55, 0.60)


@dataclass(frozen=True)
class Strength:
    """The plan at a share [-]: frost point [°C], flow warm and on a cold morning [m³/s], head [Pa], rise over the field [K],
    and heat the field gives at 800 W/m² over the return it gets now [W]."""

    share: float
    frost_point: float
    flow: float
    flow_cold: float
    head: float
    rise: float
    heat: float
    viscosity: float


def strengths(design: Design, reckoning: Reckoning) -> tuple[Strength, ...]:
    """The plan at every usual share; those that cannot be reckoned are left out."""
    found = []
    inlet = reckoning.run.temperatures.cold
    for share in sorted({*SHARES, design.charge.share.value}):
        try:
            run = reckon_run(changed(design, [Change("charge.share", share)]), reckoning.site)
            found.append(_strength(design, reckoning, run, share, inlet))
        except RowanError:
            continue
    return tuple(found)


def _strength(design: Design, reckoning: Reckoning, run: Run, share: float, inlet: float) -> Strength:
    """The heat follows from the inlet the store sends now: a smaller flow runs the field hotter, and it loses more."""
    rating, area = rating_of(design.collector.item.value), design.area_m2
    air = reckoning.site.annual_air
    heat = 0.0
    for _ in range(6):
        mean = inlet + heat / (2 * run.capacity_rate)
        over = mean - air
        heat = max(area * (rating.eta0 * REFERENCE_IRRADIANCE - rating.a1 * over - rating.a2 * abs(over) * over), 0.0)
    cold = run.cold_points[run.speed - 1]
    warm = properties(volume_share=share, temperature=design.collector.working_c.value)
    return Strength(
        share,
        frost_point(volume_share=share),
        run.flow,
        cold.flow if cold is not None else 0.0,
        run.point.head if run.point is not None else run.warm.drop(run.flow),
        heat / run.capacity_rate,
        heat,
        warm.viscosity,
    )
