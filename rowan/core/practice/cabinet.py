"""A rig of a plan's own loop with its controller: station and probes are hung, wired and set by hand, and the plan's day goes by.

The loop is the one that is simulated (methods 5 to 7), in pieces of whole minutes that end where somebody turns something: a probe on the
wrong terminal is another place that the terminal reads, a pump that pushes against its non-return moves nothing. A run is its turns.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.changes import locate
from rowan.core.goods.catalogue import PIPES
from rowan.core.practice.rig import Turn
from rowan.core.practice.sheet import Range
from rowan.core.practice.sheets.control import FACTORY, right_setting
from rowan.core.practice.sheets.ground import Ground
from rowan.core.simulation import kernel
from rowan.core.simulation.controller import OFF_C, PUMP
from rowan.core.simulation.day import STEP_S, Ready
from rowan.core.simulation.plan_day import Lens, made_ready, usual_day
from rowan.core.simulation.plant import BACKUP, COIL
from rowan.core.simulation.system import NO_FROST_C
from rowan.core.simulation.year import MINUTE_S, NOTHING_MORE, UNWATCHED
from rowan.core.steps.control.settings import ControllerSetting, controller_settings
from rowan.core.steps.control.wiring import Wiring, arrangements_of, wiring_of
from rowan.core.terms.calendar import MINUTES_A_DAY
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record

Array = NDArray[np.float64]
CABLES = ("brown", "grey", "white")
PLACES = ("field", "foot", "top")
ALONG, AGAINST, UPRIGHT = "arrow up, shaft level", "arrow down, shaft level", "arrow up, shaft upright"
DRAWN, BRIDGED, PAST = "as drawn", "high limit bridged", "past the controller"
# how each stands when one comes: first of its positions
HANDLES: dict[str, tuple[str, ...]] = {
    "cover": ("on", "off"),
    "pump": ("in its box", ALONG, AGAINST, UPRIGHT),
    "tail": ("open", "copper", "plastic"),
    "loop": ("dry", "filled"),
    "isolator": ("on", "off, locked"),
    "backup": ("bare", DRAWN, BRIDGED, PAST),
    "field": ("bare", *CABLES),
    "foot": ("bare", *CABLES),
    "top": ("bare", *CABLES),
    "hand": ("in the pocket", "at the field's probe", "at the foot's probe", "at the top's probe"),
    "frost": ("on", "off"),
    "hours": ("all day", "as planned"),
    "mode": ("off", "automatic", "by hand"),
}
NAMES = tuple(HANDLES)
MAINS = ("pump", "backup")  # what is behind the isolator
BACKUP_ALONE = ("backup", "hours")
WARMED = dict(zip(HANDLES["hand"][1:], PLACES, strict=True))
# minutes that each takes; rules of thumb
WORK_MIN = {"cover": 5, "pump": 20, "tail": 30, "loop": 40, "isolator": 1, "backup": 15, "hand": 4}
QUICK_MIN = 1
PLASTIC_MIN = 5
BEGINS_MIN = 8 * 60  # of the day
LONGEST_S = 40 * 3600  # till the second midnight
PIECE_MIN = 15  # at which a run is looked at
HAND_K = 8.0  # K that a hand warms a probe by; rule of thumb
AIR_UNDER_ROTOR_MIN = 30.0  # that an upright pump runs until it moves nothing; rule of thumb
MOST_SETTING = (-40.0, 250.0)  # [SI of a difference or a warmth in K or °C] that a menu takes at all
BY_HAND_C = 1e6  # K of a start that is always, or never, reached
# columns of what is kept of each piece
(
    MINUTE, FIELD_C, FOOT_C, TOP_C, READS_FIELD, READS_FOOT, READS_TOP, TOLD, FLOW, COIL_J, BACKUP_J, HIGHEST_C, STORE_HIGHEST_C, BURST,
    LINE_C, DRY_RUN, SUN,
) = range(17)  # fmt: skip
COLUMNS = SUN + 1


@record
class Cabinet:
    """A plan's loop on the morning on which its controller is hung: the plan with the seed, and the day that goes by."""

    ground: Ground
    ready: Ready

    @cached_property
    def cables(self) -> dict[str, str]:
        """Which place each cable comes from: nobody has marked them."""
        order = self.ground.dice("cables").permutation(list(PLACES))
        return {cable: str(place) for cable, place in zip(CABLES, order, strict=True)}

    @property
    def heats(self) -> bool:
        """Whether a backup is wired to this controller."""
        return self.ready.plant.backup_power > 0.0 and self.wiring is not None

    @cached_property
    def wiring(self) -> Wiring | None:
        """The backup's wiring of the plan; None where nothing is wired to it."""
        found = arrangements_of(self.ground.design.store.backup.value, two_heaters=False)
        return wiring_of(found[0]) if found else None

    @cached_property
    def menu(self) -> tuple[ControllerSetting, ...]:
        """What is set by a number, in the order of the card."""
        found = controller_settings(self.ground.design, self.ground.controlled)
        return tuple(one for one in found if one.path in FACTORY)

    @cached_property
    def right(self) -> dict[str, Range]:
        """Between what each number of the menu is as good as the plan's own."""
        floor = self.ground.controlled.floor
        return {one.path: right_setting(self.ground.design, one.path, floor) for one in self.menu}

    @property
    def frost(self) -> str:
        """How the frost function of this loop belongs."""
        return "on" if self.ground.design.control.frost.value else "off"

    @cached_property
    def handles(self) -> tuple[str, ...]:
        """What there is to turn here."""
        return tuple(name for name in NAMES if self.heats or name not in BACKUP_ALONE)

    @cached_property
    def shipped(self) -> dict[str, float]:
        """The menu as the works shipped it [SI]."""
        return {one.path: locate(self.ground.design, one.path).spec.si(FACTORY[one.path]) for one in self.menu}


def cabinet_of(ground: Ground) -> Cabinet:
    """The rig of a plan's own loop. Raises ImpossibleInputError for a loop without vessel, pump or controller, or a field on two planes."""
    ground.sealed, ground.controlled  # noqa: B018  another loop is refused before anything is begun
    design = ground.design
    if design.plane_beside is not None or design.own_store:
        raise ImpossibleInputError(
            "this rig is a loop of one field and a store; a further plane, pool, slab or bath is not on it"
        )
    return Cabinet(ground, made_ready(design, ground.result, Lens("clear", usual_day(design))))


def minutes_of(handle: str, position: str) -> int:
    """How long it takes [min]."""
    if (handle, position) in (("tail", "plastic"), ("loop", "dry")):
        return PLASTIC_MIN
    return WORK_MIN.get(handle, QUICK_MIN)


def checked(turns: Sequence[Turn], until: float) -> list[Turn]:
    """Turns in the order of their time. Raises ImpossibleInputError for what cannot be turned or set, or lies outside a run."""
    for turn in turns:
        if turn.handle in FACTORY:
            _number(turn.position)
        elif turn.position not in HANDLES.get(turn.handle, ()):
            raise ImpossibleInputError("“{handle}” cannot be {position}", handle=turn.handle, position=turn.position)
        if not 0.0 <= turn.at <= LONGEST_S:
            raise ImpossibleInputError("nothing is turned before a run begins, or after its second day")
    return [turn for turn in sorted(turns, key=lambda one: one.at) if turn.at <= until]


def _number(position: str) -> float:
    """A setting [SI]. Raises ImpossibleInputError for what no menu takes."""
    try:
        found = float(position)
    except ValueError:
        found = float("nan")
    if not MOST_SETTING[0] <= found <= MOST_SETTING[1]:
        raise ImpossibleInputError("no controller takes that")
    return found


@record
class Course:
    """What a run was, piece by piece (columns as this module numbers them), how everything stood in each, and the turns of it."""

    rows: Array
    stands: tuple[Mapping[str, str], ...]
    menus: tuple[Mapping[str, float], ...]
    turns: tuple[Turn, ...]

    def column(self, number: int) -> Array:
        """A column of it."""
        return self.rows[:, number]

    def is_at(self, handle: str, *positions: str) -> NDArray[np.bool_]:
        """Pieces in which something stood so."""
        return np.array([held[handle] in positions for held in self.stands])


class Play:
    """A rig under way: turned and let go on, minute by minute."""

    def __init__(
        self, cabinet: Cabinet, ready: Ready | None = None, *, begins: int = BEGINS_MIN, piece: int = PIECE_MIN
    ) -> None:
        """As one comes in the morning: all in its box, the field covered, the controller as the works shipped it; looked at every so
        many minutes."""
        self.cabinet = cabinet
        self.ready = cabinet.ready if ready is None else ready
        self.begins, self.minute, self.piece = begins, 0, piece
        self.by_hand = False  # whether the last row kept is what somebody turned
        self.stands = {name: positions[0] for name, positions in HANDLES.items()}
        self.menu = dict(cabinet.shipped)
        self.state = kernel.State(*(part.copy() for part in self.ready.state))
        self.sums, self.upright_min, self.told = np.zeros((1, len(kernel.SUMS))), 0.0, False
        self.now = np.zeros(COLUMNS)
        self.rows: list[Array] = []
        self.held: list[dict[str, str]] = []
        self.menus: list[dict[str, float]] = []
        self.turns: list[Turn] = []
        if begins:
            self._pass(begins, first=0)  # the night before it
        else:
            self._read()
        self.now[[COIL_J, BACKUP_J, HIGHEST_C, STORE_HIGHEST_C]] = 0.0
        self.sums[:] = 0.0
        self._keep()

    def turn(self, handle: str, position: str) -> None:
        """Turns or sets something now, its minutes first. Raises ImpossibleInputError as `checked`."""
        self.go_on(minutes_of(handle, position))
        self.set(handle, position)

    def set(self, handle: str, position: str) -> None:
        """Turns or sets something at this minute. Raises ImpossibleInputError as `checked`."""
        turn = Turn(self.minute * MINUTE_S, handle, position)
        checked([turn], turn.at)
        self.turns.append(turn)
        if handle in FACTORY:
            self.menu = self.menu | {handle: _number(position)}
        else:
            moved = {
                name: "bare"
                for name in PLACES
                if handle in PLACES and position in CABLES and self.stands[name] == position
            }
            self.stands = self.stands | moved | {handle: position}
            if handle in ("pump", "tail") and self.stands["loop"] == "filled":
                self.stands = self.stands | {"loop": "dry"}  # what is taken apart runs out
        self._read()
        self._keep(turned=True)

    def go_on(self, minutes: int) -> None:
        """Lets so many minutes pass."""
        while minutes > 0:
            piece = min(minutes, self.piece - self.minute % self.piece)
            self._pass(piece, first=self.begins + self.minute)
            self.minute += piece
            minutes -= piece
            self._keep()

    @property
    def course(self) -> Course:
        """What it was so far."""
        return Course(np.array(self.rows), tuple(self.held), tuple(self.menus), tuple(self.turns))

    @property
    def place_of(self) -> dict[str, int]:
        """Where in the row of temperatures each place stands."""
        plant = self.ready.plant
        cold, field = plant.cold.shape[1], plant.field_nodes
        store = cold + field + plant.beside_nodes + plant.hot.shape[1]
        return {"field": cold + field - 1, "foot": store + plant.store_node, "top": store + plant.limit_node}

    def _keep(self, *, turned: bool = False) -> None:
        """How it is now, a row for what has passed and one for what was turned in the same minute."""
        self.now[MINUTE] = self.minute
        again, self.by_hand = turned and self.by_hand, turned
        if again and self.rows[-1][MINUTE] == self.minute:
            self.rows[-1], self.held[-1], self.menus[-1] = self.now.copy(), dict(self.stands), dict(self.menu)
            return
        self.rows.append(self.now.copy())
        self.held.append(dict(self.stands))
        self.menus.append(dict(self.menu))

    def _moves(self) -> bool:
        """Whether a pump that is told to run moves anything."""
        if self.stands["loop"] != "filled" or self.stands["tail"] == "open" or self.stands["isolator"] != "on":
            return False
        return self.stands["pump"] == ALONG or (
            self.stands["pump"] == UPRIGHT and self.upright_min < AIR_UNDER_ROTOR_MIN
        )

    def _plant(self) -> kernel.Plant:
        """The plant as it is wired and set now."""
        plant, stands, menu = self.ready.plant, self.stands, self.menu
        live = stands["isolator"] == "on"
        guarded = stands["top"] != "bare"
        made = plant._replace(
            step=STEP_S,
            start=menu["control.start_k"],
            stop=menu["control.stop_k"],
            least=menu["control.least_collector_c"],
            store_maximum=menu["store.maximum_c"] if guarded else OFF_C,
            cut_out=menu["control.cut_out_c"],
            backup_power=plant.backup_power if live and stands["backup"] != "bare" else 0.0,
            mcp=plant.mcp if self._moves() else 0.0,
            frost_start=self.cabinet.ground.design.control.frost_c.value if stands["frost"] == "on" else NO_FROST_C,
        )
        made = made._replace(frost_stop=made.frost_start + (plant.frost_stop - plant.frost_start))
        blind = stands["field"] == "bare" or stands["foot"] == "bare"
        if stands["mode"] == "by hand":
            made = made._replace(
                start=-BY_HAND_C,
                stop=-2 * BY_HAND_C,
                least=-BY_HAND_C,
                store_maximum=OFF_C,
                cut_out=OFF_C,
                more=NOTHING_MORE,
            )
        elif stands["mode"] == "off" or blind or not live:
            made = made._replace(
                start=BY_HAND_C, stop=BY_HAND_C / 2, frost_start=NO_FROST_C, frost_stop=NO_FROST_C, more=NOTHING_MORE
            )
        return made

    def _feed(self, first: int, minutes: int) -> kernel.Feed:
        """What comes from outside in some minutes, the day over and over."""
        feed = self.ready.feed
        days = len(feed.sun) // MINUTES_A_DAY
        begins = first % MINUTES_A_DAY
        at = (first % (days * MINUTES_A_DAY) + np.arange(minutes)) % len(feed.sun)
        open_ = 1.0 if self.stands["cover"] == "off" else 0.0
        on, off = feed.backup_on, feed.backup_off
        if self.stands["hours"] == "all day" or self.stands["backup"] == PAST:
            on, off = np.full(MINUTES_A_DAY, on.max()), np.full(MINUTES_A_DAY, off.max())
        hour = int(at[0]) // 60

        def rolled(values: Array) -> Array:
            """A day's minutes from this one on."""
            return np.roll(values, -begins)

        return feed._replace(
            sun=feed.sun[at] * open_,
            air=feed.air[at],
            minute=rolled(feed.minute),
            room=feed.room[hour : hour + 1],
            exposed=feed.exposed[hour : hour + 1],
            first_day=feed.first_day + int(at[0]) // MINUTES_A_DAY,
            backup_on=rolled(on),
            backup_off=rolled(off),
            ring_minutes=rolled(feed.ring_minutes),
        )

    def _pass(self, minutes: int, *, first: int) -> None:
        """Some minutes of the simulated loop, from a minute after the day's midnight on."""
        plant, stands = self._plant(), self.stands
        places = self.place_of
        wired = {name: self.cabinet.cables.get(stands[name], name) for name in PLACES}
        reads = kernel.Reads(*(places[wired[name]] for name in PLACES))
        watched = np.zeros((round(minutes * MINUTE_S / STEP_S), len(kernel.WATCHED)), dtype=np.float32)
        highest = np.full(2, -273.0)
        paces = kernel.Paces(STEP_S, STEP_S, STEP_S, MINUTE_S, minutes * MINUTE_S)
        kernel.run(
            plant,
            paces,
            self.state,
            self._feed(first, minutes),
            kernel.Kept(self.sums, highest, UNWATCHED, watched),
            reads,
        )
        ran = watched[:, kernel.WATCHED.index("speed")]
        self.now[HIGHEST_C] = max(self.now[HIGHEST_C], highest[0])
        self.now[STORE_HIGHEST_C] = max(self.now[STORE_HIGHEST_C], highest[1])
        self.now[FLOW] = float(ran.mean()) * self.cabinet.ground.result.run.flow
        self.now[COIL_J], self.now[BACKUP_J] = self.sums[0, COIL], self.sums[0, BACKUP]
        # on the roof, whether the field is covered or not
        self.now[SUN] = self.ready.feed.sun[(first + minutes - 1) % len(self.ready.feed.sun)]
        self.now[LINE_C] = float(watched[-1, kernel.WATCHED.index("arrives")])
        if stands["pump"] == UPRIGHT:
            self.upright_min += float((ran > 0).mean()) * minutes
        self._read()
        if self.now[TOLD] and stands["loop"] == "dry" and stands["pump"] != "in its box" and stands["isolator"] == "on":
            self.now[DRY_RUN] += minutes
        if stands["tail"] == "plastic" and stands["loop"] == "filled" and highest[0] > plastic_c():
            self.now[BURST] = 1.0
            self.stands = self.stands | {"loop": "dry", "tail": "open"}

    def _read(self) -> None:
        """What the places are at, what the terminals read of it, and whether the pump is told to run."""
        plant, stands = self.ready.plant, self.stands
        real = {
            "field": float(self.state.field[plant.field_nodes - 1]),
            "foot": float(self.state.store[plant.store_node]),
            "top": float(self.state.store[plant.limit_node]),
        }
        self.now[[FIELD_C, FOOT_C, TOP_C]] = list(real.values())
        warmed = WARMED.get(stands["hand"], "")
        shown = {place: value + (HAND_K if place == warmed else 0.0) for place, value in real.items()}
        for column, name in zip((READS_FIELD, READS_FOOT, READS_TOP), PLACES, strict=True):
            cable = stands[name]
            self.now[column] = np.nan if cable == "bare" else shown[self.cabinet.cables[cable]]
        self.told = self._told()
        self.now[TOLD] = float(self.told)

    def _told(self) -> bool:
        """Whether the controller calls for the pump: by what runs, or, where nothing can, by its differences."""
        stands = self.stands
        if stands["mode"] != "automatic":
            return stands["mode"] == "by hand"
        if self._moves():
            return bool(self.state.memory[PUMP] > 0.0)
        over = self.now[READS_FIELD] - self.now[READS_FOOT]
        least = self.menu["control.stop_k"] if self.told else self.menu["control.start_k"]
        return bool(over >= least and self.now[READS_FIELD] < self.menu["control.cut_out_c"])


def plastic_c() -> float:
    """What plastic pipe is rated to [°C]."""
    return next(pipe.rating_c for pipe in PIPES.values() if pipe.material == "plastic")


def play(cabinet: Cabinet, turns: Sequence[Turn], until: float) -> Course:
    """What follows from turns until a second of the run; each acts at its own. Raises ImpossibleInputError as `checked`."""
    run = Play(cabinet)
    for turn in checked(turns, until):
        run.go_on(int(turn.at // MINUTE_S) - run.minute)
        run.set(turn.handle, turn.position)
    run.go_on(int(until // MINUTE_S) - run.minute)
    return run.course
