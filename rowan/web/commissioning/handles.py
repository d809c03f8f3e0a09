"""The loop's handles as they stand at a step: along the pipe open and hollow, across it shut and filled, in between half.

Drawn for a phone at arm's length in a cellar: each handle with its tag, its name and the word. One drawing, whichever step: a script
turns the same handles to show what would happen.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from rowan.core.steps.commission.result import tag
from rowan.core.steps.commission.valves import CHOICES, VALVE_NAMES
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, shown
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Node

WIDTH = 358
TURN_PX, BAR_PX = 13.0, 17.0  # half a valve, half its handle
GRIP_PX = 44.0  # a thumb in a glove
# x of the lines and y of the parts of a sealed loop's station, from the field down to the coil
COLD_X, HOT_X, PORT_PX = 148.0, 44.0, 76.0
STATION = {
    "vent": 44.0,
    "vessel": 96.0,
    "check": 138.0,
    "pump": 178.0,
    "supply": 220.0,
    "between": 262.0,
    "outlet": 304.0,
}
STATION_FOOT = 336.0
# x of the lines of a loop without a station, and how far a port stands off
HOT_DOWN_X, COLD_UP_X, STUB_PX = 60.0, 218.0, 46.0
FIELD_X = 284.0  # of the field under its tank, clear of what the handles are called
USUAL: Mapping[str, str] = {}  # no valve has a name of its own


def handles_drawing(sheet: Sheet, state: Mapping[str, str], title: str) -> Drawing:
    """The loop of a design with its handles in a state; what it does not say stands as it works."""
    return DRAWN[sheet.design.charge.kind.value](sheet, state, title)


def _canvas(height: float, title: str) -> Drawing:
    drawing = Drawing(WIDTH, height, title, "handles", "handles")
    drawing.words((WIDTH - 2, 14), "handle across = shut", "label", "end")
    return drawing


def _sealed(sheet: Sheet, state: Mapping[str, str], title: str) -> Drawing:
    drawing = _canvas(STATION_FOOT + 8, title)
    drawing.line((HOT_X, 18), (HOT_X, STATION_FOOT), "hot")
    drawing.words((HOT_X - 8, 32), "hot", "label", "end")
    drawing.line((COLD_X, 18), (COLD_X, STATION_FOOT), "cold")
    drawing.words((COLD_X - 8, 32), "to the field", "label", "end")
    drawing.words((COLD_X - 8, STATION_FOOT - 3), "from the coil", "label", "end")
    if "vent" in state:
        # on top of the roof, drawn where the line leaves the picture
        drawing.line((COLD_X, STATION["vent"]), (COLD_X + PORT_PX, STATION["vent"]), "branch")
        _handle(drawing, "vent", (COLD_X + PORT_PX / 2, STATION["vent"]), state, upright=False)
    _gauge(drawing, sheet)
    _vessel(drawing, sheet, state)
    if "check" in state:
        _handle(drawing, "check", (COLD_X, STATION["check"]), state, upright=True)
    _pump(drawing, (COLD_X, STATION["pump"]))
    for valve in ("supply", "outlet"):
        drawing.line((COLD_X, STATION[valve]), (COLD_X + PORT_PX, STATION[valve]), "branch")
        drawing.line((COLD_X + PORT_PX, STATION[valve] - 6), (COLD_X + PORT_PX, STATION[valve] + 6), "stroke")
        _handle(drawing, valve, (COLD_X + PORT_PX / 2, STATION[valve]), state, upright=False)
    _handle(drawing, "between", (COLD_X, STATION["between"]), state, upright=True)
    return drawing


def _gauge(drawing: Drawing, sheet: Sheet) -> None:
    """Gauge and relief on the field's side of pump and check."""
    y = STATION["vessel"]
    drawing.line((COLD_X, y), (98, y), "branch")
    drawing.circle((84, y), 15, "part-body")
    drawing.line((84, y), (91, y - 8), "stroke")
    drawing.line((108, y), (108, y + 12), "branch")
    drawing.path(((101, y + 24), (115, y + 24), (108, y + 12)), "part-body", close=True)
    drawing.words(
        (108, y + 38), shown(sheet.design.charge.relief_gauge_pa.value, "pressure", sheet.units), "label", "middle"
    )


def _vessel(drawing: Drawing, sheet: Sheet, state: Mapping[str, str]) -> None:
    y, x = STATION["vessel"], COLD_X + PORT_PX + 84
    drawing.line((COLD_X, y), (x, y), "branch")
    drawing.add("rect", x=x, y=y - 16, width=46, height=32, rx=9, cls="vessel-body")
    drawing.words(
        (x + 23, y + 4.5), shown(sheet.design.charge.vessel_l.value * LITRE, "tank", sheet.units), "key-small", "middle"
    )
    if "vessel" in state:
        _handle(drawing, "vessel", (COLD_X + PORT_PX / 2, y), state, upright=False, words_at=(COLD_X + 12, y - 22))


def _pump(drawing: Node, at: tuple[float, float]) -> None:
    x, y = at
    drawing.circle((x, y), 12, "part-body")
    drawing.path(((x - 7, y + 5), (x + 7, y + 5), (x, y - 9)), "solid", close=True)
    drawing.words((x + 20, y + 4), "pump", "label")


def _said(name: str, position: str) -> tuple[str, str]:
    """A handle's name and how it stands. Looked up in one: in other languages the word for open or shut goes with what is turned."""
    whole = f"{name}, {position}"
    if (said := tr(whole)) == whole:
        return tr(name), tr(position)
    own, _, stands = said.rpartition(", ")
    return own, stands


def _handle(
    drawing: Node,
    valve: str,
    at: tuple[float, float],
    state: Mapping[str, str],
    *,
    upright: bool,
    words_at: tuple[float, float] | None = None,
    names: Mapping[str, str] = USUAL,
) -> None:
    """A valve with its handle, its tag and its word; all three positions are there, the state shows one of them."""
    x, y = at
    position = state[valve]
    name = f"{tag(valve)} {names.get(valve, VALVE_NAMES[valve])}"
    own, stands = _said(name, position)
    group = drawing.add(
        "g",
        cls=f"handle is-{position}",
        data_valve=valve,
        data_position=position,
        data_choices=" ".join(CHOICES[valve]),
        data_said="|".join(_said(name, choice)[1] for choice in CHOICES[valve]),
        data_name=own,
        role="button",
        tabindex="0",
        aria_label=f"{own}, {stands}",
    )
    group.rect(x - GRIP_PX / 2, y - GRIP_PX / 2, GRIP_PX, GRIP_PX, "grip-area")
    along = 90 if upright else 0
    if valve == "check":
        group.path(((x - 9, y + 7), (x + 9, y + 7), (x, y - 8)), "part-body", close=True)
        group.line((x - 9, y - 9), (x + 9, y - 9), "stroke")
        turns = {"working": along, "half": along + 45}
    else:
        bow = group.path(
            ((x - TURN_PX, y - 9), (x + TURN_PX, y + 9), (x + TURN_PX, y - 9), (x - TURN_PX, y + 9)), "bow", close=True
        )
        bow.attributes["transform"] = f"rotate({along} {x:g} {y:g})"
        turns = {"open": along, "half": along + 45, "shut": along + 90}
    for turned, angle in turns.items():
        bar = group.rect(x - BAR_PX, y - 2.2, 2 * BAR_PX, 4.4, f"lever lever-{turned}")
        bar.attributes["transform"] = f"rotate({angle} {x:g} {y:g})"
    at_words = words_at or ((x + 26, y + 4) if upright else (x + PORT_PX / 2 + 8, y + 4))
    words = group.words(at_words, "", "handle-words halo")
    words.add("tspan", own + ", ")
    words.add("tspan", stands, cls="handle-word")


def _tank(drawing: Drawing, x: float, y: float, words: str) -> None:
    drawing.add("rect", x=x, y=y, width=96, height=84, rx=9, cls="vessel-body")
    drawing.rect(x + 2, y + 30, 92, 52, "liquid")
    drawing.words((x + 48, y + 22), words, "key-small", "middle")


def _drainback(sheet: Sheet, state: Mapping[str, str], title: str) -> Drawing:
    drawing = _canvas(344, title)
    drawing.line((HOT_DOWN_X, 18), (HOT_DOWN_X, 236), "hot")
    drawing.words((HOT_DOWN_X + 8, 32), "from the field", "label")
    drawing.path(((108, 300), (COLD_UP_X, 300), (COLD_UP_X, 18)), "cold")
    drawing.words((COLD_UP_X + 8, 42), "to the field", "label")
    _tank(drawing, 12, 236, "tank")
    drawing.line((92, 190), (92, 236), "branch")
    _handle(drawing, "air", (92, 208), state, upright=True, words_at=(116, 212))
    _handle(drawing, "tank return", (HOT_DOWN_X, 136), state, upright=True)
    _port(drawing, "outlet", (HOT_DOWN_X, 80), state)
    _handle(drawing, "tank flow", (156, 300), state, upright=False, words_at=(112, 330))
    _port(drawing, "supply", (COLD_UP_X, 236), state)
    _pump(drawing, (COLD_UP_X, 160))
    return drawing


def _port(drawing: Drawing, valve: str, at: tuple[float, float], state: Mapping[str, str]) -> None:
    """A port that ends in a cap."""
    x, y = at
    drawing.line((x, y), (x + STUB_PX, y), "branch")
    drawing.line((x + STUB_PX, y - 6), (x + STUB_PX, y + 6), "stroke")
    _handle(drawing, valve, (x + STUB_PX / 2, y), state, upright=False, words_at=(x + STUB_PX + 7, y + 4))


def _direct(sheet: Sheet, state: Mapping[str, str], title: str) -> Drawing:
    drawing = _canvas(366, title)
    drawing.line((HOT_DOWN_X, 18), (HOT_DOWN_X, 236), "hot")
    drawing.path(((108, 296), (COLD_UP_X, 296), (COLD_UP_X, 30)), "cold")
    drawing.words((COLD_UP_X + 8, 42), "to the field", "label")
    _tank(drawing, 12, 236, "pool" if sheet.design.is_pool else "store")
    _port(drawing, "vent", (HOT_DOWN_X, 60), state)
    drawing.path(((HOT_DOWN_X, 320), (HOT_DOWN_X, 344), (160, 344)), "branch")
    _handle(
        drawing,
        "main",
        (112, 344),
        state,
        upright=False,
        words_at=(168, 348),
        names=sheet.result.commission.graph.names,
    )
    _port(drawing, "outlet", (COLD_UP_X, 84), state)
    _port(drawing, "supply", (COLD_UP_X, 136), state)
    if "check" in state:
        _handle(drawing, "check", (COLD_UP_X, 190), state, upright=True, words_at=(78, 194))
    _pump(drawing, (COLD_UP_X, 240))
    return drawing


def _thermosiphon(sheet: Sheet, state: Mapping[str, str], title: str) -> Drawing:
    drawing = _canvas(300, title)
    drawing.line((108, 72), (FIELD_X, 72), "hot")
    drawing.path(((FIELD_X, 72), (FIELD_X, 210)), "hot")
    drawing.path(((60, 118), (60, 210), (FIELD_X, 210)), "cold")
    drawing.words((FIELD_X + 8, 150), "field", "label")
    _tank(drawing, 12, 36, "tank")
    _port(drawing, "tap", (108, 48), state)
    _port(drawing, "main", (108, 108), state)
    _port(drawing, "supply", (60, 172), state)
    _port(drawing, "outlet", (60, 240), state)
    drawing.line((60, 210), (60, 240), "cold")
    return drawing


DRAWN: dict[str, Callable[[Sheet, Mapping[str, str], str], Drawing]] = {
    "sealed": _sealed,
    "drainback": _drainback,
    "direct": _direct,
    "thermosiphon": _thermosiphon,
}
