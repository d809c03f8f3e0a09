"""The pressure ladder of every school, and the vessel cut open in four states."""

from __future__ import annotations

import math

from rowan.core.steps.charge.figures import LEAST_TOP_COLD_PA
from rowan.core.steps.charge.ratings import weakest_part
from rowan.core.steps.charge.result import SchoolView
from rowan.core.steps.charge.vessel import VesselState
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, dimension, number_and_unit, shown, shown_number, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.benches.handles import handle
from rowan.web.ui.svg import Drawing, Node

WIDTH = 656
GUTTER, CHOSEN, OTHER = 102.0, 154.0, 80.0
TOP_Y, ZERO_Y = 12.0, 254.0
ROWS = ("kept in the vessel", "top, cold night", "boils on top", "spare to relief")
ROW_HEIGHT = 23.5


@record
class Scale:
    """Pascals to y, with the step of the rungs in the shown unit."""

    top_pa: float
    step_pa: float

    def y(self, pressure: float) -> float:
        """The y of a gauge pressure [Pa]."""
        return ZERO_Y - (ZERO_Y - TOP_Y) * min(max(pressure, 0.0), self.top_pa) / self.top_pa


def _scale(sheet: Sheet) -> Scale:
    charge = sheet.result.sealed
    highest = sheet.design.charge.relief_gauge_pa.value
    for view in charge.schools:
        for state in view.states.values():
            if state.station is not None:
                highest = max(highest, min(state.station, 2 * sheet.design.charge.relief_gauge_pa.value))
    step = dimension("pressure").unit(sheet.units).factor * (10 if sheet.units == "us" else 1)
    while highest / step > 12:
        step *= 2
    return Scale(math.ceil(highest * 1.04 / step) * step, step)


def ladder(sheet: Sheet) -> Drawing:
    """Pressure at the gauge for every school: charge, fill, hot, stagnation; the chosen one wider."""
    charge = sheet.result.sealed
    scale = _scale(sheet)
    height = ZERO_Y + ROW_HEIGHT * len(ROWS) + 8
    drawing = Drawing(WIDTH, height, "Pressure ladder of the six schools", "ladder", "ladder")
    chosen_at = next(i for i, v in enumerate(charge.schools) if v.school == sheet.design.charge.school.value)
    columns = _columns(chosen_at)
    left, width = columns[chosen_at]
    drawing.rect(left, 0, width, height, "wash")
    drawing.line((left, 1.5), (left + width, 1.5), "head")
    _axis(drawing, sheet, scale)
    for (x, w), view in zip(columns, charge.schools, strict=True):
        drawing.line((x, 0), (x, height), "column")
        # on the page the names are the buttons above; a drawing that stands alone says them itself
        drawing.words((x + 6, 12), view.school, "school-name")
        _Column(drawing, sheet, scale, x, w, view, view.school == sheet.design.charge.school.value).draw()
    for row, name in enumerate(ROWS):
        y = ZERO_Y + ROW_HEIGHT * (row + 1)
        drawing.words((GUTTER - 8, y - 7), name, "label", "end")
        drawing.line((0, y), (WIDTH, y), "rule")
    return drawing


def _columns(chosen_at: int) -> list[tuple[float, float]]:
    x, columns = GUTTER, []
    for i in range(6):
        width = CHOSEN if i == chosen_at else OTHER
        columns.append((x, width))
        x += width
    return columns


def _axis(drawing: Drawing, sheet: Sheet, scale: Scale) -> None:
    charge, units = sheet.result.charge, sheet.units
    drawing.words((GUTTER - 30, TOP_Y + 4), unit_label("pressure", units) + ",", "label", "end")
    drawing.words((GUTTER - 30, TOP_Y + 17), "at the gauge", "label", "end")
    count = round(scale.top_pa / scale.step_pa)
    for i in range(count + 1):
        y = scale.y(i * scale.step_pa)
        drawing.line((GUTTER, y), (WIDTH, y), "grid" if i else "rule-ink")
        drawing.words((GUTTER - 8, y + 4), shown_number(i * scale.step_pa, "pressure", units, 0), "axis", "end")
    relief = sheet.design.charge.relief_gauge_pa.value
    drawing.rect(GUTTER, TOP_Y, WIDTH - GUTTER, scale.y(relief) - TOP_Y, "beyond")
    drawing.line((GUTTER, scale.y(relief)), (WIDTH, scale.y(relief)), "limit")
    drawing.line((GUTTER, scale.y(charge.end)), (WIDTH, scale.y(charge.end)), "planned")
    drawing.words(
        (WIDTH - 4, scale.y(relief) - 5),
        tr("relief opens {relief}", relief=shown(relief, "pressure", units)),
        "label-ink halo",
        "end",
    )
    drawing.words(
        (WIDTH - 4, scale.y(charge.end) + 13),
        tr("highest planned {end}", end=shown(charge.end, "pressure", units)),
        "label halo",
        "end",
    )
    drawing.line((GUTTER, scale.y(charge.static)), (WIDTH, scale.y(charge.static)), "static")
    text = tr(
        "static {shown_number}; below it air is drawn in on top",
        shown_number=shown_number(charge.static, "pressure", units),
    )
    drawing.words((WIDTH - 4, scale.y(charge.static) + 13), text, "label-slate halo", "end")


class _Column:
    """One school's rail with its rungs, and its row of figures."""

    def __init__(
        self, drawing: Drawing, sheet: Sheet, scale: Scale, x: float, width: float, view: SchoolView, chosen: bool
    ) -> None:
        self.drawing, self.sheet, self.scale, self.x, self.width, self.view, self.chosen = (
            drawing,
            sheet,
            scale,
            x,
            width,
            view,
            chosen,
        )
        self.units = sheet.units
        self.rail = x + (36 if chosen else 28)

    def number(self, pressure: float) -> str:
        return shown_number(pressure, "pressure", self.units)

    def draw(self) -> None:
        if self.view.setting is None:
            node = self.drawing.rect(self.x + 8, TOP_Y + 60, self.width - 16, ZERO_Y - TOP_Y - 80, "outside")
            node.add("title", self.view.refused.text(self.units) if self.view.refused else "")
            self.drawing.words((self.x + self.width / 2, TOP_Y + 50), "cannot be", "label-ink halo", "middle")
            return
        states, y = self.view.states, self.scale.y
        cold, stagnation, hot = states["cold"], states["stagnation"], states["hot"]
        fill, pre = self.view.setting.fill, self.view.setting.precharge
        half = 10.0 if self.chosen else 6.0
        low = 0.0 if cold.empty or cold.station is None else min(cold.station, fill)
        high = self.scale.top_pa if stagnation.station is None else stagnation.station
        rail = self.drawing.rect(
            self.rail - half, y(high), 2 * half, y(low) - y(high), "rail-chosen" if self.chosen else "rail"
        )
        rail.add("title", self._story())
        if cold.empty:
            self.drawing.rect(
                self.rail - half,
                y(self.sheet.result.charge.static),
                2 * half,
                ZERO_Y - y(self.sheet.result.charge.static),
                "outside",
            )
        relief = self.sheet.design.charge.relief_gauge_pa.value
        if high > relief:
            self.drawing.rect(self.rail - half, y(high), 2 * half, y(relief) - y(high), "outside")
        self._rung(high, half, "rung-stagnation")
        if hot.station is not None:
            self._rung(hot.station, half, "rung-hot")
        if cold.station is not None:
            self._rung(cold.station, half, "rung-cold")
        self._diamond(pre, half)
        if self.chosen:
            self._labels(pre, fill, cold, hot, stagnation, half)
            self._handle(fill, half)
        else:
            self._rung(fill, half, "rung-fill")
            if stagnation.station is not None:
                self.drawing.words((self.rail + half + 5, y(high) + 4), self.number(high), "fig-minor halo")
            self.drawing.words(
                (self.rail + half + 5, min(y(fill) + 4, ZERO_Y - 3)), self.number(fill), "fig-minor halo"
            )
        self._rows(cold, stagnation)

    def _story(self) -> str:
        parts = []
        for name, state in self.view.states.items():
            parts.append(
                f"{tr(name)} {self.number(state.station)}"
                if state.station is not None
                else tr("{name}: vessel {state}", name=name, state="empty" if state.empty else "full")
            )
        return f"{tr(self.view.school)}: " + ", ".join(parts)

    def _rung(self, pressure: float, half: float, cls: str, parent: Node | None = None) -> None:
        y = self.scale.y(pressure)
        (parent or self.drawing).line((self.rail - half - 2, y), (self.rail + half + 2, y), cls)

    def _diamond(self, pressure: float, half: float) -> None:
        x, y = self.rail - half - 10, self.scale.y(pressure)
        self.drawing.path(((x - 5, y), (x, y - 5), (x + 5, y), (x, y + 5)), "diamond", close=True)

    def _labels(
        self, pre: float, fill: float, cold: VesselState, hot: VesselState, stagnation: VesselState, half: float
    ) -> None:
        x = self.rail + half + 8
        if stagnation.station is not None:
            y = self.scale.y(stagnation.station)
            self.drawing.words((x - 2, y + 5), self.number(stagnation.station), "fig-key halo")
            self.drawing.words((x - 2, y + 20), "stagnation", "label halo")
        rows = [
            (hot.station, "hot", "fig-minor"),
            (fill, "cold fill", "fig-key"),
            (cold.station, "cold night", "fig-minor"),
            (pre, "charge", "fig-minor"),
        ]
        present = [(p, name, cls) for p, name, cls in rows if p is not None]
        at = min(self.scale.y(fill) - 22, ZERO_Y - 17 * len(present))
        if stagnation.station is not None:
            at = max(at, self.scale.y(stagnation.station) + 38)
        for i, (pressure, name, cls) in enumerate(present):
            y = at + 17 * i
            self.drawing.path(((self.rail + half + 2, self.scale.y(pressure)), (x + 4, y), (x + 9, y)), "leader")
            self.drawing.words((x + 12, y + 4), self.number(pressure), f"{cls} halo")
            self.drawing.words((x + (58 if "fig-key" in cls and self.units == "us" else 48), y + 4), name, "label halo")

    def _handle(self, fill: float, half: float) -> None:
        """The fill rung of the chosen school: dragged it moves the gap, or the typed fill."""
        school = self.view.school
        if school not in ("reserve", "typed"):
            self._rung(fill, half, "rung-fill")
            return
        y = self.scale.y(fill)
        group = self.drawing.add(
            "g",
            **handle(
                self.sheet,
                "charge.gap_pa" if school == "reserve" else "charge.typed_fill_gauge_pa",
                axis="y",
                per_px=-self.scale.top_pa / (ZERO_Y - TOP_Y),
                id="drag-fill",
                label="cold fill, by the gap over the charge" if school == "reserve" else "cold fill",
                aria_valuetext=self.sheet.result.figures["fill"].quantity.shown(self.units),
            ),
        )
        group.rect(self.rail - half - 8, y - 12, 2 * half + 16, 24, "grip")
        group.line((self.rail - half - 6, y), (self.rail + half + 6, y), "rung-fill")
        group.path(((self.rail - 4, y - 5), (self.rail + 4, y - 5), (self.rail, y - 10)), "solid", close=True)
        group.path(((self.rail - 4, y + 5), (self.rail + 4, y + 5), (self.rail, y + 10)), "solid", close=True)

    def _rows(self, cold: VesselState, stagnation: VesselState) -> None:
        fill = self.view.states["fill"]
        volume = shown(fill.liquid, "volume", self.units, 2 if self.units == "metric" else None)
        boils = (
            shown(stagnation.boiling_on_top, "temperature", self.units) if stagnation.boiling_on_top is not None else ""
        )
        cells = (
            volume if fill.liquid > 0 else ("", "none"),
            ("", "air in") if cold.empty or cold.top is None else shown(cold.top, "pressure", self.units),
            boils or ("", "vessel full"),
            ("", "opens")
            if stagnation.margin_to_relief is None or stagnation.margin_to_relief <= 0
            else shown(stagnation.margin_to_relief, "pressure", self.units),
        )
        for row, cell in enumerate(cells):
            y = ZERO_Y + ROW_HEIGHT * (row + 1) - 7
            if isinstance(cell, tuple):
                self.drawing.rect(self.x + 8, y - 9, 10, 10, "outside")
                self.drawing.words((self.x + 24, y), cell[1], "fig-cell-key" if self.chosen else "fig-cell-bold")
            else:
                number, unit = number_and_unit(cell)
                self.drawing.figure(
                    (self.x + (12 if self.chosen else 8), y),
                    number,
                    unit,
                    "fig-cell-key" if self.chosen else "fig-cell",
                )


STATES = (("cold", "cold night"), ("fill", "fill"), ("hot", "hot"), ("stagnation", "stagnation"))
BODY_W, BODY_H, DOME = 74.0, 94.0, 12.0


def vessels(sheet: Sheet) -> Drawing:
    """The vessel in four states, liquid and gas to scale, with what the gauge and the top show."""
    charge, units = sheet.result.sealed, sheet.units
    drawing = Drawing(WIDTH, 162, "The vessel cut open in four states", "vessels", "vessels")
    if not charge.states:
        drawing.words((8, 40), "No state can be drawn: these pressures cannot be set.", "label-ink")
        return drawing
    for i, (key, name) in enumerate(STATES):
        state = charge.states[key]
        x = 22 + i * 160.0
        drawing.words((x, 14), name, "state-name")
        note = (
            tr("steam {reach}", reach=shown(charge.steam.reach, "length", units, 0))
            if key == "stagnation"
            else shown(state.temperature, "temperature", units)
        )
        drawing.words((x + 11 + 7.1 * len(tr(name)), 14), note, "label")
        _vessel(
            drawing,
            x,
            36,
            max(0.0, min(1.0, state.liquid / charge.vessel)),
            shown(max(state.liquid, 0), "volume", units, 2 if units == "metric" else None),
        )
        tx = x + BODY_W + 16
        if state.station is None or state.top is None:
            drawing.rect(tx, 100, 11, 11, "outside")
            drawing.words((tx + 16, 110), "empty" if state.empty else "full", "fig-key")
            if state.empty:
                drawing.words(
                    (tx, 128), tr("lacks {shortage}", shortage=shown(state.shortage, "volume", units, 2)), "label-ink"
                )
            continue
        number, unit = number_and_unit(shown(state.station, "pressure", units))
        drawing.figure((tx, 112), number, unit, "fig-big")
        drawing.words(
            (tx, 130), tr("top {shown_number}", shown_number=shown_number(state.top, "pressure", units)), "label-ink"
        )
        boils = (
            ""
            if state.boiling_on_top is None
            else tr("boils {boiling_on_top}", boiling_on_top=shown(state.boiling_on_top, "temperature", units))
        )
        drawing.words((tx, 146), boils, "label-ink")
    return drawing


def found_vessels(states: tuple[tuple[str, float, float, float | None], ...], at: str, units: System) -> Drawing:
    """Vessels side by side at one temperature: name, share of liquid, liquid [m³], gauge [Pa] where there is one."""
    drawing = Drawing(340, 162, "The vessel as planned and as found", "found", "found")
    for i, (name, share, liquid, gauge) in enumerate(states):
        x = 16 + i * 170.0
        drawing.words((x, 14), name, "state-name")
        _vessel(drawing, x, 36, max(0.0, min(1.0, share)), shown(max(liquid, 0.0), "volume", units, 2))
        if gauge is None:
            drawing.words((x + BODY_W + 16, 112), "empty", "fig-key")
            continue
        number, unit = number_and_unit(shown(gauge, "pressure", units))
        drawing.figure((x + BODY_W + 16, 112), number, unit, "fig-big")
        drawing.words((x + BODY_W + 16, 130), tr("at {at}", at=at), "label-ink")
    return drawing


def _vessel(drawing: Drawing, x: float, y: float, share: float, liquid: str) -> None:
    group = drawing.add("g", cls="cut-vessel")
    middle = x + BODY_W / 2
    group.line((middle, y - 14), (middle, y), "branch")
    bottom = y + BODY_H
    outline = f"M{x} {y + DOME} Q{x} {y} {middle} {y} Q{x + BODY_W} {y} {x + BODY_W} {y + DOME} L{x + BODY_W} {bottom - DOME} Q{x + BODY_W} {bottom} {middle} {bottom} Q{x} {bottom} {x} {bottom - DOME} Z"
    group.add("path", d=outline, cls="paper")
    level = y + BODY_H * share
    bulge = min(8.0, BODY_H * share * 0.5, BODY_H * (1 - share) * 0.5)
    edge = max(level - bulge / 2, y + min(DOME, BODY_H * share))
    if share > 0.005:
        d = f"M{x + 1} {min(y + DOME, edge)} Q{x + 1} {y + 1} {middle} {y + 1} Q{x + BODY_W - 1} {y + 1} {x + BODY_W - 1} {min(y + DOME, edge)} L{x + BODY_W - 1} {edge} Q{middle} {level + bulge} {x + 1} {edge} Z"
        group.add("path", d=d, cls="liquid")
        group.add("path", d=f"M{x} {edge} Q{middle} {level + bulge} {x + BODY_W} {edge}", cls="membrane")
    group.add("path", d=outline, cls="vessel-line")
    group.rect(middle - 4, bottom, 8, 5, "solid")
    if share < 0.7:
        group.words((middle, y + BODY_H * (share + 1) / 2 + 6), "gas", "place", "middle")
    group.dimension((x + BODY_W + 9, y), (x + BODY_W + 9, max(level, y + 5)), "")
    number, unit = number_and_unit(liquid)
    group.figure((x + BODY_W + 20, (y + max(level, y + 5)) / 2 + 6), number, unit, "fig-minor")


FIGURE_PX = 100.0  # what a pressure in large figures takes


def direct_column(sheet: Sheet) -> Drawing:
    """A direct loop: what the main leaves on the way up, and what the weakest part stands; the main's pressure, or what the
    reducing valve lets through, is moved by hand."""
    drawing = Drawing(WIDTH, 380, "Pressure up a direct loop, from the cold main to the top", "direct", "direct")
    units = sheet.units
    main, height = sheet.design.main_gauge_pa, sheet.result.run.route.top
    left, right, top, foot = 120.0, 560.0, 40.0, 320.0
    most = max(main * 1.25, 4e5)

    def x(pressure: float) -> float:
        return left + (right - left) * max(pressure, 0) / most

    unit = dimension("pressure").unit(units)
    step = unit.factor * (1 if units == "metric" else 10)
    for i in range(int(most / step) + 1):
        drawing.line((x(i * step), top), (x(i * step), foot), "grid" if i else "rule-ink")
        drawing.words((x(i * step), foot + 16), shown_number(i * step, "pressure", units, 0), "axis", "middle")
    drawing.words((right + 14, foot + 16), unit.label, "axis")
    drawing.line((left, foot), (right, foot), "rule-ink")
    on_top = sheet.result.figures["top_direct"].value
    drawing.path(((x(0), foot), (x(main), foot), (x(on_top), top), (x(0), top)), "pressure-fill", close=True)
    drawing.path(((x(main), foot), (x(on_top), top)), "pressure-line")
    drawing.line((x(LEAST_TOP_COLD_PA), top), (x(LEAST_TOP_COLD_PA), foot), "leaf-line")
    drawing.words(
        (x(LEAST_TOP_COLD_PA) + 5, top + 16),
        tr("least on top {pressure}", pressure=shown(LEAST_TOP_COLD_PA, "pressure", units)),
        "label-leaf halo",
    )
    drawing.dimension((left - 62, top), (left - 62, foot), shown(height, "length", units), "dim big")
    drawing.words((left - 8, top + 4), "top", "label", "end")
    drawing.words((left - 8, foot + 4), "gauge", "label", "end")
    number, label = number_and_unit(shown(on_top, "pressure", units))
    drawing.figure((x(on_top) + 12, top + 6), number, label, "fig-big halo")
    weakest = weakest_part(sheet.design)
    if weakest.stands < most:
        drawing.rect(x(weakest.stands), top, right - x(weakest.stands), foot - top, "outside")
        drawing.line((x(weakest.stands), top), (x(weakest.stands), foot), "berry-line")
        words = f"{weakest.name}: {shown(weakest.stands, 'pressure', units)}"
        drawing.words((x(weakest.stands) + 6, foot - 40), words, "label-berry halo")
    reduced = sheet.design.charge.reducer_gauge_pa.value is not None
    moved = "charge.reducer_gauge_pa" if reduced else "charge.mains_gauge_pa"
    group = drawing.add("g", **handle(sheet, moved, axis="x", per_px=most / (right - left)))
    group.rect(x(main) - 13, foot - 13, 26, 26, "grip")
    group.circle((x(main), foot), 6.5, "knob")
    number, label = number_and_unit(shown(main, "pressure", units))
    # left of its knob where the weakest part stands close on the right
    crowded = weakest.stands < most and x(main) < x(weakest.stands) < x(main) + FIGURE_PX
    at = (x(main) - 14, foot - 8) if crowded else (x(main) + 14, foot - 8)
    group.figure(at, number, label, "fig-big halo", "end" if crowded else "")
    drawing.words(
        (0, 360),
        "Water from the main fills the loop; what swells goes back into it or out at the relief. It must never freeze,",
        "place",
    )
    drawing.words(
        (0, 375), "the main must hold the top under pressure, and no part may get more than it stands.", "place"
    )
    return drawing
