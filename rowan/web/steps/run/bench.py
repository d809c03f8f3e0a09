"""The Run bench: the route as a profile, the pump against the loop."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.run.sketch import sketch_of
from rowan.core.studies.pipe_kinds import pipe_advice, pipe_kinds
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot
from rowan.web.steps.run.array import array_drawing
from rowan.web.steps.run.charts import drive_chart, head_shares, pump_chart
from rowan.web.steps.run.drawing import profile_drawing
from rowan.web.steps.run.panel import panel_drawing
from rowan.web.steps.run.pipe_kinds import pipe_kinds_drawing
from rowan.web.steps.run.sketch import sketch_drawing


def _verdict(sheet: Sheet) -> Statement:
    route = sheet.result.run.route
    names = [sheet.design.run.laid(line).name for line in ("cold", "hot")]
    one, *others = (name[:1].lower() + name[1:] for name in dict.fromkeys(names))
    words = say("{one} and {other}", one=one, other=others[0]) if others else one
    if route.cold_open or route.hot_open:
        line = "cold" if route.cold_open else "hot"
        return say("The {line} line does not join", line=line, l=Quantity(route.length, "length", 1))
    humps = len(route.high_points)
    if not sheet.design.pumped:
        return _flows(sheet)
    draining = sheet.result.draining
    if draining is not None:
        traps = len(draining.falls.traps)
        held = Quantity(draining.falls.held, "volume", 1)
        tail: str | Statement = (
            ", all of it falls"
            if traps == 0
            else ", {v} stay behind in a trap"
            if traps == 1
            else say(", {v} stay behind in {traps}", v=held, traps=tr("{traps} traps", traps=traps))
        )
        return say("{l} of {words}{tail}", words=words, tail=tail, l=Quantity(route.length, "length", 1), v=held)
    if humps == 0:
        tail = ", every high point vented" if route.top_vented or not sheet.design.sealed else ", its top not vented"
    else:
        tail = ", clear but for one hump" if humps == 1 else tr(", with {humps} humps that hold air", humps=humps)
    return say("{l} of {words}{tail}", words=words, tail=tail, l=Quantity(route.length, "length", 1))


def _flows(sheet: Sheet) -> Statement:
    """What a tank over its field does by itself."""
    flow = sheet.result.figures.get("flow")
    humps = len(sheet.result.run.route.high_points)
    if flow is None:
        return say("Nothing drives this loop: the store stands too low")
    if humps:
        return say(
            "{q} in full sun, until air gathers {case}",
            case="in the hump" if humps == 1 else "in the humps",
            q=flow.quantity,
        )
    return say("In full sun {q} go round by themselves", q=flow.quantity)


def _roof_line(sheet: Sheet) -> tuple[LinePart, ...]:
    """The sentence of a tank over its field."""
    return (
        "The store's foot ",
        Slot("store.above_field_m"),
        " over the field's top, ",
        Slot("run.pipe"),
        ", hot line ",
        Slot("run.hot_pipe"),
        ", lagging ",
        Slot("run.insulation_m"),
        ", ",
        Slot("run.bends"),
        " bends beside those on the legs. Warm water enters ",
        Slot("store.coil_top_m"),
        " over the store's foot; gauge to top ",
        Slot("survey.gauge_to_top_m"),
        ".",
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    return _rows(sheet, _pump_line(sheet) if sheet.design.pumped else _roof_line(sheet))


def _pump_line(sheet: Sheet) -> tuple[LinePart, ...]:
    parts: tuple[LinePart, ...] = (
        Slot("run.pipe"),
        ", hot line ",
        Slot("run.hot_pipe"),
        ", lagging ",
        Slot("run.insulation_m"),
        ", ",
        Slot("run.bends"),
        " bends beside those on the legs, flow wanted ",
        Slot("run.flow_l_h"),
        ". ",
        Slot("run.pump"),
        ", speed ",
        Slot("run.speed"),
        ". Gauge to top ",
        Slot("survey.gauge_to_top_m"),
        ".",
    )
    if sheet.design.run.pump.value.on_panel:
        parts += (" On a panel of ", Slot("run.panel_w"), ".")
    return parts


def _rows(sheet: Sheet, parts: tuple[LinePart, ...]) -> tuple[LinePart, ...]:
    """The sentence with rows and tapes, where there are any."""
    if sheet.design.collector.count.value > 1:
        parts += (" Rows: ", Slot("collector.rows"), ", collectors in a row ", Slot("collector.within"))
        if len(sheet.design.row_counts) > 1:
            parts += (", fed by ", Slot("collector.feed"), ", ", Slot("collector.row_apart_m"), " apart")
        parts += (".",)
    if buried(sheet):
        apart = (" A and B stand ", Slot("run.points_apart_m"), " apart.")
        parts += (" Taped from A, ", Slot("run.point_a"), ", and B, ", Slot("run.point_b"), ".", *apart)
    return parts


def buried(sheet: Sheet) -> bool:
    """Whether any leg lies in the ground."""
    return any(leg.depth is not None for leg in sheet.result.run.route.legs())


def _blocks(sheet: Sheet) -> list[Block]:
    run, buoyancy = sheet.result.run, sheet.result.run.buoyancy
    blocks = [
        Block("The profile", "", profile_drawing(sheet)),
        Block("Pump against loop", "", pump_chart(sheet), half=True)
        if buoyancy is None
        else Block("Warm water against the loop", "", drive_chart(sheet, buoyancy), half=True),
        Block("Where the head goes" if buoyancy is None else "Where it goes", "", head_shares(sheet), half=True),
    ]
    if len(sheet.design.row_counts) > 1 or sheet.design.collector.within.value == "series":
        blocks.append(Block("How the flow divides", "pipes as thick as what runs in them", array_drawing(sheet)))
    if buoyancy is None and run.pump.on_sun is not None:
        blocks.append(Block("By hour of sun", "a mean day, no controller", panel_drawing(sheet, run.pump.on_sun)))
    sketch = sketch_of(sheet.design)
    if sketch is not None and sketch.spots:
        blocks.append(
            Block("The buried line in plan", "for the inspector and the next digger", sketch_drawing(sheet, sketch))
        )
    if sheet.design.pumped and not sheet.design.is_pool:
        kinds = pipe_kinds(sheet.design, sheet.result)
        told = pipe_advice(sheet.design, sheet.result, kinds).text(sheet.units)
        blocks.append(Block("What kind of pipe", told, pipe_kinds_drawing(sheet, kinds)))
    blocks.append(Block("What the run costs a year", "", run="lines"))
    return blocks


def _context(sheet: Sheet) -> dict[str, Any]:
    return {"buried": buried(sheet)}


BENCH = Bench(
    "run",
    "Run",
    _verdict,
    _line,
    _blocks,
    (
        "run.insulation_w_mk",
        "run.jacket",
        "run.hot_boot",
        "run.non_return",
        "run.separator",
        "run.shut_off_to_relief",
        "run.field_relief",
        "run.vent_shut_off",
        "run.vent_rating_c",
        "run.joints",
        "run.shut_offs",
        "run.under_deck_m",
        "run.joint_rating_c",
        "run.pump_line",
        "run.shaft",
        "run.rim_m",
        "survey.room_c",
    ),
    _context,
)
