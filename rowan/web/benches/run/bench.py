"""The Run bench: the route as a profile, the pump against the loop."""

from __future__ import annotations

from rowan.core.figures import Quantity, Statement, say
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.benches.blanks import Slot
from rowan.web.benches.run.drawing import head_shares, profile_drawing, pump_chart


def _verdict(sheet: Sheet) -> Statement:
    route = sheet.result.run.route
    name = sheet.design.run.pipe.value.name
    words = name[:1].lower() + name[1:]
    humps = len(route.high_points)
    draining = sheet.result.charge.draining
    if draining is not None:
        traps = len(draining.falls.traps)
        held = Quantity(draining.falls.held, "volume", 1)
        tail = (
            ", all of it falls"
            if traps == 0
            else ", {v} stay behind in " + ("a trap" if traps == 1 else f"{traps} traps")
        )
        return say("{l} of " + words + tail, l=Quantity(route.length, "length", 1), v=held)
    if humps == 0:
        tail = ", every high point vented" if route.top_vented or not sheet.design.sealed else ", its top not vented"
    else:
        tail = ", clear but for one hump" if humps == 1 else f", with {humps} humps that hold air"
    return say("{l} of " + words + tail, l=Quantity(route.length, "length", 1))


def _line(sheet: Sheet) -> tuple[str | Slot, ...]:
    return (
        Slot("run.pipe"),
        ", lagging ",
        Slot("run.insulation_m"),
        ", ",
        Slot("run.bends"),
        " bends, flow wanted ",
        Slot("run.flow_l_h"),
        ". ",
        Slot("run.pump"),
        ", speed ",
        Slot("run.speed"),
        ". Gauge to top ",
        Slot("survey.gauge_to_top_m"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("The profile", "", profile_drawing(sheet)),
        Block("Pump against loop", "", pump_chart(sheet), half=True),
        Block("Where the head goes", "", head_shares(sheet), half=True),
    ]


BENCH = Bench(
    "run",
    "Run",
    _verdict,
    _line,
    _blocks,
    (
        "run.insulation_w_mk",
        "run.non_return",
        "run.shut_off_to_relief",
        "run.vent_shut_off",
        "run.vent_rating_c",
        "run.joint_rating_c",
        "survey.room_c",
    ),
)
