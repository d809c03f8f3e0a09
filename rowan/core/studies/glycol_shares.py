"""What a stronger mix costs: the same plan at other shares of glycol."""

from __future__ import annotations

from collections.abc import Sequence

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.fluid import frost_point, properties
from rowan.core.goods.collector_rating import rating_of
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.reckon import Reckoning
from rowan.core.steps.run.friction import LAMINAR_RE, TURBULENT_RE
from rowan.core.steps.run.stage import SetSpeed, at_set_speed
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record

# by volume, from where inhibitors begin to protect to where the mixture only gets thicker
SHARES = (0.25, 0.30, 0.35, 0.40, 0.45, 0.50, 0.55, 0.60)


@record
class Strength:
    """The plan at a share [-]: frost point [°C], flow warm and on a cold morning [m³/s], Reynolds number in the narrowest
    pipe [-], heat the field gives at 800 W/m² over the return it gets now [W], and what the pump would take for the flow
    it gives now [W]."""

    share: float
    frost_point: float
    flow: float
    flow_cold: float
    reynolds: float
    heat: float
    pump: float


def strengths(design: Design, reckoning: Reckoning) -> tuple[Strength, ...]:
    """The plan at every usual share; those that cannot be reckoned are left out."""
    found = []
    inlet = reckoning.run.temperatures.cold
    for share in sorted({*SHARES, design.charge.share.value}):
        try:
            other = changed(design, [Change("charge.share", share)])
            found.append(_strength(other, reckoning, at_set_speed(other), inlet))
        except RowanError:
            continue
    return tuple(found)


def _strength(design: Design, reckoning: Reckoning, run: SetSpeed, inlet: float) -> Strength:
    """The heat follows from the inlet the store sends now: a smaller flow runs the field hotter, and it loses more."""
    rating, area, share = rating_of(design.collector.item.value), design.area_m2, design.charge.share.value
    fluid = properties(volume_share=design.glycol_share, temperature=design.collector.working_c.value)
    capacity_rate = run.flow * fluid.density * fluid.heat_capacity
    air = reckoning.site.annual_air
    heat = 0.0
    for _ in range(6):
        mean = inlet + heat / (2 * capacity_rate)
        over = mean - air
        heat = max(area * (rating.eta0 * REFERENCE_IRRADIANCE - rating.a1 * over - rating.a2 * abs(over) * over), 0.0)
    now = reckoning.run
    head = now.warm.drop(now.flow)
    return Strength(
        share,
        frost_point(volume_share=share),
        run.flow,
        run.flow_cold,
        run.warm.density * run.warm.velocity(run.flow) * run.warm.bore / run.warm.viscosity,
        heat,
        now.pump_power * run.warm.drop(now.flow) / head if head > 0 else now.pump_power,
    )


@record
class Dearer:
    """What a stronger mix costs against the plan's: flow lost on a cold morning [m³/s], heat lost in full sun [W], what the
    pump would take more for the same flow [W]; `easier` where it flows more, because it has not yet turned turbulent."""

    flow_cold: float
    heat: float
    pump: float
    easier: bool


def dearer(rows: Sequence[Strength], *, share: float, more: float) -> Dearer | None:
    """The cost of `more` glycol than `share` [-]; None where one of the two was not reckoned."""
    by_share = {round(row.share, 3): row for row in rows}
    here, there = by_share.get(round(share, 3)), by_share.get(round(share + more, 3))
    if here is None or there is None:
        return None
    return Dearer(
        here.flow_cold - there.flow_cold,
        here.heat - there.heat,
        there.pump - here.pump,
        there.flow > here.flow and there.reynolds < TURBULENT_RE and here.reynolds > LAMINAR_RE,
    )
