"""The Tolliver bungalow, Aldersund: a survey that ends in “no”. Firs and a tall house stand to the south. All invented."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.sun import Obstacle
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.sky import horizon, obstacles

TITLE = "Tolliver bungalow"

# tiles on battens of 30 × 50 over old rafters of 38 × 100
ROOF = (
    Change("survey.roof_width_m", 8.4, "measured"),
    Change("survey.roof_slope_m", 4.5, "measured"),
    Change("roof.line_width_m", 0.038, "measured"),
    Change("roof.line_depth_m", 0.1, "measured"),
    Change("roof.timber", "unknown", "seen from below"),
    Change("roof.deck_m", 0.0, "seen from below"),
    Change("roof.batten_width_m", 0.05, "seen from below"),
    Change("roof.batten_depth_m", 0.03, "seen from below"),
    Change("roof.age_a", 48.0, "agreed"),
)


def tolliver() -> Design:
    """What was measured on a low roof: hardly any winter sun comes through."""
    design = propose(Facts(PLACES["Aldersund"], 205, 25, "tile", 2, "gas", 1), title=TITLE)
    return changed(
        design,
        [
            *ROOF,
            horizon((60, 6), (120, 9), (160, 7), (210, 5), (260, 11), (300, 8)),
            obstacles(
                Obstacle(
                    id="o1",
                    kind="tree",
                    bearing_deg=150,
                    distance_m=13,
                    width_m=9,
                    height_m=10.5,
                    summer=0.1,
                    winter=0.1,
                ),
                Obstacle(
                    id="o2",
                    kind="tree",
                    bearing_deg=196,
                    distance_m=11,
                    width_m=11,
                    height_m=10,
                    summer=0.1,
                    winter=0.1,
                ),
                Obstacle(id="o3", kind="house", bearing_deg=232, distance_m=15, width_m=13, height_m=6.5),
            ),
        ],
    )
