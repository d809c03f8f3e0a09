"""The valve graph of a design's loop, how its handles stand while it works, and what fills it. Source: site, valves."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.charge.ratings import rated_parts
from rowan.core.steps.commission.valves import PUMP, SOURCE, ValveGraph, Way

# where a rated part is in the graph
PLACES = {"collector": "field", "hot_line": "field", "gauge": "station"}


def _stands(design: Design, places: frozenset[str]) -> dict[str, float]:
    """What each place stands [Pa gauge]: the least of its parts."""
    found: dict[str, float] = {}
    for part in rated_parts(design):
        place = PLACES.get(part.part, part.part)
        if place in places:
            found[place] = min(found.get(place, part.stands), part.stands)
    typed = design.commission.weakest_gauge_pa
    if typed.origin != "assumed" and "station" in places:
        found["station"] = min(found.get("station", typed.value), typed.value)
    return found


def vented_by_hand(design: Design) -> bool:
    """Whether a vent is drawn that a valve shuts."""
    vented = any(leg.vented for leg in (*design.run.cold, *design.run.hot))
    return vented and design.run.vent_shut_off.value


def _vent(design: Design, top: str) -> tuple[Way, ...]:
    """The way out under such a vent."""
    return (Way(top, "top", "vent"),) if vented_by_hand(design) else ()


def _sealed(design: Design) -> ValveGraph:
    vessel = "vessel" if design.commission.vessel_valve.value else ""
    check = "check" if design.run.non_return.value else ""
    ways = (
        Way("return", "out", "outlet"),
        Way("return", "suction", "between"),
        Way("in", "suction", "supply"),
        Way("suction", "pump", pump=True),
        Way("pump", "station", check),
        Way("station", "vessel", vessel),
        Way("station", "field"),
        *_vent(design, "field"),
        Way("field", "coil"),
        Way("coil", "return"),
    )
    places = frozenset({"station", "field", "coil", "vessel"})
    loop = ("return", "suction", "pump", "station", "field", "coil")
    return ValveGraph(ways, loop, ("in", "out", "top"), _stands(design, places))


# a pool's loop hangs on its filter, not on the cold main
POOL_NAMES = {"main": "from the filter"}


def _direct(design: Design) -> ValveGraph:
    check = "check" if design.run.non_return.value else ""
    ways = (
        Way("in", "store", "main"),
        Way("store", "pump", pump=True),
        Way("pump", "rise", check),
        Way("in", "rise", "supply"),
        Way("rise", "out", "outlet"),
        Way("rise", "field"),
        Way("field", "top", "vent"),
        Way("field", "store"),
    )
    stands = _stands(design, frozenset({"field", "store"}))
    return ValveGraph(
        ways,
        ("store", "pump", "rise", "field"),
        ("in", "out", "top"),
        stands,
        "store",
        "store",
        names=POOL_NAMES if design.is_pool else {},
    )


def _thermosiphon(design: Design) -> ValveGraph:
    ways = (
        Way("in", "tank", "main"),
        Way("tank", "field"),
        Way("field", "out", "outlet"),
        Way("in", "field", "supply"),
        Way("tank", "top", "tap"),
    )
    stands = _stands(design, frozenset({"field"}))
    return ValveGraph(ways, ("tank", "field"), ("in", "out", "top"), stands, "tank", "tank")


def _drainback(design: Design) -> ValveGraph:
    ways = (
        Way("tank", "suction", "tank flow"),
        Way("in", "suction", "supply"),
        Way("suction", "out", "outlet"),
        Way("suction", "pump", pump=True),
        Way("pump", "field"),
        Way("field", "return"),
        Way("return", "tank", "tank return"),
        Way("tank", "lid", "air"),
    )
    stands = {**_stands(design, frozenset({"field", "coil"})), "tank": 0.0}
    loop = ("suction", "pump", "field", "return")
    return ValveGraph(ways, loop, ("in", "out", "lid"), stands, "tank", "suction", open_tank=True)


GRAPHS = {"sealed": _sealed, "direct": _direct, "thermosiphon": _thermosiphon, "drainback": _drainback}
# how handles stand while the loop works by itself
WORKS_OPEN = ("between", "vessel", "main", "tank flow", "tank return", "air")


def valve_graph(design: Design) -> ValveGraph:
    """The graph of a design's loop."""
    return GRAPHS[design.charge.kind.value](design)


def working_state(graph: ValveGraph) -> dict[str, str]:
    """How every handle stands once the loop is handed over, its pump left to the controller."""
    state = {name: "open" if name in WORKS_OPEN else "shut" for name in graph.valves}
    if "check" in state:
        state["check"] = "working"
    # a main always presses; a filling pump has left
    return {**state, SOURCE: "on" if "main" in state else "off", PUMP: "off"}


def first_state(graph: ValveGraph) -> dict[str, str]:
    """How the handles stand before the work: all shut, nothing runs."""
    state = dict.fromkeys(graph.valves, "shut")
    if "check" in state:
        state["check"] = "working"
    return {**state, SOURCE: "off", PUMP: "off"}
