"""Tasks about flow: a chart with two scales and a speed to choose, two rows to balance, a pump that hunts.

Source: practice 8 and 11, methods 7 and 8.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from rowan.core.practice.sheet import Line, Option, Plot, Question, Rows, Sheet, Slip, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.simulation.day import STEP_S
from rowan.core.simulation.plan_day import Lens, made_ready, race_day, usual_day
from rowan.core.steps.control.differences import CyclingBand, LoopAtStart, cycling_band, stability
from rowan.core.steps.run.array import EVEN_WITHIN, Field, FieldFlow, Header, RowFlow
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.pump import OperatingPoint
from rowan.core.steps.run.pump_findings import best_speed
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.units import LITRE_H

CURVE_POINTS = 24
FAR_ROW_M = 9.0  # between the tees of two rows, as they stand on the next roof
HUNTING_START_K, HUNTING_STOP_K = 6.0, 5.0  # of the task: a narrow band
LESS_FLOW, LATER_START_K = 0.5, 1.0  # cures that are offered: half the flow, a degree more at the start


def chart(ground: Ground) -> Sheet:
    """Read a pump chart with two scales and choose a speed."""
    design, run = ground.design, ground.result.run
    if not design.pumped or run.buoyancy is not None:
        raise ImpossibleInputError("this task asks for a loop with a pump")
    points = {number: point for number, point in enumerate(run.pump.points, 1) if point is not None}
    best = best_speed(design, run)
    if best is None or len(points) < 2:
        raise ImpossibleInputError("this task asks for a pump with two speeds that start this loop")
    others = [number for number in points if number != best]
    asked = int(ground.dice("chart").choice(others))
    low, high = maker_window(design)
    most = max(curve.most_flow for curve in run.pump.curves)
    flows = [most * n / CURVE_POINTS for n in range(CURVE_POINTS + 1)]
    curves = tuple(
        Line(f"speed {number}", tuple((q, curve.head(q)) for q in flows if q <= curve.most_flow), "solid")
        for number, curve in enumerate(run.pump.curves, 1)
    )
    top = max(head for line in curves for _, head in line.points)
    lift = run.pump.lift_head
    loop = Line(
        "the loop, warm", tuple((q, run.warm.drop(q) + lift) for q in flows if run.warm.drop(q) + lift <= top), "dashed"
    )
    free = run.pump.curves[asked - 1].most_flow
    return Sheet(
        lead=say("The chart of this loop's pump, speed by speed, and the loop's own curve. Either scale may be read."),
        given=(
            ("flow wanted", Quantity(design.run.flow_l_h.value * LITRE_H, "flow")),
            ("the maker of the collectors asks for", say("{a} to {b}", a=Quantity(low, "flow"), b=Quantity(high, "flow"))),
        ),
        shown=Plot(across=("flow", "flow"), up=("head", "head"), lines=(*curves, loop), both=True),
        questions=_chart_asks(asked, points, best, (low, high)),
        master=say("Draws the loop's curve into the chart, marks every crossing, sets the slowest speed that serves, and proves it at the float."),
        slips=(
            Slip("read where the line ends: no loop at all", {"flow": free, "head": 0.0}, "flow"),
            Slip("another speed taken: more, or less, is better", {"speed": str(others[-1])}, "speed"),
        ),
    )  # fmt: skip


def _chart_asks(
    asked: int, points: dict[int, OperatingPoint], best: int, window: tuple[float, float]
) -> tuple[Question, ...]:
    (low, high), point = window, points[asked]
    return (
        Question(
            key="flow",
            asks=say("Flow at speed {asked}", asked=f"{asked}"),
            marks=30,
            dimension="flow",
            right=around(point.flow, 0.06),
            hint=say("Where that speed's line crosses the loop's; look straight down."),
            why=say("Pump and loop agree at one flow alone: where the lines cross."),
        ),
        Question(
            key="head",
            asks=say("Head that the loop takes there, at speed {asked}", asked=f"{asked}"),
            marks=30,
            dimension="head",
            right=around(point.head, 0.08),
            hint=say("From the same crossing, straight across."),
            why=say("At the crossing the pump gives what the loop takes."),
        ),
        Question(
            key="speed",
            asks=say("Which speed is set?"),
            marks=40,
            options=tuple(Option(str(n), say("speed {number}", number=f"{n}"), _speed_words(points[n].flow, low, high)) for n in points),
            answer=(str(best),),
            hint=say("Inside the maker's window first, then nearest to what is wanted."),
            why=say("It gives {q}: inside the window, nearest to what is wanted.", q=Quantity(points[best].flow, "flow")),
        ),
    )  # fmt: skip


def _speed_words(flow: float, low: float, high: float) -> Statement:
    if flow < low:
        return say("It gives {q}: under the maker's least, {l}", q=Quantity(flow, "flow"), l=Quantity(low, "flow"))
    if flow > high:
        return say("It gives {q}: over the maker's most, {h}", q=Quantity(flow, "flow"), h=Quantity(high, "flow"))
    return say("It gives {q}: allowed, but further from what is wanted", q=Quantity(flow, "flow"))


def rows(ground: Ground) -> Sheet:
    """Balance two rows of one field."""
    design, run = ground.design, ground.result.run
    each = max(design.collector.count.value // 2, 2)
    base: Field = run.warm.field
    bore, material = run.warm.pieces[0].bore, run.warm.pieces[0].material
    header = Header(FAR_ROW_M, bore, material)
    direct = replace(base, rows=(each, each), feed="direct", supply=header, back=header)
    flow = run.flow * 2 * each / design.collector.count.value
    found = direct.at(flow)
    far, throttled = found.rows[1], replace(direct, feed="throttled").at(flow)
    reverse = replace(direct, feed="reverse").at(flow)
    throttle = max(row.throttle for row in throttled.rows)
    stronger = direct.at(1.3 * flow)
    if far.share > 1.0 - EVEN_WITHIN / 2:
        raise ImpossibleInputError("in pipes as wide as this plan's two rows share evenly by themselves")
    return Sheet(
        lead=say("Two rows of {n} like this plan's stand on one pair of pipes; the far row's tees lie {d} behind the near one's.",
                 n=Quantity(float(each), "count"), d=Quantity(FAR_ROW_M, "length", 0)),
        given=(
            ("through the field", Quantity(flow, "flow")),
            ("the near row takes", Quantity(found.rows[0].flow, "flow")),
            ("one row's own drop at its even share", Quantity(direct.row_drop(each, flow / 2), "pressure", 3)),
            ("even means within", Quantity(EVEN_WITHIN, "share")),
        ),
        shown=Rows(each, FAR_ROW_M, found.rows[0].flow),
        questions=_rows_asks(flow, far, throttle, reverse, stronger),
        master=say("Leads the return round while it costs a pipe and not a visit; else sets, reads both exits at noon and writes the setter's number."),
        slips=(
            Slip("a stronger pump", {"cures": ("pump",)}, "cures"),
            Slip("more water taken for more heat", {"hot": "near_hot"}, "hot"),
        ),
    )  # fmt: skip


def _rows_asks(
    flow: float, far: RowFlow, throttle: float, reverse: FieldFlow, stronger: FieldFlow
) -> tuple[Question, ...]:
    return (
        Question(
            key="share",
            asks=say("Of its even share the far row gets"),
            marks=25,
            dimension="share",
            right=around(far.share, 0.03),
            hint=say("What the near row does not take; the even share is half."),
            why=say("It gets {q} of {e}.", q=Quantity(far.flow, "flow"), e=Quantity(flow / 2, "flow")),
        ),
        Question(
            key="hot",
            asks=say("What is seen of it at noon?"),
            marks=20,
            options=(
                Option("far_hot", say("the far row leaves hotter than the near one")),
                Option("near_hot", say("the near row leaves hotter"), say("More water through it: it leaves cooler")),
                Option("same", say("both leave alike, the store is slower"), say("Less water through a row takes the same sun: it leaves hotter")),
            ),
            answer=("far_hot",),
            hint=say("The same sun into less water."),
            why=say("The same sun on both: where less water passes it warms by more."),
        ),
        Question(
            key="cures",
            asks=say("Which of these cure it?"),
            marks=30,
            several=True,
            options=(
                Option("reverse", say("return led round: first fed, last home"), say("Led round, every way is as long: the worst row is then {u} off", u=Quantity(reverse.uneven, "share"))),
                Option("throttle", say("a setter before the near row"), say("A setter takes from the near row what the far way needs more")),
                Option("pump", say("a stronger pump"), say("A third more flow leaves the far row at {s} of its share", s=Quantity(stronger.rows[1].share, "share"))),
                Option("vent", say("a second vent"), say("A vent lets air out; it does not part water")),
            ),
            answer=("reverse", "throttle"),
            hint=say("Which of them makes the two ways alike?"),
            why=say("Water takes the easy way until both ways are alike: by length, or by a setter."),
        ),
        Question(
            key="setter",
            asks=say("What has the setter before the near row to take?"),
            marks=25,
            dimension="pressure",
            decimals=3,
            right=around(throttle, 0.2, 100.0),
            hint=say("With even shares: what the pipes to the far row and back take more."),
            why=say("At even shares both ways take the same: the difference is the pipe between the tees, there and back."),
        ),
    )  # fmt: skip


def hunting(ground: Ground) -> Sheet:
    """Find out why the pump hunts, and what ends it."""
    loop, run = ground.controlled.loop, ground.result.run
    band = cycling_band(start=HUNTING_START_K, stop=HUNTING_STOP_K, loop=loop)
    largest = stability(
        start=HUNTING_START_K,
        stop=HUNTING_STOP_K,
        area=loop.area,
        fr_ul=loop.fr_ul,
        flow=run.mass_flow,
        heat_capacity=run.heat_capacity,
    ).largest_stop
    if not band.cycles:
        raise ImpossibleInputError("this loop holds whatever starts it: its pump would not hunt")
    cures = _cures(loop)
    right = tuple(key for key, _, after in cures if _width(after) < 0.5 * _width(band))
    if not right or len(right) == len(cures):
        raise ImpossibleInputError("none of the usual cures parts from the others on this loop")
    return Sheet(
        lead=say("The pump of this loop starts, runs a minute, stops, and starts again, all morning. Both probes have been held together: they read alike."),
        given=(
            ("starts at", Quantity(HUNTING_START_K, "difference")),
            ("stops at", Quantity(HUNTING_STOP_K, "difference")),
            ("flow", Quantity(run.flow, "flow")),
            ("capacity of the flow", Quantity(loop.capacity_rate, "conductance")),
            ("field", Quantity(loop.area, "area")),
            ("loss of the field, with its efficiency factor", Quantity(loop.fr_ul, "a1")),
            ("yield of the field, with its efficiency factor", Quantity(loop.fr_tau_alpha, "efficiency")),
            ("store foot over the air", Quantity(loop.over, "difference")),
        ),
        shown=_morning(ground),
        questions=_hunting_asks(band, largest, cures, right),
        master=say("Looks at flow before he looks at the controller: matched flow, a wide band, the stop just over what the lines lose."),
        slips=(
            Slip("a probe changed for nothing", {"why": "probe"}, "why"),
            Slip("the start turned up a degree", {"cures": ("start",)}, "cures"),
        ),
    )  # fmt: skip


def _morning(ground: Ground) -> Plot:
    """The hour of this plan's clear day in which its pump starts most, run with the pair of the task: field over store foot."""
    made = made_ready(ground.design, ground.result, Lens("clear", usual_day(ground.design)))
    day = race_day(made, start=HUNTING_START_K, stop=HUNTING_STOP_K)
    over, on = day.column("exit") - day.column("foot"), day.column("speed") > 0
    steps = round(3600 / STEP_S)
    begins = np.concatenate(([0], np.cumsum(on[1:] & ~on[:-1])))
    first = int(np.argmax(begins[steps:] - begins[:-steps]))
    held = range(first, first + steps, 3)
    points = tuple(((n - first) * STEP_S, float(over[n])) for n in held)
    return Plot(
        across=("minutes", "minutes of a morning"),
        up=("difference", "field over store foot"),
        lines=(
            Line("field over store foot", points),
            Line("start", ((0.0, HUNTING_START_K), (3600.0, HUNTING_START_K)), "dashed"),
            Line("stop", ((0.0, HUNTING_STOP_K), (3600.0, HUNTING_STOP_K)), "dashed"),
        ),
    )


def _hunting_asks(
    band: CyclingBand, largest: float, cures: list[tuple[str, Statement, CyclingBand]], right: tuple[str, ...]
) -> tuple[Question, ...]:
    return (
        Question(
            key="starts",
            asks=say("Sun that starts it"),
            marks=20,
            dimension="irradiance",
            right=around(band.start_irradiance, 0.06),
            hint=say("A standing field warms until its loss takes all: loss over yield, times how far over the air it has to come."),
            why=say("The field has to stand the store's warmth and the start difference over the air."),
        ),
        Question(
            key="holds",
            asks=say("Sun that holds it running"),
            marks=20,
            dimension="irradiance",
            right=around(band.hold_irradiance, 0.06),
            hint=say("Running, the field also gives the stop difference to the flow: capacity over area."),
            why=say("Its loss at the store's warmth and what the flow carries at the stop difference."),
        ),
        Question(
            key="why",
            asks=say("Why does it hunt?"),
            marks=20,
            options=(
                Option("between", say("there is sun enough to start and too little to hold")),
                Option("probe", say("a probe is bad"), say("Side by side they read alike")),
                Option("air", say("air in the loop"), say("With air the field climbs away from the store; here it is cooled too fast")),
            ),
            answer=("between",),
            hint=say("Compare the two suns."),
            why=say("Between {a} and {b} it starts and cannot stay.", a=Quantity(band.start_irradiance, "irradiance"), b=Quantity(band.hold_irradiance, "irradiance")),
        ),
        Question(
            key="cures",
            asks=say("Which of these at least halve the band in which it hunts?"),
            marks=40,
            several=True,
            options=tuple(Option(key, words, _band_words(after)) for key, words, after in cures),
            answer=right,
            hint=say("Largest stop that never hunts here: {l}. What moves it?", l=Quantity(largest, "difference")),
            why=say("Less flow and a lower stop let less sun hold it; a start a little later hardly moves it."),
        ),
    )  # fmt: skip


def _width(band: CyclingBand) -> float:
    """Sun between starting and holding [W/m²]."""
    return max(band.hold_irradiance - band.start_irradiance, 0.0)


def _cures(loop: LoopAtStart) -> list[tuple[str, Statement, CyclingBand]]:
    slower = replace(loop, capacity_rate=loop.capacity_rate * LESS_FLOW)
    return [
        ("flow", say("half the flow"), cycling_band(start=HUNTING_START_K, stop=HUNTING_STOP_K, loop=slower)),
        ("stop", say("stop at {k}", k=Quantity(2.0, "difference", 0)), cycling_band(start=HUNTING_START_K, stop=2.0, loop=loop)),
        ("start", say("start at {k}", k=Quantity(HUNTING_START_K + LATER_START_K, "difference", 0)), cycling_band(start=HUNTING_START_K + LATER_START_K, stop=HUNTING_STOP_K, loop=loop)),
        ("close", say("stop at {k}: closer, so that it follows the sun", k=Quantity(5.5, "difference", 1)), cycling_band(start=HUNTING_START_K, stop=5.5, loop=loop)),
    ]  # fmt: skip


def _band_words(after: CyclingBand) -> Statement:
    if not after.cycles:
        return say("It would not hunt at all then")
    return say("It would hunt between {a} and {b}", a=Quantity(after.start_irradiance, "irradiance"), b=Quantity(after.hold_irradiance, "irradiance"))  # fmt: skip
