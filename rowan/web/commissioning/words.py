"""The turns of a step's handles in words, in their order, as somebody reads them aloud to whoever kneels before the station."""

from __future__ import annotations

from collections.abc import Iterable

from rowan.core.steps.commission.result import Act, tag
from rowan.core.steps.commission.valves import PUMP, SOURCE, Move, ValveGraph

TURNS = {"open": "open {}", "shut": "shut {}", "half": "{} half open", "working": "{} working again"}
SWITCHES = {
    (SOURCE, "on"): "supply on",
    (SOURCE, "off"): "supply off",
    (PUMP, "on"): "pump on, by hand",
    (PUMP, "off"): "pump off",
}


def turn_words(acts: Iterable[Act], graph: ValveGraph) -> list[str]:
    """Each turn that this loop has a handle for, such as “open 3 drain”."""
    return [_turn(move, graph) for act in acts for move in act.moves if move.valve in (SOURCE, PUMP, *graph.valves)]


def _turn(move: Move, graph: ValveGraph) -> str:
    switch = SWITCHES.get((move.valve, move.position))
    return switch or TURNS[move.position].format(f"{tag(move.valve)} {graph.name(move.valve)}")
