"""Pump and loop curves, what drives a loop without a pump, and where the head goes."""

from __future__ import annotations

import math
from collections.abc import Callable

from rowan.core.steps.run.loop import LoopCurve, maker_window
from rowan.core.steps.run.result import Buoyancy
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, number_and_unit, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import measured_at, width_of
from rowan.web.ui.svg import Drawing

HALF = 322
# of the chart's greatest flow: where the pump works at less than the first its words name the speed's curve too, beyond the second
# they stand left of its point
NEAR_LEFT, FAR_RIGHT = 0.2, 0.7
# pieces of a loop's curve, and after how many its name begins where it stands near its beginning
CURVE_PARTS, NAMED_PART = 60, 3
END_PX = 30.0  # from the chart's right side: a curve that ends there has no room for its name beside it
Point = tuple[float, float]


def drive_chart(sheet: Sheet, buoyancy: Buoyancy) -> Drawing:
    """What warm water gives and what the loop takes, over the flow; where they meet it flows."""
    drawing = Drawing(HALF, 184, "What drives the loop against what it takes", "drive", "drive")
    run, units = sheet.result.run, sheet.units
    left, right, top, foot = 34.0, 286.0, 14.0, 160.0
    most_flow = buoyancy.pulls[-1][0]
    most = max(max(p for _, p in buoyancy.pulls), 1.0) * 1.05
    flow_unit, pa_unit = dimension("flow").unit(units), dimension("draught").unit(units)

    def at(flow: float, pressure: float) -> tuple[float, float]:
        return left + (right - left) * flow / most_flow, foot - (foot - top) * max(0.0, min(pressure, most)) / most

    _chart_axes(
        drawing,
        (left, right, top, foot),
        most_flow / flow_unit.factor,
        most / pa_unit.factor,
        (flow_unit.label, pa_unit.label),
    )
    drawing.path([at(q, p) for q, p in buoyancy.pulls], "pump-chosen")
    taken = [(most_flow * k / 40, run.warm.drop(most_flow * k / 40)) for k in range(41)]
    drawing.path([at(q, p) for q, p in taken if p <= most], "loop-curve")
    first = at(*buoyancy.pulls[0])
    drawing.words((first[0] + 8, max(first[1] + 2, top + 10)), "warm water gives", "label halo")
    last = max((at(q, p) for q, p in taken if p <= most), key=lambda point: point[0])
    drawing.words((min(last[0], right) - 2, last[1] + 18), "pipes take", "label halo", "end")
    if buoyancy.flows:
        x, y = at(run.flow, buoyancy.drive)
        drawing.line((x, y), (x, foot), "pointing")
        drawing.circle((x, y), 5.5, "leaf-dot")
        number, label = number_and_unit(shown(run.flow, "flow", units))
        drawing.figure((x + 10, y - 6), number, label, "fig-big halo")
        drawing.words(
            (x + 10, y + 9),
            tr("warms by {rise}", rise=shown(run.temperatures.rise, "difference", units, 0)),
            "label halo",
        )
    else:
        drawing.words(((left + right) / 2, (top + foot) / 2), "nothing drives it", "label-berry halo", "middle")
    return drawing


def pump_chart(sheet: Sheet) -> Drawing:
    """Pump speeds against the loop, warm and cold; the crossing that matters."""
    drawing = Drawing(HALF, 184, "Pump curves against the loop", "pump", "pump")
    run, units = sheet.result.run, sheet.units
    left, right, top, foot = 30.0, 286.0, 14.0, 160.0
    most_flow = max(curve.most_flow for curve in run.pump.curves) * 1.02
    most_head = max(curve.head(0) for curve in run.pump.curves) * 1.05
    flow_unit, head_unit = dimension("flow").unit(units), dimension("head").unit(units)

    def at(flow: float, head: float) -> tuple[float, float]:
        return left + (right - left) * flow / most_flow, foot - (foot - top) * min(head, most_head) / most_head

    _chart_axes(
        drawing,
        (left, right, top, foot),
        most_flow / flow_unit.factor,
        most_head / head_unit.factor,
        (flow_unit.label, head_unit.label),
    )
    low, high = maker_window(sheet.design)
    drawing.rect(at(low, 0)[0], top, at(min(high, most_flow), 0)[0] - at(low, 0)[0], foot - top, "window-band")
    for i, curve in enumerate(run.pump.curves, 1):
        points = [at(curve.most_flow * k / 40, curve.head(curve.most_flow * k / 40)) for k in range(41)]
        drawing.path(points, "pump-chosen" if i == run.pump.speed else "pump-other")
        if i != run.pump.speed or not run.point or run.point.flow > most_flow * NEAR_LEFT:
            drawing.words((left + 6, at(0, curve.head(0))[1] + 14), tr("speed {i}", i=i), "label halo")
    curves = [_loop_points(loop, (most_flow, most_head), at) for loop in (run.warm, run.cold)]
    for points, cls in zip(curves, ("loop-curve", "loop-cold"), strict=True):
        drawing.path([at(0, 0), *points], cls)
    _name_loops(drawing, curves, (right, top), aside=bool(run.point and run.point.flow > most_flow * FAR_RIGHT))
    if run.point:
        x, y = at(run.point.flow, run.point.head)
        drawing.line((x, y), (x, foot), "pointing")
        drawing.line((left, y), (x, y), "pointing")
        drawing.circle((x, y), 5.5, "leaf-dot")
        number, label = number_and_unit(shown(run.point.flow, "flow", units))
        # over the point where it lies far to the right
        aside, anchor = (-10, "end") if run.point.flow > most_flow * FAR_RIGHT else (10, "")
        up = -16 if anchor else 0
        drawing.figure((x + aside, y - 4 + up), number, label, "fig-big halo", anchor)
        drawing.words(
            (x + aside, y + 11 + up),
            tr("at {head}, speed {speed}", head=shown(run.point.head, "head", units), speed=run.pump.speed),
            "label halo",
            anchor,
        )
    return drawing


def _loop_points(loop: LoopCurve, most: Point, at: Callable[[float, float], Point]) -> list[Point]:
    """A loop's curve as far as the chart reaches [px]; `most` are its greatest flow and head."""
    points = []
    for k in range(1, CURVE_PARTS + 1):
        flow = most[0] * k / CURVE_PARTS
        head = loop.drop(flow)
        if head > most[1]:
            break
        points.append(at(flow, head))
    return points


def _name_loops(drawing: Drawing, curves: list[list[Point]], corner: Point, *, aside: bool) -> None:
    """Names the loop's curve, warm, and that of a cold start: at their ends, or near their beginning where both run to the chart's
    right side (`corner` is its upper one) and what the pump does is written there, `aside` of its point."""
    warm, cold = curves
    # there is no room beside these ends: the name stands over or under the curve
    beyond = [bool(points) and points[-1][0] > corner[0] - END_PX for points in curves]
    if aside and all(beyond):
        x, y = warm[NAMED_PART]
        drawing.words((x, y - 5), "loop", "label halo")
        drawing.words((x, min(cold[NAMED_PART][1] - 5, y - 19)), "cold start", "label halo")
        return
    for points, no_room, name, over, beside in (
        (warm, beyond[0], "loop", 22, 8),
        (cold, beyond[1], "cold start", -6, 20),
    ):
        if points:
            x, y = points[-1]
            at_y = y + over if no_room else max(y + beside, corner[1] + 6)
            drawing.words((x - 2 if no_room else x + 3, at_y), name, "label halo", "end" if no_room else "")


def _chart_axes(
    drawing: Drawing, box: tuple[float, float, float, float], most_x: float, most_y: float, labels: tuple[str, str]
) -> None:
    left, right, top, foot = box
    unit_from = HALF - width_of(labels[0], measured_at("axis")) - 2
    for most, across in ((most_x, True), (most_y, False)):
        step = nice_step(most / 5)
        i = 0
        while i * step <= most:
            if across:
                x = left + (right - left) * i * step / most
                drawing.line((x, top), (x, foot), "grid")
                if x + width_of(f"{i * step:g}", measured_at("axis")) / 2 < unit_from:
                    drawing.words((x, foot + 15), f"{i * step:g}", "axis", "middle")
            else:
                y = foot - (foot - top) * i * step / most
                drawing.line((left, y), (right, y), "grid")
                drawing.words((left - 6, y + 4), f"{i * step:g}", "axis", "end")
            i += 1
    drawing.line((left, foot), (right, foot), "rule-ink")
    drawing.line((left, top), (left, foot), "rule-ink")
    drawing.words((HALF, foot + 15), labels[0], "axis", "end")
    drawing.words((left - 6, top - 4), labels[1], "axis", "end")


def nice_step(step: float) -> float:
    """The next round step at or above one: 1, 2 or 5 times a power of ten."""
    power = 10.0 ** math.floor(math.log10(step))
    return next((n * power for n in (1.0, 2.0, 5.0) if n * power >= step), 10.0 * power)


def head_shares(sheet: Sheet) -> Drawing:
    """Where the pump's head goes, part by part."""
    drawing = Drawing(HALF, 184, "Where the head goes", "shares", "shares")
    shares, units = sheet.result.run.shares, sheet.units
    pumped = sheet.design.pumped
    scale = "head" if pumped else "draught"
    length = shown(sheet.result.run.route.length, "length", units, 1)
    rows = [
        (tr("pipe {length}", length=length), shares.pipe),
        ("bends, valves", shares.fittings),
        ("collectors", shares.collectors),
    ]
    if pumped:
        rows += [("station", shares.station), ("coil", shares.coil)]
    top = max(value for _, value in rows) or 1.0
    for i, (name, value) in enumerate(rows):
        y = 18 + i * 27.0
        drawing.words((0, y + 4), name, "label-ink")
        drawing.rect(116, y - 6, 130 * value / top, 12, "bar")
        drawing.words((HALF - 4, y + 4), shown_number(value, scale, units), "fig", "end")
        drawing.line((0, y + 13), (HALF - 4, y + 13), "rule")
    who = "the pump" if pumped else "warm water"
    drawing.words(
        (0, 158),
        tr("friction {who} overcomes, {unit_label}", who=who, unit_label=unit_label(scale, units)),
        "fig-minor",
    )
    drawing.words((HALF - 4, 159), shown_number(shares.total, scale, units), "fig-key", "end")
    words = (
        "The height cancels: what goes up comes down."
        if pumped
        else "So little: a wide pipe and few bends are all it has."
    )
    draining = sheet.result.draining
    if draining is not None:
        words = tr("Running; at the start it lifts {head}.", head=shown(draining.lift.start_head, "head", units))
    drawing.words((0, 178), words, "place")
    return drawing
