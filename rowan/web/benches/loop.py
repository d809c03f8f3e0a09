"""The loop as a map: this system from store to roof, heights to scale, each part with its figure and its worst finding."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise

from rowan.core.design.own_store import contents_of, own_store_of
from rowan.core.steps.run.route import ProfileLeg
from rowan.core.terms.compass import compass_name
from rowan.core.terms.finding import Finding, gravest
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import number_and_unit, shown
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop_parts import PART_BENCH, LoopParts
from rowan.web.benches.roof_tank import roof_tank_drawing
from rowan.web.ui.addresses import address
from rowan.web.ui.svg import Drawing, Node, Point

WIDTH, HEIGHT = 252, 716
TOP_Y, FOOT_Y = 100.0, 702.0
COLD_X, HOT_X, VENT_X, DIMENSION_X = 122.0, 142.0, 197.0, 240.0
STORE_X, STORE_WIDTH = 44.0, 36.0
BRANCH_X = 152.0  # where gauge, relief and vessel hang down beside the hot line
WIDEST_PLATE = 92.0
CLEAR_OF_LINE_PX = 12.0  # that the store's litres keep from the hot line
LEVEL_NAMES = ("ground", "first floor", "second floor", "third floor", "fourth floor")


@record
class Frame:
    """Heights over the gauge to the drawing's y."""

    scale: float
    foot: float

    def y(self, height: float) -> float:
        """The y of a height over the gauge [m]."""
        return FOOT_Y - (height - self.foot) * self.scale


STAND_PX = 12.0  # px, plates that no roof carries over what they stand on
WAYS_SHORT = {"ground": "on the ground", "wall": "on a wall", "awning": "awning"}


def _frame(sheet: Sheet) -> Frame:
    design, route = sheet.design, sheet.result.run.route
    foot = -design.store.foot_below_gauge_m.value
    slope = design.collector.item.value.slope_length_m * math.cos(math.radians(design.tilt_deg))
    tall = (FOOT_Y - TOP_Y) / (route.top - foot)
    return Frame(min(tall, WIDEST_PLATE / max(slope, 0.3)), foot)


def _spread(legs: Sequence[ProfileLeg], from_x: float, to_x: float, frame: Frame) -> list[Point]:
    """Joints of legs, x shared by their level run, y to scale."""
    runs = [math.sqrt(max(leg.length**2 - leg.rise**2, 0.0)) for leg in legs]
    total, along = sum(runs) or 1.0, 0.0
    points = []
    for leg, run in zip(legs, runs, strict=True):
        along += run
        points.append((from_x + (to_x - from_x) * along / total, frame.y(leg.end_height)))
    return points


def _split(
    legs: tuple[ProfileLeg, ...],
) -> tuple[tuple[ProfileLeg, ...], tuple[ProfileLeg, ...], tuple[ProfileLeg, ...]]:
    at = [i for i, leg in enumerate(legs) if leg.fitted]
    if not at:
        return legs, (), ()
    return legs[: at[0]], legs[at[0] : at[-1] + 1], legs[at[-1] + 1 :]


def loop_drawing(sheet: Sheet, bench: str, link: Callable[[str], str]) -> Drawing:
    """The loop of a plan; parts of the open bench stand out, each part leads to its bench."""
    if not sheet.design.pumped:
        return roof_tank_drawing(sheet, bench, link)
    drawing = Drawing(WIDTH, HEIGHT, "The loop, heights to scale", "loop", "loop")
    frame = _frame(sheet)
    _house(drawing, sheet, frame)
    drawer = _Loop(drawing, sheet, frame, bench, link)
    drawer.lines()
    drawer.collector()
    drawer.store()
    drawer.station()
    drawer.vent_and_dimension()
    return drawing


def _house(drawing: Drawing, sheet: Sheet, frame: Frame) -> None:
    survey, route = sheet.design.survey, sheet.result.run.route
    house = drawing.add("g", cls="house")
    for metre in range(math.ceil(frame.foot), math.ceil(route.top) + 1):
        if metre % 2 == 0:
            house.line((4, frame.y(metre)), (250, frame.y(metre)), "grid")
    angle = math.radians(survey.roof_tilt_deg.value)
    plate_x, plate_y = _plate(sheet, frame)[0]
    # the roof lies a hand below the plates, through the whole width at its true pitch
    lift = 10 / max(math.cos(angle), 0.2)

    def roof(x: float) -> float:
        return plate_y + lift - (x - plate_x) * math.tan(angle)

    if not sheet.design.on_roof:
        # it stands beside the house: a strip of ground or wall under its plates, the house as high as its lines go
        house.rect(plate_x - 8, plate_y + STAND_PX, VENT_X - plate_x + 12, 6, "ground")
        house.line((plate_x - 8, plate_y + STAND_PX), (VENT_X + 4, plate_y + STAND_PX), "wall")
        house.words(
            (plate_x - 12, plate_y + STAND_PX + 5), WAYS_SHORT[sheet.design.roof.way.value], "place halo", "end"
        )
        wall_top = frame.y(route.top)
    elif survey.roof_tilt_deg.value < 75:
        house.line((2, roof(2)), (250, roof(250)), "wall")
        house.line((2, roof(2) + 8), (250, roof(250) + 8), "thin")
        wall_top = roof(30) + 8
    else:
        wall_top = frame.y(route.plate_bottom)
    house.line((29, wall_top), (29, FOOT_Y + 6), "wall")
    house.line((34, wall_top + 4), (34, FOOT_Y + 6), "thin")
    storeys = survey.storeys.value
    for level, height in enumerate(floor_heights(sheet, frame), 1):
        y = frame.y(height)
        if y < wall_top:
            continue
        house.line((34, y), (250, y), "thin")
        house.line((34, y + 4), (250, y + 4), "thin")
        name = "attic" if level == storeys else LEVEL_NAMES[min(level - 1, len(LEVEL_NAMES) - 1)]
        house.words((40, y - 5), name, "place halo")
    house.line((28, FOOT_Y + 6), (252, FOOT_Y + 6), "wall")
    house.rect(28, FOOT_Y + 6, 224, 6, "ground")
    house.words((250, FOOT_Y), "cellar" if storeys > 1 else "ground floor", "place halo", "end")


def floor_heights(sheet: Sheet, frame: Frame) -> list[float]:
    """Floors above the lowest one, over the gauge; the attic's last, low enough for the pipes to run on it."""
    route, storeys = sheet.result.run.route, sheet.design.survey.storeys.value
    # a line that does not join says nothing of the house
    joined = [*(() if route.cold_open else route.cold), *(() if route.hot_open else route.hot)]
    lowest_attic = min((min(leg.start_height, leg.end_height) for leg in joined if leg.place == "attic"), default=99.0)
    attic = max(min(route.plate_bottom - 1.2, lowest_attic - 0.2), frame.foot + 1.5)
    return [frame.foot + (attic - frame.foot) * level / storeys for level in range(1, storeys + 1)]


def _plate(sheet: Sheet, frame: Frame) -> tuple[Point, Point]:
    """Lower and upper end of the plates."""
    route = sheet.result.run.route
    angle = math.radians(sheet.design.tilt_deg)
    reach = sheet.design.collector.item.value.slope_length_m * math.cos(angle) * frame.scale
    return (VENT_X - 5 - reach, frame.y(route.plate_bottom)), (VENT_X - 5, frame.y(route.plate_top))


class _Loop(LoopParts):
    """Draws the parts of a loop through the house."""

    def __init__(self, drawing: Drawing, sheet: Sheet, frame: Frame, bench: str, link: Callable[[str], str]) -> None:
        super().__init__(drawing, sheet, bench, link)
        self.frame = frame

    def lines(self) -> None:
        route, frame = self.sheet.result.run.route, self.frame
        bottom, top = _plate(self.sheet, frame)
        coil_low, coil_high = frame.y(route.cold[0].start_height), frame.y(route.hot[-1].end_height)
        store_right = STORE_X + STORE_WIDTH
        before, _, after = _split(route.cold)
        cold: list[Point] = [(store_right, coil_low)]
        foot = _spread(before, store_right, COLD_X, frame)
        # the legs below the shaft run to its foot, those above it to the plates
        cold += [(COLD_X, coil_low), (COLD_X, foot[-1][1] if foot else coil_low)]
        shaft_top = frame.y(after[0].start_height) if after else bottom[1]
        cold.append((COLD_X, shaft_top))
        cold += _spread(after, COLD_X, bottom[0], frame) if after else [bottom]
        node = self.part("cold_line", "Cold line")
        node.path(cold, "hit")
        node.path(cold, "cold")
        hot_before, _, hot_after = _split(route.hot)
        hot: list[Point] = [top]
        if hot_before:
            first, rest = hot_before[:1], hot_before[1:]
            hot.append((VENT_X + 2, frame.y(first[0].end_height)))
            hot += _spread(rest, VENT_X + 2, HOT_X, frame) if rest else []
        hot.append((HOT_X, frame.y(hot_after[0].start_height) if hot_after else coil_high))
        hot += [(HOT_X, coil_high), (store_right, coil_high)]
        hot_node = self.part("hot_line", "Hot line")
        hot_node.path(hot, "hit")
        hot_node.path(hot, "bridge")
        hot_node.path(hot, "hot")
        middle = (frame.y(0) + shaft_top) / 2
        node.path(((COLD_X - 4, middle + 5), (COLD_X + 4, middle + 5), (COLD_X, middle - 5)), "arrow-cold", close=True)
        hot_node.path(((HOT_X - 4, middle - 5), (HOT_X + 4, middle - 5), (HOT_X, middle + 5)), "arrow-hot", close=True)
        cold_pipe, hot_pipe = (
            shown(self.sheet.design.run.laid(line).outer_diameter_m, "pipe_size", self.units)
            for line in ("cold", "hot")
        )
        text_y, lower_y = self._label_rows()
        cold_length, hot_length = (
            shown(route.cold_length, "length", self.units, 1),
            shown(route.hot_length, "length", self.units, 1),
        )
        self.label(node, (COLD_X - 9, text_y), cold_length, tr("cold, {pipe}", pipe=cold_pipe), "end")
        self.label(hot_node, (HOT_X + 9, text_y), hot_length, tr("hot, {pipe}", pipe=hot_pipe))
        if self.sheet.design.sealed and lower_y is not None:
            share = shown(self.sheet.design.glycol_share, "share", self.units)
            frost = shown(self.sheet.result.charge.frost_point, "temperature", self.units)
            self.label(node, (COLD_X - 9, lower_y), share, tr("glycol, to {frost}", frost=frost), "end")
        if lower_y is not None:
            self.label(hot_node, (HOT_X + 9, lower_y), self.shown("contents"), "in the loop")
        self.mark(node, "cold_line", (COLD_X, text_y - 24))
        peaks = [p for p in route.high_points if p.line == "hot"]
        at = (HOT_X + 28, frame.y(peaks[0].height) - 13) if peaks else (HOT_X, text_y - 24)
        self.mark(hot_node, "hot_line", at)

    def _label_rows(self) -> tuple[float, float | None]:
        """Where the two rows of pipe labels stand: in the middle of the upper storeys, clear of the floors.

        A low house has room for one row under its attic only.
        """
        floors = [*floor_heights(self.sheet, self.frame)[::-1], self.frame.foot]
        bands = [(self.frame.y(a), self.frame.y(b)) for a, b in pairwise(floors)]
        if len(bands) == 1:
            return bands[0][0] + 18, None
        first = (bands[0][0] + bands[0][1]) / 2
        second = (bands[1][0] + bands[1][1]) / 2 if len(bands) > 2 else first + 42
        return first - 2, second

    def collector(self) -> None:
        design = self.sheet.design
        (bx, by), (tx, ty) = _plate(self.sheet, self.frame)
        node = self.part("collector", "Collectors")
        length = math.hypot(tx - bx, ty - by) or 1.0
        nx, ny = (ty - by) / length * 9, -(tx - bx) / length * 9
        node.path(((bx, by), (tx, ty), (tx + nx, ty + ny), (bx + nx, by + ny)), "body", close=True)
        node.line((bx + nx / 2, by + ny / 2), (tx + nx / 2, ty + ny / 2), "thin")
        item, count = design.collector.item.value, design.collector.count.value
        area = shown(item.aperture_m2, "area", self.units)
        title_y = max(min(ty, by) - 62, 40.0)
        self.label(
            node,
            (8, title_y),
            f"{count} × {area}",
            f"{tr(item.name)} · {compass_name(design.survey.roof_azimuth_deg.value)} {design.tilt_deg:.0f}°",
        )
        node.words((8, title_y + 27), tr("dry {self}", self=self.shown("stagnation")), "label halo")
        self.mark(node, "collector", ((bx + tx) / 2 + nx * 2.4, (by + ty) / 2 + ny * 2.4))
        sensor = self.part("sensor_field", "Field sensor")
        sensor.rect(tx - 8, ty + 1, 7, 7, "sensor")
        self.mark(sensor, "sensor_field", (tx - 22, ty + 16))
        self.numbered(sensor, 1, (tx + 2, ty + 20))

    def store(self) -> None:
        design, frame = self.sheet.design, self.frame
        store = design.store
        foot, top = frame.foot, frame.foot + self.sheet.result.store.height
        node = self.part("store", "Store")
        y_top = frame.y(top)
        node.add("rect", x=STORE_X, y=y_top, width=STORE_WIDTH, height=FOOT_Y - y_top, rx=9, cls="vessel-body")
        own = own_store_of(design)
        tank = shown(contents_of(design), "tank", self.units)
        at = (STORE_X, y_top - 5) if design.own_store else (STORE_X + STORE_WIDTH + 4, y_top + 27)
        low, high = frame.y(foot + store.coil_bottom_m.value), frame.y(foot + store.coil_top_m.value)
        if not design.own_store and abs(high - at[1] + 5) < CLEAR_OF_LINE_PX:
            at = (at[0], (low + high) / 2 + 5)
        self.label(node, at, tank, "")
        self.mark(node, "store", (STORE_X - 12, y_top + 14))
        if own is not None:
            self._own(node, y_top, own.kind)
            return
        coil = self.part("coil", "Taps' coil" if design.taps_coil_m2 else "Coil")
        if design.through_store:
            # the loop's water is the store's: what coil there is belongs to the taps
            low, high = FOOT_Y - 6, y_top + 8
        turns = 5
        points = [] if design.through_store else [(STORE_X + STORE_WIDTH, high)]
        for i in range(turns + 1):
            y = high + (low - high) * i / turns
            points += [(STORE_X + (26 if i % 2 else 8), y)]
        if not design.through_store:
            points.append((STORE_X + STORE_WIDTH, low))
        if not design.through_store or design.taps_coil_m2:
            coil.path(points, "coil")
        self.mark(coil, "coil", (STORE_X + STORE_WIDTH + 10, (low + high) / 2))
        for number, (key, height, name) in enumerate(
            (
                ("sensor_low", store.lower_sensor_m.value, "Lower sensor"),
                ("sensor_high", store.upper_sensor_m.value, "Upper sensor"),
            ),
            2,
        ):
            sensor = self.part(key, name)
            sensor.rect(STORE_X - 4, frame.y(foot + height) - 3.5, 7, 7, "sensor")
            self.mark(sensor, key, (STORE_X - 14, frame.y(foot + height)))
            self.numbered(sensor, number, (STORE_X - 16, frame.y(foot + height)))

    def _own(self, node: Node, top: float, kind: str) -> None:
        """A pool has no coil: its water goes through the field. A bath has one, a slab the pipe laid in it."""
        node.rect(STORE_X + 2, top + 14, STORE_WIDTH - 4, FOOT_Y - top - 16, "ground" if kind == "slab" else "liquid")
        if kind != "slab":
            node.line((STORE_X, top + 14), (STORE_X + STORE_WIDTH, top + 14), "membrane")
        if kind != "pool":
            coil, right = (
                self.part("coil", "Pipe in the slab" if kind == "slab" else "Bath's coil"),
                STORE_X + STORE_WIDTH,
            )
            first, step = top + 26, (FOOT_Y - top - 38) / 5
            coil.path(
                [
                    (right, first),
                    *((STORE_X + (26 if i % 2 else 8), first + step * i) for i in range(6)),
                    (right, first + 5 * step),
                ],
                "coil",
            )
            self.mark(coil, "coil", (right + 10, first + 2.5 * step))
        for key, height, name in (("sensor_low", 0.2, "Lower sensor"), ("sensor_high", 0.8, "Upper sensor")):
            sensor = self.part(key, name)
            y = FOOT_Y - (FOOT_Y - top) * height
            sensor.rect(STORE_X - 4, y - 3.5, 7, 7, "sensor")
            self.mark(sensor, key, (STORE_X - 14, y))

    def station(self) -> None:
        frame, result = self.frame, self.sheet.result
        zero = frame.y(0)
        pump = self.part("pump", "Pump")
        store_top = frame.y(frame.foot + result.store.height)
        # over a pool its contents stand in words
        over = 34 if self.sheet.design.own_store else 10
        lowest = zero - 26
        if self.sheet.design.sealed:
            # as low as its ports stand clear of the hot line into the store: a low house has no room to spare above
            lowest = min(zero - 8, frame.y(result.run.route.hot[-1].end_height) - 40)
        pump_y = max(min(lowest, store_top - over), 40)
        pump.circle((COLD_X, pump_y), 8.5, "part-body")
        pump.path(((COLD_X - 4.5, pump_y + 3), (COLD_X + 4.5, pump_y + 3), (COLD_X, pump_y - 5.5)), "solid", close=True)
        self.label(
            pump,
            (COLD_X - 14, pump_y - 10),
            self.shown("flow") or "no flow",
            tr("pump, speed {speed}", speed=result.run.pump.speed),
            "end",
        )
        self.mark(pump, "pump", (COLD_X - 22, pump_y + 15))
        valve = self.part("non_return", "Non-return valve")
        if self.sheet.design.run.non_return.value:
            y = pump_y - 24
            valve.path(((COLD_X - 6, y + 5), (COLD_X + 6, y + 5), (COLD_X, y - 5)), "part-body", close=True)
            valve.line((COLD_X - 6, y - 5), (COLD_X + 6, y - 5), "stroke")
        self.mark(valve, "non_return", (COLD_X + 12, pump_y - 24))
        if self.sheet.design.sealed:
            self._ports(pump_y)
            self._vessel_branch(zero, pump_y - 40)
        elif self.sheet.design.drains:
            self._water_mark()
        else:
            main = self.part("gauge", "Cold main")
            main.line((COLD_X, zero), (COLD_X + 66, zero), "branch")
            self.label(
                main,
                (COLD_X + 34, zero - 12),
                shown(self.sheet.design.main_gauge_pa, "pressure", self.units),
                "cold main",
            )
            self.mark(main, "gauge", (COLD_X + 80, zero))

    def _water_mark(self) -> None:
        """The running level of a loop that drains; there is no gauge to read."""
        draining = self.sheet.result.draining
        if draining is None:
            return
        y = self.frame.y(draining.level)
        mark = self.part("gauge", "Running level")
        mark.line((HOT_X + 6, y), (HOT_X + 70, y), "static")
        self.label(mark, (HOT_X + 9, y - 17), self.shown("contents_above"), "comes back")
        self.mark(mark, "gauge", (HOT_X + 84, y))

    def _ports(self, pump_y: float) -> None:
        """Drain and fill with a valve between, under the pump: what is pushed in goes the long way round."""
        ports = self.part("station", "Filling ports with a valve between")
        for y in (pump_y + 15, pump_y + 35):
            ports.line((COLD_X, y), (COLD_X - 9, y), "stroke")
            ports.line((COLD_X - 9, y - 3.5), (COLD_X - 9, y + 3.5), "stroke")
        y = pump_y + 25
        for tip in (-5, 5):
            ports.path(((COLD_X - 4.5, y + tip), (COLD_X + 4.5, y + tip), (COLD_X, y)), "part-body", close=True)

    def _vessel_branch(self, zero: float, tee: float) -> None:
        """Gauge, relief and vessel leave the line on the field's side of pump and check: nothing shuts them off."""
        charge = self.sheet.result.sealed
        branch = self.drawing.add("g", cls="branch-group")
        branch.line((COLD_X, tee), (HOT_X - 6, tee), "branch")
        branch.path(((HOT_X + 6, tee), (BRANCH_X, tee), (BRANCH_X, zero), (198, zero)), "branch")
        gauge = self.part("gauge", "Gauge")
        gauge.circle((162, zero - 9), 7, "part-body")
        gauge.line((162, zero - 9), (166, zero - 13), "stroke")
        self.label(gauge, (156, zero - 35), self.shown("fill") or "–", "cold fill")
        self.mark(gauge, "gauge", (210, zero - 42))
        relief = self.part("relief", "Relief valve")
        relief.path(((180, zero), (174, zero - 11), (186, zero - 11)), "part-body", close=True)
        relief.line((174, zero - 15), (186, zero - 15), "stroke")
        number, unit = number_and_unit(
            shown(
                self.sheet.design.charge.relief_gauge_pa.value,
                "pressure",
                self.units,
                1 if self.units == "metric" else 0,
            )
        )
        relief.figure((191, zero - 6), number, unit, "key-small halo")
        self.mark(relief, "relief", (206, zero + 12))
        vessel = self.part("vessel", "Expansion vessel")
        vessel.line((180, zero), (180, zero + 18), "branch")
        vessel.add("rect", x=171, y=zero + 18, width=18, height=26, rx=8, cls="vessel-body")
        share = min(max(charge.kept / charge.vessel if charge.vessel else 0, 0.06), 0.9)
        vessel.rect(172.5, zero + 24, 15, 16 * share + 2, "liquid")
        size = shown(charge.vessel, "tank", self.units)
        precharge = self.shown("precharge")
        self.label(vessel, (195, zero + 25), size, "")
        if precharge:
            number, unit = number_and_unit(precharge)
            vessel.figure((195, zero + 40), number, unit, "key halo")
        self.mark(vessel, "vessel", (160, zero + 32))

    def vent_and_dimension(self) -> None:
        route, frame = self.sheet.result.run.route, self.frame
        top = frame.y(route.top)
        vent = self.part("vent", "Top of the loop")
        if route.top_vented:
            vent.line((VENT_X + 2, top), (VENT_X + 2, top - 8), "stroke")
            vent.circle((VENT_X + 2, top - 12), 4, "part-body")
        self.mark(vent, "vent", (VENT_X + 19, top - 14))
        zero = frame.y(0)
        self.drawing.line((VENT_X + 8, top), (DIMENSION_X + 4, top), "pointing")
        self.drawing.line((200, zero), (DIMENSION_X + 4, zero), "pointing")
        height = shown(route.top, "length", self.units)
        self.drawing.dimension((DIMENSION_X, top), (DIMENSION_X, zero), height, "dim big")


@record
class StripPart:
    """A part of the loop on the strip: its name, key figure, bench and worst finding."""

    name: str
    value: str
    href: str
    worst: str
    open: bool


def loop_strip(sheet: Sheet, bench: str, link: Callable[[str], str]) -> list[StripPart]:
    """The loop folded to a strip for narrow screens: parts in flow order, each leading to its bench."""
    figures, units, design = sheet.result.figures, sheet.units, sheet.design

    def figure(key: str) -> str:
        return figures[key].quantity.shown(units) if key in figures else "\N{EN DASH}"

    if not design.pumped:
        return _roof_strip(sheet, bench, link)
    pressures = (("gauge", "cold fill", figure("fill")), ("vessel", "vessel", figure("precharge")))
    rows = (
        ("collector", "collectors", figure("aperture")),
        ("vent", "top", shown(sheet.result.run.route.top, "length", units)),
        ("hot_line", "lines", shown(sheet.result.run.route.length, "length", units, 1)),
        ("pump", "pump", figure("flow")),
        *(
            pressures
            if design.sealed
            else (("gauge", "comes back", figure("contents_above")),)
            if design.drains
            else (("gauge", "main", shown(design.main_gauge_pa, "pressure", units)),)
        ),
        ("store", "store", shown(contents_of(design), "tank", units)),
        ("sensor_field", "start", figure("start")),
    )
    return _strip(sheet, bench, link, rows)


def _roof_strip(sheet: Sheet, bench: str, link: Callable[[str], str]) -> list[StripPart]:
    """The strip of a tank over its field: no pump, no start."""
    figures, units, design = sheet.result.figures, sheet.units, sheet.design
    flow = figures["flow"].quantity.shown(units) if "flow" in figures else "none"
    rows = (
        ("collector", "collectors", figures["aperture"].quantity.shown(units)),
        ("hot_line", "flows by itself", flow),
        ("store", "store", shown(contents_of(design), "tank", units)),
        ("gauge", "main", shown(design.main_gauge_pa, "pressure", units)),
    )
    return _strip(sheet, bench, link, rows)


def _strip(
    sheet: Sheet, bench: str, link: Callable[[str], str], rows: Sequence[tuple[str, str, str]]
) -> list[StripPart]:
    """Rows of part, name and value with their worst finding."""
    worst: dict[str, list[Finding]] = {}
    for finding in sheet.findings:
        worst.setdefault(finding.part, []).append(finding)
    return [
        StripPart(name, value, link(PART_BENCH[part]), gravest(worst.get(part, [])) or "", PART_BENCH[part] == bench)
        for part, name, value in rows
    ]


def bench_link(job: int, letter: str) -> Callable[[str], str]:
    """Where a part leads: the bench of that name in this plan."""
    return lambda bench: address("steps:bench", job, letter, bench)


def small_loop(sheet: Sheet, width: int = 108, height: int = 170, key: str = "small") -> Drawing:
    """The kind of system in a thumb's size: field at its pitch, store, lines, vessel."""
    drawing = Drawing(108, 170, "The system in small", "small-loop", key)
    tilt = min(max(sheet.design.tilt_deg, 5), 80)
    angle = math.radians(tilt)
    reach, rise = 62 * math.cos(angle), 62 * math.sin(angle)
    bottom = (26.0, 74.0)
    top = (bottom[0] + reach, bottom[1] - rise)
    nx, ny = -math.sin(angle) * 11, -math.cos(angle) * 11
    drawing.line(
        (bottom[0] - 18 * math.cos(angle), bottom[1] + 18 * math.sin(angle)),
        (top[0] + 12 * math.cos(angle), top[1] - 12 * math.sin(angle)),
        "stroke",
    )
    drawing.path((bottom, top, (top[0] + nx, top[1] + ny), (bottom[0] + nx, bottom[1] + ny)), "body", close=True)
    drawing.add("rect", x=8, y=100, width=26, height=60, rx=7, cls="vessel-body")
    drawing.path((bottom, (46, bottom[1] + 4), (46, 146), (34, 146)), "cold thin-line")
    drawing.path((top, (top[0] - 2, top[1] + 8), (56, 96), (56, 124), (34, 124)), "hot thin-line")
    if sheet.design.sealed:
        drawing.add("rect", x=68, y=138, width=14, height=22, rx=6, cls="vessel-body")
        drawing.line((46, 134), (75, 134), "branch")
        drawing.line((75, 134), (75, 138), "branch")
    else:
        drawing.line((46, 134), (92, 134), "branch")
    drawing.line((2, 161), (106, 161), "wall")
    drawing.attributes["width"], drawing.attributes["height"] = width, height
    return drawing


def small_tape(step: int, names: tuple[str, ...], key: str, width: int = 205) -> Drawing:
    """Where a job stands on the tape of steps: filled up to it, its name under the needle."""
    drawing = Drawing(width, 40, tr("stands at {names}", names=names[step]), "small-tape", key)
    left, right = 4.0, width - 4.0
    per_step = (right - left) / len(names)
    at = left + per_step * (step + 0.5)
    drawing.rect(left, 10, at - left, 5, "solid")
    drawing.line((left, 15), (right, 15), "stroke")
    for tick in range(len(names) + 1):
        drawing.line((left + tick * per_step, 15), (left + tick * per_step, 22 if tick % 3 == 0 else 19), "thin")
    drawing.path(((at - 4.5, 1), (at + 4.5, 1), (at, 8)), "solid", close=True)
    near_end = at > width - 44
    drawing.words(
        (min(max(at, 26), right) if near_end else max(at, 26), 36),
        names[step],
        "label",
        "end" if near_end else "middle",
    )
    drawing.attributes["width"], drawing.attributes["height"] = width, 40
    return drawing
