"""The elevation profile with its joints, pressure along it, pump and loop curves, shares of the head."""

from __future__ import annotations

import math
from itertools import pairwise

from rowan.core.steps.charge.figures import LEAST_TOP_COLD_PA
from rowan.core.steps.charge.pressures import gauge_at
from rowan.core.steps.charge.vessel import steam_ends
from rowan.core.steps.run.drainback import Draining
from rowan.core.steps.run.insulation import OUTDOORS
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.result import Buoyancy
from rowan.core.steps.run.route import ProfileLeg
from rowan.core.terms.units import dimension, number_and_unit, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Point

WIDTH = 656
LEFT, RIGHT = 34.0, 648.0
TOP, FOOT = 38.0, 268.0
PRESSURE_TOP, PRESSURE_FOOT = 304.0, 352.0
GAP = 26.0  # px between the lines, where the plates stand
JOINT_STEP_M = 0.05
LABEL_HALF, LEAN_PX = 34.0, 10.0


class Profile:
    """Developed length and height to the drawing."""

    def __init__(self, sheet: Sheet) -> None:
        route = sheet.result.run.route
        self.route = route
        self.low = min(leg.start_height for leg in route.cold) - 0.5
        self.low = min(self.low, min(leg.end_height for leg in route.hot) - 0.5)
        # a tank over its field stands far above the gauge; any other loop goes down to it
        self.low = min(self.low, 0.0) if sheet.design.pumped else min(self.low, route.plate_bottom - 0.3)
        self.high = route.top + 0.9
        self.per_m = (RIGHT - LEFT - GAP) / max(route.length, 0.1)
        self.up_per_m = (FOOT - TOP) / (self.high - self.low)

    def x(self, line: str, along: float) -> float:
        return (
            LEFT + along * self.per_m if line == "cold" else LEFT + GAP + (self.route.cold_length + along) * self.per_m
        )

    def y(self, height: float) -> float:
        return FOOT - (height - self.low) * self.up_per_m

    def start(self, leg: ProfileLeg) -> tuple[float, float]:
        return self.x(leg.line, leg.start), self.y(leg.start_height)

    def end(self, leg: ProfileLeg) -> tuple[float, float]:
        return self.x(leg.line, leg.end), self.y(leg.end_height)


def profile_drawing(sheet: Sheet) -> Drawing:
    """Route by developed length and height; joints are lifted by hand; pressure along it below."""
    drawing = Drawing(
        WIDTH, PRESSURE_FOOT + 8, "Elevation profile of both lines, with the pressure along them", "profile", "profile"
    )
    frame = Profile(sheet)
    drawing.attributes["data-px-per-m"] = round(frame.per_m, 4)
    drawing.attributes["data-px-per-m-up"] = round(frame.up_per_m, 4)
    _grid(drawing, sheet, frame)
    _places(drawing, frame)
    for leg in frame.route.legs():
        a, b = frame.start(leg), frame.end(leg)
        drawing.line(
            a,
            b,
            "lagged-out" if leg.place in OUTDOORS else "lagged",
            data_lead=_before(frame, leg),
            data_tail=_joint(leg),
        )
    for leg in frame.route.legs():
        a, b = frame.start(leg), frame.end(leg)
        drawing.line(
            a, b, leg.line, id=f"leg-{leg.line}-{leg.id}", data_lead=_before(frame, leg), data_tail=_joint(leg)
        )
    _steam(drawing, sheet, frame)
    _plates(drawing, frame)
    _open_ends(drawing, frame)
    if not sheet.design.drains:
        _traps(drawing, sheet, frame)
    _leg_words(drawing, sheet, frame)
    _station(drawing, sheet, frame)
    _joints(drawing, sheet, frame)
    _pressure(drawing, sheet, frame)
    return drawing


def _joint(leg: ProfileLeg) -> str:
    return f"joint-{leg.line}-{leg.id}"


def _before(frame: Profile, leg: ProfileLeg) -> str:
    legs = frame.route.cold if leg.line == "cold" else frame.route.hot
    at = legs.index(leg)
    return _joint(legs[at - 1]) if at else ""


def _grid(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    unit = dimension("length").unit(sheet.units)
    step = 2.0 if sheet.units == "metric" else 5.0
    if not sheet.design.pumped:
        step /= 4  # a tank over its field is some metres tall in all
    while (frame.high - frame.low) / unit.factor / step > 9:
        step *= 2
    level = math.ceil(frame.low / unit.factor / step) * step
    while level * unit.factor <= frame.high:
        y = frame.y(level * unit.factor)
        drawing.line((LEFT, y), (RIGHT, y), "grid" if level else "rule-ink")
        digits = 0 if step >= 1 else 1
        drawing.words(
            (LEFT - 7, y + 4), shown_number(level * unit.factor, "length", sheet.units, digits), "axis", "end"
        )
        level += step
    drawing.words((LEFT - 7, TOP - 4), unit.label, "axis", "end")
    _measured_lines(drawing, sheet, frame)
    drawing.words(
        (LEFT + 6, TOP + 4), f"heights drawn {frame.up_per_m / frame.per_m:.1f} times the lengths", "place halo"
    )


def _measured_lines(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """How long each line is, above it."""
    cold_end, hot_start = frame.x("cold", frame.route.cold_length), frame.x("hot", 0)
    drawing.dimension(
        (LEFT, 16), (cold_end, 16), f"cold line {shown(frame.route.cold_length, 'length', sheet.units, 1)}"
    )
    drawing.dimension(
        (hot_start, 16), (RIGHT, 16), f"hot line {shown(frame.route.hot_length, 'length', sheet.units, 1)}"
    )


def _places(drawing: Drawing, frame: Profile) -> None:
    """Names of the places under the profile, a dotted line where one gives way to the next."""
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    runs: list[tuple[float, float, str]] = []
    for leg in frame.route.legs():
        a, b = frame.x(leg.line, leg.start), frame.x(leg.line, leg.end)
        if runs and runs[-1][2] == leg.place and abs(runs[-1][1] - a) < GAP + 1:
            runs[-1] = (runs[-1][0], b, leg.place)
        else:
            runs.append((a, b, leg.place))
    for a, b, name in runs:
        drawing.line((b, TOP), (b, FOOT + 16), "ghost-line")
        if b - a > 26:
            drawing.words(((a + b) / 2, FOOT + 14), name, "place", "middle")


def _plates(drawing: Drawing, frame: Profile) -> None:
    x1, x2 = frame.x("cold", frame.route.cold_length), frame.x("hot", 0)
    y1, y2 = frame.y(frame.route.plate_bottom), frame.y(frame.route.plate_top)
    drawing.path(((x1, y1 + 4), (x2, y2 + 4), (x2, y2 - 4), (x1, y1 - 4)), "body", close=True)
    drawing.words((x1 - 6, y2 + 2), "plates", "label halo", "end")


def _open_ends(drawing: Drawing, frame: Profile) -> None:
    """What is missing where a line does not join."""
    route = frame.route
    ends = (
        (route.cold_open, route.cold[-1], route.plate_bottom),
        (route.hot_open, route.hot[-1], route.hot[-1].end_height - route.hot_open),
    )
    for gap, leg, wanted in ends:
        if gap:
            x, y = frame.end(leg)
            drawing.line((x, y), (x, frame.y(wanted)), "gap")
            drawing.mark((x - 16, (y + frame.y(wanted)) / 2), "stop")


def _steam(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """How far steam pushes into the lines when the field stands in sun without a pump."""
    if not sheet.design.sealed or sheet.result.sealed.steam.reach <= 0:
        return
    steam = sheet.result.sealed.steam
    route = frame.route
    cold, hot = steam_ends(reach=steam.reach, cold=route.cold_length, hot=route.hot_length)
    for legs, low, high in ((route.cold, route.cold_length - cold, route.cold_length), (route.hot, 0.0, hot)):
        for leg in legs:
            a, b = max(leg.start, low), min(leg.end, high)
            if b - a > 1e-6:
                ends = [
                    (frame.x(leg.line, at), frame.y(leg.start_height + leg.slope * (at - leg.start))) for at in (a, b)
                ]
                whole = b - a > leg.length - 1e-6
                moved = {"data_lead": _before(frame, leg), "data_tail": _joint(leg)} if whole else {}
                drawing.line(ends[0], ends[1], "steam", **moved)
    last = next(leg for leg in route.hot if leg.end >= hot - 1e-6)
    x, y = frame.x("hot", hot), frame.y(last.start_height + last.slope * (hot - last.start))
    drawing.line((x, y - 12), (x, y + 12), "steam-end")
    drawing.words((x - 5, y + 24), "steam as far as this", "label-clay halo", "end")


def _traps(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    for point in frame.route.high_points:
        legs = [leg for leg in frame.route.legs() if leg.line == point.line and leg.id in point.legs]
        peak = next(leg for leg in legs if leg.id == point.peak_leg)
        for leg in legs:
            drawing.line(frame.start(leg), frame.end(leg), "trap", data_lead=_before(frame, leg), data_tail=_joint(leg))
        x, y = frame.end(peak)
        right = x < 462
        drawing.line((x, y - 4), (x, y - 26), "berry-line")
        drawing.mark((x, y - 36), "fix")
        tx = x + 13 if right else x - 13
        drawing.words(
            (tx, y - 39),
            f"high point, {peak.name}" if peak.name else "high point without a vent",
            "label-berry halo",
            "" if right else "end",
        )
        held = shown(point.held, "volume", sheet.units, 2)
        drawing.words(
            (tx, y - 25),
            f"{shown(point.stands_up, 'length', sheet.units)} up, holds {held} of air",
            "label-ink halo",
            "" if right else "end",
        )


def _leg_words(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    for leg in frame.route.legs():
        (x1, y1), (x2, y2) = frame.start(leg), frame.end(leg)
        span = math.hypot(x2 - x1, y2 - y1)
        if span < 44:
            continue
        number = shown(leg.length, "length", sheet.units, 1)
        steep = abs(leg.slope) > 0.5
        note = (
            "upright"
            if leg.fitted
            else ("level" if abs(leg.slope) < 0.002 else shown(abs(leg.slope), "share", sheet.units))
        )
        middle = ((x1 + x2) / 2, (y1 + y2) / 2)
        if steep:
            angle = math.degrees(math.atan2(y2 - y1, x2 - x1))
            node = drawing.words(
                (middle[0], middle[1] - 9), number, "fig halo", "middle", turn=angle if abs(angle) < 89 else 90
            )
            node.attributes["transform"] = f"rotate({angle:.1f} {middle[0]:.1f} {middle[1]:.1f})"
        else:
            # under its line, unless that is the gauge's, the ground, or the line falls away beside it
            leans = abs(y2 - y1) > 0.15 * abs(x2 - x1)
            clear = abs(middle[1] + 16 - frame.y(0)) > 9 and middle[1] + 22 < FOOT and not leans
            aside = (LEAN_PX if y2 > y1 else -LEAN_PX) if leans else 0.0
            if leans and middle[0] + aside > RIGHT - LABEL_HALF:
                node = drawing.words((RIGHT, max(y1, y2) + 18), number, "fig halo", "end")
            else:
                at = (middle[0] + aside, middle[1] + (20 if clear else -11))
                node = drawing.words(at, number, "fig halo", "middle")
        if span > 84 or not steep:
            node.add("tspan", note, cls="unit", dx=4)
        if not leg.fitted:
            # its length is typed where it stands
            path = f"run.{leg.line}.{leg.id}.length_m"
            node.attributes.update({"data-opens": path, "role": "button", "tabindex": 0})
            node.add("title", f"{leg.name or leg.id}: type another length")


def _station(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    leg = next(
        (
            leg
            for leg in frame.route.cold
            if min(leg.start_height, leg.end_height) <= 0 <= max(leg.start_height, leg.end_height)
        ),
        None,
    )
    if leg is None:
        return
    share = -leg.start_height / leg.rise if leg.rise else 0.0
    x, y = frame.x("cold", leg.start + share * leg.length), frame.y(0)
    drawing.circle((x, y), 8, "part-body")
    drawing.path(((x - 4, y + 3), (x + 4, y + 3), (x, y - 5)), "solid", close=True)
    drawing.words((x + 13, y + 14), "pump and gauge", "label-ink halo")
    vented = next((leg for leg in frame.route.hot if leg.vented and leg.end_height >= frame.route.top - 0.02), None)
    if vented is not None:
        vx, vy = frame.end(vented)
        drawing.line((vx, vy), (vx, vy - 10), "stroke")
        drawing.circle((vx, vy - 14), 4, "part-body")
        drawing.words(
            (vx + 10, vy - 14),
            f"vent, top of the loop {shown(frame.route.top, 'length', sheet.units)}",
            "label-ink halo",
        )
    for other in frame.route.legs():
        if other.vented and other is not vented:
            ox, oy = frame.end(other)
            drawing.line((ox, oy), (ox, oy - 9), "stroke")
            drawing.circle((ox, oy - 12), 3.5, "part-body")


def _joints(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """Corners as handles: this leg rises by what the next one loses."""
    for legs in (frame.route.cold, frame.route.hot):
        for leg, after in pairwise(legs):
            x, y = frame.end(leg)
            low, high = _lift_limits(leg, after)
            height = shown(leg.end_height, "length", sheet.units)
            unit = dimension("length").unit(sheet.units)
            group = drawing.add(
                "g",
                id=_joint(leg),
                cls="handle",
                role="slider",
                tabindex=0,
                aria_label=f"joint after {leg.name or leg.id}, {leg.line} line",
                aria_valuenow=round(unit.from_si(leg.end_height), 3),
                aria_valuemin=round(unit.from_si(leg.end_height + low), 3),
                aria_valuemax=round(unit.from_si(leg.end_height + high), 3),
                aria_valuetext=height,
                data_drag="y",
                data_path=f"joint:{leg.line}.{leg.id}",
                data_blank=f"run.{leg.line}.{(after if leg.fitted else leg).id}.rise_m",
                data_value=0,
                data_leg=f"{leg.line}-{leg.id}",
                data_low=round(low, 4),
                data_high=round(high, 4),
                data_step=JOINT_STEP_M,
                data_per_px=-1 / frame.up_per_m,
            )
            group.rect(x - 9, y - 9, 18, 18, "grip")
            group.rect(x - 4, y - 4, 8, 8, "knob")
            group.add("title", f"{height}. Drag, or arrow keys; Enter to type the rise")


def _lift_limits(leg: ProfileLeg, after: ProfileLeg) -> tuple[float, float]:
    """How far a joint can go down and up before a leg would rise more than it is long [m]."""
    low, high = -60.0, 60.0
    if not leg.fitted:
        low, high = max(low, -leg.length - leg.rise), min(high, leg.length - leg.rise)
    if not after.fitted:
        low, high = max(low, after.rise - after.length), min(high, after.rise + after.length)
    return min(low, 0.0), max(high, 0.0)


def _pressure(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """Static pressure along the line when filled cold; the least wanted on a cold night."""
    result, units = sheet.result, sheet.units
    if not sheet.design.pumped:
        _by_itself(drawing, sheet, frame)
        return
    if result.draining is not None:
        _open_loop(drawing, sheet, frame, result.draining)
        return
    fill = result.setting.fill if result.setting else sheet.design.main_gauge_pa

    def left(height: float) -> float:
        return gauge_at(gauge=fill, volume_share=sheet.design.glycol_share, height=height)

    points = []
    for legs in (frame.route.cold, frame.route.hot):
        points.append((frame.x(legs[0].line, 0), left(legs[0].start_height)))
        points += [(frame.x(leg.line, leg.end), left(leg.end_height)) for leg in legs]
    unit = dimension("pressure").unit(units)
    step = unit.factor * (1 if units == "metric" else 10)
    top = math.ceil(max(p for _, p in points) / step) * step

    def y(pressure: float) -> float:
        return PRESSURE_FOOT - (PRESSURE_FOOT - PRESSURE_TOP) * max(pressure, 0) / top

    levels = int(top / step)
    for i in range(0, levels + 1, max(1, levels // 3)):
        drawing.line((LEFT, y(i * step)), (RIGHT, y(i * step)), "grid" if i else "rule-ink")
        drawing.words((LEFT - 7, y(i * step) + 4), shown_number(i * step, "pressure", units, 0), "axis", "end")
    drawing.words((LEFT - 7, PRESSURE_TOP - 8), unit.label, "axis", "end")
    line = [(x, y(p)) for x, p in points]
    drawing.path([(LEFT, PRESSURE_FOOT), *line, (RIGHT, PRESSURE_FOOT)], "pressure-fill", close=True)
    drawing.path(line, "pressure-line")
    if sheet.design.sealed:
        drawing.line((LEFT, y(LEAST_TOP_COLD_PA)), (RIGHT, y(LEAST_TOP_COLD_PA)), "leaf-line")
        drawing.words(
            (LEFT + 110, y(LEAST_TOP_COLD_PA) - 3),
            f"least wanted on top {shown(LEAST_TOP_COLD_PA, 'pressure', units)}",
            "label-leaf halo",
        )
    x_top, p_top = min(points, key=lambda point: point[1])
    drawing.circle((x_top, y(p_top)), 4, "ring-dot")
    number, label = number_and_unit(shown(p_top, "pressure", units))
    node = drawing.figure((x_top - 14, y(p_top) - 14), number, label, "fig-key halo")
    node.add("tspan", "on top when filled", cls="unit", dx=4)


def _trap(drawing: Drawing, start: Point, end: Point, held: str) -> None:
    """A leg that keeps water, and how much."""
    drawing.line(start, end, "trap")
    x, high = (start[0] + end[0]) / 2, min(start[1], end[1])
    drawing.line((x, high - 4), (x, high - 26), "berry-line")
    drawing.mark((x, high - 36), "fix")
    side = 13 if x < 462 else -13
    anchor = "" if side > 0 else "end"
    drawing.words((x + side, high - 39), "does not run empty", "label-berry halo", anchor)
    drawing.words((x + side, high - 25), held, "label-ink halo", anchor)


def _open_loop(drawing: Drawing, sheet: Sheet, frame: Profile, draining: Draining) -> None:
    """A loop that drains: its water level through the profile, traps marked, and what the top stands at while it runs."""
    y = frame.y(draining.level)
    drawing.line((LEFT, y), (RIGHT, y), "static")
    drawing.words(((LEFT + RIGHT) / 2, y - 5), "running level", "label-slate halo", "middle")
    for entry in draining.legs:
        if entry.trap:
            held = f"holds {shown(entry.leg.contents, 'volume', sheet.units, 2)} of water"
            _trap(drawing, frame.start(entry.leg), frame.end(entry.leg), held)
    if draining.head.siphon:
        under = draining.lift.atmosphere - draining.head.pressure_on_top_abs
        number, label = number_and_unit(shown(under, "pressure", sheet.units))
        drawing.figure((LEFT, PRESSURE_TOP + 24), number, label, "fig-key")
        drawing.words(
            (LEFT, PRESSURE_TOP + 40), "of suction on top while it runs; at rest field and lines stand dry", "label"
        )
    else:
        drawing.words(
            (LEFT, PRESSURE_TOP + 24), "The return does not fill; at rest field and lines stand dry.", "label"
        )


def _by_itself(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """Under the profile of a tank over its field: what drives it, what holds it at night."""
    figures, units = sheet.result.figures, sheet.units
    for x, key, words in (
        (LEFT, "drive", "drive it in full sun"),
        ((LEFT + RIGHT) / 2, "night_hold", "hold it still at night"),
    ):
        if key in figures:
            number, label = number_and_unit(figures[key].quantity.shown(units))
            drawing.figure((x, PRESSURE_TOP + 24), number, label, "fig-key")
            drawing.words((x, PRESSURE_TOP + 40), words, "label")


HALF = 322


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
        drawing.words((x + 10, y + 9), f"warms by {shown(run.temperatures.rise, 'difference', units, 0)}", "label halo")
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
        drawing.words((left + 6, at(0, curve.head(0))[1] + 14), f"speed {i}", "label halo")
    for loop, cls, name in ((run.warm, "loop-curve", "loop"), (run.cold, "loop-cold", "cold start")):
        points = []
        for k in range(1, 61):
            flow = most_flow * k / 60
            head = loop.drop(flow)
            if head > most_head:
                break
            points.append(at(flow, head))
        drawing.path([at(0, 0), *points], cls)
        if points:
            x, y = points[-1]
            beyond = x > right - 30  # there is no room beside its end: the name stands over or under the curve
            warm = cls == "loop-curve"
            at_y = y + (22 if warm else -6) if beyond else max(y + (8 if warm else 20), top + 6)
            drawing.words((x - 2 if beyond else x + 3, at_y), name, "label halo", "end" if beyond else "")
    if run.point:
        x, y = at(run.point.flow, run.point.head)
        drawing.line((x, y), (x, foot), "pointing")
        drawing.line((left, y), (x, y), "pointing")
        drawing.circle((x, y), 5.5, "leaf-dot")
        number, label = number_and_unit(shown(run.point.flow, "flow", units))
        # over the point where it lies far to the right
        aside, anchor = (-10, "end") if x > left + (right - left) * 0.7 else (10, "")
        up = -16 if anchor else 0
        drawing.figure((x + aside, y - 4 + up), number, label, "fig-big halo", anchor)
        drawing.words(
            (x + aside, y + 11 + up),
            f"at {shown(run.point.head, 'head', units)}, speed {run.pump.speed}",
            "label halo",
            anchor,
        )
    return drawing


def _chart_axes(
    drawing: Drawing, box: tuple[float, float, float, float], most_x: float, most_y: float, labels: tuple[str, str]
) -> None:
    left, right, top, foot = box
    for most, across in ((most_x, True), (most_y, False)):
        step = nice_step(most / 5)
        i = 0
        while i * step <= most:
            if across:
                x = left + (right - left) * i * step / most
                drawing.line((x, top), (x, foot), "grid")
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
    rows = [(f"pipe {length}", shares.pipe), ("bends, valves", shares.fittings), ("collectors", shares.collectors)]
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
    drawing.words((0, 158), f"friction {who} overcomes, {unit_label(scale, units)}", "fig-minor")
    drawing.words((HALF - 4, 159), shown_number(shares.total, scale, units), "fig-key", "end")
    words = (
        "The height cancels: what goes up comes down."
        if pumped
        else "So little: a wide pipe and few bends are all it has."
    )
    draining = sheet.result.draining
    if draining is not None:
        words = "Running; at the start it lifts {}.".format(shown(draining.lift.start_head, "head", units))
    drawing.words((0, 178), words, "place")
    return drawing
