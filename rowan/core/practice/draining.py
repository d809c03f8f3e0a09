"""A rig of a plan's own loop that drains: a reservoir with its mark, a pump that lifts, pipes that empty, and what a run was worth.

Filled to the cold mark with the pump off, started at full speed until the gurgle ends, slowed, stopped, drained, three times.
Source: site, valves D; practice 5 and 14; methods 8.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import asdict

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, properties
from rowan.core.practice.filling import Debrief, Moment, marked_by_part
from rowan.core.practice.rig import LONGEST_S, Turn, sunned
from rowan.core.practice.rig_kernel import BOILS_C, LATENT, QUENCH_S, TAKES
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.result import DrainbackCharge
from rowan.core.steps.commission.deviations import MARK_CLOSE_M
from rowan.core.steps.commission.drainback import CYCLES
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.record import record
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import LITRE

Array = NDArray[np.float64]
HANDLES: dict[str, tuple[str, ...]] = {
    "fill": ("shut", "open"),
    "tap": ("shut", "open"),
    "pump": ("off", "full", "set"),
    "lid": ("off", "on"),
    "cover": ("on", "off"),
}
NAMES = tuple(HANDLES)
MARKS = {"level": 35.0, "start": 25.0, "cycles": 25.0, "left": 15.0}
PARTS = {
    "level": "Level at its mark",
    "start": "Started as it should",
    "cycles": "Three times up and down",
    "left": "Left as it works",
}
LEFT = {"fill": "shut", "tap": "shut", "pump": "off", "lid": "on", "cover": "on"}
FILL_M3_S, TAP_M3_S = (
    8.0 * LITRE / 60,
    6.0 * LITRE / 60,
)  # a hose from the main, and the tap at the foot; rules of thumb
FULL_OVER = 1.4  # of the flow wanted that the pump moves at full speed
RESERVOIR_M = 0.6  # height of a reservoir whose height nobody has told; rule of thumb
LIFTS = 0.7  # of what stands above that a slowed pump lifts by itself, before the siphon helps it; rule of thumb
GURGLES_S = 40.0  # that air gurgles down the return once the top is reached; site, valves D 9
MOUTH = 0.3  # of the least water at which the pump draws air
BOILED = 0.01  # of what stands above that boils off in a second at most; rule of thumb
SECOND, RESERVOIR, UP, FLOW, GURGLES, SPILLED, TAPPED, AIR_S, FIELD_C, STEAM_KG, STEAMS = range(11)
SUN_J, LOST_J, CARRIED_J, STEAM_J, FILLED, PRIMED = range(11, 17)
COLUMNS = PRIMED + 1


# the order of it in words, for whoever asks. Source: site, valves D
HINTS = (
    "The mark counts with the pump off and the pipes empty.",
    "Full speed until the gurgle has ended, then slower: by then the return falls by itself.",
    "After a stop the pipes empty: wait for it, look at the mark, top up only then.",
    "Nothing is let into a field that stands hot.",
    "Three times; then the lid on, the hose off, the pump left to its controller.",
)


@record
class Tank:
    """What does not change: what stands above the reservoir when it runs, the reservoir, what is in it at its mark, the least for the
    pump, what traps keep [m³]; the reservoir's area [m²]; flow at full speed and as set [m³/s]; seconds to drain; density [kg/m³] and heat
    capacity [J/kg·K] of its water; the field's warmth over which the plan fills nothing in [°C], and its heat as `rig.Sunned` has it."""

    above: float
    reservoir: float
    mark: float
    least: float
    held: float
    area: float
    full: float
    set: float
    drains_s: float
    density: float
    heat: float
    locked_c: float
    metal: float
    sun: float
    loses: float
    air: float


@record
class Course:
    """What a run was, second by second (columns as this module numbers them), and the handles in each."""

    rows: Array
    handles: Array

    def column(self, number: int) -> Array:
        """A column of it."""
        return self.rows[:, number]

    def is_at(self, handle: str, *positions: str) -> NDArray[np.bool_]:
        """Seconds in which a handle stood so."""
        wanted = [HANDLES[handle].index(position) for position in positions]
        return np.isin(self.handles[:, NAMES.index(handle)], wanted)


def tank_of(design: Design, result: Reckoning) -> Tank:
    """The rig of a plan's own loop. Raises ImpossibleInputError for a loop that does not drain."""
    charge = result.charge
    if not isinstance(charge, DrainbackCharge) or charge.draining.drain is None:
        raise ImpossibleInputError("only a loop that drains is started on this rig")
    found = charge.draining
    water = properties(volume_share=0.0, temperature=FILL_C)
    area, room = found.marks.volume / RESERVOIR_M, found.marks.volume
    if found.levels is not None:
        # an open store is its own reservoir: as wide as the store, up to its rim
        area = found.above / max(found.levels.rest - found.levels.running, 1e-3)
        room = found.marks.fill_mark + area * (found.levels.height - found.levels.rest)
    return Tank(
        above=found.above,
        reservoir=room,
        mark=found.marks.fill_mark,
        least=found.marks.running,
        held=found.falls.held,
        area=area,
        full=found.flow * FULL_OVER,
        set=found.flow,
        drains_s=charge.draining.drain.time,
        density=water.density,
        heat=water.heat_capacity,
        locked_c=design.control.refill_c.value,
        **asdict(sunned(design)),
    )


def checked(turns: Sequence[Turn], until: float) -> list[Turn]:
    """Turns in the order of their time. Raises ImpossibleInputError for what cannot be turned, or lies outside a run."""
    for turn in turns:
        if turn.position not in HANDLES.get(turn.handle, ()):
            raise ImpossibleInputError("“{handle}” cannot be {position}", handle=turn.handle, position=turn.position)
        if not 0.0 <= turn.at <= LONGEST_S:
            raise ImpossibleInputError("nothing is turned before a run begins, or hours after it")
    return [turn for turn in sorted(turns, key=lambda one: one.at) if turn.at <= until]


class Play:
    """A rig under way: turned and let go on, second by second."""

    def __init__(self, tank: Tank) -> None:
        """Empty, everything shut, the lid off, the field covered."""
        self.tank, self.handles = tank, [0] * len(NAMES)
        self.now = [0.0] * COLUMNS
        self.now[FIELD_C] = tank.air
        self.rows, self.held = [list(self.now)], [list(self.handles)]

    @property
    def second(self) -> int:
        """How long it has run [s]."""
        return len(self.rows) - 1

    def turn(self, handle: str, position: str) -> None:
        """Turns a handle now. Raises ImpossibleInputError as `checked`."""
        checked([Turn(0.0, handle, position)], 0.0)
        self.handles[NAMES.index(handle)] = HANDLES[handle].index(position)
        self.held[-1] = list(self.handles)

    def at(self, handle: str) -> str:
        """How a handle stands."""
        return HANDLES[handle][self.handles[NAMES.index(handle)]]

    def go_on(self, seconds: int) -> None:
        """Lets so many seconds pass."""
        for _ in range(seconds):
            self._step()
            self.rows.append(list(self.now))
            self.held.append(list(self.handles))

    @property
    def course(self) -> Course:
        """What it was so far."""
        return Course(np.array(self.rows), np.array(self.held, dtype=float))

    def _step(self) -> None:
        now, tank = self.now, self.tank
        now[SECOND] += 1.0
        now[STEAMS] = now[GURGLES] = now[FLOW] = 0.0
        self._shines()
        if self.at("fill") == "open":
            now[RESERVOIR] += FILL_M3_S
            now[FILLED] += FILL_M3_S
        if self.at("tap") == "open":
            out = min(now[RESERVOIR], TAP_M3_S)
            now[RESERVOIR] -= out
            now[TAPPED] += out
        pump = self.at("pump")
        if pump == "off" or now[RESERVOIR] <= MOUTH * tank.least:
            now[AIR_S] += 0.0 if pump == "off" else 1.0
            now[PRIMED] = 0.0
            self._falls(min(tank.held, now[UP]))
        else:
            self._lifts(tank.full if pump == "full" else tank.set, pump)
        over = max(now[RESERVOIR] - tank.reservoir, 0.0)
        now[RESERVOIR] -= over
        now[SPILLED] += over

    def _falls(self, floor: float) -> None:
        back = min(max(self.now[UP] - floor, 0.0), self.tank.above / self.tank.drains_s)
        self.now[UP] -= back
        self.now[RESERVOIR] += back

    def _lifts(self, flow: float, pump: str) -> None:
        now, tank = self.now, self.tank
        if now[UP] < tank.above - 1e-9:
            # what it takes out of the reservoir stands in the pipes; slowed, it does not reach the top by itself
            reach = tank.above if pump == "full" else LIFTS * tank.above
            up = min(flow, max(reach - now[UP], 0.0), now[RESERVOIR])
            now[UP] += up
            now[RESERVOIR] -= up
            now[GURGLES] = float(now[UP] > 0.5 * tank.above)
            return
        if pump == "set" and now[PRIMED] < GURGLES_S:
            # slowed while the return still held air: the siphon breaks, the water falls back as far as the pump holds it
            now[PRIMED], now[GURGLES] = 0.0, 1.0
            self._falls(LIFTS * tank.above)
            return
        now[PRIMED] += 1.0
        now[FLOW] = flow
        now[GURGLES] = float(now[PRIMED] < GURGLES_S)
        self._cools(flow)

    def _shines(self) -> None:
        now, tank = self.now, self.tank
        gain = tank.sun if self.at("cover") == "off" else 0.0
        loss = tank.loses * (now[FIELD_C] - tank.air)
        now[FIELD_C] += (gain - loss) / tank.metal
        now[SUN_J] += gain
        now[LOST_J] += loss

    def _cools(self, flow: float) -> None:
        now, tank = self.now, self.tank
        if now[FIELD_C] > BOILS_C:
            hot = tank.metal * (now[FIELD_C] - BOILS_C) / QUENCH_S
            boiled = min(hot / LATENT / tank.density, BOILED * now[UP])
            now[UP] -= boiled
            now[SPILLED] += boiled
            now[FIELD_C] -= boiled * tank.density * LATENT / tank.metal
            now[STEAM_J] += boiled * tank.density * LATENT
            now[STEAM_KG] += boiled * tank.density
            now[STEAMS] = 1.0
        taken = min(flow * tank.density * tank.heat * TAKES, 0.5 * tank.metal) * (now[FIELD_C] - tank.air)
        now[FIELD_C] -= taken / tank.metal
        now[CARRIED_J] += taken


def play(tank: Tank, turns: Sequence[Turn], until: float) -> Course:
    """What follows from turns until a second of the run. Raises ImpossibleInputError as `checked`."""
    run = Play(tank)
    for turn in checked(turns, until):
        run.go_on(max(int(turn.at) - run.second, 0))
        run.turn(turn.handle, turn.position)
    run.go_on(int(until) - run.second)
    return run.course


def cycles_of(tank: Tank, course: Course) -> list[tuple[int, int]]:
    """Runs of the pump that came round and drained after: from the second it started to the second at which the pipes were empty."""
    on = course.is_at("pump", "full", "set")
    found = []
    for first, last in stretches(on):
        round_ = course.column(FLOW)[first : last + 1].max(initial=0.0) > 0.0
        empty = np.flatnonzero(course.column(UP)[last + 1 :] <= tank.held + 1e-6)
        again = np.flatnonzero(on[last + 1 :])
        if round_ and len(empty) and (not len(again) or empty[0] < again[0]):
            found.append((int(first), int(last + 1 + empty[0])))
    return found


def judge(tank: Tank, course: Course) -> Debrief:
    """What a run that has ended was worth."""
    return marked_by_part(MARKS, [*_level(tank, course), *_start(tank, course), *_cycles(tank, course), *_left(course)])


def _first(of: NDArray[np.bool_]) -> int | None:
    found = np.flatnonzero(of)
    return int(found[0]) if len(found) else None


def _level(tank: Tank, course: Course) -> Iterator[Moment]:
    rest = course.is_at("pump", "off") & (course.column(UP) <= tank.held + 1e-6)
    over = (course.column(RESERVOIR) - tank.mark) / tank.area
    above = _first(rest & (over > MARK_CLOSE_M))
    if above is not None:
        words = say(
            "Filled {d} over the mark at rest: what expands and comes back finds no room",
            d=Quantity(float(over[rest].max()), "level"),
        )
        yield Moment(above, "level", "fix", words, 12.0)
    running = _first(course.is_at("fill", "open") & course.is_at("pump", "full", "set"))
    if running is not None:
        words = say(
            "Filled while the pump ran: {v} stand in the pipes and come back over the mark",
            v=Quantity(tank.above, "volume"),
        )
        yield Moment(running, "level", "fix", words, 12.0)
    spilled = _first(course.column(SPILLED) > course.column(STEAM_KG) / tank.density + 1e-6)
    if spilled is not None:
        words = say("The reservoir ran over: {v} on the floor", v=Quantity(float(course.column(SPILLED)[-1]), "volume"))
        yield Moment(spilled, "level", "fix", words, 10.0)
    if not rest[-1]:
        words = say("Ended before it had drained: nobody has seen its level at rest")
        yield Moment(len(course.rows) - 1, "level", "fix", words, 15.0)
    elif abs(over[-1]) > MARK_CLOSE_M:
        off = "over" if over[-1] > 0 else "under"
        words = say("At rest the level stands {d} {off} its mark", off=off, d=Quantity(abs(float(over[-1])), "level"))
        yield Moment(len(course.rows) - 1, "level", "fix", words, 15.0)


def _start(tank: Tank, course: Course) -> Iterator[Moment]:
    broke = _first(course.is_at("pump", "set") & (course.column(GURGLES) > 0.0))
    if broke is not None:
        words = say("Slowed while it still gurgled: the return held air, the siphon broke and the water fell back")
        yield Moment(broke, "start", "fix", words, 10.0)
    steams = _first(course.column(STEAMS) > 0.0)
    hot = _first(
        course.is_at("pump", "full", "set") & (course.column(FIELD_C) > tank.locked_c) & (course.column(FLOW) <= 0.0)
    )
    if steams is not None or hot is not None:
        at = steams if steams is not None else hot or 0
        words = say(
            "Started into a field at {t}: over {l} refilling is locked out, or it steams, and strikes",
            t=Quantity(float(course.column(FIELD_C)[max(at - 1, 0)]), "temperature"),
            l=Quantity(tank.locked_c, "temperature"),
        )
        yield Moment(at, "start", "stop", words, 18.0)
    air = _first(course.column(AIR_S) > 0.0)
    if air is not None:
        words = say(
            "The pump ran with too little water over it and drew air: {t} in all",
            t=Quantity(float(course.column(AIR_S)[-1]), "time"),
        )
        yield Moment(air, "start", "fix", words, 8.0)
    if not (course.column(FLOW) > 0.0).any():
        yield Moment(len(course.rows) - 1, "start", "fix", say("Nothing ever came round"), MARKS["start"])


def _cycles(tank: Tank, course: Course) -> Iterator[Moment]:
    done = len(cycles_of(tank, course))
    if done < CYCLES:
        words = say(
            "{n} of {m} times up, round and empty again: one time tells nothing of a trap",
            n=Quantity(float(done), "count"),
            m=Quantity(float(CYCLES), "count"),
        )
        yield Moment(len(course.rows) - 1, "cycles", "fix", words, round(MARKS["cycles"] * (1.0 - done / CYCLES), 1))


def _left(course: Course) -> Iterator[Moment]:
    wrong = [name for name, position in LEFT.items() if not course.is_at(name, position)[-1]]
    said = {
        "lid": "the lid off: the water goes as vapour",
        "fill": "the fill open: no float valve without an air gap",
        "pump": "the pump running by hand",
    }
    if wrong:
        words = say("Left with {states}", states="; ".join(said.get(name, f"the {name} not at rest") for name in wrong))
        yield Moment(len(course.rows) - 1, "left", "mind", words, min(5.0 * len(wrong), MARKS["left"]))


def showed(tank: Tank, course: Course) -> dict[str, float]:
    """What a learner says before: litres that leave the reservoir when it runs [m³], seconds in which it drains [s]."""
    found = {"goes_up": float(course.column(UP).max())}
    cycles = cycles_of(tank, course)
    if cycles:
        first, empty = cycles[0]
        stopped = int(np.flatnonzero(~course.is_at("pump", "full", "set")[first:])[0]) + first
        found["drains"] = float(empty - stopped)
    return found


def master(tank: Tank) -> list[Turn]:
    """A master's run, by the level glass, the ear and the clock."""
    run, turns = Play(tank), list[Turn]()

    def does(handle: str, position: str) -> None:
        """Turns a handle now, and notes it."""
        run.turn(handle, position)
        turns.append(Turn(float(run.second), handle, position))

    def until_rest() -> None:
        """Waits till the pipes are empty."""
        while run.now[UP] > tank.held + 1e-9 and run.second < LONGEST_S:
            run.go_on(1)
        run.go_on(5)

    def fill() -> None:
        """Fills to the mark, with the pump off."""
        does("fill", "open")
        while run.now[RESERVOIR] < tank.mark - FILL_M3_S / 2 and run.second < LONGEST_S:
            run.go_on(1)
        does("fill", "shut")

    fill()
    for number in range(CYCLES):
        does("pump", "full")
        run.go_on(5)
        while run.now[GURGLES] > 0.0 or run.now[FLOW] <= 0.0:
            run.go_on(1)
            if run.second >= LONGEST_S:
                break
        run.go_on(5)
        does("pump", "set")
        run.go_on(60)
        does("pump", "off")
        until_rest()
        if number == 0 and tank.mark - run.now[RESERVOIR] > FILL_M3_S:
            fill()  # what traps have kept is topped up once, at rest
    does("lid", "on")
    run.go_on(5)
    return turns
