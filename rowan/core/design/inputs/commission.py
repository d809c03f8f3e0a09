"""What the loop is flushed, tested and filled with.

What stands on the van decides flow, tub and test medium.
"""

from __future__ import annotations

from typing import Annotated, Literal

from rowan.core.design.inputs.base import Input, Inputs
from rowan.core.design.inputs.fields import Flag, Number, choice, flag, number
from rowan.core.terms.units import LITRE_H

TestMedium = Literal["water", "mix", "air"]
Kit = Literal["station", "drill", "sprayer"]
Hose = Literal["filling", "garden"]


class CommissionInputs(Inputs):
    """What the loop is flushed, tested and filled with."""

    kit: Annotated[
        Input[Kit],
        choice(
            "filled with",
            ("station", "a high-pressure station"),
            ("drill", "a drill pump"),
            ("sprayer", "a garden sprayer"),
            help="What stands on the van; it decides the order of the work",
        ),
    ] = Input[Kit](value="station")
    test_pump: Annotated[
        Flag, flag("hand test pump", "at hand", "none", help="For a test above what the kit reaches")
    ] = Flag(value=True)
    vessel_valve: Annotated[
        Flag,
        flag("valve to the vessel", "can be shut, secured open", "none", help="Shut in the test and while filling"),
    ] = Flag(value=True)
    between_sets: Annotated[Flag, flag("valve between the ports", "is the flow setter", "is a valve of its own")] = (
        Flag(value=False)
    )
    station_flow_l_h: Annotated[
        Number,
        number(
            "filling pump gives",
            "flow",
            60,
            10000,
            LITRE_H,
            help="What the pump of the filling station sends through this loop",
        ),
    ] = Number(value=900.0)
    tub_area_m2: Annotated[
        Number, number("tub, area of its water", "area", 0.02, 3, help="The open water in the tub, not its rim")
    ] = Number(value=0.13)
    turns: Annotated[Number, number("turn the loop over", "count", 3, 40, help="8 to 10 turns, and no bubble")] = (
        Number(value=9.0)
    )
    test: Annotated[
        Input[TestMedium],
        choice(
            "tested with",
            ("water", "water"),
            ("mix", "the mix itself"),
            ("air", "air"),
            help="Water; where it may freeze the mix, or air with its danger",
        ),
    ] = Input[TestMedium](value="water")
    relief_stays: Annotated[Flag, flag("relief valve in the test", "stays on the loop", "taken off and plugged")] = (
        Flag(value=True)
    )
    hose: Annotated[
        Input[Hose],
        choice(
            "filled through", ("filling", "filling hoses"), ("garden", "a garden hose"), help="What it stands counts"
        ),
    ] = Input[Hose](value="filling")
    weakest_gauge_pa: Annotated[
        Number,
        number("weakest part stands", "pressure", 2e5, 2.5e6, help="Station, vent or gauge, whichever is least"),
    ] = Number(value=1.0e6)
