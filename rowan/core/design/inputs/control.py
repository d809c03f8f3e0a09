"""Differences and limits of the controller.

Everything beside the two differences is in `functions`.
"""

from __future__ import annotations

from typing import Annotated

from rowan.core.design.inputs.base import Inputs
from rowan.core.design.inputs.fields import Flag, Number, flag, number


class ControlInputs(Inputs):
    """Differences and limits of the controller."""

    start_k: Annotated[Number, number("start difference", "difference", 1, 40, step=0.5)]
    stop_k: Annotated[Number, number("stop difference", "difference", 0, 30, step=0.5)]
    sensor_error_k: Annotated[Number, number("sensors may be wrong by", "difference", 0, 10)] = Number(value=1.0)
    least_collector_c: Annotated[Number, number("least collector", "temperature", 0, 60)] = Number(value=20.0)
    cut_out_c: Annotated[Number, number("collector cut-out", "temperature", 80, 200)] = Number(value=130.0)
    frost: Annotated[
        Flag,
        flag("frost protection", "warms the field from the store", "none", help="For loops with water in them"),
    ] = Flag(value=False)
    refill_c: Annotated[
        Number,
        number("no filling of a dry field above", "temperature", 50, 130, help="Where the loop drains: it would boil"),
    ] = Number(value=95.0)
    restart_k: Annotated[
        Number,
        number("restarts when the store has cooled by", "difference", 1, 15, help="Where the loop drains", step=0.5),
    ] = Number(value=5.0)
    frost_c: Annotated[Number, number("frost protection from", "temperature", 1, 8, step=0.5)] = Number(value=4.0)
