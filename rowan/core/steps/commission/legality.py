"""What is wrong with how the handles stand, found by where water and pressure can go in each phase of the work.

Nothing is looked up: a wrong state is one from which the graph leads somewhere it must not, or not where it must. Each danger is
a small function of graph, state, phase and supply. Source: methods 16; site, valves and mistakes.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

from rowan.core.steps.commission.valves import CHECK, PUMP, SOURCE, Phase, State, ValveGraph
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import LEVELS, Level
from rowan.core.terms.record import record

# phases in which a hand is on the supply while its outlet is shut
HAND_ON_SUPPLY: tuple[Phase, ...] = ("test", "raise")
HOLDS_PRESSURE: tuple[Phase, ...] = ("test", "raise", "run", "rest")
WORKING: tuple[Phase, ...] = ("run", "rest")
FILLING: tuple[Phase, ...] = ("flush", "fill")


@record
class Supply:
    """What pushes liquid in: the most it gives against a shut outlet [Pa gauge], and whether it carries air round the loop with it."""

    gauge: float
    carries_air: bool = True


@record
class Hazard:
    """What is wrong with a state: its key, how grave, what would happen, and the place or valve it shows at."""

    key: str
    level: Level
    words: Statement
    at: str = ""


@record
class Standing:
    """A state in a phase with its supply: what every danger is asked of."""

    graph: ValveGraph
    state: State
    phase: Phase
    supply: Supply

    def has(self, valve: str) -> bool:
        """Whether the loop has such a valve."""
        return valve in self.graph.valves

    @cached_property
    def fed(self) -> bool:
        """Whether the supply gives and its way in is open."""
        if self.state[SOURCE] != "on":
            return False
        return any(self.state.get(way_in, "shut") != "shut" for way_in in ("supply", "main"))

    @cached_property
    def pressed(self) -> frozenset[str]:
        """Every place the supply presses on."""
        return self.graph.reach(self.state, "in") if self.fed else frozenset()

    @cached_property
    def outlets(self) -> frozenset[str]:
        """Ways out that what is pushed in can take."""
        return self.pressed & frozenset(self.graph.outside) - {"in"}


def _supply_shut_in(it: Standing) -> Hazard | None:
    if not it.fed or it.outlets or it.phase in HAND_ON_SUPPLY:
        return None
    # a main is made to stand on a full loop; a loop with a tank beside takes what comes until the tank is full
    if it.has("main") and it.phase in WORKING:
        return None
    words = say("The supply pushes against a shut outlet: pressure rises to {p} in seconds.", p=_bar(it.supply.gauge))
    return Hazard("supply_shut_in", "stop", words, "supply" if it.has("supply") else "main")


def _bar(pressure: float) -> Quantity:
    return Quantity(pressure, "pressure")


def _over_weakest(it: Standing) -> Hazard | None:
    if not it.fed or it.outlets:
        return None
    weakest = min(((it.graph.stands[place], place) for place in it.pressed if place in it.graph.stands), default=None)
    if weakest is None or it.supply.gauge <= weakest[0] * (1 + 1e-9):
        return None
    words = say(
        "The supply comes to {p}; the {w} stands {s}. It bursts, or sprays from its relief.",
        p=_bar(it.supply.gauge),
        w=weakest[1],
        s=_bar(weakest[0]),
    )
    return Hazard("over_weakest", "stop", words, "supply")


def _hidden_section(it: Standing) -> Hazard | None:
    if it.phase != "test" or it.fed:
        return None
    seen = it.graph.reach(it.state, it.graph.gauge)
    hidden = [place for place in it.graph.loop if place not in seen]
    if not hidden:
        return None
    words = say("The gauge does not see the {h}: a leak there never moves the needle.", h=" and the ".join(hidden))
    return Hazard("hidden_section", "fix", words, CHECK if it.has(CHECK) else "")


def _no_relief(it: Standing) -> Hazard | None:
    if it.graph.open_tank and it.phase not in ("fill", *WORKING):
        return None  # tested and flushed with its tank shut off on purpose
    if it.graph.relief in it.graph.reach(it.state, it.graph.field):
        return None
    return Hazard("no_relief", "stop", say("A shut valve stands between the field and its relief."), it.graph.field)


def _vessel_shut(it: Standing) -> Hazard | None:
    if it.phase not in WORKING or not it.has("vessel") or it.state["vessel"] != "shut":
        return None
    words = say("The vessel is shut off: each kelvin moves the gauge by bars, the relief opens, at night it draws air.")
    return Hazard("vessel_shut", "stop", words, "vessel")


def _no_circuit(it: Standing) -> Hazard | None:
    if it.graph.circuit(it.state) or not (it.state[PUMP] == "on" or it.phase in WORKING):
        return None
    words = say("The pump pushes against a shut valve: it hums, nothing flows, the field boils on day one.")
    at = "between" if it.has("between") else "tank flow" if it.has("tank flow") else ""
    return Hazard("no_circuit", "stop", words, at)


def _air_stays(it: Standing) -> Hazard | None:
    if it.phase not in FILLING or not it.fed or not it.outlets:
        return None
    if it.graph.open_tank or any(it.state.get(top, "shut") != "shut" for top in ("vent", "tap", "air")):
        return None
    drain = _reaches_drain_by_field(it)
    if drain and it.supply.carries_air:
        return None
    words = say(
        "Air on top has no way out: no vent stands open there, and this supply does not carry it down to the drain."
    )
    return Hazard("air_stays", "fix", words, "vent" if it.has("vent") else it.graph.field)


def _reaches_drain_by_field(it: Standing) -> bool:
    """Whether the drain is reached, and past the field."""
    return "out" in it.pressed and it.graph.field in it.pressed


def _short_circuit(it: Standing) -> Hazard | None:
    if it.phase not in FILLING or not it.fed or not it.has("between"):
        return None
    if "out" not in it.graph.reach(it.state, "in", without=it.graph.field, cracked=False):
        return None
    words = say(
        "What is pushed in runs straight to the drain: the colour comes back in seconds and the field stays empty."
    )
    return Hazard("short_circuit", "fix", words, "between")


def _open_end(it: Standing) -> Hazard | None:
    if it.phase not in HOLDS_PRESSURE:
        return None
    wide = it.graph.reach(it.state, it.graph.field, cracked=it.phase != "raise")
    ends = {"out": "outlet", "top": "tap" if it.has("tap") else "vent"}
    if not it.fed and it.state.get("supply", "shut") != "shut":
        ends["in"] = "supply"
    end = next((place for place in ends if place in wide), None)
    if end is None or (end == "top" and it.has("tap")):
        return None  # a tap is for drawing
    return Hazard("open_end", "fix" if it.phase in HAND_ON_SUPPLY else "stop", _end_words(it, end), ends[end])


def _end_words(it: Standing, end: str) -> Statement:
    if it.phase in HAND_ON_SUPPLY:
        return say("The loop stands open: no pressure holds.")
    if end == "top":
        return say("The vent on top is open: the first steam empties the top of the loop.")
    return say("A port stands open: the loop runs out through it.")


def _vessel_in_test(it: Standing) -> Hazard | None:
    if it.phase != "test" or "vessel" not in it.graph.reach(it.state, it.graph.gauge):
        return None
    words = say(
        "With the vessel on the loop a leak is litres before the needle shows it, and the test presses on its membrane."
    )
    return Hazard("vessel_in_test", "mind", words, "vessel")


def _check_held(it: Standing) -> Hazard | None:
    if it.phase != "rest" or not it.has(CHECK) or it.state[CHECK] != "half":
        return None
    words = say("The non-return valve is held open: by night the store's heat rises to the field, 2 to 4 kWh each.")
    return Hazard("check_held", "fix", words, CHECK)


def _release_fed(it: Standing) -> Hazard | None:
    if it.phase != "release" or it.state[SOURCE] != "on":
        return None
    return Hazard("release_fed", "fix", say("The supply still gives while the loop is let out."), "supply")


def _no_air_in(it: Standing) -> Hazard | None:
    if it.phase in WORKING and it.has("air") and it.state["air"] == "shut":
        words = say("No air gets in behind the water: it hangs in the lines, and freezes there.")
        return Hazard("no_air_in", "stop", words, "air")
    if it.phase != "release" or it.state.get("vent") != "shut" or it.state.get("outlet") == "shut":
        return None
    return Hazard("no_air_in", "fix", say("No air gets in on top: the water hangs in the loop."), "vent")


def _main_shut(it: Standing) -> Hazard | None:
    if it.phase not in WORKING or not it.has("main") or it.state["main"] != "shut":
        return None
    return Hazard(
        "main_shut",
        "fix",
        say("The {m} is shut: nothing flows, and nothing makes up what the loop loses.", m=it.graph.name("main")),
        "main",
    )


def _tank_pressed(it: Standing) -> Hazard | None:
    if it.phase != "test" or not it.has("tank flow"):
        return None
    if it.state["tank flow"] == "shut" and it.state["tank return"] == "shut":
        return None
    return Hazard("tank_pressed", "stop", say("The tank is on the loop and stands no pressure at all."), "tank flow")


DANGERS: tuple[Callable[[Standing], Hazard | None], ...] = (
    _supply_shut_in, _over_weakest, _hidden_section, _no_relief, _vessel_shut, _no_circuit, _air_stays, _short_circuit, _open_end,
    _vessel_in_test, _check_held, _release_fed, _no_air_in, _main_shut, _tank_pressed,
)  # fmt: skip


def hazards(graph: ValveGraph, state: State, phase: Phase, supply: Supply) -> tuple[Hazard, ...]:
    """What is wrong with a state in a phase, the gravest first; nothing where it is legal.

    Raises ImpossibleInputError for a valve or a position that the loop has not.
    """
    it = Standing(graph, graph.checked(state), phase, supply)
    found = [hazard for danger in DANGERS if (hazard := danger(it)) is not None]
    return tuple(sorted(found, key=lambda hazard: LEVELS.index(hazard.level)))


def illegal(graph: ValveGraph, state: State, phase: Phase, supply: Supply) -> tuple[Hazard, ...]:
    """What may not be, leaving out what is a school with its consequence."""
    return tuple(hazard for hazard in hazards(graph, state, phase, supply) if hazard.level != "mind")
