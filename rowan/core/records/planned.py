"""What a plan has set, as readings and logs are held against it."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.readings import Planned
from rowan.core.weather.hours import winter_clock


def planned_of(design: Design, result: Reckoning) -> Planned:
    """What the plan has set, as readings are held against it."""
    cold = result.vessel_states.get("cold")
    return Planned(
        start=design.control.start_k.value,
        stop=design.control.stop_k.value,
        least_c=design.control.least_collector_c.value,
        store_c=design.store.maximum_c.value,
        cut_out_c=design.control.cut_out_c.value,
        flow=result.run.flow,
        least_gauge=cold.station if cold is not None else None,
        zone_h=winter_clock(design.survey.longitude_deg.value),
    )
