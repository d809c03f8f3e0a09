"""The Corrim hostel, 1,100 m up in the Carrow Range: 38 beds, drainback, twelve plates in two rows. All invented."""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.catalogue import PIPES, PUMPS, STORES
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.sky import horizon

TITLE = "Corrim hostel"

# standing seam over rafters of 80 × 200; two rows within the field zone
ROOF = (
    Change("survey.roof_width_m", 12.0, "measured"),
    Change("survey.roof_slope_m", 8.4, "measured"),
    Change("roof.state", "sound", "measured"),
    Change("roof.line_first_m", 0.25, "measured"),
    Change("roof.line_spacing_m", 0.5, "measured"),
    Change("roof.line_width_m", 0.08, "measured"),
    Change("roof.line_depth_m", 0.2, "measured"),
    Change("roof.gust_m_s", 38.0, "data sheet"),
    Change("roof.snow_pa", 2500.0, "data sheet"),
)


def corrim() -> Design:
    """As drawn for the winter: an open store whose own water goes through the plates and comes back when the pump stops."""
    design = propose(Facts(PLACES["Corrim"], 172, 45, "metal", 38, "oil", 2), title=TITLE)
    store = STORES["Open store 1500"]
    named = {"h1": "from the plates"}
    hot = [leg.model_copy(update={"name": named.get(leg.id, leg.name)}) for leg in design.run.hot]
    return changed(
        design,
        [
            Change("duty.kind", "commercial", "agreed"),
            Change("duty.litres_per_person_l", 32.0, "agreed"),
            Change("duty.away", "3-24 Nov", "agreed"),
            Change("charge.kind", "drainback", "agreed"),
            # open to the air at 1,100 m water boils near 96 °C, and a full siphon lets go at 61
            Change("control.cut_out_c", 86.0, "agreed"),
            Change("store.maximum_c", 60.0, "agreed"),
            Change("collector.count", 12, "agreed"),
            *ROOF,
            Change("run.flow_l_h", 1440.0),
            Change("collector.rows", "6 + 6"),
            Change("run.pipe", PIPES["Copper 28 × 1"]),
            Change("run.pump", PUMPS["Drainback pump, 9 m"]),
            Change("run.speed", 1),
            Change("run.bends", 12, "measured"),
            Change("functions.speed", "one"),
            # under broken cloud it would fill and empty all day
            Change("functions.least_run_s", 600.0, "agreed"),
            Change("run.hot", hot),
            Change("run.non_return", False),
            # everything outdoors and in the attic falls toward the store, three in a hundred at least
            Change("run.cold.c5.rise_m", round(0.03 * next(g.length_m for g in design.run.cold if g.id == "c5"), 2)),
            Change("run.hot.h1.rise_m", -0.05),
            Change("run.hot.h1.vented", False),
            Change("run.hot.h3.rise_m", round(-0.03 * next(g.length_m for g in design.run.hot if g.id == "h3"), 2)),
            Change("store.item", store, "data sheet"),
            Change("store.coil_top_m", 1.55),
            Change("store.coil_bottom_m", 0.2),
            Change("store.lower_sensor_m", 0.35),
            Change("store.upper_sensor_m", 1.6),
            Change("store.backup", "second", "agreed"),
            Change("store.second_l", 500.0),
            Change("survey.floor_limit_kg_m2", 2500.0, "measured"),
            horizon((40, 16), (75, 14), (110, 11), (150, 6), (185, 5), (215, 9), (250, 15), (285, 19), (320, 18)),
        ],
    )
