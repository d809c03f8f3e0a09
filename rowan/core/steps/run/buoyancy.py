"""A loop that warm water drives: what its cold side weighs more than its warm one, against friction.

No pump chooses the flow: height, pipe and sun do. In steady sun the loop finds the flow at which both are equal; at night the store
above the field holds the loop still, because what comes out of the cold field is heavier than what stands in the store.
Source: methods 6, practice 5; density of water as in methods 9.
"""

from __future__ import annotations

from collections.abc import Callable

from scipy.optimize import brentq

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, properties
from rowan.core.steps.run.loop import LoopCurve
from rowan.core.steps.run.result import Buoyancy, Rises, Temperatures
from rowan.core.steps.run.route import Profile
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes
from rowan.core.terms.units import LITRE_H

LEAST_FLOW, MOST_FLOW = 1e-9, 1e-2  # m³/s between which the flow is sought: a drop a minute, and 600 L/min
COLDEST_C, HOTTEST_C = 1.0, 99.0  # °C between which water at the store's pressure surely is liquid
DRAWN = tuple(0.2 * 1.15**n for n in range(18))  # shares of the flow at which the drive is told: a fifth to twice
LEAST_K2 = 1.0  # Pa·s²/kg²; keeps the square's root defined where all friction is laminar


def rises_of(design: Design, route: Profile) -> Rises:
    """Heights of a loop whose store stands over its field [m], from the route and the store's ports."""
    ports = design.store
    back = route.plate_top + ports.above_field_m.value + ports.coil_top_m.value
    foot = route.plate_top + ports.above_field_m.value + ports.coil_bottom_m.value
    return Rises(
        field=route.plate_top - route.plate_bottom,
        hot=back - route.plate_top,
        store=back - foot,
        cold=foot - route.plate_bottom,
    )


def density(temperature: float) -> float:
    """Density of water in the loop [kg/m³] at a temperature [°C], held between freezing and boiling."""
    return properties(volume_share=0.0, temperature=min(max(temperature, COLDEST_C), HOTTEST_C)).density


@takes(field=NOT_NEGATIVE, hot=FINITE, cold_kg_m3=POSITIVE, mean_kg_m3=POSITIVE, hot_kg_m3=POSITIVE)
def buoyant_pressure(*, field: float, hot: float, cold_kg_m3: float, mean_kg_m3: float, hot_kg_m3: float) -> float:
    """What drives the loop [Pa]: field [m] filled with mean, hot line [m] with hot water against cold of the same heights."""
    return GRAVITY * ((cold_kg_m3 - mean_kg_m3) * field + (cold_kg_m3 - hot_kg_m3) * hot)


@takes(field=NOT_NEGATIVE, above=FINITE, store_kg_m3=POSITIVE, out_kg_m3=POSITIVE)
def held_at_night(*, field: float, above: float, store_kg_m3: float, out_kg_m3: float) -> float:
    """What holds the loop still at night [Pa]; below zero it runs backwards and warms the sky.

    Running backwards, store water would fall through the field, leave it as cold as the air and have to be lifted as such from the
    field's foot [m] past its top to the store `above` it [m]; in the field the density lies half way.
    """
    return GRAVITY * (out_kg_m3 - store_kg_m3) * (above + field / 2)


@takes(flow=POSITIVE, density_kg_m3=POSITIVE, drop=NOT_NEGATIVE, half_drop=NOT_NEGATIVE)
def friction_terms(*, flow: float, density_kg_m3: float, drop: float, half_drop: float) -> tuple[float, float]:
    """k1 [Pa·s/kg] and k2 [Pa·s²/kg²] of drop = k1·ṁ + k2·ṁ² from the drops [Pa] at a flow [m³/s] and at half of it."""
    mass = flow * density_kg_m3
    k1 = max((4 * half_drop - drop) / mass, 0.0)
    return k1, max((drop - k1 * mass) / mass**2, LEAST_K2)


def pull(rises: Rises, at: Temperatures) -> float:
    """What drives the loop at its temperatures [Pa]."""
    return buoyant_pressure(
        field=rises.field,
        hot=rises.hot,
        cold_kg_m3=density(at.cold),
        mean_kg_m3=density(at.mean),
        hot_kg_m3=density(at.hot),
    )


def natural_flow(rises: Rises, warm: LoopCurve, temperatures: Callable[[float], Temperatures]) -> float | None:
    """Flow in steady sun [m³/s]; None where nothing drives it. `temperatures` answers for a flow."""

    def over(flow: float) -> float:
        """What drives a flow [m³/s] over what it takes [Pa]."""
        return pull(rises, temperatures(flow)) - warm.drop(flow)

    if over(LEAST_FLOW) <= 0 or over(MOST_FLOW) >= 0:
        return None
    return float(brentq(over, LEAST_FLOW, MOST_FLOW, xtol=1e-12))


def buoyancy_of(
    design: Design, route: Profile, warm: LoopCurve, temperatures: Callable[[float], Temperatures]
) -> tuple[Buoyancy, float]:
    """The loop without its pump, and its flow in steady sun [m³/s]: where nothing drives it, the flow wanted stands for friction."""
    rises = rises_of(design, route)
    found = natural_flow(rises, warm, temperatures)
    flow = design.run.flow_l_h.value * LITRE_H if found is None else found
    pulls = tuple((share * flow, pull(rises, temperatures(share * flow))) for share in DRAWN)
    k1, k2 = friction_terms(flow=flow, density_kg_m3=warm.density, drop=warm.drop(flow), half_drop=warm.drop(flow / 2))
    out = density(FILL_C)
    night = held_at_night(
        field=rises.field,
        above=design.store.above_field_m.value,
        store_kg_m3=density(design.collector.working_c.value),
        out_kg_m3=out,
    )
    drive = pull(rises, temperatures(flow)) if found is not None else 0.0
    buoyancy = Buoyancy(
        rises=rises,
        pulls=pulls,
        drive=drive,
        flows=found is not None,
        night=night,
        out_density=out,
        k1=k1,
        k2=k2,
    )
    return buoyancy, flow
