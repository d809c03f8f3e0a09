"""The Pipwater pool: unglazed mats on the changing rooms, May to September. All invented."""

from __future__ import annotations

from rowan.core.catalogue import COLLECTORS, LARGE_PUMP, PIPES
from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.stages import Obstacle
from rowan.core.findings import Change
from rowan.core.places import PLACES
from rowan.core.propose import Facts, propose
from rowan.demo.sky import horizon, obstacles

TITLE = "Pipwater pool"


def pipwater() -> Design:
    """A village pool, covered at night: its own water goes through the mats."""
    design = propose(Facts(PLACES["Pipwater"], 190, 15, "metal", 4, "gas", 1), title=TITLE)
    return changed(
        design,
        [
            Change("duty.kind", "pool", "agreed"),
            Change("duty.pool_area_m2", 96.0, "measured"),
            Change("duty.pool_depth_m", 1.5, "measured"),
            Change("duty.pool_c", 25.0, "agreed"),
            Change("charge.kind", "direct", "agreed"),
            Change("collector.item", COLLECTORS["Mat unglazed"], "data sheet"),
            Change("collector.count", 36, "agreed"),
            Change("collector.working_c", 27.0),
            Change("run.flow_l_h", 5760.0),
            Change("run.pipe", PIPES["Copper 54 × 1.5"]),
            Change("run.pump", LARGE_PUMP),
            Change("run.speed", 3),
            Change("store.backup", "none", "agreed"),
            Change("control.start_k", 5.0),
            Change("control.stop_k", 2.0),
            Change("control.least_collector_c", 15.0),
            horizon((60, 3), (120, 5), (180, 8), (240, 6), (300, 4)),
            obstacles(
                Obstacle(
                    id="o1", kind="tree", bearing_deg=262, distance_m=18, width_m=8, height_m=7, summer=0.2, winter=0.6
                )
            ),
        ],
    )
