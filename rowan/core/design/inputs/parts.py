"""How goods are sold and how closely they are counted.

Pieces, spares and cans make the list that is bought.
"""

from __future__ import annotations

from typing import Annotated, Literal

from rowan.core.design.inputs.base import Input, Inputs
from rowan.core.design.inputs.fields import Number, choice, number
from rowan.core.terms.units import LITRE

GlycolSold = Literal["premix", "concentrate"]
StationKind = Literal["single", "box"]


class PartsInputs(Inputs):
    """How goods are sold and how closely they are counted."""

    pipe_piece_m: Annotated[
        Number,
        number("pipe comes in lengths of", "length", 1, 100, help="Straight lengths, or a whole coil", step=0.5),
    ] = Number(value=5.0)
    lagging_spare: Annotated[Number, number("lagging spare", "share", 0, 0.5, help="For mitres and offcuts")] = Number(
        value=0.1
    )
    clip_every_m: Annotated[Number, number("a pipe clip every", "length", 0.3, 5, step=0.1)] = Number(value=1.5)
    fluid_sold: Annotated[
        Input[GlycolSold], choice("glycol is bought", ("premix", "mixed ready"), ("concentrate", "pure, to be mixed"))
    ] = Input[GlycolSold](value="premix")
    station: Annotated[
        Input[StationKind],
        choice(
            "pump and fittings",
            ("single", "bought singly"),
            ("box", "a station in one box"),
            help="Hours, joints, spares",
        ),
    ] = Input[StationKind](value="single")
    can_l: Annotated[Number, number("a can holds", "tank", 1, 1000, LITRE)] = Number(value=10.0)
    cable_spare_m: Annotated[Number, number("sensor cable spare", "length", 0, 50)] = Number(value=3.0)
