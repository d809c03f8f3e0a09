"""A tank over its field, to scale: the heights that drive the loop are the thing being decided."""

from __future__ import annotations

import math
from collections.abc import Callable

from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import shown
from rowan.web.benches.bench import Sheet
from rowan.web.benches.loop_parts import LoopParts
from rowan.web.ui.svg import Drawing, Point

WIDTH = 252
LEFT, RIGHT = 44.0, 196.0
TOP, TALLEST, UNDER = 128.0, 276.0, 98.0  # px: where the drawing begins, how tall it may be, what stands under it
BEHIND_M = 0.2  # m the tank stands behind the field's upper end
LINE_APART = 12.0  # px between pipe and what it passes


@record
class Place:
    """Metres of the loop to the drawing: x from the field's lower end, heights over the gauge."""

    scale: float
    low: float
    high: float

    @property
    def foot(self) -> float:
        """The y of the lowest height."""
        return TOP + (self.high - self.low) * self.scale

    def at(self, x: float, height: float) -> Point:
        """A place [m] in the drawing."""
        return LEFT + x * self.scale, self.foot - (height - self.low) * self.scale


def roof_tank_drawing(sheet: Sheet, bench: str, link: Callable[[str], str]) -> Drawing:
    """The loop of a plan whose store stands over its field; each part leads to its bench."""
    place = _place(sheet)
    drawing = Drawing(WIDTH, math.ceil(place.foot + UNDER), "The tank over its field, to scale", "loop", "loop")
    drawer = _RoofTank(drawing, sheet, bench, link, place)
    drawer.roof()
    drawer.lines()
    drawer.field()
    drawer.tank()
    drawer.main()
    drawer.heights()
    return drawing


def _reach(sheet: Sheet) -> float:
    """How far the field reaches in plan, foot to top [m]."""
    tilt = math.radians(sheet.design.survey.roof_tilt_deg.value)
    return sheet.design.collector.item.value.slope_length_m * math.cos(tilt)


def _place(sheet: Sheet) -> Place:
    """The scale at which field and tank fill the drawing."""
    route, store = sheet.result.run.route, sheet.design.store
    foot = route.plate_top + store.above_field_m.value
    lowest, highest = min(route.plate_bottom, foot), max(foot + sheet.result.store.height, route.plate_top)
    across = _reach(sheet) + store.item.value.diameter_m + BEHIND_M
    return Place(min((RIGHT - LEFT) / across, TALLEST / max(highest - lowest, 0.1)), lowest, highest)


class _RoofTank(LoopParts):
    """Draws tank, field and the two lines between them."""

    def __init__(self, drawing: Drawing, sheet: Sheet, bench: str, link: Callable[[str], str], place: Place) -> None:
        super().__init__(drawing, sheet, bench, link)
        self.place, self.reach = place, _reach(sheet)
        self.wide = sheet.design.store.item.value.diameter_m
        self.tall = sheet.result.store.height
        self.low = sheet.result.run.route.plate_bottom
        self.foot = sheet.result.run.route.plate_top + sheet.design.store.above_field_m.value
        self.tank_x = self.reach + BEHIND_M

    def roof(self) -> None:
        """The roof under the field and a stand under the tank."""
        angle = math.radians(self.sheet.design.survey.roof_tilt_deg.value)
        (x, y), lift = self.place.at(0, self.low), 12.0
        house = self.drawing.add("g", cls="house")
        slope = math.tan(angle) if angle < math.radians(75) else 0.0
        over = 34.0
        house.line(
            (x - over, y + lift + over * slope),
            (x + self.reach * self.place.scale + 6, y + lift - self.reach * self.place.scale * slope),
            "wall",
        )
        left, base = self.place.at(self.tank_x, self.foot)
        right = left + self.wide * self.place.scale
        ground = max(base + 12, y + lift - self.reach * self.place.scale * slope)
        house.line((left - 8, base + 3), (right + 8, base + 3), "wall")
        for leg in (left, right):
            house.line((leg, base + 3), (leg, ground + 16), "thin")
        house.words((right + 8, ground + 16), "its stand", "place halo", "end")

    def lines(self) -> None:
        """Cold line from the tank's foot to the field's foot, hot line from the field's top up to the tank's port."""
        store, route = self.sheet.design.store, self.sheet.result.run.route
        at, tank = self.place.at, self.tank_x
        cold_port, hot_port = self.foot + store.coil_bottom_m.value, self.foot + store.coil_top_m.value
        below = at(0, self.low)[1] + 28
        right = at(tank, 0)[0] - LINE_APART / 2
        cold = self.part("cold_line", "Cold line")
        path = [at(tank, cold_port), (right, at(0, cold_port)[1]), (right, below), (at(0, 0)[0] - LINE_APART, below)]
        path += [(at(0, 0)[0] - LINE_APART, at(0, self.low)[1]), at(0, self.low)]
        cold.path(path, "hit")
        cold.path(path, "cold")
        hot = self.part("hot_line", "Hot line")
        top = at(self.reach, route.plate_top)
        riser = top[0] + 3
        way = [top, (riser, top[1]), (riser, at(0, hot_port)[1]), at(tank, hot_port)]
        hot.path(way, "hit")
        hot.path(way, "bridge")
        hot.path(way, "hot")
        pipe = shown(self.sheet.design.run.laid("cold").outer_diameter_m, "pipe_size", self.units)
        self.label(
            cold,
            (LEFT - 16, below + 20),
            shown(route.cold_length, "length", self.units, 1),
            tr("cold, {pipe}", pipe=pipe),
        )
        self.mark(cold, "cold_line", (LEFT + 46, below + 16))
        number = self.shown("flow") or "none"
        self.label(hot, (riser - 8, (top[1] + at(0, hot_port)[1]) / 2), number, "flows by itself", "end")
        self.mark(hot, "hot_line", (riser - 8, at(0, hot_port)[1] - 14))

    def field(self) -> None:
        """The collectors at their pitch."""
        design, route = self.sheet.design, self.sheet.result.run.route
        (bx, by), (tx, ty) = self.place.at(0, self.low), self.place.at(self.reach, route.plate_top)
        node = self.part("collector", "Collectors")
        length = math.hypot(tx - bx, ty - by) or 1.0
        nx, ny = (ty - by) / length * 9, -(tx - bx) / length * 9
        node.path(((bx, by), (tx, ty), (tx + nx, ty + ny), (bx + nx, by + ny)), "body", close=True)
        item, count = design.collector.item.value, design.collector.count.value
        area = shown(item.aperture_m2, "area", self.units)
        self.label(node, (8, 40), f"{count} × {area}", item.name)
        node.words((8, 68), tr("dry {self}", self=self.shown("stagnation")), "label halo")
        self.mark(node, "collector", ((bx + tx) / 2 + nx * 2.4, (by + ty) / 2 + ny * 2.4))

    def tank(self) -> None:
        """The tank on its stand, with its ports and its relief."""
        store = self.sheet.design.store
        node = self.part("store", "Store")
        (x, y), side = self.place.at(self.tank_x, self.foot + self.tall), self.wide * self.place.scale
        node.add(
            "rect",
            x=round(x, 1),
            y=round(y, 1),
            width=round(side, 1),
            height=round(self.tall * self.place.scale, 1),
            rx=9,
            cls="vessel-body",
        )
        middle = x + side / 2
        tank = shown(store.item.value.contents_l / 1000, "tank", self.units)
        self.label(node, (middle, y + self.tall * self.place.scale * 0.45), tank, "", "middle")
        self.mark(node, "store", (x + 12, y - 12))
        self._fittings(middle, x + side, y)

    def _fittings(self, middle: float, out: float, y: float) -> None:
        """The tank's relief and its taps."""
        relief = self.part("relief", "Relief by temperature and pressure")
        relief.path(((middle, y), (middle - 6, y - 11), (middle + 6, y - 11)), "part-body", close=True)
        relief.line((middle - 6, y - 15), (middle + 6, y - 15), "stroke")
        relief.words((middle + 10, y - 6), "relief", "label halo")
        self.mark(relief, "relief", (middle + 20, y - 24))
        tap = self.part("tap", "Taps")
        tap.line((out, y + 14), (out + 22, y + 14), "branch")
        tap.words((out + 24, y + 18), "taps", "label halo")
        self.mark(tap, "tap", (out + 30, y + 32))

    def main(self) -> None:
        """The cold main comes up through the house."""
        x, foot = self.place.at(self.tank_x + self.wide, self.foot)
        main = self.part("gauge", "Cold main")
        main.line((x, foot - 8), (x + 12, foot - 8), "branch")
        main.line((x + 12, foot - 8), (x + 12, self.place.foot + UNDER - 44), "branch")
        height = shown(self.sheet.result.run.route.top, "length", self.units)
        self.label(
            main,
            (x + 6, self.place.foot + UNDER - 24),
            shown(self.sheet.design.main_gauge_pa, "pressure", self.units),
            tr("cold main, {height} down", height=height),
            "end",
        )
        self.mark(main, "gauge", (x + 24, self.place.foot + UNDER - 36))

    def heights(self) -> None:
        """How far the tank's foot stands over the field's top: what drives the loop."""
        top = self.place.at(0, self.sheet.result.run.route.plate_top)[1]
        foot = self.place.at(0, self.foot)[1]
        x = WIDTH - 12
        self.drawing.line((self.place.at(self.reach, 0)[0] + 8, top), (x + 4, top), "pointing")
        self.drawing.line((self.place.at(self.tank_x + self.wide, 0)[0], foot), (x + 4, foot), "pointing")
        above = self.sheet.design.store.above_field_m.value
        self.drawing.dimension(
            (x, min(top, foot)), (x, max(top, foot)), shown(abs(above), "length", self.units), "dim big"
        )
