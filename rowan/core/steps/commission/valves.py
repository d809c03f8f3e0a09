"""The loop as a small graph of places, valves and one-way parts: where water and pressure can go for a set of handles.

Nothing here knows what is right: `legality` asks the graph. Order along a sealed loop: store return, drain, between, fill, pump,
check, then gauge, relief and vessel on the field's side, up to the field, down to the coil. Source: site, valves; methods 16.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import field as made
from functools import cached_property
from itertools import product
from typing import Literal

from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record

# a handle along its pipe, across it, or between; the check's own spring at work
Position = Literal["open", "shut", "half", "working"]
# besides the valves: whether the supply gives pressure, and the loop's own pump runs
Switch = Literal["off", "on"]
Phase = Literal["dry", "flush", "test", "release", "fill", "raise", "run", "rest"]
State = Mapping[str, str]
SOURCE, PUMP = "source", "pump"
CHECK = "check"

VALVE_NAMES: dict[str, str] = {
    "supply": "fill",
    "between": "between the ports",
    "outlet": "drain",
    "vessel": "to the vessel",
    "check": "non-return",
    "vent": "roof vent",
    "main": "cold main",
    "tap": "highest hot tap",
    "tank flow": "to the pump",
    "tank return": "from the field",
    "air": "air way",
}
# the number on its tag, alike on drawing, table, paper and the print to hang
TAGS: dict[str, int] = {name: number for number, name in enumerate(VALVE_NAMES, 1)}
CHOICES: dict[str, tuple[str, ...]] = {
    **dict.fromkeys(VALVE_NAMES, ("open", "shut")),
    "check": ("working", "half"),
    "between": ("open", "half", "shut"),
    "outlet": ("open", "half", "shut"),
}


@record
class Way:
    """A piece of the loop from one place to another: a pipe, a valve by name, the check (one way unless held), the pump."""

    start: str
    end: str
    valve: str = ""
    pump: bool = False


@record
class ValveGraph:
    """The ways of a loop; which places are outside, hold its liquid, are closed vessels; what each stands [Pa gauge]."""

    ways: tuple[Way, ...]
    loop: tuple[str, ...]
    outside: tuple[str, ...]
    stands: Mapping[str, float]
    relief: str = "station"
    gauge: str = "station"
    field: str = "field"
    # what a valve is called in this loop, where it is not the usual name
    names: Mapping[str, str] = made(default_factory=dict)
    # a tank without pressure is the loop's relief and its way to the air
    open_tank: bool = False

    def name(self, valve: str) -> str:
        """What a valve is called here."""
        return self.names.get(valve, VALVE_NAMES[valve])

    @cached_property
    def valves(self) -> tuple[str, ...]:
        """Its valves in the order of their tags."""
        present = {way.valve for way in self.ways if way.valve}
        return tuple(name for name in VALVE_NAMES if name in present)

    def states(self) -> Iterator[dict[str, str]]:
        """Every way its handles and switches can stand."""
        names = (*self.valves, SOURCE, PUMP)
        for positions in product(*(CHOICES.get(name, ("off", "on")) for name in names)):
            yield dict(zip(names, positions, strict=True))

    def checked(self, state: State) -> State:
        """The state itself. Raises ImpossibleInputError for a valve or a position that the loop has not."""
        for name in (*self.valves, SOURCE, PUMP):
            if state.get(name) not in CHOICES.get(name, ("off", "on")):
                raise ImpossibleInputError("“{name}” cannot be {state}", name=name, state=state.get(name, "missing"))
        return state

    def reach(self, state: State, start: str, *, without: str = "", cracked: bool = True) -> frozenset[str]:
        """Every place that water pushed in at `start` gets to. A place `without` is not passed; half open counts if `cracked`."""
        ways = self._beside(state, cracked=cracked)
        found, edge = {start}, [start]
        while edge:
            for there in ways.get(edge.pop(), ()):
                if there not in found and there != without:
                    found.add(there)
                    edge.append(there)
        return frozenset(found)

    def _beside(self, state: State, *, cracked: bool) -> dict[str, list[str]]:
        """Of each place those that water gets to from it by one way."""
        found: dict[str, list[str]] = {}
        for way in self.ways:
            forward, back = passes(way, state, cracked=cracked)
            if forward:
                found.setdefault(way.start, []).append(way.end)
            if back:
                found.setdefault(way.end, []).append(way.start)
        return found

    def circuit(self, state: State) -> bool:
        """Whether what the pump pushes comes back to it."""
        pump = next((way for way in self.ways if way.pump), None)
        if pump is None:
            return True
        rest = ValveGraph(tuple(way for way in self.ways if way is not pump), self.loop, self.outside, self.stands)
        return pump.start in rest.reach(state, pump.end)


def passes(way: Way, state: State, *, cracked: bool = True) -> tuple[bool, bool]:
    """Whether a way lets water along it and back again."""
    if not way.valve:
        return True, True
    position = state[way.valve]
    if way.valve == CHECK:
        return True, position == "half"
    opened = position == "open" or (cracked and position == "half")
    return opened, opened


@record
class Move:
    """A handle turned, or a switch: `valve` a valve's name, `source` or `pump`."""

    valve: str
    position: str


def after(state: State, moves: Iterable[Move]) -> dict[str, str]:
    """The state once the moves were made; what is not named stays."""
    found = dict(state)
    for move in moves:
        if move.valve in found:
            found[move.valve] = move.position
    return found
