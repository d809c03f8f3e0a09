"""The Control bench: two differences, why the pump hunts between them, the limits in order."""

from __future__ import annotations

from rowan.core.figures import Quantity, Statement, say
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.benches.blanks import Slot
from rowan.web.benches.control.drawing import differences, limits


def _verdict(sheet: Sheet) -> Statement:
    control = sheet.design.control
    if control.stop_k.value >= control.start_k.value:
        return say(
            "Start at {a}, stop at {b}: the pump would chatter",
            a=Quantity(control.start_k.value, "difference"),
            b=Quantity(control.stop_k.value, "difference"),
        )
    return say(
        "Start at {a}, stop at {b}: below {f} it only loses",
        a=Quantity(control.start_k.value, "difference"),
        b=Quantity(control.stop_k.value, "difference"),
        f=Quantity(sheet.result.control.floor, "difference"),
    )


def _line(sheet: Sheet) -> tuple[str | Slot, ...]:
    return (
        "Start ",
        Slot("control.start_k"),
        ", stop ",
        Slot("control.stop_k"),
        ", sensors may be wrong by ",
        Slot("control.sensor_error_k"),
        ". Least field ",
        Slot("control.least_collector_c"),
        ", store limit ",
        Slot("store.maximum_c"),
        ", field cut-out ",
        Slot("control.cut_out_c"),
        ", pump speed ",
        Slot("run.speed"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("Start and hold", "", differences(sheet)),
        Block(
            "The limits, in order",
            "cut-out below what the parts stand, store limit by its tempering valve",
            limits(sheet),
        ),
    ]


BENCH = Bench(
    "control",
    "Control",
    _verdict,
    _line,
    _blocks,
    ("store.tempering_valve", "money.electricity_price", "money.fuel_price", "money.heater_efficiency"),
)
