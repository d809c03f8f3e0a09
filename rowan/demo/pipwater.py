"""The Pipwater pool: unglazed mats on the changing rooms, May to September. All invented."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg
from rowan.core.design.inputs.sun import Obstacle
from rowan.core.goods.catalogue import COLLECTORS, LARGE_PUMP, PIPES
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.sky import horizon, obstacles

TITLE = "Pipwater pool"

# the changing rooms: trapezoid sheet on purlins, its crowns every quarter of a metre
ROOF = (
    Change("survey.roof_width_m", 20.0, "measured"),
    Change("survey.roof_slope_m", 10.0, "measured"),
    Change("roof.state", "sound", "measured"),
    Change("roof.carrier", "trusses", "measured"),
    Change("roof.line_first_m", 0.15, "measured"),
    Change("roof.line_spacing_m", 0.25, "measured"),
    Change("roof.deck_m", 0.0, "measured"),
    Change("roof.gap_m", 0.03, "measured"),
)


def _through_the_lawn(design: Design) -> list[Change]:
    """Both lines leave the pump house under the lawn, taped from two corners of it before the trench was closed."""

    def buried(key: str, name: str, length: float, offsets: tuple[float, float]) -> Leg:
        return Leg(
            id=key,
            name=name,
            length_m=length,
            place="buried",
            depth_m=0.6,
            insulation_m=0.025,
            from_a_m=offsets[0],
            from_b_m=offsets[1],
            origin="measured",
        )

    entry = {"from_a_m": 1.2, "from_b_m": 3.0, "place": "outside"}
    first, *cold = design.run.cold
    last = design.run.hot[-1]
    wall, bend, far = (1.2, 3.0), (6.42, 6.12), (9.42, 7.6)
    return [
        Change(
            "run.cold",
            [
                first.model_copy(update=entry),
                buried("b1", "under the lawn", 5.8, bend),
                buried("b2", "to the changing rooms", 4.0, far),
                *cold,
            ],
        ),
        Change(
            "run.hot",
            [
                *design.run.hot[:-1],
                buried("b2", "from the changing rooms", 4.0, bend),
                buried("b1", "under the lawn", 5.8, wall),
                last,
            ],
        ),
        Change("run.points_apart_m", 4.2, "measured"),
        Change("run.point_a", "pump house, left corner", "measured"),
        Change("run.point_b", "pump house, right corner", "measured"),
    ]


def pipwater() -> Design:
    """A village pool, covered at night: its own water goes through the mats."""
    design = propose(Facts(PLACES["Pipwater"], 190, 15, "sheet", 4, "gas", 1), title=TITLE)
    return changed(
        design,
        [
            Change("duty.kind", "pool", "agreed"),
            Change("duty.pool_area_m2", 96.0, "measured"),
            Change("duty.pool_depth_m", 1.5, "measured"),
            Change("duty.pool_c", 25.0, "agreed"),
            Change("charge.kind", "direct", "agreed"),
            # the mats stand 2 bar: the main is reduced, and the relief opens before they burst
            Change("charge.reducer_gauge_pa", 150e3, "agreed"),
            Change("charge.relief_gauge_pa", 200e3, "data sheet"),
            Change("collector.item", COLLECTORS["Mat unglazed"], "data sheet"),
            Change("collector.count", 36, "agreed"),
            Change("collector.working_c", 27.0),
            Change("run.flow_l_h", 5760.0),
            Change("collector.rows", "9 + 9 + 9 + 9"),
            Change("collector.row_apart_m", 2.3),
            *ROOF,
            *_through_the_lawn(design),
            Change("run.pipe", PIPES["Copper 54 × 1.5"]),
            Change("run.pump", LARGE_PUMP),
            Change("run.speed", 3),
            Change("functions.speed", "one"),
            # the bath's own filter pump fills and purges the field
            Change("commission.station_flow_l_h", 4200.0, "measured"),
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


def pipwater_lawn() -> Design:
    """Plan B: the same mats on frames on the lawn beside the pool, where nobody climbs and the sun comes all day."""
    return changed(
        pipwater(),
        [
            Change("roof.way", "ground", "agreed"),
            Change("roof.tilt_deg", 25.0, "agreed"),
            Change("roof.fixing", "pile", "agreed"),
            Change("roof.lower_edge_m", 0.6, "agreed"),
        ],
    )
