"""The pipes between main, tanks and taps, each valve with the number it has in the table of modes and on its tag."""

from __future__ import annotations

from rowan.core.steps.store.modes import SECOND, SOLAR, Arrangement, Mode, tanks_of
from rowan.core.terms.language import tr
from rowan.web.ui.svg import Drawing, Point

WIDTH, HEIGHT = 656, 186
COLD_Y, HOT_Y, PAST_Y, OVER_Y = 118.0, 78.0, 164.0, 34.0
TANK_WIDTH, TANK_TOP, TANK_FOOT = 78.0, 62.0, 134.0
VALVE = 7.0
# left edge of each tank, and where the taps' line begins
TANKS = {"one": {SOLAR: 190.0}, "two": {SOLAR: 150.0, SECOND: 372.0}}
MAIN_X, PARTS_X, TAPS_X = 78.0, 98.0, 562.0
# where a relief sits that is not on its tank: a shut inlet valve cuts it off
BEFORE_INLET = {SOLAR: (108.0, COLD_Y), SECOND: (140.0, PAST_Y)}
# where each valve sits, by its number
VALVE_AT: dict[Arrangement, dict[str, Point]] = {
    "one": {"1": (144.0, COLD_Y), "2": (340.0, HOT_Y), "3": (229.0, PAST_Y)},
    "two": {
        "1": (124.0, COLD_Y),
        "2": (306.0, HOT_Y),
        "3": (189.0, PAST_Y),
        "4": (411.0, OVER_Y),
        "5": (486.0, HOT_Y),
    },
}


def valves_drawing(arrangement: Arrangement, mode: Mode, *, relief_free: bool) -> Drawing:
    """Tanks, pipes and numbered valves as they stand in a mode; a shut valve is filled.

    `relief_free` says that each relief sits on its tank; else it sits in the cold pipe before the inlet valve.
    """
    drawing = Drawing(
        WIDTH, HEIGHT, tr("Valves of the tanks, as in the mode {mode}", mode=tr(mode.name)), "valves", "valves"
    )
    left = TANKS[arrangement]
    solar = left[SOLAR]
    pipe = drawing.add("g", cls="pipes")
    joins = 400.0 if arrangement == "one" else 528.0
    pipe.path(((MAIN_X, COLD_Y), (solar, COLD_Y)), "cold thin-line")
    if arrangement == "one":
        pipe.path(((PARTS_X, COLD_Y), (PARTS_X, PAST_Y), (joins, PAST_Y), (joins, HOT_Y)), "cold thin-line")
        pipe.path(((solar + TANK_WIDTH, HOT_Y), (TAPS_X, HOT_Y)), "hot thin-line")
    else:
        second = left[SECOND]
        meets, between = second - 26.0, solar + TANK_WIDTH + 32.0
        pipe.path(((PARTS_X, COLD_Y), (PARTS_X, PAST_Y), (meets, PAST_Y), (meets, COLD_Y)), "cold thin-line")
        pipe.path(((solar + TANK_WIDTH, HOT_Y), (meets, HOT_Y), (meets, COLD_Y), (second, COLD_Y)), "hot thin-line")
        pipe.path(((between, HOT_Y), (between, OVER_Y), (joins, OVER_Y), (joins, HOT_Y)), "hot thin-line")
        pipe.path(((second + TANK_WIDTH, HOT_Y), (TAPS_X, HOT_Y)), "hot thin-line")
    for tank in tanks_of(arrangement):
        _tank(drawing, left[tank], tank, mode.heaters.get(tank, ""))
        _relief(drawing, (left[tank] + TANK_WIDTH / 2, TANK_TOP) if relief_free else BEFORE_INLET[tank])
    drawing.words((MAIN_X - 6, COLD_Y + 4), "cold main", "label-ink", "end")
    drawing.words((TAPS_X + 6, HOT_Y + 4), "taps", "label-ink")
    for number, at in VALVE_AT[arrangement].items():
        _valve(drawing, number, at, is_open=mode.valves[number])
    return drawing


def _tank(drawing: Drawing, x: float, name: str, heated: str) -> None:
    """A tank and what heats it in this mode."""
    drawing.add("rect", x=x, y=TANK_TOP, width=TANK_WIDTH, height=TANK_FOOT - TANK_TOP, rx=9, cls="vessel-body")
    middle = x + TANK_WIDTH / 2
    drawing.words((middle, TANK_TOP + 32), name, "label-ink", "middle")
    drawing.words((middle, TANK_TOP + 48), heated or "not heated", "label", "middle")


def _relief(drawing: Drawing, at: Point) -> None:
    """A relief valve that stands up from a tank or a pipe."""
    x, y = at
    relief = drawing.add("g", cls="relief")
    relief.add("title", "relief")
    relief.line((x, y), (x, y - 5), "stroke")
    relief.path(((x, y - 4), (x - 5, y - 13), (x + 5, y - 13)), "part-body", close=True)


def _valve(drawing: Drawing, number: str, at: Point, *, is_open: bool) -> None:
    """A valve in its pipe with its number; filled where it is shut."""
    x, y = at
    valve = drawing.add("g", cls="valve " + ("valve-open" if is_open else "valve-shut"))
    valve.add("title", tr("valve {number}: {state}", number=number, state="open" if is_open else "shut"))
    for side in (-VALVE, VALVE):
        corners = ((x + side, y - VALVE * 0.8), (x + side, y + VALVE * 0.8), (x, y))
        valve.path(corners, "part-body" if is_open else "solid", close=True)
    valve.words((x, y - VALVE - 4), number, "key halo", "middle")
