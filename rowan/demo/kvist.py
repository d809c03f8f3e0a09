"""The Kvist house, 4 Ropewalk, Aldersund: plan A as first drawn, plan B as built. All invented."""

from __future__ import annotations

from functools import cache

from rowan.core.design.changes import changed, inputs
from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.design.inputs.roof import RoofObject
from rowan.core.design.inputs.run import Leg
from rowan.core.design.inputs.sun import Obstacle
from rowan.core.goods.catalogue import PIPES, STORES
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.sky import horizon, obstacles

FACTS = Facts(PLACES["Aldersund"], 157, 40, "slate", 5, "oil", 3)
TITLE = "Kvist house, 4 Ropewalk"

_COLD = (
    ("c1", "from the coil", 0.8, 0.0, "cellar"),
    ("c2", "up to the station", 1.9, 1.85, "cellar"),
    ("c3", "along the cellar", 4.5, 0.09, "cellar"),
    ("c4", "up the old flue", 5.5, None, "shaft"),
    ("c5", "onto the attic floor", 1.5, 0.0, "attic"),
    ("c6", "along the attic", 3.8, 0.076, "attic"),
    ("c7", "up to the rafters", 2.0, 1.40, "attic"),
    ("c8", "to the plates", 1.0, 0.06, "roof"),
)
_HOT = (
    ("h1", "up to the vent", 0.9, 0.20, "roof"),
    ("h2", "down from the rafters", 3.4, -2.75, "attic"),
    ("h3", "along the attic", 2.8, -0.10, "attic"),
    ("h4", "up over the tie beam", 0.45, 0.30, "attic"),
    ("h5", "tie beam", 0.3, 0.0, "attic"),
    ("h6", "down behind it", 0.45, -0.40, "attic"),
    ("h7", "to the flue", 1.5, -0.05, "attic"),
    ("h8", "down the old flue", 5.5, None, "shaft"),
    ("h9", "along the cellar", 4.5, -0.15, "cellar"),
    ("h10", "down to the coil", 1.25, -1.25, "cellar"),
    ("h11", "to the coil", 0.95, 0.0, "cellar"),
)
# what is still assumed in each plan; everything else has been measured, read or agreed
_ASSUMED_A = {
    "survey.gauge_to_top_m",
    "survey.floor_limit_kg_m2",
    "run.bends",
    "charge.working_hot_c",
    "charge.hot_c",
    "charge.steaming_w_m2",
    "control.sensor_error_k",
    "money.system_price",
    "parts.can_l",
    "commission.station_flow_l_h",
    "commission.tub_area_m2",
}
_ASSUMED_B = {"charge.steaming_w_m2", "charge.hot_c"}
_DATA_SHEET = {
    "collector.item",
    "store.item",
    "run.pump",
    "run.insulation_w_mk",
    "run.vent_rating_c",
    "run.joint_rating_c",
    "charge.station_l",
    "commission.weakest_gauge_pa",
}
_AGREED = {
    "money.system_price",
    "duty.litres_per_person_l",
    "duty.tap_c",
    "money.currency",
    "money.fuel_price",
    "money.life_years",
    "money.discount",
    "store.hygiene",
    "parts.pipe_piece_m",
    "parts.lagging_spare",
    "parts.clip_every_m",
    "parts.fluid_sold",
    "parts.cable_spare_m",
    "commission.turns",
    "commission.test",
    "commission.relief_stays",
}

# slates of 500 × 250 on boards over rafters; the window and the chimney as taped from the left verge
ROOF = (
    Change("survey.roof_width_m", 8.4, "measured"),
    Change("survey.roof_slope_m", 5.6, "measured"),
    Change("roof.state", "sound", "measured"),
    Change("roof.line_first_m", 0.15, "measured"),
    Change("roof.line_spacing_m", 0.45, "measured"),
    Change("roof.line_width_m", 0.047, "measured"),
    Change("roof.line_depth_m", 0.15, "measured"),
    Change("roof.deck_m", 0.022, "measured"),
    Change("roof.course_m", 0.2, "measured"),
    Change("roof.eave_drop_m", 0.024, "measured"),
    Change("roof.gust_m_s", 42.0, "data sheet"),
    Change("roof.snow_pa", 800.0, "data sheet"),
    Change("roof.rails_apart_m", 1.24, "data sheet"),
    Change("roof.field_x_m", 2.9, "agreed"),
    Change("roof.field_y_m", 2.3, "agreed"),
    # the legs on the roof, a metre from the cold line's hole and 0.9 m to the vent, follow from these
    Change("roof.cold_hole_x_m", 1.904, "measured"),
    Change("roof.cold_hole_y_m", 2.454, "measured"),
    Change("roof.hot_hole_x_m", 6.115, "measured"),
    Change("roof.hot_hole_y_m", 4.424, "measured"),
    Change(
        "roof.objects",
        [
            RoofObject(id="o1", kind="window", x_m=0.95, y_m=2.7, width_m=0.78, height_m=1.18),
            RoofObject(id="o2", kind="chimney", x_m=6.9, y_m=4.6, width_m=0.7, height_m=1.0),
        ],
    ),
)


def _legs(rows: tuple[tuple[str, str, float, float | None, str], ...], vented: str = "") -> list[Leg]:
    return [
        Leg(
            id=key,
            name=name,
            length_m=length,
            rise_m=rise or 0.0,
            place=place,
            vented=key == vented,
            fitted=rise is None,
            origin="measured",
        )
        for key, name, length, rise, place in rows
    ]


def _with_origins(design: Design, assumed: set[str]) -> Design:
    changes = []
    for found in inputs(design):
        if found.path in assumed:
            origin: Origin = "assumed"
        elif found.path in _DATA_SHEET:
            origin = "data sheet"
        elif found.path in _AGREED or found.origin == "agreed":
            origin = "agreed"
        else:
            origin = found.origin if found.origin != "assumed" else "measured"
        changes.append(Change(found.path, found.value, origin))
    return changed(design, changes)


@cache  # a design is never changed in place
def kvist_plan_a() -> Design:
    """The first drawing: a hump in the hot line over the tie beam, an open vent on top."""
    store = STORES["Store 300 twin coil"]
    design = propose(FACTS, title=TITLE)
    data = design.model_dump()
    data["run"]["cold"] = [leg.model_dump() for leg in _legs(_COLD)]
    data["run"]["hot"] = [leg.model_dump() for leg in _legs(_HOT, vented="h1")]
    design = Design.model_validate(data)
    design = changed(
        design,
        [
            Change("store.item", store),
            Change("store.coil_bottom_m", 0.12),
            Change("store.coil_top_m", 0.72),
            Change("store.lower_sensor_m", 0.36),
            Change("store.upper_sensor_m", 1.05),
            Change("store.foot_below_gauge_m", 1.12),
            Change("run.pipe", PIPES["Copper 18 × 1"]),
            Change("run.bends", 24),
            *ROOF,
            Change("run.vent_shut_off", False),
            Change("run.speed", 1),
            Change("functions.speed", "one"),
            Change("charge.vessel_l", 18.0),
            Change("charge.vessels", 1),
            Change("control.start_k", 8.0),
            Change("control.stop_k", 3.0),
            horizon((60, 4), (100, 5), (135, 3), (170, 2), (200, 3), (235, 6), (275, 8), (310, 5)),
            obstacles(Obstacle(id="o1", kind="chimney", bearing_deg=214, distance_m=5.2, width_m=0.9, height_m=1.3)),
        ],
    )
    return _with_origins(design, _ASSUMED_A)


# what was done between the first drawing and the house as built, in the order it was done
AS_BUILT: tuple[tuple[str, tuple[Change, ...]], ...] = (
    ("offer agreed", (Change("money.system_price", 5450.0),)),
    ("gauge to top taped", (Change("survey.gauge_to_top_m", 9.5),)),
    (
        "tie beam bored, the pipe laid straight through",
        (
            Change("run.hot.h4.rise_m", -0.02),
            Change("run.hot.h5.rise_m", -0.01),
            Change("run.hot.h6.rise_m", -0.07),
        ),
    ),
    ("valve under the vent", (Change("run.vent_shut_off", True),)),
    ("bends counted", (Change("run.bends", 30),)),
    ("floor proved by the builder", (Change("survey.floor_limit_kg_m2", 2000.0),)),
    ("the pump calmed: at least eight minutes a run", (Change("functions.least_run_s", 480.0),)),
)


@cache
def kvist_plan_b() -> Design:
    """As built: the beam bored, a valve under the vent, the height taped, bends counted, the floor proved."""
    design = changed(kvist_plan_a(), [change for _, changes in AS_BUILT for change in changes])
    return _with_origins(design, _ASSUMED_B)
