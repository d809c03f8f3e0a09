"""The field: which collector, how many, in what rows.

Rows and feed decide the flow of each collector and the pressure drop; the run's step reckons them.
"""

from __future__ import annotations

from typing import Annotated, Literal

from rowan.core.design.inputs.base import Input, Inputs, InputSpec
from rowan.core.design.inputs.fields import Flag, Number, Whole, choice, flag, number, whole
from rowan.core.design.inputs.rows import RowsText
from rowan.core.goods.items import CollectorItem

Advice = Literal["compared", "seller"]
RowPlumbing = Literal["parallel", "series"]
Feed = Literal["reverse", "direct", "throttled"]


class CollectorInputs(Inputs):
    """The field."""

    item: Annotated[Input[CollectorItem], InputSpec("collector", "item")]
    count: Annotated[Whole, whole("collectors", 1, 60)]
    working_c: Annotated[
        Number,
        number("loop works at", "temperature", 10, 120, help="Mean of hot and cold line on a working day", step=1),
    ] = Number(value=45.0)
    advice: Annotated[
        Input[Advice],
        choice(
            "chosen on",
            ("compared", "a comparison with others"),
            ("seller", "a seller's advice alone"),
            help="On whose advice it was chosen, and with what it was compared, goes into the note",
        ),
    ] = Input[Advice](value="compared")
    rows: Annotated[
        RowsText,
        InputSpec(
            "rows", "text", help="Rows side by side on one pair of pipes: “1” for all in one, or “6 + 6”, “5, 3”"
        ),
    ] = RowsText(value="1")
    within: Annotated[
        Input[RowPlumbing],
        choice("in a row", ("parallel", "side by side"), ("series", "one after the other")),
    ] = Input[RowPlumbing](value="parallel")
    feed: Annotated[
        Input[Feed],
        choice(
            "rows fed by",
            ("reverse", "reverse return"),
            ("direct", "direct return"),
            ("throttled", "throttles"),
            help="First fed, last returned: every way as long. Else throttles make them equal",
        ),
    ] = Input[Feed](value="reverse")
    row_apart_m: Annotated[
        Number, number("rows stand apart", "length", 0.3, 40, help="Pipe from tee to tee", step=0.1)
    ] = Number(value=2.4)
    support: Annotated[Flag, flag("service", "somebody in reach knows it", "nobody in reach knows it")] = Flag(
        value=True
    )
