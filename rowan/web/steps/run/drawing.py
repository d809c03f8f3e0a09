"""The elevation profile with its joints, pressure along it, pump and loop curves, shares of the head."""

from __future__ import annotations

import math
from itertools import pairwise

from rowan.core.steps.charge.figures import LEAST_TOP_COLD_PA
from rowan.core.steps.charge.pressures import gauge_at
from rowan.core.steps.charge.vessel import steam_ends
from rowan.core.steps.run.drainback import Draining
from rowan.core.steps.run.insulation import OUTDOORS
from rowan.core.steps.run.route import ProfileLeg
from rowan.core.terms.language import tr
from rowan.core.terms.units import dimension, fixed, number_and_unit, shown, shown_number
from rowan.web.benches.bench import Sheet
from rowan.web.ui.fit import USUAL_PX, width_of
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
        (LEFT + 6, TOP + 4),
        tr("heights drawn {times} times the lengths", times=fixed(frame.up_per_m / frame.per_m, 1)),
        "place halo",
    )


def _measured_lines(drawing: Drawing, sheet: Sheet, frame: Profile) -> None:
    """How long each line is, above it."""
    cold_end, hot_start = frame.x("cold", frame.route.cold_length), frame.x("hot", 0)
    drawing.dimension(
        (LEFT, 16),
        (cold_end, 16),
        tr("cold line {cold_length}", cold_length=shown(frame.route.cold_length, "length", sheet.units, 1)),
    )
    drawing.dimension(
        (hot_start, 16),
        (RIGHT, 16),
        tr("hot line {hot_length}", hot_length=shown(frame.route.hot_length, "length", sheet.units, 1)),
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
        if b - a > width_of(tr(name), USUAL_PX):
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
            tr("high point, {name}", name=peak.name) if peak.name else "high point without a vent",
            "label-berry halo",
            "" if right else "end",
        )
        held = shown(point.held, "volume", sheet.units, 2)
        drawing.words(
            (tx, y - 25),
            tr(
                "{stands_up} up, holds {held} of air",
                stands_up=shown(point.stands_up, "length", sheet.units),
                held=held,
            ),
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
            node.add("title", tr("{leg}: type another length", leg=leg.name or leg.id), cls="screen")


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
            tr("vent, top of the loop {top}", top=shown(frame.route.top, "length", sheet.units)),
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
                aria_label=tr("joint after {leg}, {line} line", leg=leg.name or leg.id, line=leg.line),
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
            group.add("title", tr("{height}. Drag, or arrow keys; Enter to type the rise", height=height), cls="screen")


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
            tr("least wanted on top {pressure}", pressure=shown(LEAST_TOP_COLD_PA, "pressure", units)),
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
            held = tr("holds {contents} of water", contents=shown(entry.leg.contents, "volume", sheet.units, 2))
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
