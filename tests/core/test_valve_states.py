"""The valve graph: every order of work against an independent search of the graph, every danger both ways."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise, product

import pytest

from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.steps.commission.legality import Hazard, Supply, hazards, illegal
from rowan.core.steps.commission.loops import first_state, valve_graph, working_state
from rowan.core.steps.commission.result import CommissionResult
from rowan.core.steps.commission.valves import State, ValveGraph, after
from rowan.core.studies.choices import with_kind
from rowan.core.terms.errors import ImpossibleInputError
from tests.core.designs import altered, plan_b, proposed

KINDS = ("sealed", "direct", "drainback", "thermosiphon")
WORKS = Supply(0.0)


def design_of(kind: str, **inputs: object) -> Design:
    base = plan_b() if kind == "sealed" else with_kind(proposed("aldersund-5-oil"), kind)
    return altered(base, **inputs)


def played(commission: CommissionResult) -> Iterator[tuple[str, State, tuple[Hazard, ...]]]:
    """Every state that the whole order goes through, one handle at a time."""
    state = first_state(commission.graph)
    for step in commission.steps:
        for act in (*step.acts, *step.closing):
            for move in act.moves:
                state = after(state, (move,))
                yield step.key, state, illegal(commission.graph, state, act.phase, step.supply)
            yield step.key, state, illegal(commission.graph, state, act.phase, step.supply)


@pytest.mark.parametrize("medium", ["water", "mix", "air"])
@pytest.mark.parametrize("kit", ["station", "drill", "sprayer"])
@pytest.mark.parametrize("kind", KINDS)
def test_every_order_passes_no_illegal_state_and_ends_working(kind: str, kit: str, medium: str) -> None:
    design = design_of(kind, commission__kit=kit, commission__test=medium)
    commission = reckon(design).commission
    wrong = [(key, hazard.key) for key, _, found in played(commission) for hazard in found]
    assert wrong == []
    last = commission.steps[-1].valves
    assert dict(last) == {**working_state(commission.graph)}


@pytest.mark.parametrize("inputs", [
    {"commission__vessel_valve": False}, {"run__vent_shut_off": False}, {"run__non_return": False}, {"commission__between_sets": True},
])  # fmt: skip
def test_a_loop_that_lacks_a_valve_has_its_order_too(inputs: dict[str, bool]) -> None:
    commission = reckon(design_of("sealed", **inputs)).commission
    assert [hazard.key for _, _, found in played(commission) for hazard in found] == []


# --- an independent search: every simple path, one after another


def _paths(graph: ValveGraph, state: State, here: str, seen: tuple[str, ...]) -> Iterator[tuple[str, ...]]:
    yield seen
    for way in graph.ways:
        position = state[way.valve] if way.valve else "open"
        for start, end, back in ((way.start, way.end, False), (way.end, way.start, True)):
            if start != here or end in seen:
                continue
            if way.valve == "check" and back and position != "half":
                continue
            if way.valve not in ("", "check") and position == "shut":
                continue
            yield from _paths(graph, state, end, (*seen, end))


def _touched(graph: ValveGraph, state: State, start: str) -> set[str]:
    return {path[-1] for path in _paths(graph, state, start, (start,))}


@pytest.mark.parametrize("kind", KINDS)
def test_reach_is_what_walking_every_path_finds(kind: str) -> None:
    graph = valve_graph(design_of(kind))
    places = {way.start for way in graph.ways} | {way.end for way in graph.ways}
    for number, state in enumerate(graph.states()):
        if number % 7 == 0:
            for place in places:
                assert graph.reach(state, place) == _touched(graph, state, place)


def _brute(graph: ValveGraph, state: State, phase: str, supply: Supply) -> set[str]:
    """Dangers by walking paths, written without the product's rules."""
    return _pushed(graph, state, phase, supply) | _standing(graph, state, phase) | _seen_by_gauge(graph, state, phase)


def _pushed(graph: ValveGraph, state: State, phase: str, supply: Supply) -> set[str]:
    """What is wrong with where the supply pushes."""
    ways_in = [way.valve for way in graph.ways if way.start == "in"]
    if state["source"] == "off" or all(state[valve] == "shut" for valve in ways_in):
        return set()
    found = set()
    paths = list(_paths(graph, state, "in", ("in",)))
    escapes = [path for path in paths if path[-1] in ("out", "top", "lid")]
    stands_on_main = "main" in state and phase in ("run", "rest")
    if not escapes and phase not in ("test", "raise") and not stands_on_main:
        found.add("supply_shut_in")
    if not escapes and any(graph.stands.get(path[-1], 1e9) < supply.gauge for path in paths):
        found.add("over_weakest")
    wide = [path for path in escapes if path[-1] == "out" and "field" not in path and state.get("between") != "half"]
    if phase in ("fill", "flush") and "between" in state and wide and state["outlet"] == "open":
        found.add("short_circuit")
    return found


def _standing(graph: ValveGraph, state: State, phase: str) -> set[str]:
    """What is wrong with a loop that works, or whose pump runs."""
    found = set()
    working = phase in ("run", "rest")
    pump = next((way for way in graph.ways if way.pump), None)
    back = pump is None or any(
        path[-1] == pump.start
        for path in _paths(graph, state, pump.end, (pump.end,))
        if not any(set(pair) == {pump.start, pump.end} for pair in pairwise(path))
    )
    if (working or state["pump"] == "on") and not back:
        found.add("no_circuit")
    if working and state.get("vessel") == "shut":
        found.add("vessel_shut")
    if working and state.get("main") == "shut":
        found.add("main_shut")
    if working and state.get("air") == "shut":
        found.add("no_air_in")
    ends = {path[-1] for path in _paths(graph, state, "field", ("field",))}
    if working and ("out" in ends or ("top" in ends and "tap" not in state)):
        found.add("open_end")
    off_on_purpose = graph.open_tank and phase not in ("fill", "run", "rest")
    if graph.relief not in ends and not off_on_purpose:
        found.add("no_relief")
    return found


def _seen_by_gauge(graph: ValveGraph, state: State, phase: str) -> set[str]:
    """What is wrong with what a test presses on."""
    if phase != "test":
        return set()
    seen = _touched(graph, state, graph.gauge)
    fed = state["source"] == "on" and any(way.start == "in" and state[way.valve] == "open" for way in graph.ways)
    found = {"hidden_section"} if not fed and set(graph.loop) - seen else set()
    if "tank flow" in state and "tank" in seen:
        found.add("tank_pressed")
    return found


PHASES = ("dry", "flush", "test", "release", "fill", "raise", "run", "rest")
SUPPLIES = (Supply(2e5), Supply(4e5), Supply(9e5))
# what the search must come upon in each kind, so that it cannot pass by finding nothing
FOUND = {
    "sealed": {
        "open_end", "short_circuit", "vessel_shut", "supply_shut_in", "over_weakest", "hidden_section", "no_circuit",
    },
    "direct": {"open_end", "main_shut", "supply_shut_in", "over_weakest"},
    "drainback": {
        "tank_pressed", "open_end", "no_air_in", "no_circuit", "no_relief", "supply_shut_in", "over_weakest",
    },
    "thermosiphon": {"open_end", "main_shut", "supply_shut_in"},
}  # fmt: skip


@pytest.mark.parametrize("kind", KINDS)
def test_no_order_of_taps_reaches_an_undeclared_danger(kind: str) -> None:
    """Every state there is, in every phase: whatever order of taps leads to it."""
    graph = valve_graph(design_of(kind))
    found, undeclared = set[str](), list[tuple[object, ...]]()
    for state, phase, supply in product(graph.states(), PHASES, SUPPLIES):
        brute = _brute(graph, state, phase, supply)
        declared = {hazard.key for hazard in hazards(graph, state, phase, supply)}  # type: ignore[arg-type]
        found |= brute
        if brute - declared:
            undeclared.append((state, phase, supply, brute - declared))
    assert undeclared == []
    assert found == FOUND[kind]


# --- each danger fires, and keeps silent


def _state(graph: ValveGraph, **turned: str) -> State:
    return {**working_state(graph), **{name.replace("_", " "): position for name, position in turned.items()}}


def _found(phase: str, gauge: float = 4e5, carries: bool = True, kind: str = "sealed", **turned: str) -> set[str]:
    graph = valve_graph(design_of(kind))
    return {h.key for h in hazards(graph, _state(graph, **turned), phase, Supply(gauge, carries))}  # type: ignore[arg-type]


@pytest.mark.parametrize("kind", KINDS)
def test_the_working_state_is_legal(kind: str) -> None:
    assert _found("rest", kind=kind) == set()
    assert _found("run", kind=kind, pump="on" if kind != "thermosiphon" else "off") == set()


FIRES = [
    ("supply_shut_in", "fill", {"supply": "open", "source": "on"}),
    ("vessel_shut", "rest", {"vessel": "shut"}),
    ("no_circuit", "run", {"between": "shut"}),
    ("open_end", "rest", {"vent": "open"}),
    ("open_end", "rest", {"outlet": "open"}),
    ("open_end", "test", {"outlet": "open", "check": "half", "vessel": "shut"}),
    ("check_held", "rest", {"check": "half"}),
    ("hidden_section", "test", {"between": "shut", "vessel": "shut"}),
    ("vessel_in_test", "test", {"check": "half"}),
    ("short_circuit", "fill", {"supply": "open", "outlet": "open", "source": "on"}),
    ("release_fed", "release", {"source": "on", "vent": "open"}),
    ("no_air_in", "release", {"outlet": "open"}),
]


@pytest.mark.parametrize(("key", "phase", "turned"), FIRES)
def test_each_danger_is_found(key: str, phase: str, turned: dict[str, str]) -> None:
    assert key in _found(phase, **turned)


def test_a_test_pressure_over_the_weakest_part_is_a_stop() -> None:
    turned = {"supply": "open", "source": "on", "vessel": "shut", "check": "half"}
    assert "over_weakest" in _found("test", 12e5, **turned)
    assert "over_weakest" not in _found("test", 5.4e5, **turned)


def test_a_supply_that_cannot_carry_air_wants_a_vent() -> None:
    turned = {"supply": "open", "outlet": "open", "source": "on", "between": "shut"}
    assert "air_stays" in _found("fill", carries=False, **turned)
    assert "air_stays" not in _found("fill", carries=True, **turned)
    assert "air_stays" not in _found("fill", carries=False, vent="open", **turned)


def test_an_open_tank_is_kept_off_a_test_and_on_the_loop_at_work() -> None:
    off = {"tank_flow": "shut", "tank_return": "shut"}
    assert "tank_pressed" in _found("test", kind="drainback")
    assert "tank_pressed" not in _found("test", kind="drainback", **off)
    assert {"no_relief", "no_circuit"} <= _found("rest", kind="drainback", **off)
    assert "no_air_in" in _found("rest", kind="drainback", air="shut")


def test_a_main_that_is_shut_at_the_end_is_told() -> None:
    assert "main_shut" in _found("rest", kind="direct", main="shut")
    assert "open_end" in _found("rest", kind="direct", vent="open")


def test_a_shut_off_between_field_and_relief_is_found_wherever_it_is() -> None:
    graph = valve_graph(plan_b())
    barred = ValveGraph(
        tuple(way if (way.start, way.end) != ("station", "field") else type(way)("station", "field", "main") for way in graph.ways),
        graph.loop, graph.outside, graph.stands,
    )  # fmt: skip
    state = {**working_state(graph), "main": "shut", "between": "shut"}
    assert "no_relief" in {h.key for h in hazards(barred, state, "rest", WORKS)}


def test_a_valve_that_is_not_there_is_refused() -> None:
    graph = valve_graph(plan_b())
    with pytest.raises(ImpossibleInputError, match="cannot be"):
        hazards(graph, {**working_state(graph), "vessel": "ajar"}, "rest", WORKS)
