"""What a plan has set, as readings and logs are held against it."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.readings import Allowed, Planned
from rowan.core.simulation.from_design import store_limit
from rowan.core.simulation.switching import speed_rule
from rowan.core.weather.hours import winter_clock


def planned_of(design: Design, result: Reckoning) -> Planned:
    """What the plan has set, as readings are held against it."""
    cold = result.vessel_states.get("cold")
    return Planned(
        start=design.control.start_k.value,
        stop=design.control.stop_k.value,
        least_c=design.control.least_collector_c.value,
        store_c=store_limit(design),
        cut_out_c=design.control.cut_out_c.value,
        flow=result.run.flow,
        least_gauge=cold.station if cold is not None else None,
        zone_h=winter_clock(design.survey.longitude_deg.value),
        allowed=allowed_in(design),
    )


def allowed_in(design: Design) -> Allowed:
    """What the functions of a plan's controller let the pump do beside its differences."""
    held, control = design.functions, design.control
    frost = [control.frost_c.value] if control.frost.value else []
    if frost and held.second_frost.value:
        frost.append(held.second_frost_c.value)
    cools = ([held.cooling_c.value] if held.cooling.value else []) + ([held.dump_c.value] if held.dumps else [])
    floor, slope = speed_rule(held)
    return Allowed(
        nights=held.night_cools,
        frost_c=max(frost, default=None),
        cools_c=min(cools, default=None),
        timer_h=(held.timer_from_h.value, held.timer_to_h.value) if held.timer.value else None,
        rests=bool(held.battery.value),
        floor=floor,
        slope=slope,
    )
