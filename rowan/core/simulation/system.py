"""What the year is run with: field, lines, store, control and draws as plain numbers, SI."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.controller import Functions
from rowan.core.steps.control.differences import CUT_OUT_LATCH_K
from rowan.core.terms.constants import KELVIN, STEFAN_BOLTZMANN
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.record import record
from rowan.core.weather.hours import PlaneYear

Array = NDArray[np.float64]
LEAST_FACING = 0.05  # below it a plane sees the sun too flat to tell its beam
NO_FROST_C = -273.0  # °C that no field reaches: no frost protection
NEVER_C = -300.0  # in a minute in which a heater may not


@record
class Absorber:
    """A field as the year takes it: aperture [m²], η0 [-], a1 [W/m²K], a2 [W/m²K²], capacity [J/m²K], incidence.

    b0 serves plates; tubes bring tables of K_T and K_L over `angles` [°] instead.
    """

    area: float
    eta0: float
    a1: float
    a2: float
    capacity: float
    b0: float = 0.0
    k_d: float = 0.9
    angles: tuple[float, ...] = ()
    k_t: tuple[float, ...] = ()
    k_l: tuple[float, ...] = ()
    nodes: int = 5
    # unglazed: share of σT⁴ that it loses to a sky colder than the air; tracking: turns about the line up its slope
    sky_loss: float = 0.0
    tracks: bool = False

    def absorbed(self, plane: PlaneYear, air: Array) -> Array:
        """η0·(K_b·G_b + K_d·G_d) each hour [W/m²], less what an unglazed one loses to the sky. Source: methods 3."""
        beam = self._tracked(plane) if self.tracks else self._modifier(plane) * plane.beam
        gained = self.eta0 * (beam + self.k_d * plane.diffuse)
        if self.sky_loss > 0:
            gained = gained - self.eta0 * self.sky_loss * STEFAN_BOLTZMANN * (air + KELVIN) ** 4
        return np.asarray(gained, dtype=float)

    @staticmethod
    def _tracked(plane: PlaneYear) -> Array:
        """Beam on an aperture that turns about the line up the slope [W/m²]: only the angle along that line is left."""
        facing = plane.normal > LEAST_FACING
        direct = np.where(facing, plane.beam / np.where(facing, plane.normal, 1.0), 0.0)
        return np.asarray(direct * np.hypot(plane.normal, plane.across), dtype=float)

    def _modifier(self, plane: PlaneYear) -> Array:
        facing = plane.normal > 1e-9
        normal = np.where(facing, plane.normal, 1.0)
        if self.angles:
            across = np.degrees(np.arctan2(np.abs(plane.across), normal))
            along = np.degrees(np.arctan2(np.abs(plane.along), normal))
            k = np.interp(across, self.angles, self.k_t) * np.interp(along, self.angles, self.k_l)
        else:
            k = np.maximum(1 - self.b0 * (1 / normal - 1), 0.0)
        return np.where(facing, k, 0.0)


@record
class Beside:
    """A string on another plane of the roof, of the same collectors: aperture [m²], and its share of the flow [-]."""

    area: float
    share: float

    def __post_init__(self) -> None:
        if self.area <= 0 or not 0 < self.share < 1:
            raise ImpossibleInputError(
                "a second string has an area, and a part of the flow that leaves some to the first"
            )


@record
class Line:
    """A line in flow order: capacity [J/K], loss [W/K] and place (1 outdoors, 0 indoors) of each node."""

    capacity: Array
    loss: Array
    outdoors: Array


@record
class Tank:
    """A layered store: volume [m³], diameter [m], nodes, loss [W/m²K], conduction [W/mK], room [°C], coil.

    The coil's UA [W/K] is spread evenly from its bottom to its top port [m above the foot].
    """

    volume: float
    diameter: float
    loss: float
    room: float
    coil_ua: float
    coil_top: float
    coil_bottom: float
    conduction: float = 1.0
    nodes: int = 12
    # of the coil in which taps or zones are warmed [W/K]; 0 where they draw the store's own water
    tap_ua: float = 0.0
    density: float = 1000.0
    heat_capacity: float = 4180.0

    @property
    def cross_section(self) -> float:
        """Area of a level cut [m²]."""
        return float(np.pi) / 4 * self.diameter**2

    @property
    def node_height(self) -> float:
        """Height of a node [m]."""
        return self.volume / self.cross_section / self.nodes

    def node_loss(self) -> Array:
        """Loss of each node [W/K], top first: its wall, and the lids of the first and the last."""
        wall = float(np.pi) * self.diameter * self.node_height * self.loss
        losses = np.full(self.nodes, wall)
        losses[0] += self.cross_section * self.loss
        losses[-1] += self.cross_section * self.loss
        return losses

    def node_coil(self) -> Array:
        """UA of the coil in each node [W/K], top first."""
        height = self.node_height
        tops = (self.nodes - np.arange(self.nodes)) * height
        overlap = np.clip(np.minimum(tops, self.coil_top) - np.maximum(tops - height, self.coil_bottom), 0, None)
        total = overlap.sum()
        if total <= 0:
            raise ImpossibleInputError("the coil lies outside the store: its ports must stand inside")
        return self.coil_ua * overlap / total

    def node_at(self, height: float) -> int:
        """The node at a height above the foot [m], 0 at the top."""
        return int(np.clip(self.nodes - 1 - np.floor(height / self.node_height), 0, self.nodes - 1))


@record
class Settings:
    """Differences [K] and limits [°C] of the controller; sensors by store node, 0 at the top."""

    start: float
    stop: float
    least_collector: float
    store_maximum: float
    cut_out: float
    store_node: int
    limit_node: int
    store_latch: float = 3.0
    cut_out_latch: float = CUT_OUT_LATCH_K


@record
class Draws:
    """Water at the tap temperature [°C] in each minute of a day [m³], shape (1440,); a factor for each day; cold main [°C].

    `days` and `cold` have shape (365,).
    """

    minute: Array
    days: Array
    cold: Array
    tap: float
    # heating beside the taps: water of each day [m³], shape (365,), as it goes out and comes back [°C]; None where there is none
    zone: Array | None = None
    zone_c: float = 0.0
    zone_back: float = 0.0


@record
class Backup:
    """A heater in the upper part of the store: power [W], set point [°C], latch [K], the node it heats from, and when it may.

    `minutes` says for each minute of a day to what it heats [°C], `NEVER_C` where it may not, shape (1440,); `begins` what
    it starts below where that is not the latch under it.
    """

    power: float
    set_point: float
    node: int
    minutes: Array
    latch: float = 5.0
    begins: Array | None = None

    @property
    def on(self) -> Array:
        """What it starts below in each minute [°C]."""
        if self.begins is not None:
            return self.begins
        return np.where(self.minutes > NEVER_C, self.minutes - self.latch, NEVER_C)

    @property
    def off(self) -> Array:
        """What it stops at in each minute [°C]."""
        return self.minutes


@record
class Siphon:
    """A loop that warm water drives: heights of field, hot line, store below the return, cold line [m]; friction.

    Friction is k1·ṁ + k2·ṁ² [Pa] with ṁ in kg/s; going up equals coming down.
    """

    rises: tuple[float, float, float, float]
    k1: float
    k2: float

    def __post_init__(self) -> None:
        up, down = self.rises[0] + self.rises[1], self.rises[2] + self.rises[3]
        if abs(up - down) > 1e-6 or self.k2 <= 0:
            raise ImpossibleInputError(
                "a loop without a pump must come back to where it began, with friction above zero"
            )


@record
class Around:
    """What surrounds a store in each hour: temperature [°C] and a factor on its loss; and the days its heaters may.

    Shapes (8760,), (8760,), (365,). `held` is what a pool is held at on those days [°C].
    """

    temperature: Array
    exposed: Array
    days: Array
    held: float = 0.0


@record
class System:
    """A whole loop: flow [kg/s], heat capacity [J/kgK], pump power [W] and its share that warms the fluid [-]."""

    field: Absorber
    cold: Line
    hot: Line
    tank: Tank
    settings: Settings
    flow: float
    heat_capacity: float
    pump_power: float
    pump_heat_share: float = 0.5
    backup: Backup | None = None
    # the store node the hot line enters where the loop's water is the store's; None with a coil
    return_node: int | None = None
    # drainback: contents of the field [J/K], and the exit above which a dry field is not filled [°C]
    drains: bool = False
    field_liquid: float = 0.0
    refill: float = 1e9
    frost_start: float = NO_FROST_C
    frost_band: float = 3.0
    siphon: Siphon | None = None
    around: Around | None = None
    more: Functions | None = None
    # 1 on days of night cooling, shape (365,), and in the minutes a ring main may run, shape (1440,)
    cool_days: Array | None = None
    ring_minutes: Array | None = None
    # of a field on two planes: `field` is then the first one's alone
    beside: Beside | None = None
    stagnation: float = 120.0
    step: float = 60.0
    store_start: float = 20.0
    loop_start: float = 10.0

    @property
    def area(self) -> float:
        """Aperture of the whole field, both strings of two [m²]."""
        return self.field.area + (self.beside.area if self.beside else 0.0)

    def mean_of(self, first: float, beside: float | None) -> float:
        """The mean of a value of each plane by their collectors' aperture; of one plane its own."""
        if self.beside is None or beside is None:
            return first
        return (self.field.area * first + self.beside.area * beside) / self.area

    def __post_init__(self) -> None:
        if self.field.area <= 0 or self.flow <= 0:
            raise ImpossibleInputError("area and flow must be above zero")
        if self.beside is not None and self.siphon is not None:
            raise ImpossibleInputError("a loop without a pump drives one string: which of two would get its water?")
        if self.settings.stop >= self.settings.start:
            raise ImpossibleInputError(
                "the stop difference must be below the start difference: {stop} is not below {start}",
                stop=(self.settings.stop, "difference"),
                start=(self.settings.start, "difference"),
            )
