"""A training rig of a plan's own loop: handles that are turned at a moment, and what gauge, tubs and drain show of it, second by second.

A run is its moves and nothing else: played again they give the same, so a run is held, taken back and replayed by its moves alone.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, properties
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.practice import rig_kernel as kernel
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.commission.figures import station_flow
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

Array = NDArray[np.float64]
CELLS = 72
FRICTION_PA = 25e3  # Pa that the loop takes at the flow of a filling station; rule of thumb
MOUTH_M3 = 2.0 * LITRE  # in tub 1 at which the suction's mouth comes free: 20 mm in a tub of 0.1 m²
STANDSTILL_AIR_C = 30.0  # °C of the air for which a standstill is told; methods 3
LEFT_OVER_M3 = 5.0 * LITRE  # of the mix in tub 1 at least, once a loop is full; practice 9: prepared over the contents
LONGEST_S = 4 * 3600  # a run on the rig; nobody stands longer at a tub
# handles and switches by name, their positions, and how each stands at the start of a filling
HANDLES: dict[str, tuple[str, ...]] = {
    "fill": ("shut", "open"),
    "drain": ("shut", "open", "half"),
    "between": ("shut", "open", "half"),
    "check": ("working", "half"),
    "vessel": ("shut", "open"),
    "vent": ("shut", "open"),
    "drill": ("off", "on"),
    "hose": ("tub 1", "tub 2"),
    "cover": ("on", "off"),
    "joint": ("as found", "tightened"),
}
NAMES = tuple(HANDLES)
POSITIONS = {
    "as found": 0.0,
    "tightened": 1.0,
    "shut": 0.0,
    "working": 0.0,
    "off": 0.0,
    "tub 1": 0.0,
    "open": 1.0,
    "on": 1.0,
    "tub 2": 1.0,
    "half": 2.0,
}
PER_SECOND = round(1.0 / kernel.STEP_S)
# columns of what is kept of each second
(
    SECOND,
    GAUGE,
    FLOW,
    BUBBLES,
    TUB1,
    TUB2,
    FOAM,
    AIR,
    STRENGTH,
    DRAINED_STRENGTH,
    VESSEL_HAS,
    DRAWN_AIR,
    SPILLED,
    CAN,
    FIELD_C,
    STEAM_KG,
    STEAMS,
    VENTED,
) = range(18)
COLUMNS = 18


@record
class Turn:
    """A handle turned at a second of the run."""

    at: float
    handle: str
    position: str


@record
class Ready:
    """How a rig stands before the first turn: what is mixed in tub 1 [m³] at what share [-], water that stayed in the coil [m³], how the
    handles stand; whether the loop is full of the mix and purged already."""

    tub: float
    share: float
    water: float
    handles: dict[str, str]
    full: bool = False


@record
class Track:
    """What a run was, second by second (columns as `rig` numbers them), and the handles in each; the loop as it stands at the end."""

    rows: Array
    handles: Array
    ends: Standing

    def column(self, number: int) -> Array:
        """A column of it."""
        return self.rows[:, number]


@record
class Standing:
    """A rig at a moment: liquid, glycol [m³] and the height [m] of each cell, air in corners, and the scalars of `rig_kernel`."""

    liquid: Array
    glycol: Array
    pockets: Array
    scalars: Array

    @property
    def glycol_in_all(self) -> float:
        """All glycol there is, in loop, tubs, can and on the roof [m³]."""
        places = (kernel.TUB1_G, kernel.TUB2_G, kernel.SPILLED_G, kernel.CAN_G, kernel.EXTRA_G)
        return float(self.glycol.sum() + sum(self.scalars[place] for place in places))

    @property
    def liquid_in_all(self) -> float:
        """All liquid there is [m³]."""
        places = (kernel.TUB1, kernel.TUB2, kernel.SPILLED, kernel.CAN, kernel.EXTRA)
        return float(self.liquid.sum() + sum(self.scalars[place] for place in places))


@record
class Sunned:
    """A field in full sun: its heat capacity [J/K], what it takes in [W], its loss [W/K] so that it comes to its own standstill when dry,
    the air about it [°C]."""

    metal: float
    sun: float
    loses: float
    air: float


def sunned(design: Design) -> Sunned:
    """The heat of a plan's field as a rig has it."""
    item = design.collector.item.value
    sun = design.area_m2 * item.eta0 * REFERENCE_IRRADIANCE
    return Sunned(design.area_m2 * item.c_eff_j_m2k, sun, sun / (stagnation_of(item) - STANDSTILL_AIR_C), FILL_C)


def rig_of(design: Design, result: Reckoning) -> kernel.Rig:
    """The rig of a plan's own loop. Raises ImpossibleInputError for a loop without a vessel, which is filled otherwise."""
    charge = result.charge
    if not isinstance(charge, SealedCharge) or charge.setting is None:
        raise ImpossibleInputError("only a sealed loop with a vessel that can be set is filled on this rig")
    run = result.run
    volumes, heights = _line(design, result)
    edges = np.linspace(0.0, volumes[-1], CELLS + 1)
    levels = np.interp(edges, volumes, heights)
    # the top falls between two cells: the nearest edge stands as high, or the column weighs less than the plan's
    levels[int(np.argmin(np.abs(edges - volumes[int(np.argmax(heights))])))] = heights.max()
    field = [
        n
        for n in range(CELLS)
        if levels[n + 1] >= run.route.plate_top - 1e-6 or levels[n] >= run.route.plate_top - 1e-6
    ]
    top = int(np.argmax(levels))
    full = station_flow(design)
    first, last = (field[0], field[-1]) if field else (top - 1, top)
    coil = CELLS - max(2, round(CELLS * charge.contents.coil / charge.contents.total / 2))
    return kernel.Rig(
        cells=CELLS,
        cell=float(volumes[-1]) / CELLS,
        rise=np.ascontiguousarray(np.diff(levels)),
        top=first,
        last_top=last,
        area=float(np.pi / 4 * run.warm.widest**2),
        density=properties(volume_share=design.glycol_share, temperature=FILL_C).density,
        friction=FRICTION_PA / full**2,
        dead=design.charge.filling_gauge_pa.value,
        full=full,
        vessel=charge.vessel,
        charge=charge.setting.precharge,
        relief=design.charge.relief_gauge_pa.value,
        stiffness=charge.stiffness,
        volume=float(volumes[-1]),
        mouth=MOUTH_M3,
        pocket_at=np.array([min(first + 1, CELLS - 1), 0, 0, coil], dtype=np.int64),
        **asdict(sunned(design)),
    )


def _line(design: Design, result: Reckoning) -> tuple[Array, Array]:
    """What the loop holds from the fill port on [m³], and how high it stands there over the gauge [m]."""
    contents, route = result.charge.contents, result.run.route
    volumes, heights = [0.0], [0.0]

    def on(volume: float, height: float) -> None:
        """A stretch more."""
        volumes.append(volumes[-1] + max(volume, 1e-7))
        heights.append(height)

    on(contents.station, 0.0)
    for leg in route.cold:
        on(leg.contents, leg.end_height)
    on(contents.collectors, route.plate_top)
    for leg in route.hot:
        on(leg.contents, leg.end_height)
    on(contents.coil + contents.found, 0.0)
    return np.array(volumes), np.array(heights)


def ready_of(design: Design, result: Reckoning, *, tub: float | None = None, full: bool = False) -> Ready:
    """How a plan's rig is made ready: the mix as reckoned in tub 1, its water in the coil, every handle shut; or full and purged, with
    what was left over in the tub."""
    charge = result.charge
    if not isinstance(charge, SealedCharge):
        raise ImpossibleInputError("only a sealed loop is filled on this rig")
    handles = {name: positions[0] for name, positions in HANDLES.items()}
    if full:
        left = tub or max(charge.prepare - charge.contents.total, LEFT_OVER_M3)
        return Ready(left, design.glycol_share, 0.0, handles, full=True)
    return Ready(tub or charge.prepare, charge.tub.fill, design.charge.residual_l.value * LITRE, handles)


def position_of(handle: str, position: str) -> float:
    """A position as the kernel has it. Raises ImpossibleInputError for a handle or a position that there is not."""
    if position not in HANDLES.get(handle, ()):
        raise ImpossibleInputError("“{handle}” cannot be {position}", handle=handle, position=position)
    return POSITIONS[position]


def checked(turns: Iterable[Turn], until: float) -> list[Turn]:
    """Turns in the order of their time. Raises ImpossibleInputError for what cannot be turned, or lies outside a run."""
    found = sorted(turns, key=lambda one: one.at)
    for turn in found:
        position_of(turn.handle, turn.position)
        if not 0.0 <= turn.at <= LONGEST_S:
            raise ImpossibleInputError("nothing is turned before a run begins, or hours after it")
    if not 0.0 <= until <= LONGEST_S:
        raise ImpossibleInputError("a run on the rig lasts four hours at most")
    return [turn for turn in found if turn.at <= until]


class Course:
    """A rig under way: turned and let go on, second by second."""

    def __init__(self, rig: kernel.Rig, ready: Ready) -> None:
        """As it was made ready."""
        self.rig, self.now = rig, _begun(rig, ready)
        # a run of before a handle was there has it as it is at first
        self.handles = np.array([position_of(name, ready.handles.get(name, HANDLES[name][0])) for name in NAMES])
        self.rows, self.held = [_row(rig, self.now, self.handles)], [self.handles.copy()]

    @property
    def second(self) -> int:
        """How long it has run [s]."""
        return len(self.rows) - 1

    def turn(self, handle: str, position: str) -> None:
        """Turns a handle now. Raises ImpossibleInputError as `position_of`."""
        self.handles[NAMES.index(handle)] = position_of(handle, position)
        self.held[-1] = self.handles.copy()

    def go_on(self, seconds: int) -> None:
        """Lets so many seconds pass."""
        for _ in range(seconds):
            now = self.now
            kernel.run(self.rig, now.scalars, now.liquid, now.glycol, now.pockets, self.handles, PER_SECOND)
            self.rows.append(_row(self.rig, now, self.handles))
            self.held.append(self.handles.copy())

    @property
    def track(self) -> Track:
        """What it was so far."""
        return Track(np.array(self.rows), np.array(self.held), self.now)


def play(rig: kernel.Rig, ready: Ready, turns: Sequence[Turn], until: float) -> Track:
    """What follows from turns until a second of the run. Raises ImpossibleInputError as `checked`."""
    course = Course(rig, ready)
    for turn in checked(turns, until):
        course.go_on(max(int(turn.at) - course.second, 0))
        course.turn(turn.handle, turn.position)
    course.go_on(int(until) - course.second)
    return course.track


def _begun(rig: kernel.Rig, ready: Ready) -> Standing:
    if ready.full:
        # nothing is left in the corners either: that was the purge
        now = Standing(
            np.full(rig.cells, rig.cell),
            np.full(rig.cells, rig.cell * ready.share),
            np.zeros(kernel.POCKETS),
            np.zeros(kernel.SCALARS),
        )
        now.scalars[kernel.TUB1], now.scalars[kernel.TUB1_G] = ready.tub, ready.tub * ready.share
        now.scalars[kernel.FIELD_C] = rig.air
        now.scalars[kernel.GAUGE] = kernel.column_of(rig, now.liquid)
        return now
    liquid, glycol = np.zeros(rig.cells), np.zeros(rig.cells)
    water, n = min(ready.water, 0.9 * rig.volume), rig.cells - 1
    while water > 1e-9 and n >= 0:
        liquid[n] = min(water, rig.cell)
        water -= liquid[n]
        n -= 1
    scalars = np.zeros(kernel.SCALARS)
    scalars[kernel.FIELD_C] = rig.air
    scalars[kernel.TUB1], scalars[kernel.TUB1_G] = ready.tub, ready.tub * ready.share
    return Standing(liquid, glycol, np.full(kernel.POCKETS, -1.0), scalars)


def _row(rig: kernel.Rig, now: Standing, handles: Array) -> Array:
    s, made = now.scalars, np.zeros(COLUMNS)
    made[SECOND], made[GAUGE], made[FLOW], made[BUBBLES] = (
        s[kernel.SECOND],
        s[kernel.GAUGE],
        s[kernel.FLOW],
        s[kernel.BUBBLES],
    )
    made[TUB1], made[TUB2], made[FOAM] = s[kernel.TUB1], s[kernel.TUB2], s[kernel.FOAM]
    made[AIR] = rig.volume - now.liquid.sum()
    made[STRENGTH] = now.glycol.sum() / max(now.liquid.sum(), 1e-12)
    made[DRAINED_STRENGTH] = now.glycol[-1] / now.liquid[-1] if now.liquid[-1] > 1e-9 else 0.0
    made[VESSEL_HAS] = s[kernel.INSIDE]
    made[FIELD_C], made[STEAM_KG], made[STEAMS] = s[kernel.FIELD_C], s[kernel.STEAM_KG], s[kernel.STEAMS]
    made[VENTED] = s[kernel.VENTED]
    made[DRAWN_AIR], made[SPILLED], made[CAN] = s[kernel.DRAWN_AIR], s[kernel.SPILLED], s[kernel.CAN]
    return made
