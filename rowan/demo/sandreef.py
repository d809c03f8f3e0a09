"""The Sandreef guesthouse, Port Maravel: no frost, a direct loop, the sun in the north. As proposed, the horizon walked."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.sun import Obstacle
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.sky import horizon, obstacles

TITLE = "Sandreef guesthouse"


def sandreef() -> Design:
    """The first proposal for sixteen guests under a roof that faces north."""
    design = propose(Facts(PLACES["Port Maravel"], 8, 28, "tile", 16, "electric", 2), title=TITLE)
    return changed(
        design,
        [
            horizon((250, 0), (300, 1.5), (340, 3), (20, 4), (70, 6), (110, 3)),
            obstacles(
                Obstacle(
                    id="o1",
                    kind="tree",
                    bearing_deg=322,
                    distance_m=16,
                    width_m=5,
                    height_m=6.5,
                    summer=0.4,
                    winter=0.4,
                ),
                Obstacle(id="o2", kind="chimney", bearing_deg=48, distance_m=7, width_m=0.9, height_m=1.8),
            ),
        ],
    )


def sandreef_annexe() -> Design:
    """Plan B: two rows on racks, on the annexe's flat concrete roof, held by ballast alone as the owner would like it."""
    return changed(
        sandreef(),
        [
            Change("survey.covering", "membrane", "measured"),
            Change("survey.roof_tilt_deg", 1.0, "measured"),
            Change("survey.roof_width_m", 9.0, "measured"),
            Change("survey.roof_slope_m", 7.0, "measured"),
            Change("collector.rows", "2 + 2", "agreed"),
            Change("roof.way", "rack", "agreed"),
            Change("roof.tilt_deg", 28.0, "agreed"),
            Change("roof.carrier", "slab", "measured"),
            Change("roof.state", "sound", "measured"),
            Change("roof.fixing", "ballast", "agreed"),
            Change("roof.snow_slides", False, "measured"),
            Change("roof.snow_pa", 0.0, "data sheet"),
            Change("roof.gust_m_s", 38.0, "data sheet"),
        ],
    )
