"""Modes of one tank or two: every valve open or shut, where the water goes, which heater burns, and every tank's relief.

Nothing here is stored: paths and reliefs are followed through the drawn pipes with the mode's valves. Source: practice 5.
"""

from __future__ import annotations

from collections import deque
from typing import Literal

from rowan.core.steps.store.heat import HOT_STORE_C
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record

Arrangement = Literal["one", "two"]
MAIN, TAP = "cold main", "taps"
THROUGH = Quantity(HOT_STORE_C, "temperature")  # what lay lukewarm is heated through to, before anybody draws it


@record
class Pipe:
    """A pipe between two places, with the valve in it; empty without one."""

    start: str
    end: str
    valve: str = ""


@record
class Mode:
    """A mode: valves by their number (open or not), which tanks are heated by what, and what to do when it is left."""

    name: str
    valves: dict[str, bool]
    heaters: dict[str, str]
    after: Statement | None = None


@record
class ModeRow:
    """A mode followed through the pipes: the water's way from main to tap, and each tank's way to its relief."""

    mode: Mode
    path: tuple[str, ...]
    relief: dict[str, bool]

    @property
    def unsafe(self) -> tuple[str, ...]:
        """Tanks that are heated and cut off from their relief."""
        return tuple(tank for tank, free in self.relief.items() if not free and self.mode.heaters.get(tank))

    @property
    def dry(self) -> bool:
        """Whether no water comes to the taps."""
        return not self.path


VALVES = {
    "one": {"1": "cold inlet of the store", "2": "hot outlet of the store", "3": "past the store"},
    "two": {
        "1": "cold inlet of the solar store",
        "2": "solar store to second tank",
        "3": "past the solar store",
        "4": "past the second tank",
        "5": "hot outlet of the second tank",
    },
}
SOLAR, SECOND = "solar store", "second tank"


def pipes_of(arrangement: Arrangement) -> tuple[Pipe, ...]:
    """How the tanks are connected, valves by number."""
    if arrangement == "one":
        return (Pipe(MAIN, SOLAR, "1"), Pipe(SOLAR, TAP, "2"), Pipe(MAIN, TAP, "3"))
    return (
        Pipe(MAIN, SOLAR, "1"),
        Pipe(SOLAR, "between", ""),
        Pipe("between", SECOND, "2"),
        Pipe(MAIN, SECOND, "3"),
        Pipe("between", TAP, "4"),
        Pipe(SECOND, TAP, "5"),
    )


def modes_of(arrangement: Arrangement, *, heater: str, summer: str = "") -> tuple[Mode, ...]:
    """The modes a house needs, with what heats which tank in each; `heater` names what is not the sun, empty without one.

    `summer` is a heater of its own for the months in which the other rests.
    """
    if arrangement == "one":
        usual = {"1": True, "2": True, "3": False}
        both = {SOLAR: f"sun and {heater}" if heater else "sun"}
        return (
            Mode("solar and heater" if heater else "solar", usual, both),
            *_summer(usual, heater, summer),
            *(
                (Mode("heater alone", usual, {SOLAR: heater}, say("solar pump off at the controller")),)
                if heater
                else ()
            ),
            Mode(
                "maintenance",
                {"1": False, "2": False, "3": True},
                {},
                say(
                    "pump and heater off and locked; on the way back heat the whole store to {t} before use", t=THROUGH
                ),
            ),
        )
    return (
        Mode(
            "solar and heater",
            {"1": True, "2": True, "3": False, "4": False, "5": True},
            {SOLAR: "sun", SECOND: heater},
        ),
        Mode(
            "summer, second tank by-passed",
            {"1": True, "2": False, "3": False, "4": True, "5": False},
            {SOLAR: "sun"},
            say("on the way back heat the second tank through to {t} before it is opened", t=THROUGH),
        ),
        Mode(
            "heater alone",
            {"1": False, "2": False, "3": True, "4": False, "5": True},
            {SECOND: heater},
            say("solar pump off and locked; on the way back heat the solar store through to {t}", t=THROUGH),
        ),
        Mode(
            "maintenance",
            {"1": False, "2": False, "3": False, "4": False, "5": False},
            {},
            say("pump and heater off and locked; no hot water meanwhile"),
        ),
    )


def _summer(usual: dict[str, bool], heater: str, summer: str) -> tuple[Mode, ...]:
    """The months in which the heater rests: the sun alone, or with another heater."""
    if not heater:
        return ()
    if summer:
        words = say("{h} off at its own switch; in autumn the {s} off before it is lit", h=heater, s=summer)
        return (Mode(f"summer, {heater} off", usual, {SOLAR: f"sun and {summer}"}, words),)
    return (Mode("summer, heater off", usual, {SOLAR: "sun"}),)


def way(pipes: tuple[Pipe, ...], valves: dict[str, bool], start: str, end: str) -> tuple[str, ...]:
    """The shortest open way between two places, both named; empty where there is none. Water flows as the pipes run."""
    came: dict[str, str] = {start: ""}
    waiting = deque([start])
    while waiting:
        here = waiting.popleft()
        for pipe in pipes:
            passable = not pipe.valve or valves[pipe.valve]
            if pipe.start == here and passable and pipe.end not in came:
                came[pipe.end] = here
                waiting.append(pipe.end)
    if end not in came:
        return ()
    found = [end]
    while came[found[-1]]:
        found.append(came[found[-1]])
    return tuple(found[::-1])


def tanks_of(arrangement: Arrangement) -> tuple[str, ...]:
    """The tanks of an arrangement."""
    return (SOLAR,) if arrangement == "one" else (SOLAR, SECOND)


def mode_table(arrangement: Arrangement, *, heater: str, relief_free: bool, summer: str = "") -> tuple[ModeRow, ...]:
    """Every mode followed through the pipes.

    `relief_free` says that each tank's relief sits on the tank itself; else it sits in the cold pipe before the inlet
    valve, and a shut valve cuts it off.
    """
    pipes = pipes_of(arrangement)
    inlets = {SOLAR: "1", SECOND: "3"}
    rows = []
    for mode in modes_of(arrangement, heater=heater, summer=summer):
        relief = {}
        for tank in tanks_of(arrangement):
            # pressure goes both ways through an open valve: a tank between is as good as its own pipe
            open_inlet = mode.valves[inlets[tank]]
            if tank == SECOND and arrangement == "two":
                open_inlet = open_inlet or (mode.valves["2"] and mode.valves["1"])
            relief[tank] = relief_free or open_inlet
        rows.append(ModeRow(mode, way(pipes, mode.valves, MAIN, TAP), relief))
    return tuple(rows)
